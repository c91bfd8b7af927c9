"""Test pieces on the real interface: played, on scrap, several at once, the shop's own drawing."""

import io
import re
import unittest
from pathlib import Path

import ezdxf
from playwright.sync_api import Page, expect

from tests.interface.test_screens import Screens
from tools.browser import PHONE_SIDEWAYS, TABLET


def open_pieces(page: Page) -> None:
    page.get_by_role("button", name="Program").click()
    page.get_by_label("Time since the first pierce").wait_for()


class OnePiece(Screens):
    def test_piece_program_drawing_and_cautions(self) -> None:
        page = self.page("/bench")
        page.get_by_role("button", name="Program").click()
        expect(page.get_by_role("img", name=re.compile("40 mm square from above"))).to_be_visible()
        expect(page.get_by_text("hands at the torch only with the source isolated")).to_be_visible()
        page.get_by_role("button", name="Speed strips").click()
        with page.expect_download() as taken:
            page.get_by_role("link", name="1 Dry run, torch off").click()
        self.assertRegex(taken.value.suggested_filename, r"^trial-\d+-cut-\d+-strip_ladder-dry\.nc$")
        self.assertIn("DRY RUN", Path(taken.value.path()).read_text())

    def test_a_piece_for_the_scrap_there_is(self) -> None:
        page = self.page("/bench")
        page.get_by_role("button", name="Program").click()
        page.get_by_role("button", name="Holes").click()
        expect(page.get_by_text("7 pierces")).to_be_visible()
        page.get_by_role("button", name="another scrap").click()
        page.get_by_label("What you call it").fill("Gate offcut")
        page.get_by_label("Along X").fill("260")
        page.get_by_label("Along Y").fill("4 in")
        page.get_by_role("button", name="Keep this scrap").click()
        expect(page.get_by_role("img", name="Gate offcut from above, 260 by 101.6 mm")).to_be_visible()
        page.get_by_text("Keep off a part of it").click()
        page.get_by_label("What is there").fill("clamp")
        for label, size in (("From the left", "0"), ("From near", "0"), ("Wide", "20"), ("Deep", "20")):
            page.get_by_label(label).fill(size)
        page.get_by_role("button", name="Keep off").click()
        expect(page.get_by_text("clampFree it")).to_be_visible()
        page.get_by_role("button", name="It is cut").click()
        # It waits on the Bench to be turned over, on its own sheet.
        page.get_by_role("button", name=re.compile("Holes in a bar 4")).click()
        expect(page.get_by_text("Across the top")).to_have_count(4)
        page.get_by_role("button", name="Later").click()
        open_pieces(page)
        page.get_by_role("button", name="Holes").click()
        expect(page.get_by_text(re.compile("trial 2, 4 holes"))).to_be_visible()
        # A second bar of holes is 136 mm wide: beside clamp and first bar there is no room for it.
        expect(page.get_by_text("no free place of 136 × 69 mm is left")).to_be_visible()
        page.get_by_role("listitem").filter(has_text="4 holes").get_by_role("button").click()
        expect(page.get_by_text("no free place")).to_have_count(0)
        with page.expect_download() as taken:
            page.get_by_role("link", name="DXF").click()
        self.assertIn("ENTITIES", Path(taken.value.path()).read_text())
        page.get_by_role("button", name="This scrap is used up").click()
        expect(page.get_by_role("button", name=re.compile("Gate offcut"))).to_have_count(0)
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("button", name=re.compile("Gate offcut"))).to_be_visible()

    def test_the_path_is_played_at_real_speed_and_looked_at_contour_by_contour(self) -> None:
        page = self.page("/bench")
        open_pieces(page)
        expect(page.get_by_text(re.compile(r"^1 of \d: nick 1"))).to_be_visible()
        expect(page.get_by_text("piercing, 0.55 s")).to_be_visible()
        bar = page.get_by_text(re.compile(r"\d of \d: scrap bar"))
        while not bar.is_visible():  # behind as many nicks as the piece's number has
            page.get_by_role("button", name="Next contour").click()
        time = page.get_by_label("Time since the first pierce")
        begun = float(time.input_value())
        page.get_by_role("button", name="Play the path at real speed").click()
        page.wait_for_function(
            "([s, t]) => Number(document.querySelector(s).value) > t + 1",
            arg=["input[type=range]", begun],
        )
        page.get_by_role("button", name="Stop playing").click()
        page.get_by_role("button", name="× 16").click()
        page.get_by_role("button", name="Play the path at real speed").click()
        page.get_by_role("button", name="Play the path at real speed").wait_for()  # it stops at the end
        self.assertGreater(float(time.input_value()), float(time.get_attribute("max") or 99) - 0.1)
        # Corners are rounded slowly: the part run below its speed is drawn apart.
        self.assertGreater(page.locator("polyline[class*=slow]").count(), 4)

    def test_the_dialog_suits_gloves_readers_and_small_screens(self) -> None:
        for light in ("day", "night"):
            page = self.page("/bench", light=light)
            open_pieces(page)
            self.check(page)
        for size in (TABLET, PHONE_SIDEWAYS):
            page = self.page("/bench", size=size)
            open_pieces(page)
            small = page.get_by_role("dialog").evaluate(
                "d => [...d.querySelectorAll('button, a, summary, input')].filter(e => e.offsetParent && "
                "Math.min(e.getBoundingClientRect().height, e.getBoundingClientRect().width) < 47.5)"
                ".map(e => e.outerHTML)"
            )
            self.assertEqual(small, [], f"at {size}")
            wide = page.get_by_role("dialog").evaluate("d => d.scrollWidth - d.clientWidth")
            self.assertLessEqual(wide, 0, f"at {size}")


