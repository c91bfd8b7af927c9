"""Turning a piece over, over the wire: every kind of piece, photos, instruments, grading, looking back."""

import io
import json
import unittest
from pathlib import Path
from typing import Any

from PIL import Image

from orthotome.core.log.items import SheetKind
from orthotome.store.log import photo_files
from tests.api.test_api import Api
from tests.shop import CUT, HALF_WAY, JUST_OPENED, LOCKED, WREN

TRIAL = f"/api/trials/{JUST_OPENED}"


def photo(colour: str = "silver", size: tuple[int, int] = (640, 480)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, colour).save(out, "JPEG")
    return out.getvalue()


class TurningOver(Api):
    def post(self, path: str, status: int = 201, **body: Any) -> Any:
        answer = self.client.post(path, json=body)
        self.assertEqual(answer.status_code, status, answer.text)
        return answer.json()

    def logged(self, key: str, **more: Any) -> Any:
        return self.post(f"{TRIAL}/cuts", **{**CUT, "key": key, **more})


class EveryPiece(TurningOver):
    def waits(self, kind: SheetKind) -> Any:
        """Note such a piece as cut, and find it among those that wait."""
        noted = self.post(f"{TRIAL}/piece/cut", kind=kind)
        bench = self.get(f"/trials/{JUST_OPENED}/bench")
        return next(w for w in bench["waiting"] if w["id"] in noted["waiting"])

    def test_a_piece_waits_with_what_there_is_to_look_at_and_says_what_it_was_cut_for(self) -> None:
        piece = self.waits("pierce_ladder")
        self.assertEqual((piece["kind"], piece["title"]), ("pierce_ladder", "Pierces"))
        sheet = self.get(f"/trials/{JUST_OPENED}/log-sheet?planned_id={piece['id']}")
        delays = [i["pierce_delay_s"] for i in sheet["items"]]
        self.assertEqual((len(delays), sheet["slots"], sheet["underside"]), (5, [], False))
        looks = [{"item": n, "what": "through", "value": "yes" if n > 3 else "no"} for n in range(1, 6)]
        before = self.get(f"/trials/{JUST_OPENED}/bench")["advice"]
        bare = {
            **CUT,
            "edges": [],
            "dross": None,
            "arc_voltage_v": None,
            "through": None,
            "piece": "strip",
        }
        cut = self.post(
            f"{TRIAL}/cuts", **{**bare, "key": piece["key"], "kind": piece["kind"], "looks": looks}
        )
        self.assertEqual((cut["number"], cut["counts"]), (piece["number"], False))
        self.assertIn(f"{delays[3]:g} s is the shortest delay", cut["says"][0]["sentence"])
        # It says nothing of speed and height: the advice is what it was.
        self.assertEqual(self.get(f"/trials/{JUST_OPENED}/bench")["advice"], before)
        bench = self.get(f"/trials/{JUST_OPENED}/bench")
        trial, (offered,) = bench["trial"], bench["pierce"]
        self.assertEqual(offered["pierce_delay_s"], delays[3])
        body = {"revision": trial["revision"], "pierce_delay_s": cut["says"][0]["pierce_delay_s"]}
        changed = self.client.put(f"{TRIAL}/pierce", json=body)
        self.assertEqual(changed.json()["start"]["pierce_delay_s"], delays[3])
        self.refused(self.client.put(f"{TRIAL}/pierce", json=body), 409, "revision")
        self.assertEqual(self.get(f"/trials/{JUST_OPENED}/bench")["pierce"], [])

    def test_a_height_ladder_is_one_change_and_every_slot_keeps_its_own_setting(self) -> None:
        piece = self.waits("height_ladder")
        sheet = self.get(f"/trials/{JUST_OPENED}/log-sheet?planned_id={piece['id']}")
        heights = [i["cut_height_mm"] for i in sheet["items"]]
        edge = {"heading_deg": 90, "bevel_deg": 1.5, "u_deg": 0.4}
        strips = [
            {"slot": 1, "answer": "clean", "arc_voltage_v": 121.5, "edges": [{**edge, "side": "right"}]},
            {"slot": 4, "arc_voltage_v": 131.0, "looks": [{"what": "rounding", "value": "rounded"}]},
        ]
        body = {"key": piece["key"], "kind": "height_ladder", "strips": strips}
        made = self.post(f"{TRIAL}/ladder", **body)
        self.assertEqual([c["cut_height_mm"] for c in made], [heights[0], heights[3]])
        self.assertEqual([c["piece"] for c in made], ["strip", "strip"])
        self.assertTrue(made[0]["note"].startswith("slot 1 of height strips, piece"))
        self.assertEqual(made[1]["looks"][0]["answer"], "Rounded")
        self.assertEqual(
            [c["id"] for c in self.post(f"{TRIAL}/ladder", **body)], [c["id"] for c in made]
        )
        strips[1]["slot"] = 9
        answer = self.client.post(f"{TRIAL}/ladder", json={**body, "key": "other"})
        self.refused(answer, 422, "strips", "no slot 9")

    def test_every_kind_has_a_sheet_and_is_logged_on_it(self) -> None:
        kinds = (
            "square",
            "strip",
            "round",
            "holes",
            "hole",
            "corner",
            "long_strip",
            "start_end_ladder",
            "own_part",
        )
        for kind in kinds:
            with self.subTest(kind):
                sheet = self.get(f"/trials/{JUST_OPENED}/log-sheet?kind={kind}")
                looked = sheet["looks_each"] or sheet["looks_whole"]
                item = sheet["items"][0]["number"] if sheet["looks_each"] else 0
                look = {"item": item, "what": looked[0]["what"]}
                look |= (
                    {"value": looked[0]["choices"][-1]["value"]}
                    if looked[0]["choices"]
                    else {"number": 1.0}
                )
                edges = [
                    {
                        "side": s["side"],
                        "heading_deg": s["heading_deg"],
                        "bevel_deg": 1.0,
                        "u_deg": s["u_deg"],
                    }
                    for s in sheet["slots"]
                ]
                cut = self.logged(kind, kind=kind, piece=sheet["piece"], edges=edges, looks=[look])
                self.assertEqual((cut["kind"], len(cut["edges"])), (kind, len(edges)))
                again = self.get(f"/trials/{JUST_OPENED}/log-sheet?cut_id={cut['id']}")
                self.assertEqual(again["looks"][0]["what"], look["what"])
                self.assertEqual(len(again["slots"]), len(edges))


