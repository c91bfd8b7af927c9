"""Programs: recognised as what they are, every fault found and no other, put right without moving a part, never a crash."""

import json
import random
import re
import unittest
from dataclasses import replace
from functools import cache
from pathlib import Path

from shapely import Polygon

from orthotome.core.book.start_rows import StartValues
from orthotome.core.errors import TradeError
from orthotome.core.machine.axis_map import FRAME
from orthotome.core.path.paths import length_mm
from orthotome.core.programs.check import Checked, check
from orthotome.core.programs.checked_against import CheckedAgainst, PlateJob, Table
from orthotome.core.programs.corrections import WITHOUT_JUDGEMENT
from orthotome.core.programs.findings import TITLES
from orthotome.core.programs.program import FEED, KIND, RAPID
from orthotome.core.programs.remade import WITH_JUDGEMENT, Remake, remake_for
from orthotome.formats.machine.profile import SHIPPED, OutputProfile
from orthotome.formats.pieces.drawing import read_drawing
from orthotome.formats.pieces.piece_set import piece_files, piece_of
from orthotome.formats.programs.checking import Given, check_file
from orthotome.formats.programs.correcting import corrected
from orthotome.formats.programs.remaking import rewritten
from orthotome.formats.programs.rs274 import NoProgram, read_program
from orthotome.formats.trial.campaign import read_campaign
from tests.enough import Share, cases, while_new
from tests.programs import making
from tests.programs.damaging import damaged

EXAMPLES = Path(__file__).parents[2] / "docs/formats"

CODES = tuple(c for c in TITLES if c != "height_differs")
# What a fault cannot help bringing with it; None is anything.
ALONG: dict[str, set[str] | None] = {
    "unit_suspect": None,
    "units_mixed": None,
    "rapid_with_torch_on": None,
    "off_sheet": {"ends_off_plate"},
    "part_not_on_sheet_zero": {"ends_off_plate"},
    "no_kerf_compensation": {"lead_in_short"},
    "kerf_wrong_side": {"lead_in_short", "hole_too_small"},
    "too_fast_for_table": {"never_at_speed", "arc_too_small"},
    "pierce_too_thick": {"hole_too_small", "overrun_missing"},
}


def against(job: making.Job) -> CheckedAgainst:
    """What a made job is checked against."""
    start = StartValues(making.SPEED, 128, making.CUT_Z, making.PIERCE_Z, making.DELAY, making.KERF)
    setting = PlateJob(job.thickness, start, making.AMPS, "clockwise")
    table = Table(making.ACCELERATION, job.fastest, job.ramp_down)
    return CheckedAgainst(setting, table, job.sheet, read_drawing(making.svg(job)).rings)


def checked(job: making.Job, dialect: making.Dialect) -> Checked:
    """A made job, written and read."""
    text = making.written(job, dialect).encode()
    return check(read_program(text, SHIPPED[dialect.profile]), against(job))


def dialect_for(seed: int, codes: list[str]) -> making.Dialect:
    """A dialect that can have these faults."""
    if "control_on_in_hole" in codes:
        return making.DIALECTS[2 + seed % 2]
    found = making.DIALECTS[seed % len(making.DIALECTS)]
    return making.DIALECTS[0] if found.no_heights and "below_plate" in codes else found


