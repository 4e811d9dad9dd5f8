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
    "A1": 5, "A2": 10, "A3": 15, "A4": 20, "A5": 25, "A6": 30, "A7": 35, "A8": 40, "B": 50, "C": 60, "D": 65, "E": 70, "F": 80, "G": 90, "J": 100, "K": 110, "L": 120, "M": 130, "N": 140,
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


Service = Literal[
    "passenger", "light truck", "commercial", "trailer", "heavy", "flotation", "motorcycle", "bicycle", "unknown"
]  # fmt: skip


@dataclass(frozen=True)
class Size:
    """What a size marking says. Unknown is None. Widths and diameters in mm, rim in inches.

    Of a marking that could not be read the service is "unknown" and its text all that is known. `temporary`: a spare to
    reach a tire service with.
    """

    text: str
    service: Service
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
    temporary: bool = False

    @property
    def name(self) -> str:
        """The size without its service description: what a table is found by. Unread, the whole marking."""
        return self.text if self.service == "unknown" else self.text.split(" ")[0]

    @property
    def range(self) -> str:
        """The load range as a word: XL for extra load, empty where none is marked."""
        return self.load_range or ("XL" if self.extra_load else "")


# What no tire has is a slip of the pen: width and outer diameter [mm], ratio [%], rim [in], load index.
WIDTH_MM, INCH_WIDTHS = (20.0, 600.0), (2.0, 24.0)
DIAMETER_MM = (200.0, 2200.0)
ASPECT = (20.0, 100.0)
RIM_IN = (4.0, 30.0)
LEAST_INDEX, LEAST_INDEX_MOTORCYCLE = 50, 20
# A load index from here on, or a rim from here on that ends in a half, is of a truck's tire.
_HEAVY_INDEX, _HEAVY_RIM = 140, 17.5
# Ply ratings and the load range that each stands for.
PLIES = {2: "A", 4: "B", 6: "C", 8: "D", 10: "E", 12: "F", 14: "G", 16: "H", 18: "J", 20: "L", 22: "M", 24: "N"}

_CON = {"R": "radial", "ZR": "radial", "-": "bias", "D": "bias", "B": "belted"}
_PRE = r"^(?P<pre>LT|ST|HL|P|T)?\s*"
_BUILT = r"\s*(?:-?\s*(?P<fast>[HQSTUV])?(?P<con>ZR|R|B|D)\s*-?|(?P<dash>-))\s*"
_RIM = r"(?P<rim>\d{1,2}(?:\.\d)?)(?![\d.])"
# A load range may stand at the rim without a gap.
_AFTER = r"(?P<gap>\s*)(?P<post>LT|ST|CP|MH|C(?![A-Z]))?(?=[^A-Z]|[A-HJ-N](?![A-Z\d])|$)"
_METRIC = re.compile(rf"{_PRE}(?P<w>\d{{2,3}})\s*/\s*(?P<a>\d{{2,3}}){_BUILT}{_RIM}{_AFTER}", re.ASCII)
_FLOTATION = re.compile(
    rf"{_PRE}(?P<d>\d{{2}}(?:\.\d{{1,2}})?)\s*X\s*(?P<w>\d{{1,2}}(?:\.\d{{1,2}})?){_BUILT}{_RIM}{_AFTER}", re.ASCII
)
# Without a ratio: in inches, or full profile in mm (from 105); above what any tire has in mm, in hundredths of an inch.
_PLAIN = re.compile(
    rf"{_PRE}(?P<w>\d{{1,4}}(?:\.\d{{1,2}})?)(?:\s*/\s*\d\.\d{{2}})?{_BUILT}{_RIM}{_AFTER}", re.ASCII
)  # fmt: skip
_BICYCLE = re.compile(r"^(?P<w>\d{2,3})\s*-\s*(?P<rim>\d{3})$", re.ASCII)
_FULL_PROFILE_MM, _HUNDREDTHS = 105.0, 400.0

