import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core.refusal import Refusal
from ballast.core.units import LB_KG
from ballast.core.weighing import (
    AxleLimits,
    AxleReading,
    RigLimits,
    Whole,
    cargo_left,
    leveling_kg,
    overload_words,
    weigh_axle,
    weigh_rig,
)

FRONT = AxleLimits(1, "Front", 2, 2.08, 4200, 2180)
REAR = AxleLimits(2, "Rear", 4, 1.85, 7600, 2060)
BIKE = AxleLimits(1, "Front", 1, 0.2, 180, 236)
loads = st.floats(100, 9000)


def test_both_ends_of_duals() -> None:
    found = weigh_axle(REAR, AxleReading(left_kg=3160, right_kg=3410))
    assert (found.total_kg, found.heavier, found.heavier_kg, found.per_tire_kg) == (6570, "right", 3410, 1705)
    assert not found.assumed
    # |3160 − 3410| / 6570 = 3.8 %: below the note.
    assert found.imbalance == pytest.approx(0.03805, abs=1e-5)
    assert found.notes == ()
    by_name = {c.what: c for c in found.checks}
    assert by_name["gawr"].margin_kg == 7600 - 6570
    assert by_name["right tires"].margin_kg == 2 * 2060 - 3410
    assert by_name["left tires"].share == pytest.approx(3160 / 4120)


def test_a_whole_axle_puts_more_on_an_end_it_did_not_weigh() -> None:
    found = weigh_axle(FRONT, AxleReading(whole_kg=3400))
    assert found.assumed
    assert found.per_tire_kg == pytest.approx(1785)  # 3,400 × 0.525
    assert found.left_kg is None
    assert found.heavier is None
    assert [c.what for c in found.checks] == ["gawr", "tire"]
    assert any("heavy corner" in n.text for n in found.notes)


@pytest.mark.parametrize(
    "read", [AxleReading(6570, 3160, None), AxleReading(6570, None, 3410), AxleReading(6570, 3160, 3410)]
)
def test_two_of_three_give_the_third(read: AxleReading) -> None:
    found = weigh_axle(REAR, read)
    assert (found.left_kg, found.right_kg, found.total_kg) == (3160, 3410, 6570)


@pytest.mark.parametrize("side", ["left_kg", "right_kg"])
def test_one_end_alone_leaves_the_axle_unknown(side: str) -> None:
    found = weigh_axle(REAR, AxleReading(**{side: 3160}))
    assert found.total_kg is None
    assert found.per_tire_kg is None
    # What is known is still held against its tires.
    assert [c.load_kg for c in found.checks] == [3160]


def test_nothing_weighed_is_unknown_not_zero() -> None:
    found = weigh_axle(REAR, AxleReading())
    assert (found.total_kg, found.per_tire_kg, found.checks) == (None, None, ())


def test_one_wheel_has_no_ends() -> None:
    found = weigh_axle(BIKE, AxleReading(whole_kg=168))
    assert found.per_tire_kg == 168
    assert not found.assumed
    with pytest.raises(Refusal, match="no ends") as no:
        weigh_axle(BIKE, AxleReading(left_kg=80))
    assert no.value.field == "left_kg"


def test_contradictions_are_told() -> None:
    with pytest.raises(Refusal, match="heavier than its whole axle"):
        weigh_axle(REAR, AxleReading(whole_kg=3000, left_kg=3160))
    with pytest.raises(Refusal, match="should agree") as no:
        weigh_axle(REAR, AxleReading(6000, 3160, 3410))
    assert no.value.field == "whole_kg"
    # Three readings of a 20 kg scale may be 20 × √3 = 34.6 kg apart.
    assert weigh_axle(REAR, AxleReading(6600, 3160, 3410), 20).total_kg == 6570


def test_over_is_over_by_one_kilogram() -> None:
    at = weigh_rig((FRONT,), {1: AxleReading(left_kg=2100, right_kg=2100)}, RigLimits(4200))
    assert at.over == ()
    over = weigh_rig((FRONT,), {1: AxleReading(left_kg=2100, right_kg=2101)}, RigLimits(4200))
    assert [c.what for c in over.over] == ["gvwr", "gawr"]
    assert overload_words(over.over[0]).show("metric") == "Gross weight rating: over by 1 kg (4,201 kg on 4,200 kg)"


def test_an_end_over_its_tires_shows_where_the_axle_does_not() -> None:
    # 7,000 kg on duals of 4 × 2,060 kg and a rating of 7,600: fine as a whole, not at its right end.
    found = weigh_axle(REAR, AxleReading(left_kg=2850, right_kg=4150))
    assert [c.what for c in found.checks if c.over] == ["right tires"]


@pytest.mark.parametrize(("left", "right", "words"), [(950, 1050, "leans"), (900, 1100, "much heavier")])
def test_imbalance_from_five_and_ten_percent(left: float, right: float, words: str) -> None:
    found = weigh_axle(FRONT, AxleReading(left_kg=left, right_kg=right))
    assert any(words in n.text for n in found.notes)
    assert all("estimate" in n.text for n in found.notes)


def test_leveling_by_hand() -> None:
    # Two ends 200 kg apart on a track of 2 m: 100 kg across the whole track, 200 kg across half of it.
    assert leveling_kg(900, 1100, 2.0, 2.0) == 100
    assert leveling_kg(900, 1100, 2.0, 1.0) == 200


