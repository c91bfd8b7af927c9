"""Square and true at the screen: from sizes to the correction, kept, and measured again after it."""

import re

from playwright.sync_api import Page, expect

from tests.interface.test_screens import Screens
from tools.browser import TABLET


class Square(Screens):
    def measure(self, page: Page, sizes: dict[str, str]) -> None:
        for label, text in sizes.items():
            page.get_by_label(label, exact=True).first.fill(text)

    def test_from_sizes_to_the_correction_and_the_proof(self) -> None:
        page = self.page("/machine", size=TABLET, touch=True)
        page.get_by_role("link", name="Square and true").tap()
        self.measure(page, {"Kerf in the program": "1.8", "Between the gantry’s drives": "1300"})
        self.measure(page, {"Drawn, X": "300", "Drawn, Y": "200", "Measured, X": "299.97"})
        told = page.get_by_role("region", name="What they tell")
        expect(told.get_by_text("Skew: no rectangle has its diagonals")).to_be_visible()
        self.measure(page, {"Measured, Y": "199.95", "Diagonal A": "361"})
        self.measure(page, {"Diagonal B": "360.1", "Drawn": "20", "Measured along X": "20.03"})
        cure = re.compile(r"\+X end 3\.5 mm, give or take 0\.3 mm, toward −Y")
        expect(told.get_by_text(cure)).to_be_visible()
        expect(told.get_by_text("1.83 mm")).to_be_visible()
        self.check(page)
        page.get_by_role("button", name="Keep this measurement").tap()
        before = page.get_by_role("region", name="Measured before")
        expect(before.get_by_text("out of square").first).to_be_visible()
        self.measure(page, {"Diagonal A": "360.6", "Diagonal B": "360.55"})
        expect(told.get_by_text("out of square")).to_have_count(0)
        page.get_by_label("What was done before this was cut").fill("+X end 3.5 mm back")
        page.get_by_role("button", name="Keep this measurement").tap()
        expect(before.get_by_text("+X end 3.5 mm back")).to_be_visible()
        expect(before.get_by_role("listitem")).to_have_count(3)  # the demo has one
        self.check(page)

    def test_the_inch_shop_types_inches_and_hears_no_millimetre(self) -> None:
        page = self.page("/machine/square")
        page.get_by_role("button", name="mm · mm/min").click()
        page.get_by_role("button", name="mm · m/min").click()
        self.measure(page, {"Kerf in the program": "0.07", "Drawn, X": "12", "Drawn, Y": "8"})
        self.measure(page, {"Measured, X": "11.93", "Measured, Y": "7.93"})
        told = page.get_by_role("region", name="What they tell")
        expect(told.get_by_text("No room was made for the kerf")).to_be_visible()
        expect(told.get_by_text(re.compile(r"\d mm"))).to_have_count(0)
        self.measure(page, {"Measured, X": "303"})
        expect(page.get_by_text("No table cuts so")).to_be_visible()
        self.check(page)

    def test_a_piece_is_cut_filled_in_and_survives_a_reload_and_the_kerf_goes_into_its_setting(
        self,
    ) -> None:
        page = self.page("/machine/square")
        page.get_by_label("Sheet, X").fill("700")
        page.get_by_label("Sheet, Y").fill("500")
        expect(page.get_by_text(re.compile(r"Rectangle 680 × 470 mm"))).to_be_visible()
        with page.expect_download() as program:
            page.get_by_role("link", name="Program", exact=True).click()
        self.assertTrue(program.value.suggested_filename.endswith(".nc"))
        page.get_by_role("button", name="It is cut: fill in what was drawn").click()
        self.measure(page, {"Measured, X": "679.8", "Measured, Y": "469.8"})
        self.measure(page, {"Measured along X": "100.2", "Measured along Y": "100.2"})
        write = page.get_by_role("button", name=re.compile(r"Write 2\.00 mm as this setting’s kerf"))
        expect(write).to_be_visible()
        page.reload()
        expect(write).to_be_visible()
        expect(page.get_by_label("Measured, X")).to_have_value("679.80")
        write.click()
        expect(page.get_by_text("makes room for 2 mm from now on")).to_be_visible()
        self.check(page)
