from ninja import Schema
from pydantic import ConfigDict


class Strict(Schema):
    """What comes in: a misspelled field is told, not dropped."""

    model_config = ConfigDict(extra="forbid")
