"""Expressions in square brackets, and the variables they use, as RS-274 writes them: ``[#1 * 2 + SIN[30]]``.

Angles are in degrees. Names are in capitals without spaces, as the reader hands lines on.
"""

import math
import re
from collections.abc import Callable

_TOKEN = re.compile(
    r"(\d+\.?\d*|\.\d+)|(\*\*|[-+*/#\[\]])|<([^>]*)>|([A-Z]+)|(.)",
)
_DEEPEST = 40
_LARGEST = 1e12

_FUNCTIONS: dict[str, Callable[[float], float]] = {
    "ABS": abs,
    "ACOS": lambda x: math.degrees(math.acos(x)),
    "ASIN": lambda x: math.degrees(math.asin(x)),
    "COS": lambda x: math.cos(math.radians(x)),
    "SIN": lambda x: math.sin(math.radians(x)),
    "TAN": lambda x: math.tan(math.radians(x)),
    "SQRT": math.sqrt,
    "EXP": math.exp,
    "LN": math.log,
    "ROUND": lambda x: float(math.floor(x + 0.5)),
    "FIX": lambda x: float(math.floor(x)),
    "FUP": lambda x: float(math.ceil(x)),
}
_BINARY: dict[str, tuple[int, Callable[[float, float], float]]] = {
    "**": (5, lambda a, b: a**b),
    "*": (4, lambda a, b: a * b),
    "/": (4, lambda a, b: a / b),
    "MOD": (4, lambda a, b: a % b),
    "+": (3, lambda a, b: a + b),
    "-": (3, lambda a, b: a - b),
    "EQ": (2, lambda a, b: float(abs(a - b) < 1e-6)),
    "NE": (2, lambda a, b: float(abs(a - b) >= 1e-6)),
    "GT": (2, lambda a, b: float(a > b)),
    "GE": (2, lambda a, b: float(a >= b)),
    "LT": (2, lambda a, b: float(a < b)),
    "LE": (2, lambda a, b: float(a <= b)),
    "AND": (1, lambda a, b: float(bool(a) and bool(b))),
    "OR": (1, lambda a, b: float(bool(a) or bool(b))),
    "XOR": (1, lambda a, b: float(bool(a) != bool(b))),
}


class ExpressionError(ValueError):
    """An expression that cannot be worked out; the message says why in a few words."""


class Expression:
    """One text, read from a place on: ``value`` takes what stands there, and ``at`` is behind it."""

    def __init__(self, text: str, variables: dict[str, float], at: int = 0) -> None:
        self.text, self.variables, self.at, self.depth = text, variables, at, 0

    def value(self) -> float:
        """A number, a variable, or what is in brackets, with its sign. Raises ExpressionError."""
        self.depth += 1
        if self.depth > _DEEPEST:
            raise ExpressionError("it is nested too deep")
        found = self._value()
        self.depth -= 1
        return found

    def _value(self) -> float:
        sign = 1.0
        while self.peek() in ("+", "-"):
            sign = -sign if self.take() == "-" else sign
        token = self.peek()
        if token == "[":
            return sign * self.bracket()
        if token == "#":
            self.take()
            return sign * self.variable(self.key())
        if token in _FUNCTIONS or token == "ATAN":
            return sign * self.function(self.take())
        found = _TOKEN.match(self.text, self.at)
        if found is None or found[1] is None:
            raise ExpressionError(f"a number was looked for at “{self.text[self.at : self.at + 12]}”")
        self.at = found.end()
        if not float(found[1]) < _LARGEST:
            raise ExpressionError("it has a number that no program could mean")
        return sign * float(found[1])

    def bracket(self) -> float:
        """What stands between square brackets."""
        self.expect("[")
        found = self.operation(0)
        self.expect("]")
        return found

    def operation(self, least: int) -> float:
        """Values joined by operators that bind at least so tightly."""
        left = self.value()
        while (op := self.peek()) in _BINARY and _BINARY[op][0] > least:
            self.take()
            right = self.operation(_BINARY[op][0])
            try:
                left = _BINARY[op][1](left, right)
            except (ArithmeticError, ValueError):
                raise ExpressionError(f"{left:g} {op} {right:g} has no value") from None
            if isinstance(left, complex) or not abs(left) < _LARGEST:
                raise ExpressionError("it comes to no number that a program could mean")
        return left

    def function(self, name: str) -> float:
        """A function of what follows in brackets."""
        x = self.bracket()
        try:
            if name == "ATAN":
                if self.peek() != "/":
                    return math.degrees(math.atan(x))
                self.take()
                return math.degrees(math.atan2(x, self.bracket()))
            return _FUNCTIONS[name](x)
        except (ArithmeticError, ValueError):
            raise ExpressionError(f"{name} of {x:g} has no value") from None

    def key(self) -> str:
        """Which variable is meant, after its #: a number, a name, or what is worked out."""
        found = _TOKEN.match(self.text, self.at)
        if found is not None and found[3] is not None:
            self.at = found.end()
            return found[3]
        number = self.value()
        if not abs(number) < _LARGEST or abs(number - round(number)) > 1e-4:
            raise ExpressionError(f"#{number:g} is no variable")
        return str(round(number))

    def variable(self, key: str) -> float:
        """What a variable holds."""
        if key not in self.variables:
            raise ExpressionError(f"#{key} is used and was never set")
        return self.variables[key]

    def peek(self) -> str:
        """The operator, bracket or word that stands here; empty for a number or the end."""
        found = _TOKEN.match(self.text, self.at)
        if found is None:
            return ""
        word = found[4]
        if word is not None:
            known = [k for k in (*_BINARY, *_FUNCTIONS, "ATAN") if word.startswith(k)]
            return max(known, key=len, default=word)
        return found[2] or ""

    def take(self) -> str:
        """What ``peek`` sees, and on behind it."""
        token = self.peek()
        self.at += len(token)
        return token

    def expect(self, token: str) -> None:
        """Step over a token that must stand here."""
        if self.peek() != token:
            raise ExpressionError(f"“{token}” is missing")
        self.at += 1
