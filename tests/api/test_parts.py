"""Parts over the wire: looking, counting, the trim that wear asks for, the shelf, and watching a recipe."""

import io
import json
import unittest
from pathlib import Path
from typing import Any

from PIL import Image

from orthotome.formats.torch.wear import wear_text
from tests.api.test_api import Api
from tests.shop import CUT, HALF_WAY

NORTH, SOUTH = 1, 2
RECIPE = 1
PIECE = Path(__file__).parents[2] / "docs/formats/piece.example.json"


class Parts(Api):
    """One shop for all of them: each looks at what it changed."""

    def post(self, path: str, body: Any = None, status: int = 201) -> Any:
        answer = self.client.post(f"/api{path}", json=body)
        self.assertEqual(answer.status_code, status, answer.text)
        return answer.json()

    def electrode(self, table: int = NORTH) -> dict[str, Any]:
        return self.get(f"/tables/{table}/parts")["fitted"][0]

    def test_a_look_is_kept_with_its_counts_its_pit_and_its_photo_and_moves_the_forecast(self) -> None:
        self.post(f"/tables/{SOUTH}/fittings", {"kind": "parts", "part": "electrode", "off": "good"})
        self.post(f"/tables/{SOUTH}/counts", {"starts": 500, "arc_on_s": 7000})
        part = self.electrode(SOUTH)
        self.assertEqual((part["counts"]["starts"], part["verdict"]), (500, "not_known"))
        ball = {"rim_mm": 40.0, "over_ball_mm": 40.9, "ball_mm": 1.5}
        body = {"key": "look", "looks": {"pit": "even"}, "ball": ball, "note": "a little blue"}
        looked = self.post(f"/parts/{part['id']}/looked", body, 200)
        self.assertEqual((looked["pit_mm"], looked["verdict"]), (0.6, "keep"))
        self.assertEqual(self.electrode(SOUTH)["inspections"], [])
        noted = self.post(f"/parts/{part['id']}/inspections", body)
        self.assertEqual(self.post(f"/parts/{part['id']}/inspections", body)["id"], noted["id"])
        self.assertEqual((noted["starts"], noted["pit_mm"]), (500, 0.6))
        self.assertIn("40.9 mm over the ball", noted["told"])
        forecast = self.get(f"/tables/{SOUTH}/parts")["forecast"]
        self.assertAlmostEqual(forecast["pit_mm"], 0.6, delta=0.05)
        left = forecast["left"]
        self.assertTrue(100 < left["low"] < left["expected"] < left["high"] < 3000, left)
        wrong = {"key": "slip", "pit_mm": 0.2}  # a pit does not fill, and what was read stays readable
        for what, status in (("looked", 422), ("inspections", 422)):
            self.assertIn(
                "does not fill", self.post(f"/parts/{part['id']}/{what}", wrong, status)["detail"]
            )
        kept = {"kept": "good", "limit_mm": 0.2}  # the pit is three times as deep: the page still opens
        self.assertEqual(self.client.put(f"/api/parts/{part['id']}/kept", json=kept).status_code, 200)
        self.assertEqual(self.electrode(SOUTH)["verdict"], "replace")
        self.client.put(f"/api/parts/{part['id']}/kept", json={**kept, "limit_mm": 1.5})
        picture = io.BytesIO()
        Image.new("RGB", (60, 40), "grey").save(picture, "png")
        path = f"/api/inspections/{noted['id']}/photo"
        headers = {"content-type": "image/png"}
        sent = self.client.put(path, content=picture.getvalue(), headers=headers)
        self.assertTrue(sent.json()["has_photo"], sent.text)
        self.assertEqual(self.client.get(path).headers["content-type"], "image/jpeg")
        self.client.put(f"/api/inspections/{noted['id']}/struck")
        self.assertEqual(self.electrode(SOUTH)["inspections"], [])

    def test_what_cannot_be_is_refused_and_nothing_is_half_saved(self) -> None:
        before = self.get(f"/tables/{NORTH}/parts")
        electrode, ring = before["fitted"][0]["id"], before["fitted"][1]["id"]
        for path, body, field in (
            (f"/parts/{electrode}/inspections", {"key": "x", "pit_mm": 4.7}, "pit_mm"),
            (f"/parts/{electrode}/inspections", {"key": "x", "looks": {"pit": "blue"}}, "looks.pit"),
            (f"/parts/{ring}/inspections", {"key": "x", "pit_mm": 0.3}, "pit_mm"),
            ("/trials/1/trim", {"by_v": 1.0}, "by_v"),  # its table has no height control
            (f"/recipes/{RECIPE}/spot-checks", {"key": "x"}, "bevel_deg"),
        ):
            refused = self.client.post(f"/api{path}", json=body)
            self.assertEqual((refused.status_code, refused.json()["errors"][0]["field"]), (422, field))
        fit = {"kind": "parts", "part": "electrode", "part_id": electrode}
        elsewhere = self.client.post(f"/api/tables/{SOUTH}/fittings", json=fit)
        self.assertEqual(elsewhere.status_code, 409)
        self.assertIn("one part is in one torch", elsewhere.json()["detail"])
        self.assertEqual(self.get(f"/tables/{NORTH}/parts")["fitted"], before["fitted"])

    def test_a_piece_file_counts_what_it_pierces_and_a_counter_corrects(self) -> None:
        was = self.electrode()["counts"]
        file = json.loads(PIECE.read_text())
        counted = self.post(f"/tables/{NORTH}/counts/piece?times=3", file)["fitted"][0]["counts"]
        self.assertEqual(counted["starts"] - was["starts"], 3 * file["pierces"])
        cut = sum(
            60 * c["length_mm"] / c["speed_mm_min"] + c["pierce_delay_s"] for c in file["contours"]
        )
        self.assertAlmostEqual(counted["arc_on_s"] - was["arc_on_s"], 3 * cut, delta=0.2)
        self.post(f"/tables/{NORTH}/counter", {"starts": 7000})
        self.post(f"/tables/{NORTH}/counts", {"starts": 10})
        self.assertEqual(self.post(f"/tables/{NORTH}/counter", {"starts": 7025})["missed_starts"], 15)
        told = self.get(f"/tables/{NORTH}/parts")
        self.assertEqual(told["fitted"][0]["counts"]["starts"], counted["starts"] + 25)
        self.assertEqual({c["source"]: c["starts"] for c in told["counted_from"]}["source"], 15)
        self.post(f"/tables/{NORTH}/counter", {"starts": 6000}, 422)
        self.post(f"/tables/{NORTH}/counter", {"starts": 12, "set_back": True})
        bad = {**file, "pierces": 0}
        self.post(f"/tables/{NORTH}/counts/piece", bad, 422)

    def test_wear_asks_for_a_trim_and_a_cut_keeps_the_counts_it_was_made_at(self) -> None:
        path = f"/trials/{HALF_WAY}"
        self.client.put(f"/api{path}/control", json={"school": "measured"})
        told = self.get(f"{path}/trim")
        self.assertEqual(told["by_v"], 0.0)
        self.post(f"/tables/{NORTH}/counts", {"starts": 600, "arc_on_s": 8000})
        height = self.get(f"{path}/height")
        seen = {
            **CUT,
            "key": "worn",
            "piece": "strip",
            "speed_mm_min": 2000,
            "cut_height_mm": height["cut_height_mm"],
            "height_control": "off",
            "arc_voltage_v": round(told["told_v"] + 5.0, 1),
        }
        self.post(f"{path}/cuts", seen)
        due = self.get(f"{path}/trim")
        self.assertTrue(2.5 <= due["by_v"] <= 6.0, due)
        self.assertIn("closer than was proven", due["says"])
        said = wear_text(self.client.get(f"/api{path}/parts-ledger.json").content)
        self.assertEqual(said.verdict, "not_known")  # its pit was read 650 starts ago, and never since
        # The file carries what its answer needs: the command says what the room says.
        self.assertAlmostEqual(said.set_point_now_v, due["now_v"], delta=0.11)
        self.assertAlmostEqual(said.volts_per_1000_starts.value, due["v_per_1000"], delta=0.11)
        suspects = self.get(f"/tables/{NORTH}/parts")["suspects"]
        self.assertEqual((suspects[0]["suspect"], suspects[0]["points"]), ("trim", True))
        raised = self.post(f"{path}/trim", {"by_v": due["by_v"]})
        self.assertAlmostEqual(raised["told_v"], told["told_v"] + due["by_v"], delta=0.06)
        self.assertEqual(raised["by_v"], 0.0)
        past = self.client.post(f"/api{path}/trim", json={"by_v": -50.0})
        self.client.post(f"/api{path}/trim", json={"by_v": -50.0})
        far = self.client.post(f"/api{path}/trim", json={"by_v": -50.0})
        self.assertEqual((past.status_code, far.status_code), (201, 422))
        self.assertIn("past what a source’s arc has", far.json()["detail"])

    def test_a_collision_begins_a_new_seat_and_is_said_until_the_lean_is_read(self) -> None:
        seat = self.get(f"/tables/{SOUTH}/torch")["now"]["id"]
        after = self.post(f"/tables/{SOUTH}/collisions")
        self.assertIsNotNone(after["collided_at"])
        self.assertEqual(after["fitted"][0]["counts"]["collisions"], 1)
        self.assertTrue(after["suspects"][1]["points"])
        self.assertNotEqual(self.get(f"/tables/{SOUTH}/torch")["now"]["id"], seat)
        places = [{"faces_deg": d, "bevel_deg": 1.0} for d in (0.0, 90.0, 180.0, 270.0)]
        slug = {"key": "after", "thickness_mm": 8.0, "places": places}
        self.post(f"/tables/{SOUTH}/slugs", slug)
        self.assertIsNone(self.get(f"/tables/{SOUTH}/parts")["collided_at"])

    def test_half_worn_parts_are_offered_for_rough_work_only(self) -> None:
        fine, rough = (
            self.get(f"/torch-sets/1/for-rough-work?bevel_deg={deg}&dross_grade=1")["says"]
            for deg in (2, 4)
        )
        self.assertEqual(fine, "")
        self.assertIn("In the tray: electrode", rough)

    def test_the_shelf_goes_out_and_comes_in_whole_or_not_at_all(self) -> None:
        line = {"torch_set_id": 1, "part": "nozzle", "on_shelf": 2, "least": 4, "cost": 4.5}
        put = self.client.put("/api/stock", json=line).json()["lines"]
        self.assertTrue(
            next(s for s in put if s["part"] == "nozzle" and s["torch_set_id"] == 1)["short"]
        )
        text = self.client.get("/api/stock.csv").text
        self.assertIn("70 A plate set,nozzle,2,4,4.5", text)
        headers = {"content-type": "text/csv"}
        more = text.replace("70 A plate set,nozzle,2,4,4.5", "70 A plate set,nozzle,7,4,4.5")
        self.assertEqual(
            self.client.post("/api/stock/csv", content=more, headers=headers).status_code, 200
        )
        again = self.client.get("/api/stock.csv").text
        self.assertIn("70 A plate set,nozzle,7,4,4.5", again)
        bad = again.replace("nozzle,7", "nozzle,9").replace("electrode,4", "electrode,many")
        refused = self.client.post("/api/stock/csv", content=bad, headers=headers)
        self.assertEqual(refused.status_code, 422)
        self.assertIn("on shelf: “many” is not a whole number", refused.json()["detail"])
        self.assertEqual(self.client.get("/api/stock.csv").text, again)
        self.post(f"/tables/{NORTH}/fittings", {"kind": "parts", "part": "nozzle"})
        self.assertIn("70 A plate set,nozzle,6,4,4.5", self.client.get("/api/stock.csv").text)

    def test_a_list_that_is_written_oddly_is_read_or_refused_in_one_sentence(self) -> None:
        heads = "torch set,part,on shelf,least,cost"
        for text, status in (
            (f"{heads}\r70 A plate set,nozzle,5,1,\r", 200),  # as some spreadsheets end their lines
            (f"{heads}\n{'x' * 140_000},nozzle,5,1,\n", 422),
            (f"{heads}\n70 A plate set,nozzle,{'9' * 5000},1,\n", 422),
            (f'{heads}\n"a\nb{"c" * 3000}",nozzle,5,1,\n', 422),
        ):
            answer = self.client.post(
                "/api/stock/csv", content=text, headers={"content-type": "text/csv"}
            )
            self.assertEqual(answer.status_code, status, answer.text)
            if status == 422:
                self.assertNotIn("\n", answer.json()["detail"])
                self.assertLess(len(answer.json()["detail"]), 700)

    def test_checks_of_a_recipe_come_to_re_tune_only_height(self) -> None:
        path = f"/recipes/{RECIPE}"
        self.assertEqual(self.get(f"{path}/watch")["state"], "not_checked")
        states = []
        for i, bevel in enumerate((-0.9, -0.7, 3.6, 3.9, 3.7)):
            self.post(f"/tables/{SOUTH}/counts", {"starts": 100})
            check = {"key": f"check {i}", "bevel_deg": bevel, "kerf_mm": 1.5}
            states.append(self.post(f"{path}/spot-checks", check)["state"])
        self.assertEqual((states[1], states[-1]), ("still_holds", "moved"))
        watched = self.get(f"{path}/watch?bad_part_cost=20&check_cost=4")
        self.assertIn("Re-tune only height", watched["says"])
        self.assertGreater(watched["every_parts"], 1)
        first, second = (c["since_proof"] for c in watched["checks"][:2])
        self.assertEqual(second - first, 100)
        for check in watched["checks"][2:]:
            body = {"check_id": check["id"], "out": True}
            self.client.put(f"/api{path}/spot-checks/struck", json=body)
        self.assertEqual(self.get(f"{path}/watch")["state"], "still_holds")


if __name__ == "__main__":
    unittest.main()
