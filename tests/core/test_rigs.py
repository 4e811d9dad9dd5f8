"""Sizes, load index, date codes, wheels and what contradicts itself."""

import csv
import datetime as dt
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core import rigs
from ballast.core.refusal import Refusal
from tests.core.samples import coach, tire

TODAY = dt.date(2026, 11, 25)

# marking, service, width mm, rim in, nominal diameter mm (metric: rim × 25.4 + 2 × width × aspect/100), indices, speed, range
MARKINGS = [
    ("225/45R17 94W", "passenger", 225, 17, 634.3, 94, None, "W", None),
    ("225/45 ZR 17 94 W", "passenger", 225, 17, 634.3, 94, None, "W", None),
    ("P215/65R15 95H", "passenger", 215, 15, 660.5, 95, None, "H", None),
    ("p 215 / 65 r 15", "passenger", 215, 15, 660.5, None, None, None, None),
    ("205/55R16 94V XL", "passenger", 205, 16, 631.9, 94, None, "V", None),
    ("LT275/70R18 125/122S E", "light truck", 275, 18, 842.2, 125, 122, "S", "E"),
    ("lt 245/75r17 121/118q lre", "light truck", 245, 17, 799.3, 121, 118, "Q", "E"),
    ("275/70R18LT", "light truck", 275, 18, 842.2, None, None, None, None),
    ("225/75R16C 121/120R", "commercial", 225, 16, 743.9, 121, 120, "R", None),
    ("195/70 R15 C 104/102 S", "commercial", 195, 15, 654.0, 104, 102, "S", None),
    ("ST235/80R16 E", "trailer", 235, 16, 782.4, None, None, None, "E"),
    ("st 205/75r15 107/102m d", "trailer", 205, 15, 688.5, 107, 102, "M", "D"),
    ("ST225/75D15 C", "trailer", 225, 15, 718.5, None, None, None, "C"),
    ("295/75R22.5 144/141L", "heavy", 295, 22.5, 1014.0, 144, 141, "L", None),
    ("245/70R19.5 135/133M H", "heavy", 245, 19.5, 838.3, 135, 133, "M", "H"),
    ("315/80R22.5 156/150L", "heavy", 315, 22.5, 1075.5, 156, 150, "L", None),
    ("11R22.5 G", "heavy", 279.4, 22.5, None, None, None, None, "G"),
    ("11 R 22.5 144/142 L", "heavy", 279.4, 22.5, None, 144, 142, "L", None),
    ("10.00-20", "heavy", 254, 20, None, None, None, None, None),
    ("8.25R15 143/141G", "heavy", 209.6, 15, None, 143, 141, "G", None),
    ("33x10.50R15LT C", "flotation", 266.7, 15, 838.2, None, None, None, "C"),
    ("35X12.50R17LT 121Q E", "flotation", 317.5, 17, 889.0, 121, None, "Q", "E"),
    ("31×10.50R15", "flotation", 266.7, 15, 787.4, None, None, None, None),
    ("150/80B16 71H", "motorcycle", 150, 16, 646.4, 71, None, "H", None),
    ("120/70R17 58W", "motorcycle", 120, 17, 599.8, 58, None, "W", None),
    ("130/90-16 67H", "motorcycle", 130, 16, 640.4, 67, None, "H", None),
    ("37-622", "bicycle", 37, None, 696.0, None, None, None, None),
    ("50 - 559", "bicycle", 50, None, 659.0, None, None, None, None),
]  # fmt: skip


@pytest.mark.parametrize("row", MARKINGS, ids=[m[0] for m in MARKINGS])
def test_markings_in_every_form(row: tuple[object, ...]) -> None:
    text, service, width, rim, diameter, single, dual, speed, range_ = row
    size = rigs.read_size(str(text))
    assert size.service == service
    assert size.width_mm == pytest.approx(width, abs=0.11)
    assert size.rim_in == rim
    assert size.diameter_mm == (None if diameter is None else pytest.approx(diameter, abs=0.06))
    assert (size.load_index_single, size.load_index_dual, size.speed, size.load_range) == (single, dual, speed, range_)


