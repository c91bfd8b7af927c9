"""Programs at the screen: from a bad program to a clean copy, by mouse, by keys, on a tablet, in inches."""

import random
import re

from playwright.sync_api import Page, expect

from tests.interface.test_screens import Screens
from tests.programs import making
from tools.browser import TABLET


class Programs(Screens):
    def hand_over(self, page: Page, *codes: str) -> None:
        dialect = making.Dialect()
        job = making.faulty(random.Random(9), codes, dialect)
        content = making.written(job, dialect).encode()
        page.get_by_label("Check a program").set_input_files(
            {"name": "side plate.nc", "mimeType": "application/x-netcdf", "buffer": content}
        )
        expect(page.get_by_role("heading", name="side plate.nc")).to_be_visible()

    def test_from_a_bad_program_to_a_clean_copy(self) -> None:
        page = self.page("/programs", size=TABLET, touch=True)
        self.hand_over(page, "outside_before_inside", "torch_never_off", "hole_too_fast")
        expect(page.get_by_role("status")).to_contain_text("Do not run it")
        found = page.get_by_role("list", name="What was found")
        stop = found.get_by_role("button", name=re.compile("The torch stays on"))
        expect(stop).to_contain_text("line")
        stop.tap()
        expect(stop).to_have_attribute("aria-pressed", "true")
        contours = page.get_by_role("region", name="Contours")
        expect(contours.get_by_role("button", pressed=True)).to_have_count(1)
        self.check(page)
        page.get_by_role("button", name=re.compile(r"Put \d+ right in a copy")).tap()
        right = page.get_by_role("region", name="What was put right")
        expect(right.get_by_text("inside comes before outside").first).to_be_visible()
        expect(
            page.get_by_role("list", name="What was found").get_by_text("The torch stays on")
        ).to_have_count(0)
        page.get_by_label("Lay it over the original").check()
        with page.expect_download() as saved:
            page.get_by_role("link", name="Save the file").tap()
        self.assertIn("(Orthotome:", saved.value.path().read_text(encoding="utf-8"))
        self.check(page)

    def test_a_contour_the_wrong_way_round_is_drawn_before_it_is_written(self) -> None:
        page = self.page("/programs", size=TABLET, touch=True)
        self.hand_over(page, "against_swirl")
        found = page.get_by_role("list", name="What was found")
        expect(found.get_by_text("The wrong way round")).to_be_visible()
        found.get_by_role("button", name="Draw it put right").first.tap()
        drawn = page.get_by_role("region", name="Drawn, not written yet")
        expect(drawn.get_by_text("Drawn as it would be cut")).to_be_visible()
        expect(found.get_by_text("The wrong way round")).to_have_count(0)
        self.check(page)
        drawn.get_by_role("button", name="Leave it as it is").tap()
        expect(found.get_by_text("The wrong way round")).to_be_visible()
        found.get_by_role("button", name="Draw it put right").first.tap()
        drawn.get_by_role("button", name="Write it into a copy").tap()
        expect(page.get_by_role("region", name="What was put right")).to_contain_text("cut otherwise")
        expect(
            page.get_by_role("list", name="What was found").get_by_text("The wrong way round")
        ).to_have_count(0)

    def test_the_picture_moves_by_keys_and_an_inch_shop_hears_inches(self) -> None:
        page = self.page("/programs")
        page.get_by_role("link", name=re.compile("hopper sides")).first.click()
        picture = page.get_by_role("application")
        expect(picture).to_be_visible()
        before = picture.get_attribute("viewBox")
        picture.focus()
        page.keyboard.press("+")
        closer = picture.get_attribute("viewBox")
        self.assertNotEqual(closer, before)
        page.keyboard.press("ArrowLeft")
        self.assertNotEqual(picture.get_attribute("viewBox"), closer)
        page.keyboard.press("0")
        expect(picture).to_have_attribute("viewBox", before or "")
        page.get_by_role("button", name="mm · mm/min").click()
        page.get_by_role("button", name="mm · m/min").click()
        found = page.get_by_role("list", name="What was found")
        expect(found.get_by_text(re.compile("in/min")).first).to_be_visible()
        expect(found.get_by_text(re.compile(r"\d mm"))).to_have_count(0)
        self.check(page)

    def test_what_is_no_program_is_refused_in_a_sentence(self) -> None:
        page = self.page("/programs")
        page.get_by_label("Check a program").set_input_files(
            {"name": "a.nc", "mimeType": "", "buffer": b"\x00\x01\x02\x03" * 100}
        )
        expect(page.get_by_role("alert")).to_contain_text("binary file")
        self.check(page)

    def test_what_never_reaches_speed_is_split_off_for_another_set(self) -> None:
        page = self.page("/programs", size=TABLET, touch=True)
        slow = page.request.patch(
            f"{self.server.address}/api/tables/1/settings",
            data={"settings": {"acceleration_mm_s2": 380}},
        )
        self.assertTrue(slow.ok)
        page.get_by_label("Check a program").set_input_files(
            {"name": "grille.nc", "mimeType": "", "buffer": making.grille().encode()}
        )
        expect(page.get_by_role("heading", name="grille.nc")).to_be_visible()
        page.get_by_role("slider", name="Time of the run").fill("120")
        expect(page.get_by_text("2:00 of")).to_be_visible()
        page.get_by_role("button", name="Put away").tap()
        page.get_by_role("button", name="Time it with the shop’s other sets").tap()
        heavy = page.get_by_role("region", name="100 A heavy set")
        expect(heavy).to_contain_text("change the parts once")
        heavy.get_by_role("button", name="Show it on the sheet").tap()
        self.check(page)
        heavy.get_by_role("button", name="Write the two programs").tap()
        expect(page.get_by_role("heading", name="grille 1 of 2.nc")).to_be_visible()
        page.get_by_role("link", name="What is cut after it").tap()
        expect(page.get_by_role("heading", name="grille 2 of 2.nc")).to_be_visible()
        expect(page.get_by_text("Cut it second, with the 100 A heavy set")).to_be_visible()
        expect(page.get_by_role("combobox", name="Checked against")).to_contain_text(
            "with the 100 A heavy set"
        )
        self.check(page)
