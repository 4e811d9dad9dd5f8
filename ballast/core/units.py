"""The edge: what people type becomes canonical units, and canonical values become words.

Factors: NIST SP 811, appendix B (exact definitions of pound, inch and foot; psi from them).
"""

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from ballast.core.refusal import Refusal

Kind = Literal["pressure", "mass", "temperature", "length", "volume", "distance", "speed", "share", "number"]
Toward = Literal["nearest", "up", "down"]
# How a person has it shown: one of `SHOWN`, or what each of `CHOICES` is shown in, by itself: "bar kg °C ft".
System = str

PSI_KPA = 6.894757293168361
LB_KG = 0.45359237
FT_M = 0.3048
MI_KM = 1.609344
# Lengths from here on are elevations, not parts of a rig: shown to the whole unit [m].
ELEVATION_M = 50.0
GAL_L = 3.785411784


@dataclass(frozen=True)
class Unit:
    """`canonical = (typed + offset) * factor`; `decimals` is how finely it is shown."""

    symbol: str
    kind: Kind
    factor: float
    decimals: int
    offset: float = 0.0
    also: tuple[str, ...] = ()


UNITS: tuple[Unit, ...] = (
    Unit("kPa", "pressure", 1.0, 0),
    Unit("psi", "pressure", PSI_KPA, 1, also=("lbf/in2", "#")),
    Unit("bar", "pressure", 100.0, 2),
    Unit("kg", "mass", 1.0, 0),
    Unit("lb", "mass", LB_KG, 0, also=("lbs", "pounds")),
    Unit("t", "mass", 1000.0, 2),
    Unit("°C", "temperature", 1.0, 0, also=("c", "degc")),
    Unit("°F", "temperature", 5 / 9, 0, offset=-32.0, also=("f", "degf")),
    Unit("m", "length", 1.0, 2),
    Unit("ft", "length", FT_M, 1, also=("'", "feet")),
    Unit("in", "length", FT_M / 12, 1, also=('"', "inch", "inches")),
    Unit("mm", "length", 0.001, 0),
    # Tread is read in 32nds of an inch where inches are used.
    Unit("/32 in", "length", FT_M / 12 / 32, 0, also=("/32", "/32in", "32nds")),
    Unit("L", "volume", 1.0, 0, also=("l", "liter", "liters")),
    Unit("gal", "volume", GAL_L, 1, also=("gallon", "gallons")),
    Unit("km", "distance", 1.0, 0),
    Unit("mi", "distance", MI_KM, 0, also=("mile", "miles")),
    Unit("km/h", "speed", 1.0, 0, also=("kmh", "kph")),
    Unit("mph", "speed", MI_KM, 0),
)
BY_SYMBOL = {u.symbol: u for u in UNITS}
_BY_NAME = {name.lower(): u for u in UNITS for name in (u.symbol, *u.also)}

# What each system shows a kind in.
SHOWN: dict[str, dict[str, str]] = {
    "us": {
        "pressure": "psi",
        "mass": "lb",
        "temperature": "°F",
        "length": "ft",
        "volume": "gal",
        "distance": "mi",
        "speed": "mph",
    },
    "metric": {
        "pressure": "kPa",
        "mass": "kg",
        "temperature": "°C",
        "length": "m",
        "volume": "L",
        "distance": "km",
        "speed": "km/h",
    },
}
CANONICAL = SHOWN["metric"]
# What may be chosen by itself; volumes, distances and speeds go with feet or meters.
CHOICES: dict[str, tuple[str, ...]] = {
    "pressure": ("psi", "kPa", "bar"), "mass": ("lb", "kg"), "temperature": ("°F", "°C"), "length": ("ft", "m"),
}  # fmt: skip
_WITH_LENGTH = ("volume", "distance", "speed")


@lru_cache(maxsize=64)
def shown_in(system: System) -> dict[str, str]:
    """What each kind of quantity is shown in. Raises KeyError for what `chosen` never gave.

    >>> shown_in("bar kg °C ft")["pressure"], shown_in("bar kg °C ft")["distance"]
    ('bar', 'mi')
    """
    if system in SHOWN:
        return SHOWN[system]
    each = dict(zip(CHOICES, system.split(" "), strict=True))
    followed = SHOWN["us" if each["length"] == "ft" else "metric"]
    if any(unit not in CHOICES[kind] for kind, unit in each.items()):
        raise KeyError(system)
    return {**followed, **each}


def chosen(each: Mapping[str, str]) -> System:
    """The system in which each quantity is shown as chosen. Raises Refusal, the quantity named, for what is not offered.

    >>> chosen({"pressure": "psi", "mass": "lb", "temperature": "°F", "length": "ft"})
    'us'
    """
    for kind, offered in CHOICES.items():
        if each.get(kind) not in offered:
            raise Refusal(f"Choose one of {', '.join(offered)} for {_NOUN[kind]}.", kind)
    for name, shown in SHOWN.items():
        if all(shown[kind] == each[kind] for kind in CHOICES):
            return name
    return " ".join(each[kind] for kind in CHOICES)


_NOUN = {
    "pressure": "pressure",
    "mass": "weight",
    "temperature": "temperature",
    "length": "length",
    "volume": "volume",
    "distance": "distance",
    "speed": "speed",
}
_EXAMPLE = {
    "pressure": "93.5 psi, 6.2 bar or 640 kPa",
    "mass": "3,150 kg or 6,940 lb",
    "temperature": "-4 °C or 25 °F",
    "length": "6.1 m or 20 ft",
    "volume": "120 L or 32 gal",
    "distance": "84,200 km or 52,300 mi",
    "speed": "105 km/h or 65 mph",
}
# What a file is full of, and needs no second look.
_PLAIN = re.compile(r"[+-]?[0-9]{1,12}(?:\.[0-9]{1,12})?")
_NUMBER = re.compile(r"^([+-]?)((?:\d[\d, ]*)?(?:\.\d*)?)$", re.ASCII)
_SPLIT = re.compile(r"^\s*([+-]?\s*[\d.,'\s]*\d[\d.,]*)\s*([^\d\s].*)?$", re.ASCII)


