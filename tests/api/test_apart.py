"""What comes from outside is read apart: no drawing stops a screen, and none takes the machine with it."""

import re
import tempfile
import time
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from unittest.mock import patch

import orthotome
from orthotome.core.errors import TradeError
from orthotome.core.quantities import INCH, METRIC, length, speak
from orthotome.desk.working import apart as house
from orthotome.formats.pieces.drawing import MOST_RINGS, read_drawing
from orthotome.formats.reading import FileError
from tests.shop import ShopOf

SQUARE = b'<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm" viewBox="0 0 9 9"><path d="M0 0H9V9H0Z"/></svg>'


def for_ever(_content: bytes) -> None:
    while True:
        pass


def swallow(_content: bytes) -> None:
    kept = []
    while True:
        kept.append(bytearray(50_000_000))


def once_allowed(content: bytes, *_more: object) -> object:
    while not Path(content.decode()).exists():
        time.sleep(0.01)
    return read_drawing(SQUARE)


def readers() -> dict[str, str]:
    """What the house gives to a process apart to work out, and the module that it comes from."""
    found = {}
    for file in Path(orthotome.__file__).parent.rglob("*.py"):
        for given in re.findall(r"apart\(\s*\"\w+\",\s*(\w+)", text := file.read_text()):
            found[given] = re.findall(
                rf"^from (\S+) import (?:\w+, |\([^)]*)*{given}\b", text, re.MULTILINE
            )[0]
    return found


class Apart(unittest.TestCase):
    def test_no_reader_has_to_import_what_it_works_with_first(self) -> None:
        here = set(house.apart("file", eval, "list(__import__('sys').modules)"))
        self.assertFalse(here & {"fastapi", "sqlalchemy", "orthotome.store.tables"})
        known = readers()
        self.assertGreater(len(known), 8)
        self.assertEqual({r: m for r, m in known.items() if m not in here}, {})

    def test_more_time_or_memory_than_a_file_may_take_is_refused_in_words(self) -> None:
        for takes_all in (for_ever, swallow):
            with self.assertRaises(FileError) as refused:
                house.apart("drawing", takes_all, b"", most_cpu_s=1)
            self.assertIn("drawing: takes too much time or memory", str(refused.exception))

    def test_a_refusal_comes_back_as_it_was_in_the_shops_units(self) -> None:
        self.addCleanup(speak, METRIC)
        speak(INCH)
        with self.assertRaises(TradeError) as refused:
            house.apart("drawing", read_drawing, SQUARE.replace(b'"9mm"', b'"90000mm"'), None)
        self.assertEqual(refused.exception.field, "drawing")
        self.assertIn(length(90000.0), refused.exception.sentence)

    def test_shapes_beyond_any_test_part_are_refused(self) -> None:
        many = b"".join(b'<circle cx="%d" cy="0" r="1"/>' % (4 * n) for n in range(MOST_RINGS + 1))
        for said, shapes in (
            ("across, more than any table", b'<circle r="1e12"/>'),
            ("no test part", many),
        ):
            with self.assertRaises(TradeError) as refused:
                read_drawing(SQUARE.replace(b'<path d="M0 0H9V9H0Z"/>', shapes))
            self.assertIn(said, refused.exception.sentence)


class Meanwhile(unittest.TestCase):
    def test_screens_are_answered_while_drawings_are_read(self) -> None:
        shop = ShopOf()
        self.addCleanup(shop.close)
        folder = self.enterContext(tempfile.TemporaryDirectory())
        gate = Path(folder) / "gate"
        with (
            patch("orthotome.api.pieces.routes.read_drawing", once_allowed),
            shop.client,  # one event loop for all that is asked
            ThreadPoolExecutor(4) as screens,
        ):
            slow = [
                screens.submit(shop.client.post, f"/api/own-parts?name=n{n}", content=str(gate))
                for n in range(3)
            ]
            for _ in range(5):
                self.assertEqual(shop.client.get("/api/trials/2/revision").status_code, 200)
            self.assertFalse(any(s.done() for s in slow))
            gate.touch()
            self.assertEqual([s.result().status_code for s in slow], [201, 201, 201])
        listed = shop.client.get("/api/own-parts").json()
        self.assertEqual([[round(v, 3) for v in p["size_mm"]] for p in listed], [[9, 9]] * 3)


if __name__ == "__main__":
    unittest.main()