class BadReadings(TurningOver):
    def test_what_cannot_be_is_refused_in_words_and_nothing_is_half_saved(self) -> None:
        made = len(self.get(f"/trials/{JUST_OPENED}/bench")["cuts"])
        edge = CUT["edges"][0]
        for field, words, more in (
            ("edges[0].bevel_deg", "45", {"edges": [{**edge, "bevel_deg": 95}]}),
            ("edges[0].bevel_deg", "number", {"edges": [{**edge, "bevel_deg": "2,4"}]}),
            ("edges", "no edge along 45", {"edges": [{**edge, "heading_deg": 45}]}),
            ("looks.colour", "one of bright", {"looks": [{"what": "colour", "value": "pink"}]}),
            ("looks.size_x", "cannot be meant", {"looks": [{"what": "size_x", "number": 9000}]}),
            ("looks.colour", "no part 3", {"looks": [{"item": 3, "what": "colour", "value": "grey"}]}),
            ("piece", "counts as a strip", {"kind": "long_strip"}),
        ):
            with self.subTest(field + words):
                answer = self.client.post(f"{TRIAL}/cuts", json={**CUT, "key": "bad", **more})
                self.refused(answer, 422, field)
                self.assertIn(words, answer.text)
        self.assertEqual(len(self.get(f"/trials/{JUST_OPENED}/bench")["cuts"]), made)
        cut = self.logged("sound")
        body = {"version": 1, "edges": [{"edge": {**edge, "heading_deg": 45}}]}
        self.refused(self.client.patch(f"{TRIAL}/cuts/{cut['id']}", json=body), 422, "edges", "along 45")

    def test_a_bevel_is_worked_out_from_what_was_read_and_kept_with_it(self) -> None:
        asked = "instrument=Square and feeler&first_mm=0.28&second_mm=8&undercut=true"
        bevel = self.get(f"/trials/{JUST_OPENED}/bevel?{asked}")
        self.assertAlmostEqual(bevel["bevel_deg"], -2.0045, 3)
        read = {"side": "right", "heading_deg": 0, **bevel}
        cut = self.logged("feeler", edges=[read])
        self.assertEqual(cut["edges"][0]["told"], "gap 0.28 mm over 8 mm at the bottom")
        self.assertEqual(cut["edges"][0]["method"], "square_and_feeler")
        gone = self.client.get(f"{TRIAL}/bevel?instrument=Lost&first_mm=1&second_mm=2")
        self.refused(gone, 404, "instrument")
        steep = self.client.get(f"{TRIAL}/bevel?{asked.replace('0.28', '28')}")
        self.refused(steep, 422, "gap_mm")

    def test_questions_come_swapped_sides_first(self) -> None:
        edges = [
            {"side": s, "heading_deg": 0, "bevel_deg": b, "u_deg": 0.4}
            for s, b in (("right", 5.0), ("left", 0.8))
        ]
        (asked,) = self.post(
            f"{TRIAL}/log-questions",
            200,
            **{k: CUT[k] for k in ("piece", "speed_mm_min", "cut_height_mm")},
            edges=edges,
        )
        self.assertEqual((asked["about"], asked["readings"]), ("swapped", [0, 1]))


