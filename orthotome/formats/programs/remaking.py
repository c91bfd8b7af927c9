"""A copy of a program with contours cut otherwise, on request: drawn before it is written, and read back as drawn."""

import re
from collections.abc import Sequence

import numpy as np

from orthotome.core.errors import TradeError
from orthotome.core.machine.axis_map import AxisMap
from orthotome.core.path.paths import Line, Move, flattened
from orthotome.core.path.rings import distances
from orthotome.core.programs.check import Checked, check
from orthotome.core.programs.checked_against import CheckedAgainst
from orthotome.core.programs.contours import ProgramContour
from orthotome.core.programs.corrections import LineChanged
from orthotome.core.programs.program import KIND, LINE, RAPID
from orthotome.core.programs.remade import Remake, remade, together
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.programs.correcting import Corrected, words_of_move
from orthotome.formats.programs.rs274 import lines_of, read_program

_ONLY_A_MOVE = re.compile(r"(?:[NGXYIJRF]\s*[-+]?[\d.]+\s*)+", re.IGNORECASE)
_READ_BACK_MM = 0.02


def rewritten(
    content: bytes,
    profile: OutputProfile,
    against: CheckedAgainst,
    axes: AxisMap,
    remakes: Sequence[Remake],
) -> Corrected:
    """The copy with these contours cut otherwise. Raises TradeError where one cannot be, NoProgram for no program."""
    found = check(read_program(content, profile, axes), against)
    if against.job is None:
        raise TradeError(
            "program", "give a recipe or a trial to check against: kerf, swirl and lead-in come from it."
        )
    if (
        not (found.program.straight_through and found.program.absolute)
        or len({u.value for u in found.program.unit_words}) > 1
    ):
        raise TradeError(
            "program",
            "it has loops, sub-programs, steps or two units: change it where the program was made.",
        )
    ending = b"\r\n" if b"\r\n" in content[:10_000] else b"\n"
    lines = lines_of(content)
    written: list[LineChanged] = []
    planned: dict[int, tuple[Move, ...]] = {}
    for i, remake in sorted(together(remakes).items(), reverse=True):
        if not 0 <= i < len(found.contours):
            raise TradeError("contour", f"there is no contour {i + 1}.")
        moves = planned[i] = remade(found.contours, remake, against.job, against.table)
        lines, change = _with(lines, found, found.contours[i], moves, axes, profile)
        written.append(change)
    copy = ending.join(line.encode() for line in lines)
    again = check(read_program(copy, profile, axes), against)
    _check_as_drawn(again, planned)
    return Corrected(copy, tuple(reversed(written)), again)


def _with(  # noqa: PLR0917 (all that a contour's lines hang on)
    lines: list[str],
    found: Checked,
    contour: ProgramContour,
    moves: Sequence[Move],
    axes: AxisMap,
    profile: OutputProfile,
) -> tuple[list[str], LineChanged]:
    """The lines with one contour's motions replaced, and the rapid before it sent to its pierce."""
    program, run = found.program, contour.run
    rows = program.motions[run.first : run.after]
    first, last = int(rows[0, LINE]), int(rows[-1, LINE])
    before = program.motions[run.first - 1] if run.first else None
    where = f"the cut on line {contour.line}"
    if before is None or before[KIND] != RAPID:
        raise TradeError(
            "contour", f"{where} is not begun by a rapid of its own: change it where it was made."
        )
    rapid = int(before[LINE])
    own = {int(n) for n in rows[:, LINE]} | {rapid}
    between = [n for n in range(first, last + 1) if n not in own and _bare(lines[n - 1])]
    if between or not all(_ONLY_A_MOVE.fullmatch(_bare(lines[n - 1])) for n in own):
        raise TradeError(
            "contour", f"{where} holds other words than its moves: change it where it was made."
        )
    go = words_of_move(Line(moves[0].start, moves[0].start), axes, program).replace("G1", "G0", 1)
    per = 1.0 if program.units == "mm" else 1 / 25.4
    feed = (
        f" F{contour.feed_mm_min * per:.3f}".rstrip("0").rstrip(".") if contour.feed_mm_min > 0 else ""
    )
    new = [words_of_move(move, axes, program) for move in moves]
    new[0] += feed
    mark = _mark(profile)
    kept = [*lines[: rapid - 1], f"{go}{mark}", *lines[rapid : first - 1], *new, *lines[last:]]
    was = f"lines {first} to {last}"
    return kept, LineChanged(contour.line, was, f"{len(new)} moves", "cut otherwise, as it was drawn")


def _mark(profile: OutputProfile) -> str:
    said = "Orthotome: cut otherwise, as it was asked"
    return {"brackets": f" ({said})", "semicolon": f" ; {said}", "none": ""}[profile.comments]


def _bare(line: str) -> str:
    """A line without its comments."""
    return re.sub(r"\([^()]*\)", "", line).partition(";")[0].strip()


def _check_as_drawn(again: Checked, planned: dict[int, tuple[Move, ...]]) -> None:
    """Raise TradeError where the copy, read back, is not what was drawn."""
    for i, moves in planned.items():
        drawn = np.array([moves[0].start, *(p for move in moves for p in flattened(move))])
        read = again.contours[i].path if i < len(again.contours) else np.empty((0, 2))
        if (
            len(read) < 2
            or max(distances(drawn, read).max(), distances(read, drawn).max()) > _READ_BACK_MM
        ):
            raise TradeError(
                "contour", f"contour {i + 1} did not read back as it was drawn: nothing was written."
            )
