"""What there is to say of a rig is kept: marked by whatever changes it, worked out anew by whoever reads it, never counted good
while it is marked. The writes of all other tests are held against it by `held_against`."""

import datetime as dt
import gzip
import json
from contextlib import nullcontext
from io import StringIO
from typing import Any

import pytest
from django.core.management import CommandError, call_command
from django.db import OperationalError, connection
from django.utils import timezone

from ballast.demo.clock import at
from ballast.server.accounts.models import Workspace
from ballast.server.gauges import marks as drawer_marks
from ballast.server.gauges.models import DrawerLine
from ballast.server.rigs.models import Rig
from ballast.server.rounds.models import Round
from ballast.server.yard import marks, services, standings
from ballast.server.yard.models import Standing
from tests.server.conftest import COACH, Api, Fleet
from tests.server.test_yard import line, recent, sealed_round

VAN: dict[str, Any] = COACH | {"fleet_number": "", "spares": []}


def old() -> list[int]:
    actor = standings.reader(Workspace.objects.get(name="Ours"))
    assert actor is not None
    return sorted(standings.kept_of(actor).filter(old=True).values_list("rig_id", flat=True))


def told(*args: str) -> str:
    out = StringIO()
    call_command("standing", *args, stdout=out)
    return out.getvalue().strip()


