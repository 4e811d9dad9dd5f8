import datetime as dt
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from ballast.demo.clock import at
from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import Person, Workspace
from ballast.server.yard import morning, services
from ballast.server.yard.schemas import MorningIn, YardIn
from tests.server.conftest import COACH, TICKET, Api, Fleet
from tests.server.test_rounds import read_all


def line(fleet: Fleet) -> Any:
    return fleet.api.ok("GET", "/yard")["rigs"][0]


def said(fleet: Fleet) -> list[str]:
    found = line(fleet)
    return [found["words"]["text"], *(m["text"] for m in found["more"])]


def recent(fleet: Fleet) -> None:
    """Weighs the rig today, so that the tests do not age."""
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/weighings", TICKET | {"weighed_on": timezone.now().date().isoformat()})
    fleet.targets()


def sealed_round(fleet: Fleet, **wrong: float) -> None:
    round_id = fleet.open_round()["id"]
    read_all(fleet, round_id)
    for code, kpa in wrong.items():
        fleet.read(round_id, code, kpa)
    fleet.api.ok("POST", f"/rounds/{round_id}/seal", {})


def test_an_empty_yard(api: Api) -> None:
    assert api.ok("GET", "/yard") == {
        "rigs": [],
        "page": 50,
        "prints": 50,
        "lines": [],
        "found": 0,
        "total": 0,
        "asking": 0,
        "anew": 0,
        "unassigned": 0,
        "archived": 0,
    }


def test_a_new_rig_asks_to_be_weighed_then_for_a_target_then_for_a_round(api: Api, fleet: Fleet) -> None:
    assert said(fleet)[0] == "No target in force"
    recent(fleet)
    assert said(fleet) == ["Round due, never done"]
    sealed_round(fleet)
    found = line(fleet)
    assert (found["state"], found["words"]["text"]) == ("fine", "All hold, read today")
    assert [t["word"] for t in found["tires"]] == ["hold"] * 7


def test_what_the_last_round_left_is_the_first_thing_said(fleet: Fleet) -> None:
    recent(fleet)
    sealed_round(fleet, **{"2Ri": 640, "2Li": 500})
    found = line(fleet)
    assert found["state"] == "attention"
    # The mate of a stopped dual carried the load of both: it is stopped with it.
    assert said(fleet) == [
        "Stop: inspect {0} tires", "Add air to {0} tire", "2Lo locked until inspected", "2Li locked until inspected",
    ]  # fmt: skip


def test_a_week_later_a_round_is_due_a_year_later_a_weighing(fleet: Fleet, people: dict[str, Person]) -> None:
    recent(fleet)
    sealed_round(fleet)
    actor = Actor(people["manager"], Workspace.objects.get(name="Ours"), "manager")
    found = {}
    for days in (6, 8, 366):
        with at(timezone.now() + dt.timedelta(days=days)):
            found[days] = [m.text for r in services.yard(actor, YardIn()).rigs for m in (r.words, *r.more)]
    assert found[6] == ["All hold, read 6 days ago"]
    assert found[8] == ["Round due, last 8 days ago"]
    assert found[366] == [
        "Weighed 12 months ago: weigh again", "Round due, last 12 months ago", "Read with G1, to be compared by Sep 1, 2027",
    ]  # fmt: skip


def test_a_rig_laid_up_rests_and_asks_for_a_round_before_it_rolls(fleet: Fleet, people: dict[str, Person]) -> None:
    recent(fleet)
    sealed_round(fleet)
    today = timezone.now().date()
    until = today + dt.timedelta(days=60)
    path = f"/rigs/{fleet.rig}/laid-up"
    # The lowest ceiling of its tires is 110 psi, 758 kPa.
    above = {"until": until.isoformat(), "kept": "120 psi"}
    assert "above its ceiling" in fleet.api.no("PUT", path, above, 422, "kept")
    fleet.api.ok("PUT", path, {"until": until.isoformat(), "kept": "100 psi", "why": "winter"})
    assert line(fleet)["words"]["text"].startswith("Laid up until ")
    assert line(fleet)["state"] == "quiet"
    assert line(fleet)["next_check_on"] == until.isoformat()
    sheet = fleet.api.ok("GET", f"/yard/{fleet.rig}")["laid_up"]
    assert (sheet["kept_kpa"], sheet["why"], sheet["resting"]) == (pytest.approx(689.5, abs=0.1), "winter", True)
    actor = Actor(people["manager"], Workspace.objects.get(name="Ours"), "manager")
    found = {}
    for days in (30, 60):
        with at(timezone.now() + dt.timedelta(days=days)):
            found[days] = [m.text for r in services.yard(actor, YardIn()).rigs for m in (r.words, *r.more)]
            # Nothing is foretold of it while it rests.
            assert morning.morning(actor, MorningIn()).rigs[0].resting is (days == 30)
    assert len(found[30]) == 1
    assert found[60][0].endswith("(it was kept at {0}): read every tire before it rolls")
    # Laid up today: taken back it is as if it had not been.
    fleet.api.ok("DELETE", path)
    assert line(fleet)["words"]["text"] == "All hold, read today"
    assert fleet.api.no("DELETE", path, None, 409) == "It is not laid up."
    told = [c["what"] for c in fleet.api.ok("GET", f"/rigs/{fleet.rig}/history")]
    assert told.count("kept at") == 2


