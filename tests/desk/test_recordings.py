"""What is read from a recording is kept: of that one, and of no other that has its number in other records."""

import tempfile
import unittest
from pathlib import Path

from orthotome.desk.height.of_trial import report_of
from orthotome.store.database import Database
from orthotome.store.height import traces
from orthotome.store.shop import shop
from tests.traces import MadeTrace


class KeptReports(unittest.TestCase):
    def steady_v(self, path: Path, volts_v: float) -> float | None:
        """Of the only recording of a new shop, whose arc burned at so many volts."""
        database = Database(path)
        self.addCleanup(database.close)
        with database.write() as session:
            table = shop.add_table(session, "Big table", "water", None)
            row = traces.begin(session, table.id or 0, "file", "run.csv")
            traces.add(session, row, MadeTrace(steady_v=volts_v).made())
            row.ended = True
            session.add(row)
        with database.read() as session:
            kept = traces.trace(session, 1)
            report = report_of(session, kept, None)
            self.assertIs(report_of(session, kept, None), report)
        assert report is not None
        return report.cuts[0].steady_v

    def test_a_recording_of_other_records_with_its_number_is_read_for_itself(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        path = folder / "shop.sqlite"
        self.assertAlmostEqual(self.steady_v(path, 128.0) or 0, 128.0, delta=1)
        path.rename(folder / "put away.sqlite")
        self.assertAlmostEqual(self.steady_v(path, 112.0) or 0, 112.0, delta=1)


if __name__ == "__main__":
    unittest.main()
