"""A demo shop in a throwaway folder, and a client that speaks to it as the front end does."""

import shutil
import tempfile
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient

from orthotome.api.app import create_app
from orthotome.store.database import Database
from tools.filled_demo import filled_demo

HALF_WAY, JUST_OPENED, LOCKED = 2, 3, 1  # the demo's trials

WREN = {"orthotome-person": "Wren"}  # the header that says who it is

CUT: dict[str, Any] = {
    "key": "first",
    "piece": "square",
    "speed_mm_min": 2100,
    "cut_height_mm": 1.5,
    "arc_voltage_v": 127.6,
    "through": "full",
    "edges": [
        {"side": "right", "heading_deg": h, "bevel_deg": b, "u_deg": 0.4}
        for h, b in ((0, 1.5), (90, 2.5), (180, 2.0), (270, 1.0))
    ],
    "dross": [{"kind": "low_speed", "grade": 1}],
}


class ShopOf:
    """The demo shop's database with a client over it; close it when done."""

    def __init__(self, *, filled: bool = True) -> None:
        self._folder = tempfile.TemporaryDirectory()
        path = Path(self._folder.name) / "shop.sqlite"
        if filled:
            shutil.copy(filled_demo(), path)
        self.database = Database(path)
        app = create_app(self.database)
        self.client = TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False)

    def close(self) -> None:
        """Let go of the file and the folder."""
        self.client.close()
        self.database.close()
        self._folder.cleanup()
