"""From a scale ticket to the load on each tire, and every limit it is held against."""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.units import both
from ballast.core.working import Line, Phrase, kg, meters, say, share

End = Literal["left", "right"]
# Weight-distribution bars when weighed; empty where there are none.
Bars = Literal["", "slack", "engaged"]

# Usual load states; a rig may have its own.
LOAD_STATES = ("empty", "half", "trip-ready")
# An axle weighed as a whole: this share is taken to ride on its heavier end.
ASSUMED_HEAVIER = 0.525
IMBALANCE_NOTE = 0.05
IMBALANCE_WARN = 0.10


@dataclass(frozen=True)
class AxleLimits:
    """What an axle and its tires may carry. Unknown is None, never zero.

    `tire_max_kg` is one tire's own maximum in its mounting (the dual one for duals),
    already divided by 1.10 where that rule applies, of mixed tires the least that is known; `all_rated`: it is of all.
    `wheel_max_kg` is one wheel's rated load.
    """

    number: int
    name: str
    wheels: int
    track_m: float | None
    gawr_kg: float | None
    tire_max_kg: float | None
    wheel_max_kg: float | None = None
    lifts: bool = True
    all_rated: bool = True


@dataclass(frozen=True)
class RigLimits:
    """What a whole rig is held against. `pulled`: part of its gross rides on the vehicle in front."""

    gvwr_kg: float | None = None
    gcwr_kg: float | None = None
    hitch_max_kg: float | None = None
    pulled: bool = False


@dataclass(frozen=True)
class AxleReading:
    """What the scale said of one axle [kg]; None is not weighed. `lifted`: the axle was up, it carried nothing.

    `of`: the axles, by number, that were weighed with it as one number; `whole_kg` is then its assumed share of that.
    """

    whole_kg: float | None = None
    left_kg: float | None = None
    right_kg: float | None = None
    lifted: bool = False
    of: tuple[int, ...] = ()

    @property
    def known_kg(self) -> float | None:
        """The whole axle as far as the reading tells."""
        if self.lifted:
            return 0.0
        if self.left_kg is not None and self.right_kg is not None:
            return self.left_kg + self.right_kg
        return self.whole_kg


@dataclass(frozen=True)
class Check:
    """A load held against a limit. Over is over, by a single kilogram."""

    what: Literal[
        "gawr",
        "group",
        "gvwr",
        "gcwr",
        "hitch",
        "tire",
        "left tires",
        "right tires",
        "wheel",
        "left wheels",
        "right wheels",
    ]
    name: str
    load_kg: float
    limit_kg: float
    # Of a group: its axles by number.
    axles: tuple[int, ...] = ()

    @property
    def margin_kg(self) -> float:
        return self.limit_kg - self.load_kg

    @property
    def share(self) -> float:
        return self.load_kg / self.limit_kg

    @property
    def over(self) -> bool:
        return self.load_kg > self.limit_kg


@dataclass(frozen=True)
class AxleLoad:
    """The answer for one axle. `assumed` marks a heavier end that was not weighed."""

    number: int
    name: str
    total_kg: float | None
    left_kg: float | None
    right_kg: float | None
    heavier: End | None
    heavier_kg: float | None
    assumed: bool
    per_tire_kg: float | None
    imbalance: float | None
    checks: tuple[Check, ...]
    notes: tuple[Phrase, ...]
    working: tuple[Line, ...]
    lifted: bool = False


@dataclass(frozen=True)
class RigLoad:
    """`total_kg` is the gross: of a pulled trailer its axles and its load on the hitch."""

    axles: tuple[AxleLoad, ...]
    total_kg: float | None
    checks: tuple[Check, ...]
    notes: tuple[Phrase, ...]
    hitch_kg: float | None = None

    @property
    def per_tire(self) -> dict[int, float | None]:
        """By axle what the most loaded of its tires carries [kg]; None: not known."""
        return {a.number: a.per_tire_kg for a in self.axles}

    @property
    def over(self) -> tuple[Check, ...]:
        every = [*self.checks, *(c for a in self.axles for c in a.checks)]
        return tuple(c for c in every if c.over)


