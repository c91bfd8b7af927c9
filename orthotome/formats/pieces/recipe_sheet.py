"""A recipe on one page of paper: what to dial in figures to be read at arm's length, and what proves it."""

from typing import TYPE_CHECKING

from orthotome.core.quantities import chance_in_100, length, seconds, speed, thickness, volts
from orthotome.core.stock.metals import metal_named
from orthotome.core.trial.campaign import DROSS_EFFORT
from orthotome.formats.book.recipe import RecipeFile
from orthotome.formats.paper import blank_page, in_letters, line
from orthotome.formats.pieces.cut_sheet import cautions_on

if TYPE_CHECKING:
    from fpdf import FPDF

_MOST_CUTS = 12  # of the evidence: the newest; the rest is in the file
_COLUMNS = (
    (18.0, "cut"),
    (32.0, "speed"),
    (26.0, "height"),
    (20.0, "volts"),
    (58.0, "edges"),
    (28.0, "underside"),
)


def write_recipe_sheet(recipe: RecipeFile, cautions: tuple[str, ...], *, in_force: bool) -> bytes:
    """The page as a PDF, A4, in the shop's units."""
    metal = metal_named(recipe.metal)
    title = f"{thickness(recipe.thickness_mm, recipe.metal)} {metal.label}"
    pdf = blank_page(title)
    line(pdf, 24, f"{title}{f', {recipe.title}' if recipe.title else ''}", bold=True)
    torch = recipe.torch_set
    line(pdf, 12, f"{torch.name}, {torch.amperage_a:g} A, {torch.gas}, on the {recipe.table}.")
    state = "in force" if in_force else "superseded: look for the newer one"
    by = f" by {recipe.locked_by}" if recipe.locked_by else ""
    line(pdf, 12, f"Revision {recipe.revision}, {state}. Locked {recipe.locked_at[:10]}{by}.")
    pdf.ln(4)
    _dialled(pdf, recipe)
    sure = chance_in_100(recipe.proof.probability_pass)
    target = recipe.evidence.target
    line(
        pdf,
        11,
        f"Proven: within {target.bevel_deg:g}° on {'both sides' if target.sides == 'both' else 'the good side'}, "
        f"dross {DROSS_EFFORT[target.dross_grade]} at worst, {sure} in 100 that the next one passes.",
    )
    pdf.ln(2)
    _evidence(pdf, recipe)
    cautions_on(pdf, cautions)
    return bytes(pdf.output())


def _dialled(pdf: "FPDF", recipe: RecipeFile) -> None:
    s = recipe.setting
    seen = "not measured" if s.arc_voltage_v is None else volts(s.arc_voltage_v)
    for name, value in (
        ("Speed", speed(s.speed_mm_min)),
        ("Cut height", length(s.cut_height_mm)),
        (_proven_at(recipe), seen),
        ("Pierce height", length(s.pierce_height_mm)),
        ("Pierce delay", seconds(s.pierce_delay_s)),
        ("Kerf", length(s.kerf_mm)),
    ):
        pdf.set_font("Helvetica", "", 12)
        pdf.cell(62, 13, name)
        pdf.set_font("Helvetica", "B", 22)
        pdf.cell(0, 13, in_letters(value), new_x="LMARGIN", new_y="NEXT")
    line(pdf, 12, f"{under_control_words(recipe)}")
    pdf.ln(2)


def _proven_at(recipe: RecipeFile) -> str:
    """Of which parts the volts are: those that it was proven on. What they are worth later its page says."""
    passed = [c.starts for c in recipe.evidence.cuts if c.id in recipe.proof.passed_cuts]
    starts = [s for s in passed if s is not None]
    return (
        f"Volts proven at {round(sum(starts) / len(starts))} starts"
        if starts
        else "Arc voltage, as proven"
    )


def under_control_words(recipe: RecipeFile) -> str:
    """Whether it was proven under height control, and what that is told."""
    told = recipe.under_control
    if told is None:
        return "Proven at a fixed height only, height control off."
    state = "Proven under height control too" if told.proven else "Proven at a fixed height only"
    set_point = (
        "set-point sampled" if told.set_point_v is None else f"set-point {volts(told.set_point_v)}"
    )
    if told.set_point_v is not None and told.at_starts is not None:
        set_point += f" at {told.at_starts} starts"
    said = [set_point, f"delay {seconds(told.control_delay_s)}", f"dead band {volts(told.dead_band_v)}"]
    if told.hold_below_speed_share is not None:
        said.append(f"hold below {told.hold_below_speed_share:.0%} of speed")
    if told.crossing_jump_v is not None:
        said.append(f"hold on a jump of {volts(told.crossing_jump_v)}")
    said.append("holes held" if told.hold_holes else "holes under control")
    return f"{state}: {', '.join(said)}."


def _evidence(pdf: "FPDF", recipe: RecipeFile) -> None:
    """The cuts that prove it, newest last."""
    pdf.set_font("Helvetica", "B", 9)
    for width, name in _COLUMNS:
        pdf.cell(width, 6, name, border="B")
    pdf.ln(6)
    for cut in recipe.evidence.cuts[-_MOST_CUTS:]:
        passed = cut.id in recipe.proof.passed_cuts
        pdf.set_font("Helvetica", "B" if passed else "", 9)
        dross = None if cut.dross is None else max((d.grade for d in cut.dross), default=0)
        cells = (
            f"{cut.id}{' passed' if passed else ''}",
            speed(cut.speed_mm_min),
            length(cut.cut_height_mm),
            "not read" if cut.arc_voltage_v is None else volts(cut.arc_voltage_v),
            ", ".join(f"{e.bevel_deg:+.1f}" for e in cut.edges or ()) or "not read",
            "not looked at" if dross is None else DROSS_EFFORT[dross] if dross else "clean",
        )
        for (width, _), text in zip(_COLUMNS, cells, strict=True):
            pdf.cell(width, 6, in_letters(text)[: int(width / 1.6)])
        pdf.ln(6)
