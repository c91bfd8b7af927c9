"""How many cases are enough.

A claim about a share of many cases is decided by Wald's sequential test: cases are drawn, in their fixed order, until what has been
seen is a hundred times likelier under the claim than where it fails badly, or the other way round (A. Wald, Sequential Analysis,
1947). What is drawn in search of trouble goes on for as long as it finds something new. Both have a long form, for ``./run proof``:
all the cases, and the share itself held against its bounds.
"""

import json
import math
import os
import unittest
from collections.abc import Callable, Hashable, Iterator
from dataclasses import dataclass
from pathlib import Path

FIGURES = "ORTHOTOME_PROOF"
"""Names the file that ``./run proof`` gathers figures in; where it is set, every claim is decided by all of its cases."""
LONG = FIGURES in os.environ
_SURE = math.log(99.0)  # either mistake once in a hundred


@dataclass(frozen=True)
class Share:
    """A claim: ``usual`` of the cases hold, and the share lies within ``at_least`` to ``at_most`` of all ``most`` of them.

    ``refuted_below`` and ``refuted_above`` are shares at which the claim would be badly wrong; the sequential test tells them from
    ``usual``.
    """

    what: str
    usual: float
    refuted_below: float
    at_least: float
    most: int
    refuted_above: float | None = None
    at_most: float = 1.0

    def decide(self, test: unittest.TestCase, holds: Callable[[int], bool], first: int = 0) -> None:
        """Fail the test where the claim is refuted; ``holds`` is told the number of the case."""
        seen = [0, 0]
        for case in range(first, first + self.most):
            seen[bool(holds(case))] += 1
            if not LONG and self._decided(*seen):
                break
        share = seen[1] / sum(seen)
        note(self.what, f"{share:.3f}", sum(seen), self._asked())
        said = f"{self.what}: {seen[1]} of {sum(seen)} held"
        if LONG:
            test.assertTrue(self.at_least <= share <= self.at_most, said)
        else:
            test.assertTrue(all(e > 0 for e in self._evidence(*seen)), said)

    def _decided(self, failed: int, held: int) -> bool:
        evidence = self._evidence(failed, held)
        return min(evidence) <= -_SURE or all(e >= _SURE for e in evidence)

    def _evidence(self, failed: int, held: int) -> list[float]:
        """For the usual share against each that refutes it: the logarithm of how much likelier it makes what was seen."""
        return [
            held * math.log(self.usual / wrong) + failed * math.log((1 - self.usual) / (1 - wrong))
            for wrong in (self.refuted_below, self.refuted_above)
            if wrong is not None
        ]

    def _asked(self) -> str:
        return f"{self.at_least} to {self.at_most}" if self.at_most < 1 else f"at least {self.at_least}"


def while_new(
    what: str, outcome: Callable[[int], Hashable], *, patience: int, most: int
) -> dict[Hashable, int]:
    """How often each outcome came of the cases 0, 1, 2 …: until ``patience`` of them in a row brought none that is new, or all."""
    found: dict[Hashable, int] = {}
    last_new = case = 0
    for case in range(most):
        came = outcome(case)
        if came not in found:
            last_new = case
        found[came] = found.get(came, 0) + 1
        if not LONG and case - last_new >= patience:
            break
    note(what, f"{len(found)} kinds of outcome", case + 1, "no crash")
    return found


def cases(short: int, long: int) -> range:
    """The numbers of cases that each must hold: so many in the suite, all of them for the proof."""
    return range(long if LONG else short)


def note(what: str, figure: str, of: int, asked: str) -> None:
    """Write a figure down for ``./run proof``."""
    if LONG:
        with Path(os.environ[FIGURES]).open("a") as file:
            file.write(json.dumps({"what": what, "figure": figure, "of": of, "asked": asked}) + "\n")


def figures() -> Iterator[dict[str, object]]:
    """What was written down."""
    file = Path(os.environ[FIGURES])
    if file.exists():
        yield from (json.loads(line) for line in file.read_text().splitlines())
