"""The first tables, and the guard that keeps a locked recipe as it was locked."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "shop",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("length_unit", sa.String(), nullable=False),
        sa.Column("speed_unit", sa.String(), nullable=False),
        sa.Column("example", sa.Boolean(), nullable=False),
        sa.CheckConstraint("id = 1", name="only_one_shop"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "torch_set",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("amperage_a", sa.Float(), nullable=False),
        sa.Column("gas", sa.String(), nullable=False),
        sa.Column("swirl", sa.String(), nullable=False),
        sa.Column("example", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("name"),
    )
    op.create_table(
        "book_row",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("metal", sa.String(), nullable=False),
        sa.Column("thickness_mm", sa.Float(), nullable=False),
        sa.Column("torch_set_id", sa.Integer(), nullable=False),
        sa.Column("gas", sa.String(), nullable=False),
        sa.Column("speed_mm_min", sa.Float(), nullable=False),
        sa.Column("arc_voltage_v", sa.Float(), nullable=True),
        sa.Column("cut_height_mm", sa.Float(), nullable=False),
        sa.Column("pierce_height_mm", sa.Float(), nullable=False),
        sa.Column("pierce_delay_s", sa.Float(), nullable=False),
        sa.Column("kerf_mm", sa.Float(), nullable=False),
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("example", sa.Boolean(), nullable=False),
        sa.Column("superseded_by_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(
            ["superseded_by_id"],
            ["book_row.id"],
        ),
        sa.ForeignKeyConstraint(
            ["torch_set_id"],
            ["torch_set.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    with op.batch_alter_table("book_row", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_book_row_metal"), ["metal"], unique=False)
        batch_op.create_index(batch_op.f("ix_book_row_torch_set_id"), ["torch_set_id"], unique=False)

    op.create_table(
        "cutting_table",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("bed", sa.String(), nullable=False),
        sa.Column("simulated_seed", sa.Integer(), nullable=True),
        sa.Column("torch_set_id", sa.Integer(), nullable=True),
        sa.Column("starts_on_parts", sa.Integer(), nullable=False),
        sa.Column("parts_series", sa.Integer(), nullable=False),
        sa.Column("mount_series", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["torch_set_id"],
            ["torch_set.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("name"),
    )
    op.create_table(
        "trial",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("torch_set_id", sa.Integer(), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("metal", sa.String(), nullable=False),
        sa.Column("thickness_mm", sa.Float(), nullable=False),
        sa.Column("speed_mm_min", sa.Float(), nullable=False),
        sa.Column("cut_height_mm", sa.Float(), nullable=False),
        sa.Column("arc_voltage_v", sa.Float(), nullable=True),
        sa.Column("pierce_height_mm", sa.Float(), nullable=False),
        sa.Column("pierce_delay_s", sa.Float(), nullable=False),
        sa.Column("kerf_mm", sa.Float(), nullable=False),
        sa.Column("start_how", sa.String(), nullable=False),
        sa.Column("start_from", sa.String(), nullable=False),
        sa.Column("bevel_deg", sa.Float(), nullable=False),
        sa.Column("sides", sa.String(), nullable=False),
        sa.Column("dross_grade", sa.Integer(), nullable=False),
        sa.Column("priority", sa.String(), nullable=False),
        sa.Column("speed_low_mm_min", sa.Float(), nullable=False),
        sa.Column("speed_high_mm_min", sa.Float(), nullable=False),
        sa.Column("height_low_mm", sa.Float(), nullable=False),
        sa.Column("height_high_mm", sa.Float(), nullable=False),
        sa.Column("opened_at", sa.DateTime(), nullable=False),
        sa.Column("opened_by", sa.String(), nullable=False),
        sa.Column("set_aside", sa.Boolean(), nullable=False),
        sa.Column("on_bench", sa.Boolean(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["table_id"],
            ["cutting_table.id"],
        ),
        sa.ForeignKeyConstraint(
            ["torch_set_id"],
            ["torch_set.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    with op.batch_alter_table("trial", schema=None) as batch_op:
        batch_op.create_index("bench_of_table", ["table_id", "on_bench"], unique=False)
        batch_op.create_index(batch_op.f("ix_trial_table_id"), ["table_id"], unique=False)

    op.create_table(
        "cut",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("piece", sa.String(), nullable=False),
        sa.Column("speed_mm_min", sa.Float(), nullable=False),
        sa.Column("cut_height_mm", sa.Float(), nullable=False),
        sa.Column("arc_voltage_v", sa.Float(), nullable=True),
        sa.Column("set_point_v", sa.Float(), nullable=True),
        sa.Column("height_control", sa.String(), nullable=False),
        sa.Column("starts", sa.Integer(), nullable=True),
        sa.Column("parts", sa.String(), nullable=False),
        sa.Column("mount", sa.String(), nullable=False),
        sa.Column("plate", sa.String(), nullable=False),
        sa.Column("signal", sa.String(), nullable=False),
        sa.Column("through", sa.String(), nullable=True),
        sa.Column("arc_lost", sa.Boolean(), nullable=False),
        sa.Column("dross_looked_at", sa.Boolean(), nullable=False),
        sa.Column("kerf_mm", sa.Float(), nullable=True),
        sa.Column("lag_deg", sa.Float(), nullable=True),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("logged_at", sa.DateTime(), nullable=False),
        sa.Column("logged_by", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["trial_id"],
            ["trial.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("trial_id", "key", name="logged_once"),
        sa.UniqueConstraint("trial_id", "number", name="one_number_per_trial"),
    )
    op.create_table(
        "log_draft",
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("body", sa.String(), nullable=False),
        sa.Column("saved_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["trial_id"],
            ["trial.id"],
        ),
        sa.PrimaryKeyConstraint("trial_id"),
    )
    op.create_table(
        "recipe",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=True),
        sa.Column("line", sa.String(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("locked_at", sa.DateTime(), nullable=False),
        sa.Column("locked_by", sa.String(), nullable=False),
        sa.Column("body", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(
            ["trial_id"],
            ["trial.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("line", "revision", name="one_revision_per_line"),
    )
    with op.batch_alter_table("recipe", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_recipe_line"), ["line"], unique=False)
        batch_op.create_index(batch_op.f("ix_recipe_trial_id"), ["trial_id"], unique=False)

    op.create_table(
        "dross",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("cut_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("grade", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["cut_id"],
            ["cut.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    with op.batch_alter_table("dross", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_dross_cut_id"), ["cut_id"], unique=False)

    op.create_table(
        "edge",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("cut_id", sa.Integer(), nullable=False),
        sa.Column("side", sa.String(), nullable=False),
        sa.Column("heading_deg", sa.Float(), nullable=False),
        sa.Column("bevel_deg", sa.Float(), nullable=False),
        sa.Column("u_deg", sa.Float(), nullable=False),
        sa.Column("method", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(
            ["cut_id"],
            ["cut.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    with op.batch_alter_table("edge", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_edge_cut_id"), ["cut_id"], unique=False)
    for change in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER recipe_refuses_{change.lower()} BEFORE {change} ON recipe "
            "BEGIN SELECT RAISE(ABORT, 'a locked recipe is never changed'); END"
        )


def downgrade() -> None:
    with op.batch_alter_table("edge", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_edge_cut_id"))

    op.drop_table("edge")
    with op.batch_alter_table("dross", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_dross_cut_id"))

    op.drop_table("dross")
    with op.batch_alter_table("recipe", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_recipe_trial_id"))
        batch_op.drop_index(batch_op.f("ix_recipe_line"))

    op.drop_table("recipe")
    op.drop_table("log_draft")
    op.drop_table("cut")
    with op.batch_alter_table("trial", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_trial_table_id"))
        batch_op.drop_index("bench_of_table")

    op.drop_table("trial")
    op.drop_table("cutting_table")
    with op.batch_alter_table("book_row", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_book_row_torch_set_id"))
        batch_op.drop_index(batch_op.f("ix_book_row_metal"))

    op.drop_table("book_row")
    op.drop_table("torch_set")
    op.drop_table("shop")
