"""The torch's room: what was read in each seat, and the turns that set the jet upright."""

import math
import unittest
from typing import Any

from tests.api.test_api import Api
from tests.shop import CUT, HALF_WAY

NORTH, SOUTH = 1, 2


def slug(
    lean_deg: float, toward_deg: float, places: int = 8, process_deg: float = 0.6
) -> dict[str, Any]:
    """A slug whose edges read exactly that lean."""
    faces = [i * 360.0 / places for i in range(places)]
    read = [process_deg + lean_deg * math.cos(math.radians(f - toward_deg)) for f in faces]
    return {
        "key": f"slug {lean_deg} {toward_deg}",
        "thickness_mm": 8.0,
        "places": [{"faces_deg": f, "bevel_deg": round(b, 2)} for f, b in zip(faces, read, strict=True)],
    }


class Torch(Api):
    def test_a_slug_gives_the_turns_and_a_new_seat_begins_anew(self) -> None:
        path = f"/tables/{SOUTH}"
        fitted = self.client.post(f"/api{path}/fittings", json={"kind": "mount"})
        self.assertEqual(fitted.status_code, 201, fitted.text)
        empty = self.get(f"{path}/torch")["now"]
        self.assertEqual((empty["alignment"], empty["readings"]), (None, 0))
        axes = [{"name": "side tilt", "about_deg": 90.0, "mm_per_deg": 0.8}]
        asked = {"mount": {"axes": axes, "turns_about_itself": False}, "target_deg": 0.5}
        self.assertEqual(self.client.put(f"/api{path}/mount", json=asked).status_code, 200)
        # 2 degrees toward 30: the one axis moves the exit left and right, so 2 sin 30 = 1 is left.
        read = self.client.post(f"/api{path}/slugs", json=slug(2.0, 30.0, places=12))
        self.assertEqual(read.status_code, 201, read.text)
        now = read.json()["now"]
        found = now["alignment"]
        self.assertAlmostEqual(found["lean_deg"], 2.0, delta=0.1)
        self.assertAlmostEqual(found["toward_deg"], 30.0, delta=3)
        (turn,) = found["corrections"]
        # Turned by +1 about 90 the exit goes toward 180, away from where it drifts.
        self.assertAlmostEqual(turn["turn_deg"], 2.0 * math.cos(math.radians(30)), delta=0.1)
        self.assertAlmostEqual(turn["move_mm"], 0.8 * turn["turn_deg"], delta=0.01)
        self.assertAlmostEqual(found["left_over_deg"], 1.0, delta=0.1)
        self.assertIn("Make the turns below", now["in_words"])
        again = self.client.post(f"/api{path}/slugs", json=slug(2.0, 30.0, places=12)).json()
        self.assertEqual(len(again["now"]["slugs"]), 1)
        struck = f"/api{path}/slugs/{now['slugs'][0]['id']}/struck"
        self.assertIsNone(self.client.put(struck, json={"out": True}).json()["now"]["alignment"])
        self.assertIsNotNone(self.client.put(struck, json={"out": False}).json()["now"]["alignment"])
        self.client.post(f"/api{path}/fittings", json={"kind": "mount"})
        after = self.get(f"{path}/torch")
        self.assertIsNone(after["now"]["alignment"])
        self.assertAlmostEqual(after["earlier"][0]["alignment"]["lean_deg"], 2.0, delta=0.1)

    def test_an_older_fitting_is_not_undone_under_a_newer_one(self) -> None:
        path = f"/api/tables/{SOUTH}/fittings"
        older, newer = (self.client.post(path, json={"kind": "mount"}).json()["id"] for _ in range(2))
        refused = self.client.delete(f"/api/fittings/{older}")
        self.assertEqual(refused.status_code, 409)
        self.assertIn("undo that first", refused.json()["detail"])
        with self.shop.client as client:
            self.assertEqual(client.delete(f"/api/fittings/{newer}").status_code, 204)

    def test_squares_of_the_trial_count_and_struck_ones_do_not(self) -> None:
        bench = self.get(f"/trials/{HALF_WAY}/bench")
        before = self.get(f"/tables/{NORTH}/torch")["now"]
        self.assertEqual((before["squares"], before["readings"]), (3, 15))
        self.assertAlmostEqual(
            before["alignment"]["lean_deg"],
            bench["parts"]["lean_deg"],
            delta=3 * before["alignment"]["sd_deg"],
        )
        cut = bench["cuts"][0]
        strike = f"/api/trials/{HALF_WAY}/cuts/{cut['id']}/struck"
        for out, squares in ((True, 2), (False, 3)):
            version = next(c["version"] for c in self.get(f"/trials/{HALF_WAY}/bench")["cuts"])
            self.assertLess(
                self.client.put(strike, json={"version": version, "out": out}).status_code, 300
            )
            self.assertEqual(self.get(f"/tables/{NORTH}/torch")["now"]["squares"], squares)

    def test_what_cannot_be_read_is_refused_and_nothing_is_noted(self) -> None:
        good = slug(1.0, 0.0)
        path = f"/api/tables/{NORTH}/slugs"
        for change, field in (
            ({"places": good["places"][:2]}, "places"),
            ({"thickness_mm": 0.0}, "thickness_mm"),
            (
                {"places": [{"faces_deg": 0.0, "bevel_deg": 70.0}, *good["places"][1:]]},
                "places[0].bevel_deg",
            ),
            (
                {"places": [{"faces_deg": 400.0, "bevel_deg": 1.0}, *good["places"][1:]]},
                "places[0].faces_deg",
            ),
        ):
            with self.subTest(field):
                self.refused(self.client.post(path, json={**good, **change}), 422, field)
        self.refused(self.client.post("/api/tables/99/slugs", json=good), 404)
        self.refused(self.client.put(f"{path}/77/struck", json={"out": True}), 404)
        twice = [{"name": "tilt", "about_deg": a} for a in (0.0, 90.0)]
        self.refused(
            self.client.put(
                f"/api/tables/{NORTH}/mount", json={"mount": {"axes": twice}, "target_deg": 0.5}
            ),
            409,
            "mount.axes",
        )
        self.assertEqual(self.get(f"/tables/{NORTH}/torch")["now"]["slugs"], [])


