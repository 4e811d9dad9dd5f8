"""Earlier readings: looked at, brought in slices, counting whole or not at all, judged by nobody, taken back."""

import csv
import datetime as dt
import io
from typing import Any
from unittest.mock import patch
from uuid import uuid4

import pytest
from django.core.management import call_command
from django.utils import timezone

from ballast.core.gas import Air, carry
from ballast.server.earlier.models import EarlierFile, EarlierReading
from ballast.server.rigs.models import Rig
from tests.server.conftest import NOW, Api, Fleet
from tests.server.test_overtaken import fit, sealed_good

HEAD = "Date,Unit no,Position,psi,Outside F,Altitude"
MEANS = ("at", "rig", "wheel", "pressure", "outside", "elevation")
CHOSEN: dict[str, Any] = {
    "columns": [{"means": m} for m in MEANS], "pressure_unit": "psi", "temperature_unit": "°F", "length_unit": "ft",
    "names": {"LF": "1L", "RF": "1R"},
}  # fmt: skip
ROWS = [
    "2024-05-01 07:00,{rig},LF,90,50,1000",
    "2024-05-01 07:00,{rig},RF,91,,",
    "2024-05-08 07:00,{rig},LF,88,41,1000",
]


def named(fleet: Fleet) -> str:
    Rig.objects.filter(pk=fleet.rig).update(fleet_number="EX-7")
    return "EX-7"


def bring(api: Api, rows: list[str], **more: Any) -> str:
    path = f"/earlier/{uuid4()}"
    api.ok("PUT", path, CHOSEN | {"name": "book.csv"} | more)
    for n, row in enumerate(rows, 1):
        api.ok("PUT", f"{path}/slices/{n}", {"first": n + 1, "text": row + "\n"})
    return path


def rows_of(fleet: Fleet) -> list[dict[str, str]]:
    reply = fleet.api.call("GET", f"/earlier.csv?rig={fleet.rig}")
    text = b"".join(reply).decode()  # type: ignore[arg-type]
    return list(csv.DictReader(io.StringIO(text)))


def before(fleet: Fleet, wheel: str = "1L") -> list[tuple[str, float, float | None]]:
    for one in fleet.api.ok("GET", f"/rigs/{fleet.rig}/earlier")["wheels"]:
        if one["code"] == wheel:
            return list(zip((at[:10] for at in one["at"]), one["raw"], one["level"], strict=True))
    return []


def test_a_file_is_looked_at_and_nothing_is_saved(fleet: Fleet, stranger: Api) -> None:
    text = "\n".join([HEAD, *ROWS]).format(rig=named(fleet)) + "\n2024-05-08,EX-8,LF,88,41,1000\n"
    told = fleet.api.ok("POST", "work/earlier", {"head": text})
    assert [c["means"] for c in told["columns"]] == ["at", "", "wheel", "pressure", "outside", "elevation"]
    assert told["refusal"].startswith("No column says which rig")
    assert "temperature" not in told["meanings"]
    told = fleet.api.ok("POST", "work/earlier", {"head": text, "chosen": CHOSEN})
    assert [(r["rig"], r["wheel"], round(r["kpa"])) for r in told["rows"]] == [
        ("EX-7", "1L", 621), ("EX-7", "1R", 627), ("EX-7", "1L", 607),
    ]  # fmt: skip
    assert told["rows"][1]["outside_c"] is None
    assert (told["strange_rigs"], [f["row"] for f in told["faults"]]) == (["EX-8"], [5])
    # Of one rig no row need say which; another workspace's rig is nobody's here.
    of_one = fleet.api.ok("POST", "work/earlier", {"rig": fleet.rig, "head": "Date,Wheel,kPa\n2024-05-01,1L,600\n"})
    assert ("rig" in of_one["meanings"], of_one["refusal"], len(of_one["rows"])) == (False, "", 1)
    stranger.no("POST", "work/earlier", {"rig": fleet.rig, "head": text}, 404)
    assert stranger.ok("POST", "work/earlier", {"head": text, "chosen": CHOSEN})["rows"] == []
    assert EarlierFile.objects.count() == 0


