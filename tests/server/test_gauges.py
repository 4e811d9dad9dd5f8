import copy
import csv
import datetime as dt
import io
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import pytest
from django.db import OperationalError

from ballast.demo.clock import at
from ballast.server.accounts.models import Workspace
from ballast.server.gauges import drawer
from ballast.server.gauges.models import Calibration, Gauge
from ballast.server.gauges.schemas import DrawerIn
from ballast.server.yard.standings import reader
from tests.server.conftest import COMPARISON, GAUGE, Api, Fleet, furnish


def test_a_new_gauge_is_suspect_until_compared(api: Api) -> None:
    made = api.ok("POST", "/gauges", GAUGE)
    assert made["suspect"] is True
    assert "Never compared" in made["condition"]["text"]
    compared = api.ok("POST", f"/gauges/{made['id']}/calibrations", COMPARISON)
    assert compared["suspect"] is False
    assert compared["condition"] is None
    assert compared["calibrations"][0]["pairs"][1] == {"reference_kpa": 600, "reading_kpa": 604, "direction": ""}
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
    assert fleet.api.ok("GET", f"/gauges/{fleet.gauge}")["calibrations"]


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
    dropped = fleet.api.ok("PUT", f"/gauges/{fleet.gauge}/suspicion", {"suspicion": "drop"})
    assert dropped["suspect"] is True
    assert "dropped" in dropped["condition"]["text"]
    assert fleet.api.ok("PUT", f"/gauges/{fleet.gauge}/suspicion", {"suspicion": ""})["suspect"] is False
    fleet.api.ok("PUT", f"/gauges/{fleet.gauge}/suspicion", {"suspicion": "over-pressure"})
    again = fleet.api.ok("POST", f"/gauges/{fleet.gauge}/calibrations", COMPARISON | {"compared_on": "2026-11-01"})
    assert again["suspicion"] == ""
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
    assert stored.pairs[0] | {"reference_kpa": 0, "reading_kpa": 0} == {
        "reference_kpa": 0, "reading_kpa": 0, "reference_typed": "58 psi", "reading_typed": "58.5 psi", "direction": "",
    }  # fmt: skip
    assert stored.pairs[0]["reference_kpa"] == pytest.approx(399.896, abs=0.001)


def test_a_gauges_sheet_has_its_curve_its_drift_and_its_history(fleet: Fleet) -> None:
    later = [
        {"reference": 400, "reading": 405, "direction": "up"}, {"reference": 600, "reading": 607, "direction": "up"},
        {"reference": 400, "reading": 407, "direction": "down"},
    ]  # fmt: skip
    body = COMPARISON | {
        "compared_on": "2026-11-01",
        "pairs": later,
        "certificate": "118",
        "certificate_until": "2027-01-01",
    }
    fleet.api.ok("POST", f"/gauges/{fleet.gauge}/calibrations", body)
    sheet = fleet.api.ok("GET", f"/gauges/{fleet.gauge}")
    newest = sheet["calibrations"][0]
    assert newest["lag_kpa"] == 2
    # At 406 the older said 402.985, the newer says 400; at 607 603 - 0.015 against 600.
    assert newest["drift_kpa"] == pytest.approx(3.0, abs=0.03)
    assert {round(p["reading_kpa"]): round(p["error_kpa"], 2) for p in newest["curve"]}[406] == 6
    assert newest["certificate"] == "118"
    assert sheet["due_on"] == "2027-11-01"
    fleet.api.ok("PUT", f"/gauges/{fleet.gauge}/suspicion", {"suspicion": "drop"})
    assert "noted a drop" in fleet.api.ok("GET", f"/gauges/{fleet.gauge}")["changes"][0]


def test_who_changed_what_of_a_gauge(fleet: Fleet) -> None:
    path = f"/gauges/{fleet.gauge}"
    for change in (
        {"battery": "CR2032"}, {"battery": ""}, {"retired": True}, {"retired": False}, {"resolution_kpa": "2 kPa"},
    ):  # fmt: skip
        fleet.api.ok("PUT", path, GAUGE | change)
    fleet.api.ok("PUT", f"{path}/suspicion", {"suspicion": "over-pressure"})
    fleet.api.ok("PUT", f"{path}/suspicion", {"suspicion": ""})
    told = [line.split(": ", 1)[1] for line in fleet.api.ok("GET", path)["changes"]]
    assert told == [
        "Manager: it is trusted again.",
        "Manager: noted an over-pressure.",
        "Manager changed its particulars.",
        "Manager took it back into use.",
        "Manager retired it.",
        "Manager: battery taken out.",
        "Manager: battery CR2032.",
        "Manager put it into the drawer.",
    ]


