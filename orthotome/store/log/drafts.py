"""Half-typed logs, kept so that a dead battery loses nothing."""

from sqlmodel import Session, col, delete

from orthotome.store.tables import (
    LogDraft,
    now,
)
from orthotome.store.trial.trials import trial


def save_draft(session: Session, trial_id: int, body: str) -> None:
    """Keep a half-typed log."""
    trial(session, trial_id)
    session.merge(LogDraft(trial_id=trial_id, body=body, saved_at=now()))


def draft(session: Session, trial_id: int) -> LogDraft | None:
    """The half-typed log of a trial, if there is one."""
    return session.get(LogDraft, trial_id)


def drop_draft(session: Session, trial_id: int) -> None:
    """Forget the half-typed log."""
    session.exec(delete(LogDraft).where(col(LogDraft.trial_id) == trial_id))
