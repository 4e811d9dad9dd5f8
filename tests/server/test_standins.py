"""The simulated weather service: deterministic, in season, and a service like any other."""

import datetime as dt
import itertools

import pytest

from ballast.server.weather.service import service
from ballast.standins.scale import SimulatedScale
from ballast.standins.weather import SimulatedWeather

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


def test_the_coming_dawn_lies_ahead_and_this_mornings_behind() -> None:
    for hour in range(0, 48, 3):
        at = NOON + dt.timedelta(hours=hour)
        outlook = WEATHER.outlook("ember-lake", at)
        assert at < outlook.dawn_at <= at + dt.timedelta(days=1)
        assert outlook.dawn_c == WEATHER.outside_c("ember-lake", outlook.dawn_at)
        assert outlook.morning_c == WEATHER.outside_c("ember-lake", outlook.dawn_at - dt.timedelta(days=1))
        assert outlook.outside_c == WEATHER.outside_c("ember-lake", at)


def test_an_unknown_place_is_a_key_error() -> None:
    with pytest.raises(KeyError):
        WEATHER.outlook("atlantis", NOON)


def test_the_service_in_use_is_named_in_settings(settings: object) -> None:
    settings.WEATHER_SERVICE = "ballast.standins.weather.SimulatedWeather"  # type: ignore[attr-defined]
    assert isinstance(service(), SimulatedWeather)


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
