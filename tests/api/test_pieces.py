"""Test pieces over HTTP: files, scrap, batches that wait to be read, the played path, own drawings."""

import io
import itertools
import unittest

import ezdxf

from tests.api.test_api import Api
from tests.shop import CUT, HALF_WAY, JUST_OPENED, LOCKED, ShopOf


class Pieces(Api):
    def test_every_kind_in_every_form_for_the_setting_that_is_cut_next(self) -> None:
        advice = self.get("/trials/2/bench")["advice"]
        setting = (advice["next_cuts"] or [advice["recommended"]])[0]
        for kind in ("square", "strip_ladder", "height_ladder", "pierce_ladder", "round", "holes"):
            for form, begins in (("svg", b"<svg"), ("dxf", b"  0"), ("pdf", b"%PDF"), ("nc", b"(")):
                answer = self.client.get(f"/api/trials/2/piece.{form}?kind={kind}")
                self.assertEqual((answer.status_code, answer.content[: len(begins)]), (200, begins))
        file = self.get("/trials/2/piece.json?kind=square")
        nicks = [c for c in file["contours"] if c["segments"][-1]["kind"] == "mark"]
        loop = file["contours"][-1]
        self.assertEqual(loop["speed_mm_min"], setting["speed_mm_min"])
        # Cut 4 of this trial: one long nick for three, one short for one.
        self.assertEqual([n["name"] for n in nicks], ["nick 1", "nick 2"])

    def test_the_same_scrap_serves_the_next_piece_until_nothing_fits(self) -> None:
        scrap = {"name": "offcut", "width_mm": 130.0, "height_mm": 190.0}
        plate = self.client.post("/api/tables/1/plates", json=scrap).json()["id"]
        clamp = {"x_mm": 0.0, "y_mm": 0.0, "width_mm": 20.0, "height_mm": 20.0, "what": "clamp"}
        self.client.post(f"/api/plates/{plate}/zones", json=clamp)
        asked, spots = f"/trials/2/piece?kind=square&plate_id={plate}", []
        while (found := self.get(asked))["spots"]:
            spots.append((found["spots"][0]["x_mm"], found["spots"][0]["y_mm"]))
            file = self.get(f"/trials/2/piece.json?kind=square&plate_id={plate}")
            self.assertGreater(file["extents"]["x_min_mm"], spots[-1][0])
            body = {"kind": "square", "plate_id": plate}
            taken = self.client.post("/api/trials/2/piece/cut", json=body).json()
        # 56 x 83 mm on 130 x 190: one beside the clamp (20 + 2 x 56 is too wide), two in the row behind.
        self.assertEqual(spots, [(20, 0), (0, spots[1][1]), (spots[2][0], spots[1][1])])
        self.assertIn("no free place of 56 × 83 mm is left", found["does_not_fit"])
        self.assertEqual(self.client.get(f"/api{asked.replace('piece?', 'piece.nc?')}").status_code, 422)
        self.client.put(f"/api/planned-cuts/{taken['waiting'][0]}/struck")
        self.assertEqual(self.get(asked)["spots"][0]["x_mm"], spots[-1][0])

    def test_a_tables_own_words_are_used_and_a_dangerous_profile_is_refused(self) -> None:
        own = {**self.get("/profiles")[0], "name": "ours", "torch_on": "M7", "torch_off": "M9"}
        change = {"settings": {"profile": own}}
        self.assertEqual(self.client.patch("/api/tables/1/settings", json=change).status_code, 200)
        program = self.client.get("/api/trials/2/piece.nc").text
        self.assertIn("\nM7\n", program)
        self.assertNotIn("\nM3\n", program)
        preview = self.client.post("/api/profiles/preview", json={"profile": own}).json()["program"]
        self.assertIn("\nM9\n", preview)
        never_off = {"profile": {**own, "torch_off": ""}}
        self.refused(self.client.post("/api/profiles/preview", json=never_off), 422, words="torch off")
        kept = self.client.patch("/api/tables/1/settings", json={"settings": never_off})
        self.assertEqual(kept.status_code, 422)


