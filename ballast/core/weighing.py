"""From a scale ticket to the load on each tire, and every limit it is held against."""

import math
from dataclasses import dataclass
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.units import both
from ballast.core.working import Line, Phrase, kg, meters, say, share

End = Literal["left", "right"]

# An axle weighed as a whole: this share is taken to ride on its heavier end.
ASSUMED_HEAVIER = 0.525
IMBALANCE_NOTE = 0.05
IMBALANCE_WARN = 0.10


@dataclass(frozen=True)
class AxleLimits:
    """What an axle and its tires may carry. Unknown is None, never zero.

    `tire_max_kg` is one tire's own maximum in its mounting (the dual one for duals),
    already divided by 1.10 where that rule applies.
    """

    number: int
    name: str
    wheels: int
    track_m: float
    gawr_kg: float | None
    tire_max_kg: float | None


@dataclass(frozen=True)
class AxleReading:
    """What the scale said of one axle [kg]; None is not weighed."""

    whole_kg: float | None = None
    left_kg: float | None = None
    right_kg: float | None = None


@dataclass(frozen=True)
class Check:
    """A load held against a limit. Over is over, by a single kilogram."""

    what: Literal["gawr", "gvwr", "tire", "left tires", "right tires"]
    name: str
    load_kg: float
    limit_kg: float

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


@dataclass(frozen=True)
class RigLoad:
    axles: tuple[AxleLoad, ...]
    total_kg: float | None
    checks: tuple[Check, ...]
    notes: tuple[Phrase, ...]

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
    whole, left, right = read.whole_kg, read.left_kg, read.right_kg
    if limits.wheels == 1 and (left is not None or right is not None):
        side = "left_kg" if left is not None else "right_kg"
        raise Refusal("This axle has one wheel, so it has no ends. Enter the whole axle.", side)
    slack = resolution_kg * math.sqrt(3) if resolution_kg else 0.0
    for side, end in (("left_kg", left), ("right_kg", right)):
        if whole is not None and end is not None and end > whole + slack:
            raise Refusal(
                f"One end, {both('mass', end)}, is heavier than its whole axle, {both('mass', whole)}. Check both.",
                side,
            )
    if whole is not None and left is not None and right is not None:
        if abs(left + right - whole) > max(slack, 1.0):
            raise Refusal(
                f"Left and right make {both('mass', left + right)}, the whole axle says {both('mass', whole)}. "
                "They should agree within the scale's resolution. Check all three.",
                "whole_kg",
            )
        whole = left + right
    elif whole is not None and left is not None:
        right = whole - left
    elif whole is not None and right is not None:
        left = whole - right
    elif left is not None and right is not None:
        whole = left + right

    notes: list[Phrase] = []
    working: list[Line] = []
    heavier: End | None = None
    heavier_kg: float | None = None
    assumed = False
    per_tire: float | None = None
    per_end = 2 if limits.wheels == 4 else 1
    imbalance: float | None = None

    if limits.wheels == 1:
        if whole is not None:
            heavier_kg = per_tire = whole
            working.append(Line(say("One wheel carries the axle"), kg(whole)))
    elif left is not None and right is not None:
        heavier = "left" if left >= right else "right"
        heavier_kg = max(left, right)
        imbalance = abs(left - right) / (left + right) if left + right > 0 else 0.0
        working.append(
            Line(
                say(f"Heavier end: {heavier} ({{0}} against {{1}})", kg(heavier_kg), kg(min(left, right))),
                kg(heavier_kg),
            )
        )
        notes += _imbalance_notes(left, right, imbalance, limits.track_m)
    elif whole is not None:
        assumed = True
        heavier_kg = whole * ASSUMED_HEAVIER
        working.append(Line(say("Whole axle weighed"), kg(whole)))
        working.append(
            Line(say("Heavier end not weighed: {0} of it is assumed there", share(ASSUMED_HEAVIER)), kg(heavier_kg))
        )
        notes.append(say("Only the whole axle is weighed: a heavy corner would not show. Weigh the ends."))
    elif left is not None or right is not None:
        missing = "right" if left is not None else "left"
        notes.append(say(f"The {missing} end is not weighed, so the axle is unknown. Weigh it or the whole axle."))

    if limits.wheels > 1 and heavier_kg is not None:
        per_tire = heavier_kg / per_end
        shared = "Two tires share that end" if per_end == 2 else "One tire carries that end"
        working.append(Line(say(shared), kg(per_tire)))

    checks: list[Check] = []
    if limits.gawr_kg is not None and whole is not None:
        checks.append(Check("gawr", f"{limits.name} axle rating", whole, limits.gawr_kg))
    if limits.tire_max_kg is not None:
        if limits.wheels == 1 and per_tire is not None:
            checks.append(Check("tire", f"{limits.name} tire", per_tire, limits.tire_max_kg))
        elif assumed and per_tire is not None:
            checks.append(
                Check("tire", f"{limits.name} tires, heavier end", per_tire * per_end, limits.tire_max_kg * per_end)
            )
        else:
            for side, end_kg in (("left", left), ("right", right)):
                if end_kg is not None:
                    checks.append(
                        Check(f"{side} tires", f"{limits.name} {side} tires", end_kg, limits.tire_max_kg * per_end)  # type: ignore[arg-type]
                    )
    elif whole is not None:
        notes.append(say("The tires' own maximum load is not known: enter the load index or the sidewall's load."))
    return AxleLoad(
        limits.number, limits.name, whole, left, right, heavier, heavier_kg, assumed, per_tire, imbalance,
        tuple(checks), tuple(notes), tuple(working),
    )  # fmt: skip


