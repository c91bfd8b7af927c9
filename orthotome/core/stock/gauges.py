"""Sheet gauge numbers: a number means a different thickness for each metal.

Inches by gauge, as commonly tabled in the trade. Conventions differ from mill to mill (stainless is
often rolled to other decimals, galvanized gauges include the zinc), so a measured thickness always
overrides the gauge.
"""

from orthotome.core.errors import TradeError

MM_PER_INCH = 25.4

_NUMBERS = (7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 22, 24, 26, 28)


def _table(decimals: str, first: int = 7) -> dict[int, float]:
    numbers = _NUMBERS[_NUMBERS.index(first) :]
    return dict(zip(numbers, (float(d) for d in decimals.split()), strict=True))


GAUGE_INCHES: dict[str, dict[int, float]] = {
    "mild_steel": _table(
        ".1793 .1644 .1495 .1345 .1196 .1046 .0897 .0747 .0673 .0598 .0538 .0478 .0418 .0359 "
        ".0299 .0239 .0179 .0149"
    ),
    "galvanized_steel": _table(
        ".1681 .1532 .1382 .1233 .1084 .0934 .0785 .0710 .0635 .0575 .0516 .0456 .0396 .0336 "
        ".0276 .0217 .0187",
        first=8,
    ),
    "stainless_steel": _table(
        ".1875 .1719 .1562 .1406 .1250 .1094 .0937 .0781 .0703 .0625 .0562 .0500 .0437 .0375 "
        ".0312 .0250 .0187 .0156"
    ),
    "aluminium": _table(
        ".1443 .1285 .1144 .1019 .0907 .0808 .0720 .0641 .0571 .0508 .0453 .0403 .0359 .0320 "
        ".0253 .0201 .0159 .0126"
    ),
}


def gauge_thickness_mm(metal: str, gauge: int) -> float:
    """Thickness in mm of a gauge number of that metal.

    Raises TradeError for a metal that has no gauge here, or a number its table does not hold:
    guessing from another metal's table is the classic mistake.
    """
    table = GAUGE_INCHES.get(metal)
    if table is None:
        raise TradeError(
            "thickness", f"there is no gauge table for {metal.replace('_', ' ')}: give mm or inches."
        )
    if gauge not in table:
        raise TradeError(
            "thickness",
            f"{gauge} gauge is not in the {metal.replace('_', ' ')} table "
            f"(it holds {min(table)} to {max(table)}): give mm or inches.",
        )
    return table[gauge] * MM_PER_INCH


def gauge_of(metal: str, thickness_mm: float) -> int | None:
    """The gauge number that is just this thickness of that metal; None where none is."""
    for gauge, inches in GAUGE_INCHES.get(metal, {}).items():
        if abs(inches * MM_PER_INCH - thickness_mm) < 1e-3:
            return gauge
    return None
