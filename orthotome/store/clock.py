"""The tables. Lengths in mm, speeds in mm/min, V, s, deg, A, always; null is "not measured"."""

from datetime import UTC, datetime


def now() -> datetime:
    """The time a row is written, in UTC."""
    return datetime.now(UTC).replace(microsecond=0)
