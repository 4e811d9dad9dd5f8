import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core import tables
from ballast.core.refusal import Refusal
from ballast.core.tables import LoadTable, build, column, inspect, practical
from tests.core.samples import TABLE

STEPS = (450.0, 485.0, 520.0)
SINGLE = (1510.0, 1590.0, 1670.0)
DUAL = (1425.0, 1505.0, 1580.0)
loads = st.floats(500, 2400)
reserves = st.sampled_from([0.0, 0.05, 0.08, 0.1, 0.25])


def test_a_table_as_printed_becomes_canonical() -> None:
    table = build((65, 70, 75), (3000, 3200, 3400), None, "psi", "lb")
    assert table.steps_kpa == pytest.approx((448.16, 482.63, 517.11), abs=0.01)
    assert table.single_kg == pytest.approx((1360.78, 1451.50, 1542.21), abs=0.01)
    assert table.dual_kg is None


@pytest.mark.parametrize(
    ("steps", "single", "dual", "field", "words"),
    [
        ((450,), (1510,), None, "steps", "at least two"),
        ((), (), None, "steps", "at least two"),
        ((450, 450, 520), SINGLE, None, "steps.1", "does not rise"),
        ((450, 485, 470), SINGLE, None, "steps.2", "does not rise"),
        (STEPS, (1510, 1500, 1670), None, "single.1", "does not rise"),
        (STEPS, SINGLE, (1425, 1425, 1580), "dual.1", "does not rise"),
        (STEPS, SINGLE[:2], None, "single", "Every column needs one"),
        (STEPS, SINGLE, DUAL[:2], "dual", "Every column needs one"),
        (STEPS, SINGLE, (1425, 1600, 1650), "dual.1", "no more than a single"),
        (STEPS, (0, 1590, 1670), None, "single.0", "above zero"),
        (STEPS, SINGLE, (0, 1505, 1580), "dual.0", "above zero"),
        ((4.5, 4.85, 5.2), SINGLE, None, "steps.0", "Check the unit"),
        ((4500, 4850, 5200), SINGLE, None, "steps.2", "Check the unit"),
    ],
)
def test_what_is_refused_names_its_cell(
    steps: tuple[float, ...], single: tuple[float, ...], dual: tuple[float, ...] | None, field: str, words: str
) -> None:
    with pytest.raises(Refusal, match=words) as no:
        build(steps, single, dual, "kPa", "kg")
    assert no.value.field == field


def test_the_last_load_is_held_against_the_load_index() -> None:
    # Half a percent above 1,670 is 1,678.35.
    assert build(STEPS, SINGLE, None, "kPa", "kg", index_kg=(1662.0, None)).last_kpa == 520
    with pytest.raises(Refusal, match="for another tire") as no:
        build(STEPS, SINGLE, None, "kPa", "kg", index_kg=(1660.0, None))
    assert no.value.field == "single.2"
    with pytest.raises(Refusal) as no:
        build(STEPS, SINGLE, DUAL, "kPa", "kg", index_kg=(None, 1500.0))
    assert no.value.field == "dual.2"


def test_a_single_row_is_no_stand_in_for_duals() -> None:
    alone = build(STEPS, SINGLE, None, "kPa", "kg")
    with pytest.raises(Refusal, match="may not be looked up as a single"):
        alone.floor("dual", 1000)


def test_nothing_is_said_below_the_first_column() -> None:
    assert TABLE.load_at("single", 449) is None
    assert TABLE.load_at("single", 450) == 1510
    assert TABLE.load_at("single", 467.5) == pytest.approx(1550)
    # Above the last column the table carries no more than there.
    assert TABLE.load_at("single", 900) == 2180


def test_a_clean_table_is_not_suspected() -> None:
    assert inspect(TABLE, (2180, 2060), 2.5) == ([], [])


@pytest.mark.parametrize(
    ("index", "load"),
    [(3, 1470.0), (6, 2040.0), (4, 1518.0), (0, 1610.0), (9, 2100.0)],
    ids=["swapped digits", "too near the next", "wrong digit", "first column", "last column"],
)
def test_a_mistyped_cell_stands_out(index: int, load: float) -> None:
    wrong = list(TABLE.single_kg)
    wrong[index] = load
    found, _ = inspect(LoadTable(TABLE.steps_kpa, tuple(wrong)), (None, None), 2.5)
    assert [(s.row, s.index) for s in found] == [("single", index)]
    assert found[0].suggested_kg == pytest.approx(TABLE.single_kg[index], rel=0.012)


