import datetime as dt
import random
from dataclasses import replace
from typing import Any, get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core import sensors as core
from ballast.core.gas import Air, carry
from ballast.core.refusal import Refusal
from ballast.core.sensors import Aim, Filled, Moving, Rolling, Sample
from ballast.core.targets import LampSeen
from ballast.core.working import Phrase
from tests.core.samples import FIELD

START = dt.datetime(2026, 11, 28, 6, tzinfo=dt.UTC)
MILD = Air(20.0, 0.0)
LIGHT = Aim(290.0, MILD, False)


def case(name: str) -> Any:
    return pytest.mark.parametrize("case", FIELD[name], ids=str)


def cold(wheel: str, minutes: float, kpa: float, **more: Any) -> Sample:
    return Sample(wheel, START + dt.timedelta(minutes=minutes), kpa, MILD, **{"stood_h": 9.0, **more})


def words(phrase: Phrase | None) -> str:
    assert phrase is not None
    return phrase.text


@case("alarm")
def test_low_sets_low_and_clears_higher(case: dict[str, Any]) -> None:
    aim, read = Aim(case["target_kpa"], MILD, False), case["cold_refreshed_kpa"]
    events = [cold("1L", 60 * i, p) for i, p in enumerate(read)]
    found = [core.fold(aim, ["1L"], events[: n + 1]).wheels["1L"].pressure for n in range(len(read))]
    assert found == case["states"]
    # One after the other it comes to the same.
    step = core.fold(aim, ["1L"], [])
    for e in events:
        step = core.fold(aim, ["1L"], [e], step)
    assert step == core.fold(aim, ["1L"], events)


@case("high_alarm")
def test_high_by_class_and_air(case: dict[str, Any]) -> None:
    aim = Aim(case["target_kpa"], Air(case["set_air_c"], case["set_m"]), case["class"] == "heavy")
    found = core.thresholds(aim, Air(case["air_c"], case["elevation_m"]))
    assert found.high_kpa == pytest.approx(case["sets_kpa"], rel=1e-3)
    assert found.high_clears_kpa == pytest.approx(case["clears_kpa"], rel=1e-3)


@case("heat_alarm")
def test_heat_sets_at_80_and_clears_at_72(case: dict[str, Any]) -> None:
    events = [cold("1L", i, 300.0, tire_c=c, rolled_min=30.0 + i) for i, c in enumerate(case["tire_c"])]
    found = [core.fold(LIGHT, ["1L"], events[: n + 1]).wheels["1L"].heat for n in range(len(events))]
    assert found == [s == "heat" for s in case["states"]]


@case("cold_equivalent")
def test_what_a_number_comes_to_cold(case: dict[str, Any]) -> None:
    of = Sample(
        "1L",
        START,
        case["kpa"],
        Air(case["air_c"], case["elevation_m"]),
        case.get("tire_c"),
        case.get("rolled_min", 0.0),
    )
    assert core.cold_equivalent(of, case.get("class") == "heavy") == pytest.approx(case["expected_kpa"], rel=1e-3)


def test_where_it_is_not_known_whether_it_rolled_warm_air_hides_nothing() -> None:
    # 262 kPa, 10 °C over 20 °C: (262 + 101.325) × 293.15/303.15 − 101.325 = 250.02, as a tire that rolled half an hour.
    unknown = Sample("1L", START, 262.0, MILD)
    assert core.cold_equivalent(unknown, False) == pytest.approx(250.02, abs=0.01)
    assert not core.is_cold(unknown, False)
    assert core.fold(LIGHT, ["1L"], [unknown]).wheels["1L"].pressure == "low"


@case("motion")
def test_how_a_rolling_tire_warms(case: dict[str, Any]) -> None:
    air = Air(case["air_c"], case["elevation_m"])
    start = Moving(
        case["set_kpa"], air, case.get("target_kpa", case["set_kpa"]), case["class"] == "heavy", case["air_c"]
    )
    after = core.roll(start, Rolling(case["km_h"], case["load_share"], air), case["minutes"])
    assert after.reads(air) == pytest.approx(case["expected_kpa"], rel=3e-3)
    if "tire_c" in case:
        assert after.tire_c == pytest.approx(case["tire_c"], abs=0.1)


