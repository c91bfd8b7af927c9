"""The signal path: how true arc volts become volts on the screen, and which stage is wrong.

Four stages stand between the arc and the number::

    screen = true / source_ratio / card_ratio * multiplier

Ratios are in / out (1 is straight through). ``gain`` is screen volts per true volt; 1 is right. Height
control holds the *screen* at the set-point, so the true voltage settles at set_point / gain and the
torch rides off by ``set_point * (1/gain - 1) / slope``.

From one pair of volts, or only from what the torch did, each fault that could stand in the path is
given a chance: its prior (how often it is met, an assumption stated beside it) times how well it
predicts what was seen. A fault names the stage and what the stage really does.
"""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

from orthotome.core.errors import TradeError
from orthotome.core.findings import Finding

Stage = Literal["source", "wiring", "card", "multiplier"]
Fault = Literal["divides_again", "does_not_divide", "wrong_ratio", "open_or_shorted", "none"]
Torch = Literal["flies_up", "dives", "rides_high", "rides_low", "holds"]

HOLDS_MM = 0.25  # a height error within this is lost in the sheet's own waves (contract)
GAIN_THAT_MATTERS = 0.01
"""Screen volts per true volt, off by more than this: about a volt, or a fifth of a millimetre. Assumption."""
RIDES_MM = 3.0  # beyond this the torch does not ride off, it leaves (contract)
TYPICAL_CUT_HEIGHT_MM = 1.5  # where the file does not say; a lower torch than this much is on the plate

# What a hand meter and a screen differ by when all is well, and half the screen's last digit. Assumption.
_READING_SHARE = 0.005
_READING_V = 0.05
_PICK_UP_V = 0.5  # an open input still shows a little; assumption

# Ratios in use: straight, and whole numbers to about 100, round ones more often (domain section 9).
_STAGE_WORDS: dict[Stage, str] = {
    "source": "what the source divides by",
    "wiring": "the wiring",
    "card": "what the card divides by",
    "multiplier": "the multiplier",
}
_ROUND_RATIOS = (5, 10, 16, 20, 25, 30, 40, 50, 60, 80, 100)
_ELSEWHERE = 0.1  # a torch that will not hold though the path is right: a set-point for another cut
_UNLISTED = 5e-5  # of a fault that is not on the list, per volt of screen; keeps every chance below 1
_LEAST_CHANCE = 0.02
_SAME_RATIO = 0.03
_MOST_EXPLANATIONS = 5
_DIVIDES = 1.5  # a source that divides by less hands the arc's own voltage on
_MAY_BE_RAW = 0.05  # chance of a fault from which raw voltage on the wire is reckoned with. Assumption


@dataclass(frozen=True)
class SignalPath:
    """The path as it is believed to be."""

    source_ratio: float
    card_ratio: float
    multiplier: float

    @property
    def gain(self) -> float:
        """Screen volts per true volt."""
        return self.multiplier / (self.source_ratio * self.card_ratio)

    def screen_v(self, true_v: float) -> float:
        """What the screen shows of a true voltage."""
        return true_v * self.gain

    def volts_along(self, true_v: float) -> tuple[float, float, float, float]:
        """Volts at the arc, behind the source's divider, behind the card, and on the screen."""
        behind_source = true_v / self.source_ratio
        behind_card = behind_source / self.card_ratio
        return true_v, behind_source, behind_card, behind_card * self.multiplier

    def with_fault(self, fault: "Explanation") -> "SignalPath":
        """The path as it would be with that fault in it; a wiring fault leaves the ratios alone."""
        if fault.actual_ratio is None or fault.stage == "wiring":
            return self
        name = "multiplier" if fault.stage == "multiplier" else f"{fault.stage}_ratio"
        return replace(self, **{name: fault.actual_ratio})

    def true_v(self, screen_v: float) -> float:
        """The true voltage behind what the screen shows."""
        return screen_v / self.gain


@dataclass(frozen=True)
class Observed:
    """What was seen: both volts, or only what the torch did. Nothing seen is None of all."""

    true_v: float | None = None
    screen_v: float | None = None
    behaviour: Torch | None = None

    @property
    def gain(self) -> float | None:
        """Screen volts per true volt as seen; None unless both were read."""
        if self.true_v is None or self.screen_v is None:
            return None
        return self.screen_v / self.true_v


