"""Whether the program agrees with the setting and the fitted parts, and whether its words can be run at all.

Half of the bad settings that operators chase are here: a feed that was never changed, another amperage, inches for
millimetres, a torch that stays on.
"""

import math
import re
from collections.abc import Iterator, Sequence

import numpy as np

from orthotome.core.choose.capability import ability
from orthotome.core.machine.hole_rules import hole_speed_mm_min
from orthotome.core.programs.checked_against import CheckedAgainst, PlateJob
from orthotome.core.programs.contours import ProgramContour, cut_runs
from orthotome.core.programs.findings import Problem, differs
from orthotome.core.programs.program import (
    CLOCKWISE,
    FEED,
    KIND,
    LINE,
    RAPID,
    X0,
    Y0,
    Array,
    Program,
    Z,
    lengths_mm,
)
from orthotome.core.quantities import length, seconds, speed, thickness
from orthotome.core.stock.gauges import MM_PER_INCH

FEED_SHARE = 0.05  # of the setting's speed: a feed nearer than this is the same. Assumption
SLOWED = (0.35, 1 + FEED_SHARE)  # a stretch may be slowed for a corner or an end, and never be faster
SMALL_MM = 50.0  # a hole or slot under this is cut slower (domain section 10); wider ones as an outline. Assumption
HOLE_FAST_SHARE = 0.65  # of the speed: holes are planned at 40 to 60 %
_DELAY_SHARE, _DELAY_S = 0.25, 0.1  # a delay that strays further than both is another one. Assumption
_HEIGHT_SHARE, _HEIGHT_MM = 0.25, 0.3
_PIERCED_MM_PER_A = (
    0.3  # where no manual is written down: far more than sets of an ampere pierce. Assumption
)
_TURNED = (25.4 * 0.85, 25.4 * 1.15)
_SAID = re.compile(r"([\d.]+) (mm/min|in/min|m/min) at ")
_PER = {"mm/min": 1.0, "m/min": 1000.0, "in/min": MM_PER_INCH}


def unread(program: Program) -> Iterator[Problem]:
    """Every line or word that was not understood."""
    for item in program.unread:
        yield Problem(
            "unread", item.line, "stop" if "radius" in item.why or "loop" in item.why else "look",
            f"“{item.text}”: {item.why}",
            "Have the post-processor write it another way, or add the word to the table's output profile.",
        )  # fmt: skip


def units(program: Program) -> Iterator[Problem]:
    """Inches and millimetres in one program."""
    said = program.unit_words
    if len({u.value for u in said}) < 2:
        return
    second = next(u for u in said if u.value != said[0].value)
    first_motion = program.motions[0, LINE] if len(program.motions) else math.inf
    halfway = second.line > first_motion
    yield Problem(
        "units_mixed", second.line, "stop" if halfway else "look",
        "The unit changes half-way: what follows is cut 25.4 times too large or too small."
        if halfway else "Both inches and millimetres are set before the first motion; the last one holds.",
        f"Leave one of them: line {said[0].line} says {_unit(said[0].value)}, line {second.line} {_unit(second.value)}.",
    )  # fmt: skip


def _unit(mm: float) -> str:
    return "millimetres" if mm == 1.0 else "inches"


def amperage(program: Program, job: PlateJob) -> Iterator[Problem]:
    """An amperage named in the program that is not the fitted set's."""
    for named in program.amperes:
        if 15 <= named.value <= 1000 and differs(named.value, job.amperage_a, 0.02, 0.6):
            yield Problem(
                "amperage_differs", named.line, "stop",
                f"The program was made for {named.value:g} A, and the setting is for {job.amperage_a:g} A: speed, kerf "
                "and height belong to another set of parts.",
                f"Make the program again for the {job.amperage_a:g} A set, or fit the {named.value:g} A parts and check "
                "against their recipe.",
            )  # fmt: skip
            return


