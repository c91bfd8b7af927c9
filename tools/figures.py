"""How the benchmarks print a figure."""


def say(what: str, value: float, unit: str, beside: str = "", places: int = 1) -> None:
    """One figure on one line."""
    print(f"{what:<52}{value:>10.{places}f} {unit:<4} {beside}", flush=True)
