"""No reading, however wrong, closes a room: each number of each record at its extremes, and every room opened."""

import unittest
from typing import Any

from orthotome.store import changes
from tests.shop import CUT, HALF_WAY, JUST_OPENED, LOCKED, ShopOf

_ALL = ["arc_voltage_v", "set_point_v", "kerf_mm", "lag_deg", "edges", "bevel_deg"]
TABLES = (1, 2)

# Each number of a cut, and of a check of a recipe, at the ends of what a file takes.
OF_A_CUT: dict[str, tuple[Any, ...]] = {
    "arc_voltage_v": (20.0, 205.0, 400.0),
    "set_point_v": (20.0, 400.0),
    "speed_mm_min": (20.0, 60_000.0),
    "cut_height_mm": (0.05, 40.0),
    "kerf_mm": (0.1, 20.0),
    "lag_deg": (-80.0, 80.0),
    "arc_on_s": (0.0, 36_000.0),
}
OF_A_CHECK: dict[str, tuple[Any, ...]] = {
    "bevel_deg": (-45.0, 45.0),
    "arc_voltage_v": (20.0, 400.0),
    "kerf_mm": (0.1, 20.0),
    "dross_grade": (0, 4),
}


def rooms(trial: int, recipe: int = 1) -> list[str]:
    """What every room asks for when it is opened."""
    doors = (
        "parts",
        "torch",
        "readiness",
        "signal-paths",
        "line",
        "traces",
        "health",
        "settings",
        "facts",
        "checks",
        "measured",
    )
    return [
        *(
            f"/trials/{trial}/{room}"
            for room in ("bench", "height", "trim", "recorded", "piece", "readiness")
        ),
        f"/trials/{trial}/piece/played",
        f"/trials/{trial}/log-sheet",
        f"/recipes/{recipe}",
        f"/recipes/{recipe}/watch",
        "/trials",
        "/recipes",
        "/tables",
        "/book/pages",
        "/instruments",
        *(f"/tables/{table}/{room}" for table in TABLES for room in doors),
        *(f"/tables/{table}/trouble/last-cut" for table in TABLES),
    ]


class NoRoomIsClosed(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)

    def open_all(self, trial: int, after: str) -> None:
        for path in rooms(trial):
            answer = self.shop.client.get(f"/api{path}")
            self.assertEqual(answer.status_code, 200, f"{path} after {after}: {answer.text[:300]}")

    def test_rooms_open_before_anything_is_wrong(self) -> None:
        self.open_all(HALF_WAY, "nothing")

    def test_each_number_of_a_cut_at_its_extremes(self) -> None:
        for name, values in OF_A_CUT.items():
            for value in values:
                with self.subTest(name=name, value=value):
                    told = {**CUT, "key": f"{name} {value}", name: value, "insisted": _ALL}
                    if name == "set_point_v":
                        told["height_control"] = "set_point"
                    answer = self.shop.client.post(f"/api/trials/{HALF_WAY}/cuts", json=told)
                    self.assertEqual(answer.status_code, 201, answer.text)
            self.open_all(HALF_WAY, f"{name} at its ends")

    def test_edges_at_their_extremes_in_a_trial_that_begins_with_them(self) -> None:
        for bevel in (-45.0, 45.0):
            edges = [{**e, "bevel_deg": bevel, "u_deg": 0.01} for e in CUT["edges"]]
            told = {**CUT, "key": f"edges {bevel}", "edges": edges, "insisted": _ALL}
            answer = self.shop.client.post(f"/api/trials/{JUST_OPENED}/cuts", json=told)
            self.assertEqual(answer.status_code, 201, answer.text)
            self.open_all(JUST_OPENED, f"edges {bevel}")

    def test_what_the_simulated_table_cuts_at_the_ends_of_its_dials_can_be_logged(self) -> None:
        for speed, height in ((20, 1.5), (60_000, 1.5), (2000, 0.05), (60_000, 40)):
            asked = {"speed_mm_min": speed, "cut_height_mm": height}
            made = self.shop.client.post(f"/api/trials/{HALF_WAY}/simulated-cut", params=asked)
            self.assertEqual(made.status_code, 200, f"{asked}: {made.text[:300]}")

    def test_each_number_of_a_check_at_its_extremes(self) -> None:
        for name, values in OF_A_CHECK.items():
            for value in values:
                body = {"key": f"{name} {value}", name: value, "insisted": _ALL}
                answer = self.shop.client.post("/api/recipes/1/spot-checks", json=body)
                self.assertEqual(answer.status_code, 201, answer.text)
            self.open_all(LOCKED, f"a check of {name} at its ends")


