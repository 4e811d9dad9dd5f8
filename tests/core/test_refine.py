"""Refined by what tires show: the chalk trial, wear with its errors, rotation and its air."""

import dataclasses
import datetime as dt
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core import refine as core
from ballast.core.refusal import Refusal
from ballast.core.rigs import Axle, Rig, walking_order
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
    return [core.Depth(row[0], core.Tread(*row[1:])) for row in rows]


def test_the_shape_of_wear_is_a_third_voice() -> None:
    even = core.worn(depths((0, 8, 8, 8), (5000, 7.1, 7.2, 7.1), (10000, 6.3, 6.2, 6.3), (15000, 5.4, 5.5, 5.4)))
    assert even.shape == "even"
    centre = core.worn(depths((0, 8, 8, 8), (5000, 7.5, 6.9, 7.5), (10000, 7.0, 5.8, 7.0), (15000, 6.5, 4.7, 6.5)))
    assert (centre.shape, centre.words.text.split(":")[0]) == ("centre", "The centre wears faster")
    assert centre.fastest is not None
    # 3.3 mm in 15,000 km.
    assert centre.fastest.mm_per_1000_km == pytest.approx(0.22)
    # (4.7 − 1.6)/0.22 × 1,000 = 14,091 km more.
    assert core.limit_words(centre.fastest, 15000).show("metric").startswith("At its limit in about 14,09")
    shoulders = core.worn(depths((0, 8, 8, 8), (5000, 7, 7.6, 7), (10000, 6, 7.2, 6), (15000, 5, 6.8, 5)))
    assert shoulders.shape == "shoulders"
    side = core.worn(depths((0, 8, 8, 8), (5000, 6.8, 7.4, 7.5), (10000, 5.6, 6.8, 7), (15000, 4.4, 6.2, 6.5)))
    assert (side.shape, "inner shoulder" in side.words.text) == ("one side", True)
    few = core.worn(depths((0, 8, 8, 8), (5000, 7, 7, 7)))
    assert (few.shape, few.fastest) == ("unknown", None)
    for points in (((0, 8), (1, 7)), ((5, 8), (5, 7), (5, 6))):
        with pytest.raises(Refusal):
            core.rate(points)


def pickup(gvwr_kg: float = 3000) -> Rig:
    return Rig("pickup", (Axle(1, 0, 1.7, 2), Axle(2, 3.5, 1.7, 2)), gvwr_kg=gvwr_kg)


def four(**more: Any) -> list[core.Turned]:
    return [core.Turned(c, "265/70R17", **more) for c in ("1L", "1R", "2L", "2R")]


def places(**of_rear: Any) -> list[core.Place]:
    rear = {"size": "265/70R17"} | of_rear
    front = [core.Place(c, 1, c[1], "265/70R17", load_kg=600, target_kpa=240) for c in ("1L", "1R")]
    return front + [core.Place(c, 2, c[1], **rear) for c in ("2L", "2R")]


def keys(tires: list[core.Turned], at: list[core.Place]) -> list[str]:
    return [p.key for p in core.patterns(pickup(), tires, at)]


def test_patterns_that_the_tires_allow() -> None:
    assert keys(four(one_way=False), places()) == ["sides", "front-rear", "cross"]
    assert keys(four(one_way=True), places()) == ["front-rear"]
    staggered = [dataclasses.replace(t, size="285/70R17") if t.code[0] == "2" else t for t in four()]
    assert keys(staggered, places(size="285/70R17")) == ["sides"]
    spare, its_place = core.Turned("S1", "265/70R17"), core.Place("S1", None, None, "265/70R17")
    assert "cross-spare" in keys([*four(), spare], [*places(), its_place])
    small = dataclasses.replace(spare, size="T155/90D16")
    assert "cross-spare" not in keys([*four(), small], [*places(), dataclasses.replace(its_place, size=small.size)])
    # A wheel without a tire is moved by no pattern.
    assert keys(four()[:3], places()) == []


def test_duals_change_sides_as_pairs() -> None:
    rig = Rig("coach", (Axle(1, 0, 2.08, 2), Axle(2, 6.1, 1.85, 4)), gvwr_kg=11800)
    wheels = walking_order(rig.axles, rig.kind)
    at = [core.Place(w.code, w.axle, w.side, "245/70R19.5") for w in wheels]
    tires = [core.Turned(w.code, "245/70R19.5", one_way=False) for w in wheels]
    (sides,) = core.patterns(rig, tires, at)
    assert (sides.key, sides.moves["2Lo"], sides.moves["2Li"]) == ("sides", "2Ro", "2Ri")
    other = [dataclasses.replace(t, size="225/70R19.5") if t.code == "2Li" else t for t in tires]
    assert core.patterns(rig, other, at) == ()


def said(tire: core.Turned, **of_rear: Any) -> tuple[list[str], list[str]]:
    judged = core.judge({"1L": "2R"}, [tire], places(**of_rear))
    return [p.show("metric") for p in judged.refused], [p.show("metric") for p in judged.unsure]


