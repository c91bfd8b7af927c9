"""What an operator asks of the tuner beside the next cut: what if, what earlier trials taught, how the jet stands."""

import re

from playwright.sync_api import Page, expect

from tests.interface.test_screens import Screens, open_trial


def to_inches(page: Page) -> None:
    page.get_by_role("button", name="mm · mm/min").click()
    page.get_by_role("button", name="mm · m/min").click()
    expect(page.get_by_role("button", name="in · in/min")).to_be_visible()


class WhatIf(Screens):
    def test_a_tap_says_what_to_expect_there_and_the_cut_can_be_logged_there(self) -> None:
        page = self.page("/bench")
        to_inches(page)
        page.get_by_role("img", name=re.compile("Chance to pass over")).click(
            position={"x": 20, "y": 20}
        )
        dialog = page.get_by_role("dialog", name="What if I set …")
        # Slow and high: far from anything cut, and slower than the metal is clean.
        expect(dialog.get_by_text("More likely than not spoilt by")).to_be_visible()
        page.get_by_role("button", name="As advised").click()
        expect(dialog.get_by_text("about 8 in 10").first).to_be_visible()
        page.get_by_role("button", name="Faster").click()
        expect(dialog.get_by_text("80 in/min")).to_be_visible()
        page.get_by_role("button", name="As a table").click()
        expect(dialog.get_by_role("columnheader", name="90 in 100 lie in").first).to_be_visible()
        self.assertNotRegex(dialog.inner_text(), r"\bmm\b")
        self.check(page)
        page.get_by_role("button", name="I cut it there: log it").click()
        as_cut = page.get_by_role("button", name="cut otherwise?")
        expect(as_cut).to_contain_text("80 in/min at 0.036 in")


class EarlierTrials(Screens):
    def test_they_are_named_and_can_be_left_out(self) -> None:
        page = self.page("/trials/new")
        open_trial(page)
        switch = page.get_by_role("switch", name="Learn from earlier trials here")
        expect(switch).to_be_checked()
        expect(page.get_by_role("link", name="8 mm mild steel")).to_have_attribute("href", "/trials/2")
        switch.click()
        expect(page.get_by_text(": left out.")).to_be_visible()
        page.reload()
        expect(switch).not_to_be_checked()


class TorchRoom(Screens):
    def test_from_a_slug_to_the_turns_and_a_new_seat(self) -> None:
        page = self.page("/torch/jet")
        to_inches(page)
        page.get_by_role("button", name="South table").click()
        page.get_by_role("button", name="How it can be turned").click()
        page.get_by_role("button", name="Tilts left and right").click()
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_role("button", name="Read a slug").click()
        page.get_by_label("Thickness").fill("5/16")
        # Four degrees to the right: +4 where the edge faces right (3rd from the slit), -4 on the left.
        for place, read in enumerate(("0.1", "2.8", "4", "2.9", "0", "-2.8", "-4.1", "-2.8"), 1):
            page.get_by_label(f"Edge {place} of 8").fill(read)
        self.check(page)
        page.get_by_role("button", name="Save the slug").click()
        expect(page.get_by_text("Slug noted, read at 8 places.")).to_be_visible()
        expect(page.get_by_text(re.compile(r"The jet leans \d\.\d° to the right"))).to_be_visible()
        expect(page.get_by_text("the jet's exit goes to the left")).to_be_visible()
        self.assertNotRegex(page.locator("main").inner_text(), r"\bmm\b")
        page.get_by_role("button", name="It is turned: begin anew").click()
        expect(page.get_by_text("Nothing was read in this seat yet")).to_be_visible()
        expect(page.get_by_text("How it stood before")).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_text("the jet's exit goes to the left")).to_be_visible()

    def test_it_says_what_is_missing_before_it_can_be_saved(self) -> None:
        page = self.page("/torch/jet")
        page.get_by_role("button", name="Read a slug").click()
        save = page.get_by_role("button", name="Save the slug")
        page.get_by_label("Edge 1 of 8").fill("1.5")
        expect(page.get_by_text("2 more places at the least.")).to_be_visible()
        expect(save).to_be_disabled()
        for place in (2, 3):
            page.get_by_label(f"Edge {place} of 8").fill("x" if place == 3 else "0.4")
        page.get_by_label("Edge 4 of 8").fill("1")
        expect(page.get_by_text("One of the readings is no angle.")).to_be_visible()
        expect(save).to_be_disabled()


class UnitsChanged(Screens):
    def test_numbers_on_a_page_are_said_in_the_units_chosen_meanwhile(self) -> None:
        page = self.page("/machine")
        reach = page.get_by_label("Reach along Y")
        expect(reach).to_have_value("1250")
        to_inches(page)
        expect(reach).to_have_value("49.213")
        reach.focus()
        reach.blur()
        expect(page.get_by_label("What cleaning a foot of dross costs")).to_have_value("0.183")
        page.reload()
        expect(reach).to_have_value("49.213")
