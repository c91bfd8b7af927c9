"""What is looked at beside edges and volts, photos, instruments and how alike people grade."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for name in ("cut", "planned_cut"):
        op.add_column(name, sa.Column("kind", sa.String(), nullable=False, server_default=""))
        op.add_column(name, sa.Column("items", sa.String(), nullable=False, server_default="[]"))
    op.add_column("edge", sa.Column("told", sa.String(), nullable=False, server_default=""))
    op.create_table(
        "look",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("cut_id", sa.Integer(), nullable=False),
        sa.Column("item", sa.Integer(), nullable=False),
        sa.Column("what", sa.String(), nullable=False),
        sa.Column("value", sa.String(), nullable=True),
        sa.Column("number", sa.Float(), nullable=True),
        sa.ForeignKeyConstraint(["cut_id"], ["cut.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("cut_id", "item", "what", name="looked_once"),
    )
    op.create_table(
        "photo",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("cut_id", sa.Integer(), nullable=True),
        sa.Column("log_key", sa.String(), nullable=False),
        sa.Column("digest", sa.String(), nullable=False),
        sa.Column("width_px", sa.Integer(), nullable=False),
        sa.Column("height_px", sa.Integer(), nullable=False),
        sa.Column("bytes", sa.Integer(), nullable=False),
        sa.Column("caption", sa.String(), nullable=False),
        sa.Column("added_at", sa.DateTime(), nullable=False),
        sa.Column("added_by", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["cut_id"], ["cut.id"]),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_photo_cut_id"), "photo", ["cut_id"])
    op.create_index(op.f("ix_photo_log_key"), "photo", ["log_key"])
    op.create_table(
        "instrument",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("method", sa.String(), nullable=False),
        sa.Column("resolution", sa.Float(), nullable=False),
        sa.Column("repeatability", sa.Float(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "instrument_check",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("instrument_id", sa.Integer(), nullable=False),
        sa.Column("readings", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.Column("checked_at", sa.DateTime(), nullable=False),
        sa.Column("checked_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["instrument_id"], ["instrument.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_instrument_check_instrument_id"), "instrument_check", ["instrument_id"])
    op.create_table(
        "grading",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("one", sa.String(), nullable=False),
        sa.Column("other", sa.String(), nullable=False),
        sa.Column("grades", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.Column("graded_at", sa.DateTime(), nullable=False),
        sa.Column("noted_by", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
