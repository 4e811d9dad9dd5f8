"""What comes in and what goes out. Plain models, not the framework's own class: that looks at every value in Python."""

from pydantic import BaseModel, ConfigDict


class Strict(BaseModel):
    """What comes in: a misspelled field is told, not dropped."""

    model_config = ConfigDict(extra="forbid")


class Out(BaseModel):
    """What goes out: core values, rows and dicts as they are, field by field."""

    model_config = ConfigDict(from_attributes=True)