RAW_STOP = (
    "Stop, and cut no more until it is put right: raw arc voltage may stand on the signal wire. Isolate and lock out; "
    "taking the signal from the source’s divided output is work for a licensed electrician."
)
"""The first and only correction where raw arc voltage may have got past the source: nothing typed at the screen mends it."""
ONE_DIVISION = "Let the source alone divide: set the card straight through, and the multiplier to what the source divides by."
"""How a signal that is divided twice is put right. The source's divider stays: without it raw arc voltage leaves the source."""

STAGE_WORDS: dict[Stage, str] = {
    "source": "The source",
    "wiring": "The wiring",
    "card": "The input card",
    "multiplier": "The multiplier",
}
FAULT_WORDS: dict[Fault, str] = {
    "divides_again": "divides again",
    "does_not_divide": "does not divide",
    "wrong_ratio": "has another ratio",
    "open_or_shorted": "open or shorted",
    "none": "reads right",
}


@dataclass(frozen=True)
class Explanation(Finding[Fault]):
    """A fault that would show what was seen. ``actual_ratio`` is what the stage really does."""

    stage: Stage = "source"
    actual_ratio: float | None = None
    chance: float = 0.0


def _explanation(
    stage: Stage, fault: Fault, actual_ratio: float | None, chance: float, words: tuple[str, str]
) -> Explanation:
    subject = "The path" if fault == "none" else STAGE_WORDS[stage]
    cure, check = words
    return Explanation(
        fault,
        "",
        title=f"{subject} {FAULT_WORDS[fault]}",
        cure=cure,
        check=check,
        stage=stage,
        actual_ratio=actual_ratio,
        chance=chance,
    )


@dataclass(frozen=True)
class PathCorrection:
    """A way to a right reading. ``at_screen`` ones open no cabinet, and stand first."""

    what: str
    at_screen: bool


@dataclass(frozen=True)
class SignalReport:
    """The answer: what the path shows, what the torch will do, and what explains what was seen."""

    expected_screen_v: float
    gain: float
    torch: Torch
    height_error_mm: float | None
    explanations: tuple[Explanation, ...]
    corrections: tuple[PathCorrection, ...]
    cautions: tuple[str, ...]


@dataclass(frozen=True)
class _Suspect:
    """A fault with its prior weight and the gain the path would then have."""

    stage: Stage
    fault: Fault
    actual: float | None
    prior: float
    gain: float
    spread: float = 0.0  # of ln(gain), for faults that name no single ratio


def height_error_mm(set_point_v: float, gain: float, slope_v_per_mm: float) -> float:
    """How far the torch rides from where it should: positive is too high; infinite at gain 0."""
    if gain <= 0:
        return math.inf
    return set_point_v * (1 / gain - 1) / slope_v_per_mm


def what_torch_does(error_mm: float, cut_height_mm: float = TYPICAL_CUT_HEIGHT_MM) -> Torch:
    """What the torch does when height control wakes with that height error."""
    if abs(error_mm) <= HOLDS_MM:
        return "holds"
    if error_mm > 0:
        return "rides_high" if error_mm <= RIDES_MM else "flies_up"
    return "rides_low" if error_mm >= -RIDES_MM and -error_mm < cut_height_mm else "dives"


def examine(
    path: SignalPath,
    observed: Observed | None,
    *,
    set_point_v: float,
    slope_v_per_mm: float,
    cut_height_mm: float = TYPICAL_CUT_HEIGHT_MM,
) -> SignalReport:
    """What the path will show and do, and which stage contradicts what was seen.

    ``slope_v_per_mm`` is true volts per millimetre of height. Raises TradeError for a ratio,
    multiplier, set-point or slope that is not more than zero.
    """
    _refuse_nonsense(path, set_point_v, slope_v_per_mm)
    seen = observed or Observed()
    gain = path.gain if seen.gain is None else seen.gain
    error = height_error_mm(set_point_v, gain, slope_v_per_mm)
    torch = what_torch_does(error, cut_height_mm)
    explanations: tuple[Explanation, ...] = ()
    if seen.gain is not None or seen.behaviour is not None:

        def does(at_gain: float) -> Torch:
            return what_torch_does(height_error_mm(set_point_v, at_gain, slope_v_per_mm), cut_height_mm)

        weighed = [(s, s.prior * _likelihood(s, seen, does)) for s in _suspects(path, seen)]
        explanations = _ranked(weighed, path)
    raw = _may_be_raw(path, explanations)
    return SignalReport(
        expected_screen_v=path.screen_v(set_point_v if seen.true_v is None else seen.true_v),
        gain=path.gain,
        torch=torch,
        height_error_mm=error if abs(error) <= RIDES_MM else None,
        explanations=explanations,
        corrections=_corrections(path, explanations[0] if explanations else None, seen.gain, raw=raw),
        cautions=_cautions(raw=raw),
    )


