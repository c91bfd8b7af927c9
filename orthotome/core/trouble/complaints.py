"""What operators come with, in their words, and how likely each cause is before anything is asked.

Weights are how often, of a dozen or so such complaints, it was that; assumptions of the trade (domain section 13), shared by
nothing in the code. A cause that is not named may still be it, and is kept alive with a little.
"""

from dataclasses import dataclass
from typing import Literal, get_args

from orthotome.core.trouble.causes import CAUSES, Cause

Complaint = Literal[
    "flies_up_at_start", "dives_at_start", "dives_in_corners", "climbs_along_cut", "dives_along_cut", "holes_fine_outside_bad",
    "bevel_one_side", "bevel_one_direction", "bevel_all_round", "dross_brushes_off", "dross_needs_grinding", "top_spatter",
    "not_through_at_start", "not_through_anywhere", "tab_at_end", "corner_tip_uncut", "slug_stays_in_hole", "hole_oval",
    "hole_tapered", "hole_flat", "part_too_small", "part_too_large", "part_out_of_square", "wavy_edge", "arc_goes_out",
    "will_not_start", "parts_die_early", "nozzle_oval", "shield_spattered", "steps_lost", "waits_after_touch", "edge_too_hard",
    "axis_wrong_way", "part_in_wrong_place", "readout_absurd", "switches_trip", "torch_knocked_off", "touch_off_fails",
    "scar_at_start_or_end",
]  # fmt: skip
COMPLAINTS: tuple[Complaint, ...] = get_args(Complaint)

Group = Literal["height", "edge", "through", "holes", "size", "arc", "parts", "machine"]
GROUPS: dict[Group, str] = {
    "height": "The torch goes up or down",
    "edge": "The edge is bad",
    "through": "It is not cut through",
    "holes": "Holes",
    "size": "Size and place",
    "arc": "Arc and start",
    "parts": "Torch parts",
    "machine": "The machine",
}


@dataclass(frozen=True)
class ComplaintFacts:
    """A complaint in the shop's words, where it belongs, and the weight of each cause."""

    words: str
    group: Group
    causes: dict[Cause, float]


