"""Traces as files, lines of a table, and samples as they are kept."""

import json
import subprocess
import sys
import unittest
from dataclasses import fields, replace

import numpy as np

from orthotome.core.fields import field_words
from orthotome.core.height.trace import MOST_SAMPLES, Trace, drawn
from orthotome.core.height.trace_doubts import doubts_of
from orthotome.core.height.trace_report import BesideTrace, read_trace
from orthotome.formats.height.line import HelloLine, SamplesLine, read_line
from orthotome.formats.height.samples import joined, pack, unpack
from orthotome.formats.height.trace import trace_text
from orthotome.formats.height.trace_csv import (
    ColumnMatch,
    beginning,
    read_trace_csv,
    suggested,
    write_trace_csv,
)
from orthotome.formats.reading import FileError
from orthotome.sim.line import TableLine
from orthotome.sim.live import LiveTable
from tests.traces import MadeTrace


def csv_of(made: MadeTrace) -> bytes:
    return write_trace_csv(made.made(feed=True)).encode()


class Files(unittest.TestCase):
    def test_any_order_any_delimiter_decimal_commas_and_empty_cells(self) -> None:
        plain = b"arc_voltage_v,time_s,z_mm\n128.5,0.01,1.5\n,0.02,\n127.5,0.03,1.4\n"
        commas = b"\xef\xbb\xbfarc_voltage_v;time_s;z_mm\n128,5;0,01;1,5\n;0,02;\n127,5;0,03;1,4\n"
        for text in (plain, commas):
            trace = read_trace_csv(text)
            np.testing.assert_allclose(trace.time_s, [0.01, 0.02, 0.03])
            np.testing.assert_allclose(trace.volts_v, [128.5, np.nan, 127.5])
            np.testing.assert_allclose(trace.z_mm, [1.5, np.nan, 1.4])  # type: ignore[arg-type]
            self.assertIsNone(trace.feed_mm_min)

    def test_what_cannot_be_used_is_named_with_its_row(self) -> None:
        many = b"time_s,arc_voltage_v\n" + b"1,1\n" * (3 * MOST_SAMPLES)
        cases = [
            (b"time_s,arc_voltage_v\n1,12\n2,arc lost\n", "arc_voltage_v: “arc lost” in row 2"),
            (b"time_s,volts\n1,2\n", "arc_voltage_v: is missing"),
            (b"time_s,arc_voltage_v\n", "no rows"),
            (b"time_s,time_s,arc_voltage_v\n1,1,2\n", "time_s: “time_s” stands over 2 columns"),
            (b"time_s,arc_voltage_v\n0,1,128,5\n", "more cells than there are headings"),
            (b"time_s,arc_voltage_v,control_on\n1,2,7\n", "control_on: “7” in row 1"),
            (b"\xff\xfe\x00t", "not text in UTF-8"),
            (many, "3,000,001 rows, and at most 1,000,000"),
        ]
        for data, words in cases:
            with self.assertRaisesRegex(FileError, words):
                read_trace_csv(data)

    def test_other_headings_are_matched_with_their_units(self) -> None:
        data = b"Time (ms),Volts /50,Feed in/min,Torch Z (in)\n0,2.56,80,0.06\n10,2.57,80,0.06\n"
        layout = beginning(data)
        self.assertEqual(layout.rows[0], ("0", "2.56", "80", "0.06"))
        match, asked = suggested(layout)
        self.assertEqual((asked, layout.said), ((), ()))
        self.assertEqual(
            (match["time_s"].unit, match["feed_mm_min"].unit, match["z_mm"].unit), ("ms", "in/min", "in")
        )
        match["arc_voltage_v"] = ColumnMatch("Volts /50", times=50)
        trace = read_trace_csv(data, match)
        np.testing.assert_allclose(trace.time_s, [0, 0.01])
        np.testing.assert_allclose(trace.volts_v, [128, 128.5])
        np.testing.assert_allclose(trace.feed_mm_min, [2032, 2032])  # type: ignore[arg-type]
        np.testing.assert_allclose(trace.z_mm, [1.524, 1.524])  # type: ignore[arg-type]

    def test_every_way_that_programs_write_a_table_is_read_and_what_was_passed_over_is_said(
        self,
    ) -> None:
        lines = "Job 12; made up; 2026-02-03\n\nClock;Arc (V);Feed\n;[V];[ipm]\n"
        clocks = "23:59:59,980;128,5;80\n00:00:00,000;127,5;80,5\n00:00:00,020;;81\n"
        layout = beginning((lines + clocks).encode())
        self.assertEqual(layout.headings, ["Clock", "Arc (V)", "Feed"])
        self.assertIn("line above the headings was passed over", layout.said[0])
        self.assertIn("taken for units", layout.said[1])
        match, asked = suggested(layout)
        self.assertEqual(
            (match["feed_mm_min"].unit, match["arc_voltage_v"].unit, asked), ("in/min", "V", ())
        )
        match["time_s"] = ColumnMatch("Clock")
        trace = read_trace_csv((lines + clocks).encode(), match)
        np.testing.assert_allclose(trace.time_s, [0, 0.02, 0.04], atol=1e-6)
        np.testing.assert_allclose(trace.feed_mm_min, [2032, 2044.7, 2057.4])  # type: ignore[arg-type]
        np.testing.assert_allclose(trace.volts_v, [128.5, 127.5, np.nan])
        for moments, true in (
            (("2026-12-31T23:59:59.5Z", "2027-01-01T00:00:00.5Z"), [0, 1]),
            (("31.12.2026 11:59:59 PM", "01.01.2027 12:00:01 AM"), [0, 2]),
        ):
            text = "t,v\n" + "".join(f"{m},128\n" for m in moments)
            read = read_trace_csv(
                text.encode(), {"time_s": ColumnMatch("t"), "arc_voltage_v": ColumnMatch("v")}
            )
            np.testing.assert_allclose(read.time_s, true)
        with self.assertRaisesRegex(FileError, "time_s: “noon” in row 2 is no time of day"):
            read_trace_csv(b"time_s,arc_voltage_v\n12:00:00,1\nnoon,2\n")

    def test_without_a_column_of_time_the_interval_is_asked_for(self) -> None:
        volts = b"Volts\tFeed (furlong/h)\n128\t80\n127\t81\n"
        match, asked = suggested(beginning(volts))
        self.assertEqual(
            asked, ("“furlong/h” over Feed (furlong/h) is no unit known here: choose the one it is in.",)
        )
        with self.assertRaisesRegex(FileError, "how long it is from one row to the next"):
            read_trace_csv(volts, match)
        np.testing.assert_allclose(read_trace_csv(volts, match, 0.01).time_s, [0, 0.01])

    def test_figures_that_no_table_has_are_asked_about(self) -> None:
        made = MadeTrace().made(feed=True)
        assert made.feed_mm_min is not None
        for wrong, field, words in (
            (replace(made, feed_mm_min=made.feed_mm_min / 25.4 / 2), "feed_mm_min", "Is it in .*in/min"),
            (replace(made, feed_mm_min=made.feed_mm_min * 60), "feed_mm_min", "no cutting speed"),
            (replace(made, feed_mm_min=made.feed_mm_min / 25.4), "feed_mm_min", "slower than any table"),
            (replace(made, time_s=made.time_s * 1000), "time_s", "Is the time in ms"),
            (replace(made, z_mm=1000 * np.sin(made.time_s)), "z_mm", "farther than a torch is lifted"),
        ):
            with self.subTest(words):
                found = doubts_of(wrong)
                self.assertIn(field, [d.field for d in found])
                self.assertRegex(next(d.sentence for d in found if d.field == field), words)
                self.assertTrue(
                    any(
                        f"Whether {field_words(field)} is" in said
                        for said in read_trace(wrong).cannot_tell
                    )
                )
        self.assertEqual(doubts_of(made), [])

    def test_the_command_answers_as_the_contract_says(self) -> None:
        data = csv_of(MadeTrace(noise_v=0.8).corner(5, 0.4, 8))
        words = [sys.executable, "-m", "orthotome.cli", "trace", "-", "--slope-v-per-mm", "6.5"]
        answer = json.loads(subprocess.run(words, input=data, capture_output=True, check=True).stdout)
        self.assertEqual((answer["format"], answer["version"]), ("orthotome.trace_report", 1))
        self.assertEqual(
            set(answer["recommend"]),
            {"control_delay_s", "dead_band_v", "hold_below_speed_share", "crossing_jump_v"},
        )
        (cut,) = answer["cuts"]
        self.assertEqual([e["kind"] for e in cut["events"]], ["corner"])
        self.assertEqual(set(cut["events"][0]), {"kind", "from_s", "to_s", "peak_v", "height_mm"})
        refused = subprocess.run(words, input=b"time_s\n1\n", capture_output=True, check=False)
        self.assertEqual(refused.returncode, 2)
        self.assertIn(b"arc_voltage_v: is missing", refused.stderr)

    def test_a_file_written_and_read_says_the_same(self) -> None:
        made = MadeTrace(noise_v=0.5).crossing(6)
        first = trace_text(csv_of(made), BesideTrace(6.5))
        again = trace_text(write_trace_csv(read_trace_csv(csv_of(made))).encode(), BesideTrace(6.5))
        self.assertEqual(first, again)


