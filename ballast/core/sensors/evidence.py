"""What a number off a display is worth beside what rounds say: evidence at its own uncertainty, never a round."""

import datetime as dt
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ballast.core.gas import Air, carry
from ballast.core.lookback import MONTH, Rate, days_until
from ballast.core.sensors.numbers import Sample, cold_equivalent, is_cold, is_old
from ballast.core.working import Phrase, say
from ballast.core.working import kpa as of_kpa

# What a display's number is off by at most, at 95 % [kPa]: 1 psi of its own, where nobody knows its offset.
OF_ITS_OWN_KPA = 7.0
# And of a tire's temperature at 95 % [°C]: as sent, as stood, and as taken where it rolled or nobody said.
SENT_C, STOOD_C, TAKEN_C = 3.0, 3.0, 10.0
# Half the width at 95 % of a gauge in practised hands [kPa].
GAUGE_KPA = 2.4
# Of a display in whole psi, half its step.
STEP_KPA = 3.5
# A sensor's offset is known from so many like pairs.
LEAST_PAIRS = 3
# A pair is like where so little time lies between the two.
PAIRED_WITHIN = dt.timedelta(hours=12)


@dataclass(frozen=True)
class Offset:
    """How far a sensor reads over what a gauge said cold [kPa], its half-width at 95 %, and from how many pairs."""

    kpa: float
    within_kpa: float
    pairs: int


@dataclass(frozen=True)
class Glimpse:
    """What a number comes to here, as if cold [kPa], its half-width at 95 %, and when it was.

    `apart_kpa`: the half-width of what two numbers of one sensor differ by, where the tire stayed as it was: what it is off
    by as ever is in both.
    """

    kpa: float
    within_kpa: float
    at: dt.datetime
    apart_kpa: float


def offset(pairs: Sequence[tuple[float, float]]) -> Offset | None:
    """A sensor's offset from like pairs (it, the gauge), cold and in one air [kPa]; None: too few.

    >>> offset([(402, 400), (403, 400), (404, 400)])
    Offset(kpa=3.0, within_kpa=2.484, pairs=3)
    """
    if len(pairs) < LEAST_PAIRS:
        return None
    off = np.array([seen - true for seen, true in pairs])
    spread = float(off.std(ddof=1))
    # Student's factor of three pairs at 95 %, the widest; and never surer than a gauge is itself.
    within = max(4.303 * spread / math.sqrt(len(off)), GAUGE_KPA)
    return Offset(float(off.mean()), round(within, 3), len(pairs))


@dataclass(frozen=True)
class Served:
    """A wheel in a sealed round: true and as if cold as found, and as left where air was changed [kPa], in its air."""

    at: dt.datetime
    air: Air
    found_kpa: float
    left_kpa: float | None


def pairs(samples: Sequence[Sample], rounds: Sequence[Served], heavy: bool) -> list[tuple[float, float]]:
    """Like pairs of one wheel, in the air of its round: a cold number of its sensor, and what a gauge said within half a day.

    Before the round the sensor felt what was found, after it what was left.
    """
    like = []
    for seen in samples:
        near = min(rounds, key=lambda r: abs(r.at - seen.at), default=None)
        if near is None or abs(near.at - seen.at) > PAIRED_WITHIN or not (seen.fresh and is_cold(seen, heavy)):
            continue
        left = near.left_kpa if near.left_kpa is not None else near.found_kpa
        true = near.found_kpa if seen.at <= near.at else left
        like.append((carry(cold_equivalent(seen, heavy), seen.air, near.air), true))
    return like


def glimpse(sample: Sample, heavy: bool, here: Air, now: dt.datetime, off: Offset | None = None) -> Glimpse | None:
    """What a number says of its tire here and now; None: it is old, or the receiver only showed it again.

    >>> at = dt.datetime(2026, 11, 28, 6)
    >>> seen = glimpse(Sample("1L", at, 300, Air(10, 0), stood_h=9), False, Air(10, 0), at)
    >>> (seen.kpa, round(seen.within_kpa, 1)) if seen else None
    (300.0, 8.2)
    """
    if not sample.fresh or is_old(sample.at, now):
        return None
    cold = cold_equivalent(sample, heavy)
    of_tire_c = SENT_C if sample.tire_c is not None else STOOD_C if is_cold(sample, heavy) else TAKEN_C
    by_warmth = (cold + sample.air.absolute_kpa) * of_tire_c / (sample.air.temperature_c + 273.15)
    own = off.within_kpa if off else math.hypot(OF_ITS_OWN_KPA, sample.lacks_kpa)
    kpa = carry(cold - (off.kpa if off else 0.0), sample.air, here)
    return Glimpse(kpa, math.hypot(own, by_warmth), sample.at, math.sqrt(2) * math.hypot(STEP_KPA, by_warmth))