class Photos(TurningOver):
    def test_a_photo_taken_while_logging_comes_to_the_cut(self) -> None:
        path = f"{TRIAL}/photos?log_key=snapped"
        taken = self.client.post(path, content=photo(), headers=WREN)
        self.assertEqual(taken.status_code, 201, taken.text)
        again = self.client.post(path, content=photo())
        self.assertEqual(again.json()["id"], taken.json()["id"])  # the same picture is one photo
        cut = self.logged("snapped")
        self.assertEqual([p["added_by"] for p in cut["photos"]], ["Wren"])
        self.assertEqual(self.get(path.removeprefix("/api")), [])
        picture = self.client.get(f"/api/photos/{taken.json()['id']}/thumbnail")
        self.assertEqual(picture.headers["content-type"], "image/jpeg")
        with Image.open(io.BytesIO(picture.content)) as small:
            self.assertEqual(small.size, (360, 270))
        self.assertEqual(picture.headers["cache-control"], "no-store")
        # A screen keeps a picture only under its own digest: after a restore the number may be another photo's.
        at = f"/api/photos/{taken.json()['id']}/thumbnail?digest="
        named = self.client.get(at + taken.json()["digest"])
        self.assertEqual((named.status_code, named.content), (200, picture.content))
        self.assertIn("immutable", named.headers["cache-control"])
        self.refused(self.client.get(at + "0" * 64), 404, "digest", "Another photo has that number")
        self.client.put(f"/api/photos/{taken.json()['id']}/struck")
        self.assertEqual(self.get(f"/trials/{JUST_OPENED}/photos?cut_id={cut['id']}"), [])
        self.client.put(f"/api/photos/{taken.json()['id']}/struck?out=false")
        self.assertEqual(len(self.get(f"/trials/{JUST_OPENED}/photos?cut_id={cut['id']}")), 1)

    def test_pictures_lie_beside_the_records_readable_by_their_owner_only(self) -> None:
        taken = self.client.post(f"{TRIAL}/photos?log_key=mode", content=photo("gold"))
        folder = photo_files.folder_of(self.shop.database.path)
        found = [p for p in folder.rglob("*") if p.is_file()]
        self.assertEqual(len(found) % 2, 0)
        self.assertEqual({p.stat().st_mode & 0o777 for p in found}, {0o600})
        with self.shop.database.read() as session:
            row = (
                session.connection().exec_driver_sql("SELECT digest FROM photo ORDER BY id DESC").first()
            )
        assert row is not None
        for path in folder.rglob(f"{row[0]}*"):
            path.unlink()
        gone = self.client.get(f"/api/photos/{taken.json()['id']}/picture")
        self.refused(gone, 404, "photo_id", "not brought along")

    def test_photos_go_where_a_backup_goes_and_come_back(self) -> None:
        self.client.post(f"{TRIAL}/photos?log_key=stick", content=photo("navy"))
        source = photo_files.folder_of(self.shop.database.path)
        stick = self.shop.database.path.with_name("stick")
        count = photo_files.copy_missing(source, stick)
        self.assertGreaterEqual(count, 2)
        self.assertEqual(photo_files.copy_missing(source, stick), 0)  # what is there is not copied again
        lost = next(source.glob("??/*.jpg"))
        was = lost.read_bytes()
        lost.unlink()
        self.assertEqual(photo_files.copy_missing(stick, source), 1)
        self.assertEqual(lost.read_bytes(), was)
        self.assertEqual(photo_files.copy_missing(Path("/nowhere"), stick), 0)

    def test_no_picture_leaves_nothing_behind(self) -> None:
        folder = photo_files.folder_of(self.shop.database.path)
        before = sorted(folder.rglob("*"))
        path = f"{TRIAL}/photos?log_key=none"
        for words, content in (("no JPEG", b"%PDF-1.4"), ("damaged", photo()[:400])):
            self.refused(self.client.post(path, content=content), 422, "photo", words)
        self.refused(self.client.post(f"{TRIAL}/photos", content=photo()), 422, "log_key")
        self.refused(self.client.post(f"{TRIAL}/photos?cut_id=99999", content=photo()), 404)
        self.assertEqual(sorted(folder.rglob("*")), before)
        self.assertEqual(self.get(path.removeprefix("/api")), [])

    def test_taps_give_an_angle_a_lag_or_a_width(self) -> None:
        taps = {"base": [[0, 100], [900, 100]], "line": [[900, 100], [952, 1100]], "side": "left"}
        bevel = self.post("/api/photos/measured", 200, what="bevel", **taps)
        self.assertAlmostEqual(bevel["deg"], 2.977, 2)
        kerf = {"what": "kerf", "base": [[0, 0], [1000, 0]], "line": [[0, 0], [90, 0]], "known_mm": 20}
        self.assertAlmostEqual(self.post("/api/photos/measured", 200, **kerf)["mm"], 1.8)
        near = {**taps, "line": [[0, 0], [3, 3]], "what": "bevel"}
        self.refused(self.client.post("/api/photos/measured", json=near), 422, "edge", "farther")