class Recognised(unittest.TestCase):
    """Random parts with random leads, in nine dialects."""

    def test_every_contour_is_what_it_was_meant_to_be_and_nothing_is_found(self) -> None:
        for seed in cases(27, 108):
            dialect = making.DIALECTS[seed % len(making.DIALECTS)]
            job = making.made(random.Random(seed))
            found = checked(job, dialect)
            with self.subTest(seed=seed, dialect=dialect.name):
                self.assertEqual([p.why for p in found.problems], [])
                self.assertEqual(len(found.contours), len(job.cuts))
                for is_, meant in zip(found.contours, job.cuts, strict=True):
                    self.assertEqual((is_.kind, is_.turns == "clockwise"), (meant.kind, meant.clockwise))
                    self.assertEqual(is_.kept_side, "right")
                    for k in (0, 1):
                        self.assertAlmostEqual(is_.size_mm[k], meant.size[k], delta=0.05)
                    self.assertAlmostEqual(is_.lead_in_mm, meant.lead_mm, delta=0.1)
                    self.assertAlmostEqual(is_.overrun_mm, meant.overrun_mm, delta=0.2)
                    self.assertAlmostEqual(is_.feed_mm_min, meant.feed, delta=2)

    def test_a_trials_own_pieces_pass_in_every_profile(self) -> None:
        campaign = read_campaign((EXAMPLES / "campaign.example.json").read_bytes())
        torch = campaign.torch_set
        job = PlateJob(campaign.thickness_mm, campaign.start, torch.amperage_a, torch.swirl)
        kinds = (
            "strip_ladder",
            "height_ladder",
            "pierce_ladder",
            "square",
            "round",
            "holes",
            "corner",
            "long_strip",
        )
        for profile in SHIPPED.values():
            for kind in kinds:
                files = piece_files(piece_of(kind, campaign), campaign, profile)
                for name in ("piece.nc", "piece-dry.nc"):
                    found = check(read_program(files[name], profile), CheckedAgainst(job))
                    self.assertEqual([p.why for p in found.problems], [], (profile.name, kind, name))
                if profile.sets_height:
                    said = json.loads(files["piece.json"])["seconds"]
                    real = check(
                        read_program(files["piece.nc"], profile), CheckedAgainst(job)
                    ).time.seconds
                    self.assertAlmostEqual(real, said, delta=0.05 * said, msg=f"{profile.name} {kind}")

    def test_a_part_of_curves_is_cut_in_arcs_at_speed_and_nothing_is_found(self) -> None:
        campaign = read_campaign((EXAMPLES / "campaign.example.json").read_bytes())
        torch = campaign.torch_set
        job = PlateJob(campaign.thickness_mm, campaign.start, torch.amperage_a, torch.swirl)
        curves = (
            '<ellipse cx="200" cy="150" rx="150" ry="60"/>',
            '<g transform="rotate(23)"><ellipse cx="300" cy="60" rx="140" ry="70"/></g>',
            '<path d="M80 60 C 160 -20 300 120 340 40 C 420 90 300 260 220 240 C 120 260 20 160 80 60 Z"/>',
        )
        for profile in SHIPPED.values():
            for curve in curves:
                drawing = f'<svg xmlns="http://www.w3.org/2000/svg" width="500mm" height="400mm" viewBox="0 0 500 400">{curve}</svg>'
                rings = read_drawing(drawing.encode()).rings
                piece = piece_of("own_part", campaign, own=("curve", rings))
                text = piece_files(piece, campaign, profile)["piece.nc"]
                found = check(read_program(text, profile), CheckedAgainst(job))
                with self.subTest(profile.name, curve=curve):
                    self.assertEqual([p.why for p in found.problems], [])
                    self.assertGreater(found.time.share_at_speed[0], 0.95)
                    self.assertLess(text.count(b"\n"), 150 if profile.arcs == "centre" else 2000)
                    lengths = [length_mm(m) for c in piece.contours for s in c.segments for m in s.moves]
                    self.assertGreater(min(lengths), 0.1)

    def test_a_compensated_contour_tells_its_side_by_the_controllers_words(self) -> None:
        square = "G21 G90\nG0 X-8 Y0\nM3\nG4 P0.5\n{side}\nG1 X0 Y0 F2400\n{corners}\nG40\nM5\nM30\n"
        clockwise = "X0 Y50\nX80 Y50\nX80 Y0\nX0 Y0\nX0 Y2"
        job = against(making.made(random.Random(1)))
        bare = CheckedAgainst(job.job, job.table)

        def codes(side: str) -> set[str]:
            text = square.format(side=side, corners=clockwise).encode()
            return {p.code for p in check(read_program(text, SHIPPED["metric"]), bare).problems}

        self.assertNotIn("kerf_wrong_side", codes("G41 D1"))
        self.assertIn("kerf_wrong_side", codes("G42 D1"))
        untold = check(
            read_program(square.format(side="", corners=clockwise).encode(), SHIPPED["metric"]), bare
        )
        self.assertTrue(any("kerf" in said for said in untold.cannot_tell))