def test_it_counts_whole_by_one_write_and_is_judged_by_nobody(aimed: Fleet, stranger: Api) -> None:
    sealed_good(aimed)
    morning, line = aimed.api.ok("GET", "/yard")["rigs"][0], before(aimed)
    rows = [r.format(rig=named(aimed)) for r in ROWS]
    path = bring(aimed.api, rows)
    assert (EarlierReading.objects.count(), line, before(aimed), rows_of(aimed)) == (3, [], [], [])
    # A slice sent again takes its own place.
    aimed.api.ok("PUT", f"{path}/slices/2", {"first": 3, "text": rows[1]})
    stranger.no("POST", f"{path}/finish", None, 404)
    done = aimed.api.ok("POST", f"{path}/finish")
    assert (done["readings"], done["without_air"], done["rigs"]) == (3, 1, 1)
    # 90 psi in 10 °C at 304.8 m, as it would read at 20 °C and sea level.
    told = before(aimed)
    assert [(day, raw) for day, raw, _ in told] == [("2024-05-01", 620.53), ("2024-05-08", 606.74)]
    assert told[0][2] == pytest.approx(carry(620.528, Air(10, 304.8), Air(20, 0)), abs=0.01)
    # Whose air is not known is shown as it was, and compared with nothing.
    assert before(aimed, "1R") == [("2024-05-01", 627.42, None)]
    assert [(r["wheel"], r["as_shown_kpa"], r["at_20_c_kpa"] == "") for r in rows_of(aimed)] == [
        ("1L", "620.53", False), ("1R", "627.42", True), ("1L", "606.74", False),
    ]  # fmt: skip
    # Nothing that is said of the rig now hangs on it.
    assert aimed.api.ok("GET", "/yard")["rigs"][0]["words"] == morning["words"]
    aimed.api.no("PUT", path, CHOSEN | {"name": "again"}, 409, "uuid")
    aimed.api.no("POST", f"{path}/finish", None, 404)
    assert stranger.ok("GET", "/earlier")["files"] == []
    assert [f["name"] for f in aimed.api.ok("GET", "/earlier")["files"]] == ["book.csv"]
    stranger.no("DELETE", path, None, 404)
    aimed.api.ok("DELETE", path)
    assert (before(aimed), EarlierReading.objects.count(), EarlierFile.objects.count()) == ([], 0, 0)


def test_a_fault_or_a_gap_and_nothing_of_it_counts(fleet: Fleet) -> None:
    rows = [r.format(rig=named(fleet)) for r in ROWS]
    path = bring(fleet.api, [*rows, "2024-05-09,EX-7,trunk,88,,"])
    assert fleet.api.no("POST", f"{path}/finish", None, 422, "faults").startswith("Row 5: “trunk” is no wheel")
    ahead = f"{NOW + dt.timedelta(days=3):%Y-%m-%d},EX-7,LF,88,,"
    assert "future" in fleet.api.ok("PUT", f"{path}/slices/4", {"first": 5, "text": ahead})["faults"][0]["words"]
    fleet.api.ok("DELETE", path)
    path = bring(fleet.api, rows)
    fleet.api.ok("PUT", f"{path}/slices/7", {"first": 20, "text": rows[0]})
    assert "missing" in fleet.api.no("POST", f"{path}/finish", None, 422, "slices")
    fleet.api.no("PUT", f"{path}/slices/8", {"first": 100_002, "text": rows[0]}, 422, "first")
    # Nobody comes back for it: the daily clean-up takes it away, and what counts stays.
    done = bring(fleet.api, rows)
    fleet.api.ok("POST", f"{done}/finish")
    with patch("django.utils.timezone.now", return_value=timezone.now() + dt.timedelta(days=2)):
        call_command("daily", stdout=io.StringIO())
    assert EarlierFile.objects.values_list("name", "readings").count() == 3
    assert EarlierFile.objects.get().done_at is not None


@pytest.mark.parametrize("head", ["\u000b", "\n", "\ufeff", " ", "Date"])
def test_what_begins_with_no_heading_is_refused(fleet: Fleet, head: str) -> None:
    fleet.api.no("POST", "work/earlier", {"head": head}, 422, "head")


def test_two_rigs_that_are_called_alike_are_told_apart_by_nobody(fleet: Fleet) -> None:
    name = named(fleet)
    other = fleet.api.ok(
        "POST", "/rigs", {"kind": "pickup", "name": name, "axles": [{"tire_size": "LT265/70R17"}, {}]}
    )["id"]
    row = ROWS[0].format(rig=name)
    told = fleet.api.ok("POST", "work/earlier", {"head": f"{HEAD}\n{row}\n", "chosen": CHOSEN})
    assert told["strange_rigs"] == [name]
    Rig.objects.filter(pk=other).update(archived=True)
    told = fleet.api.ok("POST", "work/earlier", {"head": f"{HEAD}\n{row}\n", "chosen": CHOSEN})
    assert (told["strange_rigs"], len(told["rows"])) == ([], 1)


def test_what_was_read_before_a_tire_was_fitted_is_not_of_it(aimed: Fleet) -> None:
    fit(aimed, "1L", dt.date(2024, 5, 5))
    aimed.targets()
    sealed_good(aimed)
    one = {"rig": aimed.rig, "elevation_m": "400 m", "columns": [{"means": m} for m in ("at", "wheel", "pressure")]}
    path = bring(aimed.api, ["2024-05-01,1L,90", "2024-05-08,LF,88", "2024-05-01,RF,91"], **one)
    aimed.api.ok("POST", f"{path}/finish")
    # It is shown at the wheel all the same.
    assert [day for day, *_ in before(aimed)] == ["2024-05-01", "2024-05-08"]
    own = {w["code"]: w["own"] for w in aimed.api.ok("GET", f"/rigs/{aimed.rig}/earlier")["wheels"]}
    assert own == {"1L": [False, True], "1R": [True]}
    # Where it was read is known by the file; how warm it was is not.
    assert set(EarlierReading.objects.values_list("elevation_m", "outside_c")) == {(400.0, None)}
