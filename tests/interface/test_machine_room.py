"""The Machine room at the screen: holes tried until what is drawn is this shop's own, a watch, a crash and what it makes due."""

import re

from playwright.sync_api import Route, expect

from tests.interface.test_screens import Screens
from tools.browser import TABLET


class MachineRoom(Screens):
    def test_a_crash_is_said_and_what_it_may_have_shifted_is_found_out_again(self) -> None:
        page = self.page("/machine/health", size=TABLET, touch=True)
        touch = page.get_by_role("listitem").filter(has_text="Height of the first touch")
        expect(touch).to_contain_text("not known")
        touch.get_by_role("link").tap()
        page.get_by_label("Height it was told").fill("1.5")
        page.get_by_label("Gap that was found").fill("1.9")
        said = page.get_by_role("region", name="What it says")
        expect(said).to_contain_text("0.4 mm higher than it is told")
        self.check(page)
        page.get_by_label("Gap that was found").fill("1.52")
        expect(said).to_contain_text("stands where it is told")
        page.get_by_role("button", name="Keep it with the table").tap()
        expect(page.get_by_role("region", name="Found before")).to_contain_text("1.52 mm found")
        page.get_by_role("link", name="Health").tap()
        expect(touch).to_contain_text("good")
        page.get_by_label("What happened").fill("tipped part under the torch")
        page.get_by_role("button", name="There was a crash").tap()
        expect(touch).to_contain_text("Due: there was a crash since.")
        expect(page.get_by_text("tipped part under the torch")).to_be_visible()
        self.check(page)

    def test_a_hole_is_tried_and_what_to_draw_follows(self) -> None:
        page = self.page("/machine/holes", size=TABLET, touch=True)
        bolt = page.get_by_role("listitem").filter(has_text=re.compile("^M12"))
        expect(bolt).to_contain_text("13.11 mm")
        for undone in (True, False):
            page.get_by_label("Drawn", exact=True).fill("12")
            page.get_by_label("At the top").fill("11")
            page.get_by_label("At the bottom").fill("10.5")
            flat = page.get_by_role("group", name="Flat at the lead-in?")
            flat.get_by_role("button", name="yes").tap()
            page.get_by_role("button", name="Keep this hole").tap()
            if undone:  # at once: what can be undone is offered for a while only
                page.get_by_role("button", name="Undo").tap()
                expect(page.get_by_text("4 holes tried")).to_be_visible()
                expect(bolt).to_contain_text("13.11 mm")
        expect(page.get_by_text("5 holes tried")).to_be_visible()
        expect(bolt).not_to_contain_text("13.11 mm")
        expect(page.get_by_text("2 have a flat where the lead-in comes in")).to_be_visible()
        page.get_by_role("textbox", name="Another size").fill("5")
        expect(page.get_by_text("is no plasma hole: mark its middle").last).to_be_visible()
        page.get_by_role("button", name="threaded").tap()
        page.get_by_role("textbox", name="Another size").fill("16")
        expect(page.get_by_text("metal left for the core drill")).to_be_visible()
        self.check(page)

    def test_nothing_is_kept_before_the_last_number_is_read(self) -> None:
        page = self.page("/machine/holes")
        keep = page.get_by_role("button", name="Keep this hole")
        page.get_by_label("Drawn", exact=True).fill("12")
        expect(keep).to_be_enabled()
        held: list[Route] = []
        page.route("**/api/quantities/read", lambda route: held.append(route))  # noqa: PLW0108
        page.get_by_label("At the top").fill("11")
        expect(keep).to_be_disabled()
        while not held:
            page.wait_for_timeout(50)
        held[0].continue_()
        expect(keep).to_be_enabled()
        keep.click()
        expect(page.get_by_role("region", name="Holes tried")).to_contain_text("11.00 mm")

    def test_a_zig_zag_is_timed_and_the_page_takes_what_it_tells(self) -> None:
        page = self.page("/machine/motion")
        page.get_by_role("button", name="Time this one").click()
        page.get_by_label("It took").fill("8")
        expect(page.get_by_text("without any run-up")).to_be_visible()
        page.get_by_label("It took").fill("30")
        page.get_by_role("button", name=re.compile(r"Write \d+ mm.s. on")).click()
        expect(page.get_by_text(re.compile(r"On the table’s page: \d+0 mm/s²"))).to_be_visible()
        self.check(page)

    def test_the_inch_shop_hears_no_millimetre_in_any_of_them(self) -> None:
        page = self.page("/machine/holes")
        page.get_by_role("button", name="mm · mm/min").click()
        page.get_by_role("button", name="mm · m/min").click()
        expect(page.get_by_role("button", name="in · in/min")).to_be_visible()  # the shop has it
        for path in ("holes", "health", "square", "motion?what=slack", "motion?what=mark", "motion"):
            page.goto(f"{self.server.address}/machine/{path}")
            page.get_by_role("heading", level=1).wait_for()
            expect(page.get_by_role("main").get_by_text(re.compile(r"\d ?mm"))).to_have_count(0)
            self.check(page)
