"""The target of one axle: between its floor and its ceiling, by the school that is chosen."""

from dataclasses import dataclass, replace
from typing import Literal

from ballast.core.tables import steps_up
from ballast.core.targets.case import AxleCase
from ballast.core.targets.schools import SCHOOLS, Flag, Policy, School, by_ratio, label_flags, school_flags
from ballast.core.weighing import Check
from ballast.core.working import Line, Measure, Phrase, kg, kpa, plain, say, share

State = Literal["target", "provisional", "not weighed", "no table", "beyond tires", "floor above ceiling"]
# States in which no pressure is the answer, and may be put in force like one.
NO_PRESSURE: tuple[State, ...] = ("beyond tires", "floor above ceiling")

FAR_ABOVE_PLACARD = 1.20


@dataclass(frozen=True)
class AxleTarget:
    """The answer for an axle. `target_kpa` is None unless the state is "target" or "provisional".

    `estimate`: the floor is a ratio's, no table gave it. `below_placard`: the load alone would let a light rig go below
    its placard; `trial`: it does, for a recorded reason.
    """

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
    school: School | None = None
    estimate: bool = False
    trial: bool = False
    below_placard: bool = False


def ceiling_of(case: AxleCase) -> tuple[float | None, str]:
    """min(sidewall maximum, wheel rating) over all tires; a table's last column only where the sidewall's is unknown."""
    known: list[tuple[float, str]] = []
    for tire in case.tires:
        if tire.sidewall_max_kpa is not None:
            known.append((tire.sidewall_max_kpa, "sidewall"))
        elif tire.table is not None:
            known.append((tire.table.last_kpa, "table's last column, the sidewall's maximum is unknown"))
    if case.wheel_max_kpa is not None:
        known.append((case.wheel_max_kpa, "wheel"))
    return min(known) if known else (None, "")


@dataclass(frozen=True)
class Floor:
    """What the load needs [kPa]; None: not known. `beyond_kg` is the most a tire carries where that is too little."""

    kpa: float | None
    estimate: bool = False
    beyond_kg: float | None = None
    working: tuple[Line, ...] = ()


def floor_of(case: AxleCase) -> Floor:
    """The pressure that just carries the bare load, of the tire that needs most.

    By its table; without one by the ratio, an estimate; without a sidewall either, unknown.
    """
    assert case.per_tire_kg is not None
    most, estimate, unknown = 0.0, False, False
    lines: list[Line] = []
    for tire in case.tires:
        named = f"{tire.name}: " if case.others else ""
        load = case.per_tire_kg * tire.load_divisor
        if tire.tire_max_kg is not None and case.per_tire_kg > tire.tire_max_kg:
            return Floor(None, beyond_kg=tire.tire_max_kg)
        if tire.table is not None:
            need = tire.table.floor(case.row, load)
            if need is None:
                return Floor(None, beyond_kg=tire.table.row(case.row)[-1] / tire.load_divisor)
            words = f"{named}{case.row} row, straight line between columns: the floor"
        elif tire.tire_max_kg is not None and tire.sidewall_max_kpa is not None:
            need, estimate = by_ratio(case.per_tire_kg, tire), True
            words = f"{named}no table: load ÷ maximum load × sidewall's pressure, an estimate of the floor"
        else:
            unknown = True
            continue
        if tire.load_divisor != 1.0 and tire.table is not None:
            lines.append(Line(say(f"{named}passenger tires on this kind of rig: looked up as × 1.10"), kg(load)))
        lines.append(Line(say(words), kpa(need, "up")))
        most = max(most, need)
    return Floor(None if unknown else most, estimate, None, tuple(lines))


def second_floor(case: AxleCase) -> float | None:
    """On a light rig the placard is a second floor [kPa], carried over where it is for another size."""
    if not case.placard_is_floor:
        return None
    return case.placard_kpa if case.placard_floor_kpa is None else case.placard_floor_kpa


