"""Every way over a scale, each worked by hand in a comment, and what holds for all of them."""

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core.refusal import Refusal
from ballast.core.units import LB_KG
from ballast.core.weighing import Pass, Solved, Spot, Step, Vehicle, Way, guide, solve

COACH = Vehicle("Almagest", ((1, "Front", 2), (2, "Rear", 4)))
TANDEM = Vehicle("Perigee", ((1, "Axle 1", 2), (2, "Axle 2", 2)), pulled=True)
DRAWBAR = Vehicle("Drawbar", ((1, "Front", 2), (2, "Rear", 2)))
BIKE = Vehicle("Parsec", ((1, "Front", 1), (2, "Rear", 1)))


def follow(
    vehicles: tuple[Vehicle, ...], way: Way, readings: list[float], hitch: bool = True, step: float = 10
) -> Solved:
    """The guide's passes in order, with what the scale said."""
    steps = guide(vehicles, way, hitch)
    passes = tuple(Pass(frozenset(s.on), kg, s.apart) for s, kg in zip(steps, readings, strict=False))
    return solve(vehicles, passes, way, step)


def test_axle_by_axle() -> None:
    found = follow((COACH,), "axles", [3390, 6570])
    assert (found.axles[0, 1].whole_kg, found.axles[0, 2].whole_kg) == (3390, 6570)
    assert found.axles[0, 2].left_kg is None
    assert found.unknown == ("the ends of the front axle", "the ends of the rear axle")


def test_cumulative_passes_by_difference() -> None:
    # 9,960 − 3,390 = 6,570
    found = follow((COACH,), "passes", [3390, 9960])
    assert found.axles[0, 2].whole_kg == 6570


def test_left_wheels_only() -> None:
    # Whole: 3,390 and 9,960. Left wheels: 1,690 and 4,850.
    # Front: left 1,690, right 3,390 − 1,690 = 1,700. Rear: left 4,850 − 1,690 = 3,160, right 6,570 − 3,160 = 3,410.
    found = follow((COACH,), "left", [3390, 9960, 1690, 4850])
    assert (found.axles[0, 1].left_kg, found.axles[0, 1].right_kg) == (1690, 1700)
    assert (found.axles[0, 2].left_kg, found.axles[0, 2].right_kg) == (3160, 3410)
    assert found.unknown == ()
    assert found.next is None


def test_every_wheel_end_on_pads() -> None:
    steps = guide((COACH,), "pads", hitch=False)
    assert [s.words for s in steps] == [
        "Front axle, left end on its pad", "Front axle, right end on its pad", "Rear axle, left end on its pad",
        "Rear axle, right end on its pad",
    ]  # fmt: skip
    found = follow((COACH,), "pads", [1690, 1700, 3160, 3410])
    assert (found.axles[0, 2].left_kg, found.axles[0, 2].right_kg) == (3160, 3410)


def test_a_motorcycle_has_no_ends() -> None:
    found = follow((BIKE,), "pads", [168, 236])
    assert (found.axles[0, 1].whole_kg, found.axles[0, 1].left_kg) == (168, None)
    assert found.unknown == ()


def test_a_trailer_hitched_and_alone() -> None:
    # Cumulative, coupled: 3,280 | 10,010 | 11,650 | 13,270. So rear 6,730, trailer 1,640 and 1,620.
    # Coach alone 9,800: hitch 3,280 + 6,730 − 9,800 = 210. Trailer alone 3,480: 3,480 − 3,260 = 220, ten apart.
    found = follow((COACH, TANDEM), "passes", [3280, 10_010, 11_650, 13_270, 9800, 3480])
    assert [found.axles[i, n].whole_kg for i in (0, 1) for n in (1, 2)] == [3280, 6730, 1640, 1620]
    assert found.hitch_kg == {1: 210}
    assert found.working[-1].result.value == 220  # type: ignore[union-attr]
    # √(5 readings that meet: 10,010, 13,270, 9,800, 3,480 …) × 10 kg allows it.
    assert found.doubt == ()


def test_only_the_trailer_alone_gives_the_hitch_too() -> None:
    # Trailer alone 3,480 less its axles coupled, 3,260.
    steps = guide((COACH, TANDEM), "axles", hitch=True)
    read = {"0:1": 3280, "0:2": 6730, "1:1": 1640, "1:2": 1620, "alone1": 3480}
    passes = tuple(Pass(frozenset(s.on), read[s.key], s.apart) for s in steps if s.key in read)
    assert solve((COACH, TANDEM), passes, "axles", 10).hitch_kg == {1: 220}


def test_a_trailer_that_lifts_the_hitch_stays_negative() -> None:
    found = follow((COACH, TANDEM), "passes", [3400, 9750, 11_650, 13_270, 9800])
    assert found.hitch_kg == {1: -50}


def test_full_trailers_lay_nothing_on_a_hitch() -> None:
    found = follow((COACH, DRAWBAR), "passes", [3390, 9960, 11_960, 13_960])
    assert found.hitch_kg == {}
    assert [s.key for s in guide((COACH, DRAWBAR), "passes", hitch=True)] == ["0:1", "0:2", "1:1", "1:2"]


def test_what_is_missing_and_what_one_more_pass_would_tell() -> None:
    # Coupled up to the coach's rear axle only: the trailer and the hitch are open.
    found = follow((COACH, TANDEM), "passes", [3280, 10_010])
    assert "axle 1 of Perigee" in found.unknown
    assert found.hitch_kg == {1: None}
    assert found.next is not None
    assert found.next_tells
    # Everything but the coach alone: that one pass tells the hitch load.
    found = follow((COACH, TANDEM), "passes", [3280, 10_010, 11_650, 13_270])
    assert "the load of Perigee on the hitch" in found.unknown
    half = follow((COACH,), "left", [3390, 9960, 1690])
    assert half.unknown == ("the ends of the rear axle",)
    assert half.next is not None
    assert half.next.key == "0:2L"
    assert half.next_tells == "the ends of the rear axle"


