"""Load states, passes with the guide, what-if, drift, tickets from files and the simulated scale."""

import base64
import json
from typing import Any

import pytest
from django.utils import timezone

from ballast.server.weighing.models import LoadState, Weighing
from tests.server.conftest import TICKET, Api, Fleet
from tests.server.test_rigs_fleet import TRAILER, pair

__all__ = ["pair"]

Pair = tuple[Fleet, int]
# Coupled: front 3,280, to the rear 10,010, to the trailer's axles 11,650 and 13,270; coach alone 9,800, trailer alone 3,480.
READ = [3280, 10_010, 11_650, 13_270, 9800, 3480]


def guided(fleet: Fleet, readings: list[int], way: str = "passes", with_trailers: bool = True) -> dict[str, Any]:
    steps = fleet.api.ok("POST", "work/weighing/guide", {"rig": fleet.rig, "way": way, "with_trailers": with_trailers})
    passes = [
        {"words": s["words"], "on": s["on"], "apart": s["apart"], "kg": f"{kg} kg"}
        for s, kg in zip(steps, readings, strict=False)
    ]
    return {"way": way, "with_trailers": with_trailers, "resolution_kg": "10 kg", "passes": passes}


def ticket(fleet: Fleet, **more: Any) -> dict[str, Any]:
    return guided(fleet, READ) | {"load_state": "towing", "weighed_on": "2026-09-20", "scale": "Grain scale"} | more


# -- passes ---------------------------------------------------------------------------------------------


def test_the_guide_says_where_to_stand(pair: Pair) -> None:
    fleet, _ = pair
    steps = fleet.api.ok(
        "POST", "work/weighing/guide", {"rig": fleet.rig, "way": "passes", "with_trailers": True, "hitch": True}
    )
    assert [s["words"] for s in steps] == [
        "Only the front axle of Almagest on the scale",
        "Roll on until the rear axle of Almagest is on too",
        "Roll on until the front axle of Perigee is on too",
        "Roll on until the rear axle of Perigee is on too",
        "Uncouple Perigee. Almagest alone, all axles on the scale",
        "As a check: Perigee alone on the scale, its jack too",
    ]
    assert steps[0]["wheels"] == ["1L", "1R"]
    assert "T2R" in steps[3]["wheels"]


def test_a_combination_while_typing_and_saved(pair: Pair) -> None:
    fleet, trailer = pair
    work = fleet.api.ok("POST", "work/weighing", {"rig": fleet.rig, **guided(fleet, READ)})
    assert (work["hitch_kg"], work["combined_kg"], work["total_kg"]) == (210, 13_270, 10_010)
    behind = work["others"][0]
    # 1,640 + 1,620 on its axles and 210 on the hitch.
    assert (behind["name"], behind["total_kg"], behind["hitch_kg"]) == ("Perigee", 3470, 210)
    assert work["ticket"]["doubt"] == []
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", ticket(fleet, bars="slack", odometer="84000 km"))
    mine = fleet.api.ok("GET", f"/rigs/{fleet.rig}/weighings")[0]
    theirs = fleet.api.ok("GET", f"/rigs/{trailer}/weighings")[0]
    assert (mine["hitched"], theirs["hitched"], theirs["part_of"]) == ("Perigee", "behind Almagest", mine["id"])
    assert [a["total_kg"] for a in theirs["loads"]["axles"]] == [1640, 1620]
    assert [p["typed"] for p in mine["passes"]] == [f"{kg} kg" for kg in READ]
    assert mine["odometer_km"] == 84_000


def test_the_hitch_is_held_against_both_ratings_and_the_whole_against_the_gcwr(pair: Pair) -> None:
    fleet, trailer = pair
    fleet.api.ok("PUT", f"/rigs/{trailer}", TRAILER | {"hitch_max_kg": "200 kg"})
    coach = fleet.api.ok("GET", f"/rigs/{fleet.rig}")
    keep = {k: coach[k] for k in ("kind", "name", "fleet_number", "gvwr_kg", "wheelbase_m")}
    axles = [
        {"position_m": a["position_m"], "track_m": a["track_m"], "tire_size": a["tire_size"], "dual": a["wheels"] == 4}
        for a in coach["axles"]
    ]
    fleet.api.ok("PUT", f"/rigs/{fleet.rig}", keep | {"axles": axles, "gcwr_kg": "13200 kg", "hitch_max_kg": "300 kg"})
    work = fleet.api.ok("POST", "work/weighing", {"rig": fleet.rig, "bars": "slack", **guided(fleet, READ)})
    checks = {c["what"]: c["margin_kg"] for c in work["checks"]}
    assert (checks["gcwr"], checks["hitch"]) == (-70, 90)
    assert [o["text"] for o in work["over"]] == [
        "Almagest: Combination rating: over by {0} ({1} on {2})", "Perigee: Coupling rating: over by {0} ({1} on {2})",
    ]  # fmt: skip
    engaged = fleet.api.ok("POST", "work/weighing", {"rig": fleet.rig, "bars": "engaged", **guided(fleet, READ)})
    assert not any(c["what"] == "hitch" for c in engaged["checks"])


