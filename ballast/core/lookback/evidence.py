"""Evidence for a leak: adds up over rounds, tire by tire, once what all tires of a rig share is taken out.

Levels are natural logarithms of absolute pressure brought to one temperature: there, a wrong temperature moves every tire
of a round alike, whatever its pressure. A leak is a ramp of unknown onset on a tire's own level.
"""

import math
import statistics
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ballast.core.air import ORDINARY_LOSS_MONTH
from ballast.core.gas import Air
from ballast.core.units import PSI_KPA

# How far two careful readings of one tire by hand differ, one standard deviation; worth so many readings of the rig's own.
HAND_KPA = 0.5 * PSI_KPA
HAND_WORTH = 60.0
# A thermometer in the yard, one standard deviation, as a share of absolute temperature.
THERMOMETER = 2.0 / 288.0
# Losses are told a month of so many days.
MONTH = 30.0
# Sound tires of one rig lose half of what is allowed, give or take a thirtieth.
USUAL_LOSS_MONTH = ORDINARY_LOSS_MONTH / 2
LOSS_SPREAD_MONTH = ORDINARY_LOSS_MONTH / 30
# One false alarm in 1,000 tire-rounds: found by simulation over onsets, kept by tests/core/test_lookback_fleets.py.
NAMED_AT = 3.34
# What a ramp seen in one round must show beyond that: most chance alarms are a single reading.
ONE_ROUND = 0.3
# Fewer road wheels than this do not tell weather from their own loss.
SEPARABLE = 4
_HUBER = 3.0
_SIDES_APART = 3.5
_ODD_ROUND = 4.0

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Seen:
    """One tire in one sealed round: true cold pressure as found, and as left where air was set [kPa].

    `day` counts from any start. `side`: −1 left, 1 right, 0 neither. Spares are held against the others' weather and do not
    make it.
    """

    tire: int
    round: int
    day: float
    found_kpa: float
    left_kpa: float | None
    air: Air
    side: int = 0
    spare: bool = False


@dataclass(frozen=True)
class Shared:
    """What all tires of a round did together, as a share of absolute pressure, beside what the air explains.

    `sides` is what the right wheels read over the left beyond that, where it is plain; `odd`: more than a thermometer errs.
    """

    round: int
    level: float
    odd: bool
    sides: float | None


@dataclass(frozen=True)
class Evidence:
    """What speaks for a leak at one tire.

    `score` in standard deviations against it having none; `named` at one false alarm in 1,000. `rate_kpa_day` with its
    standard error is the tire's own loss beyond the usual, since `since_day`; None: too few readings.
    """

    tire: int
    score: float
    named: bool
    since_day: float | None
    rate_kpa_day: float | None
    error_kpa_day: float | None


@dataclass(frozen=True)
class Told:
    """A rig's rounds taken apart. `separable` is False where weather and own loss cannot be told from each other."""

    tires: tuple[Evidence, ...]
    rounds: tuple[Shared, ...]
    separable: bool


def level(pressure_kpa: Floats, absolute_kpa: Floats, temperature_c: Floats) -> Floats:
    """ln of absolute pressure brought to 20 °C, without unit."""
    return np.log((pressure_kpa + absolute_kpa) * 293.15 / (temperature_c + 273.15))


def level_of(pressure_kpa: float, air: Air) -> float:
    """`level` of one reading."""
    return float(level(np.array(pressure_kpa), np.array(air.absolute_kpa), np.array(air.temperature_c)))


@dataclass(frozen=True)
class _Rows:
    """Readings as columns, oldest first: one row for found, one for left."""

    tire: Ints
    round: Ints
    segment: Ints
    day: Floats
    level: Floats
    # One standard deviation of the level, by hand.
    spread: Floats
    # How much of gauge pressure a share of absolute pressure is.
    gauge_share: Floats
    side: Ints
    spare: NDArray[np.bool_]

    @classmethod
    def of(cls, seen: tuple[Seen, ...]) -> "_Rows":
        ordered = sorted(seen, key=lambda s: (s.day, s.round))
        segment_of: dict[int, int] = {}
        rows: list[tuple[Seen, int, float]] = []
        segments = 0
        for s in ordered:
            if s.tire not in segment_of:
                segment_of[s.tire], segments = segments, segments + 1
            rows.append((s, segment_of[s.tire], s.found_kpa))
            if s.left_kpa is not None:
                # Air was set: from here on it has a start of its own.
                segment_of[s.tire], segments = segments, segments + 1
                rows.append((s, segment_of[s.tire], s.left_kpa))
        pressure = np.array([kpa for _, _, kpa in rows])
        outside = np.array([s.air.absolute_kpa for s, _, _ in rows])
        celsius = np.array([s.air.temperature_c for s, _, _ in rows])
        return cls(
            tire=np.array([s.tire for s, _, _ in rows]),
            round=np.array([s.round for s, _, _ in rows]),
            segment=np.array([segment for _, segment, _ in rows]),
            day=np.array([s.day for s, _, _ in rows]),
            level=level(pressure, outside, celsius),
            spread=HAND_KPA / (pressure + outside),
            gauge_share=pressure / (pressure + outside),
            side=np.array([s.side for s, _, _ in rows]),
            spare=np.array([s.spare for s, _, _ in rows]),
        )


