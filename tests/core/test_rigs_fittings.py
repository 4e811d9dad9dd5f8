"""Groups of axles, what is odd about a rig, its fitted tires, and their age."""

import datetime as dt
from dataclasses import replace

import pytest

from ballast.core import rigs
from ballast.core.rigs import Axle, Fitted, Rig, findings, groups, read_size, walking_order
from tests.core.samples import coach, tire

TODAY = dt.date(2026, 11, 25)


def axles(*places: float, **more: object) -> tuple[Axle, ...]:
    return tuple(Axle(i + 1, x, 2.0, 2, **more) for i, x in enumerate(places))  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("places", "names"),
    [
        ((0.0, 6.0), ["single axle", "single axle"]),
        ((0.0, 0.9), ["tandem"]),
        ((0.0, 4.2, 5.5), ["single axle", "tandem"]),
        ((0.0, 1.3, 2.6), ["tridem"]),
        ((0.0, 1.3, 2.6, 3.9), ["group of 4"]),
        # 2.2 m is still a group, more is not.
        ((0.0, 2.2), ["tandem"]),
        ((0.0, 2.25), ["single axle", "single axle"]),
    ],
)
def test_axles_that_stand_close_are_a_group(places: tuple[float, ...], names: list[str]) -> None:
    assert [g.name for g in groups(axles(*places))] == names


def test_a_tag_and_a_pusher_stand_by_themselves() -> None:
    front, drive, tag = axles(0.0, 6.0, 7.3)
    found = groups((front, drive, replace(tag, role="tag")))
    assert [(g.name, g.numbers) for g in found] == [("single axle", (1,)), ("single axle", (2,)), ("tag", (3,))]
    pusher = groups((front, replace(drive, role="pusher"), tag))
    assert [g.name for g in pusher] == ["single axle", "pusher", "single axle"]


def test_nine_axles_in_their_groups() -> None:
    found = groups(axles(0.0, 1.4, 5.0, 6.3, 12.0, 13.3, 14.6, 20.0, 21.3))
    assert [g.name for g in found] == ["tandem", "tandem", "tridem", "tandem"]
    assert sum(len(g.numbers) for g in found) == 9


def refused(rig: Rig) -> dict[str, str]:
    return {no.field: no.message for no in rigs.contradictions(rig)}


def test_what_cannot_be_of_lifts_tags_and_ratings() -> None:
    front, rear = coach().axles
    assert "axles.0.lift" in refused(coach(axles=(replace(front, lift=True), rear)))
    assert "axles.1.role" in refused(coach(axles=(front, replace(rear, role="tag"))))
    assert "less than the vehicle's own" in refused(coach(gcwr_kg=9000.0))["gcwr_kg"]
    trailer = Rig("trailer", axles(0.0, 0.9), 3500.0, gcwr_kg=5000.0)
    assert "tow vehicle's label" in refused(trailer)["gcwr_kg"]
    lifting = Rig("semitrailer", axles(0.0, 1.3, lift=True))
    assert "at least one down" in refused(lifting)["axles.0.lift"]
    narrow = replace(front, tire=tire(rim_low_in=8.0, rim_high_in=7.0))
    assert "swapped" in refused(coach(axles=(narrow, rear)))["axles.0.rim_low_in"]


def told(rig: Rig) -> dict[str, str]:
    return {c.field: c.words.show("metric") for c in rigs.cautions(rig)}


@pytest.mark.parametrize(
    ("width", "words"), [(6.0, "too narrow: the tire crowns"), (9.5, "too wide"), (7.5, ""), (None, "")]
)
def test_a_rim_outside_the_approved_range(width: float | None, words: str) -> None:
    front, rear = coach().axles
    odd = replace(front, tire=tire(rim_width_in=width, rim_low_in=6.75, rim_high_in=8.25))
    found = told(coach(axles=(odd, rear))).get("axles.0.rim_width_in", "")
    assert words in found
    assert bool(words) is bool(found)


def test_a_rig_that_is_driven_faster_than_its_tires() -> None:
    # M holds 130 km/h.
    assert "axles.0.tire_size" not in told(coach(top_speed_kmh=130.0))
    assert (
        "Symbol M holds up to 130 km/h, this rig is driven at 131 km/h"
        in told(coach(top_speed_kmh=131.0))["axles.0.tire_size"]
    )


