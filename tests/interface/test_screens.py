"""The real interface in headless Chromium, over a real server and the simulated table."""

import json
import re
import unittest
from pathlib import Path
from typing import ClassVar

from playwright.sync_api import Browser, Page, expect

from tests.interface.visiting import Visitor
from tools.browser import PHONE_SIDEWAYS, TABLET, Server, open_page, the_browser

AXE = (Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js").read_text()
AT_REST = """document.getAnimations().every(
    (a) => a.playState !== 'running' || a.effect.getComputedTiming().endTime === Infinity)"""
SHEET = "/book/sheet?metal=mild_steel&set=3&gas=air"
VIEWS = (
    "/bench",
    "/trials",
    "/trials/new",
    "/trials/2",
    "/book",
    "/book/recipes/1",
    SHEET,
    "/book/import",
    "/choose",
    "/height",
    "/torch",
    "/torch/jet",
    "/torch/shelf",
    "/machine",
    "/machine/square",
    "/machine/health",
    "/machine/holes",
    "/machine/motion",
    "/trouble",
    "/practice",
    "/practice/4711",
    "/ready",
    "/shop",
    "/kerf-sections",
)


class Screens(unittest.TestCase):
    flags: ClassVar[tuple[str, ...]] = ("--demo",)

    @classmethod
    def setUpClass(cls) -> None:
        cls.server = Server(*cls.flags)
        cls.addClassCleanup(cls.server.close)
        cls.browser: Browser = the_browser()

    def page(self, path: str, **screen) -> Page:  # type: ignore[no-untyped-def]
        page = open_page(self.browser, self.server.address + path, **screen)
        self.addCleanup(page.context.close)
        page.on("pageerror", lambda error: self.fail(f"{path}: {error}"))
        return page

    def check(self, page: Page, *rules: str) -> None:
        # What still fades in, or is dimmed until new advice comes, has no contrast of its own.
        expect(page.locator("[data-stale=true], [data-old=true]")).to_have_count(0)
        while not page.evaluate(
            AT_REST
        ):  # not waited for in the page: its policy lets nothing be evaluated there
            page.wait_for_timeout(50)
        if not page.evaluate("'axe' in window"):
            page.evaluate(AXE)
        only = f"runOnly: {json.dumps(rules)}, " if rules else ""
        found = page.evaluate(f"axe.run(document, {{{only}resultTypes: ['violations']}})")
        said = [f"{v['id']}: {n['html'][:140]}" for v in found["violations"] for n in v["nodes"]]
        self.assertEqual(said, [])


def open_trial(page: Page, thickness: str = "8") -> None:
    page.get_by_label("Thickness").fill(thickness)
    page.get_by_role("button", name="Open the trial").click()
    expect(page.get_by_role("heading", name="What to expect, end-on")).to_be_visible()


def turn_over(page: Page) -> None:
    page.get_by_role("button", name="It dropped: turn it over").click()
    page.get_by_role("button", name="Save the cut").wait_for()


class TheJob(Screens):
    def test_from_new_trial_to_locked_recipe(self) -> None:
        page = self.page("/trials/new")
        page.get_by_label("Name, if you like").fill("Test brackets")
        open_trial(page, "5/16")
        expect(page.get_by_role("heading", name="7.94 mm mild steel")).to_be_visible()
        lock = page.get_by_role("button", name="Lock the recipe")
        for n in range(1, 13):
            page.get_by_role("button", name="Cut it on the simulated table").click()
            page.get_by_role("button", name="Save the cut").click()
            expect(page.get_by_role("heading", name=f"Cut {n}, end-on")).to_be_visible()
            if lock.is_visible():
                break
        lock.click()
        expect(page.get_by_role("heading", name="What the recipe will hold")).to_be_visible()
        page.get_by_label("Locked by, who answers for it").fill("Wren")
        page.get_by_role("button", name="Lock it").click()
        expect(page.get_by_role("heading", name="Locked as revision 1")).to_be_visible()
        expect(page.get_by_role("button", name="Check one piece")).to_be_visible()
        # Locked by mistake: undone, the trial goes on, and the number is spent.
        page.get_by_role("button", name="Undo").click()
        page.get_by_role("button", name="Lock the recipe").click()
        page.get_by_role("button", name="Lock it").click()
        expect(page.get_by_role("heading", name="Locked as revision 2")).to_be_visible()
        page.get_by_role("link", name="The recipe", exact=True).click()
        expect(page.get_by_text("■ Revision 2, in force")).to_be_visible()
        expect(page).to_have_title(re.compile("7.94 mm mild steel, Test brackets"))
        expect(page.get_by_role("heading", name="7.94 mm mild steel, Test brackets")).to_be_visible()
        self.assertGreaterEqual(page.get_by_role("rowheader").filter(has_text="passed").count(), 1)
        page.get_by_role("link", name="Book").click()
        expect(page.get_by_role("link", name=re.compile("7.94 mm mild steel"))).to_be_visible()


class OnTheBenchOfARecipe(Screens):
    def test_its_numbers_are_those_of_its_page_and_it_is_a_place_of_work(self) -> None:
        page = self.page("/bench")
        page.request.put(
            f"{self.server.address}/api/trials/1/bench", headers={"origin": self.server.address}
        )
        setting = page.request.get(f"{self.server.address}/api/recipes/1").json()["recipe"]["setting"]
        page.reload()
        page.get_by_role("button", name="South table").click()
        expect(page.get_by_role("heading", name="Locked as revision 1")).to_be_visible()
        numbers = page.get_by_label("3 mm stainless steel").locator("dl")
        for shown in (
            f"{setting['speed_mm_min']:.0f}",
            f"{setting['arc_voltage_v']:.1f}",
            f"{setting['cut_height_mm']:.2f}",
            f"kerf {setting['kerf_mm']:.2f}",
        ):
            expect(numbers).to_contain_text(shown)
        expect(page.get_by_role("link", name="Ready?")).to_be_visible()
        page.get_by_role("button", name="Program").click()
        expect(page.get_by_role("button", name="It is cut")).to_have_count(0)


class Logging(Screens):
    def keys(self, page: Page, typed: str) -> int:
        for key in typed:
            page.get_by_role("button", name=key, exact=True).click()
        return len(typed)

    def test_a_square_is_logged_in_14_touches(self) -> None:
        page = self.page("/trials/new", size=TABLET, touch=True)
        open_trial(page)
        touches = 1
        page.get_by_role("button", name="It dropped: turn it over").click()
        touches += self.keys(page, "24110906")
        touches += self.keys(page, "128")
        page.get_by_role("button", name=re.compile("None")).click()
        page.get_by_role("button", name="Save the cut").click()
        touches += 2
        expect(page.get_by_role("heading", name="Cut 1, end-on")).to_be_visible()
        print(f"\na square logged in {touches} touches")
        self.assertLessEqual(touches, 14)

    def test_undercut_ten_degrees_and_the_other_unit(self) -> None:
        page = self.page("/trials/new")
        open_trial(page)
        turn_over(page)
        page.keyboard.type("-24")
        page.keyboard.type("11")
        page.get_by_role("button", name=re.compile("ten degrees or more")).click()
        edge = page.get_by_role("button", name=re.compile("Kept edge, cut .*: −"))
        expect(edge.first).to_have_attribute("aria-label", "Kept edge, cut away from you: −2.4°")
        expect(edge.nth(1)).to_have_attribute("aria-label", "Kept edge, cut to the right: −11.0°")
        page.get_by_role("button", name="Later: keep what is typed").click()
        page.get_by_role("button", name="mm · mm/min").click()
        page.get_by_role("button", name="mm · m/min").click()
        expect(page.get_by_text("in/min").first).to_be_visible()
        page.get_by_role("button", name="in · in/min").click()
        page.get_by_role("button", name="thou · in/min").click()

    def test_a_half_typed_log_outlives_the_page_and_the_server(self) -> None:
        page = self.page("/trials/new")
        open_trial(page, "12")
        turn_over(page)
        with page.expect_request_finished(
            lambda r: r.url.endswith("/draft") and r"\"13\"" in (r.post_data or "")
        ):
            page.keyboard.type("24-13")
        page.close()
        self.server.kill()
        self.server.start()
        # Another screen, with nothing of its own: what is there came from the server.
        other = self.page("/bench")
        other.get_by_role("button", name="Go on with the half-typed log").click()
        edges = other.get_by_role("button", name=re.compile("Kept edge"))
        expect(edges.first).to_have_attribute("aria-label", "Kept edge, cut away from you: +2.4°")
        expect(edges.nth(1)).to_have_attribute("aria-label", "Kept edge, cut to the right: −1.3°")


class ByKeyboard(Screens):
    def test_a_cut_is_logged_without_the_hand_leaving_the_keys(self) -> None:
        page = self.page("/trials/new")
        open_trial(page)
        page.keyboard.press("l")
        page.get_by_role("button", name="Save the cut").wait_for()
        page.keyboard.type("24")
        page.keyboard.press("ArrowLeft")
        page.keyboard.type("31")  # the first edge once more
        page.keyboard.press("v")
        page.keyboard.type("127")  # volts never land on an edge
        page.keyboard.press("ArrowRight")
        page.keyboard.type("48")  # the scrap, with the sign it usually has
        page.get_by_role("button", name=re.compile("Kept edge, cut to the right")).focus()
        page.keyboard.type("11")
        page.keyboard.press("Tab")
        page.keyboard.type("-09hccbs")
        edges = page.get_by_role("button", name=re.compile("edge.*, cut "))
        expect(edges.first).to_have_attribute("aria-label", "Kept edge, cut away from you: +3.1°")
        page.get_by_role("button", name="Kerf, arc, note").click()
        page.get_by_role("button", name="It went out").click()
        page.get_by_label("Kerf, mean of top and bottom").fill("1.9")
        page.get_by_label("Lag of the lines on the edge").fill("4")
        page.get_by_role("button", name="Edges", exact=True).click()
        expect(page.get_by_role("button", name="Save the cut")).to_be_enabled()
        page.keyboard.press("Control+Enter")
        expect(page.get_by_role("heading", name="Cut 1, end-on")).to_be_visible()
        cut = page.request.get(f"{self.server.address}/api/trials/4/bench").json()["cuts"][0]
        read = {(e["side"], e["heading_deg"]): e["bevel_deg"] for e in cut["edges"]}
        self.assertEqual(read[("right", 90)], 3.1)
        self.assertEqual(read[("left", 0)], 4.8)
        self.assertIn(-0.9, read.values())
        self.assertEqual((cut["arc_voltage_v"], cut["through"], cut["arc_lost"]), (127, "partial", True))
        self.assertEqual((cut["kerf_mm"], cut["lag_deg"]), (1.9, 4))
        self.assertEqual(
            sorted((d["kind"], d["grade"]) for d in cut["dross"]),
            [("high_speed", 1), ("low_speed", 2), ("top_spatter", 1)],
        )
        # A stray log is thrown away, and had back.
        page.keyboard.press("l")
        page.keyboard.type("2")
        page.get_by_role("button", name="Throw it away").click()
        expect(page.get_by_role("button", name="Go on with the half-typed log")).to_have_count(0)
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("button", name="Go on with the half-typed log")).to_be_visible()


