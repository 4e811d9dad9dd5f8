"""Weather services for tests: one that never changes, and several that fail."""

import datetime as dt
import time

from django.utils import timezone

from ballast.server.weather.service import Place, WeatherUnavailable

PLACE = Place("still-water", "Still Water", 410.0, "Etc/GMT+7")


class Still:
    """Ten degrees all day; the dawn at six is two degrees from tomorrow on, and ten this morning."""

    def places(self) -> list[Place]:
        return [PLACE]

    def hourly(self, key: str, start: dt.datetime, hours: int) -> list[float]:
        if key != PLACE.key:
            raise KeyError(key)
        now = timezone.now()
        at = [start + dt.timedelta(hours=h) for h in range(hours)]
        # Six in the morning there is 13 o'clock UTC.
        return [2.0 if a.hour == 13 and a > now else 10.0 for a in at]


class Silent(Still):
    """Does not answer."""

    def places(self) -> list[Place]:
        raise WeatherUnavailable("The weather service does not answer. Enter the air by hand.")

    def hourly(self, key: str, start: dt.datetime, hours: int) -> list[float]:
        raise WeatherUnavailable("The weather service does not answer. Enter the air by hand.")


class Broken(Still):
    """Falls over."""

    def hourly(self, key: str, start: dt.datetime, hours: int) -> list[float]:
        raise ConnectionResetError("gone")


class Mad(Still):
    """Says what cannot be."""

    def hourly(self, key: str, start: dt.datetime, hours: int) -> list[float]:
        return [float("nan"), *[-300.0] * (hours - 1)]


class Short(Still):
    """Says less than it was asked."""

    def hourly(self, key: str, start: dt.datetime, hours: int) -> list[float]:
        return [10.0] * 5


class Slow(Still):
    """Takes longer than anybody waits. `asked`: how often it was."""

    asked = 0

    def hourly(self, key: str, start: dt.datetime, hours: int) -> list[float]:
        Slow.asked += 1
        time.sleep(1.0)
        return super().hourly(key, start, hours)
