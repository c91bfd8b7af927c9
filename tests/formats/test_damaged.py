"""Files as a torn download or a hostile hand leaves them: read, or refused in a sentence."""

import csv
import io
import struct
import unittest
import zlib

from PIL import Image

from orthotome.core.book.start_rows import StartRow, StartValues
from orthotome.core.setting import HEIGHT_RANGE_MM, SPEED_RANGE_MM_MIN
from orthotome.core.trial.opening import default_limits
from orthotome.formats.book.row_import import read_sheet, suggest, take_in
from orthotome.formats.book.rows import read_rows, write_rows
from orthotome.formats.log.photo import read_photo
from orthotome.formats.reading import FileError
from orthotome.formats.trial.campaign import LimitsFile, read_campaign
from tools.damage import EXAMPLES, READERS, breaks

EACH = 250


def png(width: int, height: int) -> bytes:
    """A PNG that says it has so many points, and has none of them."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    body = zlib.compress(b"\0" * 1000)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", body) + chunk(b"IEND", b"")


class Damaged(unittest.TestCase):
    def test_no_reader_breaks_on_a_damaged_file(self) -> None:
        for kind in READERS:
            with self.subTest(kind):
                self.assertEqual(breaks(kind, EACH, seed=12), [])

    def test_a_number_that_no_quantity_has_is_refused_by_name(self) -> None:
        good = (EXAMPLES / "campaign.example.json").read_text()
        for odd in ("9223372036854775808", "1e300", "-1e300"):
            with self.assertRaises(FileError) as refused:
                read_campaign(good.replace('"thickness_mm": 8.0', f'"thickness_mm": {odd}', 1))
            self.assertIn("“thickness_mm” is a number that no quantity", str(refused.exception))

    def test_limits_of_a_start_at_the_edge_of_what_is_cut_can_be_kept(self) -> None:
        for speed in (*SPEED_RANGE_MM_MIN, 45_000):
            for height in (*HEIGHT_RANGE_MM, 25):
                found = default_limits(StartValues(speed, None, height, 30, 0.5, 2))
                LimitsFile(speed_mm_min=found.speed_mm_min, cut_height_mm=found.cut_height_mm)
                self.assertTrue(found.speed_mm_min[0] <= speed <= found.speed_mm_min[1])
                self.assertTrue(found.cut_height_mm[0] <= height <= found.cut_height_mm[1])

    def test_a_quotation_mark_that_is_never_closed_is_named(self) -> None:
        for text in ('metal,"thickness_mm', 'metal,thickness_mm\nmild_steel,"6'):
            for read in (read_rows, read_sheet):
                with self.assertRaises(FileError) as refused:
                    read(text)
                self.assertRegex(str(refused.exception), "never closed|is missing from the first line")


class Formulas(unittest.TestCase):
    def test_no_cell_goes_out_as_a_formula_and_each_comes_back_as_it_was(self) -> None:
        sources = ["=HYPERLINK(1)", "+1", "-own guess", "@x", "'=quoted", "''+", "'plain", "p. 12"]
        rows = [
            StartRow("mild_steel", 4 + n, "70 A", 70, "air", StartValues(2000, 120, 1.5, 3.8, 0.5, 2), s)
            for n, s in enumerate(sources)
        ]
        text = write_rows(rows)
        for cells in csv.reader(io.StringIO(text)):
            self.assertNotRegex(cells[-1], r"^[=+\-@\t\r]")
        self.assertEqual([r.source for r in read_rows(text)], sources)
        sheet = read_sheet(text)
        found = take_in(sheet, suggest(sheet.headings))
        self.assertEqual([r.source for _, r in found.good], sources)


class Pictures(unittest.TestCase):
    def test_a_picture_is_decoded_before_it_is_believed(self) -> None:
        good = io.BytesIO()
        Image.new("RGB", (64, 48), "silver").save(good, "JPEG")
        self.assertEqual(
            (read_photo(good.getvalue()).width_px, read_photo(good.getvalue()).height_px), (64, 48)
        )
        for said, content in {
            "no JPEG, PNG, WebP or HEIC": b"\xff\xd8\xff<script>",
            "damaged": good.getvalue()[:-300],
            "million points": png(60_000, 60_000),
            "damaged, it": png(400, 400),
        }.items():
            with self.assertRaises(FileError) as refused:
                read_photo(content)
            self.assertIn(said, str(refused.exception))


if __name__ == "__main__":
    unittest.main()