class OnTheScreen(Screens):
    def seen(self, page: Page, *names: str) -> None:
        for name in names:
            button = page.get_by_role("button", name=name, exact=True)
            what = page.get_by_text(name) if name.endswith("fume") else button.first
            what.wait_for()
            box = what.bounding_box()
            assert box is not None
            width, height = page.viewport_size["width"], page.viewport_size["height"]  # type: ignore[index]
            inside = box["y"] >= 0 and box["y"] + box["height"] <= height + 1
            self.assertTrue(
                inside and box["x"] + box["width"] <= width + 1, f"{name} at {width}×{height}"
            )

    def test_the_caution_and_the_button_that_acts_are_there_at_every_size(self) -> None:
        fume = "Chromium VI and nickel in the fume"
        for size in ((1280, 800), TABLET, PHONE_SIDEWAYS):
            page = self.page("/trials/new", size=size)
            page.get_by_role("button", name="stainless steel").click()
            page.get_by_role("button", name=re.compile("45 A sheet set")).click()
            page.get_by_label("Thickness").fill("3")
            self.seen(page, "Open the trial", fume)
            page.get_by_role("button", name="Open the trial").click()
            page.get_by_role("heading", name="What to expect, end-on").wait_for()
            self.seen(page, "It dropped: turn it over", "Hung on", "Program", fume)
            turn_over(page)
            self.seen(page, "Save the cut", *"0123456789", "Next", "Bottom out", "Undercut")
            page.goto(f"{self.server.address}/ready")
            self.seen(page, "Understood", "Not right")


