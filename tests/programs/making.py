"""Programs of random parts in several dialects, with known contours and known faults. Shares no code with the reader."""

import math
import random
from collections.abc import Callable
from dataclasses import dataclass, field, replace

from shapely import LinearRing, Polygon

Point = tuple[float, float]
Step = tuple[str, float, float, float, float]
"""(G word 1, 2 or 3, end x, end y, centre x, centre y) of one motion."""

THICKNESS, SPEED, KERF, AMPS, DELAY, PIERCE_Z, CUT_Z = 6.0, 2400.0, 1.6, 65, 0.5, 3.8, 1.5
ACCELERATION = 800.0
SHEET = (2000.0, 1000.0)


@dataclass
class Dialect:
    """How a post-processor writes."""

    name: str = "plain"
    profile: str = "metric"
    per_mm: float = 1.0
    decimals: int = 3
    lower: bool = False
    spaces: bool = True
    numbers: bool = False
    arcs: str = "incremental"
    modal_feed: bool = False
    modal_motion: bool = False
    semicolon: bool = False
    together: bool = False  # several M-words on a line
    percent: bool = False
    wait_ms: bool = False
    control: bool = False
    relative: bool = False
    sub_programs: bool = False
    variables: bool = False
    no_heights: bool = False


DIALECTS = (
    Dialect(),
    Dialect("inch", "inch", 1 / 25.4, 5),
    Dialect("control", "metric-height-control", control=True),
    Dialect("inch control", "inch-height-control", 1 / 25.4, 5, control=True),
    Dialect("by hand", "by-hand", no_heights=True),
    Dialect("chords", "segments-only", numbers=True, arcs="chords", modal_feed=True, wait_ms=True),
    Dialect(
        "tape",
        numbers=True,
        arcs="absolute",
        modal_feed=True,
        modal_motion=True,
        percent=True,
        spaces=False,
    ),
    Dialect("small", lower=True, semicolon=True, arcs="radius", together=True, variables=True),
    Dialect("steps", relative=True, sub_programs=True, modal_motion=True, spaces=False, lower=True),
)


@dataclass
class Cut:
    """One contour as it is meant: its path, and what of it is lead and overrun."""

    kind: str
    steps: list[Step]
    start: Point
    size: tuple[float, float]
    clockwise: bool
    lead_mm: float
    overrun_mm: float
    feed: float
    delay: float = DELAY
    cut_z: float = CUT_Z
    control: bool = True
    torch_on: bool = True
    torch_off: bool = True
    rapid_at: int | None = None
    part: int = 0


@dataclass
class Job:
    """A whole program as it is meant, with what it is checked against."""

    cuts: list[Cut]
    nominal: list[list[Point]]
    amps: int = AMPS
    sheet: tuple[float, float] = SHEET
    unit_word: str = ""
    extra: dict[int, str] = field(default_factory=dict)  # a line before the cut of that number
    first_feed: bool = True
    thickness: float = THICKNESS
    ramp_down: float | None = None
    fastest: float | None = None
    drawing: bool = True


def rounded(  # noqa: PLR0917 (a shape's own numbers)
    rng: random.Random, w: float, h: float, at: Point, grow: float, corner: float
) -> tuple[list[Step], Point]:
    """A rectangle with round corners, clockwise from the middle of its left side; grown by ``grow`` all round."""
    x0, y0, x1, y1 = at[0] - grow, at[1] - grow, at[0] + w + grow, at[1] + h + grow
    r = corner + grow if corner else 0.0
    y = y0 + (y1 - y0) * rng.uniform(0.35, 0.65)
    steps: list[Step] = []

    def line(px: float, py: float) -> None:
        steps.append(("1", px, py, 0.0, 0.0))

    line(x0, y1 - r)
    if r:
        steps.append(("2", x0 + r, y1, x0 + r, y1 - r))
    line(x1 - r, y1)
    if r:
        steps.append(("2", x1, y1 - r, x1 - r, y1 - r))
    line(x1, y0 + r)
    if r:
        steps.append(("2", x1 - r, y0, x1 - r, y0 + r))
    line(x0 + r, y0)
    if r:
        steps.append(("2", x0, y0 + r, x0 + r, y0 + r))
    line(x0, y)
    return steps, (x0, y)


