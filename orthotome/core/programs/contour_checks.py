"""Whether each contour is cut as a part needs it: side, direction, order, lead-in, end, speed, hole."""

import math
from collections.abc import Iterator, Sequence

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

from orthotome.core.edge.edges import Side
from orthotome.core.height.timing import SPLASH_PIERCE_HEIGHTS, USUAL_Z_SPEED_MM_S, way_in_mm
from orthotome.core.machine.hole_rules import good_hole_mm, least_hole_mm
from orthotome.core.machine.motion import (
    AT_SPEED,
    blind_length_mm,
    fastest_round_mm_min,
    run_up_mm,
    too_fast_says,
)
from orthotome.core.path.rings import holds
from orthotome.core.pieces.piece import LAG_TO_FINISH_DEG
from orthotome.core.programs.checked_against import CheckedAgainst, PlateJob, Table
from orthotome.core.programs.contours import SAME_MM, ProgramContour, nearest_mm
from orthotome.core.programs.findings import Problem
from orthotome.core.programs.program import (
    FEED,
    LINE,
    X0,
    Y0,
    Array,
    headings_rad,
    lengths_mm,
    radii_mm,
)
from orthotome.core.programs.setting_checks import is_small_hole
from orthotome.core.quantities import length, seconds, speed

_LEAD_SLACK = 0.95
_MIDDLE_SHARE = (
    0.85  # of a hole's radius: a lead-in as long as this begins by its middle, and cannot be longer
)
_MISSING_SHARE = 0.25  # of the overrun that the lag asks for; with less the cut just stops at its start
_AT_ITS_START_MM = 0.05
_NEVER_SHARE = 0.1  # of a part at speed: less is never
_CHORDS, _CHORD_TURN_RAD = (
    4,
    math.radians(30),
)  # so many chords in a row, none turning more, stand for an arc
_GOUGE_MM = 0.3  # a lead this far inside the part is no rounding


def lead_in_needed_mm(contour: ProgramContour, job: PlateJob, table: Table) -> tuple[float, str]:
    """How long a lead-in must be here, and what for: the splash, the way down to height, the run-up to speed.

    In a hole or slot no more than its room gives.
    """
    feed = contour.feed_mm_min if contour.feed_mm_min > 0 else job.setting.speed_mm_min
    a, drop = table.acceleration, job.setting.pierce_height_mm - job.setting.cut_height_mm
    drop_s = max(0.0, drop) / USUAL_Z_SPEED_MM_S
    needed, why = max(
        (SPLASH_PIERCE_HEIGHTS * job.setting.pierce_height_mm, "the splash of the pierce"),
        (way_in_mm(drop_s, feed / 60, a), "the way down to cut height"),
        (run_up_mm(feed, a), "the run-up to speed"),
    )
    if contour.kind in ("hole", "inside"):
        needed = min(needed, _MIDDLE_SHARE * min(contour.size_mm) / 2)
    return needed, why


def overrun_needed_mm(job: PlateJob) -> float:
    """What the lagging bottom needs past the start: thickness x tan(lag)."""
    return max(1.0, job.thickness_mm * math.tan(math.radians(LAG_TO_FINISH_DEG)))


def blind_mm(contour: ProgramContour, table: Table, job: PlateJob | None) -> float | None:
    """How far it is cut before height control follows; None where the table's delay is not written down."""
    if table.height_delay_s is None or table.delay_origin is None or math.isnan(contour.feed_mm_min):
        return None
    delay = (
        contour.run.delay_s
        if not math.isnan(contour.run.delay_s)
        else (job.setting.pierce_delay_s if job else 0.0)
    )
    return blind_length_mm(contour.feed_mm_min, table.height_delay_s, table.delay_origin, delay)


def direction(contours: Sequence[ProgramContour], job: PlateJob) -> Iterator[Problem]:
    """Contours that leave the kept metal on the jet's worse side."""
    for i, contour in enumerate(contours):
        if contour.closed and contour.kept_side != job.good:
            other = "counter-clockwise" if contour.turns == "clockwise" else "clockwise"
            yield Problem(
                "against_swirl", contour.line, "look",
                f"Runs {(contour.turns or '').replace('_', '-')}, with the kept metal on the {contour.kept_side}: the "
                f"gas swirl of this set makes the {job.good} side square, so the part gets the scrap's edge.",
                f"Run it {other}. With compensation by the controller, change its side as well.",
                contour.pierce_at, i,
            )  # fmt: skip


def order(contours: Sequence[ProgramContour]) -> Iterator[Problem]:
    """Holes and cut-outs that come after the outline they lie in."""
    for i, contour in enumerate(contours):
        outer = contour.parent
        if outer is not None and contour.kind in ("hole", "inside") and outer < i:
            yield Problem(
                "outside_before_inside", contour.line, "stop",
                f"It lies in the part that was cut loose on line {contours[outer].line}: the part may have tipped or "
                "moved by then.",
                "Cut it before that outline.", contour.pierce_at, i,
            )  # fmt: skip


