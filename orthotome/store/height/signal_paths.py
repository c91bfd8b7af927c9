"""The signal path of a table with its history."""

from collections.abc import Sequence

from sqlmodel import Session, col, select

from orthotome.core.height.signal_path import SignalPath
from orthotome.store import changes
from orthotome.store.shop import shop
from orthotome.store.tables import SignalPathRow
from orthotome.store.torch import fittings


def signal_paths(session: Session, table_id: int) -> Sequence[SignalPathRow]:
    """The signal paths of a table, newest first: the first is in force."""
    shop.table(session, table_id)
    query = select(SignalPathRow).where(SignalPathRow.table_id == table_id)
    return session.exec(query.order_by(col(SignalPathRow.id).desc())).all()


def set_signal_path(
    session: Session,
    table_id: int,
    path: SignalPath,
    *,
    seen: tuple[float, float] | None,
    note: str,
) -> SignalPathRow:
    """Put a signal path in force. Volts from before are then another series: trials are judged anew.

    Writing down what the path always was (the first entry of a table) begins no new series.
    """
    before = signal_paths(session, table_id)
    fitting = fittings.fitted(session, table_id).signal
    if before:
        fitting = fittings.fit(session, table_id, "signal")
    true_v, screen_v = seen or (None, None)
    row = SignalPathRow(
        table_id=table_id,
        fitting_id=fitting.id or 0,
        source_ratio=path.source_ratio,
        card_ratio=path.card_ratio,
        multiplier=path.multiplier,
        true_v=true_v,
        screen_v=screen_v,
        note=note,
        set_by=changes.person(session),
    )
    session.add(row)
    session.flush()
    return row
