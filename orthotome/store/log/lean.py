"""What the squares of a table say of its jet's lean: their readings, by the seat the torch was in."""

from sqlmodel import Session, col, select

from orthotome.core.torch.alignment import SlugReading
from orthotome.store.tables import CutRow, EdgeRow

MOST_SQUARES = 12  # the newest of a seat: more add little


def readings_of_squares(session: Session, mount_id: int) -> list[SlugReading]:
    """The readings of the newest squares and rounds cut in a seat of the torch, each cut a piece of its own."""
    newest = (
        select(CutRow.id)
        .where(CutRow.mount_id == mount_id, col(CutRow.struck_out).is_(False))
        .where(col(CutRow.piece).in_(["square", "round"]), col(CutRow.id).in_(select(EdgeRow.cut_id)))
        .order_by(col(CutRow.id).desc())
        .limit(MOST_SQUARES)
    )
    edges = select(EdgeRow).where(col(EdgeRow.cut_id).in_(newest)).order_by(col(EdgeRow.id))
    return [
        SlugReading(e.side, e.heading_deg, e.bevel_deg, e.u_deg, e.cut_id)  # type: ignore[arg-type]
        for e in session.exec(edges)
    ]
