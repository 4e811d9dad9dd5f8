import base64
import copy
import json
from collections.abc import Callable
from typing import Any

import pytest

from ballast.core.tables import SAMPLE_STAMP
from ballast.core.units import PSI_KPA
from ballast.server.accounts.models import Membership
from ballast.server.tables.models import Table
from ballast.server.tables.samples import SAMPLES
from tests.server.conftest import COACH, TABLE, TICKET, Api, Fleet


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
    assert work["stamps"] == []


def sent(text: str) -> dict[str, str]:
    return {"content": base64.b64encode(text.encode()).decode()}


def test_a_pasted_block_is_read_cell_by_cell(api: Api) -> None:
    text = "psi\t65\t70\t75\nSingle (lb)\t3,330\t3,505*\t3,680-3,690"
    found = api.ok("POST", "work/tables/paste", {"text": text, "pressure_unit": "kPa", "mass_unit": "kg"})
    assert (found["pressure_unit"], found["mass_unit"]) == ("psi", "lb")
    assert found["lines"] == {"steps": ["65", "70", "75"], "single": ["3330", "3505", "3,680-3,690"]}
    assert [(t["line"], t["index"]) for t in found["told"]] == [("single", 2)]
    many = {"text": "\n".join("450\t1510" for _ in range(10_000)), "pressure_unit": "kPa", "mass_unit": "kg"}
    assert "10,000 lines" in api.no("POST", "work/tables/paste", many, 422, "text")


def test_a_second_person_checks_a_table(fleet: Fleet, api_as: Callable[[str], Api], people: dict[str, Any]) -> None:
    work = fleet.api.ok("POST", "work/targets", {"rig": fleet.rig})
    assert work["unchecked"] == ["245/70R19.5: Printed sheet, page 4"]
    fleet.targets()
    round_id = fleet.open_round()["id"]
    assert fleet.api.ok("GET", f"/rounds/{round_id}")["unchecked"] is True
    path = f"/tables/{fleet.table}/check"
    assert "Somebody else" in fleet.api.no("PUT", path, {"checked": True}, 409)
    Membership.objects.filter(person=people["technician"]).update(role="manager")
    other = api_as("technician")
    checked = other.ok("PUT", path, {"checked": True})
    assert (checked["checked_by"], checked["may_check"]) == ("Technician", True)
    assert fleet.api.ok("POST", "work/targets", {"rig": fleet.rig})["unchecked"] == []
    assert fleet.api.ok("GET", f"/rounds/{round_id}")["unchecked"] is False
    # The one who entered it may take a check back, not give one.
    assert fleet.api.ok("PUT", path, {"checked": False})["checked_by"] is None
    sample = other.ok("POST", "/tables/samples", {"key": "drover-245-70r19.5"})["id"]
    assert "made up" in fleet.api.no("PUT", f"/tables/{sample}/check", {"checked": True}, 409)


def test_a_new_edition_says_what_it_changes_before_it_is_used(aimed: Fleet) -> None:
    # Every load 3 % less: the front's 1,836 kg are at 655 now, 95 psi; the rear's 1,841.4 at 725, 105 psi.
    less = {row: [round(v * 0.97) for v in TABLE[row]] for row in ("single", "dual")}
    body = grid(source="Printed sheet, new", replaces=aimed.table, size="245/70R19.5", **less)
    front, rear = aimed.api.ok("POST", "work/targets/edition", body)
    assert (front["rig_name"], front["name"]) == ("CF-01 Almagest", "Front")
    assert front["now_kpa"] == pytest.approx(90 * PSI_KPA)
    assert front["then_kpa"] == pytest.approx(95 * PSI_KPA)
    assert rear["then_kpa"] == pytest.approx(105 * PSI_KPA)
    # Nothing is saved yet, and a table of its own changes nothing that is in force.
    assert aimed.api.ok("GET", f"/yard/{aimed.rig}")["targets"]["out_of_date"] == []
    assert aimed.api.ok("POST", "work/targets/edition", body | {"replaces": None}) == []
    aimed.api.ok("POST", "/tables", body)
    sheet = aimed.api.ok("GET", f"/yard/{aimed.rig}")
    assert sheet["targets"]["out_of_date"] == ["a newer edition of its table is in use"]
    assert sheet["targets"]["tables"] == [aimed.table, aimed.table]
    assert sheet["targets"]["axles"][0]["target_kpa"] == pytest.approx(90 * PSI_KPA)
    yard = aimed.api.ok("GET", "/yard")["rigs"][0]
    assert any("a newer edition" in w["text"] for w in (yard["words"], *yard["more"]))
    newest = max(t["id"] for t in aimed.api.ok("GET", "/tables"))
    other = grid(replaces=newest, size="255/70R19.5 140/138M")
    assert "is for 245/70R19.5" in aimed.api.no("POST", "/tables", other, 422, "size")


