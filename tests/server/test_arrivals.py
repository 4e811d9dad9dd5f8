"""A fleet from a file too long for one request: nothing of it is there before all of it is, and then by one short write."""

import datetime as dt
import io
from collections import Counter
from typing import Any
from unittest.mock import patch
from uuid import uuid4

import pytest
from django.apps import apps
from django.core.management import call_command
from django.utils import timezone

from ballast.server.accounts.models import Workspace
from ballast.server.rigs import arrivals
from ballast.server.rigs.models import Axle, FleetFile, Rig, Tire
from ballast.server.yard.models import Standing
from tests.server.conftest import Api, Fleet

HEAD = "row,rig,kind,name,gvwr_kg,position_m,track_m,wheels,tire_size,sidewall_max_kpa,wheel,date_code"


def rows_of(number: str, tire: str = "2624") -> list[str]:
    size = "225/75R16C 121/120R,525 kPa"
    return [
        f"rig,{number},van,Van {number},3500 kg",
        f"axle,{number},,,,0,1.7,2,{size}",
        f"axle,{number},,,,3.6,1.7,2,{size}",
        *(f"tire,{number},,,,,,,,,{wheel},{tire}" for wheel in ("1L", "1R")),
    ]


def begun(api: Api, rows: list[str], a_slice: int = 400) -> Any:
    uuid = uuid4()
    api.ok("PUT", f"/fleets/{uuid}", {"name": "all.csv", "heading": HEAD})
    for n, i in enumerate(range(0, len(rows), a_slice), 1):
        api.ok("PUT", f"/fleets/{uuid}/slices/{n}", {"text": "\n".join(rows[i : i + a_slice])})
    return uuid


def worked_out(api: Api, uuid: Any) -> list[Any]:
    told = [api.ok("PUT", f"/fleets/{uuid}/steps/0")]
    return told + [api.ok("PUT", f"/fleets/{uuid}/steps/{k}") for k in range(1, told[0]["steps"])]


def everything() -> Counter[str]:
    """How many rows there are of each kind."""
    return Counter({m._meta.label: m._base_manager.count() for m in apps.get_models(include_auto_created=True)})


def seen(api: Api) -> tuple[Any, ...]:
    tires = api.ok("GET", "/tires")
    return (
        len(api.ok("GET", "/rigs")), api.ok("GET", "/yard")["total"], tires["total"], [r["name"] for r in api.ok("GET", "/finder?find=van")],
    )  # fmt: skip


def test_nothing_is_there_before_all_of_it_is(fleet: Fleet) -> None:
    api = fleet.api
    before = seen(api)
    rows = [row for i in range(250) for row in rows_of(f"V-{i:03}")]
    # A tire for a rig that is here already goes along.
    uuid = begun(api, [*rows, "tire,CF-01,,,,,,,,,1L,2624"])
    told = worked_out(api, uuid)
    # A hundred rigs a step, and one step for what is of none of the file.
    assert [(t["steps"], t["rigs"], t["tires"], t["faults"]) for t in told] == [
        (4, 100, 200, []), (4, 100, 200, []), (4, 50, 100, []), (4, 0, 1, []),
    ]  # fmt: skip
    assert seen(api) == before
    # Asked again a step is as it was.
    assert api.ok("PUT", f"/fleets/{uuid}/steps/0") == told[0]
    assert Rig.objects.count() == 251
    assert api.ok("POST", f"/fleets/{uuid}/finish") == {"rigs": 250, "tires": 501}
    assert api.ok("GET", "/yard")["total"] == 251
    assert api.ok("GET", "/tires")["total"] == 501
    assert set(Standing.objects.values_list("workspace", flat=True)) == {Rig.objects.get(pk=fleet.rig).workspace_id}
    rig = Rig.objects.get(fleet_number="V-249")
    assert (rig.name, rig.axles.count(), rig.fittings.count()) == ("Van V-249", 2, 2)
    # Who brought it in stands in its history, as of one that was typed.
    changes = api.ok("GET", f"/rigs/{rig.pk}/history")
    assert {c["who"] for c in changes} == {"Manager"}
    assert not Workspace.objects.filter(name__startswith="On its way").exists()
    assert api.call("POST", f"/fleets/{uuid}/finish").status_code == 404
    assert "brought in already" in api.no("PUT", f"/fleets/{uuid}", {"name": "all.csv", "heading": HEAD}, 409, "uuid")
    call_command("standing", "--check", stdout=io.StringIO())


def test_all_that_is_wrong_is_told_and_then_nothing_comes(fleet: Fleet) -> None:
    api = fleet.api
    rows = [row for i in range(150) for row in rows_of(f"V-{i:03}")]
    rows[5 * 120] = "rig,V-120,hovercraft,Odd,"
    rows[5 * 130 + 1] = "axle,V-130,,,,0,1.7,3,225/75R16C"
    rows[4] = "tire,V-000,,,,,,,,,1R,5424"
    rows += ["boat,X-1", "tire,Z-9,,,,,,,,,1L,2624", *rows_of("CF-01")[:3], rows_of("V-003")[0]]
    uuid = begun(api, rows)
    faults = {f["line"]: f["refused"] for step in worked_out(api, uuid) for f in step["faults"]}
    # By the line of the file, the heading being the first.
    assert sorted(faults) == [6, 602, 605, 606, 653, 752, 753, 754, 757]
    assert "no week 54" in faults[6]
    assert faults[602].startswith("Choose one of Coach, ")
    assert "1, 2 or, with duals, 4" in faults[653]
    assert faults[605] == faults[606] == "Its rig is refused."
    assert "rig, axle, spare or tire" in faults[752]
    assert "no rig Z-9" in faults[753]
    assert "CF-01 is Almagest already" in faults[754]
    assert "V-003 stands in the file twice" in faults[757]
    told = api.no("POST", f"/fleets/{uuid}/finish", None, 422, "faults")
    assert told.startswith("Row 6: ")
    assert told.endswith("Nothing was brought in.")
    assert api.ok("GET", "/yard")["total"] == 1


