"""Turning a piece over at the screen: every kind by touch and by keyboard, photos, questions, looking back."""

import io
import math
import re
import unittest

from PIL import Image, ImageDraw
from playwright.sync_api import APIResponse, Page, Route, expect

from tests.interface.test_screens import Screens, open_trial, turn_over
from tools.browser import TABLET

KINDS = (
    ("Pierces", "yes"),
    ("Starts and ends", "Gouge"),
    ("Holes in a bar", "no"),
    ("Corners", "Rounded"),
)


def cut_of_known_angle(bevel_deg: float) -> bytes:
    """A cut end-on, the kept plate on the right, its edge 1000 points high."""
    picture = Image.new("RGB", (1600, 1200), "#d6d2c8")
    out = 1000 * math.tan(math.radians(bevel_deg))
    corners = [(700, 150), (1600, 150), (1600, 1150), (700 - out, 1150)]
    ImageDraw.Draw(picture).polygon(corners, fill="#566068")
    written = io.BytesIO()
    picture.save(written, "JPEG", quality=90)
    return written.getvalue()


class EveryPiece(Screens):
    def choose(self, page: Page, kind: str) -> None:
        turn_over(page)
        page.get_by_label("What was cut").select_option(label=kind)
        expect(page.get_by_label("What was cut").locator("option:checked")).to_have_text(kind)

    def test_every_kind_is_logged_by_touch_on_a_tablet(self) -> None:
        page = self.page("/trials/new", size=TABLET, touch=True)
        open_trial(page, "9")
        for n, (kind, answer) in enumerate(KINDS, 1):
            self.choose(page, kind)
            first = page.get_by_role("listitem").filter(has=page.get_by_role("heading")).first
            first.get_by_role("button", name=re.compile(f"^{answer}")).first.click()
            self.check(page)
            page.get_by_role("button", name="Save the cut").click()
            expect(page.get_by_text(f"Cut {n} is saved.")).to_be_visible()
        self.choose(page, "Long strip")
        page.get_by_label("Bevel here").first.fill("0,4")
        page.get_by_label("Bevel here").last.fill("2.6")
        page.get_by_role("button", name="Save the cut").click()
        page.get_by_role("link", name="Trials").click()
        page.get_by_role("link", name=re.compile("9 mm mild steel")).first.click()
        expect(page.get_by_text("That is height control, not speed.")).to_be_visible()
        expect(page.get_by_text("Burnt away")).to_have_count(1)

    def test_every_kind_is_logged_by_keyboard_alone(self) -> None:
        page = self.page("/trials/new")
        open_trial(page, "13")
        for n, (kind, answer) in enumerate((*KINDS, ("Round slug", "")), 1):
            page.get_by_role("button", name="It dropped: turn it over").focus()
            page.keyboard.press("Enter")
            what = page.get_by_label("What was cut")
            what.focus()
            page.keyboard.type(kind)
            expect(what.locator("option:checked")).to_have_text(kind)
            if answer:
                page.get_by_role("button", name=re.compile(f"^{answer}")).first.focus()
                page.keyboard.press("Enter")
            else:
                page.get_by_role("button", name="Kept edge, cut to the right not read").focus()
                page.keyboard.type("12 0908 11")
            page.keyboard.press("Control+Enter")
            expect(page.get_by_text(f"Cut {n} is saved.")).to_be_visible()

    def test_a_half_read_comb_outlives_a_reload_and_is_saved_strip_by_strip(self) -> None:
        page = self.page("/trials/new")
        open_trial(page, "11")
        self.choose(page, "Speed strips")
        page.get_by_role("listitem", name="Slot 2").get_by_role("button", name="Clean").click()
        page.get_by_label("Strip 3, left edge").fill("1.2")
        self.check(page)
        page.reload()
        page.get_by_role("button", name="Go on with the half-typed log").click()
        expect(page.get_by_label("Strip 3, left edge")).to_have_value("1.2")
        page.get_by_role("button", name="Save the strips").click()
        expect(page.get_by_text("Cut 1 is saved.")).to_be_visible()
        page.get_by_role("link", name=re.compile("^1 ")).click()
        expect(page.get_by_text("slot 2 of speed strips")).to_be_visible()
        expect(page.get_by_text("+1.2° ± 0.8")).to_be_visible()

    def test_a_square_with_all_there_is_to_see_by_keyboard_alone(self) -> None:
        page = self.page("/trials/new")
        open_trial(page, "12")
        page.get_by_role("button", name="It dropped: turn it over").focus()
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Save the cut").wait_for()
        page.keyboard.type("-2.45\n11\n0.9\n06")  # a gauge on a cable, and fingers
        page.keyboard.press("v")
        page.keyboard.type("127.6\n")
        page.keyboard.press("c")
        look = page.get_by_role("button", name="Look closer")
        look.focus()
        page.keyboard.press("Enter")
        page.get_by_role("button", name=re.compile("^Straw")).focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name=re.compile("^Straw"))).to_have_attribute(
            "aria-pressed", "true"
        )
        page.keyboard.press("Control+Enter")
        expect(page.get_by_role("heading", name="Cut 1, end-on")).to_be_visible()
        page.get_by_role("link", name=re.compile("^1 ")).click()
        for said in ("−2.5° ± 0.8", "127.6 V", "Straw", "slow-speed dross, brushes off"):
            expect(page.get_by_text(said).first).to_be_visible()


