"""What goes over the wire at the door: this screen, people, devices, the pairing code, the network."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from orthotome.api.wire import Id, Wire
from orthotome.formats.reading import FileModel

Role = Literal["operator", "lead_hand"]
Name = Annotated[str, Field(min_length=1, max_length=40, pattern=r"\S")]
Pin = Annotated[str, Field(pattern=r"^[0-9]{4,8}$", description="4 to 8 digits")]


class PersonAnswer(Wire):
    """Somebody who may sign on."""

    id: int
    name: str
    role: Role


class DoorAnswer(Wire):
    """This screen: on the serving machine, or a device of the network with whoever is signed on there."""

    on_network: bool
    device: str | None
    person: str | None
    role: Role
    people: list[PersonAnswer]


class SignOnRequest(FileModel):
    """Who signs on, with the PIN."""

    person_id: Id
    pin: Annotated[str, Field(max_length=20)]


class PersonRequest(FileModel):
    """Somebody new."""

    name: Name
    role: Role = "operator"
    pin: Pin


class PersonChange(FileModel):
    """Another role or PIN; what is left out stays."""

    role: Role | None = None
    pin: Pin | None = None


class DeviceAnswer(Wire):
    """A device that is let in."""

    id: int
    name: str
    paired_at: datetime
    seen_at: datetime
    person: str | None
    wrong_pins: int  # tried there, and no right one since
    wrong_for: list[str]  # whose, the newest first
    wrong_at: datetime | None


class NetworkAnswer(Wire):
    """Whether the shop's network is served, where, and how a device knows this machine."""

    on: bool
    addresses: list[str]
    fingerprint: str
    wrong_codes: int  # pairing codes that were tried wrongly since Orthotome was started


class PairingAnswer(Wire):
    """A pairing code with its square code (SVG) that leads to the pairing page; empty where none lives."""

    code: str
    seconds_left: int
    address: str
    square_code: str
