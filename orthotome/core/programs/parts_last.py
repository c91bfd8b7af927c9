"""Whether the fitted parts last the program: starts that it takes against starts that are left."""

from collections.abc import Sequence

from orthotome.core.torch.forecast import StartsLeft, in_tens


def parts_last_says(
    outlines: Sequence[bool], starts: int, left: StartsLeft | None, *, measured: bool
) -> str:
    """Empty where the parts very likely last; else how many starts are left and at which part to change them.

    ``outlines`` says of each contour, in the order of the program, whether it frees a part; ``starts`` are all that the
    program takes. ``left`` None: nothing is known of what is left, and nothing is said. ``measured`` says whether a pit was
    measured on these parts; else what is left is the trade's usual, and that is said.
    """
    if left is None or starts <= left.low:
        return ""
    span = f"{in_tens(left.low)} to {in_tens(left.high)} starts are left on the electrode (90 in 100), and this program takes {starts:,}"
    if left.low < 1:
        return f"{span}: change the parts before it begins."
    done = sum(outlines[: left.low])
    of = sum(outlines)
    where = f"part {done + 1} of {of}" if of > 1 and done < of else f"start {left.low + 1}"
    sure = "they do not last it" if starts > left.high else "they may not last it"
    tells = (
        ""
        if measured
        else " No pit was measured on them, so that is only what is usual: measuring it tells."
    )
    return f"{span}: {sure}. Stop before {where}, isolate, and look at them or change them.{tells}"
