"""Many services at once: read in columns, with the day and the air of their rounds, and how well each foretold the next."""

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.db.models import Exists, OuterRef, QuerySet

from ballast.core import lookback as core
from ballast.core.gas import Air
from ballast.server.rounds.models import Amendment, Round, Service

DAY = dt.timedelta(days=1)
# What every service of a long history is read for; when a leak began is asked where one is named.
_WHOSE = ("pk", "round_id", "rig_id", "wheel", "tire_id")
_FIGURES = (
    "found_kpa",
    "left_kpa",
    "raw_kpa",
    "uncertainty_kpa",
    "rate_kpa_day",
    "rate_error",
    "here_kpa",
    "floor_kpa",
    "measured",
    "named",
)
_AROUND = ("day", "air_c", "absolute_kpa")

# Services, oldest first, in arrays of one length by name: `_WHOSE`, `_FIGURES` with NaN for unknown, and `_AROUND`.
Columns = dict[str, Any]

NO_RECORD = core.Record(0, None, None, None)


@dataclass(frozen=True)
class History:
    """Services with their rounds, oldest first: each round's day since `start`, air [°C] and gauge, and which were amended."""

    start: dt.datetime
    rounds: list[int]
    days: Any
    air_c: Any
    gauges: list[str]
    amended: set[int]
    services: Columns


def read(services: QuerySet[Service]) -> History | None:
    """Services, ordered oldest first, in two queries; None where there are none."""
    rows = list(services.values_list(*_WHOSE, *_FIGURES))
    if not rows:
        return None
    by_name = zip(_WHOSE + _FIGURES, zip(*rows, strict=True), strict=True)
    columns: Columns = {n: np.array(values, dtype=float if n in _FIGURES else object) for n, values in by_name}
    amended = Exists(Amendment.objects.filter(round=OuterRef("pk")))
    asked = Round.objects.filter(pk__in=set(columns["round_id"])).annotate(amended=amended).order_by("opened_at")
    through = list(
        asked.values_list("pk", "opened_at", "outside_c", "elevation_m", "station_kpa", "gauge__label", "amended")
    )
    start, place = through[0][1], {row[0]: i for i, row in enumerate(through)}
    around = np.array([((at - start) / DAY, c, Air(c, up, kpa).absolute_kpa) for _, at, c, up, kpa, *_ in through])
    columns |= zip(_AROUND, around[[place[pk] for pk in columns["round_id"].tolist()]].T, strict=True)
    return History(
        start,
        list(place),
        around[:, 0],
        around[:, 1],
        [row[5] for row in through],
        {row[0] for row in through if row[6]},
        columns,
    )


def by_tire(services: Columns) -> dict[Any, Columns]:
    """Each tire's own columns; where no tire is recorded, those of each wheel: (rig, wheel)."""
    places: dict[Any, list[int]] = {}
    whose = zip(*(services[n].tolist() for n in ("rig_id", "wheel", "tire_id")), strict=True)
    for i, (rig, wheel, tire) in enumerate(whose):
        key = tire or (rig, wheel)
        if key in places:
            places[key].append(i)
        else:
            places[key] = [i]
    found = {}
    for key, own in places.items():
        which = np.array(own)
        found[key] = {n: column[which] for n, column in services.items()}
    return found


def record(tires: Iterable[Columns]) -> core.Record:
    """How good predictions have been: each service of a tire but its first against what the one before it foretold."""
    longer = [t for t in tires if len(t["pk"]) > 1]
    if not longer:
        return NO_RECORD
    then = {n: np.concatenate([t[n][:-1] for t in longer]) for n in _FIGURES + _AROUND}
    now = {n: np.concatenate([t[n][1:] for t in longer]) for n in _FIGURES + _AROUND}
    stood = np.where(np.isnan(then["left_kpa"]), then["found_kpa"], then["left_kpa"])
    guess = core.predict(
        stood, then["air_c"], then["absolute_kpa"], then["rate_kpa_day"], now["day"] - then["day"], now["air_c"],
        now["absolute_kpa"], then["uncertainty_kpa"], then["rate_error"],
    )  # fmt: skip
    return core.record(guess, now["found_kpa"], now["uncertainty_kpa"])
