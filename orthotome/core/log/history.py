"""What a cut said before somebody corrected it, in words."""

from collections.abc import Iterator, Mapping
from typing import Any

from orthotome.core.edge.edges import cut_toward
from orthotome.core.log.sheet import DROSS, THROUGH
from orthotome.core.quantities import length, speed, volts
from orthotome.core.trial.campaign import DROSS_EFFORT

_QUANTITIES = {
    "speed_mm_min": ("speed", speed),
    "cut_height_mm": ("cut height", length),
    "arc_voltage_v": ("arc voltage", volts),
    "set_point_v": ("set-point", volts),
    "kerf_mm": ("kerf", length),
    "lag_deg": ("lag", "{:+.1f}°".format),
}
_PLAIN = {
    "through": "through",
    "height_control": "height while cutting",
    "arc_lost": "arc lost",
    "note": "note",
}


def was_in_words(before: Mapping[str, Any]) -> tuple[str, ...]:
    """What stood there, field by field; a field that was not read says so."""
    return tuple(_was(before))


def _was(before: Mapping[str, Any]) -> Iterator[str]:
    for name, value in before.items():
        if name in _QUANTITIES:
            label, say = _QUANTITIES[name]
            yield f"{label} was {'not read' if value is None else say(value)}"
        elif name == "through":
            yield f"through was {'not noted' if value is None else THROUGH[value]}"
        elif name in _PLAIN:
            yield f"{_PLAIN[name]} was {value if value not in (None, '') else 'empty'}"
        elif name == "dross":
            yield _dross_was(value)
        elif name == "edges":
            yield from map(_edge_was, value)
        elif name == "looks":
            for look in value:
                said = look["value"] if look["number"] is None else f"{look['number']:g}"
                yield f"{look['what'].replace('_', ' ')} was {said or 'not looked at'}"


def _dross_was(value: Any) -> str:
    if value is None:
        return "the underside was not looked at"
    found = [f"{DROSS[d['kind']]} {DROSS_EFFORT[d['grade']]}" for d in value if d["grade"]]
    return f"the underside was {', '.join(found) or 'clean'}"


def _edge_was(change: Mapping[str, Any]) -> str:
    added = change.get("added")
    edge = added or change
    named = f"the edge {cut_toward(edge['heading_deg'])}, {edge['side']} of travel"
    return f"{named} was not read" if added else f"{named} was {edge['bevel_deg']:+.1f}°"