def test_a_negative_hitch_load_is_kept_with_its_warning(pair: Pair) -> None:
    fleet, trailer = pair
    body = ticket(fleet)
    body["passes"][4]["kg"] = "10060 kg"
    body["passes"] = body["passes"][:5]
    saved = fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", body)
    assert saved["loads"]["hitch_kg"] == -50
    theirs = fleet.api.ok("GET", f"/rigs/{trailer}/weighings")[0]["loads"]
    assert theirs["total_kg"] == 1640 + 1620 - 50
    assert any("dangerous" in n["text"] for n in theirs["notes"])


def test_passes_that_cannot_be_are_refused_beside_the_pass(pair: Pair) -> None:
    fleet, trailer = pair
    body = ticket(fleet)
    body["passes"][1]["kg"] = "3000 kg"
    path = f"/rigs/{fleet.rig}/weighings"
    assert "cannot fall" in fleet.api.no("POST", path, body, 422, "passes.1")
    body["passes"][1]["on"] = ["0:7L"]
    assert "has not" in fleet.api.no("POST", path, body, 422, "passes.1")
    body["passes"][1]["on"] = ["the rear"]
    fleet.api.no("POST", path, body, 422, "passes.1.on.0")
    assert "Do at least one pass" in fleet.api.no("POST", path, ticket(fleet, passes=[]), 422, "passes.0.kg")
    own = {"rig": trailer, "way": "passes", "with_trailers": True}
    assert "from its tow vehicle" in fleet.api.no("POST", "work/weighing/guide", own, 422, "with_trailers")


def test_an_amended_combination_takes_the_place_of_both_tickets(pair: Pair) -> None:
    fleet, trailer = pair
    first = fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", ticket(fleet))
    better = ticket(fleet, amends=first["id"])
    better["passes"][3]["kg"] = "13290 kg"
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", better)
    newest, old = fleet.api.ok("GET", f"/rigs/{trailer}/weighings")
    assert (newest["loads"]["axles"][1]["total_kg"], old["amended"]) == (1640, True)


def test_a_lift_axle_that_was_up(api: Api) -> None:
    axle = {"tire_size": "315/80R22.5 156/150L", "track_m": 2}
    body = {
        "kind": "coach", "name": "Tagged",
        "axles": [axle | {"position_m": 0}, axle | {"position_m": 6, "dual": True},
                  axle | {"position_m": 7.4, "role": "tag", "lift": True}],
    }  # fmt: skip
    rig = api.ok("POST", "/rigs", body)["id"]
    axles = [{"whole_kg": "6000 kg"}, {"whole_kg": "10000 kg"}, {"lifted": True}]
    work = api.ok("POST", "work/weighing", {"rig": rig, "axles": axles})
    assert (work["total_kg"], work["axles"][2]["lifted"], work["axles"][2]["per_tire_kg"]) == (16_000, True, None)
    wrong = {
        "load_state": "x",
        "weighed_on": "2026-05-01",
        "scale": "s",
        "axles": [{"lifted": True}, {"whole_kg": 9000}],
    }
    assert "cannot lift" in api.no("POST", f"/rigs/{rig}/weighings", wrong, 422, "axles.0.lifted")


# -- load states ----------------------------------------------------------------------------------------


def test_the_load_state_in_force_rules_weighing_and_targets(aimed: Fleet) -> None:
    api, rig = aimed.api, aimed.rig
    light = TICKET | {"load_state": "empty", "axles": [{"whole_kg": 3000}, {"whole_kg": 4200}]}
    api.ok("POST", f"/rigs/{rig}/weighings", light)
    states = {s["name"]: s for s in api.ok("GET", f"/rigs/{rig}/load-states")}
    assert (states["trip-ready"]["in_force"], states["empty"]["in_force"]) == (True, False)
    assert states["empty"]["total_kg"] == 7200
    assert api.ok("GET", f"/yard/{rig}")["weighing"]["load_state"] == "trip-ready"
    api.ok("POST", f"/rigs/{rig}/load-states/{states['empty']['id']}/use")
    sheet = api.ok("GET", f"/yard/{rig}")
    # Its own weighing, and no targets of another load.
    assert (sheet["weighing"]["load_state"], sheet["targets"]) == ("empty", None)
    api.ok("POST", f"/rigs/{rig}/load-states/{states['trip-ready']['id']}/use")
    assert api.ok("GET", f"/yard/{rig}")["targets"]["load_state"] == "trip-ready"