class ReadingAgain(Screens):
    def test_an_edge_is_read_once_more_before_steel_and_its_first_reading_stays(self) -> None:
        page = self.page("/trials/new")
        open_trial(page)
        turn_over(page)
        page.keyboard.type("04025003")
        page.get_by_role("button", name=re.compile("None")).click()
        page.get_by_role("button", name="Save the cut").click()
        asked = page.get_by_role("button", name="First read piece 1 again")
        expect(asked).to_contain_text("+5.0° does not fit the others")
        asked.click()
        first = page.get_by_role("button", name="Once more: kept edge, cut toward you")
        expect(first).to_have_attribute("aria-pressed", "true")
        page.keyboard.type("03")
        page.get_by_role("button", name="Save the correction").click()
        expect(page.get_by_text("Cut 1 is saved.")).to_be_visible()
        expect(page.get_by_text("+5.0° does not fit the others")).to_have_count(0)
        # The old reading stays, struck through in the picture.
        expect(page.get_by_role("img", name=re.compile(r"\+5\.0°, likely misread"))).to_be_visible()
        page.get_by_role("link", name="All cuts and readings").click()
        for read in ("+5.0°", "+0.3°"):
            edge = page.locator("dl > div").filter(has_text="Cut toward you, right")
            expect(edge.filter(has_text=read)).to_have_count(1)


