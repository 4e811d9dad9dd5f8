"""What is due and when, a calendar that any program reads, and a line by mail at dawn."""

import datetime as dt
from collections.abc import Callable
from typing import Any
from uuid import uuid4

import pytest
import vobject
from django.core import mail
from django.core.management import call_command
from django.db.models import F
from django.test import Client
from icalendar import Calendar

from ballast.server.accounts.models import Membership, Person
from ballast.server.schedule.models import Feed, Notice
from ballast.server.yard.models import Standing
from tests.server.conftest import COACH, NOW, Api, Fleet

As = Callable[[str], Api]


def dues(api: Api, **asked: Any) -> list[tuple[str, str, str | None, bool]]:
    query = "&".join(f"{k}={v}" for k, v in asked.items())
    return [(d["kind"], d["name"], d["on"], d["over"]) for d in api.ok("GET", f"/schedule?{query}")["dues"]]


def seal(fleet: Fleet) -> None:
    round_id = fleet.open_round()["id"]
    fleet.read(round_id, "1L", 624)
    fleet.api.ok("POST", f"/rounds/{round_id}/seal", {"unread_reason": "dark"})


def test_all_dates_of_a_rig_and_a_gauge_stand_in_turn(aimed: Fleet) -> None:
    # Never read; weighed on Sep 13, so again a year on; the gauge was compared on Sep 1.
    year = [("gauge", "G1", "2027-09-01", False), ("weigh", "CF-01 Almagest", "2027-09-13", False)]
    assert dues(aimed.api, days=400) == [("round", "CF-01 Almagest", None, True), *year]
    assert dues(aimed.api) == [("round", "CF-01 Almagest", None, True)]
    seal(aimed)
    assert dues(aimed.api, days=6) == []
    assert dues(aimed.api, days=7) == [("round", "CF-01 Almagest", "2026-12-02", False)]
    assert dues(aimed.api, days=400, kinds="weigh") == year[1:]
    assert dues(aimed.api, days=400, find="almagest") == [("round", "CF-01 Almagest", "2026-12-02", False), year[1]]
    counts = aimed.api.ok("GET", "/schedule?days=400")["kinds"]
    assert [(k["key"], k["count"]) for k in counts] == [("round", 1), ("weigh", 1), ("gauge", 1)]


def test_a_trip_brings_the_round_forward_and_rest_keeps_it_off(aimed: Fleet) -> None:
    seal(aimed)
    leg = {"on": "2026-12-01", "elevation_m": 640, "dawn_c": 2}
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/trip", {"legs": [leg]})
    assert dues(aimed.api, days=30) == [
        ("round", "CF-01 Almagest", "2026-11-30", False), ("trip", "CF-01 Almagest", "2026-11-30", False),
    ]  # fmt: skip
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/trip", {"legs": []})
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/laid-up", {"until": "2027-01-24"})
    assert dues(aimed.api, days=400) == [
        ("rolls", "CF-01 Almagest", "2027-01-24", False), ("gauge", "G1", "2027-09-01", False),
    ]  # fmt: skip


def feed(api: Api, **of: Any) -> str:
    path: str = api.ok("POST", "/feeds", of)["path"]
    return path


def fetched(path: str) -> str:
    reply = Client().get(path, HTTP_HOST="localhost")
    assert reply.status_code == 200
    assert reply["Content-Type"].startswith("text/calendar")
    return reply.content.decode()


def test_a_calendar_is_read_back_by_two_parsers(aimed: Fleet, api_as: As) -> None:
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/air", {"place_key": "still-water"})
    seal(aimed)
    member = next(p["id"] for p in aimed.api.ok("GET", "/people") if p["username"] == "technician")
    given = {
        "rigs": [aimed.rig],
        "to": {"member": member},
        "on": "2026-12-09",
        "uuid": str(uuid4()),
        "note": "Nuts; too, long" * 8,
    }
    aimed.api.ok("POST", "/assignments", given)
    text = fetched(feed(aimed.api))
    assert all(len(line.encode()) <= 75 for line in text.split("\r\n"))
    events = {str(e["UID"]): e for e in Calendar.from_ical(text).walk("VEVENT")}
    round_uid = next(uid for uid in events if uid.startswith(f"round-{aimed.rig}-"))
    due = events[round_uid]
    assert str(due["SUMMARY"]) == "Round: CF-01 Almagest"
    # Seven in the morning where it stands.
    begins = due["DTSTART"].dt
    assert (begins.date(), begins.hour, str(begins.tzinfo)) == (dt.date(2026, 12, 2), 7, "Etc/GMT+7")
    assert due["URL"] == f"http://localhost/rigs/{aimed.rig}"
    note = next(e for uid, e in events.items() if uid.startswith("given-"))
    assert str(note["DESCRIPTION"]) == f"Given to Technician: {given['note']}"
    gauge = next(e for uid, e in events.items() if uid.startswith("gauge-"))
    assert gauge["DTSTART"].dt == dt.date(2027, 9, 1)
    other = {e.uid.value: e for e in vobject.readOne(text).vevent_list}
    assert set(other) == set(events)
    assert other[round_uid].dtstart.value.isoformat() == "2026-12-02T07:00:00-07:00"
    # A rig and a reason keep their name when the day moves.
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/trip", {"legs": [{"on": "2026-12-01", "elevation_m": 640, "dawn_c": 2}]})
    again = {str(e["UID"]): e["DTSTART"].dt for e in Calendar.from_ical(fetched(feed(aimed.api))).walk("VEVENT")}
    assert again[round_uid].date() == dt.date(2026, 11, 30)
    own = Calendar.from_ical(fetched(feed(api_as("technician"), own=True))).walk("VEVENT")
    assert [str(e["SUMMARY"]) for e in own] == ["Round: CF-01 Almagest, Technician"]


