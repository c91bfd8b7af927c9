"""``./run shots``: every picture in docs/screenshots, from the demo data."""

import re
import sys
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from playwright.sync_api import Page

from tools.browser import DESK, Server, chromium, open_page

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"


def _bench(page: Page) -> None:
    page.get_by_role("heading", name="Chance to pass").wait_for()


def _log(page: Page) -> None:
    page.get_by_role("button", name="It dropped: turn it over").click()
    page.get_by_role("button", name="Save the cut").wait_for()
    page.keyboard.type("24-11-0609127")
    page.get_by_role("button", name="Chunks brushes off").click()


def _piece(page: Page) -> None:
    page.get_by_role("button", name="Program").click()
    page.get_by_label("Time since the first pierce").fill("5")


def _people(page: Page) -> None:
    for name, pin, part in (("Ash", "4711", "operator"), ("Rowan", "0815", "lead hand")):
        page.get_by_role("button", name="Somebody new").click()
        page.get_by_label("Name").fill(name)
        page.get_by_label("PIN, 4 to 8 digits").fill(pin)
        page.get_by_role("button", name=part, exact=True).click()
        page.get_by_role("button", name="Add").click()
        page.get_by_text(name, exact=True).wait_for()
    page.get_by_role("button", name="Let a device in").click()
    page.get_by_text("Read the square").wait_for()
    # As ./run demo shows it: the folder of these pictures is thrown away.
    page.locator("main code").first.evaluate("said => { said.textContent = 'data/demo-backups' }")


def _thickness(page: Page) -> None:
    page.get_by_label("Thickness").fill("8")
    page.get_by_role("button", name="Open the trial").wait_for()


def _rows(page: Page) -> None:
    page.get_by_role("table").wait_for()


@dataclass(frozen=True)
class Shot:
    """A picture: its name, where, on what screen, and what is done before it is taken."""

    name: str
    path: str
    size: tuple[int, int] = DESK
    light: str = "day"
    before: Callable[[Page], None] | None = None


def _program(page: Page) -> None:
    page.get_by_role("link", name=re.compile("hopper sides")).first.click()
    page.get_by_role("list", name="What was found").wait_for()


def _trouble(page: Page) -> None:
    page.get_by_role("button", name="Dross that needs grinding").click()
    page.get_by_role("button", name="with another program").click()
    page.get_by_role("region", name="What you said").wait_for()


def _practice(page: Page) -> None:
    """An exercise at the table cut to its end, and its truth."""
    page.get_by_role("button", name="Square in five cuts").click()
    cut = page.get_by_role("button", name="Cut it", exact=True)
    square = page.get_by_role("heading", name="Square: lock it in")
    cut.wait_for()
    while not square.count():
        cut.click()
        page.get_by_role("button", name="Save the cut").click()
        page.get_by_role("dialog").wait_for(state="hidden")
        page.get_by_text("This is the advice of before").wait_for(state="hidden")
    page.get_by_role("button", name="Say how it ends").click()
    page.get_by_role("button", name="It is square: the last setting passes").click()
    page.get_by_role("button", name="Show me the truth").click()
    page.get_by_role("region", name="A master’s").wait_for()


def _health(page: Page) -> None:
    page.get_by_text("ask for something").wait_for()


def _holes(page: Page) -> None:
    page.get_by_text("M12", exact=True).wait_for()


def _parts(page: Page) -> None:
    page.get_by_text("If the edges drift").wait_for()


def _live(page: Page) -> None:
    """A set-point chosen, then twelve seconds into a long strip over a warped sheet, trimmed once."""
    page.get_by_role("link", name="Set-point").click()
    measured = page.get_by_role("article").filter(has_text="Measured at the proven height")
    measured.get_by_role("button", name="Go by this").click()
    measured.get_by_text("Chosen for this trial").wait_for()
    page.get_by_text("Chosen: what to tell").wait_for(state="hidden")
    page.get_by_role("link", name="Live cut").click()
    page.get_by_role("button", name="Long strip on a warped sheet").click()
    up = page.get_by_role("button", name="+0.5 V")
    page.wait_for_timeout(10_000)
    up.click()
    page.wait_for_timeout(4000)


def _low_volts(page: Page) -> None:
    page.get_by_label("Volts on the screen").fill("2.6")
    page.get_by_text("flies up").wait_for()


SHOTS = (
    Shot("bench", "/bench", before=_bench),
    Shot("piece", "/bench", before=_piece),
    Shot("parts", "/torch", before=_parts),
    Shot("torch", "/torch/jet"),
    Shot("new-trial", "/trials/new", before=_thickness),
    Shot("program", "/programs", before=_program),
    Shot("trial", "/trials/2"),
    Shot("book", "/book", before=_rows),
    Shot("height", "/height/signal-path", before=_low_volts),
    Shot("machine", "/machine"),
    Shot("shop", "/shop", before=_people),
    Shot("ready", "/ready"),
    Shot("recipe", "/book/recipes/1"),
    Shot("log", "/bench", before=_log),
    Shot("live", "/height", before=_live),
    Shot("trouble", "/trouble", before=_trouble),
    Shot("practice", "/practice", before=_practice),
    Shot("health", "/machine/health", before=_health),
    Shot("holes", "/machine/holes", before=_holes),
)


def main() -> None:
    """Take them all, or those named."""
    server = Server("--demo", "--lan", "--lan-host", "127.0.0.2", "--lan-port", "0")
    try:
        with chromium() as browser:
            for shot in SHOTS if len(sys.argv) < 2 else [s for s in SHOTS if s.name in sys.argv[1:]]:
                page = open_page(browser, server.address + shot.path, size=shot.size, light=shot.light)
                page.locator("main").first.wait_for()
                page.wait_for_timeout(1200)
                if shot.before:
                    shot.before(page)
                    page.wait_for_timeout(600)
                page.screenshot(path=FOLDER / f"{shot.name}.png")
                page.context.close()
                print(shot.name)
    finally:
        server.close()


if __name__ == "__main__":
    main()
