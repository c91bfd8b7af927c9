"""Trouble over the wire: what the records know is not asked, and what it was teaches the next one."""

import io
import json
import unittest
import zipfile
from typing import Any

from PIL import Image

from tests.api.test_api import Api
from tests.shop import CUT

NORTH = 1


class TroubleShooting(Api):
    """One shop for all of them."""

    def find(self, complaint: str, facts: dict[str, Any]) -> Any:
        asked = self.client.post(
            f"/api/tables/{NORTH}/trouble", json={"complaint": complaint, "facts": facts}
        )
        self.assertEqual(asked.status_code, 200, asked.text)
        return asked.json()

    def test_what_the_records_know_is_used_with_its_source_and_not_asked(self) -> None:
        facts: dict[str, Any] = {}
        known = {k["code"]: k for k in self.find("arc_goes_out", facts)["known"]}
        self.assertIn("starts counted", known["new_parts"]["source"])
        self.assertEqual(known["touch_off"]["answer"], "the shield touches the plate")
        while (ask := self.find("arc_goes_out", facts)["ask"]) is not None:
            self.assertNotIn(ask["code"], {*known, *facts})
            facts[ask["code"]] = "not_known"
        set_aside = self.find("arc_goes_out", {"touch_off": "not_known"})
        self.assertNotIn("touch_off", [k["code"] for k in set_aside["known"]])

    def test_a_crash_that_was_noted_is_the_first_suspect(self) -> None:
        before = self.find("bevel_one_direction", {})
        kept = self.client.post(f"/api/tables/{NORTH}/checks", json={"check": {"kind": "crash"}}).json()
        after = self.find("bevel_one_direction", {})
        self.assertIn("there was a crash", after["changed_last"])

        def collision(found: Any) -> float:
            return float(next((c["chance"] for c in found["causes"] if c["code"] == "collision"), 0.0))

        self.assertGreater(collision(after), 1.5 * collision(before))
        self.client.put(f"/api/machine-checks/{kept['id']}/struck")

    def test_a_signal_path_that_was_read_right_is_not_the_first_suspect(self) -> None:
        path = {"source_ratio": 50.0, "card_ratio": 1.0, "multiplier": 50.0, "note": "as found"}
        for screen_v, answer, first in ((2.6, "a few volts", True), (128.2, "what it should", False)):
            body = {**path, "true_v": 128.0, "screen_v": screen_v}
            self.client.post(f"/api/tables/{NORTH}/signal-paths", json=body)
            found = self.find("flies_up_at_start", {})
            known = {k["code"]: k for k in found["known"]}
            self.assertIn("a pair of volts read 20", known["screen_volts"]["source"])
            causes = [c["code"] for c in found["causes"]]
            self.assertEqual(causes[0] == "signal_divided_twice", first, (answer, causes))

    def test_what_it_was_teaches_this_shops_odds_until_it_is_struck_out(self) -> None:
        def clamp() -> float:
            found = self.find("will_not_start", {})
            return float(next(c["chance"] for c in found["causes"] if c["code"] == "work_clamp"))

        before = clamp()
        body = {
            "complaint": "will_not_start",
            "facts": {},
            "cause": "work_clamp",
            "note": "lug was burnt",
        }
        kept = [
            self.client.post(f"/api/tables/{NORTH}/trouble-cases", json=body).json() for _ in range(4)
        ]
        self.assertGreater(clamp(), before + 0.1)
        self.assertIn("4 of 4 times before", self.find("will_not_start", {})["here_before"])
        query = {"complaint": "will_not_start", "facts": json.dumps({"thin_sheet": True})}
        pack = self.client.get(f"/api/tables/{NORTH}/trouble.pdf", params=query)
        self.assertTrue(pack.content.startswith(b"%PDF"), pack.text[:200])
        for one in kept:
            self.client.put(f"/api/trouble-cases/{one['id']}/struck")
        self.assertAlmostEqual(clamp(), before)

    def test_the_last_cut_on_the_bench_is_where_it_begins(self) -> None:
        bench = self.get("/tables")[0]["bench_trial_id"]
        high = CUT | {
            "key": "rising",
            "arc_voltage_v": 141.0,
            "dross": [{"kind": "high_speed", "grade": 3}],
        }
        high["edges"] = [{**e, "bevel_deg": 4.0} for e in CUT["edges"]]
        logged = self.client.post(f"/api/trials/{bench}/cuts", json=high).json()
        shown = self.get(f"/tables/{NORTH}/trouble/last-cut")
        self.assertEqual(shown["number"], logged["number"])
        seen = [c["code"] for c in shown["complaints"]]
        self.assertEqual(seen, ["bevel_all_round", "dross_needs_grinding"])
        self.assertIn("+4.0°", shown["complaints"][0]["why"])
        body = {"complaint": "bevel_all_round", "facts": {}, "of_cut": True}
        found = self.client.post(f"/api/tables/{NORTH}/trouble", json=body).json()
        known = {k["code"]: k for k in found["known"]}
        self.assertEqual(known["bevel_sign"]["answer"], "the bottom")
        self.assertIn(f"cut {logged['number']}", known["dross_kind"]["source"])
        here = {c["code"]: c["figures"] for c in found["causes"]}
        self.assertIn("The Bench advises", here["too_fast"])
        picture = io.BytesIO()
        Image.new("RGB", (64, 48), "grey").save(picture, "JPEG")
        sent = self.client.post(
            f"/api/trials/{bench}/photos?cut_id={logged['id']}",
            content=picture.getvalue(),
        )
        self.assertEqual(sent.status_code, 201, sent.text)
        query = {"complaint": "bevel_all_round", "of_cut": "true"}
        file = self.client.get(f"/api/tables/{NORTH}/trouble.zip", params=query)
        with zipfile.ZipFile(io.BytesIO(file.content)) as pack:
            self.assertEqual(pack.namelist(), ["trouble.pdf", "trial.json", "picture-1.jpg"])
            self.assertEqual(json.loads(pack.read("trial.json"))["cuts"][-1]["arc_voltage_v"], 141.0)
        page = self.client.get(f"/api/tables/{NORTH}/trouble.pdf", params=query | {"facts": "[1"})
        self.refused(page, 422)

    def test_practice_tells_no_truth_before_it_is_named_and_keeps_a_sheet_for_each(self) -> None:
        case = {"case": "swirl", "asked": ["pattern", "swaps_with_travel"]}
        state = self.client.post("/api/practice/case", json=case).json()
        self.assertEqual([s["answer"] for s in state["steps"]], ["one side of travel", "yes"])
        self.assertTrue(all(s["chance_after"] is None and s["worth"] is None for s in state["steps"]))
        who = {"orthotome-person": "Ash"}
        named = case | {"cause": "wrong_direction", "act": "prove"}
        truth = self.client.post("/api/practice/named", json=named, headers=who)
        self.assertEqual((truth.status_code, truth.json()["passed"]), (201, True))
        sheet = self.client.get("/api/practice", headers=who).json()
        self.assertEqual([t["case"] for t in sheet["taken"]], ["swirl"])
        self.assertTrue(next(e["passed"] for e in sheet["exercises"] if e["code"] == "swirl"))
        other = self.client.get("/api/practice", headers={"orthotome-person": "Rowan"}).json()
        self.assertEqual(other["taken"], [])
        for wrong in (
            {"case": "juggling"},
            {"case": "99999999"},
            case | {"asked": ["lag", "lag"]},
            case | {"asked": ["mood"]},
        ):
            self.assertEqual(self.client.post("/api/practice/case", json=wrong).status_code, 422)

    def test_what_nobody_knows_is_refused_by_name(self) -> None:
        for body, field in (
            ({"complaint": "sulks", "facts": {}}, "complaint"),
            ({"complaint": "tab_at_end", "facts": {"mood": True}}, "facts"),
            ({"complaint": "tab_at_end", "facts": {"lag": "sideways"}}, "facts.lag"),
        ):
            refused = self.client.post(f"/api/tables/{NORTH}/trouble", json=body)
            self.assertEqual((refused.status_code, refused.json()["errors"][0]["field"]), (422, field))
        body = {"complaint": "tab_at_end", "facts": {}, "cause": "gremlins"}
        self.assertEqual(
            self.client.post(f"/api/tables/{NORTH}/trouble-cases", json=body).status_code, 422
        )


if __name__ == "__main__":
    unittest.main()
