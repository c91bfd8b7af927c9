"""What is fitted becomes a thing that cuts point to; changes are signed; recipes become columns.

Fittings were counters with a prefix before ("p2"), which collided with the names that a campaign file
brought. Each counter becomes so many fittings of its table; a name that no counter made was a file's.
"""

import json
from collections import defaultdict
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

KINDS = {"parts": "p", "mount": "m", "signal": "g"}


def upgrade() -> None:
    connection = op.get_bind()
    _new_tables()
    own = {
        t: dict(_fittings_of(connection, t)) for t in _rows(connection, "SELECT * FROM cutting_table")
    }
    _point_cuts(connection, {t["id"]: named for t, named in own.items()})
    _readiness_totals(connection)
    with op.batch_alter_table("cutting_table") as table:
        for name in ("torch_set_id", "starts_on_parts", "parts_series", "mount_series", "signal_series"):
            table.drop_column(name)
    op.add_column("trial", sa.Column("parts_starts", sa.Integer(), nullable=True))
    _recipes(connection)


class _Row(dict[str, Any]):
    """A row that can stand for itself as a key."""

    def __hash__(self) -> int:  # type: ignore[override]
        return hash(self["id"])


def _rows(connection: sa.Connection, query: str, **values: object) -> Iterator[_Row]:
    yield from [_Row(r._mapping) for r in connection.execute(sa.text(query), values)]