def test_the_curve_follows_what_is_typed(fleet: Fleet) -> None:
    pairs = [{"reference": 400, "reading": 404}, {"reference": 600, "reading": 608}]
    found = fleet.api.ok("POST", "work/gauges", {"gauge": fleet.gauge, "pairs": pairs})
    assert {round(p["reading_kpa"]): p["error_kpa"] for p in found["curve"]}[608] == pytest.approx(8)
    assert Calibration.objects.count() == 1
    wrong = {"gauge": fleet.gauge, "pairs": [{"reference": 400, "reading": 9}]}
    assert "quarter" in fleet.api.no("POST", "work/gauges", wrong, 422, "pairs.0.reading")


def test_an_expired_certificate_compares_nothing(fleet: Fleet) -> None:
    body = COMPARISON | {"certificate_until": "2026-08-01"}
    told = fleet.api.no("POST", f"/gauges/{fleet.gauge}/calibrations", body, 422, "certificate_until")
    assert "run out" in told


def test_two_gauges_that_differ_log_nothing_until_compared(aimed: Fleet) -> None:
    other = aimed.api.ok("POST", "/gauges", GAUGE | {"label": "G2"})["id"]
    # G1 corrected: 600. G2, never compared, shows 572: 28 kPa are more than 4 psi.
    body = {"readings": [{"gauge": aimed.gauge, "pressure": 604}, {"gauge": other, "pressure": 572}]}
    assert aimed.api.ok("POST", "work/gauges/beside", body)["verdict"] == "apart"
    assert Gauge.objects.filter(suspicion="differs").count() == 0
    kept = aimed.api.ok("POST", "/gauges/beside", body)
    assert kept["barred"] == ["G2", "G1"]
    assert aimed.api.ok("GET", "/gauges/beside")[0]["readings"][1]["corrected_kpa"] == 572
    told = aimed.api.no("POST", f"/rigs/{aimed.rig}/rounds", aimed.conditions(), 422, "gauge")
    assert "Compare it with a master" in told
    aimed.api.no("PUT", f"/gauges/{other}/suspicion", {"suspicion": ""}, 409, "suspicion")
    aimed.api.ok("POST", f"/gauges/{aimed.gauge}/calibrations", COMPARISON)
    assert aimed.open_round()["gauge_condition"] is None


@pytest.mark.parametrize(
    ("readings", "field"),
    [([{"gauge": 0, "pressure": 600}] * 2, "readings.0.gauge"), ([{"pressure": 600}] * 2, "readings.0.gauge")],
)
def test_what_cannot_be_held_side_by_side(fleet: Fleet, readings: Any, field: str) -> None:
    fleet.api.no("POST", "/gauges/beside", {"readings": readings}, 422, field)
    twice = [{"gauge": fleet.gauge, "pressure": 600}] * 2
    assert "once" in fleet.api.no("POST", "/gauges/beside", {"readings": twice}, 422, "readings.1.gauge")


def test_the_comparisons_as_csv(fleet: Fleet) -> None:
    reply = fleet.api.call("GET", "/gauges/comparisons.csv")
    rows = list(csv.DictReader(io.StringIO(reply.content.decode())))
    assert [(r["gauge"], r["reference_kpa"], r["error_kpa"]) for r in rows] == [
        ("G1", "400.00", "3.00"), ("G1", "600.00", "4.00"), ("G1", "800.00", "5.00"),
    ]  # fmt: skip


def test_a_bench_to_compare_against(fleet: Fleet, settings: Any) -> None:
    assert "not heard" in fleet.api.no("POST", f"/gauges/{fleet.gauge}/bench", {"set_kpa": 600}, 422, "gauge")
    assert fleet.api.ok("GET", "/gauges/devices") == []
    settings.RADIO = "ballast.standins.radio.SimulatedRadio"
    devices = fleet.api.ok("GET", "/gauges/devices")
    assert {d["key"] for d in devices if d["simulated"]} == {d["key"] for d in devices}
    fleet.api.ok("PUT", f"/gauges/{fleet.gauge}", GAUGE | {"radio": "radio-dropped"})
    up = fleet.api.ok("POST", f"/gauges/{fleet.gauge}/bench", {"set_kpa": 600})
    # Offset −22 and a bend of 3e-5 × 600² = 10.8: about 11 low, beside noise of 3 and a lag of 6.
    assert up["gauge"]["kpa"] - up["master"]["kpa"] == pytest.approx(-14, abs=14)
    assert up["master"]["kpa"] == pytest.approx(600, abs=5)


