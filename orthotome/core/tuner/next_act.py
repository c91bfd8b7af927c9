"""What to cut now: the one answer that the Bench shows, the program cuts, and a simulated table makes."""

from dataclasses import replace

from orthotome.core.book.start_rows import StartValues
from orthotome.core.setting import Setting
from orthotome.core.trial.advice import STATUS_WORDS, ActKind, NextAct
from orthotome.core.trial.opening import nothing_known, opening_ladder
from orthotome.core.tuner.advise import Judgement
from orthotome.core.tuner.reasons import speaks_for


def next_act(judgement: Judgement) -> NextAct:
    """What to do at the table now.

    Of a metal that nothing is known of, a coarse ladder; else what is advised, else (proven) what is
    recommended. After a hand-off the last setting is cut again, once its cause is put right.
    """
    advice, campaign = judgement.advice, judgement.learned.campaign
    if nothing_known(campaign) and judgement.proven is None:
        ladder = opening_ladder(campaign.start, campaign.limits)
        return NextAct("ladder", Setting.of(campaign.start), advice.next_cuts[0].why, ladder=ladder)
    best = advice.recommended
    asked = advice.next_cuts[0] if advice.next_cuts else None
    again = campaign.cuts[-1] if campaign.cuts else campaign.start
    setting = Setting.of(asked or best or again)
    volts = again.arc_voltage_v if best is None else None
    if best is not None and setting == Setting.of(best):
        volts = best.arc_voltage_v
    elif best is not None:
        expected = judgement.volts_at(setting)
        volts = None if expected is None else expected[0]
    kind: ActKind = "lock" if advice.status == "square" else "cut"
    was = Setting.of(speaks_for(campaign.cuts)) if campaign.cuts else None
    return NextAct(kind, setting, asked.why if asked else "", volts, was=was)


def dialled_now(judgement: Judgement) -> StartValues:
    """What is to be dialled now: the trial's numbers at the setting that the Bench tells, with the volts seen there."""
    act = next_act(judgement)
    start = judgement.learned.campaign.start
    return replace(start, **vars(act.setting), arc_voltage_v=act.arc_voltage_v)


def heading(judgement: Judgement) -> str:
    """What stands over the advice: of a job that was proven before, what it is to that proof."""
    advice, campaign = judgement.advice, judgement.learned.campaign
    proven = judgement.proven
    if proven is None or next_act(judgement).setting != proven:
        return STATUS_WORDS[advice.status]
    if advice.status == "square":
        return "It still is square: the recipe stands"
    return "Proven before: cut one to check" if not campaign.cuts else "Check what was proven once more"


def next_settings(judgement: Judgement, count: int) -> tuple[Setting, ...]:
    """Candidates of so many squares at once: what is advised, and from the first again.

    Where fewer settings are worth a cut than pieces are asked for, the same setting cut twice tells how
    much it spreads.
    """
    advised = tuple(Setting.of(c) for c in judgement.advice.next_cuts)
    asked = advised or (next_act(judgement).setting,)
    return tuple(asked[i % len(asked)] for i in range(count))
