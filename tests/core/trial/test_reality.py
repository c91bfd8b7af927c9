"""Under an advised number: what is plumbed, what flows, what the parts have left, how a pierce was proved, and holes that had
no room for the kerf."""

import unittest
from dataclasses import replace

from orthotome.core.book.start_rows import RowDetails, StartingNumbers
from orthotome.core.choose.choosing import Feature, Machine, judge_processes
from orthotome.core.errors import TradeError
from orthotome.core.log.items import Item
from orthotome.core.log.looks import Look
from orthotome.core.log.pierced import Pierced, delay_advice, height_advice
from orthotome.core.machine.hole_table import HoleTable, TriedHole
from orthotome.core.programs.parts_last import parts_last_says
from orthotome.core.torch.forecast import StartsLeft
from orthotome.core.trial.opening import Table, table_warnings
from tests.core.book.test_start_rows import ROWS
from tests.core.machine.test_machine import PLATE, SHEET
from tests.jobs import PLATE_START


class Gases(unittest.TestCase):
    """What the table's page says is there, against what the process asks."""

    nitrogen = replace(PLATE, gas="nitrogen", shield_gas="air")

    def judged(self, machine: Machine):  # type: ignore[no-untyped-def]
        processes = (self.nitrogen, SHEET)
        return judge_processes(
            processes, metal="mild_steel", thickness_mm=6, machine=machine, feature=Feature(81, 20)
        )

    def test_a_gas_that_is_not_plumbed_puts_a_set_after_the_others(self) -> None:
        first, last = self.judged(Machine(500, 12_000, 60, gases=("air",)))
        self.assertEqual((first.process.gas, last.process.gas), ("air", "nitrogen"))
        self.assertIn("no nitrogen plumbed, by its page: it has air", last.notes[0])
        self.assertEqual(self.judged(Machine(500, 12_000, 60))[0].process.gas, "nitrogen")
        both = self.judged(Machine(500, 12_000, 60, gases=("Air", "Nitrogen")))
        self.assertEqual(both[0].process.gas, "nitrogen")

    def test_gas_that_has_no_price_is_not_in_the_cost_and_that_is_said(self) -> None:
        told = next(o for o in self.judged(Machine(500, 12_000, 60)) if o.process.gas == "nitrogen")
        self.assertIsNotNone(told.cost_per_m)
        self.assertIn("What the nitrogen costs is not in its cost.", told.notes)
        free = next(o for o in self.judged(Machine(500, 12_000)) if o.process.gas == "nitrogen")
        self.assertNotIn("costs", " ".join(free.notes))

    def test_air_that_does_not_flow_enough_is_said_of_a_new_trial_too(self) -> None:
        row = replace(ROWS[0], details=RowDetails(gas_flow_l_min=120, shield_flow_l_min=40))
        found = StartingNumbers("row", row.values, (row,), ())
        for delivery, words in (
            (150, "does not carry it"),
            (200, "never rests"),
            (240, None),
            (None, None),
        ):
            said = " ".join(table_warnings(found, Table("open", delivery_l_min=delivery), "air"))
            self.assertEqual(words is not None, bool(said), said)
            self.assertIn(words or "", said)
        shielded = replace(row, details=RowDetails(shield_gas="nitrogen"))
        found = StartingNumbers("row", row.values, (shielded,), ())
        said = " ".join(table_warnings(found, Table("open", gases=("air",)), "air"))
        self.assertIn("no nitrogen plumbed", said)


class Acceleration(unittest.TestCase):
    def test_a_speed_that_short_straights_never_reach_is_said_with_the_length_that_does(self) -> None:
        # 12 000 mm/min are 200 mm/s: 200^2 / 300 = 133 mm from rest to rest; 2900 are 48 mm/s: 8 mm.
        row = replace(ROWS[0], values=replace(ROWS[0].values, speed_mm_min=12_000))
        for found, told in (
            (StartingNumbers("row", row.values, (row,), ()), True),
            (StartingNumbers("row", ROWS[0].values, (), ()), False),
        ):
            said = " ".join(table_warnings(found, Table("open", acceleration_mm_s2=300), "air"))
            self.assertEqual("straights longer than 134 mm only" in said, told, said)
        slow = Table("open", fastest_mm_min=9000, acceleration_mm_s2=300)
        both = " ".join(table_warnings(StartingNumbers("row", row.values, (row,), ()), slow, "air"))
        self.assertIn("stops at 9000 mm/min", both)
        self.assertNotIn("straights longer", both)


