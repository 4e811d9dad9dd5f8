"""Sidewalls as they are printed: spellings put together from their parts, so that what each says does not come from the
reader; nonsense, with its bound; and a fuzz."""

from dataclasses import dataclass

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core import rigs
from ballast.core.refusal import Refusal


@dataclass(frozen=True)
class Marked:
    """The parts of a marking: before the size, the size, construction, rim, after it; indices, speed, load range."""

    service: str
    before: str
    size: str
    con: str
    rim: str
    after: str = ""
    single: int | None = None
    dual: int | None = None
    speed: str = ""
    range: str = ""
    plies: int = 0

    @property
    def described(self) -> str:
        return "" if self.single is None else f"{self.single}" + (f"/{self.dual}" if self.dual else "") + self.speed


TIRES = (
    Marked("passenger", "", "225/45", "R", "17", "", 94, None, "W"),
    Marked("passenger", "P", "215/65", "R", "15", "", 95, None, "H"),
    Marked("passenger", "", "165", "R", "15", "", 86, None, "T"),
    Marked("passenger", "T", "125/70", "D", "17", "", 98, None, "M"),
    Marked("passenger", "HL", "245/40", "R", "19", "", 101, None, "Y"),
    Marked("light truck", "LT", "275/70", "R", "18", "", 125, 122, "S", "E", 10),
    Marked("light truck", "", "245/75", "R", "16", "LT", 120, 116, "Q", "E", 10),
    Marked("light truck", "", "7.50", "R", "16", "LT", 122, 118, "L", "F", 12),
    Marked("light truck", "", "225/75", "R", "16", "", 115, 112, "R", "E", 10),
    Marked("commercial", "", "225/75", "R", "16", "C", 121, 120, "R"),
    Marked("commercial", "", "185", "R", "14", "C", 102, 100, "R"),
    Marked("commercial", "", "225/75", "R", "16", "CP", 118, None, "R"),
    Marked("commercial", "", "215/75", "R", "16", "", 113, 111, "R"),
    Marked("commercial", "", "7.00", "R", "16", "C", 117, 116, "L"),
    Marked("trailer", "ST", "235/80", "R", "16", "", 124, 120, "L", "E", 10),
    Marked("trailer", "ST", "205/75", "D", "15", "", 101, None, "M", "C", 6),
    Marked("trailer", "", "4.80", "-", "12", "", None, None, "", "C", 6),
    Marked("trailer", "", "8", "-", "14.5", "MH", None, None, "", "G", 14),
    Marked("heavy", "", "295/75", "R", "22.5", "", 144, 141, "L", "G", 14),
    Marked("heavy", "", "245/70", "R", "19.5", "", 135, 133, "M", "H", 16),
    Marked("heavy", "", "11", "R", "22.5", "", 144, 142, "L", "G", 14),
    Marked("heavy", "", "10.00", "-", "20", "", 146, 142, "J", "H", 16),
    Marked("heavy", "", "12.00", "R", "20", "", 154, 150, "J", "J", 18),
    Marked("heavy", "", "365/80", "R", "20", "", 152, None, "K"),
    Marked("heavy", "", "8.25", "R", "15", "", 143, 141, "G", "J", 18),
    Marked("flotation", "", "33x10.50", "R", "15", "LT", 114, None, "Q", "C", 6),
    Marked("flotation", "", "35x12.50", "R", "17", "LT", 121, None, "Q", "E", 10),
    Marked("motorcycle", "", "150/80", "B", "16", "", 71, None, "H"),
    Marked("motorcycle", "", "180/55", "ZR", "17", "", 73, None, "W"),
    Marked("motorcycle", "", "240/40", "R", "18", "", 79, None, "V"),
    Marked("motorcycle", "", "3.00", "-", "18", "", 47, None, "P"),
    Marked("motorcycle", "", "130/90", "-", "16", "", 67, None, "H"),
)  # fmt: skip
# The name that a table is found by stays one, however it is spelled.
NAMES = {t: f"{t.before}{t.size.upper()}{t.con}{t.rim}{t.after}" for t in TIRES}


