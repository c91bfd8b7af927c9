"""``./run bench drawings``: how five hundred made-up drawings of a shop's own are read and cut, against shapes made from points."""

import random
from dataclasses import dataclass

from shapely import Polygon, affinity

from orthotome.core.errors import TradeError
from orthotome.core.path.paths import length_mm
from orthotome.core.pieces import PieceBasis, own_part
from orthotome.core.programs.check import check
from orthotome.core.programs.checked_against import CheckedAgainst, PlateJob
from orthotome.formats.machine.profile import SHIPPED
from orthotome.formats.pieces.drawing import read_drawing
from orthotome.formats.pieces.piece_set import piece_files, piece_of
from orthotome.formats.programs.rs274 import read_program
from orthotome.formats.trial.campaign import read_campaign
from tests.formats.test_own_drawings import bowed, in_dxf, in_svg, plain, shape_of
from tools.figures import say
from tools.suite.plan import ROOT

_MANY = 500
_FIRST = 7000  # none that the tests draw
_SLIVER_MM = 0.1
_CHECKED_EACH = 5


@dataclass(frozen=True)
class _Cut:
    """What became of one drawing: share of its outline at speed and what was found in its program, where it was checked."""

    off_mm: float
    slivers: int
    before_and_after: tuple[int, int]
    share_at_speed: float | None = None
    problems: int = 0


def main() -> None:
    """Print the figures."""
    done = [cut for seed in range(_FIRST, _FIRST + _MANY) if (cut := _one(seed)) is not None]
    say("drawings read and cut", len(done), "", f"of {_MANY}", 0)
    say("farthest from the shape, worst", 1000 * max(c.off_mm for c in done), "um")
    say("moves shorter than 0.1 mm", sum(c.slivers for c in done), "", "limit 0", 0)
    before, after = (sum(c.before_and_after[i] for c in done) for i in (0, 1))
    say("lines and arcs, of what was drawn", after / before, "x", "", 3)
    shares = [c.share_at_speed for c in done if c.share_at_speed is not None]
    say("share at speed by the own check, mean", 100 * sum(shares) / len(shares), "%")
    say("share at speed by the own check, worst", 100 * min(shares), "%")
    say("problems that the own check finds", sum(c.problems for c in done), "", "limit 0", 0)


def _one(seed: int) -> _Cut | None:
    rng = random.Random(seed)
    outline = rng.choice([bowed, plain])(rng)
    turn, scale = rng.uniform(-180, 180), rng.uniform(0.9, 1.6)
    drawn = rng.choice([in_svg, in_dxf])(rng, outline, turn, scale)
    found = read_drawing(drawn.content)
    read = shape_of(found.rings)
    mirrored = affinity.scale(drawn.part, 1, -1, origin=(0, 0))  # SVG counts Y downward
    off = min(_off(read, part, angle) for part in (drawn.part, mirrored) for angle in (turn, -turn))
    said = next((n.split() for n in found.notes if " became " in n), None)
    fewer = (int(said[0]), int(said[5].rstrip(":"))) if said else (1, 1)
    basis = PieceBasis(rng.uniform(1.5, 5), rng.uniform(0.9, 2.0), "clockwise", 2400, 1.5)
    try:
        piece = own_part(basis, found.rings, "own")
    except TradeError:
        return None
    slivers = sum(length_mm(m) < _SLIVER_MM for c in piece.contours for s in c.segments for m in s.moves)
    if seed % _CHECKED_EACH:
        return _Cut(off, slivers, fewer)
    campaign = read_campaign((ROOT / "docs/formats/campaign.example.json").read_bytes())
    torch = campaign.torch_set
    job = PlateJob(campaign.thickness_mm, campaign.start, torch.amperage_a, torch.swirl)
    profile = SHIPPED["centre" if "centre" in SHIPPED else next(iter(SHIPPED))]
    try:
        of_campaign = piece_of("own_part", campaign, own=("own", found.rings))
    except TradeError:  # its windows are too small for this campaign's plate
        return _Cut(off, slivers, fewer)
    checked = check(
        read_program(piece_files(of_campaign, campaign, profile)["piece.nc"], profile),
        CheckedAgainst(job),
    )
    return _Cut(off, slivers, fewer, checked.time.whole_share, len(checked.problems))


def _off(read: Polygon, part: Polygon, angle_deg: float) -> float:
    """Farthest that one edge lies from the other, the shape turned and laid over by its middle."""
    turned = affinity.rotate(part, angle_deg, origin=(0, 0))
    dx, dy = read.centroid.x - turned.centroid.x, read.centroid.y - turned.centroid.y
    return float(read.boundary.hausdorff_distance(affinity.translate(turned, dx, dy).boundary))


if __name__ == "__main__":
    main()