def test_a_load_state_is_added_and_dropped_while_it_was_never_weighed(fleet: Fleet) -> None:
    path = f"/rigs/{fleet.rig}/load-states"
    made = fleet.api.ok("POST", path, {"name": "half"})
    assert [s["name"] for s in made] == ["trip-ready", "half"]
    assert "already" in fleet.api.no("POST", path, {"name": "Half"}, 409, "name")
    assert "kept" in fleet.api.no("DELETE", f"{path}/{made[0]['id']}", None, 409)
    assert [s["name"] for s in fleet.api.ok("DELETE", f"{path}/{made[1]['id']}")] == ["trip-ready"]


# -- what if ----------------------------------------------------------------------------------------------


def put(rig: int, mass: str, x: float, y: float = 0, **more: Any) -> dict[str, Any]:
    return {"what": "cargo", "mass": mass, "rig": rig, "x": x, "y": y} | more


def test_a_mass_shows_on_every_axle_and_margin(fleet: Fleet) -> None:
    # 305 kg, 2 m behind the front axle of 6.1 m: rear 100, front 205. Trip-ready: 1,690 | 1,700 and 3,160 | 3,410.
    found = fleet.api.ok("POST", "work/weighing/what-if", {"rig": fleet.rig, "placed": [put(fleet.rig, "305 kg", 2)]})
    front, rear = found["loads"]["axles"]
    assert (front["total_kg"], rear["total_kg"]) == (pytest.approx(3595), pytest.approx(6670))
    assert front["left_kg"] == pytest.approx(1690 + 102.5)
    assert [c["left_kg"] + c["right_kg"] for c in found["changes"]] == pytest.approx([205, 100])
    # 305 of 9,960 kg is more than 2 %.
    assert (found["added_share"], found["weigh_again"]) == (pytest.approx(305 / 9960), True)


def test_liters_become_kilograms(fleet: Fleet) -> None:
    item = put(fleet.rig, "", 3) | {"what": "diesel", "mass": None, "liters": "100 L"}
    found = fleet.api.ok("POST", "work/weighing/what-if", {"rig": fleet.rig, "placed": [item]})
    assert found["masses_kg"] == [pytest.approx(84)]
    gallons = item | {"what": "water", "liters": "10 gal"}
    found = fleet.api.ok("POST", "work/weighing/what-if", {"rig": fleet.rig, "placed": [gallons]})
    assert found["masses_kg"] == [pytest.approx(37.854, abs=0.001)]


def test_how_much_may_still_go_there_and_what_binds(fleet: Fleet) -> None:
    body = {"rig": fleet.rig, "at_rig": fleet.rig, "at_x": 6.1, "at_y": 0}
    cargo = fleet.api.ok("POST", "work/weighing/what-if", body)["cargo"]
    # Wholly over the rear: right tires have 4,120 − 3,410 = 710 kg for half of each kilogram; the axle 7,600 − 6,570 = 1,030.
    assert cargo["left_kg"] == pytest.approx(1030)
    assert cargo["bound_by"] == "Rear axle rating"
    # 0.9 m to the right on a track of 1.85: the right end takes 0.986 of each kilogram: 710 / 0.986.
    cargo = fleet.api.ok("POST", "work/weighing/what-if", body | {"at_y": 0.9})["cargo"]
    assert cargo["left_kg"] == pytest.approx(710 / (0.5 + 0.9 / 1.85))
    assert cargo["bound_by"] == "Rear right tires"


