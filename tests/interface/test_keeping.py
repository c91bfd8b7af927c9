"""Nothing lost, seen from the screen: backups, a server that goes away, and the tablet on the shop's network."""

import json
import re
import urllib.request
from typing import ClassVar

from playwright.sync_api import Page, expect

from tests.interface.test_screens import Screens, open_trial, turn_over
from tools.browser import TABLET


class Records(Screens):
    def test_a_backup_is_made_and_brings_the_records_back(self) -> None:
        page = self.page("/shop")
        page.get_by_role("button", name="Back up now").click()
        expect(page.get_by_text("made by hand")).to_be_visible()
        page.goto(f"{self.server.address}/trials/new")
        page.get_by_label("Name, if you like").fill("Opened after the backup")
        open_trial(page)
        page.get_by_role("link", name="Shop").click()
        made = page.get_by_role("listitem").filter(has_text="made by hand")
        made.get_by_role("button", name="Restore").click()
        page.get_by_role("button", name="Restore the records").click()
        expect(page.get_by_text("before a restore")).to_be_visible()
        page.get_by_role("link", name="Trials").click()
        expect(page.get_by_text("Hopper sides").first).to_be_visible()
        expect(page.get_by_text("Opened after the backup")).to_have_count(0)


class ServerGone(Screens):
    def test_a_log_typed_while_the_server_is_gone_arrives_once(self) -> None:
        page = self.page("/trials/new")
        open_trial(page, "10")
        turn_over(page)
        page.keyboard.type("2411")
        self.server.kill()
        page.keyboard.type("0906")
        page.get_by_role("button", name="Save the cut").click()
        expect(page.get_by_text("1 log waits on this screen.")).to_be_visible()
        self.server.start()
        expect(page.get_by_text("log waits on this screen")).to_have_count(0)
        expect(page.get_by_role("heading", name="Cut 1, end-on")).to_be_visible()
        page.reload()
        expect(page.get_by_role("heading", name="Cut 1, end-on")).to_be_visible()
        with urllib.request.urlopen(f"{self.server.address}/api/trials") as answer:
            newest = json.loads(answer.read())["lines"][0]
        self.assertEqual((newest["trial"]["thickness_mm"], newest["cuts"]), (10, 1))

    def test_a_number_that_is_asked_about_once_it_arrives_can_be_insisted_on(self) -> None:
        page = self.page("/bench")
        turn_over(page)
        page.locator('[data-slot="volts"]').click()
        page.keyboard.type("2050")
        page.route("**/api/**", lambda route: route.abort())
        page.get_by_role("button", name="Save the cut").click()
        expect(page.get_by_text("1 log waits on this screen.")).to_be_visible()
        page.unroute("**/api/**")
        expect(page.get_by_text("Kept on this screen, not logged: 205 V again?")).to_be_visible()
        page.get_by_role("button", name="It is right: log it").click()
        expect(page.get_by_text("Kept on this screen, not logged")).to_have_count(0)
        expect(page.get_by_text("log waits on this screen")).to_have_count(0)  # it has arrived
        with urllib.request.urlopen(f"{self.server.address}/api/tables") as answer:
            on_bench = json.loads(answer.read())[0]["bench_trial_id"]
        with urllib.request.urlopen(f"{self.server.address}/api/trials/{on_bench}/bench") as answer:
            self.assertEqual(json.loads(answer.read())["cuts"][-1]["arc_voltage_v"], 205.0)


class TheTablet(Screens):
    flags: ClassVar[tuple[str, ...]] = ("--demo", "--lan", "--lan-host", "127.0.0.2", "--lan-port", "0")

    def tablet(self) -> Page:
        """A screen of the network that was told to trust the certificate, as its user compared it."""
        context = self.browser.new_context(
            viewport={"width": TABLET[0], "height": TABLET[1]},
            has_touch=True,
            ignore_https_errors=True,
            reduced_motion="reduce",
        )
        self.addCleanup(context.close)
        page = context.new_page()
        page.set_default_timeout(120_000)
        return page

    def test_from_a_stranger_to_a_cut_that_carries_a_name_and_out_again(self) -> None:
        desk = self.page("/shop")
        desk.get_by_role("button", name="Somebody new").click()
        desk.get_by_label("Name").fill("Ash")
        desk.get_by_label("PIN, 4 to 8 digits").fill("4711")
        desk.get_by_role("button", name="Add").click()
        desk.get_by_role("button", name="Let a device in").click()
        said = desk.get_by_text(re.compile("Read the square"))
        address = said.locator("strong").inner_text().removesuffix("/pair")
        code = desk.get_by_text(re.compile(r"^[0-9A-Z]{4} [0-9A-Z]{4}$")).inner_text()
        tablet = self.tablet()
        tablet.goto(f"{address}/bench")
        expect(tablet.get_by_role("heading", name="Let this device in")).to_be_visible()
        self.check(tablet)
        for typed in ("WRONG123", code):
            tablet.get_by_label("Pairing code").fill(typed)
            tablet.get_by_label("What this device is called").fill("cart tablet")
            tablet.get_by_role("button", name="Let it in").click()
        turn_over(tablet)
        tablet.get_by_role("button", name="2", exact=True).click()
        # Whatever is kept needs a name: it is asked for at the first digit, and the log stays as it was.
        expect(tablet.get_by_role("heading", name="Who is it?")).to_be_visible()
        tablet.get_by_role("button", name="Ash").click()
        tablet.keyboard.type("4711")
        tablet.get_by_role("button", name="Sign on", exact=True).last.click()
        expect(tablet.get_by_role("heading", name="Who is it?")).to_have_count(0)
        tablet.get_by_role("button", name="4", exact=True).click()
        tablet.get_by_role("button", name="Save the cut").click()
        expect(tablet.get_by_role("heading", name="Cut 4, end-on")).to_be_visible()
        expect(desk.get_by_text("Ash is signed on")).to_be_visible()
        desk.get_by_role("button", name="Put out").click()
        expect(tablet.get_by_role("heading", name="Let this device in")).to_be_visible()
