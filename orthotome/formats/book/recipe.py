"""``orthotome.recipe``, version 1: a proven setting with the cuts that prove it.

A recipe is never edited: a better one is a new revision that supersedes it.
"""

from typing import Annotated, Literal

from pydantic import Field

from orthotome.core.height.schools import School
from orthotome.formats.reading import FileModel
from orthotome.formats.trial.campaign import (
    CampaignFile,
    Height,
    Kerf,
    Seconds,
    Speed,
    Text,
    ThicknessMm,
    TorchSetFile,
    Voltage,
)


class RecipeSetting(FileModel):
    """What to dial. ``arc_voltage_v`` is null where no cut measured it."""

    speed_mm_min: Speed
    cut_height_mm: Height
    arc_voltage_v: Voltage | None
    pierce_height_mm: Height
    pierce_delay_s: Seconds
    kerf_mm: Kerf


class RecipeProof(FileModel):
    """How sure it is: the chance that the next cut passes, and the cuts that did pass."""

    probability_pass: Annotated[float, Field(ge=0, le=1)]
    passed_cuts: Annotated[tuple[Text, ...], Field(min_length=1, strict=False)]


class RecipeControl(FileModel):
    """What height control is told with it. ``proven`` says whether a long strip and a square passed under it; a
    set-point of null is sampled after each pierce, and ``at_starts`` are those on the parts when it was set."""

    proven: bool
    school: School
    set_point_v: Voltage | None
    control_delay_s: Seconds
    dead_band_v: Annotated[float, Field(ge=0, le=20)]
    hold_below_speed_share: Annotated[float, Field(ge=0.1, le=1)] | None
    crossing_jump_v: Annotated[float, Field(ge=0, le=60)] | None
    hold_holes: bool
    at_starts: Annotated[int, Field(ge=0)] | None = None


class RecipeFile(FileModel):
    """A proven setting, with the whole campaign behind it as evidence."""

    format: Literal["orthotome.recipe"] = "orthotome.recipe"
    version: Literal[1] = 1
    title: Annotated[str, Field(max_length=200)]
    revision: Annotated[int, Field(ge=1)]
    locked_at: Text
    locked_by: Annotated[str, Field(max_length=80)]
    table: Text
    metal: Text
    thickness_mm: ThicknessMm
    torch_set: TorchSetFile
    setting: RecipeSetting
    proof: RecipeProof
    evidence: CampaignFile
    under_control: RecipeControl | None = (
        None  # left out: proven at a fixed height only, and nothing is told
    )
