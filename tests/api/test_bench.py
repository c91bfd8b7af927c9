"""The Bench over the wire: what if, what was taught, earlier trials, and prices."""

import unittest

from orthotome.formats.trial.campaign import read_campaign
from tests.api.test_api import Api
from tests.shop import HALF_WAY, JUST_OPENED


class Asked(Api):
    def test_what_if_is_answered_inside_the_limits_and_outside_and_refused_where_absurd(self) -> None:
        bench = self.get(f"/trials/{HALF_WAY}/bench")
        at = bench["now"]["setting"]
        path = f"/trials/{HALF_WAY}/what-if"
        asked = self.get(f"{path}?speed_mm_min={at['speed_mm_min']}&cut_height_mm={at['cut_height_mm']}")
        best = bench["advice"]["recommended"]["probability_pass"]
        self.assertAlmostEqual(asked["chance"], best, delta=0.001)
        self.assertEqual([m["cut"] for m in asked["along_speed"]["marks"]], ["c1", "c2", "c3"])
        outside = self.get(f"{path}?speed_mm_min=9000&cut_height_mm=1.5")
        self.assertFalse(outside["inside_limits"])
        self.assertIn("would not advise it", outside["why"])
        absurd = self.client.get(f"/api{path}?speed_mm_min=-5&cut_height_mm=1.5")
        self.refused(absurd, 422, "speed_mm_min")

    def test_what_was_taught_is_said_from_the_first_cut_on(self) -> None:
        self.assertIn("expected", self.get(f"/trials/{HALF_WAY}/bench")["taught"])
        self.assertIsNone(self.get(f"/trials/{JUST_OPENED}/bench")["taught"])


class EarlierTrials(Api):
    def test_they_sharpen_a_new_trial_go_into_its_file_and_can_be_left_out(self) -> None:
        start = self.get("/start?metal=mild_steel&thickness_mm=8&torch_set_id=1")["values"]
        target = {"bevel_deg": 2.0, "sides": "good", "dross_grade": 1, "priority": "square_first"}
        job = {"table_id": 1, "torch_set_id": 1, "metal": "mild_steel", "thickness_mm": 8.0}
        asked = {**job, "start": start, "target": target}
        trial = self.client.post("/api/trials", json=asked).json()["id"]
        taught = self.get(f"/trials/{trial}/bench")
        self.assertEqual([e["id"] for e in taught["earlier"]], [HALF_WAY])
        self.assertIn("earlier trials", taught["now"]["why"])
        file = self.client.get(f"/api/trials/{trial}/campaign").text
        self.assertEqual(len(read_campaign(file).history), 1)
        path, revision = f"/api/trials/{trial}/earlier-trials", taught["trial"]["revision"]
        left = self.client.put(path, json={"revision": revision, "use": False})
        self.assertEqual(left.status_code, 200, left.text)
        alone = self.get(f"/trials/{trial}/bench")
        self.assertEqual(alone["now"]["setting"]["speed_mm_min"], start["speed_mm_min"])
        chances = [b["advice"]["recommended"]["probability_pass"] for b in (taught, alone)]
        self.assertGreater(chances[0], chances[1] + 0.1)
        self.assertEqual(
            read_campaign(self.client.get(f"/api/trials/{trial}/campaign").text).history, ()
        )
        stale = self.client.put(path, json={"revision": revision, "use": True})
        self.refused(stale, 409, "revision", "another screen")


if __name__ == "__main__":
    unittest.main()
