"""A pressure for an axle that nobody weighed: the placard's row, as rated, one's own between bounds, a trial with its reason."""

from dataclasses import replace

import pytest

from ballast.core.tables import STEPS
from ballast.core.targets import AxleCase, Policy, axle_target, limits_of_own, range_refused, ranged
from ballast.core.weighing import Check

POLICY = Policy(0.08, STEPS["5 kPa"])
# A car's axle of 1,000 kg on tires of 615 kg at 350 kPa: 1,000 × 0.525 = 525 kg, 350 × 525/615 = 298.78 kPa as rated.
CAR = AxleCase(
    1, "Front", "single", 1, None, tire_max_kg=615, sidewall_max_kpa=350, placard_kpa=320, placard_is_floor=True,
    placard_light_kpa=310, gawr_kg=1000,
)  # fmt: skip


def asked(case: AxleCase, kpa: float) -> str:
    """What is said to a pressure of one's own; empty: it is taken."""
    no = limits_of_own(case, axle_target(case, POLICY), kpa)
    return no.show("metric") if no else ""


@pytest.mark.parametrize(("light", "kpa"), [(False, 320), (True, 310)])
def test_the_placards_row_by_the_load_state(light: bool, kpa: float) -> None:
    found = axle_target(replace(CAR, light_row=light), POLICY)
    assert (found.state, found.school, found.target_kpa) == ("provisional", "placard", kpa)
    assert found.as_rated_kpa == pytest.approx(298.78, abs=0.01)


def test_one_row_stands_for_both_where_the_label_gives_one() -> None:
    assert axle_target(replace(CAR, light_row=True, placard_light_kpa=None), POLICY).target_kpa == 320


@pytest.mark.parametrize(
    ("case", "kpa", "words"),
    [
        # Light: the row to 1.2 times it, 384, and never above the ceiling of 350.
        (CAR, 320, ""),
        (CAR, 350, ""),
        (CAR, 351, "above the ceiling of 350 kPa"),
        (replace(CAR, sidewall_max_kpa=450), 384, ""),
        (replace(CAR, sidewall_max_kpa=450), 390, "more than a fifth above the placard"),
        # A row at the ceiling is that alone; above it there is no pressure.
        (replace(CAR, placard_kpa=350), 345, "below the placard's 350 kPa"),
        (replace(CAR, placard_kpa=350), 350, ""),
        (replace(CAR, placard_kpa=360), 350, "above the ceiling of 350 kPa. Check both labels"),
        # Below the row as a trial with its reason, never below as rated.
        (CAR, 305, "give the reason for a trial"),
        (replace(CAR, trial="harsh"), 300, ""),
        (replace(CAR, trial="harsh"), 298, "not enough for the axle's rating"),
        (replace(CAR, trial="harsh", gawr_kg=None), 305, "without its axle rating, GAWR there is no trial"),
        (replace(CAR, trial="harsh", tire_max_kg=None), 305, "load and maximum on the sidewall there is no trial"),
        # Unknown GVWR: light for the placard, and no trial.
        (replace(CAR, placard_is_floor=False, gvwr_known=False), 350, ""),
        (
            replace(CAR, placard_is_floor=False, gvwr_known=False, trial="x"),
            305,
            "gross rating, GVWR there is no trial",
        ),
        # Heavy: as rated to the ceiling.
        (replace(CAR, placard_is_floor=False, placard_kpa=None), 300, ""),
        (replace(CAR, placard_is_floor=False, placard_kpa=None), 290, "not enough for the axle's rating"),
        (replace(CAR, placard_is_floor=False), 305, "give the reason for a trial"),
        (replace(CAR, placard_is_floor=False, trial="x"), 305, ""),
        # Nothing known: what is missing is named.
        (replace(CAR, placard_kpa=None, gawr_kg=None), 300, "not known without its axle rating, GAWR"),
    ],
)
def test_a_pressure_of_ones_own_without_a_weight(case: AxleCase, kpa: float, words: str) -> None:
    said = asked(case, kpa)
    assert (words in said) if words else said == ""


@pytest.mark.parametrize("what", ["gawr", "group", "gvwr"])
def test_a_weighing_over_a_rating_withdraws_as_rated_own_and_trial(what: str) -> None:
    over = replace(CAR, over=(Check(what, "Rating", 2100, 2000),), trial="harsh")  # type: ignore[arg-type]
    assert axle_target(over, POLICY).as_rated_kpa is None
    assert "weighs more than it is rated for" in asked(over, 330)
    tires_alone = replace(CAR, over=(Check("tire", "Tires", 2100, 2000),))
    assert asked(tires_alone, 330) == ""