def test_a_mass_in_the_trailer_reaches_the_tow_vehicle_by_the_hitch(pair: Pair) -> None:
    fleet, trailer = pair
    coach = fleet.api.ok("GET", f"/rigs/{fleet.rig}")
    body = {k: coach[k] for k in ("kind", "name", "fleet_number", "gvwr_kg", "wheelbase_m")} | {
        "hitch_m": "8.1 m",
        "axles": [
            {
                "position_m": a["position_m"],
                "track_m": a["track_m"],
                "tire_size": a["tire_size"],
                "dual": a["wheels"] == 4,
            }
            for a in coach["axles"]
        ],
    }
    asked = {"rig": fleet.rig, "placed": [put(trailer, "100 kg", -1.944)]}
    assert "Where Almagest tows" in fleet.api.no("POST", "work/weighing/what-if", asked, 422, "hitch_m")
    fleet.api.ok("PUT", f"/rigs/{fleet.rig}", body)
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", ticket(fleet, load_state="trip-ready", bars="slack"))
    # Coupling 4.4 m ahead, group center 0.46 m behind axle 1: 4.86 m. 2.456 m behind the coupling: 50.5 % on the axles.
    found = fleet.api.ok("POST", "work/weighing/what-if", asked | {"bars": "slack"})
    on_hitch = 100 * (1 - 2.456 / 4.86)
    assert found["hitch_change_kg"] == pytest.approx(on_hitch, abs=0.01)
    by = {(c["rig"], c["number"]): c["left_kg"] + c["right_kg"] for c in found["changes"]}
    # Two meters behind the rear axle of a wheelbase of 6.1: front −2/6.1 of it.
    assert by[fleet.rig, 1] == pytest.approx(-on_hitch * 2 / 6.1, abs=0.01)
    assert found["loads"]["hitch_kg"] == pytest.approx(210 + on_hitch, abs=0.01)
    engaged = fleet.api.ok("POST", "work/weighing/what-if", {"rig": fleet.rig, "bars": "engaged", "restore": 0.5})
    # 210 kg two meters behind 6.1 m take 68.85 kg off the front; half comes back.
    assert engaged["loads"]["axles"][0]["total_kg"] == pytest.approx(3280 + 34.43, abs=0.05)


def test_the_pressure_change_is_the_target_rooms_answer(aimed: Fleet) -> None:
    body = {"rig": aimed.rig, "placed": [put(aimed.rig, "800 kg", 6.1, 0)]}
    front, rear = aimed.api.ok("POST", "work/targets/what-if", body)
    assert front["now_kpa"] == front["then_kpa"]
    assert rear["then_kpa"] > rear["now_kpa"]
    ticket_ = {**TICKET, "axles": [TICKET["axles"][0], {"left_kg": "3560 kg", "right_kg": "3810 kg"}]}
    saved = aimed.api.ok("POST", f"/rigs/{aimed.rig}/weighings", ticket_)
    direct = aimed.api.ok("POST", "work/targets", {"rig": aimed.rig, "weighing": saved["id"]})
    assert rear["then_kpa"] == direct["axles"][1]["target_kpa"]


def test_what_is_imagined_is_kept_as_worked_out_never_as_weighed(aimed: Fleet) -> None:
    path = f"/rigs/{aimed.rig}/worked-out"
    body = {"load_state": "full tanks", "placed": [put(aimed.rig, "305 kg", 2, label="Tank")]}
    made = aimed.api.ok("POST", path, body)
    assert (made["way"], made["basis"], made["placed"][0]["label"]) == ("worked out", aimed.weighing, "Tank")
    assert made["loads"]["axles"][0]["total_kg"] == pytest.approx(3595)
    assert "was weighed as trip-ready" in aimed.api.no(
        "POST", path, body | {"load_state": "trip-ready"}, 409, "load_state"
    )
    state = LoadState.objects.get(name="full tanks")
    drift = aimed.api.ok("GET", f"/rigs/{aimed.rig}/drift")
    assert drift["due"] is False
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/load-states/{state.pk}/use")
    said = [w["text"] for r in aimed.api.ok("GET", "/yard")["rigs"] for w in (r["words"], *r["more"])]
    assert "full tanks: worked out, not weighed" in said
    # One answer everywhere: 305 kg of 9,960 kg is more than 2 %.
    again = "{0} put aboard since, {1} of what was weighed: weigh again"
    assert again in said
    stage = next(s for s in aimed.api.ok("GET", f"/yard/{aimed.rig}")["stages"] if s["key"] == "weighing")
    assert (stage["state"], stage["words"]["text"]) == ("todo", "worked out 2 months ago, weigh again")
    drift = aimed.api.ok("GET", f"/rigs/{aimed.rig}/drift")
    assert (drift["due"], drift["due_words"]["text"]) == (
        True,
        again,
    )
    # Targets can be put in force for it, and say what they stand on.
    assert aimed.api.ok("POST", f"/rigs/{aimed.rig}/targets", {})["worked_out"] is True


