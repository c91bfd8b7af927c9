"""Keeping the records: the data folder, its backups, and getting them back."""
