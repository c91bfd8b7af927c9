"""Programs read by a small reader that knows RS-274 and nothing of the writer, and cut in shapely."""

import math
import random
import re
import unittest
from collections.abc import Iterator
from dataclasses import dataclass, replace

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from shapely import LineString, Polygon, box, union_all

from orthotome.core.path.on_grid import on_grid
from orthotome.core.path.paths import Arc, Line, length_mm, point_along
from orthotome.core.pieces import Piece
from orthotome.core.quantities import INCH, METRIC, speaking
from orthotome.core.trial.campaign import Campaign
from orthotome.formats.machine.profile import SHIPPED
from orthotome.formats.pieces.gcode import write_gcode
from orthotome.formats.pieces.piece_set import basis_of, piece_of
from tests.formats.test_piece_files import CAMPAIGN, KINDS

Spot = tuple[float, float]


@dataclass(frozen=True)
class Burnt:
    """One stretch with the torch on: its points in mm, and the radii at both ends of each arc."""

    points: list[Spot]
    radii: list[Spot]


def read(program: str) -> Iterator[Burnt]:
    """What a machine would burn. Refuses what a careful controller refuses."""
    state: dict[str, float] = {"X": 0.0, "Y": 0.0}
    scale, burning, modal = 1.0, False, ""
    found = Burnt([], [])
    for line in program.splitlines():
        assert len(line) <= 80, line
        bare = re.sub(r"\(.*?\)|;.*", "", line)
        words = re.findall(r"([A-Z])\s*([-+]?[\d.]+)", bare)
        assert re.sub(r"[A-Z]\s*[-+]?[\d.]+|\s", "", bare) == "", line
        given = {letter: float(number) for letter, number in words if letter not in "GMN"}
        codes = [f"{letter}{float(number):g}" for letter, number in words if letter in "GM"]
        for code in codes:
            scale = {"G20": 25.4, "G21": 1.0}.get(code, scale)
            modal = code if code in ("G0", "G1", "G2", "G3") else modal
            if code == "M3":
                burning, found = True, Burnt([(state["X"] * scale, state["Y"] * scale)], [])
            if code == "M5":
                burning = False
                if len(found.points) > 1:
                    yield found
        if not {"X", "Y"} & given.keys() or "G4" in codes:
            continue
        start = (state["X"] * scale, state["Y"] * scale)
        state |= {k: v for k, v in given.items() if k in "XY"}
        end = (state["X"] * scale, state["Y"] * scale)
        assert not (burning and modal == "G0"), f"a rapid with the torch on: {line}"
        if modal in ("G2", "G3") and burning:
            centre = (start[0] + given["I"] * scale, start[1] + given["J"] * scale)
            found.radii.append((math.dist(start, centre), math.dist(end, centre)))
            found.points.extend(_round(start, end, centre, clockwise=modal == "G2"))
        elif burning:
            found.points.append(end)


def _round(start: Spot, end: Spot, centre: Spot, *, clockwise: bool) -> list[Spot]:
    radius = math.dist(start, centre)
    a, b = (math.atan2(p[1] - centre[1], p[0] - centre[0]) for p in (start, end))
    turn = (a - b if clockwise else b - a) % (2 * math.pi)
    turn = (2 * math.pi if start == end else turn) * (-1 if clockwise else 1)
    count = max(2, math.ceil(abs(turn) / (2 * math.acos(max(0.0, 1 - 0.002 / max(radius, 0.01))))))
    return [
        (
            centre[0] + radius * math.cos(a + turn * i / count),
            centre[1] + radius * math.sin(a + turn * i / count),
        )
        for i in range(1, count)
    ] + [end]


@st.composite
def campaigns(draw: st.DrawFn) -> Campaign:
    """Sheet to plate, slow to fast, either swirl."""
    thickness = draw(st.floats(0.8, 30))
    speed = draw(st.floats(400, 9000))
    start = replace(
        CAMPAIGN.start, kerf_mm=draw(st.floats(0.8, 3)), speed_mm_min=speed, cut_height_mm=1.5
    )
    swirl = draw(st.sampled_from(["clockwise", "counter_clockwise"]))
    limits = replace(CAMPAIGN.limits, speed_mm_min=(0.5 * speed, 2 * speed))
    torch = replace(CAMPAIGN.torch_set, swirl=swirl)
    return replace(CAMPAIGN, thickness_mm=thickness, start=start, torch_set=torch, limits=limits)


def check(case: unittest.TestCase, piece: Piece, program: str, kerf_mm: float) -> None:
    """The program leaves the piece's parts as they are meant, and every arc of it can be run."""
    cuts = list(read(program))
    case.assertEqual(len(cuts), len(piece.contours))
    for cut in cuts:
        for at_start, at_end in cut.radii:
            case.assertLessEqual(abs(at_start - at_end), 0.002)
            case.assertGreater(at_start, 0.001)
    gone = union_all([LineString(c.points).buffer(kerf_mm / 2, quad_segs=24) for c in cuts])
    width, height = piece.plate_mm
    left = box(-50, -50, width + 50, height + 50).difference(gone)
    for part in piece.parts:
        if part.scrap or piece.kind.endswith("ladder"):
            continue
        marks = union_all(
            [
                LineString(s.points).buffer(kerf_mm / 2 + 0.01)
                for c in piece.contours
                for s in c.segments
                if s.kind == "mark"
            ]
        )
        meant = Polygon(part.outline, part.holes).difference(marks)
        case.assertLess(meant.difference(left.buffer(0.01)).area, 0.02, piece.title)


