"""Refined by what tires show: the chalk trial, wear with its errors, rotation and its air."""

import dataclasses
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core import refine as core
from ballast.core.refusal import Refusal
from ballast.core.units import PSI_KPA
from tests.core.samples import FIELD

HIGH = core.Marks("left", "gone", "left")
LOW = core.Marks("gone", "left", "gone")
EVEN = core.Marks("gone", "gone", "gone")
NOTHING = core.Marks("left", "left", "left")
EDGE = core.Marks("faint", "gone", "faint")
BOUNDS = core.Bounds(34 * PSI_KPA, 80 * PSI_KPA, 1.0 * PSI_KPA)


def passed(psi: float, marks: core.Marks, right: core.Marks | None = None, *missing: str) -> core.Pass:
    return core.Pass(psi * PSI_KPA, marks, right or marks, missing)


def psi(value: float | None) -> float | None:
    return None if value is None else round(value / PSI_KPA, 6)


@pytest.mark.parametrize("case", FIELD["wear"], ids=str)
def test_wear_with_its_error_and_its_limit(case: dict[str, Any]) -> None:
    found = core.rate([(km, mm) for km, mm in case["points_km_mm"]], case["limit_mm"])
    assert found.mm_per_1000_km == pytest.approx(case["mm_per_1000_km"], abs=1e-4)
    assert found.standard_error == pytest.approx(case["standard_error"], abs=1e-4)
    assert found.limit_at_km == pytest.approx(case["limit_at_km"], abs=1)


def test_a_trial_goes_down_reverses_and_ends_even() -> None:
    series = [passed(48, HIGH)]
    found = core.verdict(series, BOUNDS, rear=False)
    # Three psi below 50.
    assert (found.decision, psi(found.next_kpa), found.done) == ("lower", 45, False)
    assert found.words.show("us") == "Centre gone, shoulders left: too high. Next 45 psi."
    series.append(passed(45, HIGH))
    assert psi(core.verdict(series, BOUNDS, rear=False).next_kpa) == 42
    series.append(passed(42, LOW))
    # Turned once: half of three, to a whole psi.
    found = core.verdict(series, BOUNDS, rear=False)
    assert (found.decision, psi(found.next_kpa)) == ("higher", 44)
    series.append(passed(44, HIGH))
    # Turned twice: three quarters of a psi is less than this gauge tells.
    assert core.verdict(series, BOUNDS, rear=False).done
    assert core.verdict([*series[:3], passed(44, EVEN)], BOUNDS, rear=False) == core.Verdict(
        "even", core.verdict([passed(44, EVEN)], BOUNDS, rear=False).words, None, True
    )


def test_from_fifty_psi_on_a_step_is_five() -> None:
    assert psi(core.verdict([passed(60, HIGH)], BOUNDS, rear=False).next_kpa) == 55


def test_a_trial_never_goes_below_what_the_load_needs() -> None:
    found = core.verdict([passed(36, HIGH)], BOUNDS, rear=False)
    # 33 would be below the floor of 34: to the floor, and no further.
    assert psi(found.next_kpa) == 34
    stopped = core.verdict([passed(36, HIGH), passed(34, HIGH)], BOUNDS, rear=False)
    assert (stopped.decision, stopped.next_kpa, stopped.done) == ("bound", None, True)
    assert "below 34 psi the load is not carried" in stopped.words.show("us")
    # Even where the chalk is even.
    below = core.verdict([passed(32, EVEN)], BOUNDS, rear=False)
    assert (below.decision, psi(below.next_kpa)) == ("bound", 34)
    up = core.verdict([passed(79, LOW)], BOUNDS, rear=False)
    assert (up.decision, up.done) == ("bound", True)


@given(
    passes=st.lists(
        st.tuples(st.floats(34, 80), st.sampled_from([HIGH, LOW, NOTHING, EDGE, EVEN])), min_size=1, max_size=8
    ),
    rear=st.booleans(),
)  # fmt: skip
def test_no_proposal_leaves_the_bounds(passes: list[tuple[float, core.Marks]], rear: bool) -> None:
    found = core.verdict([passed(at, marks) for at, marks in passes], BOUNDS, rear)
    assert found.next_kpa is None or 34 * PSI_KPA - 1e-6 <= found.next_kpa <= 80 * PSI_KPA + 1e-6


@pytest.mark.parametrize(
    ("one", "decision", "done"),
    [
        (passed(40, NOTHING), "longer", False),
        (passed(40, core.Marks("gone", "faint", "left")), "alignment", True),
        (passed(40, HIGH, LOW), "differ", True),
        (passed(40, HIGH, NOTHING), "longer", False),
        (passed(40, HIGH, None, "cold"), "void", False),
        (passed(40, EVEN), "even", True),
    ],
)
def test_what_a_pass_says(one: core.Pass, decision: str, done: bool) -> None:
    found = core.verdict([one], BOUNDS, rear=False)
    assert (found.decision, found.done) == (decision, done)


