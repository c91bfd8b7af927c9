"""Trouble: the right cause is found, in few questions, and what is no fact is refused.

Cases are drawn from the knowledge itself, and from a second table whose weights and likelihoods were shaken about.
"""

import json
import math
import random
import statistics
import unittest
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

from orthotome.core.book.start_rows import StartValues
from orthotome.core.errors import TradeError
from orthotome.core.log.seen import SeenOnCut, seen_on
from orthotome.core.machine.air import AirFinding, AirVerdict
from orthotome.core.practice.fault_finding import (
    EXERCISES,
    debrief,
    exercise_case,
    masters_way,
    random_case,
)
from orthotome.core.trial.campaign import Campaign, Cut, Dross, EdgeReading, Limits, Target, TorchSet
from orthotome.core.trouble import causes, complaints
from orthotome.core.trouble.causes import CAUSES, Cause
from orthotome.core.trouble.complaints import COMPLAINTS
from orthotome.core.trouble.diagnosis import Diagnosis, chances_of, diagnose, next_question, told_bits
from orthotome.core.trouble.from_records import lean_bears_on, pressure_falls, screen_volts
from orthotome.core.trouble.odds import odds_of
from orthotome.core.trouble.questions import COST, QUESTIONS, Answer
from orthotome.formats.reading import FileError
from orthotome.formats.trouble.trouble import trouble_text
from tools.knowledge import FILE, table_of_knowledge

EXAMPLE = Path(__file__).parents[3] / "docs/formats/trouble.example.json"
CAMPAIGN = Campaign(
    "mild_steel",
    8.0,
    TorchSet("plate set", 70, "air", "clockwise"),
    StartValues(2000, 128.0, 1.6, 3.8, 0.5, 1.8),
    Target(2.0),
    Limits((1200, 3100), (0.9, 3.0)),
)
Answers = Callable[[str, Cause], Mapping[Answer, float]]


def one_case(
    complaint: str, cause: Cause, answers: Answers, chance: random.Random
) -> tuple[Diagnosis, int]:
    """A case asked to its end: every question once."""
    facts: dict[str, Answer] = {}
    while (found := diagnose(complaint, facts)).ask is not None:
        assert found.ask not in facts, "asked twice"
        shares = answers(found.ask, cause)
        facts[found.ask] = chance.choices(list(shares), list(shares.values()))[0]
    return found, len(facts)


def another_table(seed: int) -> Answers:
    """Likelihoods that were shaken about: what another shop's people would have written down."""
    noise = random.Random(seed + 100)
    table: dict[tuple[str, Cause], dict[Answer, float]] = {}

    def shaken(code: str, cause: Cause) -> Mapping[Answer, float]:
        if (code, cause) not in table:
            plain = QUESTIONS[code].chances(cause)
            moved = {a: p * math.exp(noise.gauss(0, 0.4)) for a, p in plain.items()}
            table[code, cause] = {a: p / sum(moved.values()) for a, p in moved.items()}
        return table[code, cause]

    return shaken


