"""Where practitioners take a pressure from: every school's answer, its working, and what speaks against it."""

from dataclasses import dataclass
from typing import Literal

from ballast.core.tables import Step, column, practical, proportion, standard_pressure, steps_up
from ballast.core.targets.case import AxleCase, TireCase
from ballast.core.targets.needs import FloorFrom, road_least, too_low
from ballast.core.working import Line, Phrase, kg, kpa, needed, number, say, share

School = Literal["table", "ratio", "curve", "placard", "placard light", "rated", "chalk", "sidewall", "own"]
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


# What may be chosen: the share of reserve over the load, and how little of a column may be left before the next is taken.
DEFAULT_RESERVE, RESERVE_CHOICES = 0.08, (0.0, 0.05, 0.08, 0.10)
DEFAULT_EDGE, EDGE_CHOICES = 0.02, (0.0, 0.01, 0.02, 0.05)


@dataclass(frozen=True)
class Policy:
    """How a target is chosen: reserve on the weighed load, edge allowance (shares), practical step, school."""

    reserve: float
    step: Step
    edge: float = DEFAULT_EDGE
    school: Chosen = "table"
    between: Between = "step up"


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


@dataclass(frozen=True)
class Limits:
    """What every school is held against [kPa]: floor and what gave it, ceiling; None: not known."""

    floor_kpa: float | None = None
    source: FloorFrom = "load"
    ceiling_kpa: float | None = None


def objection(rounded_kpa: float, exact_kpa: float, limits: Limits, otherwise: Phrase | None) -> Phrase | None:
    """What speaks against a school's answer: it lies below the floor, or breaks the ceiling; else its weak spot."""
    floor, ceiling = limits.floor_kpa, limits.ceiling_kpa
    if floor is not None and rounded_kpa < floor - 1e-9:
        shown = needed(floor, None, ceiling)
        if exact_kpa >= floor - 1e-9:
            return say("Rounds to {0}, below the floor of {1}.", kpa(rounded_kpa), shown)
        below = too_low(limits.source, shown)
        return say(below.text[0].upper() + below.text[1:] + ".", *below.values)
    if ceiling is not None and rounded_kpa > ceiling + 1e-9:
        return say("Above the ceiling of {0}.", kpa(ceiling, "down"))
    return otherwise


def label_flags(case: AxleCase, limits: Limits) -> list[Flag]:
    """What stands on placard and sidewall, and what the chalk said."""
    flags: list[Flag] = []
    for school, name, value in (
        ("placard", "Placard", case.placard_kpa),
        ("placard light", "Placard, light load", case.placard_light_kpa),
    ):
        if value is not None:
            known = say("For the original tires: it knows nothing of this load.")
            words = objection(value, value, limits, known)
            flags.append(Flag(school, name, value, words, (Line(say("as printed on the placard"), kpa(value)),)))  # type: ignore[arg-type]
    if case.chalk_kpa is not None:
        tread = say("What the tread showed, in the load state in which it was done: it knows nothing of the load.")
        words = objection(case.chalk_kpa, case.chalk_kpa, limits, tread)
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
        sentences = {
            "column": "first column that carries it, {0}",
            "next column": "close to a column, so the next one up, {0}",
            "no next column": "the last column, {0}: little is left over, and there is no next",
            "reserve not reached": "no column carries the reserve: the last, {0}",
        }[taken.note]
        working.append(Line(say(sentences, kpa(taken.kpa)), kg(taken.load_kg)))
    value = practical(tire.table, case.row, exact, taken.required_kg, policy.step)
    working.append(Line(say(f"in steps of {policy.step.name}"), kpa(value, "up")))
    return value, tuple(working)


def _known(tire: TireCase) -> bool:
    return tire.tire_max_kg is not None and tire.sidewall_max_kpa is not None


def by_ratio(case: AxleCase, asked_kg: float, tire: TireCase) -> float:
    """Load ÷ maximum load × sidewall pressure [kPa], not below the least for the road, of a tire whose sidewall is known."""
    assert tire.tire_max_kg is not None
    assert tire.sidewall_max_kpa is not None
    straight = proportion(asked_kg, tire.tire_max_kg, tire.sidewall_max_kpa)
    return max(straight, road_least(case, tire.sidewall_max_kpa))


def by_curve(case: AxleCase, asked_kg: float, tire: TireCase) -> float:
    """The standard curve through the sidewall's maximum [kPa], of a tire whose sidewall is known."""
    assert tire.tire_max_kg is not None
    assert tire.sidewall_max_kpa is not None
    return standard_pressure(asked_kg, tire.tire_max_kg, tire.sidewall_max_kpa, tire.exponent)


def sidewall_flags(case: AxleCase, policy: Policy, limits: Limits) -> list[Flag]:
    """The ratio, and the standard curve (a second opinion, never a target), each of the tire that needs most of those whose
    sidewall is known."""
    assert case.per_tire_kg is not None
    known = [t for t in case.tires if _known(t)]
    if not known:
        return []
    asked = case.per_tire_kg * (1 + policy.reserve)
    flags = []
    for school, name, rule, weak in (
        ("ratio", "Ratio and reserve", by_ratio, "A straight proportion: it asks for more than the tire's own curve."),
        ("curve", "Standard curve", by_curve, "A second opinion only: the maker's own table rules."),
    ):
        exact, tire = max(((rule(case, asked, t), t) for t in known), key=lambda pair: pair[0])
        assert tire.tire_max_kg is not None
        assert tire.sidewall_max_kpa is not None
        how = say(
            "÷ the most one tire carries, {0}, × the sidewall's {1}", kg(tire.tire_max_kg), kpa(tire.sidewall_max_kpa)
        )
        if school == "curve":
            how = say("sidewall's pressure × (load ÷ maximum) to the power of 1/{0}", number(tire.exponent))
        rounded = nearest(exact, policy.step)
        working = (
            Line(say("load with {0} reserve", share(policy.reserve)), kg(asked)),
            Line(how, kpa(exact)),
            Line(say(f"nearest step of {policy.step.name}"), kpa(rounded)),
        )
        words = objection(rounded, exact, limits, say(weak))
        flags.append(Flag(school, name, rounded, words, working, exact))  # type: ignore[arg-type]
    return flags


def _by_load(case: AxleCase, tire: TireCase, policy: Policy) -> tuple[float, tuple[Line, ...]] | None:
    """A tire's answer by its table, else by its sidewall in whole steps; None: neither is known."""
    if tire.table is not None:
        return by_table(case, tire, policy)
    if not _known(tire):
        return None
    assert case.per_tire_kg is not None
    asked = case.per_tire_kg * (1 + policy.reserve)
    value = steps_up(by_ratio(case, asked, tire), policy.step)
    return value, (Line(say(f"{tire.name}, by its sidewall: no table is chosen"), kpa(value, "up")),)


def school_flags(case: AxleCase, policy: Policy, limits: Limits) -> list[Flag]:
    """Every school's answer for a weighed axle, the table's first: of mixed tires the highest, whatever gave it."""
    flags: list[Flag] = []
    if any(t.table for t in case.tires):
        known = [load_flag for t in case.tires if (load_flag := _by_load(case, t, policy)) is not None]
        if known:
            most, lines = max(known, key=lambda load_flag: load_flag[0])
            weak = say("The heavier end is assumed, not weighed.") if case.assumed else None
            if not all(t.table for t in case.tires):
                weak = say("Not every tire on the axle has a table.")
            flags.append(Flag("table", "Table and reserve", most, objection(most, most, limits, weak), lines))
    return flags + sidewall_flags(case, policy, limits) + label_flags(case, limits)