def test_parked_it_cools_and_the_sun_keeps_it_warm() -> None:
    hot = Moving(290.0, MILD, 290.0, False, 50.0)
    shade, sun = (core.roll(hot, Rolling(0, 1, MILD, sunny=s), 600).tire_c for s in (False, True))
    assert (shade, sun) == (pytest.approx(20.0, abs=0.01), pytest.approx(28.0, abs=0.01))
    # After 50 minutes of shade 1/e of the 30 °C is left.
    assert core.roll(hot, Rolling(0, 1, MILD), 50).tire_c == pytest.approx(20 + 30 / 2.71828, abs=0.01)


def test_98_psi_on_85_is_quiet_and_a_dragging_brake_is_not() -> None:
    # 85 psi is 586.05 kPa, set at 18 °C; hot 40 °C over 30 °C of today: 730.3 kPa, and 5 % more.
    aim, day = Aim(586.05, Air(18, 0), True), Air(30, 0)
    quiet = Sample("2L", START, 675.69, day, 62.0, 60.0)
    brake = Sample("2R", START, 700.0, day, 96.0, 60.0)
    of = core.fold(aim, ["2L", "2R"], [quiet, brake])
    assert (of.wheels["2L"].high, of.wheels["2L"].heat) == (False, False)
    assert of.wheels["2R"].heat
    assert [(t.wheel, t.what) for t in of.told if t.what == "heat"] == [("2R", "heat")]


def test_warming_and_silence_never_clear_it_air_does() -> None:
    low, warm = cold("1L", 0, 250.0), cold("1L", 40, 300.0, rolled_min=40.0)
    for more, state in (
        ([warm], "low"),
        ([cold("1L", 60, 300.0, tire_c=45.0)], "low"),
        ([cold("1L", 60, 283.0, fresh=False)], "low"),
        ([cold("1L", 60, 283.0)], "clear"),
        ([Filled("1L", START + dt.timedelta(minutes=50)), cold("1L", 60, 270.0)], "clear"),
        ([Filled("1L", START + dt.timedelta(minutes=50)), cold("1L", 60, 254.0)], "low"),
    ):  # fmt: skip
        assert core.fold(LIGHT, ["1L"], [low, *more]).wheels["1L"].pressure == state, more


def test_far_under_its_mate_is_low_and_says_why_apart() -> None:
    # 7 % under 290 is 269.7.
    of = core.fold(LIGHT, ["1L", "1R"], [cold("1L", 0, 290.0), cold("1R", 1, 269.0)])
    assert (of.wheels["1R"].pressure, of.wheels["1L"].pressure) == ("low", "clear")
    near = core.fold(LIGHT, ["1L", "1R"], [cold("1L", 0, 290.0), cold("1R", 1, 270.0)])
    assert near.wheels["1R"].pressure == "clear"
    # Of an hour ago the mate says nothing.
    assert (
        core.fold(LIGHT, ["1L", "1R"], [cold("1L", 0, 290.0), cold("1R", 60, 269.0)]).wheels["1R"].pressure == "clear"
    )
    apart = core.fold(LIGHT, ["1L", "1R"], [cold("1L", 0, 250.0), cold("1L", 60, 270.0), cold("1R", 61, 271.0)])
    assert [apart.wheels[w].pressure for w in ("1L", "1R")] == ["low", "clear"]
    assert words(core.why_apart(LIGHT, apart, "1L", "1R")).startswith("1L and 1R read about alike, and 1L is low")
    assert core.why_apart(LIGHT, near, "1L", "1R") is None


def test_fast_loss_only_while_rolling() -> None:
    rolling = [cold("1L", m, 300.0 - 15 * m, rolled_min=30 + m) for m in (0, 1)]
    assert core.fold(LIGHT, ["1L"], rolling).wheels["1L"].fast
    assert not core.fold(LIGHT, ["1L"], [cold("1L", m, 300.0 - 15 * m) for m in (0, 1)]).wheels["1L"].fast
    # 14 kPa in four minutes is no fast loss, 60 is.
    assert (
        not core.fold(LIGHT, ["1L"], [cold("1L", m, 300.0 - 3.5 * m, rolled_min=30.0 + m) for m in (0, 4)])
        .wheels["1L"]
        .fast
    )
    assert (
        core.fold(LIGHT, ["1L"], [cold("1L", m, 330.0 - 15 * m, rolled_min=30.0 + m) for m in (0, 4)]).wheels["1L"].fast
    )


