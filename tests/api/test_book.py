"""The Book over the wire: what was proven is started from, and what was a slip is taken back."""

import csv
import io
import unittest
from typing import Any

from pypdf import PdfReader

from orthotome.core.tuner.advise import advise
from orthotome.formats.trial.advice import AdviceFile, advice_to_file
from orthotome.formats.trial.campaign import read_campaign
from tests.shop import LOCKED, ShopOf

INCH = {"length_unit": "in", "speed_unit": "in/min"}


class Book(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)
        self.client = self.shop.client

    def get(self, path: str) -> Any:
        answer = self.client.get(path)
        self.assertEqual(answer.status_code, 200, answer.text)
        return answer.json()

    def job(self) -> tuple[dict[str, Any], str]:
        """The locked recipe, and the question for starting numbers of just its job."""
        recipe = self.get("/api/recipes/1")["recipe"]
        table = next(t["id"] for t in self.get("/api/tables") if t["name"] == recipe["table"])
        fitted = next(
            s["id"] for s in self.get("/api/torch-sets") if s["name"] == recipe["torch_set"]["name"]
        )
        of = f"metal={recipe['metal']}&thickness_mm={recipe['thickness_mm']}&torch_set_id={fitted}"
        return recipe, f"/api/start?{of}&table_id={table}"


class Proven(Book):
    def test_the_same_job_starts_from_its_recipe_and_nothing_else_does(self) -> None:
        recipe, start = self.job()
        found = self.get(start)
        self.assertEqual(found["how"], "recipe")
        self.assertEqual(found["values"]["speed_mm_min"], recipe["setting"]["speed_mm_min"])
        self.assertRegex(found["sources"][0]["source"], r"recipe, revision 1, locked .* at \d\d in 100")
        self.assertEqual(
            self.get(start.replace("thickness_mm=3.0", "thickness_mm=4.0"))["how"], "interpolated"
        )
        elsewhere = start.rpartition("&")[0]
        self.assertNotEqual(self.get(elsewhere)["how"], "recipe")

    def opened(self, **changes: Any) -> dict[str, Any]:
        """A new trial of the recipe's job, as the screen opens it."""
        _, start = self.job()
        trial = self.get(f"/api/trials/{LOCKED}/bench")["trial"]
        body = {name: trial[name] for name in ("table_id", "metal", "thickness_mm", "target")}
        body |= {"torch_set_id": trial["torch_set"]["id"], "start": self.get(start)["values"], **changes}
        answer = self.client.post("/api/trials", json=body)
        self.assertEqual(answer.status_code, 201, answer.text)
        opened: dict[str, Any] = answer.json()
        return opened

    def test_a_trial_of_it_begins_at_its_numbers_also_where_earlier_trials_are_left_out(self) -> None:
        setting = self.get("/api/recipes/1")["recipe"]["setting"]
        proven = {name: setting[name] for name in ("speed_mm_min", "cut_height_mm")}
        opened = self.opened()
        path = f"/api/trials/{opened['id']}"
        for use in (True, False):
            asked = {"revision": self.get(f"{path}/bench")["trial"]["revision"], "use": use}
            self.client.put(f"{path}/earlier-trials", json=asked)
            bench = self.get(f"{path}/bench")
            self.assertEqual(bench["now"]["setting"], proven)
            self.assertEqual(bench["advice"]["status"], "confirm")
            self.assertGreater(bench["advice"]["recommended"]["probability_pass"], 0.85, use)
            file = self.client.get(f"{path}/campaign").text
            self.assertEqual(
                advice_to_file(advise(read_campaign(file))).model_dump(mode="json"),
                AdviceFile(**bench["advice"]).model_dump(mode="json"),
            )

    def test_numbers_typed_in_its_place_are_cut_first_with_the_recipe_beside_them(self) -> None:
        start = self.get(self.job()[1])["values"]
        slower = {**start, "speed_mm_min": 0.9 * start["speed_mm_min"]}
        typed = self.opened(start=slower)
        self.assertEqual(typed["start_how"], "typed")
        bench = self.get(f"/api/trials/{typed['id']}/bench")
        self.assertEqual(bench["now"]["setting"]["speed_mm_min"], slower["speed_mm_min"])
        self.assertIn("proven_elsewhere", [f["code"] for f in bench["findings"]])

    def test_a_recipe_is_printed_on_one_page_and_cut_again_in_the_shops_units(self) -> None:
        self.client.patch("/api/shop", json=INCH)
        (page,) = PdfReader(io.BytesIO(self.client.get("/api/recipes/1/sheet.pdf").content)).pages
        said = page.extract_text()
        for words in ("134 in/min", "in force", "Filter shade", "passed"):
            self.assertIn(words, said)
        self.assertNotIn(" mm", said)
        program = self.client.get("/api/recipes/1/program.nc").text
        self.assertIn("revision 1", program)
        self.assertIn("M3\n", program)
        self.assertNotIn("M3\n", self.client.get("/api/recipes/1/program.nc?dry_run=true").text)

    def test_a_lock_is_shown_first_and_taken_back_with_its_number_spent(self) -> None:
        _, start = self.job()
        self.assertEqual(self.client.get("/api/trials/2/lock").status_code, 409)  # nothing proven there
        self.assertEqual(self.client.post("/api/recipes/1/withdrawn").status_code, 204)
        self.assertEqual(self.get("/api/recipes"), [])
        self.assertNotEqual(self.get(start)["how"], "recipe")
        trial = self.get(f"/api/trials/{LOCKED}/bench")["trial"]
        self.assertIsNone(trial["recipe_id"])
        preview = self.get(f"/api/trials/{LOCKED}/lock")
        self.assertEqual((preview["revision"], preview["passed"] >= 1), (2, True))
        locked = self.client.post(f"/api/trials/{LOCKED}/lock", json={"revision": trial["revision"]})
        self.assertEqual(locked.json()["revision"], 2)
        self.assertEqual(locked.json()["recipe"]["setting"], preview["setting"])