def polygon(points: list[Point], grow: float) -> tuple[list[Step], Point]:
    """A polygon, clockwise, its sides moved outward by ``grow`` (inward where it is negative), from mid-side."""
    ring = list(Polygon(points).buffer(grow, join_style="mitre").exterior.coords)[:-1]
    if LinearRing(ring).is_ccw:
        ring.reverse()
    sides = [(math.dist(ring[i - 1], ring[i]), i) for i in range(len(ring))]
    longest = max(sides)[1]
    ring = ring[longest:] + ring[:longest]
    a, b = ring[-1], ring[0]
    start = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    return [("1", x, y, 0.0, 0.0) for x, y in [*ring, start]], start


def round_path(middle: Point, radius: float) -> tuple[list[Step], Point]:
    """A circle, clockwise, from its right."""
    x, y = middle
    half = ("2", x - radius, y, x, y)
    return [half, ("2", x + radius, y, x, y)], (x + radius, y)


def turned_round(steps: list[Step], start: Point) -> list[Step]:
    """A closed path run the other way."""
    ends = [start, *((s[1], s[2]) for s in steps)]
    other = {"1": "1", "2": "3", "3": "2"}
    return [(other[s[0]], *ends[i], s[3], s[4]) for i, s in reversed(list(enumerate(steps)))]


def begun(steps: list[Step], start: Point, mm: float) -> list[Step]:
    """The first so many mm of a path."""
    s = steps[0]
    if s[0] == "1":
        share = mm / math.dist(start, (s[1], s[2]))
        return [
            ("1", start[0] + share * (s[1] - start[0]), start[1] + share * (s[2] - start[1]), 0.0, 0.0)
        ]
    r = math.dist(start, (s[3], s[4]))
    turn = mm / r * (-1 if s[0] == "2" else 1)
    a = math.atan2(start[1] - s[4], start[0] - s[3]) + turn
    return [(s[0], s[3] + r * math.cos(a), s[4] + r * math.sin(a), s[3], s[4])]


def heading(step: Step, start: Point) -> Point:
    """Unit way in which a path leaves."""
    if step[0] == "1":
        d = math.dist(start, (step[1], step[2]))
        return (step[1] - start[0]) / d, (step[2] - start[1]) / d
    ox, oy = start[0] - step[3], start[1] - step[4]
    r = math.hypot(ox, oy)
    return (oy / r, -ox / r) if step[0] == "2" else (-oy / r, ox / r)


@dataclass
class Wanted:
    """How a contour is to be cut; what a fault changes."""

    lead: float = 7.5
    arc_lead: bool = False
    overrun: float = 1.5
    lead_out: float = 0.0
    inside: bool = False
    reverse: bool = False
    lead_in_part: bool = False
    corner: float = 6.0


def cut_of(  # noqa: PLR0917 (a contour's own numbers)
    kind: str, steps: list[Step], start: Point, size: tuple[float, float], w: Wanted, feed: float
) -> Cut:
    """A contour with lead, overrun and lead-out, the kept metal on the right unless it is reversed."""
    clockwise = not w.inside
    if w.reverse:
        clockwise = not clockwise
    if not clockwise:
        steps = turned_round(steps, start)
    hx, hy = heading(steps[0], start)
    side = 1 if clockwise != w.inside else -1  # scrap lies on the left of a right run
    if w.lead_in_part:
        side = -side
    nx, ny = -hy * side, hx * side
    if w.arc_lead:
        r = w.lead / (math.pi / 2)
        centre = (start[0] + nx * r, start[1] + ny * r)
        pierce = (centre[0] - hx * r, centre[1] - hy * r)
        lead: Step = ("3" if side > 0 else "2", *start, *centre)
    else:
        a = math.radians(70)
        wx, wy = nx * math.sin(a) - hx * math.cos(a), ny * math.sin(a) - hy * math.cos(a)
        pierce = (start[0] + wx * w.lead, start[1] + wy * w.lead)
        lead = ("1", *start, 0.0, 0.0)
    path = [lead, *steps]
    end = start
    if w.overrun:
        path += begun(steps, start, w.overrun)
        end = (path[-1][1], path[-1][2])
    if w.lead_out:
        path.append(
            (
                "1",
                end[0] + (nx + hx) * w.lead_out / 1.4142,
                end[1] + (ny + hy) * w.lead_out / 1.4142,
                0.0,
                0.0,
            )
        )
    if w.lead == 0:
        path, pierce = path[1:], start
    return Cut(kind, path, pierce, size, clockwise, w.lead, w.overrun, feed)


