"""Many services at once: read in columns, with the day and the air of their rounds, and how well each foretold the next."""

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.core.exceptions import EmptyResultSet
from django.db import connections
from django.db.models import Exists, OuterRef, QuerySet

from ballast.core import lookback as core
from ballast.core.gas import Air
from ballast.server.rounds.models import Amendment, Round, Service

DAY = dt.timedelta(days=1)
# What every service of a long history is read for; NaN for unknown, also for a tire that is not recorded.
_KEPT = np.dtype(
    [(n, np.int64) for n in ("round_id", "rig_id", "gauge_id")]
    + [("wheel", object), ("tire_id", float)]
    + [
        (n, float)
        for n in ("found_kpa", "left_kpa", "raw_kpa", "uncertainty_kpa", "noise_kpa", "rate_kpa_day", "rate_error")
    ]
    + [(n, float) for n in ("here_kpa", "floor_kpa")]
    + [("measured", bool), ("named", bool), ("anew", bool), ("since", object)]
)
_AROUND = ("day", "air_c", "absolute_kpa")

# Services in arrays of one length by name, those kept and those around; a tire's own are oldest first.
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


def _as_stored(asked: QuerySet[Any, Any]) -> list[tuple[Any, ...]]:
    """Rows as the database gives them, times without their zone, UTC: many are read sooner without a look at each value."""
    try:
        sql, values = asked.query.sql_with_params()
    except EmptyResultSet:
        return []
    with connections[asked.db].cursor() as cursor:
        cursor.execute(sql, values)
        rows: list[tuple[Any, ...]] = cursor.fetchall()
    return rows


def read(services: QuerySet[Service]) -> History | None:
    """Services, ordered oldest first, in two queries; None where there are none."""
    rows = _as_stored(services.values_list(*_KEPT.fields or ()))
    if not rows:
        return None
    kept = np.fromiter(rows, _KEPT, len(rows))
    held = np.unique(kept["round_id"])
    amended = Exists(Amendment.objects.filter(round=OuterRef("pk")))
    asked = Round.objects.filter(pk__in=held.tolist()).annotate(amended=amended).order_by("opened_at")
    through = _as_stored(
        asked.values_list("pk", "opened_at", "outside_c", "elevation_m", "station_kpa", "gauge__label", "amended")
    )
    start: dt.datetime = through[0][1]
    around = np.array([((at - start) / DAY, c, Air(c, up, kpa).absolute_kpa) for _, at, c, up, kpa, *_ in through])
    # `held` is sorted by its numbers, `through` by time.
    rounds = np.array([row[0] for row in through])
    of_each = np.argsort(rounds)[np.searchsorted(held, kept["round_id"])]
    return History(
        start.replace(tzinfo=dt.UTC),
        rounds.tolist(),
        around[:, 0],
        around[:, 1],
        [row[5] for row in through],
        {row[0] for row in through if row[6]},
        {n: kept[n] for n in _KEPT.fields or ()} | dict(zip(_AROUND, around[of_each].T, strict=True)),
    )


def by_tire(services: Columns) -> dict[Any, Columns]:
    """Each tire's own columns; where no tire is recorded, those of each wheel: (rig, wheel)."""
    unknown = np.flatnonzero(np.isnan(services["tire_id"]))
    number = np.nan_to_num(services["tire_id"]).astype(np.int64)
    # A wheel without a recorded tire counts as one, by a number below zero.
    wheels: dict[tuple[int, str], int] = {}
    for i, *wheel in zip(unknown.tolist(), *(services[n][unknown].tolist() for n in ("rig_id", "wheel")), strict=True):
        number[i] = wheels.setdefault(tuple(wheel), -1 - len(wheels))
    # Tire after tire, each oldest first: the columns of one are then a part of these.
    order = np.argsort(number, kind="stable")
    in_turn = {n: column[order] for n, column in services.items()}
    numbers, first = np.unique(number[order], return_index=True)
    first = first.tolist()
    names = {number: wheel for wheel, number in wheels.items()}
    return {
        names.get(number, number): {n: column[start:end] for n, column in in_turn.items()}
        for number, start, end in zip(numbers.tolist(), first, [*first[1:], len(order)], strict=True)
    }


@dataclass(frozen=True)
class Measured:
    """Services that measured what the one before them of the same tire foretold: of which rig each is and whether that one was
    of it too, its day, and how it missed."""

    rig: Any
    stayed: Any
    day: Any
    misses: core.Misses


def measured(tires: Iterable[Columns]) -> Measured | None:
    """Each service of a tire but its first against what the one before it foretold; None: there is none."""
    longer = [t for t in tires if len(t["day"]) > 1]
    if not longer:
        return None

    then, now = slice(None, -1), slice(1, None)
    # What was let out or filled off the road in between, nobody foretold.
    fair = np.concatenate([~t["anew"][now] for t in longer])
    if not fair.any():
        return None

    def of(name: str, part: slice) -> Any:
        return np.concatenate([t[name][part] for t in longer])[fair]

    as_found, left = of("found_kpa", then), of("left_kpa", then)
    # The same gauge's constant error cancels; of two, both count.
    other = of("gauge_id", then) != of("gauge_id", now)
    gauges = np.where(other, np.hypot(of("uncertainty_kpa", then), of("uncertainty_kpa", now)), 0.0)
    stood, noise = np.where(np.isnan(left), as_found, left), of("noise_kpa", then)
    usual = core.noise_all(stood, of("absolute_kpa", then))
    guess = core.predict(
        stood, of("air_c", then), of("absolute_kpa", then), of("rate_kpa_day", then),
        of("day", now) - of("day", then), of("air_c", now), of("absolute_kpa", now), np.where(np.isnan(noise), usual, noise),
        of("rate_error", then), gauges,
    )  # fmt: skip
    rig = of("rig_id", now)
    return Measured(rig, rig == of("rig_id", then), of("day", now), core.misses(guess, of("found_kpa", now)))


def record(tires: Iterable[Columns]) -> core.Record:
    """How good predictions have been."""
    found = measured(tires)
    return NO_RECORD if found is None else found.misses.record