class OwnSetting(Api):
    def test_any_piece_is_cut_at_a_setting_of_the_operators_own_inside_the_limits(self) -> None:
        for kind in ("square", "height_ladder", "round", "holes"):
            piece = self.get(f"/trials/2/piece.json?kind={kind}&settings=1800@1.2")
            outer = piece["contours"][-1]
            self.assertEqual(outer["speed_mm_min"], 1800, kind)
        refused = self.client.get("/api/trials/2/piece?kind=square&settings=9000@1.2")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("outside this trial's limits", refused.json()["detail"])
        several = self.client.get("/api/trials/2/piece?kind=round&settings=1800@1.2,1900@1.2")
        self.assertEqual(several.status_code, 422)

    def test_by_hand_each_pierce_costs_two_starts(self) -> None:
        def starts() -> int:
            return int(self.get("/tables")[0]["parts"]["starts"])

        def logged() -> int:
            before = starts()
            self.client.post("/api/trials/2/cuts", json={**CUT, "key": f"start {before}"})
            return starts() - before

        once = logged()
        by_hand = next(p for p in self.get("/profiles") if not p["sets_height"])
        kept = self.client.patch("/api/tables/1/settings", json={"settings": {"profile": by_hand}})
        self.assertEqual(kept.status_code, 200, kept.text)
        self.assertGreaterEqual(logged(), 2 * once - 2)  # the next number may have a nick more or less