def _means(values: Floats, weights: Floats, groups: Ints, count: int) -> Floats:
    total = np.bincount(groups, weights, count)
    return np.divide(np.bincount(groups, weights * values, count), total, out=np.zeros(count), where=total > 0)


def _share(rows: _Rows, level_: Floats, columns: Ints, count: int) -> tuple[Floats, Floats, Floats]:
    """Levels as segments' own starts plus what is shared: the shared by column, and what is left of each row.

    Two-way fit by turns, with Huber's weights, so that one leaking tire does not move what is shared.
    """
    _, segment = np.unique(rows.segment, return_inverse=True)
    segments = int(segment.max()) + 1
    single = np.bincount(segment)[segment] < 2
    base = np.where(rows.spare | single, 0.0, 1 / rows.spread**2)
    own_base = 1 / rows.spread**2
    shared, robust = np.zeros(count), np.ones(len(level_))
    for turn in range(40):
        starts = _means(level_ - shared[columns], own_base * robust, segment, segments)
        moved = _means(level_ - starts[segment], base * robust, columns, count)
        step = float(np.abs(moved - shared).max())
        shared = moved
        rest = level_ - shared[columns] - starts[segment]
        if turn >= 4:
            robust = 1 / np.maximum(1.0, np.abs(rest) / (_HUBER * rows.spread))
        if turn > 6 and step < 1e-6:
            break
    return shared, rest, robust


def _without(rows: _Rows, level_: Floats, columns: Ints, count: int, robust: Floats, tire: Ints) -> Floats:
    """What is left of each row once the shared level of the *other* tires is taken out, so that none hides its own leak.

    The same two-way fit with its weights kept, a fit for each tire left out, all at once.
    """
    names = int(tire.max()) + 1
    _, segment = np.unique(rows.segment, return_inverse=True)
    single = np.bincount(segment)[segment] < 2
    to_segment, to_column = np.eye(int(segment.max()) + 1)[segment], np.eye(count)[columns]
    weight = np.where(rows.spare | single, 0.0, robust / rows.spread**2)
    others = weight[None, :] * (tire[None, :] != np.arange(names)[:, None])
    total = others @ to_column
    starts_total = others @ to_segment
    shared = np.zeros((names, count))
    for _ in range(25):
        starts = np.divide(
            (others * (level_ - shared[:, columns])) @ to_segment,
            starts_total, out=np.zeros_like(starts_total), where=starts_total > 0,
        )  # fmt: skip
        moved = np.divide(
            (others * (level_ - starts[:, segment])) @ to_column, total, out=np.zeros_like(total), where=total > 0
        )
        step, shared = float(np.abs(moved - shared).max()), moved
        if step < 1e-6:
            break
    return level_ - shared[tire, columns]