def test_what_a_marking_leaves_open_is_asked_for() -> None:
    assert rigs.asked_for(read_size("245/70R19.5 135/133M H")) == ()
    assert rigs.asked_for(read_size("245/70R19.5 135/133M"), ranged=True) == ()
    assert rigs.asked_for(read_size("11R22.5"), rated=True, ranged=True)[0] == "speed symbol"
    assert rigs.asked_for(read_size("11R22.5")) == (
        "load index or the sidewall's load", "speed symbol", "load range", "diameter, if you can measure it",
    )  # fmt: skip
    assert rigs.asked_for(read_size("ST235/80R16 E")) == ("load index or the sidewall's load",)
    assert rigs.asked_for(read_size("37-622")) == ()


@pytest.mark.parametrize(
    ("code", "limit", "words", "asks"),
    [
        ("4525", 10, "1.1 years old", False),  # Monday 3 Nov 2025: 387 days
        ("4721", 10, "5.0 years old: have it inspected every year", True),
        ("4821", 10, "5.0 years old", False),  # 1 Dec 2021: not five years yet, though it rounds to them
        ("4716", 10, "10.0 years old: replace it, whatever its tread", True),
        ("4720", 6, "6.0 years old: replace it, whatever its tread", True),
        ("418", 10, "made before 2000: replace it, whatever its tread", True),
    ],
)
def test_age_by_policy(code: str, limit: float, words: str, asks: bool) -> None:
    made = rigs.read_date_code(code, TODAY)
    said, old = rigs.age_words(made, TODAY, limit)
    assert (said, old) == (words, asks)


def fitted(code: str, size: str = "245/70R19.5 135/133M", **more: object) -> Fitted:
    return Fitted(code, read_size(size), **more)  # type: ignore[arg-type]


def said(*on: Fitted) -> list[tuple[str, bool]]:
    rig = coach()
    wheels = walking_order(rig.axles, rig.kind, 1)
    return [(f.words, f.urgent) for f in findings(rig, wheels, on, TODAY, 10)]


def test_alike_tires_give_no_finding() -> None:
    codes = ("1L", "1R", "2Lo", "2Li", "2Ro", "2Ri", "S1")
    assert said(*(fitted(c, make="Drover", load_range="H", date_code="2624", diameter_mm=840) for c in codes)) == []


@pytest.mark.parametrize(
    ("one", "other", "words", "urgent"),
    [
        ({"size": "245/70-19.5 135/133M"}, {}, "mixed constructions on one axle (bias, radial)", True),
        ({"load_range": "G"}, {"load_range": "H"}, "mixed load ranges on one axle (G, H)", True),
        ({"make": "A"}, {"make": "B"}, "mixed makes on one axle (A, B)", False),
        ({"make": "a"}, {"make": "A"}, "", False),
        ({"size": "225/70R19.5 128/126M"}, {}, "mixed sizes on one axle", True),
    ],
)
def test_mixed_tires_on_an_axle(one: dict[str, str], other: dict[str, str], words: str, urgent: bool) -> None:
    found = said(fitted("1L", **one), fitted("1R", **other))
    if words:
        assert any(words in w and u is urgent for w, u in found)
    else:
        assert found == []


@pytest.mark.parametrize(("apart", "finds"), [(6.0, False), (6.5, True)])
def test_dual_mates_may_be_six_millimeters_apart(apart: float, finds: bool) -> None:
    found = said(fitted("2Lo", diameter_mm=840), fitted("2Li", diameter_mm=840 + apart))
    assert any("The larger carries the pair" in w for w, _ in found) is finds
    # Across the axle they may.
    assert said(fitted("2Lo", diameter_mm=840), fitted("2Ro", diameter_mm=860)) == []


@pytest.mark.parametrize(
    ("fitted_at", "torqued_at", "now", "left"),
    [(1000, None, 1030, 50), (1000, None, 1100, -20), (1000, 1080, 1100, None), (1000, 900, 1030, 50), (None, None, 500, None),
     (1000, None, None, None)],
)  # fmt: skip
def test_torque_again_eighty_kilometers_after_a_wheel_was_off(
    fitted_at: float | None, torqued_at: float | None, now: float | None, left: float | None
) -> None:
    assert rigs.retorque_left_km(fitted_at, torqued_at, now) == left


def test_each_kind_starts_with_a_list_of_its_own() -> None:
    assert any("Fresh water" in c for c in rigs.ready_to_roll("motorhome"))
    assert any("Hitched level" in c for c in rigs.ready_to_roll("camper"))
    assert not any("Everyone aboard" in c for c in rigs.ready_to_roll("semitrailer"))
    for kind in rigs.KINDS:
        assert len(set(rigs.ready_to_roll(kind))) == len(rigs.ready_to_roll(kind)) >= 2
