"""How a table's torch can be turned, and the round slugs that were read."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "mount",
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("axes", sa.String(), nullable=False),
        sa.Column("turns_about_itself", sa.Boolean(), nullable=False),
        sa.Column("target_deg", sa.Float(), nullable=False),
        sa.ForeignKeyConstraint(["table_id"], ["cutting_table.id"]),
        sa.PrimaryKeyConstraint("table_id"),
    )
    op.create_table(
        "slug",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("mount_id", sa.Integer(), nullable=False),
        sa.Column("thickness_mm", sa.Float(), nullable=False),
        sa.Column("readings", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.Column("read_at", sa.DateTime(), nullable=False),
        sa.Column("read_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["mount_id"], ["fitting.id"]),
        sa.ForeignKeyConstraint(["table_id"], ["cutting_table.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("key"),
    )
    op.create_index(op.f("ix_slug_table_id"), "slug", ["table_id"])
    op.create_index(op.f("ix_slug_mount_id"), "slug", ["mount_id"])