def parted(left: list[float], right: list[float]) -> tuple[float, float] | None:
    """How far one side lies over the other: by the middle wheel of each, and by the nearest two; None: too few.

    The middle ones are those nearer to the other side, so that one leaking tire is no sun.
    """
    if min(len(left), len(right)) < 2:
        return None
    low, high = sorted((sorted(left), sorted(right)), key=statistics.fmean)
    return high[(len(high) - 1) // 2] - low[len(low) // 2], high[0] - low[-1]


def _sides(rows: _Rows, rest: Floats, rounds: int) -> dict[int, float]:
    """Rounds in which every wheel of one side reads above every wheel of the other: the sun was on it."""
    found: dict[int, float] = {}
    z = rest / rows.spread
    for r in range(rounds):
        here = (rows.round == r) & ~rows.spare
        left, right = z[here & (rows.side < 0)].tolist(), z[here & (rows.side > 0)].tolist()
        gaps = parted(left, right)
        if gaps is None:
            continue
        if gaps[0] > _SIDES_APART * math.sqrt(1.5 / len(left) + 1.5 / len(right)) and gaps[1] > 1:
            found[r] = float(rest[here & (rows.side > 0)].mean() - rest[here & (rows.side < 0)].mean())
    return found


def _score(day: Floats, rest: Floats, variance: Floats, segment: Ints, slope: float) -> tuple[float, int, float, float]:
    """The strongest ramp downward over all onsets: its score, the row it starts at, its slope a day and error.

    Generalised least squares; each segment keeps its own start; the tire's own usual loss may differ by `slope` a day.
    """
    centered = day - day.mean()
    weights = np.linalg.inv(np.diag(variance) + slope**2 * np.outer(centered, centered))
    own = (segment[:, None] == np.unique(segment)[None, :]).astype(float)
    carried = weights @ own
    project = weights - carried @ np.linalg.solve(own.T @ carried, carried.T)
    onsets = np.unique(day)[:-1]
    ramps = np.maximum(0.0, day[:, None] - onsets[None, :])
    size = np.einsum("ij,ij->j", ramps, project @ ramps)
    told = size > 1e-9 * size.max() if len(size) and size.max() > 0 else np.zeros(len(size), bool)
    if not told.any():
        return 0.0, 0, 0.0, math.inf
    along = (ramps.T @ project @ rest)[told]
    scores = -along / np.sqrt(size[told])
    # The last onset is seen by the newest round alone.
    scores = scores - np.where(onsets[told] == onsets[-1], ONE_ROUND, 0.0)
    best = int(np.argmax(scores))
    kept = size[told][best]
    return float(scores[best]), int(np.flatnonzero(told)[best]), float(along[best] / kept), float(1 / math.sqrt(kept))


def take_apart(seen: tuple[Seen, ...]) -> Told:
    """A rig's sealed rounds taken apart into what all tires share and what each did alone.

    Source: two-way robust fit (Huber 1964), then a matched test with unknown onset; see docs/arithmetic.md.
    """
    if not seen:
        return Told((), (), False)
    rows = _Rows.of(seen)
    names, tire = np.unique(rows.tire, return_inverse=True)
    labels, column = np.unique(rows.round, return_inverse=True)
    rows = _Rows(tire, column, rows.segment, rows.day, rows.level, rows.spread, rows.gauge_share, rows.side, rows.spare)
    road = len(np.unique(tire[~rows.spare]))
    separable = road >= SEPARABLE
    usual = USUAL_LOSS_MONTH / MONTH * rows.gauge_share * (rows.day - rows.day[0])
    steady = rows.level + usual
    columns, count = column.copy(), len(labels)
    sides: dict[int, float] = {}
    shared, rest, robust = _share(rows, steady, columns, count)
    if separable and (sides := _sides(rows, rest, len(labels))):
        for r in sides:
            right = (column == r) & (rows.side > 0)
            columns[right] = count
            count += 1
        shared, rest, robust = _share(rows, steady, columns, count)
    by_round = np.array([shared[columns[column == r]].mean() for r in range(len(labels))])
    odd = _odd(by_round, float(np.median(rows.spread)), road)
    if not separable:
        _, segment = np.unique(rows.segment, return_inverse=True)
        starts = _means(steady, 1 / rows.spread**2, segment, int(segment.max()) + 1)
        rest = steady - starts[segment]
    variance = rows.spread**2
    alone = rest
    if separable:
        alone = _without(rows, steady, columns, count, robust, tire)
        # Readings of a round that is odd as a whole count for less: its fault need not be alike for all.
        typical = float(np.median(by_round))
        variance = variance + np.where(odd[column], (0.3 * (by_round[column] - typical)) ** 2, 0.0)
    found: list[Evidence] = []
    for i, name in enumerate(names):
        mine = tire == i
        found.append(_evidence(rows, rest, alone, variance, mine, int(name), road, separable))
    told = tuple(Shared(int(label), float(by_round[r]), bool(odd[r]), sides.get(r)) for r, label in enumerate(labels))
    return Told(tuple(found), told, separable)


def _odd(by_round: Floats, spread: float, road: int) -> NDArray[np.bool_]:
    """Rounds that all tires read higher or lower than a thermometer and the hand explain."""
    if len(by_round) < 3:
        return np.zeros(len(by_round), bool)
    usual = math.hypot(THERMOMETER, spread / math.sqrt(max(1, road)))
    return np.abs(by_round - np.median(by_round)) > _ODD_ROUND * usual


def _evidence(
    rows: _Rows,
    rest: Floats,
    alone: Floats,
    variance: Floats,
    mine: NDArray[np.bool_],
    name: int,
    road: int,
    separable: bool,
) -> Evidence:
    if len(np.unique(rows.day[mine])) < 3:
        return Evidence(name, 0.0, False, None, None, None)
    others = ~mine & ~rows.spare
    # The hand's own spread, from the other tires of the rig, together with what hands usually do.
    z2 = np.minimum((rest[others] / rows.spread[others]) ** 2, 9.0)
    free = max(0.0, len(z2) - len(np.unique(rows.segment[others])) - len(np.unique(rows.round[others])))
    hand = (HAND_WORTH + (float(z2.sum()) if separable else 0.0)) / (HAND_WORTH + (free if separable else 0.0))
    spread = variance[mine] * hand
    value = alone[mine]
    others_wheels = max(1, road - (not rows.spare[mine][0]))
    spread = spread * (1 + 1 / others_wheels) if separable else spread + THERMOMETER**2
    share = float(rows.gauge_share[mine].mean())
    slope = LOSS_SPREAD_MONTH / MONTH * share
    day = rows.day[mine]
    score, onset, rate, error = _score(day, value, spread, rows.segment[mine], slope)
    absolute = float(HAND_KPA / rows.spread[mine][-1])
    since = float(np.unique(day)[onset])
    return Evidence(name, score, score > NAMED_AT, since, rate * absolute, error * absolute)
