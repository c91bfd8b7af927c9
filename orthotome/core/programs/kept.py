"""What a kept program was checked against, and whether that has moved since."""

from dataclasses import dataclass

from orthotome.core.quantities import thickness


@dataclass(frozen=True)
class Stand:
    """What counted when a program was checked: the setting by its name and revision, the version of the table's page, and
    the set that was fitted."""

    setting: str
    revision: int
    page: int
    fitted: str

    def moved(self, now: "Stand") -> tuple[str, ...]:
        """What is another by now, each in a sentence."""
        said = []
        if (self.setting, self.revision) != (now.setting, now.revision):
            said.append(
                "The setting moved since it was checked."
                if self.setting == now.setting
                else f"It was checked against {self.setting or 'no setting'}."
            )
        if self.page != now.page:
            said.append("The machine’s page changed since it was checked.")
        if self.fitted != now.fitted:
            said.append(f"The {self.fitted or 'unnamed set'} was fitted when it was checked.")
        return tuple(said)


def fitted_says(wanted_set: str, fitted_set: str | None, thickness_mm: float) -> str:
    """Whether the parts on the table are the setting's: said first, and empty where they are."""
    if fitted_set is None:
        return f"Which parts are fitted is not noted: the setting is for the {wanted_set}."
    if fitted_set == wanted_set:
        return ""
    return (
        f"Fitted is the {fitted_set}; the setting for {thickness(thickness_mm)} is the {wanted_set}’s. Program, parts and "
        "setting must agree before anything else is blamed."
    )