class Found(unittest.TestCase):
    """Faults put in on purpose."""

    def test_each_code_is_found_where_it_is_and_alone(self) -> None:
        for n, code in enumerate(CODES):
            for seed in (n, 100 + n):
                dialect = dialect_for(seed, [code])
                job = making.faulty(random.Random(1000 + seed), (code,), dialect)
                got = {p.code for p in checked(job, dialect).problems}
                with self.subTest(code=code, dialect=dialect.name):
                    self.assertIn(code, got)
                    allowed = ALONG.get(code, set())
                    if allowed is not None:
                        self.assertLessEqual(got, {code} | allowed)

    def test_of_five_hundred_programs_with_up_to_three_faults_few_are_missed_and_few_made_up(
        self,
    ) -> None:
        @cache
        def missed_and_made_up(seed: int) -> tuple[set[str], set[str]]:
            rng = random.Random(5000 + seed)
            codes = set(drawn := rng.sample(CODES, rng.randint(0, 3)))
            dialect = dialect_for(seed, drawn)
            got = {p.code for p in checked(making.faulty(rng, tuple(drawn), dialect), dialect).problems}
            along = [ALONG.get(c, set()) for c in codes]
            made_up = set() if None in along else got - codes - set().union(*(a for a in along if a))
            return codes - got, made_up

        bounds = {"refuted_below": 0.85, "at_least": 0.95, "most": 500}
        none_missed = Share("Programs with up to three faults of which none is missed", 0.97, **bounds)  # type: ignore[arg-type]
        none_made_up = Share("Such programs in which nothing else is found", 0.99, **bounds)  # type: ignore[arg-type]
        none_missed.decide(self, lambda seed: not missed_and_made_up(seed)[0])
        none_made_up.decide(self, lambda seed: not missed_and_made_up(seed)[1])

    def test_a_pierce_height_in_inches_is_suspected_and_never_called_a_height(self) -> None:
        dialect = making.Dialect()
        text = making.written(making.made(random.Random(3)), dialect).replace("Z3.800", "Z0.150")
        codes = {
            p.code
            for p in check(
                read_program(text.encode(), SHIPPED["metric"]), against(making.made(random.Random(3)))
            ).problems
        }
        self.assertEqual(codes, {"unit_suspect"})


def strays(found: Checked, job: making.Job) -> float:
    """How far the kept edge of any hole or window lies from the drawing, when it is cut in shapely."""
    worst = 0.0
    rings = [Polygon(r) for r in job.nominal]
    for contour in found.contours:
        if contour.kind == "outside":
            continue
        edge = Polygon(contour.loop).buffer(making.KERF / 2, join_style="mitre", quad_segs=64)
        nearest = min(rings, key=lambda r: r.centroid.distance(edge.centroid))
        worst = max(worst, edge.exterior.hausdorff_distance(nearest.exterior))
    return worst


class PutRight(unittest.TestCase):
    """Corrections that need no judgement."""

    def test_the_copy_checks_clean_and_its_parts_are_the_drawings(self) -> None:
        wide = 0.0
        for seed in cases(24, 72):
            rng = random.Random(7000 + seed)
            codes = rng.sample(sorted(WITHOUT_JUDGEMENT), rng.randint(1, 3))
            # A program with sub-programs or loops is left as it is: a line of it stands for several cuts.
            dialect = dialect_for(seed % 8, codes)
            job = making.faulty(rng, tuple(codes), dialect)
            text = making.written(job, dialect).encode()
            copy = corrected(text, SHIPPED[dialect.profile], against(job))
            with self.subTest(seed=seed, codes=codes, dialect=dialect.name):
                self.assertTrue(copy.written)
                self.assertEqual([(p.code, p.line) for p in copy.checked.problems], [])
                wide = max(wide, strays(copy.checked, job))
        self.assertLess(wide, 0.02)

    def test_what_was_changed_is_marked_and_the_rest_is_as_it_came(self) -> None:
        dialect = making.Dialect()
        job = making.faulty(random.Random(11), ("feed_differs", "torch_never_off"), dialect)
        text = making.written(job, dialect)
        copy = corrected(text.encode(), SHIPPED["metric"], against(job))
        changed = [line for line in copy.content.decode().splitlines() if line not in text.splitlines()]
        self.assertTrue(changed)
        self.assertTrue(all("Orthotome" in line for line in changed), changed)
        self.assertEqual(len(copy.written), len(changed))

    def test_a_loop_is_left_alone(self) -> None:
        job = making.faulty(random.Random(5), ("feed_differs",), making.DIALECTS[8])
        text = making.written(job, making.DIALECTS[8]).encode()
        self.assertEqual(corrected(text, SHIPPED["metric"], against(job)).content, text)


