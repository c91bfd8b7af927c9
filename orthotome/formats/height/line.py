"""``orthotome.line``, version 1: what a table says of its arc while it runs, as JSON lines over TCP.

A table listens on a port. To whoever connects it says ``hello``, then ``samples``, some at a time, as columns of equal
length; a line a listener sends begins with ``do``: ``run`` (only tables that can), ``trim`` the set-point, ``stop``.
One line is one JSON object of at most 64 kB. Anyone who writes this can attach a table.
"""

import json
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError, model_validator

from orthotome.formats.reading import FileError, FileModel, WrittenModel, field_path, sentence

LONGEST_LINE = 64_000
MOST_SAMPLES_OF_A_LINE = 2000

Volts = Annotated[float, Field(ge=-600, le=600)]
Number = Annotated[float, Field(ge=-1e7, le=1e7)]
_Many = Field(max_length=MOST_SAMPLES_OF_A_LINE, strict=False)


class HelloLine(FileModel):
    """The first line: who it is, how many samples a second, what it can be asked, and which set-points it can."""

    format: Literal["orthotome.line"]
    version: Literal[1]
    says: Literal["hello"]
    name: Annotated[str, Field(max_length=80)]
    samples_per_s: Annotated[float, Field(gt=0, le=100_000)]
    can: Annotated[tuple[Literal["run", "trim", "stop"], ...], Field(strict=False, max_length=3)] = ()
    set_point_v: Annotated[tuple[Volts, Volts] | None, Field(strict=False)] = None


class SamplesLine(FileModel):
    """Samples in order of time. A column that the table has not is left out; null is a sample it missed."""

    says: Literal["samples"]
    at_s: Annotated[tuple[Annotated[float, Field(ge=0, le=1e9)], ...], _Many, Field(min_length=1)]
    arc_voltage_v: Annotated[tuple[Volts | None, ...], _Many]
    set_point_v: Annotated[tuple[Volts | None, ...] | None, _Many] = None
    z_mm: Annotated[tuple[Number | None, ...] | None, _Many] = None
    feed_mm_min: Annotated[tuple[Number | None, ...] | None, _Many] = None
    control_on: Annotated[tuple[Literal[0, 1] | None, ...] | None, _Many] = None

    @model_validator(mode="after")
    def _of_one_length(self) -> "SamplesLine":
        for name in ("arc_voltage_v", "set_point_v", "z_mm", "feed_mm_min", "control_on"):
            column = getattr(self, name)
            if column is not None and len(column) != len(self.at_s):
                raise ValueError(f"{name} has {len(column)} samples, and at_s {len(self.at_s)}.")
        if any(b < a for a, b in zip(self.at_s, self.at_s[1:], strict=False)):
            raise ValueError("at_s runs backwards.")
        return self


class RefusedLine(FileModel):
    """What was asked is not done, and why."""

    says: Literal["refused"]
    why: Annotated[str, Field(max_length=500)]


class RunPath(WrittenModel):
    """One path with the torch on; what happens where on it, in mm from its start."""

    length_mm: float
    corners_mm: tuple[float, ...] = ()
    crossings_mm: tuple[float, ...] = ()
    ends_off_plate: bool = False


class RunControl(WrittenModel):
    """Height control of a run; a set-point of null is sampled after each pierce."""

    set_point_v: float | None
    dead_band_v: float
    delay_s: float
    gain_mm_s_v: float = 2.0
    hold_below_share: float | None = 0.9
    crossing_jump_v: float | None = None


class RunLine(WrittenModel):
    """A job to run, for a table that can."""

    do: Literal["run"] = "run"
    speed_mm_min: float
    cut_height_mm: float
    pierce_height_mm: float
    pierce_delay_s: float
    steady_v: float
    paths: tuple[RunPath, ...]
    control: RunControl | None = None
    warp_mm: float = 0.0
    wave_mm: float = 250.0
    acceleration_mm_s2: float = 600.0


class TrimLine(WrittenModel):
    """Raise or lower the set-point now."""

    do: Literal["trim"] = "trim"
    by_v: float


class StopLine(WrittenModel):
    """Stop what runs."""

    do: Literal["stop"] = "stop"


class LineFile(WrittenModel):
    """Every line of the protocol, for its schema."""

    table: HelloLine | SamplesLine | RefusedLine
    listener: RunLine | TrimLine | StopLine


Said = HelloLine | SamplesLine | RefusedLine
_SAID: TypeAdapter[Any] = TypeAdapter(Annotated[Said, Field(discriminator="says")])


_COLUMNS = {
    "arc_voltage_v": 600.0,
    "set_point_v": 600.0,
    "z_mm": 1e7,
    "feed_mm_min": 1e7,
    "control_on": 1.0,
}
"""The columns of samples beside their times, and how far from nothing their numbers go."""


def readable(line: bytes) -> tuple[SamplesLine | None, int]:
    """What can be read of a line that ``read_line`` refuses, and how many samples of it cannot: a number that is none is
    a sample the table missed, a time that is none or runs backwards takes its sample with it. A line of which nothing can
    be told counts as one."""
    try:
        said = json.loads(line[:LONGEST_LINE])
        times, columns = (
            said["at_s"],
            {name: said[name] for name in _COLUMNS if said.get(name) is not None},
        )
        if said["says"] != "samples" or "arc_voltage_v" not in columns:
            return None, 1
        rows = list(zip(times, *columns.values(), strict=True))[:MOST_SAMPLES_OF_A_LINE]
    except (ValueError, KeyError, TypeError, RecursionError):
        return None, 1
    kept, lost, last_s = [], 0, 0.0
    for at_s, *values in rows:
        fine = [_within(v, most) for v, most in zip(values, (_COLUMNS[n] for n in columns), strict=True)]
        lost += not all(fine) or not _within(at_s, 1e9)
        if at_s is not None and _within(at_s, 1e9) and at_s >= last_s:
            kept.append((at_s, *(v if ok else None for v, ok in zip(values, fine, strict=True))))
            last_s = at_s
    if not kept:
        return None, max(1, len(rows))
    times, *others = zip(*kept, strict=True)
    given = {"says": "samples", "at_s": times, **dict(zip(columns, others, strict=True))}
    try:
        return SamplesLine.model_validate(given), max(1, lost)
    except ValidationError:
        return None, len(rows)


def _within(value: object, most: float) -> bool:
    """Whether it is a number that a sample may hold, or none that was taken."""
    if value is None:
        return True
    return isinstance(value, int | float) and not isinstance(value, bool) and abs(value) <= most


def read_line(line: bytes) -> Said:
    """One line of a table. Raises FileError saying what is wrong with it."""
    if len(line) > LONGEST_LINE:
        raise FileError(f"a line is longer than {LONGEST_LINE // 1000} kB.")
    try:
        said: Said = _SAID.validate_json(line)
    except ValidationError as wrong:
        first = wrong.errors()[0]
        if first["type"] in ("union_tag_invalid", "union_tag_not_found", "json_invalid"):
            raise FileError("that is no line of orthotome.line, version 1.") from None
        raise FileError(f"{field_path(first)}: {sentence(first)}") from None
    return said
