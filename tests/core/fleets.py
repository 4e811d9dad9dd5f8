"""Simulated fleets with a known truth: the gas law, ordinary loss, a leak, hands, thermometers. Seeds are fixed by callers."""

from dataclasses import dataclass, field

import numpy as np

from ballast.core.gas import Air
from ballast.core.lookback import Last, Seen, noise_kpa, rate, take_apart, today
from ballast.core.units import PSI_KPA

SEA_KPA = 101.325


@dataclass
class Rig:
    """One rig of like tires. `leak_psi_week` begins after `clean` rounds at tire 0; `top_up`: as the verdicts ask.

    From round `other_from` on another gauge is used, which reads `other_kpa` beside the first.
    """

    rng: np.random.Generator
    psi: float = 35.0
    wheels: int = 6
    leak_psi_week: float = 0.0
    clean: int = 8
    hand_psi: float = 0.5
    thermometer_c: float = 2.0
    loss_month: float = 0.015
    loss_spread: float = 0.005
    swing_c: float = 25.0
    top_up: bool = False
    other_from: int = 10_000
    other_kpa: float = 0.0
    seen: list[Seen] = field(default_factory=list)

    def __post_init__(self) -> None:
        # Absolute pressure as it would be at 20 °C: the moles, in kPa.
        self.true = np.full(self.wheels, self.psi * PSI_KPA + SEA_KPA)
        self.loss = np.maximum(self.rng.normal(self.loss_month, self.loss_spread, self.wheels), 0) / 30 * 7
        self.round = 0

    def read(self, true_c: float, tires: np.ndarray | None = None) -> np.ndarray:
        """What hands read at a temperature [kPa]."""
        which = np.arange(self.wheels) if tires is None else tires
        warm = (true_c + 273.15) / 293.15
        noise = self.rng.normal(0, self.hand_psi * PSI_KPA, len(which))
        other = self.other_kpa if self.round >= self.other_from else 0.0
        return np.asarray(self.true[which] * warm - SEA_KPA + noise + other)

    def week(
        self, *, off_kpa: float = 0.0, typed_off_c: float = 0.0, shop_c: float = 0.0, sunny_c: float = 0.0
    ) -> list[Seen]:
        """One week and its round. Faults: a gauge off, a temperature mistyped, a heated shop, sun on the right side."""
        if self.round:
            self.true -= (self.true - SEA_KPA) * self.loss
            if self.round >= self.clean:
                self.true[0] -= self.leak_psi_week * PSI_KPA
        outside = 20 + self.rng.uniform(-self.swing_c / 2, self.swing_c / 2)
        sides = np.where(np.arange(self.wheels) < self.wheels // 2, -1, 1)
        standing = outside + shop_c + np.where(sides > 0, sunny_c, 0.0)
        found = np.array([self.read(c, np.array([i]))[0] for i, c in enumerate(standing)]) + off_kpa
        typed = Air(outside + self.rng.normal(0, self.thermometer_c) + typed_off_c, 0.0)
        target = self.psi * PSI_KPA
        made = []
        for i in range(self.wheels):
            left = None
            if self.top_up and found[i] < target - max(0.02 * target, PSI_KPA):
                # Filled until the gauge shows the target.
                self.true[i] = (
                    (target + self.rng.normal(0, self.hand_psi * PSI_KPA) + SEA_KPA) * 293.15 / (standing[i] + 273.15)
                )
                left = float(self.read(standing[i], np.array([i]))[0])
            gauge = int(self.round >= self.other_from)
            made.append(Seen(i, self.round, 7.0 * self.round, float(found[i]), left, typed, int(sides[i]), gauge=gauge))
        self.seen += made
        self.round += 1
        return made

    def last(self, rounds: int) -> tuple[Seen, ...]:
        return tuple(s for s in self.seen if s.round >= self.round - rounds)


# Half a year of weekly rounds, and what shows since, is what a rig's evidence is drawn from.
WINDOW = 32
# What the matched test is told: hand [kPa], thermometer (a share), spread of the losses a month, one gauge beside another [kPa].
HAND_KPA, THERMOMETER, SPREAD_MONTH, GAUGES_KPA = 0.5 * PSI_KPA, 2 / 288, 0.005, 1.5 * PSI_KPA


def matched(seen: tuple[Seen, ...]) -> dict[int, float]:
    """The strongest ramp downward of every tire over all onsets, by a test that knows every spread beforehand.

    Generalised least squares in one dense covariance: nothing of it is learned, weighed down or taken from the code it stands
    beside.
    """
    rows: list[tuple[Seen, int, float]] = []
    stretch: dict[int, int] = {}
    count = 0
    for s in sorted(seen, key=lambda s: (s.day, s.tire)):
        for kpa in (s.found_kpa, s.left_kpa):
            if kpa is None:
                continue
            if s.tire not in stretch or kpa is s.left_kpa:
                stretch[s.tire], count = count, count + 1
            rows.append((s, stretch[s.tire], kpa))
    gauge = np.array([kpa for _, _, kpa in rows])
    absolute = gauge + SEA_KPA
    day = np.array([s.day for s, _, _ in rows])
    share = gauge / absolute
    level = np.log(absolute * 293.15 / np.array([s.air.temperature_c + 273.15 for s, _, _ in rows]))
    level += 0.015 / 30 * share * (day - day[0])
    tires = np.array([s.tire for s, _, _ in rows])
    rounds = np.unique([s.round for s, _, _ in rows], return_inverse=True)[1]
    other = np.array([s.gauge for s, _, _ in rows]) / absolute
    own_loss = (day - day.mean()) * share / 30
    known = np.diag((HAND_KPA / absolute) ** 2)
    known += THERMOMETER**2 * (rounds[:, None] == rounds[None, :])
    known += SPREAD_MONTH**2 * np.outer(own_loss, own_loss) * (tires[:, None] == tires[None, :])
    known += GAUGES_KPA**2 * np.outer(other, other)
    inverse = np.linalg.inv(known)
    starts = np.eye(count)[[k for _, k, _ in rows]]
    carried = inverse @ starts
    project = inverse - carried @ np.linalg.solve(starts.T @ carried, carried.T)
    told = project @ level
    scores = {}
    for tire in np.unique(tires):
        mine = tires == tire
        onsets = np.unique(day[mine])[:-1]
        ramps = np.maximum(0.0, day[mine][:, None] - onsets[None, :])
        size = np.einsum("ij,ij->j", ramps, project[np.ix_(mine, mine)] @ ramps)
        seen_at = size > 1e-9 * size.max()
        scores[int(tire)] = float((-(ramps.T @ told[mine])[seen_at] / np.sqrt(size[seen_at])).max())
    return scores


@dataclass(frozen=True)
class Alarms:
    """`raised` counts an alarm once; `standing` in every round in which it stands; each in 1,000 tire-rounds."""

    tire_rounds: int
    raised: float
    standing: float


def alarms(named: list[list[set[int]]], wheels: int) -> Alarms:
    """False alarms of rigs, each with the tires named in its rounds."""
    rounds = sum(len(own) for own in named)
    standing = sum(len(now) for own in named for now in own)
    raised = sum(len(now - (own[i - 1] if i else set())) for own in named for i, now in enumerate(own))
    count = rounds * wheels
    return Alarms(count, 1000 * raised / count, 1000 * standing / count)


@dataclass(frozen=True)
class Clean:
    """What the test, and the matched one beside it (scores), say of rigs without a leak."""

    named: list[list[set[int]]]
    scores: list[list[dict[int, float]]]
    wheels: int

    def ours(self) -> Alarms:
        return alarms(self.named, self.wheels)

    def theirs(self, at: float) -> Alarms:
        return alarms([[{t for t, z in now.items() if z > at} for now in own] for own in self.scores], self.wheels)


def clean(
    seed: int, rigs: int, rounds: int, wheels: int = 6, psi: float = 35.0, *, top_up: bool = False, change: bool = False,
    beside: bool = False,
) -> Clean:  # fmt: skip
    """Rigs without a leak, from their third round on; `change`: half-way another gauge is used. `beside`: the matched test too."""
    rng = np.random.default_rng(seed)
    named, scores = [], []
    for _ in range(rigs):
        gauge = {"other_from": rounds // 2, "other_kpa": rng.normal(0, GAUGES_KPA)} if change else {}
        rig = Rig(rng, psi=psi, wheels=wheels, top_up=top_up, **gauge)
        rig.week()
        rig.week()
        own, matching = [], []
        for _ in range(rounds - 2):
            rig.week()
            seen = rig.last(WINDOW)
            own.append({e.tire for e in take_apart(seen).tires if e.named})
            matching.append(matched(seen) if beside else {})
        named.append(own)
        scores.append(matching)
    return Clean(named, scores, wheels)


def rounds_to_name(
    seed: int, rigs: int, psi: float, leak_psi_week: float, most: int, before: int = 8, *, top_up: bool = False,
    matched_at: float | None = None, wheels: int = 6,
) -> np.ndarray:  # fmt: skip
    """For each rig, the rounds from a leak's first one until it is named; 99: not within `most`. With `matched_at`, by the
    matched test at that score."""
    rng = np.random.default_rng(seed)
    took = np.full(rigs, 99)
    for r in range(rigs):
        rig = Rig(rng, psi=psi, leak_psi_week=leak_psi_week, top_up=top_up, clean=before, wheels=wheels)
        for _ in range(before):
            rig.week()
        for i in range(1, most + 1):
            rig.week()
            seen = rig.last(WINDOW)
            found = take_apart(seen).tires[0].named if matched_at is None else matched(seen)[0] > matched_at
            if found:
                took[r] = i
                break
    return took


@dataclass(frozen=True)
class Coverage:
    """The share of next readings inside the range that was foretold, and of single rigs the least and the most."""

    predictions: int
    share: float
    by_rig: tuple[float, float]


def coverage(
    seed: int, rigs: int, rounds: int, before: int = 8, wheels: int = 6, hand_psi: float = 0.5, *, top_up: bool = False,
    change: bool = False,
) -> Coverage:  # fmt: skip
    """How often a tire's next reading lies in the range that was foretold from the round before it, round after round."""
    rng = np.random.default_rng(seed)
    inside: list[list[bool]] = []
    for _ in range(rigs):
        gauge = {"other_from": before + rounds // 2, "other_kpa": rng.normal(0, GAUGES_KPA)} if change else {}
        rig = Rig(rng, wheels=wheels, hand_psi=hand_psi, top_up=top_up, **gauge)
        for _ in range(before):
            rig.week()
        own: list[bool] = []
        for _ in range(rounds):
            told = take_apart(rig.last(WINDOW))
            last = rig.seen[-wheels:]
            found = rig.week()
            for e, was, now in zip(told.tires, last, found, strict=True):
                stood = was.found_kpa if was.left_kpa is None else was.left_kpa
                # Each gauge is sure within its own half-width: together they differ as these do.
                sure = 1.96 * GAUGES_KPA / 2**0.5
                aimed = Last(stood, noise_kpa(stood, SEA_KPA, told), was.air, 7.0, rate(e), was.gauge, sure)
                kpa, within = today(aimed, now.air, now.gauge, sure)
                own.append(abs(now.found_kpa - kpa) <= within)
        inside.append(own)
    shares = [float(np.mean(own)) for own in inside]
    every = [hit for own in inside for hit in own]
    return Coverage(len(every), float(np.mean(every)), (min(shares), max(shares)))