def triggers() -> set[str]:
    """Those of the database itself, by their names."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT name FROM sqlite_master WHERE type = 'trigger'"
            if connection.vendor == "sqlite"
            else "SELECT tgname FROM pg_trigger WHERE NOT tgisinternal"
        )
        return {name for (name,) in cursor.fetchall()}


def test_the_database_itself_watches_every_table_that_a_standing_is_worked_out_from(fleet: Fleet) -> None:
    with connection.cursor() as cursor:
        tables = set(connection.introspection.table_names(cursor))
        there = triggers()
    assert set(marks.WATCHED) <= tables
    assert there == marks.WATCH.names() | drawer_marks.WATCH.names()
    # Taken away for a migration and set up again, they are as before; a rig of meanwhile has its row.
    marks.WATCH.drop()
    Rig.objects.create(workspace=Workspace.objects.get(name="Ours"), kind="coach", name="Of meanwhile")
    marks.WATCH.create()
    assert triggers() == there
    assert Standing.objects.filter(rig__name="Of meanwhile", known=-1).exists()


def test_no_way_of_writing_goes_past_it(fleet: Fleet) -> None:
    recent(fleet)
    sealed_round(fleet)
    line(fleet)
    assert old() == []
    rig = Rig.objects.get(pk=fleet.rig)
    for write in (
        lambda: Rig.objects.filter(pk=rig.pk).update(note="by a query"),
        lambda: Rig.objects.bulk_update([rig], ["name"]),
        lambda: connection.cursor().execute("UPDATE rounds_round SET next_why = '' WHERE rig_id = %s", [rig.pk]),
        lambda: rig.spares.all().delete(),
        lambda: Workspace.objects.filter(name="Ours").update(reserve=0.1),
    ):
        write()
        assert old() == [fleet.rig]
        line(fleet)
        assert old() == []


def test_what_could_not_be_kept_is_said_to_be_worked_out_and_is_never_good(
    fleet: Fleet, monkeypatch: pytest.MonkeyPatch
) -> None:
    recent(fleet)
    sealed_round(fleet)
    assert line(fleet)["state"] == "fine"
    Rig.objects.filter(pk=fleet.rig).update(note="changed")

    def held(*_: Any, **__: Any) -> None:
        raise OperationalError("database is locked")

    with monkeypatch.context() as patch:
        patch.setattr(Standing.objects, "bulk_create", held)
        answer = fleet.api.ok("GET", "/yard")
    (row,) = answer["rigs"]
    assert (row["anew"], row["state"], row["words"]["text"]) == (True, "todo", "Being worked out anew")
    # Nor is any tire drawn as it was.
    assert (row["tires"], row["last_round"]) == ([], None)
    assert (answer["anew"], answer["asking"]) == (1, 1)
    assert line(fleet)["state"] == "fine"


def test_a_mark_that_comes_while_it_is_worked_out_is_not_lost(fleet: Fleet, monkeypatch: pytest.MonkeyPatch) -> None:
    recent(fleet)
    worked_out = standings.said_of

    def meanwhile(actor: Any, which: Any) -> Any:
        said = worked_out(actor, which)
        Rig.objects.filter(pk=fleet.rig).update(name="Renamed meanwhile")
        return said

    monkeypatch.setattr(standings, "said_of", meanwhile)
    fleet.api.ok("GET", "/yard")
    assert old() == [fleet.rig]
    monkeypatch.undo()
    assert line(fleet)["name"] == "Renamed meanwhile"


def test_it_holds_until_its_day_and_not_before_the_moment_it_was_worked_out(fleet: Fleet) -> None:
    recent(fleet)
    sealed_round(fleet)
    line(fleet)
    row = Standing.objects.get(rig=fleet.rig)
    today = timezone.now().date()
    # By far the nearest day is that of the next check, a week on.
    assert row.until == dt.datetime.combine(today + dt.timedelta(days=7), dt.time(), dt.UTC)
    for days, is_old in ((-1, [fleet.rig]), (6, []), (7, [fleet.rig])):
        with at(timezone.now().replace(hour=12) + dt.timedelta(days=days)):
            assert old() == is_old


def test_of_many_a_slice_is_worked_out_at_a_time_and_the_others_say_so(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(standings, "SLICE", 3)
    for i in range(1, 9):
        api.ok("POST", "/rigs", VAN | {"name": f"Van {i}"})
    Standing.objects.update(known=-1, line={})
    first = api.ok("GET", "/yard")
    assert (first["total"], first["anew"], first["asking"]) == (8, 5, 8)
    assert [r["wheels"] for r in first["rigs"] if r["anew"]] == [None] * 5
    assert sorted(r["name"] for r in first["rigs"]) == [f"Van {i}" for i in range(1, 9)]
    assert api.ok("GET", "/yard")["anew"] == 2
    last = api.ok("GET", "/yard")
    assert (last["anew"], [r["wheels"] for r in last["rigs"]]) == (0, [6] * 8)


def test_of_several_readers_one_works_it_out_and_the_others_wait_for_it(
    fleet: Fleet, monkeypatch: pytest.MonkeyPatch
) -> None:
    recent(fleet)
    line(fleet)
    Standing.objects.update(known=-1)
    actor = standings.reader(Workspace.objects.get(name="Ours"))
    assert actor is not None
    # Somebody else was at it, and it had to wait for them.
    monkeypatch.setattr(standings, "alone", lambda: nullcontext(False))
    assert standings.renew(actor) == 1
    assert old() == [fleet.rig]
    monkeypatch.undo()
    assert standings.renew(actor) == 1
    assert (old(), standings.renew(actor)) == ([], 0)


def test_it_is_searched_ordered_and_paged_by_the_server(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(services, "PAGE", 2)
    for name, number in (("Vernier", "N10"), ("Caliper", "N9"), ("Plumb 1_0%", "")):
        api.ok("POST", "/rigs", VAN | {"name": name, "fleet_number": number})

    def names(query: str) -> tuple[list[str], int]:
        found = api.ok("GET", f"/yard?{query}")
        return [r["name"] for r in found["rigs"]], found["found"]

    # Nine comes before ten.
    assert names("sort=number") == (["Caliper", "Vernier"], 3)
    assert names("sort=number&first=2") == (["Plumb 1_0%"], 3)
    assert names("find=coach%20VERN") == (["Vernier"], 1)
    assert names("find=not%20weighed&sort=number") == (["Caliper", "Vernier"], 3)
    # Its wildcards are letters like any others.
    assert names("find=1_0%25") == (["Plumb 1_0%"], 1)
    assert names("find=%25n") == ([], 0)
    for wrong in ("sort=age", "first=-1", f"find={'x' * 201}"):
        assert api.call("GET", f"/yard?{wrong}").status_code == 422


def test_it_is_filtered_by_the_lines_that_are_said_each_with_its_count(fleet: Fleet) -> None:
    recent(fleet)
    sealed_round(fleet, **{"2Ri": 640})
    fleet.api.ok("POST", "/rigs", VAN | {"name": "Caliper"})
    whole = fleet.api.ok("GET", "/yard")
    assert {line["key"]: (line["name"], line["rigs"]) for line in whole["lines"]} == {
        "pressure": ("Pressure", 1), "weigh": ("Weigh", 1),
    }  # fmt: skip
    assert [r["name"] for r in fleet.api.ok("GET", "/yard?lines=weigh")["rigs"]] == ["Caliper"]
    # Several at once: of which all are said. What is pressed stays to be let go.
    both = fleet.api.ok("GET", "/yard?lines=weigh&lines=pressure")
    assert (both["rigs"], both["found"], [line["rigs"] for line in both["lines"]]) == ([], 0, [1, 1])
    none = fleet.api.ok("GET", "/yard?lines=leak")
    assert [(line["key"], line["rigs"]) for line in none["lines"] if line["key"] == "leak"] == [("leak", 0)]
    assert fleet.api.call("GET", "/yard?lines=nothing").status_code == 422


def test_the_finder_has_a_question_of_its_own(api: Api, stranger: Api, django_assert_max_num_queries: Any) -> None:
    for i in range(10):
        api.ok("POST", "/rigs", VAN | {"name": f"Van {i}"})
    api.ok("GET", "/yard")
    # Session, person and membership, and one more.
    with django_assert_max_num_queries(4):
        assert [r["name"] for r in api.ok("GET", "/finder?find=van")] == [f"Van {i}" for i in range(8)]
    # By number, name and kind, not by what there is to say.
    assert api.ok("GET", "/finder?find=weighed") == []
    assert [r["name"] for r in api.ok("GET", "/finder?find=9%20coach")] == ["Van 9"]
    assert stranger.ok("GET", "/finder?find=van") == []
    # What was named anew is found by that at once, and no longer by what it was.
    Rig.objects.filter(name="Van 3").update(name="Tern")
    assert [r["name"] for r in api.ok("GET", "/finder?find=tern")] == ["Tern"]
    assert api.ok("GET", "/finder?find=3%20van") == []


def test_the_command_finds_what_is_kept_otherwise_than_it_is(fleet: Fleet) -> None:
    recent(fleet)
    assert told() == "1 worked out anew."
    assert told("--check") == "0 worked out anew. What was kept is as it is."
    Round.objects.all().delete()
    Standing.objects.update(words="something else")
    with pytest.raises(CommandError, match="words is kept as 'something else'"):
        told("--check")
    DrawerLine.objects.update(due_on=None)
    with pytest.raises(CommandError, match="Ours: G1: due_on is kept as None"):
        told("--check")


def test_a_long_answer_is_packed_and_one_that_did_not_change_is_a_line(fleet: Fleet) -> None:
    whole = fleet.api.call("GET", "/rigs")
    packed = fleet.api.call("GET", "/rigs", HTTP_ACCEPT_ENCODING="gzip")
    assert packed["Content-Encoding"] == "gzip"
    assert json.loads(gzip.decompress(packed.content)) == json.loads(whole.content)
    again = fleet.api.call("GET", "/rigs", HTTP_ACCEPT_ENCODING="gzip", HTTP_IF_NONE_MATCH=packed["ETag"])
    assert (again.status_code, again.content) == (304, b"")
