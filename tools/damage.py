"""Damaged files: the open files of docs/formats as they come from a torn download or a hostile hand, and the
readers that must read them or refuse them in a sentence."""

import random
import re
from collections.abc import Callable, Iterator
from pathlib import Path

from orthotome.core.book.start_rows import starting_numbers
from orthotome.core.errors import TradeError
from orthotome.formats.book.recipe import RecipeFile
from orthotome.formats.book.row_import import read_sheet, suggest, take_in
from orthotome.formats.book.rows import read_rows
from orthotome.formats.height import signal_path
from orthotome.formats.machine.profile import OutputProfile
from orthotome.formats.pieces.drawing import read_drawing
from orthotome.formats.reading import FileError, read_json
from orthotome.formats.torch.slug import align_text
from orthotome.formats.trial.campaign import read_campaign

EXAMPLES = Path(__file__).parents[1] / "docs" / "formats"

_DRAWING = b"""<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60">
<g transform="translate(5 5) rotate(3)"><path d="M0 0H60V40A5 5 0 0 1 55 45H0Z"/><circle cx="20" cy="20" r="6"/>
<use href="#s" x="2"/></g><defs><rect id="s" x="40" y="10" width="8" height="8" rx="1"/></defs></svg>"""

_ODD = (
    b"1e308", b"-1e308", b"1e-300", b"9223372036854775808", b"NaN", b"Infinity", b"-0", b"null", b'""',
    b"[]", b"{}", b"true", b"1e999", b'"\\ud800"', b"0", b"-1", b"99999999999999999999999999", b"\x00", b'"',
)  # fmt: skip


def _signal(content: bytes) -> None:
    signal_path.report_to_file(signal_path.examine_file(signal_path.read_signal_path(content)))


def _rows(content: bytes) -> None:
    rows = read_rows(_text(content))
    for thickness in (4.0, 8.0, 17.0):
        starting_numbers(rows, metal="mild_steel", thickness_mm=thickness, torch_set="70 A plate set")


def _sheet(content: bytes) -> None:
    sheet = read_sheet(_text(content))
    take_in(sheet, suggest(sheet.headings), {})


def _text(content: bytes) -> str:
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise FileError("file: is not text in UTF-8.") from None


def _example(name: str) -> bytes:
    return (EXAMPLES / name).read_bytes()


READERS: dict[str, tuple[Callable[[bytes], object], Callable[[], bytes]]] = {
    "campaign": (read_campaign, lambda: _example("campaign.example.json")),
    "recipe": (lambda c: read_json(RecipeFile, c), lambda: _example("recipe.example.json")),
    "signal path": (_signal, lambda: _example("signal_path.example.json")),
    "slug": (align_text, lambda: _example("slug.example.json")),
    "profile": (lambda c: read_json(OutputProfile, c), lambda: _example("profile.example.json")),
    "rows": (_rows, lambda: _example("rows.example.csv")),
    "sheet of rows": (_sheet, lambda: _example("rows.example.json")),
    "drawing": (read_drawing, lambda: _DRAWING),
}
"""By kind of file: what reads it and works with it, and a good one to damage."""


def damaged(good: bytes, how_many: int, seed: int) -> Iterator[bytes]:
    """So many damaged copies: numbers and words swapped for odd ones, parts cut out, doubled, torn off."""
    chance = random.Random(seed)
    tokens = [m.span() for m in re.finditer(rb'-?\d+(\.\d+)?|"[^"]*"|true|null', good)]
    for _ in range(how_many):
        content = bytearray(good)
        for _ in range(chance.choice((1, 1, 1, 2, 5))):
            _hurt(content, tokens, chance)
        yield bytes(content)


def _hurt(content: bytearray, tokens: list[tuple[int, int]], chance: random.Random) -> None:
    at = chance.randrange(len(content) or 1)
    kind = chance.randrange(6)
    if kind <= 2:
        first, last = chance.choice(tokens)
        content[first:last] = chance.choice(_ODD)
    elif kind == 3:
        content[at : at + chance.randrange(1, 40)] = b""
    elif kind == 4:
        piece = content[at : at + chance.randrange(1, 60)]
        content[at:at] = piece * chance.randrange(1, 3)
    else:
        content[at : at + 1] = bytes([chance.randrange(256)])


def breaks(kind: str, how_many: int, seed: int) -> list[tuple[str, bytes]]:
    """Which of so many damaged files of a kind were neither read nor refused in a sentence, and how."""
    read, good = READERS[kind]
    found = []
    for content in damaged(good(), how_many, seed):
        try:
            read(content)
        except (FileError, TradeError) as refused:
            if "\n" in str(refused) or not str(refused).strip():
                found.append((f"no sentence: {refused!r}", content))
        except Exception as failed:
            found.append((repr(failed)[:200], content))
    return found