# Two hundred spellings, put together from their parts: what each says does not come from the reader.
SPELLINGS = list(csv.DictReader((Path(__file__).parent / "markings.csv").open(encoding="utf-8", newline="")))


@pytest.mark.parametrize("row", SPELLINGS, ids=[r["marking"] for r in SPELLINGS])
def test_two_hundred_spellings(row: dict[str, str]) -> None:
    size = rigs.read_size(row["marking"])
    assert (size.name, size.service, size.construction or "") == (row["name"], row["service"], row["construction"])
    assert size.width_mm == pytest.approx(float(row["width_mm"]), abs=0.06)
    assert (f"{size.aspect or 0:g}", f"{size.rim_in or 0:g}") == (row["aspect"] or "0", row["rim_in"] or "0")
    assert (size.load_index_single, size.load_index_dual) == tuple(
        int(row[n]) if row[n] else None for n in ("index_single", "index_dual")
    )
    assert (size.speed or "", size.load_range or "") == (row["speed"], row["load_range"])


def test_there_are_two_hundred_of_every_form() -> None:
    assert len(SPELLINGS) >= 200
    assert {r["service"] for r in SPELLINGS} == {
        "passenger", "light truck", "commercial", "trailer", "heavy", "flotation", "motorcycle", "bicycle",
    }  # fmt: skip


PIECES = st.sampled_from(
    [
        "P",
        "LT",
        "ST",
        "245",
        "70",
        "19.5",
        "R",
        "ZR",
        "D",
        "B",
        "-",
        "/",
        "x",
        "×",
        "33",
        "10.50",
        "135/133M",
        "999Z",
        "(94W)",
        "XL",
        "LR",
        "E",
        "C",
        "load",
        "range",
        "37-622",
        "٣",
        "\x00",
        "–",
        "0",
    ]
)


@given(st.lists(PIECES, max_size=12).map(lambda parts: " ".join(parts)) | st.lists(PIECES, max_size=12).map("".join))
def test_pieces_of_markings_raise_nothing_but_a_refusal(text: str) -> None:
    try:
        size = rigs.read_size(text)
    except Refusal:
        return
    # What was read once is read the same from its own words.
    assert rigs.read_size(size.text) == size


@pytest.mark.parametrize(
    "text", ["", "round", "245/70", "R19.5", "245/70R19.5 999M", "245//70R19.5", "9" * 60, "37-62", "=SUM(A1)"]
)
def test_what_is_no_size_is_refused_with_examples(text: str) -> None:
    with pytest.raises(Refusal):
        rigs.read_size(text)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("245/70", "Understood: width 245 mm, aspect 70; construction and rim are missing."),
        ("245/70 19.5", "Understood: width 245 mm, aspect 70; “19.5” after it is not."),
        ("245/70R", "Understood: width 245 mm, aspect 70, radial; the rim is missing."),
        ("lt245/70r19.5 heavy", "Understood: width 245 mm, aspect 70, radial, rim 19.5 in; “HEAVY” after it is not."),
    ],
)
def test_a_size_that_is_none_says_what_was_understood(text: str, words: str) -> None:
    with pytest.raises(Refusal) as no:
        rigs.read_size(text)
    assert words in no.value.message
    assert "Enter it as it stands" in no.value.message


def test_a_dual_index_above_the_single_is_refused() -> None:
    with pytest.raises(Refusal, match="higher number stands first"):
        rigs.read_size("245/70R19.5 133/135M")


def test_extra_load_is_not_a_load_range() -> None:
    size = rigs.read_size("215/65R15 100H XL")
    assert size.extra_load
    assert size.load_range is None


def test_the_name_is_what_a_table_is_found_by() -> None:
    assert rigs.read_size("lt 275/70 r18 125/122s").name == "LT275/70R18"
    assert rigs.read_size("11r22.5 g").name == "11R22.5"