class CutOtherwise(unittest.TestCase):
    """What needs judgement: the other way round, the kerf into the scrap, another lead-in."""

    def test_what_is_written_is_what_was_drawn_and_leaves_the_drawings_parts(self) -> None:
        codes = sorted(WITH_JUDGEMENT)
        for seed in cases(16, 40):
            dialect = making.DIALECTS[seed % 8]
            job = making.faulty(random.Random(seed), (codes[seed % len(codes)],), dialect)
            text, held = making.written(job, dialect).encode(), against(job)
            found = check(read_program(text, SHIPPED[dialect.profile]), held)
            assert held.job is not None
            asked = [
                wanted
                for p in found.problems
                if p.contour is not None and (wanted := remake_for(p.code, p.contour, held.job))
            ]
            copy = rewritten(text, SHIPPED[dialect.profile], held, FRAME, asked)
            with self.subTest(seed=seed, code=codes[seed % len(codes)], dialect=dialect.name):
                self.assertTrue(asked)
                self.assertEqual([(p.code, p.line, p.why) for p in copy.checked.problems], [])
                self.assertLess(strays(copy.checked, job), 0.02)
                self.assertIn("cut otherwise", copy.content.decode().lower())

    def test_what_cannot_be_cut_otherwise_is_refused_in_a_sentence(self) -> None:
        dialect = making.DIALECTS[8]
        job = making.faulty(random.Random(3), ("against_swirl",), dialect)
        text = making.written(job, dialect).encode()
        with self.assertRaises(TradeError) as loops:
            rewritten(text, SHIPPED["metric"], against(job), FRAME, [Remake(0, turned=True)])
        self.assertIn("sub-programs", loops.exception.sentence)
        crowded = making.made(random.Random(6))
        outer = next(i for i, c in enumerate(crowded.cuts) if c.kind == "outside")
        x, y = crowded.cuts[outer].steps[0][1:3]  # where the contour begins, with slits all round it
        slits = [((x + d, y - 30), (x + d, y + 30)) for d in (-4.0, 4.0)]
        slits += [((x - 30, y + d), (x + 30, y + d)) for d in (-4.0, 4.0)]
        crowded.cuts[outer:outer] = [
            replace(crowded.cuts[0], kind="open", start=begin, steps=[("1", *end, 0.0, 0.0)])
            for begin, end in slits
        ]
        text = making.written(crowded, making.Dialect()).encode()
        with self.assertRaises(TradeError) as room:
            wanted = [Remake(outer + len(slits), new_lead=True)]
            rewritten(text, SHIPPED["metric"], against(crowded), FRAME, wanted)
        self.assertIn("no room", room.exception.sentence)