class Rows(Book):
    def test_a_row_is_struck_out_and_put_back(self) -> None:
        row = self.get("/api/book/rows")[0]
        struck = self.client.put(f"/api/book/rows/{row['id']}/struck").json()
        self.assertTrue(struck["struck_out"])
        self.assertNotIn(row["id"], [r["id"] for r in self.get("/api/book/rows")])
        of = f"metal={row['metal']}&torch_set_id={row['torch_set_id']}&gas={row['gas']}"
        self.assertEqual([r["id"] for r in self.get(f"/api/book/page?{of}")["struck_out"]], [row["id"]])
        self.client.put(f"/api/book/rows/{row['id']}/struck?out=false")
        self.assertIn(row["id"], [r["id"] for r in self.get("/api/book/rows")])

    def test_a_row_out_of_line_that_is_right_is_not_pointed_at_again(self) -> None:
        page = next(p for p in self.get("/api/book/pages") if p["breaks"] > 0)
        of = f"metal={page['metal']}&torch_set_id={page['torch_set_id']}&gas={page['gas']}"
        row_id = self.get(f"/api/book/page?{of}")["breaks"][0]["row_id"]
        self.client.put(f"/api/book/rows/{row_id}/right")
        self.assertNotIn(row_id, [b["row_id"] for b in self.get(f"/api/book/page?{of}")["breaks"]])
        again = next(
            p
            for p in self.get("/api/book/pages")
            if (p["metal"], p["torch_set_id"]) == (page["metal"], page["torch_set_id"])
        )
        self.assertLess(again["breaks"], page["breaks"])

    def test_a_kerf_that_no_source_gives_is_assumed_and_said_so(self) -> None:
        body = {
            "metal": "mild_steel",
            "thickness_mm": 5,
            "torch_set_id": 1,
            "speed_mm_min": 3500,
            "cut_height_mm": 1.5,
            "pierce_height_mm": 3.8,
            "pierce_delay_s": 0.3,
            "source": "example",
        }
        row = self.client.post("/api/book/rows", json=body).json()
        # 0.8 mm and 0.014 mm an ampere.
        self.assertAlmostEqual(row["kerf_mm"], round(0.8 + 0.014 * row["amperage_a"], 1))
        self.assertTrue(row["kerf_assumed"])

    def test_the_file_for_an_inch_shop_has_its_headings_and_comes_back_by_the_import(self) -> None:
        self.client.patch("/api/shop", json=INCH)
        text = self.client.get("/api/book/rows.csv?in_shop_units=true").text
        headings = next(csv.reader(io.StringIO(text)))
        self.assertIn("speed (in/min)", headings)
        self.assertIn("thickness (in)", headings)
        body = {"text": text, "swirl": None}
        preview = self.client.post("/api/book/import/preview", json=body).json()
        self.assertEqual(preview["unmatched"], [])

    def test_a_refusal_names_the_set_that_could(self) -> None:
        sets = {s["name"]: s["id"] for s in self.get("/api/torch-sets")}
        of = f"metal=stainless_steel&thickness_mm=3&torch_set_id={sets['100 A heavy set']}"
        said = " ".join(self.get(f"/api/start?{of}")["warnings"])
        self.assertIn("The 45 A sheet set has rows for 3 mm.", said)

    def test_a_speed_as_fast_as_files_take_still_has_a_bench_and_a_piece(self) -> None:
        fast = {
            "table_id": 1,
            "torch_set_id": 3,
            "metal": "mild_steel",
            "thickness_mm": 3,
            "start": {
                "speed_mm_min": 1900 * 25.4,
                "cut_height_mm": 1.5,
                "arc_voltage_v": None,
                "pierce_height_mm": 3.8,
                "pierce_delay_s": 0.5,
                "kerf_mm": 1.5,
            },
            "target": {"bevel_deg": 2, "sides": "good", "dross_grade": 1, "priority": "square_first"},
        }
        refused = self.client.post("/api/trials", json=fast)
        self.assertEqual(refused.status_code, 422)
        self.assertIn("this table stops at 12000 mm/min", refused.json()["detail"])
        self.client.patch("/api/tables/1/settings", json={"settings": {"fastest_mm_min": None}})
        opened = self.client.post("/api/trials", json=fast)
        self.assertEqual(opened.status_code, 201, opened.text)
        piece = self.get(f"/api/trials/{opened.json()['id']}/piece")
        self.assertIn("never comes to", piece["notes"][0])
        self.client.patch("/api/tables/1/settings", json={"settings": {"fastest_mm_min": 12_000.0}})


