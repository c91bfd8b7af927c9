"""What is fitted, who changed what, and campaign files that come back as they were read."""

import json
import unittest
from typing import Any, get_args

from hypothesis import given, settings
from hypothesis import strategies as some
from sqlmodel import col, select

from orthotome.core.errors import TradeError
from orthotome.core.torch.counts import CounterReading, Counts
from orthotome.core.trial import campaign as core
from orthotome.core.trial.campaign import Series
from orthotome.formats.trial.campaign import campaign_to_file, read_campaign
from orthotome.store.bench import campaigns
from orthotome.store.errors import Refused
from orthotome.store.log import cuts
from orthotome.store.tables import ChangeRow, FittingRow
from orthotome.store.torch import counting, fittings, parts
from orthotome.store.torch.fittings import Change
from orthotome.store.trial import trials
from tests.shop import CUT, HALF_WAY, JUST_OPENED, ShopOf

NORTH, SOUTH = 1, 2


class Fitting(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)
        self.database, self.client = self.shop.database, self.shop.client

    def test_a_part_changed_singly_counts_from_zero_and_the_set_goes_on(self) -> None:
        with self.database.write() as session:
            before = fittings.fitted(session, NORTH).starts
            fittings.fit(session, NORTH, "parts", Change("electrode", off="good"))
            fittings.count(session, NORTH, Counts(7, 40.0), "typed")
            fittings.fit(session, NORTH, "parts", Change("nozzle", starts=30))
            worn = fittings.count(session, NORTH, Counts(2, 5.0, off_plate=1), "typed").counts
        self.assertEqual(
            (worn["shield"].starts, worn["electrode"].starts, worn["nozzle"].starts), (before + 9, 9, 32)
        )
        self.assertEqual((worn["electrode"].arc_on_s, worn["nozzle"].off_plate), (45.0, 1))
        with self.database.write() as session:
            fittings.fit(session, NORTH, "parts")
            fresh = fittings.fitted(session, NORTH)
            self.assertEqual({c.starts for c in fresh.counts.values()}, {0})
            self.assertEqual(counting.starts_of_table(session, NORTH), before + 9)

    def test_a_part_put_back_comes_with_its_history_and_is_in_one_torch_only(self) -> None:
        with self.database.write() as session:
            old = parts.of_fitting(session, fittings.fitted(session, NORTH).parts.id or 0)
            electrode = next(p for p in old if p.part == "electrode").id or 0
            before = fittings.fitted(session, NORTH).starts
            fittings.fit(session, NORTH, "parts", Change("electrode", off="rough_work"))
            fittings.count(session, NORTH, Counts(5), "typed")
            fittings.fit(session, NORTH, "parts", Change("electrode", part_id=electrode, off="good"))
            back = fittings.count(session, NORTH, Counts(3), "typed")
        self.assertEqual((back.starts, back.counts["nozzle"].starts), (before + 3, before + 8))
        for part, wrong in (("electrode", "fitted on a table"), ("nozzle", "goes in no nozzle")):
            with self.assertRaises(Refused) as refused, self.database.write() as session:
                fittings.fit(session, SOUTH, "parts", Change(part, part_id=electrode))  # type: ignore[arg-type]
            self.assertIn(wrong, str(refused.exception))

    def test_a_set_put_aside_comes_back_as_it_came_off(self) -> None:
        with self.database.write() as session:
            before = fittings.fitted(session, NORTH).starts
            fittings.fit(session, NORTH, "parts", Change(torch_set_id=3))
            self.assertEqual(fittings.count(session, NORTH, Counts(4), "typed").starts, 4)
            fittings.fit(session, NORTH, "parts", Change(torch_set_id=1, again=True))
            self.assertEqual(fittings.fitted(session, NORTH).starts, before)
        with self.assertRaises(Refused), self.database.write() as session:
            fittings.fit(session, SOUTH, "parts", Change(torch_set_id=1, again=True))

    def test_a_sources_counter_corrects_the_sum_and_both_are_kept(self) -> None:
        with self.database.write() as session:
            before = fittings.fitted(session, NORTH).starts
            counting.read_counter(session, NORTH, CounterReading(10_000))
            fittings.count(session, NORTH, Counts(30), "cut")
            fittings.fit(session, NORTH, "parts", Change("electrode"))
            fittings.count(session, NORTH, Counts(10), "cut")
            row = counting.read_counter(session, NORTH, CounterReading(10_060))
            now = fittings.fitted(session, NORTH).counts
        self.assertEqual(row.missed_starts, 20)  # 15 fell to the old electrode, 5 to the new one
        self.assertEqual((now["electrode"].starts, now["nozzle"].starts), (15, before + 60))
        with self.assertRaises(TradeError), self.database.write() as session:
            counting.read_counter(session, NORTH, CounterReading(9_000))

    def test_only_torch_parts_are_changed_singly(self) -> None:
        with self.assertRaises(Refused), self.database.write() as session:
            fittings.fit(session, NORTH, "mount", Change("nozzle"))

    def test_a_fitting_is_undone_until_something_was_cut_with_it(self) -> None:
        body = {"kind": "parts", "torch_set_id": 3}
        first = self.client.post(f"/api/tables/{SOUTH}/fittings", json=body).json()
        self.assertEqual(self.client.delete(f"/api/fittings/{first['id']}").status_code, 204)
        table = next(t for t in self.client.get("/api/tables").json() if t["id"] == SOUTH)
        self.assertEqual(table["torch_set"]["name"], "45 A sheet set")
        again = self.client.post(f"/api/tables/{SOUTH}/fittings", json=body).json()
        self.client.post(f"/api/trials/{JUST_OPENED}/cuts", json=CUT)
        late = self.client.delete(f"/api/fittings/{again['id']}")
        self.assertEqual((late.status_code, late.json()["title"]), (409, "Not now"))
        self.assertEqual(self.client.delete("/api/fittings/999").status_code, 404)

    def test_parts_changed_speaks_of_a_trial_from_a_file_too(self) -> None:
        file = {**self.client.get(f"/api/trials/{HALF_WAY}/campaign").json(), "title": "from a file"}
        file["cuts"] = [{**c, "series": {"parts": "p1", "mount": "m1"}} for c in file["cuts"]]
        trial = self.client.post(f"/api/campaigns?table_id={NORTH}", json=file).json()["id"]

        def now() -> core.Campaign:
            with self.database.read() as session:
                return campaigns.campaign_of(session, trials.trial(session, trial))

        self.assertIsNone(now().series_now)
        self.client.post(f"/api/tables/{NORTH}/fittings", json={"kind": "parts"})
        changed = now().series_now
        self.assertIsNotNone(changed)
        self.assertNotEqual(changed, now().cuts[-1].series)
        # The file's "p1" and this table's own are two, whatever they are called.
        self.client.post(f"/api/trials/{trial}/cuts", json={**CUT, "key": "here"})
        names = [c.series.parts for c in now().cuts]
        self.assertEqual((names[0], len(set(names))), ("p1", 2))

    def test_every_change_says_who_made_it_and_what_stood_there(self) -> None:
        header = {"orthotome-person": "%C3%85sa"}
        self.client.post(f"/api/tables/{NORTH}/fittings", json={"kind": "mount"}, headers=header)
        bench = self.client.get(f"/api/trials/{HALF_WAY}/bench").json()
        cut, trial = bench["cuts"][0], bench["trial"]
        path = f"/api/trials/{HALF_WAY}"
        struck = {"version": cut["version"], "out": True}
        self.client.put(f"{path}/cuts/{cut['id']}/struck", json=struck, headers=header)
        revision = self.client.get(f"{path}/revision").json()["revision"]
        target = {**trial["target"], "bevel_deg": 3.0}
        body = {"revision": revision, "target": target, "limits": trial["limits"]}
        self.client.put(f"{path}/target", json=body, headers=header)
        corrected = {"version": cut["version"] + 1, "note": "looked again"}
        self.client.patch(f"{path}/cuts/{cut['id']}", json=corrected, headers=header)
        with self.database.read() as session:
            query = select(ChangeRow).where(ChangeRow.by == "Åsa").order_by(col(ChangeRow.id))
            rows = session.exec(query).all()
            told = [(r.act, r.of, json.loads(r.before)) for r in rows]
            last = fittings.fitted(session, NORTH).mount
        self.assertEqual(
            told,
            [
                ("fitted mount", "fitting", {}),
                ("struck out", "cut", {}),
                ("retargeted", "trial", {"bevel_deg": 1.5}),
                ("corrected", "cut", {"note": ""}),
            ],
        )
        self.assertEqual(last.fitted_by, "Åsa")

    def test_the_simulated_table_knows_which_side_the_set_keeps(self) -> None:
        start = self.client.get("/api/start?metal=mild_steel&thickness_mm=12&torch_set_id=3").json()
        job = {"table_id": NORTH, "torch_set_id": 3, "metal": "mild_steel", "thickness_mm": 12.0}
        body = {**job, "start": start["values"], "target": {"bevel_deg": 2.0}}
        trial = self.client.post("/api/trials", json=body).json()
        self.assertEqual(
            (trial["torch_set"]["swirl"], trial["good_side"]), ("counter_clockwise", "left")
        )
        cut = self.client.post(f"/api/trials/{trial['id']}/simulated-cut").json()
        self.assertEqual([e["side"] for e in cut["edges"]], ["left"] * 4 + ["right"])


