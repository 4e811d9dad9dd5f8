"""What stands on a sidewall: size markings, load index, speed symbol, date code."""

import datetime as dt
import math
import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from ballast.core.refusal import Refusal

# Load index: ISO 4000-1. One decade of eighty steps, written for 80 to 159 in tenths of a kg;
# the others are the same tens apart, cut to what is printed.
_LI_TENTHS = (
    "4500 4625 4750 4875 5000 5150 5300 5450 5600 5800 6000 6150 6300 6500 6700 6900 7100 7300 7500 7750 "
    "8000 8250 8500 8750 9000 9250 9500 9750 10000 10300 10600 10900 11200 11500 11800 12150 12500 12850 "
    "13200 13600 14000 14500 15000 15500 16000 16500 17000 17500 18000 18500 19000 19500 20000 20600 21200 "
    "21800 22400 23000 23600 24300 25000 25750 26500 27250 28000 29000 30000 30750 31500 32500 33500 34500 "
    "35500 36500 37500 38750 40000 41250 42500 43750"
)
_LI = tuple(int(v) for v in _LI_TENTHS.split())

# Speed symbols: ISO 4000-1, km/h.
SPEEDS = {
    "B": 50, "C": 60, "D": 65, "E": 70, "F": 80, "G": 90, "J": 100, "K": 110, "L": 120, "M": 130, "N": 140,
    "P": 150, "Q": 160, "R": 170, "S": 180, "T": 190, "U": 200, "H": 210, "V": 240, "W": 270, "Y": 300,
}  # fmt: skip


def load_index_kg(index: int) -> float:
    """Load [kg] of a load index, 0 to 279 (ISO 4000-1). Raises Refusal outside.

    >>> load_index_kg(63), load_index_kg(144)
    (272.0, 2800.0)
    """
    if not 0 <= index <= 279:
        raise Refusal(f"Load index {index} is outside 0 to 279. Read it again on the sidewall.", "load_index")
    decade, step = divmod(index, 80)
    exact = _LI[step] * 10.0 ** (decade - 2)
    cut = 10 if exact < 100 else 1
    return math.floor(exact * cut + 1e-9) / cut


@dataclass(frozen=True)
class Size:
    """What a size marking says. Unknown is None. Widths and diameters in mm, rim in inches."""

    text: str
    service: Literal["passenger", "light truck", "commercial", "trailer", "heavy", "flotation", "motorcycle", "bicycle"]
    width_mm: float | None
    aspect: float | None
    construction: Literal["radial", "bias", "belted"] | None
    rim_in: float | None
    rim_mm: float | None = None
    diameter_mm: float | None = None
    load_index_single: int | None = None
    load_index_dual: int | None = None
    speed: str | None = None
    load_range: str | None = None
    extra_load: bool = False

    @property
    def name(self) -> str:
        """The size without its service description: what a table is found by."""
        return self.text.split(" ")[0]


_SERVICE = r"(?:\s*\(?(?P<li>\d{2,3})(?:/(?P<li2>\d{2,3}))?\s*(?P<speed>[B-HJ-NP-UVWY])\)?)?"
_RANGE = r"(?:\s*(?:LR|LOAD\s*RANGE)?\s*(?P<range>[A-HJ-NX]L?))?"
_TAIL = rf"(?P<tail>{_SERVICE}(?:\s*(?P<xl>XL|REINFORCED|RF))?{_RANGE}(?:\s+(?P<xl2>XL))?)"
_CON = {"R": "radial", "ZR": "radial", "-": "bias", "D": "bias", "B": "belted"}
_METRIC = re.compile(
    rf"^(?P<pre>P|LT|ST)?\s*(?P<w>\d{{2,3}})\s*/\s*(?P<a>\d{{2,3}})\s*(?P<con>ZR|R|B|D|-)\s*"
    rf"(?P<rim>\d{{2}}(?:\.\d)?)\s*(?P<post>LT|C)?{_TAIL}$",
    re.ASCII,
)
_FLOTATION = re.compile(
    rf"^(?P<d>\d{{2}}(?:\.\d{{1,2}})?)\s*X\s*(?P<w>\d{{1,2}}\.\d{{1,2}})\s*(?P<con>R|B|D|-)\s*"
    rf"(?P<rim>\d{{2}}(?:\.\d)?)\s*(?P<post>LT)?{_TAIL}$",
    re.ASCII,
)
_INCH = re.compile(
    rf"^(?P<w>\d{{1,2}}(?:\.\d{{1,2}})?)\s*(?P<con>R|-)\s*(?P<rim>\d{{2}}(?:\.\d)?)\s*(?P<post>LT|C)?{_TAIL}$",
    re.ASCII,
)
_BICYCLE = re.compile(r"^(?P<w>\d{2,3})\s*-\s*(?P<rim>\d{3})$", re.ASCII)


