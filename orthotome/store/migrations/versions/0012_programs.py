"""Cutting programs, with what they were checked against."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "program",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("text", sa.LargeBinary(), nullable=False),
        sa.Column("size_bytes", sa.Integer(), nullable=False),
        sa.Column("recipe_id", sa.Integer(), nullable=True),
        sa.Column("trial_id", sa.Integer(), nullable=True),
        sa.Column("sheet_x_mm", sa.Float(), nullable=True),
        sa.Column("sheet_y_mm", sa.Float(), nullable=True),
        sa.Column("drawing", sa.String(), nullable=False),
        sa.Column("drawing_name", sa.String(), nullable=False),
        sa.Column("copy_of", sa.Integer(), nullable=True),
        sa.Column("written", sa.String(), nullable=False),
        sa.Column("report", sa.String(), nullable=False),
        sa.Column("stand", sa.String(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("noted_at", sa.DateTime(), nullable=False),
        sa.Column("noted_by", sa.String(), nullable=False),
        sa.Column("checked_at", sa.DateTime(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["table_id"], ["cutting_table.id"]),
        sa.ForeignKeyConstraint(["recipe_id"], ["recipe.id"]),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"]),
        sa.ForeignKeyConstraint(["copy_of"], ["program.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_program_table_id"), "program", ["table_id"])
