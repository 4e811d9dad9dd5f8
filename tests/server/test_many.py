"""Many rigs at once: tags, views of one's own, archived together, and the whole filtered list as a file."""

from collections.abc import Callable
from typing import Any

import pytest

from ballast.server.rigs.models import Tag
from ballast.server.rounds.models import Round
from tests.server.conftest import COACH, Api, Fleet

As = Callable[[str], Api]


@pytest.fixture
def three(aimed: Fleet) -> list[int]:
    more = [aimed.api.ok("POST", "/rigs", COACH | {"name": f"Bus {n}", "fleet_number": f"B-{n}"})["id"] for n in (1, 2)]
    return [aimed.rig, *more]


def ids(api: Api, asked: str) -> list[int]:
    return sorted(r["id"] for r in api.ok("GET", f"/yard?{asked}")["rigs"])


def test_a_tag_is_put_on_many_and_taken_back(aimed: Fleet, three: list[int], stranger: Api) -> None:
    first = aimed.api.ok("POST", "/tags", {"name": "North depot", "rigs": three[:1]})
    assert first == {"changed": three[:1], "not_done": []}
    again = aimed.api.ok("POST", "/tags", {"name": "north depot", "rigs": three})
    assert sorted(again["changed"]) == three[1:]
    (tag,) = aimed.api.ok("GET", "/tags")
    assert (tag["name"], tag["rigs"]) == ("North depot", 3)
    assert ids(aimed.api, f"tags={tag['id']}") == three
    # Taken back by the opposite, done to what was changed.
    aimed.api.ok("POST", "/tags", {"name": "North depot", "rigs": again["changed"], "on": False})
    assert ids(aimed.api, f"tags={tag['id']}") == three[:1]
    assert aimed.api.ok("GET", f"/yard?tags={tag['id']}")["found"] == 1
    aimed.api.ok("POST", "/tags", {"name": "Leased", "rigs": three})
    both = "&".join(f"tags={t['id']}" for t in aimed.api.ok("GET", "/tags"))
    assert ids(aimed.api, both) == three[:1]
    aimed.api.ok("POST", "/tags", {"name": "North depot", "rigs": three, "on": False})
    assert [t["name"] for t in aimed.api.ok("GET", "/tags")] == ["Leased"]
    assert stranger.ok("GET", "/tags") == []
    assert stranger.no("POST", "/tags", {"name": "X", "rigs": three}, 422, "rigs")
    assert Tag.objects.count() == 1


def test_many_are_archived_and_brought_back_and_what_cannot_be_is_told(aimed: Fleet, three: list[int]) -> None:
    trailer = {"kind": "trailer", "name": "Wren", "fleet_number": "T-1", "axles": [{**COACH["axles"][0]}]}
    behind = aimed.api.ok("POST", "/rigs", trailer)["id"]
    aimed.api.ok("PUT", f"/rigs/{behind}/hitch", {"behind": aimed.rig})
    done = aimed.api.ok("POST", "/archived", {"rigs": three})
    assert sorted(done["changed"]) == three[1:]
    assert [(n["rig"], n["words"]) for n in done["not_done"]] == [
        (aimed.rig, "It is hitched. Unhitch it first, then archive it.")
    ]
    assert ids(aimed.api, "") == sorted([aimed.rig, behind])
    back = aimed.api.ok("POST", "/archived", {"rigs": done["changed"], "archived": False})
    assert sorted(back["changed"]) == three[1:]
    assert len(ids(aimed.api, "")) == 4


def test_many_are_checked_every_so_many_days_and_that_is_taken_back(
    aimed: Fleet, three: list[int], stranger: Api
) -> None:
    def days() -> list[int]:
        return [aimed.api.ok("GET", f"/rigs/{rig}/policy")["check_days"] for rig in three]

    first = aimed.api.ok("POST", "/check-days", {"rigs": three[:2], "days": 3})
    assert [(w["days"], sorted(w["rigs"])) for w in first["were"]] == [(None, three[:2])]
    second = aimed.api.ok("POST", "/check-days", {"rigs": three, "days": 14})
    assert sorted((w["days"] or 0, sorted(w["rigs"])) for w in second["were"]) == [(0, three[2:]), (3, three[:2])]
    assert days() == [14, 14, 14]
    # From the next round on.
    aimed.open_round()
    assert Round.objects.get().check_days == 14
    for was in second["were"]:
        aimed.api.ok("POST", "/check-days", {"rigs": was["rigs"], "days": was["days"]})
    assert days() == [3, 3, 7]
    # What all have is nobody's own: it goes with the workspace from then on.
    (was,) = aimed.api.ok("POST", "/check-days", {"rigs": three, "days": 7})["were"]
    assert (was["days"], sorted(was["rigs"])) == (3, three[:2])
    assert aimed.api.ok("GET", f"/rigs/{three[0]}/policy")["own"] == []
    assert aimed.api.ok("POST", "/check-days", {"rigs": three})["were"] == []
    assert "1 to 31" in aimed.api.no("POST", "/check-days", {"rigs": three, "days": 40}, 422, "days")
    assert stranger.no("POST", "/check-days", {"rigs": three, "days": 3}, 422, "rigs")


def test_a_view_is_ones_own_and_is_kept_under_a_name(api: Api, api_as: As) -> None:
    api.ok("POST", "/views", {"name": "Mondays", "query": "lines=round&sort=number"})
    (view,) = api.ok("POST", "/views", {"name": "Mondays", "query": "lines=round"})
    assert view["query"] == "lines=round"
    assert api_as("technician").ok("GET", "/views") == []
    assert api_as("technician").call("DELETE", f"/views/{view['id']}").status_code == 404
    assert api.ok("DELETE", f"/views/{view['id']}") == []


def test_the_whole_filtered_list_is_a_file(aimed: Fleet, three: list[int]) -> None:
    def rows(asked: str) -> list[str]:
        reply: Any = aimed.api.call("GET", f"/yard/rigs.csv?{asked}")
        return b"".join(reply.streaming_content).decode().splitlines()

    assert rows("")[0].startswith("rig,kind,state,says,also")
    assert [r.split(",")[0] for r in rows("sort=number")[1:]] == ["B-1 Bus 1", "B-2 Bus 2", "CF-01 Almagest"]
    assert rows("find=almagest")[1].split(",")[:4] == ["CF-01 Almagest", "Coach", "todo", '"Round due']
    assert sorted(aimed.api.ok("GET", "/yard/all")) == three
    assert aimed.api.ok("GET", "/yard/all?find=bus") == three[1:]


def test_what_is_answered_is_kept_nowhere(api: Api) -> None:
    assert api.call("GET", "/yard")["Cache-Control"] == "no-store"
    assert api.call("GET", "/session")["Cache-Control"] == "no-store"
