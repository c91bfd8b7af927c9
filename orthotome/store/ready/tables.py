"""Run-throughs before cutting."""

from datetime import datetime

from sqlalchemy import String, UniqueConstraint
from sqlmodel import Field

from orthotome.core.ready.run_through import Period
from orthotome.store.clock import now
from orthotome.store.row import JsonText, Row


class ReadinessRun(Row, table=True):
    """A run-through before cutting: for which table and trial, by whom, begun and done when."""

    __tablename__ = "readiness_run"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    trial_id: int | None = Field(default=None, foreign_key="trial.id", index=True)
    begun_at: datetime = Field(default_factory=now)
    begun_by: str = ""
    done_at: datetime | None = None
    skipped: str = Field(
        default="[]", sa_type=JsonText
    )  # JSON: what was due and not answered when it was called done


class ReadinessAnswer(Row, table=True):
    """The answer to one item of a run-through; the last one given stands."""

    __tablename__ = "readiness_answer"

    id: int | None = Field(default=None, primary_key=True)
    run_id: int = Field(foreign_key="readiness_run.id")
    code: str = Field(index=True)
    asked: str
    answer: str
    note: str = ""
    held_for: str = Field(
        default="{}", sa_type=JsonText
    )  # JSON: the metal, plate, torch set and program it was given for
    starts: int = 0  # of the table until then, whatever parts were fitted
    answered_at: datetime = Field(default_factory=now)
    answered_by: str = ""

    __table_args__ = (UniqueConstraint("run_id", "code", name="one_answer_per_item"),)


class ReadinessRule(Row, table=True):
    """What the shop changed of the run-through: an item dropped or re-timed, or one of its own."""

    __tablename__ = "readiness_rule"

    code: str = Field(primary_key=True)
    dropped: bool = False
    period: Period | None = Field(default=None, sa_type=String)
    number: int = 1
    ask: str | None = None  # of the shop's own item
    if_not: str | None = None
    room: str | None = None  # the group it stands in