INFLATOR: dict[str, Any] = {
    "label": "I1", "supply": "clamps", "max_kpa": "850 kPa", "free_l_min": 70, "hose_loss_kpa": "6 kPa", "on_min": 10,
    "rest_min": 15,
}  # fmt: skip


def test_an_inflator_and_its_job(fleet: Fleet) -> None:
    made = fleet.api.ok("POST", "/inflators", INFLATOR | {"display": fleet.gauge})
    assert (made["supply_name"], made["display_label"]) == ("Clamps on the battery", "G1")
    tires = [{"name": "Front left", "from_kpa": "260 kPa", "to_kpa": "614 kPa", "volume_l": "95 L"}]
    job = fleet.api.ok("POST", "work/gauges/job", {"inflator": made["id"], "tires": tires})
    fill = job["fills"][0]
    # 614 and 6 for the hose: 620; its own display shows 4.1 more there.
    assert fill["set_point_kpa"] == 620
    assert fill["dial_kpa"] == pytest.approx(624.1, abs=0.01)
    # 95 × 850/(101.325 × 70) × ln(590/230) = 10.725 min, and one rest.
    assert job["whole_min"] == pytest.approx(25.725, abs=0.01)
    weak = fleet.api.ok("PUT", f"/inflators/{made['id']}", INFLATOR | {"max_kpa": "600 kPa"})
    job = fleet.api.ok("POST", "work/gauges/job", {"inflator": weak["id"], "tires": tires})
    assert job["fills"][0]["able"] is False
    assert "It reaches {0}" in job["fills"][0]["words"]["text"]


def test_a_job_by_the_size_of_the_tires(fleet: Fleet) -> None:
    made = fleet.api.ok("POST", "/inflators", INFLATOR)
    tire = {"name": "Rear", "from_kpa": "260 kPa", "to_kpa": "614 kPa"}

    def job(**more: Any) -> dict[str, Any]:
        return {"inflator": made["id"], "tires": [tire | more]}

    # 235 mm wide, 571.5 + 2 × 0.8 × 235 = 947.5 mm across on 571.5 mm: π/4 × (947.5² − 571.5²) × 235 mm³, 85 % of it air: 89.6 L.
    by_size = fleet.api.ok("POST", "work/gauges/job", job(tire_size="235/80R22.5"))["fills"][0]["minutes"]
    by_volume = fleet.api.ok("POST", "work/gauges/job", job(volume_l="89.6 L"))["fills"][0]["minutes"]
    assert by_size == pytest.approx(by_volume, rel=0.001)
    told = fleet.api.no("POST", "work/gauges/job", job(tire_size="the large one"), 422, "tires.0.tire_size")
    assert "is not a size marking" in told
    fleet.api.no("POST", "work/gauges/job", job(), 422, "tires.0.tire_size")


@pytest.mark.parametrize(
    ("change", "status", "field"),
    [
        ({"max_kpa": 0}, 422, "max_kpa"),
        ({"free_l_min": 0}, 422, "free_l_min"),
        ({"rest_min": None}, 422, "rest_min"),
        ({"points": [{"pressure": 0, "flow": 60}]}, 422, "points"),
        ({"points": [{"pressure": 0, "flow": 0}, {"pressure": 600, "flow": 9}]}, 422, "points"),
        ({"display": 0}, 422, "display"),
        ({"label": "I1"}, 409, "label"),
    ],
)
def test_what_an_inflator_cannot_be(fleet: Fleet, change: dict[str, Any], status: int, field: str) -> None:
    fleet.api.ok("POST", "/inflators", INFLATOR)
    fleet.api.no("POST", "/inflators", INFLATOR | {"label": "I2"} | change, status, field)


def test_an_inflator_of_others_does_nothing_here(fleet: Fleet, stranger: Api) -> None:
    theirs = stranger.ok("POST", "/inflators", INFLATOR)["id"]
    tires = [{"name": "1L", "from_kpa": 260, "to_kpa": 600, "volume_l": 95}]
    fleet.api.no("POST", "work/gauges/job", {"inflator": theirs, "tires": tires}, 422, "inflator")
    furnish(stranger)
    assert [i["id"] for i in stranger.ok("GET", "/inflators")] == [theirs]


