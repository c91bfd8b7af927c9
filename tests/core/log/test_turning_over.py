"""Turning a piece over: which edge is which, what is asked again, what each piece says, grading alike, comparing."""

import unittest
from dataclasses import replace
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from orthotome.core.choose.choosing import Feature, Look, Machine, Measured, Process, judge_processes
from orthotome.core.choose.trade_offs import trade_offs
from orthotome.core.errors import TradeError
from orthotome.core.log.compare import Shown, compared
from orthotome.core.log.grading import grade_spread
from orthotome.core.log.history import was_in_words
from orthotome.core.log.items import Item, flanks_of_strip, items_of, strip_of
from orthotome.core.log.looks import Look as Seen
from orthotome.core.log.looks import check_looks
from orthotome.core.log.says import what_it_says
from orthotome.core.log.sheet import LoggedBefore, check_edges, log_sheet
from orthotome.core.trial.campaign import Campaign, Cut, Dross, EdgeReading
from orthotome.core.tuner.advise import judge
from orthotome.core.tuner.dross_model import DrossModel
from orthotome.core.tuner.questions import questions
from orthotome.formats.pieces.piece_set import piece_of
from tests.jobs import PLATE_JOB

KEPT = ((0.0, 1.1), (90.0, 1.3), (180.0, 0.9), (270.0, 1.2))


def edges(*read: tuple[str, float, float], u: float = 0.4) -> tuple[EdgeReading, ...]:
    return tuple(EdgeReading(side, heading, bevel, u) for side, heading, bevel in read)  # type: ignore[arg-type]


def square(name: str = "now", *read: tuple[str, float, float], **more: Any) -> Cut:
    told = read or tuple(("right", h, b) for h, b in KEPT)
    return Cut(name, "square", 2100, 1.5, through="full", edges=edges(*told), **more)


class Combs(unittest.TestCase):
    def test_every_strip_carries_edges_of_two_slots(self) -> None:
        """Five slots, six strips, cut away from the operator: strip 3 lies between slots 2 and 3."""
        left, right = flanks_of_strip(3, 5)
        assert left is not None and right is not None
        self.assertEqual((left.slot, left.side, right.slot, right.side), (2, "right", 3, "left"))
        self.assertIsNone(flanks_of_strip(1, 5)[0])  # the outline cut it
        self.assertIsNone(flanks_of_strip(6, 5)[1])
        with self.assertRaises(TradeError):
            flanks_of_strip(7, 5)

    @given(st.integers(2, 12))
    def test_no_edge_of_a_slot_is_lost_or_found_twice(self, slots: int) -> None:
        found = [f for strip in range(1, slots + 2) for f in flanks_of_strip(strip, slots) if f]
        self.assertEqual(len({(f.slot, f.side) for f in found}), 2 * slots)
        self.assertEqual(len(found), 2 * slots)
        for f in found:
            self.assertIn(f, flanks_of_strip(strip_of(f.slot, f.side), slots))

    def test_a_square_is_read_as_it_was_cut_its_scrap_last(self) -> None:
        sheet = log_sheet(PLATE_JOB, "square")
        self.assertEqual([s.heading_deg for s in sheet.slots if s.kept], [90, 0, 270, 180])
        self.assertFalse(sheet.slots[-1].kept)

    def test_the_sheet_of_a_comb_names_strip_and_edge(self) -> None:
        job = PLATE_JOB
        items = items_of(piece_of("strip_ladder", job), job.start.kerf_mm)
        sheet = log_sheet(job, "strip_ladder", items=items)
        slot = next(s for s in sheet.slots if s.item == 2 and s.side == "right")
        self.assertIn("Strip 3, left edge: slot 2, right side of travel", slot.label)
        self.assertEqual(len(sheet.slots), 2 * len(items))
        self.assertFalse(
            [m for m in sheet.methods if m.method == "strip_widths"]
        )  # it would mix two settings


