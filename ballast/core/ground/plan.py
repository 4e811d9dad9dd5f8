"""A plan as a chain of surfaces: what each wheel lets out or takes at every step, and whether it may be opened at all."""

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from ballast.core.ground.numbers import HELD_HEAVY, GroundWheel, Meets, Number, by_surface, numbers_all
from ballast.core.ground.surfaces import Surface
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, join, plain, say

MOST_STEPS = 20
# What differs less is the same pressure [kPa].
_SAME_KPA = 0.05

BEADS = (
    "At lowered pressures turn gently and do not brake hard: a bead comes off its rim in a turn, and a sidewall is cut "
    "where a tread would not be."
)
HEAT = "Faster than its speed, or longer on firm ground, a soft tire overheats: air it up first."
RECOVERY_GEAR = "Recovery is one way out, straight and at walking pace, nobody near a strap or a cable; air up before anything else."


@dataclass(frozen=True)
class WheelJob:
    """What a wheel is brought to at a step, cold [kPa]; `change_kpa` below zero is let out, above it added."""

    code: str
    from_kpa: float
    number: Number

    @property
    def change_kpa(self) -> float:
        change = self.number.kpa - self.from_kpa
        return 0.0 if abs(change) < _SAME_KPA else change


@dataclass(frozen=True)
class Step:
    """One stretch of a plan: its surface, the most that is driven there [km/h] by any wheel, and the jobs before it."""

    surface: Surface
    speed_kmh: float | None
    jobs: tuple[WheelJob, ...]
    words: Phrase

    @property
    def lets_out(self) -> bool:
        return any(j.change_kpa < 0 for j in self.jobs)


@dataclass(frozen=True)
class Plan:
    """A chain from the road and back to it."""

    steps: tuple[Step, ...]
    cautions: tuple[Phrase, ...]
    notes: tuple[Phrase, ...] = ()
    lowest_kpa: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Wanted:
    """What a person asks for: surfaces by key, the vehicles that stay as they are with the reason, a reason for recovery."""

    chain: tuple[str, ...]
    left_out: Mapping[int, str] = field(default_factory=dict)
    recovery_reason: str = ""


def order(wheels: Sequence[GroundWheel]) -> tuple[GroundWheel, ...]:
    """In which order wheels are let out: as they are walked, the inner of two duals before its mate."""
    placed = {w.code: i for i, w in enumerate(wheels)}
    return tuple(sorted(wheels, key=lambda w: (placed.get(_outer(w), placed[w.code]), not w.inner)))


def _outer(wheel: GroundWheel) -> str:
    return f"{wheel.code[:-1]}o" if wheel.inner else wheel.code


def refused(wheels: Sequence[GroundWheel], over: Sequence[Phrase], roles_unknown: Sequence[str]) -> Phrase | None:
    """Why no plan may be opened; None: it may."""
    if over:
        return join(say("Over a rating nothing is let out."), over[0])
    if roles_unknown:
        named = plain(", ".join(roles_unknown))
        return say(f"Is it driven or not: {named}. Say so first.")
    without = [w.name for w in wheels if w.road_kpa is None]
    if without:
        return say(f"No road target is in force for {plain(', '.join(without))}: there is nothing to take a share of.")
    return None


def check_chain(chain: Sequence[str], surfaces: Sequence[Surface]) -> tuple[Surface, ...]:
    """The surfaces of a chain; the way back to the road is part of it. Raises Refusal."""
    known = {s.key: s for s in surfaces}
    for i, key in enumerate(chain):
        if key not in known:
            raise Refusal("There is no such surface in this workspace. Choose one of its rows.", f"chain.{i}")
    steps = [known[key] for key in chain]
    if len(steps) > MOST_STEPS:
        raise Refusal(f"A plan has at most {MOST_STEPS} stretches. Make two of it.", "chain")
    if not any(not s.road for s in steps):
        raise Refusal("Choose at least one surface off the road.", "chain")
    for i, (before, after) in enumerate(itertools.pairwise(steps)):
        if before.key == after.key:
            raise Refusal(f"{after.name} follows upon itself. Leave one of them out.", f"chain.{i + 1}")
    if not steps[-1].road:
        steps.append(surfaces[0])
    return tuple(steps)


def plan(wheels: Sequence[GroundWheel], surfaces: Sequence[Surface], wanted: Wanted, meets: Meets) -> Plan:
    """The steps of a chain with every wheel's number, from its road target on.

    Raises Refusal for a chain that cannot be, for recovery without a reason, and for a vehicle left out without one.
    """
    steps = check_chain(wanted.chain, surfaces)
    recovery = any(s.recovery for s in steps)
    if recovery and not wanted.recovery_reason.strip():
        raise Refusal("Recovery takes a reason: what is stuck, and where.", "recovery_reason")
    for rig, reason in wanted.left_out.items():
        if not reason.strip():
            raise Refusal("A vehicle is left out with its reason only.", f"left_out.{rig}")
    walked = [w for w in order(wheels) if w.rig not in wanted.left_out]
    table = {w.code: by_surface(found) for w, found in zip(walked, numbers_all(walked, surfaces, meets), strict=True)}
    now = {w.code: w.road_kpa or 0.0 for w in walked}
    lowest = dict(now)
    made = []
    for surface in steps:
        jobs = tuple(WheelJob(w.code, now[w.code], table[w.code][surface.key]) for w in walked)
        now = {j.code: j.number.kpa for j in jobs}
        lowest = {code: min(kpa, now[code]) for code, kpa in lowest.items()}
        made.append(Step(surface, surface.speed_kmh, jobs, step_words(jobs)))
    lets_out = any(s.lets_out for s in made)
    cautions = [say(BEADS), say(HEAT)] if lets_out else []
    cautions += [say(RECOVERY_GEAR)] if recovery else []
    return Plan(tuple(made), tuple(cautions), tuple(_notes(walked, meets)), lowest)


def step_words(jobs: Sequence[WheelJob]) -> Phrase:
    """A step in a few words.

    >>> step_words(()).text
    'as it stands'
    """
    out, into = (sum(1 for j in jobs if sign * j.change_kpa > 0) for sign in (-1, 1))
    parts = [f"let {out} out"] if out else []
    parts += [f"fill {into}"] if into else []
    return say(", ".join(parts) or "as it stands")


def _notes(wheels: Sequence[GroundWheel], meets: Meets) -> list[Phrase]:
    """What is to be said of all numbers of a plan, each once."""
    notes = []
    if not meets.dawns:
        notes.append(say("The dawns ahead are not known: a colder one may take a tire below its floor."))
    if any(w.heavy_or_dual and w.makers is None for w in wheels):
        notes.append(say(HELD_HEAVY))
    notes += [
        say(f"{plain(w.name)}: the maker's word, {plain(w.makers.words)}.")
        for w in wheels
        if w.makers is not None and w.heavy_or_dual
    ]
    if any(w.provisional for w in wheels):
        notes.append(say("Its road target is provisional, so is every share of it: weigh it."))
    return notes
