"""Rows as people keep them: any dialect, any unit, every bad row named, and the file given back."""

import json
import unittest

from orthotome.core.quantities import INCH, speaking
from orthotome.formats.book.row_import import Match, read_sheet, suggest, take_in
from orthotome.formats.book.rows import read_rows, write_rows, write_rows_json
from orthotome.formats.reading import FileError

HEAD = "metal,thickness_mm,torch_set,amperage_a,gas,speed_mm_min,arc_voltage_v,cut_height_mm,pierce_height_mm,pierce_delay_s,kerf_mm,source"


def lines(count: int, bad: int = 0) -> str:
    """A file of so many rows, of which the first few are bad, each in its own way."""
    slips = ("fast,125", ",125", "2400,9000", "-2400,125", "2400 kg,125", "nan,125")
    rows = []
    for n in range(count):
        speed = slips[n % len(slips)] if n < bad else f"{2400 + n % 50},125"
        rows.append(f"mild_steel,{1 + n / 1000:g},70 A plate set,70,air,{speed},1.5,3.8,0.4,1.7,p. {n}")
    return "\r\n".join([HEAD, *rows]) + "\r\n"


class Reading(unittest.TestCase):
    def test_37_bad_rows_are_37_with_their_lines(self) -> None:
        sheet = read_sheet(lines(100, bad=37))
        found = take_in(sheet, suggest(sheet.headings))
        self.assertEqual((len(found.good), len(found.bad)), (63, 37))
        self.assertEqual([b.line for b in found.bad], list(range(2, 39)))
        said = {b.sentence for b in found.bad}
        self.assertIn("“fast” is not a speed: write 2400, 95 in/min or 2.4 m/min.", said)
        self.assertIn("is empty; an empty cell is not a zero.", said)
        self.assertEqual({b.column for b in found.bad}, {"speed_mm_min", "arc_voltage_v"})

    def test_a_pasted_sheet_in_inches_with_its_own_headings(self) -> None:
        sheet = read_sheet(
            "Material\tThickness (in)\tParts\tAmps\tPlasma gas\tFeed (ipm)\tVolts\tStandoff\tPierce height\t"
            "Delay (ms)\tKerf\tPage\n"
            "Carbon steel\t5/16\tBig\t70\tair\t95\t\t0.06 in\t3.8\t400\t1.7\tp. 3\n"
            "Stainless\t14 ga\tBig\t70\tair\t2.4 m/min\t120\t1.5\t3.8\t0\t1.7\tp. 4\n"
        )
        found = take_in(sheet, suggest(sheet.headings))
        self.assertEqual(found.bad, ())
        (_, steel), (_, stainless) = found.good
        self.assertEqual((steel.metal, steel.thickness_mm), ("mild_steel", 7.9375))
        self.assertEqual((steel.values.speed_mm_min, steel.values.arc_voltage_v), (2413, None))
        self.assertEqual((steel.values.cut_height_mm, steel.values.pierce_delay_s), (1.524, 0.4))
        # 14 ga of stainless is .0781 in, not the .0747 of carbon steel.
        self.assertAlmostEqual(stainless.thickness_mm, 0.0781 * 25.4)
        self.assertEqual((stainless.values.speed_mm_min, stainless.values.pierce_delay_s), (2400, 0))

    def test_headings_without_a_unit_are_in_the_shops(self) -> None:
        sheet = read_sheet("metal,thickness,torch set,speed\nmild_steel,1/4,A,95\n")
        with speaking(INCH):
            inches = suggest(sheet.headings)
        self.assertEqual([inches[c].unit for c in ("thickness_mm", "speed_mm_min")], ["in", "in/min"])
        self.assertEqual(suggest(sheet.headings)["speed_mm_min"].unit, "mm/min")

    def test_a_semicolon_file_with_decimal_commas(self) -> None:
        sheet = read_sheet(
            HEAD.replace(",", ";") + "\nmild_steel;6,5;A;70;air;2400;125,5;1,5;3,8;0,4;1,7;x\n"
        )
        ((_, row),) = take_in(sheet, suggest(sheet.headings)).good
        self.assertEqual((row.thickness_mm, row.values.arc_voltage_v), (6.5, 125.5))

    def test_one_value_for_all_rows_and_a_missing_column_by_name(self) -> None:
        sheet = read_sheet("thick,speed\n6,95\n")
        with self.assertRaisesRegex(FileError, "metal: say which column holds it"):
            take_in(sheet, suggest(sheet.headings))
        same = {
            "metal": "brass",
            "torch_set": "A",
            "amperage_a": "70",
            "gas": "air",
            "source": "own guess",
        }
        same |= {
            "cut_height_mm": "1.5",
            "pierce_height_mm": "3.8",
            "pierce_delay_s": "0.4",
            "kerf_mm": "1.7",
        }
        matches = {c: Match(same_for_all=v) for c, v in same.items()}
        matches |= {"thickness_mm": Match("thick", "mm"), "speed_mm_min": Match("speed", "in/min")}
        ((_, row),) = take_in(sheet, matches).good
        self.assertEqual((row.metal, row.values.speed_mm_min, row.source), ("brass", 2413, "own guess"))

    def test_amperage_above_a_sets_rating_is_a_bad_row_and_far_below_a_question(self) -> None:
        text = lines(2).replace("set,70,air,2401", "set,45,air,2401")
        sheet = read_sheet(text)
        matches = suggest(sheet.headings)
        above = take_in(sheet, matches, {"70 A plate set": 60})
        self.assertEqual([(b.line, b.column) for b in above.bad], [(2, "amperage_a")])
        below = take_in(sheet, matches, {"70 A plate set": 70})
        of_amperage = [q for q in below.questions if q.column == "amperage_a"]
        self.assertEqual([(q.line, "lazy" in q.sentence) for q in of_amperage], [(3, True)])

    def test_two_rows_for_one_place_are_no_two_rows(self) -> None:
        first, second, third = lines(3).splitlines()[1:]
        sheet = read_sheet(
            "\n".join([HEAD, first, second, second, first.replace("2400", "2500"), third])
        )
        found = take_in(sheet, suggest(sheet.headings))
        self.assertEqual(
            [(b.line, "line 2 says otherwise" in b.sentence) for b in found.bad], [(5, True)]
        )
        self.assertEqual(len(found.good), 4)

    def test_what_is_no_sheet_is_refused_in_a_sentence(self) -> None:
        for text, words in (
            ("", "is empty"),
            (HEAD, "no row under"),
            ("[1, 2]", "list of objects"),
            ("{", "not JSON"),
            ('a,b\n"x,1', "line"),
        ):
            with self.subTest(text[:8]), self.assertRaisesRegex(FileError, words):
                read_sheet(text)

    def test_5000_rows_are_all_there(self) -> None:
        sheet = read_sheet(lines(5000))
        self.assertEqual(len(take_in(sheet, suggest(sheet.headings)).good), 5000)


class GivenBack(unittest.TestCase):
    def given_back(self, text: str) -> str:
        sheet = read_sheet(text)
        return write_rows([r for _, r in take_in(sheet, suggest(sheet.headings)).good])

    def test_a_file_comes_out_as_it_went_in(self) -> None:
        self.assertEqual(self.given_back(lines(40)), lines(40))

    def test_with_the_columns_it_uses_beside_the_twelve(self) -> None:
        more = lines(3).replace("source", "source,shield_gas,gas_flow_l_min")
        for n, cells in enumerate((",nitrogen,110.5", ",,", ",nitrogen,98")):
            more = more.replace(f"p. {n}", f"p. {n}{cells}")
        self.assertEqual(self.given_back(more), more)

    def test_json_and_csv_say_the_same(self) -> None:
        rows = read_rows(lines(5))
        sheet = read_sheet(write_rows_json(rows))
        again = [r for _, r in take_in(sheet, suggest(sheet.headings)).good]
        self.assertEqual(again, rows)
        self.assertEqual(json.loads(write_rows_json(rows))["format"], "orthotome.rows")


if __name__ == "__main__":
    unittest.main()
