"""The walk through the rooms by what stands on their screens: one number for one thing, in both unit systems."""

import re

from playwright.sync_api import expect

from tests.api.test_walk import SHOPS, Walk
from tests.interface.test_screens import Screens
from tests.interface.visiting import Visitor

_SPEED = r"([\d.,]+)\s*(mm/min|in/min)"
_LENGTH = r"([\d.,]+)\s*(mm|in)\b"

# Per address: what of the half-way trial and its table is shown there, by name, by the words before it, and its quantity.
SEEN: dict[str, tuple[tuple[str, str, str], ...]] = {
    "/bench": (
        ("starts", r"fitted, (\d+) starts", ""),
        ("speed", rf"Speed\s+{_SPEED}", "speed"),
        ("volts", r"Arc voltage\s+([\d.]+)\s*V", ""),
        ("cut height", rf"Cut height\s+{_LENGTH}", "length"),
        ("pierce height", rf"Pierce\s+{_LENGTH}", "length"),
        ("pierce delay", r"Pierce\s+[\d.]+ (?:mm|in)\s+([\d.]+)\s*s", ""),
        ("lean by the cuts", r"Jet lean[^\d]*([\d.]+)°", ""),
        ("lean by the cuts", r"The jet leans ([\d.]+)° [^.]*by the cuts of this trial", ""),
    ),
    "/height/set-point": (
        ("volts", r"Measured at the proven height\s+([\d.]+)\s*V", ""),
        ("volts", r"on the parts as they are, says ([\d.]+) V", ""),
        ("volts", r"set-point\s+([\d.]+)\s*V", ""),
        ("control delay", r"delay from arc strike\s+([\d.]+)\s*s", ""),
        ("dead band", r"dead band, either side\s+([\d.]+)\s*V", ""),
        ("hold below", r"hold below\s+(\d+)%", ""),
        ("hole speed", rf"They are slow \({_SPEED} and less", "speed"),
        ("blind way", rf"a fifth more; {_LENGTH} of cut are blind", "length"),
    ),
    "/height/timing": (
        ("control delay", r"Let control wake ([\d.]+) s after", ""),
        ("control delay", r"wake when settled\s+pierce height[^s]*control after\s+([\d.]+)\s*s", ""),
        ("blind way", rf"until then {_LENGTH} are cut blind", "length"),
        ("hold below", r"Hold below (\d+) % of speed", ""),
        ("hole speed", rf"Held throughout, at {_SPEED} or less", "speed"),
        ("pierce height", rf"under control\s+{_LENGTH}", "length"),
        ("cut height", rf"under control\s+[\d.]+ (?:mm|in)\s+{_LENGTH}", "length"),
        ("pierce delay", r"moves ([\d.]+) s", ""),
    ),
    "/height/loop": (
        ("dead band", r"Dead band ([\d.]+) V: two sigma", ""),
        ("hold below", r"Hold below (\d+)% of speed: from", ""),
    ),
    "/height/signal-path": (("volts", r"At ([\d.]+) V the torch", ""),),
    "/torch": (
        ("starts", r"fitted, (\d+) starts", ""),
        ("starts", r"electrode\s+screwed in\s+(\d+)\s+starts", ""),
        ("starts left", r"(\d+) to \d+ starts left in the electrode", ""),
        ("starts left", r"; (\d+) to \d+ starts are left", ""),
    ),
    "/programs/1": (("speed", rf"times the {_SPEED} it should", "speed"),),
}


class Screened(Screens):
    def text_at(self, visitor: Visitor, path: str) -> str:
        page = visitor.page
        visitor.go(path)
        expect(page.locator("[aria-busy=true]")).to_have_count(0)
        return page.locator("body").inner_text()

    def test_a_number_on_two_screens_is_one_number(self) -> None:
        page = self.page("/bench")
        visitor = Visitor(page)
        differ: list[str] = []
        for units, (length, speed) in SHOPS.items():
            told = page.request.patch(
                self.server.address + "/api/shop",
                data={"length_unit": length, "speed_unit": speed},
                headers={"origin": self.server.address},
            )
            self.assertTrue(told.ok, told.text())
            page.reload()
            seen = Walk(units)
            for path, shown in SEEN.items():
                said = self.text_at(visitor, path)
                for name, pattern, quantity in shown:
                    seen.text(name, path, said, pattern, quantity)
            alone = [name for name, found in seen.seen.items() if len(found) < 2]
            self.assertEqual(alone, [])
            differ += [f"{units}: {d}" for d in seen.differ()]
        self.assertEqual(differ, [])
        self.assertTrue(
            re.search("in/min", page.locator("body").inner_text()), "the inch shop was walked"
        )
