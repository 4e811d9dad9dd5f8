"""What is due, and who is told where."""

import datetime as dt
from typing import Annotated, Literal

from pydantic import Field

from ballast.core.standing import DueKind
from ballast.core.working import Phrase
from ballast.server.edge.quantities import Find, First, Words
from ballast.server.edge.schema import Out, Strict


class ScheduleIn(Strict):
    """What is asked for: of some kinds, of rigs in which every word stands, by so many days ahead, from one on."""

    kinds: list[DueKind | Literal["gauge"]] = []
    find: Find = ""
    days: Annotated[int, Field(ge=0, le=800)] = 60
    first: First = 0


class DueOut(Out):
    """Something due: of a rig or of a gauge, on a day (null: now, never done), why, and whether that day is past."""

    kind: DueKind | Literal["gauge"]
    kind_name: str
    rig: int | None
    gauge: int | None
    name: str
    on: dt.date | None
    over: bool
    why: Phrase


class KindCountOut(Out):
    key: DueKind | Literal["gauge"]
    name: str
    count: int


class ScheduleOut(Out):
    """A page of what is due, the first first; `anew`: so many rigs are not worked out yet and not among it."""

    dues: list[DueOut]
    page: int
    found: int
    over: int
    kinds: list[KindCountOut]
    anew: int


class FeedIn(Strict):
    """Of one rig, of one's own rounds, or of all that is due."""

    rig: int | None = None
    own: bool = False


class FeedOut(Out):
    id: int
    of: str
    made_at: dt.datetime
    fetched_on: dt.date | None


class FeedMade(Out):
    """The address, told this once, and all that are good."""

    path: str
    feeds: list[FeedOut]


class NoticeIn(Strict):
    """Where the line goes; null: nowhere."""

    email: Annotated[str, Words(200)] | None = None


class NoticeOut(Out):
    """`possible`: whoever runs the server has set up mail."""

    possible: bool
    email: str
    sent_on: dt.date | None
