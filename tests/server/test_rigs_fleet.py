"""Fitted tires, rotations, combinations and the import of a fleet."""

import base64
import copy
from typing import Any

import pytest

from ballast.server.rigs.models import Fitting, Rig, Tire
from tests.server.conftest import COACH, TICKET, Api, Fleet

TRAILER: dict[str, Any] = {
    "kind": "trailer",
    "name": "Perigee",
    "fleet_number": "CF-02",
    "gvwr_kg": "3600 kg",
    "coupler_m": "4.4 m",
    "hitch_max_kg": "360 kg",
    "axles": [
        {"tire_size": "ST235/80R16 124/120M E", "position_m": x, "track_m": 2.05, "gawr_kg": "1800 kg",
         "sidewall_max_kpa": "550 kPa", "placard_kpa": "480 kPa"}
        for x in (0, 0.92)
    ],
}  # fmt: skip
VAN: dict[str, Any] = {
    "kind": "van",
    "name": "Gibbous",
    "axles": [{"tire_size": "225/75R16C 121/120R", "position_m": x, "track_m": 1.7} for x in (0, 3.67)],
    "spares": [{"tire_size": "225/75R16C 121/120R"}],
}


def fit(api: Api, rig: int, wheel: str, **new: Any) -> None:
    body = {"wheel": wheel, "new": new, "fitted_on": "2026-05-01", "odometer": "1000 km", "tread": "9 mm"}
    api.ok("POST", f"/rigs/{rig}/fittings", body)


def tires(api: Api, rig: int) -> Any:
    return api.ok("GET", f"/rigs/{rig}/tires")


def at(api: Api, rig: int) -> dict[str, Any]:
    return {t["wheel"]: t for t in tires(api, rig)["fitted"]}


# -- fitting ---------------------------------------------------------------------------------------


def test_a_new_tire_takes_what_was_left_empty_from_its_axle(fleet: Fleet) -> None:
    fit(fleet.api, fleet.rig, "2Ri", date_code="2624", sensor="K-41")
    tire = at(fleet.api, fleet.rig)["2Ri"]
    assert (tire["tire_size"], tire["load_index_dual"], tire["sidewall_max_kpa"]) == ("245/70R19.5 135/133M", 133, 760)
    assert (tire["tread_mm"], tire["sensor"], tire["date_code"]) == (9, "K-41", "2624")


def test_a_tire_is_fitted_moved_removed_and_retired_with_its_history(fleet: Fleet) -> None:
    api, rig = fleet.api, fleet.rig
    fit(api, rig, "1L", date_code="2624")
    fit(api, rig, "1R", date_code="0125")
    first = at(api, rig)["1L"]["id"]
    api.ok("POST", f"/rigs/{rig}/moves", {"moves": {"1L": "1R", "1R": "1L"}, "moved_on": "2026-06-01", "looked": True})
    assert at(api, rig)["1R"]["id"] == first
    api.ok("POST", f"/tires/{first}/remove", {"removed_on": "2026-07-01", "reason": "cut", "retire": True})
    assert "1R" not in at(api, rig)
    assert [(h["wheel"], h["removed_reason"]) for h in api.ok("GET", f"/tires/{first}")["fittings"]] == [
        ("1R", "cut"), ("1L", "moved to 1R"),
    ]  # fmt: skip
    again = {"wheel": "1R", "tire": first, "fitted_on": "2026-07-02"}
    assert "retired" in api.no("POST", f"/rigs/{rig}/fittings", again, 409, "tire")
    api.ok("POST", f"/tires/{first}/restore")
    api.ok("POST", f"/rigs/{rig}/fittings", again)
    assert at(api, rig)["1R"]["id"] == first


def test_what_stood_there_goes_to_the_store(fleet: Fleet) -> None:
    fit(fleet.api, fleet.rig, "1L", date_code="2624")
    fit(fleet.api, fleet.rig, "1L", date_code="0126")
    found = tires(fleet.api, fleet.rig)
    assert [t["date_code"] for t in found["fitted"]] == ["0126"]
    assert [t["date_code"] for t in found["store"]] == ["2624"]