def test_what_is_put_on_top_of_what_was_worked_out_keeps_the_whole_ledger(aimed: Fleet) -> None:
    path = f"/rigs/{aimed.rig}/worked-out"
    aimed.api.ok("POST", path, {"load_state": "one", "placed": [put(aimed.rig, "120 kg", 2, label="Tank")]})
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/load-states/{LoadState.objects.get(name='one').pk}/use")
    made = aimed.api.ok("POST", path, {"load_state": "two", "placed": [put(aimed.rig, "100 kg", 3, label="Crates")]})
    # The scale is still the basis, and both masses stand since it: 220 of 9,960 kg is more than 2 %.
    assert (made["basis"], [p["label"] for p in made["placed"]]) == (aimed.weighing, ["Tank", "Crates"])
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/load-states/{LoadState.objects.get(name='two').pk}/use")
    drift = aimed.api.ok("GET", f"/rigs/{aimed.rig}/drift")
    assert (drift["due"], drift["due_words"]["values"][0]["value"]) == (True, pytest.approx(220))


def test_each_vehicle_counts_what_was_put_into_itself(pair: Pair) -> None:
    fleet, trailer = pair
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", ticket(fleet, load_state="trip-ready"))
    for rig, more in ((fleet.rig, {"hitch_m": "8.1 m"}),):
        now = fleet.api.ok("GET", f"/rigs/{rig}")
        axles = [
            {
                "position_m": a["position_m"],
                "track_m": a["track_m"],
                "tire_size": a["tire_size"],
                "dual": a["wheels"] == 4,
            }
            for a in now["axles"]
        ]
        keep = {k: now[k] for k in ("kind", "name", "fleet_number", "gvwr_kg", "wheelbase_m")}
        fleet.api.ok("PUT", f"/rigs/{rig}", keep | {"axles": axles} | more)
    found = fleet.api.ok("POST", "work/weighing/what-if", {"rig": fleet.rig, "placed": [put(trailer, "100 kg", 0)]})
    # 100 of the trailer's 3,470 kg, not of the coach's 10,010.
    assert (found["added_share"], found["weigh_again"]) == (pytest.approx(100 / 3470), True)


@pytest.mark.parametrize(
    ("item", "field", "words"),
    [
        ({"mass": None}, "placed.0.mass", "either how much"),
        ({"liters": "10 L"}, "placed.0.mass", "either how much"),
        ({"mass": None, "liters": "10 L"}, "placed.0.liters", "Only liquids"),
        ({"mass": "-9000 kg"}, "placed.0.mass", "lift off the ground"),
        ({"rig": 999}, "placed.0.rig", "not part of this combination"),
        ({"x": "60 m"}, "placed.0.x", "above"),
        ({"y": "-3 m"}, "placed.0.y", "below"),
        ({"what": "gold"}, "placed.0.what", "Choose one"),
    ],
)
def test_what_cannot_be_put_aboard(fleet: Fleet, item: dict[str, Any], field: str, words: str) -> None:
    body = {"rig": fleet.rig, "placed": [put(fleet.rig, "10 kg", 2) | item]}
    assert words in fleet.api.no("POST", "work/weighing/what-if", body, 422, field)


def test_nothing_is_put_on_top_of_nothing(api: Api) -> None:
    rig = api.ok("POST", "/rigs", TRAILER)["id"]
    body = {"rig": rig, "placed": [put(rig, "10 kg", 0)]}
    assert "not weighed yet" in api.no("POST", "work/weighing/what-if", body, 422, "weighing")


# -- drift ------------------------------------------------------------------------------------------------


def test_drift_compares_with_the_last_weighing_of_the_same_load_state(fleet: Fleet) -> None:
    later = TICKET | {
        "weighed_on": "2026-11-01",
        "axles": [{"left_kg": 1750, "right_kg": 1720}, {"left_kg": 3200, "right_kg": 3500}],
    }
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", TICKET | {"weighed_on": "2026-10-01", "load_state": "empty"})
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", later)
    found = fleet.api.ok("GET", f"/rigs/{fleet.rig}/drift")
    assert [p["weighed_on"] for p in found["points"]] == ["2026-09-13", "2026-10-01", "2026-11-01"]
    assert found["since"] == "2026-09-13"
    change = {(c["axle"], c["end"]): c["change_kg"] for c in found["changes"]}
    assert change[0, "whole"] == 10_170 - 9960
    assert (change[1, "left"], change[2, "right"]) == (60, 90)
    assert (found["due_on"], found["due"]) == ("2027-11-01", False)


# -- tickets and the simulated scale -------------------------------------------------------------------------


def as_file(rig: int, text: str, encoding: str = "utf-8") -> dict[str, Any]:
    return {"rig": rig, "name": "ticket", "content": base64.b64encode(text.encode(encoding)).decode()}


