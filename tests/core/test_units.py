"""Entries as people type them, values as people read them. Factors are checked against Pint's."""

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core import units
from ballast.core.refusal import Refusal
from ballast.core.working import Line, celsius, kg, kpa, meters, number, say, share

PINT = pint.UnitRegistry()
PINT_NAMES = {"kPa": "kilopascal", "psi": "psi", "bar": "bar", "kg": "kilogram", "lb": "pound", "t": "tonne", "m": "meter", "ft": "foot", "in": "inch", "mm": "millimeter", "°C": "degC", "°F": "degF"}  # fmt: skip


@pytest.mark.parametrize("symbol", PINT_NAMES)
@pytest.mark.parametrize("value", [0.0, 1.0, 98.6, 437.25])
def test_factors_agree_with_an_independent_library(symbol: str, value: float) -> None:
    unit = units.BY_SYMBOL[symbol]
    expected = PINT.Quantity(value, PINT_NAMES[symbol]).to(PINT_NAMES[units.CANONICAL[unit.kind]]).magnitude
    assert units.to_canonical(value, symbol) == pytest.approx(expected, rel=1e-9, abs=1e-9)
    assert units.from_canonical(expected, symbol) == pytest.approx(value, rel=1e-9, abs=1e-9)


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("93.5", 93.5), ("3,150", 3150), ("3 150", 3150), ("3\u00a0150", 3150), ("6,2", 6.2), ("0,125", 0.125),
        ("1,234,567", 1_234_567), ("1,234.5", 1234.5), ("-4", -4), ("\u22124", -4), ("+7", 7), (".5", 0.5), ("12.", 12),
        (" 88 ", 88),
    ],
)  # fmt: skip
def test_numbers_as_people_write_them(text: str, value: float) -> None:
    assert units.number(text) == value


@pytest.mark.parametrize("text", ["", "abc", "--4", "1.2.3", "NaN", "inf", "1e5", "4 - 2", "=1+1", "٣", "9" * 400])
def test_what_is_no_number_is_refused(text: str) -> None:
    with pytest.raises(Refusal, match="number"):
        units.number(text)


@pytest.mark.parametrize(
    ("kind", "typed", "canonical"),
    [
        ("pressure", "100 psi", 689.4757),
        ("pressure", "6.2 bar", 620.0),
        ("pressure", "6,2 BAR", 620.0),
        ("pressure", "640kPa", 640.0),
        ("pressure", 640, 640.0),
        ("pressure", "640", 640.0),
        ("mass", "3,150 kg", 3150.0),
        ("mass", "6,940 lb", 3147.931),
        ("mass", "3.4 t", 3400.0),
        ("mass", "3\u00a0150\u202fkg", 3150.0),
        ("temperature", "-4 C", -4.0),
        ("temperature", "25 °F", -3.888889),
        ("temperature", "\u221240 f", -40.0),
        ("length", "20 ft", 6.096),
        ("length", "6.1 m", 6.1),
        ("length", "240 in", 6.096),
    ],
)
def test_an_entry_may_carry_its_unit(kind: units.Kind, typed: str, canonical: float) -> None:
    assert units.parse(kind, typed, -1000, 100_000) == pytest.approx(canonical, rel=1e-6)


def test_a_bare_number_is_in_the_unit_in_hand() -> None:
    assert units.parse("pressure", "100", 0, 1400, unit="psi") == pytest.approx(689.4757, rel=1e-6)


@pytest.mark.parametrize(
    "typed", ["hot", "12 kg", "12 parsecs", "", "   ", "psi", True, None, [], float("nan"), float("inf")]
)
def test_a_pressure_that_is_none_is_refused_with_the_mend(typed: object) -> None:
    with pytest.raises(Refusal) as no:
        units.parse("pressure", typed, 0, 1400)  # type: ignore[arg-type]
    assert "psi" in no.value.message or "digits" in no.value.message