class Batches(Api):
    def setUp(self) -> None:  # each begins with a shop where nothing waits
        fresh = ShopOf()
        self.addCleanup(fresh.close)
        self.client = fresh.client

    def cut(self, count: int, plate: int | None = None) -> list[int]:
        body = {"kind": "square", "count": count, "plate_id": plate}
        answer = self.client.post(f"/api/trials/{JUST_OPENED}/piece/cut", json=body)
        self.assertEqual(answer.status_code, 201, answer.text)
        waiting: list[int] = answer.json()["waiting"]
        return waiting

    def test_settings_of_a_batch_differ_and_each_square_is_numbered_and_placed(self) -> None:
        asked = self.get(f"/trials/{JUST_OPENED}/piece?count=4")
        self.assertEqual([b["number"] for b in asked["batch"]], [1, 2, 3, 4])
        settings = {(b["speed_mm_min"], b["cut_height_mm"]) for b in asked["batch"]}
        self.assertEqual(len(settings), 4)  # each adds most to the chance that one of them passes
        file = self.get(f"/trials/{JUST_OPENED}/piece.json?count=4")
        loops = [c for c in file["contours"] if not c["inside"]]
        cut = {(c["speed_mm_min"], c["cut_height_mm"]) for c in loops}
        self.assertEqual(cut, settings)
        # Only one of them has a scrap edge: swirl is one thing, read once.
        bars = [c["name"] for c in file["contours"] if c["name"].endswith("scrap bar")]
        self.assertEqual(bars, ["no. 1: scrap bar"])
        numbers = sorted(c["name"].split(":")[0] for c in loops)
        self.assertEqual(numbers, ["no. 1", "no. 2", "no. 3", "no. 4"])

    def test_squares_wait_until_each_is_read_under_its_own_number(self) -> None:
        asked = self.get(f"/trials/{JUST_OPENED}/piece?count=3")["batch"]
        ids = self.cut(3)
        bench = self.get(f"/trials/{JUST_OPENED}/bench")
        self.assertEqual([w["id"] for w in bench["waiting"]], ids)
        self.assertEqual(
            [w["speed_mm_min"] for w in bench["waiting"]], [b["speed_mm_min"] for b in asked]
        )
        third = bench["waiting"][2]
        read = {**CUT, "key": third["key"], "speed_mm_min": third["speed_mm_min"]}
        logged = self.client.post(f"/api/trials/{JUST_OPENED}/cuts", json=read).json()
        self.assertEqual(logged["number"], 3)
        # A cut that was not planned comes after those that wait, and so does the next piece.
        other = self.client.post(f"/api/trials/{JUST_OPENED}/cuts", json={**CUT, "key": "o"}).json()
        self.assertEqual(other["number"], 4)
        self.assertEqual(self.get(f"/trials/{JUST_OPENED}/piece")["batch"][0]["number"], 5)
        left = self.get(f"/trials/{JUST_OPENED}/bench")["waiting"]
        self.assertEqual([w["number"] for w in left], [1, 2])
        self.client.put(f"/api/planned-cuts/{ids[0]}/struck")
        self.assertEqual([w["number"] for w in self.get(f"/trials/{JUST_OPENED}/bench")["waiting"]], [2])
        self.client.put(f"/api/planned-cuts/{ids[0]}/struck?out=false")
        self.assertEqual(len(self.get(f"/trials/{JUST_OPENED}/bench")["waiting"]), 2)

    def test_a_piece_read_after_a_change_of_parts_counts_for_those_it_was_cut_with(self) -> None:
        table = self.get(f"/trials/{JUST_OPENED}/bench")["trial"]["table_id"]
        before = self.get(f"/trials/{JUST_OPENED}/campaign")
        starts = self.starts(table)
        never = self.cut(3)[2]
        self.client.put(f"/api/planned-cuts/{never}/struck")
        # Square and number each, and the bar of scrap beside the first: 1 + 1 + 1, then 1 + 2 (nicks).
        self.assertEqual(self.starts(table), starts + 3 + 3)
        changed = self.client.post(f"/api/tables/{table}/fittings", json={"kind": "parts"})
        self.assertEqual(changed.status_code, 201, changed.text)
        first = self.get(f"/trials/{JUST_OPENED}/bench")["waiting"][0]
        self.client.post(f"/api/trials/{JUST_OPENED}/cuts", json={**CUT, "key": first["key"]})
        self.client.post(f"/api/trials/{JUST_OPENED}/cuts", json={**CUT, "key": "on the new parts"})
        old, new = self.get(f"/trials/{JUST_OPENED}/campaign")["cuts"]
        self.assertEqual(before.get("cuts", []), [])
        self.assertNotEqual(old["series"]["parts"], new["series"]["parts"])
        # Number 4: one long nick for three and a short one, the bar, the square.
        self.assertEqual((old["starts"], new["starts"]), (starts + 3, 4))

    def starts(self, table: int) -> int:
        return int(next(t for t in self.get("/tables") if t["id"] == table)["parts"]["starts"])

    def test_a_batch_takes_its_places_on_the_scrap_or_says_how_many_fit(self) -> None:
        scrap = {"name": "offcut", "width_mm": 180.0, "height_mm": 170.0}
        plate = self.client.post("/api/tables/2/plates", json=scrap).json()["id"]
        asked = f"/trials/{JUST_OPENED}/piece?plate_id={plate}&count="
        self.assertRegex(self.get(f"{asked}12")["does_not_fit"], r"\d+ of 12 fit; no free place of")
        spots = self.get(f"{asked}3")["spots"]
        for a, b in itertools.combinations(spots, 2):
            apart = (
                abs(a["x_mm"] - b["x_mm"]) >= min(a["width_mm"], b["width_mm"]) - 1e-6
                or abs(a["y_mm"] - b["y_mm"]) >= min(a["height_mm"], b["height_mm"]) - 1e-6
            )
            self.assertTrue(apart, (a, b))
        ids = self.cut(3, plate)
        self.assertEqual(len(self.get("/tables/2/plates")[0]["zones"]), 3)
        self.client.put(f"/api/planned-cuts/{ids[1]}/struck")
        self.assertEqual(len(self.get("/tables/2/plates")[0]["zones"]), 2)

    def test_what_was_shown_is_what_is_programmed_and_noted_whatever_is_advised_since(self) -> None:
        shown = self.get(f"/trials/{JUST_OPENED}/piece?count=2")["batch"]
        settings = ",".join(f"{b['speed_mm_min']}@{b['cut_height_mm']}" for b in shown)
        # Another screen logs a cut while these are being cut: the advice moves on.
        self.client.post(f"/api/trials/{JUST_OPENED}/cuts", json={**CUT, "speed_mm_min": 1500})
        moved = self.get(f"/trials/{JUST_OPENED}/piece?count=2")["batch"]
        self.assertNotEqual([b["speed_mm_min"] for b in moved], [b["speed_mm_min"] for b in shown])
        asked = f"count=2&settings={settings}&first=2"
        file = self.get(f"/trials/{JUST_OPENED}/piece.json?{asked}")
        cut = {c["speed_mm_min"] for c in file["contours"] if not c["inside"]}
        self.assertEqual(cut, {b["speed_mm_min"] for b in shown})
        body = {"kind": "square", "count": 2, "settings": settings}
        path = f"/api/trials/{JUST_OPENED}/piece/cut"
        # Number 1 is that other cut's by now: two pieces with the same nicks are not told apart.
        self.refused(
            self.client.post(path, json={**body, "first": 1}), 409, "first", "Piece 1 is already"
        )
        self.assertEqual(self.client.post(path, json={**body, "first": 2}).status_code, 201)
        waiting = self.get(f"/trials/{JUST_OPENED}/bench")["waiting"]
        noted = [(w["number"], w["speed_mm_min"], w["cut_height_mm"]) for w in waiting]
        wanted = [(2 + i, b["speed_mm_min"], b["cut_height_mm"]) for i, b in enumerate(shown)]
        self.assertEqual(noted, wanted)
        # The same note sent twice, by a second tap or a lost answer, is refused, not doubled.
        self.refused(self.client.post(path, json={**body, "first": 2}), 409, "first")

    def test_settings_that_are_none_are_refused(self) -> None:
        path = f"/api/trials/{JUST_OPENED}/piece?count=2&settings="
        for text in ("fast", "2100@1.5,", "nan@1"):
            self.refused(self.client.get(path + text), 422, "settings")
        self.refused(self.client.get(f"{path}2100@1.5"), 422, "settings", "1 settings are not 2 squares")
        self.refused(self.client.get(f"{path}2100@1.5,1@1.5"), 422, "settings", "out of range")

    def test_what_is_no_batch_is_refused(self) -> None:
        path = f"/api/trials/{JUST_OPENED}/piece?count=2&kind=round"
        self.refused(self.client.get(path), 422, "count", "only squares")
        self.refused(self.client.get(f"/api/trials/{JUST_OPENED}/piece?count=13"), 422, "count")
        locked = self.client.post(f"/api/trials/{LOCKED}/piece/cut", json={"kind": "square"})
        self.refused(locked, 409, words="locked")


