"""Where practitioners take a pressure from: every school's answer, its working, and what speaks against it."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from ballast.core.tables import Step, column, practical, ratio, standard_pressure
from ballast.core.targets.case import AxleCase, TireCase
from ballast.core.working import Line, Phrase, kg, kpa, number, say, share

School = Literal["table", "ratio", "curve", "placard", "placard light", "chalk", "sidewall", "own"]
# The schools that a target may come from, and what they are called.
Chosen = Literal["table", "ratio", "placard", "chalk"]
SCHOOLS: dict[Chosen, str] = {
    "table": "Load table with reserve",
    "ratio": "Ratio of load and sidewall",
    "placard": "Placard",
    "chalk": "Chalk result",
}
Between = Literal["step up", "interpolate"]
BETWEEN: dict[Between, str] = {"step up": "Next column up", "interpolate": "Straight line"}

DEFAULT_EDGE = 0.02


@dataclass(frozen=True)
class Policy:
    """How a target is chosen: reserve on the weighed load, edge allowance (shares), practical step, school.

    `trial` is the reason why a light rig goes below its placard; empty: it does not.
    """

    reserve: float
    step: Step
    edge: float = DEFAULT_EDGE
    school: Chosen = "table"
    between: Between = "step up"
    trial: str = ""


@dataclass(frozen=True)
class Flag:
    """What one school says [kPa], how it comes to it, and what speaks against it."""

    school: School
    name: str
    kpa: float
    objection: Phrase | None = None
    working: tuple[Line, ...] = ()
    # Before it was rounded to a step, where the school rounds.
    exact_kpa: float | None = None


def nearest(pressure_kpa: float, step: Step) -> float:
    """The nearest practical step, as people round who do not ask what it carries."""
    return round(pressure_kpa / step.kpa) * step.kpa


def objection(
    rounded_kpa: float, exact_kpa: float, floor: float | None, ceiling: float | None, otherwise: Phrase | None
) -> Phrase | None:
    """What speaks against a school's answer: it does not carry the load, or breaks the ceiling; else its weak spot."""
    if floor is not None and rounded_kpa < floor - 1e-9:
        if exact_kpa >= floor - 1e-9:
            return say("Rounds to {0}, below the floor of {1}.", kpa(rounded_kpa), kpa(floor, "up"))
        return say("Below the floor of {0}: it does not carry the load.", kpa(floor, "up"))
    if ceiling is not None and rounded_kpa > ceiling + 1e-9:
        return say("Above the ceiling of {0}.", kpa(ceiling, "down"))
    return otherwise


def label_flags(case: AxleCase, floor: float | None, ceiling: float | None) -> list[Flag]:
    """What stands on placard and sidewall, and what the chalk said."""
    flags: list[Flag] = []
    for school, name, value in (
        ("placard", "Placard", case.placard_kpa),
        ("placard light", "Placard, light load", case.placard_light_kpa),
    ):
        if value is not None:
            known = say("For the original tires: it knows nothing of this load.")
            words = objection(value, value, floor, ceiling, known)
            flags.append(Flag(school, name, value, words, (Line(say("as printed on the placard"), kpa(value)),)))  # type: ignore[arg-type]
    if case.chalk_kpa is not None:
        tread = say("What the tread showed, in the load state in which it was done: it knows nothing of the load.")
        words = objection(case.chalk_kpa, case.chalk_kpa, floor, ceiling, tread)
        line = Line(say("where the chalk went evenly"), kpa(case.chalk_kpa))
        flags.append(Flag("chalk", "Chalk result", case.chalk_kpa, words, (line,)))
    if case.sidewall_max_kpa is not None:
        flags.append(
            Flag(
                "sidewall",
                "Sidewall maximum",
                case.sidewall_max_kpa,
                say("A ceiling, not advice: it is not what this load needs."),
                (Line(say("as marked on the sidewall"), kpa(case.sidewall_max_kpa, "down")),),
            )
        )
    return flags


