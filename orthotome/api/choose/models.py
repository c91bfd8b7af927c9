"""What goes over the wire of choosing a set."""

from typing import Annotated

from pydantic import Field

from orthotome.api.book.models import Length
from orthotome.api.wire import Id, Version, Wire
from orthotome.formats.reading import TINY, FileModel
from orthotome.formats.trial.campaign import Text, ThicknessMm


class SetNoteRequest(FileModel):
    """What is written down of a set in a metal with a pair of gases."""

    metal: Text
    gas: Text
    shield_gas: Annotated[str, Field(max_length=200)] = ""
    pierce_max_mm: ThicknessMm | None = None
    edge_start_max_mm: ThicknessMm | None = None
    sever_max_mm: ThicknessMm | None = None
    least_mm: ThicknessMm | None = None
    bevel_deg: Annotated[float, Field(ge=0, le=45)] | None = None
    bottom_dross_grade: Annotated[int, Field(ge=0, le=4)] | None = None
    top_dross_grade: Annotated[int, Field(ge=0, le=4)] | None = None
    colour: Annotated[str, Field(max_length=40)] | None = None
    rounding: Annotated[str, Field(max_length=40)] | None = None
    source: Annotated[str, Field(max_length=200)] = ""
    version: Version | None = None  # of what stood there when it was read, 0: nothing


class ChooseQuery(Wire):
    """The job to choose a set for: what is cut, where, and the part's straights and circles."""

    metal: Text
    thickness_mm: Annotated[float, Field(ge=0.2, le=160, allow_inf_nan=False)]
    table_id: Id | None = None
    straight_mm: Length = 100
    circle_mm: Length = 20
    bevel_deg: Annotated[float, Field(ge=TINY, lt=45, allow_inf_nan=False)] | None = None


class ChooseOption(Wire):
    """A process judged for the job; null is "cannot be told"."""

    torch_set_id: int
    torch_set: str
    amperage_a: float
    gas: str
    shield_gas: str
    usable: bool
    can: str
    can_sentence: str
    question: str | None
    start_how: str
    speed_mm_min: float | None
    kerf_mm: float | None
    bevel_deg: float | None
    edge_range: int | None
    bottom_dross_grade: int | None
    top_dross_grade: int | None
    colour: str | None
    rounding: str | None
    lag_deg: float | None
    best_at: list[str]  # what nothing else is better at, in words
    beaten_by: str | None  # a process that is as good in all that both say, and better in something
    look_from: str
    measured: bool
    smallest_hole_mm: float
    straight_share: float | None
    circle_share: float | None
    cost_per_m: float | None
    gas_l_per_m: float | None
    notes: list[str]
    beyond_machine: (
        bool  # it asks for what the table's page says that it has not: the first note says what
    )
    example: bool
    written: SetNoteRequest
    parts_cost: float | None
    parts_starts: int | None


class ChooseAnswer(Wire):
    """Every process for a metal and thickness, on one table."""

    options: list[ChooseOption]
    machine_known: bool
    other_process: str | None


class SetNoteAnswer(SetNoteRequest):
    """A set's note."""

    id: int
    torch_set_id: int
    example: bool