@pytest.mark.parametrize("kind", ["json_text", "csv_text"])
def test_the_scales_own_ticket_is_read_back(pair: Pair, kind: str) -> None:
    fleet, _ = pair
    asked = {"rig": fleet.rig, "scale": "platform", "way": "left", "with_trailers": True}
    text = fleet.api.ok("POST", "work/weighing/scale-ticket", asked)[kind]
    read = fleet.api.ok("POST", "work/weighing/ticket", as_file(fleet.rig, text))
    # Nothing stood on it: it says so when it is read back, and of this rig there is nothing to check.
    assert (read["made_up"], read["notes"]) == (True, [])
    assert (read["scale"], read["resolution_kg"], read["way"], read["with_trailers"]) == (
        "Simulated platform scale", 20, "left", True,
    )  # fmt: skip
    assert len(read["passes"]) == 10
    body = {"rig": fleet.rig, "way": "left", "with_trailers": True, "resolution_kg": "20 kg"}
    body["passes"] = [
        {"words": p["words"], "on": p["on"], "apart": p["apart"], "kg": p["typed"]} for p in read["passes"]
    ]
    work = fleet.api.ok("POST", "work/weighing", body)
    assert work["axles"][0]["total_kg"] == pytest.approx(3390, abs=20)
    assert work["ticket"]["unknown"] == []


@pytest.mark.parametrize("kind", ["json", "csv"])
def test_a_stored_ticket_is_evidence_in_the_same_form(fleet: Fleet, kind: str) -> None:
    reply = fleet.api.call("GET", f"/rigs/{fleet.rig}/weighings/{fleet.weighing}/ticket.{kind}")
    read = fleet.api.ok("POST", "work/weighing/ticket", as_file(fleet.rig, reply.content.decode()))
    assert [(p["on"], p["typed"]) for p in read["passes"]] == [
        (["0:1L"], "1690 kg"), (["0:1R"], "1700 kg"), (["0:2L"], "3160 kg"), (["0:2R"], "3410 kg"),
    ]  # fmt: skip
    assert read["weighed_on"] == "2026-09-13"


GOOD = {
    "format": "gentle-ballast/scale-ticket", "version": 1, "scale": "S", "resolution": "10 kg", "weighed_on": "2026-09-01",
    "way": "passes", "vehicles": ["Almagest"], "passes": [{"words": "", "on": ["0:1L", "0:1R"], "apart": 0, "weight": "7,475 lb"}],
}  # fmt: skip


def test_a_ticket_in_pounds_stays_in_pounds(fleet: Fleet) -> None:
    read = fleet.api.ok("POST", "work/weighing/ticket", as_file(fleet.rig, json.dumps(GOOD), "utf-16"))
    assert read["passes"][0]["typed"] == "7,475 lb"


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("weighed fine", "lacks the column on"),
        ("[1, 2]", "is not gentle-ballast/scale-ticket"),
        (json.dumps(GOOD)[:-20], "breaks off"),
        ("{'format': 1}", "not JSON in line 1"),
        (json.dumps(GOOD | {"version": 7}), "version"),
        (json.dumps(GOOD | {"passes": []}), "no passes"),
        (json.dumps(GOOD | {"passes": "many"}), "no passes"),
        (
            json.dumps(GOOD | {"passes": [{"on": ["0:1L"], "weight": "heavy"}]}),
            "Pass 1, weight: “heavy” is not a weight",
        ),
        (json.dumps(GOOD | {"passes": [{"on": ["0:8L"], "weight": "10 kg"}]}), "Pass 1: This pass has wheels"),
        (json.dumps(GOOD | {"weighed_on": "yesterday"}), "date or step"),
        ("on,weight,scale\n0:1L,1690 kg,S\n0:1R", "Row 3 breaks off"),
        ("on,weight,scale\n", "no passes"),
    ],
)
def test_what_is_no_ticket(fleet: Fleet, text: str, words: str) -> None:
    assert words in fleet.api.no("POST", "work/weighing/ticket", as_file(fleet.rig, text), 422, "content")


def test_a_ticket_in_another_encoding_or_of_twenty_megabytes(fleet: Fleet) -> None:
    latin = as_file(fleet.rig, json.dumps(GOOD | {"scale": "Tarn Hüllow"}, ensure_ascii=False), "latin-1")
    assert "not in UTF-8" in fleet.api.no("POST", "work/weighing/ticket", latin, 422, "content")
    fleet.api.no("POST", "work/weighing/ticket", {"rig": fleet.rig, "content": "A" * 20_000_000}, 413)


