"""People with their roles, and the devices of the shop's network that were let in."""

from datetime import datetime

from sqlalchemy import UniqueConstraint
from sqlmodel import Field

from orthotome.store.clock import now
from orthotome.store.row import Row


class PersonRow(Row, table=True):
    """Somebody who signs on with a name and a PIN."""

    __tablename__ = "person"

    id: int | None = Field(default=None, primary_key=True)
    name: str = Field(unique=True)
    role: str  # operator or lead_hand
    pin_hash: str
    struck_out: bool = False


class DeviceRow(Row, table=True):
    """A device that was paired; it holds a token of which only a digest is kept here."""

    __tablename__ = "device"

    id: int | None = Field(default=None, primary_key=True)
    name: str
    token_hash: str = Field(unique=True)
    paired_at: datetime = Field(default_factory=now)
    seen_at: datetime = Field(default_factory=now)
    revoked_at: datetime | None = None
    person_id: int | None = Field(default=None, foreign_key="person.id")  # who is signed on


class PinTryRow(Row, table=True):
    """How often a person's PIN was tried wrongly from a device since the last right one, and until when none is looked
    at; ``rounds`` counts how often that came about."""

    __tablename__ = "pin_try"

    id: int | None = Field(default=None, primary_key=True)
    device_id: int = Field(foreign_key="device.id")
    person_id: int = Field(foreign_key="person.id")
    wrong: int = 0
    in_a_row: int = 0
    rounds: int = 0
    locked_until: datetime | None = None
    last_at: datetime = Field(default_factory=now)

    __table_args__ = (UniqueConstraint("device_id", "person_id", name="tried_at"),)
