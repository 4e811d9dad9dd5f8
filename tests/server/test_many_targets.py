"""The targets of many rigs put in force at once where nothing contradicts: told before, and taken back."""

from dataclasses import replace
from typing import Any
from uuid import uuid4

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from ballast.server.accounts.models import Person
from ballast.server.tables.models import Table
from ballast.server.targets.models import TargetSet
from ballast.server.weighing.models import Weighing
from tests.server.conftest import COACH, TICKET, Api, Fleet
from tests.server.test_overtaken import said, sealed_good

# The fixture's coach by hand: 90 psi in front, 100 psi in the rear.
FRONT, REAR = 620.5282, 689.4757


def another(fleet: Fleet, name: str, **more: Any) -> Fleet:
    made = replace(fleet, rig=fleet.api.ok("POST", "/rigs", COACH | {"name": name, "fleet_number": name} | more)["id"])
    made.api.ok("POST", f"/rigs/{made.rig}/weighings", TICKET)
    return made


def look(fleet: Fleet, *which: int) -> Any:
    return fleet.api.ok("POST", "work/targets/many", {"rigs": which})


def put(fleet: Fleet, looked: Any) -> Any:
    rigs = [
        {"rig": r["rig"], "uuid": str(uuid4()), "told_kpa": [a["target_kpa"] or 0 for a in r["axles"]]}
        for r in looked["rigs"]
    ]
    done = fleet.api.ok("POST", "/targets/many", {"rigs": rigs})
    # Sent again, as when the answer was lost, it is done once.
    assert fleet.api.ok("POST", "/targets/many", {"rigs": rigs}) == done
    return done


def in_force(fleet: Fleet) -> Any:
    found = [s for s in fleet.api.ok("GET", f"/rigs/{fleet.rig}/targets") if s["withdrawn_at"] is None]
    return pytest.approx([a["target_kpa"] for a in found[0]["axles"]], abs=1e-3) if found else None


@pytest.fixture(autouse=True)
def checked(aimed: Fleet, people: dict[str, Person]) -> None:
    Table.objects.update(checked_by=people["technician"])


def test_what_is_told_is_put_in_force_and_taken_back(aimed: Fleet) -> None:
    new = another(aimed, "B 1")
    told = look(aimed, aimed.rig, new.rig)
    # The first has what it would get.
    assert told["fits"] == 1
    (rig,) = told["rigs"]
    assert (rig["rig"], rig["words"]) == (new.rig, None)
    assert [a["now_kpa"] for a in rig["axles"]] == [None, None]
    assert [a["target_kpa"] for a in rig["axles"]] == pytest.approx([FRONT, REAR], abs=1e-3)
    # What is shown is never rounded past the sidewall's 760 kPa.
    assert [(a["now_ceiling_kpa"], a["ceiling_kpa"]) for a in rig["axles"]] == [(None, 760), (None, 760)]
    assert in_force(new) is None
    done = put(aimed, told)
    assert (len(done["sets"]), done["not_done"]) == (1, [])
    assert in_force(new) == [FRONT, REAR]
    assert aimed.api.ok("POST", "/targets/withdrawn", {"sets": done["sets"]}) == {"withdrawn": 1}
    assert in_force(new) is None
    # It stays readable, marked, and is taken back once.
    (kept,) = aimed.api.ok("GET", f"/rigs/{new.rig}/targets")
    assert kept["withdrawn_at"] is not None
    assert aimed.api.ok("POST", "/targets/withdrawn", {"sets": done["sets"]}) == {"withdrawn": 0}


def test_what_was_before_is_in_force_again_and_the_round_counts_again(aimed: Fleet) -> None:
    sealed_good(aimed)
    assert said(aimed) == ("fine", ["All hold, read today"])
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/policy", {"reserve": 0.25})
    told = look(aimed, aimed.rig)
    now, then = ([a[of] for a in told["rigs"][0]["axles"]] for of in ("now_kpa", "target_kpa"))
    assert now == pytest.approx([FRONT, REAR], abs=1e-3)
    assert [a["now_ceiling_kpa"] for a in told["rigs"][0]["axles"]] == [760, 760]
    assert all(t > n for t, n in zip(then, now, strict=True))
    done = put(aimed, told)
    assert "Round due: another target at 1L, 2Lo, 2Li, 2Ro, 2Ri, 1R since the last, today" in said(aimed)[1]
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/policy", {"reserve": None})
    aimed.api.ok("POST", "/targets/withdrawn", {"sets": done["sets"]})
    assert in_force(aimed) == [FRONT, REAR]
    assert said(aimed) == ("fine", ["All hold, read today"])


