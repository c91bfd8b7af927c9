"""A cutting program as what it makes the table do: motions in the plane, and acts between them.

Motions are rows of one array, so that a program of a hundred thousand lines is worked out in a second: lengths in
mm and headings in Orthotome's frame. NaN is "the program does not say", never zero.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from orthotome.core.path.paths import Arc, Line, Move

Array = NDArray[np.float64]

LINE, KIND, X0, Y0, X1, Y1, CX, CY, FEED, Z, COMPENSATION, CONTROL = range(12)
"""Columns of a motion: the file's line, what kind it is, from, to, arc's centre (mm), feed (mm/min), torch height
(mm), side of the controller's compensation (1 left, -1 right, 0 none), height control (1 on, 0 off)."""
COLUMNS = 12

RAPID, STRAIGHT, CLOCKWISE, COUNTER_CLOCKWISE = 0.0, 1.0, 2.0, 3.0
"""What ``KIND`` holds."""

ActKind = Literal["torch_on", "torch_off", "dwell", "height", "plunge", "stop", "touch_off", "end"]


class Act(NamedTuple):
    """Something done without a motion in the plane. ``before`` counts the motions that came before it; ``value`` is the
    seconds of a dwell, or the height in mm of ``height`` (at a rapid) and ``plunge`` (at a feed)."""

    kind: ActKind
    line: int
    before: int
    value: float = math.nan


class Unread(NamedTuple):
    """A line or word that was not understood, and why."""

    line: int
    text: str
    why: str


class Named(NamedTuple):
    """Something that a word or comment names: an amperage in A, a unit."""

    line: int
    value: float


@dataclass(frozen=True, eq=False)
class Program:
    """What was read. ``units`` are those at its first motion; ``unit_words`` are all that it says, with mm per unit."""

    motions: Array
    acts: tuple[Act, ...]
    units: Literal["mm", "in"]
    unit_words: tuple[Named, ...]
    amperes: tuple[Named, ...]
    unread: tuple[Unread, ...]
    comments: tuple[tuple[int, str], ...]
    lines: int
    doubts: tuple[str, ...] = ()  # how it was read where it could be read otherwise
    straight_through: bool = True  # each line run once, in its order: no sub-programs, loops or jumps
    absolute: bool = True  # its coordinates count from the zero throughout
    centres_absolute: bool = False  # its arcs name the places of their centres
    speaks_control: bool = False  # whether words for height control were understood anywhere

    @property
    def test_piece(self) -> bool:
        """Whether it says that it is one of Orthotome's own test pieces."""
        return any(TEST_PIECE in text for _, text in self.comments[:20])

    @property
    def dry_run(self) -> bool:
        """Whether it is a test piece's dry run, which leaves the torch off."""
        return self.test_piece and any("DRY RUN" in text for _, text in self.comments[:40])


TEST_PIECE = "Orthotome test piece"
"""The comment by which a test piece is known again: its contours vary on purpose what it is there to try."""


def lengths_mm(motions: Array) -> Array:
    """Length of each motion, shape (n,)."""
    chord = np.hypot(motions[:, X1] - motions[:, X0], motions[:, Y1] - motions[:, Y0])
    arc = motions[:, KIND] >= CLOCKWISE
    if not arc.any():
        return chord
    lengths: Array = chord.copy()
    arcs = motions[arc]
    lengths[arc] = radii_mm(arcs) * np.abs(sweeps_rad(arcs))
    return lengths


def radii_mm(motions: Array) -> Array:
    """Radius of each motion, infinite for a straight one."""
    arc = motions[:, KIND] >= CLOCKWISE
    radius = np.hypot(motions[:, X0] - motions[:, CX], motions[:, Y0] - motions[:, CY])
    return np.where(arc, radius, np.inf)


def sweeps_rad(motions: Array) -> Array:
    """Angle that each arc turns: positive counter-clockwise, a whole turn where it ends at its start; 0 for a line."""
    a = np.arctan2(motions[:, Y0] - motions[:, CY], motions[:, X0] - motions[:, CX])
    b = np.arctan2(motions[:, Y1] - motions[:, CY], motions[:, X1] - motions[:, CX])
    clockwise = motions[:, KIND] == CLOCKWISE
    turned = np.where(clockwise, a - b, b - a) % (2 * math.pi)
    whole = np.hypot(motions[:, X1] - motions[:, X0], motions[:, Y1] - motions[:, Y0]) < 1e-6
    turned = np.where(whole, 2 * math.pi, turned)
    sweep = np.where(clockwise, -turned, turned)
    return np.where(motions[:, KIND] >= CLOCKWISE, sweep, 0.0)


