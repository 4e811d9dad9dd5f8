"""What comes in and what goes out. Plain models, not the framework's own class: that looks at every value in Python."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints


class Strict(BaseModel):
    """What comes in: a misspelled field is told, not dropped."""

    model_config = ConfigDict(extra="forbid")


class Out(BaseModel):
    """What goes out: core values, rows and dicts as they are, field by field."""

    model_config = ConfigDict(from_attributes=True)


class FileIn(Strict):
    """A file as it was chosen: its bytes in base64."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)] = ""
    content: Annotated[str, Field(max_length=1_000_000)]
