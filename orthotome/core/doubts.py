"""The one guard on every number: what is asked before something is kept that can hardly be what was read.

A number is held against what was to be expected of it (its neighbours, earlier cuts, what the trade has of such a set)
and, where it lies outside, against the slips that fingers make: a digit twice, a digit left out, a point lost, two
digits swapped, the other unit. It is asked about and never changed; what the operator insists on is kept and marked.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from orthotome.core.errors import TradeError
from orthotome.core.stock.gauges import MM_PER_INCH

INSISTED = "insisted on"
"""What a record's history says of a number that was asked about and kept."""

_KERF = (0.5, 1.9)  # of the kerf that was to be expected; assumption


class Doubted(TradeError):  # noqa: N818 (named as an operator would say it)
    """A number that is asked about: nothing was kept; sent again with its field insisted on, it is."""


@dataclass(frozen=True)
class Doubt:
    """A question about one number, by the field of the files that it stands in."""

    field: str
    sentence: str


@dataclass(frozen=True)
class Likely:
    """Between which values a number is hardly doubted, what it was expected about, and what says so."""

    low: float
    high: float
    about: float
    because: str


def likely_kerf(at_mm: float, because: str) -> Likely:
    """What a kerf lies between: near one that was measured, or that room is made for."""
    return Likely(_KERF[0] * at_mm, _KERF[1] * at_mm, at_mm, because)


def doubt(
    value: float, likely: Likely, say: Callable[[float], str], *, shown_in: float = 1.0
) -> str | None:
    """The question about a number, or None where it is likely enough.

    ``say`` says such a quantity in the shop's units, ``shown_in`` is the shop's unit in the kept one: slips are made
    in the digits that are typed.
    """
    if likely.low <= value <= likely.high:
        return None
    meant = slip(value, likely, shown_in)
    asked = f" Did you mean {say(meant)}?" if meant is not None else ""
    return f"{say(value)} again? {likely.because}.{asked}"


def slip(value: float, likely: Likely, shown_in: float = 1.0) -> float | None:
    """What was meant, where one slip of the fingers leads from it to this number; the likeliest of several."""
    meant = [
        (kind, abs(v * shown_in - likely.about), v * shown_in)
        for kind, v in _slips(value / shown_in)
        if likely.low <= v * shown_in <= likely.high and abs(v * shown_in - value) > 1e-9
    ]
    return min(meant)[2] if meant else None


def _slips(number: float) -> Iterator[tuple[int, float]]:
    """Numbers from which one slip leads to this one, each with its kind, the commonest first."""
    yield from ((0, number * 10), (0, number / 10), (1, number * 100), (1, number / 100))
    yield from ((1, -number), (2, number * MM_PER_INCH), (2, number / MM_PER_INCH))
    text = f"{number:.4f}".rstrip("0").rstrip(".")
    for i, digit in enumerate(text):
        shorter = text[:i] + text[i + 1 :]
        if digit.isdigit() and shorter.strip("-."):
            twice = i > 0 and text[i - 1] == digit
            yield 0 if twice else 3, float(shorter)
        if i and digit.isdigit() and text[i - 1].isdigit():
            yield 2, float(text[: i - 1] + digit + text[i - 1] + text[i + 1 :])


def ask(doubts: Sequence[Doubt], insisted: Sequence[str]) -> None:
    """Raise Doubted for the first doubt that nobody insisted on."""
    for found in doubts:
        if found.field not in insisted:
            raise Doubted(found.field, found.sentence)
