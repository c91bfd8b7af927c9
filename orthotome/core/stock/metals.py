"""The metals Orthotome has words for, what each cuts like, and what its fume carries."""

from dataclasses import dataclass

from orthotome.core.stock.hazards import fire_caution


@dataclass(frozen=True)
class Metal:
    """A metal by its name in the files.

    ``cuts_as`` is the metal whose starting rows hold for it as they are (a coating changes the
    fume, not the cut). ``fume`` is the caution to show, or None where the general one is enough; ``fire`` that
    of a metal which can burn itself.
    ``conducts_well`` marks the metals whose heat runs away: start their speeds well below steel's.
    """

    name: str
    label: str
    cuts_as: str
    fume: str | None = None
    fire: str | None = None
    conducts_well: bool = False

    @property
    def cautions(self) -> tuple[str, ...]:
        """What to know before it is cut, beyond what holds for every metal."""
        return tuple(said for said in (self.fume, self.fire) if said is not None)


METALS: dict[str, Metal] = {
    m.name: m
    for m in (
        Metal("mild_steel", "mild steel", "mild_steel"),
        Metal(
            "galvanized_steel",
            "galvanized steel",
            "mild_steel",
            fume="Zinc fume: galvanized sheet needs extraction and the mask your safety sheet names.",
        ),
        Metal(
            "stainless_steel",
            "stainless steel",
            "stainless_steel",
            fume="Chromium VI and nickel in the fume: extraction on, mask as your safety sheet names.",
        ),
        Metal(
            "aluminium",
            "aluminium",
            "aluminium",
            fume="Hydrogen gathers under aluminium on a water table and can explode: follow the "
            "table's manual. Keep steel sparks out of aluminium dust.",
        ),
        Metal(
            "copper",
            "copper",
            "copper",
            fume="Copper fume brings on a fever hours later, and beryllium copper poisons: know the alloy, "
            "extraction on.",
            conducts_well=True,
        ),
        Metal(
            "brass",
            "brass",
            "brass",
            fume="Zinc and lead in the fume: extraction on, mask as your safety sheet names.",
            conducts_well=True,
        ),
        Metal(
            "bronze",
            "bronze",
            "bronze",
            fume="Lead, and in some bronzes beryllium, in the fume: know the alloy before you cut.",
            conducts_well=True,
        ),
    )
}


def metal_named(name: str) -> Metal:
    """The metal of that name; a shop's own name is a metal that cuts as itself."""
    return METALS.get(name) or Metal(name, name.replace("_", " "), name, fire=fire_caution(name))


def is_expected(name: str) -> bool:
    """Whether Orthotome expects anything of a metal before the first cut: of sheet metals that it has a
    word for it does, of good conductors and of a shop's own metals it does not."""
    return name in METALS and not METALS[name].conducts_well
