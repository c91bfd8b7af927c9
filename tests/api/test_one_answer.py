"""One answer in the whole house: a number that two rooms show is one number, and says so where it is another."""

import re

from tests.api.test_api import Api
from tests.shop import HALF_WAY, LOCKED


class WhatIsDialledNow(Api):
    """The setting that the Bench tells, in every room that writes or checks with it."""

    def setUp(self) -> None:
        super().setUp()
        self.now = self.get(f"/trials/{HALF_WAY}/bench")["now"]

    def test_a_program_names_the_volts_of_the_height_that_it_cuts_at(self) -> None:
        program = self.client.get(f"/api/trials/{HALF_WAY}/piece.nc").text
        said = re.search(r"Arc voltage: ([\d.]+) \+- ([\d.]+) V to be seen", program)
        assert said is not None, program[:600]
        self.assertAlmostEqual(float(said[1]), self.now["arc_voltage_v"], delta=0.06)
        ladder = self.client.get(f"/api/trials/{HALF_WAY}/piece.nc?kind=height_ladder").text
        self.assertRegex(ladder, r"Arc voltage: \d+ to \d+ V to be seen")

    def test_a_program_of_a_trial_is_checked_against_it_and_not_against_its_first_numbers(self) -> None:
        program = self.client.get(f"/api/trials/{HALF_WAY}/piece.nc?kind=square").content
        table = self.get(f"/trials/{HALF_WAY}/bench")["trial"]["table_id"]
        kept = self.client.post(f"/api/tables/{table}/programs?name=own.nc", content=program).json()[
            "id"
        ]
        asked = {"version": 1, "trial_id": HALF_WAY, "recipe_id": None}
        checked = self.client.put(f"/api/programs/{kept}/against", json=asked)
        self.assertEqual(checked.status_code, 200, checked.text)
        codes = {f["code"] for f in self.get(f"/programs/{kept}/report")["findings"]}
        self.assertFalse(codes & {"feed_differs", "height_differs", "kerf_differs"}, codes)
        self.assertEqual(checked.json()["moved"], [])
        setting = self.now["setting"]
        zig_zag = self.get(f"/tables/{table}/proof-pieces/zig-zag-x?trial_id={HALF_WAY}")
        self.assertEqual(zig_zag["speed_mm_min"], setting["speed_mm_min"])


class Volts(Api):
    """The volts at the height that is cut: one number on the Bench, on Set-point, on the signal path and in What if."""

    def test_every_room_says_the_same_of_the_same_setting(self) -> None:
        bench = self.get(f"/trials/{HALF_WAY}/bench")
        now, seen = bench["now"]["setting"], bench["now"]["arc_voltage_v"]
        at = f"speed_mm_min={now['speed_mm_min']}&cut_height_mm={now['cut_height_mm']}"
        there = [
            self.get(f"/trials/{HALF_WAY}/what-if?{at}")["arc_voltage_v"],
            self.get(f"/tables/{bench['trial']['table_id']}/signal-paths")["set_point_v"],
            self.get(f"/trials/{HALF_WAY}/height/converted?height_mm={now['cut_height_mm']}")["volts_v"],
        ]
        height = self.get(f"/trials/{HALF_WAY}/height")
        if height["cut_height_mm"] == now["cut_height_mm"]:
            there.append(next(h for h in height["schools"] if h["school"] == "measured")["set_point_v"])
            there.append(height["loop"]["steady_v"])
        for said in there:
            self.assertAlmostEqual(said, seen, delta=0.051)
        page = self.get(f"/tables/{bench['trial']['table_id']}/signal-paths")
        self.assertEqual(page["slope_v_per_mm"], height["volts"]["slope_v_per_mm"])
        self.assertIn(page["slope_from"], bench["per_height"])

    def test_in_an_inch_shop_height_is_worth_volts_per_inch(self) -> None:
        units = {"length_unit": "in", "speed_unit": "in/min"}
        self.assertEqual(self.client.patch("/api/shop", json=units).status_code, 200)
        said = self.get(f"/trials/{HALF_WAY}/bench")["per_height"]
        self.client.patch("/api/shop", json={"length_unit": "mm", "speed_unit": "mm/min"})
        self.assertIn("V/in", said)
        self.assertNotIn("mm", said)


