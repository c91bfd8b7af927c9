"""The store's promises: logged once, never overwritten unseen, recipes never changed."""

import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from sqlalchemy import create_engine, text
from sqlalchemy.exc import IntegrityError
from sqlmodel import SQLModel

from orthotome.core.log.correction import CutCorrection
from orthotome.core.trial.campaign import EdgeReading
from orthotome.core.tuner.advise import judge
from orthotome.store import database
from orthotome.store.bench import campaigns
from orthotome.store.book import recipes
from orthotome.store.book import rows as book
from orthotome.store.errors import ChangedMeanwhile, Refused
from orthotome.store.log import cuts
from orthotome.store.shop import shop
from orthotome.store.tables import Trial
from orthotome.store.torch import fittings
from orthotome.store.trial import trials
from tests.jobs import PLATE_JOB
from tests.shop import HALF_WAY, JUST_OPENED, LOCKED, ShopOf

OLDER = (
    "INSERT INTO torch_set (id, name, amperage_a, gas, swirl, example) "
    "VALUES (1, 'Old set', 70, 'air', 'clockwise', 0)",
    "INSERT INTO cutting_table (id, name, bed, starts_on_parts, parts_series, mount_series) "
    "VALUES (1, 'Old table', 'water', 3, 1, 1)",
    "INSERT INTO trial (id, table_id, torch_set_id, title, metal, thickness_mm, speed_mm_min, cut_height_mm, "
    "pierce_height_mm, pierce_delay_s, kerf_mm, start_how, start_from, bevel_deg, sides, dross_grade, "
    "priority, speed_low_mm_min, speed_high_mm_min, height_low_mm, height_high_mm, opened_at, opened_by, "
    "set_aside, on_bench, revision) VALUES (1, 1, 1, 'Old', 'mild_steel', 8, 2100, 1.5, 3.8, 0.5, 1.8, "
    "'typed', '{}', 2, 'good', 1, 'square_first', 1200, 3400, 0.8, 3.2, '2026-01-01', '', 0, 1, 1)",
    "INSERT INTO cut (id, trial_id, number, key, piece, speed_mm_min, cut_height_mm, arc_voltage_v, "
    "height_control, parts, mount, plate, signal, arc_lost, dross_looked_at, note, logged_at, logged_by, "
    "struck_out, version) VALUES (1, 1, 1, 'k', 'square', 2100, 1.5, 127, 'off', 'p1', 'm1', '', '', 0, 0, "
    "'', '2026-01-01', '', 0, 1)",
)