@pytest.mark.parametrize(
    ("body", "field", "words"),
    [
        ({"wheel": "9L", "new": {}, "fitted_on": "2026-05-01"}, "wheel", "It has 1L, 2Lo"),
        ({"wheel": "1L", "fitted_on": "2026-05-01"}, "tire", "describe a new one"),
        ({"wheel": "1L", "tire": 99, "fitted_on": "2026-05-01"}, "tire", "no such tire"),
        ({"wheel": "1L", "new": {"date_code": "5424"}, "fitted_on": "2026-05-01"}, "new.date_code", "no week 54"),
        ({"wheel": "1L", "new": {"date_code": "0127"}, "fitted_on": "2026-05-01"}, "new.date_code", "future"),
        ({"wheel": "1L", "new": {}, "fitted_on": "2199-01-01"}, "fitted_on", "future"),
        ({"wheel": "1L", "new": {}, "fitted_on": "2026-05-01", "tread": "9 m"}, "tread", "above"),
    ],
)
def test_what_cannot_be_fitted(fleet: Fleet, body: dict[str, Any], field: str, words: str) -> None:
    assert words in fleet.api.no("POST", f"/rigs/{fleet.rig}/fittings", body, 422, field)
    assert not Tire.objects.exists()


def test_tread_is_read_in_32nds_of_an_inch_too(fleet: Fleet) -> None:
    body = {"wheel": "1L", "new": {}, "fitted_on": "2026-05-01", "tread": "10/32 in"}
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/fittings", body)
    # 10 / 32 × 25.4 mm
    assert Fitting.objects.get().tread_mm == pytest.approx(7.9375, abs=0.001)


def test_a_weaker_tire_lowers_what_the_axle_carries(fleet: Fleet) -> None:
    # Load index 130 is 1,900 kg; the rig is described with 135, 2,180 kg.
    fit(fleet.api, fleet.rig, "1L", tire_size="245/70R19.5 130/128M")
    assert fleet.api.ok("GET", f"/rigs/{fleet.rig}")["axles"][0]["tire_max_kg"] == 1900


def test_a_fitted_tire_of_another_size_is_looked_up_in_its_own_table(aimed: Fleet) -> None:
    fit(aimed.api, aimed.rig, "1L", tire_size="225/70R19.5 128/126M")
    front, rear = aimed.api.ok("POST", "work/targets", {"rig": aimed.rig})["axles"]
    # Of the other tire nothing is known but its load: the axle needs at least what the known one does.
    assert (front["state"], rear["state"]) == ("provisional", "target")
    assert front["at_least"] == ["225/70R19.5"]
    assert (front["floor_kpa"], front["target_kpa"]) == pytest.approx((532.857, 90 * 6.894757), abs=0.01)
    assert any("Mixed tires (245/70R19.5, 225/70R19.5)" in n["text"] for n in front["notes"])
    own = {"size": "225/70R19.5 128/126M", "source": "Printed sheet", "pressure_unit": "kPa", "mass_unit": "kg",
           "steps": [450, 585, 690, 760], "single": [1250, 1500, 1680, 1795]}  # fmt: skip
    aimed.api.ok("POST", "/tables", own)
    front = aimed.api.ok("POST", "work/targets", {"rig": aimed.rig})["axles"][0]
    # 1,700 kg: 690 + 70 × 20/115 = 702.2 in the smaller size, 532.9 in the other.
    assert front["floor_kpa"] == pytest.approx(702.17, abs=0.01)
    assert front["target_kpa"] == 760
    sheet = aimed.api.ok("GET", f"/yard/{aimed.rig}")
    assert sheet["targets"]["out_of_date"] == [
        "tires or ratings have changed",
        "a table for its tires was entered since",
    ]
    # Both tables had a part, so both are said where the target is in force, and a new edition of either is.
    put = aimed.api.ok("POST", f"/rigs/{aimed.rig}/targets", {})
    assert sorted(put["table_names"]) == ["225/70R19.5: Printed sheet", "245/70R19.5: Printed sheet, page 4"]
    card = aimed.api.ok("GET", f"/rigs/{aimed.rig}/card")["vehicles"][0]
    assert sorted(card["tables"]) == sorted(card["unchecked"]) == sorted(put["table_names"])
    small = next(t["id"] for t in aimed.api.ok("GET", "/tables") if t["size"] == "225/70R19.5")
    weaker = own | {"single": [1200, 1450, 1600, 1690], "replaces": small}
    (changed,) = aimed.api.ok("POST", "work/targets/edition", weaker)
    # 1,700 kg are beyond the smaller size's last column now; the axle's chosen table is the other one.
    assert (changed["name"], changed["then_kpa"], changed["state"]) == ("Front", None, "beyond tires")
    aimed.api.ok("POST", "/tables", weaker)
    assert (
        "a newer edition of its table is in use" in aimed.api.ok("GET", f"/yard/{aimed.rig}")["targets"]["out_of_date"]
    )


