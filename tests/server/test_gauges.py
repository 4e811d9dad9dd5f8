import copy
from typing import Any

import pytest

from ballast.server.gauges.models import Calibration, Gauge
from tests.server.conftest import COMPARISON, GAUGE, Api, Fleet


def test_a_new_gauge_is_suspect_until_compared(api: Api) -> None:
    made = api.ok("POST", "/gauges", GAUGE)
    assert made["suspect"] is True
    assert "Never compared" in made["condition"]["text"]
    compared = api.ok("POST", f"/gauges/{made['id']}/calibrations", COMPARISON)
    assert compared["suspect"] is False
    assert compared["condition"] is None
    assert compared["calibrations"][0]["pairs"][1] == {"reference_kpa": 600, "reading_kpa": 604}
    assert compared["calibrations"][0]["by"] == "Manager"


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"label": ""}, "label", "at least 1"),
        ({"kind": "crystal ball"}, "kind", "Choose one of"),
        ({"high_kpa": 0}, "high_kpa", "ends below"),
        ({"high_kpa": "20 bar"}, "high_kpa", "above"),
        ({"resolution_kpa": 0}, "resolution_kpa", "above zero"),
        ({"resolution_kpa": 500}, "resolution_kpa", "small in its range"),
    ],
)
def test_what_a_gauge_cannot_be(api: Api, change: dict[str, Any], field: str, words: str) -> None:
    assert words in api.no("POST", "/gauges", GAUGE | change, 422, field)
    assert not Gauge.objects.exists()


def test_a_label_is_once(fleet: Fleet) -> None:
    assert "already" in fleet.api.no("POST", "/gauges", GAUGE, 409, "label")
    renamed = fleet.api.ok("PUT", f"/gauges/{fleet.gauge}", GAUGE | {"label": "G1b"})
    assert renamed["label"] == "G1b"
    assert renamed["calibrations"]


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"pairs": []}, "pairs", "At least 1"),
        ({"pairs": [{"reference": 600, "reading": 1200}]}, "pairs.0.reading", "outside its range"),
        ({"pairs": [{"reference": 600, "reading": 900}]}, "pairs.0.reading", "quarter apart"),
        ({"pairs": [{"reference": 600, "reading": 610}, {"reference": 605, "reading": 600}]}, "pairs", "do not rise"),
        ({"compared_on": "2199-01-01"}, "compared_on", "future"),
        ({"reference": ""}, "reference", "at least 1"),
    ],
)
def test_what_a_comparison_cannot_be(fleet: Fleet, change: dict[str, Any], field: str, words: str) -> None:
    body = copy.deepcopy(COMPARISON) | change
    assert words in fleet.api.no("POST", f"/gauges/{fleet.gauge}/calibrations", body, 422, field)
    assert Calibration.objects.count() == 1


def test_a_dropped_gauge_is_suspect_until_compared_again(fleet: Fleet) -> None:
    dropped = fleet.api.ok("PUT", f"/gauges/{fleet.gauge}", GAUGE | {"dropped": True})
    assert dropped["suspect"] is True
    assert "dropped" in dropped["condition"]["text"]
    again = fleet.api.ok("POST", f"/gauges/{fleet.gauge}/calibrations", COMPARISON | {"compared_on": "2026-11-01"})
    assert again["dropped"] is False
    assert again["suspect"] is False
    assert [c["compared_on"] for c in again["calibrations"]] == ["2026-11-01", "2026-09-01"]


def test_a_retired_gauge_reads_no_more_rounds(aimed: Fleet) -> None:
    aimed.api.ok("PUT", f"/gauges/{aimed.gauge}", GAUGE | {"retired": True})
    told = aimed.api.no("POST", f"/rigs/{aimed.rig}/rounds", aimed.conditions(), 422, "gauge")
    assert "retired" in told


def test_readings_keep_what_was_typed(fleet: Fleet) -> None:
    pairs = [{"reference": "58 psi", "reading": "58.5 psi"}]
    fleet.api.ok("POST", f"/gauges/{fleet.gauge}/calibrations", COMPARISON | {"pairs": pairs})
    stored = Calibration.objects.order_by("id").last()
    assert stored is not None
    assert stored.pairs[0][2:] == ["58 psi", "58.5 psi"]
    assert stored.pairs[0][0] == pytest.approx(399.896, abs=0.001)