IDS = some.one_of(some.none(), some.sampled_from(["", "p1", "p2", "nozzle A", "m1", "g1"]))
SERIES = some.none() | some.fixed_dictionaries({}, optional={k: IDS for k in vars(Series())})
EDGE = some.fixed_dictionaries(
    {
        "side": some.sampled_from(["right", "left", "both"]),
        "heading_deg": some.floats(-360, 720),
        "bevel_deg": some.floats(-45, 45),
        "u_deg": some.floats(0.01, 20),
        "method": some.sampled_from(["angle_gauge", "shop jig"]),
    }
)
DROSS = some.fixed_dictionaries(
    {"kind": some.sampled_from(get_args(core.DrossKind)), "grade": some.integers(0, 4)}
)
A_FILES_CUT = some.fixed_dictionaries(
    {
        "piece": some.sampled_from(get_args(core.PieceKind)),
        "speed_mm_min": some.floats(20, 60_000),
        "cut_height_mm": some.floats(0.05, 40),
        "height_control": some.sampled_from(get_args(core.HeightControl)),
    },
    optional={
        "series": SERIES,
        "starts": some.none() | some.integers(0, 10_000),
        "arc_on_s": some.none() | some.floats(0, 900),
        "arc_voltage_v": some.none() | some.floats(20, 400),
        "set_point_v": some.none() | some.floats(20, 400),
        "through": some.none() | some.sampled_from(get_args(core.Through)),
        "arc_lost": some.none() | some.booleans(),
        "edges": some.none() | some.lists(EDGE, max_size=6),
        "dross": some.none() | some.lists(DROSS, max_size=4),
        "kerf_mm": some.none() | some.floats(0.1, 20),
        "lag_deg": some.none() | some.floats(-80, 80),
    },
)
IDENTIFIED = some.lists(
    some.tuples(some.sampled_from(["c1", "c2", "c9", "first", "7", "é"]), A_FILES_CUT),
    max_size=5,
    unique_by=lambda pair: pair[0],
)