def test_the_impact_of_an_edition_takes_few_queries_however_many_rigs(
    aimed: Fleet, django_assert_max_num_queries: Any
) -> None:
    for i in range(8):
        rig = aimed.api.ok("POST", "/rigs", COACH | {"fleet_number": f"X{i}"})["id"]
        aimed.api.ok("POST", f"/rigs/{rig}/weighings", TICKET)
        aimed.api.ok("POST", f"/rigs/{rig}/targets", {})
    with django_assert_max_num_queries(15):
        assert len(aimed.api.ok("POST", "work/targets/edition", grid(replaces=aimed.table))) == 18


def test_tables_go_out_and_come_in_again(fleet: Fleet, stranger: Api) -> None:
    fleet.api.ok("POST", "/tables/samples", {"key": "wisp-120-70r17"})
    fleet.api.ok(
        "POST",
        "/tables",
        grid(
            size="225/75R16C 121/120R",
            line="=HYPER()",
            single=[900 + 50 * i for i in range(10)],
            dual=None,
            speed_kmh="120 km/h",
        ),
    )
    text = fleet.api.call("GET", "/tables/export.json").content.decode()
    assert [t["size"] for t in json.loads(text)["tables"]] == ["225/75R16C", "245/70R19.5"]
    read = stranger.ok("POST", "work/tables/import", sent(text))
    assert (len(read["tables"]), read["ready"], read["saved"]) == (2, True, 0)
    assert stranger.ok("GET", "/tables") == []
    assert stranger.ok("POST", "/tables/import", sent(text))["saved"] == 2
    mine, theirs = fleet.api.ok("GET", "/tables"), stranger.ok("GET", "/tables")
    own = [t for t in mine if not t["sample"]]
    kept = ("size", "line", "source", "load_index_single", "load_index_dual", "steps", "single", "dual", "speed_kmh")
    assert [[t[k] for k in kept] for t in theirs] == [[t[k] for k in kept] for t in own]
    # CSV the same; what a spreadsheet would run is made plain on the way out, and is itself again on the way in.
    csv = fleet.api.call("GET", "/tables/export.csv").content.decode()
    assert "'=HYPER()" in csv
    assert stranger.ok("POST", "/tables/import", sent(csv))["saved"] == 2
    assert [t["line"] for t in stranger.ok("GET", "/tables")].count("=HYPER()") == 2
    blank = fleet.api.call("GET", "/tables/blank.csv").content.decode()
    assert stranger.ok("POST", "work/tables/import", sent(blank))["ready"] is True


def test_an_import_is_all_or_nothing_and_tells_each_table(api: Api) -> None:
    good = dict(TABLE)
    bad = good | {"single": [1510, 1590, 1580, *TABLE["single"][3:]]}
    body = {"format": "gentle-ballast/load-inflation-tables", "version": 1, "tables": [good, bad, {"size": "nonsense"}]}
    found = api.ok("POST", "/tables/import", sent(json.dumps(body)))
    assert (found["ready"], found["saved"]) == (False, 0)
    assert found["tables"][0]["problems"] == []
    assert "single.2" in found["tables"][1]["problems"][0]
    assert any("source" in p for p in found["tables"][2]["problems"])
    assert api.ok("GET", "/tables") == []


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("table,size\n1,x\n", "lacks the column pressure"),
        ("pressure,single\n" + "450,1510\n" * 10_000, "10,000 rows"),
        ("pressure,single\n", "no table"),
        ('{"format": "other"}', "no list of tables"),
        ("{not json", "not JSON"),
        ('{"format": "gentle-ballast/load-inflation-tables", "version": 1, "tables": [1]}', "Table 1 is no object"),
        ("\x00\x01", "no text file"),
    ],
)
def test_files_that_are_none(api: Api, text: str, words: str) -> None:
    assert words in api.no("POST", "work/tables/import", sent(text), 422, "content")


def test_thousands_in_a_file_are_read_as_in_a_cell(api: Api) -> None:
    text = (
        "table,size,source,pressure_unit,mass_unit,pressure,single\n"
        'a,245/70R19.5,Sheet,kPa,kg,450,"1,510"\na,,,,,485,"1,590"\na,,,,,520,"1,670"\n'
    )
    assert api.ok("POST", "work/tables/import", sent(text))["tables"][0]["grid"]["single_kg"] == [1510, 1590, 1670]
