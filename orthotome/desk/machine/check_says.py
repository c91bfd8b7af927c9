"""What a check of a machine says, whatever its kind: a sentence, what was found, and what of the table's page it changes."""

from dataclasses import dataclass

from orthotome.core.machine.health import Standing
from orthotome.core.machine.run_up import acceleration_by_watch, figure_of, holds_says, told
from orthotome.core.machine.slack import lost_steps, slack_of
from orthotome.core.machine.squareness import Spread
from orthotome.core.machine.touch_height import touched_says
from orthotome.core.quantities import acceleration, length
from orthotome.formats.machine.checks import (
    AccelerationFile,
    CheckFile,
    ReturnFile,
    SlackFile,
    TouchFile,
)
from orthotome.formats.machine.table_page import TablePage


@dataclass(frozen=True)
class CheckTold:
    """One thing found, with what proves it and what puts it right."""

    title: str
    why: str
    check: str = ""
    cure: str = ""


@dataclass(frozen=True)
class CheckSaid:
    """What a check says. ``acceleration_mm_s2`` is what the table's page may take over."""

    title: str
    figure: str
    standing: Standing
    told: list[CheckTold]
    cannot_tell: list[str]
    acceleration_mm_s2: float | None = None


def said_of(check: CheckFile, page: TablePage) -> CheckSaid:
    """What it says of a table. Raises TradeError, naming the field, for what no machine can do."""
    if isinstance(check, AccelerationFile):
        return _acceleration(check, page)
    if isinstance(check, SlackFile):
        return _slack(check)
    if isinstance(check, ReturnFile):
        return _lost(check, page)
    if isinstance(check, TouchFile):
        return _touched(check, page)
    return CheckSaid(
        title=_UPSETS[check.kind], figure=_UPSETS[check.kind], standing="look", told=[], cannot_tell=[]
    )


_UPSETS = {
    "crash": "A crash",
    "moved": "The table was moved",
    "changed_drive": "A drive, motor or belt was changed",
}


def _acceleration(check: AccelerationFile, page: TablePage) -> CheckSaid:
    found = acceleration_by_watch([r.run() for r in check.runs])
    least = found.value_mm_s2 or found.low_mm_s2
    figure = f"at least {acceleration(round(found.low_mm_s2, -1))}"
    known = None
    if found.value_mm_s2 is not None and found.high_mm_s2 is not None:
        known = told(found.value_mm_s2, found.low_mm_s2, found.high_mm_s2)
        figure = figure_of(found.value_mm_s2, found.low_mm_s2, found.high_mm_s2)
    says = [CheckTold(title=f"Along {check.axis.upper()}", why=found.why)]
    says.append(
        CheckTold(
            title="What that means", why=holds_says(least, max(r.speed_mm_min for r in check.runs))
        )
    )
    written = page.acceleration_mm_s2
    if written and found.high_mm_s2 and written > found.high_mm_s2:
        says.append(
            CheckTold(
                title="The page says more",
                why=f"What is written down is {written / least:.1f} times what was measured: corners and small circles are slower "
                "than Orthotome took them to be.",
                cure="Take over what was measured.",
            )
        )
    return CheckSaid(
        title="Acceleration",
        figure=f"{check.axis.upper()}: {figure}",
        standing="good" if found.value_mm_s2 else "look",
        told=says,
        cannot_tell=[],
        acceleration_mm_s2=known,
    )


def _slack(check: SlackFile) -> CheckSaid:
    found = slack_of([c.circle() for c in check.circles], check.drawn_mm)
    wrong = any(f.code in ("slack_x", "slack_y") for f in found.findings)
    figures = [f"{axis} {_give_or_take(s)}" for axis, s in (("X", found.x_mm), ("Y", found.y_mm)) if s]
    return CheckSaid(
        title="Slack in the drives",
        figure="; ".join(figures) or "not told yet",
        standing="wrong" if wrong else "good" if figures else "look",
        told=[CheckTold(title=f.title, why=f.why, check=f.check, cure=f.cure) for f in found.findings],
        cannot_tell=list(found.cannot_tell),
    )


def _give_or_take(spread: Spread) -> str:
    return f"{length(spread.value)}, give or take {length(spread.sd)}"


def _lost(check: ReturnFile, page: TablePage) -> CheckSaid:
    found = lost_steps(check.back(page.steps_per_mm_x, page.steps_per_mm_y))
    return CheckSaid(
        title="Back on its mark",
        figure=found.sentence.split(":")[0] + ".",
        standing="wrong" if found.lost else "good",
        told=[CheckTold(title="Steps were lost" if found.lost else "No steps lost", why=found.sentence)],
        cannot_tell=[],
    )


def _touched(check: TouchFile, page: TablePage) -> CheckSaid:
    touched = check.touched()
    says = touched_says(touched, page.touch_off_offset_mm)
    return CheckSaid(
        title="Height of the first touch",
        figure=f"{length(check.found_mm)} found where {length(check.told_mm)} was told, ± {length(check.u_mm)}",
        standing="wrong" if touched.wrong else "good",
        told=[CheckTold(title="Off its height" if touched.wrong else "At its height", why=says)],
        cannot_tell=[],
    )
