"""Drives over the API: a receiver with its key, the simulated road, what is kept, and what stands apart."""

import csv
import datetime as dt
import io
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client
from django.utils import timezone

from ballast.server.sensors import drives
from ballast.server.sensors.models import AlarmTold, Drive, DriveBlock
from tests.server.conftest import Api, Fleet
from tests.server.test_rounds import GOOD
from tests.server.test_sensors import driven, states

__all__ = ["driven"]
# Nothing was said of the spare's sensor.
ALL_WELL = f"All {len(GOOD) - 1} heard, and none in alarm. Not heard by what it has: spare."


class Device:
    """A receiver with its key."""

    def __init__(self, fleet: Fleet) -> None:
        told = fleet.api.ok("POST", f"/rigs/{fleet.rig}/receivers", {"name": "In the cab"})
        self.id, self.key, self.client = told["receivers"][-1]["id"], told["key"], Client()
        self.drive = str(uuid4())

    def send(self, *messages: dict[str, Any], **more: Any) -> Any:
        body = {"drive": self.drive, "messages": messages} | more
        headers = {"Authorization": f"Bearer {self.key}"}
        return self.client.post("/api/v1/receivers/messages", body, "application/json", headers=headers)

    def ok(self, *messages: dict[str, Any], **more: Any) -> Any:
        answer = self.send(*messages, **more)
        assert answer.status_code == 200, answer.content
        return answer.json()


def message(number: int, at: dt.datetime, share: dict[str, float] | float = 1.0, **more: Any) -> dict[str, Any]:
    """All wheels of the coach at shares of what a round found good."""
    shares = share if isinstance(share, dict) else dict.fromkeys(GOOD, share)
    wheels = [{"wheel": w, "kpa": round(s * 700, 1)} for w, s in shares.items()]
    return {"number": number, "at": at.isoformat(), "wheels": wheels, "rolled_min": number / 6} | more


def of(fleet: Fleet, device: Device) -> Any:
    return fleet.api.ok("GET", f"/rigs/{fleet.rig}/drives/{device.drive}")


def text(fleet: Fleet, drive: Any) -> str:
    return fleet.api.call("GET", f"/rigs/{fleet.rig}/drives/{drive}/numbers.csv").getvalue().decode()


def test_a_receiver_sends_what_its_rig_is_judged_by(driven: Fleet) -> None:
    at, device = timezone.now(), Device(driven)
    target = {a["number"]: a["target_kpa"] for a in driven.api.ok("GET", f"/rigs/{driven.rig}/sensors")["axles"]}
    whole = {w: target[int(w[0])] / 700 for w in GOOD if w != "S1"}
    told = device.ok(message(1, at, whole, rolled_min=0, stood_h=9))
    assert told == {"taken": 1, "through": 1, "missing": [], "loud": {}}
    here = of(driven, device)
    assert here["words"]["text"] == ALL_WELL
    assert here["going"]
    assert here["receiver"] == "In the cab"
    # One falls under what its axle is held to: told at once, with the answer, and on every screen of the rig.
    fallen = whole | {"1L": 0.85 * whole["1L"]}
    told = device.ok(message(2, at + dt.timedelta(seconds=5), fallen, rolled_min=0, stood_h=9))
    assert list(told["loud"]) == ["1L"]
    assert [(t.wheel, t.what) for t in AlarmTold.objects.all()] == [("1L", "low")]
    assert [a["text"].split(":")[0] for a in driven.api.ok("GET", f"/yard/{driven.rig}")["alarms"]] == ["Front left"]
    assert states(driven.api.ok("GET", f"/rigs/{driven.rig}/sensors"))["1L"] == "low"
    # Sent again it is simply there; out of order it comes to the same.
    assert device.ok(message(2, at + dt.timedelta(seconds=5), fallen, rolled_min=0))["taken"] == 0
    told = device.ok(message(5, at + dt.timedelta(seconds=20), fallen))
    assert (told["through"], told["missing"]) == (2, [3, 4])
    told = device.ok(*(message(n, at + dt.timedelta(seconds=5 * n), fallen) for n in (4, 3)), ended=True)
    assert (told["taken"], told["through"], told["missing"]) == (2, 5, [])
    assert not of(driven, device)["going"]


