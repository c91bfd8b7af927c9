"""The front end's logic without a browser, bundled by its own builder and run by node."""

import json
import random
import subprocess
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any, ClassVar, get_args

from orthotome.core import quantities
from orthotome.core.quantities import INCH, METRIC, speaking
from orthotome.core.trial import campaign as core
from tests.enough import cases
from tests.shop import CUT, JUST_OPENED, ShopOf

FRONT = Path(__file__).parents[2] / "frontend"
BUILT = FRONT / "node_modules" / ".logic-tests"
CUTS = len(cases(40, 150))


def node(script: str, *flags: str, given: str = "") -> subprocess.CompletedProcess[str]:
    words = ["node", *flags, BUILT / script]
    return subprocess.run(words, input=given, capture_output=True, text=True, check=False)


def any_cut(chance: random.Random, n: int) -> dict[str, Any]:
    """A cut such as the file format allows: any gap, any reading of any edge, as often as one likes."""

    def maybe(value: object) -> object:
        return value if chance.random() < 0.6 else None

    piece = chance.choice(get_args(core.PieceKind))
    ways = [0, 90, 180, 270, -90, *(() if piece == "square" else (45, chance.uniform(-360, 720)))]
    edges = [
        {
            "side": chance.choice(
                ["right", "left", *(["both"] if piece in ("square", "strip") else ())]
            ),
            "heading_deg": chance.choice(ways),
            "bevel_deg": chance.choice([chance.uniform(-45, 45), 2.0, -0.04, 0.0]),
            "u_deg": chance.uniform(0.05, 20),
            "method": chance.choice(["angle_gauge", "strip_widths", "shop jig"]),
        }
        for _ in range(chance.randrange(8))
    ]
    kinds = chance.sample(get_args(core.DrossKind), chance.randrange(4))
    return {
        "key": f"any {n}",
        "piece": piece,
        "speed_mm_min": chance.uniform(20, 60_000),
        "cut_height_mm": chance.uniform(0.05, 40),
        "arc_voltage_v": maybe(chance.uniform(20, 400)),
        "set_point_v": maybe(chance.uniform(20, 400)),
        "height_control": chance.choice(get_args(core.HeightControl)),
        "arc_on_s": maybe(chance.uniform(0, 900)),
        "through": maybe(chance.choice(get_args(core.Through))),
        "arc_lost": chance.random() < 0.3,
        "edges": edges,
        "dross": maybe([{"kind": k, "grade": chance.randrange(5)} for k in kinds]),
        "kerf_mm": maybe(chance.uniform(0.1, 20)),
        "lag_deg": maybe(chance.uniform(-80, 80)),
        "note": chance.choice(["", "as it lay"]),
        "insisted": ["arc_voltage_v", "set_point_v", "kerf_mm", "lag_deg", "edges"],
    }


