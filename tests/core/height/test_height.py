"""Volts for height, the loop, the schools of the set-point, and the timing of a start."""

import math
import unittest
from dataclasses import replace

import numpy as np

from orthotome.core.errors import TradeError
from orthotome.core.height.after_square import (
    Control,
    ControlProof,
    control_proof,
    first_ready,
    trim_told,
)
from orthotome.core.height.loop import LoopJob, LoopSettings, Warp, choose_settings, run_loop
from orthotome.core.height.schools import Measured, SchoolJob, measured_at, schools
from orthotome.core.height.timing import StartJob, features, start_timing, trade_offs
from orthotome.core.height.trims import Trim, check_trim, says_of_trims
from orthotome.core.height.volts import (
    NOISE_V,
    PER_MM,
    HeightReading,
    VoltsHere,
    thickness_class,
    touch_chance,
    volts_for_height,
    with_wear,
)
from orthotome.core.log.looks import Look
from orthotome.core.log.under_control import SeenCut, proof_cuts
from orthotome.core.setting import Setting
from orthotome.core.torch.pit import learn
from orthotome.core.torch.set_point import trim_now
from orthotome.core.torch.wear import LifeEntry, PartsLedger
from orthotome.core.trial.campaign import Cut, EdgeReading, Target
from tests.jobs import PLATE_SET


def ladder(
    slope: float, *, series: str = "a", offset: float = 0.0, seed: int = 0
) -> list[HeightReading]:
    noise = np.random.default_rng(seed)
    heights = (0.8, 1.2, 1.6, 2.0, 2.4, 2.8)
    return [
        HeightReading(h, 120 + offset + slope * h + float(noise.normal(0, 0.4)), 2100, series, 100, 0.4)
        for h in heights
    ]


class VoltsPerMillimetre(unittest.TestCase):
    def test_a_ladder_or_two_find_the_slope_within_5_percent(self) -> None:
        for true in (4.5, 6.5, 9.0):
            readings = ladder(true) + ladder(true, seed=5)
            found = volts_for_height(readings)
            self.assertLess(abs(found.slope_v_per_mm / true - 1), 0.05)
            self.assertLess(abs(found.slope_v_per_mm - true), 3 * found.slope_sd)
            self.assertTrue(found.taught)

    def test_a_change_of_parts_is_no_slope(self) -> None:
        new = ladder(6.5)
        worn = [replace(r, height_mm=r.height_mm + 1) for r in ladder(6.5, series="b", offset=12)]
        found = volts_for_height(new + worn)
        self.assertLess(abs(found.slope_v_per_mm / 6.5 - 1), 0.06)
        one_series = volts_for_height([replace(r, series="a") for r in new + worn])
        self.assertGreater(abs(one_series.slope_v_per_mm / 6.5 - 1), 0.2)

    def test_wear_apart_from_height(self) -> None:
        readings = [
            HeightReading(
                1.5 + 0.4 * (i % 3), 128 + 6.5 * (0.4 * (i % 3)) + 11 * s / 1000, 2100, "a", s, 0.4
            )
            for i, s in enumerate(range(0, 900, 100))
        ]
        found = volts_for_height(readings)
        self.assertAlmostEqual(found.wear_v_per_1000, 11, delta=1.0)

    def test_both_ways_agree_and_nothing_known_says_nothing(self) -> None:
        here = VoltsHere(Setting(2100, 1.5), (128.0, 0.5), volts_for_height(ladder(6.5)))
        volts = here.volts_at(Setting(2100, 1.9))
        assert volts
        back = here.height_at(volts[0])
        assert back
        self.assertAlmostEqual(back[0], 1.9, places=6)
        self.assertAlmostEqual(volts[0], 128 + 0.4 * here.found.slope_v_per_mm, places=6)
        # Faster by a tenth: by_ln_speed times ln 1.1 more, and a little less sure.
        faster = here.volts_at(Setting(2310, 1.5))
        assert faster
        self.assertAlmostEqual(faster[0], 128 + here.found.by_ln_speed * math.log(1.1), places=6)
        self.assertGreater(faster[1], 0.5)
        # 128 V and 6.5 V/mm lead to no arc 30 mm lower: then nothing is said.
        self.assertIsNone(
            VoltsHere(Setting(2100, 31.5), (128.0, 0.5), here.found).volts_at(Setting(2100, 1.5))
        )
        nothing = volts_for_height([])
        self.assertEqual((nothing.slope_v_per_mm, nothing.slope_sd), PER_MM)
        self.assertIsNone(VoltsHere(Setting(2100, 1.5), None, nothing).height_at(128))
        self.assertFalse(nothing.taught)

    def test_classes_of_thickness_and_the_chance_to_touch(self) -> None:
        self.assertEqual(thickness_class(8.0), (6.0, 12.0))
        self.assertEqual(thickness_class(3.0), (3.0, 6.0))
        self.assertEqual(thickness_class(20.0), (12.0, math.inf))
        chances = [touch_chance(gap, 0.3, 0.6) for gap in (2.0, 1.2, 0.6, 0.2)]
        self.assertEqual(chances, sorted(chances))
        self.assertAlmostEqual(chances[2], 0.5)
        self.assertGreater(touch_chance(1.5, 0.3, 0.6, unfollowed_mm=1.0), 0.5)


