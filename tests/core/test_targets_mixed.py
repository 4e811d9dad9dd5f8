"""Mixed, partly unknown and contradicting tires: no pressure below any known need or above any known ceiling, by any school;
taking off what is said suffices; a wheel without a number is never waved through. Needs are worked out apart from the rules."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from ballast.core.air import Standing
from ballast.core.gas import Air
from ballast.core.gauges import Corrected
from ballast.core.rigs import Tire, as_marked, read_size, unlike, unlike_words, weakest
from ballast.core.rounds import WheelGoal, answer, stop_without_target
from ballast.core.tables import STEPS, LoadTable
from ballast.core.targets import AxleCase, Policy, TireCase, as_rated, axle_target, limits_of_own
from ballast.core.units import PSI_KPA
from ballast.core.working import aimed, needed
from tests.core.samples import FIELD, TABLE

WEAK = LoadTable((300, 350, 400, 450), (700, 790, 880, 960), (640, 720, 800, 875))


def need(tire: TireCase, row: str, load_kg: float) -> float | None:
    """What one tire needs [kPa], worked out with numpy; None: not known; infinity: nothing carries it."""
    if tire.tire_max_kg is not None and load_kg > tire.tire_max_kg * (1 + 1e-9):
        return np.inf
    if tire.table is not None:
        loads = tire.table.single_kg if row == "single" else tire.table.dual_kg
        assert loads is not None
        asked = load_kg * tire.load_divisor
        return np.inf if asked > loads[-1] * (1 + 1e-9) else float(np.interp(asked, loads, tire.table.steps_kpa))
    if tire.tire_max_kg is None or tire.sidewall_max_kpa is None:
        return None
    return tire.sidewall_max_kpa * load_kg / tire.tire_max_kg


def ceilings(case: AxleCase) -> list[float]:
    known = [t.sidewall_max_kpa for t in case.tires if t.sidewall_max_kpa is not None]
    known += [t.table.last_kpa for t in case.tires if t.sidewall_max_kpa is None and t.table is not None]
    return known + ([case.wheel_max_kpa] if case.wheel_max_kpa is not None else [])


kinds = st.builds(
    TireCase,
    st.sampled_from(["A", "B", "C"]),
    st.sampled_from([None, TABLE, WEAK]),
    st.sampled_from([1.0, 1.1]),
    st.one_of(st.none(), st.floats(600, 2300)),
    st.one_of(st.none(), st.floats(250, 900)),
)
mixed = st.builds(
    lambda first, others, **more: AxleCase(
        1, "Rear", table=first.table, load_divisor=first.load_divisor, tire_max_kg=first.tire_max_kg,
        sidewall_max_kpa=first.sidewall_max_kpa, size=first.name, others=tuple(others), **more,
    ),
    kinds,
    st.lists(kinds, min_size=1, max_size=3),
    row=st.sampled_from(["single", "dual"]),
    tires_per_end=st.sampled_from([1, 2]),
    per_tire_kg=st.floats(150, 2400),
    assumed=st.booleans(),
    wheel_max_kpa=st.one_of(st.none(), st.floats(250, 900)),
    placard_kpa=st.one_of(st.none(), st.floats(150, 760)),
    placard_is_floor=st.booleans(),
    chalk_kpa=st.one_of(st.none(), st.floats(150, 760)),
    trial=st.sampled_from(["", "worn evenly"]),
    own_kpa=st.one_of(st.none(), st.floats(100, 1000)),
)  # fmt: skip
policies = st.builds(
    Policy, st.sampled_from([0.0, 0.08, 0.3]), st.sampled_from(list(STEPS.values())), st.just(0.02),
    st.sampled_from(["table", "ratio", "placard", "chalk"]), st.sampled_from(["step up", "interpolate"]),
)  # fmt: skip


@given(mixed, policies)
def test_no_pressure_below_any_known_need_nor_above_any_ceiling(case: AxleCase, policy: Policy) -> None:
    bare = axle_target(replace(case, own_kpa=None), policy)
    if case.own_kpa is not None and limits_of_own(case, bare, case.own_kpa) is not None:
        case = replace(case, own_kpa=None)
    found = axle_target(case, policy)
    assert case.per_tire_kg is not None
    needs = [need(t, case.row, case.per_tire_kg) for t in case.tires]
    known = [n for n in needs if n is not None]
    if found.target_kpa is None:
        return
    assert all(found.target_kpa >= n - 1e-6 for n in known)
    assert all(found.target_kpa <= c + 1e-6 for c in ceilings(case))
    if None in needs or any(t.table is None for t in case.tires):
        # Not every tire is known by its table: it is no more than provisional.
        assert found.state == "provisional"
    if found.floor_kpa is not None and found.ceiling_kpa is not None:
        for system in ("us", "metric"):
            shown = [
                float(m.show(system).split(" ")[0].replace(",", ""))  # type: ignore[arg-type]
                for m in (
                    needed(found.floor_kpa, found.target_kpa, found.ceiling_kpa), aimed(found.target_kpa, found.ceiling_kpa),
                )
            ]  # fmt: skip
            assert shown[0] <= shown[1] + 1e-9


@given(mixed, policies)
def test_taking_off_what_is_said_suffices_at_once(case: AxleCase, policy: Policy) -> None:
    case = replace(case, own_kpa=None)
    found = axle_target(case, policy)
    assume(found.state in ("beyond tires", "floor above ceiling"))
    assert case.per_tire_kg is not None
    if found.comes_off_kg is None:
        # Unloading cannot help: at no load at all a tire asks for more than the ceiling, and no kilograms are named.
        assert axle_target(replace(case, per_tire_kg=1.0), policy).target_kpa is None
        return
    assert found.comes_off_kg > 0
    share = 0.525 if case.assumed else 1.0
    left = case.per_tire_kg - found.comes_off_kg * share / case.tires_per_end
    after = axle_target(replace(case, per_tire_kg=max(left, 0.0)), policy)
    assert after.state not in ("beyond tires", "floor above ceiling")


def test_what_must_come_off_is_judged_against_the_least() -> None:
    # One end of duals: 2,400 kg a tire. The index carries 2,342.5 (115 less on the end), but 690 kPa only 1,925.
    case = AxleCase(2, "Rear", "dual", 2, 2400.0, table=None, tire_max_kg=2342.5, sidewall_max_kpa=760.0)
    case = replace(case, others=(TireCase("B", TABLE, 1.0, 2342.5, 690.0),))
    found = axle_target(case, Policy(0.08, STEPS["1 psi"]))
    assert found.comes_off_kg == pytest.approx(2 * (2400 - 1925))


def test_a_table_for_one_and_a_sidewall_for_the_other() -> None:
    # By its table the one needs 500 kPa and a little; the placard of 276 stands in for nothing below that.
    case = AxleCase(
        1, "Front", "single", 1, 1624.0, table=TABLE, tire_max_kg=2180.0, sidewall_max_kpa=760.0, placard_kpa=276.0,
        others=(TireCase("B", None, 1.0, None, 700.0),),
    )  # fmt: skip
    found = axle_target(case, Policy(0.08, STEPS["1 psi"]))
    # 1,590 at 485, 1,670 at 520: 485 + 35 × 34/80.
    assert found.floor_kpa == pytest.approx(499.875)
    assert found.target_kpa is not None
    assert found.target_kpa >= 499.875
    assert (found.state, found.at_least) == ("provisional", ("B",))
    assert found.words.text == "At least {0}, provisional: nothing is known of B."


def test_nothing_of_a_described_tire_stands_in_for_one_that_contradicts_it() -> None:
    described = Tire(read_size("LT245/75R16 120/116Q E"), 120, 116, sidewall_max_kpa=80 * PSI_KPA, load_range="E")
    other = Tire(read_size("LT245/75R16"), load_range="C")
    both = weakest(described, (other, other))
    assert (both.sidewall_max_kpa, both.load_index_single, both.rated_kg("single")) == (None, None, None)
    assert both.kinds[0].unlike == ("load range C, described E",)
    (words,) = unlike_words("Rear", both, "single")
    assert words.text == (
        "Rear: LT245/75R16 C is fitted and not the tire described (load range C, described E). Enter its load index or load and "
        "sidewall's maximum pressure."
    )
    # What agrees, or is not said, is as described.
    same = weakest(described, (Tire(read_size("LT245/75R16")),) * 2)
    assert (same.sidewall_max_kpa, same.load_index_single, same.mixed) == (80 * PSI_KPA, 120, ())


@pytest.mark.parametrize(
    ("fitted", "told"),
    [
        ("LT245/75R16 LRE", ()),
        ("LT245/75R16 LRD", ("load range D, described E",)),
        ("LT245/75R16 116/113Q", ("load index 116, described 120", "dual load index 113, described 116")),
        ("LT235/75R16", ("size LT235/75R16, described LT245/75R16",)),
        ("245/75R16", ("size 245/75R16, described LT245/75R16",)),
        ("as on the other side", ("size AS ON THE OTHER SIDE, described LT245/75R16",)),
    ],
)
def test_in_what_a_fitted_tire_is_another(fitted: str, told: tuple[str, ...]) -> None:
    described = Tire(read_size("LT245/75R16 120/116Q E"), 120, 116, load_range="E")
    size = as_marked(fitted)
    tire = Tire(size, size.load_index_single, size.load_index_dual, load_range=size.range)
    assert unlike(tire, described) == told


def test_without_an_index_the_sidewalls_own_figures_tell() -> None:
    described = Tire(read_size("LT245/75R16 120/116Q E"), 120, 116, sidewall_max_kpa=551.6, load_range="E")
    assert unlike(replace(described, load_index_single=None, load_index_dual=None, sidewall_max_kpa=345.0), described)
    # 550 is 80 psi as printed in kPa; with the same index another sidewall is another maker's, not another tire.
    assert not unlike(
        replace(described, load_index_single=None, load_index_dual=None, sidewall_max_kpa=550.0), described
    )
    assert not unlike(replace(described, sidewall_max_kpa=345.0), described)


@pytest.mark.parametrize("case", FIELD["as_rated"], ids=lambda c: str(list(c.values())[:3]))
def test_as_rated(case: dict[str, float]) -> None:
    per_end = case["tires"] // 2
    known = {"tire_max_kg": case.get("max_kg"), "sidewall_max_kpa": case.get("max_kpa", 760.0)}
    table = None if "max_kg" in case else TABLE
    given_ = AxleCase(
        1, "Rear", case.get("row", "single"), int(per_end), None, table=table, gawr_kg=case["gawr_kg"], **known
    )  # type: ignore[arg-type]
    found = as_rated(given_)
    assert found is not None
    assert found.kpa == pytest.approx(case["expected_kpa"], rel=0.001)
    assert found.estimate is case.get("estimate", False)


def test_as_rated_where_the_tires_carry_half_the_rating_but_no_heavier_end() -> None:
    # 4,300 kg: 2,150 on each of two, 2,257.5 on the heavier; 2,180 is the most.
    case = AxleCase(
        1, "Front", "single", 1, None, table=TABLE, tire_max_kg=2180.0, sidewall_max_kpa=760.0, gawr_kg=4300.0
    )
    found = as_rated(case)
    assert found is not None
    assert (found.kpa, found.even) == (760, True)
    assert "heavier end is not covered" in found.words.text
    assert as_rated(replace(case, gawr_kg=4400.0)) is None
    assert as_rated(replace(case, gawr_kg=None)) is None
    assert as_rated(replace(case, table=None, sidewall_max_kpa=None)) is None


@given(
    st.one_of(st.none(), st.floats(150, 800)), st.one_of(st.none(), st.floats(150, 800)), st.floats(200, 900), st.booleans(),
    st.booleans(), st.floats(0, 35),
)  # fmt: skip
def test_a_wheel_without_a_number_is_never_waved_through(
    placard: float | None, last: float | None, sidewall: float, heavy: bool, small: bool, unsure: float
) -> None:
    # The placard is not above what the tire allows.
    known = tuple(None if k is None else min(k, sidewall) for k in (placard, last))
    stop = stop_without_target(known, sidewall, small)
    goal = WheelGoal(None, None, sidewall, True, heavy, stop_kpa=stop)
    cold, here = Standing(True, 10, 0), Air(10, 0)
    for share in (0.0, 0.2):
        found = answer(goal, Corrected(share * sidewall, unsure, False), cold, here)
        if share * sidewall <= stop:
            assert (found.word, found.locked) == ("stop", heavy)
        assert found.words.text != "Hold"
    over = answer(goal, Corrected(1.3 * sidewall, unsure, False), cold, here)
    assert over.word == "let_out"
    assert over.change_kpa == pytest.approx(-0.3 * sidewall)
    # Anywhere between it is not known, never held.
    between = answer(goal, Corrected(stop + unsure + 1, unsure, False), cold, here)
    assert between.word in ("cannot_tell", "let_out")
    assert between.words.text != "Hold"


def test_a_passenger_tire_exactly_at_its_limit_takes_nothing_off() -> None:
    # 2,180 ÷ 1.10: multiplied back it is a hair above the last column.
    limit = 2180 / 1.1
    case = AxleCase(
        1, "Front", "single", 1, limit, table=TABLE, load_divisor=1.1, tire_max_kg=limit, sidewall_max_kpa=760.0
    )
    found = axle_target(case, Policy(0.0, STEPS["1 psi"]))
    assert (found.state, found.target_kpa) == ("target", 760)
    table_flag = next(f for f in found.flags if f.school == "table")
    assert table_flag.kpa <= 760


def test_a_table_in_kpa_asks_no_step_more_than_the_same_in_psi() -> None:
    steps = tuple(psi * PSI_KPA for psi in (65, 70, 75, 80, 85, 90, 95, 100, 105, 110))
    printed_in_psi = LoadTable(steps, TABLE.single_kg, TABLE.dual_kg)
    light = AxleCase(1, "Front", "single", 1, 1000.0, table=TABLE, tire_max_kg=2180.0, sidewall_max_kpa=760.0)
    policy = Policy(0.08, STEPS["1 psi"])
    in_kpa = axle_target(light, policy)
    in_psi = axle_target(replace(light, table=printed_in_psi), policy)
    assert in_psi.target_kpa == pytest.approx(65 * PSI_KPA)
    assert in_kpa.target_kpa == 450
    assert in_kpa.target_kpa / PSI_KPA < 66


def test_what_is_no_load_is_not_said_to_be_one() -> None:
    # 300 kPa on the sidewall, 800 kg the most, 200 carried: 75 by proportion, 150 for the road. A placard of 120 is the maker's.
    case = AxleCase(1, "Front", "single", 1, 200.0, tire_max_kg=800.0, sidewall_max_kpa=300.0)
    road = axle_target(case, Policy(0.08, STEPS["1 psi"]))
    assert (road.floor_kpa, road.floor_from) == (150, "road")
    with_placard = axle_target(replace(case, placard_kpa=120.0), Policy(0.08, STEPS["1 psi"]))
    assert (with_placard.floor_kpa, with_placard.floor_from) == (120, "road")
    said = [f.objection.text for f in with_placard.flags if f.objection]
    assert not any("does not carry" in text for text in said)
    first = axle_target(
        replace(case, table=TABLE, tire_max_kg=2180.0, placard_kpa=400.0, sidewall_max_kpa=760.0),
        Policy(0.0, STEPS["1 psi"]),
    )
    placard = next(f for f in first.flags if f.school == "placard")
    assert placard.objection is not None
    assert "first column: it says nothing there" in placard.objection.text
