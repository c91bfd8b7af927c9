"""The Machine room over the wire: proof pieces, checks, holes, kerf and health."""

import unittest
from typing import Any

from tests.api.test_api import Api

NORTH = 1


class MachineRoom(Api):
    """One shop for all of them: the tests run in the order of their names."""

    def of(self) -> dict[str, int]:
        """The trial of the demo's plate, as a query."""
        offers = self.get(f"/tables/{NORTH}/program-settings")
        return {"trial_id": next(o["trial_id"] for o in offers if o["title"] == "Hopper sides")}

    def keep(self, check: dict[str, Any]) -> Any:
        return self.client.post(f"/api/tables/{NORTH}/checks", json={"check": check, "note": "noted"})

    def standing(self, aspect: str) -> str:
        lines = self.get(f"/tables/{NORTH}/health")["lines"]
        return str(next(line["standing"] for line in lines if line["aspect"] == aspect))

    def test_proof_pieces_come_with_programs_in_the_tables_own_words(self) -> None:
        query = self.of() | {"sheet_x_mm": 600, "sheet_y_mm": 500}
        address = f"/api/tables/{NORTH}/proof-pieces"
        asked = self.client.get(f"{address}/rectangle", params=query)
        self.assertEqual(asked.status_code, 200, asked.text)
        self.assertLessEqual(
            max(p - s for p, s in zip(asked.json()["plate_mm"], (600, 500), strict=True)), 0
        )
        program = self.client.get(f"{address}/rectangle/piece.nc", params=query).text
        self.assertIn("M3", program)
        zig_zag = self.client.get(f"{address}/zig-zag-y/piece.nc", params=query).text
        self.assertNotIn("M3\n", zig_zag)
        self.assertIn("DRY RUN", zig_zag)
        discs = self.client.get(f"{address}/circles/piece.pdf", params=query)
        self.assertTrue(discs.content.startswith(b"%PDF"))
        for wrong, field in (
            (self.of() | {"sheet_x_mm": 60, "sheet_y_mm": 60}, "sheet_x_mm"),
            ({}, "trial_id"),
        ):
            refused = self.client.get(f"{address}/rectangle", params=wrong)
            self.assertEqual((refused.status_code, refused.json()["errors"][0]["field"]), (422, field))

    def test_a_crash_makes_the_right_things_due_until_they_are_found_again(self) -> None:
        run = {"legs": 60, "leg_mm": 25.0, "speed_mm_min": 6000.0, "seconds": 22.4}
        touch = {"kind": "touch_height", "told_mm": 1.5, "found_mm": 1.52, "u_mm": 0.05}
        for check in (touch, {"kind": "acceleration", "axis": "y", "runs": [run]}):
            self.assertEqual(self.keep(check).status_code, 201)
        self.assertEqual(self.standing("height_sensor"), "good")
        lines = self.get(f"/tables/{NORTH}/health")["lines"]
        both = next(line["figure"] for line in lines if line["aspect"] == "acceleration")
        self.assertRegex(both, "^X: .*; Y: ")  # the demo's X stands beside the Y that was timed
        crash = self.keep({"kind": "crash"}).json()
        self.assertEqual(
            (self.standing("height_sensor"), self.standing("acceleration")), ("due", "good")
        )
        self.assertTrue(self.client.get(f"/api/tables/{NORTH}/health.pdf").content.startswith(b"%PDF"))
        self.assertEqual(self.keep(touch | {"found_mm": 2.0}).status_code, 201)
        self.assertEqual(self.standing("height_sensor"), "wrong")
        self.assertEqual(self.client.put(f"/api/machine-checks/{crash['id']}/struck").status_code, 204)
        self.assertEqual(self.standing("height_sensor"), "wrong")

    def test_what_no_machine_does_is_refused_and_not_kept(self) -> None:
        before = len(self.get(f"/tables/{NORTH}/checks"))
        run = {"legs": 60, "leg_mm": 25.0, "speed_mm_min": 6000.0, "seconds": 3.0}
        refused = self.keep({"kind": "acceleration", "axis": "x", "runs": [run]})
        self.assertEqual((refused.status_code, "without any run-up" in refused.text), (422, True))
        self.assertEqual(len(self.get(f"/tables/{NORTH}/checks")), before)

    def test_holes_that_were_tried_change_what_is_drawn_and_what_a_program_says(self) -> None:
        address, of = f"/tables/{NORTH}/holes", self.of()
        query = f"trial_id={of['trial_id']}"

        def to_draw() -> float:
            lines = self.get(f"{address}?{query}")["lines"]
            return float(next(line["draw_mm"] for line in lines if line["bolt"] == "M12"))

        before = to_draw()
        hole = {"drawn_mm": 12.0, "top_mm": 11.0, "bottom_mm": 10.4, "u_mm": 0.05, "fell": True}
        kept = [self.client.post(f"/api{address}", json=of | {"hole": hole}).json() for _ in range(4)]
        self.assertGreater(to_draw(), before + 0.2)
        program = self.get(f"/tables/{NORTH}/programs")[-1]
        through = self.get(f"/programs/{program['id']}/holes")[0]["through_mm"]
        for one in kept:
            self.client.put(f"/api/tried-holes/{one['id']}/struck")
        self.assertAlmostEqual(to_draw(), before)
        self.assertGreater(self.get(f"/programs/{program['id']}/holes")[0]["through_mm"], through)
        refused = self.client.post(
            f"/api{address}", json=of | {"hole": {"drawn_mm": 12.0, "top_mm": 0.46}}
        )
        self.assertEqual((refused.status_code, refused.json()["errors"][0]["field"]), (422, "top_mm"))

    def test_the_kerf_is_written_into_a_trial_and_into_a_recipe_as_its_next_revision(self) -> None:
        of = self.of()
        done = self.client.put("/api/kerf", json=of | {"kerf_mm": 1.96})
        self.assertEqual(done.status_code, 200, done.text)
        proof = self.client.get(f"/api/tables/{NORTH}/proof-pieces/circles", params=of).json()
        self.assertEqual(proof["kerf_mm"], 1.96)
        recipe = self.get(f"/recipes/{self.get('/recipes')[0]['id']}")
        done = self.client.put("/api/kerf", json={"recipe_id": recipe["id"], "kerf_mm": 1.37}).json()
        newest = self.get(f"/recipes/{done['recipe_id']}")
        setting = newest["recipe"]["setting"]
        self.assertEqual((setting["kerf_mm"], newest["revision"]), (1.37, recipe["revision"] + 1))
        self.assertEqual(setting | {"kerf_mm": 0}, recipe["recipe"]["setting"] | {"kerf_mm": 0})


if __name__ == "__main__":
    unittest.main()
