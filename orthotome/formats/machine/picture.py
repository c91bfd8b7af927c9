"""Photos: decoded whole before they are believed, whatever their first bytes or their name say."""

import io
import warnings

from orthotome.formats.reading import FileError

_TYPES = {"PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp"}
MOST_PIXELS = 60_000_000  # more than any phone's camera


def picture_type(content: bytes) -> str:
    """The media type of a picture that can be seen. Raises FileError in words for anything else."""
    from PIL import Image, UnidentifiedImageError  # noqa: PLC0415 (only where a photo comes in)

    Image.MAX_IMAGE_PIXELS = None  # the limit is our own, and said in words
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(content), formats=tuple(_TYPES)) as picture:
                if picture.width * picture.height > MOST_PIXELS:
                    raise FileError(
                        f"photo: has {picture.width * picture.height / 1e6:.0f} million points, at most "
                        f"{MOST_PIXELS // 1_000_000} can be shown."
                    )
                kind = picture.format or ""
                picture.load()
    except UnidentifiedImageError:
        raise FileError("photo: is no PNG, JPEG or WebP picture.") from None
    except (OSError, SyntaxError, ValueError, EOFError) as broken:
        if isinstance(broken, FileError):
            raise
        raise FileError("photo: is damaged, it cannot be seen whole: take or send it again.") from None
    return _TYPES[kind]