def leads(contours: Sequence[ProgramContour], job: PlateJob, table: Table) -> Iterator[Problem]:
    """Lead-ins that are too short, or that lie in the part."""
    for i, contour in enumerate(contours):
        if not contour.closed:
            continue
        gouge = gouged_at(contour)
        if gouge is not None:
            yield Problem(
                "lead_in_in_part", contour.line, "stop",
                "The pierce or its lead-in lies in the metal that is kept: it leaves a hole in the part.",
                "Begin on the scrap side of the contour.", gouge, i,
            )  # fmt: skip
            continue
        needed, why = lead_in_needed_mm(contour, job, table)
        if contour.lead_in_mm < _LEAD_SLACK * needed:
            yield Problem(
                "lead_in_short", contour.line, "stop" if contour.lead_in_mm < needed / 3 else "look",
                f"Its lead-in is {length(contour.lead_in_mm)}; {why} needs {length(needed)}: the start leaves a gouge "
                "or a flat in the edge.",
                f"Make it {length(needed)} or longer, in the scrap.", contour.pierce_at, i,
            )  # fmt: skip


def gouged_at(contour: ProgramContour) -> tuple[float, float] | None:
    """Where a lead-in lies in the kept metal; None where it does not."""
    if contour.lead_in_mm < SAME_MM:
        return None
    points, along = contour.path, contour.along_mm
    ways = np.linspace(0.0, contour.lead_in_mm, 12)[:-1]
    lead = np.column_stack([np.interp(ways, along, points[:, k]) for k in (0, 1)])
    inside = holds(contour.loop, lead)
    kept = inside if contour.kind == "outside" else ~inside
    for point in lead[kept]:
        at = (float(point[0]), float(point[1]))
        if nearest_mm(contour, at) > _GOUGE_MM:
            return at
    return None


def ends(contours: Sequence[ProgramContour], job: PlateJob, table: Table) -> Iterator[Problem]:
    """Contours that stop where they began, and ends too short for the source's ramp-down."""
    needed = overrun_needed_mm(job)
    for i, contour in enumerate(contours):
        if not contour.closed:
            continue
        past = contour.overrun_mm + contour.lead_out_mm
        if past < _MISSING_SHARE * needed:
            where = f"{length(past)} past its start" if past > _AT_ITS_START_MM else "where it began"
            yield Problem(
                "overrun_missing", contour.run.off_line or contour.line, "look",
                f"The cut ends {where}, and the jet's bottom is still behind: a tab or a notch is left where it closes.",
                f"Cut on past the start by {length(needed)}.", contour.ends_at, i,
            )  # fmt: skip
        feed = contour.motions[-1, FEED]
        if table.ramp_down_s and not math.isnan(feed):
            ramp = table.ramp_down_s * feed / 60
            if past < _LEAD_SLACK * ramp:
                yield Problem(
                    "lead_out_short", contour.run.off_line or contour.line, "look",
                    f"The source takes {seconds(table.ramp_down_s)} to ramp down, {length(ramp)} at this feed; only "
                    f"{length(past)} of cut follow the contour's end.",
                    f"Lead out {length(ramp)} over metal.", contour.ends_at, i,
                )  # fmt: skip


def holes(contours: Sequence[ProgramContour], job: PlateJob) -> Iterator[Problem]:
    """Holes that plasma does not cut, and height control in them."""
    for i, contour in enumerate(contours):
        if contour.kind != "hole" or contour.round_mm is None:
            continue
        across = contour.round_mm if contour.compensated else contour.round_mm + job.setting.kerf_mm
        if across < good_hole_mm(job.thickness_mm):
            none = across < least_hole_mm(job.thickness_mm, job.setting.kerf_mm)
            yield Problem(
                "hole_too_small", contour.line, "stop" if none else "look",
                f"A hole of {length(across)} in {length(job.thickness_mm)} plate is "
                + ("no plasma hole." if none else "doubtful: it comes out tapered."),
                "Mark it and drill it, or make it larger.", contour.pierce_at, i,
            )  # fmt: skip
        if contour.control_on and is_small_hole(contour):
            yield Problem(
                "control_on_in_hole", contour.line, "look",
                "Height control is on in this hole: the slower speed raises the volts, and the torch dives.",
                "Switch it off for the hole, and on again after it.", contour.pierce_at, i,
            )  # fmt: skip


def too_fast(contours: Sequence[ProgramContour], table: Table) -> Iterator[Problem]:
    """Feeds that the table does not run at all, said once for the program."""
    fastest = table.fastest_mm_min
    if fastest is None:
        return
    over = [(i, c) for i, c in enumerate(contours) if c.feed_mm_min > fastest * (1 + 1e-9)]
    if over:
        first, contour = over[0]
        feed = max(c.feed_mm_min for _, c in over)
        others = f" {len(over)} contours ask for it." if len(over) > 1 else ""
        yield Problem(
            "too_fast_for_table", contour.line, "look",
            f"{too_fast_says(feed, fastest)}{others}",
            "Cut it with a set that is made for less speed: Which set? names those that this table can follow.",
            contour.pierce_at, first,
        )  # fmt: skip