def spellings(t: Marked) -> list[str]:
    """Usual ways to write one marking: spacing, case, dashes, decimals, where the load range stands and how."""
    joined = f"{t.before}{t.size}{t.con}{t.rim}{t.after}"
    apart = f"{t.before} {t.size.replace('/', ' / ')} {t.con} {t.rim}{t.after}"
    described = f" {t.described}" if t.described else ""
    # A bare letter after the index, or none where nothing says it.
    letter = f" {t.range}" if t.range else ""
    found = [
        joined + described + letter,
        (joined + described + letter).lower(),
        apart + described + letter,
        f"  {apart.lower()}  {t.described.lower()} {t.range.lower()} ",
        (joined + described + letter).replace(".", ",").replace("x", "×"),
        (joined + described + letter).replace("-", "\u2013"),
        joined + described + (f" LR{t.range}" if t.range else "") + " TL",
        joined + (f" ({t.described})" if t.described else "") + (f" LOAD RANGE {t.range}" if t.range else ""),
        apart.replace(" ", "\u00a0") + described + letter,
        joined + "," + described + letter + " Tubeless",
        f"{t.before}{t.size} {t.con}{t.rim}{t.after}{described}{letter} M+S 3PMSF",
    ]
    if t.range:
        found += [
            f"{joined}/{t.range}{described}",
            f"{joined} LR{t.range}{described}",
            f"{joined} {t.plies}PR{described}",
            f"{joined}{described} {t.plies}-PLY RATED",
            f"{joined}{described} ({t.range})",
        ]
    if t.dual:
        # A second description in brackets is for another use.
        found.append(f"{joined}{described} ({t.single - 3 if t.single else 0}/{t.dual - 3}N){letter}")
    if t.service == "motorcycle":
        found += [f"{joined} M/C{described}", f"{joined}{described} M/C TL"]
    if t.service == "passenger" and not t.before:
        found += [f"{joined}{described} XL", f"{joined}{described} M+S", f"{joined} XL{described}"]
    return found


SPELLED = [(text, t) for t in TIRES for text in spellings(t)]


@pytest.mark.parametrize(("text", "t"), SPELLED, ids=[text for text, _ in SPELLED])
def test_spellings_put_together_from_their_parts(text: str, t: Marked) -> None:
    size = rigs.read_size(text)
    assert (size.service, size.name) == (t.service, NAMES[t])
    assert f"{size.rim_in:g}" == t.rim
    assert (size.load_index_single, size.load_index_dual, size.speed or "") == (t.single, t.dual, t.speed)
    assert (size.load_range or "") == t.range
    # What was read once is read the same from its own words.
    assert rigs.read_size(size.text) == size


def test_there_are_four_hundred_of_them_from_every_service() -> None:
    assert len({text for text, _ in SPELLED}) >= 400
    assert {t.service for t in TIRES} == {
        "passenger", "light truck", "commercial", "trailer", "heavy", "flotation", "motorcycle",
    }  # fmt: skip


@pytest.mark.parametrize(
    ("text", "name", "range_", "service"),
    [
        # Apart after an inch size a C is its load range, joined the mark of a commercial tire.
        ("7.00-15 C", "7.00-15", "C", "light truck"),
        ("6.70-15 C TL", "6.70-15", "C", "light truck"),
        ("7.00R16C", "7.00R16C", "", "commercial"),
        ("195/70 R15 C 104/102S", "195/70R15C", "", "commercial"),
        # Without its point, one-digit rims, two widths of an old trailer tire.
        ("750R16 LT E", "7.50R16LT", "E", "light truck"),
        ("4.80/4.00-8 LRB", "4.80-8", "B", "trailer"),
        ("18x8.50-8", "18X8.50-8", "", "flotation"),
        ("ST225/75R15D", "ST225/75R15", "D", "trailer"),
        ("LT33x12.50R20 E", "33X12.50R20LT", "E", "flotation"),
        ("P225/60HR15", "P225/60R15", "", "passenger"),
        ("335/80R20", "335/80R20", "", "heavy"),
        ("14.00R20", "14.00R20", "", "heavy"),
    ],
)
def test_spellings_of_their_own_kind(text: str, name: str, range_: str, service: str) -> None:
    size = rigs.read_size(text)
    assert (size.name, size.load_range or "", size.service) == (name, range_, service)


