"""What was found out about a table, what upset it, and the holes that were tried on it."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "machine_check",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("given", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.Column("checked_at", sa.DateTime(), nullable=False),
        sa.Column("checked_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["table_id"], ["cutting_table.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_machine_check_table_id"), "machine_check", ["table_id"])
    op.create_table(
        "tried_hole",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("torch_set", sa.String(), nullable=False),
        sa.Column("metal", sa.String(), nullable=False),
        sa.Column("thickness_mm", sa.Float(), nullable=False),
        sa.Column("given", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.Column("tried_at", sa.DateTime(), nullable=False),
        sa.Column("tried_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["table_id"], ["cutting_table.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_tried_hole_table_id"), "tried_hole", ["table_id"])
