"""The tuner's parts, each against an independent way of getting the same answer."""

import unittest
from dataclasses import replace
from itertools import pairwise

import numpy as np

from orthotome.core.book.start_rows import StartingNumbers
from orthotome.core.edge.edges import lean_bevel_deg, outward_normal_deg
from orthotome.core.errors import TradeError
from orthotome.core.pieces import ladder_speeds
from orthotome.core.setting import Setting
from orthotome.core.trial.campaign import Cut, Dross, EdgeReading, Limits, Series
from orthotome.core.trial.opening import are_the_rows, check_limits, default_limits, dialled_start
from orthotome.core.tuner import priors
from orthotome.core.tuner.advise import judge
from orthotome.core.tuner.beliefs import trade_beliefs
from orthotome.core.tuner.bevel_model import BevelModel
from orthotome.core.tuner.chances import Candidates, candidates_within, on_dial
from orthotome.core.tuner.dross_model import DrossModel
from orthotome.core.tuner.evidence import bevel_parts, chance_map, proofs
from orthotome.core.tuner.history import learned_from
from orthotome.core.tuner.unknowns import LEAN_X, LEAN_Y, SWIRL, TWO_C, TWO_S
from orthotome.core.tuner.voltage_model import VoltageModel, cut_heights_mm
from tests.jobs import PLATE_JOB, PLATE_START

HEADINGS = (0.0, 90.0, 180.0, 270.0)


def square(  # type: ignore[no-untyped-def]
    number: int,
    process: float,
    speed: float = 2100,
    height: float = 1.5,
    lean: tuple[float, float] = (1.5, 60.0),
    **more,
) -> Cut:
    """A square whose readings are exactly swirl 1, that lean (degrees, toward), and ``process``."""
    edges = []
    for side, sign in (("right", -1), ("left", 1)):
        for heading in HEADINGS:
            tilt = lean_bevel_deg(*lean, outward_normal_deg(side, heading))  # type: ignore[arg-type]
            edges.append(EdgeReading(side, heading, process + sign + tilt, 0.3))  # type: ignore[arg-type]
    return Cut(f"c{number}", "square", speed, height, edges=tuple(edges), **more)


def model_of(*cuts: Cut) -> BevelModel:
    campaign = replace(PLATE_JOB, cuts=cuts)
    heights = cut_heights_mm(campaign, VoltageModel(campaign))
    return BevelModel(campaign, *heights, trade_beliefs(campaign))


def prior_of(model: BevelModel, torch: str) -> np.ndarray:
    """Prior covariance of the unknowns under how the torch is: kept, knocked (lean wide), oval (two-fold wide)."""
    sd = model.prior_sd.copy()
    if torch == "knocked":
        sd[[LEAN_X, LEAN_Y]] = 2.2
    if torch == "oval":
        sd[[TWO_C, TWO_S]] = 2.0
    return np.diag(sd**2)