class Items(unittest.TestCase):
    def test_items_are_those_of_the_piece_as_it_is_cut(self) -> None:
        job = PLATE_JOB
        delays = items_of(piece_of("pierce_ladder", job, delays_s=(0.3, 0.5), number=4), 1.8)
        self.assertEqual([(i.number, i.pierce_delay_s) for i in delays], [(1, 0.3), (2, 0.5)])
        bores = items_of(piece_of("holes", job), job.start.kerf_mm)
        self.assertEqual([round(b.nominal_mm or 0, 3) for b in bores], [8.0, 12.0, 16.0, 24.0])
        heights = items_of(piece_of("height_ladder", job, heights_mm=(1.2, 1.8)), 1.8)
        self.assertEqual([i.cut_height_mm for i in heights], [1.2, 1.8])
        ways = items_of(piece_of("start_end_ladder", job), 1.8)
        self.assertEqual((len(ways), ways[3].name), (7, "overrun 0 mm"))
        (whole,) = items_of(piece_of("square", job), 1.8)
        self.assertEqual((whole.number, whole.kerf_mm), (0, 1.8))

    def test_a_look_at_what_is_not_there_is_refused_by_name(self) -> None:
        stubs = (Item(1, "stub 1", pierce_delay_s=0.3),)
        check_looks("pierce_ladder", stubs, [Seen(1, "through", "yes")])
        for wrong in (
            Seen(2, "through", "yes"),  # no such stub
            Seen(1, "colour", "grey"),  # not looked at on a stub
            Seen(1, "through", "perhaps"),
            Seen(1, "through", number=1.0),
        ):
            with self.subTest(wrong), self.assertRaises(TradeError) as refused:
                check_looks("pierce_ladder", stubs, [wrong])
            self.assertEqual(refused.exception.field, f"looks.{wrong.what}")
        with self.assertRaises(TradeError):
            check_looks("square", (), [Seen(0, "size_x", number=-1.0)])

    def test_an_edge_that_the_piece_does_not_have_is_refused(self) -> None:
        job = PLATE_JOB
        check_edges("own_part", edges(("right", 45.0, 1.0)), job)
        for kind, read in (("square", 45.0), ("pierce_ladder", 0.0)):
            with self.subTest(kind), self.assertRaises(TradeError):
                check_edges(kind, edges(("right", read, 1.0)), job)  # type: ignore[arg-type]

    def test_a_correction_opens_with_what_was_typed_and_seen(self) -> None:
        seen = (Seen(0, "colour", "straw"),)
        known = LoggedBefore(square(), (1, 2, 3, 4), ("", "gap 0.2 mm", "", ""), seen)
        sheet = log_sheet(PLATE_JOB, "square", known)
        self.assertEqual([s.told for s in sheet.slots if s.edge_id == 2], ["gap 0.2 mm"])
        self.assertEqual(sheet.looks, seen)


class Asked(unittest.TestCase):
    """What is asked while the piece is in the hand."""

    def test_swapped_sides_are_asked_first(self) -> None:
        read = (("right", 0.0, 5.1), ("right", 90.0, 1.2), ("left", 0.0, 1.0))
        (asked,) = questions(PLATE_JOB, square("now", *read))
        self.assertEqual((asked.about, asked.readings), ("swapped", (0, 2)))
        # The same the other way round is how a clockwise swirl cuts: nothing is asked.
        right = (("right", 0.0, 1.0), ("right", 90.0, 1.2), ("left", 0.0, 5.1))
        self.assertEqual(questions(PLATE_JOB, square("now", *right)), ())

    def test_a_wild_reading_is_asked_about_against_the_others(self) -> None:
        read = (("right", 0.0, 1.1), ("right", 90.0, 7.3), ("right", 180.0, 0.9), ("right", 270.0, 1.2))
        (asked,) = questions(PLATE_JOB, square("now", *read))
        self.assertEqual((asked.about, asked.readings), ("wild", (1,)))
        self.assertIn("The edge cut away from you again? +7.3° does not fit", asked.sentence)
        self.assertIn("the others read +0.9° to +1.2°", asked.sentence)

    def test_one_reading_is_held_against_what_earlier_cuts_taught(self) -> None:
        lone = square("now", ("right", 0.0, 9.0))
        self.assertEqual(questions(PLATE_JOB, lone), ())  # nothing is known yet
        known = replace(PLATE_JOB, cuts=tuple(square(f"c{n}") for n in range(3)))
        self.assertEqual([q.about for q in questions(known, lone)], ["wild"])