class Drawing(unittest.TestCase):
    def test_no_peak_is_dropped_at_any_zoom(self) -> None:
        t = np.arange(0, 1000, 0.01)
        volts = np.full_like(t, 128.0)
        volts[54_321], volts[77_777] = 199.0, 61.0
        for slices in (10, 333, 1200):
            shown = drawn(Trace(t, volts), 0, 1000, slices)
            self.assertLessEqual(len(shown.at_s), slices)
            self.assertEqual((shown.most_v.max(), shown.least_v.min()), (199.0, 61.0))
        near = drawn(Trace(t, volts), 543.0, 543.5, 1200)
        self.assertEqual((len(near.at_s), near.most_v.max()), (51, 199.0))
        self.assertEqual(len(drawn(Trace(t, volts), 2000, 2001, 50).at_s), 0)


class Kept(unittest.TestCase):
    def test_samples_come_back_as_they_were_and_missing_columns_stay_missing(self) -> None:
        whole = MadeTrace(end_s=3).made(feed=True)
        cut = [whole.part(0, 120), whole.part(120, 121), whole.part(121, len(whole))]
        parts = [unpack(pack(p), len(p)) for p in cut]
        back = joined(parts)
        np.testing.assert_array_equal(back.time_s, whole.time_s)
        np.testing.assert_allclose(back.volts_v, whole.volts_v, atol=1e-4)
        np.testing.assert_allclose(back.feed_mm_min, whole.feed_mm_min, atol=1e-3)  # type: ignore[arg-type]
        self.assertIsNone(back.z_mm)
        without = Trace(whole.time_s + 5, whole.volts_v)
        both = joined([parts[2], unpack(pack(without), len(without))])
        assert both.feed_mm_min is not None
        self.assertTrue(np.isnan(both.feed_mm_min[-1]))
        self.assertEqual([f.name for f in fields(both)], [f.name for f in fields(whole)])


