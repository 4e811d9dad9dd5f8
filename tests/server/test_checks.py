"""Who read what with which gauge when, what somebody did, and gauges that rounds find out."""

import datetime as dt
import itertools
from collections.abc import Callable
from typing import Any
from urllib.parse import quote

import pytest
from django.core.management import call_command
from django.utils import timezone

from ballast.server.accounts.models import Person
from ballast.server.gauges.models import Gauge
from ballast.server.rounds.models import Round, RoundText
from ballast.server.yard import deeds
from tests.server.conftest import COACH, GAUGE, Api, Fleet

As = Callable[[str], Api]


def seal(fleet: Fleet, api: Api, rig: int, gauge: int) -> int:
    round_id: int = api.ok("POST", f"/rigs/{rig}/rounds", fleet.conditions(gauge=gauge))["id"]
    fleet.read(round_id, "1L", 624)
    api.ok("POST", f"/rounds/{round_id}/seal", {"unread_reason": "dark", "without_target": True})
    return round_id


def test_checks_over_the_fleet_by_person_gauge_and_words(aimed: Fleet, api_as: As, stranger: Api) -> None:
    technician = api_as("technician")
    second = aimed.api.ok("POST", "/rigs", COACH | {"name": "Beacon", "fleet_number": "CF-02"})["id"]
    other = aimed.api.ok("POST", "/gauges", GAUGE | {"label": "G2"})["id"]
    first = seal(aimed, aimed.api, aimed.rig, aimed.gauge)
    later = seal(aimed, technician, second, other)
    members = {p["username"]: p["id"] for p in aimed.api.ok("GET", "/people")}

    def ids(asked: str) -> list[int]:
        return [c["id"] for c in aimed.api.ok("GET", f"/checks?{asked}")["checks"]]

    assert ids("") == [later, first]
    assert ids(f"past={later}") == [first]
    assert (ids("sort=oldest"), ids(f"sort=oldest&past={first}")) == ([first, later], [later])
    # Two that were begun at one moment: neither is passed over between pages.
    Round.objects.filter(pk__in=(first, later)).update(opened_at=dt.datetime(2026, 11, 20, 23, 30, tzinfo=dt.UTC))
    assert (ids(f"past={later}"), ids(f"sort=oldest&past={first}")) == ([first], [later])
    assert ids("since=2026-11-20&until=2026-11-20") == [later, first]
    assert (ids("since=2026-11-21"), ids("until=2026-11-19")) == ([], [])
    assert aimed.api.call("GET", "/checks?since=soon").status_code == 422
    assert ids(f"member={members['technician']}") == [later]
    assert ids(f"gauge={aimed.gauge}") == [first]
    assert ids("find=beacon") == [later]
    line = aimed.api.ok("GET", "/checks?find=beacon")["checks"][0]
    assert (line["name"], line["by"], line["gauge"], line["tires"]) == ("CF-02 Beacon", "Technician", "G2", 1)
    assert stranger.ok("GET", "/checks") == {"checks": [], "more": False}
    assert stranger.call("GET", f"/checks?past={later}").status_code == 404
    rows = b"".join(aimed.api.call("GET", "/checks.csv").streaming_content).decode().splitlines()  # type: ignore[attr-defined]
    assert rows[0].startswith("sealed_at_utc,read_at_utc,rig,sealed_by,gauge")
    assert [row.split(",")[2:5] for row in rows[1:]] == [
        ["CF-02 Beacon", "Technician", "G2"],
        ["CF-01 Almagest", "Manager", "G1"],
    ]


def test_no_list_of_checks_reads_a_rounds_text(
    aimed: Fleet, django_assert_max_num_queries: Callable[..., object]
) -> None:
    seal(aimed, aimed.api, aimed.rig, aimed.gauge)
    with django_assert_max_num_queries(4) as asked:  # type: ignore[attr-defined]
        aimed.api.ok("GET", "/checks")
    assert not any(RoundText._meta.db_table in q["sql"] for q in asked.captured_queries)