def test_a_key_opens_its_own_rig_and_drive_alone(driven: Fleet) -> None:
    device, at = Device(driven), timezone.now()
    assert device.send(message(1, at, {"9L": 1.0})).status_code == 422
    assert device.send(message(1, at + dt.timedelta(hours=2))).json()["fields"][0]["field"] == "messages.0.at"
    assert Drive.objects.count() == 0
    device.ok(message(1, at))
    other = Device(driven)
    other.drive = device.drive
    assert other.send(message(2, at)).status_code == 409
    driven.api.ok("DELETE", f"/rigs/{driven.rig}/receivers/{device.id}")
    assert device.send(message(2, at)).status_code == 401
    device.key = "guessed"
    assert device.send(message(2, at)).status_code == 401
    # A key opens nothing else, and a session sends nothing.
    headers = {"Authorization": f"Bearer {other.key}"}
    assert Client().get("/api/v1/yard", headers=headers).status_code == 401
    driven.api.no("POST", "/receivers/messages", {"drive": str(uuid4()), "messages": [message(1, at)]}, 401)


def test_messages_are_kept_in_blocks_and_come_out_as_they_were_sent(driven: Fleet) -> None:
    device, at = Device(driven), timezone.now() - dt.timedelta(minutes=40)
    sent = [
        message(n, at + dt.timedelta(seconds=10 * n), 1 + n / 1000, outside_c=21, elevation_m=400)
        for n in range(1, 131)
    ]
    for i in range(0, 130, 10):
        device.ok(*sent[i : i + 10])
    row = Drive.objects.get()
    assert (row.count, DriveBlock.objects.count(), row.pending.count("\n")) == (130, 2, 10)
    rows = list(csv.DictReader(io.StringIO(text(driven, device.drive))))
    assert len(rows) == 130 * len(GOOD)
    assert [float(r["read_kpa"]) for r in rows[:: len(GOOD)]] == [round(700 * (1 + n / 1000), 1) for n in range(1, 131)]
    drawn = driven.api.ok("GET", f"/rigs/{driven.rig}/drives/{device.drive}/series")
    assert len(drawn["minutes"]) == 130
    assert drawn["wheels"][0]["kpa"][-1] == pytest.approx(791.0)


def test_messages_that_meet_are_both_taken(driven: Fleet, monkeypatch: pytest.MonkeyPatch) -> None:
    device, at = Device(driven), timezone.now()
    between, follow = [11], drives.followed

    def meets(row: Drive, messages: Any) -> drives.Followed:
        """While one is worked out, another of the same drive comes."""
        if between:
            device.ok(message(between.pop(), at))
        return follow(row, messages)

    monkeypatch.setattr(drives, "followed", meets)
    # Of a drive that nobody knew yet, and of one under way.
    device.ok(message(1, at))
    assert Drive.objects.get().count == 2
    between.append(12)
    device.ok(message(2, at + dt.timedelta(seconds=1)))
    row = Drive.objects.get()
    assert (row.count, row.pending.count("\n")) == (4, 4)
    assert {m.number for m in drives.messages_of(row)} == {1, 2, 11, 12}


def test_without_the_air_of_then_numbers_are_kept_and_judge_nothing(driven: Fleet) -> None:
    device, at = Device(driven), timezone.now() - dt.timedelta(hours=5)
    assert device.ok(message(1, at, 0.5))["loud"] == {}
    assert "are old" in of(driven, device)["words"]["text"]
    wheel = of(driven, device)["wheels"][0]
    assert (wheel["kpa"], wheel["old"], wheel["word"]) == (350, True, "not_checked")
    assert "the air of then is not known" in wheel["words"]["text"]
    assert set(device.ok(message(2, at + dt.timedelta(seconds=10), 0.5, outside_c=12))["loud"]) == set(GOOD)


def test_a_receiver_that_drops_leaves_old_numbers_and_goes_on(driven: Fleet, monkeypatch: pytest.MonkeyPatch) -> None:
    device, at = Device(driven), timezone.now()
    device.ok(message(1, at))
    etag = driven.api.call("GET", f"/rigs/{driven.rig}/drives/{device.drive}").headers["ETag"]
    assert (
        driven.api.call("GET", f"/rigs/{driven.rig}/drives/{device.drive}", HTTP_IF_NONE_MATCH=etag).status_code == 304
    )
    monkeypatch.setattr(timezone, "now", lambda: at + dt.timedelta(minutes=4))
    later = driven.api.call("GET", f"/rigs/{driven.rig}/drives/{device.drive}", HTTP_IF_NONE_MATCH=etag)
    assert later.status_code == 200
    assert later.json()["words"]["text"] == "Nothing was heard for 4 min: these numbers are old."
    assert all(w["old"] for w in later.json()["wheels"])
    device.ok(message(2, at + dt.timedelta(minutes=4)))
    assert not any(w["old"] for w in of(driven, device)["wheels"])


