"""Simulated fleets with a known truth: the gas law, ordinary loss, a leak, hands, thermometers. Seeds are fixed by callers."""

from dataclasses import dataclass, field

import numpy as np

from ballast.core.gas import Air
from ballast.core.lookback import Seen, predict, rate, take_apart
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


# Half a season of weekly rounds is what a rig's evidence is drawn from.
WINDOW = 16


def rounds_to_name(
    seed: int, rigs: int, psi: float, leak_psi_week: float, most: int, top_up: bool = False
) -> np.ndarray:
    """For each rig, the rounds from a leak's first one until it is named; 99: not within `most`."""
    rng = np.random.default_rng(seed)
    took = np.full(rigs, 99)
    for r in range(rigs):
        rig = Rig(rng, psi=psi, leak_psi_week=leak_psi_week, top_up=top_up)
        for _ in range(rig.clean):
            rig.week()
        for i in range(1, most + 1):
            rig.week()
            if take_apart(rig.last(WINDOW)).tires[0].named:
                took[r] = i
                break
    return took


@dataclass(frozen=True)
class Alarms:
    """`raised` counts an alarm once; `standing` in every round in which it stands."""

    tire_rounds: int
    raised: int
    standing: int


def false_alarms(seed: int, rigs: int, rounds: int, psi: float = 35.0, top_up: bool = False) -> Alarms:
    rng = np.random.default_rng(seed)
    tire_rounds = raised = standing = 0
    for _ in range(rigs):
        rig, before = Rig(rng, psi=psi, top_up=top_up), set[int]()
        rig.week()
        rig.week()
        for _ in range(rounds - 2):
            rig.week()
            named = {e.tire for e in take_apart(rig.last(WINDOW)).tires if e.named}
            tire_rounds, raised, standing = (
                tire_rounds + rig.wheels,
                raised + len(named - before),
                standing + len(named),
            )
            before = named
    return Alarms(tire_rounds, raised, standing)


@dataclass(frozen=True)
class Coverage:
    predictions: int
    share: float


def coverage(seed: int, rigs: int, rounds: int) -> Coverage:
    """How often the truth of a week later lies in the range that was predicted, today's air typed by a thermometer again."""
    rng = np.random.default_rng(seed)
    inside = count = 0
    for _ in range(rigs):
        rig = Rig(rng, leak_psi_week=0.5 if rng.random() < 0.3 else 0.0)
        for _ in range(rounds):
            rig.week()
        told = {e.tire: e for e in take_apart(rig.last(WINDOW)).tires}
        rates = [rate(tuple(s for s in rig.seen if s.tire == i), told[i]) for i in range(rig.wheels)]
        last = rig.seen[-rig.wheels :]
        # A week later, before anybody reads.
        now_c = 20 + rng.uniform(-rig.swing_c / 2, rig.swing_c / 2)
        typed_c = now_c + rng.normal(0, rig.thermometer_c)
        true = rig.true - (rig.true - SEA_KPA) * rig.loss
        true[0] -= rig.leak_psi_week * PSI_KPA
        truth = true * (now_c + 273.15) / 293.15 - SEA_KPA
        whole = np.full(rig.wheels, 1.0)
        found = predict(
            np.array([s.found_kpa for s in last]), np.array([s.air.temperature_c for s in last]), whole * SEA_KPA,
            np.array([r.kpa_day for r in rates]), whole * 7, whole * typed_c, whole * SEA_KPA, whole * 0.5,
            np.array([r.error_kpa_day for r in rates]),
        )  # fmt: skip
        inside += int((np.abs(found.kpa - truth) <= found.uncertainty_kpa).sum())
        count += rig.wheels
    return Coverage(count, inside / count)
