"""The shop's own test parts, as they were found in a drawing."""

import json
from collections.abc import Sequence
from dataclasses import asdict

from sqlmodel import Session, col, select

from orthotome.core.path.rings import Ring
from orthotome.formats.pieces.drawing import DrawingRead, Measured, measured
from orthotome.formats.pieces.own_part import OwnPartFile, rings_from_file, rings_to_file
from orthotome.store.errors import NotFound
from orthotome.store.tables import OwnPart


def own_parts(session: Session) -> Sequence[OwnPart]:
    """The parts that are not struck out, newest first."""
    query = select(OwnPart).where(col(OwnPart.struck_out).is_(False))
    return session.exec(query.order_by(col(OwnPart.id).desc())).all()


def own_part(session: Session, part_id: int) -> OwnPart:
    """One part. Raises NotFound."""
    found = session.get(OwnPart, part_id)
    if found is None:
        raise NotFound("There is no such part.", "own_part_id")
    return found


def add(session: Session, name: str, found: DrawingRead) -> OwnPart:
    """Keep the contours of a part, and what they come to: a list of parts need not read them again."""
    row = OwnPart(
        name=name,
        rings=rings_to_file(found.rings).model_dump_json(),
        notes=json.dumps(list(found.notes)),
        measured=json.dumps(asdict(found.measured)),
    )
    session.add(row)
    session.flush()
    return row


def measured_of(row: OwnPart) -> Measured:
    """What a part's contours come to; worked out of them where that was not kept yet."""
    if not row.measured:
        return measured(rings_of(row))
    kept = json.loads(row.measured)
    return Measured(kept["outlines"], kept["holes"], tuple(kept["size_mm"]))


def rings_of(row: OwnPart) -> tuple[Ring, ...]:
    """A part's contours."""
    return rings_from_file(OwnPartFile.model_validate_json(row.rings))


def notes_of(row: OwnPart) -> list[str]:
    """What was said about how its drawing was read."""
    notes: list[str] = json.loads(row.notes)
    return notes