def _imbalance_notes(left: float, right: float, imbalance: float, track_m: float) -> list[Phrase]:
    if imbalance < IMBALANCE_NOTE:
        return []
    heavy, light = ("left", "right") if left > right else ("right", "left")
    move = leveling_kg(left, right, track_m, track_m / 2)
    words = (
        "{0} of the axle's load leans {heavy}. As an estimate, {1} moved {2} to the {light} would level it."
        if imbalance < IMBALANCE_WARN
        else "The {heavy} end is much heavier: {0} imbalance. As an estimate, {1} moved {2} to the {light} would level it."
    )
    text = words.replace("{heavy}", heavy).replace("{light}", light)
    return [say(text, share(imbalance), kg(move), meters(track_m / 2))]


def leveling_kg(left_kg: float, right_kg: float, track_m: float, across_m: float) -> float:
    """Mass [kg] to move `across_m` towards the lighter end to level an axle: |L − R|/2 × track/d. An estimate."""
    return abs(left_kg - right_kg) / 2 * track_m / across_m


def weigh_rig(
    limits: tuple[AxleLimits, ...],
    reads: dict[int, AxleReading],
    gvwr_kg: float | None,
    resolution_kg: float = 0.0,
) -> RigLoad:
    """Every axle, and the whole against the GVWR. The gross is unknown until every axle is weighed.

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
    total = sum(known) if len(known) == len(totals) else None
    checks = (Check("gvwr", "Gross weight rating", total, gvwr_kg),) if total is not None and gvwr_kg else ()
    notes: list[Phrase] = []
    if total is None and known:
        missing = ", ".join(a.name.lower() for a in axles if a.total_kg is None)
        notes.append(say(f"Not weighed: {missing}. The gross weight stays unknown until it is."))
        if gvwr_kg and sum(known) > gvwr_kg:
            notes.append(say("What is weighed so far is already {0} over the GVWR.", kg(sum(known) - gvwr_kg)))
    return RigLoad(tuple(axles), total, checks, tuple(notes))


def overload_words(check: Check) -> Phrase:
    """How an overload is said, everywhere it stands."""
    return say(
        f"{check.name}: over by {{0}} ({{1}} on {{2}})", kg(-check.margin_kg), kg(check.load_kg), kg(check.limit_kg)
    )


OVERLOAD_CAUTION = (
    "Over a rating is over, whatever the tires carry: it may be unlawful and uninsured. "
    "Take load off or move it before driving."
)


def from_passes(passes_kg: tuple[float, ...]) -> tuple[float, ...]:
    """Axle weights [kg] from cumulative passes, front axle first: the differences.

    Raises Refusal naming a pass that falls.

    >>> from_passes((3400, 8230, 11560))
    (3400, 4830, 3330)
    """
    for i in range(1, len(passes_kg)):
        if passes_kg[i] < passes_kg[i - 1]:
            raise Refusal(
                f"Pass {i + 1}, {both('mass', passes_kg[i])}, is less than the one before it. "
                "With one more axle on the scale it cannot fall: weigh it again.",
                f"passes.{i}",
            )
    return tuple(b - a for a, b in zip((0.0, *passes_kg), passes_kg, strict=False))


@dataclass(frozen=True)
class HitchLoad:
    """The trailer's load on the hitch [kg], by both ways of passing the scale."""

    from_tow_kg: float
    from_trailer_kg: float | None
    agree: bool | None
    notes: tuple[Phrase, ...]