def beside(kpa: float, within_kpa: float, seen: Glimpse) -> tuple[float, float]:
    """What is known of a tire by a prediction and a number seen since, with its half-width at 95 % [kPa].

    Where they agree each counts by how sure it is. Where they do not, one of them is wrong and nobody knows which: it lies
    anywhere between their far ends, and that is too wide to be called anything.

    >>> kpa, within = beside(300, 6, Glimpse(304, 8, dt.datetime(2026, 11, 28), 6))
    >>> round(kpa, 2), round(within, 2), beside(300, 3, Glimpse(270, 7, dt.datetime(2026, 11, 28), 6))
    (301.44, 4.8, (283.0, 20.0))
    """
    if abs(kpa - seen.kpa) > math.hypot(within_kpa, seen.within_kpa):
        low, high = min(kpa - within_kpa, seen.kpa - seen.within_kpa), max(kpa + within_kpa, seen.kpa + seen.within_kpa)
        return (low + high) / 2, (high - low) / 2
    both = math.hypot(within_kpa, seen.within_kpa)
    share = (within_kpa / both) ** 2
    return kpa + (seen.kpa - kpa) * share, within_kpa * seen.within_kpa / both


@dataclass(frozen=True)
class Trend:
    """What a tire loses a day by numbers off its display [kPa], negative when falling, its standard error, and how many."""

    kpa_day: float
    error_kpa_day: float
    count: int


def trend(seen: Sequence[Glimpse]) -> Trend | None:
    """The slope of numbers of one tire, all brought to one air, since its air was last set; None: too few, or of one moment.

    With a start of its own, so that what the sensor is off by as ever does not count. Weighted least squares; wider where they
    scatter more than each alone explains.

    >>> at = dt.datetime(2026, 11, 1)
    >>> found = trend([Glimpse(300 - d, 8, at + dt.timedelta(days=d), 6) for d in (0, 10, 20)])
    >>> (round(found.kpa_day, 3), round(found.error_kpa_day, 3), found.count) if found else None
    (-1.0, 0.15, 3)
    """
    if len(seen) < LEAST_PAIRS:
        return None
    day = np.array([(s.at - seen[0].at) / dt.timedelta(days=1) for s in seen])
    kpa = np.array([s.kpa for s in seen])
    # Half the width is two standard deviations, and of two numbers that differ each has its share.
    weight = np.array([8.0 / s.apart_kpa**2 for s in seen])
    day -= np.average(day, weights=weight)
    reach = float((weight * day**2).sum())
    if reach <= 0:
        return None
    slope = float((weight * day * kpa).sum()) / reach
    rest = kpa - np.average(kpa, weights=weight) - slope * day
    scatter = math.sqrt(float((weight * rest**2).sum()) / (len(seen) - 2))
    return Trend(slope, max(1.0, scatter) / math.sqrt(reach), len(seen))


@dataclass(frozen=True)
class Loss:
    """What a tire loses, by its rounds and where they agree by its display. `apart`: the display's own, where it does not.

    `words`: what the display says beside the rounds; None: nothing.
    """

    rate: Rate
    words: Phrase | None = None
    apart: Rate | None = None

    def days_until(self, pressure_kpa: float, limit_kpa: float) -> tuple[float | None, float | None]:
        """Days until a limit, as it falls and at the earliest; None: not known, or it is not falling.

        Where the two do not agree nobody knows which is right: no day, but the earliest by either.
        """
        by = [r for r in (self.rate, self.apart) if r is not None and r.measured]
        days = [days_until(pressure_kpa, limit_kpa, r) for r in by]
        soonest = min((near for _, near in days if near is not None), default=None)
        return days[0][0] if days and self.apart is None else None, soonest


def loss(rounds: Rate, display: Trend | None) -> Loss:
    """Each counts by how sure it is where they agree at 95 %; else nothing is mixed, and both are said.

    >>> agreed = loss(Rate(-0.10, 0.03, True), Trend(-0.14, 0.04, 6)).rate
    >>> round(agreed.kpa_day, 4), round(agreed.error_kpa_day, 4)
    (-0.1144, 0.024)
    """
    if display is None:
        return Loss(rounds)
    month, within = of_kpa(abs(display.kpa_day) * MONTH), of_kpa(2 * display.error_kpa_day * MONTH)
    say_so = f"{display.count} numbers off its display since"
    both = math.hypot(rounds.error_kpa_day, display.error_kpa_day)
    if abs(rounds.kpa_day - display.kpa_day) <= 2 * both:
        share = (rounds.error_kpa_day / both) ** 2
        slope = rounds.kpa_day + (display.kpa_day - rounds.kpa_day) * share
        rate = Rate(slope, rounds.error_kpa_day * display.error_kpa_day / both, rounds.measured)
        return Loss(rate, say(f"{say_so} agree, give or take {{0}} a month.", within))
    apart = Rate(display.kpa_day, display.error_kpa_day, True)
    if display.kpa_day > rounds.kpa_day:
        words = say(
            f"By {say_so} it loses less than its rounds say, give or take {{0}} a month. Read it with a gauge.", within
        )
    else:
        text = (
            f"By {say_so} it loses {{0}} a month, give or take {{1}}: more than its rounds say. Read it with a gauge."
        )
        words = say(text, month, within)
    return Loss(rounds, words, apart)