def weigh_axle(limits: AxleLimits, read: AxleReading, resolution_kg: float = 0.0) -> AxleLoad:
    """Load on each tire of an axle [kg].

    Two of whole, left and right give the third. A whole axle alone puts 52.5 % on its heavier end,
    an assumption that is marked. One end alone leaves the other unknown.
    Raises Refusal (field whole_kg, left_kg or right_kg) where the three contradict each other.
    """
    if read.lifted:
        return _lifted(limits, read)
    _must_be_possible(limits, read, resolution_kg)
    whole, left, right = _completed(read, resolution_kg)
    heavier = _heavier(limits, whole, left, right)
    checks: list[Check] = []
    # Of axles weighed as one number the rating of all is judged: a share that is assumed overloads nobody.
    if limits.gawr_kg is not None and whole is not None and not read.of:
        checks.append(Check("gawr", f"{limits.name} axle rating", whole, limits.gawr_kg))
    for noun, most in (("tire", limits.tire_max_kg), ("wheel", limits.wheel_max_kg)):
        if most is not None:
            checks += _end_checks(limits, noun, most, whole, left, right, heavier.kg if heavier.assumed else None)
    notes = list(heavier.notes)
    if read.of:
        together = f"{len(read.of)} axles"
        notes = [
            say(f"Weighed as one number with others: its share of {together} is assumed. Weigh each, and its ends.")
        ]
    if (limits.tire_max_kg is None or not limits.all_rated) and whole is not None:
        which = "The tires' own" if limits.tire_max_kg is None else "Of one tire on it the"
        notes.append(say(f"{which} maximum load is not known: enter the load index or the sidewall's load."))
    return AxleLoad(
        limits.number, limits.name, whole, left, right, heavier.end, heavier.kg, heavier.assumed, heavier.per_tire_kg,
        heavier.imbalance, tuple(checks), tuple(notes), heavier.working,
    )  # fmt: skip


def _slack(resolution_kg: float) -> float:
    """By how much [kg] three readings of a scale may contradict each other."""
    return resolution_kg * math.sqrt(3) if resolution_kg else 0.0


def _must_be_possible(limits: AxleLimits, read: AxleReading, resolution_kg: float) -> None:
    """Raises Refusal for ends of an axle that has none, for nothing, and for an end that is heavier than its axle."""
    whole, ends = read.whole_kg, (("left_kg", read.left_kg), ("right_kg", read.right_kg))
    if limits.wheels == 1 and (side := next((side for side, end in ends if end is not None), None)):
        raise Refusal("This axle has one wheel, so it has no ends. Enter the whole axle.", side)
    for side, read_kg in (("whole_kg", whole), *ends):
        if read_kg is not None and read_kg <= 0:
            raise Refusal(NOTHING_THERE, side)
    for side, end in ends:
        if whole is not None and end is not None and end > whole + _slack(resolution_kg):
            raise Refusal(
                f"One end, {both('mass', end)}, is heavier than its whole axle, {both('mass', whole)}. Check both.",
                side,
            )


def _completed(read: AxleReading, resolution_kg: float) -> tuple[float | None, float | None, float | None]:
    """Whole, left and right [kg], the third from two of them. Raises Refusal where the three do not agree."""
    whole, left, right = read.whole_kg, read.left_kg, read.right_kg
    if whole is not None and left is not None and right is not None:
        if abs(left + right - whole) > max(_slack(resolution_kg), 1.0):
            raise Refusal(
                f"Left and right make {both('mass', left + right)}, the whole axle says {both('mass', whole)}. "
                "They should agree within the scale's resolution. Check all three.",
                "whole_kg",
            )
        return left + right, left, right
    if whole is not None and left is not None:
        return whole, left, _other_end(whole, left, "left_kg")
    if whole is not None and right is not None:
        return whole, _other_end(whole, right, "right_kg"), right
    if left is not None and right is not None:
        return left + right, left, right
    return whole, left, right