class AskedAndMeasured(Screens):
    def test_a_wild_reading_is_asked_about_and_kept_if_the_operator_insists(self) -> None:
        page = self.page("/trials/new")
        open_trial(page, "8")
        turn_over(page)
        page.keyboard.type("11730912")
        asked = page.get_by_text("The edge cut to the right again? +7.3° does not fit")
        expect(asked).to_be_visible()
        page.get_by_role("button", name="Read it again").click()
        expect(asked).to_have_count(0)
        page.keyboard.type("73")
        expect(asked).to_be_visible()
        page.get_by_role("button", name="It is right").click()
        expect(asked).to_have_count(0)
        page.get_by_role("button", name="Save the cut").click()
        expect(page.get_by_role("heading", name="Cut 1, end-on")).to_be_visible()

    def test_two_lengths_and_a_photo_give_bevels_that_are_logged_with_their_method(self) -> None:
        page = self.page("/trials/new")
        open_trial(page, "8")
        turn_over(page)
        page.get_by_label("Read with").select_option(label="Square and feeler, ±0.5°")
        page.get_by_label("Gap", exact=True).fill("0.28 mm")
        page.get_by_label("Depth it was read over").fill("8")
        page.get_by_role("button", name="Gapes at the bottom").click()
        page.get_by_role("button", name="Take it for this edge").click()
        edge = page.get_by_role("button", name=re.compile("Kept edge, cut away from you"))
        expect(edge).to_have_attribute("aria-label", "Kept edge, cut away from you: −2.0°")
        page.get_by_role("button", name="Photos").click()
        page.get_by_label("A photo of this piece").set_input_files(
            {"name": "a page.jpg", "mimeType": "image/jpeg", "buffer": b"%PDF-1.7"}
        )
        expect(page.get_by_text("is no JPEG, PNG, WebP or HEIC picture")).to_be_visible()
        page.get_by_label("A photo of this piece").set_input_files(
            {"name": "edge.jpg", "mimeType": "image/jpeg", "buffer": cut_of_known_angle(4.0)}
        )
        page.get_by_role("img", name="Photo of this piece: open to measure").click()
        drawn = page.get_by_role("application", name="Tap here")
        box = drawn.bounding_box()
        assert box is not None
        out = 990 * math.tan(math.radians(4.0))
        for x, y in ((1500, 150), (720, 150), (699, 155), (699 - out, 1145)):
            page.mouse.click(box["x"] + box["width"] * x / 1600, box["y"] + box["height"] * y / 1200)
        page.get_by_role("button", name="Take it: Kept edge, cut to the right").click()
        page.get_by_role("button", name="Back", exact=True).click()
        page.get_by_role("button", name="Edges", exact=True).click()
        other = page.get_by_role("button", name=re.compile("Kept edge, cut to the right"))
        expect(other).to_have_attribute(
            "aria-label", re.compile(r"Kept edge, cut to the right: \+(3\.[789]|4\.[0123])°")
        )
        page.get_by_role("button", name="Save the cut").click()
        page.get_by_role("link", name=re.compile("^1 ")).click()
        expect(page.get_by_text("gap 0.28 mm over 8 mm at the bottom")).to_be_visible()
        expect(page.get_by_text("tapped on a photo")).to_be_visible()
        page.get_by_role("button", name="Photos (1)").click()
        expect(page.get_by_role("img", name="Photo of this piece: open to measure")).to_be_visible()

    def test_what_is_written_down_while_the_list_still_loads_is_in_it(self) -> None:
        page = self.page("/shop")
        held: list[tuple[Route, APIResponse]] = []

        def hold_the_first(route: Route) -> None:
            if route.request.method == "GET" and not held:
                held.append((route, route.fetch()))
            else:
                route.continue_()

        page.route("**/api/instruments*", hold_the_first)
        page.goto(f"{self.server.address}/machine")
        page.get_by_label("One of our own").fill("Gauge of a hasty hand")
        page.get_by_role("button", name="Write it down").click()
        expect(page.get_by_label("One of our own")).to_have_value("")
        for route, answer in held:
            route.fulfill(response=answer)
        mine = page.get_by_role("listitem").filter(has_text="Gauge of a hasty hand")
        expect(mine.get_by_role("button", name="Check my hand")).to_be_visible()
        self.assertTrue(held)

    def test_a_hand_that_was_checked_is_offered_with_its_own_spread(self) -> None:
        page = self.page("/machine")
        page.get_by_label("One of our own").fill("Gauge in the drawer")
        page.get_by_role("button", name="Write it down").click()
        mine = page.get_by_role("listitem").filter(has_text="Gauge in the drawer")
        mine.get_by_role("button", name="Check my hand").click()
        for n, value in enumerate(("1.0", "1.2", "0.9", "1.1", "1.3"), 1):
            mine.get_by_label(f"Reading {n}").fill(value)
        mine.get_by_role("button", name="Keep the check").click()
        expect(mine.get_by_text("±0.3°", exact=True)).to_be_visible()
        page.get_by_role("button", name="Grade five pieces").click()
        for turn in ("Hand it over: the other grades now", "Keep the check"):
            for piece in range(1, 6):
                page.get_by_role("group", name=f"Piece {piece}").get_by_role(
                    "button", name="scraper"
                ).click()
            self.check(page)
            page.get_by_role("button", name=turn).click()
        expect(page.get_by_text("people here grade alike")).to_be_visible()
        page.goto(f"{self.server.address}/bench")
        turn_over(page)
        expect(page.get_by_label("Read with").locator("option:checked")).to_have_text(
            "Gauge in the drawer, ±0.3°"
        )