class Changing(Screens):
    def test_a_cut_made_otherwise_and_who_made_it(self) -> None:
        page = self.page("/bench")
        page.get_by_role("button", name="Who?").click()
        page.get_by_label("Name, kept with what is logged").fill("Ash")
        page.get_by_role("button", name="Done").click()
        page.get_by_role("button", name="South table").click()
        turn_over(page)
        page.get_by_role("button", name="cut otherwise?").click()
        page.get_by_label("Speed as cut").fill("130 ipm")
        page.get_by_label("Height as cut").fill("0.06 in")
        # A number that is questioned holds the saving until somebody says that it is right, or another.
        page.get_by_label("Speed as cut").fill("90000")
        expect(page.get_by_text("waits for your answer")).to_be_visible()
        expect(page.get_by_role("button", name="Save the cut")).to_be_disabled()
        page.get_by_label("Speed as cut").fill("130 ipm")
        page.get_by_role("button", name="Save the cut").click()
        expect(page.get_by_text("3302 · 1.52")).to_be_visible()
        page.goto(f"{self.server.address}/trials/3")
        expect(page.get_by_text(", Ash")).to_be_visible()

    def test_target_and_limits_are_changed_with_their_reasons_for_refusal(self) -> None:
        page = self.page("/trials/2")
        page.get_by_role("button", name="Target and limits").click()
        page.get_by_role("button", name="3°").click()
        page.get_by_label("Slowest").fill("2400")
        page.get_by_role("button", name="Change").click()
        expect(page.get_by_role("alert")).to_contain_text("lies outside")
        page.get_by_label("Slowest").fill("1200")
        page.get_by_role("button", name="Change").click()
        expect(page.get_by_text("square within 3.0°")).to_be_visible()


