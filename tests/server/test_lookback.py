import csv
import io
from typing import Any

import pytest

from ballast.core.gas import REFERENCE, Air, carry
from ballast.server.lookback.services import harmless
from tests.server.conftest import COACH, Api, Fleet
from tests.server.test_rounds import GOOD, read_all


def seal(fleet: Fleet, round_id: int) -> Any:
    return fleet.api.ok("POST", f"/rounds/{round_id}/seal", {})


def two_rounds(fleet: Fleet) -> None:
    """A warm round that leaves all on target, and a cold one later that finds one tire down."""
    first = fleet.open_round(outside_c=20, dawn_c=18)["id"]
    read_all(fleet, first)
    fleet.read(first, "2Ri", 660)
    fleet.read(first, "2Ri", 694, after=True)
    seal(fleet, first)
    second = fleet.open_round(outside_c=-5, dawn_c=-6)["id"]
    for code, kpa in GOOD.items():
        # The same air, 25 °C colder; one has lost 12 kPa besides.
        true = carry(kpa - 4, Air(20, 410), Air(-5, 410)) - (12 if code == "2Ri" else 0)
        fleet.read(second, code, true + 4)
    seal(fleet, second)


def test_sealed_rounds_newest_first_with_who_when_gauge_and_air(aimed: Fleet) -> None:
    assert aimed.api.ok("GET", f"/lookback/{aimed.rig}") == []
    two_rounds(aimed)
    newest, oldest = aimed.api.ok("GET", f"/lookback/{aimed.rig}")
    assert (newest["outside_c"], oldest["outside_c"]) == (-5, 20)
    assert (newest["sealed_by"], newest["gauge"], newest["cold"]) == ("Manager", "G1", True)
    tire = next(t for t in oldest["tires"] if t["code"] == "2Ri")
    assert (tire["raw_kpa"], tire["after_raw_kpa"], tire["word"]) == (660, 694, "add")
    assert tire["corrected_kpa"] == pytest.approx(655.7, abs=0.1)
    assert tire["after_kpa"] == pytest.approx(689.55, abs=0.1)
    assert tire["typed"] == "660 kPa"


def test_changes_compare_the_same_air(aimed: Fleet) -> None:
    two_rounds(aimed)
    newest, oldest = aimed.api.ok("GET", f"/lookback/{aimed.rig}")
    change = {t["code"]: t["change_kpa"] for t in newest["tires"]}
    assert all(t["change_kpa"] is None for t in oldest["tires"])
    # The weather took some 60 kPa off every tire; none of it shows. The calibration bends a little between the two.
    assert all(abs(change[c]) < 1.0 for c in GOOD if c != "2Ri")
    # 12 kPa at −5 °C are 12 × 293.15/268.15 = 13.1 at 20 °C.
    assert change["2Ri"] == pytest.approx(-13.1, abs=1.0)


def test_normalized_values_are_at_twenty_degrees_and_sea_level(aimed: Fleet) -> None:
    two_rounds(aimed)
    tire = aimed.api.ok("GET", f"/lookback/{aimed.rig}")[0]["tires"][0]
    assert tire["normalized_kpa"] == pytest.approx(carry(tire["corrected_kpa"], Air(-5, 410), REFERENCE))


def test_open_and_abandoned_rounds_are_no_history(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    aimed.read(round_id, "1L", 625)
    assert aimed.api.ok("GET", f"/lookback/{aimed.rig}") == []
    aimed.api.ok("DELETE", f"/rounds/{round_id}")
    assert aimed.api.ok("GET", f"/lookback/{aimed.rig}") == []


def export(api: Api, rig: int) -> list[dict[str, str]]:
    reply = api.call("GET", f"/lookback/{rig}/rounds.csv")
    assert reply.headers["Content-Type"] == "text/csv; charset=utf-8"
    assert reply.headers["Content-Disposition"].startswith('attachment; filename="')
    return list(csv.DictReader(io.StringIO(reply.content.decode())))


def test_the_csv_holds_every_tire_of_every_round(aimed: Fleet) -> None:
    two_rounds(aimed)
    rows = export(aimed.api, aimed.rig)
    assert len(rows) == 14
    row = next(r for r in rows if r["wheel"] == "2Ri" and r["outside_c"] == "20.00")
    assert row["rig"] == "CF-01 Almagest"
    assert row["typed"] == "660 kPa"
    assert (row["raw_kpa"], row["after_raw_kpa"], row["answer"]) == ("660.00", "694.00", "add")
    assert row["gauge"] == "G1"
    assert row["read_by"] == "Manager"
    assert row["wheel_name"] == "Rear right, inner"


def test_an_empty_history_is_a_csv_with_its_head(aimed: Fleet) -> None:
    assert export(aimed.api, aimed.rig) == []


def test_formulas_are_made_harmless(aimed: Fleet) -> None:
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}", COACH | {"name": "Almagest", "fleet_number": "=1+1"})
    two_rounds(aimed)
    assert export(aimed.api, aimed.rig)[0]["rig"] == "'=1+1 Almagest"
    assert [harmless(c) for c in ("=a", "+a", "-a", "@a", "\ta", "a=b", "")] == [
        "'=a",
        "'+a",
        "'-a",
        "'@a",
        "'\ta",
        "a=b",
        "",
    ]


def test_looking_back_takes_few_queries(aimed: Fleet, django_assert_max_num_queries: Any) -> None:
    two_rounds(aimed)
    with django_assert_max_num_queries(8):
        aimed.api.ok("GET", f"/lookback/{aimed.rig}")
