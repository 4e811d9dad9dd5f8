import copy
from typing import Any

import pytest

from ballast.server.rigs.models import Rig
from tests.server.conftest import COACH, Api, Fleet


def changed(**more: Any) -> dict[str, Any]:
    return copy.deepcopy(COACH) | more


def axle(index: int, **more: Any) -> dict[str, Any]:
    body = changed()
    body["axles"][index] |= more
    return body


def test_a_rig_as_entered_comes_back_in_canonical_units(api: Api) -> None:
    body = changed(gvwr_kg="26,015 lb")
    body["axles"][0]["sidewall_max_kpa"] = "110 psi"
    rig = api.ok("POST", "/rigs", body)
    assert rig["gvwr_kg"] == pytest.approx(11800.2, abs=0.1)
    assert rig["axles"][0]["sidewall_max_kpa"] == pytest.approx(758.42, abs=0.01)
    assert [a["name"] for a in rig["axles"]] == ["Front", "Rear"]
    assert [a["wheels"] for a in rig["axles"]] == [2, 4]
    assert rig["axles"][1]["load_index_dual"] == 133
    assert rig["axles"][1]["tire_max_kg"] == 2060
    assert [w["code"] for w in rig["wheels"]] == ["1L", "2Lo", "2Li", "2Ro", "2Ri", "1R", "S1"]
    assert rig["spares"][0]["required_kpa"] == 690
    assert api.ok("GET", f"/rigs/{rig['id']}") == rig


def test_the_work_call_reads_a_rig_without_saving_it(api: Api) -> None:
    draft = api.ok("POST", "work/rigs", axle(0, gawr_kg="4400 kg"))
    assert (
        draft["sizes"][0]["words"]
        == "heavy, radial, 135 is 2,180 kg (4,806 lb) single, 133 is 2,060 kg (4,542 lb) dual, M is 130 km/h"
    )
    assert [c["field"] for c in draft["cautions"]] == ["axles.0.gawr_kg"]
    assert not Rig.objects.exists()


def test_a_name_a_kind_and_one_size_are_enough_and_nothing_else_is_made_up(api: Api) -> None:
    body = {"kind": "van", "name": "Gnomon", "axles": [{"tire_size": "225/75R16C 121/120R"}, {}]}
    draft = api.ok("POST", "work/rigs", body)
    assert draft["enough"]
    assert [a["drawn"]["position_m"] for a in draft["axles"]] == [0, 3.6]
    assert "Size on the sidewall: rear axle" in [m["name"] for m in draft["missing"]]
    assert not api.ok("POST", "work/rigs", body | {"name": ""})["enough"]
    rig = api.ok("POST", "/rigs", body)
    front, rear = rig["axles"]
    assert (front["position_m"], rear["position_m"], rear["track_m"], rear["tire_size"]) == (0, None, None, "")
    assert rear["drawn"] == {"position_m": 3.6, "track_m": 1.7, "wheels": 2}
    assert rear["tire_max_kg"] is None
    # Every stage of it opens.
    for path in (f"yard/{rig['id']}", f"rigs/{rig['id']}/air", f"rigs/{rig['id']}/morning", "yard", "morning"):
        api.ok("GET", path)
    assert api.ok("PUT", f"/rigs/{rig['id']}", body | {"version": rig["version"]})["version"] == rig["version"]


