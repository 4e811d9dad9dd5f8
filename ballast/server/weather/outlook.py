"""From hours to what people ask: now, this morning, the coming dawns and highs. Days are the place's own."""

import datetime as dt
from dataclasses import dataclass
from zoneinfo import ZoneInfo

from ballast.server.weather.service import DAYS_AHEAD, Place, WeatherService

_HOUR = dt.timedelta(hours=1)


@dataclass(frozen=True)
class Day:
    """A day at a place: its dawn low and high [°C] with their times (UTC)."""

    date: dt.date
    dawn_at: dt.datetime
    dawn_c: float
    high_at: dt.datetime
    high_c: float


@dataclass(frozen=True)
class Outlook:
    """The weather at a place: now, this morning's low [°C], and the dawns and highs to come."""

    place: Place
    at: dt.datetime
    outside_c: float
    morning_c: float
    week: tuple[Day, ...]

    @property
    def dawn(self) -> Day:
        return self.week[0]


def _day(date: dt.date, zone: ZoneInfo, start: dt.datetime, hours: list[float]) -> Day:
    """The low of a day's first half and its high, from hours that cover it."""
    midnight = dt.datetime.combine(date, dt.time(), zone).astimezone(dt.UTC)
    first = round((midnight - start) / _HOUR)
    until = first + round((dt.datetime.combine(date + dt.timedelta(days=1), dt.time(), zone) - midnight) / _HOUR)
    low = min(range(first, first + 13), key=lambda i: hours[i])
    high = max(range(first, until), key=lambda i: hours[i])
    return Day(date, start + low * _HOUR, hours[low], start + high * _HOUR, hours[high])


def outlook(service: WeatherService, place: Place, at: dt.datetime) -> Outlook:
    """Now, this morning and seven days of dawns to come at a place. Raises what the service raises."""
    zone = ZoneInfo(place.time_zone)
    local = at.astimezone(zone)
    yesterday = dt.datetime.combine(local.date() - dt.timedelta(days=1), dt.time(), zone).astimezone(dt.UTC)
    start = yesterday.replace(minute=0, second=0, microsecond=0)
    hours = service.hourly(place.key, start, 24 * (DAYS_AHEAD + 3))
    into = (at - start) / _HOUR
    k = int(into)
    now = hours[k] + (hours[k + 1] - hours[k]) * (into - k)
    days = [_day(local.date() + dt.timedelta(days=d), zone, start, hours) for d in range(-1, DAYS_AHEAD + 1)]
    ahead = [d for d in days if d.dawn_at > at]
    behind = [d for d in days if d.dawn_at <= at]
    return Outlook(place, at, round(now, 1), behind[-1].dawn_c, tuple(ahead[:DAYS_AHEAD]))
