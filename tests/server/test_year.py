"""A year of driving, ten rigs and fifty drives a month, a sample every ten seconds: what went wrong is named, and nothing else."""

import datetime as dt
import math
import random
from dataclasses import dataclass

import pytest

from ballast.core import sensors as core
from ballast.core.gas import Air
from ballast.server.sensors.road import Run, Tire
from ballast.standins.road import SimulatedRoad

RIGS, DRIVES = 10, 600
JANUARY = dt.datetime(2026, 1, 1, 9, tzinfo=dt.UTC)
# One of each, at a drive and a wheel that nothing here chooses for being easy.
FAULTS = {137: ("nail", 1), 288: ("brake", 2), 411: ("dead", 0)}
WHEELS = ("1L", "1R", "2L", "2R")


@dataclass(frozen=True)
class Went:
    """A drive to its end: what was set, by wheel; what is said at last; and whether any was loud."""

    told: list[tuple[str, str]]
    words: str
    loud: bool
    rises: set[str]


def drive(number: int) -> Went:
    """One drive of the year, of a rig whose tires are kept: never more than 2 % under or 4 % over."""
    dice, heavy = random.Random(f"year {number}"), number % RIGS in (0, 2, 3)
    day = number * 365 // DRIVES
    air = Air(11 - 13 * math.cos(2 * math.pi * day / 365) + dice.uniform(-6, 6), dice.choice((0.0, 300.0, 900.0)))
    targets = {axle: (500.0 if heavy else 240.0) + 40 * (number % RIGS) / RIGS + 30 * (axle == "2") for axle in "12"}
    tires = tuple(
        Tire(
            w, targets[w[0]] * dice.uniform(0.98, 1.04), targets[w[0]], air, heavy, dice.uniform(0.5, 0.95), w[1] == "R"
        )
        for w in WHEELS
    )
    groups = [
        core.Group(tuple(w for w in WHEELS if w[0] == axle), core.Aim(kpa, air, heavy)) for axle, kpa in targets.items()
    ]
    fault, at = FAULTS.get(number, ("", 0))
    road = SimulatedRoad()
    scene = "highway" if fault else dice.choice(sorted(road.scenes))
    run = Run(number, scene, fault, WHEELS[at] if fault else "", tires, air, JANUARY + dt.timedelta(days=day))
    followed = core.follow(groups, road.messages(run, 0, road.minutes(run)))
    words, loud = core.drive_words(groups, followed, {w: w for w in WHEELS}, dt.timedelta())
    rises = {r.verdict for g in groups for w in g.wheels if (r := core.rise(g, followed, w)) is not None}
    return Went([(t.wheel, t.what) for t in followed.told if t.set], words.text, loud, rises)


@pytest.mark.parametrize("month", range(12))
def test_of_sound_drives_nothing_is_said(month: int) -> None:
    each = DRIVES // 12
    went = {n: drive(n) for n in range(month * each, (month + 1) * each) if n not in FAULTS}
    assert len(went) >= each - 1
    assert {n: w.told for n, w in went.items() if w.told} == {}
    assert {w.words for w in went.values()} == {"All 4 heard, and none in alarm."}
    assert {v for w in went.values() for v in w.rises} <= {"", "as it should"}


def test_each_fault_is_named_once_and_at_its_own_wheel() -> None:
    nail, brake, dead = (drive(n) for n in FAULTS)
    # Lost fast, and low and very low by it. Soft as it is, it may run hot by then.
    assert sorted(t for t in nail.told if t != ("1R", "heat")) == [
        ("1R", "fast loss"),
        ("1R", "low"),
        ("1R", "very low"),
    ]
    assert len(set(nail.told)) == len(nail.told)
    assert nail.loud
    assert ("2L", "heat") in brake.told
    assert {w for w, _ in brake.told} == {"2L"}
    assert len(set(brake.told)) == len(brake.told)
    assert (dead.told, dead.words, dead.loud) == ([], "Not heard any more: 1L.", False)