def test_a_feed_of_one_rig_holds_it_alone_and_an_address_is_taken_back(
    aimed: Fleet, stranger: Api, people: dict[str, Person]
) -> None:
    other = aimed.api.ok("POST", "/rigs", COACH | {"name": "Beacon", "fleet_number": "CF-02"})["id"]
    aimed.api.ok("POST", f"/rigs/{other}/targets", {})
    path = feed(aimed.api, rig=aimed.rig)
    key = path.split("/")[-1].removesuffix(".ics")
    assert not Feed.objects.filter(key_hash=key).exists()
    names = [str(e["SUMMARY"]) for e in Calendar.from_ical(fetched(path)).walk("VEVENT")]
    assert names == ["Round: CF-01 Almagest", "Weighing: CF-01 Almagest"]
    assert {f"rigs/{other}" in fetched(feed(aimed.api)), f"rigs/{other}" in fetched(path)} == {True, False}
    assert stranger.no("POST", "/feeds", {"rig": aimed.rig}, 422, "rig")
    _, line = aimed.api.ok("GET", "/feeds")
    assert (line["of"], line["fetched_on"]) == ("CF-01 Almagest", NOW.date().isoformat())
    assert stranger.call("DELETE", f"/feeds/{line['id']}").status_code == 404
    assert len(aimed.api.ok("DELETE", f"/feeds/{line['id']}")) == 1
    assert Client().get(path).status_code == 404
    # Who may not come in has no calendar either.
    second = feed(aimed.api)
    Membership.objects.filter(person=people["manager"]).update(off_at=NOW)
    assert Client().get(second).status_code == 404


def test_a_line_goes_out_once_a_day_where_mail_is_set_up(aimed: Fleet, settings: Any) -> None:
    settings.MAIL_FROM = ""
    assert "No mail is sent from here" in aimed.api.no("PUT", "/notice", {"email": "a@b.example"}, 409, "email")
    settings.MAIL_FROM = "yard@b.example"
    assert aimed.api.no("PUT", "/notice", {"email": "nobody"}, 422, "email")
    assert aimed.api.ok("PUT", "/notice", {"email": "a@b.example"})["email"] == "a@b.example"
    for _ in range(2):
        call_command("daily", verbosity=0)
    (line,) = mail.outbox
    assert (line.to, line.subject) == (["a@b.example"], "Ours: tires today")
    assert line.body == "No round for today. Due in Ours by today: round: 1."
    assert aimed.api.ok("PUT", "/notice", {"email": None})["email"] == ""
    assert not Notice.objects.exists()


def test_a_calendar_is_not_emptied_by_what_is_not_known_just_now(aimed: Fleet, monkeypatch: pytest.MonkeyPatch) -> None:
    path = feed(aimed.api, rig=aimed.rig)
    assert "BEGIN:VEVENT" in fetched(path)
    Standing.objects.update(marks=F("marks") + 1)
    assert "BEGIN:VEVENT" in fetched(path)
    Standing.objects.update(marks=F("marks") + 1)
    monkeypatch.setattr("ballast.server.yard.standings.renew", lambda actor: 0)
    assert Client().get(path, HTTP_HOST="localhost").status_code == 503
    told = aimed.api.ok("GET", "/schedule?days=400")
    assert ([d["kind"] for d in told["dues"]], told["anew"]) == (["gauge"], 1)


@pytest.mark.parametrize("asked", ["days=-1", "days=900", "kinds=other", "first=-1"])
def test_what_cannot_be_asked_is_told(api: Api, asked: str) -> None:
    assert api.call("GET", f"/schedule?{asked}").status_code == 422
