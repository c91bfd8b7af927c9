"""Contours recognised in a program: what of each cut is lead-in, part, overrun and lead-out, and what it bounds.

A cut runs from torch on to torch off. Where its path comes back to a point that it has passed, the loop between is
the part's contour; what came before is the lead-in, what repeats the contour afterwards the overrun, the rest a
lead-out. Inside is told from outside by what lies in what, and where nothing lies round it, by the side from which
it is entered.
"""

import math
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from orthotome.core.edge.edges import Side, Swirl
from orthotome.core.errors import TradeError
from orthotome.core.path.rings import distances, holds
from orthotome.core.programs.program import (
    CLOCKWISE,
    COMPENSATION,
    CONTROL,
    CX,
    CY,
    FEED,
    KIND,
    LINE,
    RAPID,
    X0,
    X1,
    Y0,
    Y1,
    Array,
    Program,
    as_points,
    lengths_mm,
    radii_mm,
)

Kind = Literal["outside", "hole", "inside", "open"]
Turns = Literal["clockwise", "counter_clockwise"]

MOST_CONTOURS = 20_000
SAME_MM = 0.06
"""Nearer than this is the same place: three decimals of an inch, rounded twice."""
_JUST_MM = 0.008  # a joint that the path comes back to this near is the one it began at
_TANGENT_MM = 3.0  # how far a lead-in may run beside its contour before it is on it. Assumption
_FIRST_JOINTS = 80  # how many joints of a cut are tried as the loop's start: lead-ins are short
_LOOK_MM = 0.01
_LEAST_WIDTH_MM = 0.05  # for each mm of way round: less is a slit, in and out again
_ROUND_SHARE = 0.004  # of its radius: how far a circle in chords may stray and still be one


@dataclass(frozen=True, eq=False)
class CutRun:
    """From torch on to torch off: motions ``first`` to ``after`` of the program, and what was done at its start.

    NaN: the program does not say. ``off_line`` is None where the torch is never put out.
    """

    on_line: int
    off_line: int | None
    first: int
    after: int
    delay_s: float
    delay_line: int | None
    pierce_height_mm: float
    cut_height_mm: float
    height_line: int | None


def cut_runs(program: Program) -> tuple[CutRun, ...]:
    """The cuts of a program, in order; a start without a cut after it (by hand, to pierce) belongs to the next."""
    runs: list[CutRun] = []
    on: CutRun | None = None
    height, height_line = math.nan, None
    waited: tuple[float, int | None] = (math.nan, None)
    for act in program.acts:
        if act.kind in ("height", "plunge", "touch_off"):
            height, height_line = (act.value, act.line) if act.kind != "touch_off" else (math.nan, None)
            if on is not None and act.before == on.first:
                on = replace(on, cut_height_mm=height, height_line=height_line)
        elif act.kind == "dwell" and on is not None and act.before == on.first:
            before = 0.0 if math.isnan(on.delay_s) else on.delay_s
            on = replace(on, delay_s=before + act.value, delay_line=act.line)
        elif act.kind in ("torch_on", "torch_off") and on is not None:
            off_line = act.line if act.kind == "torch_off" else None
            if act.before > on.first:
                runs.append(replace(on, after=act.before, off_line=off_line))
                on = None
            elif act.kind == "torch_off":
                waited, on = (on.delay_s, on.delay_line), None
        if act.kind == "torch_on" and on is None:
            on = CutRun(act.line, None, act.before, act.before, *waited, height, height, height_line)
            waited = (math.nan, None)
    if on is not None and on.first < len(program.motions):
        runs.append(replace(on, after=len(program.motions)))
    return tuple(runs)


