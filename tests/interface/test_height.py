"""The room of height at the screen: the live cut, trims, what is told the control, recordings."""

import re
import tempfile
import unittest
from pathlib import Path

from playwright.sync_api import Page, expect

from orthotome.formats.height.trace_csv import write_trace_csv
from tests.interface.test_screens import Screens
from tests.traces import MadeTrace
from tools.browser import TABLET


class HeightRoom(Screens):
    def listening(self, page: Page) -> None:
        expect(page.get_by_role("status").filter(has_text="Listening")).to_be_visible()

    def test_a_cut_watched_trimmed_and_logged_with_its_volts(self) -> None:
        page = self.page("/height/set-point", size=TABLET, touch=True)
        measured = page.get_by_role("article").filter(has_text="Measured at the proven height")
        measured.get_by_role("button", name="Go by this").tap()
        expect(measured.get_by_text("Chosen for this trial")).to_be_visible()
        expect(page.get_by_role("heading", name="Tell the control")).to_be_visible()
        self.check(page)
        page.get_by_role("link", name="Live cut").tap()
        self.listening(page)
        page.get_by_role("button", name="Square, under control").tap()
        up = page.get_by_role("button", name="+0.5 V")
        expect(up).to_be_enabled()
        up.tap()
        expect(page.get_by_text(re.compile(r"Noted: \+0.5 V at [\d.]+ s"))).to_be_visible()
        page.reload()
        expect(page.get_by_text(re.compile(r"Noted: \+0.5 V at [\d.]+ s"))).to_be_visible()
        self.check(page)
        page.get_by_role("link", name="Bench").tap()
        expect(page.get_by_label("Live cut", exact=True)).to_be_visible()
        page.get_by_role("link", name="Height").tap()
        ended = page.get_by_role("region", name="The last cut")
        expect(ended).to_be_visible()
        steady = ended.locator("b").inner_text()
        page.get_by_role("link", name="Bench").tap()
        page.get_by_role("button", name="It dropped: turn it over").tap()
        expect(page.get_by_text(re.compile(f"Volts from the recording: {steady} V"))).to_be_visible()
        page.get_by_role("button", name="Save the cut").tap()
        expect(page.get_by_text(re.compile(r"Cut \d+ is saved"))).to_be_visible()
        page.get_by_role("link", name="Height").tap()
        page.get_by_role("link", name="Recordings").tap()
        page.get_by_role("link", name=re.compile(r"^Cut \d+")).tap()
        expect(page.get_by_text(re.compile(r"Trimmed: \+0.5 V at"))).to_be_visible()
        self.check(page)
        page.get_by_role("link", name="Set-point").tap()
        expect(page.get_by_text("In the last recording it was trimmed by +0.5 V")).to_be_visible()
        page.get_by_role("button", name="Keep it in the setting").tap()
        expect(page.get_by_text("In the last recording it was trimmed")).to_have_count(0)

    def test_files_are_taken_in_and_laid_side_by_side(self) -> None:
        page = self.page("/height/recordings")
        with tempfile.TemporaryDirectory() as folder:
            for name, made in (("one", MadeTrace().corner(4)), ("two", MadeTrace(seed=2).crossing(6))):
                file = Path(folder) / f"{name}.csv"
                text = write_trace_csv(made.made(feed=True)).replace("arc_voltage_v", "U (V)")
                file.write_text(text, encoding="utf-8")
                page.get_by_role("button", name="Take in a file").click()
                page.get_by_label("CSV file of a recording").set_input_files(file)
                page.get_by_label("Arc voltage: column").select_option("U (V)")
                self.check(page)
                page.get_by_role("button", name="Take it in").click()
                expect(page.get_by_role("heading", name=f"{name}.csv")).to_be_visible()
                page.get_by_role("link", name="All recordings").click()
                # Another program's way of writing it; what can hardly be so is asked about, and taken in when it is right.
                feed, rows = 2100 / 25.4 / 3, [r.split(",") for r in text.splitlines()[1:]]
                messy = "made up\nU;Feed\nV;mm/min\n" + "".join(f"{r[1]};{feed:.1f}\n" for r in rows)
                file.write_text(messy, encoding="utf-8")
                page.get_by_role("button", name="Take in a file").click()
                page.get_by_label("CSV file of a recording").set_input_files(file)
                expect(page.get_by_text("The line above the headings was passed over.")).to_be_visible()
                page.get_by_label("Arc voltage: column").select_option("U")
                page.get_by_label("Time from row to row").fill("0.01")
                page.get_by_role("button", name="Take it in").click()
                expect(page.get_by_text(re.compile("is no cutting speed"))).to_be_visible()
                page.get_by_role("button", name="It is right").click()
                expect(page.get_by_role("heading", name=f"{name}.csv")).to_be_visible()
                page.get_by_role("link", name="All recordings").click()
                page.get_by_role("checkbox", name=f"Choose {name}.csv").first.wait_for()
        for name in ("one", "two"):
            page.get_by_label(f"Choose {name}.csv").last.check()
        page.get_by_role("button", name="Two side by side").click()
        expect(page.get_by_text(re.compile("^corner at"))).to_be_visible()
        expect(page.get_by_text(re.compile("^old kerf crossed at"))).to_be_visible()
        page.get_by_role("button", name="Closer").first.click()
        self.check(page)

    def test_timing_and_the_loop_answer_what_is_typed(self) -> None:
        page = self.page("/height/timing")
        expect(page.get_by_text("Let control wake")).to_be_visible()
        self.check(page)
        page.get_by_role("link", name="Over a warped sheet").click()
        told = page.get_by_role("figure").filter(has_text="As it is told")
        expect(told.get_by_text("The gap stays between")).to_be_visible()
        page.get_by_label("Gain: Z each second for a volt").fill("20")
        expect(told.get_by_text(re.compile("on the plate|It hunts"))).to_be_visible()
        self.check(page)


if __name__ == "__main__":
    unittest.main()