def limits_of_own(case: AxleCase, policy: Policy, answer: AxleTarget, wanted_kpa: float) -> Phrase | None:
    """Why a pressure that a person asks for may not be a target, with the bound; None: it may.

    `answer` is what the axle has without it.
    """
    if answer.state in NO_PRESSURE:
        return say(f"{answer.name}: no pressure carries this load. Take load off first.")
    if answer.floor_kpa is not None and wanted_kpa < answer.floor_kpa - 1e-6:
        return say(
            f"{answer.name}: {{0}} does not carry the load. The floor is {{1}}; enter that or more.",
            kpa(wanted_kpa), kpa(answer.floor_kpa, "up"),
        )  # fmt: skip
    if answer.ceiling_kpa is not None and wanted_kpa > answer.ceiling_kpa + 1e-6:
        return say(
            f"{answer.name}: {{0}} is above the ceiling of {{1}}, from the {answer.ceiling_from}. Enter that or less.",
            kpa(wanted_kpa), kpa(answer.ceiling_kpa, "down"),
        )  # fmt: skip
    if answer.floor_kpa is None:
        return say(
            f"{answer.name}: what the load needs is not known, so no pressure of one's own can be judged. Weigh it."
        )
    second = second_floor(case)
    if second is not None and answer.ceiling_kpa is not None:
        second = min(second, answer.ceiling_kpa)
    if second is not None and wanted_kpa < second - 1e-6 and not policy.trial:
        return say(
            f"{answer.name}: the placard asks for {{0}}, and on a light rig it is a second floor. Enter that or more, or "
            "give the reason for a trial.",
            kpa(second, "up"),
        )
    return None


def axle_target(case: AxleCase, policy: Policy) -> AxleTarget:
    """Floor, target and ceiling of one axle [kPa], with the working.

    Never a pressure that does not carry the bare load, never one above the ceiling. Raises Refusal when a table lacks
    the row that the axle needs.
    """
    ceiling, ceiling_from = ceiling_of(case)
    base = AxleTarget(
        case.number, case.name, "not weighed", say("Not weighed: no target yet."), ceiling_kpa=ceiling,
        ceiling_from=ceiling_from, over=case.over, flags=tuple(label_flags(case, None, ceiling)), notes=_standing_notes(case),
    )  # fmt: skip
    if case.per_tire_kg is None:
        return _by_placard(base, case, "not weighed", [])
    working = [Line(say("Load on each tire" + (", heavier end assumed" if case.assumed else "")), kg(case.per_tire_kg))]
    notes = list(base.notes)
    if case.assumed:
        notes.append(say("The heavier end is an assumption: weigh the ends."))
    base = replace(base, notes=tuple(notes))
    floor = floor_of(case)
    if floor.beyond_kg is not None:
        return _beyond(base, case, case.per_tire_kg - floor.beyond_kg, floor.beyond_kg, working)
    working += floor.working
    flags = tuple(school_flags(case, policy, floor.kpa, ceiling))
    base = replace(base, flags=flags, floor_kpa=floor.kpa, estimate=floor.estimate)
    if floor.kpa is None or not {"table", "ratio"} & {f.school for f in flags}:
        found = _by_placard(base, case, "no load-inflation table", working)
        words = say("No load-inflation table is chosen: pick one for this size.")
        return found if found.target_kpa is not None else replace(found, state="no table", words=words)
    assert ceiling is not None  # a table or a sidewall gave the floor, and gives this
    if floor.kpa > ceiling:
        return _above_ceiling(base, case, floor.kpa, ceiling, working)
    return _chosen(base, case, policy, floor.kpa, ceiling, working)


def _standing_notes(case: AxleCase) -> tuple[Phrase, ...]:
    notes: list[Phrase] = []
    if case.placard_words is not None:
        notes.append(case.placard_words)
    if case.speed_kmh is not None and case.holds_kmh is not None and case.speed_kmh > case.holds_kmh:
        held, driven = Measure("speed", case.holds_kmh, "down"), Measure("speed", case.speed_kmh)
        notes.append(
            say("It is driven at {0}; the tires and their table hold up to {1}. Drive no faster, or ask their maker.", driven, held)
        )  # fmt: skip
    if case.others:
        names = ", ".join(dict.fromkeys(t.name for t in case.tires))
        notes.append(say(f"Mixed tires ({names}): each is looked up, and the one that needs most rules the axle."))
    return tuple(notes)


