"""What is open to whom on the shop's network: one list, from nobody to a lead hand."""

import re
from typing import Literal

from orthotome.api.practice_shop import ON_PRACTICE

Needs = Literal["nothing", "device", "person", "lead_hand", "this_machine"]

_RULES: tuple[tuple[str, str, Needs], ...] = (
    # methods, path, what a request from the network needs; the first that fits holds
    ("GET|POST", r"/pair", "nothing"),
    # Devices are let in, and told how to trust this machine, from its own screen.
    ("GET|POST|DELETE", r"/api/pairing", "this_machine"),
    ("GET", r"/api/door", "device"),
    ("POST", r"/api/door/sign-(on|off)", "device"),
    # Backups hold everything, the digests of PINs too.
    (".*", r"/api/backups(/.*)?", "lead_hand"),
    (".*", r"/api/devices(/.*)?", "lead_hand"),
    ("POST|PATCH|DELETE", r"/api/people(/.*)?", "lead_hand"),
    # Reading what is typed, or trying something out, changes nothing.
    ("POST", r"/api/quantities/read|/api/air|/api/cylinders|/api/profiles/preview", "device"),
    ("POST", r"/api/book/import/preview|/api/trials/\d+/simulated-cut", "device"),
    ("POST", r"/api/traces/headings|/api/height/loop", "device"),
    ("POST", r"/api/parts/\d+/looked", "device"),
    # A check is read by whoever cuts.
    ("POST|PUT", r"/api/recipes/\d+/spot-checks(/.*)?", "person"),
    ("POST|PUT|PATCH|DELETE", r"/api/(book|recipes)(/.*)?", "lead_hand"),
    # Which machine is listened to is for whoever answers for the table.
    ("PUT", r"/api/tables/[^/]+/line", "lead_hand"),
    ("POST", r"/api/trials/\d+/lock", "lead_hand"),
    ("GET|HEAD", r".*", "device"),
)


def needs(method: str, path: str) -> Needs:
    """What a request from the network needs; changing anything needs somebody's name."""
    if path.startswith(f"{ON_PRACTICE}/"):  # nothing real hangs on what is done there
        return "device" if method in ("GET", "HEAD") else "person"
    for methods, pattern, wanted in _RULES:
        if re.fullmatch(methods, method) and re.fullmatch(pattern, path, re.DOTALL):
            return wanted
    return "person"
