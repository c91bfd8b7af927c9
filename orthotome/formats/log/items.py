"""What there is to look at on a piece, as it is kept with it."""

import json
from collections.abc import Sequence
from dataclasses import asdict

from orthotome.core.log.items import Item


def read_items(kept: str) -> tuple[Item, ...]:
    """Items as they are kept."""
    return tuple(Item(**i) for i in json.loads(kept))


def kept_items(items: Sequence[Item]) -> str:
    """Items to keep."""
    return json.dumps([asdict(i) for i in items])