def on(*spots: tuple[int, int, str]) -> frozenset[Spot]:
    return frozenset(Spot(*s) for s in spots)  # type: ignore[arg-type]


def test_the_reading_that_the_rest_contradicts_is_named() -> None:
    # Ends 1,690 + 1,700 and 3,160 + 3,410; whole axles 3,390 and 6,570; the whole rig 9,960. One end reads 100 too much.
    everything = on((0, 1, "L"), (0, 1, "R"), (0, 2, "L"), (0, 2, "R"))
    passes = (
        Pass(on((0, 1, "L")), 1790), Pass(on((0, 1, "R")), 1700), Pass(on((0, 2, "L")), 3160), Pass(on((0, 2, "R")), 3410),
        Pass(on((0, 1, "L"), (0, 1, "R")), 3390), Pass(on((0, 2, "L"), (0, 2, "R")), 6570), Pass(everything, 9960),
    )  # fmt: skip
    found = solve((COACH,), passes, "pads", 10)
    # Left and right end of the front axle stand in the same equations: which of the two is beyond the ticket.
    assert found.doubt == (0, 1)
    agreeing = (Pass(on((0, 1, "L")), 1690), *passes[1:])
    assert solve((COACH,), agreeing, "pads", 10).doubt == ()


def test_three_readings_of_ten_kilograms_may_be_seventeen_apart() -> None:
    # resolution × √3 = 17.3 kg
    def doubt(whole: float) -> tuple[int, ...]:
        passes = (
            Pass(on((0, 1, "L")), 1690), Pass(on((0, 1, "R")), 1700), Pass(on((0, 1, "L"), (0, 1, "R")), whole),
        )  # fmt: skip
        return solve((COACH,), passes, "pads", 10).doubt

    assert doubt(3407) == ()
    assert doubt(3408) == (0, 1, 2)


@pytest.mark.parametrize(
    ("passes", "field", "words"),
    [
        ((Pass(on((0, 1, "L"), (0, 1, "R")), 3390), Pass(on((0, 1, "L")), 3400)), "passes.1", "cannot fall"),
        ((Pass(on((0, 3, "L")), 3390),), "passes.0", "has not"),
        ((Pass(frozenset(), 3390),), "passes.0", "has not"),
        ((Pass(on((0, 1, "L")), 100, 1),), "passes.0", "has not"),
    ],
)
def test_what_no_scale_can_say_is_refused(passes: tuple[Pass, ...], field: str, words: str) -> None:
    with pytest.raises(Refusal, match=words) as no:
        solve((COACH,), passes, "passes", 10)
    assert no.value.field == field


def test_uncoupled_passes_do_not_mix_vehicles() -> None:
    with pytest.raises(Refusal, match="Uncoupled"):
        solve((COACH, TANDEM), (Pass(on((0, 1, "L"), (1, 1, "L")), 900, 1),), "passes", 10)


ends = st.floats(100, 5000)


def truth(loads: list[float]) -> dict[Spot, float]:
    spots = [s for i, v in enumerate((COACH, TANDEM)) for s in v.spots(i)]
    return dict(zip(spots, loads, strict=True))


def weighed(step: Step, loads: dict[Spot, float], hitch: float) -> float:
    """What a perfect scale would say: uncoupled, the coach's rear axle is lighter by the hitch load."""
    if step.apart == 0:
        return sum(loads[s] for s in step.on)
    if any(s.vehicle == 1 for s in step.on):
        return sum(loads[s] for s in step.on if s.axle) + hitch
    return sum(loads[s] - (hitch / 2 if s.axle == 2 else 0) for s in step.on)


@given(
    st.lists(ends, min_size=8, max_size=8),
    st.floats(-90, 190),
    st.randoms(),
    st.sampled_from(["passes", "left", "pads"]),
)
def test_passes_in_any_order_give_the_same_ends(
    loads: list[float], hitch: float, shuffle: random.Random, way: Way
) -> None:
    real = truth(loads)
    steps = list(guide((COACH, TANDEM), way, hitch=True))
    passes = [Pass(frozenset(s.on), weighed(s, real, hitch), s.apart) for s in steps]
    shuffle.shuffle(passes)
    found = solve((COACH, TANDEM), tuple(passes), way, 1)
    assert found.doubt == ()
    assert found.hitch_kg[1] == pytest.approx(hitch, abs=0.01)
    for (i, number), read in found.axles.items():
        left, right = real[Spot(i, number, "L")], real[Spot(i, number, "R")]
        if way == "passes":
            assert read.whole_kg == pytest.approx(left + right, abs=0.01)
        else:
            assert read.left_kg == pytest.approx(left, abs=0.01)
            assert read.right_kg == pytest.approx(right, abs=0.01)


@given(st.lists(ends, min_size=8, max_size=8))
def test_pounds_and_kilograms_give_the_same_ends(loads: list[float]) -> None:
    real = truth(loads)
    steps = guide((COACH, TANDEM), "pads", hitch=False)
    kilograms = tuple(Pass(frozenset(s.on), weighed(s, real, 0)) for s in steps)
    pounds = tuple(Pass(p.on, (p.kg / LB_KG) * LB_KG) for p in kilograms)
    one, other = (solve((COACH, TANDEM), p, "pads", 1) for p in (kilograms, pounds))
    for key, read in one.axles.items():
        assert read.left_kg == pytest.approx(other.axles[key].left_kg, abs=0.01)
