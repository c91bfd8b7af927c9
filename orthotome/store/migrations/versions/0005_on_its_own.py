"""A trial may be tuned without what its table's earlier trials taught."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column(
        "trial", sa.Column("on_its_own", sa.Boolean(), nullable=False, server_default=sa.false())
    )