def made(
    rng: random.Random, tweak: Callable[[str, int, Wanted], None] | None = None, grow: float = 1.0
) -> Job:
    """A sheet of one to three parts with holes and cut-outs. ``grow`` is the share of half a kerf that paths are moved."""
    cuts: list[Cut] = []
    nominal: list[list[Point]] = []
    tweak = tweak or (lambda kind, n, w: None)
    half = grow * KERF / 2
    for part in range(rng.randint(1, 3)):
        at = (40.0 + part * 320.0, 40.0 + rng.uniform(0, 40))
        w, h = rng.uniform(150, 240), rng.uniform(110, 200)
        holes = [
            (at[0] + 35 + 60 * n, at[1] + rng.uniform(30, 40), rng.uniform(1.65, 3.5) * THICKNESS / 2)
            for n in range(rng.randint(1, 2))
        ]
        for x, y, r in holes:
            wanted = Wanted(
                lead=max(3.0, 0.93 * (r - KERF / 2)), inside=True, overrun=rng.uniform(0.8, 2.0)
            )
            if wanted.lead > 7.5:
                wanted.lead = rng.uniform(7.2, wanted.lead)
            tweak("hole", part, wanted)
            steps, start = round_path((x, y), r - half)
            cuts.append(
                cut_of(
                    "hole", steps, start, (2 * (r - half),) * 2, wanted, rng.uniform(0.42, 0.6) * SPEED
                )
            )
            cuts[-1].control = False
            nominal.append(
                [
                    (x + r * math.cos(t / 240 * math.tau), y + r * math.sin(t / 240 * math.tau))
                    for t in range(240)
                ]
            )
        if rng.random() < 0.6:
            box = [
                (at[0] + 40, at[1] + 60),
                (at[0] + 110, at[1] + 60),
                (at[0] + 110, at[1] + 95),
                (at[0] + 40, at[1] + 95),
            ]
            wanted = Wanted(inside=True, arc_lead=rng.random() < 0.5, lead=rng.uniform(7.2, 10))
            tweak("inside", part, wanted)
            steps, start = polygon(box, -half)
            cuts.append(cut_of("inside", steps, start, (70 - 2 * half, 35 - 2 * half), wanted, SPEED))
            nominal.append(box)
        wanted = Wanted(
            lead=rng.uniform(7.2, 12),
            arc_lead=rng.random() < 0.5,
            overrun=rng.uniform(0.8, 3),
            lead_out=rng.choice([0, 0, 4.0]),
        )
        wanted.corner = rng.choice([0.0, 6.0, 15.0])
        tweak("outside", part, wanted)
        if rng.random() < 0.6:
            steps, start = rounded(rng, w, h, at, half, wanted.corner)
            nominal.append(
                [(at[0], at[1]), (at[0], at[1] + h), (at[0] + w, at[1] + h), (at[0] + w, at[1])]
            )
        else:
            shape = [
                at,
                (at[0], at[1] + h),
                (at[0] + w * 0.7, at[1] + h),
                (at[0] + w, at[1] + h * 0.8),
                (at[0] + w, at[1]),
            ]
            steps, start = polygon(shape, half)
            nominal.append(shape)
            wanted.corner = 0.0
        cuts.append(
            cut_of(
                "outside",
                steps,
                start,
                (w + 2 * half, h + 2 * half),
                wanted,
                SPEED * rng.uniform(0.97, 1.03),
            )
        )
        for cut in cuts:
            cut.part = cut.part or part
    return Job(cuts, nominal, drawing=grow == 1.0)


