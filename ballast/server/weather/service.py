"""What a weather service must give. The one in use is named in settings."""

import datetime as dt
import time
from collections import OrderedDict
from concurrent.futures import Future, ThreadPoolExecutor
from concurrent.futures import TimeoutError as TooSlow
from dataclasses import dataclass
from functools import cache
from threading import Lock
from typing import Any, Protocol

from django.conf import settings
from django.utils.module_loading import import_string

from ballast.server.edge.problems import Unavailable

# How far ahead and back a service is asked, and what it may say at all.
DAYS_AHEAD = 7
POSSIBLE_C = (-90.0, 60.0)
# Longer than this nobody waits; what it gives can be entered by hand [s].
PATIENCE_S = 3.0
# How long a forecast is taken as it was said, and how many are remembered.
FRESH_S, REMEMBERED = 300.0, 200


@dataclass(frozen=True)
class Place:
    """A place that the service knows. `time_zone` is an IANA name."""

    key: str
    name: str
    elevation_m: float
    time_zone: str


class WeatherUnavailable(Unavailable):
    """The service does not answer, or not sensibly. Everything stays usable by hand."""


class WeatherService(Protocol):
    def places(self) -> list[Place]: ...

    def hourly(self, key: str, start: dt.datetime, hours: int) -> list[float]:
        """Outside temperature [°C] at `start` (UTC, a whole hour) and every hour after it, `hours` of them.

        Past hours are history, coming ones the forecast, seven days at most. Raises KeyError for a place that it does
        not know, WeatherUnavailable when it cannot say.
        """
        ...


SILENT = "The weather service does not answer. Enter outside temperature and elevation by hand."
STRANGE = "The weather service says what cannot be. Enter outside temperature and elevation by hand."


@cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(max_workers=4, thread_name_prefix="weather")


class Guarded:
    """An outside service that is not waited for, not asked at every key, and not believed whatever it says."""

    def __init__(self, inner: WeatherService) -> None:
        self.inner = inner
        self.lock = Lock()
        # What was said lately, by what was asked.
        self.lately: OrderedDict[tuple[Any, ...], tuple[float, Any]] = OrderedDict()

    def _ask(self, name: str, *given: Any) -> Any:
        """An answer of the service, a recent one where there is one. Raises WeatherUnavailable for every failure."""
        asked, now = (name, *given), time.monotonic()
        said, answer = self.lately.get(asked, (-FRESH_S, None))
        if now - said < FRESH_S:
            return answer
        answer = self._sensible(name, given, self._soon(getattr(self.inner, name), *given))
        with self.lock:
            self.lately[asked] = (now, answer)
            while len(self.lately) > REMEMBERED:
                self.lately.popitem(last=False)
        return answer

    def _soon(self, call: Any, *given: Any) -> Any:
        asked: Future[Any] = _pool().submit(call, *given)
        try:
            return asked.result(timeout=PATIENCE_S)
        except TooSlow:
            asked.cancel()
            raise WeatherUnavailable(SILENT) from None
        except (KeyError, WeatherUnavailable):
            raise
        except Exception:
            raise WeatherUnavailable(SILENT) from None

    def _sensible(self, name: str, given: tuple[Any, ...], answer: Any) -> Any:
        if name != "hourly":
            return answer
        low, high = POSSIBLE_C
        # A NaN compares false with everything, so it is turned away here as well.
        if len(answer) != given[-1] or not all(isinstance(c, int | float) and low <= c <= high for c in answer):
            raise WeatherUnavailable(STRANGE)
        return [float(c) for c in answer]

    def places(self) -> list[Place]:
        found: list[Place] = self._ask("places")
        return found

    def hourly(self, key: str, start: dt.datetime, hours: int) -> list[float]:
        found: list[float] = self._ask("hourly", key, start, hours)
        return found


@cache
def _service(path: str) -> WeatherService:
    return Guarded(import_string(path)())


def service() -> WeatherService:
    """The weather service that settings name."""
    return _service(settings.WEATHER_SERVICE)


def forget() -> None:
    """Forgets what services said lately."""
    _service.cache_clear()
