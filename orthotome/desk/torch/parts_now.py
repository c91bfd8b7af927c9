"""The parts of a set as they are now: what each has done, how it looked, what it has left, and what that comes to."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import Session

from orthotome.core.torch.counts import Counts
from orthotome.core.torch.forecast import VERDICT_WORDS, StartsLeft, Verdict, report_of
from orthotome.core.torch.lives import span_left
from orthotome.core.torch.pit import LearnedLife
from orthotome.store.tables import InspectionRow, PartRow
from orthotome.store.torch import inspections, parts


@dataclass(frozen=True)
class PartNow:
    """One part: what it has done, how it was seen (oldest first), what is left of it (None: too little is known), the
    verdict and its reason."""

    row: PartRow
    done: Counts
    seen: Sequence[InspectionRow]
    left: StartsLeft | None
    verdict: Verdict
    says: str


def parts_now(
    session: Session, rows: Sequence[PartRow], electrode_id: int, electrode: LearnedLife
) -> list[PartNow]:
    """Parts of one set; ``electrode`` is the life of the one with that id."""
    ids = [r.id or 0 for r in rows]
    done, seen = parts.counts_of(session, ids), inspections.of_parts(session, ids)
    ended = parts.ended(session, rows[0].torch_set_id) if rows else {}
    found = []
    for row in rows:
        own, looked = done[row.id or 0], seen[row.id or 0]
        life = electrode if row.id == electrode_id else None
        found.append(PartNow(row, own, looked, *_left(row, own, looked, ended, life)))
    return found


def _left(
    row: PartRow,
    done: Counts,
    seen: Sequence[InspectionRow],
    ended: dict[str, list[int]],
    electrode: LearnedLife | None,
) -> tuple[StartsLeft | None, Verdict, str]:
    """Starts left, verdict and reason: of the fitted electrode its forecast, else what was seen and earlier lives."""
    looked: Verdict = seen[-1].verdict if seen else "not_known"  # type: ignore[assignment]
    if electrode is not None and row.part == "electrode":
        report = report_of(electrode)
        worst = max(report.verdict, looked, key=_WORSE.index)
        says = report.why if worst == report.verdict else _looked_at(seen[-1], done)
        return report.starts_left, worst, says
    left = span_left(ended.get(row.part, []), done.starts)
    if seen:
        return left, looked, _looked_at(seen[-1], done)
    if left is not None:
        return (
            left,
            "not_known",
            "Not looked at yet. What is left is what the shop’s earlier ones had.",
        )
    return (
        None,
        "not_known",
        "Not looked at yet, and too few of its kind have ended here to say how long they last.",
    )


_WORSE: tuple[Verdict, ...] = ("not_known", "keep", "watch", "rough_work", "replace")


def _looked_at(row: InspectionRow, done: Counts) -> str:
    since = done.starts - row.starts
    ago = f", {since} starts ago" if since else ""
    return f"Looked at{f' by {row.seen_by}' if row.seen_by else ''}{ago}: {VERDICT_WORDS[row.verdict]}."  # type: ignore[index]
