"""One pressure per axle: the load gives a floor, tire and wheel give a ceiling, the target lies between."""

from dataclasses import dataclass, replace
from typing import Literal

from ballast.core.rigs import Row
from ballast.core.tables import LoadTable, Step, column, practical, ratio
from ballast.core.weighing import Check
from ballast.core.working import Line, Phrase, kg, kpa, say, share

State = Literal["target", "not weighed", "no table", "beyond tires", "floor above ceiling"]
# States in which no pressure is the answer, and may be put in force like one.
NO_PRESSURE: tuple[State, ...] = ("beyond tires", "floor above ceiling")
School = Literal["table", "ratio", "placard", "sidewall"]

DEFAULT_RESERVE = 0.08
DEFAULT_EDGE = 0.02
FAR_ABOVE_PLACARD = 1.20


@dataclass(frozen=True)
class Policy:
    """How a target is chosen: reserve on the weighed load, edge allowance (shares), practical step."""

    reserve: float
    step: Step
    edge: float = DEFAULT_EDGE


@dataclass(frozen=True)
class AxleCase:
    """All that the target of an axle depends on. Unknown is None.

    `load_divisor` is 1.10 for passenger tires on a truck, van or trailer; `tire_max_kg` is already
    divided by it. `placard_is_floor` on light vehicles. `other_size` names tires that are fitted and are not of
    the size that the rig is described with: no table can be trusted then. `over` are the ratings exceeded.
    """

    number: int
    name: str
    row: Row
    tires_per_end: int
    per_tire_kg: float | None
    assumed: bool = False
    table: LoadTable | None = None
    load_divisor: float = 1.0
    tire_max_kg: float | None = None
    sidewall_max_kpa: float | None = None
    wheel_max_kpa: float | None = None
    placard_kpa: float | None = None
    placard_is_floor: bool = False
    other_size: str = ""
    over: tuple[Check, ...] = ()


@dataclass(frozen=True)
class Flag:
    """What one school says, and what speaks against it."""

    school: School
    name: str
    kpa: float
    objection: Phrase | None = None


@dataclass(frozen=True)
class AxleTarget:
    """The answer for an axle. `target_kpa` is None unless the state is "target"."""

    number: int
    name: str
    state: State
    words: Phrase
    floor_kpa: float | None = None
    target_kpa: float | None = None
    ceiling_kpa: float | None = None
    ceiling_from: str = ""
    reserve_left: float | None = None
    comes_off_kg: float | None = None
    flags: tuple[Flag, ...] = ()
    notes: tuple[Phrase, ...] = ()
    working: tuple[Line, ...] = ()
    over: tuple[Check, ...] = ()


def ceiling_of(case: AxleCase) -> tuple[float | None, str]:
    """min(sidewall maximum, wheel rating); the table's last column only where the sidewall's is unknown."""
    known = [(v, n) for v, n in ((case.sidewall_max_kpa, "sidewall"), (case.wheel_max_kpa, "wheel")) if v is not None]
    if case.sidewall_max_kpa is None and case.table is not None:
        known.append((case.table.last_kpa, "table's last column, the sidewall's maximum is unknown"))
    return min(known) if known else (None, "")