# ---------------------------------------------------------------------- writing


class Writer:
    """A job as text in a dialect."""

    def __init__(self, dialect: Dialect) -> None:
        self.d, self.lines = dialect, []
        self.at: Point = (0.0, 0.0)
        self.motion = self.feed = ""
        self.lines: list[str] = []

    def n(self, letter: str, mm: float) -> str:
        value = round(mm * self.d.per_mm, self.d.decimals)
        return f"{letter}{value + 0.0:.{self.d.decimals}f}"

    def put(self, *words: str) -> None:
        if text := (" " if self.d.spaces else "").join(w for w in words if w):
            self.lines.append(text)

    def say(self, text: str) -> None:
        self.lines.append(f"; {text}" if self.d.semicolon else f"({text})")

    def g(self, word: str) -> str:
        if self.d.modal_motion and word == self.motion:
            return ""
        self.motion = word
        return word if not self.d.modal_motion else word.replace("G", "G0")

    def xy(self, x: float, y: float) -> tuple[str, str]:
        dx, dy = self.at if self.d.relative else (0.0, 0.0)
        digits, per = self.d.decimals, self.d.per_mm
        if self.d.relative:  # rounded where it stands, so that steps do not add up to an error
            rx, ry = round(x * per, digits) / per, round(y * per, digits) / per
            out = self.n("X", rx - dx), self.n("Y", ry - dy)
            self.at = (rx, ry)
            return out
        self.at = (x, y)
        return self.n("X", x), self.n("Y", y)

    def f(self, feed: float) -> str:
        word = f"F{feed * self.d.per_mm:.2f}".rstrip("0").rstrip(".")
        if self.d.modal_feed and word == self.feed:
            return ""
        self.feed = word
        return word

    def step(self, s: Step, feed: float, *, rapid: bool, no_feed: bool) -> None:
        x0, y0 = self.at
        f = "" if rapid or no_feed else self.f(feed)
        if s[0] == "1" or rapid:
            self.put(self.g("G0" if rapid else "G1"), *self.xy(s[1], s[2]), f)
            return
        if self.d.arcs == "chords":
            a0, r = math.atan2(y0 - s[4], x0 - s[3]), math.dist((x0, y0), (s[3], s[4]))
            a1 = math.atan2(s[2] - s[4], s[1] - s[3])
            sweep = (a0 - a1 if s[0] == "2" else a1 - a0) % math.tau or math.tau
            count = max(2, math.ceil(sweep / (2 * math.acos(1 - 0.003 / r))))
            for k in range(1, count + 1):
                t = a0 + sweep * k / count * (-1 if s[0] == "2" else 1)
                self.put(self.g("G1"), *self.xy(s[3] + r * math.cos(t), s[4] + r * math.sin(t)), f)
                f = "" if self.d.modal_feed else f
            return
        where = self.xy(s[1], s[2])
        if self.d.arcs == "radius":
            r = math.dist((x0, y0), (s[3], s[4]))
            a0, a1 = math.atan2(y0 - s[4], x0 - s[3]), math.atan2(s[2] - s[4], s[1] - s[3])
            sweep = (a0 - a1 if s[0] == "2" else a1 - a0) % math.tau
            self.put(self.g(f"G{s[0]}"), *where, self.n("R", -r if sweep > math.pi + 1e-6 else r), f)
            return
        i, j = (s[3], s[4]) if self.d.arcs == "absolute" else (s[3] - x0, s[4] - y0)
        self.put(self.g(f"G{s[0]}"), *where, self.n("I", i), self.n("J", j), f)

    def cut(self, c: Cut, *, no_feed: bool = False) -> None:  # noqa: C901 (a line for each way of writing)
        d = self.d
        self.put(self.g("G0"), *self.xy(*c.start))
        if not d.no_heights:
            self.height("G0", PIERCE_Z)
        wait = f"G4 P{1000 * c.delay:.0f}" if d.wait_ms else f"G4 P{c.delay:.2f}"
        if d.no_heights:
            self.put("M0")
            for word in ("M3", wait if c.delay else "", "M5", "M0", "M3"):
                if c.torch_on or word not in ("M3", "M5"):
                    self.put(word)
        else:
            if c.torch_on:
                self.put("M03", "M07") if d.together else self.put("M3")
            if c.delay:
                self.put(wait)
            self.motion = ""
            self.height("G1", c.cut_z, "" if no_feed else self.f(1500))
        if d.control and c.control:
            self.put("M76")
        for k, s in enumerate(c.steps):
            self.step(s, c.feed, rapid=k == c.rapid_at, no_feed=no_feed)
        if d.control:
            self.put("M77")
        if c.torch_off:
            self.put("M05")
        if not d.no_heights:
            self.height("G0", 25.0)

    def height(self, word: str, z: float, f: str = "") -> None:
        if self.d.relative:
            self.put("G90")
        self.put(self.g(word), self.n("Z", z) if not self.d.variables else f"Z[#1*{z}]", f)
        if self.d.relative:
            self.put("G91")

    def program(self, job: Job) -> str:  # noqa: C901 (a line for each way of writing)
        d = self.d
        if d.percent:
            self.lines.append("%")
        self.say(f"SHEET 12, {job.amps} A SET")
        self.put(job.unit_word or ("G21" if d.per_mm == 1 else "G20"))
        self.put("G17", "G40", "G90", "G94")
        if d.arcs == "absolute":
            self.put("G90.1")
        if d.variables:
            self.lines.append("#1=[2-1]")
        if d.relative:
            self.put("G91")
        body_from = len(self.lines)
        for n, cut in enumerate(job.cuts):
            if n in job.extra:
                self.lines.append(job.extra[n])
            self.motion = ""
            self.cut(cut, no_feed=n == 0 and not job.first_feed)
        if d.relative:
            self.put("G90")
        self.motion = ""
        self.put("G0", "X0", "Y0")
        body = self.lines[body_from:]
        if d.sub_programs:
            self.lines[body_from:] = ["M98P77"]
        self.put("M30")
        if d.sub_programs:
            self.lines += ["O77", *body, "M99"]
        if d.percent:
            self.lines.append("%")
        lines = self.lines
        if d.numbers:
            lines = [
                line if line[0] in "%(;" else f"N{10 * n} {line}" for n, line in enumerate(lines, 1)
            ]
        if d.lower:
            lines = [line.lower() for line in lines]
        return "\n".join(lines) + "\n"


