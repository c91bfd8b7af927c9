"""Every cause that trouble is traced to: why it does that, how to prove it in a minute, and how to put it right.

Source: the trade's own symptoms and arithmetic (domain sections 5, 9 to 14). The words stand here once.
"""

from dataclasses import dataclass
from typing import Literal, get_args

from orthotome.core.findings import Room
from orthotome.core.height.signal_path import ONE_DIVISION, RAW_STOP
from orthotome.core.machine.health import Aspect

Cause = Literal[
    "signal_divided_twice", "signal_not_divided", "signal_ratio_off", "signal_open", "set_point_wrong",
    "program_for_other_parts", "feed_word", "kerf_not_compensated", "kerf_wrong_side", "wrong_direction",
    "pierce_delay_short", "pierce_delay_long", "pierce_height_low", "lead_in", "overrun", "end_lag", "too_slow", "too_fast",
    "too_high", "too_low", "jet_lean", "worn_electrode", "worn_nozzle", "wrong_amperage", "wet_air", "low_air",
    "control_too_early", "control_not_held", "loop_gain", "warp", "gantry_skew", "scale", "slack_in_drive", "acceleration",
    "rail_debris", "axis_map", "zero", "work_clamp", "touch_off_circuit", "float_offset", "arc_signal_missing",
    "interference", "nitrided_edge", "arc_off_plate", "beyond_capability", "collision", "set_point_not_raised",
]  # fmt: skip
CAUSES: tuple[Cause, ...] = get_args(Cause)

Hazard = Literal["cabinet", "torch", "moving", "air", "plate"]

HAZARDS: dict[Hazard, str] = {
    "cabinet": "Isolate and lock out the mains before any cabinet is opened: there is mains and arc voltage inside, and it is a "
    "licensed electrician's work.",
    "torch": "Isolate the plasma source, not only the torch, before hands go near torch, parts or clamp.",
    "moving": "The gantry can move at any time: isolate the drives before hands or tools go on rails, belts and racks.",
    "air": "Let the air out of a line or trap before it is opened; bottles and regulators are a licensed gas fitter's work.",
    "plate": "The plate, slugs and dross are hot long after the arc: gloves, and shade for everybody who sees the arc.",
}


@dataclass(frozen=True)
class CauseFacts:
    """One cause in words, the door to the room that puts it right, and what is dangerous about that."""

    title: str
    why: str
    check: str
    fix: str
    room: Room | None = None
    path: str = ""  # of the page in that room
    hazards: tuple[Hazard, ...] = ()


