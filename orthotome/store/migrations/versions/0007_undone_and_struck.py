"""What an answer of a run-through was given for, recipes withdrawn, rows struck out or said to be right."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("readiness_answer") as table:
        table.add_column(sa.Column("held_for", sa.String(), nullable=False, server_default="{}"))
    with op.batch_alter_table("book_row") as table:
        for name in ("struck_out", "is_right", "kerf_assumed"):
            table.add_column(sa.Column(name, sa.Boolean(), nullable=False, server_default=sa.false()))
    op.create_table(
        "recipe_withdrawn",
        sa.Column("recipe_id", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["recipe_id"], ["recipe.id"]),
        sa.PrimaryKeyConstraint("recipe_id"),
    )