@lru_cache(maxsize=4096)
def read_size(text: str) -> Size:
    """Reads a size marking as it stands on a sidewall, any spacing and case.

    Nominal diameter: rim × 25.4 + 2 × width × aspect/100 for metric sizes, as printed for
    flotation sizes; inch sizes leave it unknown. Raises Refusal saying what is understood.
    """
    marking = re.sub(r"\s+", " ", text.strip().upper().replace("\u00d7", "X").replace("\u2013", "-"))
    if found := _BICYCLE.match(marking):
        rim = float(found["rim"])
        width = float(found["w"])
        return Size(f"{found['w']}-{found['rim']}", "bicycle", width, None, None, None, rim, rim + 2 * width)
    for pattern in (_METRIC, _FLOTATION, _INCH):
        if found := pattern.match(marking):
            return _size(pattern, found, marking)
    raise Refusal(
        f"“{text.strip()[:40]}” is not a size marking that is understood. {_part_understood(marking)}Enter it as it stands "
        "on the sidewall, for example 245/70R19.5 135/133M, LT275/70R18 E, ST235/80R16 E, 11R22.5 G or 33x10.50R15LT C.",
        "tire_size",
    )


_BEGINNING = re.compile(
    r"^(?P<pre>P|LT|ST)?\s*(?P<w>\d{2,3})\s*/\s*(?P<a>\d{2,3})\s*(?:(?P<con>ZR|R|B|D|-)\s*(?P<rim>\d{2}(?:\.\d)?)?)?",
    re.ASCII,
)


def _part_understood(marking: str) -> str:
    """Of a marking that is none: what its beginning says, and where it stops being understood."""
    found = _BEGINNING.match(marking)
    if not found:
        return ""
    parts = [f"width {found['w']} mm", f"aspect {found['a']}"]
    parts += [_CON[found["con"]]] if found["con"] else []
    parts += [f"rim {found['rim']} in"] if found["rim"] else []
    rest = marking[found.end() :].strip()
    missing = "" if rest else "construction and rim are missing" if not found["con"] else "the rim is missing"
    stops = f"“{rest[:20]}” after it is not" if rest else missing
    return f"Understood: {', '.join(parts)}; {stops or 'the rest is not'}. "


def asked_for(size: Size) -> tuple[str, ...]:
    """What a marking leaves open and the rules need, in words."""
    open_: list[str] = []
    if size.load_index_single is None and size.service != "bicycle":
        open_.append("load index or the sidewall's load")
    if size.speed is None and size.service not in ("trailer", "bicycle"):
        open_.append("speed symbol")
    if size.load_range is None and size.service in ("light truck", "trailer", "heavy", "flotation"):
        open_.append("load range")
    if size.diameter_mm is None:
        open_.append("diameter, if you can measure it")
    return tuple(open_)


