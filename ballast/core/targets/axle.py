"""The target of one axle: between its floor and its ceiling, by the school that is chosen."""

import math
from dataclasses import dataclass, replace
from functools import partial
from typing import Literal

from ballast.core.rigs import Missing
from ballast.core.tables import beyond, steps_up
from ballast.core.targets.case import FAR_ABOVE_PLACARD, AxleCase
from ballast.core.targets.needs import Floor, FloorFrom, Least, Rated, as_rated, ceiling_of, floor_of, least_of, too_low
from ballast.core.targets.schools import SCHOOLS, Flag, Limits, Policy, School, label_flags, school_flags
from ballast.core.targets.unweighed import lacking, own_refused, rated_step, row_of
from ballast.core.weighing import ASSUMED_HEAVIER, Check
from ballast.core.working import Line, Measure, Phrase, aimed, kg, kpa, needed, plain, say, share

State = Literal["target", "provisional", "not weighed", "no table", "beyond tires", "floor above ceiling"]
# States in which no pressure is the answer, and may be put in force like one.
NO_PRESSURE: tuple[State, ...] = ("beyond tires", "floor above ceiling")


@dataclass(frozen=True)
class AxleTarget:
    """The answer for an axle. `target_kpa` is None unless the state is "target" or "provisional".

    `estimate`: the floor is by proportion at a tire, no table gave it. `at_least`: the names of tires on it of which nothing is
    known. `as_rated_kpa`: enough for the axle's rating, whatever it weighs. `below_placard`: the load alone would let a light rig go below
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
    floor_from: FloorFrom = "load"
    at_least: tuple[str, ...] = ()
    as_rated_kpa: float | None = None
    over: tuple[Check, ...] = ()
    school: School | None = None
    estimate: bool = False
    trial: bool = False
    below_placard: bool = False
    # What nobody has read and would help an axle that is not weighed.
    lacks: tuple[Missing, ...] = ()
    # Held anywhere between its number and this, and how that felt.
    range_kpa: float | None = None
    feel: str = ""


def second_floor(case: AxleCase) -> float | None:
    """On a light rig the placard is a second floor [kPa], carried over where it is for another size."""
    if not case.placard_is_floor:
        return None
    return case.placard_kpa if case.placard_floor_kpa is None else case.placard_floor_kpa


def limits_of_own(case: AxleCase, answer: AxleTarget, wanted_kpa: float) -> Phrase | None:
    """Why a pressure that a person asks for may not be a target, with the bound; None: it may.

    `answer` is what the axle has without it.
    """
    if answer.state in NO_PRESSURE:
        return say(f"{answer.name}: no pressure carries this load. Take load off first.")
    if case.per_tire_kg is None:
        return own_refused(case, wanted_kpa)
    floor, ceiling = answer.floor_kpa, answer.ceiling_kpa
    if floor is not None and wanted_kpa < floor - 1e-6:
        shown = needed(floor, None, ceiling)
        if answer.floor_from == "load":
            words = f"{answer.name}: {{0}} does not carry the load. The floor is {{1}}; enter that or more."
        else:
            below = too_low(answer.floor_from, shown).text.replace("{0}", "{1}")
            words = f"{answer.name}: {{0}} is {below}. Enter that or more."
        return say(words, kpa(wanted_kpa), shown)
    if ceiling is not None and wanted_kpa > ceiling + 1e-6:
        return say(
            f"{answer.name}: {{0}} is above the ceiling of {{1}}, from the {answer.ceiling_from}. Enter that or less.",
            kpa(wanted_kpa), kpa(ceiling, "down"),
        )  # fmt: skip
    if floor is None:
        missing = "Weigh it." if case.per_tire_kg is None else "Enter its table, or what stands on its sidewall."
        return say(
            f"{answer.name}: what the load needs is not known, so no pressure of one's own can be judged. {missing}"
        )
    second = second_floor(case)
    if second is not None and ceiling is not None:
        second = min(second, ceiling)
    if second is not None and wanted_kpa < second - 1e-6 and not case.trial:
        return say(
            f"{answer.name}: the placard asks for {{0}}, and on a light rig it is a second floor. Enter that or more, or "
            "give the reason for a trial on this axle.",
            kpa(second, "up"),
        )
    return None


def axle_target(case: AxleCase, policy: Policy) -> AxleTarget:
    """Floor, target and ceiling of one axle [kPa], with the working.

    Never a pressure below the highest known need of its tires for the bare load, never one above the ceiling. Raises Refusal
    when a table lacks the row that the axle needs.
    """
    ceiling, ceiling_from = ceiling_of(case)
    rated = as_rated(case)
    said = partial(
        AxleTarget, case.number, case.name, "not weighed", say("Not weighed: no target yet."), ceiling_kpa=ceiling,
        ceiling_from=ceiling_from, over=case.over, as_rated_kpa=rated.kpa if rated else None,
    )  # fmt: skip
    notes = _standing_notes(case)
    if case.per_tire_kg is None:
        return _unweighed(said(notes=notes, flags=_labels(case, ceiling)), case, policy, rated)
    working = [Line(say("Load on each tire" + (", heavier end assumed" if case.assumed else "")), kg(case.per_tire_kg))]
    if case.assumed:
        notes = (*notes, say("The heavier end is an assumption: weigh the ends."))
    least = least_of(case)
    if least.tires_kg is not None and beyond(case.per_tire_kg, least.tires_kg):
        return _beyond(said(notes=notes, flags=_labels(case, ceiling)), case, least, working)
    floor = floor_of(case)
    working += floor.working
    limits = Limits(floor.kpa, floor.source, ceiling)
    base = said(
        notes=notes, flags=tuple(school_flags(case, policy, limits)), floor_kpa=floor.kpa, floor_from=floor.source,
        estimate=floor.estimate, at_least=floor.unknown if floor.kpa is not None else (),
    )  # fmt: skip
    if floor.kpa is None:
        target = _by_placard(base, case, "no load-inflation table", working)
        words = say("No load-inflation table is chosen: pick one for this size.")
        return target if target.target_kpa is not None else replace(target, state="no table", words=words)
    if ceiling is not None and floor.kpa > ceiling + 1e-6:
        return _above_ceiling(base, case, least, floor.kpa, ceiling, working)
    return _chosen(base, case, policy, floor, ceiling, working)


def _labels(case: AxleCase, ceiling: float | None) -> tuple[Flag, ...]:
    """What its labels say, where no load says more."""
    return tuple(label_flags(case, Limits(ceiling_kpa=ceiling)))


def _standing_notes(case: AxleCase) -> tuple[Phrase, ...]:
    notes: list[Phrase] = []
    if case.placard_words is not None:
        notes.append(case.placard_words)
    if case.speed_kmh is not None and case.holds_kmh is not None and case.speed_kmh > case.holds_kmh:
        held, driven = Measure("speed", case.holds_kmh, "down"), Measure("speed", case.speed_kmh)
        notes.append(
            say("It is driven at {0}; the tires and their table hold up to {1}. Drive no faster, or ask their maker.", driven, held)
        )  # fmt: skip
    notes += case.unlike
    if case.others:
        names = ", ".join(dict.fromkeys(t.name for t in case.tires))
        notes.append(say(f"Mixed tires ({names}): each is looked up, and the one that needs most rules the axle."))
    return tuple(notes)


def _unweighed(base: AxleTarget, case: AxleCase, policy: Policy, rated: Rated | None) -> AxleTarget:
    """Without a weight: a pressure of one's own, else the placard's row, else what is enough for the axle's rating."""
    row, ceiling = row_of(case), base.ceiling_kpa
    enough = rated_step(rated, policy.step, ceiling)
    base = replace(base, lacks=lacking(case))
    if rated is not None:
        weak = say("Not above the ceiling.") if enough is None else rated.words
        lines = (Line(say("enough for the axle's rating"), kpa(rated.kpa, "up")),)
        base = replace(base, flags=(*base.flags, Flag("rated", "As rated", enough or rated.kpa, weak, lines)))
    trial = bool(row is not None and rated is not None and case.gvwr_known and rated.kpa < row)
    base = replace(base, below_placard=trial)
    if case.own_kpa is not None and own_refused(case, case.own_kpa) is None:
        notes = [*base.notes, say("Provisional: chosen by hand, not weighed. Weigh it as it travels.")]
        low = row is not None and case.own_kpa < row - 1e-6
        if low and row is not None:
            text = "A trial below the placard's {0}: {reason}".replace("{reason}", plain(case.trial))
            notes.append(say(text, kpa(row)))
        return replace(
            base, state="provisional", words=say("{0}, provisional: chosen, not weighed.", aimed(case.own_kpa, ceiling)),
            target_kpa=case.own_kpa, school="own", trial=low, notes=tuple(notes),
            working=(Line(say("chosen by hand"), kpa(case.own_kpa)),),
        )  # fmt: skip
    if case.placard_kpa is None and rated is not None and enough is not None:
        words = rated.words.text[0].lower() + rated.words.text[1:]
        return replace(
            base, state="provisional", target_kpa=enough, school="rated",
            words=say("{1}, provisional: " + words, *rated.words.values, aimed(enough, ceiling)),
            notes=(*base.notes, say("Provisional: weigh it as it travels, and enter the placard's pressure.")),
            working=(Line(say("enough for the axle's rating"), kpa(rated.kpa, "up")), Line(say("up to the next step"), kpa(enough))),
        )  # fmt: skip
    light = case.light_row and row is not None and row == case.placard_light_kpa
    return _by_placard(base, case, "not weighed", [], row if light else None)