@dataclass(frozen=True)
class _Heavier:
    """The heavier end of an axle, what each of its tires carries [kg], and how far the ends differ; None: not known."""

    end: End | None = None
    kg: float | None = None
    assumed: bool = False
    per_tire_kg: float | None = None
    imbalance: float | None = None
    notes: tuple[Phrase, ...] = ()
    working: tuple[Line, ...] = ()


def _heavier(limits: AxleLimits, whole: float | None, left: float | None, right: float | None) -> _Heavier:
    if limits.wheels == 1:
        if whole is None:
            return _Heavier()
        return _Heavier(None, whole, False, whole, working=(Line(say("One wheel carries the axle"), kg(whole)),))
    if left is not None and right is not None:
        end: End = "left" if left >= right else "right"
        most = max(left, right)
        words = say(f"Heavier end: {end} ({{0}} against {{1}})", kg(most), kg(min(left, right)))
        imbalance = abs(left - right) / (left + right) if left + right > 0 else 0.0
        notes = tuple(_imbalance_notes(left, right, imbalance, limits.track_m))
        return _on_tires(limits, _Heavier(end, most, False, None, imbalance, notes, (Line(words, kg(most)),)))
    if whole is not None:
        most = whole * ASSUMED_HEAVIER
        words = say("Heavier end not weighed: {0} of it is assumed there", share(ASSUMED_HEAVIER))
        note = say("Only the whole axle is weighed: a heavy corner would not show. Weigh the ends.")
        lines = (Line(say("Whole axle weighed"), kg(whole)), Line(words, kg(most)))
        return _on_tires(limits, _Heavier(None, most, True, notes=(note,), working=lines))
    if left is None and right is None:
        return _Heavier()
    missing = "right" if left is not None else "left"
    note = say(f"The {missing} end is not weighed, so the axle is unknown. Weigh it or the whole axle.")
    return _Heavier(notes=(note,))


def _on_tires(limits: AxleLimits, heavier: _Heavier) -> _Heavier:
    """The heavier end shared between its tires."""
    assert heavier.kg is not None
    per_end = 2 if limits.wheels == 4 else 1
    shared = "Two tires share that end" if per_end == 2 else "One tire carries that end"
    each = heavier.kg / per_end
    return replace(heavier, per_tire_kg=each, working=(*heavier.working, Line(say(shared), kg(each))))


# An end with nothing on it was not weighed: unknown is never zero.
NOTHING_THERE = "A wheel that stands weighs more than nothing: enter what the scale said, or leave it empty where it was not weighed."


def _other_end(whole_kg: float, end_kg: float, field: str) -> float:
    """What is left of an axle for its other end. Raises Refusal where that is nothing."""
    if whole_kg - end_kg <= 0:
        raise Refusal(
            f"That leaves {both('mass', max(0.0, whole_kg - end_kg))} for the other end of {both('mass', whole_kg)}. Check both.",
            field,
        )
    return whole_kg - end_kg


def _end_checks(
    limits: AxleLimits,
    noun: str,
    most_kg: float,
    whole: float | None,
    left: float | None,
    right: float | None,
    assumed_kg: float | None,
) -> list[Check]:
    """Every end against its tires' or wheels' maximum; an assumed heavier end where the ends are not known."""
    per_end = 2 if limits.wheels == 4 else 1
    name, all_ = limits.name, f"{noun}s"
    if limits.wheels == 1:
        return [] if whole is None else [Check(noun, f"{name} {noun}", whole, most_kg)]  # type: ignore[arg-type]
    if assumed_kg is not None:
        return [Check(noun, f"{name} {all_}, heavier end", assumed_kg, most_kg * per_end)]  # type: ignore[arg-type]
    return [
        Check(f"{side} {all_}", f"{name} {side} {all_}", end_kg, most_kg * per_end)  # type: ignore[arg-type]
        for side, end_kg in (("left", left), ("right", right))
        if end_kg is not None
    ]


