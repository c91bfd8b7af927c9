"""What the shop has written down: SQLModel tables on SQLite, migrations and queries."""
