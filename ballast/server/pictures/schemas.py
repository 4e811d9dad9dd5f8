import datetime as dt
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from ballast.server.edge.quantities import Words
from ballast.server.edge.schema import Out, Strict

What = Literal["label", "sidewall", "ticket", "damage", "chalk", "wear", "other"]


class PictureIn(Strict):
    """A picture in base64, and what it is of: a place of the rig, a weighing of it, a wheel in a round."""

    what: What
    place: Annotated[str, Words(12)] = ""
    wheel: Annotated[str, Words(8)] = ""
    weighing: int | None = None
    round: int | None = None
    content: Annotated[str, Field(min_length=1, max_length=1_000_000)]


class PictureOut(Out):
    uuid: UUID
    what: What
    name: str
    place: str
    wheel: str
    weighing: int | None
    round: int | None
    width: int
    height: int
    taken_at: dt.datetime
    taken_by: str
    # The person may take it off.
    own: bool


class PicturesOut(Out):
    """The pictures of a rig, and how much of its quota the workspace has used [bytes]."""

    pictures: list[PictureOut]
    used: int
    quota: int