def test_findings_of_mixed_and_old_tires(fleet: Fleet) -> None:
    fit(fleet.api, fleet.rig, "1L", tire_make="Pellwick Drover", date_code="2624")
    fit(fleet.api, fleet.rig, "1R", tire_make="Corrin Longhaul", date_code="2615")
    fit(fleet.api, fleet.rig, "2Lo", diameter="838 mm")
    fit(fleet.api, fleet.rig, "2Li", diameter="845 mm")
    fit(fleet.api, fleet.rig, "S1", tire_size="225/70R19.5")
    said = [f["words"] for f in tires(fleet.api, fleet.rig)["findings"]]
    assert said[0] == "Front: mixed makes on one axle (Corrin Longhaul, Pellwick Drover)"
    assert "Rear left, duals: measured diameters differ by 7 mm, the most is 6" in said[1]
    assert "Spare: 225/70R19.5 is unlike the rest" in said[2]
    assert said[3].startswith("Front right: 11.4 years old: replace it")
    assert len(said) == 4


def test_a_wheel_that_was_off_is_torqued_again_after_eighty_kilometers(fleet: Fleet) -> None:
    fit(fleet.api, fleet.rig, "1L")
    told = tires(fleet.api, fleet.rig)["retorque"]
    assert [round(v["value"]) for v in told["values"]] == [1000, 80]
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", TICKET | {"odometer": "1095 km"})
    told = tires(fleet.api, fleet.rig)["retorque"]
    assert ("overdue" in told["text"], round(told["values"][1]["value"])) == (True, 15)
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/torques", {"done_on": "2026-09-14", "odometer": "1096 km"})
    assert tires(fleet.api, fleet.rig)["retorque"] is None


def test_the_yard_says_that_a_wheel_was_off(fleet: Fleet) -> None:
    def said() -> list[str]:
        line = fleet.api.ok("GET", "/yard")["rigs"][0]
        return [w["text"] for w in (line["words"], *line["more"]) if "torque" in w["text"]]

    assert said() == []
    fit(fleet.api, fleet.rig, "1L")
    assert said() == ["A wheel was off at {0}: torque the nuts again within {1}."]
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/torques", {"done_on": "2026-09-14", "odometer": "1090 km"})
    assert said() == []


def test_of_a_fitted_tire_of_another_size_and_unknown_load_the_known_limit_is_one_for_both(fleet: Fleet) -> None:
    fit(fleet.api, fleet.rig, "1L", tire_size="225/70R19.5")
    rig = fleet.api.ok("GET", f"/rigs/{fleet.rig}")
    assert rig["axles"][0]["tire_max_kg"] == 2180
    assert any("load index is not known" in c["words"]["text"] for c in rig["cautions"])
    loads = fleet.api.ok("GET", f"/yard/{fleet.rig}")["weighing"]["loads"]["axles"][0]
    assert any("Of one tire on it the maximum load is not known" in n["text"] for n in loads["notes"])
    # Every wheel of that size: nothing is known of any, and the one described stands in for none.
    fit(fleet.api, fleet.rig, "1R", tire_size="225/70R19.5")
    assert fleet.api.ok("GET", f"/rigs/{fleet.rig}")["axles"][0]["tire_max_kg"] is None


def test_rotation_keeps_duals_matched(fleet: Fleet) -> None:
    for wheel in ("1L", "1R", "2Lo", "2Li", "2Ro", "2Ri"):
        fit(fleet.api, fleet.rig, wheel, date_code="2624")
    pattern = fleet.api.ok("GET", f"/rigs/{fleet.rig}/wear")["patterns"]
    assert [r["key"] for r in pattern] == ["sides"]
    assert pattern[0]["moves"]["2Lo"] == "2Ro"
    assert pattern[0]["moves"]["2Li"] == "2Ri"
    before = {w: t["id"] for w, t in at(fleet.api, fleet.rig).items()}
    fleet.api.ok(
        "POST", f"/rigs/{fleet.rig}/moves", {"moves": pattern[0]["moves"], "moved_on": "2026-06-01", "looked": True}
    )
    after = {w: t["id"] for w, t in at(fleet.api, fleet.rig).items()}
    assert (after["2Ro"], after["2Ri"]) == (before["2Lo"], before["2Li"])