def test_gross_is_unknown_until_every_axle_is_weighed() -> None:
    found = weigh_rig((FRONT, REAR), {2: AxleReading(whole_kg=7000)}, RigLimits(6500))
    assert found.total_kg is None
    assert found.checks == ()
    words = [n.text for n in found.notes]
    assert "Not weighed: front" in words[0]
    assert "already" in words[1]


def test_refusals_of_a_rig_name_the_axle() -> None:
    with pytest.raises(Refusal) as no:
        weigh_rig((FRONT, REAR), {2: AxleReading(whole_kg=10, left_kg=3160)}, RigLimits())
    assert no.value.field == "axles.1.left_kg"


def test_unknown_tires_are_told() -> None:
    bare = AxleLimits(1, "Front", 2, 2.08, None, None)
    found = weigh_axle(bare, AxleReading(whole_kg=3000))
    assert found.checks == ()
    assert any("not known" in n.text for n in found.notes)


def test_a_trailers_gross_is_its_axles_and_its_hitch_load() -> None:
    limits, rig = (AxleLimits(1, "Axle", 2, 1.9, 1500, 970),), RigLimits(1600, None, 150, pulled=True)
    unknown = weigh_rig(limits, {1: AxleReading(left_kg=690, right_kg=720)}, rig)
    assert unknown.total_kg is None
    assert any("hitch" in n.text for n in unknown.notes)
    known = weigh_rig(limits, {1: AxleReading(left_kg=690, right_kg=720)}, rig, hitch_kg=160, bars="slack")
    assert known.total_kg == 1570
    assert [(c.what, c.margin_kg) for c in known.checks] == [("gvwr", 30), ("hitch", -10)]
    # With the bars engaged the hitch is not judged; the gross is.
    engaged = weigh_rig(limits, {1: AxleReading(whole_kg=1410)}, rig, hitch_kg=160, bars="engaged")
    assert [c.what for c in engaged.checks] == ["gvwr"]
    assert any("slack" in n.text for n in engaged.notes)


def test_a_trailer_that_lifts_its_hitch_is_kept_and_warned_of() -> None:
    limits, rig = (AxleLimits(1, "Axle", 2, 1.9, 1500, 970),), RigLimits(1600, None, 150, pulled=True)
    found = weigh_rig(limits, {1: AxleReading(whole_kg=1410)}, rig, hitch_kg=-50, bars="slack")
    assert found.total_kg == 1360
    assert any("dangerous" in n.text for n in found.notes)


def test_a_lifted_axle_carries_nothing_and_says_nothing_of_its_tires() -> None:
    found = weigh_rig((FRONT, REAR), {1: AxleReading(whole_kg=3000), 2: AxleReading(lifted=True)}, RigLimits(9000))
    assert found.total_kg == 3000
    assert found.axles[1].per_tire_kg is None
    with pytest.raises(Refusal, match="up") as no:
        weigh_axle(REAR, AxleReading(left_kg=20, lifted=True))
    assert no.value.field == "left_kg"


def test_wheels_have_ratings_of_their_own() -> None:
    limits = AxleLimits(1, "Front", 2, 2.08, 4200, 2180, wheel_max_kg=1800)
    found = weigh_axle(limits, AxleReading(left_kg=1700, right_kg=1810))
    assert {c.what: c.over for c in found.checks} == {
        "gawr": False, "left tires": False, "right tires": False, "left wheels": False, "right wheels": True,
    }  # fmt: skip


def test_a_combination_is_held_against_its_own_rating() -> None:
    reads = {1: AxleReading(whole_kg=3280), 2: AxleReading(whole_kg=6730)}
    found = weigh_rig((FRONT, REAR), reads, RigLimits(11_800, 13_200, 300), hitch_kg=210, whole=Whole(13_270))
    # The hitch load already stands on the tow vehicle's axles.
    assert found.total_kg == 10_010
    assert [(c.what, c.margin_kg) for c in found.checks] == [("gvwr", 1790), ("gcwr", -70), ("hitch", 90)]


def test_cargo_is_bound_by_the_tightest_place() -> None:
    assert cargo_left((900, -20), (1, 1)) == 0
    with pytest.raises(Refusal):
        cargo_left((900,), (0,))


@given(loads, loads)
def test_the_heavier_end_rules(left: float, right: float) -> None:
    found = weigh_axle(REAR, AxleReading(left_kg=left, right_kg=right))
    assert found.per_tire_kg == pytest.approx(max(left, right) / 2)
    assert found.per_tire_kg * 4 >= found.total_kg - 1e-6  # type: ignore[operator]


@given(loads, loads)
def test_pounds_and_kilograms_give_the_same_margins(left: float, right: float) -> None:
    metric = weigh_axle(REAR, AxleReading(left_kg=left, right_kg=right))
    pounds = weigh_axle(REAR, AxleReading(left_kg=left / LB_KG * LB_KG, right_kg=right / LB_KG * LB_KG))
    for one, other in zip(metric.checks, pounds.checks, strict=True):
        assert one.margin_kg == pytest.approx(other.margin_kg, abs=1e-6)
