"""What an answer of a run-through was given for."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("readiness_answer") as table:
        table.add_column(sa.Column("held_for", sa.String(), nullable=False, server_default="{}"))
