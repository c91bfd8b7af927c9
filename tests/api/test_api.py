"""The API: the job end to end, refusals with the field's path, and who is let in."""

import asyncio
import json
import unittest
from typing import Any

from fastapi.testclient import TestClient
from starlette.types import Receive, Scope, Send
from starlette.websockets import WebSocketDisconnect

from orthotome.api.guard import Guard
from tests.shop import CUT, HALF_WAY, JUST_OPENED, LOCKED, ShopOf


class Api(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.shop = ShopOf()
        cls.client = cls.shop.client

    @classmethod
    def tearDownClass(cls) -> None:
        cls.shop.close()

    def refused(self, answer: Any, status: int, field: str = "", words: str = "") -> None:
        self.assertEqual(answer.status_code, status, answer.text)
        self.assertEqual(answer.headers["content-type"], "application/problem+json")
        problem = answer.json()
        self.assertIn(words, problem["detail"])
        if field:
            self.assertIn(field, [e["field"] for e in problem["errors"]])

    def get(self, path: str) -> Any:
        answer = self.client.get(f"/api{path}")
        self.assertEqual(answer.status_code, 200, answer.text)
        return answer.json()


class TheJob(Api):
    def test_from_bare_plate_to_locked_recipe_on_the_simulated_table(self) -> None:
        start = self.get("/start?metal=mild_steel&thickness_mm=8&torch_set_id=1")
        self.assertEqual((start["how"], len(start["sources"])), ("interpolated", 2))
        target = {"bevel_deg": 2.0, "sides": "good", "dross_grade": 1, "priority": "square_first"}
        job = {"table_id": 1, "torch_set_id": 1, "metal": "mild_steel", "thickness_mm": 8.0}
        asked = {**job, "start": start["values"], "limits": start["limits"], "target": target}
        opened = self.client.post("/api/trials", json=asked)
        self.assertEqual(opened.status_code, 201, opened.text)
        trial = opened.json()["id"]
        for n in range(12):
            bench = self.get(f"/trials/{trial}/bench")
            if bench["advice"]["status"] == "square":
                break
            cut = self.client.post(f"/api/trials/{trial}/simulated-cut").json()
            logged = self.client.post(f"/api/trials/{trial}/cuts", json={**cut, "key": f"k{n}"})
            self.assertEqual(logged.status_code, 201, logged.text)
        self.assertEqual(bench["advice"]["status"], "square")
        body = {"revision": bench["trial"]["revision"]}
        recipe = self.client.post(f"/api/trials/{trial}/lock", json=body)
        self.assertEqual(recipe.status_code, 201, recipe.text)
        evidence = recipe.json()["recipe"]["evidence"]
        self.assertEqual(len(evidence["cuts"]), len(bench["cuts"]))
        late = self.client.post(f"/api/trials/{trial}/cuts", json={**CUT, "key": "late"})
        self.refused(late, 409, words="locked")
        taken = self.client.post("/api/recipes", content=json.dumps(recipe.json()["recipe"]))
        self.assertEqual(taken.json()["revision"], recipe.json()["revision"] + 1)

    def test_a_trial_goes_to_a_campaign_file_and_back(self) -> None:
        file = self.client.get(f"/api/trials/{HALF_WAY}/campaign")
        opened = self.client.post("/api/campaigns?table_id=2", content=file.content)
        self.assertEqual(opened.status_code, 201, opened.text)
        again = self.client.get(f"/api/trials/{opened.json()['id']}/campaign")
        self.assertEqual(again.json(), file.json())

    def test_trials_are_found_by_every_word_sought(self) -> None:
        titles = [x["trial"]["title"] for x in self.get("/trials?sought=STEEL north")["lines"]]
        self.assertIn("Hopper sides", titles)
        self.assertNotIn("Gate brackets", titles)
        self.assertEqual(self.get("/trials?sought=steel_%25")["total"], 0)
        one = self.get("/trials?most=1")
        self.assertEqual((len(one["lines"]), one["total"] > 2), (1, True))

    def test_piece_program_and_drawing(self) -> None:
        for kind in ("square", "strip_ladder"):
            program = self.client.get(f"/api/trials/{HALF_WAY}/piece.nc?kind={kind}").text
            dry = self.client.get(f"/api/trials/{HALF_WAY}/piece.nc?kind={kind}&dry_run=true").text
            lines = program.splitlines()
            self.assertEqual(lines.count("M3"), lines.count("M5"))
            self.assertNotIn("M3", dry.splitlines())
            self.assertLess(lines.index("G21"), next(i for i, x in enumerate(lines) if x[:2] == "G0"))
            drawing = self.client.get(f"/api/trials/{HALF_WAY}/piece.svg?kind={kind}").text
            self.assertIn('mm" viewBox', drawing)


class Refusals(Api):
    def log(self, **changes: Any) -> Any:
        return self.client.post(f"/api/trials/{JUST_OPENED}/cuts", json={**CUT, **changes})

    def test_bad_fields_are_named_by_their_path_and_nothing_is_saved(self) -> None:
        edge = CUT["edges"][0]
        cases: list[tuple[str, dict[str, Any]]] = [
            ("speed_mm_min", {"speed_mm_min": 1}),
            ("speed_mm_min", {"speed_mm_min": "2100"}),
            ("edges[0].bevel_deg", {"edges": [{**edge, "bevel_deg": 95}]}),
            ("edges[0].side", {"edges": [{**edge, "side": "top"}]}),
            ("dross[0].grade", {"dross": [{"kind": "low_speed", "grade": 5}]}),
            ("arc_voltage_v", {"arc_voltage_v": 4000}),
            ("through", {"through": "yes"}),
            ("key", {"key": ""}),
        ]
        for field, change in cases:
            with self.subTest(field):
                self.refused(self.log(**change), 422, field)
        raw = json.dumps(CUT).replace("127.6", "NaN")
        headers = {"content-type": "application/json"}
        nan = self.client.post(f"/api/trials/{JUST_OPENED}/cuts", content=raw, headers=headers)
        self.refused(nan, 422, "arc_voltage_v", "must be a real number")
        broken = self.client.post(f"/api/trials/{JUST_OPENED}/cuts", content="{", headers=headers)
        self.refused(broken, 400)
        self.assertEqual(self.get(f"/trials/{JUST_OPENED}/bench")["cuts"], [])

    def test_what_is_not_there(self) -> None:
        self.refused(self.client.get("/api/trials/999/bench"), 404)
        self.refused(self.client.get("/api/nonsense"), 404)
        self.refused(self.client.get("/api/trials/x/bench"), 422, "trial_id")
        self.refused(self.client.get("/api/start?metal=zinc&thickness_mm=-1&torch_set_id=1"), 422)
        self.refused(self.client.get("/api/target?thickness_mm=8"), 422, "target")
        self.refused(self.client.get("/api/recipes/99/file"), 404)
        of_another = self.get(f"/trials/{HALF_WAY}/bench")["cuts"][0]["id"]
        sheet = f"/api/trials/{JUST_OPENED}/log-sheet?cut_id={of_another}"
        self.refused(self.client.get(sheet), 404)

    def test_campaign_files_that_cannot_be_used(self) -> None:
        count = self.get("/trials")["total"]
        file = self.client.get(f"/api/trials/{HALF_WAY}/campaign").json()
        missing = {k: v for k, v in file.items() if k != "thickness_mm"}
        twice = {**file, "cuts": file["cuts"][:1] * 2}
        many = {**file, "cuts": [{**file["cuts"][0], "id": str(i)} for i in range(10_000)]}
        other = {**file, "torch_set": {**file["torch_set"], "amperage_a": 100}}

        def send(body: Any) -> Any:
            return self.client.post("/api/campaigns?table_id=1", content=json.dumps(body))

        self.refused(send(missing), 422, "thickness_mm", "is missing")
        self.refused(send(twice), 422, words="two cuts have the id")
        self.refused(send({**file, "metal": "magnesium"}), 422, "metal", "burns in the cut")
        self.assertIn(send(many).status_code, (413, 422))
        self.refused(send(other), 409, "torch_set.name")
        huge = self.client.post("/api/campaigns?table_id=1", content=b" " * 50_000_000)
        self.refused(huge, 413)
        chunked = self.client.post(
            "/api/campaigns?table_id=1", content=(b" " * 1_000_000 for _ in range(50))
        )
        self.refused(chunked, 413)
        self.refused(self.client.post("/api/campaigns?table_id=77", json=file), 404, "table_id")
        self.assertEqual(self.get("/trials")["total"], count)

    def test_what_is_no_work_for_the_table_is_refused_in_every_room_that_takes_a_metal(self) -> None:
        job = {"table_id": 1, "torch_set_id": 1, "thickness_mm": 8, "metal": "Birch plywood"}
        numbers = {"speed_mm_min": 2100, "cut_height_mm": 1.5, "arc_voltage_v": None, "kerf_mm": 1.8}
        pierce = {"pierce_height_mm": 3.8, "pierce_delay_s": 0.5}
        target = self.get(f"/trials/{HALF_WAY}/bench")["trial"]["target"]
        opened = {**job, "start": {**numbers, **pierce}, "target": target}
        self.refused(self.client.post("/api/trials", json=opened), 422, "metal", "is no metal")
        row = {**job, **numbers, **pierce, "gas": "air", "source": "typed", "amperage_a": 70}
        row.pop("table_id")
        self.refused(self.client.post("/api/book/rows", json=row), 422, "metal", "is no metal")
        asked = "/start?metal=Titanium&thickness_mm=8&torch_set_id=1"
        self.assertIn("water on burning titanium", " ".join(self.get(asked)["warnings"]))

    def test_an_older_version_overwrites_nothing(self) -> None:
        cut = self.get(f"/trials/{HALF_WAY}/bench")["cuts"][0]
        path = f"/api/trials/{HALF_WAY}/cuts/{cut['id']}"
        said = {"version": cut["version"], "lag_deg": 6.5}
        mine = self.client.patch(path, json=said, headers={"orthotome-person": "J%C3%B6rg"})
        self.assertEqual((mine.status_code, mine.json()["lag_deg"]), (200, 6.5), mine.text)
        theirs = self.client.patch(path, json={"version": cut["version"], "note": "theirs"})
        self.refused(theirs, 409, "version", "by Jörg")
        self.assertEqual(self.get(f"/trials/{HALF_WAY}/bench")["cuts"][0]["note"], "")

    def test_limits_that_leave_the_start_outside(self) -> None:
        trial = self.get(f"/trials/{HALF_WAY}/bench")["trial"]
        limits = {"speed_mm_min": [3000, 3400], "cut_height_mm": [0.8, 3.0]}
        body = {"revision": trial["revision"], "target": trial["target"], "limits": limits}
        answer = self.client.put(f"/api/trials/{HALF_WAY}/target", json=body)
        self.refused(answer, 422, "limits.speed_mm_min", "lies outside")

    def test_an_unproven_trial_is_not_locked(self) -> None:
        revision = self.get(f"/trials/{JUST_OPENED}/revision")["revision"]
        answer = self.client.post(f"/api/trials/{JUST_OPENED}/lock", json={"revision": revision})
        self.refused(answer, 409, words="not proven")
        old = self.client.post(f"/api/trials/{LOCKED}/lock", json={"revision": 1})
        self.refused(old, 409)


class Guarded(Api):
    def test_foreign_host_and_origin_are_refused(self) -> None:
        for headers in ({"host": "shop.example"}, {"origin": "http://shop.example"}, {"origin": "null"}):
            self.refused(self.client.get("/api/shop", headers=headers), 403)
        own = {"host": "localhost:8437", "origin": "http://localhost:8437"}
        self.assertEqual(self.client.get("/api/shop", headers=own).status_code, 200)

    def test_a_web_socket_is_let_in_by_the_same_rule(self) -> None:
        async def greets(scope: Scope, receive: Receive, send: Send) -> None:
            await receive()
            await send({"type": "websocket.accept"})
            await send({"type": "websocket.close"})

        client = TestClient(Guard(greets), base_url="http://127.0.0.1")
        for headers in ({"host": "shop.example"}, {"origin": "http://shop.example"}):
            with (
                self.assertRaises(WebSocketDisconnect) as refused,
                client.websocket_connect("/", headers=headers),
            ):
                self.fail("it was let in")
            self.assertEqual(refused.exception.code, 1008)
        with client.websocket_connect("/", headers={"host": "127.0.0.1"}) as let_in:
            self.assertEqual(let_in.receive()["type"], "websocket.close")

    def test_nothing_outside_the_built_front_end_is_readable(self) -> None:
        for path in (
            "/../run",
            "/%2e%2e/run",
            "/..%2frun",
            "//etc/passwd",
            "/.stamp",
            "/assets/../run.py",
        ):
            answer = self.client.get(path)
            self.assertIn(answer.status_code, (200, 404))
            self.assertNotIn("unittest", answer.text)
            self.assertNotIn("root:", answer.text)

    def test_odd_heads_hosts_and_kinds_of_file_are_refused_with_their_own_status(self) -> None:
        for status, path, headers in (
            (403, "/api/shop", [("host", "127.0.0.1"), ("host", "localhost")]),
            (403, "/api/shop", [("host", "x@127.0.0.1")]),
            (403, "/api/shop", [("host", "127.0.0.1:80:80")]),
            (431, "/api/shop", [("x-long", "x" * 17_000)]),
            (414, "/api/shop?" + "x" * 9000, []),
        ):
            answer = self.client.get(path, headers=headers)
            self.assertEqual(answer.status_code, status, headers)
        kind = {"content-type": "text/html"}
        for path in ("/api/own-parts?name=x", "/api/recipes", "/api/campaigns?table_id=1"):
            self.assertEqual(self.client.post(path, content="x", headers=kind).status_code, 415, path)
        answer = self.client.get("/api/shop")
        self.assertEqual(answer.headers["x-content-type-options"], "nosniff")
        self.assertEqual(answer.headers["cache-control"], "no-store")
        self.assertEqual(answer.headers["cross-origin-resource-policy"], "same-origin")

    def test_a_client_that_goes_away_is_one_line_in_the_journal(self) -> None:
        scope = {
            "type": "http", "method": "POST", "path": "/api/recipes", "raw_path": b"/api/recipes",
            "query_string": b"", "headers": [(b"host", b"127.0.0.1"), (b"content-length", b"900")],
            "scheme": "http", "http_version": "1.1", "root_path": "",
        }  # fmt: skip
        parts = iter(
            [{"type": "http.request", "body": b"{", "more_body": True}, {"type": "http.disconnect"}]
        )

        async def receive() -> dict[str, object]:
            return next(parts)

        async def send(_message: object) -> None:
            return

        with self.assertLogs("orthotome", "INFO") as told:
            asyncio.run(self.client.app(scope, receive, send))  # type: ignore[arg-type]
        (line,) = told.records
        self.assertIsNone(line.exc_info)
        self.assertIn("POST /api/recipes: went away", line.getMessage())

    def test_half_typed_log_is_kept_until_the_cut_is_logged(self) -> None:
        path = f"/api/trials/{JUST_OPENED}/draft"
        self.assertEqual(self.client.put(path, json={"body": "half"}).status_code, 200)
        self.assertEqual(self.get(f"/trials/{JUST_OPENED}/draft")["body"], "half")
        self.client.post(f"/api/trials/{JUST_OPENED}/cuts", json=CUT)
        self.assertIsNone(self.get(f"/trials/{JUST_OPENED}/draft")["body"])


if __name__ == "__main__":
    unittest.main()
