"""How the benchmarks print a figure."""


def say(what: str, value: float, unit: str, beside: str = "") -> None:
    """One figure on one line."""
    print(f"{what:<52}{value:>10.1f} {unit:<4} {beside}", flush=True)