def _may_be_raw(path: SignalPath, explanations: tuple[Explanation, ...]) -> bool:
    """Whether raw arc voltage may stand on the signal wire: as the path is told, or as one of its likely faults has it."""
    really = [path.with_fault(e) for e in explanations if e.chance > _MAY_BE_RAW]
    return any(p.source_ratio <= _DIVIDES for p in really or [path])


def _refuse_nonsense(path: SignalPath, set_point_v: float, slope_v_per_mm: float) -> None:
    for field, value in (
        ("source_ratio", path.source_ratio),
        ("card_ratio", path.card_ratio),
        ("multiplier", path.multiplier),
        ("set_point_v", set_point_v),
        ("slope_v_per_mm", slope_v_per_mm),
    ):
        if not (math.isfinite(value) and value > 0):
            raise TradeError(field, "must be more than zero.")


def _suspects(path: SignalPath, seen: Observed) -> Iterator[_Suspect]:
    """Every fault considered, with the gain it would give."""
    yield from _as_told(path)
    yield from _divisions(path, "source", path.source_ratio, seen)
    yield from _divisions(path, "card", path.card_ratio, seen)
    yield from _typed_multipliers(path)
    yield from _a_little_off(path, seen)
    yield _Suspect("wiring", "open_or_shorted", None, 0.10, 0.0)


def _a_little_off(path: SignalPath, seen: Observed) -> Iterator[_Suspect]:
    """A divider off by a few percent, mostly pulled down by the input it feeds; or any odd number."""
    if seen.gain is None:
        for few in (0.97, 1.03):  # a few percent either way; which, only volts can tell
            yield _Suspect("source", "wrong_ratio", path.source_ratio / few, 0.09, path.gain * few)
        yield _Suspect("card", "wrong_ratio", path.card_ratio / 0.97, 0.05, path.gain * 0.97)
    elif seen.gain > 0 and abs((off := seen.gain / path.gain) - 1) > _READING_SHARE:
        if 0.9 <= off <= 1.1:
            yield _Suspect("source", "wrong_ratio", path.source_ratio / off, 0.10, path.gain, 0.04)
            yield _Suspect("card", "wrong_ratio", path.card_ratio / off, 0.05, path.gain, 0.04)
        yield _Suspect("multiplier", "wrong_ratio", path.multiplier * off, 0.01, path.gain, 1.5)
        if 1 < path.source_ratio / off <= 200:
            yield _Suspect("source", "wrong_ratio", path.source_ratio / off, 0.005, path.gain, 1.5)


def _as_told(path: SignalPath) -> Iterator[_Suspect]:
    """The path as told: right, or with a multiplier that does not undo the dividing."""
    if abs(path.gain - 1) <= _READING_SHARE:
        yield _Suspect("wiring", "none", None, 0.35, path.gain)
        return
    twice = path.source_ratio > 1 and path.card_ratio > 1
    if twice and path.multiplier in (path.source_ratio, path.card_ratio):
        # The multiplier undoes one division: that the other is there at all is likelier the slip.
        yield _Suspect("card", "divides_again", path.card_ratio, 0.21, path.gain)
        yield _Suspect("multiplier", "wrong_ratio", path.multiplier, 0.14, path.gain)
    else:
        yield _Suspect("multiplier", "wrong_ratio", path.multiplier, 0.35, path.gain)


def _divisions(path: SignalPath, stage: Stage, told: float, seen: Observed) -> Iterator[_Suspect]:
    """A dividing stage that really divides by something else, or by nothing."""
    other = path.card_ratio if stage == "source" else path.source_ratio
    if told > 1:
        # Ratios are mostly picked right or missed whole; the input often saturates besides.
        yield _Suspect(stage, "does_not_divide", 1.0, 0.12, path.gain * told)
        if seen.gain is not None and 1.5 * path.gain < seen.gain < path.gain * told:
            # Somewhere on the way to full scale: density even in the logarithm.
            yield _Suspect(stage, "does_not_divide", 1.0, 0.25, seen.gain, math.log(told))
    matching = {path.multiplier, other, path.multiplier / other} - {1.0}
    for ratio in sorted({float(r) for r in _ROUND_RATIOS} | matching):
        if ratio <= 1 or abs(ratio - told) < 1e-9 or abs(ratio - round(ratio)) > 1e-6:
            continue
        fault: Fault = "divides_again" if told == 1 and other > 1 else "wrong_ratio"
        # A card that divides like the stage before it is the fault met most (labels are misread).
        prior = 0.16 if ratio in matching else 0.02
        if stage == "source" and told > 1 and ratio not in matching:
            prior = 0.012
        yield _Suspect(stage, fault, ratio, prior, path.gain * told / ratio)