def _by_placard(
    base: AxleTarget, case: AxleCase, why: str, working: list[Line], light_kpa: float | None = None
) -> AxleTarget:
    """Without a weight or a table the placard stands in, said to be provisional; without one either, no target.

    `light_kpa`: its row for a light load, where the load state goes by that.
    """
    value = case.placard_kpa if case.placard_floor_kpa is None else case.placard_floor_kpa
    value = value if light_kpa is None else light_kpa
    if value is None:
        missing = "enter the placard's pressure, or weigh it and enter its table"
        return replace(base, words=say(f"{base.words.text[:-1]}: {missing}."), working=tuple(working))
    ceiling = base.ceiling_kpa
    named = "the placard" if light_kpa is None else "the placard's row for a light load"
    lines = [*working, Line(say(f"{why}: {named} stands in"), kpa(value))]
    notes = list(base.notes)
    if ceiling is not None and value > ceiling:
        notes.append(say("The placard's {0} is above the ceiling: check both labels.", kpa(value)))
        value = ceiling
        lines.append(Line(say("not above the ceiling"), kpa(value, "down")))
    row = "" if light_kpa is None else ", light load"
    words = say(f"{{0}}, provisional: {why}, so it is the placard's{row}.", aimed(value, ceiling))
    weigh = "weigh it as it travels, and look it up" if case.per_tire_kg is None else "look it up"
    notes.append(say(f"Provisional: {weigh} in the maker's table."))
    return replace(
        base, state="provisional", words=words, target_kpa=value, school="placard", working=tuple(lines), notes=tuple(notes)
    )  # fmt: skip