def _size(pattern: re.Pattern[str], found: re.Match[str], marking: str) -> Size:
    part = found.groupdict()
    if part.get("pre") and part["post"] == "C":
        # After P, LT or ST a C is the load range, not the mark of a commercial tire.
        part["post"], part["range"] = None, "C"
        part["tail"] = f"{part['tail'].strip()} C"
    rim, con = float(part["rim"]), _CON[part["con"]]
    if not 4 <= rim <= 30:
        raise Refusal(f"There is no rim of {rim:g} inches. Read the size again on the sidewall.", "tire_size")
    if pattern is _METRIC:
        width, aspect = float(part["w"]), float(part["a"])
        diameter: float | None = round(rim * 25.4 + 2 * width * aspect / 100, 1)
        service = {"P": "passenger", "LT": "light truck", "ST": "trailer"}.get(part["pre"] or "")
        if not service:
            service = {"LT": "light truck", "C": "commercial"}.get(part["post"] or "")
        if not service:
            bike = con == "belted" or (width <= 200 and rim in (16, 17, 18, 19, 21) and (part["speed"] or "") and
                                       part["li"] and int(part["li"]) < 80)  # fmt: skip
            service = "heavy" if rim % 1 == 0.5 and rim > 17 else "motorcycle" if bike else "passenger"
        name = f"{part['pre'] or ''}{part['w']}/{part['a']}{part['con']}{part['rim']}{part['post'] or ''}"
    elif pattern is _FLOTATION:
        width, aspect, service = round(float(part["w"]) * 25.4, 1), None, "flotation"
        diameter = round(float(part["d"]) * 25.4, 1)
        name = f"{part['d']}X{part['w']}{part['con']}{part['rim']}{part['post'] or ''}"
    else:
        width, aspect, diameter = round(float(part["w"]) * 25.4, 1), None, None
        service = {"LT": "light truck", "C": "commercial"}.get(part["post"] or "", "heavy")
        name = f"{part['w']}{part['con']}{part['rim']}{part['post'] or ''}"
    range_ = part["range"]
    extra = bool(part["xl"] or part["xl2"] or range_ == "XL")
    tail = re.sub(r"\s+", " ", part["tail"].strip())
    single = int(part["li"]) if part["li"] else None
    dual = int(part["li2"]) if part["li2"] else None
    for index in (single, dual):
        if index is not None:
            load_index_kg(index)
    if single is not None and dual is not None and dual > single:
        raise Refusal(
            f"{single}/{dual} gives a dual tire more load than a single one. The higher number stands first: "
            "read it again on the sidewall.",
            "tire_size",
        )
    return Size(
        text=f"{name} {tail}".strip(),
        service=service,  # type: ignore[arg-type]
        width_mm=width,
        aspect=aspect,
        construction=con,  # type: ignore[arg-type]
        rim_in=rim,
        diameter_mm=diameter,
        load_index_single=single,
        load_index_dual=dual,
        speed=part["speed"],
        load_range=None if extra else range_,
        extra_load=extra,
    )


@dataclass(frozen=True)
class DateCode:
    """Week of manufacture. `week_start` is its Monday; None where only "before 2000" is known."""

    week_start: dt.date | None
    pre_2000: bool


def read_date_code(code: str, on: dt.date) -> DateCode:
    """Reads the last four digits WWYY of a date code, or three digits from before 2000.

    Weeks by ISO 8601. Raises Refusal for a week that year has not, or one that lies in the future.
    """
    digits = code.strip()
    if re.fullmatch(r"[0-9]{3}", digits):
        return DateCode(None, True)
    if not re.fullmatch(r"[0-9]{4}", digits):
        raise Refusal("A date code ends in four digits, week and year, for example 3522.", "date_code")
    week, year = int(digits[:2]), 2000 + int(digits[2:])
    if not 1 <= week <= 53:
        raise Refusal(f"There is no week {week}. The first two digits go from 01 to 53.", "date_code")
    try:
        start = dt.date.fromisocalendar(year, week, 1)
    except ValueError:
        raise Refusal(f"{year} has no week {week}. Read the code again on the sidewall.", "date_code") from None
    if start > on:
        raise Refusal(f"Week {week} of {year} lies in the future. Read the code again on the sidewall.", "date_code")
    return DateCode(start, False)


AGE_INSPECT_YEARS = 5
AGE_REPLACE_YEARS = 10
# Trailer tires age standing still: many replace them earlier, and a workspace may.
AGE_REPLACE_TRAILER_YEARS = 6


def age_years(made: DateCode, on: dt.date) -> float | None:
    """Age in years of a tire on a day; None where only "before 2000" is known."""
    return None if made.week_start is None else (on - made.week_start).days / 365.25


def age_words(made: DateCode, on: dt.date, replace_years: float = AGE_REPLACE_YEARS) -> tuple[str, bool]:
    """An age in words, and whether it asks for something: inspect yearly from 5 years, replace at `replace_years`."""
    years = age_years(made, on)
    if years is None:
        return "made before 2000: replace it, whatever its tread", True
    said = f"{years:.1f} years old"
    if years >= replace_years:
        return f"{said}: replace it, whatever its tread", True
    if years >= AGE_INSPECT_YEARS:
        return f"{said}: have it inspected every year", True
    return said, False