class Fitted(Screens):
    def test_new_parts_in_two_touches_undone_again_and_a_second_table(self) -> None:
        page = self.page("/bench")
        fitted = page.get_by_role("button", name=re.compile("70 A plate set fitted"))
        starts = fitted.inner_text()
        fitted.click()
        page.get_by_role("button", name="New parts of this set").click()
        expect(
            page.get_by_role("button", name=re.compile("70 A plate set fitted, 0 starts"))
        ).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(fitted).to_have_text(starts)
        fitted.click()
        page.get_by_label("Another table").fill("Back room")
        page.get_by_role("button", name="Add it").click()
        expect(page.get_by_role("heading", name="Nothing on the Back room")).to_be_visible()
        page.get_by_role("button", name="No torch set noted").click()
        page.get_by_role("button", name="100 A heavy set").click()
        expect(page.get_by_role("button", name=re.compile("100 A heavy set fitted"))).to_be_visible()


class TwoScreens(Screens):
    def test_each_sees_the_others_cut_and_no_edit_is_overwritten_unseen(self) -> None:
        one, other = self.page("/bench"), self.page("/bench")
        expect(other.get_by_role("heading", name="Cut 3, end-on")).to_be_visible()
        one.get_by_role("button", name="Cut it on the simulated table").click()
        one.get_by_role("button", name="Save the cut").click()
        expect(other.get_by_role("heading", name="Cut 4, end-on")).to_be_visible()
        for page in (one, other):
            page.goto(f"{self.server.address}/trials/2")
            expect(page.get_by_role("button", name="Correct")).to_have_count(4)  # all are there
            page.get_by_role("button", name="Correct").last.click()
            page.get_by_role("button", name="Hung on").click()
        one.get_by_role("button", name="Save the correction").click()
        expect(one.get_by_text("Cut 1 is saved")).to_be_visible()
        other.get_by_role("button", name="Not through").click()
        other.get_by_role("button", name="Save the correction").click()
        expect(other.get_by_text("Changed on another screen")).to_be_visible()
        expect(one.get_by_text("Hung on")).to_be_visible()
        other.get_by_role("button", name="Save mine").click()
        expect(one.get_by_text("Not through", exact=True).first).to_be_visible()

    def test_a_struck_cut_comes_back_by_undo(self) -> None:
        page = self.page("/trials/2")
        page.get_by_role("button", name="Strike out").first.click()
        expect(page.get_by_role("button", name="Count it again")).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("button", name="Count it again")).to_have_count(0)


class AroundTheBench(Screens):
    def test_a_leaning_jet_is_handed_off_and_put_right(self) -> None:
        page = self.page("/trials/new")
        open_trial(page)
        for n in (1, 2):
            turn_over(page)
            page.keyboard.type("-45")  # cut away: -4.5
            page.keyboard.type("05-45")  # to the right: -0.5; toward: the sign turned back, +4.5
            page.keyboard.type("05")  # to the left: +0.5
            page.keyboard.type("128")
            page.get_by_role("button", name=re.compile("None")).click()
            page.get_by_role("button", name="Save the cut").click()
            expect(page.get_by_role("heading", name=f"Cut {n}, end-on")).to_be_visible()
        expect(page.get_by_role("heading", name=re.compile("Stop"))).to_be_visible()
        expect(page.get_by_text("The jet leans", exact=True)).to_be_visible()
        page.get_by_role("button", name="The jet is set upright: go on").click()
        expect(page.get_by_role("heading", name="Cut this next")).to_be_visible()

    def test_the_map_can_be_read_as_a_table_and_numbers_say_where_they_came_from(self) -> None:
        page = self.page("/bench")
        page.get_by_role("button", name="Table", exact=True).click()
        expect(page.get_by_role("table")).to_contain_text("Chance in 100, by height")
        page.get_by_role("button", name="Cut height: where it came from").click()
        expect(page.get_by_text("Between the Book's rows at 6 mm")).to_be_visible()

    def test_keys_and_night_are_kept(self) -> None:
        page = self.page("/bench")
        page.get_by_role("button", name="Night").click()
        page.keyboard.press("k")
        expect(page.get_by_role("heading", name="Recipes, proven here")).to_be_visible()
        page.reload()
        expect(page.get_by_role("heading", name="Recipes, proven here")).to_be_visible()
        self.assertEqual(page.evaluate("document.documentElement.dataset.theme"), "night")
        page.keyboard.press("?")
        expect(page.get_by_role("dialog")).to_contain_text("Log the cut on the Bench")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)

        page.keyboard.press("t")
        page.get_by_label("Find a trial").fill("stainless gate")
        expect(page.get_by_role("link", name=re.compile("3 mm stainless steel"))).to_be_visible()
        expect(page.get_by_role("link", name=re.compile("8 mm mild steel"))).to_have_count(0)
        page.get_by_label("Find a trial").fill("unobtainium")
        expect(page.get_by_text("No trial matches that.")).to_be_visible()

    def test_a_server_that_is_gone_is_said_so_and_the_log_is_kept(self) -> None:
        page = self.page("/bench")
        page.get_by_role("button", name="South table").click()
        turn_over(page)
        page.keyboard.type("2411")
        page.route("**/api/**", lambda route: route.abort())
        # What was seen before stays on the screen, with a line that says so.
        expect(page.get_by_text("Orthotome does not answer.")).to_be_visible()
        page.get_by_role("button", name="Save the cut").click()
        expect(page.get_by_text("1 log waits on this screen.")).to_be_visible()
        expect(page.get_by_role("heading", name="What to expect, end-on")).to_be_visible()
        page.unroute("**/api/**")
        expect(page.get_by_role("heading", name="Cut 1, end-on")).to_be_visible()


