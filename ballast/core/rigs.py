"""What stands in the yard: sizes, load index, date codes, wheels and where they are."""

import datetime as dt
import math
import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, kg, say

Row = Literal["single", "dual"]
LIGHT_GVWR_KG = 4536.0

KINDS: dict[str, str] = {
    "coach": "Coach",
    "motorhome": "Motorhome",
    "van": "Van",
    "pickup": "Pickup",
    "car": "Car",
    "motorcycle": "Motorcycle",
    "straight_truck": "Straight truck",
    "tractor": "Tractor",
    "semitrailer": "Semitrailer",
    "full_trailer": "Full trailer",
    "camper": "Caravan or camper",
    "fifth_wheel": "Fifth-wheel",
}
TRAILERS = frozenset({"semitrailer", "full_trailer", "camper", "fifth_wheel"})

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
        return Size(marking, "bicycle", width, None, None, None, rim, rim + 2 * width)
    for pattern in (_METRIC, _FLOTATION, _INCH):
        if found := pattern.match(marking):
            return _size(pattern, found, marking)
    raise Refusal(
        f"“{text.strip()[:40]}” is not a size marking that is understood. Enter it as it stands on the sidewall, "
        "for example 245/70R19.5 135/133M, LT275/70R18 E, ST235/80R16 E, 11R22.5 G or 33x10.50R15LT C.",
        "tire_size",
    )


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


def load_divisor(service: str, kind: str) -> float:
    """1.10 for passenger tires on a truck, van, bus, motorhome or trailer, else 1 (49 CFR 571.110 S4.2.2.2)."""
    return 1.10 if service == "passenger" and kind not in ("car", "motorcycle") else 1.0


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


@dataclass(frozen=True)
class Tire:
    """What stands on a tire, its wheel and the placard. Unknown is None. Loads in kg, pressures in kPa."""

    size: Size
    load_index_single: int | None = None
    load_index_dual: int | None = None
    max_load_single_kg: float | None = None
    max_load_dual_kg: float | None = None
    sidewall_max_kpa: float | None = None
    wheel_max_kpa: float | None = None
    placard_kpa: float | None = None

    def rated_kg(self, row: Row) -> float | None:
        """The load marked for a mounting: the lesser of load index and sidewall load, whichever are known."""
        index, marked = (
            (self.load_index_single, self.max_load_single_kg)
            if row == "single"
            else (self.load_index_dual, self.max_load_dual_kg)
        )
        known = [load_index_kg(index)] if index is not None else []
        known += [marked] if marked is not None else []
        return min(known) if known else None

    def max_kg(self, row: Row, kind: str) -> float | None:
        """The most one tire may carry on a rig of that kind, passenger tires ÷ 1.10 where that applies."""
        rated = self.rated_kg(row)
        return None if rated is None else rated / load_divisor(self.size.service, kind)


@dataclass(frozen=True)
class Axle:
    """One axle: number from the front, meters behind the first, track [m], tires across it (1, 2 or 4)."""

    number: int
    position_m: float
    track_m: float
    wheels: int
    gawr_kg: float | None = None
    tire: Tire | None = None

    @property
    def row(self) -> Row:
        return "dual" if self.wheels == 4 else "single"

    @property
    def tires_per_end(self) -> int:
        return 2 if self.wheels == 4 else 1


@dataclass(frozen=True)
class Rig:
    """A vehicle or trailer as its labels describe it."""

    kind: str
    axles: tuple[Axle, ...]
    gvwr_kg: float | None = None
    wheelbase_m: float | None = None

    @property
    def light(self) -> bool:
        """Up to 4,536 kg (10,000 lb) GVWR; unknown counts as heavy, the more careful reading."""
        return self.gvwr_kg is not None and self.gvwr_kg <= LIGHT_GVWR_KG

    def axle_name(self, number: int) -> str:
        return axle_name(number, len(self.axles), self.kind)


def contradictions(rig: Rig) -> list[Refusal]:
    """What cannot be true of a rig, each with its field ("axles.1.position_m")."""
    found: list[Refusal] = []

    def no(message: str, field: str) -> None:
        found.append(Refusal(message, field))

    for i, axle in enumerate(rig.axles):
        if i and axle.position_m <= rig.axles[i - 1].position_m:
            no("Each axle lies behind the one before it. Measure from the first axle again.", f"axles.{i}.position_m")
        if axle.wheels == 1 and rig.kind != "motorcycle":
            no("Only a motorcycle has one wheel on an axle. Set two, or four for duals.", f"axles.{i}.wheels")
        if axle.wheels != 1 and rig.kind == "motorcycle" and i == 0 and len(rig.axles) == 2:
            no("A motorcycle's front axle has one wheel. Set one.", f"axles.{i}.wheels")
        tire = axle.tire
        if tire is None:
            continue
        for name, marked, typed in (
            ("load_index_single", tire.size.load_index_single, tire.load_index_single),
            ("load_index_dual", tire.size.load_index_dual, tire.load_index_dual),
        ):
            if marked is not None and typed is not None and marked != typed:
                no(f"The size marking says {marked}, here it is {typed}. Read the sidewall again.", f"axles.{i}.{name}")
        single, dual = tire.rated_kg("single"), tire.rated_kg("dual")
        if single is not None and dual is not None and dual > single:
            no("A dual tire carries no more than a single one. Are the two swapped?", f"axles.{i}.load_index_dual")
        if (
            tire.placard_kpa is not None
            and tire.sidewall_max_kpa is not None
            and tire.placard_kpa > tire.sidewall_max_kpa
        ):
            no("The placard's pressure is above the sidewall's maximum. Check both labels.", f"axles.{i}.placard_kpa")
    if rig.wheelbase_m is not None and rig.axles:
        last = rig.axles[-1].position_m
        if len(rig.axles) == 1:
            no("A wheelbase needs two axles. Leave it out.", "wheelbase_m")
        elif len(rig.axles) == 2 and abs(rig.wheelbase_m - last) > 0.05:
            no(
                f"The rear axle stands {last:.2f} m behind the front one, so the wheelbase is that. Check both.",
                "wheelbase_m",
            )
        elif rig.wheelbase_m > last + 0.05:
            no(f"The last axle stands {last:.2f} m behind the first: a wheelbase cannot be longer.", "wheelbase_m")
    return found


