"""A table's measurements over the wire: judged while they are typed, kept as they were, struck out and put back."""

import json
import unittest
from pathlib import Path
from typing import Any

from tests.api.test_api import Api

EXAMPLE = Path(__file__).parents[2] / "docs/formats/machine_measures.example.json"
NORTH = 1


class Measurements(Api):
    """One shop for all of them."""

    measures: dict[str, Any] = json.loads(EXAMPLE.read_text())

    def kept(self) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.get(f"/tables/{NORTH}/measured")
        return found

    def test_judging_saves_nothing_and_keeping_keeps_what_was_typed(self) -> None:
        before = len(self.kept())
        judged = self.client.post("/api/machine-measures/judged", json=self.measures)
        self.assertEqual(judged.status_code, 200, judged.text)
        self.assertEqual(judged.json()["findings"][0]["code"], "gantry_skew")
        self.assertIn("+X end", judged.json()["findings"][0]["cure"])
        self.assertEqual(len(self.kept()), before)
        body = {"measures": self.measures, "note": "as it came"}
        made = self.client.post(f"/api/tables/{NORTH}/measured", json=body)
        self.assertEqual(made.status_code, 201, made.text)
        newest = self.kept()[0]
        self.assertEqual(newest["note"], "as it came")
        self.assertEqual(newest["judged"], judged.json())
        self.assertEqual(newest["measures"]["pieces"][0]["d1_mm"], 361.0)

    def test_a_measurement_is_struck_out_and_put_back(self) -> None:
        body = {"measures": self.measures}
        made = self.client.post(f"/api/tables/{NORTH}/measured", json=body).json()
        for out, there in ((True, False), (False, True)):
            struck = self.client.put(f"/api/measured/{made['id']}/struck?out={str(out).lower()}")
            self.assertEqual(struck.status_code, 204)
            self.assertEqual(made["id"] in [k["id"] for k in self.kept()], there)
        self.assertEqual(self.client.put("/api/measured/9999/struck").status_code, 404)

    def test_sizes_and_uncertainties_next_to_nothing_are_refused_by_their_name(self) -> None:
        fine = {"kind": "rectangle", "nominal_mm": [100, 100], "x_mm": 100.1, "y_mm": 100, "u_mm": 0.1}
        body = {"format": "orthotome.machine_measures", "version": 1, "kerf_compensated_mm": 1.5}
        for field, value in (("x_mm", 5e-324), ("u_mm", 1e-200), ("nominal_mm", [1e-12, 100])):
            asked = {**body, "pieces": [{**fine, field: value}]}
            answer = self.client.post("/api/machine-measures/judged", json=asked)
            self.assertEqual(answer.status_code, 422, answer.text)
            self.assertIn(field, answer.json()["errors"][0]["field"])
            self.assertIn("more than 0", answer.json()["errors"][0]["message"])

    def test_what_no_table_can_have_cut_is_refused_and_not_kept(self) -> None:
        before = len(self.kept())
        pieces = [{**self.measures["pieces"][0], "d2_mm": 14.2}]
        body = {"measures": {**self.measures, "pieces": pieces}}
        refused = self.client.post(f"/api/tables/{NORTH}/measured", json=body)
        self.assertEqual((refused.status_code, "another unit" in refused.text), (422, True))
        self.assertEqual(len(self.kept()), before)


if __name__ == "__main__":
    unittest.main()
