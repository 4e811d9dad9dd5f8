import copy
from typing import Any

import pytest

from ballast.server.weighing.models import AxleWeight, Weighing
from tests.server.conftest import TICKET, Api, Fleet


def ticket(*axles: dict[str, Any], **more: Any) -> dict[str, Any]:
    return TICKET | {"axles": list(axles)} | more


def test_loads_and_margins_while_typing(fleet: Fleet) -> None:
    loads = fleet.api.ok("POST", "work/weighing", {"rig": fleet.rig, "axles": TICKET["axles"]})
    rear = loads["axles"][1]
    assert (rear["per_tire_kg"], rear["heavier"], rear["assumed"]) == (1705, "right", False)
    assert {c["what"]: c["margin_kg"] for c in rear["checks"]} == {"gawr": 1030, "left tires": 960, "right tires": 710}
    assert loads["total_kg"] == 9960
    assert loads["checks"][0]["margin_kg"] == 1840
    assert loads["over"] == []
    assert loads["caution"] == ""
    assert Weighing.objects.count() == 1


def test_half_typed_tickets_are_answered_too(fleet: Fleet) -> None:
    loads = fleet.api.ok("POST", "work/weighing", {"rig": fleet.rig, "axles": [{"left_kg": "3,700 lb"}]})
    assert loads["axles"][0]["total_kg"] is None
    assert loads["axles"][1]["total_kg"] is None
    assert loads["total_kg"] is None


def test_over_is_said_as_over_with_its_caution(fleet: Fleet) -> None:
    body = {"rig": fleet.rig, "axles": [{"whole_kg": 4300}, {"whole_kg": 7601}]}
    loads = fleet.api.ok("POST", "work/weighing", body)
    said = [o["text"] for o in loads["over"]]
    assert len(said) == 4  # gross, both axles, and the front tires at 52.5 %
    assert said[0].startswith("Gross weight rating: over by")
    assert "uninsured" in loads["caution"]


def test_what_was_typed_is_kept_as_typed(fleet: Fleet) -> None:
    fleet.api.ok(
        "POST",
        f"/rigs/{fleet.rig}/weighings",
        ticket({"whole_kg": "7,474 lb"}, {"left_kg": "3.16 t", "right_kg": 3410}),
    )
    front, rear = AxleWeight.objects.filter(weighing__id=Weighing.objects.latest("id").pk)
    assert front.whole_kg == pytest.approx(3390.15, abs=0.01)
    assert front.typed == {"whole_kg": "7,474 lb"}
    assert rear.typed == {"left_kg": "3.16 t", "right_kg": "3410 kg"}
    assert front.left_kg is None


@pytest.mark.parametrize(
    ("body", "field", "words"),
    [
        (ticket({"left_kg": -1}), "axles.0.left_kg", "below"),
        (ticket({"left_kg": "lots"}), "axles.0.left_kg", "not a weight"),
        (ticket({"whole_kg": 0}), "axles.0.whole_kg", "more than nothing"),
        (ticket({}), "axles.0.whole_kg", "Nothing is weighed"),
        (ticket(), "axles.0.whole_kg", "Nothing is weighed"),
        (ticket({}, {}, {"whole_kg": 3000}), "axles.2", "has 2 axles"),
        (ticket({"whole_kg": 3000, "left_kg": 3100}), "axles.0.left_kg", "heavier than its whole axle"),
        (ticket({"whole_kg": 3000, "left_kg": 1000, "right_kg": 1000}), "axles.0.whole_kg", "should agree"),
        (ticket({"whole_kg": 3000}, weighed_on="2199-01-01"), "weighed_on", "future"),
        (ticket({"whole_kg": 3000}, weighed_on="last week"), "weighed_on", "year-month-day"),
        (ticket({"whole_kg": 3000}, weighed_on="1066-10-14"), "weighed_on", "before 1990"),
        (ticket({"whole_kg": 3000}, load_state=""), "load_state", "at least 1"),
        (ticket({"whole_kg": 3000}, resolution_kg="900 kg"), "resolution_kg", "above"),
    ],
)
def test_what_a_ticket_cannot_say(fleet: Fleet, body: dict[str, Any], field: str, words: str) -> None:
    assert words in fleet.api.no("POST", f"/rigs/{fleet.rig}/weighings", body, 422, field)
    assert Weighing.objects.count() == 1


def test_an_amendment_names_the_old_and_takes_its_place(fleet: Fleet) -> None:
    better = copy.deepcopy(TICKET) | {"amends": fleet.weighing}
    better["axles"][0]["left_kg"] = "1700 kg"
    made = fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", better)
    newest, old = fleet.api.ok("GET", f"/rigs/{fleet.rig}/weighings")
    assert (newest["id"], newest["amended"]) == (made["id"], False)
    assert (old["id"], old["amended"]) == (fleet.weighing, True)
    assert old["loads"]["axles"][0]["left_kg"] == 1690
    assert "amended already" in fleet.api.no("POST", f"/rigs/{fleet.rig}/weighings", better, 409, "amends")
    assert fleet.api.ok("GET", f"/yard/{fleet.rig}")["weighing"]["id"] == made["id"]