class Read(unittest.TestCase):
    """Bad input, and dialects by hand."""

    def refused(self, content: bytes, *words: str) -> None:
        with self.assertRaises(NoProgram) as refusal:
            read_program(content, SHIPPED["metric"])
        for word in words:
            self.assertIn(word, str(refusal.exception))

    def test_what_is_no_program_is_refused_in_a_sentence(self) -> None:
        self.refused(b"", "empty")
        self.refused(bytes(range(256)) * 20, "binary")
        self.refused(b"0\nSECTION\n2\nHEADER\n", "drawing")
        self.refused(b"<svg xmlns='http://www.w3.org/2000/svg'/>", "drawing")
        self.refused(b"Dear sir,\nplease cut this.\n", "No motion", "Line 1")
        self.refused(b"O1 WHILE [1 GT 0]\nG1 X1 F10\nO1 ENDWHILE\n", "does not end", "Line")

    def test_a_feed_is_in_the_unit_that_its_own_line_sets(self) -> None:
        text = b"G20 G90\nG0 X0 Y0\nM3\nG1 X1 F100\nG21 F1500\nG1 X50\nG20 F10\nG1 X3\nM5\nM30\n"
        motions = read_program(text, SHIPPED["metric"]).motions
        fed = [row[FEED] for row in motions if row[KIND] != RAPID]
        self.assertEqual([round(float(f), 3) for f in fed], [2540.0, 1500.0, 254.0])

    def test_a_line_that_is_not_understood_is_named(self) -> None:
        text = b"G21 G90\nG0 X0 Y0\nFIRE THE LASER\nM3\nG1 X50 Y?? F2000\nG2 X9 Y9 I5 J0\nG1 X2000000\nM5\nM30\n"
        found = read_program(text, SHIPPED["metric"])
        self.assertEqual([u.line for u in found.unread], [3, 5, 6, 7])
        self.assertIn("radius", found.unread[2].why)
        self.assertIn("no table is so large", found.unread[3].why)

    def test_the_words_of_a_tables_own_profile_are_known(self) -> None:
        own = OutputProfile(
            name="own",
            torch_on="M64 P0",
            torch_off="M65 P0",
            touch_off=("PROBE DOWN", "M110 P2", "G38.2 Z-20 F300", "G92 Z0"),
        )
        text = (
            b"O1000\nG21 G90\nG0 X5 Y5\nprobe down\nM110 P2\nG38.2 Z-20 F300\nG92 Z0\nG0 Z3.8\nM64P0\nG4P.5\n"
            b"G1 Z1.5 F900\nG1 X50 F2000\nM65 P0\nM30\n"
        )
        found = read_program(text, own)
        self.assertEqual(found.unread, ())
        self.assertTrue(found.straight_through)  # a program's own number is no sub-program
        cut = check(found, CheckedAgainst()).contours[0]
        self.assertEqual(
            (cut.run.pierce_height_mm, cut.run.cut_height_mm, cut.run.delay_s), (3.8, 1.5, 0.5)
        )
        self.assertGreater(len(read_program(text, SHIPPED["metric"]).unread), 0)

    def test_variables_sub_programs_and_conditions_run_as_a_controller_runs_them(self) -> None:
        text = (
            b"#1=0\n#<step>=[2*5]\nO100 WHILE [#1 LT 3]\nG0 X[#1*#<step>] Y0\nM98 P7\n#1=[#1+1]\nO100 ENDWHILE\n"
            b"IF [#1 EQ 3] GOTO 90\nG0 X999\nN90 G0 X[SQRT[81]] Y-[1+1]\nM30\nO7\nG91\nG1 Y5 F100\nG90\nM99\n"
        )
        found = read_program(text, SHIPPED["metric"]).motions
        ends = [(float(m[4]), float(m[5])) for m in found]
        self.assertEqual(ends, [(0, 5), (10, 0), (10, 5), (20, 0), (20, 5), (9, -2)])

    def test_damaged_programs_are_read_or_refused(self) -> None:
        base = []
        for seed in range(27):
            dialect = making.DIALECTS[seed % len(making.DIALECTS)]
            job = making.made(random.Random(seed))
            job.cuts = job.cuts[-2:]
            base.append((making.written(job, dialect).encode(), dialect.profile, against(job)))

        def outcome(seed: int) -> str:
            text, profile, held = base[seed % len(base)]
            try:
                check(read_program(damaged(random.Random(seed), text), SHIPPED[profile]), held)
            except NoProgram as why:
                self.assertRegex(str(why), r"^[A-Z].*\.$")
                return re.sub(r"\d+|“.*?”", "…", str(why))
            return "read"

        found = while_new("Damaged programs", outcome, patience=150, most=1500)
        self.assertGreater(len(found), 3, found)

    def test_the_commands_report_is_the_contracts(self) -> None:
        text = making.written(making.made(random.Random(2)), making.Dialect()).encode()
        campaign = (EXAMPLES / "campaign.example.json").read_bytes()
        report, copy = check_file(text, Given(campaign=campaign, sheet_mm=(2000, 1000)), write=True)
        self.assertEqual(
            (report.format, report.version, report.units), ("orthotome.program_report", 1, "mm")
        )
        self.assertIsNotNone(report.written)
        self.assertNotEqual(copy, text)  # made for another setting: feeds are put right
        self.assertTrue(any(f.code == "amperage_differs" for f in report.findings))

    def test_the_published_example_is_what_the_command_answers(self) -> None:
        campaign = (EXAMPLES / "campaign.example.json").read_bytes()
        given = Given(campaign=campaign, sheet_mm=(900, 420))
        report, _ = check_file((EXAMPLES / "program.example.nc").read_bytes(), given)
        published = json.loads((EXAMPLES / "program_report.example.json").read_text())
        self.assertEqual(json.loads(report.model_dump_json()), published)
