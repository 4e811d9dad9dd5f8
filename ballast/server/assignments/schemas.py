"""Rounds that are given, and to whom."""

import datetime as dt
from typing import Annotated
from uuid import UUID

from pydantic import Field

from ballast.server.edge.quantities import Day, Name, Words
from ballast.server.edge.schema import Out, Strict


class AssignedOut(Out):
    """A round that somebody has to do: by which day, as it is said today, and whether that is over."""

    id: int
    rig: int
    on: dt.date
    when: str
    over: bool
    to: str
    # Of whoever asks, or of a crew of theirs.
    yours: bool
    note: str


class ToIn(Strict):
    """Who does it: somebody of the workspace, or a crew; neither: whoever asks."""

    member: int | None = None
    crew: int | None = None


class GiveIn(Strict):
    """Rounds of some rigs, to somebody, for a day."""

    rigs: Annotated[list[int], Field(min_length=1, max_length=5000)]
    to: ToIn
    on: Day
    note: Annotated[str, Words(200)] = ""


class GiveOnceIn(GiveIn):
    uuid: UUID


class HandIn(Strict):
    """Over to another, or for another day; what is left out stays."""

    to: ToIn | None = None
    on: Day | None = None
    note: Annotated[str, Words(200)] | None = None


class NotGivenOut(Out):
    """A rig whose round is not given, and why."""

    rig: int
    name: str
    words: str


class GivenOut(Out):
    """What is given: how many rounds to whom, of them from somebody else, and what is not."""

    to: str
    given: int
    moved: int
    not_given: list[NotGivenOut]


class CrewIn(Strict):
    name: Name
    members: Annotated[list[int], Field(max_length=500)]


class CrewOut(Out):
    """A crew, its people by their place among those of the workspace."""

    id: int
    name: str
    members: list[int]
    # Of these the one who asks is one.
    yours: bool
