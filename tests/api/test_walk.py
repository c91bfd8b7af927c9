"""A walk through the rooms of a filled shop, in both unit systems: a quantity that is shown in more than one place is one
number everywhere, to the rounding of the coarser place, or the places say that they mean two."""

import io
import json
import re
import subprocess
import sys
from collections import defaultdict
from dataclasses import dataclass
from typing import Any

from pypdf import PdfReader

from orthotome.core.units import read_quantity
from tests.api.test_api import Api
from tests.enough import note
from tests.shop import HALF_WAY, LOCKED

SHOPS = {"mm": ("mm", "mm/min"), "in": ("in", "in/min")}
_TENS = 10.0  # starts are told in tens


@dataclass(frozen=True)
class Shown:
    """A number as one place shows it, in the unit it is kept in, with the step to which it is rounded there."""

    place: str
    value: float
    step: float

    def agrees(self, other: "Shown") -> bool:
        """Whether the two may be one number."""
        return abs(self.value - other.value) <= (self.step + other.step) / 2 + 1e-6


class Walk:
    """What was seen so far, by name."""

    def __init__(self, units: str) -> None:
        self.units = units
        self.seen: dict[str, list[Shown]] = defaultdict(list)

    def number(self, name: str, place: str, value: float | None, step: float = 0.0) -> None:
        """A number of an answer; ``step`` where the answer itself rounds it."""
        if value is not None:
            self.seen[name].append(Shown(place, value, step))

    def text(self, name: str, place: str, text: str, pattern: str, quantity: str = "") -> None:
        """A number in a sentence, a sheet or a program: the first group, with its unit after it where it has a quantity."""
        found = re.search(pattern, text)
        assert found is not None, f"{place} does not say {name}: {pattern} in {text[:1500]}"
        said = found[1].replace(",", "")
        digits = len(said.partition(".")[2])
        if not quantity:
            self.seen[name].append(Shown(place, float(said), 10.0**-digits))
            return
        unit = found[2]
        per = read_quantity(f"1 {unit}", quantity, default_unit=unit).value  # type: ignore[arg-type]
        self.seen[name].append(Shown(place, float(said) * per, per * 10.0**-digits))

    def differ(self) -> list[str]:
        """Every pair that does not agree, in words."""
        return [
            f"{name}: {a.value:g} ({a.place}) and {b.value:g} ({b.place})"
            for name, shown in self.seen.items()
            for i, a in enumerate(shown)
            for b in shown[i + 1 :]
            if not a.agrees(b)
        ]

    @property
    def compared(self) -> int:
        """How many pairs were held against each other."""
        return sum(len(s) * (len(s) - 1) // 2 for s in self.seen.values())


_SPEED = r"(-?[\d.,]+) (mm/min|in/min)"
_LENGTH = r"(-?[\d.,]+) (mm|in)\b"
_VOLTS = r"([\d.]+) V"


class Rooms(Api):
    """The half-way trial, its table and its parts, and the locked recipe of the other table."""

    def walk(self, units: str) -> Walk:
        length, speed = SHOPS[units]
        changed = self.client.patch("/api/shop", json={"length_unit": length, "speed_unit": speed})
        self.assertEqual(changed.status_code, 200)
        seen = Walk(units)
        for room in (self.the_trial, self.height, self.parts, self.programs, self.recipe, self.commands):
            room(seen)
        return seen

    def paper(self, path: str) -> str:
        pages = PdfReader(io.BytesIO(self.client.get(f"/api{path}").content)).pages
        return "\n".join(page.extract_text() for page in pages)

    def the_trial(self, seen: Walk) -> None:
        """Bench, What if, the next piece's program and its sheet, and the trial's sheet."""
        bench = self.get(f"/trials/{HALF_WAY}/bench")
        now, best, start = bench["now"], bench["advice"]["recommended"], bench["trial"]["start"]
        at = f"speed_mm_min={now['setting']['speed_mm_min']}&cut_height_mm={now['setting']['cut_height_mm']}"
        what_if = self.get(f"/trials/{HALF_WAY}/what-if?{at}")
        program = self.client.get(f"/api/trials/{HALF_WAY}/piece.nc").text
        sheet = self.paper(f"/trials/{HALF_WAY}/piece.pdf")
        (piece,) = self.get(f"/trials/{HALF_WAY}/piece")["batch"]
        for name in ("speed_mm_min", "cut_height_mm"):
            seen.number(name, "Bench", now["setting"][name])
            seen.number(name, "Bench, recommended", best[name])
            seen.number(name, "the next piece", piece[name])
        seen.text("speed_mm_min", "the program", program, rf"square: {_SPEED} at", "speed")
        seen.text("cut_height_mm", "the program", program, rf"square: .* at {_LENGTH}", "length")
        seen.text("speed_mm_min", "the cut sheet", sheet, rf"(?s)Speed\W*{_SPEED}", "speed")
        seen.text("cut_height_mm", "the cut sheet", sheet, rf"(?s)Cut height\W*{_LENGTH}", "length")
        seen.number("volts", "Bench", now["arc_voltage_v"])
        seen.number("volts", "Bench, recommended", best["arc_voltage_v"], 0.1)
        seen.number("volts", "What if", what_if["arc_voltage_v"])
        seen.text(
            "volts",
            "the program",
            program,
            rf"Arc voltage: {_VOLTS.replace(' V', '')} \+- [\d.]+ V to be seen",
        )
        seen.number("chance", "Bench", best["probability_pass"], 0.001)
        seen.number("chance", "What if", what_if["chance"], 0.001)
        said = next(p["text"] for p in bench["proofs"] if "now" in p["text"])
        whole = int(re.findall(r"now (\d+)", said)[0])
        seen.number("chance", "what is still to prove", whole / 100 + 0.005, 0.01)  # never rounded up
        lean = next(f for f in bench["findings"] if f["code"] == "jet_lean")
        seen.number("lean by the cuts", "the parts of the bevel", bench["parts"]["lean_deg"])
        seen.text(
            "lean by the cuts",
            "the finding",
            lean["why"],
            r"The jet leans ([\d.]+)° .*, by the cuts of this trial",
        )
        seen.text("volts_per_mm", "Bench", self.per_mm(bench["per_height"]), r"([\d.]+) V/mm")
        for name in ("pierce_height_mm", "pierce_delay_s", "kerf_mm"):
            seen.number(name, "Bench", start[name])
        seen.text("pierce_height_mm", "the program", program, rf"Pierce at {_LENGTH}", "length")
        seen.text("pierce_delay_s", "the program", program, r"Pierce at .* for ([\d.]+) s")
        seen.text("kerf_mm", "the program", program, rf"Kerf {_LENGTH}", "length")
        whole_trial = self.paper(f"/trials/{HALF_WAY}/sheet.pdf")
        seen.text("starts", "the trial's sheet", whole_trial, r"Parts fitted now: .*, (\d+) starts")

    @staticmethod
    def per_mm(said: str) -> str:
        """Volts for a height, brought to millimetres with the digits that were said."""
        found = re.search(r"([\d.]+) V/in", said)
        if found is None:
            return said
        return f"{float(found[1]) / 25.4:.1f} V/mm"

    def height(self, seen: Walk) -> None:
        """Set-point, its schools and its control, the signal path, and the loop."""
        height, paths = self.get(f"/trials/{HALF_WAY}/height"), self.get("/tables/1/signal-paths")
        school = next(s for s in height["schools"] if s["school"] == "measured")
        control, timing = height["control"], height["timing"]
        seen.number("volts", "Set-point, measured", school["set_point_v"], 0.1)
        seen.number("volts", "Set-point, control", control["set_point_v"], 0.1)
        seen.number("volts", "signal path", paths["set_point_v"], 0.1)
        seen.text("volts", "Set-point, told", self.told(control, "set-point"), _VOLTS)
        for place, value in (
            ("Timing", timing["cut_height_mm"]),
            ("Set-point", height["cut_height_mm"]),
            ("Set-point, measured", school["height_mm"]),
            ("signal path", paths["cut_height_mm"]),
        ):
            seen.number("cut_height_mm", place, value)
        seen.number("speed_mm_min", "Timing", timing["speed_mm_min"])
        for name in ("pierce_height_mm", "pierce_delay_s"):
            seen.number(name, "Timing", timing[name])
        seen.number("volts_per_mm", "Set-point", height["volts"]["slope_v_per_mm"], 0.01)
        seen.number("volts_per_mm", "signal path", paths["slope_v_per_mm"], 0.01)
        seen.text("volts_per_mm", "Set-point, in words", self.per_mm(school["will"]), r"([\d.]+) V/mm")
        for place, value in (
            ("Timing", timing["control_delay_s"]),
            ("Set-point, control", control["control_delay_s"]),
        ):
            seen.number("control_delay_s", place, value)
        seen.text("control_delay_s", "Set-point, told", self.told(control, "delay"), r"([\d.]+) s")
        when_settled = next(
            t for t in height["trade_offs"] if t["name"] == "as pierced now, wake when settled"
        )
        seen.number("control_delay_s", "Timing, side by side", when_settled["control_delay_s"])
        seen.number("hold_below_share", "Timing", timing["hold_below_share"])
        seen.number("hold_below_share", "Set-point, control", control["hold_below_share"])
        seen.number("dead_band_v", "Set-point, control", control["dead_band_v"])
        seen.text("dead_band_v", "Set-point, told", self.told(control, "dead band"), _VOLTS)
        seen.number("starts", "Set-point", height["starts"])
        trim = self.get(f"/trials/{HALF_WAY}/trim")
        seen.number("starts", "trim", trim["starts"])
        seen.number("volts_per_1000", "trim", trim["v_per_1000"], 0.1)
        seen.number("volts_per_1000", "Set-point", height["volts"]["wear_v_per_1000"], 0.1)
        seen.number("next_trim", "Set-point, measured", school["trim_at_starts"], _TENS)

    @staticmethod
    def told(control: Any, what: str) -> str:
        return str(next(t["value"] for t in control["told"] if what in t["what"]))

    def parts(self, seen: Walk) -> None:
        """What is fitted, the forecast of the electrode, and what a start costs."""
        table = next(t for t in self.get("/tables") if t["id"] == 1)
        parts = self.get("/tables/1/parts")
        electrode = next(p for p in parts["fitted"] if p["part"] == "electrode")
        forecast = parts["forecast"]
        for place, value in (
            ("the head of the page", table["parts"]["starts"]),
            ("parts", electrode["counts"]["starts"]),
            ("forecast", forecast["starts"]),
        ):
            seen.number("starts", place, value)
        seen.number("pit_mm", "forecast", forecast["pit_mm"], 0.01)
        now = next(p for p in forecast["line"] if p["starts"] == forecast["starts"])
        seen.number("pit_mm", "the line of the chart", now["mid_mm"], 0.001)
        seen.text("pit_mm", "the sentence", electrode["says"], rf"about {_LENGTH}", "length")
        for bound in ("low", "high"):
            seen.number(f"starts_left, {bound}", "parts", electrode["left"][bound], _TENS)
            seen.number(f"starts_left, {bound}", "forecast", forecast["left"][bound], _TENS)
        seen.text("starts_left, low", "the sentence", electrode["says"], r"(\d+) to \d+ starts are left")
        seen.number("cost of a start", "Torch", parts["costs"]["per_start"])
        torch = self.get("/tables/1/torch")["now"]
        seen.number("lean of the seat", "Torch", torch["alignment"]["lean_deg"], 0.01)
        seen.text(
            "lean of the seat",
            "Torch, in words",
            torch["in_words"],
            r"leans ([\d.]+)° .* by all that was read in this seat",
        )

    def programs(self, seen: Walk) -> None:
        """The job's program, held against the trial."""
        program = self.get("/programs/1")
        pierces = program["found"]["report"]["pierces"]
        told = re.search(r"Parts ([\d.]+)", program["cost_says"])
        assert told is not None, program["cost_says"]
        seen.number("cost of a start", "a program", float(told[1]) / pierces, 0.01 / pierces)
        (line,) = (p for p in self.get("/tables/1/programs") if p["id"] == 1)
        seen.number("cost of a run", "a program", program["cost"])
        seen.number("cost of a run", "the list", line["cost"])
        seen.number("seconds of a run", "a program", program["found"]["report"]["seconds"])
        seen.number("seconds of a run", "the list", line["seconds"])
        zig_zag = self.get(f"/tables/1/proof-pieces/zig-zag-x?trial_id={HALF_WAY}")
        seen.number("speed_mm_min", "a proof piece", zig_zag["speed_mm_min"])

    def recipe(self, seen: Walk) -> None:
        """The locked recipe: its page, its sheet, its program, the Bench, the watch, starting numbers, Which set?."""
        recipe = self.get("/recipes/1")["recipe"]
        setting = recipe["setting"]
        program = self.client.get("/api/recipes/1/program.nc").text
        sheet = self.paper("/recipes/1/sheet.pdf")
        bench, watch = self.get(f"/trials/{LOCKED}/bench"), self.get("/recipes/1/watch")
        job = "metal=stainless_steel&thickness_mm=3&table_id=2"
        set_id = bench["trial"]["torch_set"]["id"]
        begun = self.get(f"/start?{job}&torch_set_id={set_id}")["values"]
        chosen = next(o for o in self.get(f"/choose?{job}")["options"] if o["torch_set_id"] == set_id)
        for name in ("speed_mm_min", "cut_height_mm", "pierce_height_mm", "pierce_delay_s", "kerf_mm"):
            seen.number(f"recipe, {name}", "the recipe", setting[name])
            seen.number(f"recipe, {name}", "starting numbers", begun[name])
        for name in ("speed_mm_min", "cut_height_mm"):
            seen.number(f"recipe, {name}", "Bench", bench["now"]["setting"][name])
        seen.number("recipe, speed_mm_min", "Which set?", chosen["speed_mm_min"])
        seen.number("recipe, kerf_mm", "the watch", watch["proven_kerf_mm"])
        for name, words, quantity, shown in (
            ("speed_mm_min", "Speed", "speed", _SPEED),
            ("cut_height_mm", "Cut height", "length", _LENGTH),
            ("pierce_height_mm", "Pierce height", "length", _LENGTH),
            ("kerf_mm", "Kerf", "length", _LENGTH),
        ):
            seen.text(f"recipe, {name}", "its sheet", sheet, rf"{words} {shown}", quantity)
        seen.text("recipe, speed_mm_min", "its program", program, rf"square: {_SPEED} at", "speed")
        seen.text("recipe, cut_height_mm", "its program", program, rf"square: .* at {_LENGTH}", "length")
        seen.text("recipe, kerf_mm", "its program", program, rf"Kerf {_LENGTH}", "length")
        seen.text("recipe, pierce_height_mm", "its program", program, rf"Pierce at {_LENGTH}", "length")
        seen.number("recipe, volts when proven", "the recipe", setting["arc_voltage_v"])
        seen.number("recipe, volts when proven", "the watch", watch["proven_v"])
        seen.text(
            "recipe, volts when proven", "its sheet", sheet, rf"Volts proven at \d+ starts {_VOLTS}"
        )
        seen.number("recipe, volts now", "Bench", bench["now"]["arc_voltage_v"])
        seen.text("recipe, volts now", "its program", program, r"Arc voltage: ([\d.]+) \+-")
        seen.text("recipe, chance in 100", "its sheet", sheet, r"(\d+) in 100 that the next one passes")
        chance = bench["advice"]["recommended"]["probability_pass"]
        seen.number("recipe, chance in 100", "Bench", min(99, int(100 * chance)), 1.0)

    def commands(self, seen: Walk) -> None:
        """What the command line says of the files that the shop saves."""
        campaign = self.client.get(f"/api/trials/{HALF_WAY}/campaign").text
        ledger = self.client.get(f"/api/trials/{HALF_WAY}/parts-ledger.json").text
        best = self.run_command("advise", campaign)["recommended"]
        # It speaks in millimetres, and the shop dials its own steps: an inch a minute, a thousandth of an inch.
        dialled = (25.4, 0.0254) if seen.units == "in" else (0.0, 0.0)
        seen.number("speed_mm_min", "orthotome advise", best["speed_mm_min"], dialled[0])
        seen.number("cut_height_mm", "orthotome advise", best["cut_height_mm"], dialled[1])
        seen.number("chance", "orthotome advise", best["probability_pass"], 0.001)
        worn = self.run_command("wear", ledger)
        seen.number("pit_mm", "orthotome wear", worn["pit_mm"]["value"], 0.01)
        for bound in ("low", "high"):
            seen.number(f"starts_left, {bound}", "orthotome wear", worn["starts_left"][bound], _TENS)
        seen.number("volts_per_1000", "orthotome wear", worn["volts_per_1000_starts"]["value"], 0.1)
        seen.number("volts", "orthotome wear", worn["set_point_now_v"], 0.1)
        seen.number("next_trim", "orthotome wear", worn["next_trim"]["at_starts"])

    @staticmethod
    def run_command(name: str, given: str) -> Any:
        command = [sys.executable, "-m", "orthotome.cli", name, "-"]
        return json.loads(
            subprocess.run(command, input=given, capture_output=True, text=True, check=True).stdout
        )

    def test_a_number_that_two_places_show_is_one_number(self) -> None:
        differ: list[str] = []
        compared = 0
        for units in SHOPS:
            walked = self.walk(units)
            alone = [name for name, shown in walked.seen.items() if len(shown) < 2]
            self.assertEqual(alone, [], "seen in one place only: nothing was compared")
            differ += [f"{units}: {d}" for d in walked.differ()]
            compared += walked.compared
        note("Numbers of two places held against each other", str(compared), len(differ), "none differ")
        self.assertEqual(differ, [], f"{len(differ)} of {compared}: {'; '.join(differ)}")