class Bevel(unittest.TestCase):
    def test_posterior_is_that_of_the_whole_covariance_written_out(self) -> None:
        model = model_of(square(1, 2.0), square(2, 1.2, 1900, 1.3))
        r = model.readings
        for h in model.hypotheses:
            own = np.diag((h.spreads.gauge * r.u_deg) ** 2 + h.spreads.edge_deg**2 + 3.6**2 * h.wild)
            shared = h.spreads.cut_deg**2 * (r.cut[:, None] == r.cut[None, :])
            prior = prior_of(model, h.torch)
            gain = prior @ r.rows.T @ np.linalg.inv(r.rows @ prior @ r.rows.T + own + shared)
            mean = model.prior_mean + gain @ (r.bevel_deg - r.rows @ model.prior_mean)
            covariance = prior - gain @ r.rows @ prior
            np.testing.assert_allclose(h.mean, mean, atol=1e-8)
            np.testing.assert_allclose(h.root @ h.root.T, covariance, atol=1e-8)

    def test_weights_are_the_evidence_of_each_hypothesis(self) -> None:
        """Spreads, gauge, and which readings are wild, against the likelihood of all readings at once."""
        wild = square(2, 2.9)
        wild = replace(wild, edges=(replace(wild.edges[0], bevel_deg=8.0), *wild.edges[1:]))
        model = model_of(square(1, 2.0), wild)
        r, logs = model.readings, []
        grids = (priors.CUT_SPREAD_DEG, priors.EDGE_SPREAD_DEG, priors.GAUGE)
        weight = [dict(g) for g in grids]
        share = {"kept": 0.8, "knocked": 0.12, "oval": 0.08}
        for h in model.hypotheses:
            s = h.spreads
            shared = s.cut_deg**2 * (r.cut[:, None] == r.cut[None, :])
            noise = np.diag((s.gauge * r.u_deg) ** 2 + s.edge_deg**2 + 3.6**2 * h.wild) + shared
            total = r.rows @ prior_of(model, h.torch) @ r.rows.T + noise
            off = r.bevel_deg - r.rows @ model.prior_mean
            _, log_det = np.linalg.slogdet(total)
            before = weight[0][s.cut_deg] * weight[1][s.edge_deg] * weight[2][s.gauge] * share[h.torch]
            odds = h.wild.sum() * np.log(0.04 / 0.96)
            logs.append(np.log(before) + odds - 0.5 * (off @ np.linalg.solve(total, off) + log_det))
        expected = np.exp(np.array(logs) - max(logs))
        found = np.array([h.weight for h in model.hypotheses])
        np.testing.assert_allclose(found / found.max(), expected, rtol=1e-6)
        self.assertGreater(model.wild_chances[8], 0.98)  # the first edge of the second square
        self.assertLess(np.delete(model.wild_chances, 8).max(), 0.1)

    def test_a_knocked_torch_and_an_oval_bore_are_told_from_a_well_kept_one(self) -> None:
        def weight(model: BevelModel, torch: str) -> float:
            of = {t: sum(h.weight for h in model.hypotheses if h.torch == t) for t in share}
            return of[torch] / sum(of.values())

        share = ("kept", "knocked", "oval")
        upright = [square(n, 0.5, lean=(0.2, 0.0)) for n in (1, 2)]
        self.assertGreater(weight(model_of(*upright), "kept"), 0.8)
        leaning = [square(n, 0.5, lean=(3.5, 60.0)) for n in (1, 2)]
        self.assertGreater(weight(model_of(*leaning), "knocked"), 0.98)
        draws = learned_from(replace(PLATE_JOB, cuts=tuple(leaning))).draws
        self.assertAlmostEqual(float(draws[:, LEAN_X].mean()), 3.5 * 0.5, delta=0.15)  # cos 60

    def test_one_wild_reading_moves_nothing_far(self) -> None:
        wild = square(2, 2.0)
        wild = replace(wild, edges=(replace(wild.edges[2], bevel_deg=-4.0), *wild.edges[3:]))
        sound = learned_from(replace(PLATE_JOB, cuts=(square(1, 2.0), square(2, 2.0))))
        spoilt = learned_from(replace(PLATE_JOB, cuts=(square(1, 2.0), wild)))
        here = Candidates(np.array([2100.0]), np.array([1.5]))
        self.assertAlmostEqual(spoilt.process(here).mean(), sound.process(here).mean(), delta=0.15)
        self.assertLess(spoilt.cut_spread.mean(), sound.cut_spread.mean() + 0.1)

    def test_lean_and_swirl_are_told_apart(self) -> None:
        draws = learned_from(replace(PLATE_JOB, cuts=tuple(square(n, 2.0) for n in range(1, 5)))).draws
        self.assertAlmostEqual(draws[:, SWIRL].mean(), 1.0, delta=0.1)
        self.assertAlmostEqual(draws[:, LEAN_X].mean(), 1.5 * np.cos(np.radians(60)), delta=0.15)
        self.assertAlmostEqual(draws[:, LEAN_Y].mean(), 1.5 * np.sin(np.radians(60)), delta=0.15)

    def test_what_the_parts_did_since_is_not_taken_for_the_setting(self) -> None:
        """Bevel that grows with starts at one setting: what is expected now is the last, not the mean."""
        cuts = [square(n, 1.0 + 0.3 * n, starts=60 * n) for n in range(6)]
        without = [replace(c, starts=None) for c in cuts]
        here = Candidates(np.array([2100.0]), np.array([1.5]))
        worn, flat = (
            learned_from(replace(PLATE_JOB, cuts=tuple(c))).process(here).mean() for c in (cuts, without)
        )
        self.assertGreater(worn, flat + 0.2)

    def test_a_strips_widths_say_nothing_of_lean_or_swirl(self) -> None:
        strip = Cut("c1", "strip", 2100, 1.5, edges=(EdgeReading("both", 90.0, 2.0, 0.5),))
        model = model_of(strip)
        self.assertEqual(model.readings.rows[0, SWIRL : LEAN_Y + 1].tolist(), [0.0, 0.0, 0.0])

    def test_an_earlier_mount_leant_by_itself_and_earlier_parts_differ(self) -> None:
        old = square(1, 4.0, series=Series(parts="p1", mount="m1"))
        new = Cut("c2", "strip", 2100, 1.5, series=Series(parts="p2", mount="m2"))
        model = model_of(old, new)
        for h in model.hypotheses:
            self.assertAlmostEqual(h.mean[LEAN_X], 0.0, places=9)
        same = model_of(square(1, 4.0), Cut("c2", "strip", 2100, 1.5))
        heaviest = [max(m.hypotheses, key=lambda h: h.weight) for m in (model, same)]
        self.assertLess(heaviest[0].mean[0], heaviest[1].mean[0])