def _lifted(limits: AxleLimits, read: AxleReading) -> AxleLoad:
    """An axle that is up: it carries nothing, and says nothing of what its tires need when it is down."""
    if not limits.lifts:
        raise Refusal("This axle cannot lift. Set it down, or say with the rig that it lifts.", "lifted")
    for field in ("whole_kg", "left_kg", "right_kg"):
        if getattr(read, field):
            raise Refusal("This axle is up, so nothing stands on the scale. Set it down, or leave it empty.", field)
    note = say("Up: it carries nothing. Weigh with it down to know what its tires need then.")
    return AxleLoad(
        limits.number, limits.name, 0.0, None, None, None, None, False, None, None, (), (note,), (), lifted=True
    )


def _imbalance_notes(left: float, right: float, imbalance: float, track_m: float | None) -> list[Phrase]:
    if imbalance < IMBALANCE_NOTE:
        return []
    heavy, light = ("left", "right") if left > right else ("right", "left")
    words = (
        "{0} of the axle's load leans {heavy}."
        if imbalance < IMBALANCE_WARN
        else "The {heavy} end is much heavier: {0} imbalance."
    ).replace("{heavy}", heavy)
    if track_m is None:
        return [say(words, share(imbalance))]
    move = leveling_kg(left, right, track_m, track_m / 2)
    words += f" As an estimate, {{1}} moved {{2}} to the {light} would level it."
    return [say(words, share(imbalance), kg(move), meters(track_m / 2))]


def leveling_kg(left_kg: float, right_kg: float, track_m: float, across_m: float) -> float:
    """Mass [kg] to move `across_m` towards the lighter end to level an axle: |L − R|/2 × track/d. An estimate."""
    return abs(left_kg - right_kg) / 2 * track_m / across_m


def shared(of: Mapping[int, float | None]) -> dict[int, float]:
    """How axles of a group share, by number: as given, what is left equally among the others.

    >>> shared({2: None, 3: None})
    {2: 0.5, 3: 0.5}
    """
    given = {n: s for n, s in of.items() if s is not None}
    rest = len(of) - len(given)
    left = max(0.0, 1 - sum(given.values()))
    weights = {n: given.get(n, left / rest if rest else 0.0) for n in of}
    total = sum(weights.values())
    return {n: w / total if total > 0 else 1 / len(of) for n, w in weights.items()}


def spread(reads: Mapping[int, AxleReading], group_kg: float, of: Mapping[int, float | None]) -> dict[int, AxleReading]:
    """Readings with axles that were weighed as one number [kg], each with its share; `of`: the shares given, by number.

    Raises Refusal for one axle alone, for axles that do not follow each other, for one that was read by itself too, and for
    nothing.
    """
    numbers = tuple(sorted(of))
    if len(numbers) < 2 or numbers[-1] - numbers[0] != len(numbers) - 1:
        raise Refusal("One number is of two axles or more that follow each other. Choose them again.", "axles")
    if group_kg <= 0:
        raise Refusal(NOTHING_THERE, "kg")
    if any(reads.get(n, AxleReading()) != AxleReading() for n in numbers):
        raise Refusal("One of these axles is entered by itself too. Enter either the axles or their one number.", "kg")
    return {
        **reads, **{n: AxleReading(group_kg * part, of=numbers) for n, part in shared(of).items()}
    }  # fmt: skip


def _group_checks(limits: tuple[AxleLimits, ...], reads: Mapping[int, AxleReading]) -> Iterator[Check]:
    """Axles weighed as one number against their ratings together, where each is known."""
    by_number = {a.number: a for a in limits}
    for numbers in dict.fromkeys(r.of for r in reads.values() if r.of):
        ratings = [by_number[n].gawr_kg for n in numbers if n in by_number]
        weighed = sum(reads[n].whole_kg or 0.0 for n in numbers if n in reads)
        if len(ratings) == len(numbers) and None not in ratings:
            name = f"{by_number[numbers[0]].name} to {by_number[numbers[-1]].name.lower()}, axle ratings together"
            yield Check("group", name, weighed, sum(r for r in ratings if r is not None), numbers)