FACTS: dict[Cause, CauseFacts] = {
    "signal_divided_twice": CauseFacts(
        "The arc voltage is divided twice",
        "The screen shows a fraction of the true voltage, the control takes that for far too low, and lifts the torch at once.",
        "Read the screen during a cut at fixed height: a few volts where over a hundred belong means one divider too many.",
        f"{ONE_DIVISION} Or tell the controller both ratios.",
        "height", "/height/signal-path", ("cabinet",),
    ),
    "signal_not_divided": CauseFacts(
        "The arc voltage is not divided",
        "The screen shows many times the true voltage, the control takes that for far too high, and drives the torch down.",
        "Read the screen during a cut at fixed height: hundreds or thousands of volts, or a reading stuck at its end.",
        RAW_STOP,
        "height", "/height/signal-path", ("cabinet",),
    ),
    "signal_ratio_off": CauseFacts(
        "The voltage ratio is off by a few per cent",
        "The control holds the volts that it sees, and those are not the true ones: the torch rides off by the difference over the slope.",
        "Read a true voltage and the screen's at the same moment: a right path agrees within a volt.",
        "Correct the multiplier by their ratio, then cut one small part and watch the volts against the set-point.",
        "height", "/height/signal-path", ("cabinet",),
    ),
    "signal_open": CauseFacts(
        "The voltage signal does not arrive",
        "A broken or loose signal wire leaves the control at nearly no volts: it lifts, or does nothing.",
        "With the mains isolated, follow the signal wires end to end, and pull at each terminal.",
        "Have the broken wire or terminal replaced, labelled and fused as the manual shows.",
        "height", "/height/signal-path", ("cabinet",),
    ),
    "set_point_wrong": CauseFacts(
        "The set-point is for another height",
        "The control does hold the volts it was told, and with these parts in this plate they belong to a gap that is wrong. Holes are cut without it, and come out right.",
        "Cut at fixed height, control off, and read the volts: that is what the set-point should be.",
        "Set the set-point to the volts of a cut at the right height.",
        "height", "/height/set-point",
    ),
    "program_for_other_parts": CauseFacts(
        "The program was made for other parts",
        "Metal, thickness or set chosen where the program was made are not what is on the table: speed, volts and delays are all another's.",
        "Read the program's first lines, the parts in the torch and the setting: all three must name the same set, metal and thickness.",
        "Make the program anew for the fitted set, or fit the set that it was made for.",
        "programs", "/programs",
    ),
    "feed_word": CauseFacts(
        "A feed word in the program is another speed",
        "One forgotten feed word cuts a stretch, or all that follows, at another speed than the setting's.",
        "Check the program here: every feed that differs from the setting is named with its line.",
        "Put the feeds right in a copy, at a tap.",
        "programs", "/programs",
    ),
    "kerf_not_compensated": CauseFacts(
        "No room was made for the kerf",
        "The torch ran on the part's own line: outsides come out one kerf small, holes one kerf large.",
        "Measure an outside and a hole: small and large by the same one kerf.",
        "Switch the compensation on where the program was made; adjust nothing on the machine.",
        "programs", "/programs",
    ),
    "kerf_wrong_side": CauseFacts(
        "The kerf is on the wrong side",
        "Half the kerf was taken from the part instead of the scrap: outsides are two kerfs small, holes two kerfs large.",
        "Measure an outside and a hole: small and large by twice the kerf.",
        "Change the side of the compensation, or the direction, where the program was made.",
        "programs", "/programs",
    ),
    "wrong_direction": CauseFacts(
        "The contour runs against the swirl",
        "One side of travel is always squarer; cut the wrong way round, the part gets the scrap's side.",
        "Cut one square the other way round: the bad side changes over to the scrap.",
        "Run outsides and holes the way that this set's swirl wants.",
        "programs", "/programs",
    ),
    "pierce_delay_short": CauseFacts(
        "It moves before it is through",
        "The torch sets off while the jet has not reached the bottom: the start stays uncut and blows back.",
        "Lengthen the delay by half and pierce once: if it is through, this was it.",
        "Cut a pierce ladder, and take the shortest delay that is through every time.",
        "trials", "/bench",
    ),
    "pierce_delay_long": CauseFacts(
        "It waits too long in the pierce",
        "The jet burns a wide hole while it stands, loses its metal, and the arc stretches or goes out.",
        "Look at a pierce: a crater much wider than the kerf, and slag piled round it.",
        "Shorten the delay with a pierce ladder.",
        "trials", "/bench",
    ),
    "pierce_height_low": CauseFacts(
        "It pierces too low",
        "The splash of the pierce comes straight back at shield and nozzle: spatter, double arcs, an early end.",
        "Watch where the splash goes: it must pass beside the shield, not into it.",
        "Pierce at the height of the setting, half as much again or twice the cut height, and drop after it.",
        "book", "/book",
    ),
    "lead_in": CauseFacts(
        "The lead-in is too short or badly shaped",
        "The pierce's crater or the drop to height reaches into the part's edge and leaves a flat or a gouge.",
        "Look where the mark lies: just where the lead-in meets the contour.",
        "Lengthen the lead-in past splash, drop and run-up; in holes come from the middle on an arc.",
        "programs", "/programs",
    ),
    "overrun": CauseFacts(
        "The overrun is missing or too long",
        "The end does not pass the start, and a bridge stays; or it passes by so much that it gouges the finished wall.",
        "Look at the end: uncut right through is too short, a gouge after the start too long.",
        "Set the overrun to what the lag needs: the thickness times the tangent of its angle.",
        "programs", "/programs",
    ),
    "end_lag": CauseFacts(
        "The bottom lags at the end",
        "At full speed the bottom of the cut is behind the top: when the torch stops the top is through and the bottom is not.",
        "Look at the tab: it hangs at the bottom only.",
        "Slow down over the last stretch, and overrun by the lag.",
        "programs", "/programs",
    ),
    "too_slow": CauseFacts(
        "The cut is too slow",
        "The jet has time to widen the bottom: bubbly dross that brushes off, upright lag lines, an undercut edge.",
        "Look at the lag lines: upright or leaning forward.",
        "Raise the speed in steps with a strip ladder until the dross falls away.",
        "trials", "/bench",
    ),
    "too_fast": CauseFacts(
        "The cut is too fast",
        "The jet trails behind: lag lines sweep back, a thin hard bead sticks to the bottom, the bottom stands out.",
        "Look at the lag lines: swept back strongly, and a bead that a brush does not move.",
        "Lower the speed in steps with a strip ladder.",
        "trials", "/bench",
    ),
    "too_high": CauseFacts(
        "The torch is too high",
        "The jet spreads before it reaches the plate: the bottom stands out, the top is rounded and spattered.",
        "Slide a feeler under the torch at cut height, source isolated.",
        "Lower the torch a step, or the set-point by its volts.",
        "height", "/height/set-point", ("torch",),
    ),
    "too_low": CauseFacts(
        "The torch is too low",
        "The jet undercuts, and the shield drags or shorts on the plate.",
        "Slide a feeler under the torch at cut height, source isolated.",
        "Raise the torch a step, or the set-point by its volts.",
        "height", "/height/set-point", ("torch",),
    ),
    "jet_lean": CauseFacts(
        "The jet leans",
        "The torch or its jet is not upright: edges that face one way are bad, the opposite ones good, whichever way they are cut.",
        "Cut a round slug, and read it at eight places.",
        "Turn the torch upright by the turns that the slug gives.",
        "torch", "/torch/jet", ("torch",),
    ),
    "worn_electrode": CauseFacts(
        "The electrode is worn",
        "A deep pit makes the arc long and restless, starts hard, and spoils the edge all round.",
        "Take the electrode out, source isolated, and measure its pit.",
        "Trim the set-point while the pit is within its limit; replace the electrode past it.",
        "torch", "/torch", ("torch",),
    ),
    "worn_nozzle": CauseFacts(
        "The nozzle is worn",
        "A bore that is oval, nicked or wide sends the jet to one side and widens the kerf.",
        "Hold the nozzle against the light, source isolated: the bore must be round and sharp.",
        "Replace the nozzle, and look for what spoiled it.",
        "torch", "/torch", ("torch",),
    ),
    "wrong_amperage": CauseFacts(
        "Amperage and parts do not belong together",
        "Too many amperes burn the nozzle, too few do not fill its bore: nothing of the setting holds.",
        "Read the number on the nozzle, and the amperes on the source.",
        "Set the amperes to the parts, or fit the parts of those amperes.",
        "torch", "/torch", ("torch",),
    ),
    "wet_air": CauseFacts(
        "Water or oil in the air",
        "Wet air pits the electrode fast and makes the arc spit: no two edges are alike.",
        "Let the air blow over a clean mirror or white paper at the torch end for half a minute.",
        "Drain the traps at compressor and machine, and service the dryer.",
        "machine", "/machine", ("air",),
    ),
    "low_air": CauseFacts(
        "The air falls short",
        "While the arc is on the pressure sinks below the source's need: weak starts, hard dross, parts that die early.",
        "Read the gauge at the source while it cuts, not while it stands.",
        "Find the hose, filter or compressor that starves it; wait for the tank between cuts until then.",
        "machine", "/machine", ("air",),
    ),
    "control_too_early": CauseFacts(
        "Height control begins before the voltage is at rest",
        "After a pierce the voltage is high for a moment: a control that already follows it dives.",
        "Lengthen the control's delay by half a second: if the start is then good, this was it.",
        "Set the delay to when the voltage is at rest, by a recording.",
        "height", "/height/timing",
    ),
    "control_not_held": CauseFacts(
        "Height control is not held where it slows",
        "In corners, small holes and over old kerfs the voltage rises though the height is right: the control dives.",
        "Cut one corner with control off: if it does not dive, hold the control there.",
        "Hold the height below nine tenths of the speed, in holes, and on a jump of the voltage.",
        "height", "/height/loop",
    ),
    "loop_gain": CauseFacts(
        "The control's gain does not suit",
        "Too high and it hunts up and down along the cut; too low and it follows a wavy sheet too late.",
        "Watch the torch on a long straight over flat sheet: a steady bobbing is the gain.",
        "Lower the gain until it is quiet, with a dead band of two sigmas of the noise.",
        "height", "/height/loop",
    ),
    "warp": CauseFacts(
        "The sheet is warped, or lifts from heat",
        "The plate comes to the torch or goes from it faster than the height is followed.",
        "Lay a straight edge on the sheet, and press it down beside the cut.",
        "Weigh or clamp the sheet, spread the order of cuts, and try control on a long strip.",
        "height", "/height/loop", ("plate",),
    ),
    "gantry_skew": CauseFacts(
        "The gantry is out of square",
        "Its ends run apart: rectangles become lozenges, and holes are oval along one diagonal, whichever way round.",
        "Measure both diagonals of a large rectangle.",
        "Move one end of the gantry by what the diagonals say.",
        "machine", "/machine/square", ("moving",),
    ),
    "scale": CauseFacts(
        "An axis is out of scale",
        "Its steps per length are off: the error grows with the size.",
        "Measure two outsides of very different sizes along the same axis.",
        "Write the new steps per length, and measure again.",
        "machine", "/machine/square",
    ),
    "slack_in_drive": CauseFacts(
        "There is slack in a drive",
        "Where an axis turns back it stands still for a moment: flats and steps at the quarters of a circle.",
        "With the drives isolated, push the torch by hand against the drive: what gives is the slack.",
        "Tighten belt, pinion or coupling, and cut a circle each way round.",
        "machine", "/machine/motion?what=slack", ("moving",),
    ),
    "acceleration": CauseFacts(
        "The machine does not reach the speed there, or is driven too hard",
        "In corners and small curves it is slower than the number, or its motors are asked for more than they hold.",
        "Time a zig-zag, and look at the share of the program at speed.",
        "Lower the acceleration that loses steps, or cut the detail with a slower process.",
        "machine", "/machine/motion?what=acceleration", ("moving",),
    ),
    "rail_debris": CauseFacts(
        "Slag or a bad spot on a rail",
        "Something lies on the rail or rack: a jolt, a wave or lost steps at the same place of the table each time.",
        "Move the gantry by hand over the place, drives isolated, and feel for it.",
        "Clean rails, racks and wheels, and cover them.",
        "machine", "/machine/motion?what=mark", ("moving",),
    ),
    "axis_map": CauseFacts(
        "The axes run another way than the program thinks",
        "An axis is swapped or mirrored between program and table.",
        "Jog X plus and Y plus, and watch the torch, not the screen.",
        "Write down which way each axis runs; correct it in the controller where it is wrong there.",
        "machine", "/machine", ("moving",),
    ),
    "zero": CauseFacts(
        "The zero is not where it was thought to be",
        "Program zero and the sheet's corner are two places: all is cut right, but elsewhere.",
        "Send the torch to zero, torch off: does it stand over the sheet's corner?",
        "Set the zero at the corner again, and store it as a place to come back to.",
        "machine", "/ready", ("moving",),
    ),
    "work_clamp": CauseFacts(
        "The work clamp does not hold on bright metal",
        "The arc finds a bad way back: hard starts, an arc that goes out, a voltage that wanders.",
        "Look at the clamp: on the plate itself, on bright metal, tight, its lug not hot.",
        "Grind a bright place, clamp the plate itself, and replace a burnt clamp.",
        None, "", ("torch",),
    ),
    "touch_off_circuit": CauseFacts(
        "The touch-off circuit fails",
        "Dirt, water, paint or a loose clip: it finds no plate, or finds one too early, and every height is off.",
        "Touch off on a clean bright spot: if it works there, it was the plate; if not, the clip or the wire.",
        "Clean the spot, seat and clean the clip, dry the shield; then touch off three times and compare.",
        "machine", "/machine/motion?what=touch", ("torch",),
    ),
    "float_offset": CauseFacts(
        "The float switch's offset is off",
        "The travel of the switch is not taken off, or is another by now: every height is off by as much.",
        "Touch off, drop to cut height, and slide a feeler under the torch, source isolated.",
        "Write the offset that the feeler gives.",
        "machine", "/machine/motion?what=touch", ("torch",),
    ),
    "arc_signal_missing": CauseFacts(
        "The arc-established signal does not come",
        "The controller waits to be told that the arc is there; in a dry run with height control on nothing will ever tell it.",
        "Is it a dry run? Then switch height control off. If not: does the controller's arc input change when the arc is there?",
        "Switch height control off for dry runs; else have the signal's wire and relay looked at.",
        "machine", "/machine", ("cabinet",),
    ),
    "interference": CauseFacts(
        "The arc disturbs the electronics",
        "Starting pulses, mostly high-frequency ones, get into switches, signal or data wires.",
        "Move the machine with the torch off over the same path: if nothing trips, it is the arc.",
        "Lay torch and signal wires apart, earth the table at one point, shield what trips.",
        None, "", ("cabinet",),
    ),
    "nitrided_edge": CauseFacts(
        "The edge took up nitrogen",
        "Air and nitrogen harden the surface of a steel edge: drills and taps slide off it.",
        "File the edge: it rings and the file slips for the first few strokes.",
        "Grind or drill from a pilot below the skin; draw holes to be drilled out small enough; oxygen leaves a softer edge.",
        "machine", "/machine/holes",
    ),
    "arc_off_plate": CauseFacts(
        "The arc runs off the plate",
        "At the end of the cut, or over an old kerf, the arc has no metal: it stretches, goes out, and wears the parts.",
        "Look where it happens: at the plate's edge, or where an earlier cut crosses.",
        "End on the plate, keep clear of old kerfs, and switch off before the edge.",
        "programs", "/programs",
    ),
    "beyond_capability": CauseFacts(
        "It is more than this set can do",
        "Plate, hole or speed are beyond what the set pierces or cuts well: no setting makes it good.",
        "Hold the thickness against what is written down for the set.",
        "Choose a larger set, start from the edge, drill the hole, or send it out.",
        "book", "/choose",
    ),
    "collision": CauseFacts(
        "It hit something",
        "A tipped part or the plate knocked the torch: it leans, sits loose, or the axes lost their place.",
        "Look at the torch's seat and breakaway, and for a fresh mark on the shield.",
        "Stop, isolate, look at the parts, seat the torch, home, and check the lean before the next cut.",
        "torch", "/torch", ("torch", "moving"),
    ),
    "set_point_not_raised": CauseFacts(
        "The set-point was not raised as the electrode wore",
        "A deeper pit gives more volts at the same height: a set-point that stays lets the torch creep closer.",
        "Compare the volts at a fixed height with those when the parts were new.",
        "Raise the set-point by what the wear is worth.",
        "height", "/height/set-point",
    ),
}  # fmt: skip

