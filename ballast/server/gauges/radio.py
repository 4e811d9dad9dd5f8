"""What gauges and inflators that are heard over the air must give, and a bench to compare against. Named in settings."""

import datetime as dt
from dataclasses import dataclass
from functools import cache
from typing import Literal, Protocol

from django.conf import settings
from django.utils.module_loading import import_string

from ballast.server.edge.problems import Unavailable
from ballast.server.edge.writing import stand_aside


@dataclass(frozen=True)
class Device:
    """A device within reach. `inflates`: it can be told a set-point. `bench`: it holds pressures to compare gauges against."""

    key: str
    name: str
    inflates: bool
    bench: bool
    simulated: bool


@dataclass(frozen=True)
class Heard:
    """What a device shows [kPa], whether it stood still, and what it has to say."""

    kpa: float
    steady: bool
    remark: str
    at: dt.datetime


class RadioUnavailable(Unavailable):
    """The device does not answer. Readings can be typed."""


class RadioLink(Protocol):
    """A real one listens to what is pressed on the valve; a simulated one is told the true pressure there."""

    def devices(self) -> list[Device]: ...

    def read(self, key: str, pressing_kpa: float, at: dt.datetime) -> Heard:
        """What device `key` shows. Raises KeyError for one it does not know, RadioUnavailable when it cannot say."""
        ...

    def inflate(self, key: str, pressing_kpa: float, set_point_kpa: float, at: dt.datetime) -> Heard:
        """Fills up to the set-point and tells what it shows with the hose off again. Raises as `read`."""
        ...

    def hold(self, key: str, set_kpa: float, way: Literal["up", "down"], at: dt.datetime) -> tuple[Heard, Heard]:
        """A bench brought to a pressure: its master, and what the gauge on it shows. Raises as `read`."""
        ...


@cache
def _link(path: str) -> RadioLink:
    return import_string(path)()  # type: ignore[no-any-return]


def link() -> RadioLink:
    """The link that settings name; who asks it may have to wait for a device."""
    stand_aside()
    return _link(settings.RADIO)


class NoLink:
    """Nothing is within reach: readings are typed."""

    def devices(self) -> list[Device]:
        return []

    def read(self, key: str, pressing_kpa: float, at: dt.datetime) -> Heard:
        raise KeyError(key)

    def inflate(self, key: str, pressing_kpa: float, set_point_kpa: float, at: dt.datetime) -> Heard:
        raise KeyError(key)

    def hold(self, key: str, set_kpa: float, way: Literal["up", "down"], at: dt.datetime) -> tuple[Heard, Heard]:
        raise KeyError(key)