class LookingBack(Screens):
    def test_two_cuts_side_by_side_a_correction_remembered_and_a_strike_undone(self) -> None:
        page = self.page("/trials/2")
        ledger = page.get_by_role("region", name="Cut by cut")
        ledger.get_by_role("listitem").nth(0).get_by_role("button").click()
        ledger.get_by_role("listitem").nth(1).get_by_role("button").click()
        page.get_by_role("button", name="Side by side").click()
        expect(page.get_by_text("by more than reading scatters.")).to_be_visible()
        expect(page.get_by_role("row", name=re.compile("Cut height"))).to_be_visible()
        self.check(page)
        against = page.get_by_label("Against")
        recipe = against.locator("option", has_text="Gate brackets, revision 1")
        against.select_option(value=recipe.get_attribute("value"))
        expect(page.get_by_text("locked as Gate brackets")).to_be_visible()
        page.get_by_role("link", name="Cut 1").first.click()
        first = page.locator("#cut-1")
        first.get_by_role("button", name="Correct").click()
        page.get_by_role("button", name="Look closer").click()
        page.get_by_role("button", name=re.compile("^Blue")).click()
        page.get_by_role("button", name="Save the correction").click()
        expect(first.get_by_text("Blue")).to_be_visible()
        first.get_by_role("button", name="It was changed: what it said before").click()
        expect(first.get_by_text("corrected: colour was not looked at")).to_be_visible()
        first.get_by_role("button", name="Strike out").click()
        page.get_by_role("button", name="Undo").click()
        expect(first.get_by_role("button", name="Strike out")).to_be_visible()
        ledger.get_by_role("button", name="Changed since").click()
        expect(page.locator("#cut-2")).to_have_count(0)
        expect(first).to_be_visible()

    def test_processes_side_by_side_mark_what_nothing_beats(self) -> None:
        page = self.page("/choose?metal=stainless_steel&thickness=3")
        page.get_by_role("button", name="Side by side").click()
        row = page.get_by_role("row", name=re.compile("^Bevel"))
        expect(row.get_by_label("best here")).to_have_count(1)
        expect(page.get_by_text("nothing beats it").first).to_be_visible()
        self.check(page)


if __name__ == "__main__":
    unittest.main()