def test_what_keeps_a_tire_from_a_wheel() -> None:
    tire = core.Turned("1L", "265/70R17", one_way=False, single_kg=900, dual_kg=800, most_kpa=300, tread_mm=3.0)
    known = {"load_kg": 850, "target_kpa": 280}
    assert said(tire, **known) == ([], [])
    # Over what it may carry, by one kilogram; duals carry less.
    assert said(tire, load_kg=901)[0] == ["2R asks 901 kg of a tire; the tire at 1L may carry 900 kg there."]
    assert said(tire, load_kg=850, row="dual")[0] == [
        "2R asks 850 kg of a tire; the tire at 1L may carry 800 kg there."
    ]
    assert said(tire, load_kg=850, target_kpa=301)[0] == [
        "2R is kept at 301 kPa; the tire at 1L bears 300 kPa at most."
    ]
    assert said(tire, **known, least_mm=3.2)[0] == [
        "2R asks 3.2 mm (4/32 in) of tread; the tire at 1L has 3.0 mm (4/32 in)."
    ]
    assert said(dataclasses.replace(tire, one_way=True), **known)[0] == [
        "2R is on the other side; the tire at 1L runs one way only and stays on its own."
    ]
    # What is not known is neither allowed in silence nor forbidden.
    refused, unsure = said(core.Turned("1L", "265/70R17"), **known)
    assert (refused, len(unsure)) == ([], 2)
    assert "look for an arrow first" in unsure[0]
    assert "is not known" in unsure[1]


def test_a_heavy_steer_axle_asks_for_more_tread() -> None:
    assert [core.least_mm(pickup(), n) for n in (1, 2, None)] == [1.6, 1.6, 1.6]
    assert [core.least_mm(pickup(9000), n) for n in (1, 2, None)] == [3.2, 1.6, 1.6]
    trailer = Rig("trailer", (Axle(1, 0, 1.8, 2),), gvwr_kg=9000)
    assert core.least_mm(trailer, 1) == 1.6


def test_what_was_done_to_a_tire() -> None:
    core.check_event("plug", "", None)
    assert "balance" in core.POINTS_AT["cupped"]
    for kind, field in (("cut", "words"), ("other", "words"), ("retread", "tread")):
        with pytest.raises(Refusal) as no:
            core.check_event(kind, "", None)  # type: ignore[arg-type]
        assert no.value.field == field
    day = dt.date
    assert core.anew_on([("plug", day(2026, 5, 1))]) is None
    assert core.anew_on([("retread", day(2025, 5, 1)), ("retread", day(2026, 5, 1))]) == day(2026, 5, 1)


def test_since_when_a_tire_runs_by_one_odometer() -> None:
    day = dt.date
    moved = (core.Stay(1, day(2025, 1, 1), day(2025, 6, 1)), core.Stay(1, day(2025, 6, 1), None))
    assert core.unbroken_from(moved) == day(2025, 1, 1)
    # In the store for a month, or from another rig: how far it ran is not known.
    stored = (moved[0], core.Stay(1, day(2025, 7, 1), None))
    assert core.unbroken_from(stored) == day(2025, 7, 1)
    assert core.unbroken_from((core.Stay(2, day(2025, 1, 1), day(2025, 6, 1)), moved[1])) == day(2025, 6, 1)
    assert core.unbroken_from(moved, day(2025, 9, 1)) == day(2025, 9, 1)
    assert core.unbroken_from(()) is None
    assert core.unbroken_from(moved[:1]) is None


def test_a_rotation_makes_its_air_job() -> None:
    moves = {"1L": "2L", "2L": "1L", "1R": "2R", "2R": "1R"}
    targets = {"1L": 262.0, "1R": 262.0, "2L": 310.0, "2R": 310.0}
    # The target stays with the axle, the tire moves.
    assert core.air_jobs(moves, targets) == (
        core.AirJob("1L", 310, 262), core.AirJob("1R", 310, 262), core.AirJob("2L", 262, 310), core.AirJob("2R", 262, 310),
    )  # fmt: skip
    # A target that is not known is no zero, and no reason to pass its wheel by.
    assert core.air_jobs(moves, targets | {"1L": None})[0] == core.AirJob("1L", 310, None)
    assert core.air_jobs(moves, dict.fromkeys(targets, 262.0)) == ()


def test_when_a_rotation_is_due() -> None:
    assert core.due(None, False, None) is None
    assert core.due(9000, False, None) is None
    # A tread of which it is not known whether it is coarse counts as coarse.
    for tread in (True, None):
        coarse = core.due(9000, tread, None)
        assert coarse is not None
        assert coarse.show("metric") == "Rotate: 9,000 km since the last."
    assert core.apart_mm({1: (6.0,), 2: ()}) is None
    apart = core.due(100, False, 1.6)
    assert apart is not None
    assert apart.text == "Rotate: the axles differ by 1.6 mm (2/32 in) of tread."
