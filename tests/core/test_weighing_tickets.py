"""A ticket as it is printed: several axles as one number, the gross as a check or alone, a trailer's rows."""

import pytest

from ballast.core import rigs
from ballast.core.refusal import Refusal
from ballast.core.weighing import (
    AxleLimits,
    AxleReading,
    RigLimits,
    Weighed,
    Whole,
    spread,
    weigh_rig,
    weigh_together,
)

STEER = AxleLimits(1, "Front", 2, 2.08, 5400, 3350)
DRIVE = (AxleLimits(2, "Axle 2", 4, 1.85, 9100, 3075), AxleLimits(3, "Axle 3", 4, 1.85, 9100, 3075))
TRACTOR = (STEER, *DRIVE)
TRAILER = tuple(AxleLimits(n, f"Axle {n}", 4, 1.85, 9000, 3075) for n in (1, 2))


def test_three_numbers_for_five_axles_overload_nobody() -> None:
    """Steer, drive, trailer: 5,100, 15,200 and 14,800 kg, each axle of a group with half of it."""
    tractor = spread({1: AxleReading(whole_kg=5100)}, 15_200, {2: None, 3: None})
    trailer = spread({}, 14_800, {1: None, 2: None})
    loads, together = weigh_together(
        (
            Weighed("Tractor", TRACTOR, RigLimits(23_000, 40_000), tractor),
            Weighed("Trailer", TRAILER, RigLimits(30_000, pulled=True), trailer),
        ),
        gross_kg=35_100,
    )
    assert together == 35_100
    assert [a.total_kg for a in loads[0].axles] == [5100, 7600, 7600]
    assert [a.total_kg for a in loads[1].axles] == [7400, 7400]
    # 7,600 × 0.525 on two tires of the heavier end.
    assert loads[0].axles[1].per_tire_kg == pytest.approx(1995)
    assert loads[0].axles[1].assumed
    assert "its share of 2 axles is assumed" in loads[0].axles[1].notes[0].text
    assert not any(load.over for load in loads)
    group = next(c for c in loads[0].checks if c.what == "group")
    assert (group.name, group.load_kg, group.limit_kg, group.axles) == (
        "Axle 2 to axle 3, axle ratings together", 15_200, 18_200, (2, 3),
    )  # fmt: skip
    assert all(c.what != "gawr" for a in loads[0].axles[1:] for c in a.checks)


def test_a_group_over_its_ratings_together_is_over_by_a_kilogram() -> None:
    at = weigh_rig(TRACTOR, spread({}, 18_200, {2: None, 3: None}), RigLimits())
    over = weigh_rig(TRACTOR, spread({}, 18_201, {2: None, 3: None}), RigLimits())
    assert not at.over
    assert [(c.what, c.margin_kg) for c in over.over] == [("group", -1)]
    unknown = (STEER, DRIVE[0], AxleLimits(3, "Tag", 2, 2.1, None, 3350))
    assert not weigh_rig(unknown, spread({}, 30_000, {2: None, 3: None}), RigLimits()).checks


def test_shares_that_are_given_are_kept() -> None:
    read = spread({}, 15_000, {2: None, 3: 0.33})
    assert [read[n].whole_kg for n in (2, 3)] == pytest.approx([10_050, 4950])


@pytest.mark.parametrize(
    ("reads", "kg", "of", "field"),
    [
        ({}, 15_000, (2,), "axles"),
        ({}, 15_000, (1, 3), "axles"),
        ({}, 0, (2, 3), "kg"),
        ({2: AxleReading(left_kg=3000)}, 15_000, (2, 3), "kg"),
    ],
)
def test_what_is_no_one_number(reads: dict[int, AxleReading], kg: float, of: tuple[int, ...], field: str) -> None:
    with pytest.raises(Refusal) as no:
        spread(reads, kg, dict.fromkeys(of))
    assert no.value.field == field


def test_the_gross_checks_its_rows_within_the_scales_step() -> None:
    reads = {1: AxleReading(whole_kg=5100), **spread({}, 15_200, {2: None, 3: None})}
    assert weigh_rig(TRACTOR, reads, RigLimits(), 20, whole=Whole(gross_kg=20_330)).total_kg == 20_300
    # 20 kg × √4 = 40 kg of slack: 41 is too much.
    with pytest.raises(Refusal, match="The rows make 20,300 kg") as no:
        weigh_rig(TRACTOR, reads, RigLimits(), 20, whole=Whole(gross_kg=20_341))
    assert no.value.field == "gross_kg"
    with pytest.raises(Refusal, match="more than nothing"):
        weigh_rig(TRACTOR, {}, RigLimits(), whole=Whole(gross_kg=0))


def test_the_gross_alone_is_a_weighing_of_the_whole_and_splits_nothing() -> None:
    alone = weigh_rig(TRACTOR, {}, RigLimits(20_000), whole=Whole(gross_kg=20_300))
    assert alone.total_kg == 20_300
    assert [a.total_kg for a in alone.axles] == [None, None, None]
    assert [(c.what, c.margin_kg) for c in alone.over] == [("gvwr", -300)]
    assert "Weighed as a whole" in alone.notes[0].text
    # With one axle beside it the rest is not shared out either.
    part = weigh_rig(TRACTOR, {1: AxleReading(whole_kg=5100)}, RigLimits(20_000), whole=Whole(gross_kg=20_300))
    assert (part.total_kg, part.axles[1].total_kg) == (20_300, None)
    with pytest.raises(Refusal):
        weigh_rig(TRACTOR, {1: AxleReading(whole_kg=5100)}, RigLimits(), whole=Whole(gross_kg=5000))


def test_a_gross_of_nothing_is_refused_and_not_dropped() -> None:
    with pytest.raises(Refusal, match="more than nothing") as no:
        weigh_together((Weighed("T", TRACTOR, RigLimits(), {}),), gross_kg=0.0)
    assert no.value.field == "gross_kg"


def test_what_contradicts_itself_behind_is_named_there() -> None:
    reads = {1: AxleReading(whole_kg=100, left_kg=200)}
    with pytest.raises(Refusal) as no:
        weigh_together((Weighed("T", (STEER,), RigLimits(), {}), Weighed("B", TRAILER, RigLimits(), reads)))
    assert no.value.field == "behind.0.axles.0.left_kg"


def axles(*positions: float | None) -> tuple[rigs.Axle, ...]:
    return tuple(rigs.Axle(i, p, None, 4) for i, p in enumerate(positions, 1))


@pytest.mark.parametrize(
    ("kind", "positions", "printed"),
    [
        ("tractor", (0.0, 4.2, 5.5), [((2, 3), "drive axles")]),
        ("coach", (0.0, 6.0), []),
        ("coach", (0.0, 6.0, 9.0), [((2, 3), "drive axles")]),
        ("semitrailer", (None, None), [((1, 2), "all its axles")]),
        ("straight_truck", (0.0, 1.8, 6.0, 7.3), [((1, 2), "tandem"), ((3, 4), "tandem"), ((2, 3, 4), "drive axles")]),
    ],
)
def test_axles_that_a_ticket_may_print_as_one_number(
    kind: str, positions: tuple[float | None, ...], printed: list[tuple[tuple[int, ...], str]]
) -> None:
    assert [(g.numbers, g.name) for g in rigs.printed_together(axles(*positions), kind)] == printed
