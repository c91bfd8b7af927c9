"""The open files: the contract's example, what is refused and in which words, schemas, the command."""

import json
import subprocess
import sys
import unittest
from pathlib import Path
from typing import Any

from orthotome.api.serving import openapi_text
from orthotome.core.height.trace_report import BesideTrace
from orthotome.core.path.rings import depths
from orthotome.formats.book.recipe import RecipeFile
from orthotome.formats.book.rows import RowsFile, read_rows, write_rows
from orthotome.formats.height.line import RunLine, TrimLine, read_line
from orthotome.formats.height.trace import trace_text
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.pieces.own_part import OwnPartFile, rings_from_file
from orthotome.formats.pieces.piece import PieceFile
from orthotome.formats.reading import FileError, read_json
from orthotome.formats.schemas import SCHEMAS, schema
from orthotome.formats.trial.advice import AdviceFile
from orthotome.formats.trial.campaign import campaign_from_file, campaign_to_file, read_campaign

ROOT = Path(__file__).parents[2]
EXAMPLE = (ROOT / "docs/formats/campaign.example.json").read_text()

BARE_CUT = {"piece": "strip", "speed_mm_min": 2100, "cut_height_mm": 1.5}


def changed(path: str, value: Any) -> str:
    """The example with one field changed; a value of ``...`` takes the field out."""
    file = json.loads(EXAMPLE)
    at = file
    *way, last = [int(p) if p.isdigit() else p for p in path.split(".")]
    for step in way:
        at = at[step]
    if value is ...:
        del at[last]
    else:
        at[last] = value
    return json.dumps(file)


class Campaign(unittest.TestCase):
    def test_example_reads_and_writes_back_the_same(self) -> None:
        campaign = read_campaign(EXAMPLE)
        self.assertEqual(campaign.cuts[0].edges[0].bevel_deg, 2.4)
        self.assertEqual(campaign.cuts[0].series.signal, "g1")
        again = campaign_from_file(campaign_to_file(campaign))
        self.assertEqual(again, campaign)

    def test_not_looked_at_is_not_none_and_a_missing_series_is_unchanged(self) -> None:
        file = json.loads(EXAMPLE)
        first = file["cuts"][0]
        file["cuts"] += [
            {**first, "id": "c2", "series": {"parts": "p2"}, "dross": []},
            {k: v for k, v in {**first, "id": "c3"}.items() if k not in ("series", "dross")},
        ]
        _, looked, unlooked = read_campaign(json.dumps(file)).cuts
        self.assertEqual((looked.bottom_grade, unlooked.bottom_grade), (0, None))
        self.assertEqual((looked.series.parts, looked.series.mount), ("p2", "m1"))
        self.assertEqual(unlooked.series, looked.series)

    def test_refusals_name_the_field_in_one_sentence(self) -> None:
        cases = [
            (changed("thickness_mm", ...), "thickness_mm: is missing."),
            (changed("thickness_in", 0.3), "“thickness_in” is not a field"),
            (changed("start.speed_ipm", 83), "“speed_ipm” is not a field"),
            (changed("cuts.0.edges.0.bevel_deg", 95), "cuts[0].edges[0].bevel_deg: must be 45"),
            (changed("cuts.0.edges.0.u_deg", 0), "cuts[0].edges[0].u_deg: must be more than 0"),
            (changed("start.speed_mm_min", float("nan")), "start.speed_mm_min: must be a real number"),
            (changed("start.speed_mm_min", "2100"), "start.speed_mm_min: must be a number"),
            (changed("start.speed_mm_min", True), "start.speed_mm_min: must be a number"),
            (changed("start.speed_mm_min", 3.5), "start.speed_mm_min: must be 20 or more"),
            (changed("limits.speed_mm_min", [3400, 1200]), "the lower limit comes first"),
            (changed("cuts.0.dross.0.kind", "slag"), "cuts[0].dross[0].kind: must be one of"),
            (changed("version", 2), "version: must be one of"),
            (changed("cuts", [json.loads(EXAMPLE)["cuts"][0]] * 2), "two cuts have the id “c1”"),
            (changed("cuts", [{**BARE_CUT, "id": str(i)} for i in range(10_000)]), "at most 2000"),
            (" " * 6_000_000, "larger than 5 MB"),
            ("{", "file: is not JSON"),
            ("[]", "file: must be an object"),
        ]
        for text, words in cases:
            with self.subTest(words), self.assertRaises(FileError) as refused:
                read_campaign(text)
            self.assertIn(words, str(refused.exception))
            self.assertNotIn("\n", str(refused.exception))