def _typed_multipliers(path: SignalPath) -> Iterator[_Suspect]:
    """Another multiplier than told: left at 1, a digit lost, or meant for another divider."""
    right = path.source_ratio * path.card_ratio
    typed = {1.0: 0.04, path.multiplier / 10: 0.02, path.multiplier * 10: 0.02}
    for ratio in _ROUND_RATIOS:
        typed.setdefault(float(ratio), 0.008)
    typed[right] = max(typed.get(right, 0.0), 0.02)
    typed[path.source_ratio**2] = max(typed.get(path.source_ratio**2, 0.0), 0.01)
    for value, prior in typed.items():
        if abs(value / path.multiplier - 1) > 1e-9:
            yield _Suspect(
                "multiplier", "wrong_ratio", value, prior, path.gain * value / path.multiplier
            )


def _likelihood(suspect: _Suspect, seen: Observed, does: Callable[[float], Torch]) -> float:
    """How well a fault predicts what was seen (a density per volt, or a share of symptoms)."""
    if seen.true_v is None or seen.screen_v is None:
        predicted = does(suspect.gain)
        if predicted == seen.behaviour:
            return 1.0
        if suspect.fault == "none":
            return _ELSEWHERE
        same_way = {predicted, seen.behaviour} in ({"flies_up", "rides_high"}, {"dives", "rides_low"})
        return 0.05 if same_way else 0.003
    expected = seen.true_v * suspect.gain
    sd = math.hypot(_READING_SHARE * expected, _READING_V)
    if suspect.fault == "open_or_shorted":
        sd = _PICK_UP_V
    if suspect.spread and seen.screen_v > 0:
        # Even in ratio, so normal in the logarithm; per volt, like the others.
        off = math.log(seen.screen_v / expected) / suspect.spread
        return math.exp(-0.5 * off**2) / (suspect.spread * seen.screen_v)
    return math.exp(-0.5 * ((seen.screen_v - expected) / sd) ** 2) / sd


def _ranked(weighed: list[tuple[_Suspect, float]], path: SignalPath) -> tuple[Explanation, ...]:
    """Explanations by chance; ratios that no reading tells apart count as the likelier of them."""
    total = sum(w for _, w in weighed) + max(_UNLISTED, 0.02 * max(w for _, w in weighed))
    together: dict[tuple[Stage, Fault, float | None], float] = {}
    for s, w in sorted(weighed, key=lambda pair: -pair[1]):
        alike = (k for k in together if k[:2] == (s.stage, s.fault) and _alike(k[2], s.actual))
        key = next(alike, (s.stage, s.fault, s.actual))
        together[key] = together.get(key, 0.0) + w / total
    best = sorted(together.items(), key=lambda pair: -pair[1])[:_MOST_EXPLANATIONS]
    return tuple(
        _explanation(stage, fault, actual, chance, _words(stage, fault, actual, path))
        for (stage, fault, actual), chance in best
        if chance >= _LEAST_CHANCE
    )


def _alike(a: float | None, b: float | None) -> bool:
    return a == b or (a is not None and b is not None and abs(a / b - 1) < _SAME_RATIO)


def _words(stage: Stage, fault: Fault, actual: float | None, path: SignalPath) -> tuple[str, str]:
    """(fix, check) in shop words. Where the source would then not divide, there is one fix: to stop."""
    fix, check = _fault_words(stage, fault, actual, path)
    there = path.with_fault(Explanation(fault, "", stage=stage, actual_ratio=actual))
    return (RAW_STOP if there.source_ratio <= _DIVIDES else fix), check


def _fault_words(stage: Stage, fault: Fault, actual: float | None, path: SignalPath) -> tuple[str, str]:
    """(fix, check): one sentence each."""
    right = path.source_ratio * path.card_ratio
    if fault == "none":
        return (
            "The path reads right: look at the set-point, and at metal, thickness and fitted parts.",
            "Cut once at fixed height and compare the volts on the screen with the set-point.",
        )
    if fault == "open_or_shorted":
        return (
            "Find the open or shorted signal wire, isolated and locked out, and fasten or replace it.",
            "With everything isolated, measure each signal wire end to end and between the two.",
        )
    if stage == "multiplier":
        return (
            f"Set the controller's multiplier to {right:.4g}, the whole of what the path divides by.",
            f"Read the multiplier on the controller's own settings page: is it {actual:.4g}?",
        )
    assert actual is not None
    return _dividing_words(stage, fault, actual, path)


