"""Half-typed logs, kept so that a dead battery loses nothing."""

from sqlmodel import Session, col, delete, select

from orthotome.store import changes
from orthotome.store.errors import ChangedMeanwhile
from orthotome.store.tables import CutRow, LogDraft, now
from orthotome.store.trial.trials import trial


def save_draft(
    session: Session, trial_id: int, body: str, *, key: str = "", version: int | None = None
) -> LogDraft:
    """Keep a half-typed log of the cut ``key``. ``version`` is that of the log which it grew from, 0 where there
    was none.

    Raises ChangedMeanwhile where another screen keeps one that was not seen: nothing is overwritten.
    """
    trial(session, trial_id)
    logged = select(CutRow.number).where(CutRow.trial_id == trial_id, CutRow.key == key)
    if (number := session.exec(logged).first()) is not None:
        # What a screen sent last may arrive last, after the cut that it became.
        raise ChangedMeanwhile(f"This log was saved already: it is cut {number}.", "version")
    kept = draft(session, trial_id)
    there = kept.version if kept else 0
    if version is not None and (version != there or (kept is not None and kept.key not in ("", key))):
        by = f", of {kept.saved_by}," if kept and kept.saved_by else ""
        raise ChangedMeanwhile(
            f"Another screen keeps a half-typed log of this trial{by} too. Both are kept, each on its own "
            "screen: save yours when it is done."
            if kept
            else "This log was saved, or thrown away, on another screen. Yours is kept on this one.",
            "version",
        )
    row = kept or LogDraft(trial_id=trial_id, body=body, version=0)
    row.body, row.key, row.saved_at, row.saved_by = body, key, now(), changes.person(session)
    row.version += 1
    session.add(row)
    session.flush()
    return row


def draft(session: Session, trial_id: int) -> LogDraft | None:
    """The half-typed log of a trial, if there is one."""
    return session.get(LogDraft, trial_id)


def drop_draft(session: Session, trial_id: int, key: str | None = None) -> None:
    """Forget the half-typed log; with a ``key`` only where it is that of this cut."""
    found = delete(LogDraft).where(col(LogDraft.trial_id) == trial_id)
    if key is not None:
        found = found.where(col(LogDraft.key).in_(["", key]))
    session.exec(found)