class Found(unittest.TestCase):
    """Right cause, few questions."""

    def judge(self, answers: Answers, seed: int, shaken: float) -> tuple[float, float, float]:
        chance, first, three, asked, count = random.Random(seed), 0, 0, [], 0
        for complaint in COMPLAINTS:
            weights = {
                c: w * math.exp(chance.gauss(0, shaken))
                for c, w in complaints.FACTS[complaint].causes.items()
            }
            for cause in chance.choices(list(weights), list(weights.values()), k=8):
                found, n = one_case(complaint, cause, answers, chance)
                order = [s.cause for s in found.causes]
                count, first, three = (
                    count + 1,
                    first + (order[0] == cause),
                    three + (cause in order[:3]),
                )
                asked.append(n)
        return first / count, three / count, statistics.median(asked)

    def test_cases_from_the_knowledge_itself(self) -> None:
        first, three, asked = self.judge(lambda code, cause: QUESTIONS[code].chances(cause), 1, 0.0)
        self.assertGreaterEqual(first, 0.80)
        self.assertGreaterEqual(three, 0.97)
        self.assertLessEqual(asked, 4)

    def test_cases_from_other_tables(self) -> None:
        told = [self.judge(another_table(seed), seed, 0.3) for seed in (1, 2, 3)]
        first, three, asked = (statistics.mean(t[i] for t in told) for i in range(3))
        self.assertGreaterEqual(first, 0.80)
        self.assertGreaterEqual(three, 0.97)
        self.assertLessEqual(asked, 4)

    def test_every_cause_is_reached_and_told_from_its_neighbours(self) -> None:
        reached = {c for facts in complaints.FACTS.values() for c in facts.causes}
        self.assertEqual(reached, set(CAUSES))
        self.assertEqual(set(causes.FACTS), set(CAUSES))
        for complaint, facts in complaints.FACTS.items():
            for one in facts.causes:
                for other in facts.causes:
                    if one != other:
                        told = max(told_bits({one: 0.5, other: 0.5}).values())
                        self.assertGreater(told, 0.12, (complaint, one, other))

    def test_an_easy_look_is_asked_before_a_dear_cut_that_tells_as_much(self) -> None:
        chances: dict[Cause, float] = {"wrong_direction": 0.5, "jet_lean": 0.5}
        asked = next_question(chances, {})
        assert asked is not None
        self.assertLess(COST[QUESTIONS[asked].effort], COST["cut"])


class Traps(unittest.TestCase):
    """What the trade gets wrong."""

    def likeliest(self, complaint: str, **facts: Answer) -> Cause:
        return diagnose(complaint, facts).causes[0].cause

    def test_known_ones(self) -> None:
        self.assertEqual(
            self.likeliest("flies_up_at_start", screen_volts="near_zero"), "signal_divided_twice"
        )
        self.assertEqual(self.likeliest("waits_after_touch", dry_run=True), "arc_signal_missing")
        self.assertEqual(
            self.likeliest("holes_fine_outside_bad", program_for_these_parts=False),
            "program_for_other_parts",
        )
        self.assertEqual(
            self.likeliest(
                "dives_along_cut", first_seen="slowly", new_parts=False, electrode_pit="deep"
            ),
            "set_point_not_raised",
        )
        self.assertEqual(
            self.likeliest("hole_oval", oval_same_way=True, diagonals_differ=True), "gantry_skew"
        )
        self.assertEqual(self.likeliest("part_too_small", size_off_by="two_kerfs"), "kerf_wrong_side")
        self.assertEqual(self.likeliest("bevel_one_direction", swaps_with_travel=False), "jet_lean")

    def test_control_that_is_off_takes_the_controls_causes_away(self) -> None:
        chances = chances_of("dives_at_start", {"height_control": "off"})
        for cause in ("set_point_wrong", "control_too_early", "signal_not_divided"):
            self.assertLess(chances[cause], 0.06)

    def test_contradictions_survive_and_not_known_says_nothing(self) -> None:
        everything: dict[str, Answer] = {code: q.answers[0] for code, q in QUESTIONS.items()}
        found = diagnose("dives_at_start", everything)
        self.assertIsNone(found.ask)
        self.assertLessEqual(sum(s.chance for s in found.causes), 1 + 1e-9)
        nothing: dict[str, Answer] = {"lag": "not_known"}
        self.assertEqual(chances_of("tab_at_end", nothing), chances_of("tab_at_end", {}))
        self.assertNotEqual(
            diagnose("tab_at_end", {diagnose("tab_at_end", {}).ask or "": "not_known"}).ask,
            diagnose("tab_at_end", {}).ask,
        )

    def test_a_shops_own_cases_move_the_odds(self) -> None:
        plain = chances_of("will_not_start", {})
        own = chances_of("will_not_start", {}, {"work_clamp": 4.0})
        self.assertGreater(own["work_clamp"], 2 * plain["work_clamp"])

    def test_what_the_rooms_found_out_answers_as_it_is_known_there(self) -> None:
        def air(**verdicts: AirVerdict) -> list[AirFinding]:
            return [AirFinding(code, "", verdict=v) for code, v in verdicts.items()]  # type: ignore[arg-type]

        carries = {
            "delivery": "enough",
            "ride_through": "enough",
            "flowing_pressure": "enough",
            "hose": "enough",
        }
        self.assertIs(pressure_falls(air(**carries)), False)  # type: ignore[arg-type]
        for short in ("ride_through", "flowing_pressure", "hose"):
            self.assertIs(pressure_falls(air(**carries | {short: "short"})), True, short)  # type: ignore[arg-type]
        # A compressor that never rests, or of which nothing is known, says neither.
        for verdict in ("short", "unknown"):
            self.assertIsNone(pressure_falls(air(**carries | {"delivery": verdict})))  # type: ignore[arg-type]
        for gain, answer in (
            (0.02, "near_zero"),
            (1.0, "right"),
            (0.98, "a_little_off"),
            (50, "far_too_high"),
        ):
            self.assertEqual(screen_volts(gain), answer)
        self.assertIsNone(screen_volts(None))
        self.assertTrue(lean_bears_on("bevel_one_direction"))
        self.assertFalse(lean_bears_on("steps_lost"))

    def test_a_cause_that_the_trade_does_not_name_is_remembered_in_full(self) -> None:
        # Six cases of the trade's, of which next to none, and five of the shop's own: 5 of 11.
        for cause, complaint in (("scale", "will_not_start"), ("work_clamp", "will_not_start")):
            share = complaints.shares(complaint)[cause]  # type: ignore[index, arg-type]
            odds = odds_of(complaint, [cause] * 5)  # type: ignore[arg-type, list-item]
            chance = chances_of(complaint, {}, odds)[cause]  # type: ignore[index]
            self.assertAlmostEqual(chance, (6 * share + 5) / 11, places=6)

    def test_cautions_come_with_hands_in_danger(self) -> None:
        self.assertIn("licensed electrician", " ".join(diagnose("readout_absurd", {}).cautions))
        self.assertFalse(any("safe" in text for text in causes.HAZARDS.values()))