class Ladder(Api):
    def test_a_metal_of_which_nothing_is_known_opens_with_the_same_ladder_everywhere(self) -> None:
        """Also where somebody typed a voltage: the speeds are still another metal's."""
        start = self.get("/start?metal=brass&thickness_mm=8&torch_set_id=1")
        job = {"table_id": 1, "torch_set_id": 1, "metal": "brass", "thickness_mm": 8.0}
        job |= {"start": start["values"] | {"arc_voltage_v": 131.0}, "target": {"bevel_deg": 2.0}}
        trial = self.client.post("/api/trials", json=job).json()["id"]
        bench = self.get(f"/trials/{trial}/bench")
        self.assertEqual(bench["now"]["kind"], "ladder")
        speeds = [s["speed_mm_min"] for s in bench["now"]["ladder"]]
        self.assertEqual(speeds, start["opening_ladder_mm_min"])
        file = self.get(f"/trials/{trial}/piece.json?kind=strip_ladder")
        slots = [c["speed_mm_min"] for c in file["contours"] if c["name"].startswith("slot")]
        self.assertEqual(slots, speeds)
        before = self.get("/tables")[0]["parts"]["starts"]
        path = f"/api/trials/{trial}/ladder"
        looked = [{"slot": 2, "answer": "chunks"}, {"slot": 4, "answer": "not_through"}]
        spoilt = [*looked, {"slot": 9, "answer": "clean"}]
        self.refused(self.client.post(path, json={"key": "k", "strips": spoilt}), 422, "strips")
        unknown = [*looked, {"slot": 3, "answer": "lovely"}]
        self.refused(self.client.post(path, json={"key": "k", "strips": unknown}), 422, "strips")
        self.assertEqual(self.get(f"/trials/{trial}/bench")["cuts"], [])
        for _ in range(2):  # sent again after an answer that was lost
            answer = self.client.post(path, json={"key": "k", "strips": looked}).json()
            self.assertEqual([c["number"] for c in answer], [1, 2])
        self.assertEqual([c["speed_mm_min"] for c in answer], [speeds[1], speeds[3]])
        self.assertEqual([c["dross"] for c in answer], [[{"kind": "low_speed", "grade": 2}], None])
        self.assertEqual([c["through"] for c in answer], ["full", "none"])
        # All that was cut together counts, also the strips that nobody looked at.
        after = self.get("/tables")[0]["parts"]["starts"]
        self.assertEqual(after - before, len(file["contours"]))
        self.assertEqual(self.get(f"/trials/{trial}/bench")["now"]["kind"], "cut")


