"""Wear: pits of starts, time and endings; the set-point that follows; ranges that hold on lives of another making."""

import math
import unittest
from dataclasses import replace

import numpy as np

from orthotome.core.errors import TradeError
from orthotome.core.torch.forecast import wear_report
from orthotome.core.torch.pit import learn
from orthotome.core.torch.wear import TRADE, LifeEntry, PartsLedger, belief_from, checked
from orthotome.sim import lives
from tests.enough import Share, cases

LIVES = 300
FOLLOWED = 16


def ledger(*entries: LifeEntry) -> PartsLedger:
    """Entries of a set proven at 128 V and 1.5 mm, that touches at 0.6 mm."""
    return PartsLedger(1.5, 128.0, 6.5, 1.5, 0.6, entries)


def even(until: int, per_1000_v: float = 9.1, pit_per_1000: float = 1.0) -> PartsLedger:
    """A life that wears as evenly as a ruler, read every fifty starts."""
    return ledger(
        *(
            LifeEntry(
                s, 15.0 * s, 0, round(pit_per_1000 * s / 1000, 3), 0.03, 128 + per_1000_v * s / 1000
            )
            for s in range(0, until + 1, 50)
        )
    )


class WorkedCases(unittest.TestCase):
    """What can be worked out by hand."""

    def test_a_pit_is_held_against_the_pit_that_was_read_last(self) -> None:
        deep, unread = LifeEntry(100, 500, 0, 0.8, 0.03), LifeEntry(200, 1000, 0)
        with self.assertRaises(TradeError) as refused:
            checked(ledger(deep, unread, LifeEntry(300, 1500, 0, 0.2, 0.03)))
        self.assertEqual(refused.exception.field, "entries[2].pit_mm")
        checked(ledger(deep, unread, LifeEntry(300, 1500, 0, 0.9, 0.03)))

    def test_trims_and_touch_of_an_even_life(self) -> None:
        """9.1 V per 1000: 5.46 V at 600 starts is 0.84 mm; 0.9 mm are 5.85 V, at 643 starts; a volt is 110."""
        report = wear_report(even(600))
        self.assertAlmostEqual(report.set_point_now_v, 133.46, delta=0.3)
        self.assertAlmostEqual(report.volts_per_1000.value, 9.1, delta=0.5)
        self.assertAlmostEqual(report.left_alone.closer_mm, 0.84, delta=0.05)
        assert report.next_trim is not None and report.left_alone.touches_at_starts is not None
        self.assertAlmostEqual(report.next_trim.at_starts, 710, delta=15)
        self.assertAlmostEqual(report.left_alone.touches_at_starts, 643, delta=25)
        self.assertEqual(report.verdict, "keep")

    def test_a_touch_that_lies_in_the_past_is_told_where_it_was(self) -> None:
        """At 900 starts the set-point of new parts has touched long ago."""
        touched = wear_report(even(900)).left_alone.touches_at_starts
        assert touched is not None
        self.assertAlmostEqual(touched, 643, delta=40)

    def test_what_a_second_is_worth_is_learnt_from_jobs_that_differ(self) -> None:
        """Two emitters: one eaten by starts, one by time. Each has cut short jobs, then long ones."""

        def eaten(per_start: float, per_second: float) -> float:
            entries, arc = [], 0.0
            for s in range(0, 801, 50):
                arc += 50 * (4.0 if s <= 400 else 40.0) if s else 0.0
                entries.append(LifeEntry(s, arc, 0, per_start * s + per_second * arc, 0.02))
            return float(np.median(learn(ledger(*entries)).of.start_s))

        by_starts, by_time = eaten(0.0012, 0.000004), eaten(0.00008, 0.00006)
        self.assertGreater(by_starts, 40.0)  # a second is worth a fortieth of a start, or less
        self.assertLess(by_time, 8.0)

    def test_endings_off_the_plate_show_as_starts_lost(self) -> None:
        """Two lives alike but for thirty endings: their electrodes are expected to last less, before any reading."""
        careful, careless = (
            wear_report(ledger(LifeEntry(0), LifeEntry(500, 7500.0, off))).starts_left.expected
            for off in (0, 30)
        )
        self.assertLess(careless, 0.75 * careful)

    def test_a_height_other_than_the_cut_height_is_taken_off_the_volts(self) -> None:
        """Read 1 mm higher the volts are 6.5 V more, and nothing is worn by it."""
        at = even(600)
        lifted = replace(
            at,
            entries=tuple(
                replace(e, height_mm=2.5, arc_voltage_v=(e.arc_voltage_v or 0.0) + 6.5)
                for e in at.entries
            ),
        )
        self.assertEqual(wear_report(at).set_point_now_v, wear_report(lifted).set_point_now_v)

    def test_unread_parts_are_not_called_anything(self) -> None:
        """No pit was read: the verdict is not known, and what would tell is said; a volt does not change that."""
        report = wear_report(ledger(LifeEntry(0), LifeEntry(600, 9000.0, 2, arc_voltage_v=133.0)))
        self.assertEqual(report.verdict, "not_known")
        self.assertIn("measure the electrode’s pit", report.why)
        self.assertGreater(report.pit_mm.sd, 0.15)

    def test_arc_time_that_nobody_noted_is_not_taken_for_none(self) -> None:
        """600 starts without a second of arc cannot have been: they had their usual one."""
        noted, silent = (
            wear_report(ledger(LifeEntry(0), LifeEntry(600, arc, 0, 0.6, 0.05))) for arc in (9000.0, 0.0)
        )
        self.assertEqual(noted.starts_left, silent.starts_left)

    def test_one_mad_voltmeter_moves_the_set_point_by_less_than_a_trim(self) -> None:
        """One reading of 160 V among a dozen."""
        at = even(600)
        entries = list(at.entries)
        entries[9] = replace(entries[9], arc_voltage_v=160.0)
        mad = wear_report(replace(at, entries=tuple(entries)))
        self.assertLess(abs(mad.set_point_now_v - wear_report(at).set_point_now_v), 1.0)

    def test_a_pit_at_its_limit_is_replaced(self) -> None:
        """1.55 mm of 1.5 mm, well measured."""
        self.assertEqual(wear_report(even(1550)).verdict, "replace")

    def test_earlier_lives_of_the_shop_are_the_belief_of_the_next(self) -> None:
        """Five electrodes that lasted 1000 usual starts: the sixth is expected near that, and more surely."""
        belief = belief_from([(math.log(1000), 0.1)] * 5)
        self.assertAlmostEqual(belief.life_work[0], 1000, delta=120)
        self.assertLess(belief.life_work[1], 0.6 * TRADE.life_work[1])
        taught, usual = (wear_report(ledger(LifeEntry(0)), b).starts_left for b in (belief, TRADE))
        self.assertAlmostEqual(taught.expected, 1000, delta=150)
        self.assertLess(taught.high / taught.low, 0.6 * usual.high / usual.low)

    def test_what_cannot_have_happened_is_refused_by_name(self) -> None:
        """Counts that run backwards, a pit deeper than the part, a pit that fills, a touch above the cut."""
        first = LifeEntry(300, 5000.0, 3, 0.6)
        for later, field in (
            (LifeEntry(200, 6000.0, 3), "entries[1].starts"),
            (LifeEntry(400, 4000.0, 3), "entries[1].arc_on_s"),
            (LifeEntry(400, 6000.0, 2), "entries[1].off_plate"),
            (LifeEntry(400, 6000.0, 3, 5.0), "entries[1].pit_mm"),
            (LifeEntry(400, 6000.0, 3, 0.1, 0.05), "entries[1].pit_mm"),
        ):
            with self.assertRaises(TradeError) as refused:
                wear_report(ledger(first, later))
            self.assertEqual(refused.exception.field, field)
        with self.assertRaises(TradeError):
            wear_report(replace(ledger(first), touch_height_mm=1.6))