class Instruments(TurningOver):
    def test_a_check_sets_the_spread_of_the_one_who_made_it(self) -> None:
        made = self.post("/api/instruments", name="Gauge in the drawer", method="angle_gauge")
        readings = [1.0, 1.4, 0.8, 1.2, 1.6]
        path = f"/api/instruments/{made['id']}/checks"
        few = self.client.post(path, json={"readings": readings[:4]}, headers=WREN)
        self.refused(few, 422, "readings", "5 times")
        check = self.client.post(path, json={"readings": readings}, headers=WREN).json()
        self.assertAlmostEqual(check["sd"], 0.3162, 3)
        hers = self.client.get(f"{TRIAL}/log-sheet", headers=WREN).json()["methods"][0]
        theirs = self.client.get(f"{TRIAL}/log-sheet").json()["methods"][0]
        self.assertEqual((hers["name"], theirs["name"]), ("Gauge in the drawer",) * 2)
        self.assertLess(hers["u_deg"], theirs["u_deg"])
        bench = self.client.get(f"{TRIAL}/bench", headers=WREN).json()
        self.assertEqual(bench["log_sheet"]["methods"][0]["u_deg"], hers["u_deg"])
        taken = self.client.post(
            "/api/instruments", json={"name": "gauge in the DRAWER", "method": "photo"}
        )
        self.refused(taken, 409, "name")
        self.client.put(f"/api/instrument-checks/{check['id']}/struck")
        self.assertEqual(
            self.client.get(f"{TRIAL}/log-sheet", headers=WREN).json()["methods"][0], theirs
        )
        self.client.put(f"/api/instruments/{made['id']}/struck")
        self.assertEqual(
            self.get(f"/trials/{JUST_OPENED}/log-sheet")["methods"][0]["name"], "Angle gauge"
        )

    def test_what_each_settles_is_said_for_a_plate_and_a_target(self) -> None:
        found = self.get("/instruments?thickness_mm=3&target_deg=1")
        gauge = next(i for i in found if i["method"] == "angle_gauge")
        self.assertIn("does not settle 1.0°", gauge["says"])

    def test_a_grading_check_reaches_the_advice_and_can_be_taken_back(self) -> None:
        before = self.get("/gradings")
        self.assertEqual(before["pairs"], 0)
        after = self.post(
            "/api/gradings", one="Ash", other="Wren", grades=[[0, 2], [3, 1], [4, 2], [1, 3], [2, 4]]
        )
        self.assertGreater(after["sd"], 2 * before["sd"])
        with self.shop.database.read() as session:
            from orthotome.store.bench import campaigns  # noqa: PLC0415
            from orthotome.store.trial import trials  # noqa: PLC0415

            self.assertEqual(
                len(campaigns.campaign_of(session, trials.trial(session, HALF_WAY)).grades), 5
            )
        self.client.put(f"/api/gradings/{after['checks'][0]['id']}/struck")
        self.assertEqual(self.get("/gradings"), before)
        wrong = {"one": "a", "other": "b", "grades": [[0, 7]]}
        self.refused(self.client.post("/api/gradings", json=wrong), 422)


