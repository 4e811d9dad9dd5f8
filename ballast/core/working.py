"""The lines behind a number: words with measures left open, so that every reader sees
them in their own units and a switch of units loses nothing."""

import datetime as dt
import re
from dataclasses import dataclass

from ballast.core import units


@dataclass(frozen=True)
class Measure:
    """A canonical value with its kind, and which way it may be rounded when shown."""

    kind: units.Kind
    value: float
    toward: units.Toward = "nearest"

    def show(self, system: units.System) -> str:
        return units.show(self.kind, self.value, system, self.toward)


@dataclass(frozen=True)
class Phrase:
    """Words in which `{0}`, `{1}` … stand for measures."""

    text: str
    values: tuple[Measure, ...] = ()

    def show(self, system: units.System) -> str:
        return self.text.format(*(v.show(system) for v in self.values))

    def in_both(self) -> str:
        """For a refusal: its measures in both systems."""
        return self.text.format(*(units.both(v.kind, v.value) for v in self.values))


@dataclass(frozen=True)
class Line:
    """One line of a working: what was done, and what came out."""

    what: Phrase
    result: Measure | Phrase | None = None


def plain(text: str) -> str:
    """What a person wrote, inside a phrase: its braces are no places for measures."""
    return text.replace("{", "(").replace("}", ")")


def day(date: dt.date) -> str:
    """A date as it is said everywhere.

    >>> day(dt.date(2026, 11, 7))
    'Nov 7, 2026'
    """
    return f"{date:%b} {date.day}, {date.year}"


def say(text: str, *values: Measure) -> Phrase:
    return Phrase(text, values)


def kpa(value: float, toward: units.Toward = "nearest") -> Measure:
    return Measure("pressure", value, toward)


def kg(value: float, toward: units.Toward = "nearest") -> Measure:
    return Measure("mass", value, toward)


def celsius(value: float) -> Measure:
    return Measure("temperature", value)


def meters(value: float) -> Measure:
    return Measure("length", value)


def share(value: float) -> Measure:
    return Measure("share", value)


def number(value: float) -> Measure:
    return Measure("number", value)


# No unit shows a pressure more coarsely than this [kPa].
_COARSEST_KPA = 1.0


def toward(kpa_: float, bound_kpa: float | None) -> units.Toward:
    """Which way a floor or target is rounded when shown: up, but never past the shown bound above it (target, ceiling)."""
    return "down" if bound_kpa is not None and kpa_ > bound_kpa - _COARSEST_KPA else "up"


def aimed(target_kpa: float, ceiling_kpa: float | None) -> Measure:
    """A target as it is shown beside its ceiling."""
    return kpa(target_kpa, toward(target_kpa, ceiling_kpa))


def needed(floor_kpa: float, target_kpa: float | None, ceiling_kpa: float | None) -> Measure:
    """A floor as it is shown beside its target and its ceiling."""
    near = ceiling_kpa if target_kpa is None else target_kpa
    return kpa(floor_kpa, toward(floor_kpa, near))


def join(*phrases: Phrase, by: str = " ") -> Phrase:
    """Phrases as one, their measures counted through."""
    text: list[str] = []
    values: tuple[Measure, ...] = ()
    for phrase in phrases:
        shift = len(values)
        text.append(re.sub(r"\{(\d+)\}", lambda m, s=shift: f"{{{int(m[1]) + s}}}", phrase.text))  # type: ignore[misc]
        values += phrase.values
    return Phrase(by.join(text), values)