def written(job: Job, dialect: Dialect) -> str:
    """The text of a job."""
    return Writer(replace(dialect)).program(job)


# ---------------------------------------------------------------------- faults


SHAPES: dict[str, tuple[str, Callable[[random.Random, Wanted], None]]] = {
    "against_swirl": ("any", lambda _, w: setattr(w, "reverse", True)),
    "lead_in_short": ("any", lambda rng, w: setattr(w, "lead", rng.uniform(0.3, 1.6))),
    "lead_in_in_part": ("any", lambda _, w: setattr(w, "lead_in_part", True)),
    "overrun_missing": (
        "any",
        lambda _, w: (setattr(w, "overrun", 0.0), setattr(w, "lead_out", 0.0))[0],
    ),
    "arc_too_small": ("outside", lambda _, w: setattr(w, "corner", 0.3)),
}
"""Faults of one contour's shape, and in which kind they can be."""


def faulty(rng: random.Random, codes: tuple[str, ...], dialect: Dialect) -> Job:
    """A job with these faults, each in a contour of its own where it is a contour's."""
    todo: list[str] = []
    seen: set[str] = set()

    def tweak(kind: str, part: int, w: Wanted) -> None:
        for code in todo:
            where, change = SHAPES[code]
            fits = where == kind or (where == "any" and (code, kind) != ("lead_in_short", "hole"))
            if part == 0 and fits and kind not in seen:
                change(rng, w)
                seen.add(kind)
                todo.remove(code)
                return

    while True:
        todo[:] = [c for c in codes if c in SHAPES]
        seen.clear()
        grow = 0.0 if "no_kerf_compensation" in codes else -1.0 if "kerf_wrong_side" in codes else 1.0
        job = made(rng, tweak, grow)
        first = [c for c in job.cuts if c.kind == "outside" and c.part == 0]
        bent = any(s[0] == "2" for c in first for s in c.steps[1:-2])
        if not todo and (bent or "arc_too_small" not in codes):
            break
    for code in codes:
        if code in FAULTS:
            FAULTS[code](job, rng, dialect)
    return job