def test_an_open_round_is_said(aimed: Fleet) -> None:
    aimed.open_round()
    assert "A round is open" in said(aimed)
    assert line(aimed)["round_open"] is True


def test_the_most_urgent_comes_first(fleet: Fleet) -> None:
    recent(fleet)
    sealed_round(fleet)
    late = fleet.api.ok("POST", "/rigs", COACH | {"fleet_number": "CF-02", "name": "Second"})
    assert [r["id"] for r in fleet.api.ok("GET", "/yard")["rigs"]] == [late["id"], fleet.rig]


def test_the_number_of_queries_does_not_grow_with_the_rigs(fleet: Fleet, django_assert_max_num_queries: Any) -> None:
    recent(fleet)
    sealed_round(fleet)
    with CaptureQueriesContext(connection) as one:
        fleet.api.ok("GET", "/yard")
    anew = len(one)
    for i in range(12):
        rig = fleet.api.ok("POST", "/rigs", COACH | {"fleet_number": f"X{i}"})["id"]
        fleet.api.ok("POST", f"/rigs/{rig}/weighings", TICKET)
        fleet.api.ok("POST", f"/rigs/{rig}/targets", {})
    with django_assert_max_num_queries(anew):
        assert len(fleet.api.ok("GET", "/yard")["rigs"]) == 13
    # Worked out before, it takes the page, what is old, the counts and the archived beside session, person and membership.
    with django_assert_max_num_queries(7):
        assert len(fleet.api.ok("GET", "/yard")["rigs"]) == 13


def test_the_sheet_of_a_rig_takes_few_queries_and_no_more_with_history(
    fleet: Fleet, django_assert_max_num_queries: Any
) -> None:
    recent(fleet)
    for _ in range(3):
        sealed_round(fleet)
    # Session, person and membership besides the sheet's eleven.
    with django_assert_max_num_queries(14):
        sheet = fleet.api.ok("GET", f"/yard/{fleet.rig}")
    assert [s["key"] for s in sheet["stages"]] == ["rig", "weighing", "targets", "air", "rounds", "lookback", "ground"]


def stages(fleet: Fleet) -> dict[str, tuple[str, str]]:
    return {s["key"]: (s["state"], s["words"]["text"]) for s in fleet.api.ok("GET", f"/yard/{fleet.rig}")["stages"]}


def test_the_work_line_tells_each_stage_in_a_few_words(api: Api) -> None:
    rig = api.ok("POST", "/rigs", COACH)["id"]
    fleet = Fleet(api, rig, 0, 0, 0)
    assert stages(fleet) == {
        "rig": ("fine", "2 axles, 7 tires"),
        "weighing": ("todo", "not weighed"),
        "targets": ("quiet", "none in force"),
        "air": ("quiet", "not set"),
        "rounds": ("quiet", "never done"),
        "lookback": ("quiet", "nothing sealed yet"),
        "ground": ("quiet", "on the road"),
    }


def test_the_work_line_once_all_is_done(fleet: Fleet) -> None:
    recent(fleet)
    fleet.api.ok("PUT", f"/rigs/{fleet.rig}/air", {"place_key": "still-water"})
    sealed_round(fleet)
    assert stages(fleet) == {
        "rig": ("fine", "2 axles, 7 tires"),
        "weighing": ("fine", "weighed today"),
        "targets": ("fine", "{0}, {1}"),
        "air": ("fine", "the dawns hold the floor"),
        "rounds": ("fine", "done today"),
        "lookback": ("quiet", "all hold"),
        "ground": ("quiet", "on the road"),
    }


@pytest.mark.parametrize(
    "path", ["/yard/999999", "/yard/99999999999999999999999", "/rigs/0", "/rounds/-1", "/lookback/424242"]
)
def test_what_does_not_exist_is_404_in_words(api: Api, path: str) -> None:
    assert "in this workspace" in api.no("GET", path, None, 404)
