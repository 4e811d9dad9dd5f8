from ballast.core.weighing import (
    AxleLimits,
    AxleReading,
    Part,
    Placed,
    RigLimits,
    Support,
    Weighed,
    cargo_at,
    drifts,
    weigh_rig,
    weigh_together,
)

LIMITS = (AxleLimits(1, "Front", 2, 2.0, 4200, 2180), AxleLimits(2, "Rear", 4, 1.85, 7600, 2060))


def test_what_both_weighings_know_is_compared() -> None:
    ends = {1: AxleReading(left_kg=1690, right_kg=1700), 2: AxleReading(left_kg=3160, right_kg=3410)}
    before = weigh_rig(LIMITS, {1: ends[1], 2: AxleReading(whole_kg=6400)}, RigLimits(11_800))
    found = {(d.axle, d.end): d.change_kg for d in drifts(before, weigh_rig(LIMITS, ends, RigLimits(11_800)))}
    # Gross 9,790 → 9,960; the rear was weighed as a whole before, so its ends are not compared.
    assert found == {(0, "whole"): 170, (1, "whole"): 0, (1, "left"): 0, (1, "right"): 0, (2, "whole"): 170}


def test_an_axle_that_is_up_takes_nothing_of_what_is_put_aboard() -> None:
    three = (*LIMITS, AxleLimits(3, "Axle 3", 2, 2.0, 6000, 4000))
    reads = {1: AxleReading(whole_kg=3000), 2: AxleReading(whole_kg=7000), 3: AxleReading(lifted=True)}
    loads, _ = weigh_together((Weighed("Tagged", three, RigLimits(), reads),))
    down = Part("Tagged", (Support(1, 0.0, 2.0, 2), Support(2, 6.0, 1.85, 4)), front=(1,))
    left = cargo_at((down,), loads, Placed(0, 1.0, 6.0))
    assert left is not None
    # Wholly over the driven axle: 600 kg left on it, and by its tires 8,240 × 0.5 / 0.525 − 7,000 = 847.6.
    assert (left.left_kg, left.bound_by[0][1].name) == (600, "Rear axle rating")
