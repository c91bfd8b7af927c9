"""``./run shots``: every picture in docs/screenshots, from the demo data."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from playwright.sync_api import Page

from tools.browser import DESK, TABLET, Server, chromium, open_page

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"


def _log(page: Page) -> None:
    page.get_by_role("button", name="It dropped: turn it over").click()
    page.get_by_role("button", name="Save the cut").wait_for()
    page.keyboard.type("24-11-0609127")
    page.get_by_role("button", name="Chunks brushes off").click()


def _thickness(page: Page) -> None:
    page.get_by_label("Thickness").fill("8")
    page.get_by_role("button", name="Open the trial").wait_for()


def _rows(page: Page) -> None:
    page.get_by_role("grid").wait_for()


@dataclass(frozen=True)
class Shot:
    """A picture: its name, where, on what screen, and what is done before it is taken."""

    name: str
    path: str
    size: tuple[int, int] = DESK
    light: str = "day"
    before: Callable[[Page], None] | None = None


SHOTS = (
    Shot("bench", "/bench"),
    Shot("bench-night", "/bench", light="night"),
    Shot("bench-tablet", "/bench", TABLET),
    Shot("piece", "/bench", before=lambda page: page.get_by_role("button", name="Program").click()),
    Shot("new-trial", "/trials/new", before=_thickness),
    Shot("trials", "/trials"),
    Shot("trial", "/trials/2"),
    Shot("book", "/book", before=_rows),
    Shot("recipe", "/book/recipes/1"),
    Shot("log", "/bench", before=_log),
)


def main() -> None:
    """Take them all."""
    server = Server("--demo")
    try:
        with chromium() as browser:
            for shot in SHOTS:
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