def test_singles_rotate_front_to_rear_and_with_the_spare(api: Api) -> None:
    rig = api.ok("POST", "/rigs", VAN)["id"]
    for wheel in ("1L", "1R", "2L", "2R", "S1"):
        fit(api, rig, wheel)
    patterns = {r["key"]: r["moves"] for r in api.ok("GET", f"/rigs/{rig}/wear")["patterns"]}
    assert set(patterns) == {"sides", "front-rear", "cross", "cross-spare"}
    for moves in patterns.values():
        assert sorted(moves) == sorted(moves.values())
    assert patterns["cross"] == {"2L": "1L", "1L": "2R", "2R": "1R", "1R": "2L"}


def test_moves_that_collide_are_refused(fleet: Fleet) -> None:
    fit(fleet.api, fleet.rig, "1L")
    path = f"/rigs/{fleet.rig}/moves"
    both = {"moves": {"1L": "2Lo", "1R": "2Lo"}, "moved_on": "2026-06-01"}
    assert "Two tires" in fleet.api.no("POST", path, both, 422, "moves")
    nothing = {"moves": {"1R": "1L"}, "moved_on": "2026-06-01"}
    assert "No tire is entered at 1R" in fleet.api.no("POST", path, nothing, 422, "moves")
    early = {"moves": {"1L": "1R"}, "moved_on": "2026-04-01"}
    assert "fitted on" in fleet.api.no("POST", path, early, 422, "moved_on")


def test_tires_of_wheels_that_are_no_more_go_to_the_store(fleet: Fleet) -> None:
    fit(fleet.api, fleet.rig, "2Li")
    body = copy.deepcopy(COACH)
    body["axles"][1] |= {"dual": False}
    fleet.api.ok("PUT", f"/rigs/{fleet.rig}", body)
    found = tires(fleet.api, fleet.rig)
    assert (len(found["fitted"]), len(found["store"])) == (0, 1)


# -- combinations ------------------------------------------------------------------------------------


@pytest.fixture
def pair(fleet: Fleet) -> tuple[Fleet, int]:
    trailer = fleet.api.ok("POST", "/rigs", TRAILER)["id"]
    fleet.api.ok("PUT", f"/rigs/{trailer}/hitch", {"behind": fleet.rig})
    return fleet, trailer


def test_a_trailer_is_hitched_and_dropped(pair: tuple[Fleet, int]) -> None:
    fleet, trailer = pair
    train = fleet.api.ok("GET", f"/yard/{fleet.rig}")["train"]
    assert [v["name"] for v in train] == ["Almagest", "Perigee"]
    assert [w["code"] for w in train[1]["wheels"]] == ["T1L", "T2L", "T2R", "T1R"]
    assert train[1]["wheels"][0]["name"] == "Perigee, front left"
    alone = fleet.api.ok("PUT", f"/rigs/{trailer}/hitch", {"behind": None})
    assert [v["name"] for v in alone] == ["Perigee"]
    assert Rig.objects.get(pk=trailer).head is None


def test_a_trailer_changes_its_tow_vehicle(pair: tuple[Fleet, int]) -> None:
    fleet, trailer = pair
    other = fleet.api.ok("POST", "/rigs", COACH | {"fleet_number": "CF-08", "name": "Analemma"})["id"]
    train = fleet.api.ok("PUT", f"/rigs/{trailer}/hitch", {"behind": other})
    assert [v["name"] for v in train] == ["Analemma", "Perigee"]
    assert len(fleet.api.ok("GET", f"/yard/{fleet.rig}")["train"]) == 1


