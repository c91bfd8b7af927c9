"""A program's text taken apart: what comes before its first cut, the lines of each cut, and what comes after the last."""

import re
from collections.abc import Sequence
from itertools import pairwise

from orthotome.core.programs.check import Checked
from orthotome.core.programs.program import KIND, LINE, RAPID

_BEGINS = re.compile(r"(?=.*[Xx])(?=.*[Yy])[Gg]0*0(?!\d)")


def bounds_of_cuts(checked: Checked, lines: Sequence[str]) -> list[int] | None:
    """The first line of each cut, and the line after the last cut, counted from 1. None where the program cannot be taken
    apart so: a cut does not begin with a rapid to an X and Y of its own."""
    motions, contours = checked.program.motions, checked.contours
    if not contours:
        return None
    begins: list[int] = []
    for contour in contours:
        i = contour.run.first - 1
        if i < 0 or motions[i, KIND] != RAPID:
            return None
        while (
            i > 0
            and motions[i - 1, KIND] == RAPID
            and motions[i - 1, LINE] > (begins[-1] if begins else 0)
        ):
            i -= 1
        line = int(motions[i, LINE])
        if not _BEGINS.search(lines[line - 1]):
            return None
        while line > 1 and lines[line - 2].lstrip().startswith(("(", ";")):
            line -= 1
        begins.append(line)
    last = contours[-1].run
    after = [int(m[LINE]) for m in motions[last.after :]]
    ended = [a.line for a in checked.program.acts if a.kind == "end"]
    bounds = [*begins, min([*after, *ended, len(lines) + 1])]
    return None if any(a >= b for a, b in pairwise(bounds)) else bounds