class Voltage(unittest.TestCase):
    def test_many_cuts_outweigh_the_prior(self) -> None:
        # 130 V at the start, 9 V/mm, -10 V per ln(speed): twenty cuts over heights and speeds.
        cuts = [
            Cut(f"c{n}", "strip", v, h, arc_voltage_v=130 + 9 * (h - 1.5) - 10 * np.log(v / 2100))
            for n, (v, h) in enumerate(
                (v, h) for v in (1600, 1900, 2300, 2700) for h in (1, 1.4, 1.8, 2.2, 2.6)
            )
        ]
        volts = VoltageModel(replace(PLATE_JOB, cuts=tuple(cuts)))
        self.assertAlmostEqual(volts.volts_per_mm[0], 9.0, delta=0.1)
        expected = volts.voltage_v(2500, 2.0)
        assert expected is not None
        self.assertAlmostEqual(expected[0], 130 + 4.5 - 10 * np.log(2500 / 2100), delta=0.2)
        height = volts.height_of(130 + 4.5, Cut("c", "strip", 2100, 1.5))
        assert height is not None
        self.assertAlmostEqual(height[0], 2.0, delta=0.02)

    def test_volts_of_worn_parts_are_not_taken_for_height(self) -> None:
        # 600 starts later the same height shows 5 V more: held at the old volts, the torch runs closer.
        new = Cut("c1", "strip", 2100, 1.5, arc_voltage_v=128.0, starts=0)
        worn = Cut("c2", "strip", 2100, 1.5, arc_voltage_v=133.0, starts=600)
        held = Cut("c3", "strip", 2100, 1.5, height_control="set_point", set_point_v=128.0, starts=600)
        campaign = replace(PLATE_JOB, cuts=(new, worn, held))
        heights, _ = cut_heights_mm(campaign, VoltageModel(campaign))
        self.assertAlmostEqual(heights[2], 1.5 - 5 / 6.5, delta=0.15)

    def test_held_volts_make_the_height_what_they_imply(self) -> None:
        set_cut = Cut("c1", "strip", 2100, 1.5, arc_voltage_v=128.0)
        held = Cut("c2", "strip", 2100, 1.5, height_control="set_point", set_point_v=134.5)
        by_hand = Cut("c3", "strip", 2100, 1.5, height_control="by_hand")
        campaign = replace(PLATE_JOB, cuts=(set_cut, held, by_hand))
        heights, sds = cut_heights_mm(campaign, VoltageModel(campaign))
        self.assertEqual((heights[0], sds[0]), (1.5, 0.0))
        self.assertAlmostEqual(heights[1], 2.5, delta=0.1)  # 6.5 V over, at 6.5 V/mm
        self.assertGreater(heights[2], 1.5)
        self.assertGreater(sds[2], sds[1])


