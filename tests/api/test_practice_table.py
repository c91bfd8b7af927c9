"""Practice tables over the wire: the whole application, on records of its own, with the truth kept until the end."""

import unittest
from datetime import timedelta
from typing import Any

from orthotome.api.practice_shop import PracticeShop, practice_lines
from orthotome.core.height.after_square import Control
from orthotome.core.height.trace import Trace
from orthotome.core.practice.table_exercises import table_exercise
from orthotome.core.torch.counts import Counts
from orthotome.sim.practice import arc_run
from orthotome.store.height import traces
from orthotome.store.tables import Trial
from tests.api.test_api import Api

WHO = {"orthotome-person": "Ash"}
APART = "/on-practice/api"


class PracticeTables(Api):
    def begin(self, case: str) -> Any:
        begun = self.client.post("/api/practice/tables", json={"case": case}, headers=WHO)
        self.assertEqual(begun.status_code, 201, begun.text)
        return begun.json()

    def cut(self, run: Any, key: str, **own: float) -> None:
        trial = f"{APART}/trials/{run['trial_id']}"
        cut = self.client.post(f"{trial}/simulated-cut", params=own).json()
        logged = self.client.post(f"{trial}/cuts", json={**cut, "key": key})
        self.assertEqual(logged.status_code, 201, logged.text)

    def bench(self, run: Any) -> Any:
        return self.client.get(f"{APART}/trials/{run['trial_id']}/bench").json()

    def end(self, run: Any, claim: str) -> Any:
        return self.client.post(
            f"/api/practice/tables/{run['id']}/ended", json={"claim": claim}, headers=WHO
        )

    def test_a_leaning_torch_from_the_first_cut_to_the_debrief(self) -> None:
        before = self.get("/trials")["total"]
        run = self.begin("one-way-bad")
        self.refused(self.client.get(f"/api/practice/tables/{run['id']}/debrief"), 409, "run_id")
        done = []
        for n in range(8):
            bench = self.bench(run)
            done.append(bench["advice"]["status"])
            if done[-1] == "square":
                break
            if done[-1] == "hand_off":
                cure = bench["hand_off"]["leads_to"]["fills"]
                at = f"{APART}/tables/{run['table_id']}/fittings"
                self.assertEqual(self.client.post(at, json={"kind": cure["kind"]}).status_code, 201)
                continue
            self.cut(run, f"k{n}")
        self.assertEqual((done[-1], done.count("hand_off")), ("square", 1))
        ended = self.end(run, "square").json()
        self.assertTrue(ended["passed"])
        self.refused(self.end(run, "square"), 409, "run_id")
        told = self.get(f"/practice/tables/{run['id']}/debrief")
        self.assertIn("leaned", told["hidden"])
        cuts = [s for s in told["mine"] if s["setting"]]
        self.assertEqual(len(cuts), ended["cuts"])
        self.assertLess(cuts[0]["chance"], 0.05)
        self.assertGreater(cuts[-1]["known"], 0.8)
        self.assertIn("Set the torch upright.", [s["done"] for s in told["mine"]])
        masters = self.get(f"/practice/tables/{run['id']}/masters")
        self.assertLessEqual(masters["cuts"], run["most_cuts"])
        sheet = self.client.get("/api/practice/tables", headers=WHO).json()
        self.assertIn(run["id"], [r["id"] for r in sheet["ended"]])
        self.assertTrue(next(e["passed"] for e in sheet["exercises"] if e["code"] == "one-way-bad"))
        paper = self.client.get("/api/practice/sheet.pdf", params={"person": "Ash"})
        self.assertTrue(paper.content.startswith(b"%PDF"), paper.text[:200])
        self.assertEqual(self.get("/trials")["total"], before)  # nothing of it is among the shop's

    def record(self, run: Any, trace: Trace) -> None:
        """A run of the practice table, as its line records it."""
        with self.practising.database.write() as session:
            row = traces.begin(session, run["table_id"], "line", "run")
            traces.add(session, row, trace)
            traces.end(session, row.id or 0, Counts(1, 9.0, 0))

    @property
    def practising(self) -> PracticeShop:
        found: PracticeShop = self.shop.client.app.state.practice  # type: ignore[attr-defined]
        return found

    def test_a_torch_that_dips_in_the_corners_until_its_control_is_told_to_hold(self) -> None:
        run, exercise = self.begin("dips-in-corners"), table_exercise("dips-in-corners")
        self.assertTrue(run["watched"])
        self.assertEqual(
            {c["code"] for c in run["claims"]} & {"square", "holds", "wet_air"}, {"holds", "wet_air"}
        )
        at = f"{APART}/trials/{run['trial_id']}/control"
        control = exercise.told_control
        assert control is not None
        self.record(run, arc_run(exercise, control))
        height = f"{APART}/trials/{run['trial_id']}/height"
        otherwise = self.client.get(height).json()["control"]["otherwise"]
        self.assertTrue(any("held below" in said for said in otherwise), otherwise)
        adopted = {"school": control.school, "set_point_v": control.set_point_v}
        told = self.client.put(at, json=adopted).json()["control"]
        self.assertEqual((told["otherwise"], told["set_point_v"]), ([], control.set_point_v))
        self.assertGreater(told["hold_below_share"], 0.7)
        names = Control.__dataclass_fields__
        self.record(run, arc_run(exercise, Control(**{n: told[n] for n in names})))
        self.assertEqual(self.get(f"/practice/tables/{run['id']}")["cuts"], 2)
        self.refused(self.end(run, "square"), 422, "claim")
        ended = self.end(run, "holds").json()
        self.assertEqual((ended["passed"], ended["cuts"]), (True, 2))
        debrief = self.get(f"/practice/tables/{run['id']}/debrief")
        first, second = (s["done"] for s in debrief["mine"])
        self.assertIn("dips of", first)
        self.assertNotIn("dips of", second)
        self.assertLess(
            min(debrief["arc"]["height_mm"][40:-40]), min(debrief["arc"]["sound_height_mm"][40:-40])
        )
        self.assertIsNone(debrief["chances"])
        way = self.get(f"/practice/tables/{run['id']}/masters")
        self.assertIn("hold height below", way["steps"][2]["done"])

    def test_the_arc_of_a_practice_table_is_that_of_what_is_fitted(self) -> None:
        run, other = self.begin("dives-along"), self.begin("own-numbers")
        lines = practice_lines(self.practising.database)
        self.assertEqual(lines._as_simulated(run["table_id"])[1], ["worn_electrode"])
        self.assertEqual(lines._as_simulated(other["table_id"])[1], [])
        at = f"{APART}/tables/{run['table_id']}/fittings"
        fitted = self.client.post(at, json={"kind": "parts", "part": "electrode"})
        self.assertEqual(fitted.status_code, 201, fitted.text)
        self.assertEqual(lines._as_simulated(run["table_id"])[1], [])
        self.assertEqual(self.client.delete(f"{APART}/fittings/{fitted.json()['id']}").status_code, 204)
        self.assertEqual(lines._as_simulated(run["table_id"])[1], ["worn_electrode"])

    def test_numbers_of_ones_own_and_a_wrong_end(self) -> None:
        run = self.begin("own-numbers")
        self.assertTrue(run["covered"])
        self.cut(run, "own", speed_mm_min=3000, cut_height_mm=1.6)
        cut = self.bench(run)["cuts"][0]
        self.assertEqual((cut["speed_mm_min"], cut["cut_height_mm"]), (3000, 1.6))
        going = self.client.get("/api/practice/tables", headers=WHO).json()["going_on"]
        self.assertEqual({r["id"]: r["cuts"] for r in going}[run["id"]], 1)
        ended = self.end(run, "target_too_tight").json()
        self.assertEqual((ended["passed"], ended["cuts"]), (False, 1))
        told = self.get(f"/practice/tables/{run['id']}/debrief")
        self.assertIn("could be cut square", told["sentence"])

    def test_the_same_exercise_again_is_a_table_of_its_own_with_the_same_truth(self) -> None:
        runs = [self.begin("4711") for _ in range(2)]
        self.assertNotEqual(runs[0]["table_id"], runs[1]["table_id"])
        for run in runs:
            self.cut(run, "same", speed_mm_min=2000, cut_height_mm=1.6)
        first, second = (self.bench(run)["cuts"][0] for run in runs)
        self.assertEqual(
            [e["bevel_deg"] for e in first["edges"]], [e["bevel_deg"] for e in second["edges"]]
        )
        self.assertEqual(len(self.get("/tables")), 2)  # the shop's own

    def test_records_that_were_thrown_away_do_not_become_anothers(self) -> None:
        run = self.begin("square-in-five")
        with self.practising.database.write() as session:
            trial = session.get(Trial, run["trial_id"])
            trial.opened_at -= timedelta(
                days=1
            )  # as a trial of later records would have another's number
            session.add(trial)
        self.refused(self.client.get(f"/api/practice/tables/{run['id']}"), 404, "run_id")
        self.refused(self.end(run, "square"), 404, "run_id")
        going = self.client.get("/api/practice/tables", headers=WHO).json()["going_on"]
        self.assertNotIn(run["id"], [r["id"] for r in going])

    def test_what_is_not_there_is_refused(self) -> None:
        for case in ("juggling", "1000000"):
            self.refused(self.client.post("/api/practice/tables", json={"case": case}), 422, "case")
        self.refused(self.client.get("/api/practice/tables/999"), 404, "run_id")
        run = self.begin("half-a-degree")
        self.refused(self.end(run, "tired"), 422, "claim")
        for path in ("backups", "practice", "door", "people/1/pin"):  # the shop's own rooms
            self.assertIn(self.client.get(f"{APART}/{path}").status_code, (404, 405))


if __name__ == "__main__":
    unittest.main()