class Loop(unittest.TestCase):
    job = LoopJob(2100, 700, 1.5, 128.0, 6.5)

    def chosen(self, job: LoopJob, set_point: float = 128.0) -> LoopSettings:
        return choose_settings(job, LoopSettings(set_point, 1, 1, 0.6, 40)).settings

    def test_flat_metal_at_the_right_set_point_is_never_struck(self) -> None:
        for seed in range(5):
            run = run_loop(self.job, self.chosen(self.job), seed)
            self.assertEqual((run.strikes, run.hunts), ((), False))
            self.assertLess(abs(float(run.gap_mm[len(run.gap_mm) // 2 :].mean()) - 1.5), 0.3)

    def test_a_set_point_two_millimetres_low_is_on_the_plate(self) -> None:
        run = run_loop(self.job, self.chosen(self.job, 128 - 13))
        self.assertTrue(run.strikes)
        self.assertGreater(run.strikes[0][0], 0.6)  # not before it wakes

    def test_twice_the_gain_hunts(self) -> None:
        for warp in (Warp(), Warp(4, 250)):
            job = replace(self.job, warp=warp)
            good = self.chosen(job)
            self.assertFalse(run_loop(job, good).hunts)
            self.assertTrue(run_loop(job, replace(good, gain_mm_s_v=2 * good.gain_mm_s_v)).hunts)

    def test_held_corners_do_not_dive_and_open_ones_do(self) -> None:
        job = replace(
            self.job, corners_mm=(300.0, 450.0, 600.0), noise_v=0.3, acceleration_mm_s2=150, rise_v=12
        )
        settings = self.chosen(job)
        held, opened = (
            run_loop(job, replace(settings, hold_below_share=share), seed=1) for share in (0.9, None)
        )
        for corner in job.corners_mm:
            near = (held.way_mm > corner - 15) & (held.way_mm < corner + 15)
            self.assertGreater(float(held.gap_mm[near].min()), 1.5 - 0.3)
            self.assertLess(float(opened.gap_mm[near].min()), 1.5 - 0.5)

    def test_waves_are_followed_until_z_is_too_slow(self) -> None:
        job = replace(self.job, warp=Warp(6, 200))
        settings = self.chosen(job)
        self.assertLess(run_loop(job, settings).rms_mm, 0.35)
        slow = choose_settings(job, replace(settings, z_speed_mm_s=2))
        self.assertFalse(slow.follows)
        self.assertAlmostEqual(slow.z_speed_needed_mm_s, math.pi * 6 / 200 * 35, places=3)
        self.assertGreater(run_loop(job, slow.settings).rms_mm, 0.6)

    def test_while_it_waits_the_torch_stays_where_it_was(self) -> None:
        job = replace(self.job, warp=Warp(slope_mm_per_100=-1.0), starts_high_mm=0.0, noise_v=0.0)
        run = run_loop(job, self.chosen(job))
        waits = run.time_s < 0.6
        z = run.gap_mm + run.plate_mm
        self.assertLess(float(np.ptp(z[waits])), 1e-9)

    def test_what_cannot_be_is_named(self) -> None:
        with self.assertRaisesRegex(TradeError, "z_speed_mm_s"):
            LoopSettings(128, 1, 1, 0.5, 0)
        with self.assertRaisesRegex(TradeError, "length_mm"):
            replace(self.job, length_mm=1e6)


class Schools(unittest.TestCase):
    """129.6 V at 1.5 mm, 6.5 V/mm, on an electrode with 100 starts."""

    life = learn(
        PartsLedger(
            1.5,
            129.6,
            6.5,
            1.5,
            0.6,
            (LifeEntry(100, 700, 2, arc_voltage_v=129.6), LifeEntry(100, 700, 2)),
        )
    )

    def job(self, **other: object) -> SchoolJob:
        found = with_wear(volts_for_height(ladder(6.5)), self.life)
        here = VoltsHere(Setting(2100, 1.5), (129.6, 0.3), found)
        whole = SchoolJob(1.5, 0.6, here, self.life, 123.0, Measured(129.6, 0.3, 100), 100)
        return replace(whole, **other)  # type: ignore[arg-type]

    def test_each_says_what_it_holds_here(self) -> None:
        manual, measured, sampled = schools(self.job())
        # The manual's 123 V are 6.6 V under what this table shows at 1.5 mm: about a millimetre low.
        self.assertAlmostEqual(manual.height_mm or 0, 1.5 - 6.6 / 6.5, delta=0.15)
        self.assertEqual((measured.set_point_v, measured.height_mm), (129.6, 1.5))
        self.assertIsNone(sampled.set_point_v)

    def test_what_is_told_is_what_the_volts_are_worth_now_and_its_trim_is_due_when_the_page_of_trims_says(
        self,
    ) -> None:
        job = self.job()
        worn = replace(job, here=replace(job.here, level_v=(131.2, 0.5)), starts=700)
        measured = schools(worn)[1]
        self.assertEqual(measured.set_point_v, 131.2)
        self.assertIn("129.6 V was measured there at 100 starts", measured.will)
        told = schools(job)[1]
        self.assertEqual(told.trim_at_starts, trim_now(self.life, told.set_point_v).due_at_starts)

    def test_left_alone_it_comes_closer_until_it_touches(self) -> None:
        measured = schools(self.job(), ahead=500)[1]
        v = self.job().here.found
        self.assertAlmostEqual(
            measured.closer_mm or 0, v.wear_v_per_1000 / 2 / v.slope_v_per_mm, places=6
        )
        assert measured.touches_in
        middle = 1000 * 0.9 * v.slope_v_per_mm / v.wear_v_per_1000
        self.assertTrue(measured.touches_in[0] < middle < measured.touches_in[1])

    def test_volts_at_the_height_are_the_mean_of_what_was_cut_there_last(self) -> None:
        def read(height_mm: float, volts_v: float, series: str, starts: int | None) -> HeightReading:
            return HeightReading(height_mm, volts_v, 2100, series, starts)

        here = self.job().here  # 1.5 mm; its slope is that of the ladder, about 6.5 V/mm
        slope = here.found.slope_v_per_mm
        taken = (
            read(1.5, 140.0, "old parts", 900),
            read(1.5, 128.0, "new parts", 10),
            read(1.58, 131.0, "new parts", 20),
            read(2.2, 135.0, "new parts", 30),
        )
        found = measured_at(taken, here)
        assert found is not None
        self.assertAlmostEqual(found.volts_v, (128.0 + 131.0 - 0.08 * slope) / 2)
        self.assertAlmostEqual(found.sd_v, NOISE_V / math.sqrt(2))
        self.assertEqual(found.starts, 15)
        # Nothing was cut at that height: what the others say of it, with its own spread.
        said = measured_at(taken[3:], here)
        assert said is not None
        self.assertEqual((said.volts_v, said.sd_v), (129.6, 0.3))
        self.assertIsNone(measured_at((), replace(here, level_v=None)))

    def test_measured_is_told_first_then_the_manual(self) -> None:
        every = schools(self.job())
        self.assertEqual(first_ready(every).school, "measured")
        self.assertEqual(first_ready(schools(self.job(measured=None))).school, "manual")
        self.assertEqual(first_ready(schools(self.job(measured=None, manual_v=None))).school, "sampled")

    def test_what_has_no_set_point_needs_no_trim(self) -> None:
        told = Control("measured", 125.0, 0.5, 2.0, 0.9, 5.0)
        sampled = replace(told, school="sampled", set_point_v=None)

        def trimmed(control: Control | None, *, controlled: bool = True) -> tuple[str, float | None]:
            trim = trim_told(self.life, control, 129.6, controlled=controlled)
            return trim.held, trim.told_v

        self.assertEqual(trimmed(told), ("fixed", 125.0))
        self.assertEqual(trimmed(None), ("fixed", 129.6))  # what was proven
        self.assertEqual(trimmed(sampled), ("sampled", None))
        self.assertEqual(trimmed(told, controlled=False), ("none", None))

    def test_what_is_not_known_is_not_said(self) -> None:
        nothing = VoltsHere(Setting(2100, 1.5), None, volts_for_height([]))
        manual, measured, _ = schools(self.job(here=nothing, manual_v=None, measured=None))
        self.assertTrue(manual.refused and measured.refused)
        alone = schools(self.job(here=nothing, measured=None))[0]
        self.assertEqual((alone.height_mm, alone.touches_in), (None, None))
        self.assertIn("nothing of this table", alone.will)


class ProvenUnderControl(unittest.TestCase):
    """A long strip and a square under control prove it; whatever went wrong on the way is said."""

    def proof(self, **of_strip: object) -> ControlProof:
        strip = Cut("a", "strip", 2100, 1.5, height_control="set_point", through="full", dross=())
        box = replace(strip, id="b", piece="square", edges=(EdgeReading("right", 0, 0.4, 0.4),))
        seen = SeenCut(strip, "long_strip", (Look(0, "touched", "no"),))
        seen = replace(seen, **of_strip)  # type: ignore[arg-type]
        return control_proof(proof_cuts([seen, SeenCut(box, "square")], PLATE_SET, Target(2.0)))

    def test_what_fails_it(self) -> None:
        self.assertEqual(self.proof().state, "proven")
        for noticed, word in ((("strike",), "touched"), (("arc_lost",), "on the way")):
            failed = self.proof(noticed=noticed)
            self.assertEqual((failed.state, failed.next_kind), ("failed", "long_strip"))
            self.assertIn(word, failed.says)
        self.assertEqual(self.proof(noticed=("corner",)).state, "proven")  # no fault of the control
        self.assertEqual(self.proof(looks=(Look(0, "touched", "yes"),)).state, "failed")


class Timing(unittest.TestCase):
    job = StartJob(8.0, 2100, 1.5, 3.8, 0.5, 500, 6.5, settled_after_s=0.9)

    def test_delay_and_blind_way_by_hand(self) -> None:
        t = start_timing(self.job)
        # At rest 0.9 s after the arc, and a fifth more: 1.08 s, in steps 1.1; of that 0.6 s in motion at 35 mm/s.
        self.assertAlmostEqual(t.control_delay_s, 1.1)
        self.assertAlmostEqual(t.blind_mm, 21.0)
        self.assertAlmostEqual(t.drop_s, 2.3 / 40)
        self.assertAlmostEqual(t.run_up_mm, 35**2 / 1000)
        from_motion = start_timing(replace(self.job, delay_origin="start_of_motion"))
        self.assertAlmostEqual(from_motion.control_delay_s, 0.6)
        self.assertAlmostEqual(from_motion.blind_mm, 21.0)

    def test_the_lead_in_covers_the_worst_of_three(self) -> None:
        self.assertEqual(start_timing(self.job).lead_in_why, "the splash of the pierce")
        slow = start_timing(replace(self.job, speed_mm_min=12_000, pierce_height_mm=1.6))
        self.assertEqual(slow.lead_in_why, "the run-up to speed")
        self.assertAlmostEqual(slow.lead_in_mm, 200**2 / 1000)

    def test_features_that_never_see_control(self) -> None:
        fast = replace(self.job, speed_mm_min=12_000, settled_after_s=1.0, acceleration_mm_s2=2000)
        t = start_timing(fast)
        self.assertAlmostEqual(t.blind_mm, 200 * 0.7)
        under = {f.name: f.under_mm for f in features(t, fast)}
        self.assertEqual(under["outline Ø 10 mm"], 0.0)
        self.assertEqual(under["square 25 mm"], 0.0)
        self.assertGreater(under["square 100 mm"], 0.0)

    def test_on_thin_fast_sheet_a_low_pierce_shortens_the_wait(self) -> None:
        thin = StartJob(1.5, 9000, 1.5, 3.8, 0.0, 1500, 7.0, z_speed_mm_s=20)
        early, late, low = trade_offs(thin)
        self.assertGreater(early.off_at_waking_v, 0.25 * 7)
        self.assertLess(low.blind_mm, late.blind_mm)
        self.assertLess(low.control_delay_s, late.control_delay_s)
        self.assertAlmostEqual(low.pierce_height_mm, 1.8)


class Trims(unittest.TestCase):
    def test_no_more_than_an_eye_follows_in_a_second_and_back_is_always_free(self) -> None:
        made = [Trim(10.0, 1.0), Trim(10.2, 1.0)]
        with self.assertRaises(TradeError):
            check_trim(0.5, 10.5, made)
        check_trim(-1.0, 10.5, made)
        check_trim(0.5, 11.3, made)

    def test_inside_the_dead_band_it_is_said_that_nothing_moves(self) -> None:
        self.assertIn("0.5 V", says_of_trims([Trim(1, 1.0), Trim(2, -0.5)], 1.5))
        self.assertEqual(says_of_trims([Trim(1, 1.0), Trim(2, 0.5)], 1.5), "")
        self.assertEqual(says_of_trims([], 1.5), "")


if __name__ == "__main__":
    unittest.main()
