"""Asking somebody else: all that is known of a trouble on one page, and in one file with the trial and its pictures."""

import json
from typing import Annotated

from fastapi import Query
from fastapi.responses import Response
from pydantic import Field
from sqlmodel import Session

from orthotome.api.depends import Reading, Store, TheJudge
from orthotome.api.routing import room
from orthotome.api.trouble.routes import TroubleAnswer, TroubleRequest, case_answer, find_cause
from orthotome.api.wire import Id, Wire
from orthotome.core.edge.edges import farthest_from_square
from orthotome.core.quantities import length, seconds, speed, thickness, volts
from orthotome.core.stock.metals import metal_named
from orthotome.core.trial.campaign import Cut
from orthotome.desk.machine.health import health_lines
from orthotome.formats.reading import read_json
from orthotome.formats.trial.campaign import campaign_to_file
from orthotome.formats.trouble.help_pack import HelpPack, write_help_file, write_help_page
from orthotome.store.bench import campaigns
from orthotome.store.clock import now
from orthotome.store.log import photo_files, photos
from orthotome.store.log.cuts import LoggedCut, logged_cuts
from orthotome.store.shop import shop
from orthotome.store.tables import Trial
from orthotome.store.torch import fittings
from orthotome.store.trouble import cases

router = room("trouble")

_MOST_TRIED, _MOST_PICTURES = 8, 4


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
    table_id: Id,
    session: Reading,
    store: Store,
    judge: TheJudge,
    asked: Annotated[HelpQuery, Query()],
) -> Response:
    """All of it on one page, for a supplier or a friend."""
    pack = _pack(
        session, store, table_id, find_cause(table_id, asked.request(), session, judge), asked.complaint
    )
    return Response(write_help_page(pack), media_type="application/pdf")


@router.get("/tables/{table_id}/trouble.zip")
def get_help_file(
    table_id: Id,
    session: Reading,
    store: Store,
    judge: TheJudge,
    asked: Annotated[HelpQuery, Query()],
) -> Response:
    """The same page with the trial on the Bench as an open file, and the pictures of its last cuts, in one file."""
    pack = _pack(
        session, store, table_id, find_cause(table_id, asked.request(), session, judge), asked.complaint
    )
    trial = shop.bench_trial(session, table_id)
    campaign = ""
    if trial is not None:
        file = campaign_to_file(campaigns.with_history(session, trial))
        campaign = file.model_dump_json(exclude_none=True, indent=2)
    headers = {"content-disposition": 'attachment; filename="trouble.zip"'}
    return Response(write_help_file(pack, campaign), media_type="application/zip", headers=headers)


def _pack(
    session: Session, store: Store, table_id: int, found: TroubleAnswer, complaint: str
) -> HelpPack:
    trial = shop.bench_trial(session, table_id)
    tried = [c for c in logged_cuts(session, trial.id or 0) if c.counts] if trial else []
    rows = [case_answer(c) for c in cases.cases(session, complaint)]
    return HelpPack(
        table=shop.table(session, table_id).name,
        at=now(),
        complaint=found.words,
        setting=_setting(session, table_id, trial),
        told=[(s.question, s.answer) for s in found.told],
        known=[(s.question, f"{s.answer} ({s.source})") for s in found.known],
        tried=[(f"Cut {c.row.number}:", _tried(c.cut)) for c in tried[-_MOST_TRIED:]],
        causes=[(c.title, c.chance) for c in found.causes],
        health=[(f"{h.label}:", h.known.figure) for h in health_lines(session, table_id) if h.known],
        solved=[f"{c.solved_at:%Y-%m-%d}: {c.cause}{f', {c.note}' if c.note else ''}" for c in rows],
        pictures=_pictures(session, store, tried),
    )


def _setting(session: Session, table_id: int, trial: Trial | None) -> list[tuple[str, str]]:
    """What is on the bench and in the torch."""
    fitted = fittings.fitted(session, table_id)
    said = [("Parts:", f"{fitted.parts.name}, {fitted.starts} starts on the electrode")]
    if trial is not None:
        plate = f"{thickness(trial.thickness_mm, trial.metal)} {metal_named(trial.metal).label}"
        seen = "volts not known" if trial.arc_voltage_v is None else volts(trial.arc_voltage_v)
        numbers = [speed(trial.speed_mm_min), f"cut height {length(trial.cut_height_mm)}", seen]
        numbers += [f"pierce at {length(trial.pierce_height_mm)} for {seconds(trial.pierce_delay_s)}"]
        said.append(("Begun with:", f"{plate}: {', '.join(numbers)}"))
    return said


def _tried(cut: Cut) -> str:
    """One cut that was tried, with what came of it."""
    seen = "volts not read" if cut.arc_voltage_v is None else volts(cut.arc_voltage_v)
    said = [f"{speed(cut.speed_mm_min)} at {length(cut.cut_height_mm)}", seen]
    worst = farthest_from_square(e.bevel_deg for e in cut.edges)
    if worst is not None:
        said.append(f"worst edge {worst:+.1f}°")
    grade = cut.bottom_grade
    said.append("underside not looked at" if grade is None else f"dross grade {grade}")
    return ", ".join(said)


def _pictures(session: Session, store: Store, tried: list[LoggedCut]) -> list[tuple[str, bytes]]:
    """The newest pictures of what was cut, with what each shows; one whose file was not brought along is left out."""
    folder = photo_files.folder_of(store.database.path)
    of_cuts = photos.of_cuts(session, [c.row.id for c in tried])
    numbers = {c.row.id or 0: c.row.number for c in tried}
    found = []
    for cut_id in sorted(of_cuts, reverse=True):
        for row in of_cuts[cut_id]:
            name = f"Cut {numbers[cut_id]}{f': {row.caption}' if row.caption else ''}"
            if photo_files.is_there(folder, row.digest):
                found.append((name, photo_files.content_of(folder, row.digest, "picture")))
    return found[:_MOST_PICTURES]