def to_canonical(value: float, symbol: str) -> float:
    """Converts `value` in the unit `symbol` to the canonical unit of its kind."""
    unit = BY_SYMBOL[symbol]
    return (value + unit.offset) * unit.factor


def from_canonical(value: float, symbol: str) -> float:
    """Converts a canonical value to the unit `symbol`."""
    unit = BY_SYMBOL[symbol]
    return value / unit.factor - unit.offset


def number(text: str) -> float:
    """Reads a number as people write it: 3,150 · 3 150 · 93.5 · 6,2 · −4.

    A comma before exactly three digits groups thousands, otherwise it is a decimal comma.
    Raises Refusal for anything else, NaN and infinities included.
    """
    if _PLAIN.fullmatch(text):
        return float(text)
    raw = text.strip().replace("\u2212", "-").replace("\u2013", "-")
    raw = raw.replace("\u00a0", " ").replace("\u202f", " ").replace("- ", "-")
    if "," in raw and "." not in raw:
        head, _, tail = raw.rpartition(",")
        grouped = len(tail) == 3 and head.lstrip("+-") not in ("", "0")
        if not grouped and "," not in head:
            raw = f"{head}.{tail}"
    match = _NUMBER.match(raw)
    if not match or not any(c.isdigit() for c in raw):
        raise Refusal(f"“{text.strip()[:40]}” is not a number. Enter digits, for example 93.5.")
    value = float(match[1] + re.sub(r"[, ]", "", match[2]))
    if not math.isfinite(value):
        raise Refusal(f"“{text.strip()[:40]}” is too large to be a number here. Check the digits.")
    return value


def parse(
    kind: Kind,
    typed: str | float | int,
    low: float,
    high: float,
    unit: str | None = None,
) -> float:
    """Reads a typed quantity into the canonical unit of `kind`, within `low` to `high`.

    `typed` may carry its own unit ("6.2 bar"); a bare number is in `unit`, or canonical.
    Raises Refusal naming the bound and the mend.
    """
    if isinstance(typed, bool) or not isinstance(typed, str | float | int):
        raise Refusal(f"Enter a {_NOUN[kind]}, for example {_EXAMPLE[kind]}.")
    symbol = unit or CANONICAL[kind]
    if isinstance(typed, str):
        if not typed.strip():
            raise Refusal(f"Nothing is entered. Enter a {_NOUN[kind]}, for example {_EXAMPLE[kind]}.")
        match = _SPLIT.match(typed.replace("\u2212", "-").replace("\u00a0", " ").replace("\u202f", " "))
        if not match:
            raise Refusal(f"“{typed.strip()[:40]}” is not a {_NOUN[kind]}. Enter digits, for example {_EXAMPLE[kind]}.")
        value = number(match[1])
        if match[2]:
            named = _BY_NAME.get(match[2].strip().lower())
            if named is None or named.kind != kind:
                known = ", ".join(u.symbol for u in UNITS if u.kind == kind)
                raise Refusal(f"“{match[2].strip()[:20]}” is not a unit of {_NOUN[kind]}. Use one of {known}.")
            symbol = named.symbol
    else:
        value = float(typed)
        if not math.isfinite(value):
            raise Refusal(f"That is not a number. Enter a {_NOUN[kind]}, for example {_EXAMPLE[kind]}.")
    canonical = to_canonical(value, symbol)
    if not low <= canonical <= high:
        where = "below" if canonical < low else "above"
        raise Refusal(
            f"{both(kind, canonical)} is {where} what is possible here: {both(kind, low)} to {both(kind, high)}. "
            "Check the digits and the unit."
        )
    return canonical


def both(kind: Kind, value: float) -> str:
    """A value in both systems, canonical first: “1,400 kPa (203.1 psi)”."""
    if kind in ("share", "number"):
        return show(kind, value, "metric")
    return f"{show(kind, value, 'metric')} ({show(kind, value, 'us')})"


def show(kind: Kind, value: float, system: System, toward: Toward = "nearest") -> str:
    """A canonical value in words of `system`. Floors are shown `up`, ceilings `down`."""
    if kind == "share":
        return f"{rounded(value * 100, 1, toward)} %"
    if kind == "number":
        return f"{value:,.2f}".rstrip("0").rstrip(".")
    symbol = shown_in(system)[kind]
    decimals = BY_SYMBOL[symbol].decimals
    if kind == "length" and abs(value) >= ELEVATION_M:
        decimals = 0
    return f"{rounded(from_canonical(value, symbol), decimals, toward)} {symbol}"


def rounded(value: float, decimals: int, toward: Toward = "nearest") -> str:
    """`value` with at most `decimals`, trailing zeros dropped, rounded `toward`."""
    scale = 10**decimals
    # The small term keeps 689.9999999 from falling, and 690.0000001 from climbing, a step.
    if toward == "up":
        value = math.ceil(value * scale - 1e-6) / scale
    elif toward == "down":
        value = math.floor(value * scale + 1e-6) / scale
    text = f"{value:,.{decimals}f}"
    if decimals:
        text = text.rstrip("0").rstrip(".")
    return "0" if text == "-0" else text.replace("-", "\u2212")