class TheTableCannot(Api):
    """What the machine runs at most bounds what is advised, wherever it is advised."""

    def test_nothing_is_advised_that_is_faster_than_the_table_runs(self) -> None:
        bench = self.get(f"/trials/{HALF_WAY}/bench")
        table = bench["trial"]["table_id"]
        self.assertGreater(bench["now"]["setting"]["speed_mm_min"], 1800)
        page = {"settings": {"fastest_mm_min": 1800}}
        self.assertEqual(self.client.patch(f"/api/tables/{table}/settings", json=page).status_code, 200)
        now = self.get(f"/trials/{HALF_WAY}/bench")["now"]
        self.assertLessEqual(now["setting"]["speed_mm_min"], 1800)
        set_id = bench["trial"]["torch_set"]["id"]
        job = f"metal=mild_steel&thickness_mm=6&torch_set_id={set_id}&table_id={table}"
        start = self.get(f"/start?{job}")
        self.assertEqual(start["values"]["speed_mm_min"], 1800)
        self.assertEqual(start["limits"]["speed_mm_min"][1], 1800)
        self.assertTrue(any("it cannot" in w for w in start["warnings"]), start["warnings"])
        # The limits that are shown are those that hold: a target is changed with them, untouched.
        shown = self.get(f"/trials/{HALF_WAY}/bench")["trial"]
        self.assertEqual(shown["limits"]["speed_mm_min"][1], 1800)
        same = {"revision": shown["revision"], "target": shown["target"], "limits": shown["limits"]}
        self.assertEqual(self.client.put(f"/api/trials/{HALF_WAY}/target", json=same).status_code, 200)
        target = {**bench["trial"]["target"]}
        limits = {**bench["trial"]["limits"], "speed_mm_min": [1200, 3000]}
        revision = self.get(f"/trials/{HALF_WAY}/revision")["revision"]
        wider = {"revision": revision, "target": target, "limits": limits}
        refused = self.client.put(f"/api/trials/{HALF_WAY}/target", json=wider)
        self.assertEqual(refused.status_code, 422, refused.text)
        self.assertIn("this table stops at 1800 mm/min", refused.json()["detail"].lower())


class BeforeItIsRelied(Api):
    """What is about to be run, or proven for good, with a doubt that the shop's own records hold."""

    def test_a_program_says_where_to_change_parts_that_may_not_last_it(self) -> None:
        self.assertEqual(self.get("/programs/1")["parts_says"], "")
        electrode = self.get("/tables/1/parts")["fitted"][0]
        near_its_end = {"kept": electrode["kept"], "limit_mm": 0.2}
        kept = self.client.put(f"/api/parts/{electrode['id']}/kept", json=near_its_end)
        self.assertEqual(kept.status_code, 200, kept.text)
        run = {"key": "a long run", "starts": 600, "arc_on_s": 7200, "off_plate": 0}
        counted = self.client.post("/api/tables/1/counts", json=run)
        self.assertEqual(counted.status_code, 201, counted.text)
        self.assertIn("this program takes 10", self.get("/programs/1")["parts_says"])

    def test_a_kerf_that_nobody_measured_is_said_before_it_is_locked(self) -> None:
        withdrawn = self.client.post("/api/recipes/1/withdrawn")
        self.assertLess(withdrawn.status_code, 300, withdrawn.text)
        self.assertEqual(self.get(f"/trials/{LOCKED}/lock")["doubts"], [])
        for cut in self.get(f"/trials/{LOCKED}/bench")["cuts"]:
            changed = {"version": cut["version"], "kerf_mm": None}
            answer = self.client.patch(f"/api/trials/{LOCKED}/cuts/{cut['id']}", json=changed)
            self.assertEqual(answer.status_code, 200, answer.text)
        (doubt,) = self.get(f"/trials/{LOCKED}/lock")["doubts"]
        self.assertIn("nobody measured it here", doubt)
