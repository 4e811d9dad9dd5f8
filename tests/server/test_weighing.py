import copy
from typing import Any

import pytest

from ballast.server.weighing.models import AxleWeight, Weighing
from tests.server.conftest import TICKET, Fleet


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
        (ticket({"whole_kg": 3000}, scale=""), "scale", "at least 1"),
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