class Entry(Screens):
    def test_gauges_fractions_and_absurd_values(self) -> None:
        page = self.page("/trials/new")
        thickness = page.get_by_label("Thickness")
        thickness.fill("14 ga")
        expect(page.get_by_text("1.90 mm. Plate is seldom just what it is sold as")).to_be_visible()
        expect(page.get_by_text("Past 15 % Orthotome does not guess")).to_be_visible()
        page.get_by_role("button", name="stainless steel").click()
        expect(page.get_by_text("1.98 mm. Plate is seldom just what it is sold as")).to_be_visible()
        page.get_by_role("button", name="copper").click()
        expect(page.get_by_text("there is no gauge table for copper")).to_be_visible()
        page.get_by_role("button", name="mild steel", exact=True).click()
        thickness.fill("8")
        page.get_by_role("button", name="Type your own numbers").click()
        page.get_by_label("Speed").fill("95")
        expect(page.get_by_text("Did you mean 95 in/min?")).to_be_visible()
        page.get_by_label("Speed").fill("140 ipm")
        expect(page.get_by_text("Did you mean")).to_have_count(0)
        page.get_by_role("button", name="Open the trial").click()
        expect(page.get_by_text("3556", exact=True)).to_be_visible()

    def test_a_file_that_cannot_be_used_is_refused_in_words(self) -> None:
        page = self.page("/trials")
        body = json.dumps({"format": "orthotome.campaign", "version": 1}).encode()
        file = {"name": "x.json", "mimeType": "application/json", "buffer": body}
        page.get_by_label("Open from a file").set_input_files(file)  # type: ignore[arg-type]
        expect(page.get_by_role("alert")).to_contain_text("metal: is missing")


class EmptyShop(Screens):
    flags = ()

    def test_a_first_trial_from_nothing(self) -> None:
        page = self.page("/bench")
        page.get_by_role("link", name="The table").click()
        page.get_by_label("Name your table").fill("Cart table")
        page.get_by_role("button", name="Add the table").click()
        page.get_by_label("Name of the torch set").fill("Sixty set")
        page.get_by_label("Amperage its nozzle is rated for").fill("60")
        page.get_by_role("button", name="Add the torch set").click()
        page.get_by_label("Thickness").fill("6")
        expect(page.get_by_text("The Book has no rows for mild steel")).to_be_visible()
        page.get_by_role("button", name=re.compile("Type the numbers from the manual")).click()
        page.get_by_label("Speed").fill("2500")
        page.get_by_label("Cut height").fill("1.5")
        # Nothing that nobody gave reaches a program: it is asked for.
        still = page.get_by_text("Still to be given: pierce height, pierce delay, kerf")
        expect(still).to_be_visible()
        expect(page.get_by_role("button", name="Open the trial")).to_have_count(0)
        page.get_by_label("Pierce height").fill("4.3")
        page.get_by_label("Pierce delay").fill("0.65")
        page.get_by_label("Kerf").fill("1.7")
        page.get_by_role("button", name="Open the trial").click()
        expect(page.get_by_text("Not known yet: cut at fixed height")).to_be_visible()
        opened = page.request.get(f"{self.server.address}/api/trials/1/bench").json()["trial"]["start"]
        given = {"pierce_height_mm": 4.3, "pierce_delay_s": 0.65, "kerf_mm": 1.7}
        self.assertEqual({n: opened[n] for n in given}, given)
        expect(page.get_by_role("button", name="Cut it on the simulated table")).to_have_count(0)