def test_left_or_forgotten_nothing_of_it_stays(fleet: Fleet) -> None:
    before = everything()
    rows = [row for i in range(120) for row in rows_of(f"V-{i:03}")]
    uuid = begun(fleet.api, rows)
    worked_out(fleet.api, uuid)
    assert (Rig.objects.count(), Tire.objects.count(), Axle.objects.count()) == (121, 240, 242)
    fleet.api.ok("DELETE", f"/fleets/{uuid}")
    own = {"accounts.HistoricalWorkspace", "yard.Standing"}
    assert {k: n for k, n in everything().items() if k not in own} == {k: n for k, n in before.items() if k not in own}
    assert Standing.objects.count() == 1
    # A page that was closed, or a server that was killed: the daily clean-up takes it away, when nobody comes back for it.
    worked_out(fleet.api, begun(fleet.api, rows))
    call_command("daily", stdout=io.StringIO())
    assert Rig.objects.count() == 121
    with patch("django.utils.timezone.now", return_value=timezone.now() + dt.timedelta(days=2)):
        call_command("daily", stdout=io.StringIO())
    assert (Rig.objects.count(), FleetFile.objects.count(), Workspace.objects.count()) == (
        1,
        0,
        before["accounts.Workspace"],
    )


def test_a_server_that_stops_just_after_the_end_leaves_nothing_over(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    before = Workspace.objects.count()
    uuid = begun(api, rows_of("V-1"))
    worked_out(api, uuid)
    with monkeypatch.context() as stopped:
        stopped.setattr(arrivals, "_tidy", lambda of: None)
        api.ok("POST", f"/fleets/{uuid}/finish")
    assert Workspace.objects.count() == before + 1
    call_command("daily", stdout=io.StringIO())
    assert (Workspace.objects.count(), FleetFile.objects.get().slices.count()) == (before, 0)
    assert [r["name"] for r in api.ok("GET", "/rigs")] == ["Van V-1"]


def test_begun_again_it_starts_from_nothing(api: Api) -> None:
    uuid = begun(api, rows_of("V-1"))
    worked_out(api, uuid)
    assert "being worked out" in api.no("PUT", f"/fleets/{uuid}/slices/1", {"text": "boat,x"}, 409, "number")
    api.ok("PUT", f"/fleets/{uuid}", {"name": "all.csv", "heading": HEAD})
    assert "no rig and no tire" in empty_end(api, uuid)
    api.ok("PUT", f"/fleets/{uuid}", {"name": "all.csv", "heading": HEAD})
    api.ok("PUT", f"/fleets/{uuid}/slices/1", {"text": "\n".join(rows_of("V-2"))})
    assert "was not worked out" in api.no("POST", f"/fleets/{uuid}/finish", None, 422, "steps")
    worked_out(api, uuid)
    # Somebody gave the number away meanwhile.
    api.ok("POST", "/rigs", api.ok("GET", "/rigs") or VAN)
    assert "V-2 is Another by now" in api.no("POST", f"/fleets/{uuid}/finish", None, 409, "fleet_number")
    assert [r["name"] for r in api.ok("GET", "/rigs")] == ["Another"]


VAN = {
    "kind": "van", "name": "Another", "fleet_number": "V-2", "gvwr_kg": "3500 kg",
    "axles": [{"position_m": 0, "track_m": 1.7, "wheels": 2, "tire_size": "225/75R16C 121/120R"}],
}  # fmt: skip


def empty_end(api: Api, uuid: Any) -> str:
    worked_out(api, uuid)
    return api.no("POST", f"/fleets/{uuid}/finish", None, 409, "slices")


def test_a_slice_between_is_missed(api: Api) -> None:
    uuid = begun(api, rows_of("V-1"))
    api.ok("PUT", f"/fleets/{uuid}/slices/3", {"text": "\n".join(rows_of("V-3"))})
    assert "part of the file is missing" in api.no("PUT", f"/fleets/{uuid}/steps/0", None, 422, "slices")
    assert api.call("PUT", f"/fleets/{uuid4()}/steps/0").status_code == 404


@pytest.mark.parametrize(
    ("heading", "words"),
    [
        ("row;kind", "lacks the column rig"),
        ("row,rig,wings", "column wings is not known"),
        ("boat", "lacks the column row"),
    ],
)
def test_a_first_row_that_does_not_do(api: Api, heading: str, words: str) -> None:
    assert words in api.no("PUT", f"/fleets/{uuid4()}", {"name": "all.csv", "heading": heading}, 422, "heading")


def test_nobody_else_sees_or_ends_it(fleet: Fleet, stranger: Api, api_as: Any) -> None:
    uuid = begun(fleet.api, rows_of("V-1"))
    worked_out(fleet.api, uuid)
    assert seen(stranger)[:3] == (0, 0, 0)
    for method, path in (("POST", "/finish"), ("DELETE", ""), ("PUT", "/steps/0")):
        assert stranger.call(method, f"/fleets/{uuid}{path}").status_code == 404
    assert "already" in stranger.no("PUT", f"/fleets/{uuid}", {"name": "x.csv", "heading": HEAD}, 409, "uuid")
    assert api_as("technician").call("POST", f"/fleets/{uuid}/finish").status_code == 403