def test_the_simulated_scale_weighs_what_stands_on_it(fleet: Fleet) -> None:
    def shows(**more: Any) -> Any:
        return fleet.api.ok("POST", "work/weighing/scale", {"rig": fleet.rig, "scale": "pads", "on": ["0:2R"], **more})

    assert shows()["kg"] == pytest.approx(3410, abs=10)
    assert shows()["kg"] % 10 == 0
    assert shows()["kg"] == shows()["kg"]
    assert shows(fault="tare drift")["kg"] - shows()["kg"] == 140
    leaning = shows(fault="not level")
    assert (leaning["steady"], leaning["kg"] > 3500) == (False, True)
    assert shows(fault="half off")["kg"] < 2000
    told = fleet.api.no(
        "POST", "work/weighing/scale", {"rig": fleet.rig, "scale": "moon", "on": ["0:2R"]}, 422, "scale"
    )
    assert "no such scale" in told
    fleet.api.no("POST", "work/weighing/scale", {"rig": fleet.rig, "scale": "pads", "on": ["0:7R"]}, 422, "on")


def test_a_drifted_tare_is_found_by_weighing_twice(pair: Pair) -> None:
    fleet, _ = pair
    body = guided(fleet, READ)
    # The coach alone 140 kg too heavy: the two ways to the hitch load differ by 150.
    body["passes"][4]["kg"] = "9940 kg"
    work = fleet.api.ok("POST", "work/weighing", {"rig": fleet.rig, **body})
    assert work["ticket"]["doubt"]
    assert "contradict each other" in work["ticket"]["notes"][0]["text"]


def test_outside_the_demo_no_scale_is_connected(fleet: Fleet, settings: Any) -> None:
    settings.SCALE = "ballast.server.weighing.scale.NoScale"
    assert fleet.api.ok("GET", "/scales") == []
    fleet.api.no("POST", "work/weighing/scale", {"rig": fleet.rig, "scale": "platform", "on": ["0:1L"]}, 422, "scale")


def test_a_weighing_is_never_rewritten(fleet: Fleet) -> None:
    before = Weighing.objects.values().get()
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", TICKET | {"amends": fleet.weighing})
    assert Weighing.objects.filter(pk=fleet.weighing).values().get() == before


# -- what goes along with a ticket ---------------------------------------------------------------------------


def test_what_was_seen_to_before_weighing_stays_with_the_ticket(fleet: Fleet) -> None:
    offered = fleet.api.ok("GET", f"/rigs/{fleet.rig}")["checklist"]
    assert "Fresh water at its usual level" in offered
    saved = fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", TICKET | {"ready": offered[:2]})
    assert saved["ready"] == offered[:2]


def test_the_list_is_each_rigs_own(fleet: Fleet) -> None:
    rig = fleet.api.ok("GET", f"/rigs/{fleet.rig}")
    body = {k: rig[k] for k in ("kind", "name", "fleet_number", "gvwr_kg", "wheelbase_m")} | {
        "checklist": ["Instrument rack bolted"],
        "axles": [
            {
                "position_m": a["position_m"],
                "track_m": a["track_m"],
                "tire_size": a["tire_size"],
                "dual": a["wheels"] == 4,
            }
            for a in rig["axles"]
        ],
    }
    assert fleet.api.ok("PUT", f"/rigs/{fleet.rig}", body)["checklist"] == ["Instrument rack bolted"]
    # Emptied, the usual one of its kind is back.
    assert len(fleet.api.ok("PUT", f"/rigs/{fleet.rig}", body | {"checklist": []})["checklist"]) > 3


def test_a_trailer_by_itself_with_its_hitch_load_as_typed(api: Api) -> None:
    rig = api.ok("POST", "/rigs", TRAILER)["id"]
    body = {
        "load_state": "trip-ready", "weighed_on": "2026-09-01", "scale": "Platform", "bars": "slack", "hitch_kg": "500 lb",
        "axles": [{"whole_kg": "1640 kg"}, {"whole_kg": "1620 kg"}],
    }  # fmt: skip
    saved = api.ok("POST", f"/rigs/{rig}/weighings", body)
    # 500 lb are 226.8 kg: 3,260 + 226.8, and 360 − 226.8 left on the coupling.
    assert saved["hitch_typed"] == "500 lb"
    assert saved["loads"]["total_kg"] == pytest.approx(3486.8, abs=0.01)
    margins = {c["what"]: c["margin_kg"] for c in saved["loads"]["checks"]}
    assert margins["hitch"] == pytest.approx(133.2, abs=0.01)
    unknown = api.ok("POST", "work/weighing", {"rig": rig, "axles": body["axles"]})
    assert unknown["total_kg"] is None


