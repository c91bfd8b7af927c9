"""Parts with histories of their own, a journal of what was counted, inspections, stock, spot checks.

A fitting carried its counts until now. Each becomes parts that were in it, and what was counted while it was the
newest: its own count less that of the fittings which came after and left its part in.
"""

from collections.abc import Iterator, Sequence
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

KINDS = ("electrode", "swirl_ring", "nozzle", "retaining_cap", "shield", "touch_off_clip")


def upgrade() -> None:
    _tables_of_parts()
    _tables_of_looking()
    connection = op.get_bind()
    for table in _rows(connection, "SELECT id FROM cutting_table"):
        query = (
            "SELECT * FROM fitting WHERE kind = 'parts' AND NOT from_file AND table_id = :t ORDER BY id"
        )
        _part_fittings(connection, list(_rows(connection, query, t=table["id"])))
    for name in ("starts_then", "arc_on_then_s", "starts", "arc_on_s"):
        op.drop_column("fitting", name)
    op.add_column("cut", sa.Column("part_counts", sa.String(), nullable=False, server_default="{}"))
    op.add_column(
        "planned_cut", sa.Column("part_counts", sa.String(), nullable=False, server_default="{}")
    )
    op.add_column("planned_cut", sa.Column("arc_on_s", sa.Float(), nullable=False, server_default="0"))


def _rows(connection: sa.Connection, query: str, **values: object) -> Iterator[dict[str, Any]]:
    yield from [dict(r._mapping) for r in connection.execute(sa.text(query), values)]


def _part_fittings(connection: sa.Connection, fittings: Sequence[dict[str, Any]]) -> None:
    """Give the fittings of one table, oldest first, their parts and their counts."""
    there: dict[str, int] = {}
    for fitting in fittings:
        for kind in KINDS if fitting["part"] == "set" else (fitting["part"],):
            there[kind] = _new_part(connection, kind, fitting)
        for part_id in there.values():
            link = "INSERT INTO fitted_part (fitting_id, part_id) VALUES (:f, :p)"
            connection.execute(sa.text(link), {"f": fitting["id"], "p": part_id})
    for fitting, starts, arc_on_s in _while_newest(fittings):
        if starts or arc_on_s:
            connection.execute(
                sa.text(
                    "INSERT INTO part_count (table_id, fitting_id, source, starts, arc_on_s, off_plate, early_losses, "
                    "collisions, note, counted_at, counted_by) "
                    "VALUES (:t, :f, 'before', :s, :a, 0, 0, 0, '', :at, '')"
                ),
                {
                    "t": fitting["table_id"],
                    "f": fitting["id"],
                    "s": starts,
                    "a": arc_on_s,
                    "at": fitting["fitted_at"],
                },
            )


def _new_part(connection: sa.Connection, kind: str, fitting: dict[str, Any]) -> int:
    (number,) = _rows(connection, "SELECT count(*) + 1 AS n FROM part WHERE part = :kind", kind=kind)
    connection.execute(
        sa.text(
            "INSERT INTO part (part, torch_set_id, number, new_at, starts_then, arc_on_then_s, kept) "
            "VALUES (:part, :torch_set_id, :number, :fitted_at, :starts_then, :arc_on_then_s, 'scrap')"
        ),
        {**fitting, "part": kind, "number": number["n"]},
    )
    return int(connection.execute(sa.text("SELECT last_insert_rowid()")).scalar_one())


def _while_newest(
    fittings: Sequence[dict[str, Any]],
) -> Iterator[tuple[dict[str, Any], int, float]]:
    """What was counted while each fitting was the newest, from the last to the first."""
    counted: dict[int, tuple[int, float]] = {}
    for n in reversed(range(len(fittings))):
        fitting = fittings[n]
        starts = fitting["starts"] - fitting["starts_then"]
        arc_on_s = fitting["arc_on_s"] - fitting["arc_on_then_s"]
        for later in range(n + 1, len(fittings)):
            if fittings[later]["part"] in ("set", fitting["part"]):
                break
            starts, arc_on_s = starts - counted[later][0], arc_on_s - counted[later][1]
        counted[n] = max(0, starts), max(0.0, arc_on_s)
        yield fitting, *counted[n]