# -- the simulated road ----------------------------------------------------------------------------------


@pytest.fixture
def on_road(driven: Fleet, settings: Any) -> Fleet:
    settings.ROAD = "ballast.standins.road.SimulatedRoad"
    return driven


def simulated(fleet: Fleet, monkeypatch: pytest.MonkeyPatch, minutes: float, **body: Any) -> Any:
    """A simulated drive, looked at after so many minutes of it."""
    uuid, start = uuid4(), timezone.now()
    path = f"/rigs/{fleet.rig}/drives/{uuid}"
    # A second on the way would be ten minutes of the drive.
    monkeypatch.setattr(timezone, "now", lambda: start)
    fleet.api.ok("PUT", path, {"pace": 600, **body})
    monkeypatch.setattr(timezone, "now", lambda: start + dt.timedelta(minutes=minutes / 600))
    told = fleet.api.ok("GET", path)
    monkeypatch.setattr(timezone, "now", lambda: start)
    return told


def names(told: Any, set_: bool = True) -> set[tuple[str, str]]:
    return {(t["wheel"], t["what"]) for t in told["told"] if t["sets"] is set_}


def test_a_sound_drive_is_quiet_to_its_end(on_road: Fleet, monkeypatch: pytest.MonkeyPatch) -> None:
    for scene in ("highway", "pass", "errands"):
        told = simulated(on_road, monkeypatch, 200, scene=scene, seed=7)
        assert told["told"] == []
        assert not told["going"]
        assert told["words"]["text"] == ALL_WELL
        assert {r["verdict"] for r in told["rises"]} <= {"", "as it should"}
        assert told["simulated"]["fault"] == ""
    # As it was weighed: the heavier right end of the rear, 1,705 kg a tire, of the 2,060 that one of them may; the spare carries nothing.
    tires = {t["wheel"]: t["load_share"] for t in Drive.objects.latest("pk").simulated["run"]["tires"]}
    assert tires["2Ro"] == pytest.approx(1705 / 2060)
    assert tires.get("S1", 0.0) == 0.0


@pytest.mark.parametrize(
    ("fault", "loud"),
    [("nail", {"fast loss", "low", "very low"}), ("leak", {"low"}), ("brake", {"heat"})],
)
def test_a_fault_is_named_at_its_own_wheel(
    on_road: Fleet, monkeypatch: pytest.MonkeyPatch, fault: str, loud: set[str]
) -> None:
    told = simulated(on_road, monkeypatch, 59, fault=fault, wheel="2Lo", seed=3)
    assert loud <= {what for wheel, what in names(told)}
    assert {wheel for wheel, _ in names(told)} == {"2Lo"}
    assert told["words"]["text"].startswith("Rear left, outer: ")


@pytest.mark.parametrize(
    ("fault", "word"), [("dead", "Not heard any more"), ("stale", "Not heard any more"), ("spare", "Not heard")]
)
def test_a_cell_that_died_and_a_display_that_stands_still_are_not_well(
    on_road: Fleet, monkeypatch: pytest.MonkeyPatch, fault: str, word: str
) -> None:
    told = simulated(on_road, monkeypatch, 59, fault=fault, wheel="1R", seed=3)
    assert told["words"]["text"].startswith(word)
    assert names(told) == set()
    assert [w["code"] for w in told["wheels"] if w["code"] == "1R" and w["old"]] == ["1R"]