class Knocked(Api):
    def test_a_check_slug_that_stands_otherwise_begins_a_seat_if_it_was_knocked(self) -> None:
        path = f"/tables/{NORTH}"
        cut = self.client.post(f"/api/trials/{HALF_WAY}/cuts", json={**CUT, "key": "before it"})
        self.assertEqual(cut.status_code, 201, cut.text)
        before = self.get(f"{path}/torch")["now"]
        read = self.client.post(f"/api{path}/slugs", json=slug(3.0, 85.0)).json()["now"]
        self.assertAlmostEqual(read["alignment"]["lean_deg"], 3.0, delta=0.1)
        self.assertEqual((read["squares"], read["read_slugs"]), (0, 1))
        self.assertIn("Was it knocked?", read["moved"]["says"])
        self.assertAlmostEqual(read["moved"]["lean_deg"], before["alignment"]["lean_deg"], delta=0.02)
        health = self.get(f"{path}/health")
        upright = next(line for line in health["lines"] if line["aspect"] == "alignment")
        self.assertIn("3.0°", upright["figure"])
        begun = self.client.post(f"/api{path}/slugs/{read['moved']['slug_id']}/seat")
        self.assertEqual(begun.status_code, 201, begun.text)
        page = begun.json()
        self.assertIsNone(page["now"]["moved"])
        self.assertEqual(
            (len(page["now"]["slugs"]), page["earlier"][0]["squares"]), (1, before["squares"])
        )
        undone = self.client.delete(f"/api{path}/seat").json()["now"]
        self.assertIsNotNone(undone["moved"])
        self.assertEqual(undone["id"], before["id"])
        # A torch that was really seated anew since is not taken out of its seat by a late undo.
        self.client.post(f"/api{path}/fittings", json={"kind": "mount"})
        self.assertEqual(self.client.delete(f"/api{path}/seat").status_code, 409)


if __name__ == "__main__":
    unittest.main()
