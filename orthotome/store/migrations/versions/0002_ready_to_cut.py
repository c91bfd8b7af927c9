"""Ready to cut: details of the Book's rows, the table's settings, signal paths, readiness."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "readiness_rule",
        sa.Column("code", sa.String(), nullable=False),
        sa.Column("dropped", sa.Boolean(), nullable=False),
        sa.Column("period", sa.String(), nullable=True),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("ask", sa.String(), nullable=True),
        sa.Column("if_not", sa.String(), nullable=True),
        sa.Column("room", sa.String(), nullable=True),
        sa.PrimaryKeyConstraint("code"),
    )
    op.create_table(
        "set_note",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("torch_set_id", sa.Integer(), nullable=False),
        sa.Column("metal", sa.String(), nullable=False),
        sa.Column("gas", sa.String(), nullable=False),
        sa.Column("shield_gas", sa.String(), nullable=False),
        sa.Column("pierce_max_mm", sa.Float(), nullable=True),
        sa.Column("edge_start_max_mm", sa.Float(), nullable=True),
        sa.Column("sever_max_mm", sa.Float(), nullable=True),
        sa.Column("least_mm", sa.Float(), nullable=True),
        sa.Column("bevel_deg", sa.Float(), nullable=True),
        sa.Column("bottom_dross_grade", sa.Integer(), nullable=True),
        sa.Column("top_dross_grade", sa.Integer(), nullable=True),
        sa.Column("colour", sa.String(), nullable=True),
        sa.Column("rounding", sa.String(), nullable=True),
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("example", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["torch_set_id"],
            ["torch_set.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("torch_set_id", "metal", "gas", "shield_gas", name="one_note_per_process"),
    )
    op.create_table(
        "signal_path",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("series", sa.Integer(), nullable=False),
        sa.Column("source_ratio", sa.Float(), nullable=False),
        sa.Column("card_ratio", sa.Float(), nullable=False),
        sa.Column("multiplier", sa.Float(), nullable=False),
        sa.Column("true_v", sa.Float(), nullable=True),
        sa.Column("screen_v", sa.Float(), nullable=True),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("set_at", sa.DateTime(), nullable=False),
        sa.Column("set_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(
            ["table_id"],
            ["cutting_table.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_signal_path_table_id", "signal_path", ["table_id"])

    op.create_table(
        "table_fact",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("told", sa.String(), nullable=False),
        sa.Column("photo", sa.LargeBinary(), nullable=True),
        sa.Column("photo_type", sa.String(), nullable=True),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.Column("noted_at", sa.DateTime(), nullable=False),
        sa.Column("noted_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(
            ["table_id"],
            ["cutting_table.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_table_fact_table_id", "table_fact", ["table_id"])

    op.create_table(
        "readiness_run",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=True),
        sa.Column("begun_at", sa.DateTime(), nullable=False),
        sa.Column("begun_by", sa.String(), nullable=False),
        sa.Column("done_at", sa.DateTime(), nullable=True),
        sa.Column("skipped", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(
            ["table_id"],
            ["cutting_table.id"],
        ),
        sa.ForeignKeyConstraint(
            ["trial_id"],
            ["trial.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_readiness_run_table_id", "readiness_run", ["table_id"])
    op.create_index("ix_readiness_run_trial_id", "readiness_run", ["trial_id"])

    op.create_table(
        "readiness_answer",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("run_id", sa.Integer(), nullable=False),
        sa.Column("code", sa.String(), nullable=False),
        sa.Column("asked", sa.String(), nullable=False),
        sa.Column("answer", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("starts", sa.Integer(), nullable=False),
        sa.Column("answered_at", sa.DateTime(), nullable=False),
        sa.Column("answered_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(
            ["run_id"],
            ["readiness_run.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("run_id", "code", name="one_answer_per_item"),
    )
    op.create_index("ix_readiness_answer_code", "readiness_answer", ["code"])

    op.create_table(
        "plate",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("width_mm", sa.Float(), nullable=False),
        sa.Column("height_mm", sa.Float(), nullable=False),
        sa.Column("margin_mm", sa.Float(), nullable=False),
        sa.Column("used_up", sa.Boolean(), nullable=False),
        sa.Column("noted_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["table_id"],
            ["cutting_table.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_plate_table_id", "plate", ["table_id"])

    op.create_table(
        "plate_zone",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("plate_id", sa.Integer(), nullable=False),
        sa.Column("x_mm", sa.Float(), nullable=False),
        sa.Column("y_mm", sa.Float(), nullable=False),
        sa.Column("width_mm", sa.Float(), nullable=False),
        sa.Column("height_mm", sa.Float(), nullable=False),
        sa.Column("what", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["plate_id"],
            ["plate.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_plate_zone_plate_id", "plate_zone", ["plate_id"])

    op.add_column("book_row", sa.Column("amperage_a", sa.Float(), nullable=True))
    op.add_column("book_row", sa.Column("shield_gas", sa.String(), nullable=True))
    op.add_column("book_row", sa.Column("gas_pressure_kpa", sa.Float(), nullable=True))
    op.add_column("book_row", sa.Column("gas_flow_l_min", sa.Float(), nullable=True))
    op.add_column("book_row", sa.Column("shield_pressure_kpa", sa.Float(), nullable=True))
    op.add_column("book_row", sa.Column("shield_flow_l_min", sa.Float(), nullable=True))
    op.add_column("book_row", sa.Column("surface", sa.String(), nullable=True))
    op.add_column("book_row", sa.Column("bed", sa.String(), nullable=True))
    op.add_column("book_row", sa.Column("water_level_mm", sa.Float(), nullable=True))
    op.add_column("book_row", sa.Column("least_thickness_mm", sa.Float(), nullable=True))
    op.add_column("book_row", sa.Column("most_thickness_mm", sa.Float(), nullable=True))

    op.add_column(
        "cutting_table", sa.Column("signal_series", sa.Integer(), nullable=False, server_default="1")
    )
    op.add_column(
        "cutting_table", sa.Column("settings", sa.String(), nullable=False, server_default="{}")
    )

    op.add_column("torch_set", sa.Column("parts_cost", sa.Float(), nullable=True))
    op.add_column("torch_set", sa.Column("parts_starts", sa.Integer(), nullable=True))

    op.add_column("trial", sa.Column("gas", sa.String(), nullable=False, server_default=""))
    # Cuts logged so far were made with the first signal path of their table.
    op.execute("UPDATE cut SET signal = 'g1' WHERE signal = '' AND parts LIKE 'p%'")


def downgrade() -> None:
    op.drop_table("plate_zone")
    op.drop_table("plate")
    op.drop_column("trial", "gas")

    op.drop_column("torch_set", "parts_starts")
    op.drop_column("torch_set", "parts_cost")

    op.drop_column("cutting_table", "settings")
    op.drop_column("cutting_table", "signal_series")

    op.drop_column("book_row", "most_thickness_mm")
    op.drop_column("book_row", "least_thickness_mm")
    op.drop_column("book_row", "water_level_mm")
    op.drop_column("book_row", "bed")
    op.drop_column("book_row", "surface")
    op.drop_column("book_row", "shield_flow_l_min")
    op.drop_column("book_row", "shield_pressure_kpa")
    op.drop_column("book_row", "gas_flow_l_min")
    op.drop_column("book_row", "gas_pressure_kpa")
    op.drop_column("book_row", "shield_gas")
    op.drop_column("book_row", "amperage_a")

    op.drop_index("ix_readiness_answer_code", "readiness_answer")

    op.drop_table("readiness_answer")
    op.drop_index("ix_readiness_run_trial_id", "readiness_run")
    op.drop_index("ix_readiness_run_table_id", "readiness_run")

    op.drop_table("readiness_run")
    op.drop_index("ix_table_fact_table_id", "table_fact")

    op.drop_table("table_fact")
    op.drop_index("ix_signal_path_table_id", "signal_path")

    op.drop_table("signal_path")
    op.drop_table("set_note")
    op.drop_table("readiness_rule")
