"""The decision sheet: everything that a reading can mean at a wheel, as data, for a page without a network.

Corrected and cold-equivalent pressures are straight between the sheet's knots, and the answer is constant inside a stretch,
so the page looks up and never decides.
"""

from dataclasses import dataclass

from ballast.core.air import Standing
from ballast.core.gas import Air
from ballast.core.gauges import Gauge, correct, curve
from ballast.core.rounds.answer import Answer, WheelGoal, Word, answer
from ballast.core.working import Phrase

# Stretches are looked for this finely [of the gauge's range] and their ends found this closely [kPa].
_GRID = 240
_CLOSE_KPA = 0.02


@dataclass(frozen=True)
class Stretch:
    """From a reading on [kPa as the gauge shows it]: the word. `words` with `{0}` take the change, target here less cold."""

    from_kpa: float
    word: Word
    words: Phrase
    changes: bool
    notes: tuple[Phrase, ...]


@dataclass(frozen=True)
class Knot:
    """At a reading [kPa]: the cold equivalent of the corrected pressure, and its half-width at 95 %."""

    reading_kpa: float
    cold_kpa: float
    uncertainty_kpa: float


@dataclass(frozen=True)
class Sheet:
    """What readings of one gauge from `low_kpa` to `high_kpa` mean at a wheel whose target here is `here_kpa`."""

    low_kpa: float
    high_kpa: float
    here_kpa: float | None
    stretches: tuple[Stretch, ...]
    knots: tuple[Knot, ...]


def decision_sheet(goal: WheelGoal, gauge: Gauge, stood: Standing, here: Air) -> Sheet:
    """All answers of a wheel for one gauge. What differs only in its measure of change is one stretch."""

    def at(reading: float) -> Answer:
        return answer(goal, correct(gauge, reading), stood, here)

    def same(one: Answer, other: Answer) -> bool:
        return (one.word, one.words.text, one.notes) == (other.word, other.words.text, other.notes)

    low, high = gauge.low_kpa, gauge.high_kpa
    step = (high - low) / _GRID
    stretches: list[Stretch] = []

    def begin(reading: float, found: Answer) -> None:
        changes = "{0}" in found.words.text
        words = Phrase(found.words.text) if changes else found.words
        stretches.append(Stretch(reading, found.word, words, changes, found.notes))

    before, before_at = at(low), low
    begin(low, before)
    for i in range(1, _GRID + 1):
        reading = low + i * step if i < _GRID else high
        now = at(reading)
        while not same(before, now):
            a, b = before_at, reading
            while b - a > _CLOSE_KPA:
                middle = (a + b) / 2
                if same(before, at(middle)):
                    a = middle
                else:
                    b = middle
            before, before_at = at(b), b
            begin(b, before)
        before_at = reading
    bends = {low, high} | {r for r, _ in (curve(gauge.pairs) if gauge.pairs else ()) if low < r < high}
    if at(low).cold_kpa == 0.0:
        # Nothing shows below zero: where a warm tire's cold equivalent begins to be something is a bend too.
        a, b = low, min(high, low + 50.0)
        while b - a > _CLOSE_KPA:
            middle = (a + b) / 2
            a, b = (a, middle) if (at(middle).cold_kpa or 0.0) > 0 else (middle, b)
        bends.add(a)
    knots = []
    for reading in sorted(bends):
        found = at(reading)
        assert found.cold_kpa is not None
        assert found.uncertainty_kpa is not None
        knots.append(Knot(reading, found.cold_kpa, found.uncertainty_kpa))
    return Sheet(low, high, goal.target_kpa, tuple(stretches), tuple(knots))