@dataclass(frozen=True, eq=False)
class ProgramContour:
    """One cut, recognised. ``path`` is all of it as points, ``along_mm`` the way to each of them; ``loop`` its
    contour likewise (the first not said again), for an open one its path; lengths in mm; ``round_mm`` is the diameter where it is a circle."""

    run: CutRun
    motions: Array
    path: Array
    along_mm: Array
    lead_in_mm: float
    part_mm: float
    overrun_mm: float
    lead_out_mm: float
    loop: Array
    closed: bool
    area_mm2: float  # positive counter-clockwise; 0 for an open one
    round_mm: float | None
    kind: Kind = "open"
    parent: int | None = None  # the smallest contour that holds it
    by_lead: bool = False  # told from the side of its lead alone

    @property
    def line(self) -> int:
        """Of its torch-on word."""
        return self.run.on_line

    @property
    def turns(self) -> Turns | None:
        """Which way round it runs."""
        if not self.closed:
            return None
        return "counter_clockwise" if self.area_mm2 > 0 else "clockwise"

    @property
    def kept_side(self) -> Side | None:
        """The side of travel that the kept metal lies on; for an open cut only the controller's compensation says it."""
        if not self.closed:
            return {1.0: "right", -1.0: "left"}.get(self.compensated)  # type: ignore[return-value]
        within = self.kind == "outside"
        return "left" if (self.area_mm2 > 0) == within else "right"

    @property
    def compensated(self) -> float:
        """The controller's compensation along the part: 1 torch left of the path, -1 right, 0 none."""
        return float(self.part[len(self.part) // 2, COMPENSATION])

    @cached_property
    def size_mm(self) -> tuple[float, float]:
        """Size of its contour, leads left out."""
        if self.round_mm is not None:
            return self.round_mm, self.round_mm
        low, high = self.loop.min(axis=0), self.loop.max(axis=0)
        return float(high[0] - low[0]), float(high[1] - low[1])

    @cached_property
    def middle(self) -> Array:
        """Middle of its extent."""
        return (self.loop.min(axis=0) + self.loop.max(axis=0)) / 2  # type: ignore[no-any-return]

    @property
    def pierce_at(self) -> tuple[float, float]:
        """Where the torch pierces."""
        return float(self.motions[0, X0]), float(self.motions[0, Y0])

    @property
    def ends_at(self) -> tuple[float, float]:
        """Where the arc goes out."""
        return float(self.motions[-1, X1]), float(self.motions[-1, Y1])

    @cached_property
    def span(self) -> tuple[float, float]:
        """Where along the cut the part begins and ends, in mm from the pierce."""
        return self.lead_in_mm, self.lead_in_mm + self.part_mm

    @cached_property
    def in_part(self) -> NDArray[np.bool_]:
        """Which motions lie for the most part in the part."""
        ends = np.cumsum(lengths_mm(self.motions))
        middles = ends - lengths_mm(self.motions) / 2
        inside: NDArray[np.bool_] = (middles >= self.span[0] - 1e-9) & (middles <= self.span[1] + 1e-9)
        return inside

    @cached_property
    def part(self) -> Array:
        """The motions of the part; all, where none lies mostly in it."""
        return self.motions[self.in_part] if self.in_part.any() else self.motions

    @cached_property
    def feed_mm_min(self) -> float:
        """The feed of most of the part; NaN where none is said."""
        return main_feed_mm_min(self.part)

    @property
    def feed_line(self) -> int:
        """A line on which that feed is cut."""
        same = np.flatnonzero(
            (self.part[:, FEED] == self.feed_mm_min)
            | (np.isnan(self.part[:, FEED]) & math.isnan(self.feed_mm_min))
        )
        return int(self.part[same[0], LINE]) if len(same) else self.line

    @property
    def control_on(self) -> bool:
        """Whether height control is on anywhere along the part."""
        return bool((self.part[:, CONTROL] == 1).any())


def main_feed_mm_min(motions: Array) -> float:
    """The feed over most of these motions' length; NaN where most of it has none."""
    feeds, lengths = motions[:, FEED], lengths_mm(motions)
    said = ~np.isnan(feeds)
    if not said.any() or lengths[said].sum() < lengths.sum() / 2:
        return math.nan
    values, which = np.unique(feeds[said], return_inverse=True)
    return float(values[np.argmax(np.bincount(which, weights=lengths[said] + 1e-12))])


def contours_of(program: Program, swirl: Swirl | None = None) -> tuple[ProgramContour, ...]:
    """Every cut of a program, recognised, in cutting order. ``swirl``, where it is known, helps where lead and
    compensation contradict each other. Raises TradeError where there are more than any sheet holds."""
    runs = cut_runs(program)
    if len(runs) > MOST_CONTOURS:
        raise TradeError("program", f"holds {len(runs)} cuts: more than {MOST_CONTOURS} are no sheet's.")
    found = [_recognised(run, program.motions[run.first : run.after]) for run in runs]
    return told_apart(found, swirl)


def _recognised(run: CutRun, motions: Array) -> ProgramContour:
    """A cut taken apart into lead-in, part, overrun and lead-out."""
    cutting = motions[motions[:, KIND] != RAPID]
    cutting = cutting if len(cutting) else motions
    lengths = lengths_mm(cutting)
    reach = np.concatenate([[0.0], np.cumsum(lengths)])
    closing = _closing(cutting, reach)
    points, along = as_points(cutting, _LOOK_MM)
    begins, ends = (0.0, float(reach[-1])) if closing is None else closing
    loop = points if closing is None else _between(points, along, begins, ends)
    area = _area_mm2(loop)
    if closing is None or abs(area) < _LEAST_WIDTH_MM * (ends - begins):
        whole = float(reach[-1])
        return ProgramContour(
            run,
            cutting,
            points,
            along,
            0.0,
            whole,
            0.0,
            0.0,
            points,
            closed=False,
            area_mm2=0.0,
            round_mm=None,
        )
    overrun = _overrun_mm(points, along, begins, ends)
    rest = float(reach[-1]) - ends
    return ProgramContour(
        run,
        cutting,
        points,
        along,
        lead_in_mm=begins,
        part_mm=ends - begins,
        overrun_mm=overrun,
        lead_out_mm=max(0.0, rest - overrun),
        loop=loop,
        closed=True,
        area_mm2=area,
        round_mm=_diameter_mm(loop, area),
    )


def _between(points: Array, along: Array, begins: float, ends: float) -> Array:
    """The points of a path from one place along it to another, the last left out where it is the first again."""
    inner = (along > begins + 1e-6) & (along < ends - 1e-6)
    first = _at(points, along, np.array([begins]))
    return np.vstack([first, points[inner]])


def _at(points: Array, along: Array, where: Array) -> Array:
    """Places along a path."""
    return np.column_stack([np.interp(where, along, points[:, i]) for i in (0, 1)])


def _area_mm2(loop: Array) -> float:
    """The shoelace formula."""
    x, y = loop[:, 0] - loop[0, 0], loop[:, 1] - loop[0, 1]
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2)


def _diameter_mm(loop: Array, area_mm2: float) -> float | None:
    """Diameter of a loop that is a circle, or None: by the circle nearest to its points (least squares)."""
    if len(loop) < 8:
        return None
    near = loop - loop.mean(axis=0)
    table = np.column_stack([2 * near, np.ones(len(near))])
    (x, y, c), *_ = np.linalg.lstsq(table, (near**2).sum(axis=1), rcond=None)
    radius = math.sqrt(max(0.0, c + x * x + y * y))
    off = np.hypot(near[:, 0] - x, near[:, 1] - y) - radius
    if np.abs(off).max() > max(2 * _LOOK_MM, _ROUND_SHARE * radius):
        return None
    if abs(area_mm2) < 0.94 * math.pi * radius**2:
        return None
    return 2 * radius


def _closing(motions: Array, reach: Array) -> tuple[float, float] | None:
    """Where along the cut its contour begins and is back again, in mm as ``reach`` counts; None: it is open.

    The first joint that the path comes back to, after most of what is left, is the loop's start; failing that the
    first place where its first motions are crossed later.
    """
    total = float(reach[-1])
    joints = np.vstack([motions[:1, [X0, Y0]], motions[:, [X1, Y1]]])
    found: tuple[float, float] | None = None
    for i in range(min(len(joints) - 1, _FIRST_JOINTS)):
        if reach[i] > total / 2 or (found is not None and reach[i] > found[0] + _TANGENT_MM):
            break
        back, off = _back_at(joints[i], motions[i:], reach[i:] - reach[i])
        if back > max(4 * SAME_MM, 0.5 * (total - reach[i])):
            # A lead-in that runs in along the contour comes near it before it is on it.
            if off < _JUST_MM or found is None:
                found = float(reach[i]), float(reach[i] + back)
            if off < _JUST_MM:
                break
    return found or _crossed_later(motions, reach)


def _back_at(point: Array, motions: Array, reach: Array) -> tuple[float, float]:
    """How far along these motions, which begin at a point, they first come back to it after leaving it, and how near to
    it; no way at all where they do not."""
    first, second = motions[:, [X0, Y0]], motions[:, [X1, Y1]]
    d = second - first
    with np.errstate(divide="ignore", invalid="ignore"):
        share = np.nan_to_num(((point - first) * d).sum(axis=1) / (d * d).sum(axis=1))
    share = np.clip(share, 0.0, 1.0)
    off = np.hypot(*(first + share[:, None] * d - point).T)
    way = share * (reach[1:] - reach[:-1])
    arc = np.flatnonzero(motions[:, KIND] >= CLOCKWISE)
    for k in arc[
        np.abs(radii_mm(motions)[arc] - np.hypot(*(point - motions[arc][:, [CX, CY]]).T)) < SAME_MM
    ]:
        off[k], way[k] = _on_arc(point, motions[k])
    near = off < SAME_MM
    # Of the motion it begins with, only a whole turn is back; later ones count once it has been away.
    if (near[0] and motions[0, KIND] < CLOCKWISE) or (near[0] and way[0] < 2 * SAME_MM):
        near[0] = False
    away = np.flatnonzero(np.hypot(*(second - point).T) > 2 * SAME_MM)
    if len(away) == 0 and not near[0]:
        return 0.0, math.inf
    gone = int(away[0]) if len(away) else 0
    back = [k for k in np.flatnonzero(near) if k > gone or (k == 0 and motions[0, KIND] >= CLOCKWISE)]
    if not back:
        return 0.0, math.inf
    return float(reach[back[0]] + way[back[0]]), float(off[back[0]])


def _on_arc(point: Array, motion: Array) -> tuple[float, float]:
    """(distance of a point from an arc, how far along the arc it lies); a whole turn's start is also its end."""
    radius = math.hypot(motion[X0] - motion[CX], motion[Y0] - motion[CY])
    from_ = math.atan2(motion[Y0] - motion[CY], motion[X0] - motion[CX])
    to = math.atan2(motion[Y1] - motion[CY], motion[X1] - motion[CX])
    here = math.atan2(point[1] - motion[CY], point[0] - motion[CX])
    way = -1 if motion[KIND] == CLOCKWISE else 1
    sweep = (way * (to - from_)) % (2 * math.pi) or 2 * math.pi
    if math.hypot(motion[X1] - motion[X0], motion[Y1] - motion[Y0]) < 1e-6:
        sweep = 2 * math.pi
    turned = (way * (here - from_)) % (2 * math.pi)
    slack = SAME_MM / max(radius, 1e-9)
    if turned <= slack and sweep >= 2 * math.pi - slack:
        turned = sweep
    if turned > sweep + slack:
        turned = 0.0 if 2 * math.pi - turned < slack else math.nan
    if math.isnan(turned):
        return math.inf, 0.0
    off = abs(math.hypot(point[0] - motion[CX], point[1] - motion[CY]) - radius)
    return off, radius * min(turned, sweep)


def _crossed_later(motions: Array, reach: Array) -> tuple[float, float] | None:
    """A lead-in that runs into the first side without a joint: where the path's end crosses its beginning.

    Forty chords of its beginning are held against four hundred of its end.
    """
    total = float(reach[-1])
    points, along = as_points(motions, _LOOK_MM)
    if len(points) < 4:
        return None
    early = np.flatnonzero(along[1:] <= total / 2)[:40]
    late = np.flatnonzero(along[:-1] >= total / 2)[-400:]
    a, da = points[early], points[early + 1] - points[early]
    b, db = points[late], points[late + 1] - points[late]
    cross = da[:, None, 0] * db[None, :, 1] - da[:, None, 1] * db[None, :, 0]
    to = b[None, :, :] - a[:, None, :]
    with np.errstate(divide="ignore", invalid="ignore"):
        s = (to[..., 0] * db[None, :, 1] - to[..., 1] * db[None, :, 0]) / cross
        t = (to[..., 0] * da[:, None, 1] - to[..., 1] * da[:, None, 0]) / cross
    slack = 1e-6
    hit = (s > -slack) & (s < 1 + slack) & (t > -slack) & (t < 1 + slack) & (np.abs(cross) > 1e-9)
    i, j = np.nonzero(hit)
    if len(i) == 0:
        return None
    steps = np.diff(along)
    begins = along[early[i]] + np.clip(s[i, j], 0, 1) * steps[early[i]]
    ends = along[late[j]] + np.clip(t[i, j], 0, 1) * steps[late[j]]
    best = int(np.argmax(ends - begins))
    if ends[best] - begins[best] < total / 2:
        return None
    return float(begins[best]), float(ends[best])


def _overrun_mm(points: Array, along: Array, begins: float, ends: float) -> float:
    """How much of what follows a contour repeats it."""
    most = min(float(along[-1]) - ends, ends - begins)
    if most <= SAME_MM:
        return 0.0
    where = np.linspace(0.0, most, max(8, min(600, math.ceil(most / 0.05))))
    off = np.hypot(*(_at(points, along, begins + where) - _at(points, along, ends + where)).T)
    strayed = np.flatnonzero(off > SAME_MM)
    if len(strayed) == 0:
        return most
    # Where the two part ways: back from where they are plainly apart, along the line that they part on.
    k = int(strayed[0])
    return float(where[max(0, k - 1)]) if k else 0.0


def told_apart(contours: list[ProgramContour], swirl: Swirl | None) -> tuple[ProgramContour, ...]:
    """Outside from inside, by nesting; alone, by what most of lead, compensation and direction say."""
    closed = [i for i, c in enumerate(contours) if c.closed]
    parents, depth = _nesting([contours[i] for i in closed])
    holding = {p for p in parents if p is not None}
    told = list(contours)
    for n, i in enumerate(closed):
        contour = contours[i]
        within = depth[n] % 2 == 1
        by_lead = False
        if depth[n] == 0 and n not in holding:
            by_lead = True
            within = _alone_within(contour, swirl)
        kind: Kind = "outside" if not within else "hole" if contour.round_mm is not None else "inside"
        parent = parents[n]
        told[i] = replace(
            contour, kind=kind, parent=None if parent is None else closed[parent], by_lead=by_lead
        )
    return tuple(told)


def _alone_within(contour: ProgramContour, swirl: Swirl | None) -> bool:
    """Whether a contour that nothing lies round or in is a hole: by its lead, unless both the controller's compensation
    and the direction that the swirl asks for say otherwise."""
    lead = _entered_from_within(contour)
    counter = contour.area_mm2 > 0
    if not contour.compensated:
        return lead
    side = (contour.compensated > 0) == counter
    if swirl is None:
        return side
    turned = counter == (swirl == "clockwise")
    return (lead + side + turned) >= 2


def _entered_from_within(contour: ProgramContour) -> bool:
    """Whether its pierce lies in it."""
    if contour.lead_in_mm < SAME_MM:
        return False
    return bool(holds(contour.loop, np.array([contour.pierce_at]))[0])


def _nesting(contours: list[ProgramContour]) -> tuple[list[int | None], list[int]]:
    """Of each closed contour, the smallest that holds it, and how many do. One that is cut again is looked at once."""
    first: dict[tuple[float, ...], int] = {}
    same = [first.setdefault(_where(c), i) for i, c in enumerate(contours)]
    kept = sorted(set(same))
    parents, depth = _nesting_of([contours[i] for i in kept])
    at = {i: n for n, i in enumerate(kept)}
    of = [at[i] for i in same]
    return [None if (p := parents[n]) is None else kept[p] for n in of], [depth[n] for n in of]


def _where(contour: ProgramContour) -> tuple[float, ...]:
    """What tells a contour from one that is not cut again."""
    low, high = contour.loop.min(axis=0), contour.loop.max(axis=0)
    return tuple(round(float(v), 2) for v in (*low, *high, abs(contour.area_mm2)))


def _nesting_of(contours: list[ProgramContour]) -> tuple[list[int | None], list[int]]:
    """The same, of contours that lie in different places or differ in size."""
    from shapely import STRtree, box  # noqa: PLC0415 (start-up time)

    parents: list[int | None] = [None] * len(contours)
    depth = [0] * len(contours)
    if len(contours) < 2:
        return parents, depth
    boxes = [box(*c.loop.min(axis=0), *c.loop.max(axis=0)) for c in contours]
    inner, outer = STRtree(boxes).query(boxes, predicate="covered_by")
    order = np.argsort(outer, kind="stable")
    for i, o in zip(inner[order], outer[order], strict=True):
        a, b = contours[i], contours[o]
        if i == o or abs(a.area_mm2) >= abs(b.area_mm2):
            continue
        if not holds(b.loop, a.loop[:1])[0]:
            continue
        depth[i] += 1
        now = parents[i]
        if now is None or abs(b.area_mm2) < abs(contours[now].area_mm2):
            parents[i] = int(o)
    return parents, depth


def nearest_mm(contour: ProgramContour, point: tuple[float, float]) -> float:
    """How far a point lies from a contour."""
    return float(distances(np.array([point]), contour.loop)[0])