def test_ones_own_is_marked_and_a_trial_has_its_reason() -> None:
    own = axle_target(replace(CAR, own_kpa=330), POLICY)
    assert (own.state, own.target_kpa, own.school, own.trial) == ("provisional", 330, "own", False)
    trial = axle_target(replace(CAR, own_kpa=300, trial="harsh, economy is no matter"), POLICY)
    assert (trial.target_kpa, trial.trial) == (300, True)
    assert any("harsh, economy is no matter" in n.text for n in trial.notes)


@pytest.mark.parametrize("kpa", [500, 200])
def test_ones_own_of_before_is_held_against_what_is_known_now(kpa: float) -> None:
    """Kept from other tires, or before a weighing over a rating: the placard stands in again."""
    assert axle_target(replace(CAR, own_kpa=kpa), POLICY).target_kpa == 320
    over = replace(CAR, own_kpa=330, over=(Check("gvwr", "Rating", 2100, 2000),))
    assert axle_target(over, POLICY).school == "placard"


def test_without_a_placard_as_rated_stands_in_marked() -> None:
    found = axle_target(replace(CAR, placard_kpa=None, placard_light_kpa=None), POLICY)
    assert (found.state, found.school, found.target_kpa) == ("provisional", "rated", 300)
    assert found.words.show("metric") == (
        "300 kPa, provisional: enough for 1,000 kg, the axle's rating; not weighed; not enough above it."
    )
    # Never called a floor.
    assert found.floor_kpa is None


@pytest.mark.parametrize(
    ("front", "rear"),
    [
        # A classic car of 19 and 27 psi: each may be held, and a fifth more.
        (19, 27),
    ],
)
def test_a_classic_car_keeps_its_placard(front: float, rear: float) -> None:
    for psi in (front, rear):
        kpa = psi * 6.894757
        case = replace(CAR, placard_kpa=kpa, placard_light_kpa=None, gawr_kg=None, sidewall_max_kpa=240)
        assert axle_target(case, POLICY).target_kpa == pytest.approx(kpa)
        assert asked(case, 1.19 * kpa) == ""


def test_a_small_trailer_under_a_label_of_50_runs_at_40_as_a_trial_alone() -> None:
    """GAWR 700 kg on tires of 550 kg at 345 kPa: 367.5 kg on an end, 230.5 kPa as rated; 40 psi is 275.8."""
    trailer = replace(
        CAR, tire_max_kg=550, sidewall_max_kpa=345, placard_kpa=344.7, placard_light_kpa=None, gawr_kg=700
    )
    assert "give the reason for a trial" in asked(trailer, 275.8)
    assert asked(replace(trailer, trial="bounces empty"), 275.8) == ""


def test_one_wheel_carries_its_axle_alone() -> None:
    """A motorcycle's or a three-wheeler's: 270 kg on one wheel of 300 kg at 290 kPa, 261 kPa as rated."""
    one = replace(CAR, one_wheel=True, tire_max_kg=300, sidewall_max_kpa=290, placard_kpa=None, gawr_kg=270)
    assert axle_target(one, POLICY).as_rated_kpa == pytest.approx(261)


def test_a_range_is_kept_inside_the_same_bounds() -> None:
    aimed = axle_target(CAR, POLICY)
    # Its number is the placard's 320; without a reason not below that, never above the ceiling of 350.
    for to, words in (
        (340, ""),
        (350, ""),
        (355, "above the ceiling of 350 kPa"),
        (315, "below the placard's 320 kPa"),
    ):
        no = range_refused(CAR, aimed, to)
        assert words in no.show("metric") if no else not words, to
    trial = replace(CAR, trial="soft road")
    assert range_refused(trial, axle_target(trial, POLICY), 300) is None
    assert "not enough for the axle's rating" in range_refused(trial, axle_target(trial, POLICY), 298).show("metric")  # type: ignore[union-attr]
    kept = ranged(CAR, aimed, 340, "340 is harsh, economy.")
    assert (kept.target_kpa, kept.range_kpa, kept.feel) == (320, 340, "340 is harsh, economy.")
    assert kept.notes[-1].show("metric") == "Held anywhere from 320 kPa to 340 kPa: 340 is harsh, economy."
    nothing = axle_target(replace(CAR, placard_kpa=None, gawr_kg=None), POLICY)
    assert "no target" in range_refused(CAR, nothing, 330).text  # type: ignore[union-attr]


def test_a_range_far_above_the_placard_is_told_what_that_does() -> None:
    # 1.2 times the placard of 250 is 300; the tire's ceiling is 350.
    case = replace(CAR, placard_kpa=250, placard_light_kpa=None)
    told = [n.show("metric") for n in ranged(case, axle_target(case, POLICY), 310, "").notes]
    assert "The range goes more than 20 % above the placard of 250 kPa: grip and handling change." in told
