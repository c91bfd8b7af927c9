"""How the pages are served, how judgements are kept, and what the shop's rooms answer."""

import gzip
import sqlite3
import subprocess
import sys
import tempfile
import threading
import unittest
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from dataclasses import replace
from pathlib import Path
from threading import Barrier, Event
from unittest.mock import patch

from fastapi import FastAPI
from fastapi.exceptions import FastAPIError
from fastapi.testclient import TestClient

from orthotome.api import serving
from orthotome.api.app import create_app
from orthotome.api.routing import open_rooms, room
from orthotome.core.trial.campaign import Campaign, Cut
from orthotome.core.tuner.advise import Judgement
from orthotome.core.tuner.advise import judge as think
from orthotome.desk.bench.judging import Judge
from orthotome.desk.working.kept_answers import KeptAnswers
from orthotome.store.database import Database
from orthotome.store.errors import StartFault
from tests.jobs import PLATE_JOB
from tests.shop import HALF_WAY, ShopOf


class BuiltPages(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        built = Path(folder.name) / "dist"
        (built / "assets").mkdir(parents=True)
        (built / "index.html").write_text("<p>the page</p>")
        (built / "assets" / "a-1.js").write_text("let a = 1;")
        (built / "assets" / "a-1.js.gz").write_bytes(gzip.compress(b"let a = 1;"))
        (built / ".secret").write_text("no")
        (Path(folder.name) / "outside.txt").write_text("no")
        database = Database(Path(folder.name) / "shop.sqlite")
        self.addCleanup(database.close)
        self.client = TestClient(create_app(database, built), base_url="http://127.0.0.1")

    def test_any_page_address_gets_the_application_and_no_missing_file_does(self) -> None:
        for path in ("/", "/bench", "/book/recipes/7"):
            answer = self.client.get(path)
            self.assertEqual((answer.status_code, answer.text), (200, "<p>the page</p>"))
            self.assertEqual(answer.headers["cache-control"], "no-cache")
            self.assertIn("default-src 'self'", answer.headers["content-security-policy"])
        for path in ("/assets/b.js", "/.secret", "/outside.txt", "/assets/../../outside.txt"):
            self.assertEqual(self.client.get(path).status_code, 404, path)

    def test_scripts_go_out_compressed_and_are_kept_for_good(self) -> None:
        zipped = self.client.get("/assets/a-1.js", headers={"accept-encoding": "gzip"})
        plain = self.client.get("/assets/a-1.js", headers={"accept-encoding": "identity"})
        self.assertEqual(zipped.headers["content-encoding"], "gzip")
        self.assertEqual((zipped.text, plain.text), ("let a = 1;", "let a = 1;"))
        self.assertIn("immutable", plain.headers["cache-control"])

    def test_without_a_build_it_says_how_to_make_one(self) -> None:
        database = Database(Path(tempfile.mkdtemp()) / "x.sqlite")
        self.addCleanup(database.close)
        bare = TestClient(create_app(database, Path("/no/such/folder")), base_url="http://127.0.0.1")
        self.assertIn("./run setup", bare.get("/bench").json()["detail"])


class ImportsWhenUsed(unittest.TestCase):
    """What a start waits for is what it imports; each of these takes a tenth of it or more."""

    def imported(self, begun: str) -> set[str]:
        script = f"import sys, {begun}; print(*{{name.partition('.')[0] for name in sys.modules}})"
        done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
        return set(done.stdout.split())

    def test_a_server_begins_without_what_only_some_requests_need(self) -> None:
        rare = {"scipy", "shapely", "ezdxf", "fpdf", "PIL", "cryptography", "argon2", "alembic"}
        self.assertEqual(self.imported("orthotome.api.serving, orthotome.demo") & rare, set())

    def test_a_command_begins_without_the_server_and_the_numerics(self) -> None:
        rare = {"numpy", "scipy", "pydantic", "fastapi", "sqlmodel", "sqlalchemy"}
        self.assertEqual(self.imported("orthotome.cli") & rare, set())

    def test_the_process_that_others_are_forked_from_imports_no_server(self) -> None:
        self.assertEqual(
            self.imported("orthotome.desk.bench.thinking, orthotome.desk.working.apart")
            & {"fastapi", "sqlmodel"},
            set(),
        )


class RoutesWhenAsked(unittest.TestCase):
    def test_a_route_is_made_ready_by_its_first_request_for_all_applications(self) -> None:
        opened = room("any", in_the_shops_units=False)

        @opened.get("/first/{n}")
        def first(n: int) -> dict[str, int]:
            return {"n": n}

        @opened.get("/second")
        def second() -> None: ...

        ready = lambda: ["dependant" in vars(route) for route in opened.routes]  # noqa: E731
        one, other = FastAPI(), FastAPI()
        for app in (one, other):
            open_rooms(app, [opened])
        self.assertEqual(ready(), [False, False])
        self.assertEqual(TestClient(one).get("/api/first/7").json(), {"n": 7})
        self.assertEqual(ready(), [True, False])
        self.assertEqual(TestClient(other).get("/api/first/x").status_code, 422)
        self.assertEqual(TestClient(other).post("/api/second").status_code, 405)
        self.assertEqual(list(other.openapi()["paths"]), ["/api/first/{n}", "/api/second"])
        self.assertEqual(ready(), [True, True])

    def test_many_who_ask_at_once_all_get_it_and_a_bad_route_says_why_each_time(self) -> None:
        opened = room("any", in_the_shops_units=False)

        @opened.get("/all/{n}")
        def everyone(n: int) -> int:
            return n

        @opened.get("/bad/{n}")
        def bad(n: threading.Event) -> None: ...  # no parameter can be that

        together = threading.Barrier(8)

        def ask(_: int) -> object:
            together.wait()
            return opened.routes[0].dependant.call  # type: ignore[attr-defined]

        with ThreadPoolExecutor(8) as many:
            self.assertEqual(set(many.map(ask, range(8))), {everyone})
        for _ in range(2):
            with self.assertRaises(FastAPIError):
                opened.routes[1].dependant  # type: ignore[attr-defined]  # noqa: B018


class Listening(unittest.TestCase):
    def test_a_taken_port_is_said_and_no_other_taken_in_its_place(self) -> None:
        with serving.listening_on(0) as taken:
            address, port = taken.getsockname()
            self.assertEqual(address, "127.0.0.1")
            with self.assertRaises(StartFault) as refused, serving.listening_on(port):
                pass
            self.assertIn(f"Port {port} is in use", str(refused.exception))

    def test_without_its_pages_it_does_not_start_and_makes_no_shop(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "data" / "orthotome.sqlite"
            with (
                patch.object(serving, "FRONT_END", Path(folder) / "none"),
                self.assertRaises(StartFault) as refused,
            ):
                serving.serve(path, 0)
            self.assertIn("./run setup", str(refused.exception))
            self.assertFalse(path.parent.exists())


class TroubleWithTheDisk(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)

    def test_a_full_disk_is_said_and_nothing_is_half_saved(self) -> None:
        before = self.shop.client.get("/api/tables/1/facts").json()
        with self.shop.database.engine.connect() as connection:
            pages = connection.exec_driver_sql("PRAGMA page_count").scalar()
            connection.exec_driver_sql(f"PRAGMA max_page_count={pages}")
        fact = {"title": "Long", "told": "x" * 4000}
        answers = [self.shop.client.post("/api/tables/1/facts", json=fact) for _ in range(40)]
        saved = [a for a in answers if a.status_code == 201]
        refused = answers[-1]
        self.assertEqual((refused.status_code, refused.json()["title"]), (507, "No room on the disk"))
        self.assertIn("Nothing was saved", refused.json()["detail"])
        after = self.shop.client.get("/api/tables/1/facts").json()
        self.assertEqual(len(after), len(before) + len(saved))

    def test_records_held_by_another_program_are_said(self) -> None:
        with closing(sqlite3.connect(self.shop.database.path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            with patch("orthotome.store.database._BUSY_MS", 1):
                self.shop.database.engine.dispose()
                refused = self.shop.client.patch("/api/shop", json={"name": "New"})
        self.assertEqual(refused.status_code, 503)
        self.assertIn("Nothing was saved", refused.json()["detail"])
        self.assertEqual(self.shop.client.patch("/api/shop", json={"name": "New"}).status_code, 200)


class Judgements(unittest.TestCase):
    def test_a_campaign_is_thought_of_once_however_many_ask_and_anew_once_it_is_another(self) -> None:
        asked: list[Campaign] = []

        def slow(campaign: Campaign, batch: int) -> Judgement:
            asked.append(campaign)
            together.wait()
            return think(campaign, batch)

        together, judge = Barrier(2), Judge()
        with (
            patch("orthotome.desk.bench.judging.tuner", return_value=slow),
            ThreadPoolExecutor(6) as many,
        ):
            found = [many.submit(judge.judge, PLATE_JOB) for _ in range(6)]
            together.wait()  # the others find it begun
            self.assertEqual(len({id(f.result()) for f in found}), 1)
        self.assertEqual(len(asked), 1)
        # The same campaign, made anew, is the same; another height control of a cut is not.
        again = replace(PLATE_JOB, target=replace(PLATE_JOB.target))
        self.assertIs(judge.judge(again), found[0].result())
        by_hand = replace(PLATE_JOB, cuts=(Cut("c1", "square", 2100, 1.5, height_control="by_hand"),))
        self.assertIsNot(judge.judge(by_hand), judge.judge(replace(by_hand, cuts=())))


class ManyScreens(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)
        self.client = self.shop.client
        self.enterContext(
            patch("orthotome.desk.bench.judging._kept", KeptAnswers(8))
        )  # nothing is judged yet

    def test_thirty_screens_cost_one_judgement_and_are_told_of_changes_meanwhile(self) -> None:
        asked: list[Campaign] = []
        allowed = Event()

        def slow(campaign: Campaign, batch: int) -> Judgement:
            asked.append(campaign)
            allowed.wait()
            return think(campaign, batch)

        with (
            patch("orthotome.desk.bench.judging.tuner", return_value=slow),
            self.client,  # one event loop for all that is asked
            ThreadPoolExecutor(30) as screens,
        ):
            path = f"/api/trials/{HALF_WAY}"
            benches = [screens.submit(self.client.get, f"{path}/bench") for _ in range(30)]
            for _ in range(5):
                self.assertEqual(self.client.get(f"{path}/revision").status_code, 200)
            allowed.set()
            bodies = {b.result().text for b in benches}
        self.assertEqual(len(bodies), 1)
        # What is known now, and what was known before the last cut: each thought of once.
        self.assertEqual(len(asked), 2)

    def test_nobody_waits_to_write_while_advice_is_thought_of(self) -> None:
        def writes_meanwhile(campaign: Campaign, batch: int) -> Judgement:
            with closing(sqlite3.connect(self.shop.database.path, timeout=0)) as other:
                other.execute("UPDATE shop SET name = name")
                other.commit()
            written.append(campaign)
            return think(campaign, batch)

        written: list[Campaign] = []
        with patch("orthotome.desk.bench.judging.tuner", return_value=writes_meanwhile):
            body = {"kind": "square", "count": 2}
            noted = self.client.post(f"/api/trials/{HALF_WAY}/piece/cut", json=body)
            self.assertEqual(noted.status_code, 201, noted.text)
            lock = {"title": "x", "revision": 1}
            refused = self.client.post(f"/api/trials/{HALF_WAY}/lock", json=lock)
            self.assertEqual(refused.status_code, 409)
        self.assertGreaterEqual(len(written), 2)


class Rooms(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)
        self.client = self.shop.client

    def test_units_are_remembered_and_others_refused(self) -> None:
        changed = self.client.patch("/api/shop", json={"length_unit": "in", "speed_unit": "in/min"})
        self.assertEqual(changed.json()["speed_unit"], "in/min")
        self.assertEqual(self.client.get("/api/shop").json()["length_unit"], "in")
        refused = self.client.patch("/api/shop", json={"speed_unit": "furlong"})
        self.assertEqual(refused.status_code, 422)
        self.assertEqual(refused.json()["errors"][0]["field"], "speed_unit")
        self.assertEqual(self.client.get("/api/shop").json()["speed_unit"], "in/min")

    def test_names_are_their_own(self) -> None:
        torch = {"name": "70 A plate set", "amperage_a": 70.0, "gas": "air", "swirl": "clockwise"}
        self.assertEqual(self.client.post("/api/torch-sets", json=torch).status_code, 409)
        added = self.client.post("/api/torch-sets", json={**torch, "name": "Thirty"})
        self.assertEqual(added.status_code, 201)
        table = {"name": "Cart", "bed": "open", "torch_set_id": added.json()["id"]}
        self.assertEqual(
            self.client.post("/api/tables", json=table).json()["torch_set"]["name"], "Thirty"
        )
        self.assertEqual(self.client.post("/api/tables", json=table).status_code, 409)
        lost = self.client.post("/api/tables", json={**table, "name": "B", "torch_set_id": 99})
        self.assertEqual(lost.status_code, 404)

    def test_a_row_supersedes_another_and_starts_the_next_trial(self) -> None:
        asked = "/api/start?metal=mild_steel&thickness_mm=6&torch_set_id=1"
        before = self.client.get(asked).json()["values"]["speed_mm_min"]
        row = next(
            r
            for r in self.client.get("/api/book/rows?metal=mild_steel&torch_set_id=1").json()
            if r["thickness_mm"] == 6
        )
        keep = ("metal", "thickness_mm", "torch_set_id", "arc_voltage_v", "cut_height_mm")
        more = ("pierce_height_mm", "pierce_delay_s", "kerf_mm")
        body = {k: row[k] for k in (*keep, *more)}
        body |= {"speed_mm_min": before + 100, "source": "own cut", "supersedes_id": row["id"]}
        self.assertEqual(self.client.post("/api/book/rows", json=body).status_code, 201)
        self.assertEqual(self.client.get(asked).json()["values"]["speed_mm_min"], before + 100)
        self.assertEqual(self.client.post("/api/book/rows", json=body).status_code, 409)

    def test_the_bench_holds_one_trial_a_table(self) -> None:
        self.client.put("/api/trials/1/bench")
        south = next(t for t in self.client.get("/api/tables").json() if t["name"] == "South table")
        self.assertEqual(south["bench_trial_id"], 1)
        trials = {x["trial"]["id"]: x["trial"] for x in self.client.get("/api/trials").json()["lines"]}
        self.assertEqual([i for i, t in trials.items() if t["on_bench"]], [2, 1])

    def test_a_new_target_changes_the_advice_and_an_old_revision_does_not(self) -> None:
        path = f"/api/trials/{HALF_WAY}"
        bench = self.client.get(f"{path}/bench").json()
        trial = bench["trial"]
        body = {"revision": trial["revision"], "limits": trial["limits"]}
        body["target"] = {**trial["target"], "bevel_deg": 4.0}
        self.assertEqual(self.client.put(f"{path}/target", json=body).status_code, 200)
        after = self.client.get(f"{path}/bench").json()["advice"]["recommended"]
        before = bench["advice"]["recommended"]
        self.assertGreater(after["probability_pass"], before["probability_pass"])
        self.assertEqual(self.client.put(f"{path}/target", json=body).status_code, 409)


if __name__ == "__main__":
    unittest.main()
