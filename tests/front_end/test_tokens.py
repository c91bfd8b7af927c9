"""Colours and sizes of type stand in one file: whoever wants another puts it there, where it is seen beside the others."""

import re
import unittest
from collections.abc import Iterator
from pathlib import Path

SRC = Path(__file__).parents[2] / "frontend" / "src"
TOKENS = SRC / "kit" / "steel.css"
_COLOUR = re.compile(r"#[0-9a-fA-F]{3,8}\b|\brgba?\(")
_SIZE = re.compile(r"font-size:[^;]*\d(?:px|rem|em)")


def lines(*endings: str) -> Iterator[tuple[str, str]]:
    for file in sorted(SRC.rglob("*")):
        if file.suffix in endings and file != TOKENS and ".gen." not in file.name:
            for n, line in enumerate(file.read_text().splitlines(), 1):
                yield f"{file.relative_to(SRC)}:{n}", line


class Tokens(unittest.TestCase):
    def test_no_colour_stands_outside_the_file_of_tokens(self) -> None:
        found = [
            f"{at}: {line.strip()}" for at, line in lines(".css", ".ts", ".tsx") if _COLOUR.search(line)
        ]
        self.assertEqual(found, [])

    def test_no_size_of_type_stands_outside_it_either(self) -> None:
        """What is drawn in the units of a picture of its own is no size of type."""
        found = [f"{at}: {line.strip()}" for at, line in lines(".css") if _SIZE.search(line)]
        self.assertEqual(found, [])

    def test_every_token_that_is_spoken_of_is_there(self) -> None:
        there = set(re.findall(r"(--[\w-]+):", TOKENS.read_text()))
        set_by_pages = {
            name
            for _, line in lines(".css", ".tsx", ".ts")
            for name in re.findall(r"['\"]?(--[\w-]+)['\"]?\s*\]?:", line)
        }
        spoken = {
            name
            for _, line in lines(".css", ".ts", ".tsx")
            for name in re.findall(r"var\((--[\w-]+)\)", line)
        }
        self.assertEqual(spoken - there - set_by_pages, set())
        self.assertGreater(len(spoken & there), 30)


if __name__ == "__main__":
    unittest.main()