def test_in_a_plan_low_is_never_under_the_surfaces_floor() -> None:
    # 120 kPa on sand with a floor of 110: 12 % under is 105.6, so 110 counts; it clears 3 % of the target above.
    found = core.thresholds(Aim(120.0, MILD, False, floor_kpa=110.0), MILD)
    assert (found.low_kpa, found.low_clears_kpa) == (110.0, pytest.approx(116.4))
    at_floor = Aim(110.0, MILD, False, floor_kpa=110.0)
    assert core.thresholds(at_floor, MILD).low_clears_kpa == pytest.approx(113.3)
    assert core.fold(at_floor, ["1L"], [cold("1L", 0, 110.0)]).wheels["1L"].pressure == "clear"
    assert core.fold(at_floor, ["1L"], [cold("1L", 0, 109.9)]).wheels["1L"].pressure == "low"


def test_nothing_heard_is_not_known() -> None:
    of = core.fold(LIGHT, ["1L", "S1"], [cold("1L", 0, 290.0), cold("9X", 0, 100.0), cold("S1", 0, 100.0, fresh=False)])
    assert (of.wheels["1L"].known, of.wheels["S1"].known) == (True, False)
    assert set(of.wheels) == {"1L", "S1"}
    assert of.told == ()


def test_raw_thresholds_of_a_receiver_and_what_they_hide() -> None:
    # Low 255.2 at 20 °C is (255.2 + 101.325) × 263.15/293.15 − 101.325 = 218.715 at −10 °C;
    # 218.715 hot at 50 °C is (218.715 + 101.325) × 293.15/323.15 − 101.325 = 189.004 as if cold.
    found = core.for_receiver(LIGHT, MILD, [Air(5, 0), Air(-10, 0)])
    assert found.low_kpa == pytest.approx(218.715, abs=0.01)
    assert found.high_kpa == pytest.approx(core.thresholds(LIGHT, MILD).high_kpa)
    assert found.hides[1].values[1].value == pytest.approx(189.004, abs=0.01)
    assert found.hides[1].values[2].value == pytest.approx(1 - 189.004 / 290, abs=1e-4)
    # No dawn ahead is known: as the air is now.
    assert core.for_receiver(LIGHT, MILD, []).low_kpa == pytest.approx(255.2)
    # A warm week does not raise it.
    assert core.for_receiver(LIGHT, MILD, [Air(30, 0)]).low_kpa == pytest.approx(255.2)


@pytest.mark.parametrize("share", [0.09, 0.21])
def test_a_share_out_of_its_bounds_is_refused(share: float) -> None:
    with pytest.raises(Refusal, match="10% to 20%"):
        core.thresholds(Aim(290, MILD, False, share), MILD)


def test_a_sealed_sensor_shows_less_up_in_the_hills_and_not_known_it_may() -> None:
    # At 1,500 m the air is at 84.56 kPa: 16.77 less than at the sea.
    hills = Air(20.0, 1500.0)
    shown = Sample("1L", START, 240.0, hills, stood_h=12.0)
    assert core.sampled(shown, True).kpa == pytest.approx(256.77, abs=0.01)
    assert [core.sampled(shown, known).kpa for known in (False, None)] == [240, 240]
    assert [core.sampled(shown, known).lacks_kpa for known in (True, False)] == [0, 0]
    assert core.sampled(shown, None).lacks_kpa == pytest.approx(16.77, abs=0.01)
    # Not known it is less sure, and only until its offset is learned.
    seen = [core.glimpse(core.sampled(shown, known), False, hills, START) for known in (False, None)]
    assert [round(one.within_kpa, 1) for one in seen if one] == [7.7, 18.5]
    known = core.glimpse(core.sampled(shown, None), False, hills, START, core.Offset(-16.0, 3.0, 4))
    assert known is not None
    assert (known.kpa, round(known.within_kpa, 1)) == (256, 4.5)
    # What is typed into a receiver is in its sensors' own numbers; a message is judged as a gauge reads.
    plain, sealed = (core.for_receiver(LIGHT, hills, [], of) for of in (False, True))
    assert plain.low_kpa - sealed.low_kpa == pytest.approx(16.77, abs=0.01)
    assert plain.high_kpa - sealed.high_kpa == pytest.approx(16.77, abs=0.01)
    assert len(sealed.hides) == len(plain.hides) + 1
    sent = core.Message(1, START, (core.Said("1L", 240.0),), hills, 1.0, sealed=True)
    assert sent.samples[0].kpa == pytest.approx(256.77, abs=0.01)


