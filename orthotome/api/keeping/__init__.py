"""The records of the shop: backups, and getting them back."""