_SPEED = r"(?P<speed>A[1-8]|[B-HJ-NP-UVWY])"
# What may follow a size, in any order, in brackets or not.
_TAIL = tuple(
    (name, re.compile(rf"(?:{words})(?![A-Z\d])", re.ASCII))
    for name, words in (
        ("plies", r"(?P<plies>\d{1,2})\s*-?\s*(?:PR|PLY(?:\s*RAT(?:ED|ING))?)"),
        ("described", rf"(?P<li>\d{{2,3}})(?:\s*/\s*(?P<li2>\d{{2,3}}))?(?:(?P<apart>\s*){_SPEED})?"),
        ("range", r"(?:LOAD\s*RANGE|RANGE|L\.?\s*R\.?)\s*[-:]?\s*(?P<range>[A-HJ-N]|XL)"),
        ("extra", r"XL|HL|EXTRA\s*LOAD|REINF(?:ORCED)?|RF"),
        ("motorcycle", r"M\s*/?\s*C"),
        ("service", r"(?P<post>LT|ST|CP|MH)"),
        ("temporary", r"TEMPORARY(?:\s+USE)?(?:\s+ONLY)?|SPARE"),
        ("said", r"TL|TT|TUBELESS|TUBE\s*TYPE|SL|LL|M\s*[+&/]?\s*S|3PMSF|RFT|ROF|RUN\s*FLAT|NHS"),
        ("letter", r"/?\s*(?P<letter>[A-HJ-NP-WY])"),
    )
)
_BETWEEN = re.compile(r"[\s,;]*[(\[]?\s*", re.ASCII)
_CLOSING = re.compile(r"\s*[)\]]", re.ASCII)


def _normal(text: str) -> str:
    """A marking in one spelling of its signs: capitals, one kind of dash, decimal points, single spaces."""
    marking = re.sub("[\u2010-\u2015\u2212\ufe58\ufe63\uff0d\u00ad]", "-", text.strip().upper().replace("\u00d7", "X"))
    marking = re.sub(r"(?<=\d)[,\u00b7](?=\d)", ".", marking)
    return re.sub(r"\s+", " ", marking)


@lru_cache(maxsize=4096)
def read_size(text: str) -> Size:
    """Reads a size marking as it stands on a sidewall, in any usual spelling.

    Nominal diameter: rim × 25.4 + 2 × width × aspect/100 for metric sizes, as printed for flotation sizes; others leave it
    unknown. Raises Refusal saying what is understood, or what no tire has, with the bound.

    >>> read_size("lt 275/70 r18 125/122s / e").load_range
    'E'
    """
    marking = _normal(text)
    if match := _BICYCLE.match(marking):
        rim, width = float(match["rim"]), float(match["w"])
        _within("width", width, WIDTH_MM, "mm")
        _within("outer diameter", rim + 2 * width, DIAMETER_MM, "mm")
        return Size(f"{match['w']}-{match['rim']}", "bicycle", width, None, None, None, rim, rim + 2 * width)
    for pattern in (_METRIC, _FLOTATION, _PLAIN):
        match = pattern.match(marking)
        tail = _tail(marking[match.end() :]) if match else None
        if match and tail is not None:
            return _size(pattern, match, tail)
    raise Refusal(
        f"“{text.strip()[:40]}” is not a size marking that is understood. {_part_understood(marking)}Enter it as it stands "
        "on the sidewall, for example 245/70R19.5 135/133M, LT275/70R18 E, ST235/80R16 E, 11R22.5 G or 33x10.50R15LT C.",
        "tire_size",
    )


def as_marked(text: str) -> Size:
    """`read_size`, or for a marking that cannot be read one that says nothing: kept as typed, all of it asked for by hand."""
    try:
        return read_size(text)
    except Refusal:
        return Size(re.sub(r"\s+", " ", text.strip().upper()), "unknown", None, None, None, None)


def unread(text: str) -> str:
    """Why a marking says nothing, in words; empty where it is read."""
    try:
        read_size(text)
    except Refusal as no:
        return no.message
    return ""


_BEGINNING = re.compile(
    r"^(?:P|LT|ST)?\s*(?P<w>\d{2,3})\s*/\s*(?P<a>\d{2,3})\s*(?:(?P<con>ZR|R|B|D|-)\s*(?P<rim>\d{2}(?:\.\d)?)?)?",
    re.ASCII,
)


def _part_understood(marking: str) -> str:
    """Of a marking that is none: what its beginning says, and where it stops being understood."""
    match = _BEGINNING.match(marking)
    if not match:
        return ""
    parts = [f"width {match['w']} mm", f"aspect {match['a']}"]
    parts += [_CON[match["con"]]] if match["con"] else []
    parts += [f"rim {match['rim']} in"] if match["rim"] else []
    rest = marking[match.end() :].strip()
    missing = "" if rest else "construction and rim are missing" if not match["con"] else "the rim is missing"
    stops = f"“{rest[:20]}” after it is not" if rest else missing
    return f"Understood: {', '.join(parts)}; {stops or 'the rest is not'}. "


