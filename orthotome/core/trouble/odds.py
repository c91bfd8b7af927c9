"""What a shop's own solved cases teach: here it was the clip four times of five."""

from collections import Counter
from collections.abc import Sequence

from orthotome.core.trouble.causes import FACTS, Cause
from orthotome.core.trouble.complaints import Complaint, shares

_TRADE_COUNTS = 6.0  # cases that the trade's weights are worth beside a shop's own; assumption


def odds_of(complaint: Complaint, solved: Sequence[Cause]) -> dict[Cause, float]:
    """How much more often each cause was met here than the trade's weight says; a cause never met here loses as the others gain."""
    met, count = Counter(solved), len(solved)
    if not count:
        return {}
    return {
        cause: (_TRADE_COUNTS * share + met[cause]) / (_TRADE_COUNTS + count) / share
        for cause, share in shares(complaint).items()
    }


def shop_says(solved: Sequence[Cause]) -> str:
    """What it was here before, in a sentence; empty where no case was kept."""
    if not solved:
        return ""
    cause, times = Counter(solved).most_common(1)[0]
    title = FACTS[cause].title
    said = f"{title[0].lower()}{title[1:]}"
    return f"Here it was “{said}” {times} of {len(solved)} times before."
