"""What a weather service must give. The one in use is named in settings."""

import datetime as dt
import time
from collections import OrderedDict
from collections.abc import Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from concurrent.futures import TimeoutError as TooSlow
from dataclasses import dataclass
from functools import cache
from threading import Lock
from typing import Any, Protocol

from django.conf import settings
from django.utils.module_loading import import_string

from ballast.server.edge.problems import Unavailable
from ballast.server.edge.writing import stand_aside

# How far ahead and back a service is asked, and what it may say at all.
DAYS_AHEAD = 7
POSSIBLE_C = (-90.0, 60.0)
# Longer than this nobody waits; what it gives can be entered by hand [s].
PATIENCE_S = 3.0
# How long a forecast is taken as it was said, and how many are remembered.
FRESH_S, REMEMBERED = 300.0, 200
# After a service did not answer it is not asked again for so long; while it is asked, nobody else waits longer than this [s].
SILENT_S, BESIDE_S = 60.0, 0.5
# What a simulated service is told apart by, wherever its numbers stand.
MADE_UP = "Simulated weather: made up"


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
    """`made_up` (False where it is missing) says that it is a simulation."""

    def places(self) -> list[Place]: ...

    def hourly(self, key: str, start: dt.datetime, hours: int) -> Sequence[float | None]:
        """Outside temperature [°C] at `start` (UTC, a whole hour) and every hour after it, `hours` of them; None: unknown.

        Past hours are history, coming ones the forecast; where that ends sooner, so does the list. Raises KeyError for a place that it does
        not know, WeatherUnavailable when it cannot say.
        """
        ...


class NoService:
    """Where none is configured: no place is known, and the air is entered by hand."""

    def places(self) -> list[Place]:
        return []

    def hourly(self, key: str, start: dt.datetime, hours: int) -> Sequence[float | None]:
        raise KeyError(key)


SILENT = "The weather service does not answer. Enter outside temperature and elevation by hand."
STRANGE = "The weather service says what cannot be. Enter outside temperature and elevation by hand."


@cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(max_workers=4, thread_name_prefix="weather")


class Guarded:
    """An outside service that is not waited for, not asked at every key, and not believed whatever it says."""

    def __init__(self, inner: WeatherService) -> None:
        self.inner = inner
        self.made_up = getattr(inner, "made_up", False)
        self.lock = Lock()
        # What was said lately, by what was asked; what is being asked now, since when; and until when it is left alone.
        self.lately: OrderedDict[tuple[Any, ...], tuple[float, Any]] = OrderedDict()
        self.asking: dict[tuple[Any, ...], tuple[float, Future[Any]]] = {}
        self.silent_until = 0.0

    def _ask(self, name: str, *given: Any) -> Any:
        """An answer of the service, a recent one where there is one. Raises WeatherUnavailable for every failure."""
        asked, now = (name, *given), time.monotonic()
        said, answer = self.lately.get(asked, (-FRESH_S, None))
        if now - said < FRESH_S:
            return answer
        answer = self._sensible(name, given, self._soon(asked, now))
        with self.lock:
            self.lately[asked] = (now, answer)
            while len(self.lately) > REMEMBERED:
                self.lately.popitem(last=False)
        return answer

    def _soon(self, asked: tuple[Any, ...], now: float) -> Any:
        """Asks once, however many wait; one that hangs is not asked again for a while, and holds no other up."""
        with self.lock:
            if now < self.silent_until:
                raise WeatherUnavailable(SILENT)
            since, call = self.asking.get(asked, (now, None))
            patience = PATIENCE_S if not self.asking else BESIDE_S
            if call is None:
                name, *given = asked
                call = _pool().submit(getattr(self.inner, name), *given)
                self.asking[asked] = (now, call)
        stand_aside()
        try:
            return call.result(timeout=patience)
        except TooSlow:
            call.cancel()
            if patience == PATIENCE_S:
                self.silent_until = time.monotonic() + SILENT_S
            raise WeatherUnavailable(SILENT) from None
        except (KeyError, WeatherUnavailable):
            raise
        except Exception:
            self.silent_until = time.monotonic() + SILENT_S
            raise WeatherUnavailable(SILENT) from None
        finally:
            if call.done() or now - since > SILENT_S:
                with self.lock:
                    self.asking.pop(asked, None)

    def _sensible(self, name: str, given: tuple[Any, ...], answer: Any) -> Any:
        if name != "hourly":
            return answer
        low, high = POSSIBLE_C
        # A NaN compares false with everything, so it is turned away here as well.
        if not 0 < len(answer) <= given[-1] or not all(
            c is None or (isinstance(c, int | float) and low <= c <= high) for c in answer
        ):
            raise WeatherUnavailable(STRANGE)
        return [None if c is None else float(c) for c in answer]

    def places(self) -> list[Place]:
        answer: list[Place] = self._ask("places")
        return answer

    def hourly(self, key: str, start: dt.datetime, hours: int) -> list[float | None]:
        answer: list[float | None] = self._ask("hourly", key, start, hours)
        return answer


@cache
def _service(path: str) -> WeatherService:
    return Guarded(import_string(path)())


def service() -> WeatherService:
    """The weather service that settings name."""
    return _service(settings.WEATHER_SERVICE)


def forget() -> None:
    """Forgets what services said lately."""
    _service.cache_clear()