def _new_tables() -> None:
    op.create_table(
        "fitting",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("table_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("part", sa.String(), nullable=False),
        sa.Column("torch_set_id", sa.Integer(), nullable=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("from_file", sa.Boolean(), nullable=False),
        sa.Column("fitted_at", sa.DateTime(), nullable=False),
        sa.Column("fitted_by", sa.String(), nullable=False),
        sa.Column("starts_then", sa.Integer(), nullable=False),
        sa.Column("arc_on_then_s", sa.Float(), nullable=False),
        sa.Column("starts", sa.Integer(), nullable=False),
        sa.Column("arc_on_s", sa.Float(), nullable=False),
        sa.ForeignKeyConstraint(["table_id"], ["cutting_table.id"]),
        sa.ForeignKeyConstraint(["torch_set_id"], ["torch_set.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_fitting_table_id", "fitting", ["table_id"])
    op.create_table(
        "change",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("by", sa.String(), nullable=False),
        sa.Column("act", sa.String(), nullable=False),
        sa.Column("of", sa.String(), nullable=False),
        sa.Column("of_id", sa.Integer(), nullable=False),
        sa.Column("before", sa.String(), nullable=False),
        sa.CheckConstraint("of_id > 0", name="of_a_record"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("changes_of", "change", ["of", "of_id"])


def _fit(connection: sa.Connection, **given: object) -> int:
    columns = {
        "part": "set",
        "torch_set_id": None,
        "from_file": False,
        "fitted_at": datetime.now(UTC).strftime("%Y-%m-%d %H:%M:%S.000000"),
        "fitted_by": "",
        "starts_then": 0,
        "arc_on_then_s": 0.0,
        "starts": 0,
        "arc_on_s": 0.0,
        **given,
    }
    names, marks = ", ".join(columns), ", ".join(f":{n}" for n in columns)
    connection.execute(sa.text(f"INSERT INTO fitting ({names}) VALUES ({marks})"), columns)
    return int(connection.execute(sa.text("SELECT last_insert_rowid()")).scalar_one())


def _fittings_of(connection: sa.Connection, table: _Row) -> Iterator[tuple[tuple[str, str], int]]:
    """Every counter of a table as fittings, oldest first: ((kind, old name), id)."""
    used = "SELECT max(starts) AS starts, min(logged_at) AS since FROM cut JOIN trial ON trial.id = trial_id "
    for kind, prefix in KINDS.items():
        for n in range(1, table[f"{kind}_series"] + 1):
            query = f"SELECT 1 AS id, u.* FROM ({used} WHERE table_id = :t AND {kind} = :name) u"
            (known,) = _rows(connection, query, t=table["id"], name=f"{prefix}{n}")
            given: dict[str, object] = {"fitted_at": known["since"]} if known["since"] else {}
            if kind == "parts":
                newest = n == table["parts_series"]
                given["torch_set_id"] = table["torch_set_id"]
                given["starts"] = table["starts_on_parts"] if newest else known["starts"] or 0
            name = f"{prefix}{n}"
            yield (kind, name), _fit(connection, table_id=table["id"], kind=kind, name=name, **given)


def _point_cuts(connection: sa.Connection, own: dict[int, dict[tuple[str, str], int]]) -> None:
    for column in ("parts_id", "mount_id", "plate_id", "signal_id"):
        op.execute(f"ALTER TABLE cut ADD COLUMN {column} INTEGER REFERENCES fitting (id)")
    op.add_column("cut", sa.Column("pierces", sa.Integer(), nullable=False, server_default="1"))
    op.add_column("cut", sa.Column("arc_on_s", sa.Float(), nullable=True))
    op.add_column("cut", sa.Column("name", sa.String(), nullable=True))
    of_file: dict[tuple[int, str, str], int] = {}
    query = "SELECT cut.*, table_id FROM cut JOIN trial ON trial.id = trial_id ORDER BY cut.id"
    for cut in _rows(connection, query):
        ids: dict[str, int | None] = {}
        imported = any((k, cut[k]) not in own[cut["table_id"]] for k in KINDS if cut[k])
        for kind in (*KINDS, "plate"):
            name = cut[kind]
            ids[kind] = own[cut["table_id"]].get((kind, name))
            if name and (ids[kind] is None or imported):
                key = (cut["trial_id"], kind, name)
                if key not in of_file:
                    of_file[key] = _fit(
                        connection, table_id=cut["table_id"], kind=kind, name=name, from_file=True
                    )
                ids[kind] = of_file[key]
        connection.execute(
            sa.text(
                "UPDATE cut SET parts_id = :parts, mount_id = :mount, plate_id = :plate, "
                "signal_id = :signal, name = :name WHERE id = :id"
            ),
            {**ids, "id": cut["id"], "name": cut["key"] if imported else None},
        )
    for name in ("parts", "mount", "plate", "signal"):
        op.execute(f"ALTER TABLE cut DROP COLUMN {name}")
    _point(connection, "planned_cut", own)
    op.add_column("planned_cut", sa.Column("pierces", sa.Integer(), nullable=False, server_default="1"))
    _signal_paths(connection, own)


def _point(connection: sa.Connection, table: str, own: dict[int, dict[tuple[str, str], int]]) -> None:
    for kind in KINDS:
        op.execute(f"ALTER TABLE {table} ADD COLUMN {kind}_id INTEGER REFERENCES fitting (id)")
    query = f"SELECT p.*, table_id FROM {table} p JOIN trial ON trial.id = trial_id"
    for row in _rows(connection, query):
        ids = {k: own[row["table_id"]][k, row[k]] for k in KINDS}
        pairs = ", ".join(f"{k}_id = :{k}" for k in KINDS)
        connection.execute(
            sa.text(f"UPDATE {table} SET {pairs} WHERE id = :id"), {**ids, "id": row["id"]}
        )
    with op.batch_alter_table(table) as batch:
        for kind in KINDS:
            batch.alter_column(f"{kind}_id", existing_type=sa.Integer(), nullable=False)
            batch.drop_column(kind)


def _signal_paths(connection: sa.Connection, own: dict[int, dict[tuple[str, str], int]]) -> None:
    op.execute("ALTER TABLE signal_path ADD COLUMN fitting_id INTEGER REFERENCES fitting (id)")
    for row in _rows(connection, "SELECT * FROM signal_path"):
        fitting = own[row["table_id"]]["signal", f"g{row['series']}"]
        connection.execute(
            sa.text("UPDATE signal_path SET fitting_id = :f WHERE id = :id"),
            {"f": fitting, "id": row["id"]},
        )
    with op.batch_alter_table("signal_path") as batch:
        batch.alter_column("fitting_id", existing_type=sa.Integer(), nullable=False)
        batch.drop_column("series")


def _readiness_totals(connection: sa.Connection) -> None:
    """Answers counted the starts on the parts of then; now the starts of the table: no answer gets older."""
    for table in _rows(connection, "SELECT * FROM cutting_table"):
        connection.execute(
            sa.text(
                "UPDATE readiness_answer SET starts = max(0, (SELECT coalesce(sum(starts), 0) FROM fitting "
                "WHERE table_id = :t AND kind = 'parts' AND NOT from_file) - max(0, :now - starts)) "
                "WHERE run_id IN (SELECT id FROM readiness_run WHERE table_id = :t)"
            ),
            {"t": table["id"], "now": table["starts_on_parts"]},
        )


_RECIPE = (
    ("table_name", sa.String(), "''"),
    ("metal", sa.String(), "''"),
    ("thickness_mm", sa.Float(), "0"),
    ("torch_set", sa.String(), "''"),
    ("amperage_a", sa.Float(), "0"),
    ("gas", sa.String(), "''"),
    ("swirl", sa.String(), "''"),
    ("speed_mm_min", sa.Float(), "0"),
    ("cut_height_mm", sa.Float(), "0"),
    ("arc_voltage_v", sa.Float(), None),
    ("pierce_height_mm", sa.Float(), "0"),
    ("pierce_delay_s", sa.Float(), "0"),
    ("kerf_mm", sa.Float(), "0"),
    ("probability_pass", sa.Float(), "0"),
    ("bevel_deg", sa.Float(), None),
    ("bevel_right_deg", sa.Float(), None),
    ("bevel_left_deg", sa.Float(), None),
    ("bottom_dross_grade", sa.Integer(), None),
    ("top_dross_grade", sa.Integer(), None),
    ("dross", sa.String(), None),
    ("cuts", sa.Integer(), "0"),
    ("passed", sa.Integer(), "0"),
)


def _recipes(connection: sa.Connection) -> None:
    for change in ("update", "delete"):
        op.execute(f"DROP TRIGGER IF EXISTS recipe_refuses_{change}")
    for name, kind, default in _RECIPE:
        op.add_column(
            "recipe", sa.Column(name, kind, nullable=default is None, server_default=_text(default))
        )
    for row in _rows(connection, "SELECT id, body FROM recipe"):
        columns = _columns_of(json.loads(row["body"]))
        pairs = ", ".join(f"{name} = :{name}" for name in columns)
        connection.execute(
            sa.text(f"UPDATE recipe SET {pairs} WHERE id = :id"), {**columns, "id": row["id"]}
        )
    for change in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER recipe_refuses_{change.lower()} BEFORE {change} ON recipe "
            "BEGIN SELECT RAISE(ABORT, 'a locked recipe is never changed'); END"
        )


def _text(default: str | None) -> sa.TextClause | None:
    return None if default is None else sa.text(default)


def _columns_of(body: dict[str, Any]) -> dict[str, object]:
    """A recipe's columns out of its file, as they were first written (see store.book.recipes)."""
    torch, proof, evidence = body["torch_set"], body["proof"], body["evidence"]
    good = "left" if torch.get("swirl") == "counter_clockwise" else "right"
    passed = [c for c in evidence["cuts"] if c["id"] in proof["passed_cuts"]]
    bevels: dict[str, list[float]] = defaultdict(list)
    for cut in passed:
        for edge in cut.get("edges") or ():
            bevels[edge["side"]].append(edge["bevel_deg"])
    looked = [d for c in passed for d in c.get("dross") or ()]
    known = any(c.get("dross") is not None for c in passed)

    def worst(*, top: bool) -> int | None:
        grades = [d["grade"] for d in looked if (d["kind"] == "top_spatter") == top]
        return max(grades, default=0) if known else None

    def mean(values: list[float]) -> float | None:
        return sum(values) / len(values) if values else None

    last = passed[-1].get("dross") if passed else None
    return {
        "table_name": body["table"],
        "metal": body["metal"],
        "thickness_mm": body["thickness_mm"],
        "torch_set": torch["name"],
        "amperage_a": torch["amperage_a"],
        "gas": torch.get("gas", "air"),
        "swirl": torch.get("swirl", "clockwise"),
        **body["setting"],
        "probability_pass": proof["probability_pass"],
        "bevel_deg": mean([abs(b) for b in bevels[good]]),
        "bevel_right_deg": mean(bevels["right"]),
        "bevel_left_deg": mean(bevels["left"]),
        "bottom_dross_grade": worst(top=False),
        "top_dross_grade": worst(top=True),
        "dross": None if last is None else json.dumps(last),
        "cuts": len(evidence["cuts"]),
        "passed": len(passed),
    }
