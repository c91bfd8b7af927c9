"""Troubles that were solved, and exercises that were taken."""

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
    op.create_table(
        "practice",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("case", sa.String(), nullable=False),
        sa.Column("asked", sa.String(), nullable=False),
        sa.Column("cause", sa.String(), nullable=False),
        sa.Column("act", sa.String(), nullable=False),
        sa.Column("passed", sa.Boolean(), nullable=False),
        sa.Column("spent", sa.Float(), nullable=False),
        sa.Column("taken_at", sa.DateTime(), nullable=False),
        sa.Column("taken_by", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_practice_case"), "practice", ["case"])
    op.create_index(op.f("ix_practice_taken_by"), "practice", ["taken_by"])