@given(st.text(max_size=40))
def test_the_reader_raises_nothing_but_its_own_refusal(text: str) -> None:
    try:
        size = rigs.read_size(text)
    except Refusal:
        return
    assert size.name


# ISO 4000-1, as printed in the standard's table.
@pytest.mark.parametrize(
    ("index", "kg"),
    [(0, 45), (1, 46.2), (13, 65), (27, 97.5), (28, 100), (50, 190), (58, 236), (71, 345), (75, 387), (80, 450), (81, 462),
     (99, 775), (107, 975), (115, 1215), (121, 1450), (141, 2575), (150, 3350), (155, 3875), (160, 4500), (188, 10_000),
     (200, 14_000), (240, 45_000), (279, 136_000)],
)  # fmt: skip
def test_load_index_of_the_standard(index: int, kg: float) -> None:
    assert rigs.load_index_kg(index) == kg


def test_load_index_rises_and_ends() -> None:
    loads = [rigs.load_index_kg(i) for i in range(280)]
    assert loads == sorted(loads)
    assert len(set(loads)) == 280
    for beyond in (-1, 280):
        with pytest.raises(Refusal, match="0 to 279"):
            rigs.load_index_kg(beyond)


def test_date_codes_by_the_iso_calendar() -> None:
    # 2020 has 53 weeks; week 53 began on Monday 28 December.
    assert rigs.read_date_code("5320", TODAY).week_start == dt.date(2020, 12, 28)
    assert rigs.read_date_code(" 4826 ", TODAY).week_start == dt.date(2026, 11, 23)
    for wrong in ("5321", "12", "12345", "ab12", "4926"):
        with pytest.raises(Refusal):
            rigs.read_date_code(wrong, TODAY)


def test_wheels_in_the_order_of_a_walk() -> None:
    order = rigs.walking_order(coach().axles, "coach", 1)
    assert [w.code for w in order] == ["1L", "2Lo", "2Li", "2Ro", "2Ri", "1R", "S1"]
    assert [w.name for w in order][2:4] == ["Rear left, inner", "Rear right, outer"]
    assert order[-1].axle is None


def test_wheels_of_other_rigs() -> None:
    bike = rigs.walking_order((rigs.Axle(1, 0, 0.2, 1), rigs.Axle(2, 1.5, 0.2, 1)), "motorcycle")
    assert [(w.code, w.name) for w in bike] == [("1", "Front"), ("2", "Rear")]
    camper = rigs.walking_order((rigs.Axle(1, 0, 1.9, 2),), "camper", 2)
    assert [w.name for w in camper] == ["Left", "Right", "Spare 1", "Spare 2"]
    tractor = rigs.Rig("tractor", tuple(rigs.Axle(n, n * 1.4, 1.9, 4) for n in (1, 2, 3)))
    assert [tractor.axle_name(n) for n in (1, 2, 3)] == ["Front", "Axle 2", "Axle 3"]
    assert rigs.axle_name(1, 3, "semitrailer") == "Axle 1"


def test_an_unknown_gross_rating_counts_as_heavy() -> None:
    assert not coach(gvwr_kg=None).light
    assert coach(gvwr_kg=4536.0).light
    assert not coach(gvwr_kg=4537.0).light


def test_a_tires_limit_is_the_lesser_of_what_is_marked() -> None:
    both = tire(max_load_single_kg=2100.0)
    assert both.max_kg("single", "coach") == 2100
    assert both.max_kg("dual", "coach") == 2060
    unknown = tire("245/70R19.5")
    assert unknown.max_kg("single", "coach") is None


def test_passenger_tires_carry_less_on_a_trailer() -> None:
    # Load index 94 is 670 kg; 670 / 1.10 = 609.09 kg (49 CFR 571.110 S4.2.2.2).
    passenger = tire("225/45R17 94W")
    assert passenger.max_kg("single", "car") == 670
    assert passenger.max_kg("single", "camper") == pytest.approx(609.09, abs=0.01)
    assert tire("225/75R16C 121/120R").max_kg("single", "van") == 1450


