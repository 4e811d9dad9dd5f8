"""A month of a fleet."""

import datetime as dt
import re
from typing import Annotated

from pydantic import AfterValidator

from ballast.core.rounds import Word
from ballast.core.working import Phrase
from ballast.server.edge.quantities import Words
from ballast.server.edge.schema import Out, Strict


def _is_month(text: str) -> str:
    if text and not re.fullmatch(r"(199\d|20\d\d)-(0[1-9]|1[0-2])", text):
        raise ValueError("Name a month as year-month, for example 2026-11.")
    return text


class MonthIn(Strict):
    """A month as `2026-11`; empty: the one it is, or while nothing was sealed in it the one before."""

    month: Annotated[str, Words(7), AfterValidator(_is_month)] = ""


class RigMonthOut(Out):
    """A rig's month: rounds done, checks that fell due and how they were kept, tires by what was said of them, leaks, air."""

    rig: int
    name: str
    rounds: int
    on_time: int
    late: int
    missed: int
    read: int
    out: int
    found: int
    mended: int
    filled: int
    weigh: bool


class DoneByOut(Out):
    name: str
    rounds: int


class SaidOut(Out):
    """So many readings of which this was said."""

    word: Word
    name: str
    count: int


class ReportOut(Out):
    """A fleet's month. `days`: rounds sealed on each; `filled`: tires that got air, and how much in the mean [kPa]."""

    month: str
    first: dt.date
    last: dt.date
    workspace: str
    made_on: dt.date
    rounds: int
    on_time: int
    late: int
    missed: int
    days: list[int]
    people: list[DoneByOut]
    said: list[SaidOut]
    found: int
    mended: int
    filled: int
    filled_kpa: float | None
    weighings: int
    gauges: list[Phrase]
    rigs: list[RigMonthOut]
    # Of so many rigs it is not known just now whether their weighing is due.
    anew: int