class Logic(unittest.TestCase):
    shop: ClassVar[ShopOf]

    @classmethod
    def setUpClass(cls) -> None:
        built = subprocess.run(
            ["npm", "run", "--silent", "logic"], cwd=FRONT, capture_output=True, text=True, check=False
        )
        if built.returncode:
            raise AssertionError(built.stdout + built.stderr)
        cls.shop = ShopOf()
        cls.addClassCleanup(cls.shop.close)

    def test_every_rule_of_the_log_and_of_showing_quantities(self) -> None:
        done = node("logic.test.js", "--test-reporter=tap")
        self.assertEqual(done.returncode, 0, done.stdout[-4000:] + done.stderr)
        self.assertRegex(done.stdout, r"# pass [1-9]")

    def test_any_cut_opened_and_saved_untouched_is_the_same_cut(self) -> None:
        client, chance = self.shop.client, random.Random(90)
        path = f"/api/trials/{JUST_OPENED}"
        pairs = []
        for n in range(CUTS):
            answer = client.post(f"{path}/cuts", json=any_cut(chance, n))
            self.assertEqual(answer.status_code, 201, answer.text)
            cut = answer.json()
            sheet = client.get(f"{path}/log-sheet?cut_id={cut['id']}").json()
            pairs.append({"cut": cut, "sheet": sheet})
        done = node("untouched.js", given=json.dumps(pairs))
        self.assertEqual(done.returncode, 0, done.stderr)
        for pair, changes in zip(pairs, json.loads(done.stdout), strict=True):
            self.assertEqual(changes, {})
            cut = pair["cut"]
            body = {**changes, "version": cut["version"]}
            again = client.patch(f"{path}/cuts/{cut['id']}", json=body).json()
            self.assertEqual(again, cut)
            noted = client.patch(f"{path}/cuts/{cut['id']}", json={**body, "note": "seen again"}).json()
            self.assertEqual(noted, {**cut, "note": "seen again", "version": cut["version"] + 1})

    def test_screens_and_sentences_say_a_number_alike(self) -> None:
        """In each unit system, of each quantity: the same number, to the digits of the sentence; only of a large length a
        screen keeps more, since it may be typed on."""
        ways: dict[str, tuple[Callable[[float], str], float, float]] = {
            "length": (quantities.length, 0.01, 3000),
            "speed": (quantities.speed, 60, 15_000),
            "pressure": (quantities.pressure, 20, 20_000),
            "flow": (quantities.flow, 1, 900),
            "volume": (quantities.volume, 1, 900),
            "gas": (quantities.free_gas, 1, 9000),
            "run": (quantities.run, 0.5, 120),
            "acceleration": (quantities.acceleration, 50, 9000),
            "slope": (quantities.slope, 2, 12),
            "temperature": (quantities.temperature, 0.5, 60),
        }
        chance = random.Random(34)
        shops = (
            METRIC,
            INCH,
            quantities.ShopUnits("thou", "in/min"),
            quantities.ShopUnits("mm", "m/min"),
        )
        asked: list[dict[str, Any]] = []
        words = []
        for n in range(560):
            quantity = [*ways][n % len(ways)]
            say, low, high = ways[quantity]
            shop = shops[n // len(ways) % len(shops)]
            kept = low * (high / low) ** chance.random()
            units = {"length_unit": shop.length, "speed_unit": shop.speed}
            asked.append({"quantity": quantity, "kept": kept, "units": units})
            with speaking(shop):
                words.append(say(kept))
        done = node("said.js", given=json.dumps(asked))
        self.assertEqual(done.returncode, 0, done.stderr)
        for of, shown, said in zip(asked, json.loads(done.stdout), words, strict=True):
            with self.subTest(of=of):
                (number, unit), (word, in_core) = shown.split(" ", 1), said.split(" ", 1)
                self.assertEqual(unit, in_core)
                digits = len(word.partition(".")[2])
                more = of["quantity"] == "length"
                delta = 0.5001 * 10**-digits if more else 1e-9
                self.assertAlmostEqual(float(number), float(word), delta=delta)

    def test_a_correction_of_one_reading_leaves_the_others_as_they_were(self) -> None:
        client, path = self.shop.client, f"/api/trials/{JUST_OPENED}/cuts"
        spatter = [{"kind": "low_speed", "grade": 1}, {"kind": "top_spatter", "grade": 3}]
        cut = client.post(
            path, json={**CUT, "key": "one reading", "kerf_mm": 1.9, "dross": spatter}
        ).json()
        first, *others = cut["edges"]
        wanted = {k: v for k, v in first.items() if k != "id"} | {"bevel_deg": -0.7}
        body = {
            "version": cut["version"],
            "edges": [{"id": first["id"], "edge": wanted}, {"id": others[0]["id"]}],
            "dross": {"low_speed": 0},
        }
        now = client.patch(f"{path}/{cut['id']}", json=body).json()
        self.assertEqual(
            [e["bevel_deg"] for e in now["edges"]], [-0.7, *(e["bevel_deg"] for e in others[1:])]
        )
        self.assertEqual(now["dross"], [{"kind": "top_spatter", "grade": 3}])
        self.assertEqual((now["kerf_mm"], now["arc_voltage_v"]), (1.9, 127.6))
        nobody = {"version": now["version"], "dross_looked_at": False, "arc_voltage_v": None}
        unlooked = client.patch(f"{path}/{cut['id']}", json=nobody).json()
        self.assertEqual((unlooked["dross"], unlooked["arc_voltage_v"]), (None, None))
        elsewhere = {"version": unlooked["version"], "edges": [{"id": 10_000}]}
        self.assertEqual(client.patch(f"{path}/{cut['id']}", json=elsewhere).status_code, 404)
        nothing = {"version": unlooked["version"], "edges": [{}]}
        self.assertEqual(client.patch(f"{path}/{cut['id']}", json=nothing).status_code, 422)


if __name__ == "__main__":
    unittest.main()
