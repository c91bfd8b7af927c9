"""What is refused as no job for a plasma table, what burns, and what coated steel says."""

import unittest

from orthotome.core.book.start_rows import starting_numbers
from orthotome.core.ready.run_through import Case, run_through
from orthotome.core.stock.hazards import refused_because
from orthotome.core.stock.metals import METALS, metal_named
from tests.core.book.test_start_rows import ROWS, ask


class NotCut(unittest.TestCase):
    def test_what_burns_poisons_or_is_no_metal_is_refused_by_name(self) -> None:
        for name, word in {
            "magnesium": "burns in the cut",
            "Magnesium alloy AZ31": "burns in the cut",
            "beryllium copper": "poisons for life",
            "sheet lead": "melts long before",
            "birch plywood": "no metal",
            "PVC": "no metal",
            "carbon fibre": "no metal",
        }.items():
            with self.subTest(name):
                self.assertIn(word, refused_because(name) or "")
                found = starting_numbers(ROWS, metal=name, thickness_mm=8, torch_set="70 A plate set")
                self.assertEqual((found.how, found.values), ("refused", None))
                self.assertIn(word, found.warnings[0])

    def test_a_shops_own_metals_are_not_refused_for_a_word_in_their_name(self) -> None:
        own = (
            "plastic-coated steel", "aluminium magnesium 5083", "wear plate 400", "leaded brass", "leather-grain steel",
            "glassy alloy", "hard-facing plate", "nickel silver", "ironwood steel", *METALS,
        )  # fmt: skip
        self.assertEqual([name for name in own if refused_because(name)], [])


class WithCautions(unittest.TestCase):
    def test_titanium_is_begun_like_any_metal_without_rows_and_its_fire_is_said(self) -> None:
        found = ask(8, "Titanium grade 2")
        self.assertEqual(found.how, "analogue")
        self.assertIn("water on burning titanium explodes", found.warnings[-1])
        case = Case("Titanium grade 2", 8, "70 A plate set", 70, "air")
        asked = {d.item.code: d.item for d in run_through(case, {})}
        self.assertIn("Titanium burns", asked["metal_that_burns"].ask)
        self.assertTrue(asked["metal_that_burns"].caution)
        steel = run_through(Case("mild_steel", 8, "70 A plate set", 70, "air"), {})
        self.assertNotIn("metal_that_burns", {d.item.code for d in steel})

    def test_the_metals_that_are_not_steel_say_what_their_fume_carries(self) -> None:
        for name, words in {
            "galvanized_steel": "Zinc",
            "copper": "beryllium",
            "brass": "lead",
            "bronze": "beryllium",
        }.items():
            self.assertIn(words, metal_named(name).fume or "", name)
            self.assertIn(metal_named(name).fume, ask(8, name).warnings)

    def test_coated_steel_says_whose_numbers_it_begins_with(self) -> None:
        self.assertEqual(ask(8, "galvanized_steel").values, ask(8).values)
        self.assertIn("the numbers of mild steel", " ".join(ask(8, "galvanized_steel").warnings))
        self.assertNotIn("the numbers of", " ".join(ask(8).warnings))