class Lines(unittest.TestCase):
    def test_what_the_simulated_table_says_is_the_protocol(self) -> None:
        line = TableLine(LiveTable())
        self.assertIsInstance(read_line(json.dumps(line.hello()).encode()), HelloLine)
        said: list[bytes] = []
        line._say = lambda _to, told: said.append(json.dumps(told).encode())  # type: ignore[method-assign]
        line._listeners = {None}  # type: ignore[arg-type]
        line._tell([line.table.idle() for _ in range(3)])
        samples = read_line(said[0])
        assert isinstance(samples, SamplesLine)
        self.assertEqual((len(samples.at_s), samples.arc_voltage_v), (3, (0.0, 0.0, 0.0)))

    def test_lines_that_are_none_are_named(self) -> None:
        cases = [
            (b"GET / HTTP/1.1", "no line of orthotome.line"),
            (b'{"says": "else"}', "no line of orthotome.line"),
            (
                b'{"says": "samples", "at_s": [1, 2], "arc_voltage_v": [1]}',
                "arc_voltage_v has 1 samples",
            ),
            (b'{"says": "samples", "at_s": [2, 1], "arc_voltage_v": [1, 1]}', "runs backwards"),
            (b'{"says": "samples", "at_s": [2], "arc_voltage_v": ["high"]}', "must be a number"),
            (b'{"says": "samples", "at_s": [2], "arc_voltage_v": [9000]}', "600 or less"),
            (
                b'{"says":"samples","at_s":[' + b"1," * 40_000 + b'1],"arc_voltage_v":[]}',
                "longer than 64 kB",
            ),
        ]
        for line, words in cases:
            with self.assertRaisesRegex(FileError, words):
                read_line(line)

    def test_what_a_table_is_asked_and_cannot_do_is_answered(self) -> None:
        line = TableLine(LiveTable())
        for asked, words in (
            (b"rubbish", "no line"),
            (b'{"do": "dance"}', "not done now"),
            (b'{"do": "trim", "by_v": 400}', "within 20 V"),
            (b'{"do": "run", "speed_mm_min": 2100}', "is missing"),
        ):
            answer = line.told(asked)
            assert answer
            self.assertEqual(answer["says"], "refused")
            self.assertIn(words, answer["why"])


if __name__ == "__main__":
    unittest.main()
