"""``orthotome.advice``, version 1: what to cut next, or that it is square, or who to hand off to."""

from typing import Literal

from pydantic import ConfigDict

from orthotome.core.edge.edges import Side
from orthotome.core.trial import advice as answers
from orthotome.core.trial import campaign as core
from orthotome.formats.reading import WrittenModel


class DrossAdvice(WrittenModel):
    """Dross to expect."""

    kind: core.DrossKind
    grade: int


class ExpectedAdvice(WrittenModel):
    """Means over headings, with the standard deviation of one edge."""

    bevel_right_deg: float
    bevel_left_deg: float
    bevel_sd_deg: float
    dross: tuple[DrossAdvice, ...]


class RecommendedAdvice(WrittenModel):
    """The setting believed in most."""

    speed_mm_min: float
    cut_height_mm: float
    arc_voltage_v: float | None
    probability_pass: float
    expected: ExpectedAdvice


class NextCutAdvice(WrittenModel):
    """A cut to make; a strip names its heading."""

    piece: core.PieceKind
    speed_mm_min: float
    cut_height_mm: float
    why: str
    heading_deg: float | None = None


class HandOffAdvice(WrittenModel):
    """What will cure it, where no speed or height will."""

    code: str
    why: str


class FindingAdvice(WrittenModel):
    """Something else the evidence says; its figures stand beside code and why."""

    model_config = ConfigDict(extra="allow")

    code: str
    why: str


class ReadAgainAdvice(WrittenModel):
    """An edge to read once more before anything else is cut."""

    cut: str
    side: Side
    heading_deg: float
    why: str


class AdviceFile(WrittenModel):
    """The answer to a campaign."""

    format: Literal["orthotome.advice"] = "orthotome.advice"
    version: Literal[1] = 1
    status: answers.Status
    recommended: RecommendedAdvice | None
    next_cuts: tuple[NextCutAdvice, ...]
    findings: tuple[FindingAdvice, ...]
    hand_off: HandOffAdvice | None
    read_again: tuple[ReadAgainAdvice, ...] = ()


class RefusedAdvice(WrittenModel):
    """The answer, in a stream, to a line that cannot be used."""

    format: Literal["orthotome.advice"] = "orthotome.advice"
    version: Literal[1] = 1
    error: str


def advice_to_file(advice: answers.Advice) -> AdviceFile:
    """The open file of an advice. Figures are rounded to what they can mean.

    The rounding also makes the answer the same on machines whose last bits differ.
    """
    r = advice.recommended
    return AdviceFile(
        status=advice.status,
        recommended=None if r is None else _recommended(r),
        next_cuts=tuple(
            NextCutAdvice(
                piece=n.piece,
                speed_mm_min=round(n.speed_mm_min, 1),
                cut_height_mm=round(n.cut_height_mm, 3),
                why=n.why,
                heading_deg=n.heading_deg,
            )
            for n in advice.next_cuts
        ),
        findings=tuple(
            FindingAdvice(code=f.code, why=f.why, **{k: round(v, 2) for k, v in f.numbers.items()})
            for f in advice.findings
        ),
        hand_off=None
        if advice.hand_off is None
        else HandOffAdvice(code=advice.hand_off.code, why=advice.hand_off.why),
        read_again=tuple(ReadAgainAdvice(**vars(r)) for r in advice.read_again),
    )


def _recommended(r: answers.Recommended) -> RecommendedAdvice:
    return RecommendedAdvice(
        speed_mm_min=round(r.speed_mm_min, 1),
        cut_height_mm=round(r.cut_height_mm, 3),
        arc_voltage_v=None if r.arc_voltage_v is None else round(r.arc_voltage_v, 1),
        probability_pass=round(r.probability_pass, 3),
        expected=expected_to_file(r.expected),
    )


def expected_to_file(e: answers.Expected) -> ExpectedAdvice:
    """What a setting is expected to give."""
    return ExpectedAdvice(
        bevel_right_deg=round(e.bevel_right_deg, 2),
        bevel_left_deg=round(e.bevel_left_deg, 2),
        bevel_sd_deg=round(e.bevel_sd_deg, 2),
        dross=tuple(DrossAdvice(kind=d.kind, grade=d.grade) for d in e.dross),
    )