def test_bounds_are_named_in_both_systems() -> None:
    with pytest.raises(Refusal, match=r"above what is possible here: 0 kPa \(0 psi\) to 1,400 kPa \(203.1 psi\)"):
        units.parse("pressure", "15 bar", 0, 1400)
    with pytest.raises(Refusal, match="below"):
        units.parse("temperature", "-80 C", -60, 60)


def test_a_floor_is_shown_up_and_a_ceiling_down() -> None:
    # 532.857 kPa is 77.284 psi; 760 kPa is 110.229 psi.
    assert units.show("pressure", 532.857, "us", "up") == "77.3 psi"
    assert units.show("pressure", 532.857, "metric", "up") == "533 kPa"
    assert units.show("pressure", 760, "us", "down") == "110.2 psi"
    assert units.show("pressure", 689.4757, "us", "up") == "100 psi"


@pytest.mark.parametrize(
    ("kind", "value", "system", "text"),
    [
        ("mass", 3410, "us", "7,518 lb"),
        ("mass", 3410, "metric", "3,410 kg"),
        ("temperature", -6, "us", "21 °F"),
        ("temperature", -6, "metric", "\u22126 °C"),
        ("length", 6.1, "metric", "6.1 m"),
        ("share", 0.08, "us", "8 %"),
        ("share", 0.0381, "us", "3.8 %"),
        ("number", 2, "us", "2"),
        ("temperature", -0.2, "metric", "0 °C"),
    ],
)
def test_values_in_words(kind: units.Kind, value: float, system: units.System, text: str) -> None:
    assert units.show(kind, value, system) == text


def test_a_phrase_shows_its_measures_in_either_system() -> None:
    phrase = say(
        "{0} at {1}, {2} up, {3} of {4}, step {5}", kpa(620), celsius(0), meters(410), share(0.5), kg(100), number(3)
    )
    assert phrase.show("metric") == "620 kPa at 0 °C, 410 m up, 50 % of 100 kg, step 3"
    assert phrase.show("us") == "89.9 psi at 32 °F, 1,345 ft up, 50 % of 220 lb, step 3"
    assert Line(phrase).result is None


@given(st.floats(0, 1400), st.sampled_from(["psi", "bar", "kPa"]))
def test_there_and_back_is_where_it_was(value: float, symbol: str) -> None:
    assert units.to_canonical(units.from_canonical(value, symbol), symbol) == pytest.approx(value, abs=1e-9)


@given(st.text(max_size=30))
def test_the_parser_raises_nothing_but_its_own_refusal(text: str) -> None:
    try:
        value = units.parse("pressure", text, 0, 1400)
    except Refusal:
        return
    assert 0 <= value <= 1400


@given(st.floats(1, 1399), st.integers(0, 2))
def test_rounding_up_never_falls_and_down_never_climbs(value: float, decimals: int) -> None:
    slack = 2e-6 / 10**decimals
    assert float(units.rounded(value, decimals, "up").replace(",", "")) >= value - slack
    assert float(units.rounded(value, decimals, "down").replace(",", "")) <= value + slack


def test_each_quantity_may_be_shown_in_its_own_unit() -> None:
    system = units.chosen({"pressure": "bar", "mass": "lb", "temperature": "°C", "length": "m"})
    # 640 kPa ÷ 100; 3,150 kg ÷ 0.45359237 = 6,944.6 lb; 100 km/h goes with meters.
    shown = [
        units.show(k, v, system) for k, v in (("pressure", 640), ("mass", 3150), ("temperature", -4), ("speed", 100))
    ]  # type: ignore[arg-type]
    assert shown == ["6.4 bar", "6,945 lb", "−4 °C", "100 km/h"]
    for name, each in units.SHOWN.items():
        assert units.chosen(each) == name
    with pytest.raises(Refusal, match="Choose one of psi, kPa, bar for pressure") as no:
        units.chosen({"pressure": "atm", "mass": "lb", "temperature": "°C", "length": "m"})
    assert no.value.field == "pressure"
    for wrong in ("", "bar", "bar kg °C ly", "bar kg °C m m"):
        with pytest.raises((KeyError, ValueError)):
            units.shown_in(wrong)