def asked_for(size: Size, rated: bool = False, ranged: bool = False) -> tuple[str, ...]:
    """What a marking leaves open and the rules need, in words; not what was entered beside it: a load, a load range."""
    open_: list[str] = []
    if size.load_index_single is None and not rated and size.service != "bicycle":
        open_.append("load index or the sidewall's load")
    if size.speed is None and size.service not in ("trailer", "bicycle"):
        open_.append("speed symbol")
    if (
        size.load_range is None
        and not ranged
        and size.service in ("light truck", "trailer", "heavy", "flotation", "unknown")
    ):
        open_.append("load range")
    if size.diameter_mm is None:
        open_.append("diameter, if you can measure it")
    return tuple(open_)


@dataclass
class _Said:
    """What follows a size: service description, load range, and words."""

    single: int | None = None
    dual: int | None = None
    speed: str | None = None
    range: str | None = None
    extra: bool = False
    motorcycle: bool = False
    temporary: bool = False
    post: str | None = None
    # A letter that stands alone: a load range, or a speed symbol typed apart.
    letters: tuple[str, ...] = ()
    plies: str | None = None
    words: tuple[str, ...] = ()


def _tail(text: str) -> _Said | None:
    """What follows a size, piece by piece; None where a piece is not understood, or says what another said already."""
    said, at = _Said(), 0
    while at < len(text):
        between = _BETWEEN.match(text, at)
        assert between is not None
        if between.end() == len(text):
            return None if "(" in between[0] or "[" in between[0] else said
        piece = next(((n, m) for n, words in _TAIL if (m := words.match(text, between.end()))), None)
        bracket = "(" in between[0] or "[" in between[0]
        if piece is None or not _take(said, *piece, bracket):
            return None
        said.words += (re.sub(r"\s+", " ", piece[1][0].lstrip("/ ")),)
        at = piece[1].end()
        if bracket:
            closing = _CLOSING.match(text, at)
            if closing is None:
                return None
            at = closing.end()
    return said


def _take(said: _Said, name: str, match: re.Match[str], bracket: bool) -> bool:
    """Keeps one piece; False where it contradicts an earlier one."""
    if name == "described":
        # A second description, in brackets, is for another use: the first one counts.
        if said.single is not None and not bracket:
            return False
        if said.single is None:
            said.single, said.dual = int(match["li"]), int(match["li2"]) if match["li2"] else None
            if match["speed"] and match["apart"]:
                said.letters += (match["speed"],)
            else:
                said.speed = match["speed"]
        return True
    if name == "range" or name == "plies":
        if name == "plies":
            given = PLIES.get(int(match["plies"]))
            said.plies = given
        else:
            given = match["range"]
        if given is None or (said.range is not None and said.range != given):
            return False
        said.extra |= given == "XL"
        said.range = None if given == "XL" else given
        return True
    if name == "letter":
        said.letters += (match["letter"],)
        return len(said.letters) <= 2
    if name == "service":
        again = said.post is not None and said.post != match["post"]
        said.post = match["post"]
        return not again
    said.extra |= name == "extra"
    said.motorcycle |= name == "motorcycle"
    said.temporary |= name == "temporary"
    return True


def _sort_letters(said: _Said, truck: bool) -> bool:
    """Which of the letters that stand alone is the load range and which the speed symbol; False where they are neither.

    After an index, C to H apart from it is a load range on a truck's tire (nothing so slow is driven), else its speed.
    """
    for letter in said.letters:
        slow = truck and letter in "CDEFGH" and said.range in (None, letter)
        to_speed = said.single is not None and said.speed is None and not slow
        if to_speed and letter in SPEEDS:
            said.speed = letter
        elif letter in "ABCDEFGHJKLMN" and said.range in (None, letter):
            said.range = letter
        else:
            return False
    return True


def _within(what: str, value: float, bounds: tuple[float, float], unit: str) -> None:
    low, high = bounds
    if not low <= value <= high:
        raise Refusal(
            f"No tire has {'an' if what[0] in 'aeiou' else 'a'} {what} of {value:g}{unit and ' ' + unit}: it lies between "
            f"{low:g} and {high:g}. Read it again on the sidewall.",
            "tire_size",
        )


def _unclear(marking: str) -> Refusal:
    return Refusal(
        f"“{marking[:40]}” says two things that do not go together. Enter it as it stands on the sidewall.", "tire_size"
    )