def test_odd_tables_are_told() -> None:
    short = LoadTable(TABLE.steps_kpa[:6], TABLE.single_kg[:6])
    _, odd = inspect(short, (2180, None), 2.5)
    assert "last column missing" in odd[0].text
    steep = LoadTable((200, 300, 400, 500), (400, 900, 1600, 2500))
    _, odd = inspect(steep, (None, None), 2.5)
    assert "rise unusually" in odd[0].text


def test_next_column_when_little_is_left() -> None:
    # 1,700 kg with 8 % is 1,836; 620 kPa carries 1,890, 2.9 % more: taken.
    assert column(TABLE, "single", 1700, 0.08, 0.02).kpa == 620
    # 1,705 kg on duals is 1,841.4; 655 carries 1,855, 0.7 % more: the next.
    found = column(TABLE, "dual", 1705, 0.08, 0.02)
    assert (found.kpa, found.note) == (690, "next column")
    assert found.left == pytest.approx(1925 / 1841.4 - 1)


@pytest.mark.parametrize(
    ("step", "column_kpa", "required", "kpa"),
    [
        # 450 kPa is 65 psi as printed: not a whole step more, and never below the first column.
        ("1 psi", 450, 1400, 450),
        ("5 kPa", 655, 1960, 655),
        ("0.1 bar", 655, 1960, 660),  # 650 carries 1,954.3, so the next one up
        ("5 psi", 655, 1870, 95 * 6.894757293168361),
        ("5 psi", 655, 1966, 100 * 6.894757293168361),  # 95 psi carries 1,965 kg
    ],
)
def test_practical_steps_carry_what_is_required(step: str, column_kpa: float, required: float, kpa: float) -> None:
    assert practical(TABLE, "single", column_kpa, required, tables.STEPS[step]) == pytest.approx(kpa)


def test_the_standard_curve_passes_through_its_maximum() -> None:
    assert tables.standard_curve(2180, 760, 0.7, 760) == 2180
    # Half the pressure at n = 0.7 carries 0.6156 of the load.
    assert tables.standard_curve(1000, 760, 0.7, 380) == pytest.approx(615.6, abs=0.1)


@given(loads, loads)
def test_more_load_never_asks_for_less(one: float, other: float) -> None:
    low, high = sorted((one, other))
    floor_low, floor_high = TABLE.floor("dual", low), TABLE.floor("dual", high)
    if floor_high is None:
        return
    assert floor_low is not None
    assert floor_low <= floor_high


@given(loads)
def test_the_floor_just_carries_the_load(load: float) -> None:
    floor = TABLE.floor("single", load)
    if floor is not None:
        carried = TABLE.load_at("single", floor)
        assert carried is not None
        assert carried >= load - 1e-6
        if floor > TABLE.steps_kpa[0]:
            assert carried == pytest.approx(load)


@given(loads, reserves, reserves)
def test_more_reserve_never_lowers_the_column(load: float, one: float, other: float) -> None:
    low, high = sorted((one, other))
    less, more = column(TABLE, "single", load, low, 0.02), column(TABLE, "single", load, high, 0.02)
    if less.kpa is not None:
        assert more.kpa is not None
        assert more.kpa >= less.kpa


@given(loads, reserves, st.sampled_from(list(tables.STEPS.values())))
def test_a_practical_step_never_rounds_a_requirement_down(load: float, reserve: float, step: tables.Step) -> None:
    taken = column(TABLE, "single", load, reserve, 0.02)
    if taken.kpa is None:
        return
    found = practical(TABLE, "single", taken.kpa, taken.required_kg, step)
    carried = TABLE.load_at("single", found)
    assert carried is not None
    assert carried >= min(taken.required_kg, 2180) - 1e-6
    assert found <= taken.kpa + step.kpa


@given(st.floats(10, 2000))
def test_the_ratio_never_goes_below_its_bounds(load: float) -> None:
    assert tables.ratio(load, 1500, 450) >= max(202.5, 450 * load / 1500 - 1e-9)
