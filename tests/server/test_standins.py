"""The simulated weather service: deterministic, in season, and a service like any other."""

import datetime as dt
import itertools

import pytest

from ballast.server.weather.outlook import outlook
from ballast.server.weather.service import Guarded, service
from ballast.standins.scale import SimulatedScale
from ballast.standins.weather import SimulatedWeather, snap_c

WEATHER = SimulatedWeather()
NOON = dt.datetime(2026, 7, 10, 19, tzinfo=dt.UTC)  # noon at the made-up places


def test_places_with_elevations_and_zones() -> None:
    places = {p.key: p for p in WEATHER.places()}
    assert places["marrow-pass"].elevation_m == 2650
    assert places["quill-dunes"].elevation_m == 55
    assert len(places) == 5
    assert all(p.time_zone.startswith("Etc/") for p in places.values())


def test_the_same_moment_is_always_the_same() -> None:
    again = SimulatedWeather()
    for hour in range(0, 72, 5):
        at = NOON + dt.timedelta(hours=hour)
        assert WEATHER.outside_c("tarn-hollow", at) == again.outside_c("tarn-hollow", at)


def mean(key: str, start: dt.datetime, hour: int) -> float:
    days = [start.replace(hour=hour) + dt.timedelta(days=d) for d in range(30)]
    return sum(WEATHER.outside_c(key, d) for d in days) / len(days)


@pytest.mark.parametrize("key", [p.key for p in WEATHER.places()])
def test_dawns_are_colder_than_afternoons_and_winters_than_summers(key: str) -> None:
    summer, winter = dt.datetime(2026, 7, 1, tzinfo=dt.UTC), dt.datetime(2027, 1, 1, tzinfo=dt.UTC)
    assert mean(key, summer, 13) < mean(key, summer, 1) - 5  # 6 h and 18 h there
    assert mean(key, winter, 13) < mean(key, summer, 13) - 8


def test_the_pass_is_colder_than_the_dunes() -> None:
    assert mean("marrow-pass", NOON, 13) < mean("quill-dunes", NOON, 13) - 8


def test_the_hours_run_smoothly() -> None:
    temperatures = [WEATHER.outside_c("saltgrass-flat", NOON + dt.timedelta(hours=h)) for h in range(24 * 14)]
    steps = [abs(b - a) for a, b in itertools.pairwise(temperatures)]
    assert max(steps) < 4
    assert -60 < min(temperatures) < max(temperatures) < 60


LAKE = next(p for p in WEATHER.places() if p.key == "ember-lake")


def test_the_coming_dawns_lie_ahead_and_this_mornings_behind() -> None:
    for hour in range(0, 48, 3):
        at = NOON + dt.timedelta(hours=hour, minutes=20)
        found = outlook(WEATHER, LAKE, at)
        assert len(found.week) == 7
        assert at < found.dawn.dawn_at <= at + dt.timedelta(days=1, hours=8)
        local = found.dawn.dawn_at - dt.timedelta(hours=7)
        assert 0 <= local.hour <= 12
        assert found.dawn.dawn_c == WEATHER.outside_c("ember-lake", found.dawn.dawn_at)
        for day in found.week:
            assert day.dawn_c <= day.high_c
            hours = [WEATHER.outside_c("ember-lake", day.high_at + dt.timedelta(hours=h)) for h in (-1, 1)]
            assert day.high_c >= min(hours)
        assert found.outside_c == pytest.approx(WEATHER.outside_c("ember-lake", at), abs=1.0)


def test_an_unknown_place_is_a_key_error() -> None:
    with pytest.raises(KeyError):
        WEATHER.hourly("atlantis", NOON, 3)


def test_hours_behind_are_history_and_hours_ahead_the_forecast() -> None:
    found = WEATHER.hourly("tarn-hollow", NOON - dt.timedelta(hours=48), 96)
    assert len(found) == 96
    assert found[48] == WEATHER.outside_c("tarn-hollow", NOON)


def test_now_and_then_a_cold_snap_comes_over_all_places() -> None:
    days = [snap_c(740_000 + d / 4) for d in range(4 * 730)]
    assert 7 < max(days) <= 17
    # In two years several come, and most days have none.
    assert sum(1 for d in days if d == 0) > 0.6 * len(days)
    assert sum(1 for a, b in itertools.pairwise(days) if a == 0 < b) >= 8


def test_the_service_in_use_is_named_in_settings(settings: object) -> None:
    settings.WEATHER_SERVICE = "ballast.standins.weather.SimulatedWeather"  # type: ignore[attr-defined]
    found = service()
    assert isinstance(found, Guarded)
    assert isinstance(found.inner, SimulatedWeather)


SCALE = SimulatedScale()


@pytest.mark.parametrize("key", ["platform", "pads"])
def test_the_simulated_scale_shows_its_own_steps(key: str) -> None:
    setup = next(s for s in SCALE.setups() if s.key == key)
    assert setup.simulated
    for load in (812.0, 1690.0, 3410.0):
        shown = SCALE.read(key, (load,), "", NOON)
        assert shown.kg % setup.resolution_kg == 0
        # A step either side, and the same again for the same load.
        assert abs(shown.kg - load) <= 1.5 * setup.resolution_kg
        assert SCALE.read(key, (load,), "", NOON).kg == shown.kg


def test_its_faults_are_those_of_real_ones() -> None:
    right = SCALE.read("platform", (1690, 1700), "", NOON)
    assert right.steady
    # A tare of 140 kg, 4 % of a lean, the last wheels with 55 % on the plate.
    assert SCALE.read("platform", (1690, 1700), "tare drift", NOON).kg == pytest.approx(right.kg + 140, abs=20)
    lean = SCALE.read("platform", (1690, 1700), "not level", NOON)
    assert (lean.steady, lean.kg) == (False, pytest.approx(right.kg * 1.04, abs=20))
    half = SCALE.read("platform", (1690, 1700), "half off", NOON)
    assert (half.steady, half.kg) == (False, pytest.approx(1690 + 0.55 * 1700, abs=20))


def test_a_scale_that_is_not_there() -> None:
    with pytest.raises(KeyError):
        SCALE.read("moon", (1.0,), "", NOON)