def _size(pattern: re.Pattern[str], match: re.Match[str], said: _Said) -> Size:
    part = match.groupdict()
    post, spaced = part["post"], bool(part["gap"])
    typed, rim, con = float(part["w"]), float(part["rim"]), part["con"] or "-"
    metric = pattern is _METRIC or (pattern is _PLAIN and _FULL_PROFILE_MM <= typed < _HUNDREDTHS)
    if pattern is _PLAIN and typed >= _HUNDREDTHS:
        # Written without its point: 750R16 is 7.50R16.
        typed /= 100
        part["w"] = f"{typed:.2f}"
    if post == "C" and (part["pre"] or pattern is _FLOTATION or (pattern is _PLAIN and not metric and spaced)):
        # After P, LT or ST, and apart after an inch size, a C is the load range, not the mark of a commercial tire.
        post, said.letters, said.words = None, ("C", *said.letters), ("C", *said.words)
    if post is not None and said.post not in (None, post):
        raise _unclear(match[0])
    if post is None and said.post is not None:
        post, said.words = said.post, tuple(w for w in said.words if w != said.post)
    width = typed if metric else round(typed * 25.4, 1)
    if metric:
        _within("width", typed, WIDTH_MM, "mm")
    else:
        _within("width", typed, INCH_WIDTHS, "in")
    _within("rim", rim, RIM_IN, "in")
    aspect = float(part["a"]) if pattern is _METRIC else None
    diameter: float | None = None
    if aspect is not None:
        _within("ratio", aspect, ASPECT, "")
        diameter = round(rim * 25.4 + 2 * width * aspect / 100, 1)
    elif pattern is _FLOTATION:
        diameter = round(float(part["d"]) * 25.4, 1)
        if diameter < rim * 25.4 + 10:
            raise Refusal("Its outer diameter is no larger than its rim. Read it again on the sidewall.", "tire_size")
    if diameter is not None:
        _within("outer diameter", diameter, DIAMETER_MM, "mm")
    shape = _Shape(part["pre"], post, con, metric, pattern is _FLOTATION, width, aspect, rim)
    truck = shape.truck(said)
    if not _sort_letters(said, truck):
        raise _unclear(match[0])
    service = "motorcycle" if said.motorcycle else shape.service(said)
    _check_indices(said, service)
    before = f"{part['d']}X" if pattern is _FLOTATION else part["pre"] or ""
    ratio = f"/{part['a']}" if aspect is not None else ""
    if pattern is _FLOTATION and part["pre"]:
        post = post or part["pre"]
    name = f"{before}{part['w']}{ratio}{con}{part['rim']}{post or ''}"
    return Size(
        text=" ".join((name, *_words(said))),
        service=service,
        width_mm=width,
        aspect=aspect,
        construction=_CON[con],  # type: ignore[arg-type]
        rim_in=rim,
        diameter_mm=diameter,
        load_index_single=said.single,
        load_index_dual=said.dual,
        speed=said.speed or part["fast"],
        load_range=said.range,
        extra_load=said.extra or part["pre"] == "HL",
        temporary=said.temporary or part["pre"] == "T",
    )


def _words(said: _Said) -> list[str]:
    """What follows the name, in one order, so that it is read the same again."""
    described = [] if said.single is None else [str(said.single) + (f"/{said.dual}" if said.dual is not None else "")]
    if described and said.speed:
        described[0] += said.speed
    ranges = [f"LR{said.range}"] if said.range and not any(w == said.range for w in said.words) else []
    if said.range and not ranges:
        ranges = [said.range]
    return [*described, *(["XL"] if said.extra else []), *ranges, *(["M/C"] if said.motorcycle else []),
            *(["SPARE"] if said.temporary else [])]  # fmt: skip


def _check_indices(said: _Said, service: str) -> None:
    least = LEAST_INDEX_MOTORCYCLE if service == "motorcycle" else LEAST_INDEX
    for index in (said.single, said.dual):
        if index is not None:
            load_index_kg(index)
            _within("load index", index, (least, 279), "")
    if said.single is not None and said.dual is not None and said.dual > said.single:
        raise Refusal(
            f"{said.single}/{said.dual} gives a dual tire more load than a single one. The higher number stands first: "
            "read it again on the sidewall.",
            "tire_size",
        )


