"""What every table of the database is made from."""

from sqlmodel import SQLModel
from sqlmodel.main import SQLModelConfig


class Row(SQLModel):
    """A row; what would check one as if it came from outside is made ready only where somebody asks for it."""

    model_config = SQLModelConfig(defer_build=True)