ISOLATE_FIRST: frozenset[Cause] = frozenset(
    {
        "signal_not_divided", "signal_open", "worn_electrode", "worn_nozzle", "wrong_amperage", "too_high", "too_low", "float_offset",
        "slack_in_drive", "rail_debris", "collision",
    }
)  # fmt: skip
"""Causes whose very proof puts hands at the torch, at a drive or near raw arc voltage: stop and isolate before it."""

MEASURED_AS: dict[Cause, Aspect] = {
    "gantry_skew": "square",
    "scale": "scale",
    "slack_in_drive": "slack",
    "acceleration": "acceleration",
    "axis_map": "axes",
    "rail_debris": "lost_steps",
    "float_offset": "height_sensor",
    "touch_off_circuit": "height_sensor",
    "signal_divided_twice": "signal_path",
    "signal_not_divided": "signal_path",
    "signal_ratio_off": "signal_path",
    "signal_open": "signal_path",
    "low_air": "air",
    "wet_air": "air",
    "jet_lean": "alignment",
    "collision": "alignment",
}
"""What of the machine's health tells most of a cause, where anything does."""
OF_THE_SETTING: tuple[Cause, ...] = ("too_slow", "too_fast", "too_high", "too_low")
"""Causes that the Bench cures with another setting."""