@dataclass(frozen=True)
class _Shape:
    """What tells whose tire a size is: its letters, then its rim, its indices, its width."""

    pre: str | None
    post: str | None
    con: str
    metric: bool
    flotation: bool
    width_mm: float
    aspect: float | None
    rim_in: float

    def truck(self, said: _Said) -> bool:
        """Not a car's nor a motorcycle's: a letter apart from the index is its load range."""
        letters = self.pre in ("LT", "ST") or self.post is not None
        return letters or self.flotation or not self.metric or said.dual is not None or self.heavy(said)

    def heavy(self, said: _Said) -> bool:
        """A half-inch rim or a truck's load index; in inches and wide metric sizes from 18 in on the width alone."""
        half = self.rim_in % 1 == 0.5 and self.rim_in >= _HEAVY_RIM
        if half or (said.single is not None and said.single >= _HEAVY_INDEX):
            return True
        if self.metric:
            return self.aspect is not None and self.aspect >= 60 and self.width_mm >= 335
        return not self.flotation and (self.width_mm >= 8 * 25.4 or (self.width_mm >= 6 * 25.4 and self.rim_in >= 18))

    def service(self, said: _Said) -> Service:
        if self.flotation:
            return "flotation"
        if self.pre in ("P", "T", "HL"):
            return "passenger"
        if "LT" in (self.pre, self.post):
            return "light truck"
        if self.pre == "ST" or self.post in ("ST", "MH"):
            return "trailer"
        if self.post in ("C", "CP"):
            return "commercial"
        if self.heavy(said):
            return "heavy"
        if said.range is not None and said.range not in "AB":
            return "light truck" if self.metric or self.rim_in > 13 else "trailer"
        if said.dual is not None:
            return "commercial"
        if self._motorcycle(said):
            return "motorcycle"
        if self.metric:
            return "passenger"
        if self.rim_in <= 12 or self.rim_in == 14.5:
            return "trailer"
        return "light truck" if self.width_mm >= 7 * 25.4 or self.rim_in % 1 == 0.5 else "passenger"

    def _motorcycle(self, said: _Said) -> bool:
        """Belted; in mm a width that ends in 0, or a small load index on a large rim; in inches narrow."""
        index = said.single
        if self.con == "B":
            return True
        if not self.metric:
            narrow = self.width_mm <= 5.5 * 25.4 and self.rim_in >= 14 and (index or 99) < 80
            unsaid = self.width_mm <= 4.5 * 25.4 and self.rim_in >= 16 and index is None
            return narrow or unsaid or (self.width_mm <= 4.0 * 25.4 and self.rim_in <= 12 and (index or 99) < 70)
        if self.aspect is None:
            return False
        if index is not None and index < 80 and (self.rim_in >= 16 or (self.rim_in >= 14 and index <= 68)):
            return True
        return self.width_mm <= 250 and self.width_mm % 10 == 0 and (index is None or index < 85)


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
_YEAR_DAYS = 365.25
AGE_REPLACE_YEARS = 10
# Trailer tires age standing still: many replace them earlier, and a workspace may.
AGE_REPLACE_TRAILER_YEARS = 6


def age_years(made: DateCode, on: dt.date) -> float | None:
    """Age in years of a tire on a day; None where only "before 2000" is known."""
    return None if made.week_start is None else (on - made.week_start).days / _YEAR_DAYS


def age_words(
    made: DateCode, on: dt.date, replace_years: float = AGE_REPLACE_YEARS, many: bool = False
) -> tuple[str, bool]:  # fmt: skip
    """An age in words, and whether it asks for something: inspect yearly from 5 years, replace at `replace_years`.

    `many`: of several tires that are as old.
    """
    years = age_years(made, on)
    it, its = ("them", "their") if many else ("it", "its")
    if years is None:
        return f"made before 2000: replace {it}, whatever {its} tread", True
    said = f"{years:.1f} years old"
    if years >= replace_years:
        return f"{said}: replace {it}, whatever {its} tread", True
    if years >= AGE_INSPECT_YEARS:
        return f"{said}: have {it} inspected every year", True
    return said, False


def age_changes(made: DateCode, on: dt.date, replace_years: float = AGE_REPLACE_YEARS) -> dt.date | None:
    """The first day after `on` from which on `age_words` is other words of an age that asks for something; None: never.

    >>> age_changes(DateCode(dt.date(2022, 1, 3), False), dt.date(2026, 11, 29))
    datetime.date(2027, 1, 4)
    """
    if made.week_start is None:
        return None
    asks = min(AGE_INSPECT_YEARS, replace_years)
    days = [math.ceil(years * _YEAR_DAYS) for years in (AGE_INSPECT_YEARS, replace_years)]
    old = (on - made.week_start).days
    # The tenth that is said goes on half a tenth after it.
    tenth = math.floor(old * 10 / _YEAR_DAYS + 0.5)
    if old >= asks * _YEAR_DAYS:
        days.append(math.ceil((tenth + 0.5) * _YEAR_DAYS / 10))
    return made.week_start + dt.timedelta(days=min(d for d in days if d > old))