def test_trailers_behind_one_another_move_together(pair: tuple[Fleet, int]) -> None:
    fleet, trailer = pair
    second = fleet.api.ok("POST", "/rigs", TRAILER | {"name": "Second", "fleet_number": ""})["id"]
    train = fleet.api.ok("PUT", f"/rigs/{second}/hitch", {"behind": trailer})
    assert [(v["name"], v["wheels"][0]["code"]) for v in train] == [
        ("Almagest", "1L"), ("Perigee", "T1L"), ("Second", "U1L"),
    ]  # fmt: skip
    assert "would tow itself" in fleet.api.no("PUT", f"/rigs/{trailer}/hitch", {"behind": second}, 422, "behind")
    fleet.api.ok("PUT", f"/rigs/{trailer}/hitch", {"behind": None})
    assert [v["name"] for v in fleet.api.ok("GET", f"/yard/{second}")["train"]] == ["Perigee", "Second"]


def test_what_cannot_be_hitched(pair: tuple[Fleet, int], stranger: Api) -> None:
    fleet, trailer = pair
    api = fleet.api
    assert "is no trailer" in api.no("PUT", f"/rigs/{fleet.rig}/hitch", {"behind": trailer}, 422, "behind")
    assert "would tow itself" in api.no("PUT", f"/rigs/{trailer}/hitch", {"behind": trailer}, 422, "behind")
    loose = api.ok("POST", "/rigs", TRAILER | {"name": "Loose", "fleet_number": ""})["id"]
    assert "hitched there already" in api.no("PUT", f"/rigs/{loose}/hitch", {"behind": fleet.rig}, 409, "behind")
    other = api.ok("POST", "/rigs", TRAILER | {"name": "Other", "fleet_number": ""})["id"]
    assert "no tow vehicle" in api.no("PUT", f"/rigs/{loose}/hitch", {"behind": other}, 422, "behind")
    theirs = stranger.ok("POST", "/rigs", COACH)["id"]
    assert "no such rig" in api.no("PUT", f"/rigs/{loose}/hitch", {"behind": theirs}, 422, "behind")
    assert "Unhitch it first" in api.no("DELETE", f"/rigs/{trailer}", None, 409)


def test_one_round_reads_the_whole(pair: tuple[Fleet, int]) -> None:
    fleet, trailer = pair
    told = fleet.api.no("POST", f"/rigs/{trailer}/rounds", fleet.conditions(), 409, "rig")
    assert "hitched behind Almagest" in told
    view = fleet.open_round()
    # Down the left of both, up the right of both, the spare last.
    assert [w["code"] for w in view["wheels"]] == [
        "1L", "2Lo", "2Li", "T1L", "T2L", "T2R", "T1R", "2Ro", "2Ri", "1R", "S1",
    ]  # fmt: skip
    fleet.read(view["id"], "T1L", "480 kPa")
    seal = {"unread_reason": "rain"}
    # The trailer has no target number: that is said, or it is not sealed.
    told = fleet.api.no("POST", f"/rounds/{view['id']}/seal", seal, 409, "without_target")
    assert "No target number is known for Perigee, front left" in told
    sealed = fleet.api.ok("POST", f"/rounds/{view['id']}/seal", seal | {"without_target": True})
    assert "no target number is known" in sealed["without_target"]
    assert "no target known" in sealed["summary"]
    mine, theirs = (fleet.api.ok("GET", f"/lookback/{rig}") for rig in (fleet.rig, trailer))
    assert (len(mine["rounds"]), len(theirs["rounds"])) == (1, 1)
    # Only the trailer's left front wheel was read, under its own code.
    assert mine["tires"] == []
    assert [(t["code"], t["raw"]) for t in theirs["tires"]] == [("1L", [480])]
    lines = {r["name"]: r for r in fleet.api.ok("GET", "/yard")["rigs"]}
    assert (len(lines["Almagest"]["tires"]), len(lines["Perigee"]["tires"])) == (7, 4)


# -- import --------------------------------------------------------------------------------------------


def file(text: str, encoding: str = "utf-8") -> dict[str, str]:
    return {"name": "fleet.csv", "content": base64.b64encode(text.encode(encoding)).decode()}


def test_the_blank_file_is_one_that_can_be_imported(api: Api) -> None:
    blank = api.call("GET", "/rigs/import.csv").content.decode()
    seen = api.ok("POST", "work/rigs/import", file(blank))
    assert (seen["rigs"], seen["tires"], seen["refused"], seen["saved"]) == (1, 1, 0, False)
    assert not Rig.objects.exists()
    assert api.ok("POST", "/rigs/import", file(blank))["saved"] is True
    rig = api.ok("GET", "/rigs")[0]
    assert (rig["name"], len(rig["axles"]), rig["axles"][1]["placard_kpa"]) == ("Example van", 2, 450)
    assert at(api, rig["id"])["1L"]["date_code"] == "3524"


