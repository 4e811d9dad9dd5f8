"""What a weather service must give. The one in use is named in settings."""

import datetime as dt
from dataclasses import dataclass
from functools import cache
from typing import Protocol

from django.conf import settings
from django.utils.module_loading import import_string

from ballast.server.edge.problems import Unavailable


@dataclass(frozen=True)
class Place:
    """A place that the service knows. `time_zone` is an IANA name."""

    key: str
    name: str
    elevation_m: float
    time_zone: str


@dataclass(frozen=True)
class Outlook:
    """Outside temperature now [°C], this morning's low and the coming dawn's, with their times (UTC)."""

    place: Place
    at: dt.datetime
    outside_c: float
    morning_c: float
    dawn_c: float
    dawn_at: dt.datetime


class WeatherUnavailable(Unavailable):
    """The service does not answer, or not sensibly. Everything stays usable by hand."""


class WeatherService(Protocol):
    def places(self) -> list[Place]: ...

    def outlook(self, key: str, at: dt.datetime) -> Outlook:
        """Raises KeyError for a place it does not know, WeatherUnavailable when it cannot say."""
        ...

    def outside_c(self, key: str, at: dt.datetime) -> float:
        """Temperature [°C] at a moment, past ones included."""
        ...


@cache
def _service(path: str) -> WeatherService:
    return import_string(path)()  # type: ignore[no-any-return]


def service() -> WeatherService:
    """The weather service that settings name."""
    return _service(settings.WEATHER_SERVICE)
