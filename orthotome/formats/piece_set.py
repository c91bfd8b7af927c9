"""All the files of one test piece: program, dry run, drawings, cut sheet, and the piece itself."""

from collections.abc import Sequence

from orthotome.core.campaign import Campaign
from orthotome.core.errors import TradeError
from orthotome.core.pieces import (
    Piece,
    PieceName,
    PieceSetting,
    corner,
    height_ladder,
    holes,
    ladder_delays,
    ladder_heights,
    ladder_speeds,
    long_strip,
    pierce_ladder,
    round_slug,
    square,
    strip_ladder,
)
from orthotome.core.readiness import Case, run_through
from orthotome.core.trial_plan import TOUCH_RISK_MM
from orthotome.formats.cut_sheet import SheetHead, write_cut_sheet
from orthotome.formats.dxf import write_dxf
from orthotome.formats.gcode import write_gcode
from orthotome.formats.piece import piece_to_file
from orthotome.formats.profile import OutputProfile
from orthotome.formats.svg import write_svg


def piece_of(
    kind: PieceName,
    campaign: Campaign,
    *,
    speeds_mm_min: Sequence[float] = (),
    heights_mm: Sequence[float] = (),
    delays_s: Sequence[float] = (),
) -> Piece:
    """The piece of that kind for a campaign's start, or for the listed steps of its ladder.

    Raises TradeError for steps that belong to another kind of piece.
    """
    for given, of, name in (
        (speeds_mm_min, "strip_ladder", "speeds"),
        (heights_mm, "height_ladder", "heights"),
        (delays_s, "pierce_ladder", "delays"),
    ):
        if given and kind != of:
            raise TradeError(name, f"belong to a {of.replace('_', ' ')}, not to a {kind}.")
    setting, start = setting_of(campaign), campaign.start
    lowest = min(TOUCH_RISK_MM, start.cut_height_mm)
    if kind == "strip_ladder":
        return strip_ladder(setting, speeds_mm_min or ladder_speeds(start.speed_mm_min))
    if kind == "height_ladder":
        return height_ladder(setting, heights_mm or ladder_heights(start.cut_height_mm, lowest))
    if kind == "pierce_ladder":
        return pierce_ladder(setting, delays_s or ladder_delays(start.pierce_delay_s))
    plain = {"square": square, "round": round_slug, "holes": holes, "corner": corner}
    return long_strip(setting) if kind == "long_strip" else plain[kind](setting)  # type: ignore[operator]


def setting_of(campaign: Campaign) -> PieceSetting:
    """What the geometry depends on, from a campaign's start."""
    start = campaign.start
    return PieceSetting(
        campaign.thickness_mm,
        start.kerf_mm,
        campaign.torch_set.swirl,
        start.speed_mm_min,
        start.cut_height_mm,
    )


def piece_files(piece: Piece, campaign: Campaign, profile: OutputProfile) -> dict[str, bytes]:
    """Every file of a piece by its name."""
    torch, start = campaign.torch_set, campaign.start
    job = f"{campaign.thickness_mm:g} mm {campaign.metal.replace('_', ' ')}"
    fitted = f"{torch.name}, {torch.amperage_a:g} A, {torch.gas}"
    title = campaign.title or job
    heading = (f"Orthotome: {title}", f"{job}, {fitted}")
    case = Case(campaign.metal, campaign.thickness_mm, torch.name, torch.amperage_a, torch.gas)
    cautions = tuple(d.item.ask for d in run_through(case, {}) if d.item.caution)
    sheet = write_cut_sheet(piece, start, SheetHead(title, job, fitted, cautions))
    file = piece_to_file(piece, setting_of(campaign), start)
    texts = {
        "piece.nc": write_gcode(piece, start, heading, profile=profile),
        "piece-dry.nc": write_gcode(piece, start, heading, profile=profile, dry_run=True),
        "piece.dxf": write_dxf(piece),
        "piece.svg": write_svg(piece),
        "piece.json": file.model_dump_json(indent=1, exclude_none=True) + "\n",
    }
    return {**{name: text.encode() for name, text in texts.items()}, "piece.pdf": sheet}
