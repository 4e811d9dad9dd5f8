"""A round that was given to somebody, for a day: what does it, and how it is said."""

import datetime as dt
from collections.abc import Sequence

from ballast.core.working import Phrase, day, number, plain, say

# Days that are named by their weekday.
_NEAR = 7


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


def overdue(on: dt.date, today: dt.date) -> bool:
    return on < today


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
