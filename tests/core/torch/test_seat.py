"""Readings of one seat that disagree: the newest is believed, and it is asked what happened."""

import unittest
from datetime import datetime, timedelta

import numpy as np

from orthotome.core.torch.alignment import Mount, SlugReading
from orthotome.core.torch.seat import Seat, Sitting, seat_of
from tests.core.torch.test_alignment import EIGHT, read

MONDAY = datetime(2026, 3, 2, 8)
_U = 0.4


def sitting(
    day: int, lean: float, toward: float, seed: int, *, slug: bool, noise: float = 1.0
) -> Sitting:
    """A slug or a square read on a day, each reading off by its own error."""
    errors = np.random.default_rng(seed).normal(0.0, noise * _U, 8)
    headings = EIGHT if slug else (0.0, 90.0, 180.0, 270.0)
    read_so = [
        SlugReading(r.side, r.heading_deg, round(r.bevel_deg + float(e), 1), _U, piece=seed)
        for r, e in zip(read(lean, toward, headings, _U), errors, strict=False)
    ]
    return Sitting(MONDAY + timedelta(days=day), tuple(read_so), slug)


def seat(*sittings: Sitting) -> Seat:
    found = seat_of(sittings, "clockwise", 0.5, Mount())
    assert found is not None
    return found


class Knocked(unittest.TestCase):
    def test_a_check_slug_is_not_outvoted_by_the_squares_before_it(self) -> None:
        old = [sitting(i, 0.3, 200, i, slug=False) for i in range(1, 9)]
        found = seat(*old, sitting(9, 1.8, 85, 9, slug=True))
        self.assertAlmostEqual(found.alignment.lean_deg, 1.8, delta=0.4)
        self.assertAlmostEqual(found.alignment.toward_deg, 85, delta=15)
        self.assertEqual(len(found.believed), 8)
        assert found.moved is not None
        self.assertEqual(found.moved.at, MONDAY + timedelta(days=9))
        self.assertLess(found.moved.before.lean_deg, 0.6)
        self.assertIn("knocked", found.moved.says)

    def test_squares_that_follow_a_slug_and_stand_otherwise_are_seen(self) -> None:
        after = [sitting(i, 2.0, 300, i, slug=False) for i in range(2, 6)]
        found = seat(sitting(1, 0.2, 90, 1, slug=True), *after)
        assert found.moved is not None
        self.assertEqual(found.moved.at, MONDAY + timedelta(days=2))

    def test_what_errors_allow_is_no_move(self) -> None:
        moved = 0
        for case in range(100):
            seeds = range(10 * case, 10 * case + 6)
            one = [sitting(n, 0.8, 40, seed, slug=n in (2, 5)) for n, seed in enumerate(seeds)]
            moved += seat(*one).moved is not None
        self.assertLessEqual(moved, 3)

    def test_nothing_read_is_nothing_said(self) -> None:
        self.assertIsNone(seat_of([], "clockwise", 0.5, Mount()))


if __name__ == "__main__":
    unittest.main()