class LookingBack(TurningOver):
    def test_a_correction_of_looks_collides_and_is_remembered(self) -> None:
        cut = self.logged(
            "looks", looks=[{"what": "colour", "value": "grey"}, {"what": "size_x", "number": 50.2}]
        )
        path = f"{TRIAL}/cuts/{cut['id']}"
        changed = {
            "version": 1,
            "speed_mm_min": 2050,
            "looks": [{"what": "colour", "value": "blue"}, {"what": "size_x"}],
        }
        answer = self.client.patch(path, json=changed, headers=WREN)
        self.assertEqual([(k["what"], k["value"]) for k in answer.json()["looks"]], [("colour", "blue")])
        self.refused(self.client.patch(path, json={**changed, "looks": []}), 409, "version", "Wren")
        self.client.put(f"{path}/struck", json={"version": 2, "out": True})
        struck, corrected = self.get(path.removeprefix("/api") + "/history")
        self.assertEqual((struck["act"], corrected["by"]), ("struck out", "Wren"))
        self.assertEqual(
            corrected["was"], ["speed was 2100 mm/min", "colour was grey", "size x was 50.2"]
        )

    def test_two_cuts_side_by_side_across_trials_and_against_a_recipe(self) -> None:
        mine, other = self.logged("one"), self.get(f"/trials/{HALF_WAY}/bench")["cuts"][0]
        found = self.get(f"/compare?one={mine['id']}&other={other['id']}")
        self.assertEqual(found["other"]["trial_id"], HALF_WAY)
        lines = {d["what"]: d for d in found["differences"]}
        self.assertIn("Speed", lines)
        recipe = self.get("/recipes")[0]
        against = self.get(f"/compare?one={mine['id']}&recipe={recipe['id']}")
        self.assertEqual(against["other"]["trial_id"], LOCKED)
        self.assertIn(recipe["title"], against["other"]["recipe"])
        self.refused(self.client.get(f"/api/compare?one={mine['id']}"), 422, "other")

    def test_lists_as_files_in_the_shops_units_and_safe_to_open(self) -> None:
        self.logged("formula", note="=HYPERLINK(1)")
        table = self.client.get(f"{TRIAL}/cuts.csv").text
        self.assertIn("speed (mm/min),cut height (mm)", table)
        self.assertIn("'=HYPERLINK", table)
        rows = self.client.get(f"{TRIAL}/cuts.json").json()
        self.assertEqual(rows[-1]["speed_mm_min"], 2100)
        self.client.patch("/api/shop", json={"length_unit": "in", "speed_unit": "in/min"})
        inches = self.client.get(f"{TRIAL}/cuts.csv").text
        self.client.patch("/api/shop", json={"length_unit": "mm", "speed_unit": "mm/min"})
        self.assertIn("speed (in/min)", inches)
        self.assertIn(",0.059,", inches)
        self.assertIn("chance next passes", self.client.get("/api/recipes.csv").text)
        for path in ("trials", "choose"):
            asked = "?metal=stainless_steel&thickness_mm=3" if path == "choose" else "?sought=steel"
            self.assertIn(",", self.client.get(f"/api/{path}.csv{asked}").text)
            self.assertIsInstance(json.loads(self.client.get(f"/api/{path}.json{asked}").text), list)

    def test_a_trial_is_one_page_whatever_it_holds(self) -> None:
        for n in range(14):
            self.logged(f"page {n}", note="long " * 90)
        last = self.logged("pictured")
        for colour in ("red", "green", "blue", "gold", "navy"):
            self.client.post(f"{TRIAL}/photos?cut_id={last['id']}", content=photo(colour))
        page = self.client.get(f"{TRIAL}/sheet.pdf")
        self.assertEqual(page.headers["content-type"], "application/pdf")
        self.assertEqual(page.content.count(b"/Type /Page\n"), 1)
        self.assertGreaterEqual(page.content.count(b"/Subtype /Image"), 4)
        empty = self.client.get(f"/api/trials/{LOCKED}/sheet.pdf")
        self.assertEqual(empty.content.count(b"/Type /Page\n"), 1)


if __name__ == "__main__":
    unittest.main()
