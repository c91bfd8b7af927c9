"""Exercises at a simulated table."""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "practice_run",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("case", sa.String(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("begun_at", sa.DateTime(), nullable=False),
        sa.Column("begun_by", sa.String(), nullable=False),
        sa.Column("claim", sa.String(), nullable=False),
        sa.Column("cuts", sa.Integer(), nullable=False),
        sa.Column("passed", sa.Boolean(), nullable=False),
        sa.Column("sentence", sa.String(), nullable=False),
        sa.Column("ended_at", sa.DateTime(), nullable=True),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_practice_run_case"), "practice_run", ["case"])
    op.create_index(op.f("ix_practice_run_begun_by"), "practice_run", ["begun_by"])
