"""Programs made over for another set, halves of a split, and sizes typed in place of a drawing."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("program") as program:
        program.add_column(sa.Column("torch_set_id", sa.Integer(), nullable=True))
        program.add_column(sa.Column("nominal", sa.String(), nullable=False, server_default="{}"))
        program.add_column(sa.Column("half", sa.Integer(), nullable=False, server_default="0"))
        program.create_foreign_key("fk_program_torch_set", "torch_set", ["torch_set_id"], ["id"])
