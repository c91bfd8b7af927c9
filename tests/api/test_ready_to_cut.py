"""Ready to cut: the Book's import, the table's page, the signal path, choosing, and the run-through."""

import io
import unittest
from typing import Any

from PIL import Image

from tests.api.test_api import Api
from tests.formats.test_row_import import lines
from tests.shop import CUT, JUST_OPENED, WREN, ShopOf

ROW: dict[str, Any] = {
    "metal": "mild_steel", "thickness_mm": 8.0, "torch_set_id": 1, "speed_mm_min": 2200.0,
    "cut_height_mm": 1.5, "pierce_height_mm": 3.8, "pierce_delay_s": 0.5, "kerf_mm": 1.8,
    "source": "own guess",
}  # fmt: skip


class Importing(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)
        self.client = self.shop.client

    def count(self) -> int:
        return len(self.client.get("/api/book/rows").json())

    def take(self, text: str, **more: Any) -> Any:
        return self.client.post("/api/book/import", json={"text": text, **more})

    def test_with_bad_rows_nothing_is_taken_in_unless_the_good_ones_are_asked_for(self) -> None:
        before, text = self.count(), lines(100, bad=37)
        preview = self.client.post("/api/book/import/preview", json={"text": text}).json()
        self.assertEqual((preview["rows"], preview["good"], len(preview["bad"])), (100, 63, 37))
        refused = self.take(text)
        self.assertEqual(refused.status_code, 409)
        self.assertIn("37 of 100 rows cannot be used; the first: line 2", refused.json()["detail"])
        self.assertEqual(self.count(), before)
        taken = self.take(text, keep_good=True).json()
        self.assertEqual((taken["added"], taken["left_out"]), (63, 37))
        self.assertEqual(self.count(), before + 63)

    def test_the_same_file_again_changes_nothing_and_a_changed_row_supersedes(self) -> None:
        text = lines(10)
        self.assertEqual(self.take(text).json()["added"], 10)
        self.assertEqual(self.take(text + text.splitlines()[1]).json()["known"], 10)
        again = self.take(text).json()
        self.assertEqual((again["added"], again["superseded"], again["known"]), (0, 0, 10))
        before = self.count()
        mended = self.take(text.replace(",2403,", ",2333,")).json()
        self.assertEqual((mended["added"], mended["superseded"], mended["known"]), (0, 1, 9))
        self.assertEqual(self.count(), before)
        row = next(r for r in self.client.get("/api/book/rows").json() if r["speed_mm_min"] == 2333)
        old = self.client.get(f"/api/book/rows/{row['id']}/history").json()
        self.assertEqual([r["speed_mm_min"] for r in old], [2403])

    def test_an_empty_shop_takes_in_a_book_with_its_sets_and_gives_it_back(self) -> None:
        empty = ShopOf(filled=False)
        self.addCleanup(empty.close)
        ask = empty.client.post
        body = {"text": lines(12)}
        without = ask("/api/book/import", json=body)
        self.assertEqual(without.status_code, 409)
        self.assertIn("no torch set named “70 A plate set”", without.json()["detail"])
        self.assertEqual(empty.client.get("/api/torch-sets").json(), [])
        taken = ask("/api/book/import", json={**body, "new_sets_swirl": "clockwise"}).json()
        self.assertEqual((taken["added"], taken["sets"]), (12, ["70 A plate set"]))
        given = empty.client.get("/api/book/rows.csv").content.decode()
        self.assertEqual(given, lines(12))

    def test_amperage_above_the_sets_rating_is_refused_wherever_it_is_given(self) -> None:
        typed = self.client.post("/api/book/rows", json={**ROW, "amperage_a": 71.0})
        self.assertEqual(typed.status_code, 422)
        self.assertIn("destroys the nozzle", typed.json()["detail"])
        lazy = {**ROW, "amperage_a": 40.0}
        questioned = self.client.post("/api/book/rows", json=lazy)
        self.assertIn("the arc is lazy", questioned.json()["detail"])
        meant = self.client.post("/api/book/rows", json={**lazy, "amperage_is_right": True})
        self.assertEqual((meant.status_code, meant.json()["amperage_a"]), (201, 40))
        preview = {"text": lines(3).replace("set,70,", "set,85,")}
        bad = self.client.post("/api/book/import/preview", json=preview).json()["bad"]
        self.assertEqual([b["column"] for b in bad], ["amperage_a"] * 3)

    def test_a_row_keeps_its_gases_surface_and_bounds(self) -> None:
        more = {"shield_gas": "air", "gas_pressure_kpa": 550.0, "surface": "pickled", "bed": "water"}
        more |= {"water_level_mm": -60.0, "least_thickness_mm": 3.0, "gas": "nitrogen"}
        added = self.client.post("/api/book/rows", json={**ROW, **more}).json()
        self.assertEqual({k: added[k] for k in more}, more)

    def test_the_mistyped_row_of_the_examples_is_pointed_at(self) -> None:
        pages = {(p["metal"], p["torch_set_id"]): p for p in self.client.get("/api/book/pages").json()}
        self.assertEqual(pages["mild_steel", 3]["breaks"], 1)
        self.assertEqual(pages["mild_steel", 1]["breaks"], 0)
        page = self.client.get("/api/book/page?metal=mild_steel&torch_set_id=3&gas=air").json()
        (found,) = page["breaks"]
        wrong = next(r for r in page["rows"] if r["id"] == found["row_id"])
        self.assertEqual((wrong["thickness_mm"], wrong["speed_mm_min"]), (16, 54))
        beyond = [p["beyond"] for p in page["curve"]]
        self.assertEqual((beyond[0], beyond[-1], beyond[len(beyond) // 2]), (True, True, False))


class TablesPage(Api):
    def change(self, **settings: Any) -> Any:
        return self.client.patch("/api/tables/2/settings", json={"settings": settings})

    def test_what_is_not_given_stays_and_axes_along_one_line_are_refused(self) -> None:
        self.assertEqual(self.change(x_runs="left", y_runs="away").status_code, 200)
        self.change(air={"need_l_min": 190.0})
        kept = self.change(air={"tank_l": 200.0}).json()
        self.assertEqual(kept["settings"]["air"]["need_l_min"], 190)
        self.assertEqual(kept["settings"]["touch_off"], "float_switch")
        self.assertTrue(kept["mirrors"])
        self.refused(self.change(y_runs="right"), 422, words="each axis by itself")
        self.assertEqual(self.get("/tables/2/settings")["settings"]["y_runs"], "away")

    def test_axes_that_change_must_be_proved_again(self) -> None:
        self.change(x_runs="right", y_runs="away", axes_proved=True)
        self.assertFalse(self.change(x_runs="left").json()["settings"]["axes_proved"])

    def test_the_program_is_written_in_the_tables_own_axes(self) -> None:
        self.client.put(f"/api/trials/{JUST_OPENED}/bench")
        self.change(x_runs="away", y_runs="left", axes_proved=True)
        program = self.client.get(f"/api/trials/{JUST_OPENED}/piece.nc").text
        self.assertIn("(X plus runs away from you, Y plus to the left.)", program)
        self.assertRegex(program, r"G0 X\d+\.\d+ Y-\d+\.\d+")

    def test_starting_numbers_hear_what_the_table_lacks(self) -> None:
        self.change(arc_signal=False, gases=["air"])
        asked = "/start?metal=stainless_steel&thickness_mm=3&torch_set_id=2&gas=nitrogen"
        said = " ".join(self.get(f"{asked}&table_id=2")["warnings"])
        self.assertIn("no nitrogen plumbed", said)
        self.assertIn("pre-flow and ignition", said)
        self.assertNotIn("plumbed", " ".join(self.get(asked)["warnings"]))

    def test_a_photo_is_kept_with_its_note_and_a_struck_note_comes_back(self) -> None:
        noted = self.client.post("/api/tables/2/facts", json={"title": "Link 3", "told": "bridged"})
        path = f"/api/facts/{noted.json()['id']}"
        self.refused(self.client.put(f"{path}/photo", content=b"no picture"), 422, "photo")
        drawn = io.BytesIO()
        Image.new("RGB", (40, 30), "silver").save(drawn, "PNG")
        picture = drawn.getvalue()
        self.assertEqual(self.client.put(f"{path}/photo", content=picture).status_code, 204)
        answer = self.client.get(f"{path}/photo")
        self.assertEqual(answer.headers["content-type"], "image/jpeg")
        with Image.open(io.BytesIO(answer.content)) as kept:
            self.assertEqual(kept.size, (40, 30))
        self.client.put(f"{path}/struck")
        self.assertEqual(self.get("/tables/2/facts"), [])
        self.client.put(f"{path}/struck?out=false")
        self.assertEqual(len(self.get("/tables/2/facts")), 1)


class SignalPaths(Api):
    def taught(self) -> int:
        """Cuts that say what height is worth in volts."""
        return int(self.get(f"/trials/{JUST_OPENED}/height")["volts"]["cuts"])

    def test_volts_before_and_after_a_change_are_never_one_series(self) -> None:
        for n in (1, 2):
            cut = {**CUT, "key": f"k{n}", "cut_height_mm": 1.0 + n / 2, "arc_voltage_v": 120.0 + 3 * n}
            self.client.post(f"/api/trials/{JUST_OPENED}/cuts", json=cut)
        self.assertEqual(self.taught(), 2)
        path = {"source_ratio": 50.0, "card_ratio": 1.0, "multiplier": 50.0, "note": "as found"}
        first = self.client.post("/api/tables/2/signal-paths", json=path).json()
        self.assertEqual(first["gain"], 1.0)
        # Writing down what it always was changes nothing; another multiplier does.
        self.assertEqual(self.taught(), 2)
        changed = {**path, "multiplier": 51.0, "note": "loaded by the card"}
        second = self.client.post("/api/tables/2/signal-paths", json=changed, headers=WREN).json()
        self.assertEqual((second["set_by"], self.taught()), ("Wren", 0))
        self.assertNotEqual(second["fitting_id"], first["fitting_id"])
        page = self.get("/tables/2/signal-paths")
        self.assertEqual([p["id"] for p in page["paths"]], [second["id"], first["id"]])
        self.assertEqual([p["in_force"] for p in page["paths"]], [True, False])

    def test_a_pair_of_volts_names_the_stage_and_saves_nothing(self) -> None:
        file = {"format": "orthotome.signal_path", "version": 1, "source_ratio": 50, "card_ratio": 1}
        file |= {"multiplier": 50, "set_point_v": 128.0, "slope_v_per_mm": 6.5}
        body = {**file, "observed": {"true_v": 130.0, "screen_v": 2.6}}
        found = self.client.post("/api/signal-path", json=body).json()
        self.assertEqual(found["report"]["explanations"][0]["stage"], "card")
        self.assertEqual(found["volts_along"], [130, 2.6, 2.6, 130])
        self.assertEqual([round(v, 3) for v in found["likely_volts_along"]], [130, 2.6, 0.052, 2.6])
        swapped = {**file, "observed": {"true_v": 130.0, "screen_v": -2.6}}
        self.refused(self.client.post("/api/signal-path", json=swapped), 422, words="swapped")


class Choosing(Api):
    def test_every_process_with_its_gas_and_the_trial_in_place_of_the_claim(self) -> None:
        found = self.get("/choose?metal=stainless_steel&thickness_mm=3&table_id=1")
        options = {(o["torch_set"], o["gas"]): o for o in found["options"]}
        air, nitrogen = options["45 A sheet set", "air"], options["45 A sheet set", "nitrogen"]
        self.assertTrue(air["measured"] and not nitrogen["measured"])
        self.assertIn("measured here: Gate brackets", air["look_from"])
        self.assertEqual((nitrogen["colour"], nitrogen["bevel_deg"]), ("silver", 2.2))
        self.assertFalse(options["100 A heavy set", "air"]["usable"])
        # A trial that is not proven yet counts too, as it comes in, and says so.
        steel = self.get("/choose?metal=mild_steel&thickness_mm=8&table_id=1")["options"]
        plate = next(o for o in steel if o["torch_set"] == "70 A plate set")
        self.assertTrue(plate["measured"])
        self.assertIn("Hopper sides, not proven yet, 3 cuts", plate["look_from"])
        self.assertGreater(nitrogen["gas_l_per_m"], 0)

    def test_what_is_written_down_counts_at_once_and_out_of_order_is_refused(self) -> None:
        note = {"metal": "aluminium", "gas": "air", "pierce_max_mm": 5.0, "source": "manual p. 9"}
        self.assertEqual(self.client.put("/api/torch-sets/1/note", json=note).status_code, 200)
        found = self.get("/choose?metal=aluminium&thickness_mm=6")
        plate = next(o for o in found["options"] if o["torch_set_id"] == 1)
        self.assertEqual((plate["can"], found["machine_known"]), ("unknown", False))
        wrong = self.client.put("/api/torch-sets/1/note", json={**note, "sever_max_mm": 4.0})
        self.refused(wrong, 422, "sever_max_mm")


class RunThrough(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)
        self.client = self.shop.client

    def state(self) -> Any:
        return self.client.get("/api/tables/1/readiness").json()

    def answer(self, code: str, answer: str, **more: Any) -> Any:
        body = {"code": code, "answer": answer, **more}
        return self.client.post("/api/tables/1/readiness", json=body, headers=WREN)

    def through(self, *but: str) -> None:
        for item in self.state()["items"]:
            if item["code"] not in but:
                self.answer(item["code"], "acknowledged" if item["caution"] else "right")

    def done(self) -> Any:
        return self.client.post("/api/tables/1/readiness/done")

    def test_who_when_and_what_was_skipped_is_kept_with_the_trial(self) -> None:
        self.through("flat", "homed")
        self.answer("homed", "not_right", note="limit switch")
        self.assertEqual(self.done().status_code, 409)
        self.answer("homed", "skipped")
        run = self.done().json()
        self.assertEqual((run["begun_by"], len(run["skipped"])), ("Wren", 2))
        kept = self.client.get("/api/trials/2/readiness").json()
        self.assertEqual(kept[0], run)
        self.assertIn("flat, 8 mm mild steel", " ".join(run["skipped"]))
        due = [i["code"] for i in self.state()["items"] if i["due"]]
        self.assertEqual(sorted(due), ["flat", "homed"])

    def test_a_caution_is_neither_skipped_nor_dropped(self) -> None:
        self.assertEqual(self.answer("fire", "skipped").status_code, 409)
        self.assertEqual(self.answer("fire", "right").status_code, 409)
        dropped = self.client.put("/api/readiness/rules/fire", json={"dropped": True})
        self.assertEqual(dropped.status_code, 409)
        self.through("fire")
        late = self.done()
        self.assertIn("cautions are acknowledged first", late.json()["detail"])

    def test_a_shop_drops_re_times_and_adds(self) -> None:
        self.client.put("/api/readiness/rules/clamp", json={"dropped": True})
        every = {"period": "starts", "number": 5}
        own = {"ask": "Bowl bled?", "if_not": "Bleed it.", "group": "air", "every": every}
        code = self.client.post("/api/readiness/own", json=own).json()
        items = {i["code"]: i for i in self.state()["items"]}
        self.assertNotIn("clamp", items)
        self.assertEqual((items[code]["own"], items[code]["every"]), (True, every))
        self.through()
        self.assertEqual(self.state()["due"], 0)
        for n in range(5):
            self.client.post("/api/trials/2/cuts", json={**CUT, "key": f"k{n}"})
        self.assertEqual([i["code"] for i in self.state()["items"] if i["due"]], [code])

    def test_an_item_that_does_not_apply_is_not_answered(self) -> None:
        self.assertEqual(self.answer("hydrogen_under_aluminium", "acknowledged").status_code, 404)


if __name__ == "__main__":
    unittest.main()