class Batch(Screens):
    def test_squares_cut_together_wait_and_each_is_read_as_itself(self) -> None:
        page = self.page("/bench")
        open_pieces(page)
        page.get_by_role("button", name="3", exact=True).click()
        rows = page.get_by_role("dialog").get_by_role("listitem")
        expect(rows).to_have_count(3)
        expect(rows.nth(1)).to_contain_text("5")  # after three cuts the batch is 4, 5 and 6
        expect(rows.nth(1).get_by_role("img", name="nicks: 5")).to_be_visible()
        setting = rows.nth(1).inner_text().split()
        with page.expect_download() as taken:
            page.get_by_role("link", name="2 Program").click()
        self.assertIn("(no. 6: 40 mm square", Path(taken.value.path()).read_text())
        page.get_by_role("button", name="They are cut: read them next").click()
        expect(page.get_by_role("heading", name="3 pieces are cut: turn one over")).to_be_visible()
        page.reload()
        fifth = page.get_by_role("button", name=re.compile("nicks: 5"))
        expect(fifth).to_contain_text(f"{setting[1]} mm/min, {setting[3]} mm")
        self.check(page)
        fifth.click()
        expect(page.get_by_role("heading", name="Turn piece 5 over")).to_be_visible()
        page.get_by_role("button", name="Save the cut").click()
        expect(page.get_by_text("Cut 5 is saved.")).to_be_visible()
        expect(page.get_by_role("heading", name="2 pieces are cut: turn one over")).to_be_visible()
        page.get_by_role("button", name="Piece 4 was not cut").click()
        expect(page.get_by_role("heading", name="One piece is cut: turn it over")).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("heading", name="2 pieces are cut: turn one over")).to_be_visible()
        for n in (4, 6):
            page.get_by_role("button", name=f"Piece {n} was not cut").click()
        expect(page.get_by_role("button", name="Cut it on the simulated table")).to_be_visible()


class OwnDrawing(Screens):
    def drawing(self, *, closed: bool) -> bytes:
        made = ezdxf.new("R2010", units=4)
        space = made.modelspace()
        space.add_lwpolyline([(0, 0), (90, 0), (90, 60), (0, 60)], close=closed)
        space.add_circle((45, 30), 10)
        out = io.StringIO()
        made.write(out)
        return out.getvalue().encode()

    def choose(self, page: Page, content: bytes) -> None:
        file = {"name": "gusset plate.dxf", "mimeType": "image/vnd.dxf", "buffer": content}
        page.get_by_role("dialog").locator("input[type=file]").set_input_files(file)  # type: ignore[arg-type]

    def test_a_drawing_is_refused_with_its_place_then_imported_and_cut(self) -> None:
        page = self.page("/bench")
        open_pieces(page)
        page.get_by_role("button", name="A part of your own").click()
        expect(page.get_by_text("Choose one of your parts, or import its drawing.")).to_be_visible()
        self.choose(page, self.drawing(closed=False))
        expect(page.get_by_text("a contour is open at X 0.00, Y 0.00")).to_be_visible()
        self.choose(page, self.drawing(closed=True))
        expect(page.get_by_text("Read: 90 mm × 60 mm, 1 outline, 1 hole.")).to_be_visible()
        expect(page.get_by_role("img", name=re.compile("gusset plate from above"))).to_be_visible()
        expect(page.get_by_text("1 of 2: hole 1")).to_be_visible()
        with page.expect_download() as taken:
            page.get_by_role("link", name="2 Program").click()
        self.assertIn("(Orthotome test piece: gusset plate)", Path(taken.value.path()).read_text())
        page.get_by_role("button", name="Take it off the list").click()
        expect(page.get_by_role("button", name="gusset plate")).to_have_count(0)
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("button", name="gusset plate")).to_be_visible()


if __name__ == "__main__":
    unittest.main()
