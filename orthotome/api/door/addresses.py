"""Under which names this machine is reached on the shop's network."""

import contextlib
import ipaddress
import socket

# Of the block that is kept free for examples: asking for the way there sends nothing.
_FAR_AWAY = ("192.0.2.1", 9)
_EVERY_ADDRESS = "0.0.0.0"


def addresses(host: str = _EVERY_ADDRESS) -> tuple[str, ...]:
    """The addresses of this machine, the likeliest first; one alone where it listens on one only."""
    if host != _EVERY_ADDRESS:
        return (host,)
    found = [_on_the_way_out()]
    # A machine whose own name leads nowhere is reached by its address.
    with contextlib.suppress(OSError):
        found += [
            str(known[4][0]) for known in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)
        ]
    usable = [a for a in found if a and not ipaddress.ip_address(a).is_loopback]
    return tuple(dict.fromkeys(usable))


def names(host: str = _EVERY_ADDRESS) -> frozenset[str]:
    """Every name that a device may call it by."""
    own = socket.gethostname().lower()
    called = {own, f"{own}.local"} if host == _EVERY_ADDRESS and own else set()
    return frozenset({*addresses(host), *called})


def _on_the_way_out() -> str:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asking:
        try:
            asking.connect(_FAR_AWAY)
        except OSError:
            return ""
        return str(asking.getsockname()[0])
