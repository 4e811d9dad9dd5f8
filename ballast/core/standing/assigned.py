"""A round that was given to somebody, for a day: what does it, and how it is said."""

import datetime as dt
from collections.abc import Sequence

from ballast.core.refusal import Refusal
from ballast.core.standing.laid_up import LaidUp
from ballast.core.working import Phrase, day, number, plain, say

# Days that are named by their weekday, and as many as a round is given ahead.
_NEAR, _LONGEST_DAYS = 7, 366


def covers(on: dt.date, read_on: dt.date, next_on: dt.date | None) -> bool:
    """Whether a round that was read on a day does one that was given for `on`: it holds until its next check is due.

    >>> covers(dt.date(2026, 11, 30), dt.date(2026, 11, 27), dt.date(2026, 12, 4))
    True
    >>> covers(dt.date(2026, 12, 4), dt.date(2026, 11, 27), dt.date(2026, 12, 4))
    False
    """
    return on <= read_on if next_on is None else on < next_on


def when(on: dt.date, today: dt.date) -> str:
    """The day of a round that was given, as it is said today.

    >>> when(dt.date(2026, 11, 27), dt.date(2026, 11, 29))
    '2 days over'
    """
    days = (on - today).days
    if days < 0:
        return "a day over" if days == -1 else f"{-days} days over"
    if days < 2:
        return ("today", "tomorrow")[days]
    return f"on {on:%A}" if days < _NEAR else f"on {day(on)}"


def check_day(on: dt.date, today: dt.date) -> None:
    """Raises Refusal for a day that a round is not given for. Somebody west of here may still have yesterday."""
    if not today - dt.timedelta(days=1) <= on <= today + dt.timedelta(days=_LONGEST_DAYS):
        raise Refusal("Choose a day from today on, within a year.", "on")


def not_given(archived: bool, out: bool, laid: LaidUp | None, on: dt.date, today: dt.date) -> str:
    """Why a rig's round is not given for a day; empty: it may be."""
    if archived or out:
        return "archived" if archived else "out of service"
    return f"laid up until {laid.until:%b} {laid.until.day}" if laid and laid.until > max(on, today) else ""


def day_words(over: int, first: Sequence[str]) -> Phrase:
    """A person's day: how many rounds there are by today, how many of them are over, and which comes first.

    >>> day_words(1, ("Coach", "Van", "Bus")).text
    '{0} rounds, {1} of them over, Coach first'
    """
    if not first:
        return say("No round for today")
    noun = "{0} round" if len(first) == 1 else "{0} rounds"
    late = "" if not over else ", over" if len(first) == over == 1 else ", {1} of them over"
    lead = f", {plain(first[0])} first" if len(first) > 1 else f": {plain(first[0])}"
    counts = (number(len(first)), number(over)) if "{1}" in late else (number(len(first)),)
    return say(noun + late + lead, *counts)