def _off(case: AxleCase, least: Least) -> tuple[float | None, str]:
    """How much must come off [kg] so that every tire carries what is left under its ceiling, and from where; None: no
    unloading helps."""
    assert case.per_tire_kg is not None
    if least.hopeless or least.kg is None:
        return None, ""
    off = (case.per_tire_kg - least.kg) * case.tires_per_end
    if case.assumed:
        # What is taken off the axle as a whole takes its assumed share off the heavier end.
        return off / ASSUMED_HEAVIER, "the axle"
    return off, "the axle" if case.one_wheel else "each end that is over"


def _beyond(base: AxleTarget, case: AxleCase, least: Least, working: list[Line]) -> AxleTarget:
    off, where = _off(case, least)
    words = (
        say("No pressure carries this load: other tires or wheels.")
        if off is None
        else say(f"No pressure carries this load: take at least {{0}} off {where}.", kg(off, "up"))
    )
    assert least.tires_kg is not None
    return replace(
        base,
        state="beyond tires",
        words=words,
        comes_off_kg=off,
        working=(
            *working,
            Line(say("the most one of these tires carries, at any pressure"), kg(least.tires_kg, "down")),
        ),
        notes=(*base.notes, say("Do not drive it like this. More air does not help.")),
    )


def _above_ceiling(
    base: AxleTarget, case: AxleCase, least: Least, floor: float, ceiling: float, working: list[Line]
) -> AxleTarget:  # fmt: skip
    off, where = _off(case, least)
    note = (
        say("Other tires or wheels: unloading does not help.")
        if off is None
        else say(f"Take at least {{0}} off {where}, or fit other tires or wheels.", kg(off, "up"))
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
    if school not in by:
        school = "table" if "table" in by else "ratio"
    flag = by[school]
    value, lines = flag.kpa, list(flag.working)
    if school == "ratio":
        # The school rounds to the nearest step; a target is never rounded down.
        assert flag.exact_kpa is not None
        value = steps_up(flag.exact_kpa, policy.step)
        lines[-1] = Line(say(f"up to the next step of {policy.step.name}"), kpa(value))
    stands_in = base.estimate or bool(base.at_least)
    if stands_in and case.placard_kpa is not None and case.placard_kpa > value:
        school, value = "placard", case.placard_kpa
        lines.append(Line(say("not every tire has a table: the placard asks for more, and stands in"), kpa(value)))
    return school, value, lines, stands_in


def _chosen(
    base: AxleTarget, case: AxleCase, policy: Policy, floor_: Floor, ceiling: float | None, working: list[Line]
) -> AxleTarget:  # fmt: skip
    assert floor_.kpa is not None
    most = math.inf if ceiling is None else ceiling
    school, wanted, lines, stands_in = _wanted(base, case, policy)
    working += lines
    notes = list(base.notes)
    if school != policy.school and case.own_kpa is None and not stands_in:
        notes.append(say(f"{SCHOOLS[policy.school]}: not known for this axle, so it is the {SCHOOLS[school].lower()}."))  # type: ignore[index]
    at = _Aimed(school, wanted, notes, working)
    _not_below_floor(at, base, floor_, ceiling, policy)
    _not_above_limit(at, case, floor_.kpa, most, stands_in)
    trial, below = _not_below_placard(at, case, most, ceiling, stands_in)
    left = _reserve_left(case, at.kpa)
    _cautions(at, case, policy, left)
    words = say("{0}", aimed(at.kpa, ceiling))
    if base.at_least:
        names = plain(" and ".join(base.at_least))
        words = say(f"At least {{0}}, provisional: nothing is known of {names}.", aimed(at.kpa, ceiling))
        at.notes.append(say(f"Provisional: enter the table of {names}, or what stands on its sidewall."))
    elif stands_in:
        words = say("{0}, provisional: no load-inflation table.", aimed(at.kpa, ceiling))
        at.notes.append(say("Provisional: the floor is an estimate by the sidewall. Enter the maker's table."))
    return replace(
        base,
        state="provisional" if stands_in or base.at_least else "target",
        words=words,
        target_kpa=at.kpa,
        reserve_left=left[1] if left else None,
        notes=tuple(at.notes),
        working=tuple(at.working),
        school=at.school,
        trial=trial,
        below_placard=below,
    )


@dataclass
class _Aimed:
    """A target on its way through floor, ceiling and placard [kPa], with what is said of it."""

    school: School
    kpa: float
    notes: list[Phrase]
    working: list[Line]


def _not_below_floor(at: _Aimed, base: AxleTarget, floor: Floor, ceiling: float | None, policy: Policy) -> None:
    assert floor.kpa is not None
    if at.kpa >= floor.kpa - 1e-9:
        return
    said = at.kpa
    at.kpa = min(steps_up(floor.kpa, policy.step), math.inf if ceiling is None else ceiling)
    why = too_low(floor.source, needed(floor.kpa, at.kpa, ceiling))
    text = why.text.replace("{0}", "{1}")
    words = f"{_name(base, at.school)} says {{0}}, {text}; raised to {{2}}."
    at.notes.append(say(words, kpa(said), *why.values, aimed(at.kpa, ceiling)))
    at.working.append(Line(say("not below the floor"), aimed(at.kpa, ceiling)))


def _not_above_limit(at: _Aimed, case: AxleCase, floor_kpa: float, most: float, stands_in: bool) -> None:
    """Never above the ceiling, and by a table not above its last column; never below the floor for that."""
    lasts = [t.table.last_kpa for t in case.tires if t.table is not None]
    limit = min([most, *lasts]) if at.school == "table" and not stands_in else most
    if at.kpa <= limit:
        return
    at.kpa = max(limit, floor_kpa)
    which = "ceiling" if limit == most else "table's last column"
    at.working.append(Line(say(f"not above the {which}"), kpa(at.kpa, "down")))


def _not_below_placard(
    at: _Aimed, case: AxleCase, most: float, ceiling: float | None, stands_in: bool
) -> tuple[bool, bool]:
    """On a light rig the placard is a second floor: whether a trial goes below it, and whether it would be below."""
    second = second_floor(case)
    if second is None or second <= at.kpa:
        return False, False
    if case.trial:
        at.notes.append(
            say("A trial below the placard's {0}: {reason}".replace("{reason}", plain(case.trial)), kpa(second))
        )
    else:
        at.kpa, at.school = min(second, most), "placard"
        words = say("the placard asks for more, and on a light rig it is a second floor")
        at.working.append(Line(words, aimed(at.kpa, ceiling)))
    if second > most:
        at.notes.append(say("The placard's {0} is above the ceiling: check both labels.", kpa(second)))
    return bool(case.trial), not stands_in


def _cautions(at: _Aimed, case: AxleCase, policy: Policy, left: tuple[float, float] | None) -> None:
    """What the reserve, the placard and the vehicle's own lamp give to say of the number."""
    if left is not None:
        carried, share_left = left
        words = say("at the target the table carries {0}: over the load", kg(carried))
        at.working.append(Line(words, share(share_left)))
        if share_left < policy.reserve - 1e-9:
            at.notes.append(say("Reserve not reached: {0} of {1} is left.", share(share_left), share(policy.reserve)))
    if case.placard_is_floor and case.placard_kpa and at.kpa > FAR_ABOVE_PLACARD * case.placard_kpa:
        text = "More than 20 % above the placard of {0}: grip and handling change."
        at.notes.append(say(text, kpa(case.placard_kpa)))
    if case.lamp_kpa is not None and at.kpa < case.lamp_kpa:
        text = "The vehicle's own lamp will light: it comes on below {0}. Record its threshold if it was changed."
        at.notes.append(say(text, kpa(case.lamp_kpa)))


def _name(base: AxleTarget, school: School) -> str:
    return next((f.name for f in base.flags if f.school == school), "What is asked for")


def _reserve_left(case: AxleCase, target: float) -> tuple[float, float] | None:
    """What the weakest tire carries at the target [kg, as weighed], and the share of it over the load."""
    assert case.per_tire_kg is not None
    reserves: list[tuple[float, float]] = []
    for tire in case.tires:
        carried = None if tire.table is None else tire.table.load_at(case.row, target)
        if carried is None:
            return None
        own = carried / tire.load_divisor
        reserves.append((own, own / case.per_tire_kg - 1 if case.per_tire_kg else 0.0))
    return min(reserves, key=lambda pair: pair[1])