def test_nothing_of_a_simulated_drive_stands_on_the_rigs_record(
    on_road: Fleet, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = on_road.api.ok("GET", f"/rigs/{on_road.rig}/sensors")
    simulated(on_road, monkeypatch, 59, fault="nail", wheel="1L")
    assert AlarmTold.objects.count() == 0
    after = on_road.api.ok("GET", f"/rigs/{on_road.rig}/sensors")
    assert after["axles"] == before["axles"]
    assert on_road.api.ok("GET", f"/yard/{on_road.rig}")["alarms"] == []


def test_the_same_seed_drives_the_same_however_often_it_is_looked_at(
    on_road: Fleet, monkeypatch: pytest.MonkeyPatch
) -> None:
    start = timezone.now()
    monkeypatch.setattr(timezone, "now", lambda: start)
    once, often = uuid4(), uuid4()
    for uuid in (once, often):
        body = {"pace": 60, "fault": "nail", "wheel": "1L", "seed": 11}
        on_road.api.ok("PUT", f"/rigs/{on_road.rig}/drives/{uuid}", body)
    for seconds in range(5, 60, 5):
        monkeypatch.setattr(timezone, "now", lambda s=seconds: start + dt.timedelta(seconds=s))
        on_road.api.ok("GET", f"/rigs/{on_road.rig}/drives/{often}")
    on_road.api.ok("GET", f"/rigs/{on_road.rig}/drives/{once}")
    rows = [Drive.objects.get(uuid=u) for u in (once, often)]
    said = [
        [text(on_road, u).splitlines()[-1].split(",")[2:], r.count] for u, r in zip((once, often), rows, strict=True)
    ]
    assert said[0] == said[1]
    # Slower from here on: so many minutes, not more.
    on_road.api.ok("PUT", f"/rigs/{on_road.rig}/drives/{often}/pace", {"pace": 1})
    count = Drive.objects.get(uuid=often).count
    monkeypatch.setattr(timezone, "now", lambda: start + dt.timedelta(seconds=55 + 60))
    on_road.api.ok("GET", f"/rigs/{on_road.rig}/drives/{often}")
    assert Drive.objects.get(uuid=often).count == count + 6
    ended = on_road.api.ok("POST", f"/rigs/{on_road.rig}/drives/{often}/end")
    assert not ended["going"]


def test_there_is_no_road_outside_the_demo_and_no_drive_from_nothing(
    driven: Fleet, fleet: Fleet, settings: Any
) -> None:
    settings.ROAD = ""
    path = f"/rigs/{driven.rig}/drives/{uuid4()}"
    driven.api.no("PUT", path, {"seed": 1}, 409)
    assert driven.api.ok("GET", f"/rigs/{driven.rig}/drives")["road"] == {"scenes": {}, "faults": {}}
    settings.ROAD = "ballast.standins.road.SimulatedRoad"
    driven.api.no("PUT", path, {"scene": "moon"}, 422, "scene")
    driven.api.no("PUT", path, {"fault": "nail", "wheel": "7X"}, 422, "wheel")
    driven.api.no("PUT", path, {"pace": 601}, 422, "pace")


def test_drives_are_of_their_workspace(driven: Fleet, stranger: Api) -> None:
    device = Device(driven)
    device.ok(message(1, timezone.now()))
    for path in ("", f"/{device.drive}", f"/{device.drive}/series", f"/{device.drive}/numbers.csv"):
        assert stranger.call("GET", f"/rigs/{driven.rig}/drives{path}").status_code == 404


# -- numbers out of a file -------------------------------------------------------------------------------

CHOSEN = {
    "columns": [{"means": "at"}, {"means": "wheel"}, {"means": "pressure"}, {"means": "temperature"}, {"means": "outside"}],
    "pressure_unit": "psi", "temperature_unit": "°F", "zone": "UTC", "names": {"left front": "1L"},
}  # fmt: skip


def bring(fleet: Fleet, lines: list[str], *, name: str = "cab.csv", per: int = 2) -> str:
    path = f"/rigs/{fleet.rig}/numbers/{uuid4()}"
    fleet.api.ok("PUT", path, CHOSEN | {"name": name})
    for n, i in enumerate(range(0, len(lines), per), 1):
        fleet.api.ok("PUT", f"{path}/slices/{n}", {"first": 2 + i, "text": "\n".join(lines[i : i + per])})
    return path


def lines_of(numbers: list[tuple[str, float]], at: dt.datetime) -> list[str]:
    return [f"{at + dt.timedelta(minutes=i):%Y-%m-%d %H:%M},{w},{p},68,68" for i, (w, p) in enumerate(numbers)]


def test_a_file_is_looked_at_before_anything_is_saved(driven: Fleet) -> None:
    text = "Time stamp;Tire;Pressure psi;Temp\n2026-11-01 08:00;left front;98;70\n2026-11-01 08:00;1R;;70\n"
    told = driven.api.ok("POST", "work/numbers", {"rig": driven.rig, "head": text})
    assert [c["means"] for c in told["columns"]] == ["at", "wheel", "pressure", "temperature"]
    assert (told["delimiter"], told["strange"]) == (";", ["left front"])
    assert told["faults"][0]["row"] == 2
    assert told["samples"][1] == ["left front", "1R"]
    told = driven.api.ok(
        "POST",
        "work/numbers",
        {"rig": driven.rig, "head": text, "chosen": {**CHOSEN, "columns": CHOSEN["columns"][:4]}},
    )
    assert told["refusal"] == ""
    assert [(r["wheel"], round(r["kpa"], 1)) for r in told["rows"]] == [("1L", 675.7)]
    driven.api.no("POST", "work/numbers", {"rig": driven.rig, "head": "nothing here"}, 422, "head")
    assert Drive.objects.count() == 0


def test_a_file_counts_whole_or_not_at_all(driven: Fleet) -> None:
    at = timezone.now() - dt.timedelta(days=3)
    lines = lines_of([("left front", 60), ("1R", 100), ("1R", 100)], at)
    path = bring(driven, lines)
    # On its way in it counts nowhere.
    assert driven.api.ok("GET", f"/rigs/{driven.rig}/drives")["drives"] == []
    assert states(driven.api.ok("GET", f"/rigs/{driven.rig}/sensors"))["1L"] is None
    # A slice sent again takes its own place.
    driven.api.ok("PUT", f"{path}/slices/2", {"first": 4, "text": lines[2]})
    done = driven.api.ok("POST", f"{path}/finish")
    assert (done["numbers"], done["judged"]) == (3, 3)
    (line,) = driven.api.ok("GET", f"/rigs/{driven.rig}/drives")["drives"]
    assert (line["source"], line["going"]) == ("cab.csv", False)
    told = driven.api.ok("GET", f"/rigs/{driven.rig}/sensors")
    assert {w: s for w, s in states(told).items() if s} == {"1L": states(told)["1L"], "1R": states(told)["1R"]}
    assert {t["wheel"] for t in told["told"]} >= {"1L"}
    driven.api.no("PUT", path, CHOSEN | {"name": "again"}, 409, "uuid")
    # One row that cannot be read, and nothing of it is there.
    path = bring(driven, [*lines, f"{at:%Y-%m-%d %H:%M},trunk,90,68,68"])
    again = driven.api.ok(
        "PUT", f"{path}/slices/2", {"first": 4, "text": f"{lines[2]}\n{at:%Y-%m-%d %H:%M},trunk,90,68,68"}
    )
    assert again["strange"] == ["trunk"]
    told_no = driven.api.no("POST", f"{path}/finish", None, 422, "faults")
    assert told_no.startswith("Row 5: “trunk” is no wheel of it")
    assert Drive.objects.count() == 1
    # Cancelled, and nothing is left; with a part missing, nothing either.
    driven.api.ok("DELETE", path)
    driven.api.no("POST", f"{path}/finish", None, 404)
    path = bring(driven, lines)
    driven.api.ok("PUT", f"{path}/slices/5", {"first": 9, "text": lines[0]})
    driven.api.no("POST", f"{path}/finish", None, 422, "slices")
    ahead = lines_of([("1L", 90)], timezone.now() + dt.timedelta(days=2))
    assert (
        "future"
        in driven.api.ok("PUT", f"{bring(driven, [])}/slices/1", {"first": 2, "text": ahead[0]})["faults"][0]["words"]
    )


def test_numbers_of_long_ago_are_not_the_newest(driven: Fleet) -> None:
    """A file of a year ago, brought in today, hides nothing of what stands by the numbers of now."""
    now = timezone.now()
    for at, psi in ((now - dt.timedelta(days=1), 60), (now - dt.timedelta(days=400), 100)):
        driven.api.ok("POST", f"{bring(driven, lines_of([('1L', psi)], at))}/finish")
        assert [a["text"].split(":")[0] for a in driven.api.ok("GET", f"/yard/{driven.rig}")["alarms"]] == [
            "Front left"
        ]