def seen_life(seed: int) -> tuple[int, list[LifeEntry]]:
    """A simulated life to its end: its starts, and what a shop wrote down of it on the way."""
    parts = lives.WearingParts(seed)
    seen = [entry(parts.seen(pit=True, volts=True))]
    while not parts.over:
        parts.start()
        if parts.starts % 60 == 0:
            seen.append(entry(parts.seen(pit=parts.starts % 120 == 0, volts=True)))
    return parts.starts, seen


def entry(m: lives.Moment) -> LifeEntry:
    """As the ledger has it."""
    return LifeEntry(m.starts, m.arc_on_s, m.off_plate, m.pit_mm, lives.GAUGE_MM, m.arc_voltage_v, 1.5)


class SimulatedLives(unittest.TestCase):
    """Lives of a model that shares no code: crumbs of chance, heat, a bore that opens, jobs that change."""

    def test_nine_in_ten_ranges_hold_from_mid_life_on(self) -> None:
        """One moment between mid-life and 19 twentieths of it, of each life."""

        def holds(seed: int) -> bool:
            end, seen = seen_life(seed)
            until = end * np.random.default_rng(seed).uniform(0.5, 0.95)
            so_far = tuple(e for e in seen if e.starts <= until)
            left = wear_report(ledger(*so_far)).starts_left
            return left.low <= end - so_far[-1].starts <= left.high

        what = "Lives whose 90 % range of starts left holds the end"
        bounds = {"at_least": 0.85, "at_most": 0.95, "most": LIVES}
        Share(what, 0.9, refuted_below=0.75, refuted_above=0.985, **bounds).decide(self, holds)  # type: ignore[arg-type]

    def test_a_set_point_that_is_followed_holds_the_height_and_doubles_the_life(self) -> None:
        """Read when a trim is due, or after a hundred starts: within 0.3 mm over the life; left alone, half as many starts or fewer."""
        followed, alone, worst = 0, 0, []
        for seed in cases(6, FOLLOWED):
            parts = lives.WearingParts(seed)
            entries = [entry(parts.seen(pit=True, volts=True))]
            set_point, due, touched = lives.NEW_V, 60, None
            heights = []
            while not parts.over:
                parts.start()
                heights.append(parts.held_mm(set_point) - lives.CUT_HEIGHT_MM)
                if touched is None and parts.held_mm(lives.NEW_V) <= lives.TOUCH_MM + lives.UNEVEN_MM:
                    touched = parts.starts
                if parts.starts >= due:
                    entries.append(entry(parts.seen(pit=True, volts=True)))
                    report = wear_report(ledger(*entries))
                    set_point = round(2 * report.set_point_now_v) / 2
                    trim = report.next_trim
                    due = min(trim.at_starts if trim else due + 100, parts.starts + 100)
            worst.append(float(np.quantile(np.abs(heights), 0.99)))
            followed, alone = followed + parts.starts, alone + (touched or parts.starts)
        self.assertLessEqual(max(worst), 0.3)
        self.assertGreaterEqual(followed, 2 * alone)


if __name__ == "__main__":
    unittest.main()
