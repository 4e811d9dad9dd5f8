"""The vehicle's own lamp: it compares raw numbers with a threshold of its own, knows no target, and no dawn."""

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ballast.core.gas import Air, carry
from ballast.core.sensors.guide import Answers
from ballast.core.sensors.numbers import WARM_OVER_C
from ballast.core.targets import LampSeen
from ballast.core.working import Phrase, celsius, day, join, kpa, plain, say


@dataclass(frozen=True)
class Lit:
    """A dawn at which the lamp lights over a sound tire: its day where that is known, and what the tire reads then [kPa]."""

    on: dt.date | None
    reads_kpa: float
    words: Phrase


@dataclass(frozen=True)
class Recorded:
    """A threshold as it was written down: since when, and of which tire size.

    `targets`: what the axle was held to then, and what it is by now, where that is another [kPa]; None: it is not, or not known.
    """

    kpa: float
    at: dt.datetime
    size: str
    targets: tuple[float, float] | None = None


def recorded(
    history: Sequence[tuple[dt.datetime, float | None, str]], targets: Sequence[tuple[dt.datetime, float | None]] = ()
) -> Recorded | None:
    """When the threshold of now was written down, by all that the axle was said to be, oldest first; None: it is not.

    `targets`: what was put in force for the axle, oldest first.

    >>> may, june = dt.datetime(2026, 5, 1), dt.datetime(2026, 6, 1)
    >>> recorded([(may, None, "A"), (may, 200.0, "A"), (june, 200.0, "B")], [(may, 260.0), (june, 280.0)])
    Recorded(kpa=200.0, at=datetime.datetime(2026, 5, 1, 0, 0), size='A', targets=(260.0, 280.0))
    """
    found: Recorded | None = None
    for at, kpa_then, size in history:
        if kpa_then is None:
            found = None
        elif found is None or found.kpa != kpa_then:
            found = Recorded(kpa_then, at, size)
    if found is None:
        return None
    then = next((kpa_ for at, kpa_ in reversed(targets) if at <= found.at), None)
    now = targets[-1][1] if targets else None
    if then is None or now is None or then == now:
        return found
    return replace(found, targets=(then, now))


def threshold_words(
    lamp_kpa: float, of: Recorded | None, seen: LampSeen | None, size: str, target_kpa: float | None
) -> tuple[Phrase, ...]:
    """Where the vehicle's own lamp lights and how that is known; asked back where size or target are others by now."""
    if of is not None:
        said = [say(f"The vehicle's own lamp lights below {{0}}, written down {day(of.at.date())}.", kpa(lamp_kpa))]
        if of.size != size:
            said.append(say(f"That was with {plain(of.size)}: ask whether it still holds, and write it down anew."))
        if of.targets is not None:
            then, now = (kpa(of_axle) for of_axle in of.targets)
            said.append(
                say(
                    "The target was {0} then and is {1} now: ask whether it was set anew with it, and write it down.",
                    then,
                    now,
                )
            )
    else:
        said = [_as_seen(lamp_kpa, seen, size)]
    if target_kpa is not None and target_kpa < lamp_kpa:
        said.append(say("The number that it is held to lies below: the lamp lights over sound tires."))
    return tuple(said)


def _as_seen(lamp_kpa: float, seen: LampSeen | None, size: str) -> Phrase:
    """Where it lights as nobody wrote it down: by what was seen of it, where that goes further than the law."""
    said = say("The vehicle's own lamp lights at the latest below {0}, by law; many light earlier.", kpa(lamp_kpa))
    if seen is not None and seen.size == size and seen.lit_kpa is not None:
        lit, out = kpa(seen.lit_kpa), kpa(seen.out_kpa) if seen.out_kpa is not None else None
        if seen.contradicts and out is not None:
            said = join(said, say("It was seen lit at {0} and out at {1}: one of the two is not true.", lit, out))
        elif seen.lit_kpa == lamp_kpa:
            said = say(
                f"The vehicle's own lamp lights at {{0}} or a little higher: it was seen lit there; last seen {day(seen.on)}.",
                lit,
            )
            said = join(said, say("It was out at {0}.", out)) if out is not None else said
    return join(said, say("Write it down with the rig where it is known."))