def _last(job: Job, **changed: object) -> None:
    for name, value in changed.items():
        setattr(job.cuts[-1], name, value)


def _outer(job: Job) -> list[Cut]:
    return [c for c in job.cuts if c.kind == "outside"]


def _hole(job: Job) -> Cut:
    return next(c for c in job.cuts if c.kind == "hole")


def _rapid(job: Job, _rng: random.Random, _dialect: Dialect) -> None:
    outer = _outer(job)[0]
    outer.rapid_at = next(k for k, s in enumerate(outer.steps) if k > 1 and s[0] == "1")


def _outside_first(job: Job, _rng: random.Random, _dialect: Dialect) -> None:
    n = job.cuts.index(_outer(job)[0])
    job.cuts[0], job.cuts[n] = job.cuts[n], job.cuts[0]


def _small_hole(job: Job, _rng: random.Random, _dialect: Dialect) -> None:
    steps, start = round_path((60.0, 150.0), 0.6 * THICKNESS - KERF / 2)
    wanted = Wanted(lead=2.6, inside=True)
    small = cut_of("hole", steps, start, (1.2 * THICKNESS - KERF,) * 2, wanted, 0.5 * SPEED)
    small.control = False
    job.cuts.insert(0, small)


def _over_a_hole(job: Job, _rng: random.Random, _dialect: Dialect) -> None:
    hole = _hole(job)
    x, y = hole.start
    job.cuts[-1].steps += [("1", x + 3, y, 0.0, 0.0), ("1", x - hole.size[0] - 3, y, 0.0, 0.0)]


def _off_the_edge(job: Job, _rng: random.Random, _dialect: Dialect) -> None:
    job.cuts[-1].steps.append(("1", job.cuts[-1].steps[-1][1], -20.0, 0.0, 0.0))


def _other_unit(dialect: Dialect) -> str:
    return "G20" if dialect.per_mm == 1 else "G21"


FAULTS: dict[str, Callable[[Job, random.Random, Dialect], None]] = {
    "feed_differs": lambda job, rng, _: setattr(
        _outer(job)[-1], "feed", SPEED * rng.choice([0.45, 0.8, 1.25, 2.0])
    ),
    "no_feed": lambda job, _rng, _: setattr(job, "first_feed", False),
    "torch_never_off": lambda job, _rng, _: _last(job, torch_off=False),
    "rapid_with_torch_on": _rapid,
    "cut_without_torch": lambda job, _rng, _: setattr(job.cuts[1], "torch_on", False),
    "below_plate": lambda job, rng, _: _last(job, cut_z=-rng.uniform(0.2, 2.0)),
    "units_mixed": lambda job, _, d: job.extra.update({len(job.cuts) - 1: _other_unit(d)}),
    "unit_suspect": lambda job, _, d: setattr(job, "unit_word", _other_unit(d)),
    "outside_before_inside": _outside_first,
    "hole_too_small": _small_hole,
    "hole_too_fast": lambda job, rng, _: setattr(_hole(job), "feed", SPEED * rng.uniform(0.75, 1.0)),
    "control_on_in_hole": lambda job, _rng, _: setattr(_hole(job), "control", True),
    "never_at_speed": lambda job, _rng, _: job.cuts.insert(0, comb_of_detail()),
    "too_fast_for_table": lambda job, rng, _: setattr(job, "fastest", SPEED * rng.uniform(0.4, 0.9)),
    "off_sheet": lambda job, _rng, _: setattr(job, "sheet", (120.0, 90.0)),
    "part_not_on_sheet_zero": lambda job, rng, _: shifted(job, -rng.uniform(60, 200), 0.0),
    "ends_off_plate": _off_the_edge,
    "crosses_old_kerf": _over_a_hole,
    "lead_out_short": lambda job, _rng, _: setattr(job, "ramp_down", 0.4),
    "pierce_delay_differs": lambda job, rng, _: _last(job, delay=rng.choice([0.0, 0.2, 1.2])),
    "pierce_too_thick": lambda job, _rng, _: setattr(job, "thickness", 30.0),
    "amperage_differs": lambda job, rng, _: setattr(job, "amps", rng.choice([45, 85, 105])),
    "unread": lambda job, rng, _: job.extra.update(
        {1: rng.choice(["Q7 BLOW", "M123", "G77.5 X1", "G1 X?? Y2"])}
    ),
}


