"""Height over the wire: volts for height, schools, what control is told, recordings, and what proves it."""

import json
import unittest
from typing import Any
from urllib.parse import quote

import numpy as np

from orthotome.core.height.trace import Trace
from orthotome.core.torch.counts import Counts
from orthotome.formats.height.trace_csv import write_trace_csv
from orthotome.store.height import traces
from orthotome.store.tables import CutRow
from tests.api.test_api import Api
from tests.shop import CUT, HALF_WAY, LOCKED, ShopOf
from tests.traces import MadeTrace

NORTH = 1
CSV = {"content-type": "text/csv"}


class Height(Api):
    def setUp(self) -> None:
        self.shop = ShopOf()  # type: ignore[misc]
        self.client = self.shop.client  # type: ignore[misc]
        self.addCleanup(self.shop.close)

    def put(self, path: str, body: dict[str, Any], status: int = 200) -> Any:
        answer = self.client.put(f"/api{path}", json=body)
        self.assertEqual(answer.status_code, status, answer.text)
        return answer.json()

    def take_in(self, data: bytes, name: str = "shop.csv", match: str = "", status: int = 201) -> Any:
        query = f"?name={quote(name)}" + (f"&match={quote(match)}" if match else "")
        answer = self.client.post(f"/api/tables/{NORTH}/traces{query}", content=data, headers=CSV)
        self.assertEqual(answer.status_code, status, answer.text)
        return answer.json()

    def record(self, *, off_plate: int = 0, control: bool = False) -> int:
        """A recording as the line of the North table leaves it: one start, at rest at 128 V."""
        made = MadeTrace(noise_v=0.5, end_s=8).made(feed=True)
        on = (made.time_s > 2).astype(float) if control else np.zeros_like(made.time_s)
        point = np.where(on > 0, 127.5, np.nan)
        whole = Trace(made.time_s, made.volts_v, None, made.feed_mm_min, point, on)
        with self.shop.database.write() as session:
            row = traces.begin(session, NORTH, "line", "line")
            traces.add(session, row, whole)
            traces.end(session, row.id or 0, Counts(1, 7.7, off_plate))
            return row.id or 0

    def starts(self) -> int:
        return int(self.get("/tables")[0]["parts"]["starts"])

    def test_a_recorded_start_is_counted_once_and_its_volts_go_into_the_log(self) -> None:
        before = self.starts()
        trace_id = self.record()
        self.assertEqual(self.starts(), before + 1)
        recorded = self.get(f"/trials/{HALF_WAY}/recorded")
        self.assertAlmostEqual(recorded["steady_v"], 128, delta=0.2)
        self.assertEqual((recorded["starts"], recorded["height_control"]), (1, "off"))
        cut = self.client.post(f"/api/trials/{HALF_WAY}/cuts", json={**CUT, "key": "recorded"}).json()
        with self.shop.database.read() as session:
            row = session.get(CutRow, cut["id"])
            assert row
            self.assertEqual(self.starts(), before + row.pierces)  # one of them was counted by the line
            self.assertEqual(row.arc_on_s, 7.7)
        self.assertIsNone(self.get(f"/trials/{HALF_WAY}/recorded"))
        (line,) = self.get(f"/tables/{NORTH}/traces")
        self.assertEqual((line["id"], line["cut_id"]), (trace_id, cut["id"]))

    def test_how_height_was_held_is_read_from_the_recording(self) -> None:
        self.record(control=True)
        recorded = self.get(f"/trials/{HALF_WAY}/recorded")
        self.assertEqual((recorded["height_control"], recorded["set_point_v"]), ("set_point", 127.5))

    def test_a_file_is_matched_read_and_drawn(self) -> None:
        made = MadeTrace(noise_v=0.6).corner(4, 0.4, 7)
        plain = write_trace_csv(made.made(feed=True)).replace("arc_voltage_v", "U arc")
        asked = self.client.post("/api/traces/headings", content=plain.encode(), headers=CSV)
        suggested = asked.json()["suggested"]
        self.assertEqual(suggested["arc_voltage_v"]["heading"], "U arc")
        refused = self.take_in(plain.encode(), status=422)
        self.assertIn("arc_voltage_v: is missing", refused["detail"])
        taken = self.take_in(plain.encode(), match=json.dumps(suggested))
        answer = self.get(f"/traces/{taken['id']}")
        self.assertEqual([e["word"] for e in answer["cuts"][0]["events"]], ["corner"])
        drawn = self.get(f"/traces/{taken['id']}/drawn?begin_s=0&end_s=15&slices=100")
        self.assertLessEqual(len(drawn["at_s"]), 100)
        volts = self.client.get(f"/api/traces/{taken['id']}/csv").text
        self.assertEqual(len(volts.splitlines()), taken["samples"] + 1)
        self.assertEqual(self.starts(), 131)  # a file counts nothing

    def test_what_is_no_recording_is_refused_whole(self) -> None:
        cases = [
            (b"time_s,arc_voltage_v\n1,2\n0,2\n", "runs backwards"),
            (b"time_s,arc_voltage_v\n1,high\n", "“high” in row 1"),
            (b"\x89PNG", "UTF-8"),
        ]
        for data, words in cases:
            self.assertIn(words, self.take_in(data, status=422)["detail"])
        self.assertEqual(self.get(f"/tables/{NORTH}/traces"), [])
        large = self.client.post(
            f"/api/tables/{NORTH}/traces?name=a",
            content=b"",
            headers={**CSV, "content-length": "90000000"},
        )
        self.assertEqual(large.status_code, 413)

    def test_three_schools_and_what_is_told(self) -> None:
        page = self.get(f"/trials/{HALF_WAY}/height")
        self.assertEqual([s["school"] for s in page["schools"]], ["manual", "measured", "sampled"])
        self.assertFalse(page["control"]["chosen"])
        chosen = self.put(f"/trials/{HALF_WAY}/control", {"school": "measured"})["control"]
        measured = page["schools"][1]
        self.assertEqual((chosen["chosen"], chosen["set_point_v"]), (True, measured["set_point_v"]))
        self.assertEqual(chosen["told"][0]["what"], "set-point")
        self.assertTrue(all(t["why"] for t in chosen["told"]))
        low = self.put(f"/trials/{HALF_WAY}/control", {"school": "manual", "set_point_v": 60.0}, 422)
        self.assertIn("below which this trial does not cut", low["detail"])
        sampled = self.put(
            f"/trials/{HALF_WAY}/control", {"school": "sampled", "set_point_v": 120.0}, 422
        )
        self.assertIn("none is set", sampled["detail"])
        self.put(f"/trials/{LOCKED}/control", {"school": "measured"}, 409)

    def test_a_measured_settling_replaces_the_worked_out_one(self) -> None:
        before = self.get(f"/trials/{HALF_WAY}/height")["timing"]
        self.assertFalse(before["measured"])
        self.record()
        after = self.get(f"/trials/{HALF_WAY}/height")
        settled = MadeTrace(noise_v=0.5).true_settled_s(1.0) - 0.31
        self.assertTrue(after["timing"]["measured"])
        self.assertAlmostEqual(after["timing"]["settled_after_s"], settled, delta=0.03)
        told = {t["what"]: t for t in after["control"]["told"]}
        self.assertEqual(told["dead band, either side"]["value"], "1 V")

    def test_volts_convert_both_ways_and_say_what_they_rest_on(self) -> None:
        there = self.get(f"/trials/{HALF_WAY}/height/converted?height_mm=1.5")
        back = self.get(f"/trials/{HALF_WAY}/height/converted?volts_v={there['volts_v']}&warp_mm=1")
        self.assertAlmostEqual(back["height_mm"], 1.5, delta=0.02)
        self.assertGreater(back["touch_chance"], there["touch_chance"])
        both = self.client.get(f"/api/trials/{HALF_WAY}/height/converted?height_mm=1&volts_v=120")
        self.assertEqual(both.status_code, 422)

    def test_a_strip_and_a_square_under_control_prove_it(self) -> None:
        said = self.put(f"/trials/{HALF_WAY}/control", {"school": "measured"})["control"]
        self.assertEqual((said["proof"], said["next_kind"]), ("not_begun", "long_strip"))
        under = {"height_control": "set_point", "set_point_v": said["set_point_v"]}
        fine = [{**e, "bevel_deg": 0.2} for e in CUT["edges"]]
        strip = {
            **CUT,
            **under,
            "key": "s",
            "kind": "long_strip",
            "piece": "strip",
            "edges": [],
            "dross": [],
        }
        self.client.post(f"/api/trials/{HALF_WAY}/cuts", json=strip)
        half = self.get(f"/trials/{HALF_WAY}/height")["control"]
        self.assertEqual((half["proof"], half["next_kind"]), ("half", "square"))
        box = {**CUT, **under, "key": "b", "kind": "square", "edges": fine, "dross": []}
        self.client.post(f"/api/trials/{HALF_WAY}/cuts", json=box)
        self.assertEqual(self.get(f"/trials/{HALF_WAY}/height")["control"]["proof"], "proven")
        worse = {**box, "key": "w", "edges": [{**e, "bevel_deg": 4.0} for e in fine]}
        self.client.post(f"/api/trials/{HALF_WAY}/cuts", json=worse)
        failed = self.get(f"/trials/{HALF_WAY}/height")["control"]
        self.assertEqual((failed["proof"], failed["next_kind"]), ("failed", "square"))

    def test_the_loop_as_told_and_as_it_would_be(self) -> None:
        job = {
            "speed_mm_min": 2100,
            "length_mm": 600,
            "cut_height_mm": 1.5,
            "steady_v": 128,
            "slope_v_per_mm": 6.5,
            "rise_mm": 4,
            "gain_mm_s_v": 9,
        }
        answer = self.client.post("/api/height/loop", json=job).json()
        self.assertTrue(answer["now"]["hunts"])
        self.assertFalse(answer["chosen"]["hunts"] or answer["chosen"]["strikes"])
        self.assertTrue(answer["why"])
        refused = self.client.post(
            "/api/height/loop", json={**job, "length_mm": 19_000, "speed_mm_min": 20}
        )
        self.assertIn("takes longer than 180 s", refused.json()["detail"])


if __name__ == "__main__":
    unittest.main()