def fields(rig: rigs.Rig) -> set[str]:
    return {no.field for no in rigs.contradictions(rig)}


def test_contradictions_name_their_fields() -> None:
    front, rear = coach().axles
    assert fields(coach()) == set()
    assert fields(coach(axles=(front, replace(rear, position_m=0.0)))) >= {"axles.1.position_m"}
    assert fields(coach(axles=(replace(front, wheels=1), rear))) == {"axles.0.wheels"}
    assert fields(coach(wheelbase_m=5.0)) == {"wheelbase_m"}
    assert fields(coach(axles=(front,), wheelbase_m=5.0)) == {"wheelbase_m"}
    assert fields(coach(axles=(front, rear, replace(rear, number=3, position_m=7.4)), wheelbase_m=8.0)) == {
        "wheelbase_m"
    }
    wrong_index = replace(front, tire=tire(load_index_single=134))
    assert fields(coach(axles=(wrong_index, rear))) == {"axles.0.load_index_single"}
    swapped = replace(front, tire=tire("245/70R19.5", load_index_single=133, load_index_dual=135))
    assert fields(coach(axles=(swapped, rear))) == {"axles.0.load_index_dual"}
    placard = replace(front, tire=tire(placard_kpa=800.0))
    assert fields(coach(axles=(placard, rear))) == {"axles.0.placard_kpa"}


def test_cautions_say_what_to_look_at_again() -> None:
    front, rear = coach().axles
    assert rigs.cautions(coach()) == []
    # Two tires of 2,180 kg carry 4,360 kg, less than 4,400.
    heavy = replace(front, gawr_kg=4400.0)
    assert [c.field for c in rigs.cautions(coach(axles=(heavy, rear)))] == ["axles.0.gawr_kg"]
    bare = replace(rear, tire=tire("245/70R19.5 135M", sidewall_max_kpa=None))
    assert [c.field for c in rigs.cautions(coach(axles=(front, bare)))] == [
        "axles.1.load_index_dual",
        "axles.1.sidewall_max_kpa",
    ]
    assert [c.field for c in rigs.cautions(coach(gvwr_kg=12_000.0))] == ["gvwr_kg"]
    cars = replace(front, gawr_kg=1000.0, tire=tire("225/45R17 94W"))
    assert "axles.0.tire_size" in [c.field for c in rigs.cautions(coach(kind="van", axles=(cars, rear)))]


def test_one_kind_of_tire_is_not_mixed() -> None:
    described = tire(sidewall_max_kpa=760.0)
    # What a fitted tire of the same size does not say is as described.
    bare = replace(tire(), load_index_single=None, load_index_dual=None, sidewall_max_kpa=None)
    found = rigs.weakest(described, (bare, bare))
    assert found.mixed == ()
    assert found.rated_kg("single") == described.rated_kg("single")


def test_tires_of_one_size_with_other_loads_are_kept_apart() -> None:
    weak = tire("245/70R19.5 130/128M", sidewall_max_kpa=700.0)
    found = rigs.weakest(tire(), (tire(), weak))
    assert {t.sidewall_max_kpa for t in found.mixed} == {760.0, 700.0}
    # The axle itself is limited by the least of both.
    assert found.rated_kg("single") == 1900
    assert found.sidewall_max_kpa == 700


def test_a_size_beside_the_one_described_counts_until_every_wheel_is_known() -> None:
    other = tire("225/70R19.5 128/126M")
    one_of_two = rigs.weakest(tire(), (other,), every_wheel=False)
    assert sorted(t.size.name for t in one_of_two.mixed) == ["225/70R19.5", "245/70R19.5"]
    both = rigs.weakest(tire(), (other, other))
    assert [t.size.name for t in both.mixed] == ["225/70R19.5"]