def test_what_somebody_did_is_listed_the_newest_first(aimed: Fleet, api_as: As) -> None:
    technician = api_as("technician")
    members = {p["username"]: p["id"] for p in aimed.api.ok("GET", "/people")}
    seal(aimed, technician, aimed.rig, aimed.gauge)
    technician.ok("PUT", f"/rigs/{aimed.rig}/out-of-service", {"why": "Hub"})
    did = aimed.api.ok("GET", f"/people/{members['technician']}/deeds")
    assert did["name"] == "Technician"
    assert [d["words"] for d in did["deeds"]] == ["Took it out of service", "Sealed a round", "Opened a round"]
    assert {d["name"] for d in did["deeds"]} == {"CF-01 Almagest"}
    assert did["next"] is None
    own = [d["words"] for d in aimed.api.ok("GET", f"/people/{members['manager']}/deeds")["deeds"]]
    assert own[-1] == "Added a rig"
    assert {"Put targets in force", "Compared a gauge", "Entered a weighing", "Entered a table"} < set(own)
    assert technician.call("GET", f"/people/{members['manager']}/deeds").status_code == 403


def test_a_page_of_what_was_done_ends_among_what_was_done_in_one_moment(
    aimed: Fleet, monkeypatch: pytest.MonkeyPatch
) -> None:
    manager = next(p for p in aimed.api.ok("GET", "/people") if p["username"] == "manager")
    moment = timezone.now() - dt.timedelta(days=1)
    by = Person.objects.get(username="manager")
    of: dict[str, Any] = {"rig_id": aimed.rig, "gauge_id": aimed.gauge, "outside_c": 5, "elevation_m": 410}
    of |= {"standing_h": 12, "heavy": False, "opened_by": by, "abandoned_by": by}
    Round.objects.bulk_create(Round(**of, opened_at=moment, abandoned_at=moment) for _ in range(4))
    path = f"/people/{manager['id']}/deeds"
    whole = aimed.api.ok("GET", path)["deeds"]
    assert [d["words"] for d in whole if d["at"][:16] == whole[-1]["at"][:16]] == ["Opened a round"] * 4 + [
        "Abandoned a round"
    ] * 4
    monkeypatch.setattr(deeds, "LISTED", 3)
    paged: list[Any] = []
    past: str | None = ""
    while past is not None:
        page = aimed.api.ok("GET", f"{path}?past={quote(past)}")
        assert len(page["deeds"]) <= 3
        paged, past = paged + page["deeds"], page["next"]
    assert paged == whole
    assert "as `next`" in aimed.api.no("GET", f"{path}?past=yesterday", None, 422)


def test_a_round_keeps_what_all_tires_gained_where_the_gauge_was_another(aimed: Fleet) -> None:
    other = aimed.api.ok("POST", "/gauges", GAUGE | {"label": "G2"})["id"]

    def whole(gauge: int, more: float, days: int) -> Round:
        round_id = aimed.api.ok("POST", f"/rigs/{aimed.rig}/rounds", aimed.conditions(gauge=gauge))["id"]
        for wheel in ("1L", "1R", "2Lo", "2Li", "2Ri", "2Ro"):
            aimed.read(round_id, wheel, 660 + more)
        aimed.api.ok("POST", f"/rounds/{round_id}/seal", {"unread_reason": "dark"})
        Round.objects.filter(pk=round_id).update(
            opened_at=Round.objects.get(pk=round_id).opened_at - dt.timedelta(days=days)
        )
        return Round.objects.get(pk=round_id)

    first = whole(aimed.gauge, 0, 2)
    same = whole(aimed.gauge, 0, 1)
    changed = whole(other, 9, 0)
    assert (first.gauge_shared_kpa, same.gauge_shared_kpa) == (None, None)
    assert changed.gauge_before == Gauge.objects.get(pk=aimed.gauge)
    assert changed.gauge_shared_kpa is not None
    # G1 is corrected by about 4 at 660; G2 was never compared.
    assert 10 < changed.gauge_shared_kpa < 16
    said = {g["label"]: g for g in aimed.api.ok("GET", "/gauges-by-rounds")}
    assert {label: g["error_kpa"] for label, g in said.items()} == {"G1": None, "G2": None}
    assert "too few changed" in said["G2"]["words"]["text"]


