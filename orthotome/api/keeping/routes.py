"""Backups of the records: making one, taking it elsewhere, bringing one in, and restoring it."""

import tempfile
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated, cast

from fastapi import Depends, Request
from fastapi.responses import FileResponse
from starlette.concurrency import run_in_threadpool

from orthotome.api.depends import TheLines
from orthotome.api.keeping import models
from orthotome.api.routing import room
from orthotome.desk.working.journal import journal
from orthotome.store.database import Database
from orthotome.store.errors import Refused
from orthotome.store.keeping import backups
from orthotome.store.keeping.files import RECEIVING, Unusable
from orthotome.store.keeping.restoring import restore

router = room("keeping", in_the_shops_units=False)


def _path(request: Request) -> Path:
    return cast(Database, request.app.state.database).path


Records = Annotated[Path, Depends(_path)]


@router.get("/backups")
def get_backups(records: Records, request: Request) -> models.KeptAnswer:
    """The backups there are, newest first."""
    daily = getattr(request.app.state, "daily", None)
    return models.KeptAnswer(
        folder=str(backups.folder_of(records.absolute())),
        trouble=daily.trouble if daily else "",
        clock=backups.dated_ahead(records, datetime.now(UTC)),
        backups=[_answer(b) for b in backups.backups(records)],
    )


@router.post("/backups", status_code=201)
def make_backup(records: Records) -> models.BackupAnswer:
    """Make a backup now, also while others write; it is opened and checked before this answers."""
    try:
        return _answer(backups.make(records, "by_hand"))
    except Unusable as found:
        raise Refused(backups.in_words(found), "backup") from None


@router.get("/backups/{name}/file")
def get_backup_file(name: str, records: Records) -> FileResponse:
    """A backup, to keep somewhere else."""
    found = backups.backup_named(records, name)
    return FileResponse(found.path, media_type="application/vnd.sqlite3", filename=found.name)


@router.post(
    "/backups/brought-in",
    status_code=201,
    openapi_extra={"requestBody": {"required": True, "content": {"application/vnd.sqlite3": {}}}},
)
async def bring_in(request: Request, records: Records) -> models.BackupAnswer:
    """Take in a backup from a file; it is opened and checked, and restored only once that is asked for."""
    with tempfile.NamedTemporaryFile(
        dir=records.parent, prefix=f".{records.name}.", suffix=RECEIVING, delete=False
    ) as file:
        received = Path(file.name)
        try:
            async for part in request.stream():
                await run_in_threadpool(file.write, part)
            file.flush()
            return _answer(await run_in_threadpool(backups.bring_in, records, received))
        finally:
            received.unlink(missing_ok=True)


@router.post("/backups/{name}/restored")
async def restore_backup(
    name: str, records: Records, request: Request, lines: TheLines
) -> models.RestoredAnswer:
    """Put what a backup holds in the place of all records; what was there is backed up first. Whoever writes meanwhile
    waits; what is recorded of a live cut ends before it, and is in that backup."""
    found = await run_in_threadpool(backups.backup_named, records, name)
    async with lines.resting():
        kept = await run_in_threadpool(restore, found.path, records, while_open=True)
    cast(Database, request.app.state.database).changed()
    journal.warning(
        "restored %s; what was there before is %s", found.name, kept.name if kept else "none"
    )
    return models.RestoredAnswer(restored=found.name, kept=kept.name if kept else None)


def _answer(backup: backups.Backup) -> models.BackupAnswer:
    return models.BackupAnswer(
        name=backup.name, made_at=backup.made_at, why=backup.why, bytes=backup.bytes
    )
