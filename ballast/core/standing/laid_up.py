"""A rig that is laid up until a day: its dues rest until then, and a round is asked for before it rolls again."""

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.rounds.answer import CEILING_SLACK_KPA
from ballast.core.standing.due import NextCheck
from ballast.core.units import both
from ballast.core.working import Phrase, day, kpa, plain, say

LONGEST_DAYS = 3 * 366


@dataclass(frozen=True)
class LaidUp:
    """Laid up on a day until another, at a pressure [kPa, None: not said], and why."""

    on: dt.date
    until: dt.date
    kept_kpa: float | None = None
    why: str = ""
    for_trip: bool = False

    def before(self, leaves: dt.date | None) -> "LaidUp":
        """The same, no longer than to the day on which a trip begins."""
        if leaves is None or not self.on < leaves < self.until:
            return self
        return replace(self, until=leaves, for_trip=True)

    def stands(self, last: dt.date | None, today: dt.date) -> Literal["resting", "rising", "over"]:
        """Resting until its day; from then on rising, until a round is sealed that was read on that day or later."""
        if today < self.until:
            return "resting"
        return "rising" if last is None or last < self.until else "over"

    def next_check(self, usual: NextCheck, last: dt.date | None, today: dt.date) -> NextCheck:
        """The next check of a rig, where it is not laid up the usual one."""
        return usual if self.stands(last, today) == "over" else NextCheck(self.until, "Before it rolls")

    def words(self, last: dt.date | None, today: dt.date) -> Phrase | None:
        """How it stands, in words; None: it is over.

        >>> at = LaidUp(dt.date(2026, 11, 1), dt.date(2027, 3, 15), why="covered")
        >>> at.words(None, dt.date(2026, 11, 27)).text
        'Laid up until Mar 15, 2027: covered'
        """
        stands = self.stands(last, today)
        if stands == "over":
            return None
        kept = f"{'kept' if stands == 'resting' else 'it was kept'} at {{0}}" if self.kept_kpa is not None else ""
        values = () if self.kept_kpa is None else (kpa(self.kept_kpa),)
        if stands == "rising":
            was = f" ({kept})" if kept else ""
            return say(f"Laid up until {day(self.until)}{was}: read every tire before it rolls", *values)
        ends = f"{day(self.until)}, a trip begins then" if self.for_trip else day(self.until)
        head = f"Laid up until {ends}" + (f", {kept}" if kept else "")
        return say(f"{head}: {plain(self.why)}" if self.why else head, *values)


def check_laid_up(until: dt.date, kept_kpa: float | None, ceilings_kpa: Iterable[float | None], today: dt.date) -> None:
    """Raises Refusal for a day that is no day to come, and for a pressure above the lowest known ceiling of its tires."""
    if not today < until:
        raise Refusal(
            f"It is laid up until a day to come: {day(until)} is none. Give the day on which it rolls.", "until"
        )
    if (until - today).days > LONGEST_DAYS:
        raise Refusal(f"{day(until)} is more than three years off. Archive it instead, or check the year.", "until")
    known = [c for c in ceilings_kpa if c is not None]
    if kept_kpa is not None and known and kept_kpa > min(known) + CEILING_SLACK_KPA:
        most = both("pressure", min(known))
        raise Refusal(f"No tire is kept above its ceiling, here {most}. Keep it at that or less.", "kept")
