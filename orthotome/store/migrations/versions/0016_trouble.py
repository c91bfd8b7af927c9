"""Troubles that were solved."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "trouble_case",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("complaint", sa.String(), nullable=False),
        sa.Column("facts", sa.String(), nullable=False),
        sa.Column("cause", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.Column("solved_at", sa.DateTime(), nullable=False),
        sa.Column("solved_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["table_id"], ["cutting_table.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_trouble_case_table_id"), "trouble_case", ["table_id"])