def test_a_temporary_spare_says_so() -> None:
    assert rigs.read_size("T125/70D17 98M").temporary
    assert rigs.read_size("125/70D17 98M TEMPORARY USE ONLY").temporary
    assert not rigs.read_size("215/65R15").temporary


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("10/45R17", "width"), ("999/45R17", "between 20 and 600"), ("225/05R17", "ratio"), ("225/15R17", "between 20 and 100"),
        ("225/45R3", "rim"), ("225/45R99", "rim"), ("1.00-15", "between 2 and 24"), ("30.00-20", "between 2 and 24"),
        ("600/99R30", None), ("50/20R4", "outer diameter"), ("99x12.50R15", "outer diameter"), ("12x4.00-12", "no larger than its rim"),
        ("195/65R13 30T", "load index"), ("120/70R17 15W M/C", "load index"), ("225/45R17 300W", "0 to 279"),
        ("225/75R16 120/121R", "higher number stands first"), ("LT245/75R16 E LRD", "two things"),
        ("LT245/75R16 10PR LRD", None), ("225/75R16 7PR", None), ("1-622", None), ("999-999", "width"),
    ],
)  # fmt: skip
def test_what_no_tire_has_is_refused_with_its_bound(text: str, words: str | None) -> None:
    if text == "600/99R30":
        # 30 × 25.4 + 2 × 600 × 0.99 = 1,950 mm: large, and still a tire.
        assert rigs.read_size(text).diameter_mm == 1950
        return
    with pytest.raises(Refusal) as no:
        rigs.read_size(text)
    if words is not None:
        assert words in no.value.message


@pytest.mark.parametrize(
    "text",
    [
        "", " ", "hello", "tire", "225", "225/45", "225/45R", "R17", "45R17", "225//45R17", "225/45/17", "225/45RR17", "225/45X17",
        "/45R17", "225/R17", "225-45-17-3", "225/45R17 W94", "225/45R17 94W 95", "225/45R17 ?", "225/45R17 94W!",
        "225/45R17 (94W", "225/45R17)", "225/45R17 XYZ", "225/45R17 10XL", "LTLT275/70R18", "ST", "P", "LT", "XL", "94W", "10PR",
        "LR E", "11R22.5.5", "11R22,5,5", "11RR22.5", "R22.5 11", "33x10.50x15", "33x", "x10.50R15", "x", "×", "-", "--", "0-0",
        "0/0R0", "R", "B", "D", "ZR", "1e3/45R17", "NaN/45R17", "inf", "null", "None", "=1+1", "<b>225</b>", "225/45R17;DROP",
        "٢٢٥/٤٥R١٧", "二二五", "💡", "2 2 5 / 4 5 R 1 7 9 4 W W", "225/45R17 94W 94W 94W E E E", "225/45 17",
    ],
)  # fmt: skip
def test_nonsense_is_refused_and_kept_as_typed_where_a_rig_is_described_with_it(text: str) -> None:
    with pytest.raises(Refusal):
        rigs.read_size(text)
    assert rigs.unread(text)
    kept = rigs.as_marked(text)
    assert (kept.service, kept.name) == ("unknown", kept.text)
    assert (kept.width_mm, kept.load_index_single, kept.load_range) == (None, None, None)


PIECES = st.sampled_from(
    ["P", "LT", "ST", "T", "225", "45", "7.00", "33", "/", "x", "R", "-", "D", "17", "8", "19.5", " ", "C", "E", "94W",
     "121/120R", "(", ")", "LRE", "10PR", "XL", "M/C", "TL", ",", "–"]
)  # fmt: skip


@given(st.lists(PIECES, max_size=10).map("".join) | st.text(max_size=30))
def test_whatever_is_typed_is_read_or_refused_and_read_the_same_again(text: str) -> None:
    size = rigs.as_marked(text)
    if size.service == "unknown":
        assert rigs.unread(text)
        return
    again = rigs.read_size(size.text)
    assert (again.name, again.service, again.load_range) == (size.name, size.service, size.load_range)
    assert size.rim_in is None or 4 <= size.rim_in <= 30
    assert size.width_mm is None or 20 <= size.width_mm <= 610