class PartsLast(unittest.TestCase):
    left = StartsLeft(1100, 490, 1980)

    def test_where_to_change_them_is_counted_in_parts(self) -> None:
        # Ten holes and an outline, a hundred and ten times: of the first 490 starts 44 are outlines.
        outlines = [i % 11 == 10 for i in range(1210)]
        said = parts_last_says(outlines, 1210, self.left, measured=True)
        self.assertIn(
            "490 to 1980 starts are left on the electrode (90 in 100), and this program takes 1,210",
            said,
        )
        self.assertIn("they may not last it. Stop before part 45 of 110", said)
        self.assertNotIn("measuring it tells", said)

    def test_it_says_when_they_surely_do_not_and_when_they_do(self) -> None:
        self.assertEqual(parts_last_says([True] * 490, 490, self.left, measured=True), "")
        self.assertEqual(parts_last_says([True] * 5000, 5000, None, measured=True), "")
        over = parts_last_says([True], 2500, self.left, measured=False)
        self.assertIn("they do not last it. Stop before start 491", over)
        self.assertIn("measuring it tells", over)
        spent = parts_last_says([True] * 9, 9, StartsLeft(3, 0, 8), measured=True)
        self.assertIn("change the parts before it begins", spent)


class HolesWithoutRoomForTheKerf(unittest.TestCase):
    """Drawn 12 mm and come out 13.6: larger by the kerf of 1.8, where a plasma hole comes out smaller."""

    tried = (TriedHole(12, 13.8, 13.6), TriedHole(16, 15.6, 15.3))

    def test_nothing_is_drawn_by_them_and_it_says_what_is_wrong(self) -> None:
        table = HoleTable(self.tried, 6.0, kerf_mm=1.8)
        self.assertIn("came out 1.6 mm larger", table.says()[0])
        self.assertIn("no room for the kerf", table.says()[0])
        with self.assertRaisesRegex(TradeError, "no room for the kerf"):
            table.to_draw(14.0)

    def test_smaller_ones_and_a_little_larger_ones_are_drawn_by(self) -> None:
        for holes in (
            self.tried[1:],
            (TriedHole(12, 12.6, 12.5),),
            (TriedHole(12, 13.8, 13.6, u_mm=0.5),),
        ):
            self.assertIsNone(HoleTable(holes, 6.0, kerf_mm=1.8).not_compensated)
            self.assertGreater(HoleTable(holes, 6.0, kerf_mm=1.8).to_draw(14.0).draw_mm, 10)


class Pierces(unittest.TestCase):
    delays = (0.25, 0.5, 0.75, 1.0)

    def ladder(self, through: str, crater: str = "", number: int = 4) -> Pierced:
        items = tuple(Item(i, f"stub {i}", pierce_delay_s=d) for i, d in enumerate(self.delays, 1))
        looks = [Look(i, "through", "yes" if t == "y" else "no") for i, t in enumerate(through, 1)]
        looks += [Look(i, "crater", "blown" if c == "b" else "ring") for i, c in enumerate(crater, 1)]
        return Pierced(number, "pierce_ladder", items, tuple(looks))

    def test_the_delay_that_a_ladder_proved_is_offered_where_another_is_told(self) -> None:
        advice = delay_advice([self.ladder("nnyy")], PLATE_START, 8.0)
        assert advice is not None
        self.assertEqual(advice.pierce_delay_s, 0.75)
        self.assertIn("0.75 s on, and the delay told is shorter: 0.5 s", advice.why)
        self.assertIsNone(delay_advice([self.ladder("nyyy")], PLATE_START, 8.0))
        self.assertIsNone(delay_advice([self.ladder("nnnn")], PLATE_START, 8.0))
        newest = delay_advice([self.ladder("nnyy"), self.ladder("yyyy", number=7)], PLATE_START, 8.0)
        assert newest is not None
        self.assertEqual(newest.pierce_delay_s, 0.25)

    def test_three_that_were_blown_back_raise_the_pierce_and_ask_for_a_look_at_the_shield(self) -> None:
        # Twice a cut height of 1.5 mm is 3 mm, which the 3.8 of the row are already: a fifth higher.
        advice = height_advice([self.ladder("yyyy", "bb"), self.ladder("yyyy", "b")], PLATE_START)
        assert advice is not None
        self.assertAlmostEqual(advice.pierce_height_mm or 0, 4.6, delta=0.06)
        self.assertIn("look at the shield", advice.why)
        low = height_advice([self.ladder("yyyy", "bbb")], replace(PLATE_START, pierce_height_mm=2.0))
        assert low is not None
        self.assertAlmostEqual(low.pierce_height_mm or 0, 3.0, delta=0.06)
        self.assertIsNone(height_advice([self.ladder("yyyy", "bbrr")], PLATE_START))
