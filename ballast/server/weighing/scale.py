"""What a connected scale must give. The one in use is named in settings."""

import datetime as dt
from dataclasses import dataclass
from functools import cache
from typing import Protocol

from django.conf import settings
from django.utils.module_loading import import_string

from ballast.server.edge.problems import Unavailable
from ballast.server.edge.writing import stand_aside


@dataclass(frozen=True)
class ScaleSetup:
    """A scale that can be asked: how it weighs, and its step [kg]."""

    key: str
    name: str
    ways: tuple[str, ...]
    resolution_kg: float
    simulated: bool


@dataclass(frozen=True)
class ScaleReading:
    """What the scale shows [kg], whether it stood still, and what it has to say."""

    kg: float
    steady: bool
    remark: str
    at: dt.datetime


class ScaleUnavailable(Unavailable):
    """The scale does not answer. Readings can be typed."""


class Scale(Protocol):
    def setups(self) -> list[ScaleSetup]: ...

    def read(self, key: str, standing_kg: tuple[float, ...], fault: str, at: dt.datetime) -> ScaleReading:
        """What scale `key` shows. A real one weighs what stands there; a simulated one is told, wheel end by wheel end.

        Raises KeyError for a scale it does not know, ScaleUnavailable when it cannot say.
        """
        ...


@cache
def _scale(path: str) -> Scale:
    return import_string(path)()  # type: ignore[no-any-return]


def scale() -> Scale:
    """The scale that settings name; who asks it may have to wait for it."""
    stand_aside()
    return _scale(settings.SCALE)


class NoScale:
    """No scale is connected: readings are typed."""

    def setups(self) -> list[ScaleSetup]:
        return []

    def read(self, key: str, standing_kg: tuple[float, ...], fault: str, at: dt.datetime) -> ScaleReading:
        raise KeyError(key)
