"""Evidence for a leak: adds up over rounds, tire by tire, once what all tires of a rig share is taken out.

Levels are natural logarithms of absolute pressure brought to one temperature: there, a wrong temperature moves every tire
of a round alike, whatever its pressure. A leak is a ramp of unknown onset on a tire's own level, beyond what it loses as
every sound tire does: its own, learned from its history.
"""

import math
import statistics
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ballast.core.gas import Air
from ballast.core.units import PSI_KPA

# How far two careful readings of one tire by hand differ, one standard deviation; worth so many readings of the rig's own.
HAND_KPA = 0.5 * PSI_KPA
HAND_WORTH = 60.0
# What a range is told by is learned sooner than what a leak is named by: too wide a range is as wrong as too narrow a one.
RANGE_WORTH, RANGE_ROUNDS = 12.0, 3.0
# A thermometer in the yard, one standard deviation, as a share of absolute temperature; worth so many rounds.
THERMOMETER = 2.0 / 288.0
THERMOMETER_WORTH = 8.0
# No hand and no thermometer is steadier than these, however few readings agree by chance.
LEAST_HAND, LEAST_THERMOMETER = 0.2, 0.1
# Losses are told a month of so many days.
MONTH = 30.0
# What sound tires lose a month of their gauge pressure, and how they differ in it, one standard deviation.
USUAL_LOSS_MONTH = 0.015
LOSS_SPREAD_MONTH = 0.005
# A learned loss is never more than this a month; from the second on a loss is a leak whatever was learned.
LEARNED_MOST_MONTH, LEAK_MONTH = 0.03, 0.035
# One-sided 99.9 %.
_SURE = 3.09
# One false alarm raised, and two standing, in 1,000 tire-rounds: found by simulation, kept by `make bench`.
NAMED_AT = 3.5
# What a ramp seen in one round must show beyond that: most chance alarms are a single reading.
ONE_ROUND = 0.3
# Fewer road wheels than this do not tell weather from their own loss.
SEPARABLE = 4
# How far one gauge may read beside another [kPa], one standard deviation.
_GAUGES_APART_KPA = 1.5 * PSI_KPA
# A round's shared level where nothing is known of it beforehand, and a side that stood in the sun.
_ANY_LEVEL = 0.2
_HUBER = 3.0
_SIDES_APART = 3.5
_ODD_ROUND = 4.0

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Seen:
    """One tire in one sealed round: true cold pressure as found, and as left where air was set [kPa].

    `day` counts from any start. `side`: −1 left, 1 right, 0 neither. `gauge` numbers the gauges. Spares do not make the
    others' weather, and have a weather of their own. `anew`: air was let out or put in since its last round, off the road.
    """

    tire: int
    round: int
    day: float
    found_kpa: float
    left_kpa: float | None
    air: Air
    side: int = 0
    spare: bool = False
    gauge: int = 0
    anew: bool = False


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
    standard error is the tire's loss beyond its own ordinary one, since `since_day`; None: too few readings.
    `loss_kpa_day` with its standard error is that ordinary one, as far as its history shows it [kPa a day at 20 °C].
    """

    tire: int
    score: float
    named: bool
    since_day: float | None
    rate_kpa_day: float | None
    error_kpa_day: float | None
    loss_kpa_day: float
    loss_error_kpa_day: float


@dataclass(frozen=True)
class Told:
    """A rig's rounds taken apart. `separable` is False where weather and own loss cannot be told from each other.

    `hand_kpa` and `thermometer` (a share) are how far its readings and its rounds scatter, one standard deviation.
    """

    tires: tuple[Evidence, ...]
    rounds: tuple[Shared, ...]
    separable: bool
    hand_kpa: float = HAND_KPA
    thermometer: float = THERMOMETER


def level(pressure_kpa: Floats, absolute_kpa: Floats, temperature_c: Floats) -> Floats:
    """ln of absolute pressure brought to 20 °C, without unit."""
    return np.log((pressure_kpa + absolute_kpa) * 293.15 / (temperature_c + 273.15))


def level_of(pressure_kpa: float, air: Air) -> float:
    """`level` of one reading."""
    return float(level(np.array(pressure_kpa), np.array(air.absolute_kpa), np.array(air.temperature_c)))


@dataclass(frozen=True)
class _Rows:
    """Readings as columns, oldest first: one row for found, one for left; tires, rounds, stretches and gauges numbered."""

    tire: Ints
    round: Ints
    segment: Ints
    gauge: Ints
    day: Floats
    # The level, what a sound tire usually loses given back.
    level: Floats
    absolute_kpa: Floats
    # How much of gauge pressure a share of absolute pressure is.
    gauge_share: Floats
    side: Ints
    spare: NDArray[np.bool_]

    @classmethod
    def of(cls, seen: tuple[Seen, ...]) -> "_Rows":
        segment_of: dict[int, int] = {}
        rows: list[tuple[Seen, int, float]] = []
        segments = 0
        for s in sorted(seen, key=lambda s: (s.day, s.round)):
            if s.tire not in segment_of or s.anew:
                segment_of[s.tire], segments = segments, segments + 1
            rows.append((s, segment_of[s.tire], s.found_kpa))
            if s.left_kpa is not None:
                # Air was set: from here on it has a start of its own.
                segment_of[s.tire], segments = segments, segments + 1
                rows.append((s, segment_of[s.tire], s.left_kpa))
        pressure = np.array([kpa for _, _, kpa in rows])
        outside = np.array([s.air.absolute_kpa for s, _, _ in rows])
        celsius = np.array([s.air.temperature_c for s, _, _ in rows])
        day = np.array([s.day for s, _, _ in rows])
        share = pressure / (pressure + outside)

        def numbered(values: list[int]) -> Ints:
            return np.unique(values, return_inverse=True)[1]

        return cls(
            tire=numbered([s.tire for s, _, _ in rows]),
            round=numbered([s.round for s, _, _ in rows]),
            segment=np.array([segment for _, segment, _ in rows]),
            gauge=numbered([s.gauge for s, _, _ in rows]),
            day=day,
            level=level(pressure, outside, celsius) + USUAL_LOSS_MONTH / MONTH * share * (day - day[0]),
            absolute_kpa=pressure + outside,
            gauge_share=share,
            side=np.array([s.side for s, _, _ in rows]),
            spare=np.array([s.spare for s, _, _ in rows]),
        )


@dataclass(frozen=True)
class _Model:
    """Levels as a straight line in unknowns: a start for every stretch, each tire's own loss, each gauge's offset, each
    round's shared level, and of sunny rounds that of the right side. `sure` is what is known beforehand of each unknown
    (1/variance), `spread` of each row (one standard deviation, by the usual hand)."""

    columns: Floats
    sure: Floats
    spread: Floats
    level: Floats
    # Where the losses of the tires, and the rounds' levels, stand among the unknowns.
    losses: slice
    rounds: slice

    def data(self, weights: Floats) -> tuple[Floats, Floats]:
        """What rows of some weight say of the unknowns: normal matrix and right side."""
        weighed = self.columns * weights[:, None]
        return weighed.T @ self.columns, weighed.T @ self.level


def _model(
    rows: _Rows, separable: bool, shared: Floats, sides: dict[int, float], hand: float, weather: Floats
) -> _Model:
    """`shared` is one standard deviation of each round's level, `weather` of what each row has to itself of it."""
    n, tires, rounds = len(rows.day), int(rows.tire.max()) + 1, int(rows.round.max()) + 1
    starts = np.eye(int(rows.segment.max()) + 1)[rows.segment]
    age = (rows.day - rows.day.mean()) * rows.gauge_share / MONTH
    losses = np.eye(tires)[rows.tire] * -age[:, None]
    gauges = np.eye(int(rows.gauge.max()) + 1)[rows.gauge][:, 1:] / rows.absolute_kpa[:, None]
    level_of_round = np.eye(rounds)[rows.round] * (~rows.spare)[:, None] if separable else np.zeros((n, 0))
    sunny = [((rows.round == r) & (rows.side > 0)).astype(float)[:, None] for r in sides]
    columns = np.hstack([starts, losses, gauges, level_of_round, *sunny])
    sure = np.concatenate(
        [
            np.zeros(starts.shape[1]),
            np.full(tires, LOSS_SPREAD_MONTH**-2.0),
            np.full(gauges.shape[1], _GAUGES_APART_KPA**-2.0),
            shared**-2.0 if separable else np.zeros(0),
            np.full(len(sunny), _ANY_LEVEL**-2.0),
        ]
    )
    first = starts.shape[1]
    after = first + tires + gauges.shape[1]
    spread = np.sqrt((hand / rows.absolute_kpa) ** 2 + weather**2)
    return _Model(columns, sure, spread, rows.level, slice(first, first + tires), slice(after, after + rounds))


