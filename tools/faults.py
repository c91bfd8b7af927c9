"""Deliberate faults in core, each of which some test must notice: ``./run faults``.

A fault is one small change that a tired hand could make. Each is put into a copy of the tree, and the tests
of that room are run until the first of them fails. What goes unnoticed is listed; docs/faults.md holds the
last figure.
"""

import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
CORE = ROOT / "orthotome" / "core"


@dataclass(frozen=True)
class Fault:
    """``was`` stands once in the file and becomes ``now``; ``tests`` are those of its room."""

    file: str
    was: str
    now: str
    tests: str


RULES = "core.tuner.test_tuner_rules core.tuner.test_models core.tuner.test_tuner"
FAULTS = (
    Fault("tuner/advise.py", "_SPEED_STEP = 0.25", "_SPEED_STEP = 0.6", RULES),
    Fault("tuner/advise.py", "_HEIGHT_STEP = 0.3", "_HEIGHT_STEP = 0.9", RULES),
    Fault("trial/advice.py", "PASSED = 0.9 ", "PASSED = 0.6 ", RULES),
    Fault("tuner/advise.py", "!= (now.parts, now.mount)", "!= (now.parts, cut.series.mount)", RULES),
    Fault("tuner/advise.py", "!= (now.parts, now.mount)", "!= (cut.series.parts, now.mount)", RULES),
    Fault("tuner/bevel_model.py", "        edge[:, at : at + 2] = 0.0\n", "", RULES),
    Fault(
        "edge/columns.py",
        "return -1.0 if side == good else 1.0",
        "return 1.0 if side == good else -1.0",
        RULES,
    ),
    Fault("tuner/chances.py", "inside *= float(through.mean())", "pass", RULES),
    Fault(
        "edge/columns.py",
        "np.asarray(which[:, None] == which[None, :], dtype=np.float64)",
        "np.eye(len(which))",
        f"{RULES} core.tuner.test_rereading",
    ),
    Fault(
        "edge/wild.py", "WILD_SHARE = 0.04", "WILD_SHARE = 1e-9", f"{RULES} core.tuner.test_rereading"
    ),
    Fault("edge/wild.py", "-1.0 if wild[i] else 1.0", "1.0", f"{RULES} core.tuner.test_rereading"),
    Fault(
        "tuner/rereading.py",
        "_OFTEN_ENOUGH = 3",
        "_OFTEN_ENOUGH = 99",
        f"{RULES} core.tuner.test_rereading",
    ),
    Fault(
        "torch/alignment.py",
        "return (self.about_deg + 90.0) % 360.0",
        "return (self.about_deg - 90.0) % 360.0",
        "core.torch.test_alignment",
    ),
    Fault("torch/alignment.py", "KNOWN = 2.45", "KNOWN = 0.45", "core.torch.test_alignment"),
    Fault(
        "tuner/chances.py",
        "if grade > target.dross_grade or",
        "if grade >= target.dross_grade or",
        RULES,
    ),
    Fault("tuner/chances.py", 'cut.through in ("partial", "none")', 'cut.through == "none"', RULES),
    Fault("tuner/voltage_model.py", "if c.series.parts != now.parts:", "if False:", RULES),
    Fault("tuner/voltage_model.py", "if c.series.signal != now.signal:", "if False:", RULES),
    Fault("tuner/voltage_model.py", 'or c.height_control != "off"', "", RULES),
    Fault("tuner/priors.py", '"by_hand": (0.3, 0.5)', '"by_hand": (0.0, 0.0)', RULES),
    Fault("tuner/advise.py", "square[at] > 0.7", "square[at] > 1.7", RULES),
    Fault("tuner/advise.py", "picks, missed = [first],", "picks, missed = [0],", RULES),
    Fault(
        "tuner/dross_model.py",
        'good if cut.through == "full" else',
        'good if cut.through != "none" else',
        RULES,
    ),
    Fault(
        "edge/edges.py",
        'return 0.0 if good == "right" else 180.0',
        'return 180.0 if good == "right" else 0.0',
        RULES,
    ),
    Fault(
        "edge/edges.py",
        '90.0 if side == "right" else -90.0',
        '-90.0 if side == "right" else 90.0',
        RULES,
    ),
    Fault("edge/measuring.py", "math.sqrt(2) * u_width_mm", "u_width_mm", "core.test_quantities"),
    Fault("edge/squareness.py", "0.15, 0.007", "0.15, 0.017", "core.test_quantities"),
    Fault("stock/gauges.py", ".1345", ".1354", "core.test_quantities"),
    Fault("stock/gauges.py", "MM_PER_INCH = 25.4", "MM_PER_INCH = 25.0", "core.test_quantities"),
    Fault(
        "book/start_rows.py", "EXTEND_SHARE = 0.15", "EXTEND_SHARE = 0.2", "core.book.test_start_rows"
    ),
    Fault(
        "book/start_rows.py",
        "GOOD_CONDUCTOR_SHARE = 0.6",
        "GOOD_CONDUCTOR_SHARE = 1.0",
        "core.book.test_start_rows",
    ),
    Fault(
        "trial/opening.py",
        "TOUCH_RISK_MM = 0.8",
        "TOUCH_RISK_MM = 0.5",
        "core.tuner.test_models core.pieces.test_pieces",
    ),
    Fault("trial/opening.py", "if not low <= at <= high:", "if False:", "core.tuner.test_models"),
    Fault(
        "machine/motion.py",
        "/ (2 * acceleration_mm_s2)",
        "/ acceleration_mm_s2",
        "core.machine.test_machine",
    ),
    Fault("machine/motion.py", "delay_s - pierce_delay_s if", "delay_s if", "core.machine.test_machine"),
    Fault("machine/air.py", "DELIVERY_FACTOR = 1.5", "DELIVERY_FACTOR = 1.0", "core.machine.test_air"),
    Fault(
        "machine/axis_map.py",
        "return a * x + b * y, c * x + d * y",
        "return a * x + c * y, b * x + d * y",
        "core.machine.test_machine formats.test_piece_files",
    ),
    Fault(
        "height/signal_path.py",
        "set_point_v * (1 / gain - 1)",
        "set_point_v * (gain - 1)",
        "core.height.test_signal_path",
    ),
    Fault(
        "choose/capability.py",
        "thickness_mm <= capability.pierce_max_mm",
        "thickness_mm < capability.pierce_max_mm",
        "core.machine.test_machine",
    ),
    Fault(
        "path/travel.py",
        "_TANGENT_RAD = math.radians(5)",
        "_TANGENT_RAD = math.radians(95)",
        "core.path.test_paths core.pieces.test_piece_geometry",
    ),
    Fault(
        "path/travel.py",
        "most = np.minimum(set_mm_min, round_mm_min)",
        "most = set_mm_min",
        "core.path.test_paths core.pieces.test_piece_geometry",
    ),
    Fault(
        "path/paths.py",
        "return -turned if arc.clockwise else turned",
        "return turned",
        "core.path.test_paths",
    ),
    Fault(
        "path/offsetting.py",
        "distance if move.clockwise else -distance",
        "-distance if move.clockwise else distance",
        "core.pieces.test_own_part",
    ),
    Fault("path/rings.py", "(sweep - math.sin(sweep))", "sweep", "core.pieces.test_own_part"),
    Fault(
        "pieces/piece.py",
        'if basis.good == "left":\n        path =',
        'if basis.good == "right":\n        path =',
        "core.pieces.test_piece_geometry",
    ),
    Fault(
        "pieces/piece.py",
        "offset_outward(outline, basis.kerf_mm / 2)",
        "offset_outward(outline, basis.kerf_mm)",
        "core.pieces.test_piece_geometry",
    ),
    Fault(
        "pieces/rounds.py",
        'clockwise = basis.good == "left"',
        'clockwise = basis.good == "right"',
        "core.pieces.test_piece_geometry",
    ),
    Fault("edge/wild.py", "gain -= 0.5 *", "gain += 0.5 *", "core.tuner.test_models"),
    Fault(
        "tuner/bevel_model.py",
        "self.readings.rows[:, columns], more)",
        "self.readings.rows[:, columns], 0.1 * more)",
        "core.tuner.test_models",
    ),
    Fault("tuner/advise.py", "squares >= _SQUARES_TO_SEE_SPREAD", "squares >= 0", RULES),
    Fault("tuner/beliefs.py", "start_bevel = priors.UNLISTED_START_BEVEL", "pass", RULES),
    Fault("trial/opening.py", "return is_unlisted(campaign) and not any(", "return not any(", RULES),
    Fault(
        "tuner/rereading.py", "if not learned.campaign.cuts:", "if False:", "core.tuner.test_rereading"
    ),
    Fault("tuner/window.py", "kept + learned.cut_deviations", "kept", "core.tuner.test_window"),
    Fault(
        "tuner/window.py",
        "- learned.draws[:, SWIRL]",
        "+ learned.draws[:, SWIRL]",
        "core.tuner.test_window",
    ),
    Fault("tuner/taught.py", "_SURPRISE = 1.64", "_SURPRISE = 164.0", "core.tuner.test_window"),
    Fault(
        "tuner/evidence.py",
        "chances[model.readings.cut == i]",
        "chances[: len(cut.edges)]",
        "core.tuner.test_window",
    ),
    Fault("tuner/worth.py", "/ saved / length", "/ saved", "core.tuner.test_worth"),
    Fault("edge/edges.py", "normal_deg - (90.0 if", "normal_deg + (90.0 if", "api.test_torch"),
    Fault("pieces/batch.py", "number=n)", "number=1)", "core.pieces.test_nesting api.test_pieces"),
    Fault("ready/run_through.py", "SESSION_H = ", "SESSION_H = 10 * ", "core.ready.test_readiness"),
    Fault("log/starts.py", "scrap_edge=True", "scrap_edge=False", "api.test_pieces"),
)


