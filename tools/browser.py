"""A demo server in a throwaway folder, and Debian's Chromium before it."""

import atexit
import contextlib
import functools
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import traceback
from collections.abc import Iterator, Sequence
from pathlib import Path

from playwright.sync_api import Browser, Page, expect, sync_playwright

from orthotome import cli
from tools.family import use_the_family
from tools.filled_demo import filled_demo

CHROMIUM = "/usr/bin/chromium-headless-shell"
_QUIET = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
WAIT_MS = 120_000  # waits end by what happens; this only ends a test that would never end
expect.set_options(timeout=WAIT_MS)
DESK = (1280, 800)
TABLET = (1024, 768)
PHONE_SIDEWAYS = (844, 390)


class Forked:
    """``orthotome`` in a process that is forked from this one, which has imported it already; used as a Popen is."""

    def __init__(self, words: Sequence[str]) -> None:
        said, says = os.pipe()
        self.pid = os.fork()
        if not self.pid:
            os.dup2(says, 1)
            os.close(said)
            sys.stdout = os.fdopen(1, "w", buffering=1)
            use_the_family()
            try:
                cli.app(list(words), standalone_mode=False)
            except Exception:
                traceback.print_exc()
            finally:
                os._exit(1)
        os.close(says)
        self.stdout = os.fdopen(said)

    def kill(self) -> None:
        """SIGKILL."""
        os.kill(self.pid, signal.SIGKILL)

    def wait(self) -> None:
        """Until it is gone."""
        os.waitpid(self.pid, 0)


def begun(words: Sequence[str]) -> "Forked | subprocess.Popen[str]":
    """``orthotome`` with those words: forked where all of it is imported here and nothing else runs, or else anew."""
    others = [t for t in threading.enumerate() if t is not threading.main_thread()]
    # What waits for a child's end (a browser's) holds nothing that the fork would miss.
    if "orthotome.api.app" in sys.modules and all("waitpid" in t.name for t in others):
        return Forked(words)
    command = [sys.executable, "-m", "orthotome.cli", *words]
    return subprocess.Popen(command, stdout=subprocess.PIPE, text=True)


class Server:
    """``orthotome serve`` in a process of its own, on a free port."""

    def __init__(self, *flags: str) -> None:
        self._folder = tempfile.TemporaryDirectory()
        self.path = Path(self._folder.name)
        self.flags = flags
        if "--demo" in flags:
            shutil.copy(filled_demo(), self.path / "demo.sqlite")
        self.address, self.port = "", "0"
        self._process: Forked | subprocess.Popen[str] | None = None
        self.start()

    def start(self) -> None:
        """Start it, and wait until it has printed its address."""
        self._process = begun(["serve", "--port", self.port, "--data", str(self.path), *self.flags])
        assert self._process.stdout is not None
        line = self._process.stdout.readline()
        self.address = line.split()[-1] if line else ""
        self.port = self.address.rpartition(":")[2]  # started again, it is where the screens look for it
        if not self.address.startswith("http"):
            raise RuntimeError("the server did not start")

    @property
    def pid(self) -> int:
        """Of the server's process."""
        assert self._process is not None
        return self._process.pid

    def kill(self) -> None:
        """SIGKILL, as a dead battery would."""
        assert self._process is not None and self._process.stdout is not None
        self._process.kill()
        self._process.wait()
        self._process.stdout.close()

    def close(self) -> None:
        """Stop it and throw the folder away."""
        self.kill()
        self._folder.cleanup()


@contextlib.contextmanager
def chromium() -> Iterator[Browser]:
    """A headless browser."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=_QUIET)
        try:
            yield browser
        finally:
            browser.close()


_kept = contextlib.ExitStack()
atexit.register(_kept.close)


@functools.cache
def the_browser() -> Browser:
    """The browser of this process, for all tests that run in it: each page has a fresh screen of its own."""
    return _kept.enter_context(chromium())


def close_browser() -> None:
    """Close it, if there is one."""
    _kept.close()
    the_browser.cache_clear()


def open_page(
    browser: Browser,
    address: str,
    *,
    size: tuple[int, int] = DESK,
    light: str = "day",
    touch: bool = False,
) -> Page:
    """A page of a fresh screen (its own storage) at ``address``, settled."""
    screen = browser.new_context(
        viewport={"width": size[0], "height": size[1]}, reduced_motion="reduce", has_touch=touch
    )
    screen.add_init_script(f"localStorage.getItem('light') || localStorage.setItem('light', '{light}')")
    page = screen.new_page()
    page.context.set_default_timeout(WAIT_MS)  # of the page, and of what it asks the server by itself
    page.goto(address)
    return page
