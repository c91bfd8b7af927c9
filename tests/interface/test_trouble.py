"""Trouble at the screen: from what is seen to the room that cures it, by gloved taps."""

from playwright.sync_api import expect

from tests.interface.test_screens import Screens
from tools.browser import TABLET


class Troubled(Screens):
    def test_from_a_complaint_to_the_room_that_cures_it(self) -> None:
        page = self.page("/bench", size=TABLET, touch=True)
        page.get_by_role("link", name="Trouble").tap()
        # Of the South table nobody has read a pair of volts.
        page.get_by_role("button", name="South table").tap()
        page.get_by_role("button", name="The torch flies up at the start").tap()
        question = page.get_by_role("region", name="The question")
        expect(question).to_contain_text("What does the screen show for volts")
        self.check(page)
        question.get_by_role("button", name="nearly nothing").tap()
        causes = page.get_by_role("region", name="What it may be")
        expect(causes.get_by_role("heading", name="The arc voltage is divided twice")).to_be_visible()
        expect(causes.get_by_text("licensed electrician")).to_be_visible()
        page.reload()
        said = page.get_by_role("region", name="What you said")
        expect(said).to_contain_text("nearly nothing")
        said.get_by_role("button", name="Take back").tap()
        expect(question).to_contain_text("What does the screen show for volts")
        question.get_by_role("button", name="nearly nothing").tap()
        self.check(page)
        causes.get_by_role("link", name="Go there").tap()
        expect(page).to_have_url(f"{self.server.address}/height/signal-path")

    def test_from_the_cut_on_the_bench(self) -> None:
        page = self.page("/bench", size=TABLET, touch=True)
        page.get_by_role("link", name="What is wrong with it?").tap()
        shown = page.get_by_role("region", name="The last cut")
        self.check(page)
        shown.get_by_role("button", name="Bevel in one direction of travel").tap()
        expect(page.get_by_text("those that face one way")).to_be_visible()
        causes = page.get_by_role("region", name="What it may be")
        expect(causes).to_contain_text("Known here: Torch upright")
        with page.expect_download() as pack:
            page.get_by_role("link", name="With the trial and pictures").tap()
        self.assertEqual(pack.value.suggested_filename, "trouble.zip")

    def test_what_it_was_is_kept_and_said_the_next_time(self) -> None:
        page = self.page("/trouble", light="night")
        page.get_by_role("button", name="It will not start").click()
        question = page.get_by_role("region", name="The question")
        first = question.get_by_role("heading").inner_text()
        question.get_by_role("button", name="I don’t know").click()
        expect(page.get_by_role("region", name="What you said")).to_contain_text(first)
        causes = page.get_by_role("region", name="What it may be")
        causes.get_by_role("button", name="The work clamp does not hold").click()
        page.get_by_label("What was done").fill("lug was burnt")
        self.check(page)
        page.get_by_role("button", name="That was it").click()
        expect(page.get_by_role("region", name="Solved before")).to_contain_text("lug was burnt")
        self.check(page)
        page.get_by_role("button", name="It will not start").click()
        expect(
            page.get_by_text(
                "Here it was “the work clamp does not hold on bright metal” 1 of 1 times before"
            )
        ).to_be_visible()

    def test_an_exercise_from_its_start_to_the_debrief(self) -> None:
        page = self.page("/practice", size=TABLET, touch=True)
        page.get_by_role("button", name="The wrong side is square").tap()
        expect(page.get_by_text("Practice, not a real table")).to_be_visible()
        ask = page.get_by_role("region", name="What you can ask")
        ask.get_by_role("button", name="Which edges are bad?").tap()
        expect(page.get_by_role("region", name="What was found")).to_contain_text("one side of travel")
        self.check(page)
        page.get_by_role("button", name="The contour runs against the swirl").tap()
        page.get_by_role("button", name="Prove it at the machine").tap()
        page.get_by_role("button", name="That is it: show me the truth").tap()
        truth = page.get_by_role("region", name="The truth")
        expect(truth.get_by_role("heading", name="Passed")).to_be_visible()
        expect(truth.get_by_role("region", name="A master’s")).to_contain_text("in 100 for the truth")
        self.check(page)
        page.get_by_role("link", name="All exercises").tap()
        expect(page.get_by_text("1 of 14 passed")).to_be_visible()
        self.check(page)
