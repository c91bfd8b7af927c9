"""What all file models share: strict numbers, fields that name their unit, errors in one sentence."""

import math
import re
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError, model_validator
from pydantic_core import ErrorDetails

from orthotome.core.quantities import length, speed, spoken

LARGEST_FILE_BYTES = 5_000_000
LARGEST_NUMBER, SMALLEST_NUMBER = (
    1e12,
    1e-30,
)  # what rounding leaves of nothing is far larger than the second
TINY = 1e-6
"""The least of what must be more than nothing, in any unit that a file speaks of."""

_UNIT_ENDINGS = (
    "mm_min|mm|v|s|deg|a|kpa|l_min|in_min|ipm|inch|inches|in|thou|m_min|mm_s|cm|ms|rad|volts|amps"
)
_UNIT_ENDING = re.compile(f"_({_UNIT_ENDINGS})$")


class FileError(ValueError):
    """A file that cannot be used; the message is one sentence naming the field."""


class WrittenModel(BaseModel):
    """A part of what Orthotome writes, made ready when it is first used: a command writes one report of many."""

    model_config = ConfigDict(defer_build=True)


class FileModel(BaseModel):
    """A part of an open file: no coercion, no NaN, no infinity.

    An unknown field is left alone unless it is a known one in another unit (``speed_in_min``), which
    would otherwise be a twenty-five-fold mistake waiting behind a default.
    """

    model_config = ConfigDict(
        strict=True, allow_inf_nan=False, frozen=True, populate_by_name=True, defer_build=True
    )

    @model_validator(mode="before")
    @classmethod
    def _refuse_other_units(cls, data: Any) -> Any:
        if not isinstance(data, dict):
            return data
        for key, value in data.items():
            for number in value if isinstance(value, list | tuple) else (value,):
                if _is_no_measure(number):
                    raise ValueError(f"“{key}” is a number that no quantity of this trade has.")
        stems = {_stem(name): name for name in cls.model_fields}
        for key in data:
            known = stems.get(_stem(str(key)))
            other_unit = known is not None and key not in cls.model_fields
            if known is not None and other_unit and _UNIT_ENDING.search(known):
                raise ValueError(f"“{key}” is not a field here: give “{known}”, in that unit.")
        return data


def _is_no_measure(value: Any) -> bool:
    """A number so large that it is a slip or an attack, and breaks arithmetic further on."""
    if isinstance(value, bool) or not isinstance(value, int | float) or value in (math.inf, -math.inf):
        return False
    return abs(value) > LARGEST_NUMBER


def _stem(name: str) -> str:
    return _UNIT_ENDING.sub("", name)


def field_path(error: ErrorDetails) -> str:
    """Where an error is, as ``cuts[3].edges[0].bevel_deg``."""
    path = ""
    for part in error["loc"]:
        path += f"[{part}]" if isinstance(part, int) else f".{part}" if path else str(part)
    return path or "file"


_PLAIN = {
    "missing": "is missing.",
    "finite_number": "must be a real number, not NaN or infinity.",
    "float_type": "must be a number.",
    "int_type": "must be a whole number.",
    "string_type": "must be text.",
    "bool_type": "must be true or false.",
    "model_type": "must be an object with named fields.",
    "list_type": "must be a list.",
    "tuple_type": "must be a list.",
    "json_invalid": "is not JSON.",
}


def sentence(error: ErrorDetails) -> str:
    """What is wrong and what would be right, in plain words, without the field's name."""
    kind, context = error["type"], error.get("ctx", {})
    if kind in _PLAIN:
        return _PLAIN[kind]
    if kind == "value_error":
        return str(context["error"])
    bounds = {
        "greater_than": "must be more than {gt}.",
        "greater_than_equal": "must be {ge} or more.",
        "less_than": "must be less than {lt}.",
        "less_than_equal": "must be {le} or less.",
        "literal_error": "must be one of {expected}.",
        "too_long": "has too many entries: at most {max_length}.",
        "too_short": "has too few entries: at least {min_length}.",
        "string_too_long": "is too long: at most {max_length} characters.",
        "string_too_short": "must not be empty.",
    }
    if kind == "greater_than_equal" and context.get("ge") == TINY:
        return "must be more than 0."
    if kind in bounds:
        field = str(error["loc"][-1]) if error["loc"] else ""
        numbers = {k: _said(v, field) if isinstance(v, float | int) else v for k, v in context.items()}
        return bounds[kind].format(**numbers)
    return f"{error['msg'][0].lower()}{error['msg'][1:]}."


def _said(value: float, field: str) -> str:
    """A bound of a field: in an inch shop in its unit, as every other number there."""
    if spoken().in_inches and field.endswith("_mm_min"):
        return speed(value)
    if spoken().in_inches and field.endswith("_mm"):
        return length(value)
    return f"{value:g}"


M = TypeVar("M", bound=FileModel)


def read_json(model: type[M], text: str | bytes) -> M:
    """Read one file of a format, or raise FileError with one sentence naming the field."""
    if len(text) > LARGEST_FILE_BYTES:
        raise FileError(f"file: is larger than {LARGEST_FILE_BYTES // 1_000_000} MB.")
    try:
        return model.model_validate_json(text)
    except ValidationError as refused:
        first = refused.errors(include_url=False, include_input=False)[0]
        raise FileError(f"{field_path(first)}: {sentence(first)}") from None
