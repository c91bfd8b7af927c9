"""All that is known of a trouble, gathered for who was not there."""

from pathlib import Path

from sqlmodel import Session

from orthotome.core.trial.in_a_line import begun_with, cut_says
from orthotome.core.trouble import causes, complaints
from orthotome.core.trouble.questions import QUESTIONS, answer_words
from orthotome.desk.machine.health import health_lines
from orthotome.desk.trouble.diagnosed import Diagnosed
from orthotome.formats.trial.campaign import campaign_to_file
from orthotome.formats.trouble.help_pack import HelpPack
from orthotome.store.bench import campaigns
from orthotome.store.clock import now
from orthotome.store.log import photo_files, photos
from orthotome.store.log.cuts import LoggedCut, logged_cuts
from orthotome.store.shop import shop
from orthotome.store.tables import TroubleCaseRow
from orthotome.store.torch import fittings
from orthotome.store.trouble import cases

_MOST_TRIED, _MOST_PICTURES = 8, 4


def help_pack(session: Session, table_id: int, of: Diagnosed, photos_in: Path) -> HelpPack:
    """The page: the trial on the Bench and what is fitted, what was seen and tried, what it may be, and what it was before."""
    trial = shop.bench_trial(session, table_id)
    tried = [c for c in logged_cuts(session, trial.id or 0) if c.counts] if trial else []
    return HelpPack(
        table=shop.table(session, table_id).name,
        at=now(),
        complaint=complaints.FACTS[of.complaint].words,
        setting=_setting(session, table_id),
        told=[(QUESTIONS[code].words, answer_words(answer)) for code, answer in of.answered.items()],
        known=[(QUESTIONS[k.code].words, f"{answer_words(k.answer)} ({k.source})") for k in of.records],
        tried=[(f"Cut {c.row.number}:", cut_says(c.cut)) for c in tried[-_MOST_TRIED:]],
        causes=[(causes.FACTS[s.cause].title, s.chance) for s in of.found.causes],
        health=[(f"{h.label}:", h.known.figure) for h in health_lines(session, table_id) if h.known],
        solved=[_solved(row) for row in cases.cases(session, of.complaint)],
        pictures=_pictures(session, tried, photos_in),
    )


def trial_file(session: Session, table_id: int) -> str:
    """The trial on the Bench as an open file; empty where none is there."""
    trial = shop.bench_trial(session, table_id)
    if trial is None:
        return ""
    file = campaign_to_file(campaigns.with_history(session, trial))
    return file.model_dump_json(exclude_none=True, indent=2)


def _setting(session: Session, table_id: int) -> list[tuple[str, str]]:
    fitted = fittings.fitted(session, table_id)
    said = [("Parts:", f"{fitted.parts.name}, {fitted.starts} starts on the electrode")]
    trial = shop.bench_trial(session, table_id)
    if trial is not None:
        said.append(("Begun with:", begun_with(campaigns.campaign_of(session, trial))))
    return said


def _solved(row: TroubleCaseRow) -> str:
    title = next(f.title for c, f in causes.FACTS.items() if c == row.cause)
    return f"{row.solved_at:%Y-%m-%d}: {title}{f', {row.note}' if row.note else ''}"


def _pictures(session: Session, tried: list[LoggedCut], folder: Path) -> list[tuple[str, bytes]]:
    """The newest pictures of what was cut, with what each shows; one whose file was not brought along is left out."""
    of_cuts = photos.of_cuts(session, [c.row.id for c in tried])
    numbers = {c.row.id or 0: c.row.number for c in tried}
    found = []
    for cut_id in sorted(of_cuts, reverse=True):
        for row in of_cuts[cut_id]:
            name = f"Cut {numbers[cut_id]}{f': {row.caption}' if row.caption else ''}"
            if photo_files.is_there(folder, row.digest):
                found.append((name, photo_files.content_of(folder, row.digest, "picture")))
    return found[:_MOST_PICTURES]
