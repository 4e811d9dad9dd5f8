"""A month of a fleet: were its checks kept, and which leaks were found and mended."""

import datetime as dt
from collections.abc import Iterable, Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Kept:
    """Checks that fell due in a time: done by their day, done after it, or not done by the end of it."""

    on_time: int = 0
    late: int = 0
    missed: int = 0

    @property
    def due(self) -> int:
        return self.on_time + self.late + self.missed

    def __add__(self, other: "Kept") -> "Kept":
        return Kept(self.on_time + other.on_time, self.late + other.late, self.missed + other.missed)


def kept(checks: Sequence[tuple[dt.date, dt.date | None]], first: dt.date, last: dt.date, today: dt.date) -> Kept:
    """How one rig's checks were kept from a day to another; each check: its day and when the next was due, in turn.

    What falls due today or later is not missed yet.

    >>> week = [(dt.date(2026, 11, d), dt.date(2026, 11, d + 7)) for d in (2, 9, 18)]
    >>> kept(week, dt.date(2026, 11, 1), dt.date(2026, 11, 30), dt.date(2026, 12, 5))
    Kept(on_time=1, late=1, missed=1)
    """
    on_time = late = missed = 0
    for i, (_, due) in enumerate(checks):
        if due is None or not first <= due <= last:
            continue
        after = checks[i + 1][0] if i + 1 < len(checks) else None
        if after is not None and after <= due:
            on_time += 1
        elif after is not None and after <= last:
            late += 1
        elif due < today:
            missed += 1
    return Kept(on_time, late, missed)


@dataclass(frozen=True)
class Turned:
    """How often a leak was found, and how often one was found no more."""

    found: int
    mended: int


def turned(named: Iterable[tuple[bool | None, bool]]) -> Turned:
    """Of services with whether the one before them named a leak (None: there was none), and whether they do.

    >>> turned([(None, True), (True, True), (True, False), (False, False)])
    Turned(found=1, mended=1)
    """
    every = list(named)
    return Turned(
        sum(now and not before for before, now in every), sum(bool(before) and not now for before, now in every)
    )