def test_a_faint_edge_on_a_rear_axle_is_done_in_front_it_is_not() -> None:
    assert core.verdict([passed(40, EDGE)], BOUNDS, rear=True).decision == "even"
    assert core.verdict([passed(40, EDGE)], BOUNDS, rear=False).decision == "lower"


def test_what_is_said_before_and_what_voids_it() -> None:
    told = dataclasses.replace(BOUNDS, lamp_kpa=30 * PSI_KPA, placard_kpa=41 * PSI_KPA)
    assert [n.show("us") for n in core.verdict([], told, rear=False).notes] == [
        "The lamp lights below 30 psi: a trial stays above it.",
        "Below the placard of 41 psi it is a trial, with its reason.",
    ]
    void = core.verdict([passed(40, HIGH, None, "cold", "dry")], BOUNDS, rear=False)
    assert "the tires are cold, the tread is dry" in void.words.text
    assert core.asked_again(core.Since(15, 20)) == ()
    assert core.asked_again(core.Since(new_tires=True, other_rim=True, tread_left=0.4)) == (
        "other tires since", "another rim since", "half of the tread is gone since",
    )  # fmt: skip


def depths(*rows: tuple[float, float, float, float]) -> list[core.Depth]:
    return [core.Depth(*row) for row in rows]


def test_the_shape_of_wear_is_a_third_voice() -> None:
    even = core.worn(depths((0, 8, 8, 8), (5000, 7.1, 7.2, 7.1), (10000, 6.3, 6.2, 6.3), (15000, 5.4, 5.5, 5.4)))
    assert even.shape == "even"
    centre = core.worn(depths((0, 8, 8, 8), (5000, 7.5, 6.9, 7.5), (10000, 7.0, 5.8, 7.0), (15000, 6.5, 4.7, 6.5)))
    assert (centre.shape, centre.words.text.split(":")[0]) == ("centre", "The centre wears faster")
    assert centre.fastest is not None
    # 3.3 mm in 15,000 km.
    assert centre.fastest.mm_per_1000_km == pytest.approx(0.22)
    # (4.7 − 1.6)/0.22 × 1,000 = 14,091 km more.
    assert core.limit_words(centre.fastest, 15000, None).show("metric").startswith("At its limit in about 14,09")
    shoulders = core.worn(depths((0, 8, 8, 8), (5000, 7, 7.6, 7), (10000, 6, 7.2, 6), (15000, 5, 6.8, 5)))
    assert shoulders.shape == "shoulders"
    side = core.worn(depths((0, 8, 8, 8), (5000, 6.8, 7.4, 7.5), (10000, 5.6, 6.8, 7), (15000, 4.4, 6.2, 6.5)))
    assert (side.shape, "inner shoulder" in side.words.text) == ("one side", True)
    few = core.worn(depths((0, 8, 8, 8), (5000, 7, 7, 7)))
    assert (few.shape, few.fastest) == ("unknown", None)
    for points in (((0, 8), (1, 7)), ((5, 8), (5, 7), (5, 6))):
        with pytest.raises(Refusal):
            core.rate(points)


def tires(**more: Any) -> list[core.Turned]:
    return [core.Turned(c, int(c[0]), c[1], "265/70R17", **more) for c in ("1L", "1R", "2L", "2R")]


def test_patterns_that_the_tires_allow() -> None:
    free = [p.name for p in core.patterns(tires())]
    assert free == ["Front to back", "Crosswise", "Back straight, front across", "Side to side"]
    assert [p.name for p in core.patterns(tires(directional=True))] == ["Front to back"]
    staggered = [dataclasses.replace(t, size="285/70R17") if t.axle == 2 else t for t in tires()]
    assert [p.name for p in core.patterns(staggered)] == ["Side to side"]
    spare = core.Turned("S1", None, None, "265/70R17")
    assert "Spare taken in" in [p.name for p in core.patterns([*tires(), spare])]
    small = dataclasses.replace(spare, full_size=False)
    assert "Spare taken in" not in [p.name for p in core.patterns([*tires(), small])]
    assert core.patterns(tires()[:3]) == ()


def test_a_rotation_makes_its_air_job() -> None:
    moves = {"1L": "2L", "2L": "1L", "1R": "2R", "2R": "1R"}
    targets = {"1L": 262.0, "1R": 262.0, "2L": 310.0, "2R": 310.0}
    # The target stays with the axle, the tire moves.
    assert core.air_jobs(moves, targets) == (
        core.AirJob("1L", 310, 262), core.AirJob("1R", 310, 262), core.AirJob("2L", 262, 310), core.AirJob("2R", 262, 310),
    )  # fmt: skip
    assert core.air_jobs(moves, targets | {"1L": None}) == (core.AirJob("1R", 310, 262), core.AirJob("2R", 262, 310))


def test_when_a_rotation_is_due() -> None:
    assert core.due(None, False, None) is None
    assert core.due(9000, False, None) is None
    coarse = core.due(9000, True, None)
    assert coarse is not None
    assert coarse.show("metric") == "Rotate: 9,000 km since the last."
    apart = core.due(100, False, 1.6)
    assert apart is not None
    assert apart.text == "Rotate: the axles differ by 1.6 mm of tread."
