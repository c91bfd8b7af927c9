"""Practice at the screen: an exercise at a simulated table from its start to the debrief, by gloved taps."""

from playwright.sync_api import Page, expect

from tests.interface.test_screens import Screens
from tools.browser import TABLET


class Practising(Screens):
    def cut(self, page: Page, button: str) -> None:
        """Cut on the practice table, and keep what the gauges show."""
        page.get_by_role("button", name=button, exact=True).tap()
        save = page.get_by_role("button", name="Save the cut")
        expect(save).to_be_enabled()
        save.tap()
        expect(page.get_by_role("dialog")).to_have_count(0)

    def test_from_the_exercise_to_the_debrief(self) -> None:
        page = self.page("/practice", size=TABLET, touch=True)
        page.get_by_role("button", name="One way bad, the other good").tap()
        page.wait_for_url("**/on-practice/bench")
        band = page.get_by_role("complementary", name="Practice")
        expect(band).to_contain_text("0 of 6 cuts")
        upright = page.get_by_role("button", name="The jet is set upright: go on")
        square = page.get_by_role("heading", name="Square: lock it in")
        cut = page.get_by_role("button", name="Cut it", exact=True)
        for n in range(1, 8):
            self.cut(page, "Cut it")
            expect(band).to_contain_text(f"{n} of 6 cuts")
            expect(page.get_by_text("This is the advice of before")).to_have_count(0)
            if upright.count():
                self.check(page)
                upright.tap()
                expect(upright).to_have_count(0)
            if square.count():
                break
            expect(cut).to_be_visible()
        band.get_by_role("button", name="Say how it ends").tap()
        page.get_by_role("button", name="It is square: the last setting passes").tap()
        self.check(page)
        page.get_by_role("button", name="Show me the truth").tap()
        truth = page.get_by_role("region", name="The truth")
        expect(truth.get_by_role("heading", name="Passed")).to_be_visible()
        expect(truth).to_contain_text("The torch leaned in its mount")
        expect(truth.get_by_role("region", name="A master’s")).to_contain_text("Set the torch upright.")
        self.check(page)
        page.get_by_role("link", name="All exercises").tap()
        expect(page.get_by_text("1 of 9 passed")).to_be_visible()
        page.goto(f"{self.server.address}/bench")  # the real one is as it was
        expect(page.get_by_role("complementary", name="Practice")).to_have_count(0)
        expect(page.get_by_role("button", name="North table")).to_be_visible()

    def test_numbers_of_ones_own_with_the_advice_covered(self) -> None:
        page = self.page("/practice", light="night", touch=True)
        page.get_by_role("button", name="Your own numbers").tap()
        page.wait_for_url("**/on-practice/bench")
        expect(page.get_by_role("heading", name="Choose your own numbers")).to_be_visible()
        expect(page.get_by_text("Chance to pass")).to_have_count(0)
        page.get_by_label("Speed").fill("3900")
        page.get_by_label("Cut height").fill("1.5")
        expect(page.get_by_role("button", name="Cut these")).to_be_enabled()
        self.cut(page, "Cut these")
        expect(page.get_by_role("complementary", name="Practice")).to_contain_text("1 of 8 cuts")
        self.check(page)
        page.get_by_role("link", name="Leave it for now").tap()
        page.get_by_role("button", name="Go on: Your own numbers").tap()
        page.wait_for_url("**/on-practice/bench")
        expect(page.get_by_role("complementary", name="Practice")).to_contain_text("1 of 8 cuts")

    def test_an_arc_that_is_watched_from_the_live_cut_to_the_debrief(self) -> None:
        page = self.page("/practice", size=TABLET, touch=True)
        page.get_by_role("region", name="Watch the arc").get_by_role("button", name="Up and away").tap()
        page.wait_for_url("**/on-practice/height")
        page.get_by_role("button", name="Square, height held").tap()
        expect(page.get_by_text("too little for an arc")).to_be_visible()
        band = page.get_by_role("complementary", name="Practice")
        expect(band).to_contain_text("1 of 4 runs")
        self.check(page)
        band.get_by_role("button", name="Say how it ends").tap()
        expect(page.get_by_role("button", name="It is square: the last setting passes")).to_have_count(0)
        page.get_by_role("button", name="The screen does not show the arc’s real volts").tap()
        page.get_by_role("button", name="Show me the truth").tap()
        truth = page.get_by_role("region", name="The truth")
        expect(truth.get_by_role("heading", name="Passed")).to_be_visible()
        expect(truth.get_by_role("region", name="Your way, 1 run")).to_contain_text("V on the screen")
        expect(truth.get_by_role("region", name="A master’s")).to_contain_text("Height held")
        self.check(page)