class SeenOnACut(unittest.TestCase):
    """What a logged cut shows is not asked."""

    def seen(self, edges: dict[float, float], scrap: float | None = None, **more: Any) -> SeenOnCut:
        read = [EdgeReading("right", h, b, 0.4, "angle_gauge") for h, b in edges.items()]
        read += [] if scrap is None else [EdgeReading("left", 0.0, scrap, 0.4, "angle_gauge")]
        cut = Cut("c1", "square", 2000, 1.6, edges=tuple(read), **more)
        return seen_on(CAMPAIGN, cut)

    def complaints(self, seen: SeenOnCut) -> list[str]:
        return [s.complaint for s in seen.complaints]

    def test_edges_by_direction_by_side_and_all_round(self) -> None:
        leaning = self.seen({0.0: 0.2, 90.0: 3.1, 180.0: 0.1, 270.0: -2.7})
        self.assertEqual(self.complaints(leaning), ["bevel_one_direction"])
        self.assertEqual(leaning.facts["pattern"], "one_direction")
        self.assertIn("5.8°", leaning.complaints[0].why)
        swapped = self.seen(dict.fromkeys((0.0, 90.0, 180.0, 270.0), 3.4), scrap=0.3)
        self.assertEqual(self.complaints(swapped), ["bevel_one_side"])
        high = self.seen(dict.fromkeys((0.0, 90.0, 180.0, 270.0), 3.4), scrap=6.1)
        self.assertEqual(self.complaints(high), ["bevel_all_round"])
        self.assertEqual(high.facts["bevel_sign"], "bottom_out")

    def test_what_was_not_read_is_neither_shown_nor_answered(self) -> None:
        square = self.seen(dict.fromkeys((0.0, 90.0, 180.0, 270.0), 0.5), scrap=4.0)
        self.assertEqual((self.complaints(square), "pattern" in square.facts), ([], False))
        half = self.seen({0.0: 4.0, 90.0: -4.0})
        self.assertEqual((self.complaints(half), "pattern" in half.facts), ([], False))
        unlooked = self.seen({})
        self.assertEqual({"dross_kind", "lag", "pattern"} & set(unlooked.facts), set())

    def test_underside_and_through(self) -> None:
        seen = self.seen(
            {}, dross=(Dross("high_speed", 3), Dross("top_spatter", 1)), through="partial", lag_deg=22.0
        )
        self.assertEqual(
            self.complaints(seen), ["not_through_anywhere", "dross_needs_grinding", "top_spatter"]
        )
        self.assertEqual((seen.facts["dross_kind"], seen.facts["lag"]), ("high_speed", "swept_back"))
        for code, answer in seen.facts.items():
            self.assertIn(answer, QUESTIONS[code].answers)