class Played(Api):
    def test_the_torch_moves_on_in_time_along_the_path_and_slow_parts_are_marked(self) -> None:
        self.client.patch(
            "/api/tables/1/settings",
            json={"settings": {"acceleration_mm_s2": 150.0, "fastest_mm_min": 9000.0}},
        )
        for kind in ("square", "holes", "corner"):
            shown = self.get(f"/trials/{HALF_WAY}/piece/played?kind={kind}")
            file = self.get(f"/trials/{HALF_WAY}/piece.json?kind={kind}")
            samples = [s for c in shown["contours"] for s in c["samples"]]
            times = [s["at_s"] for s in samples]
            self.assertEqual(times, sorted(times))
            for run, cut in zip(shown["contours"], file["contours"], strict=True):
                first, last = run["samples"][0], run["samples"][-1]
                self.assertAlmostEqual(first["x_mm"], cut["pierce_at"][0], places=2)
                end = cut["segments"][-1]["moves"][-1]["to"]
                self.assertAlmostEqual(last["y_mm"], end[1], places=2)
                fastest = max(s["speed_mm_min"] for s in run["samples"])
                self.assertLessEqual(fastest, cut["speed_mm_min"] + 0.1)
            self.assertTrue(any(s["slow"] and s["speed_mm_min"] > 0 for s in samples))
            reach = self.get(f"/trials/{HALF_WAY}/piece?kind={kind}")["reach"]
            self.assertFalse(reach["assumed"])
            self.assertLess(
                shown["seconds"], reach["seconds"]
            )  # height moves and the way back take time too

    def test_an_unknown_acceleration_is_said_to_be_assumed_and_the_blind_length_is_shown(self) -> None:
        table = self.get(f"/trials/{JUST_OPENED}/bench")["trial"]["table_id"]
        forgotten = {"settings": {"acceleration_mm_s2": None}}
        self.client.patch(f"/api/tables/{table}/settings", json=forgotten)
        reach = self.get(f"/trials/{JUST_OPENED}/piece?kind=long_strip")["reach"]
        self.assertEqual((reach["assumed"], reach["blind_mm"]), (True, None))
        settings = {"settings": {"height_delay_s": 2.6, "delay_origin": "arc_strike"}}
        self.client.patch(f"/api/tables/{table}/settings", json=settings)
        asked = self.get(f"/trials/{JUST_OPENED}/piece?kind=long_strip")
        speed = self.get(f"/trials/{JUST_OPENED}/piece")["batch"][0]["speed_mm_min"]
        pierce = self.get(f"/trials/{JUST_OPENED}/bench")["trial"]["start"]["pierce_delay_s"]
        self.assertAlmostEqual(asked["reach"]["blind_mm"], speed / 60 * (2.6 - pierce))
        self.assertIsNone(self.get(f"/trials/{JUST_OPENED}/piece")["reach"]["blind_mm"])


class OwnParts(Api):
    def drawing(self, *, unit: int = 4, hole_mm: float = 20) -> bytes:
        made = ezdxf.new("R2010", units=unit)
        space = made.modelspace()
        space.add_lwpolyline([(0, 0), (80, 0), (80, 60), (0, 60)], close=True)
        space.add_circle((40, 30), hole_mm / 2)
        out = io.StringIO()
        made.write(out)
        return out.getvalue().encode()

    def test_a_drawing_becomes_a_piece_with_all_its_files(self) -> None:
        kept = self.client.post("/api/own-parts?name=gusset", content=self.drawing()).json()
        self.assertEqual((kept["contours"], kept["holes"], kept["size_mm"]), (2, 1, [80, 60]))
        asked = f"kind=own_part&own_part_id={kept['id']}"
        file = self.get(f"/trials/{HALF_WAY}/piece.json?{asked}")
        self.assertEqual([c["inside"] for c in file["contours"]], [True, False])
        for form in ("nc", "svg", "dxf", "pdf"):
            self.assertEqual(
                self.client.get(f"/api/trials/{HALF_WAY}/piece.{form}?{asked}").status_code, 200
            )
        self.assertEqual(self.get(f"/trials/{HALF_WAY}/piece?{asked}")["title"], "gusset")
        self.client.put(f"/api/own-parts/{kept['id']}/struck")
        self.assertEqual(self.get("/own-parts"), [])

    def test_what_cannot_be_read_or_cut_says_where_and_keeps_nothing(self) -> None:
        no_unit = self.client.post("/api/own-parts?name=x", content=self.drawing(unit=0))
        self.refused(no_unit, 422, "unit", "mm or inches")
        inches = self.client.post("/api/own-parts?name=x&unit=in", content=self.drawing(unit=0)).json()
        self.assertEqual(inches["size_mm"], [2032, 1524])
        self.refused(self.client.post("/api/own-parts?name=x", content=b"x"), 422, "drawing")
        self.assertEqual(len(self.get("/own-parts")), 1)
        small = self.client.post("/api/own-parts?name=s", content=self.drawing(hole_mm=3)).json()
        asked = f"/api/trials/{HALF_WAY}/piece?kind=own_part&own_part_id={small['id']}"
        self.refused(self.client.get(asked), 422, "drawing", "no plasma hole")
        missing = f"/api/trials/{HALF_WAY}/piece?kind=own_part"
        self.refused(self.client.get(missing), 422, "own_part_id", "import its drawing")
        self.assertEqual(self.client.get(f"{missing}&own_part_id=99").status_code, 404)


if __name__ == "__main__":
    unittest.main()