def test_a_gauge_that_was_compared_since_is_another_one(aimed: Fleet) -> None:
    gauges = [aimed.gauge] + [aimed.api.ok("POST", "/gauges", GAUGE | {"label": label})["id"] for label in ("G2", "G3")]
    rigs = [aimed.rig] + [
        aimed.api.ok("POST", "/rigs", COACH | {"name": f"Moth {n}", "fleet_number": f"M-{n}"})["id"] for n in range(2)
    ]
    first = Round.objects.get(pk=seal(aimed, aimed.api, aimed.rig, aimed.gauge))
    (service,) = first.services.all()
    errors = dict(zip(gauges, (0.0, 0.0, 25.0), strict=True))
    # Twelve weeks, in each of which every rig is read with another gauge: 36 changes.
    for week, rig in itertools.product(range(12), rigs):
        before, now = gauges[week % 3], gauges[(week + 1) % 3]
        Round.objects.filter(pk=first.pk).update(gauge_before=before)
        row = Round.objects.get(pk=first.pk)
        row.pk, row.rig_id, row.gauge_id = None, rig, now
        row.opened_at = row.sealed_at = first.opened_at - dt.timedelta(weeks=20 - week)
        row.gauge_shared_kpa = errors[now] - errors[before] + (0.5 if (week + rig) % 2 else -0.5)
        row.save()
        service.pk, service.round, service.gauge_id, service.uncertainty_kpa = None, row, now, 3.0
        service.save()

    def said() -> dict[str, Any]:
        return {g["label"]: (g["named"], g["error_kpa"]) for g in aimed.api.ok("GET", "/gauges-by-rounds")}

    told = said()
    assert {label: named for label, (named, _) in told.items()} == {"G1": False, "G2": False, "G3": True}
    assert told["G3"][1] == pytest.approx(25, abs=0.5)
    _is_in_doubt_for_it(aimed, gauges[2])
    # Once it was compared, what rounds said of it before says nothing of it: by its own number it has no change yet.
    api = aimed.api
    pairs = [{"reference": r, "reading": r + 25} for r in (200, 400, 600, 800)]
    api.ok(
        "POST", f"/gauges/{gauges[2]}/calibrations", {"compared_on": "2026-11-20", "reference": "M1", "pairs": pairs}
    )
    assert said()["G3"] == (False, None)
    row = Gauge.objects.get(pk=gauges[2])
    assert (row.suspicion, row.found_kpa) == ("", None)
    assert said()["G1"][1] == pytest.approx(0, abs=0.5)


def _is_in_doubt_for_it(aimed: Fleet, gauge: int) -> None:
    """From then on it is a suspect gauge wherever it is asked for, and only a comparison settles it."""
    round_id = aimed.api.ok("POST", f"/rigs/{aimed.rig}/rounds", aimed.conditions(gauge=gauge))["id"]
    assert aimed.api.ok("GET", f"/gauges/{gauge}")["suspicion"] == ""
    call_command("daily")
    told = aimed.api.ok("GET", f"/gauges/{gauge}")
    assert (told["suspicion"], told["suspect"], told["noted"]) == ("rounds", True, False)
    # No surer than what it was found to be off, about 25 kPa, and how sure that is.
    assert 25 < told["uncertainty_kpa"] < 27
    assert told["changes"][0].endswith("The workspace: its rounds found it out.")
    assert "By its rounds it reads {0} above" in aimed.api.ok("GET", f"/rounds/{round_id}")["gauge_condition"]["text"]
    aimed.api.no("PUT", f"/gauges/{gauge}/suspicion", {"suspicion": ""}, 409, "suspicion")
    # A drop beside it is no way round that.
    assert aimed.api.ok("PUT", f"/gauges/{gauge}/suspicion", {"suspicion": "drop"})["suspicion"] == "rounds"
