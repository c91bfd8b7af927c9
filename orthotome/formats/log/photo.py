"""Photos: decoded whole before they are believed, turned upright, and written anew without where they were taken.

What comes in may be any phone's. What is kept is a JPEG of our own, with nothing in it but the picture.
"""

import io
import warnings
from dataclasses import dataclass
from typing import TYPE_CHECKING

from orthotome.formats.reading import FileError

if TYPE_CHECKING:
    from PIL.Image import Image

MEDIA_TYPE = "image/jpeg"
MOST_PIXELS = 60_000_000  # more than any phone's camera
LONGEST_PX = 4096  # of what is kept: finer than any edge is sharp
THUMBNAIL_PX = 360

_KINDS = ("PNG", "JPEG", "WEBP", "HEIF")
_NONE = "photo: is no JPEG, PNG, WebP or HEIC picture, whatever it is called."
_BROKEN = "photo: is damaged, it cannot be seen whole: take or send it again."


@dataclass(frozen=True)
class Photo:
    """A photo as it is kept: upright, with its thumbnail. Both are JPEG."""

    picture: bytes
    thumbnail: bytes
    width_px: int
    height_px: int


def read_photo(content: bytes) -> Photo:
    """A photo from what a camera or a screen made of it. Raises FileError in words for anything else.

    No more than the size of a picture is believed before it is decoded: one that would unfold to more than is
    allowed is refused unread.
    """
    from PIL import Image, UnidentifiedImageError  # noqa: PLC0415 (only where a photo comes in)
    from pillow_heif import register_heif_opener  # noqa: PLC0415

    register_heif_opener()
    Image.MAX_IMAGE_PIXELS = None  # the limit is our own, and said in words
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(content), formats=_KINDS) as sent:
                _check_size(sent)
                return _kept(sent)
    except UnidentifiedImageError:
        raise FileError(_NONE) from None
    except FileError:
        raise
    except (OSError, SyntaxError, ValueError, EOFError, RuntimeError):
        raise FileError(_BROKEN) from None


def _check_size(sent: "Image") -> None:
    points = sent.width * sent.height
    if points > MOST_PIXELS:
        raise FileError(
            f"photo: has {points / 1e6:.0f} million points, and at most {MOST_PIXELS // 1_000_000} can be shown: "
            "send a smaller one."
        )


def _kept(sent: "Image") -> Photo:
    """The picture alone, upright: whatever else the file said (place, camera, time) is left behind."""
    from PIL import ImageOps  # noqa: PLC0415

    sent.draft("RGB", (LONGEST_PX, LONGEST_PX))  # a large JPEG is decoded no larger than it is kept
    upright = _flat(ImageOps.exif_transpose(sent))
    upright.thumbnail((LONGEST_PX, LONGEST_PX))
    small = upright.copy()
    small.thumbnail((THUMBNAIL_PX, THUMBNAIL_PX))
    return Photo(_jpeg(upright, 85), _jpeg(small, 75), *upright.size)


def _flat(picture: "Image") -> "Image":
    """Without transparency, which JPEG does not know: what lies behind is white."""
    from PIL import Image  # noqa: PLC0415

    if "A" not in picture.mode and "transparency" not in picture.info:
        return picture.convert("RGB")
    seen = picture.convert("RGBA")
    paper = Image.new("RGB", seen.size, "white")
    paper.paste(seen, mask=seen.getchannel("A"))
    return paper


def _jpeg(picture: "Image", quality: int) -> bytes:
    written = io.BytesIO()
    plain = picture.copy()
    plain.info = {}
    plain.save(written, "JPEG", quality=quality)
    return written.getvalue()
