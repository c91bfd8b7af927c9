"""What every table of the database is made from."""

from pydantic import ConfigDict
from sqlmodel import AutoString, SQLModel


class JsonText(AutoString):
    """A column of text that holds JSON; what is brought in from elsewhere is held to it."""


class Row(SQLModel):
    """A row; what would check one as if it came from outside is made ready only where somebody asks for it."""

    model_config = ConfigDict(defer_build=True)  # type: ignore[assignment] # SQLModel's own kind of it says no more
