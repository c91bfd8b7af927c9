"""In which order a program's lines run: sub-programs, loops, conditions and jumps, in both of RS-274's styles.

``M98 P100 L3`` … ``O100`` … ``M99`` with ``WHILE … DO1``, ``END1``, ``IF … GOTO 30``; and ``O100 SUB`` … ``O100 CALL``
with ``O101 WHILE``, ``O102 IF``, ``O103 REPEAT``. A program without any of them runs straight through.
"""

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field

from orthotome.formats.programs.expressions import Expression, ExpressionError

_FLOW_WORDS = ("GOTO", "WHILE", "REPEAT", "CALL", "M98", "M098", "M99", "M099")
_NUMBERED_O = re.compile(r"(?<![A-Z])O\s*[<\d]")


def needs_flow(text: str) -> bool:
    """Whether a program may be more than its lines one after the other; ``text`` in capitals."""
    return any(word in text for word in _FLOW_WORDS) or _NUMBERED_O.search(text) is not None


_WORD = re.compile(
    r"^(?:N\d+)?O(<[^>]*>|\d+)(SUB|ENDSUB|CALL|RETURN|WHILE|ENDWHILE|DO|IF|ELSEIF|ELSE|ENDIF|REPEAT|ENDREPEAT|BREAK|CONTINUE)?(.*)$"
)
_BARE_O = re.compile(r"^(?:N\d+)?O\d+$")
_LABEL = re.compile(r"^N0*(\d+)")
_CALL = re.compile(r"M0*98P(\d{1,9})(?:L(\d{1,9}))?")
_JUMP = re.compile(r"^(?:N\d+)?(?:IF(\[.*\]))?GOTO(\d+|\[.*\])$")
_THEN = re.compile(r"^(?:N\d+)?IF(\[.*\])THEN(.+)$")
_WHILE = re.compile(r"^(?:N\d+)?WHILE(\[.*\])DO(\d)$")
_END = re.compile(r"^(?:N\d+)?END(\d)$")

MOST_AGAIN = 25_000  # lines run more than once, besides ten times the program's own length
_DEEPEST = 30


class EndlessError(ValueError):
    """A loop that does not end; ``line`` says where it was given up."""

    def __init__(self, line: int) -> None:
        super().__init__(f"Line {line}: a loop does not end, or runs more than 25,000 lines.")
        self.line = line


class FlowError(ValueError):
    """A call, loop or jump that cannot be followed; the message says why, ``line`` where."""

    def __init__(self, line: int, why: str) -> None:
        super().__init__(why)
        self.line = line


@dataclass
class _Frame:
    """A sub-program being run: where to go on, how often again, and where it begins."""

    back: int
    again: int
    begins: int
    variables: dict[str, float] = field(default_factory=dict)


