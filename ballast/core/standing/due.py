"""When the next round and the next weighing are due."""

import datetime as dt
from dataclasses import dataclass

from ballast.core.working import Phrase, day, kg, say, share

ROUND_EVERY_DAYS = 7
# What a workspace or a rig may have instead.
CHECK_CHOICES_DAYS = (1, 3, 7, 14, 30)
WEIGH_EVERY_DAYS = 365
# More than this share of the weighed gross put aboard since: weigh again.
WEIGH_AGAIN_SHARE = 0.02


@dataclass(frozen=True)
class Due:
    """A due date and how many days ago (positive) or ahead (negative) it is. None: never done."""

    on: dt.date | None
    days_over: int | None

    @property
    def now(self) -> bool:
        return self.days_over is None or self.days_over >= 0


def due(last: dt.date | None, every_days: int, today: dt.date) -> Due:
    """When something last done on `last` is due again. Never done is due now."""
    if last is None:
        return Due(None, None)
    on = last + dt.timedelta(days=every_days)
    return Due(on, (today - on).days)


def round_due(last: dt.date | None, next_on: dt.date | None, today: dt.date) -> Due:
    """When the next round is due: by what the last one found, else a week after it. Never done is due now."""
    if last is None or next_on is None:
        return due(last, ROUND_EVERY_DAYS, today)
    return Due(next_on, (today - next_on).days)


def sooner(last: dt.date, next_on: dt.date) -> bool:
    """Whether a next check comes before the usual week is over."""
    return (next_on - last).days < ROUND_EVERY_DAYS


@dataclass(frozen=True)
class Dated:
    """Words that hold on every day: `{ago}` in them stands for how long ago `since` was."""

    words: Phrase
    since: dt.date | None = None

    def on(self, today: dt.date) -> Phrase:
        """The words as they are said on a day.

        >>> Dated(say("Weighed {ago}"), dt.date(2026, 11, 27)).on(dt.date(2026, 11, 29)).text
        'Weighed 2 days ago'
        """
        if self.since is None:
            return self.words
        return Phrase(self.words.text.replace("{ago}", ago(self.since, today)), self.words.values)


@dataclass(frozen=True)
class NextCheck:
    """The day of a next check, and why then."""

    on: dt.date
    words: str


def next_check(last: dt.date, every_days: int, sooner: tuple[tuple[str, float], ...]) -> NextCheck:
    """The next check after one on `last`: at the usual interval, or sooner where a tire asks for it.

    `sooner`: reasons with the days that each leaves, by the near end of its range; less than a day is the next day.
    """
    every = "a week" if every_days == 7 else f"{every_days} days"
    check = NextCheck(
        last + dt.timedelta(days=every_days), f"{every} after the last, or before the next trip".capitalize()
    )
    for words, days in sooner:
        on = last + dt.timedelta(days=max(1, int(days)))
        if on < check.on:
            check = NextCheck(on, words)
    return check


def before_trip(usual: NextCheck, last: dt.date, leaves: dt.date | None) -> NextCheck:
    """A next check, brought forward to the day on which a trip begins; after a check on that day or later it is not."""
    if leaves is None or not last < leaves < usual.on:
        return usual
    return NextCheck(leaves, "The trip begins then")


def weighing_due(last: dt.date | None, added_kg: float, gross_kg: float | None, today: dt.date) -> Due:
    """When the next weighing is due: yearly, at once when more than 2 % of the gross was put aboard since."""
    by_date = due(last, WEIGH_EVERY_DAYS, today)
    if by_date.on is None or not gross_kg or added_kg <= WEIGH_AGAIN_SHARE * gross_kg:
        return by_date
    return Due(min(by_date.on, today), max(by_date.days_over or 0, 0))


def added_share(masses_kg: tuple[float, ...], gross_kg: float | None) -> float | None:
    """What was put aboard or taken off, as a share of the weighed gross; None where that is not known."""
    return sum(abs(m) for m in masses_kg) / gross_kg if gross_kg else None


def weighing_words(last: dt.date | None, added_kg: float, gross_kg: float | None, today: dt.date) -> Dated:
    """When to weigh again, and why: the words of `weighing_due`."""
    due = weighing_due(last, added_kg, gross_kg, today)
    if last is None or due.on is None:
        return Dated(say("Not weighed: weigh it as it travels"))
    if gross_kg and added_kg > WEIGH_AGAIN_SHARE * gross_kg:
        added = (kg(added_kg), share(added_kg / gross_kg))
        return Dated(say("{0} put aboard since, {1} of what was weighed: weigh again", *added))
    if due.now:
        return Dated(say("Weighed {ago}: weigh again"), last)
    return Dated(say(f"Next weighing by {day(due.on)}, or after anything big"))


def ago(last: dt.date, today: dt.date) -> str:
    """How long ago, as people say it."""
    days = (today - last).days
    if days < 0:
        return f"on {day(last)}"
    if days == 0:
        return "today"
    if days == 1:
        return "yesterday"
    if days < 61:
        return f"{days} days ago"
    return f"{days // 30} months ago"