class DrossWindow(unittest.TestCase):
    def chance(self, *cuts: Cut, speed: float = 2100, grade: int = 1) -> float:
        model = DrossModel(replace(PLATE_JOB, cuts=cuts))
        clean, through = model.pass_chances(
            np.array([speed]), np.array([1.5]), grade, model.resampled(800)
        )
        return float((clean * through).mean())

    def cut(self, speed: float, **seen) -> Cut:  # type: ignore[no-untyped-def]
        return Cut("c1", "strip", speed, 1.5, **seen)

    def test_not_looked_at_teaches_nothing_and_none_teaches_much(self) -> None:
        before = self.chance()
        self.assertAlmostEqual(self.chance(self.cut(2100)), before, places=12)
        self.assertGreater(self.chance(self.cut(2100, dross=(), through="full")), before + 0.05)

    def test_slow_dross_asks_for_faster_and_fast_dross_for_slower(self) -> None:
        slow = self.cut(2100, dross=(Dross("low_speed", 3),))
        fast = self.cut(2100, dross=(Dross("high_speed", 3),))
        self.assertGreater(self.chance(slow, speed=2500), self.chance(slow, speed=1700) + 0.2)
        self.assertGreater(self.chance(fast, speed=1700), self.chance(fast, speed=2500) + 0.2)

    def test_not_through_is_no_pass_at_that_speed_or_faster(self) -> None:
        hung = self.cut(2100, through="partial")
        self.assertLess(self.chance(hung, grade=4), 0.4)
        self.assertLess(self.chance(hung, speed=2500, grade=4), 0.2)

    def test_dross_at_every_speed_is_stubborn(self) -> None:
        cuts = [self.cut(v, dross=(Dross("low_speed", 3),)) for v in (1500, 1900, 2300, 2700, 3100)]
        model = DrossModel(replace(PLATE_JOB, cuts=tuple(cuts)))
        self.assertGreater(model.stubborn_chance(1), 0.9)
        self.assertLess(DrossModel(PLATE_JOB).stubborn_chance(1), 0.06)


class Chances(unittest.TestCase):
    def test_bevel_chance_is_that_of_cuts_drawn_by_the_thousand(self) -> None:
        learned = learned_from(replace(PLATE_JOB, cuts=(square(1, 2.2), square(2, 2.0))))
        setting = Candidates(np.array([2000.0]), np.array([1.4]))
        said = float(learned.bevel_chances(setting).mean())
        random, passed, tries = np.random.default_rng(1), 0, 0
        process = learned.process(setting)[0]
        for s in range(len(process)):
            edges = np.array(
                [
                    process[s]
                    - learned.draws[s, SWIRL]
                    + learned.draws[s, LEAN_X] * np.cos(np.radians(h + 90))
                    + learned.draws[s, LEAN_Y] * np.sin(np.radians(h + 90))
                    + learned.draws[s, SWIRL + 3] * np.cos(np.radians(2 * (h + 90)))
                    for h in HEADINGS
                ]
            )
            for _ in range(20):
                cut = edges + random.normal(0, learned.cut_spread[s])
                cut += random.normal(0, learned.edge_spread[s], 4)
                passed += bool(np.abs(cut).max() <= 2.0)
                tries += 1
        self.assertAlmostEqual(said, passed / tries, delta=0.03)

    def test_a_cut_passed_as_its_own_readings_say(self) -> None:
        seen = {"dross": (), "through": "full"}
        inside, outside = square(1, 2.0, **seen), square(2, 5.5, **seen)
        learned = learned_from(replace(PLATE_JOB, cuts=(inside, outside)))
        # Kept edges: process - 1 + lean within 1.3: 2.0 gives -0.3 to 2.3; 5.5 gives 3.2 and more.
        self.assertGreater(learned.passed_chance(0), learned.passed_chance(1))
        self.assertLess(learned.passed_chance(1), 0.001)
        for spoilt in ({"dross": None}, {"through": "partial"}, {"arc_lost": True}, {"piece": "strip"}):
            learned = learned_from(replace(PLATE_JOB, cuts=(replace(inside, **spoilt),)))  # type: ignore[arg-type]
            self.assertEqual(learned.passed_chance(0), 0.0)

    def test_candidates_are_dialled_inside_the_limits_and_hold_what_was_cut(self) -> None:
        job = replace(
            PLATE_JOB, cuts=(square(1, 2.0, 2137, 1.63),), limits=Limits((1503, 2999), (0.93, 2.4))
        )
        candidates = candidates_within(job, job.limits)
        self.assertTrue(((candidates.speed_mm_min >= 1503) & (candidates.speed_mm_min <= 2999)).all())
        self.assertTrue(((candidates.height_mm >= 0.93) & (candidates.height_mm <= 2.4)).all())
        pairs = set(zip(candidates.speed_mm_min.tolist(), candidates.height_mm.tolist(), strict=True))
        self.assertIn((2137.0, 1.63), pairs)
        limits = Limits((1503, 2999), (0.9, 2))
        self.assertEqual(on_dial(Setting(1504, 1.512), limits), Setting(1503, 1.5))