class WhatItSays(unittest.TestCase):
    STUBS = tuple(Item(n, f"stub {n}", pierce_delay_s=0.2 * n) for n in range(1, 6))

    def pierced(self, *through: str | None, **crater: str) -> list[str]:
        seen = [Seen(n, "through", t) for n, t in enumerate(through, 1) if t]
        seen += [Seen(int(n[1:]), "crater", c) for n, c in crater.items()]
        return [s.sentence for s in what_it_says("pierce_ladder", self.STUBS, seen, 8.0)]

    def test_the_shortest_pierce_is_one_from_which_every_longer_was_through(self) -> None:
        (said,) = self.pierced("no", "no", "yes", "yes", "yes")
        self.assertIn("0.6 s is the shortest", said)
        said, once = self.pierced("no", "yes", "no", "yes", "yes")
        self.assertIn("0.8 s is the shortest", said)
        self.assertIn("once is not every time", once)
        self.assertIn("Even the shortest", self.pierced("yes", "yes", None, "yes", "yes")[1])
        self.assertIn("No delay", self.pierced("no", "no", "no", "no", "no")[0])
        self.assertIn("crater", self.pierced("no", "yes", "yes", "yes", "yes", n2="crater")[1])
        self.assertEqual(self.pierced(), [])

    def test_holes_are_drawn_by_the_smallest_way_through(self) -> None:
        bore = (Item(1, "hole 1", nominal_mm=25.0),)
        seen = [Seen(1, "top", number=24.8), Seen(1, "bottom", number=24.1)]
        (said,) = what_it_says("holes", bore, seen, 6.0)
        self.assertIn("drawn as 25.9 mm", said.sentence)
        self.assertIn("leans +3.3°", said.sentence)

    def test_a_square_tells_the_kerf_by_its_size_and_says_when_that_is_none(self) -> None:
        """Drawn 40 with 1.8 compensated; 39.9 wide: the kerf is 1.9. A kerf short is the program's doing."""
        whole = (Item(0, "square", nominal_mm=40.0, kerf_mm=1.8),)

        def told(x: float, y: float) -> list[str]:
            seen = [Seen(0, "size_x", number=x), Seen(0, "size_y", number=y)]
            return [s.sentence for s in what_it_says("square", whole, seen, 8.0)]

        (said,) = told(39.9, 39.95)
        self.assertIn("the kerf is 1.9 mm left to right, 1.85 mm near to far", said)
        self.assertIn("not the kerf", told(39.9, 40.2)[1])
        self.assertIn("compensation was off", told(38.2, 38.2)[1])
        self.assertEqual(what_it_says("square", (), [Seen(0, "size_x", number=39.0)], 8.0), ())

    def test_a_long_strip_that_drifts_names_height_control(self) -> None:
        places = tuple(
            Item(n, w) for n, w in enumerate(("near the start", "in the middle", "near the end"), 1)
        )
        seen = [Seen(1, "bevel", number=0.4), Seen(3, "bevel", number=2.6)]
        (said,) = what_it_says("long_strip", places, seen, 8.0)
        self.assertIn("ran higher along the way. That is height control", said.sentence)
        held = [Seen(1, "bevel", number=0.4), Seen(3, "bevel", number=0.9)]
        self.assertIn("the height was held", what_it_says("long_strip", places, held, 8.0)[0].sentence)


class Grading(unittest.TestCase):
    ALIKE = ((0, 0), (1, 1), (2, 2), (3, 3), (4, 4)) * 2
    APART = ((0, 2), (3, 1), (2, 4), (1, 3), (4, 2)) * 2

    def test_a_check_tells_the_spread_of_one_grade(self) -> None:
        none, alike, apart = grade_spread(()), grade_spread(self.ALIKE), grade_spread(self.APART)
        self.assertLess(alike.sd, none.sd)
        self.assertGreater(apart.sd, 0.7)
        self.assertLess(apart.low, apart.sd)
        with self.assertRaises(TradeError):
            grade_spread(((0, 5),))

    def test_the_dross_model_believes_a_shop_that_grades_apart_less(self) -> None:
        """One square that wants a grinder moves the window's lower end: less far where grades scatter."""
        job = replace(PLATE_JOB, cuts=(square("c1", dross=(Dross("low_speed", 4),)),))
        before = _low_end(replace(job, cuts=()))
        sure = _low_end(replace(job, grades=self.ALIKE)) - before
        unsure = _low_end(replace(job, grades=self.APART)) - before
        self.assertGreater(unsure, 0.0)
        self.assertGreater(sure, 1.1 * unsure)
        advice = judge(replace(job, grades=self.APART)).advice  # and the tuner still answers
        self.assertEqual(advice.status, "keep_cutting")