def _dividing_words(stage: Stage, fault: Fault, actual: float, path: SignalPath) -> tuple[str, str]:
    """(fix, check) for a stage that divides otherwise than told."""
    at_source = stage == "source"
    named = "the source's divider" if at_source else "the input card"
    told = path.source_ratio if at_source else path.card_ratio
    fed = "the divider" if at_source else "the card"
    check = (
        f"With the arc's circuit isolated, feed a known low voltage into {fed} and measure what comes "
        "out of it."
    )
    if fault == "does_not_divide" and at_source:
        return RAW_STOP, check
    if fault == "does_not_divide":
        fix = "Set the card's link to the ratio that it is told to have"
        return f"{fix}: nothing divides where ÷{told:g} is told.", check
    if fault == "divides_again":
        again = "already" if at_source else "again"
        return f"{ONE_DIVISION} Here {named} divides by {actual:g} {again}.", check
    if 0.88 <= actual / told <= 1.14:
        return (
            f"Set the controller's multiplier to {path.multiplier * actual / told:.4g}, which makes up "
            f"for {named} dividing by {actual:.4g} in place of {told:g}.",
            f"{check} Then take the card off it: if the volts rise, the card loads the divider.",
        )
    return (
        f"Set the multiplier or the link so that both name the ÷{actual:g} that {named} really does.",
        check,
    )


def _corrections(
    path: SignalPath, likeliest: Explanation | None, seen_gain: float | None, *, raw: bool
) -> tuple[PathCorrection, ...]:
    """Ways to a right reading for the likeliest fault, safest first: where raw arc voltage may be about, only to stop."""
    if raw and likeliest is not None:
        return (PathCorrection(RAW_STOP, at_screen=False),)
    if likeliest is None or likeliest.code == "none":
        return ()
    if seen_gain is None:
        return (
            PathCorrection(
                "Read one pair of volts first: the true ones on the source's own display, or measured by "
                "an electrician with a meter rated for it, and the screen's at the same moment.",
                True,
            ),
            PathCorrection("Run with height control off and the height set, until that is known.", True),
        )
    if abs(seen_gain - 1) <= 2 * _READING_SHARE:
        return (
            PathCorrection(
                "Change nothing at the machine: it reads right. What is written down here is wrong: "
                f"{_STAGE_WORDS[likeliest.stage]} is {likeliest.actual_ratio:.4g}.",
                True,
            ),
        )
    if likeliest.code == "open_or_shorted":
        return (
            PathCorrection(
                "Run with height control off and the height set, until the wire is mended.", True
            ),
            PathCorrection("Isolate and lock out, then find and mend the signal wire.", False),
        )
    there = path.with_fault(likeliest)
    return tuple(
        sorted(_of_ratios(path, there.source_ratio, there.card_ratio), key=lambda c: not c.at_screen)
    )


def _of_ratios(path: SignalPath, source: float, card: float) -> Iterator[PathCorrection]:
    """Ways to a right reading where source and card really divide so."""
    whole = source * card
    coarse = " It reads coarsely: so little voltage is left at the input." if whole > 200 else ""
    yield PathCorrection(
        f"Set the controller's multiplier to {whole:.4g}: the path divides by "
        f"{source:.4g} × {card:.4g}.{coarse}",
        True,
    )
    yield PathCorrection("Run with height control off and the height set, until it is right.", True)
    if card > _DIVIDES:
        yield PathCorrection(f"{ONE_DIVISION} Here that is {source:.4g}.", False)
    elif path.card_ratio > _DIVIDES:
        yield PathCorrection(f"Set the card's link to ÷{path.card_ratio:g}, as it is told.", False)


def _cautions(*, raw: bool) -> tuple[str, ...]:
    """What must be said with every answer, and what this path adds."""
    found = [
        "Isolate and lock out before any cabinet is opened: mains and arc voltage are inside. Wiring is "
        "work for a licensed electrician, by the equipment's manual.",
    ]
    if raw:
        found.append(
            "Raw arc voltage has no business on a signal wire, which is neither fused nor insulated for it: it is brought "
            "down at the source, before it leaves there."
        )
    found.append(
        "Photograph and label wires before moving any. After a fix cut a small part and compare live "
        "volts with the set-point before trusting it; volts logged before the fix are another series."
    )
    return tuple(found)