class OpeningNumbers(unittest.TestCase):
    def test_numbers_that_somebody_changed_are_not_the_rows(self) -> None:
        given = StartingNumbers("interpolated", replace(PLATE_START, speed_mm_min=2111.23), (), ())
        assert given.values is not None
        self.assertTrue(are_the_rows(given.values, given))
        self.assertTrue(are_the_rows(dialled_start(given.values), given))
        self.assertFalse(are_the_rows(replace(PLATE_START, speed_mm_min=3556.0), given))
        guess = StartingNumbers(
            "analogue", PLATE_START, (), ()
        )  # another metal's: a guess, whoever changed it
        self.assertTrue(are_the_rows(replace(PLATE_START, arc_voltage_v=120.0), guess))
        self.assertFalse(are_the_rows(PLATE_START, StartingNumbers("refused", None, (), ())))


class Evidence(unittest.TestCase):
    def test_parts_map_and_proofs_of_a_trial(self) -> None:
        judged = judge(
            replace(PLATE_JOB, cuts=tuple(square(n, 2.0, dross=(), through="full") for n in (1, 2)))
        )
        parts, chances = bevel_parts(judged), chance_map(judged)
        assert parts is not None
        self.assertAlmostEqual(parts.process_deg, 2.0, delta=0.2)
        self.assertAlmostEqual(parts.lean_toward_deg, 60, delta=8)
        self.assertEqual((len(chances.chance), len(chances.chance[0])), (13, 25))
        self.assertTrue(all(0 <= p <= 1 for row in chances.chance for p in row))
        self.assertEqual([p.done for p in proofs(judged)], [False, False])
        self.assertIsNone(bevel_parts(judge(PLATE_JOB)))


class Plan(unittest.TestCase):
    def test_limits_keep_off_the_touch_and_hold_the_start(self) -> None:
        limits = default_limits(PLATE_START)
        check_limits(limits, PLATE_START)
        self.assertEqual(limits.cut_height_mm[0], 0.8)  # 0.55 of 1.5 is 0.825
        sheet = default_limits(replace(PLATE_START, cut_height_mm=1.2))
        self.assertEqual(sheet.cut_height_mm[0], 0.8)  # not 0.55 of 1.2: that touches
        low = replace(PLATE_START, cut_height_mm=0.6)
        check_limits(default_limits(low), low)
        with self.assertRaises(TradeError):
            check_limits(Limits((2200, 3000), (0.8, 3.0)), PLATE_START)

    def test_starting_numbers_are_ones_that_can_be_dialled(self) -> None:
        rough = replace(PLATE_START, speed_mm_min=2111.23, cut_height_mm=1.533, arc_voltage_v=128.13)
        start = dialled_start(rough)
        self.assertEqual(
            (start.speed_mm_min, start.cut_height_mm, start.arc_voltage_v), (2110, 1.55, 128.0)
        )

    def test_ladder_steps_are_equal_ratios(self) -> None:
        speeds = ladder_speeds(2100, steps=7, share=0.1)
        ratios = [b / a for a, b in pairwise(speeds)]
        self.assertEqual(speeds[3], 2100)
        self.assertTrue(all(abs(r - 1.1) < 0.01 for r in ratios))


if __name__ == "__main__":
    unittest.main()
