"""``./run bench photos``: what 2,000 photos cost the lists, the Bench and a backup, before and after in one run."""

import io
import json
import os
import statistics
import time
import urllib.request
from collections.abc import Callable

from PIL import Image

from orthotome.formats.log.photo import Photo, read_photo
from orthotome.store.keeping import backups
from orthotome.store.keeping.opening import opened
from orthotome.store.log import cuts, photo_files, photos
from orthotome.store.log.photos import Of
from tools.browser import Server
from tools.figures import say

PHOTOS, EACH = 2000, 18  # on trials of the demo and on cuts logged for them
PHONE = (4000, 3000)


def main() -> None:
    """Measure and print."""
    one_photo()
    server = Server("--demo")
    try:
        log_cuts(server)
        time.sleep(3)  # the tuner wakes in the background
        before = asked(server)
        server.kill()
        fill(server)
        server.start()
        time.sleep(3)
        after = asked(server)
    finally:
        server.close()
    for name, was in before.items():
        say(
            f"{name} with {PHOTOS} photos, as without",
            after[name] / was,
            "times",
            f"{was:.1f} and {after[name]:.1f} ms",
        )


def one_photo() -> None:
    """A phone's photo of twelve million points, with grain as a lens and a chip give it."""
    noise = Image.frombytes("RGB", (500, 375), os.urandom(500 * 375 * 3)).resize(PHONE)
    plate = Image.blend(noise, Image.new("RGB", PHONE, (120, 125, 128)), 0.8)
    for form in ("JPEG", "PNG", "WEBP", "HEIF"):
        out = io.BytesIO()
        plate.save(out, form, **({"quality": 90} if form in ("JPEG", "WEBP", "HEIF") else {}))
        spent = []
        for _ in range(3):
            began = time.perf_counter()
            read_photo(out.getvalue())
            spent.append(time.perf_counter() - began)
        size = len(out.getvalue()) / 1e6
        say(
            f"12 MP {form} of {size:.1f} MB read, turned, written anew",
            statistics.median(spent),
            "s",
            "limit 2",
        )


def log_cuts(server: Server) -> None:
    """Enough cuts on one trial for photos to belong to."""
    cut = json.loads(fetch(server, "/api/trials/3/simulated-cut", {}))
    for n in range(PHOTOS // EACH):
        fetch(server, "/api/trials/3/cuts", {**cut, "key": f"photos {n}"})


def fill(server: Server) -> None:
    """Two thousand photos, each a picture of its own on disk."""
    path = server.path / "demo.sqlite"
    folder = photo_files.folder_of(path)
    with opened(path) as database, database.write() as session:
        made = [c.row.id or 0 for c in cuts.logged_cuts(session, 3)]
        for n in range(PHOTOS):
            small = os.urandom(12_000)
            photo = Photo(
                os.urandom(100_000), small, *PHONE
            )  # a tenth of a real one: the disk is not measured
            digest = photo_files.keep(folder, photo)
            photos.add(session, 3, Of(made[n // EACH % len(made)]), digest, photo)


def asked(server: Server) -> dict[str, float]:
    """Medians in ms."""
    path = server.path / "demo.sqlite"
    found = {
        "GET trials": median(lambda: fetch(server, "/api/trials")),
        "GET bench, seen before": median(lambda: fetch(server, "/api/trials/3/bench")),
        "GET bench of another trial": median(lambda: fetch(server, "/api/trials/2/bench")),
        "GET log sheet": median(lambda: fetch(server, "/api/trials/3/log-sheet")),
    }
    found["a backup"] = median(lambda: backups.make(path, "by_hand"), 5)
    return found


def median(act: Callable[[], object], times: int = 25) -> float:
    """Median of some repeats, in ms."""
    spent = []
    for _ in range(times):
        began = time.perf_counter()
        act()
        spent.append(1000 * (time.perf_counter() - began))
    return statistics.median(spent)


def fetch(server: Server, path: str, body: object = None) -> bytes:
    """What the server answers."""
    content = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(
        server.address + path,
        content,
        {"content-type": "application/json"},
        method="GET" if body is None else "POST",
    )
    with urllib.request.urlopen(request) as answer:
        return bytes(answer.read())