def comb_of_detail() -> Cut:
    """A slot with teeth of a millimetre, which no ordinary table takes at speed."""
    x, y, steps = 300.0, 300.0, []
    for n in range(12):
        steps += [
            ("1", x + n * 1.2, y + 1.2, 0.0, 0.0),
            ("1", x + n * 1.2 + 1.2, y + 1.2, 0.0, 0.0),
            ("1", x + n * 1.2 + 1.2, y, 0.0, 0.0),
        ]
    return Cut(
        "open", steps, (x, y), (14.4, 1.2), clockwise=True, lead_mm=0.0, overrun_mm=0.0, feed=SPEED
    )


def shifted(job: Job, dx: float, dy: float) -> None:
    """All of a job elsewhere."""
    for c in job.cuts:
        c.start = (c.start[0] + dx, c.start[1] + dy)
        c.steps = [(s[0], s[1] + dx, s[2] + dy, s[3] + dx, s[4] + dy) for s in c.steps]


def svg(job: Job) -> bytes:
    """The drawing of the parts, in mm."""
    paths = "".join(
        f'<path fill="none" stroke="black" d="M {" L ".join(f"{x:.4f} {-y:.4f}" for x, y in ring)} Z"/>'
        for ring in job.nominal
    )
    return f'<svg xmlns="http://www.w3.org/2000/svg" width="3000mm" height="3000mm" viewBox="0 -3000 3000 3000">{paths}</svg>'.encode()


def grille(speed: int = 2250, half_kerf: float = 0.9) -> str:
    """A plate with forty slots too small for a fast set, and its outline."""
    lines = ["(VENT GRILLE, EXAMPLE ONLY, 70 A PLATE SET)", "G21", "G17 G40 G90 G94 G91.1", "G0 Z25"]

    def cut(pierce: Point, path: list[Point]) -> None:
        lines.append(f"G0 X{pierce[0]:.3f} Y{pierce[1]:.3f}")
        lines.extend(("G0 Z3.8", "M3", "G4 P0.55", "G1 Z1.5 F1500"))
        words = [f"G1 X{x:.3f} Y{y:.3f}" for x, y in path]
        lines.extend((f"{words[0]} F{speed}", *words[1:], "M5", "G0 Z25"))

    for n in range(40):
        x, y, w, h = 60.0 + 36 * (n % 10), 60.0 + 46 * (n // 10), 14 - 2 * half_kerf, 28 - 2 * half_kerf
        middle = x + w / 2
        around = [(x + w, y), (x + w, y + h), (x, y + h), (x, y), (middle + 1.5, y)]
        cut((middle, y + 9), [(middle, y), *around])
    cut(
        (22.0, 120.0),
        [(30.0, 130.0), (30.0, 270.0), (450.0, 270.0), (450.0, 30.0), (30.0, 30.0), (30.0, 132.0)],
    )
    return "\n".join([*lines, "G0 X0 Y0", "M30", ""])