def test_pounds_and_kilograms_give_the_same_margins_on_the_wire(fleet: Fleet) -> None:
    def margins(unit: str, factor: float) -> list[float]:
        axles = [
            {"left_kg": f"{left / factor:.6f} {unit}", "right_kg": f"{right / factor:.6f} {unit}"}
            for left, right in ((1690, 1700), (3160, 3410))
        ]
        work = fleet.api.ok("POST", "work/weighing", {"rig": fleet.rig, "axles": axles})
        return [c["margin_kg"] for a in work["axles"] for c in a["checks"]]

    assert margins("lb", 0.45359237) == pytest.approx(margins("kg", 1.0), abs=1e-3)


def test_what_a_simulated_scale_said_stays_made_up_and_another_rigs_ticket_is_said(fleet: Fleet) -> None:
    saved = fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", {**TICKET, "made_up": True})
    assert saved["made_up"] is True
    (line,) = fleet.api.ok("GET", "/yard")["rigs"]
    assert "Weighed by a simulated scale: made up, not for the road" in [
        w["text"] for w in (line["words"], *line["more"])
    ]
    text = fleet.api.call("GET", f"/rigs/{fleet.rig}/weighings/{saved['id']}/ticket.csv").content.decode()
    name = fleet.api.ok("GET", f"/rigs/{fleet.rig}")["name"]
    read = fleet.api.ok("POST", "work/weighing/ticket", as_file(fleet.rig, text.replace(name, "Other rig")))
    assert read["made_up"] is True
    assert read["notes"] == [f"The ticket is of Other rig; this is {name}. Save it only if these wheels stood there."]


def test_a_place_that_is_not_on_the_rig_is_refused(aimed: Fleet) -> None:
    far = {"rig": aimed.rig, "placed": [put(aimed.rig, "100 kg", 20)]}
    no = aimed.api.no("POST", "work/weighing/what-if", far, 422, "placed.0.x")
    assert "is not on" in no
    aimed.api.ok("POST", "work/weighing/what-if", far | {"placed": [put(aimed.rig, "100 kg", 3)]})


def test_an_odometer_never_runs_backwards_without_a_word(aimed: Fleet) -> None:
    api, rig = aimed.api, aimed.rig
    body = {"wheel": "1L", "new": {}, "fitted_on": "2026-09-20", "odometer": "234000 km"}
    assert api.call("POST", f"/rigs/{rig}/fittings", body).status_code == 204
    later = {"wheel": "1R", "new": {}, "fitted_on": "2026-09-25", "odometer": "1280 km"}
    no = api.no("POST", f"/rigs/{rig}/fittings", later, 422, "odometer")
    assert no.startswith("The odometer stood at 234,000 km (145,401 mi) on Sep 20, 2026; this is less than that.")
    api.no("POST", f"/rigs/{rig}/torques", {"done_on": "2026-09-25", "odometer": "1280 km"}, 422, "odometer")
    api.no("POST", f"/rigs/{rig}/rounds", aimed.conditions(odometer="1280 km"), 422, "odometer")
    # A sheet of an earlier day may say less, and not more.
    early = {**TICKET, "weighed_on": "2026-09-10"}
    api.no("POST", f"/rigs/{rig}/weighings", {**early, "odometer": "234100 km"}, 422, "odometer")
    api.ok("POST", f"/rigs/{rig}/weighings", {**early, "odometer": "233900 km"})
    assert api.ok("GET", f"/rigs/{rig}/tires")["odometer_km"] == 234_000
    # Another odometer was put in: corrected, and it goes on from there.
    assert api.call("PUT", f"/rigs/{rig}/odometer", {"odometer": "1280 km"}).status_code == 204
    assert api.call("POST", f"/rigs/{rig}/torques", {"done_on": "2026-12-31", "odometer": "1 km"}).status_code == 422
    tires = api.ok("GET", f"/rigs/{rig}/tires")
    assert tires["odometer_km"] == 1280
    assert tires["retorque"]["text"].startswith("A wheel was off at {0}, and the odometer shows less since")
    today = timezone.now().date().isoformat()
    assert api.call("POST", f"/rigs/{rig}/torques", {"done_on": today, "odometer": "1290 km"}).status_code == 204
    assert api.ok("GET", f"/rigs/{rig}/tires")["retorque"] is None