class RunThrough(Book):
    def test_ticks_for_one_plate_do_not_stand_for_galvanized_sheet_after_it(self) -> None:
        def state() -> Any:
            return self.get("/api/tables/1/readiness")

        for item in state()["items"]:
            body = {
                "code": item["code"],
                "answer": "acknowledged" if item["caution"] else "right",
            }
            self.client.post("/api/tables/1/readiness", json=body)
        self.assertEqual(state()["due"], 0)
        trial = self.get("/api/trials/2/bench")["trial"]
        zinc = {
            "table_id": 1,
            "torch_set_id": trial["torch_set"]["id"],
            "metal": "galvanized_steel",
            "thickness_mm": trial["thickness_mm"],
            "start": trial["start"],
            "target": trial["target"],
        }
        self.assertEqual(self.client.post("/api/trials", json=zinc).status_code, 201)
        items = {i["code"]: i for i in state()["items"]}
        for code in ("fume", "clamp", "flat", "dry_run"):
            self.assertTrue(items[code]["due"], code)
            self.assertIsNone(items[code]["answer"], code)
        self.assertIn("Zinc", items["fume"]["ask"])
        self.assertEqual(items["fume"]["because"], "another metal since it was right")
        self.assertFalse(items["parts_right"]["due"])  # the set is the same


if __name__ == "__main__":
    unittest.main()
