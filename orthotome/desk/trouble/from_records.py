"""What the shop's records know of a table already, as facts that need not be asked, each with where it is from."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import timedelta

from sqlmodel import Session

from orthotome.core.log.seen import SeenOnCut, seen_on
from orthotome.core.machine.air import judge_air
from orthotome.core.torch.wear import FELT_SHARE, LIMIT_MM, NEW_STARTS
from orthotome.core.trouble.from_records import lean_bears_on, pressure_falls, screen_volts
from orthotome.core.trouble.questions import Answer
from orthotome.desk.machine.health import health_lines
from orthotome.formats.machine.table_page import TablePage
from orthotome.store.bench import campaigns
from orthotome.store.clock import now
from orthotome.store.height import signal_paths
from orthotome.store.log.cuts import logged_cuts
from orthotome.store.machine import checks, pages
from orthotome.store.shop import shop
from orthotome.store.tables import Trial
from orthotome.store.torch import fittings, inspections, parts

_LATELY = timedelta(days=14)


@dataclass(frozen=True)
class KnownFact:
    """A fact from the records, and where it is from."""

    code: str
    answer: Answer
    source: str


@dataclass(frozen=True)
class LastCut:
    """The last cut of the trial on a table's Bench, and what it shows."""

    trial: Trial
    number: int
    seen: SeenOnCut

    @property
    def source(self) -> str:
        """Where its facts are from."""
        return f"cut {self.number} on the Bench"


def last_cut(session: Session, table_id: int) -> LastCut | None:
    """What was cut last on the Bench; None where nothing is there, or nothing was cut."""
    trial = shop.bench_trial(session, table_id)
    if trial is None:
        return None
    logged = [c for c in logged_cuts(session, trial.id or 0) if c.counts]
    if not logged:
        return None
    seen = seen_on(campaigns.campaign_of(session, trial, logged), logged[-1].cut)
    return LastCut(trial, logged[-1].row.number, seen)


def known_facts(
    session: Session, table_id: int, complaint: str, *, of_cut: bool = False
) -> list[KnownFact]:
    """All that the records tell of a table now, that bears on a complaint; with ``of_cut`` also what the last cut on its
    Bench shows."""
    page = pages.settings(shop.table(session, table_id))
    cut = last_cut(session, table_id) if of_cut else None
    shown = [KnownFact(c, a, cut.source) for c, a in cut.seen.facts.items()] if cut else []
    there = {f.code for f in shown}
    return [*shown, *(f for f in _of_table(session, table_id, page, complaint) if f.code not in there)]


def _of_table(session: Session, table_id: int, page: TablePage, complaint: str) -> list[KnownFact]:
    found = [
        *_of_page(page),
        *_of_signal(session, table_id),
        *_of_parts(session, table_id),
        *_of_machine(session, table_id),
    ]
    leans = lean_bears_on(complaint)
    return [f for f in found if leans or f.code != "torch_stands_upright"]


def _of_page(page: TablePage) -> Iterator[KnownFact]:
    source = "the table’s page"
    if page.touch_off in ("ohmic", "float_switch"):
        yield KnownFact("touch_off", page.touch_off, source)
    if page.starting is not None:
        yield KnownFact("high_frequency_start", page.starting == "high_frequency", source)
    if page.arc_signal is not None:
        yield KnownFact("arc_signal_wired", page.arc_signal, source)
    if page.height_control in ("touch_off", "by_hand"):
        yield KnownFact("height_control", "off", source)
    supply = page.air.supply()
    if supply is not None:
        falls = pressure_falls(judge_air(supply))
        if falls is not None:
            yield KnownFact("air_pressure_falls", falls, "the air on the table’s page")


def _of_signal(session: Session, table_id: int) -> Iterator[KnownFact]:
    """What the screen showed of a true voltage lately; an older pair says little of the wiring as it is."""
    for row in signal_paths.signal_paths(session, table_id)[:1]:
        if now() - row.set_at > _LATELY:
            continue
        read = row.screen_v / row.true_v if row.true_v and row.screen_v is not None else None
        seen = screen_volts(read)
        if seen is not None:
            yield KnownFact("screen_volts", seen, f"a pair of volts read {row.set_at:%Y-%m-%d}")


def _of_parts(session: Session, table_id: int) -> Iterator[KnownFact]:
    fitted = fittings.fitted(session, table_id)
    starts = fitted.starts
    yield KnownFact("new_parts", starts < NEW_STARTS, f"{starts} starts counted on the electrode")
    electrode = next(
        (p for p in parts.of_fitting(session, fitted.parts.id or 0) if p.part == "electrode"), None
    )
    if electrode is None or electrode.id is None:
        return
    seen = [
        i for i in inspections.of_parts(session, [electrode.id])[electrode.id] if i.pit_mm is not None
    ]
    if seen and seen[-1].pit_mm is not None:
        deep = seen[-1].pit_mm >= FELT_SHARE * (electrode.limit_mm or LIMIT_MM)
        yield KnownFact(
            "electrode_pit", "deep" if deep else "shallow", f"looked at {seen[-1].seen_at:%Y-%m-%d}"
        )


def _of_machine(session: Session, table_id: int) -> Iterator[KnownFact]:
    crash = next((c for c in checks.checks(session, table_id) if c.kind == "crash"), None)
    if crash is not None and now() - crash.checked_at < _LATELY:
        yield KnownFact("hit_something", True, f"a crash noted {crash.checked_at:%Y-%m-%d}")
    for line in health_lines(session, table_id):
        if line.known is None or line.due_because:
            continue
        if line.aspect == "square" and line.standing in ("good", "wrong"):
            yield KnownFact("diagonals_differ", line.standing == "wrong", "diagonals measured")
        if line.aspect == "alignment" and line.standing in ("good", "wrong"):
            yield KnownFact(
                "torch_stands_upright", line.standing == "good", "a slug or square read all round"
            )
        if line.aspect == "height_sensor" and line.standing == "good":
            yield KnownFact("feeler_height", "as_told", "a feeler under the torch")
        if line.aspect == "slack" and line.standing in ("good", "wrong"):
            yield KnownFact("gives_by_hand", line.standing == "wrong", "circles cut each way round")


def changed_last(session: Session, table_id: int) -> str:
    """What was changed last on a table, in a sentence: the first suspect. Empty where nothing was within two weeks."""
    fitted = fittings.fitted(session, table_id)
    found = [
        (fitted.parts.fitted_at, "parts were changed"),
        (fitted.mount.fitted_at, "the torch was seated anew"),
        (fitted.signal.fitted_at, "the signal path was changed"),
        *((c.checked_at, _SAID[c.kind]) for c in checks.checks(session, table_id) if c.kind in _SAID),
    ]
    began = min(at for at, _ in found[:3])
    later = [(at, said) for at, said in found if at > began and now() - at < _LATELY]
    if not later:
        return ""
    at, said = max(later)
    return f"What changed last here: {said}, {at:%Y-%m-%d}. That is the first suspect."


_SAID = {
    "crash": "there was a crash",
    "moved": "the table was moved",
    "changed_drive": "a drive was changed",
}