def pierce(program: Program, contours: Sequence[ProgramContour], job: PlateJob) -> Iterator[Problem]:
    """A plate that the set does not pierce."""
    if not contours:
        return
    can = ability(job.capability, job.thickness_mm)
    known = can.code != "unknown"
    if can.code == "pierce" or (not known and job.thickness_mm <= _PIERCED_MM_PER_A * job.amperage_a):
        return
    said = (
        can.why
        if known
        else f"{thickness(job.thickness_mm)} is far more than sets of {job.amperage_a:g} A pierce; what yours does is not "
        "written down."
    )
    yield Problem(
        "pierce_too_thick", contours[0].line, "stop" if known else "look", said,
        "Start from the plate's edge, or take a bigger set; its manual says what it pierces.",
        contours[0].pierce_at, 0,
    )  # fmt: skip


def suspect_unit(
    program: Program, contours: Sequence[ProgramContour], against: CheckedAgainst
) -> Iterator[Problem]:
    """A program whose numbers make sense in the other unit."""
    job = against.job
    if job is None or not contours:
        return
    feeds = [c.feed_mm_min for c in contours if not math.isnan(c.feed_mm_min)]
    feed = float(np.median(feeds)) if feeds else math.nan
    pierce_heights = [c.run.pierce_height_mm for c in contours if c.run.pierce_height_mm > 0]
    height = float(np.median(pierce_heights)) if pierce_heights else math.nan
    for value, wanted, what in (
        (feed, job.setting.speed_mm_min, f"feed of {speed(feed)}" if feeds else ""),
        (
            height,
            job.setting.pierce_height_mm,
            f"pierce height of {length(height)}" if pierce_heights else "",
        ),
    ):
        turned = max(value, wanted) / max(min(value, wanted), 1e-9) if not math.isnan(value) else 1.0
        if _TURNED[0] <= turned <= _TURNED[1]:
            line = program.unit_words[0].line if program.unit_words else contours[0].line
            other = "inches" if program.units == "mm" else "millimetres"
            yield Problem(
                "unit_suspect", line, "stop",
                f"Read in {_unit(1.0 if program.units == 'mm' else MM_PER_INCH)} it has a {what}, about 25 times off the "
                "setting: the numbers make sense in the other unit.",
                f"Is it a program in {other}? Then correct its G20 or G21.",
            )  # fmt: skip
            return


def torch(program: Program, contours: Sequence[ProgramContour]) -> Iterator[Problem]:
    """A torch that stays on, and rapids with the arc."""
    for i, contour in enumerate(contours):
        span = program.motions[contour.run.first : contour.run.after]
        cuts = np.flatnonzero(span[:, KIND] != RAPID)
        relit = contour.run.off_line is None and i < len(contours) - 1
        last = len(span) if relit else (cuts[-1] + 1 if len(cuts) else 0)
        rapid = span[:last][(span[:last, KIND] == RAPID) & (lengths_mm(span[:last]) > 0.05)]
        if len(rapid):
            yield Problem(
                "rapid_with_torch_on", int(rapid[0, LINE]), "stop",
                "The table moves at its fastest with the arc burning: it scars the plate, and the arc goes out far away.",
                "Put the torch out before this move, or make it a cut with a feed.",
                (float(rapid[0, X0]), float(rapid[0, Y0])), i,
            )  # fmt: skip
        if contour.run.off_line is None and not relit:
            yield Problem(
                "torch_never_off", contour.line, "stop",
                "The torch is switched on here and nothing switches it off: the arc burns on where the program ends.",
                "Put the torch out after the cut, before the program ends.", contour.ends_at, i,
            )  # fmt: skip


def without_torch(program: Program, contours: Sequence[ProgramContour]) -> Iterator[Problem]:
    """Feed motions with the torch off that look like a cut."""
    motions = program.motions
    lit = np.zeros(len(motions), dtype=bool)
    for contour in contours:
        lit[contour.run.first : contour.run.after] = True
    dark = (motions[:, KIND] != RAPID) & ~lit & (lengths_mm(motions) > 0.05)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], dark.astype(int), [0]])))
    for first, after in zip(edges[::2], edges[1::2], strict=True):
        chain = motions[first:after]
        low = bool((chain[:, Z] < _LOW_MM).any())
        if len(chain) >= 2 or (chain[:, KIND] >= CLOCKWISE).any() or low:
            yield Problem(
                "cut_without_torch", int(chain[0, LINE]), "stop",
                f"The path of a cut of {length(float(lengths_mm(chain).sum()))} is run, and no torch-on word stands before it.",
                "Put torch on and the pierce before it, or take the cut out.",
                (float(chain[0, X0]), float(chain[0, Y0])),
            )  # fmt: skip