@dataclass(frozen=True)
class Caution:
    """Something odd, not impossible, beside a field."""

    field: str
    words: Phrase


def cautions(rig: Rig) -> list[Caution]:
    """What to look at again: tires that cannot carry the axle's rating, ratings that do not add up, unknown limits."""
    found: list[Caution] = []
    for i, axle in enumerate(rig.axles):
        if axle.tire is None:
            continue
        most = axle.tire.max_kg(axle.row, rig.kind)
        if most is None:
            what = "dual load index" if axle.row == "dual" else "load index"
            found.append(
                Caution(
                    f"axles.{i}.load_index_{axle.row}",
                    say(f"The {what} is not known: the tires' own limit cannot be checked."),
                )
            )
        elif axle.gawr_kg is not None and most * axle.wheels < axle.gawr_kg:
            found.append(
                Caution(
                    f"axles.{i}.gawr_kg",
                    say("These tires carry {0} together, less than the axle's rating.", kg(most * axle.wheels)),
                )
            )
        if load_divisor(axle.tire.size.service, rig.kind) != 1.0:
            found.append(
                Caution(
                    f"axles.{i}.tire_size", say("Passenger tires on this kind of rig carry less: rated load ÷ 1.10.")
                )
            )
        if axle.tire.sidewall_max_kpa is None:
            found.append(
                Caution(
                    f"axles.{i}.sidewall_max_kpa",
                    say("Without the sidewall's maximum the table's last column stands in as ceiling."),
                )
            )
    ratings = [a.gawr_kg for a in rig.axles if a.gawr_kg is not None]
    if rig.gvwr_kg and len(ratings) == len(rig.axles) and rig.kind not in TRAILERS and sum(ratings) < rig.gvwr_kg:
        found.append(
            Caution("gvwr_kg", say("The axle ratings add up to {0}, less than the gross rating.", kg(sum(ratings))))
        )
    return found


@dataclass(frozen=True)
class Wheel:
    """A place for a tire. `code` is short (2Li), `name` is spoken (rear left, inner). Axle None: a spare."""

    code: str
    name: str
    axle: int | None
    side: Literal["L", "R", "C"] | None
    inner: bool = False


def axle_name(number: int, count: int, kind: str) -> str:
    """What people call an axle: front and rear where there are two, by number where there are more."""
    if count == 1:
        return "Axle"
    if count == 2:
        return "Front" if number == 1 else "Rear"
    if number == 1 and kind not in TRAILERS:
        return "Front"
    return f"Axle {number}"


def walking_order(axles: tuple[Axle, ...], kind: str, spares: int = 0) -> tuple[Wheel, ...]:
    """Every wheel in the order of a walk around the rig: down the left side, up the right, then the spares."""
    count = len(axles)
    left: list[Wheel] = []
    right: list[Wheel] = []
    for axle in sorted(axles, key=lambda a: a.number):
        name = axle_name(axle.number, count, kind)
        if axle.wheels == 1:
            left.append(Wheel(f"{axle.number}", name, axle.number, "C"))
            continue
        for side, word, wheels in (("L", "left", left), ("R", "right", right)):
            spoken = f"{name} {word}" if count > 1 else word.capitalize()
            code = f"{axle.number}{side}"
            if axle.row == "dual":
                wheels.append(Wheel(f"{code}o", f"{spoken}, outer", axle.number, side))  # type: ignore[arg-type]
                wheels.append(Wheel(f"{code}i", f"{spoken}, inner", axle.number, side, True))  # type: ignore[arg-type]
            else:
                wheels.append(Wheel(code, spoken, axle.number, side))  # type: ignore[arg-type]
    # Up the right side the rear axle comes first, and its outer tire before the inner.
    back = sorted(right, key=lambda w: -(w.axle or 0))
    hung = [Wheel(f"S{i + 1}", "Spare" if spares == 1 else f"Spare {i + 1}", None, None) for i in range(spares)]
    return (*left, *back, *hung)