def _low_end(job: Campaign) -> float:
    """Where the window begins, as ln of the speed's ratio to the start."""
    model = DrossModel(job)
    return float(model.weight @ model.low)


class LookingBack(unittest.TestCase):
    def lines(self, one: Cut, other: Cut, of: Campaign | None = None) -> dict[str, Any]:
        job = PLATE_JOB
        found = compared(Shown(job, one, "square"), Shown(of or job, other, "square"))
        return {d.what: d for d in found}

    def test_a_difference_matters_past_two_of_its_uncertainties(self) -> None:
        """Two means of four readings at 0.4: each 0.2, the difference 0.283; 0.5 does not matter, 0.7 does."""
        near = square("b", *(("right", h, b + 0.5) for h, b in KEPT))
        far = square("c", *(("right", h, b + 0.7) for h, b in KEPT))
        kept = "Kept side, mean bevel"
        self.assertFalse(self.lines(square(), near)[kept].matters)
        line = self.lines(square(), far)[kept]
        self.assertTrue(line.matters)
        self.assertEqual(line.why, "+0.7°, read to ±0.6")
        self.assertFalse(self.lines(square(), far)["Edge cut to the right, right of travel"].matters)

    def test_what_one_did_not_read_is_no_difference(self) -> None:
        found = self.lines(square(arc_voltage_v=128.0), square("b"))
        self.assertEqual((found["Arc voltage"].other, found["Arc voltage"].matters), ("not read", False))
        looked = self.lines(square(dross=()), square("b"))["Chunks"]
        self.assertEqual((looked.one, looked.other, looked.matters), ("none", "not looked at", False))
        graded = self.lines(square(dross=()), square("b", dross=(Dross("low_speed", 1),)))["Chunks"]
        self.assertIn("within what two people differ by", graded.why)

    def test_another_plate_and_a_setting_always_matter(self) -> None:
        other = replace(PLATE_JOB, thickness_mm=10.0)
        found = self.lines(square(), replace(square("b"), speed_mm_min=1890.0), other)
        self.assertTrue(found["Plate"].matters)
        self.assertEqual(found["Speed"].why, "-10 %")

    def test_what_stood_there_before_in_words(self) -> None:
        before = {
            "speed_mm_min": 2100.0,
            "through": None,
            "dross": [{"kind": "low_speed", "grade": 2}],
            "edges": [{"id": 1, "side": "right", "heading_deg": 90.0, "bevel_deg": -1.25}],
            "looks": [{"item": 0, "what": "colour", "value": None, "number": None}],
        }
        said = was_in_words(before)
        self.assertEqual(said[:2], ("speed was 2100 mm/min", "through was not noted"))
        self.assertIn("cut away from you, right of travel was -1.2°", said[3])
        self.assertEqual(said[4], "colour was not looked at")


class TradeOffs(unittest.TestCase):
    def test_nothing_beats_a_process_that_is_best_at_something(self) -> None:
        """Air is fast, nitrogen clean: both are choices. A slower, rougher third is none."""
        air = _process("air", 3000, Look(2.5, 2, 0))
        nitrogen = _process("nitrogen", 2200, Look(1.0, 0, 0))
        poor = _process("old nozzle", 2000, Look(2.6, 2, 0))
        silent = _process("untried", 1500, Look())
        found = judge_processes(
            (air, nitrogen, poor, silent),
            metal="stainless_steel",
            thickness_mm=6.0,
            machine=Machine(),
            feature=Feature(100, 20),
        )
        stands = {o.process.gas: t for o, t in zip(found, trade_offs(found), strict=True)}
        self.assertEqual(stands["air"].best_at, ("speed",))
        self.assertEqual(stands["nitrogen"].best_at, ("bevel", "bottom_dross"))
        self.assertIsNone(stands["nitrogen"].beaten_by)
        beaten = stands["old nozzle"].beaten_by
        self.assertIsNotNone(beaten)
        self.assertEqual(stands["untried"].best_at, ())


def _process(gas: str, speed: float, look: Look) -> Process:
    proven = Measured(look, speed, 6.0, 3, "a trial")
    return Process("45 A sheet set", 45, gas, "", (), measured=proven)


if __name__ == "__main__":
    unittest.main()
