"""Samples of a recording as they are kept: packed, and the same again when they are read."""

import zlib

import numpy as np

from orthotome.core.height.trace import Array, Trace

_COLUMNS = ("volts_v", "z_mm", "feed_mm_min", "set_point_v", "control")


def pack(part: Trace) -> bytes:
    """Time in full, the rest to what an instrument tells; a column that is not there is kept as such."""
    held = [name for name in _COLUMNS if getattr(part, name) is not None]
    head = bytes([1, sum(1 << i for i, name in enumerate(_COLUMNS) if name in held)])
    times = part.time_s.astype("<f8").tobytes()
    values = b"".join(getattr(part, name).astype("<f4").tobytes() for name in held)
    return head + zlib.compress(times + values, 1)


def unpack(body: bytes, samples: int) -> Trace:
    """The samples of one part."""
    raw, held = zlib.decompress(body[2:]), body[1]
    times = np.frombuffer(raw, "<f8", samples)
    found: dict[str, Array] = {}
    at = 8 * samples
    for i, name in enumerate(_COLUMNS):
        if held >> i & 1:
            found[name] = np.frombuffer(raw, "<f4", samples, at).astype(np.float64)
            at += 4 * samples
    return Trace(times.astype(np.float64), **found)


def joined(parts: list[Trace]) -> Trace:
    """Parts one after the other; a column that one of them lacks is empty there."""
    if not parts:
        nothing: Array = np.zeros(0)
        return Trace(nothing, nothing)

    def column(name: str) -> Array | None:
        found = [getattr(p, name) for p in parts]
        if all(c is None for c in found):
            return None
        filled = [np.full(len(p), np.nan) if c is None else c for p, c in zip(parts, found, strict=True)]
        return np.concatenate(filled)

    volts = column("volts_v")
    assert volts is not None
    return Trace(
        np.concatenate([p.time_s for p in parts]),
        volts,
        column("z_mm"),
        column("feed_mm_min"),
        column("set_point_v"),
        column("control"),
    )
