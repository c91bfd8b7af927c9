"""Lines to tables, recordings of the arc voltage with their trims, and what height control is told."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "line",
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("host", sa.String(), nullable=False),
        sa.Column("port", sa.Integer(), nullable=False),
        sa.Column("simulated", sa.Boolean(), nullable=False),
        sa.Column("set_at", sa.DateTime(), nullable=False),
        sa.Column("set_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["table_id"], ["cutting_table.id"]),
        sa.PrimaryKeyConstraint("table_id"),
    )
    op.create_table(
        "trace",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=True),
        sa.Column("cut_id", sa.Integer(), nullable=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("samples", sa.Integer(), nullable=False),
        sa.Column("starts", sa.Integer(), nullable=False),
        sa.Column("arc_on_s", sa.Float(), nullable=False),
        sa.Column("off_plate", sa.Integer(), nullable=False),
        sa.Column("spent", sa.Boolean(), nullable=False),
        sa.Column("ended", sa.Boolean(), nullable=False),
        sa.Column("interrupted", sa.String(), nullable=False),
        sa.Column("speed_mm_min", sa.Float(), nullable=True),
        sa.Column("cut_height_mm", sa.Float(), nullable=True),
        sa.Column("begun_at", sa.DateTime(), nullable=False),
        sa.Column("begun_by", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["table_id"], ["cutting_table.id"]),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"]),
        sa.ForeignKeyConstraint(["cut_id"], ["cut.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    for name in ("table_id", "trial_id", "cut_id"):
        op.create_index(op.f(f"ix_trace_{name}"), "trace", [name])
    op.create_table(
        "trace_part",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trace_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("samples", sa.Integer(), nullable=False),
        sa.Column("body", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["trace_id"], ["trace.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("trace_id", "number", name="kept_once"),
    )
    op.create_index(op.f("ix_trace_part_trace_id"), "trace_part", ["trace_id"])
    op.create_table(
        "trim",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trace_id", sa.Integer(), nullable=False),
        sa.Column("at_s", sa.Float(), nullable=False),
        sa.Column("by_v", sa.Float(), nullable=False),
        sa.Column("set_point_v", sa.Float(), nullable=True),
        sa.Column("trimmed_at", sa.DateTime(), nullable=False),
        sa.Column("trimmed_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["trace_id"], ["trace.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_trim_trace_id"), "trim", ["trace_id"])
    op.create_table(
        "control",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("school", sa.String(), nullable=False),
        sa.Column("set_point_v", sa.Float(), nullable=True),
        sa.Column("control_delay_s", sa.Float(), nullable=False),
        sa.Column("dead_band_v", sa.Float(), nullable=False),
        sa.Column("hold_below_share", sa.Float(), nullable=True),
        sa.Column("crossing_jump_v", sa.Float(), nullable=True),
        sa.Column("hold_holes", sa.Boolean(), nullable=False),
        sa.Column("at_starts", sa.Integer(), nullable=True),
        sa.Column("chosen_at", sa.DateTime(), nullable=False),
        sa.Column("chosen_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_control_trial_id"), "control", ["trial_id"])