def _by_placard(base: AxleTarget, case: AxleCase, why: str, working: list[Line]) -> AxleTarget:
    """Without a weight or a table the placard stands in, said to be provisional; without one either, no target."""
    value = case.placard_floor_kpa or case.placard_kpa
    if value is None:
        return replace(base, working=tuple(working))
    ceiling = base.ceiling_kpa
    lines = [*working, Line(say(f"{why}: the placard stands in"), kpa(value))]
    notes = list(base.notes)
    if ceiling is not None and value > ceiling:
        notes.append(say("The placard's {0} is above the ceiling: check both labels.", kpa(value)))
        value = ceiling
        lines.append(Line(say("not above the ceiling"), kpa(value, "down")))
    words = say(f"{{0}}, provisional: {why}, so it is the placard's.", kpa(value, "up"))
    notes.append(say("Provisional: weigh it as it travels, and look it up in the maker's table."))
    return replace(
        base, state="provisional", words=words, target_kpa=value, school="placard", working=tuple(lines), notes=tuple(notes)
    )  # fmt: skip


def _beyond(base: AxleTarget, case: AxleCase, per_tire: float, limit: float, working: list[Line]) -> AxleTarget:
    off = per_tire * case.tires_per_end
    where = "each end that is over" if case.tires_per_end == 2 or case.row == "single" else "the axle"
    return replace(
        base,
        state="beyond tires",
        words=say("No pressure carries this load: take at least {0} off " + where + ".", kg(off, "up")),
        comes_off_kg=off,
        working=(*working, Line(say("the most one of these tires carries, at any pressure"), kg(limit))),
        notes=(*base.notes, say("Do not drive it like this. More air does not help.")),
    )


def _above_ceiling(base: AxleTarget, case: AxleCase, floor: float, ceiling: float, working: list[Line]) -> AxleTarget:
    off: float | None = None
    for tire in case.tires:
        assert case.per_tire_kg is not None
        carried = None if tire.table is None else tire.table.load_at(case.row, ceiling)
        if carried is not None:
            off = max(off or 0.0, (case.per_tire_kg - carried / tire.load_divisor) * case.tires_per_end)
    note = (
        say("Other tires or wheels, or less load.")
        if off is None
        else say("Take at least {0} off each overloaded end, or fit other tires or wheels.", kg(off, "up"))
    )
    return replace(
        base,
        state="floor above ceiling",
        words=say("No pressure: the load needs {0}, the ceiling is {1}.", kpa(floor, "up"), kpa(ceiling, "down")),
        comes_off_kg=off,
        working=tuple(working),
        notes=(*base.notes, note),
    )


def _wanted(base: AxleTarget, case: AxleCase, policy: Policy) -> tuple[School, float, list[Line], bool]:
    """Which school gives the pressure, what it comes to, its lines, and whether it only stands in."""
    by = {f.school: f for f in base.flags}
    if case.own_kpa is not None:
        return "own", case.own_kpa, [Line(say("chosen by hand"), kpa(case.own_kpa))], base.estimate
    school: School = policy.school
    if school == "table" and "table" not in by:
        school = "ratio"
    if school in ("placard", "chalk") and school not in by:
        school = "table" if "table" in by else "ratio"
    if school == "ratio" and "ratio" not in by:
        school = "table"
    flag = by[school]
    value, lines = flag.kpa, list(flag.working)
    if school == "ratio":
        # The school rounds to the nearest step; a target is never rounded down.
        assert flag.exact_kpa is not None
        value = steps_up(flag.exact_kpa, policy.step)
        lines[-1] = Line(say(f"up to the next step of {policy.step.name}"), kpa(value))
    stands_in = base.estimate
    if stands_in and case.placard_kpa is not None and case.placard_kpa > value:
        school, value = "placard", case.placard_kpa
        lines.append(Line(say("no table: the placard asks for more than the ratio, and stands in"), kpa(value)))
    return school, value, lines, stands_in


