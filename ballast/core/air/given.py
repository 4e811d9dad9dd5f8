"""Air that a person typed: how long it is taken for now, and when the dawn that was meant has passed."""

import datetime as dt
from dataclasses import dataclass

from ballast.core.working import Phrase, number, say

# "Now" as typed is old after so long [h].
NOW_OLD_H = 6.0
# Dawn is over by this hour of the place's own clock; where that is not known, it may be a day away.
DAWN_OVER_HOUR = 8


@dataclass(frozen=True)
class Given:
    """How old typed air is [h], whether its “now” is, and whether its dawn has passed."""

    age_h: float
    old: bool
    dawn_passed: bool

    @property
    def words(self) -> Phrase:
        """What is said of air that is too old to go by."""
        hours = number(round(self.age_h))
        if self.age_h < 48:
            return say("given {0} h ago: confirm it or give it anew", hours)
        return say("given {0} days ago: give it anew", number(int(self.age_h // 24)))


def given(at: dt.datetime, now: dt.datetime, offset_min: int | None) -> Given:
    """Air typed at one moment, looked at in another; `offset_min`: the place's clock, minutes east of UTC, where it is known."""
    age = now - at
    passed = at + dt.timedelta(days=1)
    if offset_min is not None:
        local = at + dt.timedelta(minutes=offset_min)
        over = local.replace(hour=DAWN_OVER_HOUR, minute=0, second=0, microsecond=0)
        passed = at + ((over if over > local else over + dt.timedelta(days=1)) - local)
    hours = age / dt.timedelta(hours=1)
    return Given(hours, hours > NOW_OLD_H, now >= passed)