def by_table(case: AxleCase, tire: TireCase, policy: Policy) -> tuple[float, tuple[Line, ...]] | None:
    """The pressure [kPa] of a tire's table for the load with its reserve, and its lines; None: none carries the load."""
    assert tire.table is not None
    assert case.per_tire_kg is not None
    load = case.per_tire_kg * tire.load_divisor
    taken = column(tire.table, case.row, load, policy.reserve, policy.edge)
    if taken.kpa is None or taken.load_kg is None:
        return None
    working = [Line(say("with {0} reserve", share(policy.reserve)), kg(taken.required_kg))]
    exact = taken.kpa
    between = None
    if policy.between == "interpolate" and taken.note != "reserve not reached":
        between = tire.table.floor(case.row, taken.required_kg)
    if between is not None:
        exact = between
        working.append(Line(say("straight line between the columns"), kpa(exact, "up")))
    else:
        told = {
            "column": "first column that carries it, {0}",
            "next column": "close to a column, so the next one up, {0}",
            "no next column": "the last column, {0}: little is left over, and there is no next",
            "reserve not reached": "no column carries the reserve: the last, {0}",
        }[taken.note]
        working.append(Line(say(told, kpa(taken.kpa)), kg(taken.load_kg)))
    value = practical(tire.table, case.row, exact, taken.required_kg, policy.step)
    working.append(Line(say(f"in steps of {policy.step.name}"), kpa(value, "up")))
    return value, tuple(working)


def _by_sidewall(
    case: AxleCase,
    policy: Policy,
    limits: tuple[float | None, float | None],
    school: School,
    name: str,
    rule: Callable[[float, TireCase], float],
    how: Phrase,
    weak: Phrase,
) -> Flag | None:
    """A school that asks sidewall and load alone, of the tire that needs most; None where a sidewall is not known."""
    assert case.per_tire_kg is not None
    if any(t.tire_max_kg is None or t.sidewall_max_kpa is None for t in case.tires):
        return None
    asked = case.per_tire_kg * (1 + policy.reserve)
    exact = max(rule(asked, tire) for tire in case.tires)
    rounded = nearest(exact, policy.step)
    working = (
        Line(say("load with {0} reserve", share(policy.reserve)), kg(asked)),
        Line(how, kpa(exact)),
        Line(say(f"nearest step of {policy.step.name}"), kpa(rounded)),
    )
    return Flag(school, name, rounded, objection(rounded, exact, *limits, weak), working, exact)


def by_ratio(asked_kg: float, tire: TireCase) -> float:
    """Load ÷ maximum load × sidewall pressure [kPa], of a tire whose sidewall is known."""
    assert tire.tire_max_kg is not None
    assert tire.sidewall_max_kpa is not None
    return ratio(asked_kg, tire.tire_max_kg, tire.sidewall_max_kpa)


def by_curve(asked_kg: float, tire: TireCase) -> float:
    """The standard curve through the sidewall's maximum [kPa], of a tire whose sidewall is known."""
    assert tire.tire_max_kg is not None
    assert tire.sidewall_max_kpa is not None
    return standard_pressure(asked_kg, tire.tire_max_kg, tire.sidewall_max_kpa, tire.exponent)


def sidewall_flags(case: AxleCase, policy: Policy, floor: float | None, ceiling: float | None) -> list[Flag]:
    """The ratio, and the standard curve: a second opinion, never a target."""
    first, limits = case.tires[0], (floor, ceiling)
    if first.tire_max_kg is None or first.sidewall_max_kpa is None:
        return []
    most = say(
        "÷ the most one tire carries, {0}, × the sidewall's {1}", kg(first.tire_max_kg), kpa(first.sidewall_max_kpa)
    )
    power = say("sidewall's pressure × (load ÷ maximum) to the power of 1/{0}", number(first.exponent))
    straight = say("A straight proportion: it asks for more than the tire's own curve.")
    opinion = say("A second opinion only: the maker's own table rules.")
    found = (
        _by_sidewall(case, policy, limits, "ratio", "Ratio and reserve", by_ratio, most, straight),
        _by_sidewall(case, policy, limits, "curve", "Standard curve", by_curve, power, opinion),
    )
    return [f for f in found if f is not None]


def school_flags(case: AxleCase, policy: Policy, floor: float | None, ceiling: float | None) -> list[Flag]:
    """Every school's answer for a weighed axle, the table's first."""
    flags: list[Flag] = []
    if all(t.table for t in case.tires):
        looked = [by_table(case, t, policy) for t in case.tires]
        known = [found for found in looked if found is not None]
        if len(known) == len(looked):
            most, lines = max(known, key=lambda found: found[0])
            assumed = say("The heavier end is assumed, not weighed.") if case.assumed else None
            flags.append(
                Flag("table", "Table and reserve", most, objection(most, most, floor, ceiling, assumed), lines)
            )
    return flags + sidewall_flags(case, policy, floor, ceiling) + label_flags(case, floor, ceiling)