@dataclass(frozen=True)
class _Fit:
    """A robust fit: the unknowns, what is left of each row, its weight (1: as good as any), and the readings left over
    once the unknowns are known."""

    unknowns: Floats
    rest: Floats
    robust: Floats
    freedom: float


def _fit(model: _Model, left_out: NDArray[np.bool_]) -> _Fit:
    """By turns, with Huber's weights, so that one leaking tire does not move what is shared."""
    base = np.where(left_out, 0.0, model.spread**-2.0)
    # What is left out still has a start of its own to be known by.
    own = np.where(left_out, 1e-6 * model.spread**-2.0, 0.0)
    robust = np.ones(len(model.level))
    for _ in range(6):
        normal, right = model.data(base * robust + own)
        unknowns: Floats = np.linalg.solve(normal + np.diag(model.sure), right).astype(np.float64)
        rest = model.level - model.columns @ unknowns
        robust = 1 / np.maximum(1.0, np.abs(rest) / (_HUBER * model.spread))
    taken = float(np.trace(np.linalg.solve(normal + np.diag(model.sure), normal)))
    return _Fit(unknowns, rest, robust, max(0.0, float((~left_out).sum()) - taken))


def parted(left: list[float], right: list[float]) -> tuple[float, float] | None:
    """How far one side lies over the other: by the middle wheel of each, and by the nearest two; None: too few.

    The middle ones are those nearer to the other side, so that one leaking tire is no sun.
    """
    if min(len(left), len(right)) < 2:
        return None
    low, high = sorted((sorted(left), sorted(right)), key=statistics.fmean)
    return high[(len(high) - 1) // 2] - low[len(low) // 2], high[0] - low[-1]


def _sides(rows: _Rows, rest: Floats, spread: Floats) -> dict[int, float]:
    """Rounds in which every wheel of one side reads above every wheel of the other: the sun was on it."""
    sides: dict[int, float] = {}
    z = rest / spread
    for r in range(int(rows.round.max()) + 1):
        here = (rows.round == r) & ~rows.spare
        left, right = z[here & (rows.side < 0)].tolist(), z[here & (rows.side > 0)].tolist()
        gaps = parted(left, right)
        if gaps is None:
            continue
        if gaps[0] > _SIDES_APART * math.sqrt(1.5 / len(left) + 1.5 / len(right)) and gaps[1] > 1:
            sides[r] = float(rest[here & (rows.side > 0)].mean() - rest[here & (rows.side < 0)].mean())
    return sides


@dataclass(frozen=True)
class Scatter:
    """How far readings by hand [kPa] and whole rounds (a share) scatter where a rig has shown nothing yet."""

    hand_kpa: float = HAND_KPA
    thermometer: float = THERMOMETER


USUAL = Scatter()


def take_apart(seen: tuple[Seen, ...], usual: Scatter = USUAL) -> Told:
    """A rig's sealed rounds taken apart into what all tires share and what each did alone.

    `usual` is the scatter of its workspace, by which its own is learned. Source: mixed linear model with Huber's weights
    (1964), then a matched test with unknown onset; see docs/arithmetic.md.
    """
    if not seen:
        return Told((), (), False)
    rows = _Rows.of(seen)
    labels, names = sorted({s.round for s in seen}), sorted({s.tire for s in seen})
    road = len(np.unique(rows.tire[~rows.spare]))
    separable = road >= SEPARABLE
    sides: dict[int, float] = {}
    if separable:
        # First with nothing known of the rounds: which are odd, and how far the others scatter.
        free = np.full(len(labels), _ANY_LEVEL)
        apart = np.where(rows.spare, usual.thermometer, 0.0)
        model = _model(rows, True, free, sides, usual.hand_kpa, apart)
        fit = _fit(model, rows.spare)
        if sides := _sides(rows, fit.rest, model.spread):
            model = _model(rows, True, free, sides, usual.hand_kpa, apart)
            fit = _fit(model, rows.spare)
        by_round = _without_trend(rows, fit.unknowns[model.rounds])
    else:
        model = _model(rows, False, np.zeros(0), sides, usual.hand_kpa, np.full(len(rows.day), usual.thermometer))
        fit = _fit(model, rows.spare if road else ~rows.spare)
        by_round = np.array([fit.rest[rows.round == r].mean() for r in range(len(labels))])
    hand = _hand(rows, fit, model.spread, usual, HAND_WORTH) if separable else np.ones(len(names))
    told_hand = float(np.median(_hand(rows, fit, model.spread, usual, RANGE_WORTH))) if separable else 1.0
    typical = usual.hand_kpa / float(np.median(rows.absolute_kpa))
    odd = _odd(by_round, typical, road, usual.thermometer)
    by_hand = (typical * told_hand) ** 2 / max(1, road)
    thermometer, told_thermometer = (
        _thermometer(by_round[~odd], by_hand, usual, worth) if separable else usual.thermometer
        for worth in (THERMOMETER_WORTH, RANGE_ROUNDS)
    )
    own = np.where(rows.spare | (not separable), thermometer, 0.0)
    # Readings of a round that is odd as a whole count for less: its fault need not be alike for all.
    own = np.hypot(own, np.where(odd[rows.round], (1.0 if not separable else 0.3) * np.abs(by_round[rows.round]), 0.0))
    shared = np.where(odd, _ANY_LEVEL, thermometer)
    steady = float(np.median(hand))
    model = _model(rows, separable, shared, sides, usual.hand_kpa * steady, own)
    fit = _fit(model, rows.spare)
    weights = np.where(rows.spare, 0.0, fit.robust * model.spread**-2.0)
    evidence = tuple(_evidence(rows, model, weights, i, name) for i, name in enumerate(names))
    # What the right side reads over the left, beside what the starts of its tires take of it.
    sunny = dict(zip(sides, fit.unknowns[len(fit.unknowns) - len(sides) :].tolist(), strict=True))
    rounds = tuple(Shared(label, float(by_round[r]), bool(odd[r]), sunny.get(r)) for r, label in enumerate(labels))
    return Told(evidence, rounds, separable, usual.hand_kpa * told_hand, told_thermometer)


def _thermometer(by_round: Floats, by_hand: float, usual: Scatter, worth: float) -> float:
    """How far rounds scatter beyond what hands do to them, weighed against what is usual."""
    scatter = float((by_round**2).sum()) - len(by_round) * by_hand
    total = worth * usual.thermometer**2 + max(0.0, scatter)
    return max(LEAST_THERMOMETER * THERMOMETER, math.sqrt(total / (worth + max(0, len(by_round) - 1))))


def _hand(rows: _Rows, fit: _Fit, spread: Floats, usual: Scatter, worth: float) -> Floats:
    """The hand's spread against the usual one, for each tire from the other tires of the rig: a leak is no shaky hand."""
    z2 = np.minimum((fit.rest / spread) ** 2, 9.0)
    z2[rows.spare] = 0.0
    counted = (~rows.spare).astype(float)
    by_tire, rows_of = np.bincount(rows.tire, z2), np.bincount(rows.tire, counted)
    others = fit.freedom * (1 - rows_of / max(1.0, counted.sum()))
    hand = np.sqrt((worth + z2.sum() - by_tire) / (worth + others))
    least: Floats = np.maximum(hand, LEAST_HAND * HAND_KPA / usual.hand_kpa)
    return least


def _without_trend(rows: _Rows, by_round: Floats) -> Floats:
    """What a rig's tires share in each round beside what they all lose alike, which is no weather; about its middle."""
    level: Floats = by_round - np.median(by_round)
    if len(level) < 5:
        return level
    day = np.array([rows.day[rows.round == r][0] for r in range(len(level))])
    usual = float(np.median(np.abs(level))) + 1e-9
    # A round that is odd makes no trend.
    held = np.clip(level, -4 * usual, 4 * usual)
    slope, start = np.polyfit(day, held, 1)
    left: Floats = level - slope * day - start
    return left


def _odd(by_round: Floats, spread: float, road: int, thermometer: float) -> NDArray[np.bool_]:
    """Rounds that all tires read higher or lower than a thermometer and the hand explain."""
    if len(by_round) < 3:
        return np.zeros(len(by_round), bool)
    usual = math.hypot(thermometer, spread / math.sqrt(max(1, road)))
    return np.abs(by_round - np.median(by_round)) > _ODD_ROUND * usual


def _evidence(rows: _Rows, model: _Model, weights: Floats, i: int, name: int) -> Evidence:
    """The strongest ramp downward of a tire over all onsets, beyond the loss that it shows itself.

    Its own readings count in full; those of the others as far as they fit.
    """
    of_tire = rows.tire == i
    full = np.where(of_tire, model.spread**-2.0, weights)
    # A spare that is not the one in question still needs its start.
    full = np.where(full == 0.0, 1e-6 * model.spread**-2.0, full)
    normal, right = model.data(full)
    normal = normal + np.diag(model.sure)
    loss_at = model.losses.start + i
    unit = np.zeros(len(right))
    unit[loss_at] = 1.0
    absolute = float(rows.absolute_kpa[of_tire][-1])
    a_day = float(rows.gauge_share[of_tire][-1]) * absolute / MONTH
    solved = np.linalg.solve(normal, np.column_stack([right, unit]))
    own, error = float(solved[loss_at, 0]), math.sqrt(max(0.0, float(solved[loss_at, 1])))
    learned = min(max(0.0, USUAL_LOSS_MONTH + own), LEARNED_MOST_MONTH)
    loss = (-learned * a_day, error * a_day)
    day = rows.day[of_tire]
    onsets = np.unique(day)[:-1]
    if len(onsets) < 2:
        return Evidence(name, 0.0, False, None, None, None, *loss)
    ramps = np.maximum(0.0, day[:, None] - onsets[None, :])
    weighed = ramps * full[of_tire][:, None]
    through = model.columns[of_tire].T @ weighed
    carried = np.linalg.solve(normal, through)
    size = np.einsum("ij,ij->j", ramps, weighed) - np.einsum("ij,ij->j", through, carried)
    separable = size > 1e-9 * size.max() if size.max() > 0 else np.zeros(len(size), bool)
    if not separable.any():
        return Evidence(name, 0.0, False, None, None, None, *loss)
    along = (weighed.T @ rows.level[of_tire] - carried.T @ right)[separable]
    size = size[separable]
    scores = -along / np.sqrt(size)
    # The last onset is seen by the newest round alone.
    judged = scores - np.where(onsets[separable] == onsets[-1], ONE_ROUND, 0.0)
    best = int(np.argmax(judged))
    score, slope, spread = float(judged[best]), float(along[best] / size[best]), float(size[best] ** -0.5)
    since = float(onsets[separable][best])
    named = score > NAMED_AT or _beyond(model, normal, right, i)
    if named:
        # What it lost as ever, the leak taken out of its history.
        own -= slope * float(carried[loss_at, np.flatnonzero(separable)[best]])
        loss = (-min(max(0.0, USUAL_LOSS_MONTH + own), LEARNED_MOST_MONTH) * a_day, error * a_day)
    return Evidence(name, score, named, since, slope * absolute, spread * absolute, *loss)


def _beyond(model: _Model, normal: Floats, right: Floats, i: int) -> bool:
    """Whether a tire surely loses more than any sound one, whatever its history made usual: by its readings alone."""
    loss_at = model.losses.start + i
    freed = normal.copy()
    freed[loss_at, loss_at] -= model.sure[loss_at]
    unit = np.zeros(len(right))
    unit[loss_at] = 1.0
    solved = np.linalg.solve(freed + 1e-12 * np.eye(len(freed)), np.column_stack([right, unit]))
    variance = float(solved[loss_at, 1])
    if variance <= 0:
        return False
    return USUAL_LOSS_MONTH + float(solved[loss_at, 0]) - _SURE * math.sqrt(variance) > LEAK_MONTH