def headings_rad(motions: Array) -> tuple[Array, Array]:
    """Direction of travel at the start and at the end of each motion."""
    straight = np.arctan2(motions[:, Y1] - motions[:, Y0], motions[:, X1] - motions[:, X0])
    arc = motions[:, KIND] >= CLOCKWISE
    if not arc.any():
        return straight, straight
    across = np.where(motions[:, KIND] == CLOCKWISE, -math.pi / 2, math.pi / 2)
    begins = np.arctan2(motions[:, Y0] - motions[:, CY], motions[:, X0] - motions[:, CX]) + across
    ends = np.arctan2(motions[:, Y1] - motions[:, CY], motions[:, X1] - motions[:, CX]) + across
    return np.where(arc, begins, straight), np.where(arc, ends, straight)


def as_points(motions: Array, within_mm: float) -> tuple[Array, Array]:
    """Their path as points from the first start, arcs in chords that stray no farther than that, shape (m, 2), and the
    way along the path itself at each of them, shape (m,)."""
    arc = motions[:, KIND] >= CLOCKWISE
    if not arc.any():
        ways = np.concatenate([[0.0], np.cumsum(lengths_mm(motions))])
        return np.vstack([motions[:1, [X0, Y0]], motions[:, [X1, Y1]]]), ways
    counts = np.ones(len(motions), dtype=np.intp)
    sweep = sweeps_rad(motions)
    radius = radii_mm(motions)
    ratio = np.clip(1 - within_mm / np.maximum(radius[arc], 1e-9), -1.0, 1.0)
    step = np.maximum(2 * np.arccos(ratio), math.radians(0.5))
    counts[arc] = np.maximum(2, np.ceil(np.abs(sweep[arc]) / step)).astype(np.intp)
    which = np.repeat(np.arange(len(motions)), counts)
    nth = np.arange(len(which)) - np.repeat(np.cumsum(counts) - counts, counts) + 1
    share = nth / counts[which]
    rows = motions[which]
    start = np.arctan2(rows[:, Y0] - rows[:, CY], rows[:, X0] - rows[:, CX])
    angle = start + share * sweep[which]
    round_ = arc[which] & (nth < counts[which])
    reach = np.where(round_, radius[which], 0.0)
    with np.errstate(invalid="ignore"):
        x = np.where(round_, rows[:, CX] + reach * np.cos(angle), rows[:, X1])
        y = np.where(round_, rows[:, CY] + reach * np.sin(angle), rows[:, Y1])
    points = np.column_stack([x, y])
    lengths = lengths_mm(motions)
    along = (np.cumsum(lengths) - lengths)[which] + share * lengths[which]
    return np.vstack([motions[:1, [X0, Y0]], points]), np.concatenate([[0.0], along])


def move_of(motion: Array) -> Move:
    """One motion as a move of a path."""
    start, end = (float(motion[X0]), float(motion[Y0])), (float(motion[X1]), float(motion[Y1]))
    if motion[KIND] < CLOCKWISE:
        return Line(start, end)
    return Arc(start, end, (float(motion[CX]), float(motion[CY])), bool(motion[KIND] == CLOCKWISE))


def moves_of(motions: Array) -> tuple[Move, ...]:
    """Motions as moves of a path; those that go nowhere are left out."""
    far = lengths_mm(motions) > 1e-9
    return tuple(move_of(m) for m in motions[far])


def rows_of(moves: Sequence[Move], like: Array) -> Array:
    """Moves as motions, with all else as in the motion ``like``."""
    rows = np.tile(like, (len(moves), 1))
    for row, move in zip(rows, moves, strict=True):
        row[[X0, Y0, X1, Y1]] = (*move.start, *move.end)
        if isinstance(move, Arc):
            row[KIND] = CLOCKWISE if move.clockwise else COUNTER_CLOCKWISE
            row[[CX, CY]] = move.centre
        else:
            row[KIND] = STRAIGHT
            row[[CX, CY]] = 0.0
    return rows
