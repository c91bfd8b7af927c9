"""Sick from normal: what is far from usual for a set is looked for in the parts, the height and the signal first."""

import unittest
from dataclasses import replace

from orthotome.core.trial.campaign import Campaign, Cut, EdgeReading, Limits, Series, Target
from orthotome.core.trial.usual import is_far, not_usual, usual_bevel
from orthotome.core.tuner.advise import advise
from orthotome.sim.table import SimulatedTable
from tests.enough import note
from tests.jobs import PLATE_JOB

_NOT_THE_DIALS = {"speed_effect_deg": 0.5, "height_effect_deg_mm": 0.4, "lean_deg": 0.0, "oval_deg": 0.0}


def square(number: int, level: float, speed: float = 2100, height: float = 1.5, **more: object) -> Cut:
    """A square whose good side lies at one angle all round; volts and kerf are the row's."""
    off = (0.2, -0.1, 0.1, -0.2)
    edges = tuple(
        EdgeReading("right", 90.0 * i, round(level + e, 1), 0.4, "angle_gauge")
        for i, e in enumerate(off)
    )
    plain = Cut(
        f"c{number}", "square", speed, height, 128.0, starts=number, through="full", edges=edges, dross=(), kerf_mm=1.8
    )  # fmt: skip
    return replace(plain, **more)  # type: ignore[arg-type]


def said(job: Campaign, *cuts: Cut) -> list[str]:
    return [n.what for n in not_usual(replace(job, cuts=cuts))]


class BeforeTheTarget(unittest.TestCase):
    """A torch whose edges stay at 6 degrees whatever is dialled."""

    def follow(self, job: Campaign, parts: str = "p1") -> Campaign:
        """What is asked for is cut, until something else than a cut is asked."""
        table = SimulatedTable.from_seed(4, job.start, 8.0, **_NOT_THE_DIALS, bevel_wear_deg_per_100=6.0)
        while (advice := advise(job)).status == "keep_cutting" and len(job.cuts) < 12:
            asked, number = advice.next_cuts[0], len(job.cuts) + 1
            cut = table.cut(number, "square", asked.speed_mm_min, asked.cut_height_mm, starts=100)
            cut = replace(cut, dross=(), through="full", series=Series(parts=parts))
            job = replace(job, cuts=(*job.cuts, cut), series_now=None)
        return job

    def test_one_far_cut_then_the_parts_and_the_target_last_of_all(self) -> None:
        one = replace(PLATE_JOB, cuts=(square(1, 6.4),))
        first = advise(one)
        self.assertEqual(first.status, "keep_cutting")
        (sick,) = (f for f in first.findings if f.code == "not_usual")
        self.assertIn("6.4° on the good side", sick.why)
        self.assertRegex(sick.why, "nozzle.* height of the first touch.* volts")
        job = self.follow(PLATE_JOB)
        self.assertEqual(sum(is_far(c, job.start) for c in job.cuts), 1, [c.id for c in job.cuts])
        ended = advise(job)
        assert ended.hand_off is not None
        self.assertEqual((ended.status, ended.hand_off.code), ("hand_off", "worn_parts"))
        self.assertIn("before the target is given up", ended.hand_off.why)
        anew = self.follow(replace(job, series_now=Series(parts="p2")), "p2")
        self.assertGreater(len(anew.cuts), len(job.cuts))
        last = advise(anew).hand_off
        assert last is not None
        self.assertEqual(last.code, "target_too_tight")
        self.assertIn("height of the first touch", last.why)

    def test_the_far_cut_says_why_it_is_far_and_stays_inside_the_limits(self) -> None:
        flat = (square(1, 6.4, kerf_mm=None), square(2, 6.4, 1700, 1.2))
        asked = advise(replace(PLATE_JOB, target=Target(1.0), cuts=flat)).next_cuts[0]
        self.assertTrue(is_far(asked, PLATE_JOB.start))
        self.assertTrue(PLATE_JOB.limits.hold(asked))
        self.assertIn("Far from the others on purpose", asked.why)

    def test_where_the_limits_leave_nothing_far_off_it_ends_all_the_same(self) -> None:
        narrow = replace(PLATE_JOB, limits=Limits((1900, 2300), (1.3, 1.7)))
        job = self.follow(narrow)
        self.assertLess(len(job.cuts), 8)
        self.assertEqual(advise(job).status, "hand_off")

    def test_the_good_side_alone_is_proposed_only_to_who_judges_both(self) -> None:
        both = replace(PLATE_JOB, target=Target(1.0, "both"))
        table = SimulatedTable.from_seed(1, both.start, 8.0, swirl_deg=2.0)
        cuts = tuple(table.cut(n, "square", 2100, 1.5, scrap_edges=4) for n in range(1, 4))
        handed = advise(replace(both, cuts=cuts)).hand_off
        assert handed is not None
        self.assertIn("judge the good side only", handed.why)
        good = self.follow(replace(self.follow(PLATE_JOB), series_now=Series(parts="p2")), "p2")
        self.assertNotIn("good side only", str(advise(good).hand_off))