@pytest.mark.parametrize(
    ("minutes", "more", "says"),
    [(20, {"rolled_min": 40.0}, "20 min ago, rolled 40 min by then"), (89, {"stood_h": 9.0}, "89 min ago, stood 9 h by then"),
     (90, {}, "2 h ago, nobody said whether it had rolled"), (47 * 60, {"tire_c": 20.0}, "47 h ago"), (72 * 60, {"rolled_min": 0.0}, "3 days ago")],
)  # fmt: skip
def test_every_number_has_its_age_and_what_it_had_done_by_then(minutes: int, more: dict[str, float], says: str) -> None:
    sample = Sample("1L", START, 240.0, MILD, **more)
    assert core.since_words(sample, START + dt.timedelta(minutes=minutes)).text == says


def test_the_lamp_by_dawns() -> None:
    dawns = [(dt.date(2026, 12, d), Air(c, 0)) for d, c in ((1, 8), (2, -8), (3, -12))]
    found = core.lamp_ahead(210.0, 230.0, MILD, dawns)
    assert found is not None
    # (230 + 101.325) × 265.15/293.15 − 101.325 = 198.35.
    assert (found.on, found.reads_kpa) == (dt.date(2026, 12, 2), pytest.approx(198.354, abs=0.01))
    assert core.lamp_ahead(190.0, 230.0, MILD, dawns[:2]) is None


def test_where_the_lamp_lights_and_how_that_is_known() -> None:
    by_law = core.threshold_words(180.0, None, None, "A", 230.0)
    assert [w.text.split(",")[0] for w in by_law] == ["The vehicle's own lamp lights at the latest below {0}"]
    day = dt.datetime(2026, 5, 1, 9, tzinfo=dt.UTC)
    kept = core.Recorded(200.0, day, "A")
    assert [w.text for w in core.threshold_words(200.0, kept, None, "A", 230.0)] == [
        "The vehicle's own lamp lights below {0}, written down May 1, 2026."
    ]
    # Other tires, and a number below where it lights: both are said.
    asked = core.threshold_words(200.0, kept, None, "B", 190.0)
    assert asked[1].text.startswith("That was with A: ask whether it still holds")
    assert asked[2].text.startswith("The number that it is held to lies below")
    # Taken away and written down again, it is of the later day; another number is one of its own.
    later = dt.datetime(2026, 9, 1, 9, tzinfo=dt.UTC)
    assert core.recorded([(day, 200.0, "A"), (day, None, "A"), (later, 200.0, "A")]) == core.Recorded(200.0, later, "A")
    assert core.recorded([(day, 200.0, "A"), (later, 210.0, "B")]) == core.Recorded(210.0, later, "B")
    assert core.recorded([(day, 200.0, "A"), (later, None, "A")]) is None
    # The target that was in force then against that of now; none then, or the same again, asks nothing.
    row = [(day, 200.0, "A")]
    hour = dt.timedelta(hours=1)
    for put, targets in (
        ([(day - hour, 250.0), (later, 280.0)], (250, 280)), ([(day - hour, 250.0), (later, 280.0), (later, 250.0)], None),
        ([(day + hour, 280.0)], None), ([(day - hour, 250.0), (later, None)], None), ([], None),
    ):  # fmt: skip
        found = core.recorded(row, put)
        assert found is not None
        assert found.targets == targets
    moved = core.threshold_words(200.0, replace(kept, targets=(250.0, 280.0)), None, "A", 230.0)
    assert moved[1].text.startswith("The target was {0} then and is {1} now: ask")


