"""Programs over the wire: checked before anything is kept, put right in a copy, counted, checked again when something moves."""

import json
import random
import threading
import time
import unittest
from typing import Any

from orthotome.formats.programs.report import ProgramReport
from tests.api.test_api import Api
from tests.programs import making

NORTH = 1


class Programs(Api):
    """One shop for all of them."""

    def sent(self, text: bytes, name: str = "job.nc") -> Any:
        return self.client.post(f"/api/tables/{NORTH}/programs?name={name}", content=text)

    def made(self, *codes: str) -> dict[str, Any]:
        dialect = making.Dialect()
        job = making.faulty(random.Random(9), codes, dialect)
        answer = self.sent(making.written(job, dialect).encode())
        self.assertEqual(answer.status_code, 201, answer.text)
        found: dict[str, Any] = self.get(f"/programs/{answer.json()['id']}")
        return found

    def test_what_is_no_program_leaves_nothing_behind(self) -> None:
        before = len(self.get(f"/tables/{NORTH}/programs"))
        for content, word in ((b"\x00\x01\x02" * 50, "binary"), (b"", "empty"), (b"<svg/>", "drawing")):
            answer = self.sent(content)
            self.assertEqual(answer.status_code, 422, answer.text)
            self.assertIn(word, answer.json()["detail"])
        self.assertEqual(len(self.get(f"/tables/{NORTH}/programs")), before)

    def test_a_copy_is_put_right_and_the_original_is_kept_as_it_came(self) -> None:
        program = self.made("outside_before_inside", "torch_never_off")
        codes = {f["code"] for f in program["found"]["findings"]}
        self.assertLessEqual({"outside_before_inside", "torch_never_off", "feed_differs"}, codes)
        text = self.client.get(f"/api/programs/{program['id']}/text").content
        copy = self.client.post(f"/api/programs/{program['id']}/copies")
        self.assertEqual(copy.status_code, 201, copy.text)
        right = self.get(f"/programs/{copy.json()['id']}")
        self.assertEqual(right["copy_of"], program["id"])
        self.assertTrue(right["written"])
        still = {f["code"] for f in right["found"]["findings"]}
        self.assertFalse(still & {"outside_before_inside", "torch_never_off", "feed_differs"})
        self.assertEqual(self.client.get(f"/api/programs/{program['id']}/text").content, text)
        written = self.client.get(f"/api/programs/{right['id']}/text").content
        self.assertIn(b"(Orthotome:", written)

    def test_it_says_what_moved_since_it_was_checked(self) -> None:
        program = self.made()
        self.assertEqual(program["moved"], [])
        page = self.client.patch(
            f"/api/tables/{NORTH}/settings", json={"settings": {"acceleration_mm_s2": 900}}
        )
        self.assertEqual(page.status_code, 200, page.text)
        now = self.get(f"/programs/{program['id']}")
        self.assertEqual(now["moved"], ["The machine’s page changed since it was checked."])
        body = {"version": now["version"], "trial_id": now["trial_id"], "recipe_id": now["recipe_id"]}
        again = self.client.put(f"/api/programs/{program['id']}/against", json=body)
        self.assertEqual(again.status_code, 200, again.text)
        self.assertEqual(again.json()["moved"], [])
        stale = self.client.put(f"/api/programs/{program['id']}/against", json=body)
        self.assertEqual(stale.status_code, 409)
        half = {**body, "version": again.json()["version"], "sheet_x_mm": 500}
        refused = self.client.put(f"/api/programs/{program['id']}/against", json=half)
        self.assertEqual((refused.status_code, "two sizes" in refused.text), (422, True))

    def test_a_drawing_laid_over_tells_where_the_kerf_went(self) -> None:
        dialect = making.Dialect()
        job = making.faulty(random.Random(4), ("no_kerf_compensation",), dialect)
        program = self.sent(making.written(job, dialect).encode()).json()
        before = self.get(f"/programs/{program['id']}")
        self.assertTrue(any("kerf" in t for t in before["found"]["report"]["cannot_tell"]))
        path = f"/api/programs/{program['id']}/drawing?name=part.svg&version={before['version']}"
        laid = self.client.post(path, content=making.svg(job), headers={"content-type": "image/svg+xml"})
        self.assertEqual(laid.status_code, 200, laid.text)
        codes = {f["code"] for f in laid.json()["found"]["findings"]}
        self.assertIn("no_kerf_compensation", codes)

    def test_a_run_is_counted_on_the_parts_and_the_report_is_the_open_one(self) -> None:
        program = self.made()
        electrode = self.get(f"/tables/{NORTH}/parts")["fitted"][0]["counts"]["starts"]
        ran = self.client.post(f"/api/programs/{program['id']}/runs", json={"times": 2})
        self.assertEqual(ran.status_code, 200, ran.text)
        now = self.get(f"/tables/{NORTH}/parts")["fitted"][0]["counts"]["starts"]
        self.assertEqual(now - electrode, 2 * program["found"]["report"]["pierces"])
        text = self.client.get(f"/api/programs/{program['id']}/report").text
        report = ProgramReport.model_validate(json.loads(text))
        self.assertEqual(report.pierces, program["found"]["report"]["pierces"])

    def test_a_program_is_split_into_two_that_say_which_comes_first(self) -> None:
        page = f"/api/tables/{NORTH}/settings"
        slow = {"settings": {"acceleration_mm_s2": 380}}
        self.assertEqual(self.client.patch(page, json=slow).status_code, 200)
        sent = self.sent(making.grille().encode(), "grille.nc").json()
        sizes = [{"contour": 40, "x_mm": 418.2, "y_mm": 238.2}]
        version = self.get(f"/programs/{sent['id']}")["version"]
        typed = self.client.put(
            f"/api/programs/{sent['id']}/nominal", json={"version": version, "sizes": sizes}
        )
        self.assertEqual(typed.status_code, 200, typed.text)
        ways = self.get(f"/programs/{sent['id']}/ways")
        heavy = next(s for s in ways["sets"] if s["torch_set"] == "100 A heavy set")
        self.assertEqual(heavy["to_other"], [40])
        self.assertEqual([len(s["contours"]) for s in heavy["split"]["stages"]], [40, 1])
        self.assertIn("not proven yet", heavy["numbers_from"])
        self.assertIn("8 mm", " ".join(r["why"] for r in ways["refused"]))
        body = {"torch_set_id": heavy["torch_set_id"]}
        made = self.client.post(f"/api/programs/{sent['id']}/split", json=body)
        self.assertEqual(made.status_code, 201, made.text)
        first, second = (self.get(f"/programs/{line['id']}") for line in made.json())
        self.assertEqual((first["half"], second["half"]), (1, 2))
        self.assertEqual((first["other_half"], second["other_half"]), (second["id"], first["id"]))
        self.assertIn("with the 100 A heavy set", second["against"])
        self.assertIn("100 A heavy set", second["half_says"])
        # Read back and timed for itself, each takes what its stage was said to take, the kerf's millimetres apart.
        for half, stage in zip((first, second), heavy["split"]["stages"], strict=True):
            seconds = half["found"]["report"]["seconds"]
            self.assertAlmostEqual(seconds / stage["seconds"], 1.0, delta=0.04)
        refused = self.client.post(f"/api/programs/{sent['id']}/split", json={"torch_set_id": 2})
        self.assertEqual(refused.status_code, 422)

    def test_a_size_that_is_typed_tells_where_the_kerf_went(self) -> None:
        dialect = making.Dialect()
        job = making.faulty(random.Random(4), ("no_kerf_compensation",), dialect)
        program = self.sent(making.written(job, dialect).encode(), "typed.nc").json()
        before = self.get(f"/programs/{program['id']}")
        contour = next(i for i, c in enumerate(before["found"]["contours"]) if c["kind"] == "outside")
        x, y = before["found"]["contours"][contour]["size_mm"]
        path = f"/api/programs/{program['id']}/nominal"
        body = {
            "version": before["version"],
            "sizes": [{"contour": contour, "x_mm": x, "y_mm": y}],
        }
        typed = self.client.put(path, json=body)
        self.assertEqual(typed.status_code, 200, typed.text)
        found = [f for f in typed.json()["found"]["findings"] if f["code"] == "no_kerf_compensation"]
        self.assertEqual([f["contour"] for f in found], [contour])
        # A copy may cut in another order: it is made all the same, and takes no sizes along.
        asked = {"asked": [{"code": "no_kerf_compensation", "contour": contour}]}
        copy = self.client.post(f"/api/programs/{program['id']}/remade", json=asked)
        self.assertEqual(copy.status_code, 201, copy.text)
        self.assertEqual(self.get(f"/programs/{copy.json()['id']}")["nominal"], [])
        body |= {"version": typed.json()["version"]}
        body["sizes"][0]["x_mm"] = x / 25.4
        wrong = self.client.put(path, json=body)
        self.assertEqual((wrong.status_code, "no kerf from" in wrong.text), (422, True))

    def test_a_reading_that_was_stopped_keeps_nothing(self) -> None:
        before = len(self.get(f"/tables/{NORTH}/programs"))
        lines = ["G21 G90", "M3", *(f"G1 X{n % 700} Y{n % 300} F2000" for n in range(400_000)), "M5"]
        answers: list[Any] = []
        path = f"/api/tables/{NORTH}/programs?name=long.nc&watch=a-key-of-its-own"
        content = "\n".join(lines).encode()
        sending = threading.Thread(
            target=lambda: answers.append(self.client.post(path, content=content))
        )
        sending.start()
        while self.get("/program-readings/a-key-of-its-own")["share"] in (None, 0.0):
            if not sending.is_alive():
                break
            time.sleep(0.05)
        stopped = self.client.delete("/api/program-readings/a-key-of-its-own")
        self.assertEqual(stopped.status_code, 204)
        sending.join()
        self.assertEqual(answers[0].status_code, 422, answers[0].text)
        self.assertIn("was stopped", answers[0].json()["detail"])
        self.assertEqual(len(self.get(f"/tables/{NORTH}/programs")), before)


if __name__ == "__main__":
    unittest.main()