@pytest.mark.parametrize(
    ("body", "field", "words"),
    [
        (changed(axles=[{}, {}]), "axles.0.tire_size", "size of one axle's tires"),
        (changed(kind="hovercraft"), "kind", "Choose one of"),
        (changed(name="  "), "name", "A rig needs a name."),
        (changed(gvwr_kg="heavy"), "gvwr_kg", "is not a weight"),
        (changed(gvwr_kg=-5), "gvwr_kg", "below"),
        (changed(gvwr_kg="11800 psi"), "gvwr_kg", "not a unit of weight"),
        (changed(axles=[]), "axles", "At least 1"),
        (changed(axles=[COACH["axles"][0]] * 10), "axles", "At most 9"),
        (changed(wheelbase_m="5 m"), "wheelbase_m", "6.10 m behind"),
        (changed(color="red"), "color", "no such field"),
        (axle(1, position_m=0), "axles.1.position_m", "behind the one before"),
        (axle(1, wheels=1), "axles.1.wheels", "A dual axle has four wheels"),
        (axle(0, wheels=4), "axles.0.wheels", "Say dual"),
        (axle(0, wheels=3), "axles.0.wheels", "Choose one of"),
        (axle(0, wheels=1), "axles.0.wheels", "Only a motorcycle"),
        (axle(0, sidewall_max_kpa="15 bar"), "axles.0.sidewall_max_kpa", "above"),
        (axle(0, load_index_single=280), "axles.0.load_index_single", "0 to 279"),
        (axle(0, load_index_single="abc"), "axles.0.load_index_single", "not a number"),
        (axle(0, load_index_single=12.5), "axles.0.load_index_single", "whole number"),
        (axle(0, load_index_single=120), "axles.0.load_index_single", "The size marking says 135"),
        (axle(0, placard_kpa="800 kPa"), "axles.0.placard_kpa", "above the sidewall's maximum"),
        (axle(0, track_m="9 m"), "axles.0.track_m", "above"),
        (
            changed(spares=[{"tire_size": "245/70R19.5", "required_kpa": 900, "sidewall_max_kpa": 760}]),
            "spares.0.required_kpa",
            "above its sidewall's maximum",
        ),
    ],
)
def test_bad_or_contradictory_entries_are_told_beside_the_field(
    api: Api, body: dict[str, Any], field: str, words: str
) -> None:
    assert words in api.no("POST", "/rigs", body, 422, field)
    assert not Rig.objects.exists()


def test_several_contradictions_are_told_at_once(api: Api) -> None:
    body = axle(1, position_m=0, wheels=1)
    body["axles"][0]["load_index_single"] = 120
    reply = api.call("POST", "/rigs", body)
    fields = {f["field"] for f in reply.json()["fields"]}
    # 120 is less than the marking's dual index as well.
    assert fields == {
        "axles.1.wheels", "axles.1.position_m", "axles.0.load_index_single", "axles.0.load_index_dual", "wheelbase_m",
    }  # fmt: skip
    assert "5 entries" in reply.json()["message"]


def test_a_marking_that_cannot_be_read_refuses_no_rig_and_is_said(api: Api) -> None:
    body = axle(0, tire_size="MT90 special", load_index_single=74, sidewall_max_kpa="290 kPa")
    body["spares"] = [{"tire_size": "x"}]
    saved = api.ok("POST", "/rigs", body)
    assert saved["axles"][0]["tire_size"] == "MT90 SPECIAL"
    (said,) = [c["words"]["text"] for c in saved["cautions"] if c["field"] == "axles.0.tire_size"]
    assert "not a size marking" in said
    assert "kept as typed" in said
    # What was entered by hand counts: load index 74 is 375 kg, ÷ 1.10, as it is not known to be no car's tire.
    assert saved["axles"][0]["tire_max_kg"] == pytest.approx(375 / 1.10)
    assert "speed symbol" in api.ok("POST", "work/rigs", body)["sizes"][0]["asked_for"][0]
    del body["axles"][0]["load_index_single"]
    assert api.ok("POST", "work/rigs", body)["sizes"][0]["asked_for"][0].startswith("load index")


def test_a_fleet_number_is_once(api: Api) -> None:
    api.ok("POST", "/rigs", changed())
    assert "Almagest already" in api.no("POST", "/rigs", changed(name="Other"), 409, "fleet_number")
    # Without a number there may be many.
    api.ok("POST", "/rigs", changed(fleet_number=""))
    api.ok("POST", "/rigs", changed(fleet_number=""))


def test_another_workspace_may_use_the_same_number(api: Api, stranger: Api) -> None:
    api.ok("POST", "/rigs", changed())
    stranger.ok("POST", "/rigs", changed())


