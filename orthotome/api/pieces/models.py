"""What goes over the wire of test pieces."""

from typing import Annotated

from pydantic import Field, ValidationError

from orthotome.api.wire import Id, Wire
from orthotome.core.edge.edges import Side as EdgeSide
from orthotome.core.errors import TradeError
from orthotome.core.path.paths import SegmentKind
from orthotome.core.pieces import MOST_AT_ONCE, PieceName
from orthotome.core.setting import Setting
from orthotome.desk.pieces.next_piece import PieceAsked
from orthotome.formats.reading import TINY, FileModel
from orthotome.formats.trial.campaign import Height, Speed, Text

Side = Annotated[float, Field(ge=TINY, le=100_000, allow_inf_nan=False)]


# Speed @ cut height of each square, in mm/min and mm, with commas between.
SettingsText = Annotated[
    str,
    Field(
        max_length=400,
        pattern=r"^[0-9]+(\.[0-9]+)?@[0-9]+(\.[0-9]+)?(,[0-9]+(\.[0-9]+)?@[0-9]+(\.[0-9]+)?)*$",
    ),
]


Number = Annotated[int, Field(ge=1, le=1_000_000)]


class _SettingText(Wire):
    speed_mm_min: Speed
    cut_height_mm: Height

    @classmethod
    def read(cls, text: str) -> Setting:
        """The setting that a text such as "2100@1.5" says."""
        speed, _, height = text.partition("@")
        return Setting.of(cls(speed_mm_min=float(speed), cut_height_mm=float(height)))


class PieceQuery(Wire):
    """Which piece, and the scrap there is for it.

    ``settings`` and ``first`` say what squares were shown, so that what is programmed, cut and noted is
    that, whatever is advised meanwhile. Left out, they are what is advised now. Of another kind of piece,
    ``settings`` is the one setting round which it is cut.
    """

    kind: PieceName = "square"
    plate_id: Id | None = None
    count: Annotated[int, Field(ge=1, le=MOST_AT_ONCE)] = 1  # squares at once
    settings: SettingsText | None = None
    first: Number | None = None
    own_part_id: Id | None = None
    fit_holes: bool = (
        False  # of a part of one's own: round holes drawn so that they come out as they are drawn
    )

    def squares(self) -> list[Setting] | None:
        """The settings of the squares that were shown; None where none were.

        Raises TradeError for settings that are none, or are not as many as the squares.
        """
        if self.settings is None:
            return None
        try:
            found = [_SettingText.read(text) for text in self.settings.split(",")]
        except ValidationError as wrong:
            raise TradeError("settings", f"{wrong.errors()[0]['loc'][0]} is out of range.") from None
        if self.kind != "square" and len(found) != 1:
            raise TradeError("settings", "only squares are cut at several settings at once.")
        if len(found) != self.count:
            raise TradeError("settings", f"{len(found)} settings are not {self.count} squares.")
        return found

    def asked(self) -> PieceAsked:
        """As the desk is asked. Raises TradeError as ``squares`` does."""
        return PieceAsked(
            self.kind,
            self.plate_id,
            self.count,
            self.squares(),
            self.first,
            self.own_part_id,
            self.fit_holes,
        )


class FileQuery(PieceQuery):
    """Which file of it."""

    dry_run: bool = False


class ZoneModel(FileModel):
    """A rectangle of a plate, from its near left corner."""

    x_mm: Annotated[float, Field(ge=0, le=100_000)]
    y_mm: Annotated[float, Field(ge=0, le=100_000)]
    width_mm: Side
    height_mm: Side


class ZoneRequest(ZoneModel):
    """A part of a plate that is taken: a clamp, a wet slat, an old cut."""

    what: Text


class ZoneAnswer(ZoneRequest):
    """A taken zone."""

    id: int


class PlateRequest(FileModel):
    """A piece of scrap."""

    name: Text
    width_mm: Side
    height_mm: Side
    margin_mm: Annotated[float, Field(ge=0, le=500)] = 0.0


class PlateAnswer(Wire):
    """A plate with what is taken of it."""

    id: int
    name: str
    width_mm: float
    height_mm: float
    margin_mm: float
    free_share: float
    zones: list[ZoneAnswer]


class CutPieceRequest(FileModel):
    """A piece, or squares at once, that were cut; from a plate, their places are taken from now on."""

    kind: PieceName
    plate_id: Id | None = None
    count: Annotated[int, Field(ge=1, le=MOST_AT_ONCE)] = 1
    settings: SettingsText | None = None
    first: Number | None = None
    own_part_id: Id | None = None
    fit_holes: bool = False


class CutPieceAnswer(Wire):
    """The pieces that wait to be read now, by their ids."""

    waiting: list[int]


class PieceInBatch(Wire):
    """One of the squares: the number on it, its setting, and where it goes."""

    number: int
    nicks: int
    speed_mm_min: float
    cut_height_mm: float
    spot: ZoneModel


class ReachModel(Wire):
    """What the machine makes of the path at its acceleration."""

    acceleration_mm_s2: float
    assumed: bool  # the table's own is not written down
    seconds: float  # of machine time: arc, pierces, corners, rapids, height moves
    fastest_assumed: bool  # the rapids' speed is not written down
    share_at_speed: float
    blind_mm: float | None  # of cut, before height control follows; null where it is off or not known


class PieceAnswer(Wire):
    """What the next piece needs."""

    kind: PieceName
    title: str
    plate_mm: tuple[float, float]
    pierces: int
    cut_length_mm: float
    notes: list[str]  # what this machine cannot show with it
    reach: ReachModel
    steel_mm2: float
    does_not_fit: str | None
    spots: list[ZoneModel]  # where they go on the plate asked for
    batch: list[PieceInBatch]  # of squares, with their settings
    profile: str


class SampleModel(Wire):
    """Where the torch is, so long after the first pierce began."""

    at_s: float
    x_mm: float
    y_mm: float
    speed_mm_min: float
    kind: SegmentKind
    slow: bool  # below nine tenths of the speed set


class PlayedContour(Wire):
    """One pierce and what follows, as the machine runs it."""

    name: str
    number: int | None  # of the part it belongs to, where several are cut loose together
    kept_side: EdgeSide
    inside: bool
    speed_mm_min: float
    cut_height_mm: float
    pierce_delay_s: float
    height_control: bool
    samples: list[SampleModel]


class PartModel(Wire):
    """A kept part from above."""

    rings: list[list[tuple[float, float]]]
    scrap: bool


class PlayedAnswer(Wire):
    """The next piece, to look at and to play."""

    title: str
    plate_mm: tuple[float, float]  # the one chosen, or the least that is needed
    extents_mm: tuple[float, float, float, float]
    taken: list[ZoneModel]
    parts: list[PartModel]
    contours: list[PlayedContour]
    seconds: float


class OwnPartAnswer(Wire):
    """A part of the shop's own."""

    id: int
    name: str
    notes: list[str]
    contours: int
    holes: int
    size_mm: tuple[float, float]