def _chosen(
    base: AxleTarget, case: AxleCase, policy: Policy, floor: float, ceiling: float, working: list[Line]
) -> AxleTarget:  # fmt: skip
    school, target, lines, stands_in = _wanted(base, case, policy)
    working += lines
    notes = list(base.notes)
    if school != policy.school and case.own_kpa is None and not stands_in:
        notes.append(say(f"{SCHOOLS[policy.school]}: not known for this axle, so it is the {SCHOOLS[school].lower()}."))  # type: ignore[index]
    if target < floor:
        said = target
        target = min(steps_up(floor, policy.step), ceiling)
        notes.append(
            say(f"{_name(base, school)} says {{0}}, which does not carry the load: raised to {{1}}.", kpa(said), kpa(target, "up"))
        )  # fmt: skip
        working.append(Line(say("not below the floor"), kpa(target, "up")))
    lasts = [t.table.last_kpa for t in case.tires if t.table is not None]
    limit = min([ceiling, *lasts]) if school == "table" else ceiling
    if target > limit:
        target = max(limit, floor)
        which = "ceiling" if limit == ceiling else "table's last column"
        working.append(Line(say(f"not above the {which}"), kpa(target, "down")))
    trial = below = False
    second = second_floor(case)
    if second is not None and second > target:
        below = not stands_in
        if policy.trial:
            trial = True
            notes.append(
                say("A trial below the placard's {0}: {reason}".replace("{reason}", plain(policy.trial)), kpa(second))
            )
        else:
            target, school = min(second, ceiling), "placard"
            working.append(
                Line(say("the placard asks for more, and on a light rig it is a second floor"), kpa(target, "up"))
            )
        if second > ceiling:
            notes.append(say("The placard's {0} is above the ceiling: check both labels.", kpa(second)))
    left = _reserve_left(case, target)
    if left is not None:
        carried, share_left = left
        working.append(Line(say("at the target the table carries {0}: over the load", kg(carried)), share(share_left)))
        if share_left < policy.reserve - 1e-9:
            notes.append(say("Reserve not reached: {0} of {1} is left.", share(share_left), share(policy.reserve)))
    if case.placard_is_floor and case.placard_kpa and target > FAR_ABOVE_PLACARD * case.placard_kpa:
        notes.append(say("More than 20 % above the placard of {0}: grip and handling change.", kpa(case.placard_kpa)))
    if case.lamp_kpa is not None and target < case.lamp_kpa:
        notes.append(
            say("The vehicle's own lamp will light: it comes on below {0}. Record its threshold if it was changed.", kpa(case.lamp_kpa))
        )  # fmt: skip
    words = say("{0}", kpa(target, "up"))
    if stands_in:
        words = say("{0}, provisional: no load-inflation table.", kpa(target, "up"))
        notes.append(say("Provisional: the floor is an estimate by the sidewall. Enter the maker's table."))
    return replace(
        base,
        state="provisional" if stands_in else "target",
        words=words,
        target_kpa=target,
        reserve_left=left[1] if left else None,
        notes=tuple(notes),
        working=tuple(working),
        school=school,
        trial=trial,
        below_placard=below,
    )


def _name(base: AxleTarget, school: School) -> str:
    return next((f.name for f in base.flags if f.school == school), "What is asked for")


def _reserve_left(case: AxleCase, target: float) -> tuple[float, float] | None:
    """What the weakest tire carries at the target [kg, as weighed], and the share of it over the load."""
    assert case.per_tire_kg is not None
    found: list[tuple[float, float]] = []
    for tire in case.tires:
        carried = None if tire.table is None else tire.table.load_at(case.row, target)
        if carried is None:
            return None
        own = carried / tire.load_divisor
        found.append((own, own / case.per_tire_kg - 1 if case.per_tire_kg else 0.0))
    return min(found, key=lambda pair: pair[1])
