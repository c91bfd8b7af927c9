"""``orthotome.slug`` and ``orthotome.alignment``, version 1: readings round a slug, and the cure of a lean."""

from typing import Annotated, Literal

from pydantic import Field

from orthotome.core.edge.edges import Swirl
from orthotome.core.torch import alignment as core
from orthotome.formats.reading import TINY, FileModel, WrittenModel, read_json

Text = Annotated[str, Field(min_length=1, max_length=120)]
MOST_READINGS = 400


class SlugReadingFile(FileModel):
    """One reading of one edge."""

    side: Literal["right", "left", "both"]
    heading_deg: Annotated[float, Field(ge=-360, le=720)]
    bevel_deg: Annotated[float, Field(ge=-45, le=45, description="deg, bottom out is positive")]
    u_deg: Annotated[float, Field(ge=TINY, le=20)]
    piece: Annotated[int, Field(ge=0, le=10_000)] = 1
    method: Text | None = None


class MountAxisFile(FileModel):
    """A horizontal axis by the azimuth it points to; +1 deg moves the exit 1 deg toward it + 90."""

    name: Text
    about_deg: Annotated[float, Field(ge=-360, le=720)]
    mm_per_deg: Annotated[float, Field(gt=-1000, lt=1000)] | None = None


class MountFile(FileModel):
    """How the torch can be turned."""

    axes: Annotated[tuple[MountAxisFile, ...], Field(max_length=6, strict=False)] = ()
    turns_about_itself: bool = False


class SlugFile(FileModel):
    """Readings of a round slug or of squares, and how the torch can be turned."""

    format: Literal["orthotome.slug"]
    version: Literal[1]
    thickness_mm: Annotated[float, Field(ge=0.2, le=160)] | None = None
    swirl: Swirl = "clockwise"
    target_deg: Annotated[float, Field(ge=TINY, le=20)] = 0.5
    readings: Annotated[
        tuple[SlugReadingFile, ...], Field(min_length=1, max_length=MOST_READINGS, strict=False)
    ]
    mount: MountFile = MountFile()


class TurnFile(WrittenModel):
    """One correction."""

    axis: str
    turn_deg: float
    move_mm: float | None
    why: str


class AlignmentFile(WrittenModel):
    """The lean with its uncertainty, and what cures it."""

    format: Literal["orthotome.alignment"] = "orthotome.alignment"
    version: Literal[1] = 1
    lean_deg: float
    toward_deg: float
    sd_deg: float
    process_deg: float | None
    enough: bool
    readings_needed: int
    corrections: tuple[TurnFile, ...]
    left_over_deg: float


def align_text(text: str | bytes) -> AlignmentFile:
    """The answer to a slug file. Raises FileError, or TradeError where nothing was read."""
    file = read_json(SlugFile, text)
    mount = core.Mount(
        tuple(core.MountAxis(**a.model_dump()) for a in file.mount.axes), file.mount.turns_about_itself
    )
    readings = [core.SlugReading(**r.model_dump(exclude={"method"})) for r in file.readings]
    return alignment_to_file(core.align(readings, file.swirl, file.target_deg, mount))


def alignment_to_file(found: core.Alignment) -> AlignmentFile:
    """The open file of an alignment, rounded to what it can mean."""

    def rounded(value: float | None) -> float | None:
        return None if value is None else round(value, 2)

    return AlignmentFile(
        lean_deg=round(found.lean_deg, 2),
        toward_deg=round(found.toward_deg, 1) % 360.0,
        sd_deg=round(found.sd_deg, 3),
        process_deg=rounded(found.process_deg),
        enough=found.enough,
        readings_needed=found.readings_needed,
        corrections=tuple(
            TurnFile(axis=t.axis, turn_deg=round(t.turn_deg, 2), move_mm=rounded(t.move_mm), why=t.why)
            for t in found.corrections
        ),
        left_over_deg=round(found.left_over_deg, 2),
    )
