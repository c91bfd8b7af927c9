"""A table's health, gathered from its checks, its pieces and the rooms that know of it: what is known, since when, how sure."""

from collections.abc import Sequence

from sqlmodel import Session

from orthotome.core.height.signal_path import GAIN_THAT_MATTERS, SignalPath
from orthotome.core.machine.air import judge_air
from orthotome.core.machine.health import Aspect, HealthLine, KnownFigure, Standing, Upset, health
from orthotome.core.machine.measures import MachineJudgement, judge_machine
from orthotome.core.quantities import acceleration, length, size
from orthotome.desk.machine import check_says
from orthotome.desk.torch.seats import seat_now
from orthotome.formats.machine.checks import AccelerationFile
from orthotome.formats.machine.measures import measured_of
from orthotome.formats.machine.table_page import TablePage
from orthotome.store.clock import now
from orthotome.store.height import signal_paths
from orthotome.store.machine import checks, measured, pages
from orthotome.store.shop import shop
from orthotome.store.tables import MachineCheckRow

_ASPECT_OF: dict[str, Aspect] = {
    "acceleration": "acceleration",
    "slack": "slack",
    "lost_steps": "lost_steps",
    "touch_height": "height_sensor",
}
UPSETS: tuple[Upset, ...] = ("crash", "moved", "changed_drive")


def health_lines(session: Session, table_id: int) -> list[HealthLine]:
    """Every aspect of a table as it stands now, what is wrong or due first."""
    return _lines(session, table_id, checks.checks(session, table_id))


def _lines(session: Session, table_id: int, rows: Sequence[MachineCheckRow]) -> list[HealthLine]:
    page = pages.settings(shop.table(session, table_id))
    known: dict[Aspect, KnownFigure] = {}
    axes: dict[str, str] = {}
    for row in reversed(rows):  # the newest of a kind stands
        aspect = _ASPECT_OF.get(row.kind)
        if aspect is not None:
            given = checks.given_in(row)
            said = check_says.said_of(given, page)
            figure = said.figure
            if isinstance(given, AccelerationFile):  # each axis has its own: the newest of both are said
                axes[given.axis] = figure
                figure = "; ".join(axes[axis] for axis in sorted(axes))
            known[aspect] = KnownFigure(row.checked_at, figure, said.standing, row.checked_by)
    if "acceleration" not in known and page.acceleration_mm_s2:
        figure = f"{acceleration(page.acceleration_mm_s2)}, as written down: not measured"
        known["acceleration"] = KnownFigure(None, figure, "look")
    known |= _of_pieces(session, table_id)
    known |= _of_rooms(session, table_id, page)
    upsets = [(k, r.checked_at) for r in rows for k in UPSETS if r.kind == k]
    return health(known, upsets, now())


def _of_pieces(session: Session, table_id: int) -> dict[Aspect, KnownFigure]:
    """Square and scale, each from the newest measurement that tells it."""
    known: dict[Aspect, KnownFigure] = {}
    for row in measured.measurements(session, table_id):
        judged = judge_machine(measured_of(measured.measures_of(row)))
        for aspect, found in (("square", _square(judged)), ("scale", _scale(judged))):
            if found is not None and aspect not in known:
                figure, standing = found
                known[aspect] = KnownFigure(row.measured_at, figure, standing, row.measured_by)  # type: ignore[index]
    return known


def _square(judged: MachineJudgement) -> tuple[str, Standing] | None:
    if judged.skew_deg is None:
        return None
    codes = {f.code for f in judged.findings}
    figure = f"skew {judged.skew_deg.value:+.3f}° ± {judged.skew_deg.sd:.3f}°"
    return (
        figure,
        "wrong" if "gantry_skew" in codes else "look" if "instrument_too_coarse" in codes else "good",
    )


def _scale(judged: MachineJudgement) -> tuple[str, Standing] | None:
    scales = [("X", judged.sizes.scale_x), ("Y", judged.sizes.scale_y)]
    said = [
        f"{axis} {length(1000 * (s.value - 1))} ± {length(1000 * s.sd)} over {size(1000)}"
        for axis, s in scales
        if s
    ]
    if not said:
        return None
    return "; ".join(said), "wrong" if any(f.code == "scale" for f in judged.findings) else "good"


def _of_rooms(session: Session, table_id: int, page: TablePage) -> dict[Aspect, KnownFigure]:
    """What other rooms know of it: axes, signal path, air, the torch's lean."""
    known: dict[Aspect, KnownFigure] = {}
    axes = page.axis_map()
    if axes is not None:
        at = pages.changed_at(session, table_id, {"x_runs", "y_runs", "axes_proved"})
        proved = "proved by two jogs" if page.axes_proved else "not proved by jogs"
        known["axes"] = KnownFigure(
            at, f"{axes.in_words} {proved.capitalize()}.", "good" if page.axes_proved else "look"
        )
    paths = signal_paths.signal_paths(session, table_id)
    if paths:
        row = paths[0]
        path = SignalPath(row.source_ratio, row.card_ratio, row.multiplier)
        seen = row.screen_v / row.true_v if row.true_v and row.screen_v is not None else None
        figure = f"{row.source_ratio:g} : 1, card {row.card_ratio:g} : 1, times {row.multiplier:g}"
        figure += (
            f"; read {seen:.3f} screen volts for a true one" if seen else "; no pair of volts was read"
        )
        off = abs((seen or path.gain) - 1) > GAIN_THAT_MATTERS
        standing: Standing = "wrong" if off else "good" if seen else "look"
        known["signal_path"] = KnownFigure(row.set_at, figure, standing, row.set_by)
    supply = page.air.supply()
    if supply is not None:
        found = judge_air(supply)
        short = [f for f in found if f.verdict == "short"]
        unknown = [f for f in found if f.verdict == "unknown"]
        figure = "; ".join(f"{f.title.lower()} is short" for f in short) or (
            f"nothing short; not known: {', '.join(f.title.lower() for f in unknown)}"
            if unknown
            else "carries the cut"
        )
        at = pages.changed_at(session, table_id, {"air"})
        known["air"] = KnownFigure(at, figure, "wrong" if short else "look" if unknown else "good")
    seat = seat_now(session, table_id)
    if seat.alignment is not None:
        at = max((s.read_at for s in seat.slugs if not s.struck_out), default=seat.row.fitted_at)
        leans = seat.alignment.lean_deg > max(seat.known_to_deg or 0.0, seat.target_deg)
        standing = "wrong" if leans else "good" if seat.alignment.enough else "look"
        known["alignment"] = KnownFigure(at, seat.in_words, standing)
    return known
