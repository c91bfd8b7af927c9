"""Asking somebody else: all that is known of a trouble on one page, and in one file with the trial and its pictures."""

import json
from typing import Annotated

from fastapi import Query
from fastapi.responses import Response
from pydantic import Field
from sqlmodel import Session

from orthotome.api.depends import Reading, SignedStore, Store
from orthotome.api.routing import room
from orthotome.api.trouble.routes import TroubleRequest
from orthotome.api.wire import Id, Wire
from orthotome.desk.trouble.diagnosed import diagnosed
from orthotome.desk.trouble.help_of import help_pack, trial_file
from orthotome.formats.reading import read_json
from orthotome.formats.trouble.help_pack import HelpPack, write_help_file, write_help_page
from orthotome.store.log import photo_files

router = room("trouble")


class HelpQuery(Wire):
    """A trouble as it stands; ``facts`` is JSON of what was answered."""

    complaint: Annotated[str, Field(max_length=80)]
    facts: Annotated[str, Field(max_length=8000)] = "{}"
    of_cut: bool = False

    def request(self) -> TroubleRequest:
        """The same as it is asked. Raises FileError for facts that are none."""
        of_cut = json.dumps(self.of_cut)
        body = (
            f'{{"complaint": {json.dumps(self.complaint)}, "facts": {self.facts}, "of_cut": {of_cut}}}'
        )
        return read_json(TroubleRequest, body)


@router.get("/tables/{table_id}/trouble.pdf")
def get_help_page(
    table_id: Id, session: Reading, store: Store, asked: Annotated[HelpQuery, Query()]
) -> Response:
    """All of it on one page, for a supplier or a friend."""
    page = write_help_page(_pack(session, store, table_id, asked.request()))
    return Response(page, media_type="application/pdf")


@router.get("/tables/{table_id}/trouble.zip")
def get_help_file(
    table_id: Id, session: Reading, store: Store, asked: Annotated[HelpQuery, Query()]
) -> Response:
    """The same page with the trial on the Bench as an open file, and the pictures of its last cuts, in one file."""
    pack = _pack(session, store, table_id, asked.request())
    headers = {"content-disposition": 'attachment; filename="trouble.zip"'}
    file = write_help_file(pack, trial_file(session, table_id))
    return Response(file, media_type="application/zip", headers=headers)


def _pack(session: Session, store: SignedStore, table_id: int, asked: TroubleRequest) -> HelpPack:
    of = diagnosed(session, table_id, asked.complaint, asked.facts, of_cut=asked.of_cut)
    return help_pack(session, table_id, of, photo_files.folder_of(store.database.path))