def reach(
    contours: Sequence[ProgramContour], shares: Sequence[float], job: PlateJob | None, table: Table
) -> Iterator[Problem]:
    """Contours that never come to speed on this table, and arcs too tight for theirs."""
    for i, contour in enumerate(contours):
        feed = contour.feed_mm_min
        if math.isnan(feed) or feed <= 0:
            continue
        if shares[i] < _NEVER_SHARE and contour.part_mm > 2.0:
            yield Problem(
                "never_at_speed", contour.line, "look",
                f"This table never comes to {speed(feed)} here ({100 * shares[i]:.0f} % of the contour): the detail is cut slower "
                "than its number, with slow-speed dross and bevel.",
                "Cut it with a slower process, or at the speed that the table holds.", contour.pierce_at, i,
            )  # fmt: skip
        if is_small_hole(contour):
            continue
        part = contour.part
        radii = bends_mm(part)
        arcs = np.isfinite(radii)
        tight = arcs & (
            fastest_round_mm_min(1.0, table.acceleration) * np.sqrt(radii) < AT_SPEED * part[:, FEED]
        )
        if tight.any():
            row, radius = part[tight][0], float(radii[tight].min())
            held = fastest_round_mm_min(radius, table.acceleration)
            kerf = (
                ""
                if job is None or radius >= job.setting.kerf_mm / 2
                else " It is also tighter than half the kerf."
            )
            yield Problem(
                "arc_too_small", int(row[LINE]), "look",
                f"An arc of radius {length(radius)} is taken at {speed(held)} at most, not at {speed(float(row[FEED]))}.{kerf}",
                f"Make it larger, or cut it at {speed(held)}.", (float(row[X0]), float(row[Y0])), i,
            )  # fmt: skip


def bends_mm(part: Array) -> Array:
    """The radius at which each motion of a part is bent: an arc's own, that of a row of chords, else infinite."""
    lengths = lengths_mm(part)
    radii = np.where(lengths > 0.3, radii_mm(part), np.inf)
    if len(part) < _CHORDS + 1:
        return radii
    begins, ends = headings_rad(part)
    turn = np.abs((begins[1:] - ends[:-1] + math.pi) % (2 * math.pi) - math.pi)
    bent = (turn > 1e-3) & (turn < _CHORD_TURN_RAD) & np.isinf(radii[1:])
    width = _CHORDS - 1
    rows = sliding_window_view(bent, width).all(axis=1)
    ways = sliding_window_view(lengths[1:], width).sum(axis=1)
    turns = sliding_window_view(turn, width).sum(axis=1)
    of_row = np.where(rows, ways / np.maximum(turns, 1e-9), np.inf)
    padded = np.concatenate([np.full(width - 1, np.inf), of_row, np.full(width - 1, np.inf)])
    radii[1:] = np.minimum(radii[1:], sliding_window_view(padded, width).min(axis=1))
    return radii


def compensation(contours: Sequence[ProgramContour], against: CheckedAgainst) -> Iterator[Problem]:
    """The kerf by the controller's words: the wrong side, or forgotten on some contours."""
    some = any(c.compensated for c in contours)
    for i, contour in enumerate(contours):
        if not contour.closed or not some:
            continue
        if not contour.compensated:
            yield no_room_for_kerf(
                contour, i, "others are compensated by the controller, this one is not", against.job
            )
            continue
        kept: Side = "right" if contour.compensated > 0 else "left"
        if kept != contour.kept_side:
            yield wrong_side(contour, i, against.job)


def no_room_for_kerf(contour: ProgramContour, i: int, shows: str, job: PlateJob | None) -> Problem:
    """A contour on the line of the part itself."""
    by = f" by {length(job.setting.kerf_mm)}" if job else " by one kerf"
    outcome = "small" if contour.kind == "outside" else "large"
    return Problem(
        "no_kerf_compensation", contour.line, "stop",
        f"The torch runs on the part's own line ({shows}): it comes out too {outcome}{by}.",
        "Compensate half a kerf into the scrap.", contour.pierce_at, i,
    )  # fmt: skip


def wrong_side(contour: ProgramContour, i: int, job: PlateJob | None) -> Problem:
    """A contour with its kerf on the part's side."""
    by = f" by {length(2 * job.setting.kerf_mm)}" if job else " by two kerfs"
    outcome = "small" if contour.kind == "outside" else "large"
    return Problem(
        "kerf_wrong_side", contour.line, "stop",
        f"The kerf lies on the part's side of the line: it comes out too {outcome}{by}.",
        "Change the compensation to the other side.", contour.pierce_at, i,
    )  # fmt: skip
