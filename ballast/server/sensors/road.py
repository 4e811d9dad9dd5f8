"""What a simulated road must give: messages as a real receiver would send them. The one in use is named in settings."""

import datetime as dt
from dataclasses import dataclass
from functools import cache
from typing import Protocol

from django.conf import settings
from django.utils.module_loading import import_string

from ballast.core import sensors as core
from ballast.core.gas import Air


@dataclass(frozen=True)
class Tire:
    """A tire that is driven: what it holds, cold in the air it was set in [kPa], its target, class, and share of its rated load."""

    wheel: str
    cold_kpa: float
    target_kpa: float
    set_in: Air
    heavy: bool
    load_share: float
    sunny: bool = False


@dataclass(frozen=True)
class Run:
    """A simulated drive whole: the same always sends the same. `fault` of `wheel`; empty: none."""

    seed: int
    scene: str
    fault: str
    wheel: str
    tires: tuple[Tire, ...]
    air: Air
    started_at: dt.datetime
    # By wheel speed: it sends which is low, and no number.
    by_speed: bool = False


class Road(Protocol):
    """Scenes and faults by key with their names, and the messages of a run."""

    scenes: dict[str, str]
    faults: dict[str, str]

    def minutes(self, run: Run) -> float:
        """How long it goes. Raises KeyError for a scene or fault it does not know."""
        ...

    def messages(self, run: Run, after: int, until_min: float) -> list[core.Message]:
        """What was sent after message number `after`, until so many minutes of it."""
        ...


@cache
def _road(path: str) -> Road:
    return import_string(path)()  # type: ignore[no-any-return]


def road(practice: bool = False) -> Road | None:
    """The road that settings name, in practice that of practice; None: real drives only."""
    path = settings.PRACTICE_ROAD if practice else settings.ROAD
    return _road(path) if path else None
