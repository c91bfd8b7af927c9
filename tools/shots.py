"""``./run shots``: every picture in docs/screenshots, from the demo data."""

import io
import math
import sys
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PIL import Image, ImageDraw, ImageFilter
from playwright.sync_api import Page

from tools.browser import DESK, Server, chromium, open_page

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"


def _log(page: Page) -> None:
    page.get_by_role("button", name="It dropped: turn it over").click()
    page.get_by_role("button", name="Save the cut").wait_for()
    page.keyboard.type("24-11-0609127")
    page.get_by_role("button", name="Chunks brushes off").click()


def _measure(page: Page) -> None:
    """An invented photo of an edge that leans three degrees, tapped."""
    picture = Image.effect_noise((1600, 1200), 18).convert("RGB")
    plate = Image.new("RGB", picture.size, (96, 104, 110))
    mask = Image.new("L", picture.size, 0)
    out = 800 * math.tan(math.radians(3))
    edge = [(700, 200), (1600, 200), (1600, 1000), (700 - out, 1000)]
    ImageDraw.Draw(mask).polygon(edge, fill=210)
    picture.paste(plate, mask=mask.filter(ImageFilter.GaussianBlur(1.5)))
    written = io.BytesIO()
    picture.save(written, "JPEG")
    kept = page.get_by_role("button", name="Go on with the half-typed log")
    if kept.is_visible():
        kept.click()
    else:
        _log(page)
    page.locator('[data-slot="right 180"]').click()
    page.get_by_role("button", name="Photos").click()
    sent = {"name": "edge.jpg", "mimeType": "image/jpeg", "buffer": written.getvalue()}
    page.get_by_label("A photo of this piece").set_input_files(sent)  # type: ignore[arg-type]
    page.get_by_role("img", name="Photo of this piece: open to measure").click()
    box = page.get_by_role("application", name="Tap here").bounding_box()
    assert box is not None
    for x, y in ((1500, 200), (720, 200), (699, 205), (699 - out * 0.97, 985)):
        page.mouse.click(box["x"] + box["width"] * x / 1600, box["y"] + box["height"] * y / 1200)
    page.get_by_role("button", name="Take it: Kept edge, cut to the left").wait_for()


def _beside(page: Page) -> None:
    cut = page.get_by_role("region", name="Cut by cut").get_by_role("listitem").get_by_role("button")
    cut.nth(0).click()
    cut.nth(1).click()
    page.get_by_role("button", name="Side by side").click()
    page.get_by_text("by more than reading scatters").wait_for()


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


def _what_if(page: Page) -> None:
    page.get_by_role("button", name="What if?").click()
    page.get_by_role("button", name="Faster").click()


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


def _pasted(page: Page) -> None:
    page.get_by_role("textbox").first.fill(PASTED)
    page.get_by_text("rows can be used").wait_for()


def _low_volts(page: Page) -> None:
    page.get_by_label("Volts on the screen").fill("2.6")
    page.get_by_text("flies up").wait_for()


PASTED = (
    "Material\tThickness (in)\tParts\tAmps\tGas\tSpeed (ipm)\tVolts\tCut height (in)\tPierce height (in)\t"
    "Delay\tKerf (in)\tPage\n"
    "Mild steel\t1/4\t70 A plate set\t70\tair\t110\t125\t0.06\t0.15\t0.4\t0.068\texample\n"
    "Mild steel\t3/8\t70 A plate set\t70\tair\tfast\t130\t0.06\t0.15\t0.6\t0.075\texample\n"
    "Mild steel\t1/2\t70 A plate set\t85\tair\t48\t134\t0.06\t0.15\t0.9\t0.079\texample\n"
    "Mild steel\t5/8\t70 A plate set\t70\tair\t33\t139\t0.07\t0.17\t1.3\t0.085\texample\n"
)


SHOTS = (
    Shot("bench", "/bench"),
    Shot("piece", "/bench", before=_piece),
    Shot("what-if", "/bench", before=_what_if),
    Shot("torch", "/torch"),
    Shot("new-trial", "/trials/new", before=_thickness),
    Shot("trials", "/trials"),
    Shot("trial", "/trials/2"),
    Shot("book", "/book", before=_rows),
    Shot("sheet", "/book/sheet?metal=mild_steel&set=3&gas=air"),
    Shot("import", "/book/import", before=_pasted),
    Shot("choose", "/choose?metal=stainless_steel&thickness=3"),
    Shot("height", "/height/signal-path", before=_low_volts),
    Shot("machine", "/machine"),
    Shot("shop", "/shop", before=_people),
    Shot("ready", "/ready"),
    Shot("recipe", "/book/recipes/1"),
    Shot("log", "/bench", before=_log),
    Shot("measure", "/bench", before=_measure),
    Shot("compare", "/trials/2", before=_beside),
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