def test_an_old_weighing_entered_late_is_not_the_one_in_force(fleet: Fleet) -> None:
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", ticket({"whole_kg": 3000}, weighed_on="2025-01-01"))
    assert fleet.api.ok("GET", f"/yard/{fleet.rig}")["weighing"]["id"] == fleet.weighing


def test_a_ticket_of_three_numbers_for_five_axles_and_its_gross(api: Api) -> None:
    drive = {"tire_size": "295/75R22.5 144/141L", "dual": True, "gawr_kg": "9100 kg"}
    tractor = api.ok(
        "POST", "/rigs", {"kind": "tractor", "name": "Umbra", "axles": [drive | {"dual": False}, drive, drive]}
    )
    trailer = api.ok("POST", "/rigs", {"kind": "semitrailer", "name": "Penumbra", "axles": [drive, drive]})
    api.ok("PUT", f"/rigs/{trailer['id']}/hitch", {"behind": tractor["id"]})
    sheet = api.ok("GET", f"/yard/{tractor['id']}")
    assert [v["together"] for v in sheet["train"]] == [
        [{"numbers": [2, 3], "name": "drive axles"}], [{"numbers": [1, 2], "name": "all its axles"}],
    ]  # fmt: skip
    body = {
        "load_state": "trip-ready", "weighed_on": "2026-09-13", "with_trailers": True, "gross_kg": "35100 kg",
        "axles": [{"whole_kg": "5100 kg"}], "together": [{"axles": [2, 3], "kg": "15200 kg"}],
        "behind": [{"together": [{"axles": [1, 2], "kg": "14800 kg"}]}],
    }  # fmt: skip
    made = api.ok("POST", f"/rigs/{tractor['id']}/weighings", body)
    assert (made["scale"], made["gross_typed"]) == ("entered by hand", "35100 kg")
    assert made["together"] == [{"axles": [2, 3], "typed": "15200 kg"}]
    assert [a["total_kg"] for a in made["loads"]["axles"]] == [5100, 7600, 7600]
    assert (made["loads"]["combined_kg"], made["loads"]["over"]) == (35_100, [])
    behind = api.ok("GET", f"/rigs/{trailer['id']}/weighings")[0]
    assert [a["total_kg"] for a in behind["loads"]["axles"]] == [7400, 7400]
    assert behind["hitched"] == "behind Umbra"
    no = api.no("POST", f"/rigs/{tractor['id']}/weighings", body | {"gross_kg": "36000 kg"}, 422, "gross_kg")
    assert "The rows make 35,100 kg" in no
    wrong = body | {"behind": [{"together": [{"axles": [1, 3], "kg": "14800 kg"}]}]}
    assert "has no axle 3" in api.no(
        "POST", f"/rigs/{tractor['id']}/weighings", wrong, 422, "behind.0.together.0.axles"
    )
    many = body | {"behind": [{}, {}]}
    assert "more vehicles than are hitched" in api.no(
        "POST", "work/weighing", many_work(many, tractor["id"]), 422, "behind.1"
    )


def many_work(body: dict[str, Any], rig: int) -> dict[str, Any]:
    """What is asked while it is typed: the ticket without its head."""
    return {k: v for k, v in body.items() if k not in ("load_state", "weighed_on")} | {"rig": rig}


def test_the_gross_alone_is_kept_and_judged(fleet: Fleet) -> None:
    body = {"load_state": "trip-ready", "weighed_on": "2026-11-01", "gross_kg": "11900 kg"}
    nothing = body | {"gross_kg": "0 kg"}
    assert "more than nothing" in fleet.api.no("POST", f"/rigs/{fleet.rig}/weighings", nothing, 422, "gross_kg")
    made = fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", body)
    assert made["loads"]["total_kg"] == 11_900
    assert [a["per_tire_kg"] for a in made["loads"]["axles"]] == [None, None]
    # GVWR 11,800 kg: over, by 100 kg.
    assert [(c["what"], c["margin_kg"]) for c in made["loads"]["checks"]] == [("gvwr", -100)]
    again = next(w for w in fleet.api.ok("GET", f"/rigs/{fleet.rig}/weighings") if w["id"] == made["id"])
    assert again["loads"]["total_kg"] == 11_900
    assert "Gross" in fleet.api.call("GET", f"/rigs/{fleet.rig}/weighings/{made['id']}/ticket.csv").content.decode()
