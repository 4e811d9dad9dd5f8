"""The tires that are on a rig now: what does not fit together, how old they are, nuts and odometer after a wheel was off."""

import datetime as dt
from dataclasses import dataclass

from ballast.core.refusal import Refusal
from ballast.core.rigs.sizes import Size, age_changes, age_words, read_date_code
from ballast.core.rigs.vehicles import Rig, Wheel
from ballast.core.units import MI_KM
from ballast.core.working import Measure, Phrase, day, say

# Dual mates: measured diameters further apart than this [mm] make the larger one carry the pair.
DUAL_DIAMETER_MM = 6.0
# A wheel that was off is torqued again after this distance [km].
RETORQUE_KM = 80.0


@dataclass(frozen=True)
class Fitted:
    """A tire at a wheel. Unknown is None or empty."""

    code: str
    size: Size
    make: str = ""
    load_range: str = ""
    date_code: str = ""
    diameter_mm: float | None = None


@dataclass(frozen=True)
class Finding:
    """Something to look at, at a wheel or an axle. `urgent` asks for something to be done."""

    wheel: str
    words: str
    urgent: bool = True
    # What is said of several tires of which the same is found; empty where each is told by itself.
    of_many: str = ""


def _mixed(values: list[str]) -> list[str]:
    return sorted({v for v in values if v})


def findings(
    rig: Rig, wheels: tuple[Wheel, ...], on_rig: tuple[Fitted, ...], today: dt.date, replace_years: float
) -> tuple[Finding, ...]:
    """Mixed tires on an axle, dual mates that differ, spares unlike the rest, and age.

    Takes the wheels of `walking_order`; tires at codes that are no wheel are passed over.
    """
    at = {f.code: f for f in on_rig}
    noticed: list[Finding] = []
    for axle in rig.axles:
        here = [(w, at[w.code]) for w in wheels if w.axle == axle.number and w.code in at]
        name = rig.axle_name(axle.number)
        for what, values in (
            ("sizes", _mixed([f.size.name for _, f in here])),
            ("constructions", _mixed([f.size.construction or "" for _, f in here])),
            ("load ranges", _mixed([f.load_range for _, f in here])),
            ("makes", _mixed([f.make.lower() for _, f in here])),
        ):
            if len(values) > 1 and here:
                spoken = _mixed([f.make for _, f in here]) if what == "makes" else values
                noticed.append(
                    Finding(here[0][0].code, f"{name}: mixed {what} on one axle ({', '.join(spoken)})", what != "makes")
                )
        if here and axle.tire:
            noticed += [Finding(here[0][0].code, words.text) for words in rig.unlike_on(axle)]
        for side in ("L", "R"):
            pair = [(w, f) for w, f in here if w.side == side]
            if axle.row == "dual" and len(pair) == 2:
                noticed += _mates(pair[0], pair[1])
    noticed += _spares(rig, wheels, at)
    for wheel in wheels:
        tire = at.get(wheel.code)
        if tire is not None and tire.date_code:
            made = read_date_code(tire.date_code, today)
            words, old = age_words(made, today, replace_years)
            if old:
                many, _ = age_words(made, today, replace_years, many=True)
                noticed.append(Finding(wheel.code, f"{wheel.name}: {words}", "replace" in words, many))
    return tuple(noticed)


def ages_change(on_rig: tuple[Fitted, ...], today: dt.date, replace_years: float) -> dt.date | None:
    """The first day after today from which on `findings` says something else of the tires' age; None: never."""
    made = [read_date_code(f.date_code, today) for f in on_rig if f.date_code]
    days = [age_changes(code, today, replace_years) for code in made]
    return min((day for day in days if day is not None), default=None)


def _mates(one: tuple[Wheel, Fitted], other: tuple[Wheel, Fitted]) -> list[Finding]:
    (wheel, a), (mate, b) = one, other
    where = f"{wheel.name.split(',')[0]}, duals"
    if a.size.name != b.size.name:
        return [Finding(wheel.code, f"{where}: {a.size.name} beside {b.size.name}. Duals must be alike")]
    if a.diameter_mm is not None and b.diameter_mm is not None:
        apart = abs(a.diameter_mm - b.diameter_mm)
        if apart > DUAL_DIAMETER_MM:
            large = wheel if a.diameter_mm > b.diameter_mm else mate
            return [
                Finding(
                    large.code,
                    f"{where}: measured diameters differ by {apart:.0f} mm, the most is {DUAL_DIAMETER_MM:.0f}. "
                    "The larger carries the pair: match them",
                )
            ]
    return []


def _spares(rig: Rig, wheels: tuple[Wheel, ...], at: dict[str, Fitted]) -> list[Finding]:
    rest = {a.tire.size.name for a in rig.axles if a.tire}
    return [
        Finding(
            w.code,
            f"{w.name}: {at[w.code].size.name} is unlike the rest. It serves to reach a tire service, no more",
            False,
        )
        for w in wheels
        if w.axle is None and w.code in at and at[w.code].size.name not in rest
    ]


def check_odometer(km: float, on: dt.date, last_km: float | None, last_on: dt.date | None) -> None:
    """Raises Refusal for an odometer [km] that runs backwards against the last one known, `last_on` (None: a day unknown)."""
    if last_km is None:
        return
    later = last_on is None or on >= last_on
    if (km >= last_km) if later else (km <= last_km):
        return
    since = f" on {day(last_on)}" if last_on else ""
    way = "less than that" if later else "more than that, though the day is earlier"
    raise Refusal(
        f"The odometer stood at {last_km:,.0f} km ({last_km / MI_KM:,.0f} mi){since}; this is {way}. Check it, or leave it"
        " empty. Where the earlier one was wrong or the odometer was exchanged, correct it under Rig, Tires.",
        "odometer",
    )


def retorque_words(fitted_at_km: float | None, torqued_at_km: float | None, now_km: float | None) -> Phrase | None:
    """The reminder after a wheel was off, where one is due."""
    if fitted_at_km is not None and now_km is not None and now_km < fitted_at_km:
        # Another odometer was put in: how far it ran is not known, until it is torqued by that one.
        if torqued_at_km is not None and torqued_at_km <= now_km:
            return None
        return say(
            "A wheel was off at {0}, and the odometer shows less since: torque the nuts again.",
            Measure("distance", fitted_at_km),
        )
    left = retorque_left_km(fitted_at_km, torqued_at_km, now_km)
    if left is None or fitted_at_km is None:
        return None
    what = "overdue by {1}" if left <= 0 else "within {1}"
    comma = "," if left <= 0 else ""
    return say(
        f"A wheel was off at {{0}}: torque the nuts again{comma} {what}.",
        Measure("distance", fitted_at_km),
        Measure("distance", abs(left)),
    )


def retorque_left_km(fitted_at_km: float | None, torqued_at_km: float | None, now_km: float | None) -> float | None:
    """Distance [km] until a wheel that was off is due for torque again; below zero it is overdue.

    `torqued_at_km` is of a torque on that day or later. None where nothing is due (torqued since) or where it cannot be told:
    the odometer is not known, or shows less than then.
    """
    if fitted_at_km is None or now_km is None:
        return None
    if now_km < fitted_at_km or (torqued_at_km is not None and torqued_at_km > fitted_at_km):
        return None
    return fitted_at_km + RETORQUE_KM - now_km