def seen_way(after: str = "out", light: str = "solid", which: str = "?", **low: str) -> core.Answers:
    """A guided way over 1L 204, 1R 231, 2L 229, 2R 230 and the spare at 300 kPa; `low`: not at their number."""
    reads = tuple(core.Read(c, c, c == "S1", low.get(f"w{c}", "hold")) for c in ("1L", "1R", "2L", "2R", "S1"))  # type: ignore[arg-type]
    return core.Answers(light, which, "nothing", reads, True, after)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("of", "front", "rear"),
    [
        # Filled to 236, it went out with the other at 231 as read, warm by then: (231 + 101.325) × 303.15/293.15 − 101.325.
        (seen_way(w1L="add"), (204, 242.34), (None, 240.27)),
        (seen_way(w1L="add", which="1L"), (204, 242.34), (None, 240.27)),
        # Nothing was low: only the display says which it was, and none is known to have lit it without.
        (seen_way(which="2R"), (None, 214.42), (230, 240.27)),
        (seen_way(), (None, 214.42), (None, 240.27)),
        # Two may have been it, the display contradicts the gauge, or it was the spare.
        (seen_way(w1L="add", w2L="add"), (None, 242.34), (None, None)),
        (seen_way(w1L="add", which="2R"), (None, 242.34), (None, 240.27)),
        (seen_way(wS1="add"), (None, 214.42), (None, 240.27)),
        # A fault, a lamp that stays on, a way that has not come to its end.
        (seen_way(w1L="add", light="flashing"), (None, None), (None, None)),
        (seen_way(w1L="add", after="on"), (None, None), (None, None)),
    ],
)  # fmt: skip
def test_a_lamp_teaches_where_it_lights_only_where_one_tire_can_have_lit_it(
    of: core.Answers, front: tuple[float | None, float | None], rear: tuple[float | None, float | None]
) -> None:
    read = {"1L": 204.0, "1R": 231.0, "2L": 229.0, "2R": 230.0, "S1": 300.0}
    for wheels, seen in ((("1L", "1R"), front), (("2L", "2R"), rear)):
        found = core.lamp_seen(of, read, {"1L": 236.0}, wheels, MILD, False)
        assert found == tuple(p if p is None else pytest.approx(p, abs=0.01) for p in seen)


def test_what_a_lamp_taught_is_said_with_its_day_and_asked_back() -> None:
    lit = LampSeen(dt.date(2026, 11, 7), "A", 204.0, 231.0)

    def words(lamp_kpa: float, seen: LampSeen, size: str = "A") -> str:
        return core.threshold_words(lamp_kpa, None, seen, size, 230.0)[0].text

    assert "lights at {0} or a little higher" in words(204.0, lit)
    assert "last seen Nov 7, 2026. It was out at {1}." in words(204.0, lit)
    # The law's is higher, other tires are on, or what was seen cannot both be so.
    assert "by law" in words(210.0, lit)
    assert "by law" in words(180.0, lit, "B")
    assert "lit at {1} and out at {2}: one of the two" in words(180.0, replace(lit, out_kpa=200.0))


# -- properties ------------------------------------------------------------------------------------------

pressures = st.lists(st.floats(150, 420), min_size=1, max_size=25)


