"""What the squares of a table say of its jet's lean: their readings, by the seat the torch was in."""

from sqlmodel import Session, col, select

from orthotome.core.torch.alignment import SlugReading
from orthotome.core.torch.seat import Sitting
from orthotome.store.tables import CutRow, EdgeRow

MOST_SQUARES = 12  # the newest of a seat: more add little


def squares_of_seat(session: Session, mount_id: int) -> list[Sitting]:
    """The newest squares and rounds cut in a seat of the torch, each with its readings as a piece of its own."""
    newest = session.exec(
        select(CutRow.id, CutRow.logged_at)
        .where(CutRow.mount_id == mount_id, col(CutRow.struck_out).is_(False))
        .where(col(CutRow.piece).in_(["square", "round"]), col(CutRow.id).in_(select(EdgeRow.cut_id)))
        .order_by(col(CutRow.id).desc())
        .limit(MOST_SQUARES)
    ).all()
    edges = session.exec(
        select(EdgeRow)
        .where(col(EdgeRow.cut_id).in_([cut for cut, _ in newest]))
        .order_by(col(EdgeRow.id))
    ).all()
    return [
        Sitting(
            at,
            tuple(
                SlugReading(e.side, e.heading_deg, e.bevel_deg, e.u_deg, e.cut_id)
                for e in edges
                if e.cut_id == cut
            ),
        )
        for cut, at in reversed(newest)
    ]
