"""Torch sets, and what is fitted."""

from datetime import datetime

from sqlalchemy import String
from sqlmodel import Field

from orthotome.core.edge.edges import Swirl
from orthotome.core.torch.fittings import FittingKind, Part, SinglePart
from orthotome.store.clock import now
from orthotome.store.row import JsonText, Row


class TorchSetRow(Row, table=True):
    """A set of torch parts that belong together."""

    __tablename__ = "torch_set"

    id: int | None = Field(default=None, primary_key=True)
    name: str = Field(unique=True)
    amperage_a: float
    gas: str
    swirl: Swirl = Field(sa_type=String)
    example: bool = False
    parts_cost: float | None = None  # of one set of parts, in the shop's money
    parts_starts: int | None = None  # that such a set lasts here


class FittingRow(Row, table=True):
    """One thing as it was fitted once: parts, a torch mount, a plate, or a signal path.

    Cuts, planned cuts, signal paths and answers point to it: what was learned with another is another
    story. ``part`` is what was changed: the whole set, or one part of it; which parts it then stood for is in
    ``fitted_part``. The newest of a kind is what is fitted now; ``from_file`` marks what only a campaign
    file tells of, which was never fitted here.
    """

    __tablename__ = "fitting"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    kind: FittingKind = Field(sa_type=String)
    part: Part = Field(default="set", sa_type=String)
    torch_set_id: int | None = Field(default=None, foreign_key="torch_set.id")
    name: str
    from_file: bool = False
    fitted_at: datetime = Field(default_factory=now)
    fitted_by: str = ""


class PartRow(Row, table=True):
    """One part that can be held in a hand. What it has done is what it brought along and what was counted on every
    fitting that it belonged to; ``kept`` says where it is while it is not fitted."""

    __tablename__ = "part"

    id: int | None = Field(default=None, primary_key=True)
    part: SinglePart = Field(sa_type=String)
    torch_set_id: int | None = Field(default=None, foreign_key="torch_set.id", index=True)
    number: int  # among the shop's parts of the kind
    new_at: datetime = Field(default_factory=now)
    starts_then: int = 0
    arc_on_then_s: float = 0.0
    kept: str = "good"
    limit_mm: float | None = None  # of an electrode's pit, by the manual


class FittedPart(Row, table=True):
    """That a part was in the torch while a fitting was the newest."""

    __tablename__ = "fitted_part"

    fitting_id: int = Field(foreign_key="fitting.id", primary_key=True)
    part_id: int = Field(foreign_key="part.id", primary_key=True, index=True)


class CountRow(Row, table=True):
    """What was counted at once on the parts of a fitting, and from what."""

    __tablename__ = "part_count"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    fitting_id: int = Field(foreign_key="fitting.id", index=True)
    source: str
    starts: int = 0
    arc_on_s: float = 0.0
    off_plate: int = 0
    early_losses: int = 0
    collisions: int = 0
    note: str = ""
    counted_at: datetime = Field(default_factory=now)
    counted_by: str = ""


class CounterRow(Row, table=True):
    """What a source's own counter showed, and what Orthotome had missed by then."""

    __tablename__ = "source_counter"

    id: int | None = Field(default=None, primary_key=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    starts: int
    arc_on_s: float | None = None
    missed_starts: int = 0
    missed_arc_on_s: float = 0.0
    set_back: bool = False
    last_count_id: int = 0  # the newest of ``part_count`` then
    read_at: datetime = Field(default_factory=now)
    read_by: str = ""


class InspectionRow(Row, table=True):
    """A part as somebody looked at it, at the counts that it had. ``looks`` is JSON of what was seen; the photo lies
    beside the records, in a file named by its digest."""

    __tablename__ = "inspection"

    id: int | None = Field(default=None, primary_key=True)
    key: str = Field(unique=True)
    part_id: int = Field(foreign_key="part.id", index=True)
    starts: int
    arc_on_s: float
    off_plate: int
    looks: str = Field(default="{}", sa_type=JsonText)
    pit_mm: float | None = None
    u_mm: float | None = None
    told: str = ""  # how the pit was measured, as it was typed
    verdict: str = "not_known"
    note: str = ""
    photo: str = ""
    seen_at: datetime = Field(default_factory=now)
    seen_by: str = ""
    struck_out: bool = False


class StockRow(Row, table=True):
    """Parts of one kind on the shelf."""

    __tablename__ = "stock"

    torch_set_id: int = Field(foreign_key="torch_set.id", primary_key=True)
    part: str = Field(primary_key=True)
    on_shelf: int = 0
    least: int = 0
    cost: float | None = None  # of one, in the shop's money


class MountRow(Row, table=True):
    """How a table's torch can be turned, and how upright its jet is wanted. ``axes`` is JSON, in the words of
    ``orthotome.slug``."""

    __tablename__ = "mount"

    table_id: int = Field(primary_key=True, foreign_key="cutting_table.id")
    axes: str = Field(default="[]", sa_type=JsonText)
    turns_about_itself: bool = False
    target_deg: float = 0.5


class SlugRow(Row, table=True):
    """A round slug as it was read once. ``readings`` is JSON, in the words of ``orthotome.slug``."""

    __tablename__ = "slug"

    id: int | None = Field(default=None, primary_key=True)
    key: str = Field(unique=True)
    table_id: int = Field(foreign_key="cutting_table.id", index=True)
    mount_id: int = Field(foreign_key="fitting.id", index=True)
    thickness_mm: float
    readings: str = Field(sa_type=JsonText)
    struck_out: bool = False
    read_at: datetime = Field(default_factory=now)
    read_by: str = ""