def test_changes_are_kept_with_who_and_what(fleet: Fleet) -> None:
    fleet.api.ok("PUT", "/session/units", {"units": "metric"})
    body = axle(1, gawr_kg="7700 kg")
    body["name"] = "Almagest II"
    body["axles"].append(COACH["axles"][0] | {"position_m": "7.4 m"})
    fleet.api.ok("PUT", f"/rigs/{fleet.rig}", body)
    body["axles"].pop()
    fleet.api.ok("PUT", f"/rigs/{fleet.rig}", body)
    history = fleet.api.ok("GET", f"/rigs/{fleet.rig}/history")
    lines = {(h["what"], h["before"], h["after"]) for h in history}
    assert ("name", "Almagest", "Almagest II") in lines
    assert ("axle 2: GAWR", "7,600 kg", "7,700 kg") in lines
    assert ("axle 3 added", "", "") in lines
    assert ("axle 3 removed", "", "") in lines
    assert {h["who"] for h in history} == {"Manager"}
    # Nothing is logged for what did not change.
    assert not any(h["what"].startswith("axle 1:") for h in history)


def test_looking_at_a_rig_and_saving_it_changes_nothing(fleet: Fleet) -> None:
    rig = fleet.api.ok("GET", f"/rigs/{fleet.rig}")
    before = len(fleet.api.ok("GET", f"/rigs/{fleet.rig}/history"))
    keep = {k: rig[k] for k in ("kind", "name", "fleet_number", "gvwr_kg", "wheelbase_m", "note", "top_speed_kmh")}
    drop = {"number", "name", "tire_max_kg", "group", "sidewall_words", "unlike", "drawn"}
    keep["axles"] = [{k: v for k, v in a.items() if k not in drop} | {"dual": a["wheels"] == 4} for a in rig["axles"]]
    keep["spares"] = [{k: v for k, v in s.items() if k not in drop} for s in rig["spares"]]
    assert fleet.api.ok("PUT", f"/rigs/{fleet.rig}", keep) == rig
    after = fleet.api.ok("GET", f"/rigs/{fleet.rig}/history")
    assert len(after) == before


def test_an_archived_rig_leaves_the_yard_and_comes_back(fleet: Fleet) -> None:
    assert fleet.api.ok("DELETE", f"/rigs/{fleet.rig}")["archived"] is True
    yard = fleet.api.ok("GET", "/yard")
    assert (yard["rigs"], yard["archived"]) == ([], 1)
    assert [r["id"] for r in fleet.api.ok("GET", "/rigs?archived=true")] == [fleet.rig]
    assert fleet.api.no("POST", f"/rigs/{fleet.rig}/rounds", fleet.conditions(), 409)
    assert fleet.api.ok("POST", f"/rigs/{fleet.rig}/restore")["archived"] is False
    assert len(fleet.api.ok("GET", "/yard")["rigs"]) == 1


def test_coming_back_to_a_number_that_is_taken_is_told(fleet: Fleet) -> None:
    fleet.api.ok("DELETE", f"/rigs/{fleet.rig}")
    fleet.api.ok("POST", "/rigs", changed(name="Next"))
    assert "Next by now" in fleet.api.no("POST", f"/rigs/{fleet.rig}/restore", None, 409, "fleet_number")


def test_a_motorcycle_has_one_wheel_an_axle(api: Api) -> None:
    tire = {"tire_size": "120/70R17 58W", "track_m": "0.2 m", "wheels": 1}
    bike = changed(kind="motorcycle", wheelbase_m="1.5 m", gvwr_kg="430 kg", spares=[])
    bike["axles"] = [{**tire, "position_m": 0}, {**tire, "position_m": 1.5}]
    rig = api.ok("POST", "/rigs", bike)
    assert [w["code"] for w in rig["wheels"]] == ["1", "2"]
    assert rig["light"] is True
    bike["fleet_number"] = ""
    bike["axles"][0]["wheels"] = 2
    assert "front axle has one wheel" in api.no("POST", "/rigs", bike, 422, "axles.0.wheels")
