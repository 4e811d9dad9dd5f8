"""What asks for a round at once, whatever the last one said."""

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

Asking = Literal["lamp", "low", "very low", "high", "heat", "fast loss", "plug", "patch", "cut"]
# As it is said of a vehicle, or of a wheel with " at 1L" after it.
_SAID: dict[Asking, str] = {
    "lamp": "the lamp",
    "low": "a low alarm",
    "very low": "a very low alarm",
    "high": "a high alarm",
    "heat": "a heat alarm",
    "fast loss": "an alarm of a fast loss",
    "plug": "a plug",
    "patch": "a patch",
    "cut": "a cut, bulge or impact",
}
_HEARD: frozenset[Asking] = frozenset({"low", "very low", "high", "heat", "fast loss"})
ASKING: frozenset[str] = frozenset(_SAID)


@dataclass(frozen=True)
class Event:
    """Something that happened to a vehicle, or at its wheel by its own code: on which day, and from which moment it is told."""

    what: Asking
    on: dt.date
    told_at: dt.datetime
    wheel: str = ""

    @property
    def words(self) -> str:
        return _SAID[self.what]

    def follows(self, read_at: dt.datetime) -> bool:
        """Whether it happened after a reading; of the same day it did where it was told after it.

        >>> noon, day = dt.datetime(2026, 11, 25, 12, tzinfo=dt.UTC), dt.timedelta(days=1)
        >>> [Event("plug", on, noon + day).follows(noon) for on in (noon.date() - day, noon.date(), noon.date() + day)]
        [False, True, True]
        """
        return (self.on, self.told_at) > (read_at.date(), read_at)


def foretells(read_at: dt.datetime, there: Iterable[Event]) -> Literal["it", "its sensor", "nothing"]:
    """What foretells a tire that was read, beside what happened at its wheel since.

    After an alarm just a newer number of its sensor does; whatever moved its air otherwise leaves nothing to go by.
    """
    since = {e.what for e in there if e.follows(read_at)}
    if not since:
        return "it"
    return "its sensor" if since <= _HEARD else "nothing"


def foretells_elsewhere(read_at: dt.datetime, there: Iterable[Event], air_moved_at: Iterable[dt.datetime]) -> bool:
    """Whether a reading still foretells its tire at another wheel of its vehicle: nothing happened where it was read, and at neither
    wheel was its air moved since.

    >>> noon, day = dt.datetime(2026, 11, 25, 12, tzinfo=dt.UTC), dt.timedelta(days=1)
    >>> foretells_elsewhere(noon, (), [noon - day]), foretells_elsewhere(noon, (), [noon + day])
    (True, False)
    """
    return foretells(read_at, there) == "it" and all(at <= read_at for at in air_moved_at)


@dataclass(frozen=True)
class UsedGauge:
    """A gauge that a round was read with, since when, and when it was dropped, over-pressed or found apart from another."""

    label: str
    used_at: dt.datetime
    doubted_at: dt.datetime

    @property
    def doubted_since(self) -> bool:
        return self.doubted_at > self.used_at
