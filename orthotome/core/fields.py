"""What a field of the files is called on the screens: no operator reads ``arc_voltage_v``."""

_WORDS = {
    "thickness_mm": "Thickness",
    "speed_mm_min": "Speed",
    "set_point_v": "Set-point",
    "torch_set_id": "Torch set",
    "torch_set": "Torch set",
    "table_id": "Table",
    "gas": "Plasma gas",
    "source": "Where it comes from",
    "u_deg": "Uncertainty of the reading",
    "by_v": "Trim",
    "bevel_deg": "Bevel",
    "edges_deg": "Edges",
    "edges": "Edges",
    "dross": "Dross",
    "dross_grade": "Dross",
    "lag_deg": "Lag of the lines",
    "water_level_mm": "Water above plate underside",
    "least_thickness_mm": "Sensible from",
    "most_thickness_mm": "Sensible up to",
    "host": "Machine",
    "port": "Port",
    "pin": "PIN",
    "title": "Name",
    "text": "What was pasted",
    "body": "What was sent",
}
_UNITS = (
    "_mm_min", "_mm_s2", "_mm_s", "_l_min", "_v_per_mm", "_kpa", "_deg", "_mm", "_id", "_v", "_s", "_a",
)  # fmt: skip


def field_words(path: str) -> str:
    """A field by its path, such as ``cuts.3.arc_voltage_v``, in the words of the screens: Arc voltage."""
    named = [part for part in path.replace("[", ".").replace("]", "").split(".") if not part.isdigit()]
    name = named[-1] if named else path
    if name in _WORDS:
        return _WORDS[name]
    for unit in _UNITS:
        if name.endswith(unit) and name != unit:
            name = name.removesuffix(unit)
            break
    plain = name.replace("_", " ").strip()
    return f"{plain[:1].upper()}{plain[1:]}"


def named(field: str, sentence: str) -> str:
    """A sentence about a field with the field's name before it, where it does not begin as a sentence of its own."""
    return f"{field_words(field)} {sentence}" if field and sentence[:1].islower() else sentence
