"""The trade's words and first choices for the front end, written out from core so that they stand once."""

import json
import math

from orthotome.core.edge.edges import WAYS
from orthotome.core.fields import field_words
from orthotome.core.height.phases import NOTHING_V, PHASE_WORDS
from orthotome.core.machine.run_up import STOPWATCH_U_S
from orthotome.core.machine.touch_height import FEELER_U_MM
from orthotome.core.trial.campaign import DROSS_EFFORT
from orthotome.core.trial.opening import DEFAULT_TARGET
from orthotome.core.units import SAID, factor_of, zero_of
from orthotome.formats.book.row_import import ALL_COLUMNS


def words_module() -> str:
    """A TypeScript module of them."""
    target = json.dumps(vars(DEFAULT_TARGET))
    columns = {name: field_words(name) for name in ALL_COLUMNS}
    return (
        "/** Written by ./run client from orthotome/core: change the words there. */\n"
        f"export const DROSS_EFFORT = {json.dumps(DROSS_EFFORT)} as const;\n\n"
        f"export const DEFAULT_TARGET = {target} as const;\n\n"
        f"export const COLUMN_WORDS: Record<string, string> = {json.dumps(columns)};\n\n"
        f"export const WAYS = {json.dumps(WAYS)} as const;\n\n"
        f"export const SAID = {_said()} as const;\n\n"
        f"export const PHASE_WORDS = {json.dumps(PHASE_WORDS)} as const;\n\n"
        f"export const NOTHING_V = {NOTHING_V};\n\n"
        f"export const STOPWATCH_U_S = {STOPWATCH_U_S};\n\n"
        f"export const FEELER_U_MM = {FEELER_U_MM};\n"
    )


def _said() -> str:
    """How each quantity is said in a shop: the unit, the kept unit in it, decimals, and decimals from a value on."""
    ways = {
        quantity: [
            {
                "unit": w.unit,
                "shown": w.shown,
                "per": factor_of(quantity, w.unit),
                "zero": zero_of(w.unit),
                "digits": w.digits,
                "large": [w.large[0], w.large[1]] if math.isfinite(w.large[0]) else None,
            }
            for w in ways
        ]
        for quantity, ways in SAID.items()
    }
    return json.dumps(ways, ensure_ascii=False)
