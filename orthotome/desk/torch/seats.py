"""How a torch sits in its mount: seat by seat, by all that was read in it."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from sqlmodel import Session

from orthotome.core.edge.edges import Swirl
from orthotome.store.log.lean import squares_of_seat
from orthotome.store.tables import FittingRow, MountRow, SlugRow
from orthotome.store.torch import fittings, mounts, sets

if TYPE_CHECKING:
    from orthotome.core.torch.alignment import Alignment, SlugReading
    from orthotome.core.torch.seat import Moved

SEATS_SHOWN = 6


@dataclass(frozen=True)
class SeatRead:
    """One seat with all that was read in it, and what is believed of that; ``alignment`` None: nothing was read."""

    row: FittingRow
    slugs: Sequence[SlugRow]
    target_deg: float
    swirl: Swirl
    in_words: str
    alignment: "Alignment | None" = None
    known_to_deg: float | None = None
    believed: "tuple[SlugReading, ...]" = ()
    moved: "Moved | None" = None


def swirl_of(session: Session, table_id: int) -> tuple[Swirl, bool]:
    """The hand of the swirl of the set that is fitted, and whether one is noted at all."""
    set_id = fittings.fitted(session, table_id).torch_set_id
    if set_id is None:
        return "clockwise", False
    return sets.torch_set(session, set_id).swirl, True


def seats_of(session: Session, table_id: int, most: int = SEATS_SHOWN) -> list[SeatRead]:
    """The seats of a table's torch, the one that it has now first."""
    mount, (swirl, _) = mounts.mount_of(session, table_id), swirl_of(session, table_id)
    slugs = mounts.slugs_of(session, table_id)
    return [
        _seat(session, row, [s for s in slugs if s.mount_id == row.id], mount, swirl)
        for row in mounts.mounts_of(session, table_id)[:most]
    ]


def seat_now(session: Session, table_id: int) -> SeatRead:
    """The seat that a table's torch has now."""
    return seats_of(session, table_id, 1)[0]


def _seat(
    session: Session, row: FittingRow, slugs: Sequence[SlugRow], mount: MountRow, swirl: Swirl
) -> SeatRead:
    from orthotome.core.torch.alignment import KNOWN, in_words  # noqa: PLC0415 (start-up time)
    from orthotome.core.torch.seat import Sitting, seat_of  # noqa: PLC0415

    kept = [s for s in slugs if not s.struck_out]
    # Squares are told apart by their ids.
    read = [
        *squares_of_seat(session, row.id or 0),
        *(
            Sitting(s.read_at, tuple(mounts.slug_readings(s, piece=-1 - n)), slug=True)
            for n, s in enumerate(kept)
        ),
    ]
    found = seat_of(read, swirl, mount.target_deg, mounts.as_core(mount))
    if found is None:
        said = "Nothing was read in this seat yet: cut a round slug and read its edge all the way round."
        return SeatRead(row, slugs, mount.target_deg, swirl, said)
    return SeatRead(
        row,
        slugs,
        mount.target_deg,
        swirl,
        in_words(found.alignment, mount.target_deg),
        found.alignment,
        KNOWN * found.alignment.sd_deg,
        found.believed,
        found.moved,
    )