def test_what_contradicts_is_told_and_left_as_it_is(aimed: Fleet) -> None:
    heavy, own, bare = another(aimed, "B 1"), another(aimed, "B 2"), another(aimed, "B 3")
    Weighing.objects.filter(rig=bare.rig).delete()
    heavy.api.ok(
        "POST", f"/rigs/{heavy.rig}/weighings",
        TICKET | {"weighed_on": "2026-10-01", "axles": [{"left_kg": "4690 kg", "right_kg": "1700 kg"}, TICKET["axles"][1]]},
    )  # fmt: skip
    own.api.ok("POST", f"/rigs/{own.rig}/targets", {"own": ["700 kPa", None]})
    own.api.ok("PUT", f"/rigs/{own.rig}/policy", {"reserve": 0.25})
    told = look(aimed, heavy.rig, own.rig, bare.rig)
    words = {r["rig"]: r["words"]["text"] for r in told["rigs"]}
    assert words[heavy.rig] == "It is over a rating: take load off, and weigh it again."
    assert words[own.rig] == "Front: somebody chose for it what is in force. Look at it there."
    assert words[bare.rig].startswith("Front: ")
    done = put(aimed, told)
    assert done["sets"] == []
    assert {n["name"] for n in done["not_done"]} == {"B 1 B 1", "B 2 B 2", "B 3 B 3"}
    assert TargetSet.objects.filter(rig__in=[heavy.rig, bare.rig]).count() == 0


def test_a_table_that_nobody_has_checked_is_looked_at_first(aimed: Fleet) -> None:
    new = another(aimed, "B 1")
    Table.objects.update(checked_by=None)
    (rig,) = look(aimed, new.rig)["rigs"]
    assert rig["words"]["text"] == "Nobody has checked its table: have it read against its source first."


def test_others_than_were_told_are_not_put_in_force(aimed: Fleet) -> None:
    new = another(aimed, "B 1")
    told = look(aimed, new.rig)
    new.api.ok("PUT", f"/rigs/{new.rig}/policy", {"reserve": 0.25})
    done = put(aimed, told)
    assert (done["sets"], [n["words"] for n in done["not_done"]]) == (
        [], ["Its targets are others by now: look at them again."],
    )  # fmt: skip
    assert in_force(new) is None


def test_after_others_were_put_in_force_nothing_is_taken_back(aimed: Fleet) -> None:
    new = another(aimed, "B 1")
    done = put(aimed, look(aimed, new.rig))
    new.api.ok("POST", f"/rigs/{new.rig}/targets", {"own": ["700 kPa", None]})
    assert aimed.api.ok("POST", "/targets/withdrawn", {"sets": done["sets"]}) == {"withdrawn": 0}
    assert in_force(new) == [700.0, REAR]


def test_however_many_are_looked_at_it_is_asked_as_often(aimed: Fleet) -> None:
    def asked(*which: int) -> int:
        with CaptureQueriesContext(connection) as queries:
            look(aimed, *which)
        return len(queries)

    one = another(aimed, "B 1")
    asked(aimed.rig)
    few = asked(aimed.rig, one.rig)
    more = [another(aimed, f"C {n}").rig for n in range(3)]
    assert asked(aimed.rig, one.rig, *more) == few


def test_each_is_sent_once_and_under_its_own_uuid(aimed: Fleet) -> None:
    first, second = another(aimed, "B 1"), another(aimed, "B 2")
    sent = [{"rig": f.rig, "uuid": str(uuid4()), "told_kpa": [FRONT, REAR]} for f in (first, second)]
    for twice in ([sent[0], sent[0]], [sent[0], sent[1] | {"uuid": sent[0]["uuid"]}]):
        assert "stands twice" in aimed.api.no("POST", "/targets/many", {"rigs": twice}, 422, "rigs")
    aimed.api.ok("POST", f"/rigs/{first.rig}/targets", {"uuid": sent[1]["uuid"]})
    assert "another rig" in aimed.api.no("POST", "/targets/many", {"rigs": sent}, 409, "uuid")
    assert in_force(second) is None


def test_nobody_else_s_are_looked_at_or_taken_back(aimed: Fleet, stranger: Api) -> None:
    stranger.no("POST", "work/targets/many", {"rigs": [aimed.rig]}, 422, "rigs")
    stranger.no(
        "POST",
        "/targets/many",
        {"rigs": [{"rig": aimed.rig, "uuid": str(uuid4()), "told_kpa": [FRONT, REAR]}]},
        422,
        "rigs",
    )
    (row,) = TargetSet.objects.all()
    assert stranger.ok("POST", "/targets/withdrawn", {"sets": [row.pk]}) == {"withdrawn": 0}
    assert in_force(aimed) == [FRONT, REAR]
    assert "25" in aimed.api.no("POST", "work/targets/many", {"rigs": list(range(1, 27))}, 422, "rigs")