_LOW_MM = 6.0  # a torch this low that travels at a feed means to cut; assumption


def heights(
    program: Program, contours: Sequence[ProgramContour], job: PlateJob | None
) -> Iterator[Problem]:
    """Heights at or under the plate's top, and others than the setting's."""
    told: set[int] = set()
    for act in program.acts:
        if act.kind in ("height", "plunge") and act.value < -1e-6:
            told.add(act.line)
            yield _below(act.line, act.value, None, None)
    for i, contour in enumerate(contours):
        lowest = contour.motions[contour.motions[:, Z] <= 1e-6]
        if len(lowest) and not told:
            row = lowest[0]
            told.add(int(row[LINE]))
            line = contour.run.height_line or int(row[LINE])
            yield _below(line, float(row[Z]), (float(row[X0]), float(row[Y0])), i)
        if job is not None and not told and not program.test_piece:
            yield from _other_height(contour, i, job)


def _below(line: int, z_mm: float, at: tuple[float, float] | None, contour: int | None) -> Problem:
    where = "on the plate" if z_mm > -1e-6 else f"{length(-z_mm)} under the plate's top"
    return Problem(
        "below_plate", line, "stop", f"This height is {where}: the torch would be driven into it.",
        "Correct the Z word; Z zero is the top of the plate.", at, contour,
    )  # fmt: skip


def _other_height(contour: ProgramContour, i: int, job: PlateJob) -> Iterator[Problem]:
    s = job.setting
    for value, wanted, what in (
        (contour.run.pierce_height_mm, s.pierce_height_mm, "Pierces"),
        (contour.run.cut_height_mm, s.cut_height_mm, "Cuts"),
    ):
        ratio = value / wanted if value > 0 else 1.0
        turned = _TURNED[0] <= max(ratio, 1 / ratio) <= _TURNED[1]
        if differs(value, wanted, _HEIGHT_SHARE, _HEIGHT_MM) and not turned:
            yield Problem(
                "height_differs", contour.run.height_line or contour.line, "look",
                f"{what} at {length(value)}; the setting says {length(wanted)}.",
                "Write the setting's height, or say why this job needs another.", contour.pierce_at, i,
            )  # fmt: skip
            return


def delays(contours: Sequence[ProgramContour], job: PlateJob, *, test_piece: bool) -> Iterator[Problem]:
    """Pierce delays that are not the setting's."""
    wanted = job.setting.pierce_delay_s
    if test_piece:
        return
    for i, contour in enumerate(contours):
        has = 0.0 if math.isnan(contour.run.delay_s) else contour.run.delay_s
        if not differs(has, wanted, _DELAY_SHARE, _DELAY_S):
            continue
        short = has < wanted
        yield Problem(
            "pierce_delay_differs", contour.run.delay_line or contour.line, "stop" if has > 5 * wanted + 1 else "look",
            ("No wait after torch on" if has == 0 else f"Waits {seconds(has)} after torch on")
            + f"; the setting says {seconds(wanted)}: "
            + ("the torch moves off before the jet is through." if short else "the pierce becomes a crater, and the arc may go out."),
            f"Write a wait of {seconds(wanted)}.", contour.pierce_at, i,
        )  # fmt: skip