class Records(unittest.TestCase):
    def setUp(self) -> None:
        self.shop = ShopOf()
        self.addCleanup(self.shop.close)
        self.database = self.shop.database

    def cut(self, number: int = 1):  # type: ignore[no-untyped-def]
        with self.database.read() as session:
            return cuts.logged_cuts(session, HALF_WAY)[number - 1]

    def test_migrations_make_the_tables_that_the_models_describe(self) -> None:
        with self.database.engine.connect() as connection:
            found = compare_metadata(MigrationContext.configure(connection), SQLModel.metadata)
        self.assertEqual(found, [])

    def test_an_older_database_is_brought_up_with_all_it_holds(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "older.sqlite"
            config = Config()
            config.set_main_option("script_location", str(Path(database.__file__).parent / "migrations"))
            with create_engine(f"sqlite:///{path}").begin() as connection:
                config.attributes["connection"] = connection
                command.upgrade(config, "0001")
                for line in OLDER:
                    connection.execute(text(line))
            newer = database.Database(path)
            self.addCleanup(newer.close)
            with newer.read() as session:
                table = shop.table(session, 1)
                on_it = fittings.fitted(session, 1)
                self.assertEqual((table.name, on_it.signal.name, on_it.starts), ("Old table", "g1", 3))
                (cut,) = cuts.logged_cuts(session, 1)
                # What was logged so far is of the first signal path, and stays one series with what comes.
                self.assertEqual((cut.cut.arc_voltage_v, cut.cut.series.signal), (127.0, "g1"))
                self.assertEqual(
                    campaigns.campaign_of(session, trials.trial(session, 1)).torch_set.gas, "air"
                )

    def test_pragmas(self) -> None:
        with self.database.engine.connect() as connection:
            got = {
                p: connection.execute(text(f"PRAGMA {p}")).scalar()
                for p in ("journal_mode", "synchronous", "foreign_keys")
            }
        self.assertEqual(got, {"journal_mode": "wal", "synchronous": 2, "foreign_keys": 1})

    def test_a_trial_comes_back_from_its_rows_as_it_was(self) -> None:
        with self.database.read() as session:
            campaign = campaigns.campaign_of(session, trials.trial(session, HALF_WAY))
        with self.database.write() as session:
            copied = trials.open_trial(
                session,
                table_id=1,
                torch_set_id=1,
                metal=campaign.metal,
                thickness_mm=campaign.thickness_mm,
                start=campaign.start,
                found=None,
                target=campaign.target,
                limits=campaign.limits,
                title=campaign.title,
                start_how=campaign.start_how or "",
            )
            cuts.take_in_cuts(session, copied, campaign.cuts)
            self.assertEqual(campaigns.campaign_of(session, copied), campaign)
            self.assertGreater(len(campaign.cuts), 1)

    def test_the_same_key_is_logged_once_and_counts_one_start(self) -> None:
        cut = self.cut().cut
        with self.database.write() as session:
            first = cuts.log_cut(session, JUST_OPENED, "k", cuts.ToLog(cut))
            again = cuts.log_cut(session, JUST_OPENED, "k", cuts.ToLog(cut))
            self.assertEqual((first.id, first.starts), (again.id, again.starts))
            self.assertEqual(len(cuts.logged_cuts(session, JUST_OPENED)), 1)

    def test_the_newest_trial_of_the_same_stock_is_not_crowded_out_of_history(self) -> None:
        with self.database.write() as session:
            campaign = campaigns.campaign_of(session, trials.trial(session, HALF_WAY))

            def trial(thickness_mm: float) -> Trial:
                row = trials.open_trial(
                    session,
                    table_id=1,
                    torch_set_id=1,
                    metal=campaign.metal,
                    thickness_mm=thickness_mm,
                    start=campaign.start,
                    found=None,
                    target=campaign.target,
                    limits=campaign.limits,
                )
                cuts.take_in_cuts(session, row, campaign.cuts[:1])
                session.flush()
                return row

            same = trial(21.0)
            others = [trial(22.0 + n) for n in range(campaigns.MOST_EARLIER)]
            known = [t.id for t in campaigns.earlier_trials(session, trial(21.0))]
        self.assertEqual(known, [same.id, *(t.id for t in others[1:])])

    def test_a_correction_of_an_older_version_changes_nothing(self) -> None:
        logged = self.cut()
        with self.database.write(by="Ash") as session:
            cuts.correct_cut(session, HALF_WAY, logged.row.id or 0, 1, CutCorrection({"note": "mine"}))
        with self.assertRaises(ChangedMeanwhile) as refused, self.database.write() as session:
            cuts.strike_cut(session, HALF_WAY, logged.row.id or 0, 1, out=True)
        self.assertIn("by Ash", refused.exception.sentence)
        self.assertEqual((self.cut().row.note, self.cut().row.struck_out), ("mine", False))

    def test_a_struck_cut_is_kept_and_no_evidence(self) -> None:
        with self.database.write() as session:
            before = campaigns.campaign_of(session, trials.trial(session, HALF_WAY))
            cuts.strike_cut(session, HALF_WAY, self.cut().row.id or 0, 1, out=True)
            after = campaigns.campaign_of(session, trials.trial(session, HALF_WAY))
            self.assertEqual(after.cuts, before.cuts[1:])
            self.assertEqual(len(cuts.logged_cuts(session, HALF_WAY)), len(before.cuts))

    def test_a_torch_set_upright_begins_a_new_series_of_lean(self) -> None:
        leaning = [(0.0, 0.0), (90.0, -4.0), (180.0, 0.0), (270.0, 4.0)]
        edges = tuple(EdgeReading("right", h, b, 0.4) for h, b in leaning)
        cut = replace(self.cut().cut, edges=edges)

        def handed_off() -> str:
            with self.database.read() as session:
                campaign = campaigns.campaign_of(session, trials.trial(session, JUST_OPENED))
            return getattr(judge(campaign).advice.hand_off, "code", "")

        with self.database.write() as session:
            for n in (1, 2):
                cuts.log_cut(session, JUST_OPENED, f"k{n}", cuts.ToLog(cut))
        self.assertEqual(handed_off(), "jet_lean")
        with self.database.write() as session:
            fittings.fit(session, 2, "mount")
        self.assertEqual(handed_off(), "")

    def test_a_locked_recipe_cannot_be_changed_even_by_hand(self) -> None:
        for change in ("UPDATE recipe SET title = 'x'", "DELETE FROM recipe"):
            with self.assertRaises(IntegrityError), self.database.write() as session:
                session.execute(text(change))
        cut = self.cut().cut
        with self.assertRaises(Refused), self.database.write() as session:
            cuts.log_cut(session, LOCKED, "late", cuts.ToLog(cut))

    def test_only_a_proven_trial_is_locked_and_a_second_is_the_next_revision(self) -> None:
        with self.assertRaises(Refused), self.database.write() as session:
            recipes.lock(session, HALF_WAY, judge(PLATE_JOB), title="")
        with self.database.write() as session:
            first = recipes.recipe(session, 1)
            again = recipes.take_in(session, recipes.file_of(first))
            self.assertEqual((first.line, again.revision), (again.line, 2))
            self.assertEqual(recipes.newest_revisions(session)[first.line], 2)

    def test_a_superseded_row_is_kept_and_out_of_force(self) -> None:
        with self.database.write() as session:
            row, _ = book.rows(session, "mild_steel", 1)[0]
            changes = row.model_dump(exclude={"id", "superseded_by_id"}) | {"speed_mm_min": 4000.0}
            added = book.add_row(session, type(row)(**changes), supersedes_id=row.id)
            in_force = [r.id for r, _ in book.rows(session, "mild_steel", 1)]
            self.assertIn(added.id, in_force)
            self.assertNotIn(row.id, in_force)
            with self.assertRaises(Refused):
                book.add_row(session, type(row)(**changes), supersedes_id=row.id)


if __name__ == "__main__":
    unittest.main()
