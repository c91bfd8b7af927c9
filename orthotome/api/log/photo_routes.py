"""Photos of cuts: taking them in, showing them, and measuring on them."""

from pathlib import Path
from typing import Annotated

from fastapi import Query
from fastapi.responses import Response

from orthotome.api.bodies import PICTURE_TYPES, PictureBody, takes
from orthotome.api.depends import Reading, Store
from orthotome.api.log import answers, models
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.core.edge import on_photo
from orthotome.core.errors import TradeError
from orthotome.desk.working.apart import apart
from orthotome.formats.log.photo import MEDIA_TYPE, read_photo
from orthotome.store.errors import NotFound
from orthotome.store.log import photo_files, photos

router = room("log")

# A photo never changes, and its address holds its digest: a screen that has it need not ask again. An address without one
# may lead to another photo after a restore, and is asked each time.
_KEPT_BY_SCREENS = {"cache-control": "private, max-age=31536000, immutable"}


CutId = Annotated[Id | None, Query()]
LogKey = Annotated[str, Query(max_length=80)]


@router.post("/trials/{trial_id}/photos", status_code=201, openapi_extra=takes(*PICTURE_TYPES))
def add_photo(
    trial_id: Id, body: PictureBody, database: Store, cut_id: CutId = None, log_key: LogKey = ""
) -> models.PhotoAnswer:
    """A photo from any phone, of a cut or of one being logged under ``log_key``: turned upright, written anew, without
    where it was taken."""
    of = _of(cut_id, log_key)
    with database.database.read() as session:  # a picture of nothing is not worth reading
        photos.known(session, trial_id, of)
    found = apart("photo", read_photo, body)
    digest = photo_files.keep(_folder(database), found)
    with database.write() as session:
        return answers.photo(photos.add(session, trial_id, of, digest, found))


@router.get("/trials/{trial_id}/photos")
def get_photos(
    trial_id: Id, session: Reading, cut_id: CutId = None, log_key: LogKey = ""
) -> list[models.PhotoAnswer]:
    """The photos of a cut, or of one being logged."""
    return [answers.photo(p) for p in photos.known(session, trial_id, _of(cut_id, log_key))]


def _of(cut_id: int | None, log_key: str) -> photos.Of:
    if (cut_id is None) == (log_key == ""):
        raise TradeError("log_key", "say what the photo is of: a logged cut, or the log it belongs to.")
    return photos.Of(cut_id, log_key)


@router.get("/photos/{photo_id}/{size}")
def get_picture(
    photo_id: Id,
    size: photo_files.Size,
    session: Reading,
    database: Store,
    digest: Annotated[str, Query(max_length=64)] = "",
) -> Response:
    """A photo's picture, or its thumbnail; with its ``digest``, that one and no other."""
    found = photos.photo(session, photo_id).digest
    if digest and digest != found:
        raise NotFound("Another photo has that number now: look at the cut again.", "digest")
    content = photo_files.content_of(_folder(database), found, size)
    return Response(content, media_type=MEDIA_TYPE, headers=_KEPT_BY_SCREENS if digest else None)


@router.put("/photos/{photo_id}/caption")
def caption_photo(photo_id: Id, request: models.CaptionRequest, database: Store) -> models.PhotoAnswer:
    """Say what a photo shows."""
    with database.write() as session:
        return answers.photo(photos.caption(session, photo_id, request.caption))


@router.put("/photos/{photo_id}/struck", status_code=204)
def strike_photo(photo_id: Id, database: Store, out: Annotated[bool, Query()] = True) -> None:
    """Take a photo away from its cut, or put it back."""
    with database.write() as session:
        photos.strike(session, photo_id, out=out)


@router.post("/photos/measured")
def measure(request: models.MeasureRequest) -> models.MeasureAnswer:
    """An angle or a width tapped on a photo, with its uncertainty."""
    u_px = request.u_px
    if request.what == "bevel":
        bevel = on_photo.bevel_on_photo(request.base, request.line, request.side, u_px)
        return models.MeasureAnswer(deg=bevel.bevel_deg, u_deg=bevel.u_deg)
    if request.what == "lag":
        lag = on_photo.lag_on_photo(request.base, request.line, request.side, u_px)
        return models.MeasureAnswer(deg=lag.bevel_deg, u_deg=lag.u_deg)
    scale = on_photo.scale_of(request.base, request.known_mm or 0.0, u_px)
    width = on_photo.kerf_on_photo(request.line, scale, u_px)
    return models.MeasureAnswer(mm=width.mm, u_mm=width.u_mm)


def _folder(database: Store) -> Path:
    return photo_files.folder_of(database.database.path)
