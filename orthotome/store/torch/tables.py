"""Torch sets, and what is fitted."""

from datetime import datetime

from sqlmodel import Field, SQLModel

from orthotome.store.clock import now


class TorchSetRow(SQLModel, table=True):
    """A set of torch parts that belong together."""

    __tablename__ = "torch_set"

    id: int | None = Field(default=None, primary_key=True)
    name: str = Field(unique=True)
    amperage_a: float
    gas: str
    swirl: str
    example: bool = False
    parts_cost: float | None = None  # of one set of parts, in the shop's money
    parts_starts: int | None = None  # that such a set lasts here


class FittingRow(SQLModel, table=True):
    """One thing as it was fitted once: parts, a torch mount, a plate, or a signal path.

    Cuts, planned cuts, signal paths and answers point to it: what was learned with another is another
    story. ``part`` is the whole set, or one part of it. ``starts`` and ``arc_on_s`` are counted from
    ``starts_then`` and ``arc_on_then_s``, which it brought along when it was fitted. The newest of a kind
    (of parts: the newest of any part) is what is fitted now; ``from_file`` marks what only a campaign
    file tells of, which was never fitted here.
    """

    __tablename__ = "fitting"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    kind: str
    part: str = "set"
    torch_set_id: int | None = Field(default=None, foreign_key="torch_set.id")
    name: str
    from_file: bool = False
    fitted_at: datetime = Field(default_factory=now)
    fitted_by: str = ""
    starts_then: int = 0
    arc_on_then_s: float = 0.0
    starts: int = 0
    arc_on_s: float = 0.0


class MountRow(SQLModel, table=True):
    """How a table's torch can be turned, and how upright its jet is wanted. ``axes`` is JSON, in the words of
    ``orthotome.slug``."""

    __tablename__ = "mount"

    table_id: int = Field(primary_key=True, foreign_key="cutting_table.id")
    axes: str = "[]"
    turns_about_itself: bool = False
    target_deg: float = 0.5


class SlugRow(SQLModel, table=True):
    """A round slug as it was read once. ``readings`` is JSON, in the words of ``orthotome.slug``."""

    __tablename__ = "slug"

    id: int | None = Field(default=None, primary_key=True)
    key: str = Field(unique=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    mount_id: int = Field(foreign_key="fitting.id", index=True)
    thickness_mm: float
    readings: str
    struck_out: bool = False
    read_at: datetime = Field(default_factory=now)
    read_by: str = ""