class Practised(unittest.TestCase):
    """Exercises, and cases by their number."""

    def test_every_exercise_is_solved_by_a_master_in_few_looks(self) -> None:
        self.assertGreaterEqual(len(EXERCISES), 12)
        for exercise in EXERCISES:
            case = exercise_case(exercise.code)
            way = masters_way(case)
            facts = {s.code: s.answer for s in way}
            self.assertEqual(
                diagnose(case.complaint, facts).causes[0].cause, exercise.cause, exercise.code
            )
            self.assertLessEqual(len(way), 6)
            how = debrief(case, [s.code for s in way], case.cause, case.right_act)
            self.assertTrue(how.passed)
            self.assertEqual(how.spent, how.masters_spent)

    def test_the_trap_asks_to_stop_and_isolate(self) -> None:
        trap = exercise_case("trap")
        self.assertEqual(trap.right_act, "isolate")
        wrong = debrief(trap, ["screen_volts"], trap.cause, "cure")
        self.assertFalse(wrong.passed)
        self.assertIn("stop and isolate first", wrong.sentence)

    def test_a_dear_way_and_another_cause_do_not_pass(self) -> None:
        case = exercise_case("swirl")
        dear = debrief(case, list(QUESTIONS), case.cause, case.right_act)
        self.assertEqual((dear.right_cause, dear.passed), (True, False))
        self.assertFalse(debrief(case, ["pattern"], "jet_lean", case.right_act).passed)
        worths = [s.worth for s in dear.mine]
        self.assertLess(min(worths), 0.2)
        self.assertAlmostEqual(masters_way(case)[0].worth, 1.0)

    def test_a_number_is_the_same_case_for_two_people_and_numbers_differ(self) -> None:
        for seed in (0, 4711, 999_999):
            one, other = random_case(seed), random_case(seed)
            self.assertEqual(one, other)
            self.assertEqual([one.answer(c) for c in QUESTIONS], [other.answer(c) for c in QUESTIONS])
        self.assertGreater(len({random_case(n).complaint for n in range(60)}), 20)
        for refused in (
            lambda: random_case(1_000_000),
            lambda: exercise_case("juggling"),
            lambda: random_case(3).answer("mood"),
        ):
            with self.assertRaises(TradeError):
                refused()


class Files(unittest.TestCase):
    """The open files."""

    def test_the_example_is_what_is_published(self) -> None:
        report = json.loads(trouble_text(EXAMPLE.read_bytes()).model_dump_json())
        self.assertEqual(
            report, json.loads(EXAMPLE.with_name("trouble_report.example.json").read_text())
        )

    def test_what_is_none_is_refused_by_name(self) -> None:
        good = json.loads(EXAMPLE.read_text())
        for change, field in (
            ({"complaint": "sulks"}, "complaint"),
            ({"facts": {"mood": True}}, "facts"),
            ({"facts": {"lag": "sideways"}}, "facts.lag"),
            ({"facts": {"dry_run": "yes"}}, "facts.dry_run"),
        ):
            with self.assertRaises(TradeError) as refused:
                trouble_text(json.dumps(good | change))
            self.assertEqual(refused.exception.field, field)
        for text in (
            "",
            "[]",
            json.dumps(good | {"facts": {"dry_run": 1}}),
            json.dumps(good | {"version": 2}),
        ):
            with self.assertRaises(FileError):
                trouble_text(text)

    def test_the_table_in_the_documents_is_the_knowledge(self) -> None:
        self.assertEqual(FILE.read_text(), table_of_knowledge())


if __name__ == "__main__":
    unittest.main()
