"""What is laid under the torch by another name than Orthotome's metals: what is refused, and what burns.

A shop may cut metals of its own. Some of what a name can say is no metal, so that no arc can cross to it; some metal burns
in the cut or poisons, and no starting number makes that a job for this program.
"""

import re

from orthotome.core.errors import TradeError

_NO_METAL = (
    "wood", "plywood", "mdf", "osb", "timber", "bamboo", "plastic", "acrylic", "plexiglass", "polycarbonate",
    "polyethylene", "polypropylene", "hdpe", "pvc", "ptfe", "nylon", "rubber", "foam", "glass", "ceramic", "tile", "stone",
    "granite", "marble", "slate", "concrete", "brick", "plaster", "drywall", "cardboard", "paper", "leather", "cloth",
    "fabric", "felt", "cork", "carbon fibre", "carbon fiber", "fibreglass", "fiberglass", "graphite", "ice",
)  # fmt: skip
_BURNS_OR_POISONS = {
    "magnesium": "burns in the cut, and water makes the fire worse",
    "lithium": "burns in the cut, and water makes the fire worse",
    "sodium": "burns in the cut, and water makes the fire worse",
    "zirconium": "burns in the cut, and its dust by itself",
    "hafnium": "burns in the cut, and its dust by itself",
    "uranium": "burns in the cut, and poisons",
    "beryllium": "gives a fume that poisons for life",
    "cadmium": "gives a fume that kills within days",
    "mercury": "gives a vapour that poisons",
    "lead": "gives a fume that poisons, and melts long before it is cut",
}
_METAL_AT_HAND = (
    "steel", "iron", "aluminium", "aluminum", "copper", "brass", "bronze", "nickel", "inconel", "titanium", "alloy",
)  # fmt: skip
_TITANIUM = ("titanium", "ti 6al 4v", "ti6al4v", "nitinol")
_TITANIUM_FIRE = (
    "Titanium burns: its sparks, its dust and thin edges can catch fire, and water on burning titanium explodes. Dry bed, "
    "tray and collector cleared of every other metal's dust, an extinguisher for burning metal at hand, and the "
    "supplier's safety sheet before the first cut."
)


def refused_because(metal: str) -> str | None:
    """Why nothing is worked out for what is called that; None where it may be a metal that is cut.

    By whole words, and in favour of the shop: "plastic-coated steel" is steel, "aluminium magnesium" an alloy that is cut
    every day. A beryllium alloy is refused by whatever else it is called.
    """
    said = _words(metal)
    at_hand = any(_has(said, m) for m in _METAL_AT_HAND)
    for word, does in _BURNS_OR_POISONS.items():
        if _has(said, word) and (word == "beryllium" or not at_hand or _has(said, f"{word} alloy")):
            return (
                f"{word.capitalize()} {does}. Orthotome works out nothing for it: ask its supplier, and whoever answers "
                "for fire and health in the shop."
            )
    if not at_hand and any(_has(said, w) for w in _NO_METAL):
        return (
            f"“{metal.strip()[:60]}” is no metal: it carries no current, so that no arc crosses to it, and it burns or "
            "gives off what poisons. It is no work for a plasma table."
        )
    return None


def fire_caution(metal: str) -> str | None:
    """What to know before cutting a metal that itself can burn; None of the others."""
    return _TITANIUM_FIRE if any(_has(_words(metal), w) for w in _TITANIUM) else None


def check_metal(metal: str, field: str = "metal") -> None:
    """Raise TradeError for what is not to be cut by anything that is worked out here."""
    why = refused_because(metal)
    if why is not None:
        raise TradeError(field, why)


def _words(metal: str) -> str:
    return f" {' '.join(re.findall(r'[a-z0-9]+', metal.lower()))} "


def _has(said: str, words: str) -> bool:
    return f" {words} " in said
