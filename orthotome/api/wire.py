"""Words that every room says over the wire the same way."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, computed_field

from orthotome.core.quantities import thickness

Key = Annotated[str, Field(min_length=1, max_length=80)]


Id = Annotated[int, Field(ge=1, le=2**31)]


Version = Annotated[int, Field(ge=0, le=2**31)]
"""Of a record that two screens may change: what was read of it, so that nothing unseen is overwritten."""


class Wire(BaseModel):
    """A part of a question or an answer; made ready when it is first used: of some hundreds, a screen asks for a few."""

    model_config = ConfigDict(defer_build=True)


class Problem(Wire):
    """problem+json."""

    type: str
    title: str
    status: int
    detail: str
    errors: list[dict[str, str]]


class Plated(Wire):
    """Something of one metal and thickness, which is said as it is bought: 8 mm, 14 ga, 3/8 in."""

    metal: str
    thickness_mm: float

    @computed_field  # type: ignore[prop-decorator]
    @property
    def plate(self) -> str:
        """The thickness in the shop's own words."""
        return thickness(self.thickness_mm, self.metal)


Insisted = Annotated[
    tuple[Annotated[str, Field(max_length=40)], ...],
    Field(max_length=20, strict=False, description="fields whose doubtful number is right"),
]