def test_the_drawer_comes_page_by_page_as_it_is_looked_for(
    api: Api, stranger: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("ballast.server.gauges.drawer.PAGE", 2)
    made = [api.ok("POST", "/gauges", GAUGE | {"label": f"G{n}", "keeper": "Ann"})["id"] for n in (1, 2, 3)]
    for gauge in made[:2]:
        api.ok("POST", f"/gauges/{gauge}/calibrations", COMPARISON)
    api.ok("PUT", f"/gauges/{made[1]}", GAUGE | {"label": "G2", "kind": "dial", "keeper": "Bo", "retired": True})

    def drawer(asked: str = "") -> tuple[list[str], int, int, int]:
        page = api.ok("GET", f"/gauges/drawer?{asked}")
        return [g["label"] for g in page["gauges"]], page["total"], page["asking"], page["found"]

    # Never compared asks; a retired one asks for nothing.
    assert drawer() == (["G1", "G3"], 3, 1, 3)
    assert drawer("first=2") == (["G2"], 3, 1, 3)
    assert drawer("asks=true") == (["G3"], 3, 1, 1)
    assert drawer("find=bo%20DIAL") == (["G2"], 3, 0, 1)
    assert drawer("find=nobody") == ([], 3, 0, 0)
    # A comparison that there never was is due before all, and such a gauge is the least sure; a retired one comes last.
    assert drawer("sort=due")[0] == drawer("sort=doubt")[0] == ["G3", "G1"]
    rows = list(csv.DictReader(io.StringIO(api.call("GET", "/gauges/drawer.csv?asks=true").getvalue().decode())))
    assert [(r["gauge"], r["keeper"], r["compared_on"], r["retired"]) for r in rows] == [("G3", "Ann", "", "no")]
    assert "compared" in rows[0]["said"]
    assert stranger.ok("GET", "/gauges/drawer")["total"] == 0
    assert "0" in api.no("GET", "/gauges/drawer?first=-1", None, 422, "first")


def test_a_line_of_the_drawer_is_worked_out_anew_by_what_befalls_a_gauge_and_by_the_day(
    fleet: Fleet, stranger: Api
) -> None:
    actor = reader(Workspace.objects.get(name="Ours"))
    assert actor is not None

    def asking(after_days: int = 0) -> int:
        with at(dt.datetime.now(dt.UTC) + dt.timedelta(days=after_days)):
            told = drawer.page(actor, DrawerIn()).asking
            assert drawer.differing(actor) == []
        return told

    due = fleet.api.ok("GET", f"/gauges/{fleet.gauge}")["due_on"]
    left = (dt.date.fromisoformat(due) - dt.datetime.now(dt.UTC).date()).days
    assert [asking(0), asking(left), asking(left + 1), asking(left + 400)] == [0, 0, 1, 1]
    # A clock that was put right goes back to before that was so.
    assert asking(0) == 0
    # By a statement that goes past every service.
    Gauge.objects.filter(pk=fleet.gauge).update(suspicion="drop", label="Old one")
    assert asking(0) == 1
    assert fleet.api.ok("GET", "/gauges/drawer?find=OLD")["found"] == 1
    Calibration.objects.all().delete()
    Gauge.objects.filter(pk=fleet.gauge).update(suspicion="")
    assert asking(0) == 1
    # What goes to another workspace goes with its line.
    Gauge.objects.filter(pk=fleet.gauge).update(workspace=Workspace.objects.get(name="Theirs"))
    assert [asking(0), stranger.ok("GET", "/gauges/drawer")["total"]] == [0, 1]


def test_a_line_that_could_not_be_worked_out_is_found_by_every_word_and_asks(
    fleet: Fleet, monkeypatch: pytest.MonkeyPatch
) -> None:
    @contextmanager
    def held() -> Iterator[None]:
        raise OperationalError("database is locked")
        yield

    Gauge.objects.filter(pk=fleet.gauge).update(label="Another")
    monkeypatch.setattr("ballast.server.gauges.drawer.soon_or_not", held)
    page = fleet.api.ok("GET", "/gauges/drawer?find=another&asks=true")
    assert ([g["label"] for g in page["gauges"]], page["asking"], page["found"]) == (["Another"], 1, 1)
    assert page["gauges"][0]["condition"] is None
    monkeypatch.undo()
    assert fleet.api.ok("GET", "/gauges/drawer?find=another&asks=true")["found"] == 0


def test_a_drawer_of_hundreds_asks_the_database_no_more_often(fleet: Fleet, django_assert_max_num_queries: Any) -> None:
    first = Gauge.objects.get(pk=fleet.gauge)
    fields = {f.name: getattr(first, f.name) for f in Gauge._meta.concrete_fields if f.name not in ("id", "label")}
    Gauge.objects.bulk_create(Gauge(**fields, label=f"N{n:03}") for n in range(300))
    fleet.api.ok("GET", "/gauges/drawer")
    with django_assert_max_num_queries(9):
        page = fleet.api.ok("GET", "/gauges/drawer?sort=doubt&first=250")
    assert (page["total"], page["asking"], len(page["gauges"])) == (301, 300, 50)
    assert page["gauges"][-1]["label"] == "N299"
