import copy
from typing import Any

import pytest

from ballast.core.tables import SAMPLE_STAMP
from ballast.server.tables.models import Table
from ballast.server.tables.samples import SAMPLES
from tests.server.conftest import TABLE, Api, Fleet


def grid(**more: Any) -> dict[str, Any]:
    return copy.deepcopy(TABLE) | more


def test_a_table_keeps_its_cells_as_printed(api: Api) -> None:
    body = grid(
        pressure_unit="psi", mass_unit="lb", steps=["65", "70", "75"], single=["3,000", "3,200", "3,400"], dual=None
    )
    made = api.ok("POST", "/tables", body)
    assert made["steps"] == [65, 70, 75]
    assert made["single"] == [3000, 3200, 3400]
    assert made["steps_kpa"][0] == pytest.approx(448.16, abs=0.01)
    assert (made["size"], made["load_index_single"], made["load_index_dual"]) == ("245/70R19.5", 135, 133)
    assert made["entered_by"] == "Manager"
    assert made["sample"] is False


@pytest.mark.parametrize(
    ("body", "field", "words"),
    [
        (grid(steps=[], single=[], dual=None), "steps", "empty"),
        (grid(steps=[450], single=[1500], dual=None), "steps", "at least two"),
        (grid(single=[1510] * 10), "single.1", "does not rise"),
        (grid(dual=[1425] * 9), "dual", "Every column needs one"),
        (grid(steps=[*TABLE["steps"][:-1], "lots"]), "steps.9", "not a number"),
        (grid(single=[*TABLE["single"][:-1], 2600]), "single.9", "above the load index's"),
        (grid(pressure_unit="psi"), "steps.9", "Check the unit"),
        (grid(pressure_unit="feet"), "pressure_unit", "Choose one of"),
        (grid(size="square"), "tire_size", "not a size marking"),
        (grid(source=""), "source", "at least 1"),
        (grid(steps=list(range(100, 600))), "steps", "At most 40"),
    ],
)
def test_what_a_table_cannot_be(api: Api, body: dict[str, Any], field: str, words: str) -> None:
    assert words in api.no("POST", "/tables", body, 422, field)
    assert not Table.objects.exists()


def test_a_suspicious_cell_is_marked_with_what_its_neighbors_suggest(api: Api) -> None:
    body = {k: v for k, v in grid().items() if k != "source"}
    body["single"][3] = 1700
    read = api.ok("POST", "work/tables", body)
    assert [(s["row"], s["index"]) for s in read["suspicions"]] == [("single", 3)]
    assert read["suspicions"][0]["suggested_kg"] == pytest.approx(1740, rel=0.01)
    assert not Table.objects.exists()


def test_a_new_edition_replaces_and_the_old_stays_readable(fleet: Fleet) -> None:
    old = fleet.table
    new = fleet.api.ok("POST", "/tables", grid(source="Printed sheet, new", replaces=old))
    rows = {t["id"]: t for t in fleet.api.ok("GET", "/tables")}
    assert rows[old]["replaced"] is True
    assert rows[new["id"]]["replaces"] == old
    assert "replaced already" in fleet.api.no("POST", "/tables", grid(replaces=old), 409, "replaces")
    # The newest edition is the one that is looked up.
    work = fleet.api.ok("POST", "work/targets", {"rig": fleet.rig})
    assert work["tables"] == [new["id"], new["id"]]


def test_a_workspace_starts_with_none_and_samples_are_stamped(api: Api) -> None:
    assert api.ok("GET", "/tables") == []
    assert all(not s["taken"] for s in api.ok("GET", "/tables/samples"))
    made = api.ok("POST", "/tables/samples", {"key": "drover-245-70r19.5"})
    assert made["sample"] is True
    assert made["source"] == SAMPLE_STAMP
    again = api.ok("POST", "/tables/samples", {"key": "drover-245-70r19.5"})
    assert again["id"] == made["id"]
    assert [s["taken"] for s in api.ok("GET", "/tables/samples") if s["key"] == "drover-245-70r19.5"] == [True]
    assert api.no("POST", "/tables/samples", {"key": "real-maker"}, 422, "key")


@pytest.mark.parametrize("key", SAMPLES)
def test_every_sample_is_a_sound_table_rounded_to_five(api: Api, key: str) -> None:
    made = api.ok("POST", "/tables/samples", {"key": key})
    assert made["suspicions"] == []
    assert made["odd"] == []
    cells = made["single"] + (made["dual"] or [])
    assert all(c % 5 == 0 for c in cells)


def test_an_own_table_comes_before_a_sample(fleet: Fleet) -> None:
    fleet.api.ok("POST", "/tables/samples", {"key": "drover-245-70r19.5"})
    work = fleet.api.ok("POST", "work/targets", {"rig": fleet.rig})
    assert work["tables"] == [fleet.table, fleet.table]
    assert work["samples"] is False
