"""The answer to "what if I set ...?", as plain values; ``core.tuner.window`` works it out."""

from dataclasses import dataclass

from orthotome.core.setting import Setting
from orthotome.core.trial.advice import Expected


@dataclass(frozen=True)
class CurvePoint:
    """What is expected at one speed or height: mean bevel of the kept edges of the next cut with the band of
    90 in 100, and the chance of an underside that is clean enough and through."""

    at: float
    bevel_deg: float
    low_deg: float
    high_deg: float
    clean: float


@dataclass(frozen=True)
class CurveMark:
    """A cut as measured, beside a curve; ``on_it`` where it was cut (nearly) on that line."""

    cut: str
    at: float
    bevel_deg: float | None
    grade: int | None
    on_it: bool


@dataclass(frozen=True)
class Curve:
    """Along one quantity, in mm/min or mm, the other held."""

    points: tuple[CurvePoint, ...]
    marks: tuple[CurveMark, ...]


@dataclass(frozen=True)
class WhatIf:
    """What a setting is expected to give. ``square``, ``clean`` and ``through`` are the chances of each alone."""

    setting: Setting
    chance: float
    square: float
    clean: float
    through: float
    inside_limits: bool
    arc_voltage_v: float | None
    expected: Expected
    why: str
    along_speed: Curve
    along_height: Curve
