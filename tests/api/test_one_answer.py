"""One answer in the whole house: a number that two rooms show is one number, and says so where it is another."""

import re

from tests.api.test_api import Api
from tests.shop import HALF_WAY


class WhatIsDialledNow(Api):
    """The setting that the Bench tells, in every room that writes or checks with it."""

    def setUp(self) -> None:
        super().setUp()
        self.now = self.get(f"/trials/{HALF_WAY}/bench")["now"]

    def test_a_program_names_the_volts_of_the_height_that_it_cuts_at(self) -> None:
        program = self.client.get(f"/api/trials/{HALF_WAY}/piece.nc").text
        said = re.search(r"Arc voltage: ([\d.]+) \+- ([\d.]+) V to be seen", program)
        assert said is not None, program[:600]
        self.assertAlmostEqual(float(said[1]), self.now["arc_voltage_v"], delta=0.06)
        ladder = self.client.get(f"/api/trials/{HALF_WAY}/piece.nc?kind=height_ladder").text
        self.assertRegex(ladder, r"Arc voltage: \d+ to \d+ V to be seen")

    def test_a_program_of_a_trial_is_checked_against_it_and_not_against_its_first_numbers(self) -> None:
        program = self.client.get(f"/api/trials/{HALF_WAY}/piece.nc?kind=square").content
        table = self.get(f"/trials/{HALF_WAY}/bench")["trial"]["table_id"]
        kept = self.client.post(f"/api/tables/{table}/programs?name=own.nc", content=program).json()[
            "id"
        ]
        asked = {"version": 1, "trial_id": HALF_WAY, "recipe_id": None}
        checked = self.client.put(f"/api/programs/{kept}/against", json=asked)
        self.assertEqual(checked.status_code, 200, checked.text)
        codes = {f["code"] for f in self.get(f"/programs/{kept}/report")["findings"]}
        self.assertFalse(codes & {"feed_differs", "height_differs", "kerf_differs"}, codes)
        self.assertEqual(checked.json()["moved"], [])
        setting = self.now["setting"]
        zig_zag = self.get(f"/tables/{table}/proof-pieces/zig-zag-x?trial_id={HALF_WAY}")
        self.assertEqual(zig_zag["speed_mm_min"], setting["speed_mm_min"])