FACTS: dict[Complaint, ComplaintFacts] = {
    "flies_up_at_start": ComplaintFacts("The torch flies up at the start", "height", {
        "signal_divided_twice": 5, "signal_open": 2.5, "set_point_wrong": 2, "program_for_other_parts": 1.5, "control_too_early": 1,
        "signal_ratio_off": 0.7, "touch_off_circuit": 0.8, "work_clamp": 0.4,
    }),
    "dives_at_start": ComplaintFacts("The torch dives at the start", "height", {
        "set_point_wrong": 3.5, "program_for_other_parts": 3, "control_too_early": 3, "signal_not_divided": 2, "signal_ratio_off": 1,
        "set_point_not_raised": 1.2, "float_offset": 0.7, "touch_off_circuit": 0.7, "worn_electrode": 0.4, "pierce_delay_short": 0.5,
        "work_clamp": 0.3,
    }),
    "dives_in_corners": ComplaintFacts("The torch dives in corners", "height", {
        "control_not_held": 6, "acceleration": 2, "loop_gain": 1.5, "set_point_wrong": 0.5, "feed_word": 0.4, "warp": 0.3,
    }),
    "climbs_along_cut": ComplaintFacts("The torch climbs along the cut", "height", {
        "set_point_wrong": 2, "worn_nozzle": 1.5, "warp": 2, "signal_ratio_off": 1, "program_for_other_parts": 1, "loop_gain": 1,
        "work_clamp": 0.7, "low_air": 0.6, "signal_open": 0.6, "interference": 0.4, "too_fast": 0.5,
    }),
    "dives_along_cut": ComplaintFacts("The torch dives along the cut", "height", {
        "set_point_not_raised": 3, "set_point_wrong": 2, "warp": 1.5, "program_for_other_parts": 1.3, "worn_electrode": 1,
        "signal_ratio_off": 0.7, "work_clamp": 0.7, "loop_gain": 0.7, "control_not_held": 0.8, "too_slow": 0.5, "wet_air": 0.4,
        "arc_off_plate": 0.3,
    }),
    "holes_fine_outside_bad": ComplaintFacts("Holes are fine, outsides are bad", "height", {
        "program_for_other_parts": 4, "set_point_wrong": 4, "feed_word": 1.5, "set_point_not_raised": 1.5, "signal_ratio_off": 1,
        "too_fast": 0.7, "loop_gain": 0.5, "warp": 0.5, "wrong_direction": 0.5,
    }),
    "bevel_one_side": ComplaintFacts("Bevel on one side only", "edge", {
        "wrong_direction": 4, "jet_lean": 2, "worn_nozzle": 2, "collision": 0.8, "kerf_wrong_side": 0.2,
    }),
    "bevel_one_direction": ComplaintFacts("Bevel in one direction of travel", "edge", {
        "jet_lean": 5, "collision": 2, "worn_nozzle": 1.5, "wrong_direction": 0.6, "slack_in_drive": 0.3, "gantry_skew": 0.2,
        "warp": 0.2,
    }),
    "bevel_all_round": ComplaintFacts("Bevel all round", "edge", {
        "too_high": 3, "too_fast": 3, "too_low": 1.5, "too_slow": 1.5, "set_point_wrong": 1.5, "program_for_other_parts": 1.3,
        "set_point_not_raised": 1, "worn_electrode": 1, "worn_nozzle": 1, "wrong_amperage": 1, "beyond_capability": 0.6,
        "float_offset": 0.7, "feed_word": 0.5, "signal_ratio_off": 0.5, "touch_off_circuit": 0.4,
    }),
    "dross_brushes_off": ComplaintFacts("Dross that brushes off", "edge", {
        "too_slow": 5, "feed_word": 1.2, "acceleration": 1.2, "program_for_other_parts": 1, "wrong_amperage": 0.8, "worn_nozzle": 0.5,
        "too_low": 0.5,
    }),
    "dross_needs_grinding": ComplaintFacts("Dross that needs grinding", "edge", {
        "too_fast": 5, "feed_word": 1.5, "program_for_other_parts": 1.3, "worn_electrode": 1, "worn_nozzle": 1, "too_high": 1,
        "wrong_amperage": 1, "beyond_capability": 0.8, "low_air": 0.7, "wet_air": 0.6,
    }),
    "top_spatter": ComplaintFacts("Spatter on the top edge", "edge", {
        "too_high": 2.5, "worn_nozzle": 2, "too_fast": 1.5, "worn_electrode": 1, "low_air": 1, "set_point_wrong": 1,
        "wrong_amperage": 0.5, "pierce_height_low": 0.4,
    }),
    "not_through_at_start": ComplaintFacts("Not through at the start", "through", {
        "pierce_delay_short": 5, "beyond_capability": 1.3, "work_clamp": 1, "arc_signal_missing": 0.8, "worn_electrode": 1,
        "wrong_amperage": 0.8, "lead_in": 0.4, "low_air": 0.6, "program_for_other_parts": 0.6, "control_too_early": 0.4,
    }),
    "not_through_anywhere": ComplaintFacts("Not through anywhere", "through", {
        "too_fast": 3, "feed_word": 2.5, "wrong_amperage": 2, "work_clamp": 1.8, "beyond_capability": 1.8, "program_for_other_parts": 1.8,
        "worn_electrode": 1.5, "worn_nozzle": 1, "low_air": 1, "too_high": 1, "wet_air": 0.5,
    }),
    "tab_at_end": ComplaintFacts("A tab is left at the end", "through", {
        "end_lag": 5, "overrun": 3, "too_fast": 1, "arc_off_plate": 0.3, "feed_word": 0.3,
    }),
    "corner_tip_uncut": ComplaintFacts("The tip of a corner stays uncut", "through", {
        "too_fast": 3, "end_lag": 2, "control_not_held": 0.7, "feed_word": 0.7, "acceleration": 0.5, "worn_electrode": 0.4,
    }),
    "slug_stays_in_hole": ComplaintFacts("The slug stays in the hole", "holes", {
        "overrun": 2.5, "end_lag": 2, "pierce_delay_short": 1.3, "lead_in": 1, "too_fast": 1.5, "beyond_capability": 1.2,
        "feed_word": 0.8, "too_high": 0.4,
    }),
    "hole_oval": ComplaintFacts("A hole is oval", "holes", {
        "slack_in_drive": 4, "gantry_skew": 2, "acceleration": 2, "jet_lean": 1, "scale": 0.8, "worn_nozzle": 0.5,
    }),
    "hole_tapered": ComplaintFacts("A hole is tapered", "holes", {
        "too_fast": 2.5, "too_high": 2.5, "wrong_direction": 1.5, "feed_word": 1, "control_not_held": 1, "worn_nozzle": 1,
        "beyond_capability": 0.6, "jet_lean": 0.3,
    }),
    "hole_flat": ComplaintFacts("A hole has a flat on one side", "holes", {
        "lead_in": 4, "overrun": 2, "slack_in_drive": 2, "acceleration": 1, "end_lag": 0.6, "pierce_delay_long": 0.6,
    }),
    "part_too_small": ComplaintFacts("The part is too small", "size", {
        "kerf_not_compensated": 4, "kerf_wrong_side": 2.5, "scale": 2, "worn_nozzle": 0.7, "too_high": 0.4, "too_slow": 0.4,
        "slack_in_drive": 0.4,
    }),
    "part_too_large": ComplaintFacts("The part is too large", "size", {
        "scale": 3, "kerf_wrong_side": 1.3, "kerf_not_compensated": 1.3, "too_fast": 0.5, "slack_in_drive": 0.4, "worn_nozzle": 0.2,
    }),
    "part_out_of_square": ComplaintFacts("The part is out of square", "size", {
        "gantry_skew": 5, "slack_in_drive": 1.3, "scale": 0.8, "rail_debris": 1, "collision": 0.8, "acceleration": 0.4,
    }),
    "part_in_wrong_place": ComplaintFacts("The part lies in the wrong place on the sheet", "size", {
        "zero": 5, "axis_map": 1.5, "collision": 0.8, "acceleration": 0.8, "rail_debris": 0.8, "scale": 0.4,
    }),
    "wavy_edge": ComplaintFacts("The edge is wavy", "edge", {
        "loop_gain": 3, "slack_in_drive": 2, "rail_debris": 2, "worn_nozzle": 0.6, "wet_air": 0.7, "acceleration": 0.7,
        "interference": 0.6, "warp": 0.5,
    }),
    "arc_goes_out": ComplaintFacts("The arc goes out", "arc", {
        "arc_off_plate": 2.5, "work_clamp": 2, "low_air": 1.5, "worn_electrode": 1.5, "too_high": 1.3, "pierce_delay_long": 1.2,
        "wet_air": 1, "set_point_wrong": 0.8, "too_slow": 0.6, "warp": 0.5, "signal_divided_twice": 0.5, "worn_nozzle": 0.5,
    }),
    "will_not_start": ComplaintFacts("It will not start", "arc", {
        "work_clamp": 2.5, "low_air": 2, "worn_electrode": 2, "touch_off_circuit": 1.5, "worn_nozzle": 0.8, "arc_signal_missing": 0.8,
        "wet_air": 0.6, "collision": 0.5, "interference": 0.3,
    }),
    "waits_after_touch": ComplaintFacts("The program waits after the first touch", "arc", {
        "arc_signal_missing": 5, "touch_off_circuit": 1.5, "work_clamp": 1, "worn_electrode": 0.5, "low_air": 0.4,
    }),
    "scar_at_start_or_end": ComplaintFacts("A scar where it enters or leaves", "edge", {
        "lead_in": 3, "overrun": 2, "pierce_delay_long": 1.3, "end_lag": 0.8, "control_not_held": 0.8, "arc_off_plate": 0.4,
        "pierce_delay_short": 0.4,
    }),
    "edge_too_hard": ComplaintFacts("The edge is too hard to drill or tap", "edge", {"nitrided_edge": 6, "too_slow": 0.7, "wrong_amperage": 0.3}),
    "parts_die_early": ComplaintFacts("Parts die early", "parts", {
        "wet_air": 2.5, "low_air": 2, "pierce_height_low": 2, "arc_off_plate": 2, "wrong_amperage": 1.5, "too_low": 1.2,
        "set_point_not_raised": 1.5, "pierce_delay_long": 0.8, "pierce_delay_short": 0.8, "set_point_wrong": 0.6,
        "touch_off_circuit": 0.4,
    }),
    "nozzle_oval": ComplaintFacts("The nozzle is oval", "parts", {
        "pierce_height_low": 2.5, "too_low": 2.3, "wrong_amperage": 2, "collision": 1.5, "low_air": 1.3, "set_point_not_raised": 1,
        "worn_electrode": 0.8, "pierce_delay_short": 0.6, "arc_off_plate": 0.5,
    }),
    "shield_spattered": ComplaintFacts("The shield is full of spatter", "parts", {
        "pierce_height_low": 5, "pierce_delay_short": 1.5, "too_low": 1, "pierce_delay_long": 0.8, "float_offset": 0.8,
        "touch_off_circuit": 0.7, "beyond_capability": 0.6,
    }),
    "steps_lost": ComplaintFacts("It loses steps", "machine", {
        "acceleration": 3, "rail_debris": 3, "collision": 2.3, "interference": 1.2, "slack_in_drive": 0.6,
    }),
    "axis_wrong_way": ComplaintFacts("An axis moves the wrong way", "machine", {"axis_map": 6, "zero": 0.4, "interference": 0.2}),
    "readout_absurd": ComplaintFacts("The voltage on the screen is absurd", "machine", {
        "signal_divided_twice": 3, "signal_not_divided": 3, "signal_open": 2.5, "interference": 1.2, "signal_ratio_off": 1,
    }),
    "switches_trip": ComplaintFacts("Switches trip or the link drops with the arc", "machine", {
        "interference": 6, "work_clamp": 0.6, "rail_debris": 0.5, "collision": 0.3,
    }),
    "torch_knocked_off": ComplaintFacts("The torch was knocked off", "machine", {
        "collision": 4, "warp": 1.5, "set_point_wrong": 0.8, "touch_off_circuit": 0.7, "set_point_not_raised": 0.7, "control_not_held": 0.7,
        "signal_not_divided": 0.5, "zero": 0.4,
    }),
    "touch_off_fails": ComplaintFacts("Touch-off never ends, or ends early", "machine", {
        "touch_off_circuit": 5, "work_clamp": 1.3, "float_offset": 1.2, "collision": 0.6, "warp": 0.4, "interference": 0.3,
    }),
}  # fmt: skip

_UNNAMED_SHARE = (
    0.001  # of a complaint's whole weight: what each cause has that is not named for it. Assumption
)


def shares(complaint: Complaint) -> dict[Cause, float]:
    """How likely each cause is before anything is asked; they sum to 1."""
    named = FACTS[complaint].causes
    whole = sum(named.values())
    weights = {cause: named.get(cause, 0.0) + _UNNAMED_SHARE * whole for cause in CAUSES}
    return {cause: weight / sum(weights.values()) for cause, weight in weights.items()}
