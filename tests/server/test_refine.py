"""Chalk trials through the API: a pass at a time, inside the bounds; only an even one becomes a school."""

import datetime as dt
from typing import Any
from uuid import uuid4

import pytest
from django.utils import timezone

from ballast.core.units import PSI_KPA
from ballast.demo.clock import at
from tests.server.conftest import Fleet

HIGH, LOW, EVEN, SHOULDER = (
    ["left", "gone", "left"], ["gone", "left", "gone"], ["gone", "gone", "gone"], ["gone", "faint", "left"],
)  # fmt: skip


def begin(fleet: Fleet, number: int = 1, **more: Any) -> Any:
    body = {"number": number, "gauge": fleet.gauge} | more
    return fleet.api.ok("POST", f"/rigs/{fleet.rig}/trials", body)["trials"][0]


def drive(
    fleet: Fleet, trial: int, pressure: Any, marks: list[str], right: list[str] | None = None, **more: Any
) -> Any:
    body = {"uuid": str(uuid4()), "pressure": pressure, "left": marks, "right": right or marks} | more
    return fleet.api.ok("POST", f"/trials/{trial}/passes", body)["trials"][0]


def test_a_trial_goes_down_reverses_and_ends_even(aimed: Fleet) -> None:
    trial = begin(aimed)
    # The floor of the front axle: 532.86 kPa. Five psi at a time from 50 psi on, to whole psi.
    assert trial["least_kpa"] == pytest.approx(532.857, abs=0.01)
    found = drive(aimed, trial["id"], "610 kPa", HIGH)["verdict"]
    assert (found["decision"], found["done"]) == ("lower", False)
    # The gauge reads 4 kPa high there: 605.9, less 34.5, to the psi: 83.
    assert found["next_kpa"] / PSI_KPA == pytest.approx(83)
    found = drive(aimed, trial["id"], "575 kPa", LOW)["verdict"]
    assert found["decision"] == "higher"
    # Turned once, half of five.
    assert found["next_kpa"] / PSI_KPA == pytest.approx(85)
    done = drive(aimed, trial["id"], "590 kPa", EVEN)
    assert (done["ended"], done["verdict"]["done"]) == ("even", True)
    results = aimed.api.ok("GET", f"/rigs/{aimed.rig}/chalk")
    assert [(r["even"], r["note"]) for r in results] == [(True, "Chalk trial, 3 passes")]
    work = aimed.api.ok("POST", "work/targets", {"rig": aimed.rig, "school": "chalk"})["axles"][0]
    assert work["school"] == "chalk"
    # Other tires on that axle: it is asked again, and no school any more.
    with at(timezone.now() + dt.timedelta(days=2)):
        body = {"wheel": "1L", "new": {}, "fitted_on": timezone.now().date().isoformat()}
        assert aimed.api.call("POST", f"/rigs/{aimed.rig}/fittings", body).status_code == 204
        assert (
            aimed.api.ok("POST", "work/targets", {"rig": aimed.rig, "school": "chalk"})["axles"][0]["school"] == "table"
        )
        assert aimed.api.ok("GET", f"/rigs/{aimed.rig}/trials")["trials"][0]["again"] == ["other tires since"]


def test_a_trial_that_would_go_below_the_floor_is_stopped(aimed: Fleet) -> None:
    trial = begin(aimed)
    found = drive(aimed, trial["id"], "560 kPa", HIGH)["verdict"]
    assert found["next_kpa"] == pytest.approx(532.857, abs=0.01)
    done = drive(aimed, trial["id"], "537 kPa", HIGH)
    assert (done["ended"], aimed.api.ok("GET", f"/rigs/{aimed.rig}/chalk")) == ("bound", [])
    another = begin(aimed)["id"]
    low = {"uuid": str(uuid4()), "pressure": "500 kPa", "left": EVEN, "right": EVEN}
    told = aimed.api.no("POST", f"/trials/{another}/passes", low, 422, "pressure")
    assert told.startswith("Below what the load needs")


def test_what_voids_a_pass_and_what_ends_a_trial(aimed: Fleet) -> None:
    trial = begin(aimed)["id"]
    void = drive(aimed, trial, "610 kPa", HIGH, missing=["cold"])
    assert (void["verdict"]["decision"], void["passes"][0]["counts"]) == ("void", False)
    aimed.api.no(
        "POST", f"/trials/{trial}/passes",
        {"uuid": str(uuid4()), "pressure": 600, "left": HIGH, "right": HIGH, "missing": ["moon"]}, 422, "missing",
    )  # fmt: skip
    typed = {"trial": trial, "pressure": "610 kPa", "left": SHOULDER, "right": SHOULDER}
    assert aimed.api.ok("POST", "work/refine/chalk", typed)["decision"] == "alignment"
    # Nothing of that was saved.
    assert len(aimed.api.ok("GET", f"/rigs/{aimed.rig}/trials")["trials"][0]["passes"]) == 1
    other = {"number": 1, "gauge": aimed.gauge}
    assert "is open" in aimed.api.no("POST", f"/rigs/{aimed.rig}/trials", other, 409, "number")
    assert "felt" in aimed.api.no("POST", f"/trials/{trial}/end", {"how": "feel"}, 422, "note")
    ended = aimed.api.ok("POST", f"/trials/{trial}/end", {"how": "feel", "note": "mushy in bends"})["trials"][0]
    assert (ended["ended"], ended["note"]) == ("feel", "mushy in bends")
    assert aimed.api.ok("GET", f"/rigs/{aimed.rig}/chalk") == []
    assert "has ended" in aimed.api.no("POST", f"/trials/{trial}/end", {"how": "left"}, 409)


def test_a_pass_sent_twice_is_kept_once_and_an_axle_without_a_floor_has_no_trial(aimed: Fleet, api_as: Any) -> None:
    trial = begin(aimed)["id"]
    body = {"uuid": str(uuid4()), "pressure": "610 kPa", "left": HIGH, "right": HIGH}
    for _ in range(2):
        found = aimed.api.ok("POST", f"/trials/{trial}/passes", body)["trials"][0]
    assert len(found["passes"]) == 1
    bare = aimed.api.ok("POST", "/rigs", {"kind": "car", "name": "Bare", "axles": [{"tire_size": "225/45R17"}] * 2})[
        "id"
    ]
    aimed.api.no("POST", f"/rigs/{bare}/trials", {"number": 1, "gauge": aimed.gauge}, 422, "number")
    aimed.api.no("POST", f"/rigs/{bare}/trials", {"number": 7, "gauge": aimed.gauge}, 422, "number")