@given(pressures, st.integers(0, 2**32))
def test_late_doubled_and_stale_numbers_end_in_the_same_state(read: list[float], seed: int) -> None:
    dice = random.Random(seed)
    events: list[Any] = [
        cold(dice.choice(["1L", "1R"]), 3 * i, p, rolled_min=dice.choice([0.0, 5.0, 45.0]), tire_c=dice.choice([None, 20.0, 60.0]))
        for i, p in enumerate(read)
    ]  # fmt: skip
    events += [Filled("1L", START + dt.timedelta(minutes=dice.uniform(0, 60)))]
    stale = [cold("1L", 3 * i + 1, dice.uniform(0, 500), fresh=False) for i in range(5)]
    shuffled = [*events, *dice.sample(events, len(events) // 2), *stale]
    dice.shuffle(shuffled)
    assert core.fold(LIGHT, ["1L", "1R"], shuffled) == core.fold(
        LIGHT, ["1L", "1R"], sorted(events, key=lambda e: e.at)
    )


@given(st.lists(st.floats(255.3, 281.2), min_size=1, max_size=30), st.sampled_from([300.0, 240.0]))
def test_inside_the_loop_nothing_changes(read: list[float], first: float) -> None:
    """Between where it sets and where it clears the state is what it was, however the numbers go."""
    of = core.fold(LIGHT, ["1L"], [cold("1L", 0, first), *(cold("1L", 60 + i, p) for i, p in enumerate(read))])
    assert of.wheels["1L"].pressure == ("clear" if first == 300.0 else "low")
    assert len(of.told) == (0 if first == 300.0 else 1)


@given(pressures)
def test_very_low_is_told_once_until_clear(read: list[float]) -> None:
    told = core.fold(LIGHT, ["1L"], [cold("1L", 60 * i, p) for i, p in enumerate(read)]).told
    spells: list[list[str]] = [[]]
    for t in told:
        if t.what not in get_args(core.Grade):
            continue
        if t.set:
            spells[-1].append(t.what)
        else:
            spells.append([])
    assert all(s in ([], ["low"], ["very low"], ["low", "very low"]) for s in spells)


@given(st.floats(150, 900), st.floats(-30, 45), st.floats(-30, 45), st.booleans())
def test_a_tire_at_its_target_is_quiet_in_any_air_rolling_or_not(
    target: float, set_c: float, now_c: float, heavy: bool
) -> None:
    aim, now = Aim(target, Air(set_c, 0), heavy), Air(now_c, 0)
    if carry(target, aim.set_in, now) <= 0.9 * target:
        return
    tire = Moving(target, aim.set_in, target, heavy, now_c)
    events = []
    for minute in range(0, 90, 3):
        events.append(
            Sample("1L", START + dt.timedelta(minutes=minute), tire.reads(now), now, tire.tire_c, float(minute))
        )
        tire = core.roll(tire, Rolling(100, 1, now), 3)
    of = core.fold(aim, ["1L"], events)
    assert of.told == ()
    assert not of.wheels["1L"].loud


# -- a fleet on the road ---------------------------------------------------------------------------------


class Drives:
    """Rigs of four wheels that drive day after day, as a receiver would hear them; faults happen to single wheels."""

    CODES = ("1L", "1R", "2L", "2R")

    def __init__(self, seed: int, heavy: bool, every_s: float = 10.0) -> None:
        self.dice, self.heavy, self.every = random.Random(seed), heavy, every_s / 60
        self.aim = Aim(586.0 if heavy else 290.0, MILD, heavy)
        # What a sound tire was set to, give or take a gauge.
        self.held = {c: self.aim.target_kpa * self.dice.uniform(0.985, 1.02) for c in self.CODES}
        self.state: core.Fold | None = None

    def drive(self, day: int, nail: str = "", brake: str = "", least: float = 20) -> list[str]:
        """One drive; what was told on it, wheel by wheel."""
        air = Air(20 + 12 * self.dice.uniform(-1, 1), 0.0)
        # Set for the air of each drive, as a weekly check does.
        tires = {
            c: Moving(carry(self.held[c], MILD, MILD), air, self.aim.target_kpa, self.heavy, air.temperature_c)
            for c in self.CODES
        }
        aim = Aim(self.aim.target_kpa, air, self.heavy)
        minutes, fault_at = self.dice.uniform(least, 60), self.dice.uniform(5, 15)
        start = START + dt.timedelta(days=day)
        speed, load = self.dice.uniform(60, 105), self.dice.uniform(0.5, 1.0)
        events: list[Sample | Filled] = []
        t = 0.0
        while t < minutes:
            for c in self.CODES:
                faulty = t > fault_at
                through = Rolling(speed, load, air, brake_c=130.0 if c == brake and faulty else 0.0,
                                  loses_kpa_min=12.0 if c == nail and faulty else 0.0)  # fmt: skip
                tires[c] = core.roll(tires[c], through, self.every)
                at = start + dt.timedelta(minutes=t + self.every)
                noise = self.dice.gauss(0, 0.7)
                events.append(Sample(c, at, tires[c].reads(air) + noise, air, tires[c].tire_c, t + self.every))
            t += self.every
        before = len(self.state.told) if self.state else 0
        self.state = core.fold(aim, self.CODES, events, self.state)
        return [f"{x.wheel} {x.what}" for x in self.state.told[before:] if x.set]


def test_a_season_of_drives_names_each_fault_once_and_nothing_else() -> None:
    false = []
    for seed in range(10):
        fleet = Drives(seed, heavy=seed % 2 == 1, every_s=20.0)
        for day in range(5):
            false += fleet.drive(day)
    assert false == []
    nail = Drives(21, heavy=False)
    nail.drive(0)
    told = nail.drive(1, nail="2L")
    # Each once. It may run hot by then, soft as it is, and nothing is said of another wheel.
    assert sorted(t for t in told if t != "2L heat") == ["2L fast loss", "2L low", "2L very low"]
    assert told.count("2L heat") <= 1
    brake = Drives(22, heavy=True)
    assert [t for t in brake.drive(0, brake="1R", least=50) if "heat" in t] == ["1R heat"]


# -- the lamp came on ------------------------------------------------------------------------------------


def tire(code: str, word: Any = "hold", lacks: float | None = 0.0, spare: bool = False) -> core.Read:
    return core.Read(code, f"Wheel {code}", spare, word, lacks)


SOUND = (tire("1L"), tire("1R"), tire("2L"), tire("2R"), tire("S1", spare=True))


def guided(*reads: core.Read, **more: Any) -> core.Step:
    all_read = {r.code: r for r in (*SOUND, *reads)}
    return core.guide(
        core.Answers(**({"light": "solid", "which": "?", "seen": "nothing", "reads": tuple(all_read.values())} | more))
    )


def test_the_guide_asks_one_thing_after_the_other() -> None:
    answers: dict[str, Any] = {}
    for key, answer in (("light", {"light": "flashing"}), ("which", {"which": "2L"}), ("look", {"seen": "nothing"})):
        step = core.guide(core.Answers(**answers))
        assert (step.key, step.outcome) == (key, None)
        answers |= answer
    step = core.guide(core.Answers(**answers))
    assert step.key == "read"
    assert step.notes[0].text.startswith("Flashing means a fault")


@pytest.mark.parametrize(
    ("step", "key", "outcome"),
    [
        (guided(seen="flat"), "end", "stop"),
        (guided(tire("2L", "stop", 0.4)), "end", "stop"),
        # A stop ends it, whatever is not read yet; else nothing is concluded before all were, the spare too.
        (guided(tire("2L", "stop", 0.4), tire("S1", "not_checked", None, True)), "end", "stop"),
        (guided(tire("2L", "add", 0.1), tire("S1", "not_checked", None, True), after="out"), "read", None),
        (guided(tire("2L", "cannot_tell", None), after="out"), "read", None),
        (guided(tire("2L", "add", 0.1), after="out"), "air", None),
        (guided(tire("2L", "add", 0.1), aired=True), "roll", None),
        (guided(tire("2L", "add", 0.1), aired=True, after="on"), "end", "sensor"),
        (guided(tire("2L", "add", 0.1), aired=True, after="out"), "end", "leak"),
        (guided(tire("S1", "add", 0.2, True), aired=True, after="out"), "end", "spare"),
        (guided(*(tire(c, "add", 0.10 + i / 100) for i, c in enumerate(("1L", "1R", "2L", "2R"))), aired=True, after="out"), "end", "weather"),
        # One of four lacks 4 % more than another, or has something in it: not the weather alone.
        (guided(*(tire(c, "add", 0.10 + (c == "2R") * 0.04) for c in ("1L", "1R", "2L", "2R")), aired=True, after="out"), "end", "leak"),
        (guided(*(tire(c, "add", 0.10) for c in ("1L", "1R", "2L", "2R")), seen="object", aired=True, after="out"), "end", "leak"),
        (guided(*(tire(c, "add", None) for c in ("1L", "1R", "2L", "2R")), aired=True, after="out"), "end", "leak"),
        (guided(after="out"), "end", "threshold"),
        (guided(after="on"), "end", "sensor"),
        (guided(), "roll", None),
        # What was not read may be the one.
        (guided(after="on", left_out=(("Spare", "under the bed"),)), "end", "unread"),
        (guided(after="out", left_out=(("Spare", "under the bed"),)), "end", "unread"),
        (guided(tire("2L", "add", 0.1), aired=True, after="out", left_out=(("Spare", "locked"),)), "end", "leak"),
    ],
)  # fmt: skip
def test_where_the_guide_leads(step: core.Step, key: str, outcome: str | None) -> None:
    assert (step.key, step.outcome) == (key, outcome)


def test_the_leak_is_of_those_that_lack_more_than_the_rest() -> None:
    lacking = (("1L", 0.05), ("1R", 0.06), ("2L", 0.05), ("2R", 0.12))
    step = guided(*(tire(c, "add", lacks) for c, lacks in lacking), aired=True, after="out")
    assert step.words.text.startswith("Wheel 2r lacked more than the others: it may leak.")
    two = guided(*(tire(c, "add", 0.2) for c in ("2L", "2R")), aired=True, after="out")
    assert two.words.text.startswith("Wheel 2l, wheel 2r lacked more than the others: they may leak.")
