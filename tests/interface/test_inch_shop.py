"""An empty inch shop, from its first start to a locked recipe: not one metric word on the way."""

import io
import re
from typing import ClassVar

from playwright.sync_api import Page, expect
from pypdf import PdfReader

from tests.interface.test_screens import Screens
from tests.interface.visiting import Visitor

METRIC = re.compile(
    r"(?<![\w/])(mm|cm|mm/min|m/min|mm²|cm²|mm/s2|mm/s²|V/mm|kPa|l/min|litres?|met(re|er)s?|°C|"
    r"millimet(re|er)s?)(?![\w/])"
)
SET = "45 A sheet set"
ROWS = (("14 ga", "220", "0.047"), ("1/8", "120", "0.051"))  # thickness, speed, kerf


class InchShop(Screens):
    flags: ClassVar[tuple[str, ...]] = ()

    def no_metric(self, page: Page, where: str) -> None:
        said = page.locator("body").inner_text()
        fields = page.eval_on_selector_all(
            "input, textarea, [title], [aria-label]",
            "all => all.map(e => [e.value, e.placeholder, e.title, e.getAttribute('aria-label')].join(' '))",
        )
        for text in (said, *fields):
            found = METRIC.search(text)
            if found:
                self.fail(f"{where}: “{text[max(0, found.start() - 60) : found.end() + 20]}”")

    def go(self, path: str) -> None:
        self.visitor.go(path)
        self.no_metric(self.visitor.page, path)

    def test_from_first_start_to_a_locked_recipe(self) -> None:
        page = self.page("/bench")
        self.visitor = Visitor(page)
        page.get_by_role("link", name="The table").click()
        page.get_by_role("button", name="inches", exact=True).click()
        expect(page.get_by_role("button", name="in · in/min")).to_be_visible()
        page.get_by_label("Name your table").fill("Cart table")
        page.get_by_role("button", name="Add the table").click()
        page.get_by_label("Name of the torch set").fill(SET)
        page.get_by_label("Amperage its nozzle is rated for").fill("45")
        page.get_by_role("button", name="Add the torch set").click()
        # The page is there from the first; what was added takes the place of its form once it is kept.
        expect(page.get_by_label("Name your table")).to_have_count(0)
        expect(page.get_by_label("Name of the torch set")).to_have_count(0)
        self.no_metric(page, "new trial, empty")
        for thickness, speed, kerf in ROWS:
            self.row(page, thickness, speed, kerf)
        self.trial(page)
        self.piece(page)
        for n in range(1, 6):
            page.get_by_role("button", name="It dropped: turn it over").click()
            page.get_by_role("button", name="Save the cut").wait_for()
            self.no_metric(page, "log")
            page.keyboard.type("0401-0502121")
            page.get_by_role("button", name=re.compile("^None")).click()
            page.get_by_role("button", name="Save the cut").click()
            expect(page.get_by_role("heading", name=f"Cut {n}, end-on")).to_be_visible()
            self.no_metric(page, f"bench after cut {n}")
            if page.get_by_role("button", name="Lock the recipe").is_visible():
                break
        page.get_by_role("button", name="Lock the recipe").click()
        self.no_metric(page, "what the recipe will hold")
        page.get_by_role("button", name="Lock it").click()
        expect(page.get_by_role("heading", name="Locked as revision 1")).to_be_visible()
        self.no_metric(page, "bench of a recipe")
        page.get_by_role("link", name="The recipe", exact=True).click()
        expect(page.get_by_text("■ Revision 1, in force")).to_be_visible()
        expect(page.get_by_role("heading", name="14 ga (0.075 in) mild steel")).to_be_visible()
        self.no_metric(page, "recipe")
        paths = (
            "/book",
            "/trials",
            "/trials/1",
            "/choose",
            "/height",
            "/torch",
            "/torch/jet",
            "/torch/shelf",
            "/machine",
            "/ready",
        )
        for path in (*paths, "/book/import", "/book/sheet?metal=mild_steel&set=1&gas=air"):
            self.go(path)

    def row(self, page: Page, thickness: str, speed: str, kerf: str) -> None:
        self.go("/book")
        page.get_by_role("button", name="Type a row").click()
        for label, text in (
            ("Thickness", thickness),
            ("Speed", speed),
            ("Arc voltage", "121"),
            ("Cut height", "0.060"),
            ("Pierce height", "0.150"),
            ("Pierce delay", "0.2"),
            ("Kerf", kerf),
        ):
            page.get_by_label(label, exact=True).fill(text)
        page.get_by_label("Where it comes from").fill("example, made up")
        self.no_metric(page, "row")
        if thickness == ROWS[0][0]:  # nobody cuts at 2000 in/min
            page.get_by_label("Speed", exact=True).fill("2000")
            expect(page.get_by_text("is no usual cut speed")).to_be_visible()
            page.get_by_label("Speed", exact=True).fill(speed)
        page.get_by_role("button", name="Into the Book").click()
        expect(page.get_by_text("The row is in the Book.")).to_be_visible()

    def trial(self, page: Page) -> None:
        self.go("/trials/new")
        page.get_by_label("Thickness").fill("14 ga")
        expect(page.get_by_text("A row of the Book")).to_be_visible()
        self.no_metric(page, "starting numbers")
        page.get_by_role("button", name="Open the trial").click()
        expect(page.get_by_role("heading", name="What to expect, end-on")).to_be_visible()
        # What was typed comes back as it was typed.
        for shown in ("220", "0.060"):
            expect(page.get_by_text(shown, exact=True).first).to_be_visible()
        self.no_metric(page, "bench")

    def piece(self, page: Page) -> None:
        page.get_by_role("button", name="Program").click()
        page.get_by_label("How fast does this table pick up speed?").fill("20")
        self.no_metric(page, "acceleration asked")
        page.get_by_role("button", name="Keep it with the table").click()
        program = page.get_by_role("link", name="2 Program")
        expect(program).to_be_visible()
        for piece in (
            "Speed strips",
            "Height strips",
            "Pierces",
            "Round",
            "Holes",
            "Long strip",
            "Square",
        ):
            page.get_by_role("button", name=piece, exact=True).click()
            self.visitor.settle()
            self.no_metric(page, piece)
            address = program.get_attribute("href") or ""
            written = page.request.get(self.server.address + address).text()
            self.assertIn("G20", written)
            self.assertIsNone(METRIC.search(written), f"{piece}: {METRIC.search(written)}")
            sheet = page.request.get(
                self.server.address + address.replace("piece.nc", "piece.pdf")
            ).body()
            for of in PdfReader(io.BytesIO(sheet)).pages:
                self.assertIsNone(METRIC.search(of.extract_text()), f"{piece}: {of.extract_text()}")
            drawing = page.request.get(
                self.server.address + address.replace("piece.nc", "piece.svg")
            ).text()
            drawn = " ".join(re.findall(r">([^<>]+)<", drawing))
            self.assertIsNone(METRIC.search(drawn), f"{piece}: {drawn}")
        page.get_by_role("button", name="Back to the Bench").click()