def noticed(fault: Fault) -> bool:
    """Whether a test of the room fails with the fault in."""
    if fault.was not in (CORE / fault.file).read_text():
        raise SystemExit(f"{fault.file} no longer says “{fault.was}”: put the list right.")
    return fails(fault.file, fault.was, fault.now, fault.tests)


def fails(file: str, was: str, now: str, tests: str) -> bool:
    """Whether those tests fail on a copy of the tree with that change in it; no file is no change."""
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder)
        for name in ("orthotome", "tests", "docs"):
            shutil.copytree(ROOT / name, copy / name, ignore=shutil.ignore_patterns("__pycache__"))
        if file:
            path = copy / "orthotome/core" / file
            path.write_text(path.read_text().replace(was, now, 1))
        words = [sys.executable, "-m", "unittest", "-f", *(f"tests.{t}" for t in tests.split())]
        env = {"PYTHONPATH": str(copy), "OPENBLAS_NUM_THREADS": "1", "PATH": "/usr/bin:/bin"}
        return subprocess.run(words, cwd=copy, env=env, capture_output=True, check=False).returncode != 0


def main() -> None:
    """Put every fault in, two at a time, and print what went unnoticed."""
    with ThreadPoolExecutor(2) as both:
        rooms = sorted({f.tests for f in FAULTS})
        for tests, failed in zip(rooms, both.map(lambda t: fails("", "", "", t), rooms), strict=True):
            if failed:
                raise SystemExit(f"without any fault, {tests} fail.")
        found = list(both.map(noticed, FAULTS))
    for fault, seen in zip(FAULTS, found, strict=True):
        if not seen:
            print(f"unnoticed: {fault.file}: {fault.was.strip()!r} -> {fault.now.strip()!r}")
    print(f"{sum(found)} of {len(FAULTS)} faults noticed ({sum(found) / len(FAULTS):.0%})")


if __name__ == "__main__":
    main()