def feeds(
    program: Program, contours: Sequence[ProgramContour], job: PlateJob, *, unit_suspect: bool
) -> Iterator[Problem]:
    """Feeds that are not the setting's, hole by hole and contour by contour."""
    said = _said_feeds(program) if program.test_piece else {}
    for i, contour in enumerate(contours):
        none = np.isnan(contour.motions[:, FEED]) | (contour.motions[:, FEED] <= 0)
        if none.any():
            yield Problem(
                "no_feed", int(contour.motions[none][0, LINE]), "stop",
                "No feed has been said before this cut: the control takes whatever ran last, or refuses.",
                f"Write F with the setting's speed, {speed(job.setting.speed_mm_min)}.", contour.pierce_at, i,
            )  # fmt: skip
        elif program.test_piece:
            own = said.get(i)
            if own is not None and differs(contour.feed_mm_min, own, 0.03):
                yield _feed(contour, i, own, contour.feed_line, contour.feed_mm_min)
        elif not unit_suspect:
            yield from _feed_of(contour, i, job)


def _feed_of(contour: ProgramContour, i: int, job: PlateJob) -> Iterator[Problem]:
    """Whether one contour's feeds are the setting's, or a hole's share of it."""
    wanted, feed = job.setting.speed_mm_min, contour.feed_mm_min
    low, high = wanted * (1 - FEED_SHARE), wanted * (1 + FEED_SHARE)
    if is_small_hole(contour):
        if feed > high:
            yield _feed(contour, i, wanted, contour.feed_line, feed)
        elif feed > HOLE_FAST_SHARE * wanted:
            yield Problem(
                "hole_too_fast", contour.feed_line, "look",
                f"This hole of {length(contour.round_mm or 0.0)} is cut at {speed(feed)}, {100 * feed / wanted:.0f} % of the "
                "setting's speed: holes go at 40 to 60 %, or they come out tapered and with a flat.",
                f"Cut it at {speed(hole_feed_mm_min(job))}.", contour.pierce_at, i,
            )  # fmt: skip
        elif feed < SLOWED[0] * wanted:
            yield _feed(contour, i, hole_feed_mm_min(job), contour.feed_line, feed)
        return
    slowed = contour.kind == "inside" and min(contour.size_mm) < SMALL_MM
    if not (low <= feed <= high or (slowed and SLOWED[0] * wanted <= feed <= high)):
        yield _feed(contour, i, wanted, contour.feed_line, feed)
        return
    odd = _odd_stretch(contour.part, SLOWED[0] * wanted, high)
    if odd is not None:
        yield _feed(contour, i, wanted, int(odd[LINE]), float(odd[FEED]))


def _odd_stretch(part: Array, low: float, high: float) -> Array | None:
    """The first motion of a part, longer than a rounding, whose feed lies outside."""
    odd = part[((part[:, FEED] > high) | (part[:, FEED] < low)) & (lengths_mm(part) > 0.5)]
    return odd[0] if len(odd) else None


def _feed(contour: ProgramContour, i: int, wanted: float, line: int, feed: float) -> Problem:
    ratio = feed / wanted
    why = "slow-speed dross and a wide kerf" if ratio < 1 else "dross that is welded on, or not through"
    return Problem(
        "feed_differs", line, "stop" if not 0.8 <= ratio <= 1.2 else "look",
        f"Cuts at {speed(feed)}, {ratio:.2g} times the {speed(wanted)} it should: {why}.",
        f"Write the feed {speed(wanted)} here.", contour.pierce_at, i,
    )  # fmt: skip


def is_small_hole(contour: ProgramContour) -> bool:
    """A hole that is cut slower than an outline."""
    return contour.kind == "hole" and contour.round_mm is not None and contour.round_mm < SMALL_MM


def hole_feed_mm_min(job: PlateJob) -> float:
    """The feed to write for a hole: the middle of 40 to 60 %."""
    return hole_speed_mm_min(job.setting.speed_mm_min)


def _said_feeds(program: Program) -> dict[int, float]:
    """Of a test piece, the speed that the comment before each cut names, by the cut's number."""
    found, comments = (
        {},
        [(n, m) for n, text in program.comments if (m := _SAID.search(text)) is not None],
    )
    for i, run in enumerate(cut_runs(program)):
        before = [m for n, m in comments if n < run.on_line]
        if before:
            found[i] = float(before[-1][1]) * _PER[before[-1][2]]
    return found