class Published(unittest.TestCase):
    def test_schemas_and_openapi_are_those_of_the_models(self) -> None:
        for name in SCHEMAS:
            kept = json.loads((ROOT / f"docs/formats/{name}.schema.json").read_text())
            self.assertEqual(kept, schema(name), f"{name}: run ./run client")
        self.assertEqual((ROOT / "docs/openapi.json").read_text(), openapi_text(), "run ./run client")

    def test_examples_are_of_their_format(self) -> None:
        folder = ROOT / "docs/formats"
        AdviceFile.model_validate_json((folder / "advice.example.json").read_text())
        recipe = read_json(RecipeFile, (folder / "recipe.example.json").read_text())
        self.assertIn(recipe.proof.passed_cuts[0], [c.id for c in recipe.evidence.cuts])
        read_json(RowsFile, (folder / "rows.example.json").read_text())
        read_json(OutputProfile, (folder / "profile.example.json").read_text())
        piece = PieceFile.model_validate_json((folder / "piece.example.json").read_text())
        self.assertEqual(piece.pierces, len(piece.contours))
        traced = trace_text((folder / "trace.example.csv").read_bytes(), BesideTrace(6.5, 1.5))
        told = json.loads((folder / "trace_report.example.json").read_text())
        self.assertEqual(json.loads(traced.model_dump_json()), told)
        for line in (folder / "line.example.jsonl").read_text().splitlines():
            of = RunLine if '"run"' in line else TrimLine if '"do"' in line else None
            self.assertTrue(of.model_validate_json(line) if of else read_line(line.encode()))
        part = OwnPartFile.model_validate_json((folder / "own_part.example.json").read_text())
        self.assertEqual(sorted(depths(rings_from_file(part))), [0, 1, 1])


class AdviseCommand(unittest.TestCase):
    def run_it(self, *words: str, text: str = "") -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "orthotome.cli", "advise", *words]
        return subprocess.run(command, input=text, capture_output=True, text=True, check=False)

    def test_stream_answers_each_line_and_goes_on_after_a_bad_one(self) -> None:
        line = json.dumps(json.loads(EXAMPLE))
        done = self.run_it("--stream", "--batch", "3", text=f"{line}\nnonsense\n\n{line}\n")
        first, bad, again = [json.loads(answer) for answer in done.stdout.splitlines()]
        self.assertEqual(first, again)
        self.assertEqual(len(first["next_cuts"]), 3)
        self.assertEqual({*bad}, {"format", "version", "error"})
        self.assertEqual(done.returncode, 0)

    def test_standard_input_and_one_sentence_on_refusal(self) -> None:
        good, bad = self.run_it("-", text=EXAMPLE), self.run_it("-", text=changed("metal", ""))
        self.assertEqual(json.loads(good.stdout)["status"], "keep_cutting")
        self.assertEqual((bad.returncode, bad.stdout), (2, ""))
        self.assertEqual(bad.stderr, "orthotome: metal: must not be empty.\n")
        self.assertEqual(self.run_it("/no/such/file").returncode, 2)


class WearCommand(unittest.TestCase):
    """``orthotome wear``: the published example, and refusals in one sentence."""

    example = (ROOT / "docs/formats/parts_ledger.example.json").read_text()

    def ask(self, text: str) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "orthotome.cli", "wear", "-"]
        return subprocess.run(command, input=text, capture_output=True, text=True, check=False)

    def test_the_example_is_answered_as_published(self) -> None:
        report = json.loads(self.ask(self.example).stdout)
        kept = json.loads((ROOT / "docs/formats/wear_report.example.json").read_text())
        self.assertEqual(report.keys(), kept.keys())
        self.assertEqual(report["verdict"], kept["verdict"])
        self.assertAlmostEqual(report["set_point_now_v"], kept["set_point_now_v"], delta=0.2)
        for end in ("low", "expected", "high"):
            self.assertAlmostEqual(report["starts_left"][end], kept["starts_left"][end], delta=30)

    def test_what_cannot_be_is_refused_by_name_and_a_missing_reading_is_none(self) -> None:
        file = json.loads(self.example)
        file["entries"][3]["starts"] = 100
        bad = self.ask(json.dumps(file))
        self.assertEqual((bad.returncode, bad.stdout), (2, ""))
        self.assertIn("entries[3].starts: starts run backwards (100 after 171)", bad.stderr)
        file["entries"] = [{"starts": 600}]
        self.assertEqual(json.loads(self.ask(json.dumps(file)).stdout)["verdict"], "not_known")
        file["entries"] = []
        self.assertIn("entries: has too few entries", self.ask(json.dumps(file)).stderr)