def _gross_beside(gross_kg: float | None, known: list[float], complete: bool, resolution_kg: float) -> float | None:
    """The gross on the scale [kg] where the axles do not tell it; else it is a check of them.

    Raises Refusal (field "gross_kg") where the rows and the gross contradict each other.
    """
    if gross_kg is None:
        return None
    if gross_kg <= 0:
        raise Refusal(NOTHING_THERE, "gross_kg")
    rows = sum(known)
    slack = max(1.0, resolution_kg * math.sqrt(len(known) + 1))
    if (complete and abs(rows - gross_kg) > slack) or rows > gross_kg + slack:
        raise Refusal(
            f"The rows make {both('mass', rows)}, the gross says {both('mass', gross_kg)}. "
            "They should agree within the scale's step. Check them.",
            "gross_kg",
        )
    return None if complete else gross_kg


@dataclass(frozen=True)
class Whole:
    """What the scale said at once [kg]: of all axles of a combination, and of all that stood on it."""

    combined_kg: float | None = None
    gross_kg: float | None = None


def weigh_rig(
    limits: tuple[AxleLimits, ...],
    reads: dict[int, AxleReading],
    rig: RigLimits,
    resolution_kg: float = 0.0,
    hitch_kg: float | None = None,
    bars: Bars = "",
    whole: Whole = Whole(),
) -> RigLoad:
    """Every axle, and the whole against the GVWR. The gross is unknown until every axle is weighed, or the whole: `whole.gross_kg`
    is a check of the axles or, alone, the whole with nothing split.

    A pulled trailer's gross is its axles and its load on the hitch, so it stays unknown without that. `whole.combined_kg`
    are all axles of its combination, held against the tow vehicle's GCWR. A hitch is judged with slack weight-distribution bars. A negative hitch load is kept and warned of.
    Raises Refusal with the field "axles.<index>.<field>" for what contradicts itself.
    """
    axles: list[AxleLoad] = []
    for index, limit in enumerate(limits):
        try:
            axles.append(weigh_axle(limit, reads.get(limit.number, AxleReading()), resolution_kg))
        except Refusal as no:
            raise no.within(f"axles.{index}") from None
    totals = [a.total_kg for a in axles]
    known = [t for t in totals if t is not None]
    complete = len(known) == len(totals)
    as_one = _gross_beside(whole.gross_kg, known, complete, resolution_kg)
    total = sum(known) if complete else as_one
    notes: list[Phrase] = []
    checks: list[Check] = list(_group_checks(limits, reads))
    if as_one is not None:
        notes.append(
            say("Weighed as a whole: what each axle and tire carries is not known. Weigh the axles, best their ends.")
        )
    if total is None and known:
        missing = ", ".join(a.name.lower() for a in axles if a.total_kg is None)
        notes.append(say(f"Not weighed: {missing}. The gross weight stays unknown until it is."))
    if rig.pulled and total is not None:
        if hitch_kg is None:
            notes.append(
                say(
                    "Its gross is {0} on its axles and what rides on the hitch, which is not known. "
                    "Weigh it hitched and alone.",
                    kg(total),
                )
            )
            total = None
        else:
            total += hitch_kg
    if total is not None and rig.gvwr_kg:
        checks.append(Check("gvwr", "Gross weight rating", total, rig.gvwr_kg))
    elif rig.gvwr_kg and sum(known) > rig.gvwr_kg:
        notes.append(say("What is weighed so far is already {0} over the GVWR.", kg(sum(known) - rig.gvwr_kg)))
    if whole.combined_kg is not None and rig.gcwr_kg:
        checks.append(Check("gcwr", "Combination rating", whole.combined_kg, rig.gcwr_kg))
    if hitch_kg is not None:
        name = "Coupling" if rig.pulled else "Hitch"
        hitch_check, hitch_notes = judge_hitch(hitch_kg, rig.hitch_max_kg, bars, name)
        checks += hitch_check
        notes += hitch_notes
        if total is not None and rig.pulled and total > 0 and hitch_kg >= 0:
            notes.append(say("{0} of its gross rides on the hitch.", share(hitch_kg / total)))
    return RigLoad(tuple(axles), total, tuple(checks), tuple(notes), hitch_kg)


