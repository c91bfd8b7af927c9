"""Alembic's environment: migrations run on the connection the store hands over."""

from alembic import context
from sqlmodel import SQLModel

from orthotome.store import tables  # noqa: F401  (the tables register themselves)

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=SQLModel.metadata, render_as_batch=True)
context.run_migrations()
