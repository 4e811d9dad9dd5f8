"""Moving mass about: by hand, and the laws of statics."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core.refusal import Refusal
from ballast.core.weighing import PER_LITER_KG, Effect, Part, Placed, Support, bars_effect, effect, place_mass

COACH = Part("Almagest", (Support(1, 0.0, 2.0, 2), Support(2, 6.0, 1.8, 4)), front=(1,), hitch_m=8.0)
# Coupled 4 m ahead of its first axle: the tandem's center is 4.5 m behind the coupling.
TANDEM = Part("Perigee", (Support(1, 0.0, 2.0, 2), Support(2, 1.0, 2.0, 2)), front=(), pulled=True, coupler_m=4.0)
# A tag axle that takes 30 % of the rear group.
TAGGED = Part(
    "Analemma", (Support(1, 0.0, 2.0, 2), Support(2, 6.0, 1.8, 4), Support(3, 7.3, 2.0, 2, share=0.3)), front=(1,)
)
DRAWBAR = Part("Drawbar", (Support(1, 0.0, 1.8, 2), Support(2, 5.0, 1.8, 2)), front=(1,))


def test_a_mass_between_the_axles() -> None:
    # 300 kg, 2 m behind the front of 6 m: rear 300 × 2/6 = 100, front 200.
    found = effect((COACH,), [Placed(0, 300, 2.0)])
    assert (found.axle(0, 1), found.axle(0, 2)) == (pytest.approx(200), pytest.approx(100))
    assert found.ends[0, 1] == (pytest.approx(100), pytest.approx(100))


def test_behind_the_rear_axle_the_front_gets_lighter() -> None:
    # 120 kg, 9 m behind the front of 6 m: rear 180, front −60.
    found = effect((COACH,), [Placed(0, 120, 9.0)])
    assert (found.axle(0, 1), found.axle(0, 2)) == (pytest.approx(-60), pytest.approx(180))


def test_to_the_right_of_the_center() -> None:
    # 100 kg over the front axle, 0.5 m right on a track of 2 m: right 1/2 + 0.5/2 = 75 %.
    found = effect((COACH,), [Placed(0, 100, 0.0, 0.5)])
    assert found.ends[0, 1] == (pytest.approx(25), pytest.approx(75))


def test_groups_share_as_they_are_told_to() -> None:
    # Rear center at 6.0 × 0.7 + 7.3 × 0.3 = 6.39 m. A mass there loads only the group, 70 to 30.
    found = effect((TAGGED,), [Placed(0, 100, 6.39)])
    assert [found.axle(0, n) for n in (1, 2, 3)] == pytest.approx([0, 70, 30], abs=1e-9)


def test_a_hitch_passes_its_part_on() -> None:
    # 90 kg in the trailer, 1.5 m behind the coupling (x = −2.5): of 4.5 m that is a third on its axles, 60 on the hitch.
    # The hitch hangs at 8 m, 2 m behind the coach's rear axle: front −60 × 2/6 = −20, rear +80.
    found = effect((COACH, TANDEM), [Placed(1, 90, -2.5)])
    assert found.hitch[1] == pytest.approx(60)
    assert [found.axle(1, n) for n in (1, 2)] == pytest.approx([15, 15])
    assert [found.axle(0, n) for n in (1, 2)] == pytest.approx([-20, 80])
    # All 90 kg are the trailer's own, and the 60 on the hitch count in the coach's gross as well.
    assert found.gross == {0: pytest.approx(60), 1: 90}


def test_behind_its_axles_a_trailer_lifts_the_hitch() -> None:
    found = effect((COACH, TANDEM), [Placed(1, 90, 1.5)])
    # 5.5 m behind the coupling: axles 90 × 5.5/4.5 = 110, hitch −20.
    assert found.hitch[1] == pytest.approx(-20)


def test_a_full_trailer_stands_on_its_own_axles() -> None:
    found = effect((COACH, DRAWBAR), [Placed(1, 100, 2.5)])
    assert found.hitch == {}
    assert [found.axle(0, n) for n in (1, 2)] == [0, 0]
    assert found.axle(1, 1) == pytest.approx(50)


def test_bars_bring_load_back_to_the_front() -> None:
    # Hitch 200 kg: the front loses 200 × 2/6 = 66.7. Half of it back: 33.3.
    # M = 0.5 × 200 × 2/(1 + 2/4.5) = 138.46 kg m; off the hitch 138.46/4.5 = 30.77 kg.
    found = bars_effect((COACH, TANDEM), 200, 0.5)
    assert found.axle(0, 1) == pytest.approx(33.33, abs=0.01)
    assert found.hitch[1] == pytest.approx(-30.77, abs=0.01)
    assert found.axle(1, 1) + found.axle(1, 2) == pytest.approx(30.77, abs=0.01)
    assert found.axle(0, 2) == pytest.approx(-64.10, abs=0.01)
    assert found.total == pytest.approx(0, abs=1e-9)


def test_a_liter_of_each() -> None:
    assert PER_LITER_KG == {"water": 1.00, "gasoline": 0.74, "diesel": 0.84, "propane": 0.51, "urea": 1.09}


@pytest.mark.parametrize(
    ("parts", "field"),
    [
        ((Part("Tow", COACH.axles, (1,)), TANDEM), "hitch_m"),
        ((COACH, Part("Trailer", TANDEM.axles, (), pulled=True)), "coupler_m"),
        ((COACH, Part("One", (Support(1, 0, 2, 2),), (1,))), "rig"),
    ],
)
def test_unknown_geometry_is_asked_for(parts: tuple[Part, ...], field: str) -> None:
    with pytest.raises(Refusal) as no:
        effect(parts, [Placed(1, 10, 0)])
    assert no.value.field == field


masses = st.tuples(st.integers(0, 1), st.floats(-500, 2000), st.floats(-4, 9), st.floats(-1, 1))


@given(st.lists(masses, max_size=6))
def test_masses_add_up(items: list[tuple[int, float, float, float]]) -> None:
    found = effect((COACH, TANDEM), [Placed(*i) for i in items])
    assert found.total == pytest.approx(sum(i[1] for i in items), abs=1e-6)
    assert found.gross[1] == pytest.approx(sum(m for v, m, _, _ in items if v == 1), abs=1e-6)


def moment(found: Effect, part: Part, vehicle: int, about_m: float) -> float:
    return sum(found.axle(vehicle, a.number) * (a.x_m - about_m) for a in part.axles)


@given(st.floats(1, 2000), st.floats(-4, 6))
def test_moments_balance_about_every_support(mass: float, x: float) -> None:
    found = effect((COACH, TANDEM), [Placed(1, mass, x)])
    assert moment(found, TANDEM, 1, -4.0) == pytest.approx(mass * (x + 4), abs=1e-6)
    assert moment(found, COACH, 0, 0.0) == pytest.approx(found.hitch[1] * 8.0, abs=1e-6)


@given(st.floats(1, 2000), st.floats(0, 8), st.floats(-0.9, 0.9))
def test_across_too(mass: float, x: float, y: float) -> None:
    found = effect((COACH,), [Placed(0, mass, x, y)])
    across = sum((r - left) / 2 * track for (left, r), track in ((found.ends[0, 1], 2.0), (found.ends[0, 2], 1.8)))
    assert across == pytest.approx(mass * y, abs=1e-6)


@given(st.floats(1, 2000), st.floats(-2, 14), st.floats(2, 8))
def test_a_beam_on_two_supports(mass: float, behind: float, wheelbase: float) -> None:
    front, rear = place_mass(mass, behind, wheelbase)
    assert front + rear == pytest.approx(mass)
    assert rear * wheelbase == pytest.approx(mass * behind, abs=1e-6)