class FromFileToFile(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)
        self.file = self.shop.client.get(f"/api/trials/{HALF_WAY}/campaign").json()

    @settings(max_examples=60)
    @given(IDENTIFIED, some.none() | some.integers(0, 5000))
    def test_a_campaign_read_in_and_written_out_is_the_same(
        self, made: list[tuple[str, dict[str, Any]]], starts: int | None
    ) -> None:
        torch = {**self.file["torch_set"], "starts": starts}
        file = {**self.file, "torch_set": torch, "cuts": [{"id": i, **c} for i, c in made]}
        text = json.dumps(file)
        given_in = read_campaign(text)
        self.assertEqual(read_campaign(campaign_to_file(given_in).model_dump_json()), given_in)
        opened = self.shop.client.post(f"/api/campaigns?table_id={NORTH}", content=text)
        self.assertEqual(opened.status_code, 201, opened.text)
        out = self.shop.client.get(f"/api/trials/{opened.json()['id']}/campaign").content
        self.assertEqual(read_campaign(out), given_in)

    def test_readings_of_what_a_file_names_point_to_things_of_their_own(self) -> None:
        named = [{**c, "series": {"parts": n}} for c, n in zip(self.file["cuts"], "aab", strict=True)]
        body = json.dumps({**self.file, "cuts": named})
        trial = self.shop.client.post(f"/api/campaigns?table_id={NORTH}", content=body).json()["id"]
        with self.shop.database.read() as session:
            ids = [c.row.parts_id for c in cuts.logged_cuts(session, trial)]
            kept = session.get(FittingRow, ids[0])
            self.assertEqual((kept and kept.name, kept and kept.from_file), ("a", True))
            self.assertEqual(fittings.fitted(session, NORTH).parts.name, "p1")
        self.assertEqual((ids[0] == ids[1], ids[1] == ids[2]), (True, False))


if __name__ == "__main__":
    unittest.main()