class SignalPathCommand(unittest.TestCase):
    example = (ROOT / "docs/formats/signal_path.example.json").read_text()

    def ask(self, text: str) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "orthotome.cli", "signal-path", "-"]
        return subprocess.run(command, input=text, capture_output=True, text=True, check=False)

    def test_the_example_is_answered_as_published(self) -> None:
        report = json.loads(self.ask(self.example).stdout)
        kept = (ROOT / "docs/formats/signal_path_report.example.json").read_text()
        self.assertEqual(report, json.loads(kept))
        self.assertEqual(
            [*report],
            [
                "format",
                "version",
                "expected_screen_v",
                "gain",
                "torch",
                "height_error_mm",
                "explanations",
                "cautions",
            ],
        )

    def test_only_foretold_felt_or_refused_in_one_sentence(self) -> None:
        file = json.loads(self.example)
        ahead = json.loads(self.ask(json.dumps({**file, "observed": None})).stdout)
        self.assertEqual((ahead["torch"], ahead["explanations"]), ("holds", []))
        felt = json.loads(self.ask(json.dumps({**file, "observed": {"behaviour": "dives"}})).stdout)
        self.assertEqual(felt["explanations"][0]["stage"], "source")
        for change, words in (
            ({"source_ratio": 0}, "source_ratio: must be more than 0."),
            ({"observed": {"true_v": 130.0}}, "observed: give both true_v and screen_v"),
            ({"slope_v_per_mm": None}, "slope_v_per_mm: must be a number."),
        ):
            done = self.ask(json.dumps({**file, **change}))
            self.assertEqual((done.returncode, done.stdout), (2, ""))
            self.assertIn(words, done.stderr)


class StartCommand(unittest.TestCase):
    rows = (ROOT / "docs/formats/rows.example.csv").read_text()

    def ask(self, *words: str, text: str | None = None) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "orthotome.cli", "start", "--rows", "-", *words]
        given = self.rows if text is None else text
        return subprocess.run(command, input=given, capture_output=True, text=True, check=False)

    def test_interpolated_refused_and_analogue(self) -> None:
        at = ["--set", "70 A plate set", "--thickness-mm"]
        between = json.loads(self.ask("--metal", "mild_steel", *at, "8").stdout)
        self.assertEqual(between, json.loads((ROOT / "docs/formats/start.example.json").read_text()))
        self.assertEqual([r["thickness_mm"] for r in between["from"]], [6.0, 10.0])
        refused = json.loads(self.ask("--metal", "mild_steel", *at, "40").stdout)
        self.assertEqual((refused["how"], refused["values"]), ("refused", None))
        brass = json.loads(self.ask("--metal", "brass", *at, "6").stdout)
        self.assertEqual((brass["how"], brass["values"]["arc_voltage_v"]), ("analogue", None))
        burns = json.loads(self.ask("--metal", "magnesium", *at, "6").stdout)
        self.assertEqual(burns["how"], "refused")
        in_inches = self.rows.replace(",1680,", ",66,")
        self.assertIn(",66,", in_inches)
        doubted = json.loads(self.ask("--metal", "mild_steel", *at, "10", text=in_inches).stdout)
        self.assertIn("left out", doubted["warnings"][0])
        self.assertNotIn(10.0, [r["thickness_mm"] for r in doubted["from"]])

    def test_rows_that_cannot_be_used_name_line_and_column(self) -> None:
        head, first, *_ = self.rows.splitlines()
        cases = [
            (f"{head.replace('kerf_mm', 'kerf')}\n{first}", "the column kerf_mm is missing"),
            (f"{head}\n{first.replace(',0.2,', ',,')}", "line 2: pierce_delay_s is empty"),
            (f"{head}\n{first.replace(',5200,', ',fast,')}", "line 2: speed_mm_min must be a number"),
            (
                f"{head}\n{first.replace(',5200,', ',nan,')}",
                "line 2: speed_mm_min must be a real number",
            ),
        ]
        for text, words in cases:
            with self.subTest(words):
                done = self.ask("--metal", "mild_steel", "--set", "x", "--thickness-mm", "8", text=text)
                self.assertEqual(done.returncode, 2)
                self.assertIn(words, done.stderr)

    def test_rows_are_written_as_they_are_read(self) -> None:
        read = read_rows(self.rows)
        self.assertEqual(read_rows(write_rows(read)), read)
        self.assertGreater(len(read), 10)


if __name__ == "__main__":
    unittest.main()
