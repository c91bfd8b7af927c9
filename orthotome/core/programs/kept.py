"""What a kept program was checked against, and whether that has moved since."""

from dataclasses import dataclass

from orthotome.core.programs.checked_against import PlateJob
from orthotome.core.quantities import thickness


@dataclass(frozen=True)
class Stand:
    """What counted when a program was checked: the setting by its name, revision and numbers, the version of the table's
    page, and the set that was fitted. ``dialled`` is empty in what was kept before it was written down."""

    setting: str
    revision: int
    page: int
    fitted: str
    dialled: tuple[float, ...] = ()

    def moved(self, now: "Stand") -> tuple[str, ...]:
        """What is another by now, each in a sentence."""
        said = []
        if self.setting != now.setting:
            said.append(f"It was checked against {self.setting or 'no setting'}.")
        elif self.revision != now.revision or (self.dialled and self.dialled != now.dialled):
            said.append("The setting moved since it was checked.")
        if self.page != now.page:
            said.append("The machine’s page changed since it was checked.")
        if self.fitted != now.fitted:
            said.append(f"The {self.fitted or 'unnamed set'} was fitted when it was checked.")
        return tuple(said)


def dialled(job: PlateJob | None) -> tuple[float, ...]:
    """What a hand dials of a setting, to be compared; none without one. Volts are seen, and not dialled."""
    if job is None:
        return ()
    s = job.setting
    at = (s.speed_mm_min, s.cut_height_mm, s.pierce_height_mm, s.pierce_delay_s, s.kerf_mm)
    return tuple(round(v, 4) for v in at)


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
