"""What two people do at once, or in an order nobody thought of, loses nothing and stays readable."""

import unittest
from typing import Any

from tests.shop import CUT, HALF_WAY, ShopOf

ROW = {
    "metal": "mild_steel",
    "thickness_mm": 16,
    "torch_set_id": 1,
    "speed_mm_min": 900,
    "arc_voltage_v": 141,
    "cut_height_mm": 1.8,
    "pierce_height_mm": 4.5,
    "pierce_delay_s": 1.4,
    "kerf_mm": 2.2,
    "source": "own guess",
}
PAGE = "/api/book/page?metal=mild_steel&torch_set_id=1&gas=air"


class OfTheShop(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)
        self.client = self.shop.client

    def said(self, status: int, answer: Any) -> str:
        self.assertEqual(answer.status_code, status, answer.text)
        return str(answer.json()["detail"])


class TwoRowsOfOnePlace(OfTheShop):
    def test_a_second_row_is_a_question_and_its_answer_supersedes(self) -> None:
        asked = self.client.post("/api/book/rows", json=ROW)
        self.assertIn("820 mm/min", self.said(409, asked))
        self.assertEqual(asked.json()["errors"][0]["field"], "takes_its_place")
        answer = self.client.post("/api/book/rows", json={**ROW, "takes_its_place": True})
        self.assertEqual(answer.status_code, 201)
        start = self.client.get("/api/start?metal=mild_steel&thickness_mm=17&torch_set_id=1").json()
        self.assertEqual(start["how"], "extended")
        history = self.client.get(f"/api/book/rows/{answer.json()['id']}/history").json()
        self.assertEqual([r["speed_mm_min"] for r in history], [820])

    def test_two_that_stand_there_from_before_are_read_asked_about_and_can_be_struck_out(self) -> None:
        with self.shop.database.write() as session:
            session.connection().exec_driver_sql(
                "INSERT INTO book_row (metal, thickness_mm, torch_set_id, amperage_a, gas, speed_mm_min, "
                "arc_voltage_v, cut_height_mm, pierce_height_mm, pierce_delay_s, kerf_mm, source, example, "
                "gas_pressure_kpa, gas_flow_l_min) SELECT metal, thickness_mm, torch_set_id, amperage_a, gas, "
                "900, arc_voltage_v, cut_height_mm, pierce_height_mm, pierce_delay_s, kerf_mm, 'again', 0, "
                "gas_pressure_kpa, gas_flow_l_min FROM book_row WHERE thickness_mm = 16 AND torch_set_id = 1"
            )
        page = self.client.get(PAGE).json()
        (asked,) = [b for b in page["breaks"] if b["quantity"] == "thickness_mm"]
        self.assertIn("which one stands?", asked["sentence"])
        for thickness in (16, 14, 17):
            start = self.client.get(
                f"/api/start?metal=mild_steel&thickness_mm={thickness}&torch_set_id=1"
            ).json()
            self.assertIn("which one stands?", " ".join(start["warnings"]), thickness)
        self.assertEqual(self.client.put(f"/api/book/rows/{asked['row_id']}/struck").status_code, 200)
        self.assertEqual([b["quantity"] for b in self.client.get(PAGE).json()["breaks"]], [])
        self.said(409, self.client.put(f"/api/book/rows/{asked['row_id']}/struck?out=false"))


class NumbersOnce(OfTheShop):
    def test_a_piece_struck_out_keeps_its_number_and_can_be_put_back_and_read(self) -> None:
        trial = f"/api/trials/{HALF_WAY}"
        noted = self.client.post(f"{trial}/piece/cut", json={"kind": "square", "count": 2}).json()[
            "waiting"
        ]
        last = noted[-1]
        self.client.put(f"/api/planned-cuts/{last}/struck")
        other = self.client.post(f"{trial}/cuts", json={**CUT, "key": "another"})
        self.assertEqual(other.status_code, 201)
        self.client.put(f"/api/planned-cuts/{last}/struck?out=false")
        waiting = self.client.get(f"{trial}/bench").json()["waiting"]
        for piece in waiting:
            logged = self.client.post(f"{trial}/cuts", json={**CUT, "key": piece["key"]})
            self.assertEqual(logged.status_code, 201, logged.text)
            self.assertEqual(logged.json()["number"], piece["number"])
        numbers = [c["number"] for c in self.client.get(f"{trial}/bench").json()["cuts"]]
        self.assertEqual(len(set(numbers)), len(numbers))