class AxeByDayAndByNight(Screens):
    def test_axe_finds_nothing_on_any_view(self) -> None:
        page = self.page("/bench")
        visitor = Visitor(page)
        for path in VIEWS:
            with self.subTest(path):
                visitor.go(path)
                light = page.locator("html").get_attribute("data-theme")
                self.check(page)
                other = "Night" if light == "day" else "Day"
                if (turn := page.get_by_role("button", name=other, exact=True)).count():
                    turn.click()
                else:  # a sheet, which has no light of its own
                    page.evaluate(
                        "light => document.documentElement.dataset.theme = light", other.lower()
                    )
                expect(page.locator("html")).to_have_attribute("data-theme", other.lower())
                self.check(page, "color-contrast")  # all else is as it was in the light before

    def test_axe_finds_nothing_in_the_log(self) -> None:
        for light in ("day", "night"):
            page = self.page("/bench", light=light)
            page.get_by_role("button", name="It dropped: turn it over").click()
            page.get_by_role("button", name="Save the cut").wait_for()
            self.check(page)


class EveryRoomOfAnEmptyShop(Screens):
    """What no one has filled in yet: every room opens, asks for nothing that fails, and says what to do."""

    flags = ()

    def walk(self) -> list[str]:
        failed: list[str] = []
        page = self.page("/bench")
        visitor = Visitor(page)
        page.on("response", lambda r: failed.append(f"{r.status} {r.url}") if r.status >= 400 else None)
        page.on("console", lambda m: failed.append(m.text) if m.type == "error" else None)
        for path in (*(v for v in VIEWS if v not in _OF_RECORDS), *_MORE_DOORS):
            visitor.go(path)
            if page.get_by_text("does not answer").count():
                failed.append(f"{path}: does not answer")
        return failed

    def test_without_a_table_and_with_one_that_nothing_is_known_of(self) -> None:
        self.assertEqual(self.walk(), [])
        page = self.page("/trials/new")
        page.get_by_label("Name your table").fill("First table")
        page.get_by_role("button", name="Add the table").click()
        expect(page.get_by_role("button", name="First table").first).to_be_visible()
        self.assertEqual(self.walk(), [])


_OF_RECORDS = ("/trials/2", "/book/recipes/1", SHEET)
_MORE_DOORS = (
    "/programs",
    "/height/set-point",
    "/height/timing",
    "/height/loop",
    "/height/recordings",
    "/height/signal-path",
)


class Accessible(Screens):
    def test_nothing_is_fetched_from_elsewhere_and_targets_suit_gloves(self) -> None:
        for size in ((1280, 800), TABLET, PHONE_SIDEWAYS):
            page = self.page("/bench", size=size)
            page.on("request", lambda r: self.assertTrue(r.url.startswith(self.server.address), r.url))
            page.get_by_role("button", name="It dropped: turn it over").wait_for()
            small = page.evaluate(
                "[...document.querySelectorAll('button, a, summary')].filter(e => e.offsetParent && "
                "Math.min(e.getBoundingClientRect().height, e.getBoundingClientRect().width) < 47.5)"
                ".map(e => e.textContent + ' ' + e.getBoundingClientRect().height)"
            )
            self.assertEqual(small, [], f"at {size}")
            wide = page.evaluate("document.documentElement.scrollWidth - innerWidth")
            self.assertLessEqual(wide, 0, f"at {size} the page scrolls sideways")


if __name__ == "__main__":
    unittest.main()
