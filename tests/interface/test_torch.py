"""The torch's room at the screen: parts swapped and put back, looked at, the trim on the Bench, a recipe watched."""

import re
from typing import Any

from playwright.sync_api import Page, expect

from tests.interface.test_screens import Screens
from tools.browser import TABLET

NORTH, SOUTH = 1, 2
HALF_WAY = 2


class Parts(Screens):
    def send(self, page: Page, method: str, path: str, body: Any = None) -> Any:
        answer = page.request.fetch(f"{self.server.address}/api{path}", method=method, data=body)
        self.assertTrue(answer.ok, answer.text())
        return answer.json()

    def test_one_part_is_swapped_and_put_back_with_its_history(self) -> None:
        page = self.page("/torch", size=TABLET, touch=True)
        inside = page.get_by_label("The torch in section")
        nozzle = inside.get_by_role("button", name=re.compile("nozzle"))
        starts = nozzle.locator("b").inner_text()
        self.assertGreater(int(starts), 0)
        self.check(page)
        nozzle.tap()
        detail = page.get_by_role("region", name="The nozzle")
        name = detail.get_by_role("heading").inner_text()
        detail.get_by_role("button", name="Change it").tap()
        detail.get_by_role("button", name="good: put aside").tap()
        expect(nozzle.locator("b")).to_have_text("0")
        tray = page.get_by_role("region", name="In the tray")
        row = tray.get_by_role("listitem").filter(has_text=name)
        expect(row).to_contain_text(f"{starts} starts")
        row.get_by_role("button", name="Put it back in").tap()
        expect(nozzle.locator("b")).to_have_text(starts)
        electrode = inside.get_by_role("button", name=re.compile("electrode"))
        expect(electrode.locator("b")).to_have_text(starts)
        self.check(page)

    def test_a_part_is_looked_at_and_its_pit_measured_with_a_ball(self) -> None:
        page = self.page("/torch")
        self.send(page, "POST", f"/tables/{NORTH}/counts", {"starts": 300, "arc_on_s": 4000})
        page.reload()
        page.get_by_role("button", name="Look at it").click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_text("Power isolated at the source")).to_be_visible()
        dialog.get_by_role("button", name=re.compile("off to one side")).click()
        dialog.get_by_role("button", name="a calliper and a ball").click()
        dialog.get_by_label("Length to the rim").fill("40")
        dialog.get_by_label("Length over the ball in the pit").fill("39")
        dialog.get_by_label("Ball", exact=True).fill("1.5")
        expect(dialog.get_by_text("must be more than the length to the rim")).to_be_visible()
        expect(dialog.get_by_role("button", name="Note it")).to_be_disabled()
        dialog.get_by_label("Length over the ball in the pit").fill("41.1")
        expect(dialog.get_by_text("Pit 0.40 ± 0.04 mm")).to_be_visible()
        self.check(page)
        dialog.get_by_role("button", name="Note it").click()
        looked = page.get_by_label("Looked at", exact=True)
        expect(looked).to_contain_text("pit 0.40 ± 0.04 mm")
        page.get_by_text("As numbers").click()
        expect(page.get_by_role("rowheader", name=re.compile("measured")).last).to_be_visible()

    def test_a_trim_that_is_due_stands_on_the_bench_and_is_told_by_one_touch(self) -> None:
        page = self.page("/height/set-point")
        self.send(page, "PUT", f"/trials/{HALF_WAY}/control", {"school": "measured"})
        told = self.send(page, "GET", f"/trials/{HALF_WAY}/trim")["told_v"]
        height = self.send(page, "GET", f"/trials/{HALF_WAY}/height")
        self.send(page, "POST", f"/tables/{NORTH}/counts", {"starts": 500, "arc_on_s": 7000})
        strip = {
            "key": "worn",
            "piece": "strip",
            "speed_mm_min": 2000,
            "cut_height_mm": height["cut_height_mm"],
            "height_control": "off",
            "arc_voltage_v": round(told + 4.5, 1),
            "edges": [],
        }
        self.send(page, "POST", f"/trials/{HALF_WAY}/cuts", strip)
        page.get_by_role("link", name="Bench", exact=True).click()
        line = page.get_by_role("region", name="Set-point as the parts wear")
        expect(line).to_contain_text("closer than was proven")
        self.check(page)
        line.get_by_role("button", name=re.compile(r"^Raise it to")).click()
        expect(page.get_by_text("set it on the control too")).to_be_visible()
        expect(line).to_have_count(0)
        page.get_by_role("link", name="Torch", exact=True).click()
        expect(page.get_by_text("It still holds the proven height")).to_be_visible()

    def test_a_recipe_is_checked_until_it_says_re_tune_only_height(self) -> None:
        page = self.page("/book/recipes/1")
        expect(page.get_by_role("heading", name="Not checked yet")).to_be_visible()
        for n, bevel in enumerate(("-0.9", "3.7", "3.9", "3.8")):
            self.send(page, "POST", f"/tables/{SOUTH}/counts", {"starts": 100})
            page.get_by_role("button", name="Read a piece against it").click()
            dialog = page.get_by_role("dialog")
            dialog.get_by_label("The edge farthest from square").fill(bevel)
            dialog.get_by_role("button", name="Note it").click()
            expect(page.get_by_role("button", name="Strike out")).to_have_count(n + 1)
            if n == 0:
                expect(page.get_by_role("heading", name="Still holds")).to_be_visible()
        expect(page.get_by_role("heading", name="Moved")).to_be_visible()
        expect(page.get_by_text("Re-tune only height")).to_be_visible()
        self.check(page)
        page.get_by_text("How often to check:").click()
        page.get_by_label("A bad part costs").fill("20")
        page.get_by_label("A check costs").fill("4")
        expect(page.get_by_text(re.compile(r"Check one part in \d+"))).to_be_visible()
