from typing import Any

import pytest

from ballast.core.gas import Air, carry
from tests.server.conftest import WEATHER, Fleet


def test_a_place_of_the_service_fills_everything(aimed: Fleet) -> None:
    found = aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"place_key": "still-water"})
    assert found["air"]["source"] == "service"
    assert (found["air"]["outside_c"], found["air"]["dawn_c"], found["air"]["elevation_m"]) == (10, 2, 410)
    front = found["axles"][0]
    # 620.53 kPa at 10 °C reads 600.26 at 2 °C, less a day's ordinary loss, 0.62.
    assert front["dawn_kpa"] == pytest.approx(carry(620.528, Air(10, 410), Air(2, 410)) - 0.6205, abs=0.01)
    assert front["above_floor"] is True
    assert found["words"]["text"] == "dawn holds the floor"
    # 8 °C are 14.4 °F: 2.88 psi by the rule of 2 psi per 10 °F, beside the law's 2.94.
    assert front["working"][-1]["result"]["value"] == pytest.approx(2.88 * 6.894757)
    assert aimed.api.ok("GET", f"/rigs/{aimed.rig}/air") == found


def test_numbers_by_hand_are_kept_with_their_hour(aimed: Fleet) -> None:
    body = {"outside_c": "55 F", "dawn_c": "-20 C", "elevation_m": "1,345 ft"}
    found = aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", body)
    air = found["air"]
    assert air["source"] == "hand"
    assert air["outside_c"] == pytest.approx(12.78, abs=0.01)
    assert air["elevation_m"] == pytest.approx(409.96, abs=0.01)
    assert air["set_at"]
    # Front, floor 532.86 + 0.62 lost, at −20 °C, brought back to 12.78 °C: 615.0; the target 620.5 holds.
    assert found["axles"][0]["raised"] is False
    # Rear, 580 + 0.69 at −20 °C: (580.69 + 96.5) × 285.93/253.15 − 96.5 = 668.4; the target 689.5 holds.
    assert found["axles"][1]["dawn_kpa"] == pytest.approx(598.7, abs=0.3)


def test_a_hard_dawn_raises_and_is_said(aimed: Fleet) -> None:
    body = {"rig": aimed.rig, "outside_c": 20, "dawn_c": -30, "elevation_m": 410}
    found = aimed.api.ok("POST", "work/air", body)
    front, rear = found["axles"]
    # Front: (533.48 + 96.496) × 293.15/243.15 − 96.496 = 663.0, the next psi is 97 or 668.8.
    assert front["raised"] is True
    assert front["here_kpa"] == pytest.approx(668.79, abs=0.01)
    assert front["above_floor"] is True
    # Rear: (580.69 + 96.496) × 1.20563 − 96.496 = 719.9; 105 psi is 723.95.
    assert rear["here_kpa"] == pytest.approx(723.95, abs=0.01)
    assert found["words"]["text"] == "raised for the dawn"


def test_a_dawn_that_leaves_the_band_is_loud(aimed: Fleet) -> None:
    found = aimed.api.ok("POST", "work/air", {"rig": aimed.rig, "outside_c": 40, "dawn_c": -40, "elevation_m": 0})
    assert found["axles"][1]["above_floor"] is False
    assert found["axles"][1]["here_kpa"] == 760
    assert found["words"]["text"] == "the dawn leaves the band"


@pytest.mark.parametrize(
    ("body", "field", "words"),
    [
        ({}, "outside_c", "or choose a place"),
        ({"outside_c": 10}, "elevation_m", "or choose a place"),
        ({"outside_c": 61, "elevation_m": 0}, "outside_c", "above"),
        ({"outside_c": "-90 F", "elevation_m": 0}, "outside_c", "below"),
        ({"outside_c": "warm", "elevation_m": 0}, "outside_c", "not a temperature"),
        ({"outside_c": 10, "elevation_m": 9001}, "elevation_m", "above"),
        ({"outside_c": 10, "elevation_m": 0, "dawn_c": 99}, "dawn_c", "above"),
        ({"place_key": "atlantis"}, "place_key", "does not know that place"),
    ],
)
def test_air_that_cannot_be(aimed: Fleet, body: dict[str, Any], field: str, words: str) -> None:
    assert words in aimed.api.no("PUT", f"/rigs/{aimed.rig}/air", body, 422, field)
    assert aimed.api.ok("GET", f"/rigs/{aimed.rig}/air")["air"]["source"] == "none"


def test_the_workspaces_place_stands_in_until_a_rig_has_its_own(aimed: Fleet) -> None:
    aimed.api.ok("PUT", "/settings", {"reserve": 0.08, "step": "1 psi", "place_key": "still-water"})
    assert aimed.api.ok("GET", f"/rigs/{aimed.rig}/air")["air"]["place"] == "Still Water"
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"outside_c": 1, "elevation_m": 2})
    assert aimed.api.ok("GET", f"/rigs/{aimed.rig}/air")["air"]["source"] == "hand"


def test_a_silent_service_leaves_everything_usable_by_hand(aimed: Fleet, settings: Any) -> None:
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"place_key": "still-water"})
    settings.WEATHER_SERVICE = WEATHER + "Silent"
    air = aimed.api.ok("GET", f"/rigs/{aimed.rig}/air")
    assert (air["air"]["source"], air["air"]["silent"]) == ("none", True)
    assert air["words"]["text"] == "weather service silent"
    assert aimed.api.ok("GET", "/weather/places") == []
    assert "by hand" in aimed.api.no("GET", "/weather/places/still-water", None, 503)
    assert "by hand" in aimed.api.no(
        "POST", f"/rigs/{aimed.rig}/rounds", aimed.conditions(place_key="still-water"), 503
    )
    assert aimed.api.ok("GET", f"/yard/{aimed.rig}")["air"]["air"]["silent"] is True
    assert aimed.open_round()["outside_c"] == 10


def test_without_a_target_the_air_is_told_alone(fleet: Fleet) -> None:
    found = fleet.api.ok("POST", "work/air", {"rig": fleet.rig, "place_key": "still-water"})
    assert found["axles"] == []
    assert found["words"]["text"] == "{0} outside"
