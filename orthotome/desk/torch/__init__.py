"""The torch of a table: its seat, its parts, and whom to suspect first."""