def _tables_of_parts() -> None:
    op.create_table(
        "part",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("part", sa.String(), nullable=False),
        sa.Column("torch_set_id", sa.Integer(), nullable=True),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("new_at", sa.DateTime(), nullable=False),
        sa.Column("starts_then", sa.Integer(), nullable=False),
        sa.Column("arc_on_then_s", sa.Float(), nullable=False),
        sa.Column("kept", sa.String(), nullable=False),
        sa.Column("limit_mm", sa.Float(), nullable=True),
        sa.ForeignKeyConstraint(["torch_set_id"], ["torch_set.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_part_torch_set_id"), "part", ["torch_set_id"])
    op.create_table(
        "fitted_part",
        sa.Column("fitting_id", sa.Integer(), nullable=False),
        sa.Column("part_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["fitting_id"], ["fitting.id"]),
        sa.ForeignKeyConstraint(["part_id"], ["part.id"]),
        sa.PrimaryKeyConstraint("fitting_id", "part_id"),
    )
    op.create_index(op.f("ix_fitted_part_part_id"), "fitted_part", ["part_id"])
    op.create_table(
        "part_count",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("fitting_id", sa.Integer(), nullable=False),
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("starts", sa.Integer(), nullable=False),
        sa.Column("arc_on_s", sa.Float(), nullable=False),
        sa.Column("off_plate", sa.Integer(), nullable=False),
        sa.Column("early_losses", sa.Integer(), nullable=False),
        sa.Column("collisions", sa.Integer(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("counted_at", sa.DateTime(), nullable=False),
        sa.Column("counted_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["table_id"], ["cutting_table.id"]),
        sa.ForeignKeyConstraint(["fitting_id"], ["fitting.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    for name in ("table_id", "fitting_id"):
        op.create_index(op.f(f"ix_part_count_{name}"), "part_count", [name])
    op.create_table(
        "source_counter",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("starts", sa.Integer(), nullable=False),
        sa.Column("arc_on_s", sa.Float(), nullable=True),
        sa.Column("missed_starts", sa.Integer(), nullable=False),
        sa.Column("missed_arc_on_s", sa.Float(), nullable=False),
        sa.Column("set_back", sa.Boolean(), nullable=False),
        sa.Column("last_count_id", sa.Integer(), nullable=False),
        sa.Column("read_at", sa.DateTime(), nullable=False),
        sa.Column("read_by", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["table_id"], ["cutting_table.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_source_counter_table_id"), "source_counter", ["table_id"])
    op.create_table(
        "stock",
        sa.Column("torch_set_id", sa.Integer(), nullable=False),
        sa.Column("part", sa.String(), nullable=False),
        sa.Column("on_shelf", sa.Integer(), nullable=False),
        sa.Column("least", sa.Integer(), nullable=False),
        sa.Column("cost", sa.Float(), nullable=True),
        sa.ForeignKeyConstraint(["torch_set_id"], ["torch_set.id"]),
        sa.PrimaryKeyConstraint("torch_set_id", "part"),
    )


def _tables_of_looking() -> None:
    op.create_table(
        "inspection",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("part_id", sa.Integer(), nullable=False),
        sa.Column("starts", sa.Integer(), nullable=False),
        sa.Column("arc_on_s", sa.Float(), nullable=False),
        sa.Column("off_plate", sa.Integer(), nullable=False),
        sa.Column("looks", sa.String(), nullable=False),
        sa.Column("pit_mm", sa.Float(), nullable=True),
        sa.Column("u_mm", sa.Float(), nullable=True),
        sa.Column("told", sa.String(), nullable=False),
        sa.Column("verdict", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("photo", sa.String(), nullable=False),
        sa.Column("seen_at", sa.DateTime(), nullable=False),
        sa.Column("seen_by", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["part_id"], ["part.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("key"),
    )
    op.create_index(op.f("ix_inspection_part_id"), "inspection", ["part_id"])
    op.create_table(
        "spot_check",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("recipe_id", sa.Integer(), nullable=False),
        sa.Column("parts_id", sa.Integer(), nullable=False),
        sa.Column("signal_id", sa.Integer(), nullable=False),
        sa.Column("mount_id", sa.Integer(), nullable=False),
        sa.Column("starts", sa.Integer(), nullable=False),
        sa.Column("part_counts", sa.String(), nullable=False),
        sa.Column("of_table", sa.Integer(), nullable=False),
        sa.Column("bevel_deg", sa.Float(), nullable=True),
        sa.Column("u_deg", sa.Float(), nullable=True),
        sa.Column("height_held", sa.Boolean(), nullable=False),
        sa.Column("arc_voltage_v", sa.Float(), nullable=True),
        sa.Column("kerf_mm", sa.Float(), nullable=True),
        sa.Column("dross_grade", sa.Integer(), nullable=True),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("read_at", sa.DateTime(), nullable=False),
        sa.Column("read_by", sa.String(), nullable=False),
        sa.Column("struck_out", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["recipe_id"], ["recipe.id"]),
        sa.ForeignKeyConstraint(["parts_id"], ["fitting.id"]),
        sa.ForeignKeyConstraint(["signal_id"], ["fitting.id"]),
        sa.ForeignKeyConstraint(["mount_id"], ["fitting.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("key"),
    )
    op.create_index(op.f("ix_spot_check_recipe_id"), "spot_check", ["recipe_id"])