@dataclass(frozen=True)
class Weighed:
    """A vehicle with what a scale said of it."""

    name: str
    limits: tuple[AxleLimits, ...]
    rig: RigLimits
    reads: dict[int, AxleReading]
    hitch_kg: float | None = None
    resolution_kg: float = 0.0
    # What the scale said of all of it at once.
    gross_kg: float | None = None


def combined_kg(vehicles: tuple[Weighed, ...], gross_kg: float | None = None) -> float | None:
    """All axles of a combination together; unknown while any of them is, and None of a vehicle by itself.

    `gross_kg`: what the scale said of all of them at once, a check or alone. Raises Refusal where they contradict it.
    """
    if len(vehicles) < 2:
        return None
    wholes = [v.reads.get(a.number, AxleReading()).known_kg for v in vehicles for a in v.limits]
    known = [w for w in wholes if w is not None]
    complete = len(known) == len(wholes)
    whole = _gross_beside(gross_kg, known, complete, vehicles[0].resolution_kg)
    return sum(known) if complete else whole


def weigh_together(
    vehicles: tuple[Weighed, ...], bars: Bars = "", gross_kg: float | None = None
) -> tuple[tuple[RigLoad, ...], float | None]:
    """The vehicles of a combination from the front, the whole held against the first one's GCWR.

    `gross_kg` is of all that stood on the scale. Raises Refusal as `weigh_rig` does, of a vehicle behind the first within
    "behind.<index>".
    """
    together = combined_kg(vehicles, gross_kg)
    if len(vehicles) == 1:
        vehicles = (replace(vehicles[0], gross_kg=vehicles[0].gross_kg if gross_kg is None else gross_kg),)

    def weigh(i: int, v: Weighed) -> RigLoad:
        try:
            return weigh_rig(
                v.limits, v.reads, v.rig, v.resolution_kg, v.hitch_kg, bars, Whole(None if i else together, v.gross_kg)
            )
        except Refusal as no:
            raise (no.within(f"behind.{i - 1}") if i else no) from None

    loads = tuple(weigh(i, v) for i, v in enumerate(vehicles))
    return loads, together


def judge_hitch(hitch_kg: float, most_kg: float | None, bars: Bars, name: str) -> tuple[list[Check], list[Phrase]]:
    """A hitch load against a rating, slack bars only; a trailer that lifts the hitch is warned of."""
    notes: list[Phrase] = []
    if hitch_kg < 0:
        notes.append(say("The trailer lifts the hitch by {0}. That is dangerous: move load forward.", kg(-hitch_kg)))
    if most_kg is None:
        return [], notes
    if bars == "engaged":
        notes.append(say(f"{name} rating: not judged, the bars were engaged. Weigh once with them slack."))
        return [], notes
    return [Check("hitch", f"{name} rating", max(0.0, hitch_kg), most_kg)], notes


def overload_words(check: Check) -> Phrase:
    """How an overload is said, everywhere it stands."""
    return say(
        f"{check.name}: over by {{0}} ({{1}} on {{2}})", kg(-check.margin_kg), kg(check.load_kg), kg(check.limit_kg)
    )


SCALE_STAMP = "Simulated scale: made up, not for the road"

OVERLOAD_CAUTION = (
    "Over a rating is over, whatever the tires carry: it may be unlawful and uninsured. "
    "Take at least that much off, or move it, before driving."
)