def axle_target(case: AxleCase, policy: Policy) -> AxleTarget:
    """Floor, target and ceiling of one axle [kPa], with the working.

    Never a pressure that does not carry the bare load, never one above the ceiling or the table's
    last column. Raises Refusal when the table lacks the row that the axle needs.
    """
    ceiling, ceiling_from = ceiling_of(case)
    base = AxleTarget(
        case.number, case.name, "not weighed", say("Not weighed: no target yet."), ceiling_kpa=ceiling,
        ceiling_from=ceiling_from, over=case.over, flags=_label_flags(case, None),
    )  # fmt: skip
    if case.other_size:
        words = say(
            f"{case.other_size} is fitted here, the rig is described with another size. Describe what is fitted."
        )
        return replace(base, state="no table", words=words, flags=())
    if case.per_tire_kg is None:
        return base
    load = case.per_tire_kg * case.load_divisor
    working = [Line(say("Load on each tire" + (", heavier end assumed" if case.assumed else "")), kg(case.per_tire_kg))]
    if case.load_divisor != 1.0:
        working.append(Line(say("passenger tires on this kind of rig: looked up as × 1.10"), kg(load)))
    notes: list[Phrase] = []
    if case.assumed:
        notes.append(say("The heavier end is an assumption: weigh the ends."))
    if case.tire_max_kg is not None and case.per_tire_kg > case.tire_max_kg:
        return _beyond(base, case, case.per_tire_kg - case.tire_max_kg, case.tire_max_kg, working, notes)
    if case.table is None:
        words = say("No load-inflation table is chosen: pick one for this size.")
        return _with(
            base, state="no table", words=words, working=working, notes=notes, flags=_school_flags(case, policy, None)
        )
    floor = case.table.floor(case.row, load)
    if floor is None:
        last = case.table.row(case.row)[-1] / case.load_divisor
        return _beyond(base, case, case.per_tire_kg - last, last, working, notes)
    working.append(Line(say(f"{case.row} row, straight line between columns: the floor"), kpa(floor, "up")))
    assert ceiling is not None  # a table gives one where nothing else does
    flags = _school_flags(case, policy, floor)
    if floor > ceiling:
        carried = case.table.load_at(case.row, ceiling)
        off = None if carried is None else (load - carried) / case.load_divisor * case.tires_per_end
        words = say("No pressure: the load needs {0}, the ceiling is {1}.", kpa(floor, "up"), kpa(ceiling, "down"))
        notes.append(
            say("Other tires or wheels, or less load.")
            if off is None
            else say("Take at least {0} off each overloaded end, or fit other tires or wheels.", kg(off, "up"))
        )
        return _with(
            base, state="floor above ceiling", words=words, floor_kpa=floor, comes_off_kg=off, working=working,
            notes=notes, flags=flags,
        )  # fmt: skip

    taken = column(case.table, case.row, load, policy.reserve, policy.edge)
    assert taken.kpa is not None
    assert taken.load_kg is not None
    working.append(Line(say("with {0} reserve", share(policy.reserve)), kg(taken.required_kg)))
    told = {
        "column": "first column that carries it, {0}",
        "next column": "close to a column, so the next one up, {0}",
        "no next column": "the last column, {0}: little is left over, and there is no next",
        "reserve not reached": "no column carries the reserve: the last, {0}",
    }[taken.note]
    working.append(Line(say(told, kpa(taken.kpa)), kg(taken.load_kg)))
    target = practical(case.table, case.row, taken.kpa, taken.required_kg, policy.step)
    working.append(Line(say(f"in steps of {policy.step.name}"), kpa(target, "up")))
    limit = min(ceiling, case.table.last_kpa)
    if target > limit:
        target = limit
        which = "ceiling" if limit == ceiling else "table's last column"
        working.append(Line(say(f"not above the {which}"), kpa(target, "down")))
    if case.placard_is_floor and case.placard_kpa is not None and case.placard_kpa > target:
        target = min(case.placard_kpa, ceiling)
        working.append(
            Line(say("the placard asks for more, and on a light rig it is a second floor"), kpa(target, "up"))
        )
        if case.placard_kpa > ceiling:
            notes.append(say("The placard's {0} is above the ceiling: check both labels.", kpa(case.placard_kpa)))
    carried = case.table.load_at(case.row, target)
    assert carried is not None  # the target is at or above the floor, which is at or above the first column
    left = carried / load - 1
    working.append(
        Line(say("at the target the table carries {0}: over the load", kg(carried / case.load_divisor)), share(left))
    )
    if left < policy.reserve - 1e-9:
        notes.append(say("Reserve not reached: {0} of {1} is left.", share(left), share(policy.reserve)))
    if case.placard_is_floor and case.placard_kpa and target > FAR_ABOVE_PLACARD * case.placard_kpa:
        notes.append(say("More than 20 % above the placard of {0}: grip and handling change.", kpa(case.placard_kpa)))
    return _with(
        base, state="target", words=say("{0}", kpa(target, "up")), floor_kpa=floor, target_kpa=target,
        reserve_left=left, flags=flags, notes=notes, working=working,
    )  # fmt: skip


def _with(base: AxleTarget, **changes: object) -> AxleTarget:
    values = {f: getattr(base, f) for f in base.__dataclass_fields__} | changes
    for name in ("notes", "working", "flags"):
        values[name] = tuple(values[name])
    return AxleTarget(**values)


def _beyond(
    base: AxleTarget, case: AxleCase, per_tire: float, limit: float, working: list[Line], notes: list[Phrase]
) -> AxleTarget:  # fmt: skip
    off = per_tire * case.tires_per_end
    where = "each end that is over" if case.tires_per_end == 2 or case.row == "single" else "the axle"
    working.append(Line(say("the most one of these tires carries, at any pressure"), kg(limit)))
    return _with(
        base,
        state="beyond tires",
        words=say("No pressure carries this load: take at least {0} off " + where + ".", kg(off, "up")),
        comes_off_kg=off,
        working=working,
        notes=[*notes, say("Do not drive it like this. More air does not help.")],
        flags=_label_flags(case, None),
    )


def _label_flags(case: AxleCase, floor: float | None) -> tuple[Flag, ...]:
    flags: list[Flag] = []
    if case.placard_kpa is not None:
        flags.append(Flag("placard", "Placard", case.placard_kpa, _short(case.placard_kpa, floor)))
    if case.sidewall_max_kpa is not None:
        flags.append(
            Flag(
                "sidewall",
                "Sidewall maximum",
                case.sidewall_max_kpa,
                say("A ceiling, not advice: it is not what this load needs."),
            )
        )
    return tuple(flags)


def _short(pressure: float, floor: float | None) -> Phrase | None:
    if floor is None or pressure >= floor:
        return None
    return say("Below the floor of {0}: it does not carry the load.", kpa(floor, "up"))


def _school_flags(case: AxleCase, policy: Policy, floor: float | None) -> tuple[Flag, ...]:
    flags = list(_label_flags(case, floor))
    assert case.per_tire_kg is not None
    if case.table is not None and floor is not None:
        taken = column(case.table, case.row, case.per_tire_kg * case.load_divisor, policy.reserve, policy.edge)
        if taken.kpa is not None:
            flags.insert(0, Flag("table", "Table and reserve", taken.kpa, None))
    if case.tire_max_kg is not None and case.sidewall_max_kpa is not None:
        value = ratio(case.per_tire_kg * (1 + policy.reserve), case.tire_max_kg, case.sidewall_max_kpa)
        objection = _short(value, floor) or say("A straight proportion: it asks for more than the tire's own curve.")
        flags.append(Flag("ratio", "Ratio and reserve", value, objection))
    return tuple(flags)
