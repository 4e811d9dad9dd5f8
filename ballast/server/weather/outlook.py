"""From hours to what people ask: now, this morning, the coming dawns and highs. Days are the place's own."""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass
from zoneinfo import ZoneInfo

from ballast.server.weather.service import DAYS_AHEAD, Place, WeatherService, WeatherUnavailable

_HOUR = dt.timedelta(hours=1)


@dataclass(frozen=True)
class Day:
    """A day at a place: its dawn low and high [°C] with their times (UTC); the high is unknown where not all its hours are."""

    date: dt.date
    dawn_at: dt.datetime
    dawn_c: float
    high_at: dt.datetime | None
    high_c: float | None


@dataclass(frozen=True)
class Outlook:
    """The weather at a place: now, this morning's low [°C] where it is known, and the dawns and highs to come."""

    place: Place
    at: dt.datetime
    outside_c: float
    morning_c: float | None
    week: tuple[Day, ...]
    made_up: bool = False

    @property
    def dawn(self) -> Day:
        return self.week[0]


def _day(date: dt.date, zone: ZoneInfo, start: dt.datetime, hours: Sequence[float | None]) -> Day | None:
    """The low of a day's first half and its high; None where the hours until noon are not all known."""
    midnight = dt.datetime.combine(date, dt.time(), zone).astimezone(dt.UTC)
    first = round((midnight - start) / _HOUR)
    until = first + round((dt.datetime.combine(date + dt.timedelta(days=1), dt.time(), zone) - midnight) / _HOUR)
    morning = _known(hours, first, first + 13)
    if morning is None:
        return None
    low = min(range(13), key=lambda i: morning[i])
    whole = _known(hours, first, until)
    high = None if whole is None else max(range(len(whole)), key=lambda i: whole[i])
    return Day(
        date, start + (first + low) * _HOUR, morning[low], None if high is None else start + (first + high) * _HOUR,
        None if whole is None or high is None else whole[high],
    )  # fmt: skip


def _known(hours: Sequence[float | None], first: int, until: int) -> list[float] | None:
    """Some hours, where each of them is known."""
    if first < 0 or until > len(hours):
        return None
    hourly = [c for c in hours[first:until] if c is not None]
    return hourly if len(hourly) == until - first else None


def outlook(service: WeatherService, place: Place, at: dt.datetime) -> Outlook:
    """Now, this morning and up to seven days of dawns to come at a place, as far as its hours reach.

    Raises WeatherUnavailable where neither now nor the coming dawn is known, and what the service raises.
    """
    zone = ZoneInfo(place.time_zone)
    local = at.astimezone(zone)
    yesterday = dt.datetime.combine(local.date() - dt.timedelta(days=1), dt.time(), zone).astimezone(dt.UTC)
    start = yesterday.replace(minute=0, second=0, microsecond=0)
    into = (at - start) / _HOUR
    k = int(into)
    # To the end of the seventh day to come; a forecast that ends sooner tells of the days it reaches.
    hours = service.hourly(place.key, start, 24 * (DAYS_AHEAD + 2) + 1)
    here = _known(hours, k, k + 2)
    days = [_day(local.date() + dt.timedelta(days=d), zone, start, hours) for d in range(-1, DAYS_AHEAD + 1)]
    known = [d for d in days if d is not None]
    ahead, behind = [d for d in known if d.dawn_at > at], [d for d in known if d.dawn_at <= at]
    if here is None or not ahead:
        raise WeatherUnavailable(
            f"What is known of {place.name} does not reach from now to the coming dawn. Bring a newer record, or enter the air "
            "by hand."
        )
    now = here[0] + (here[1] - here[0]) * (into - k)
    # The newest dawn behind, not one of the day before.
    fresh = [d for d in behind if at - d.dawn_at < dt.timedelta(hours=26)]
    morning = fresh[-1].dawn_c if fresh else None
    made_up = getattr(service, "made_up", False)
    return Outlook(place, at, round(now, 1), morning, tuple(ahead[:DAYS_AHEAD]), made_up)
