"""Torch sets, what is fitted, and how the jet stands, as answers on the wire."""

import json
from collections.abc import Sequence
from typing import TYPE_CHECKING

from sqlmodel import Session

from orthotome.api.torch import models
from orthotome.core.edge.edges import Swirl, outward_normal_deg
from orthotome.core.pieces.rounds import slug_says
from orthotome.core.torch.counts import Counts
from orthotome.formats.torch.slug import MountFile, alignment_to_file
from orthotome.store.log.lean import squares_of_seat
from orthotome.store.shop import shop
from orthotome.store.tables import FittingRow, MountRow, SlugRow, TorchSetRow
from orthotome.store.torch import fittings, mounts, sets

if TYPE_CHECKING:
    from orthotome.core.torch.alignment import SlugReading

_SEATS_SHOWN = 6


def torch_set(row: TorchSetRow) -> models.TorchSetAnswer:
    """A torch set."""
    return models.TorchSetAnswer.model_validate(row, from_attributes=True)


def fitting(row: FittingRow, now: fittings.Fitted) -> models.FittingAnswer:
    """One thing as it is fitted now; of parts with what the electrode has done."""
    done = now.counts["electrode"] if row.kind == "parts" else Counts()
    known = row.model_dump(include=set(models.FittingAnswer.model_fields))
    return models.FittingAnswer(**known, starts=done.starts, arc_on_s=done.arc_on_s)


def torch(session: Session, table_id: int) -> models.TorchAnswer:
    """The torch of a table."""
    table, mount = shop.table(session, table_id), mounts.mount_of(session, table_id)
    set_id = fittings.fitted(session, table_id).torch_set_id
    swirl: Swirl = "clockwise" if set_id is None else sets.torch_set(session, set_id).swirl  # type: ignore[assignment]
    slugs = mounts.slugs_of(session, table_id)
    seats = [
        _seat(session, seat, [s for s in slugs if s.mount_id == seat.id], mount, swirl)
        for seat in mounts.mounts_of(session, table_id)[:_SEATS_SHOWN]
    ]
    on_bench = shop.bench_trial(session, table_id)
    return models.TorchAnswer(
        table=table.name,
        swirl_known=set_id is not None,
        mount=MountFile.model_validate(
            {"axes": json.loads(mount.axes), "turns_about_itself": mount.turns_about_itself}
        ),
        target_deg=mount.target_deg,
        thickness_mm=on_bench.thickness_mm if on_bench else None,
        slug_says=slug_says(),
        now=seats[0],
        earlier=[s for s in seats[1:] if s.readings],
    )


def _seat(
    session: Session, seat: FittingRow, slugs: Sequence[SlugRow], mount: MountRow, swirl: Swirl
) -> models.SeatAnswer:
    from orthotome.core.torch.alignment import KNOWN, in_words  # noqa: PLC0415 (start-up time)
    from orthotome.core.torch.seat import Sitting, seat_of  # noqa: PLC0415

    squares = squares_of_seat(session, seat.id or 0)
    kept = [s for s in slugs if not s.struck_out]
    # Squares are told apart by their ids.
    read = [
        *squares,
        *(
            Sitting(s.read_at, tuple(mounts.slug_readings(s, piece=-1 - n)), slug=True)
            for n, s in enumerate(kept)
        ),
    ]
    found = seat_of(read, swirl, mount.target_deg, mounts.as_core(mount))
    if found is None:
        said = "Nothing was read in this seat yet: cut a round slug and read its edge all the way round."
        believed: tuple[SlugReading, ...] = ()
    else:
        said, believed = in_words(found.alignment, mount.target_deg), found.believed
    moved = found.moved if found else None
    pieces = {r.piece for r in believed}
    return models.SeatAnswer(
        id=seat.id or 0,
        seated_at=seat.fitted_at,
        alignment=alignment_to_file(found.alignment) if found else None,
        in_words=said,
        known_to_deg=KNOWN * found.alignment.sd_deg if found else None,
        squares=sum(p > 0 for p in pieces),
        read_slugs=sum(p < 0 for p in pieces),
        readings=len(believed),
        moved=moved
        and models.MovedAnswer(
            at=moved.at,
            says=moved.says,
            slug_id=next((s.id for s in reversed(kept) if s.read_at >= moved.at), None),
            lean_deg=round(moved.before.lean_deg, 2),
            toward_deg=round(moved.before.toward_deg, 1) % 360.0,
        ),
        slugs=[_slug(s, swirl) for s in slugs],
    )


def _slug(row: SlugRow, swirl: Swirl) -> models.SlugAnswer:
    from orthotome.core.torch.alignment import Mount, align  # noqa: PLC0415 (start-up time)

    read: list[SlugReading] = mounts.slug_readings(row, piece=1)
    alone = align(read, swirl, 0.5, Mount())
    return models.SlugAnswer(
        **row.model_dump(include={"id", "thickness_mm", "read_at", "read_by", "struck_out"}),
        places=[
            models.SlugPlace(
                faces_deg=outward_normal_deg(r.side, r.heading_deg) if r.side != "both" else 0.0,
                bevel_deg=r.bevel_deg,
            )
            for r in read
        ],
        lean_deg=round(alone.lean_deg, 2),
        toward_deg=round(alone.toward_deg, 1) % 360.0,
    )