class Read(unittest.TestCase):
    @settings(max_examples=12, suppress_health_check=[HealthCheck.too_slow])
    @given(campaigns(), st.sampled_from(sorted(SHIPPED)))
    def test_every_piece_at_any_setting_leaves_its_part_in_any_profile(
        self, campaign: Campaign, profile: str
    ) -> None:
        for kind in KINDS:
            piece = piece_of(kind, campaign)
            program = write_gcode(piece, campaign.start, profile=SHIPPED[profile])
            check(self, piece, program, campaign.start.kerf_mm)

    def test_an_arc_that_rounds_away_is_no_circle_through_the_part(self) -> None:
        # Three quarters of a round, and what is left of it: 0.0003 mm, which no decimal tells.
        rest = 0.0003 / 0.9
        middle = (0.9 * math.cos(-rest), 0.9 * math.sin(-rest))
        arcs = [Arc((0, 0.9), middle, (0, 0), True), Arc(middle, (0.9, 0), (0, 0), False)]
        written = list(on_grid([*arcs, Line((0.9, 0), (0.9, -5))], 1e-3))
        self.assertEqual([type(m) for m in written], [Arc, Line])
        self.assertEqual(written[0].end, written[1].start)
        whole = Arc((0.9, 0), (0.9, 0), (0, 0), True)
        self.assertEqual(list(on_grid([whole], 1e-3)), [whole])

    def test_the_middle_of_an_arc_stays_where_it_was_on_the_grid(self) -> None:
        """Of slots at any angle: ends that are rounded leave the middle within a thousandth or so, and radii a controller takes."""
        rng, off, unequal = random.Random(3), [], []
        for turn in [177.3, *(rng.uniform(0, 360) for _ in range(800))]:
            (x, y), r, at = (
                (rng.uniform(0, 500), rng.uniform(0, 500)),
                rng.uniform(2, 60),
                math.radians(turn),
            )
            dx, dy = r * math.cos(at), r * math.sin(at)
            drawn = Arc((x + dx, y + dy), (x - dx, y - dy), (x, y), clockwise=False)
            (written,) = on_grid([drawn], 1e-3)
            assert isinstance(written, Arc)
            was, now = (point_along(m, length_mm(m) / 2) for m in (drawn, written))
            off.append(math.dist(was, now))
            unequal.append(
                abs(math.dist(written.start, written.centre) - math.dist(written.end, written.centre))
            )
        self.assertLess(max(off), 1.4e-3)
        self.assertLess(sorted(off)[int(0.95 * len(off))], 1.0e-3)
        self.assertLess(max(unequal), 2e-3)

    def test_before_anything_moves_the_controllers_state_is_said(self) -> None:
        piece = piece_of("square", CAMPAIGN)
        for name, profile in SHIPPED.items():
            with self.subTest(name):
                program = write_gcode(piece, CAMPAIGN.start, profile=profile)
                words = re.sub(r"\(.*?\)", "", program).split()
                before = words[: words.index("G0")]
                wanted = {"G17", "G40", "G90", "G94", "G21" if profile.units == "mm" else "G20"}
                self.assertLessEqual(
                    wanted | ({"G91.1"} if profile.arcs == "centre" else set()), set(before)
                )
                # Down to the cut height slower than it cuts.
                down = re.search(r"G1 Z\S+ F(\S+)", program)
                if profile.sets_height:
                    assert down is not None
                    self.assertLessEqual(float(down[1]) / profile.per_mm, 1500.01)

    def test_an_inch_program_speaks_inches_and_says_what_is_already_in_it(self) -> None:
        start = replace(CAMPAIGN.start, speed_mm_min=75 * 25.4, cut_height_mm=0.060 * 25.4)
        campaign = replace(CAMPAIGN, start=start)
        for kind in KINDS:
            with self.subTest(kind), speaking(INCH):
                piece = piece_of(kind, campaign)
                program = write_gcode(
                    piece, start, profile=SHIPPED["inch"], volts_at=lambda _: (128.0, 2.0)
                )
                said = " ".join(re.findall(r"\((.*?)\)", program))
                self.assertNotRegex(said, r"\bmm\b")
                self.assertIn("Arc voltage: 128.0 +- 2.0 V to be seen", said)
                self.assertIn("is already in the path", said)
        with speaking(INCH):
            square = write_gcode(piece_of("square", campaign), start, profile=SHIPPED["inch"])
            stubs = write_gcode(piece_of("pierce_ladder", campaign), start, profile=SHIPPED["inch"])
        self.assertIn("75 in/min at 0.060 in", square)
        self.assertRegex(square, r"G1 X\S+ Y\S+ F75\n")
        self.assertIn("stub 3: 0.5 s", stubs)
        with speaking(METRIC):
            self.assertEqual(basis_of(CAMPAIGN).speed_mm_min, 2100)


if __name__ == "__main__":
    unittest.main()