class TwoScreens(OfTheShop):
    """What the second screen did not see is not overwritten: it is told so in words, and by whom."""

    def as_(self, name: str) -> dict[str, str]:
        return {"orthotome-person": name}

    def test_a_tables_page_refuses_what_was_changed_since_it_was_read_and_nothing_else(self) -> None:
        path = "/api/tables/1/settings"
        version = self.client.get(path).json()["version"]
        profile = {**self.client.get("/api/profiles").json()[0], "name": "of Ash"}
        first = {"settings": {"profile": profile}, "version": version}
        self.assertEqual(self.client.patch(path, json=first, headers=self.as_("Ash")).status_code, 200)
        mine = {"settings": {"profile": {**profile, "name": "of Wren"}}, "version": version}
        self.assertIn("by Ash", self.said(409, self.client.patch(path, json=mine)))
        other = {"settings": {"hour_cost": 50.0}, "version": version}
        changed = self.client.patch(path, json=other)
        self.assertEqual(changed.status_code, 200)
        self.assertEqual(changed.json()["settings"]["profile"]["name"], "of Ash")
        again = {**mine, "version": changed.json()["version"]}
        self.assertEqual(self.client.patch(path, json=again).status_code, 200)

    def test_a_note_of_a_set_and_new_parts_are_not_noted_over_anothers(self) -> None:
        asked = "/api/choose?metal=mild_steel&thickness_mm=6&table_id=1"
        option = next(o for o in self.client.get(asked).json()["options"] if o["torch_set_id"] == 1)
        path = "/api/torch-sets/1/note"
        ash = {**option["written"], "source": "of Ash"}
        self.assertEqual(self.client.put(path, json=ash, headers=self.as_("Ash")).status_code, 200)
        wren = {**option["written"], "source": "of Wren"}
        self.assertIn("by Ash", self.said(409, self.client.put(path, json=wren)))
        seen = self.client.get("/api/tables").json()[0]
        parts = {"kind": "parts", "instead_of": seen["parts"]["id"]}
        path = f"/api/tables/{seen['id']}/fittings"
        self.assertEqual(self.client.post(path, json=parts, headers=self.as_("Ash")).status_code, 201)
        self.assertIn("by Ash", self.said(409, self.client.post(path, json=parts)))

    def test_half_typed_logs_of_two_screens_are_both_kept(self) -> None:
        trial = f"/api/trials/{HALF_WAY}"
        ash = {"body": '{"key": "a"}', "key": "a", "version": 0}
        kept = self.client.put(f"{trial}/draft", json=ash, headers=self.as_("Ash"))
        self.assertEqual(kept.json()["version"], 1)
        wren = {"body": '{"key": "w"}', "key": "w", "version": 0}
        self.assertIn("of Ash", self.said(409, self.client.put(f"{trial}/draft", json=wren)))
        # Wren's own, saved as a cut, does not take the half-typed log of Ash away.
        self.assertEqual(self.client.post(f"{trial}/cuts", json={**CUT, "key": "w"}).status_code, 201)
        self.assertEqual(self.client.get(f"{trial}/draft").json()["body"], ash["body"])
        self.client.post(f"{trial}/cuts", json={**CUT, "key": "a"})
        # What was sent before the cut may arrive after it: it is no half-typed log any more.
        late = self.client.put(f"{trial}/draft", json={**ash, "version": 1})
        self.assertIn("saved already: it is cut 5", self.said(409, late))
        self.assertIsNone(self.client.get(f"{trial}/draft").json()["body"])


if __name__ == "__main__":
    unittest.main()