def lamp_seen(
    of: Answers, read_kpa: Mapping[str, float], filled_kpa: Mapping[str, float], wheels: Sequence[str], here: Air, heavy: bool
) -> tuple[float | None, float | None]:  # fmt: skip
    """At what the lamp was seen lit by one of an axle's `wheels`, and out with all of them [kPa]: by true numbers, as read and as filled.

    It went out on the road, where they read more than they did `here`: as much as a tire that rolled is taken to. (None, None): nothing is learned; so of a lamp that flashes, or stays
    on over tires at their numbers.
    """
    if of.light != "solid" or of.after != "out":
        return None, None
    low = {r.code for r in of.reads if r.word == "add"}
    stood = [filled_kpa.get(w) if w in low else read_kpa.get(w) for w in wheels]
    warm = Air(here.temperature_c + WARM_OVER_C["heavy" if heavy else "light"], here.elevation_m, here.station_kpa)
    known = [carry(p, here, warm) for p in stood if p is not None]
    by = _lit_by(of, low)
    lit = read_kpa.get(by) if by is not None and by in wheels else None
    return lit, min(known) if len(known) == len(wheels) else None


def _lit_by(of: Answers, low: set[str]) -> str | None:
    """The tire that lit it, where only one can have: the one that a display named, else the only one that was low."""
    if of.which in {r.code for r in of.reads}:
        return of.which if not low or of.which in low else None
    return next(iter(low)) if len(low) == 1 and not of.left_out else None


def lamp_ahead(
    lamp_kpa: float, target_kpa: float, set_in: Air, dawns: Sequence[tuple[dt.date | None, Air]]
) -> Lit | None:  # fmt: skip
    """The first dawn at which a tire at its target reads below where the lamp lights; None: it stays out.

    >>> found = lamp_ahead(210, 230, Air(20, 0), [(dt.date(2026, 12, 1), Air(8, 0)), (dt.date(2026, 12, 2), Air(-8, 0))])
    >>> (found.on, round(found.reads_kpa, 1)) if found else None
    (datetime.date(2026, 12, 2), 198.4)
    """
    for on, dawn in dawns:
        reads = carry(target_kpa, set_in, dawn)
        if reads < lamp_kpa:
            dawn_of = f"The dawn of {day(on)}" if on else "The next dawn"
            words = say(
                f"{dawn_of}, {{0}}, takes it to {{1}}: the lamp lights below {{2}}, and nothing is wrong with the tire.",
                celsius(dawn.temperature_c), kpa(reads), kpa(lamp_kpa),
            )  # fmt: skip
            return Lit(on, reads, words)
    return None


def battery_words(fitted_on: dt.date | None, years: int | None, today: dt.date) -> Phrase | None:
    """What is said of the batteries of sensors by their day and the years their maker gives; None: nothing to say.

    >>> battery_words(dt.date(2019, 3, 1), 7, dt.date(2026, 11, 28)).text
    'The batteries of its sensors were to be replaced by Mar 1, 2026.'
    """
    if fitted_on is None or years is None:
        return None
    ends = dt.date(fitted_on.year + years, fitted_on.month, min(fitted_on.day, 28))
    return say(f"The batteries of its sensors were to be replaced by {day(ends)}.") if ends <= today else None


def moved_words(on: dt.date) -> Phrase:
    """What is said while a receiver has not learned anew after tires changed places.

    >>> moved_words(dt.date(2026, 11, 7)).text
    'Tires changed places Nov 7, 2026, and the receiver was not told: its numbers may be of other wheels. Have it learn, and say so under Wear.'
    """
    return say(
        f"Tires changed places {day(on)}, and the receiver was not told: its numbers may be of other wheels. Have it learn, and say so under Wear."
    )
