"""The pictures of photos: files beside the records, each named by its digest, written once and never changed.

They are not part of the records' own file, so that a backup stays as small and as quick as what was logged.
"""

import hashlib
import os
from pathlib import Path
from tempfile import NamedTemporaryFile
from typing import Literal

from orthotome.formats.log.photo import Photo
from orthotome.store.errors import NotFound

Size = Literal["picture", "thumbnail"]


def folder_of(database: Path) -> Path:
    """Where the photos of a database lie: beside it, those of the demo apart."""
    return database.with_name("photos" if database.stem == "orthotome" else f"{database.stem}-photos")


def keep(folder: Path, photo: Photo) -> str:
    """Write a photo's files where they are not there yet; its digest. Once this returns they are on disk."""
    digest = hashlib.sha256(photo.picture).hexdigest()
    for size, content in (("thumbnail", photo.thumbnail), ("picture", photo.picture)):
        _write(_path(folder, digest, size), content)  # type: ignore[arg-type]
    return digest


def content_of(folder: Path, digest: str, size: Size) -> bytes:
    """A photo's picture or thumbnail. Raises NotFound where the files were not brought along with the records."""
    try:
        return _path(folder, digest, size).read_bytes()
    except OSError:
        raise NotFound(
            "The picture itself is not here: the photos folder was not brought along with the records.",
            "photo_id",
        ) from None


def is_there(folder: Path, digest: str) -> bool:
    """Whether a photo's picture was brought along with the records."""
    return _path(folder, digest, "picture").exists()


def copy_missing(source: Path, target: Path) -> int:
    """Copy the pictures that a folder does not have yet, since none of them ever changes; how many there were."""
    copied = 0
    for path in source.glob("??/*.jpg") if source.is_dir() else ():
        to = target / path.parent.name / path.name
        if not to.exists():
            _write(to, path.read_bytes())
            copied += 1
    return copied


def _path(folder: Path, digest: str, size: Size) -> Path:
    return folder / digest[:2] / f"{digest}{'-small' if size == 'thumbnail' else ''}.jpg"


def _write(path: Path, content: bytes) -> None:
    if path.exists():
        return
    path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    # Two screens may send the same picture at once: each writes a file of its own, and the last one stays.
    with NamedTemporaryFile(dir=path.parent, suffix=".making", delete=False) as file:
        making = Path(file.name)  # its owner's only
        file.write(content)
        file.flush()
        os.fsync(file.fileno())
    making.replace(path)