class Flow:
    """Walks the lines in the order in which a controller runs them."""

    def __init__(self, lines: Sequence[str], variables: dict[str, float]) -> None:
        self.lines, self.variables = lines, variables
        self.labels: dict[str, int] = {}
        self.words: dict[tuple[str, str], list[int]] = {}
        for i, line in enumerate(lines):
            if (label := _LABEL.match(line)) is not None:
                self.labels.setdefault(label[1], i)
            if (word := _WORD.match(line)) is not None:
                self.words.setdefault((_name(word[1]), word[2] or ""), []).append(i)
            elif (end := _END.match(line)) is not None:
                self.words.setdefault(("DO", end[1]), []).append(i)
        self.frames: list[_Frame] = []
        self.repeats: dict[int, int] = {}
        self.left = MOST_AGAIN + 10 * len(lines)
        self.turned = False  # whether any line was run otherwise than in its turn

    def run(self) -> Iterator[tuple[int, str]]:
        """(index, text) of each line in the order it runs; flow's own words are followed, not handed on.

        Raises EndlessError for a loop without end, FlowError for a call or jump to nowhere.
        """
        at = 0
        while at < len(self.lines):
            self.left -= 1
            if self.left < 0:
                raise EndlessError(at + 1)
            line = self.lines[at]
            following: int | None = None
            if line:
                try:
                    following = self.follow(at, line)
                except ExpressionError as wrong:
                    raise FlowError(at + 1, f"{wrong}.") from None
            if following is None:
                yield at, line
                if _ends(line) and not self.frames:
                    return
                at += 1
            elif following < 0:
                self.turned = True
                return
            else:
                self.turned |= following != at + 1 or not _BARE_O.match(line)
                at = following

    def follow(self, at: int, line: str) -> int | None:  # noqa: PLR0911 (one answer a word)
        """Where to go on after a line of flow; None where the line is none, -1 at the end of all."""
        if "O" in line and (word := _WORD.match(line)) is not None:
            return self.o_word(at, _name(word[1]), word[2] or "", word[3])
        if "M" in line and (called := _CALL.search(line)) is not None:
            return self.call(at, called[1], int(called[2] or 1))
        if re.search(r"M0*99(?!\d)", line):
            return self.returned(at)
        if "GOTO" in line and (jump := _JUMP.match(line)) is not None:
            return self.jump(at, jump[1], jump[2])
        if "WHILE" in line and (loop := _WHILE.match(line)) is not None:
            return self.looped(at, loop[1], loop[2])
        if (end := _END.match(line)) is not None:
            return self.back_to_while(at, end[1])
        return None

    def value(self, text: str) -> float:
        """What an expression in brackets comes to."""
        return Expression(text, self.variables).value()

    def call(self, at: int, name: str, times: int) -> int:
        """Into a sub-program that ends with M99."""
        places = self.words.get((name, ""), [])
        if not places:
            raise FlowError(at + 1, f"calls sub-program {name}, which is not in this file.")
        return self.enter(at, places[0] + 1, times)

    def enter(self, at: int, begins: int, times: int) -> int:
        """Into a sub-program, so many times; past it where that is none."""
        if times < 1:
            return at + 1
        if len(self.frames) >= _DEEPEST:
            raise FlowError(at + 1, "sub-programs call each other without end.")
        self.frames.append(_Frame(at + 1, times - 1, begins))
        return begins

    def returned(self, at: int) -> int:
        """At the end of a sub-program: once more, or back; of the program itself, a table would begin again."""
        if not self.frames:
            return -1
        frame = self.frames[-1]
        if frame.again > 0:
            frame.again -= 1
            return frame.begins
        self.frames.pop()
        return frame.back

    def jump(self, at: int, condition: str | None, to: str) -> int:
        """To a numbered line, if the condition holds."""
        if condition is not None and not self.value(condition):
            return at + 1
        label = to if to.isdigit() else str(round(self.value(to)))
        if label.lstrip("0") not in self.labels and label not in self.labels:
            raise FlowError(at + 1, f"jumps to line N{label}, which is not there.")
        return self.labels.get(label.lstrip("0"), self.labels.get(label, 0))

    def looped(self, at: int, condition: str, number: str) -> int:
        """Into a WHILE, or past its END."""
        if self.value(condition):
            return at + 1
        return self.after(at, "DO", number) + 1

    def back_to_while(self, at: int, number: str) -> int:
        """From an END to the WHILE that it belongs to."""
        for i in range(at - 1, -1, -1):
            loop = _WHILE.match(self.lines[i])
            if loop is not None and loop[2] == number:
                return i
        raise FlowError(at + 1, f"END{number} has no WHILE before it.")

    def after(self, at: int, name: str, word: str) -> int:
        """The next place of a word behind this line."""
        for i in self.words.get((name, word), []):
            if i > at:
                return i
        raise FlowError(at + 1, f"has no end: “{word or name}” is missing.")

    def before(self, at: int, name: str, word: str) -> int:
        """The last place of a word before this line."""
        places = [i for i in self.words.get((name, word), []) if i < at]
        if not places:
            raise FlowError(at + 1, f"“{word}” is missing before it.")
        return places[-1]

    def o_word(self, at: int, name: str, word: str, rest: str) -> int | None:
        """A word of the O style."""
        steps: dict[str, Callable[[], int]] = {
            "SUB": lambda: self.after(at, name, "ENDSUB") + 1,
            "ENDSUB": lambda: self.returned(at),
            "RETURN": lambda: self.returned(at),
            "CALL": lambda: self.o_call(at, name, rest),
            "WHILE": lambda: self.o_while(at, name, rest),
            "ENDWHILE": lambda: self.before(at, name, "WHILE"),
            "DO": lambda: at + 1,
            "REPEAT": lambda: self.o_repeat(at, name, rest),
            "ENDREPEAT": lambda: self.before(at, name, "REPEAT"),
            "IF": lambda: self.o_if(at, name, rest),
            "ELSEIF": lambda: self.after(at, name, "ENDIF") + 1,
            "ELSE": lambda: self.after(at, name, "ENDIF") + 1,
            "ENDIF": lambda: at + 1,
            "BREAK": lambda: self.o_end(at, name) + 1,
            "CONTINUE": lambda: self.o_end(at, name),
        }
        if word:
            return steps[word]()
        return at + 1  # a sub-program's or the program's own number

    def o_call(self, at: int, name: str, rest: str) -> int:
        """Into a sub-program of the O style, its arguments as #1 and on."""
        reader, n = Expression(rest, self.variables), 0
        while reader.at < len(rest) and reader.peek() == "[":
            n += 1
            self.variables[str(n)] = reader.bracket()
        places = self.words.get((name, "SUB"), [])
        if not places:
            raise FlowError(at + 1, f"calls sub-program {name}, which is not in this file.")
        return self.enter(at, places[0] + 1, 1)

    def o_while(self, at: int, name: str, rest: str) -> int:
        """Into a loop; of DO … WHILE, back to its DO."""
        holds = bool(self.value(rest))
        ends = [i for i in self.words.get((name, "ENDWHILE"), []) if i > at]
        if ends:
            return at + 1 if holds else ends[0] + 1
        return self.before(at, name, "DO") + 1 if holds else at + 1

    def o_repeat(self, at: int, name: str, rest: str) -> int:
        """Once more through a repeat, or past it."""
        left = self.repeats.get(at, round(self.value(rest)))
        if left <= 0:
            self.repeats.pop(at, None)
            return self.after(at, name, "ENDREPEAT") + 1
        self.repeats[at] = left - 1
        return at + 1

    def o_if(self, at: int, name: str, rest: str) -> int:
        """Into the branch whose condition holds."""
        if self.value(rest):
            return at + 1
        end = self.after(at, name, "ENDIF")
        for word in ("ELSEIF", "ELSE"):
            for i in self.words.get((name, word), []):
                if at < i < end:
                    found = _WORD.match(self.lines[i])
                    if word == "ELSE" or (found is not None and self.value(found[3])):
                        return i + 1
        return end + 1

    def o_end(self, at: int, name: str) -> int:
        """The end of the loop of that name."""
        for word in ("ENDWHILE", "ENDREPEAT"):
            if any(i > at for i in self.words.get((name, word), [])):
                return self.after(at, name, word)
        raise FlowError(at + 1, "leaves a loop that has no end.")


def then_of(line: str, value: Callable[[str], float]) -> str | None:
    """What an ``IF [..] THEN`` does: its second part, nothing where the condition fails; None for another line."""
    found = _THEN.match(line)
    if found is None:
        return None
    return found[2] if value(found[1]) else ""


def _name(text: str) -> str:
    return text.strip("<>").lstrip("0") or "0"


def _ends(line: str) -> bool:
    return bool(re.search(r"M0*(?:2|30)(?!\d)", line))