HEAD = "row,rig,kind,name,gvwr_kg,position_m,track_m,wheels,tire_size,wheel,date_code"


def test_every_refused_row_is_told_and_then_nothing_is_saved(fleet: Fleet) -> None:
    text = "\n".join(
        [
            HEAD,
            "rig,R-1,van,Good van,3500 kg",
            "axle,R-1,,,,0,1.7,2,225/75R16C 121/120R",
            "rig,R-2,hovercraft,Odd,,",
            "axle,R-2,,,,0,1.7,3,225/75R16C",
            "axle,R-9,,,,0,1.7,2,225/75R16C",
            "rig,R-3,van,Bad size,,",
            "axle,R-3,,,,0,1.7,2,round",
            "tire,R-1,,,,,,,,1L,5424",
            "tire,CF-01,,,,,,,,1L,2624",
            "tire,CF-99,,,,,,,,1L,2624",
            "boat,R-1",
            "rig,R-4,Straight truck,As the screens spell it,9000 kg",
            "axle,R-4,,,,0,2.0,2,225/75R16C 121/120R",
            "tire,R-2,,,,,,,,1L,5524",
            "tire,R-2,,,,,,,,1R,2624",
        ]
    )
    seen = fleet.api.ok("POST", "work/rigs/import", file(text))
    told = {r["line"]: (r["field"], r["refused"]) for r in seen["rows"] if r["refused"]}
    assert told[4][0] == "kind"
    assert told[4][1].startswith("Choose one of Coach, ")
    assert "Straight truck" in told[4][1]
    assert told[5][0] == "wheels"
    assert "Put its rig row first" in told[6][1]
    # A marking that is not read refuses no rig; it is said.
    assert 8 not in told
    assert "kept as typed" in next(r["words"] for r in seen["rows"] if r["line"] == 8)
    assert "no week 54" in told[9][1]
    assert "no rig CF-99" in told[11][1]
    assert "rig, axle, spare or tire" in told[12][1]
    assert {2, 3, 10, 13, 14}.isdisjoint(told)
    # Its rig is refused: what is wrong with the tire itself is told all the same.
    assert "no week 55" in told[15][1]
    assert told[16] == ("rig", "Its rig is refused.")
    assert seen["refused"] == len(told)
    assert fleet.api.ok("POST", "/rigs/import", file(text))["saved"] is False
    assert Rig.objects.count() == 1


def test_semicolons_and_utf_16_are_read_too(api: Api) -> None:
    text = "\n".join([HEAD.replace(",", ";"), "rig;R-1;van;Van;3500 kg", "axle;R-1;;;;0;1,7;2;225/75R16C 121/120R"])
    assert api.ok("POST", "/rigs/import", file(text, "utf-16"))["saved"] is True
    assert Rig.objects.get().axles.get().track_m == 1.7
    # Beside a name of its own, what its rows call it is its fleet number.
    assert (Rig.objects.get().name, Rig.objects.get().fleet_number) == ("Van", "R-1")


@pytest.mark.parametrize(
    ("content", "words"),
    [
        ("not base64!", "did not arrive whole"),
        (base64.b64encode(b"").decode(), "empty"),
        (base64.b64encode(b"row,rig\xe9\n").decode(), "not in UTF-8"),
        (base64.b64encode(b"PK\x03\x04\x00\x00").decode(), "no text file"),
        (base64.b64encode(b"name,kind\n").decode(), "lacks the column row"),
        (base64.b64encode(b"row,rig,wings\n").decode(), "column wings is not known"),
        (base64.b64encode(b"row,rig\n" + b"boat,x\n" * 2001).decode(), "2,001 rows"),
    ],
)
def test_what_is_no_fleet_file(api: Api, content: str, words: str) -> None:
    assert words in api.no("POST", "work/rigs/import", {"content": content}, 422, "content")


def test_a_file_of_twenty_megabytes_is_turned_away(api: Api) -> None:
    assert "Send less" in api.no("POST", "work/rigs/import", {"content": "A" * 20_000_000}, 413)
