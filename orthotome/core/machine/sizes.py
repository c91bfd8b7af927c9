"""Scale and kerf told apart from sizes: size error = (scale - 1) x size ± (kerf compensated - kerf).

An outside and an inside answer to the kerf with opposite signs, and sizes that differ tell scale from it. With
fewer there is more than one answer, and none is given.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from orthotome.core.machine.fitting import fitted
from orthotome.core.machine.measured import Reading
from orthotome.core.machine.squareness import Spread

Array = NDArray[np.float64]
Fault = Literal["kerf_not_compensated", "kerf_wrong_side"]

SCALE_THAT_MATTERS = 0.0005
"""Half a millimetre over a metre. Assumption."""
KERF_THAT_MATTERS_MM = 0.1
"""Assumption: what a hole that has to fit notices."""
_MOST_SCALE_SD = 0.01  # with a wider range than that nothing is told
_MOST_KERF_SD_SHARE = 0.35  # of the kerf
_KERF_SD_SHARE = (
    0.2  # how far a kerf may be from what was compensated, before anything is measured. Assumption
)
_SCALES = ((0.9, 0.0015), (0.1, 0.01))
"""What scale errors are like before anything is measured: most small, some with wrong steps. Assumption."""
_PRIORS: dict[Fault | None, float] = {None: 0.8, "kerf_not_compensated": 0.12, "kerf_wrong_side": 0.08}
_CLEAR = 0.9  # of all chances: below it a fault is not named


@dataclass(frozen=True)
class Sizes:
    """What sizes say. None: it cannot be told from them. ``fault`` is what was done to the kerf instead of half of it into the
    scrap; ``doubt`` that one is likely and not certain; ``contradict`` that no scale and kerf fit all sizes."""

    scale_x: Spread | None
    scale_y: Spread | None
    kerf_mm: Spread | None
    fault: Fault | None
    doubt: Fault | None
    contradict: bool


def judge_sizes(readings: Sequence[Reading], kerf_compensated_mm: float) -> Sizes:
    """Scale of each axis and the kerf, by weighted least squares, with what was done to the kerf judged first."""
    if not readings:
        return Sizes(None, None, None, None, None, False)
    chances = fault_chances(readings, kerf_compensated_mm)
    likeliest = max(chances, key=lambda f: chances[f])
    fault = likeliest if chances[likeliest] >= _CLEAR else None
    table = np.array([_row(r) for r in readings])
    errors = np.array([r.error_mm for r in readings])
    u = np.array([r.u_mm for r in readings])
    values, sds, known, contradict = fitted(table / u[:, None], errors / u)
    made_room = {None: 1, "kerf_not_compensated": 0, "kerf_wrong_side": -1}[fault] * kerf_compensated_mm
    x, y = (
        Spread(1 + values[i], sds[i]) if known[i] and sds[i] <= _MOST_SCALE_SD else None for i in (0, 1)
    )
    most = _MOST_KERF_SD_SHARE * kerf_compensated_mm
    kerf = Spread(made_room - values[2], sds[2]) if known[2] and sds[2] <= most else None
    if likeliest is not None and fault is None:
        kerf = None
    return Sizes(x, y, kerf, fault, None if fault else likeliest, contradict)


def _row(reading: Reading) -> tuple[float, float, float]:
    """How a size answers to scale in X, scale in Y, and kerf compensated less kerf."""
    n, sign = reading.nominal_mm, 1.0 if reading.outside else -1.0
    return (n if reading.axis == "x" else 0.0, n if reading.axis == "y" else 0.0, sign)


def fault_chances(readings: Sequence[Reading], kerf_compensated_mm: float) -> dict[Fault | None, float]:
    """How likely it is that half a kerf lies in the scrap (None), nowhere, or in the part."""
    table = np.array([_row(r) for r in readings])
    errors = np.array([r.error_mm for r in readings])
    noise = np.diag([r.u_mm**2 for r in readings])
    logs: dict[Fault | None, float] = {}
    for fault, prior in _PRIORS.items():
        made_room = {None: 0.0, "kerf_not_compensated": -1.0, "kerf_wrong_side": -2.0}[fault]
        mean = table[:, 2] * made_room * kerf_compensated_mm
        parts = [
            math.log(prior * share)
            + _log_density(errors - mean, table, noise, sd, _KERF_SD_SHARE * kerf_compensated_mm)
            for share, sd in _SCALES
        ]
        logs[fault] = float(np.logaddexp.reduce(parts))
    whole = float(np.logaddexp.reduce(list(logs.values())))
    return {fault: math.exp(log - whole) for fault, log in logs.items()}


def _log_density(off: Array, table: Array, noise: Array, scale_sd: float, kerf_sd_mm: float) -> float:
    """Of errors this far from what is expected, scale and kerf being what they usually are."""
    wide = table * np.array([scale_sd, scale_sd, kerf_sd_mm])
    covariance = wide @ wide.T + noise
    _, log_size = np.linalg.slogdet(covariance)
    return float(-0.5 * (off @ np.linalg.solve(covariance, off) + log_size))
