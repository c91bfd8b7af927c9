"""Test pieces: what was cut and waits to be read, and the shop's own parts."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "planned_cut",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("speed_mm_min", sa.Float(), nullable=False),
        sa.Column("cut_height_mm", sa.Float(), nullable=False),
        sa.Column("parts", sa.String(), nullable=False),
        sa.Column("mount", sa.String(), nullable=False),
        sa.Column("signal", sa.String(), nullable=False),
        sa.Column("starts", sa.Integer(), nullable=False),
        sa.Column("zone_id", sa.Integer(), nullable=True),
        sa.Column("cut_at", sa.DateTime(), nullable=False),
        sa.Column("cut_by", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"]),
        sa.ForeignKeyConstraint(["zone_id"], ["plate_zone.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("key"),
    )
    op.create_index(op.f("ix_planned_cut_trial_id"), "planned_cut", ["trial_id"])
    op.create_table(
        "own_part",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("rings", sa.String(), nullable=False),
        sa.Column("notes", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.Column("noted_at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
