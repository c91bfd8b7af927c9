"""Photos of cuts: what is written down of each; their pictures are files of their own."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import Session, col, select
from sqlmodel.sql.expression import SelectOfScalar

from orthotome.formats.log.photo import Photo
from orthotome.store import changes
from orthotome.store.errors import NotFound, Refused
from orthotome.store.log import cuts
from orthotome.store.tables import PhotoRow
from orthotome.store.trial import trials

MOST_OF_A_CUT = 20


@dataclass(frozen=True)
class Of:
    """What a photo is of: a cut that is logged, or one that is being logged under a key."""

    cut_id: int | None = None
    log_key: str = ""


def add(session: Session, trial_id: int, of: Of, digest: str, photo: Photo) -> PhotoRow:
    """Write a photo down with what it is of; the same picture again is the one that is there, or comes back.

    Raises NotFound, and Refused where there are as many as there can be.
    """
    found, there = trials.trial(session, trial_id), known(session, trial_id, of)
    row = session.exec(_of(trial_id, of).where(PhotoRow.digest == digest)).first()
    if row is None:
        if len(there) >= MOST_OF_A_CUT:
            raise Refused(
                f"There are {MOST_OF_A_CUT} photos of this cut: strike one out first.", "photo"
            )
        row = PhotoRow(
            trial_id=trial_id,
            **vars(of),
            digest=digest,
            width_px=photo.width_px,
            height_px=photo.height_px,
            bytes=len(photo.picture),
            added_by=changes.person(session),
        )
    row.struck_out = False
    session.add(row)
    session.flush()
    trials.touch(session, found)
    return row


def known(session: Session, trial_id: int, of: Of) -> Sequence[PhotoRow]:
    """The photos there are of a cut, or of a log, oldest first. Raises NotFound."""
    trials.trial(session, trial_id)
    if of.cut_id is not None:
        cuts.logged_cut(session, trial_id, of.cut_id)
    return session.exec(_of(trial_id, of).where(col(PhotoRow.struck_out).is_(False))).all()


def _of(trial_id: int, of: Of) -> SelectOfScalar[PhotoRow]:
    query = select(PhotoRow).where(PhotoRow.trial_id == trial_id).order_by(col(PhotoRow.id))
    if of.cut_id is not None:
        return query.where(PhotoRow.cut_id == of.cut_id)
    return query.where(PhotoRow.log_key == of.log_key, col(PhotoRow.cut_id).is_(None))


def of_cuts(session: Session, cut_ids: Sequence[int | None]) -> dict[int, list[PhotoRow]]:
    """The photos of some cuts, oldest first."""
    query = select(PhotoRow).where(
        col(PhotoRow.cut_id).in_(cut_ids), col(PhotoRow.struck_out).is_(False)
    )
    found: dict[int, list[PhotoRow]] = defaultdict(list)
    for row in session.exec(query.order_by(col(PhotoRow.id))):
        found[row.cut_id or 0].append(row)
    return found


def photo(session: Session, photo_id: int) -> PhotoRow:
    """A photo. Raises NotFound."""
    row = session.get(PhotoRow, photo_id)
    if row is None:
        raise NotFound("There is no such photo.", "photo_id")
    return row


def caption(session: Session, photo_id: int, words: str) -> PhotoRow:
    """Say what a photo shows. Raises NotFound."""
    row = photo(session, photo_id)
    changes.note(session, "captioned", "photo", photo_id, {"caption": row.caption})
    row.caption = words
    return _touched(session, row)


def strike(session: Session, photo_id: int, *, out: bool) -> PhotoRow:
    """Take a photo away from its cut, or put it back. Raises NotFound."""
    row = photo(session, photo_id)
    row.struck_out = out
    changes.note(session, "struck out" if out else "put back", "photo", photo_id)
    return _touched(session, row)


def _touched(session: Session, row: PhotoRow) -> PhotoRow:
    session.add(row)
    trials.touch(session, trials.trial(session, row.trial_id))
    return row