def hitch_load(
    tow_alone_kg: tuple[float, ...],
    tow_hitched_kg: tuple[float, ...],
    trailer_axles_kg: tuple[float, ...],
    trailer_alone_kg: float | None,
    resolution_kg: float,
) -> HitchLoad:
    """Hitch load = tow axles hitched − tow axles alone; = trailer alone − its axles hitched.

    The two must agree within resolution × √n of the readings used. A negative one is kept and warned of.
    """
    from_tow = sum(tow_hitched_kg) - sum(tow_alone_kg)
    from_trailer = None if trailer_alone_kg is None else trailer_alone_kg - sum(trailer_axles_kg)
    readings = len(tow_alone_kg) + len(tow_hitched_kg) + len(trailer_axles_kg) + 1
    notes: list[Phrase] = []
    agree = None
    if from_trailer is not None:
        agree = abs(from_tow - from_trailer) <= resolution_kg * math.sqrt(readings)
        if not agree:
            notes.append(say("The two ways differ by {0}: weigh again.", kg(abs(from_tow - from_trailer))))
    if from_tow < 0:
        notes.append(say("The trailer lifts the hitch by {0}. That is dangerous: move load forward.", kg(-from_tow)))
    return HitchLoad(from_tow, from_trailer, agree, tuple(notes))


def place_mass(mass_kg: float, behind_front_m: float, wheelbase_m: float) -> tuple[float, float]:
    """Change on front and rear axles [kg] of a mass put `behind_front_m` [m]: moments about the front axle.

    Behind the rear axle the front gets lighter.
    """
    rear = mass_kg * behind_front_m / wheelbase_m
    return mass_kg - rear, rear


def hitch_step(hitch_kg: float, behind_rear_m: float, wheelbase_m: float) -> tuple[float, float]:
    """Change on front and rear axles [kg] of a hitch load `behind_rear_m` [m] behind the rear axle."""
    return place_mass(hitch_kg, wheelbase_m + behind_rear_m, wheelbase_m)


def cargo_left(margins_kg: tuple[float, ...], shares: tuple[float, ...]) -> float:
    """Mass [kg] that may still be put at a place: the least margin ÷ the share of a kilogram put there.

    Limits with no share, or a negative one, do not bind. Never below zero. Raises Refusal if none binds.
    """
    binding = [m / s for m, s in zip(margins_kg, shares, strict=True) if s > 0]
    if not binding:
        raise Refusal("No limit carries anything of that place. Enter at least one rating.", "shares")
    return max(0.0, min(binding))
