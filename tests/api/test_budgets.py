"""No one device can hold the shop: files wait in a short line, work that nobody waits for is dropped, connections end."""

import contextlib
import json
import socket
import ssl
import threading
import time
import unittest
import urllib.request
from typing import Any
from unittest.mock import patch

from orthotome.api import connections
from orthotome.core.errors import TradeError
from orthotome.desk.working import apart, budgets
from orthotome.desk.working.budgets import GONE, Busy, InLine, Left
from orthotome.formats.pieces.drawing import read_drawing
from tests.api.test_door import SERVED_AT, STRANGER
from tests.shop import ShopOf
from tools.browser import Server

SVG = {"content-type": "image/svg+xml"}
SQUARE = b'<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="60mm"><rect width="60" height="60"/></svg>'


class InTurn(unittest.TestCase):
    def test_whoever_comes_after_a_short_line_is_told_when_to_come_back(self) -> None:
        shop = ShopOf()
        self.addCleanup(shop.close)
        line = InLine(1, 1)
        first, second = threading.Event(), threading.Event()
        done = threading.Event()

        def takes_long(entered: threading.Event) -> None:
            with line.turn():
                entered.set()
                done.wait()

        with patch.object(apart, "_LINE", line):
            threads = [threading.Thread(target=takes_long, args=(e,)) for e in (first, second)]
            for t in threads:
                t.start()
            first.wait()
            while line._here < 2:
                time.sleep(0.001)
            busy = shop.client.post("/api/own-parts?name=a", content=SQUARE, headers=SVG)
            self.assertEqual((busy.status_code, busy.headers["retry-after"]), (503, "10"))
            self.assertIn("try again in 10 seconds", busy.json()["detail"])
            self.assertEqual(shop.client.get("/bench").status_code, 200)  # a page waits in no line
            done.set()
            for t in threads:
                t.join()
            good = shop.client.post("/api/own-parts?name=a", content=SQUARE, headers=SVG)
            self.assertEqual(good.status_code, 201, good.text)

    def test_work_is_dropped_when_the_one_who_asked_has_left(self) -> None:
        gone = threading.Event()
        token = GONE.set(gone)
        self.addCleanup(GONE.reset, token)
        left: list[type[BaseException]] = []

        def reads() -> None:
            GONE.set(gone)
            try:
                apart.apart("drawing", time.sleep, 3600)
            except Left as dropped:
                left.append(type(dropped))

        thread = threading.Thread(target=reads)
        thread.start()
        gone.set()
        thread.join()
        self.assertEqual(left, [Left])
        line = InLine(1, 5)
        with line.turn(), self.assertRaises(Left), line.turn():
            pass

    def test_a_full_line_refuses_at_once(self) -> None:
        line = InLine(1, 0)
        with line.turn(), self.assertRaises(Busy) as busy, line.turn():
            pass
        self.assertIn("Nothing was kept", busy.exception.sentence)
        self.assertFalse(budgets.nobody_waits())


class Growth(unittest.TestCase):
    def test_blocks_in_blocks_are_counted_before_one_is_opened(self) -> None:
        with self.assertRaises(TradeError) as refused:
            read_drawing(nested_blocks(deep=12, each=10), "mm")
        self.assertIn("100,000 lines and arcs", refused.exception.sentence)

    def test_copies_of_copies_are_counted_before_they_are_made(self) -> None:
        groups = "".join(
            f'<g id="g{n}">' + f'<use href="#g{n - 1}"/>' * 10 + "</g>" for n in range(1, 12)
        )
        drawn = f'<svg xmlns="http://www.w3.org/2000/svg"><defs><g id="g0"><rect width="9" height="9"/></g>{groups}</defs><use href="#g11"/></svg>'
        with self.assertRaises(TradeError) as refused:
            read_drawing(drawn.encode(), "mm")
        self.assertIn("100,000 times", refused.exception.sentence)


def nested_blocks(deep: int, each: int) -> bytes:
    """A small DXF whose blocks hold each other, so many times at each of so many levels."""

    def insert(name: str) -> str:
        return f"0\nINSERT\n8\n0\n2\n{name}\n10\n0\n20\n0\n"

    def block(name: str, holds: str) -> str:
        return f"0\nBLOCK\n8\n0\n2\n{name}\n70\n0\n10\n0\n20\n0\n3\n{name}\n{holds}0\nENDBLK\n8\n0\n"

    line = "0\nLINE\n8\n0\n10\n0\n20\n0\n11\n9\n21\n0\n"
    blocks = block("B0", line) + "".join(
        block(f"B{n}", insert(f"B{n - 1}") * each) for n in range(1, deep)
    )
    return (
        f"0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1009\n0\nENDSEC\n0\nSECTION\n2\nBLOCKS\n{blocks}0\nENDSEC\n"
        f"0\nSECTION\n2\nENTITIES\n{insert(f'B{deep - 1}')}0\nENDSEC\n0\nEOF\n"
    ).encode()


class Connections(unittest.TestCase):
    """A server whose deadlines are short, and a stranger who opens connections and says nothing, or half."""

    def setUp(self) -> None:
        for name, value in (("HEAD_S", 0.2), ("STALLS_S", 0.2), ("_LOOKS_EVERY_S", 0.05)):
            short = patch.object(connections, name, value)
            short.start()
            self.addCleanup(short.stop)
        self.server = Server("--demo", "--lan", "--lan-host", SERVED_AT, "--lan-port", "0")
        self.addCleanup(self.server.close)
        with urllib.request.urlopen(f"{self.server.address}/api/network") as answer:
            self.port = int(json.load(answer)["addresses"][0].rpartition(":")[2])
        self.context = ssl.create_default_context(cafile=self.server.path / "network-authority.pem")

    def ask_here(self) -> int:
        with urllib.request.urlopen(f"{self.server.address}/api/shop") as answer:
            return int(answer.status)

    def opened(self) -> ssl.SSLSocket:
        plain = socket.create_connection((SERVED_AT, self.port), source_address=(STRANGER, 0))
        made = self.context.wrap_socket(plain, server_hostname=SERVED_AT)
        self.addCleanup(made.close)
        return made

    def test_many_silent_ones_of_one_address_are_ended_and_the_machine_itself_has_room(self) -> None:
        half, body = self.opened(), self.opened()
        head = f"POST /pair HTTP/1.1\r\nHost: {SERVED_AT}\r\nContent-Length: 50\r\n\r\n"
        for waits, says in ((half, "GET /api/shop HTTP/1.1\r\nHost: "), (body, f"{head}code")):
            with contextlib.suppress(
                OSError
            ):  # on a busy machine it may be ended before it has said even that
                waits.sendall(says.encode())
        many: list[Any] = []
        for _ in range(2 * connections.MOST_OF_AN_ADDRESS):
            try:
                many.append(self.opened())
            except OSError:
                continue
        self.assertEqual(self.ask_here(), 200)
        for waits in (half, body, *many):  # each is ended by the server: this returns
            try:
                while waits.recv(1000):
                    pass
            except OSError:
                pass
        self.assertEqual(self.ask_here(), 200)


if __name__ == "__main__":
    unittest.main()