class Asked(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)

    def post(self, path: str, **body: Any) -> Any:
        return self.shop.client.post(f"/api{path}", json=body)

    def test_a_doubtful_number_is_kept_only_when_it_is_insisted_on_and_is_marked(self) -> None:
        told = {**CUT, "key": "slip", "arc_voltage_v": 205.0}
        path = f"/trials/{HALF_WAY}/cuts"
        held = self.post(path, **told)
        self.assertEqual((held.status_code, held.json()["type"]), (409, "urn:orthotome:doubted"))
        self.assertEqual(held.json()["errors"][0]["field"], "arc_voltage_v")
        before = self.shop.client.get(f"/api/trials/{HALF_WAY}/bench").json()["cuts"]
        kept = self.post(path, **told, insisted=["arc_voltage_v"])
        self.assertEqual(kept.status_code, 201, kept.text)
        after = self.shop.client.get(f"/api/trials/{HALF_WAY}/bench").json()["cuts"]
        self.assertEqual(len(after), len(before) + 1)
        self.assertEqual(self.post(path, **told).status_code, 201)  # sent again: it stands already
        history = self.shop.client.get(f"/api/trials/{HALF_WAY}/cuts/{kept.json()['id']}/history").json()
        self.assertEqual([c["act"] for c in history], ["insisted on"])
        self.assertIn("205", str(history[0]["was"]))

    def test_what_is_insisted_on_is_told_in_its_history_whatever_it_is(self) -> None:
        edges = [{**e, "bevel_deg": 23.0} for e in CUT["edges"][:1]]
        told = {**CUT, "key": "steep", "edges": edges, "lag_deg": 75.0, "insisted": _ALL}
        cut = self.post(f"/trials/{HALF_WAY}/cuts", **told).json()
        history = self.shop.client.get(f"/api/trials/{HALF_WAY}/cuts/{cut['id']}/history")
        self.assertEqual(history.status_code, 200, history.text)
        said = " ".join(history.json()[0]["was"])
        self.assertIn("the edge cut to the right, right of travel was +23.0°", said)
        self.assertIn("lag was +75.0°", said)

    def test_a_check_sent_again_is_noted_once_and_asked_about_no_more(self) -> None:
        body = {"key": "twice", "bevel_deg": -13.0}
        path = "/recipes/1/spot-checks"
        self.assertEqual(self.post(path, **body).status_code, 409)
        for insisted in (["bevel_deg"], []):
            again = self.post(path, **body, insisted=insisted)
            self.assertEqual(again.status_code, 201, again.text)
        self.assertEqual(len([c for c in again.json()["checks"] if c["bevel_deg"] == -13.0]), 1)
        with self.shop.database.read() as session:
            marks = changes.of(session, "spot_check", again.json()["checks"][-1]["id"])
        self.assertEqual([m.act for m in marks], ["insisted on"])

    def test_a_correction_a_check_a_strip_and_a_row_are_asked_about(self) -> None:
        bench = self.shop.client.get(f"/api/trials/{HALF_WAY}/bench").json()
        cut = bench["cuts"][0]
        path = f"/api/trials/{HALF_WAY}/cuts/{cut['id']}"
        body = {"version": cut["version"], "arc_voltage_v": 62.0}
        self.assertEqual(self.shop.client.patch(path, json=body).json()["type"], "urn:orthotome:doubted")
        note = {"version": cut["version"], "note": "as it was"}
        self.assertEqual(self.shop.client.patch(path, json=note).status_code, 200)
        check = self.post("/recipes/1/spot-checks", key="slip", bevel_deg=-13.0, kerf_mm=15.7)
        self.assertEqual(check.json()["errors"][0]["field"], "bevel_deg")
        square = self.post("/recipes/1/spot-checks", key="square", edges_deg=[0.4, -1.1, 0.2, 0.6])
        self.assertEqual(square.json()["checks"][-1]["bevel_deg"], -1.1)
        row = self.shop.client.get("/api/book/rows").json()[0]
        wanted = ("metal", "torch_set_id", "gas", "arc_voltage_v", "cut_height_mm", "pierce_height_mm")
        typed = {n: row[n] for n in wanted} | {"pierce_delay_s": 6.0, "thickness_mm": 5.0}
        asked = self.post("/book/rows", **typed, speed_mm_min=36_000.0, source="slip")
        self.assertEqual(asked.json()["errors"][0]["field"], "speed_mm_min")
        kept = self.post(
            "/book/rows", **typed, speed_mm_min=4200.0, source="slip", insisted=["pierce_delay_s"]
        )
        self.assertEqual(kept.status_code, 201, kept.text)


if __name__ == "__main__":
    unittest.main()
