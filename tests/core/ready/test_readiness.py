"""Readiness: only what applies is asked, only when it is due, and no caution can be dropped."""

import unittest
from dataclasses import replace

from orthotome.core.ready.run_through import (
    ITEMS,
    Case,
    Every,
    Item,
    LastRight,
    ShopRules,
    filter_shade,
    held_for,
    run_through,
)

STEEL = Case("mild_steel", 8, "70 A plate set", 70, "air", bed="water")
EVERYTHING = frozenset(i.code for i in ITEMS)
JUST_NOW = {code: LastRight(0.1, 1) for code in EVERYTHING}


def codes(case: Case, last=None, rules=None, **more):  # type: ignore[no-untyped-def]
    return [d.item.code for d in run_through(case, last or {}, rules, **more)]


class WhatApplies(unittest.TestCase):
    def test_hydrogen_is_warned_of_for_aluminium_over_water_only(self) -> None:
        aluminium = replace(STEEL, metal="aluminium")
        self.assertIn("hydrogen_under_aluminium", codes(aluminium))
        self.assertIn("aluminium_dust", codes(replace(aluminium, bed="downdraft")))
        self.assertNotIn("hydrogen_under_aluminium", codes(STEEL))

    def test_any_gas_that_pushes_air_out_is_warned_of(self) -> None:
        for gases in ({"gas": "argon-hydrogen"}, {"gas": "nitrogen"}, {"shield_gas": "nitrogen"}):
            self.assertIn("asphyxiation", codes(replace(STEEL, **gases)))  # type: ignore[arg-type]
        self.assertNotIn("asphyxiation", codes(replace(STEEL, gas="oxygen")))

    def test_coating_gas_bed_and_touch_off_each_bring_their_own(self) -> None:
        said = {d.item.code: d.item for d in run_through(replace(STEEL, metal="galvanized_steel"), {})}
        self.assertIn("Zinc", said["fume"].ask)
        mixed = codes(replace(STEEL, gas="argon-hydrogen", shield_gas="nitrogen", bed="downdraft"))
        for code in ("asphyxiation", "hydrogen_gas", "cylinders", "downdraft"):
            self.assertIn(code, mixed)
            self.assertNotIn(code, codes(STEEL))
        self.assertNotIn("air_drained", mixed)
        self.assertIn("touch_off_ohmic", codes(replace(STEEL, touch_off="ohmic")))
        by_hand = codes(replace(STEEL, touch_off="none", height_control="by_hand"))
        self.assertIn("height_by_hand", by_hand)
        self.assertNotIn("first_fixed", by_hand)

    def test_a_controller_that_may_switch_itself_on_is_watched(self) -> None:
        voltage = replace(STEEL, height_control="voltage")
        self.assertIn("switches_itself_on", codes(voltage))
        self.assertNotIn("switches_itself_on", codes(replace(voltage, switches_itself_on=False)))

    def test_shade_by_amperage(self) -> None:
        # Domain section 14: 6 to 60 A, 8 to 80 A, 9 above.
        self.assertEqual([filter_shade(a) for a in (60, 61, 80, 81)], [6, 8, 8, 9])
        eyes = run_through(STEEL, {})[0].item
        self.assertIn("shade 8", eyes.ask)

    def test_the_order_of_work(self) -> None:
        groups = [d.item.group for d in run_through(replace(STEEL, height_control="voltage"), {})]
        order = ["safe", "parts", "air", "machine", "dry_run", "first_cut"]
        self.assertEqual(sorted(groups, key=order.index), groups)


class WhenItIsDue(unittest.TestCase):
    def test_nothing_is_asked_twice_within_its_time(self) -> None:
        self.assertEqual(codes(STEEL, JUST_NOW), [])
        self.assertGreater(len(codes(STEEL, JUST_NOW, whole=True)), 10)

    def test_session_day_starts_and_once(self) -> None:
        def due(code: str, hours: float, starts: int) -> bool:
            return code in codes(STEEL, {**JUST_NOW, code: LastRight(hours, starts)})

        self.assertEqual([due("homed", h, 0) for h in (3, 5)], [False, True])
        self.assertEqual([due("air_drained", h, 0) for h in (5, 20)], [False, True])
        self.assertEqual([due("parts_looked_at", 900, n) for n in (59, 60)], [False, True])
        self.assertFalse(due("axes", 9000, 9000))
        self.assertIn("axes", codes(STEEL, {k: v for k, v in JUST_NOW.items() if k != "axes"}))

    def test_what_was_right_for_one_plate_falls_due_with_the_next(self) -> None:
        after = {
            "metal": {"fume"},
            "plate": {"clamp", "homed", "flat", "dry_run", "water_level"},
            "set": {"eyes_and_skin", "parts_right", "air_flowing"},
            "program": {"flat", "dry_run"},
        }
        now = held_for(STEEL, "trial 1")
        zinc = held_for(replace(STEEL, metal="galvanized_steel"), "trial 2")
        self.assertEqual({h for h in now if now[h] != zinc[h]}, {"metal", "plate", "program"})
        for hook, due in after.items():
            last = {c: LastRight(0.1, 1, frozenset({hook})) for c in EVERYTHING}  # type: ignore[arg-type]
            self.assertEqual(set(codes(STEEL, last)), due, hook)
        found = run_through(STEEL, {**JUST_NOW, "clamp": LastRight(0.1, 1, frozenset({"plate"}))})
        self.assertEqual([d.because for d in found], ["another plate since it was right"])

    def test_it_says_why_it_asks(self) -> None:
        found = run_through(STEEL, {**JUST_NOW, "parts_looked_at": LastRight(2, 71)})
        self.assertEqual([d.because for d in found], ["71 starts since"])


class ShopsOwn(unittest.TestCase):
    def test_items_are_dropped_and_timed_anew_but_cautions_stay(self) -> None:
        rules = ShopRules(EVERYTHING, {"fire": Every("once")})
        left = run_through(STEEL, {}, rules)
        self.assertTrue(left and all(d.item.caution for d in left))
        old = {**JUST_NOW, "fire": LastRight(100, 0), "homed": LastRight(100, 0)}
        self.assertEqual(codes(STEEL, old, ShopRules(every={"homed": Every("once")})), ["fire"])

    def test_an_own_item_stands_in_its_group_as_it_was_typed(self) -> None:
        own = Item("own-1", "air", "Bleed {the} bowl?", "Bleed it.", Every("days", 2))
        found = run_through(STEEL, {**JUST_NOW, "own-1": LastRight(50, 0)}, ShopRules(own=(own,)))
        self.assertEqual([(d.item.ask, d.because) for d in found], [("Bleed {the} bowl?", "last right 2 days ago")])  # fmt: skip


class Words(unittest.TestCase):
    def test_no_item_says_that_anything_is_safe_and_each_says_what_to_do(self) -> None:
        for item in ITEMS:
            self.assertNotRegex(item.ask.lower() + item.if_not.lower(), r"\bis safe\b|\bsafely\b")
            self.assertGreater(len(item.if_not), 20, item.code)


if __name__ == "__main__":
    unittest.main()
