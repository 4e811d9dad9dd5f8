"""A rig as one walks around it: what is unread, what it would give, and what nobody measured."""

from dataclasses import replace

import pytest

from ballast.core import rigs, weighing
from ballast.core.refusal import Refusal

SIZE = "225/75R16C 121/120R"


def axle(number: int, size: str = SIZE, **known: object) -> rigs.Axle:
    tire = rigs.Tire(
        size=rigs.as_marked(size), load_index_single=121 if size else None, load_index_dual=120 if size else None
    )
    return replace(rigs.Axle(number, 0.0 if number == 1 else None, None, 2, tire=tire), **known)  # type: ignore[arg-type]


def van(*axles: rigs.Axle, kind: str = "van", **known: object) -> rigs.Rig:
    return rigs.Rig(kind, axles, **known)  # type: ignore[arg-type]


def test_every_kind_has_its_usual_axles_and_a_heading_for_each() -> None:
    for kind in rigs.KINDS:
        usual = rigs.outline(kind)
        assert usual[0].position_m == 0
        assert len(rigs.axle_titles(kind)[len(usual) - 1]) == len(usual)
        assert all(a.wheels == 1 for a in usual) == (kind == "motorcycle")


@pytest.mark.parametrize(
    ("positions", "names"),
    [
        # A tractor's usual rear axles stand 1.3 m apart, behind 4.2 m.
        ((None, None, None), ["single axle", "tandem"]),
        # What was measured counts: the third stands 3 m behind the second.
        ((0.0, 4.0, 7.0), ["single axle", "single axle", "single axle"]),
        # The second is drawn between its neighbors: 1.5 m and 1.5 m apart.
        ((0.0, None, 3.0), ["tridem"]),
    ],
)
def test_axles_that_nobody_measured_stand_in_the_groups_of_their_kind(
    positions: tuple[float | None, ...], names: list[str]
) -> None:
    axles = tuple(rigs.Axle(i, p, None, 4) for i, p in enumerate(positions, 1))
    assert [g.name for g in rigs.groups(axles, "tractor")] == names


def test_an_unknown_length_contradicts_nothing_and_a_known_one_still_does() -> None:
    assert rigs.contradictions(van(axle(1), axle(2), wheelbase_m=3.6)) == []
    behind = van(axle(1), axle(2, position_m=3.0), axle(3, position_m=2.0))
    assert [r.field for r in rigs.contradictions(behind)] == ["axles.2.position_m"]


def test_what_is_unread_is_named_with_what_it_would_give() -> None:
    bare = rigs.missing(van(axle(1), axle(2, size="")), ())
    named = {m.name: m for m in bare}
    assert named["Size on the sidewall: rear axle"].place == "axles.1"
    assert named["Sidewall maximum"].gives.startswith("the ceiling")
    assert named["Gross rating, GVWR"].place == "label"
    assert named["Spare"].gives == "its own pressure: it is the one that is forgotten"
    assert named["Spacing and track"].place == "tape"
    whole = rigs.Tire(
        size=rigs.as_marked(SIZE), load_index_single=121, load_index_dual=120, sidewall_max_kpa=525, wheel_max_kpa=600,
        placard_kpa=360,
    )  # fmt: skip
    read = [axle(n, position_m=p, track_m=1.7, gawr_kg=1800, tire=whole) for n, p in ((1, 0.0), (2, 3.6))]
    assert rigs.missing(van(*read, gvwr_kg=3500), (450.0,)) == ()
    assert [m.name for m in rigs.missing(van(*read, gvwr_kg=3500), (None,))] == ["The spare's required pressure"]


def test_a_rig_needs_a_name_and_one_size() -> None:
    assert rigs.must_have(van(axle(1, size=""), axle(2)), "Gnomon") == []
    assert [r.field for r in rigs.must_have(van(axle(1, size="")), "")] == ["name", "axles.0.tire_size"]
    assert rigs.must_have(van(axle(1)), "")[0].message == "A rig needs a name."


def test_a_description_without_a_size_contradicts_no_tire_and_takes_the_size_that_is_fitted() -> None:
    unread = rigs.Tire(size=rigs.as_marked(""))
    fitted = rigs.Tire(size=rigs.as_marked(SIZE), load_index_single=121, load_index_dual=120)
    assert rigs.unlike(fitted, unread) == ()
    assert rigs.weakest(unread, (fitted, fitted)).size.name == "225/75R16C"
    # Of one wheel nothing is known: the axle's size is not known either.
    assert rigs.weakest(unread, (fitted,), every_wheel=False).size.name == ""


def test_cargo_is_not_placed_on_axles_that_nobody_measured() -> None:
    support = weighing.Support(2, None, 1.7, 2)
    part = weighing.Part("Gnomon", (weighing.Support(1, 0.0, 1.7, 2), support), (1,))
    with pytest.raises(Refusal, match="How far Gnomon's axles lie behind its first one is not known"):
        weighing.effect((part,), (weighing.Placed(0, 100.0, 1.0, 0.0),))
    measured = replace(part, axles=(weighing.Support(1, 0.0, None, 2), replace(support, x_m=4.0, track_m=None)))
    # In the middle of the rig it lies on all four ends alike: 100 kg, a quarter each.
    put = weighing.effect((measured,), (weighing.Placed(0, 100.0, 2.0, 0.0),))
    assert set(put.ends.values()) == {(25.0, 25.0)}
    with pytest.raises(Refusal, match="wheel to wheel is not known"):
        weighing.effect((measured,), (weighing.Placed(0, 100.0, 2.0, 0.5),))


def test_a_leaning_axle_of_unknown_track_is_said_without_a_mass_to_move() -> None:
    limits = weighing.AxleLimits(1, "Front", 2, None, 2000.0, 1000.0)
    weighed = weighing.weigh_axle(limits, weighing.AxleReading(None, 600.0, 400.0))
    # (600 − 400)/1,000 = 20 %.
    assert [n.text for n in weighed.notes] == ["The left end is much heavier: {0} imbalance."]
    assert weighed.notes[0].values[0].value == pytest.approx(0.2)