class Usual(unittest.TestCase):
    def test_twice_the_usual_is_sick_and_less_is_not(self) -> None:
        # 2.5 degrees are usual of plate: 5.0 and the readings' own sigma (0.4 / 2) are the line.
        for level, sick in ((6.4, True), (-6.4, True), (5.3, True), (5.1, False), (2.0, False)):
            self.assertEqual(said(PLATE_JOB, square(1, level)), ["bevel"] * sick, level)
        thin = replace(PLATE_JOB, thickness_mm=1.5)
        self.assertEqual(said(thin, square(1, 6.4)), [])

    def test_what_the_shop_began_at_before_is_what_is_usual_there(self) -> None:
        earlier = tuple(replace(PLATE_JOB, cuts=(square(1, level),)) for level in (3.6, -3.8))
        self.assertAlmostEqual(usual_bevel(replace(PLATE_JOB, history=earlier))[0], 3.7)
        self.assertEqual(said(replace(PLATE_JOB, history=earlier), square(1, 6.4)), [])
        of_others = tuple(replace(e, torch_set=replace(e.torch_set, name="other")) for e in earlier)
        self.assertEqual(said(replace(PLATE_JOB, history=of_others), square(1, 6.4)), ["bevel"])

    def test_nothing_is_said_where_nothing_is_usual(self) -> None:
        far_off = square(1, 6.4, 1300)
        two_edges = replace(square(1, 6.4), edges=square(1, 6.4).edges[:2])
        held = square(1, 6.4, height_control="set_point", arc_voltage_v=150.0)
        on_old_parts = (
            square(1, 6.4, series=Series(parts="p1")),
            square(2, 1.0, series=Series(parts="p2")),
        )
        for cuts in ((far_off,), (two_edges,), (held,), on_old_parts):
            self.assertEqual(said(PLATE_JOB, *cuts), [])
        unlisted = replace(PLATE_JOB, metal="copper", start_how="analogue")
        self.assertEqual(said(unlisted, square(1, 6.4)), [])

    def test_volts_far_from_the_row_at_a_set_height(self) -> None:
        # 6.5 V a millimetre: 128 + 6.5 * 0.3 = 130 V are the row's at 1.8 mm, so that 141 is 11 above.
        self.assertEqual(said(PLATE_JOB, square(1, 1.0, height=1.8, arc_voltage_v=141.0)), ["volts"])
        self.assertEqual(said(PLATE_JOB, square(1, 1.0, height=1.8, arc_voltage_v=139.0)), [])
        (low,) = not_usual(replace(PLATE_JOB, cuts=(square(1, 1.0, arc_voltage_v=112.0),)))
        self.assertIn("16 V below what it was begun with", low.sentence)

    def test_a_kerf_far_from_the_row_that_was_read_twice(self) -> None:
        wide = {"kerf_mm": 3.2}
        self.assertEqual(said(PLATE_JOB, square(1, 1.0, **wide)), [])
        self.assertEqual(said(PLATE_JOB, square(1, 1.0, **wide), square(2, 1.0, **wide)), ["kerf"])

    def test_sound_tables_are_seldom_called_sick(self) -> None:
        called = 0
        for seed in range(60):
            table = SimulatedTable.from_seed(500 + seed, PLATE_JOB.start, 8.0)
            called += bool(said(PLATE_JOB, table.cut(1, "square", 2100, 1.5, starts=5)))
        note("Sound tables whose first square is called not usual", str(called), 60, "at most 6")
        self.assertLessEqual(called, 6)
