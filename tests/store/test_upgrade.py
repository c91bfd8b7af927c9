"""A shop's database from before cuts pointed to what was fitted, brought up with all that it holds.

``old_shop.sql`` was written by that version (shape 0003): three demo trials, parts changed and the torch
re-seated between cuts, a batch of which one piece was never cut, a half-typed log, a campaign taken in
from a file that calls its parts by names of its own. ``old_shop.json`` is what it answered then.
"""

import json
import sqlite3
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from fastapi.testclient import TestClient

from orthotome.api.app import create_app
from orthotome.core.trial.campaign import Campaign, Series
from orthotome.formats.trial.campaign import read_campaign
from orthotome.store.bench import campaigns
from orthotome.store.book import recipes
from orthotome.store.database import Database
from orthotome.store.log import cuts, drafts
from orthotome.store.torch import fittings
from orthotome.store.trial import trials
from tests.shop import CUT, HALF_WAY, LOCKED

HERE = Path(__file__).parent
IMPORTED = 4
THEN = json.loads((HERE / "old_shop.json").read_text())


class Upgraded(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "shop.sqlite"
        old = sqlite3.connect(self.path)
        old.executescript((HERE / "old_shop.sql").read_text())
        old.close()
        self.database = Database(self.path)
        self.addCleanup(self.database.close)

    def campaign(self, trial_id: int) -> Campaign:
        with self.database.read() as session:
            return campaigns.campaign_of(session, trials.trial(session, trial_id))

    def test_every_trial_is_the_campaign_that_it_was(self) -> None:
        for number, told in THEN["campaigns"].items():
            was, now = read_campaign(json.dumps(told)), self.campaign(int(number))
            self.assertEqual(
                replace(now, cuts=(), series_now=None, start_how=None, locked=None, fastest_mm_min=None),
                replace(was, cuts=()),
            )
            for cut, before in zip(now.cuts, was.cuts, strict=True):
                same = replace(before, id=cut.id, series=cut.series)
                self.assertEqual(cut, same)
                if int(number) != IMPORTED:
                    self.assertEqual((cut.id, cut.series), (before.id, before.series))

    def test_what_a_file_named_keeps_its_name_and_is_not_taken_for_what_is_fitted_here(self) -> None:
        first, second, here = self.campaign(IMPORTED).cuts
        self.assertEqual((first.id, second.id), ("c1", "second"))
        self.assertEqual(first.series, Series("nozzle A", "m9", "offcut 3", "g1"))
        self.assertEqual(second.series.parts, "nozzle B")
        # The file's signal path and this table's were both called g1, and are two.
        self.assertEqual((here.series.parts, here.series.mount), ("p2", "m2"))
        self.assertNotEqual(here.series.signal, first.series.signal)

    def test_counters_have_become_what_is_fitted(self) -> None:
        with self.database.read() as session:
            north, south = fittings.fitted(session, 1), fittings.fitted(session, 2)
        self.assertEqual((north.parts.name, north.mount.name, north.starts), ("p2", "m2", 4))
        self.assertEqual((south.parts.name, south.starts, south.torch_set_id), ("p1", 40, 2))
        # The torch was re-seated after the last cut of this trial: what is fitted now is said.
        self.assertEqual(self.campaign(HALF_WAY).series_now, Series("p2", "m2", "", "g1"))

    def test_what_waits_is_read_under_its_number_and_counts_for_the_parts_it_was_cut_with(self) -> None:
        client = TestClient(create_app(self.database), base_url="http://127.0.0.1")
        bench = client.get(f"/api/trials/{HALF_WAY}/bench").json()
        was = THEN["bench"][str(HALF_WAY)]
        self.assertEqual([w["key"] for w in bench["waiting"]], [w["key"] for w in was["waiting"]])
        self.assertEqual(bench["advice"]["status"], was["status"])
        piece = bench["waiting"][0]
        client.post("/api/tables/1/fittings", json={"kind": "parts"})
        logged = client.post(f"/api/trials/{HALF_WAY}/cuts", json={**CUT, "key": piece["key"]}).json()
        self.assertEqual((logged["number"], logged["starts"]), (piece["number"], 2))
        self.assertEqual(self.campaign(HALF_WAY).cuts[-1].series.parts, "p2")
        # Number 8 was given to the piece that was never cut, and is nicked into no other.
        self.assertEqual(client.get(f"/api/trials/{HALF_WAY}/piece").json()["batch"][0]["number"], 9)

    def test_recipes_are_columns_and_the_file_they_were(self) -> None:
        with self.database.read() as session:
            (row,) = recipes.recipes(session)
            file = recipes.file_of(recipes.recipe(session, row.id or 0))
            draft = drafts.draft(session, HALF_WAY)
            readings = [len(c.cut.edges) for c in cuts.logged_cuts(session, LOCKED)]
        setting = file.setting.model_dump()
        self.assertEqual({name: getattr(row, name) for name in setting}, setting)
        self.assertEqual((row.torch_set, row.cuts), (file.torch_set.name, len(file.evidence.cuts)))
        self.assertEqual(row.passed, len(file.proof.passed_cuts))
        self.assertEqual(sum(readings), sum(len(c.edges or ()) for c in file.evidence.cuts))
        self.assertIn('"key": "half"', draft.body if draft else "")

    def test_a_second_start_changes_nothing(self) -> None:
        told = [self.campaign(n) for n in (1, 2, 3, 4)]
        self.database.close()
        self.database = Database(self.path)
        self.addCleanup(self.database.close)
        self.assertEqual([self.campaign(n) for n in (1, 2, 3, 4)], told)


if __name__ == "__main__":
    unittest.main()
