"""Every question, what it costs to answer, and how likely each answer is under each cause.

``base`` is how often an answer is given whatever the cause; ``given`` names, cause by cause, the answers that it makes likely or
unlikely, the others sharing what is left as in ``base``. A yes-or-no question gives the chance of yes. All are assumptions from
the trade's symptoms (domain sections 4 to 13): what matters is which of two causes an answer speaks for, and about how strongly.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from orthotome.core.trouble.causes import Cause

Answer = str | bool
Effort = Literal["look", "measure", "cut", "cabinet"]
COST: dict[Effort, float] = {"look": 1.0, "measure": 1.5, "cut": 2.2, "cabinet": 3.0}
"""What answering takes, in looks: a look is less than a measurement, that less than a cut, that less than a cabinet."""

_FLOOR = 0.006  # of every answer under every cause: people misread, and two things may be wrong


@dataclass(frozen=True)
class Question:
    """A question, its answers, and what they speak for."""

    words: str
    effort: Effort
    base: Mapping[Answer, float]
    given: Mapping[Cause, Mapping[Answer, float]] = field(default_factory=dict)

    @property
    def answers(self) -> tuple[Answer, ...]:
        """In the order in which they are offered."""
        return tuple(self.base)

    def chances(self, cause: Cause) -> dict[Answer, float]:
        """How likely each answer is if that is the cause; they sum to 1, and none is nought."""
        said = self.given.get(cause, {})
        rest = sum(share for answer, share in self.base.items() if answer not in said)
        left = max(0.0, 1.0 - sum(said.values()))
        plain = {
            a: said[a] if a in said else (left * share / rest if rest else 0.0)
            for a, share in self.base.items()
        }
        whole = sum(plain.values())
        n = len(plain)
        return {a: (1 - n * _FLOOR) * p / whole + _FLOOR for a, p in plain.items()}


def _yes_no(words: str, effort: Effort, base: float, given: Mapping[Cause, float]) -> Question:
    both: Mapping[Cause, Mapping[Answer, float]] = {c: {True: p, False: 1 - p} for c, p in given.items()}
    return Question(words, effort, {True: base, False: 1 - base}, both)


_CONTROLS: tuple[Cause, ...] = (
    "signal_divided_twice", "signal_not_divided", "signal_ratio_off", "signal_open", "set_point_wrong", "set_point_not_raised",
    "control_too_early", "control_not_held", "loop_gain",
)  # fmt: skip
"""Causes that are not there while height control is off."""
_FOLLOWED: Mapping[Cause, Mapping[Answer, float]] = {c: {"on": 0.985} for c in _CONTROLS}

QUESTIONS: dict[str, Question] = {
    "happens": Question(
        "Where does it happen?", "look",
        {"at_start": 0.15, "in_corners": 0.10, "in_holes": 0.10, "along_cut": 0.15, "at_end": 0.10, "everywhere": 0.40},
        {
            "pierce_delay_short": {"at_start": 0.965}, "pierce_delay_long": {"at_start": 0.95}, "pierce_height_low": {"at_start": 0.93},
            "control_too_early": {"at_start": 0.965}, "lead_in": {"at_start": 0.93, "in_holes": 0.035}, "arc_signal_missing": {"at_start": 0.965},
            "touch_off_circuit": {"at_start": 0.78}, "signal_divided_twice": {"at_start": 0.88}, "signal_not_divided": {"at_start": 0.83},
            "signal_open": {"at_start": 0.78}, "work_clamp": {"at_start": 0.45, "everywhere": 0.35},
            "control_not_held": {"in_corners": 0.83, "in_holes": 0.042}, "acceleration": {"in_corners": 0.55, "in_holes": 0.3},
            "warp": {"along_cut": 0.83}, "loop_gain": {"along_cut": 0.73, "in_corners": 0.05},
            "set_point_not_raised": {"along_cut": 0.35, "everywhere": 0.45},
            "set_point_wrong": {"at_start": 0.3, "along_cut": 0.25, "everywhere": 0.35}, "rail_debris": {"along_cut": 0.73},
            "end_lag": {"at_end": 0.96}, "overrun": {"at_end": 0.93, "in_holes": 0.042},
            "arc_off_plate": {"at_end": 0.5, "at_start": 0.07, "along_cut": 0.07},
            "slack_in_drive": {"in_holes": 0.35, "in_corners": 0.25}, "too_fast": {"everywhere": 0.88}, "too_slow": {"everywhere": 0.88},
            "too_high": {"everywhere": 0.93}, "too_low": {"everywhere": 0.93}, "worn_nozzle": {"everywhere": 0.93},
            "worn_electrode": {"everywhere": 0.83, "at_start": 0.05}, "wrong_amperage": {"everywhere": 0.95},
            "gantry_skew": {"everywhere": 0.93}, "scale": {"everywhere": 0.95}, "jet_lean": {"everywhere": 0.88},
            "program_for_other_parts": {"everywhere": 0.73}, "beyond_capability": {"everywhere": 0.73},
            "kerf_not_compensated": {"everywhere": 0.95}, "kerf_wrong_side": {"everywhere": 0.95},
        },
    ),
    "first_seen": Question(
        "When was it seen first, or what was changed before it?", "look",
        {
            "always": 0.20, "slowly": 0.12, "after_parts_change": 0.12, "after_crash": 0.06, "after_program_change": 0.17,
            "after_rewiring": 0.04, "after_moving_plate": 0.07, "today": 0.22,
        },
        {
            "worn_electrode": {"slowly": 0.78}, "worn_nozzle": {"slowly": 0.5, "today": 0.07}, "set_point_not_raised": {"slowly": 0.93},
            "collision": {"after_crash": 0.94}, "gantry_skew": {"always": 0.4, "after_crash": 0.35},
            "jet_lean": {"after_crash": 0.35, "after_parts_change": 0.25, "always": 0.25}, "slack_in_drive": {"slowly": 0.5, "always": 0.25},
            "rail_debris": {"slowly": 0.25, "today": 0.5}, "signal_divided_twice": {"after_rewiring": 0.55, "always": 0.25},
            "signal_not_divided": {"after_rewiring": 0.73, "always": 0.07}, "signal_ratio_off": {"after_rewiring": 0.35, "always": 0.4},
            "signal_open": {"after_rewiring": 0.35, "today": 0.35, "after_crash": 0.042},
            "program_for_other_parts": {"after_program_change": 0.5, "after_parts_change": 0.3},
            "set_point_wrong": {"after_program_change": 0.35, "after_parts_change": 0.25}, "feed_word": {"after_program_change": 0.91},
            "kerf_not_compensated": {"after_program_change": 0.83}, "kerf_wrong_side": {"after_program_change": 0.83},
            "wrong_direction": {"after_program_change": 0.55, "after_parts_change": 0.05}, "wrong_amperage": {"after_parts_change": 0.73},
            "lead_in": {"after_program_change": 0.5, "always": 0.3}, "overrun": {"after_program_change": 0.5, "always": 0.3},
            "end_lag": {"always": 0.45, "after_program_change": 0.25}, "pierce_delay_short": {"after_program_change": 0.4},
            "pierce_delay_long": {"after_program_change": 0.45}, "pierce_height_low": {"after_program_change": 0.4},
            "wet_air": {"today": 0.4, "slowly": 0.35}, "low_air": {"today": 0.42, "slowly": 0.3},
            "warp": {"after_moving_plate": 0.4, "today": 0.35}, "axis_map": {"always": 0.45, "after_rewiring": 0.35},
            "zero": {"after_moving_plate": 0.55, "today": 0.25}, "work_clamp": {"after_moving_plate": 0.4, "today": 0.35},
            "touch_off_circuit": {"today": 0.42, "after_moving_plate": 0.06}, "float_offset": {"always": 0.35, "after_crash": 0.07, "after_parts_change": 0.07},
            "arc_signal_missing": {"after_rewiring": 0.3, "today": 0.3}, "interference": {"after_rewiring": 0.35, "always": 0.3},
            "acceleration": {"always": 0.45, "after_program_change": 0.3}, "scale": {"always": 0.73, "after_rewiring": 0.07},
            "nitrided_edge": {"always": 0.88}, "beyond_capability": {"always": 0.73, "after_program_change": 0.07},
            "control_too_early": {"always": 0.4, "after_program_change": 0.25}, "control_not_held": {"always": 0.5},
            "loop_gain": {"always": 0.5},
        },
    ),
    "height_control": Question(
        "Is height control on?", "look", {"on": 0.72, "off": 0.28},
        {
            **_FOLLOWED,
            "program_for_other_parts": {"on": 0.93}, "warp": {"on": 0.55}, "too_high": {"on": 0.5}, "too_low": {"on": 0.5},
            "arc_signal_missing": {"on": 0.965},
        },
    ),
    "dry_run": _yes_no("Is it a dry run, with the torch off?", "look", 0.05, {"arc_signal_missing": 0.5, "axis_map": 0.4, "zero": 0.25}),
    "holes_fine": _yes_no(
        "Are small holes fine?", "look", 0.45,
        {
            "set_point_wrong": 0.96, "program_for_other_parts": 0.93, "set_point_not_raised": 0.95, "signal_ratio_off": 0.95,
            "signal_divided_twice": 0.93, "signal_not_divided": 0.93, "signal_open": 0.88, "warp": 0.83, "loop_gain": 0.88,
            "control_too_early": 0.73, "feed_word": 0.78, "too_fast": 0.4, "worn_nozzle": 0.05, "worn_electrode": 0.07, "jet_lean": 0.3,
            "wrong_amperage": 0.07, "low_air": 0.25, "beyond_capability": 0.07, "slack_in_drive": 0.028, "acceleration": 0.05,
            "lead_in": 0.25, "overrun": 0.25, "control_not_held": 0.3, "kerf_not_compensated": 0.042, "kerf_wrong_side": 0.042,
            "gantry_skew": 0.25, "scale": 0.3, "wet_air": 0.25, "float_offset": 0.3, "touch_off_circuit": 0.3,
        },
    ),
    "new_parts": _yes_no(
        "Are the parts in the torch new?", "look", 0.4,
        {
            "worn_electrode": 0.014, "worn_nozzle": 0.017, "set_point_not_raised": 0.014, "wrong_amperage": 0.73,
            "program_for_other_parts": 0.5,
        },
    ),
    "good_at_fixed_height": _yes_no(
        "Is it good with height control off, at a fixed height on flat plate?", "cut", 0.35,
        {
            **dict.fromkeys(_CONTROLS, 0.96),
            "program_for_other_parts": 0.5, "warp": 0.3, "too_fast": 0.028, "too_slow": 0.028, "feed_word": 0.035, "worn_electrode": 0.042,
            "worn_nozzle": 0.028, "jet_lean": 0.021, "gantry_skew": 0.021, "slack_in_drive": 0.028, "rail_debris": 0.035, "scale": 0.021,
            "float_offset": 0.05, "touch_off_circuit": 0.07, "wrong_amperage": 0.028, "low_air": 0.035, "wet_air": 0.035,
            "work_clamp": 0.05, "acceleration": 0.05, "pierce_delay_short": 0.05, "wrong_direction": 0.021, "collision": 0.035,
            "beyond_capability": 0.021, "arc_off_plate": 0.05,
        },
    ),
    "screen_volts": Question(
        "What does the screen show for volts in a steady cut?", "look",
        {"near_zero": 0.02, "far_too_high": 0.02, "a_little_off": 0.16, "right": 0.70, "none": 0.10},
        {
            "signal_divided_twice": {"near_zero": 0.972}, "signal_not_divided": {"far_too_high": 0.976},
            "signal_ratio_off": {"a_little_off": 0.95}, "signal_open": {"near_zero": 0.45, "none": 0.45},
            "set_point_wrong": {"right": 0.85, "a_little_off": 0.07}, "worn_electrode": {"a_little_off": 0.45},
            "worn_nozzle": {"a_little_off": 0.3}, "set_point_not_raised": {"a_little_off": 0.35, "right": 0.55},
            "work_clamp": {"a_little_off": 0.35}, "interference": {"far_too_high": 0.25, "near_zero": 0.05, "a_little_off": 0.07},
            "arc_signal_missing": {"none": 0.35},
        },
    ),
    "pattern": Question(
        "Which edges are bad?", "look", {"one_side": 0.12, "one_direction": 0.10, "all_round": 0.43, "no_pattern": 0.35},
        {
            "wrong_direction": {"one_side": 0.96}, "jet_lean": {"one_direction": 0.94}, "collision": {"one_direction": 0.73},
            "worn_nozzle": {"one_side": 0.25, "one_direction": 0.07, "no_pattern": 0.3}, "too_high": {"all_round": 0.95},
            "too_low": {"all_round": 0.95}, "too_fast": {"all_round": 0.95}, "too_slow": {"all_round": 0.95},
            "set_point_wrong": {"all_round": 0.88}, "set_point_not_raised": {"all_round": 0.88},
            "program_for_other_parts": {"all_round": 0.88}, "worn_electrode": {"all_round": 0.5, "no_pattern": 0.4},
            "wrong_amperage": {"all_round": 0.88}, "beyond_capability": {"all_round": 0.88}, "wet_air": {"no_pattern": 0.78},
            "warp": {"no_pattern": 0.78}, "slack_in_drive": {"no_pattern": 0.45, "one_direction": 0.35},
            "gantry_skew": {"one_direction": 0.3, "all_round": 0.4}, "feed_word": {"no_pattern": 0.55},
        },
    ),
    "swaps_with_travel": _yes_no(
        "Does the bad side change over when the contour is cut the other way round?", "cut", 0.35,
        {"wrong_direction": 0.976, "jet_lean": 0.021, "collision": 0.028, "worn_nozzle": 0.07, "gantry_skew": 0.028},
    ),
    "dross_kind": Question(
        "What is the dross underneath like?", "look", {"low_speed": 0.32, "high_speed": 0.32, "both": 0.36},
        {
            "too_slow": {"low_speed": 0.972}, "too_fast": {"high_speed": 0.965}, "feed_word": {"high_speed": 0.55, "low_speed": 0.35},
            "worn_electrode": {"both": 0.5, "high_speed": 0.35}, "worn_nozzle": {"both": 0.73}, "too_high": {"high_speed": 0.45},
            "too_low": {"low_speed": 0.55}, "wet_air": {"both": 0.83}, "low_air": {"high_speed": 0.4, "both": 0.45},
            "acceleration": {"low_speed": 0.95}, "control_not_held": {"low_speed": 0.55}, "beyond_capability": {"high_speed": 0.78},
            "end_lag": {"high_speed": 0.45},
        },
    ),
    "lag": Question(
        "How do the lag lines run on the edge?", "look", {"upright": 0.58, "swept_back": 0.42},
        {
            "too_fast": {"swept_back": 0.965}, "too_slow": {"upright": 0.979}, "feed_word": {"swept_back": 0.75},
            "beyond_capability": {"swept_back": 0.88}, "worn_electrode": {"swept_back": 0.55}, "low_air": {"swept_back": 0.55},
            "wrong_amperage": {"swept_back": 0.55}, "end_lag": {"swept_back": 0.78}, "overrun": {"upright": 0.83},
            "acceleration": {"upright": 0.95}, "too_high": {"swept_back": 0.45},
        },
    ),
    "size_off_by": Question(
        "How far off is the size?", "measure", {"one_kerf": 0.12, "two_kerfs": 0.06, "grows_with_size": 0.10, "less": 0.72},
        {
            "kerf_not_compensated": {"one_kerf": 0.972}, "kerf_wrong_side": {"two_kerfs": 0.972}, "scale": {"grows_with_size": 0.972},
            "worn_nozzle": {"less": 0.96}, "too_high": {"less": 0.965}, "too_slow": {"less": 0.965}, "too_fast": {"less": 0.965},
            "slack_in_drive": {"less": 0.95}, "gantry_skew": {"less": 0.83, "grows_with_size": 0.07},
        },
    ),
    "holes_also": Question(
        "How do the holes come out?", "measure", {"too_large": 0.22, "too_small": 0.28, "right": 0.50},
        {
            "kerf_not_compensated": {"too_large": 0.965}, "kerf_wrong_side": {"too_large": 0.965}, "worn_nozzle": {"too_large": 0.73},
            "slack_in_drive": {"too_small": 0.73}, "too_high": {"too_large": 0.4}, "scale": {"too_small": 0.4, "too_large": 0.25},
        },
    ),
    "delay_zero": _yes_no(
        "Is the pierce delay nought, or nearly?", "look", 0.07, {"pierce_delay_short": 0.55, "pierce_delay_long": 0.01, "program_for_other_parts": 0.05},
    ),
    "arc_before_motion": _yes_no(
        "Is the arc there, and through, before the torch moves?", "look", 0.85,
        {"pierce_delay_short": 0.07, "arc_signal_missing": 0.25, "pierce_delay_long": 0.986, "work_clamp": 0.73, "low_air": 0.83},
    ),
    "thin_sheet": _yes_no(
        "Is it thin sheet?", "look", 0.4,
        {"warp": 0.96, "pierce_delay_long": 0.73, "acceleration": 0.75, "beyond_capability": 0.035, "end_lag": 0.25, "pierce_delay_short": 0.25},
    ),
    "near_capability": _yes_no(
        "Is the plate near the most that the set pierces or cuts?", "look", 0.14,
        {"beyond_capability": 0.976, "pierce_height_low": 0.25, "pierce_delay_short": 0.3, "too_fast": 0.22, "end_lag": 0.25},
    ),
    "water_in_air": _yes_no(
        "Does the air leave water on paper or a mirror?", "measure", 0.12, {"wet_air": 0.972, "worn_electrode": 0.07, "low_air": 0.07},
    ),
    "air_pressure_falls": _yes_no(
        "Does the pressure at the source sink while it cuts?", "look", 0.1, {"low_air": 0.972, "wet_air": 0.06},
    ),
    "clamp_on_bright_metal": _yes_no(
        "Does the work clamp sit tight, on bright metal of the plate itself?", "look", 0.84,
        {"work_clamp": 0.025, "touch_off_circuit": 0.78, "interference": 0.78},
    ),
    "plate_dirty_or_wet": _yes_no(
        "Is the plate dirty, painted, rusty or wet where it touches off?", "look", 0.25, {"touch_off_circuit": 0.88, "work_clamp": 0.73},
    ),
    "crosses_old_kerf": _yes_no(
        "Does it happen where an old kerf is crossed?", "look", 0.1, {"control_not_held": 0.3, "arc_off_plate": 0.4},
    ),
    "ends_off_plate": _yes_no("Does the cut run off the plate's edge?", "look", 0.1, {"arc_off_plate": 0.93}),
    "oval_same_way": _yes_no(
        "Are all holes oval the same way, whichever way round they are cut?", "measure", 0.4,
        {"gantry_skew": 0.979, "scale": 0.972, "jet_lean": 0.94, "worn_nozzle": 0.78, "slack_in_drive": 0.35, "acceleration": 0.25},
    ),
    "electrode_pit": Question(
        "How deep is the electrode's pit?", "measure", {"shallow": 0.76, "deep": 0.24},
        {
            "worn_electrode": {"deep": 0.979}, "set_point_not_raised": {"deep": 0.83}, "wet_air": {"deep": 0.5}, "low_air": {"deep": 0.38},
            "worn_nozzle": {"deep": 0.35},
        },
    ),
    "nozzle_bore": Question(
        "Is the nozzle's bore round and sharp?", "look", {"round": 0.82, "oval": 0.18},
        {
            "worn_nozzle": {"oval": 0.972}, "collision": {"oval": 0.35}, "pierce_height_low": {"oval": 0.35}, "wrong_amperage": {"oval": 0.35},
            "too_low": {"oval": 0.3}, "arc_off_plate": {"oval": 0.3},
        },
    ),
    "amps_match_parts": _yes_no(
        "Do the amperes on the source match the number on the nozzle?", "look", 0.93, {"wrong_amperage": 0.017, "program_for_other_parts": 0.73},
    ),
    "repeats_same_place": _yes_no(
        "Does it come at the same place of the table each time?", "look", 0.25,
        {
            "rail_debris": 0.976, "slack_in_drive": 0.4, "warp": 0.45, "acceleration": 0.45, "interference": 0.035, "loop_gain": 0.042,
            "wet_air": 0.028, "worn_nozzle": 0.042, "low_air": 0.035, "collision": 0.3, "work_clamp": 0.042,
        },
    ),
    "arc_signal_wired": _yes_no(
        "Is a signal wired that tells the controller that the arc is there?", "look", 0.85, {"arc_signal_missing": 0.07, "pierce_delay_short": 0.73},
    ),
    "high_frequency_start": _yes_no("Does the source start with high frequency?", "look", 0.3, {"interference": 0.95}),
    "program_for_these_parts": _yes_no(
        "Was the program made for this metal, this thickness and these parts?", "look", 0.87,
        {"program_for_other_parts": 0.021, "wrong_amperage": 0.78, "set_point_wrong": 0.83, "feed_word": 0.85, "beyond_capability": 0.88},
    ),
    "slows_in_corners": _yes_no(
        "Does the machine slow down visibly in corners?", "look", 0.5, {"control_not_held": 0.95, "acceleration": 0.96},
    ),
    "warped": _yes_no("Is the sheet warped, or does it lift while it is cut?", "look", 0.18, {"warp": 0.979, "collision": 0.4, "loop_gain": 0.3}),
    "bevel_sign": Question(
        "Which end of the edge stands out?", "measure", {"bottom_out": 0.52, "undercut": 0.48},
        {
            "too_fast": {"bottom_out": 0.965}, "too_high": {"bottom_out": 0.965}, "too_slow": {"undercut": 0.95}, "too_low": {"undercut": 0.96},
            "set_point_not_raised": {"undercut": 0.94}, "worn_electrode": {"bottom_out": 0.78}, "worn_nozzle": {"bottom_out": 0.75},
            "feed_word": {"bottom_out": 0.75}, "beyond_capability": {"bottom_out": 0.94}, "low_air": {"bottom_out": 0.78},
            "control_not_held": {"undercut": 0.83}, "wrong_direction": {"bottom_out": 0.78},
        },
    ),
    "end_uncut": Question(
        "What is uncut at the end: the bottom only, or right through?", "look", {"bottom_only": 0.5, "through": 0.5},
        {"end_lag": {"bottom_only": 0.965}, "overrun": {"through": 0.95}, "too_fast": {"bottom_only": 0.88}, "arc_off_plate": {"through": 0.88}},
    ),
    "touch_off": Question(
        "How does it find the plate?", "look", {"ohmic": 0.62, "float_switch": 0.38},
        {"float_offset": {"float_switch": 0.986}, "touch_off_circuit": {"ohmic": 0.95}},
    ),
    "set_point_matches": _yes_no(
        "Is the set-point the volts that a cut at the right height showed on these parts?", "measure", 0.75,
        {"set_point_wrong": 0.021, "set_point_not_raised": 0.05, "program_for_other_parts": 0.3, "signal_ratio_off": 0.83},
    ),
    "feeds_agree": _yes_no(
        "Do all feeds in the program agree with the setting?", "look", 0.88, {"feed_word": 0.017, "program_for_other_parts": 0.35, "too_fast": 0.95},
    ),
    "feeler_height": Question(
        "With the source isolated: where does the torch stand after touch-off and drop, by a feeler?", "measure",
        {"as_told": 0.78, "higher": 0.11, "lower": 0.11},
        {
            "float_offset": {"as_told": 0.021}, "touch_off_circuit": {"as_told": 0.07, "higher": 0.73}, "too_high": {"higher": 0.45},
            "too_low": {"lower": 0.45}, "pierce_height_low": {"lower": 0.4}, "collision": {"as_told": 0.73},
        },
    ),
    "gives_by_hand": _yes_no(
        "With the drives isolated: does the torch give when it is pushed by hand against a drive?", "measure", 0.15,
        {"slack_in_drive": 0.972, "collision": 0.35},
    ),
    "diagonals_differ": _yes_no(
        "Do the two diagonals of a large rectangle differ?", "measure", 0.2, {"gantry_skew": 0.979, "collision": 0.3, "rail_debris": 0.3},
    ),
    "torch_stands_upright": _yes_no(
        "Does the torch stand upright against a square, both ways?", "measure", 0.85, {"jet_lean": 0.3, "collision": 0.35},
    ),
    "bobs_on_flat": _yes_no(
        "Does the torch bob up and down on a long straight over flat sheet?", "look", 0.12, {"loop_gain": 0.965, "interference": 0.3, "wet_air": 0.07},
    ),
    "zero_over_corner": _yes_no(
        "Does the torch stand over the sheet's corner when it is sent to zero?", "look", 0.85, {"zero": 0.028, "collision": 0.35, "axis_map": 0.73, "acceleration": 0.4, "rail_debris": 0.4},
    ),
    "jogs_right": _yes_no(
        "Do X plus and Y plus move the torch the way that the program means?", "look", 0.95, {"axis_map": 0.028},
    ),
    "hit_something": _yes_no("Did the torch hit something lately?", "look", 0.12, {"collision": 0.972, "jet_lean": 0.35, "gantry_skew": 0.3}),
    "nitrogen_or_air": _yes_no(
        "Is it steel cut with air or nitrogen?", "look", 0.7, {"nitrided_edge": 0.982, "too_slow": 0.83},
    ),
    "splash_hits_shield": _yes_no(
        "Does the splash of the pierce hit the shield?", "look", 0.2, {"pierce_height_low": 0.965, "pierce_delay_long": 0.4, "float_offset": 0.4, "too_low": 0.3, "touch_off_circuit": 0.35},
    ),
    "crater_wide": _yes_no(
        "Is the pierce's crater much wider than the kerf?", "look", 0.18, {"pierce_delay_long": 0.96, "pierce_height_low": 0.25, "lead_in": 0.35},
    ),
}  # fmt: skip

ANSWER_WORDS: dict[str, str] = {
    "at_start": "at the start", "in_corners": "in corners", "in_holes": "in holes", "along_cut": "along the cut",
    "at_end": "at the end", "everywhere": "everywhere", "always": "always, nothing was changed", "slowly": "it came slowly",
    "after_parts_change": "after a change of parts", "after_crash": "after a crash", "after_program_change": "with another program",
    "after_rewiring": "after rewiring", "after_moving_plate": "after the plate was moved", "today": "today, all at once", "on": "on",
    "off": "off", "near_zero": "nearly nothing", "far_too_high": "far too much", "a_little_off": "a little off", "right": "right",
    "none": "it shows none", "one_side": "one side of travel", "one_direction": "those that face one way", "all_round": "all of them",
    "no_pattern": "no pattern", "low_speed": "bubbly chunks that brush off", "high_speed": "a thin hard bead", "both": "both",
    "upright": "upright", "swept_back": "swept back", "one_kerf": "one kerf", "two_kerfs": "two kerfs",
    "grows_with_size": "it grows with the size", "less": "less than a kerf", "too_large": "too large", "too_small": "too small",
    "shallow": "shallow", "deep": "deep, near its limit", "round": "round and sharp", "oval": "oval or nicked",
    "bottom_out": "the bottom", "undercut": "the top", "bottom_only": "the bottom only", "through": "right through",
    "ohmic": "the shield touches the plate", "float_switch": "a switch in the mount", "as_told": "where it is told",
    "higher": "higher", "lower": "lower",
}  # fmt: skip


def answer_words(answer: Answer) -> str:
    """An answer as the shop says it."""
    if isinstance(answer, bool):
        return "yes" if answer else "no"
    return ANSWER_WORDS.get(answer, "I don’t know")
