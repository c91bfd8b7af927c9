"""People with their roles, and the devices of the shop's network that were let in."""

from datetime import datetime

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
    wrong_pins: int = 0  # in a row, since the last right one
    locked_until: datetime | None = None
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
