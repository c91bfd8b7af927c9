"""Torch sets, what is fitted, and how the jet stands, as answers on the wire."""

import json
from typing import TYPE_CHECKING

from sqlmodel import Session

from orthotome.api.torch import models
from orthotome.core.edge.edges import Swirl, outward_normal_deg
from orthotome.core.pieces.rounds import slug_says
from orthotome.core.torch.counts import Counts
from orthotome.desk.torch.seats import SeatRead, seats_of, swirl_of
from orthotome.formats.torch.slug import MountFile, alignment_to_file
from orthotome.store.shop import shop
from orthotome.store.tables import FittingRow, SlugRow, TorchSetRow
from orthotome.store.torch import fittings, mounts

if TYPE_CHECKING:
    from orthotome.core.torch.alignment import SlugReading
    from orthotome.core.torch.seat import Moved


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
    seats = [_seat(seat) for seat in seats_of(session, table_id)]
    on_bench = shop.bench_trial(session, table_id)
    return models.TorchAnswer(
        table=table.name,
        swirl_known=swirl_of(session, table_id)[1],
        mount=MountFile.model_validate(
            {"axes": json.loads(mount.axes), "turns_about_itself": mount.turns_about_itself}
        ),
        target_deg=mount.target_deg,
        thickness_mm=on_bench.thickness_mm if on_bench else None,
        slug_says=slug_says(),
        now=seats[0],
        earlier=[s for s in seats[1:] if s.readings],
    )


def _seat(seat: SeatRead) -> models.SeatAnswer:
    pieces = {r.piece for r in seat.believed}
    return models.SeatAnswer(
        id=seat.row.id or 0,
        seated_at=seat.row.fitted_at,
        alignment=alignment_to_file(seat.alignment) if seat.alignment else None,
        in_words=seat.in_words,
        known_to_deg=seat.known_to_deg,
        squares=sum(p > 0 for p in pieces),
        read_slugs=sum(p < 0 for p in pieces),
        readings=len(seat.believed),
        moved=_moved(seat.moved, seat) if seat.moved else None,
        slugs=[_slug(s, seat.swirl) for s in seat.slugs],
    )


def _moved(moved: "Moved", seat: SeatRead) -> models.MovedAnswer:
    since = (s.id for s in reversed(seat.slugs) if not s.struck_out and s.read_at >= moved.at)
    return models.MovedAnswer(
        at=moved.at,
        says=moved.says,
        slug_id=next(since, None),
        lean_deg=round(moved.before.lean_deg, 2),
        toward_deg=round(moved.before.toward_deg, 1) % 360.0,
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
