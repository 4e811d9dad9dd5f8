"""Practice: worlds of their own, solved by the same calls as real work, judged by what was left; nothing of it outside."""

import json
import random
from collections.abc import Callable
from typing import Any
from uuid import uuid4

import pytest
from django.apps import apps
from django.db import connection
from django.utils import timezone

from ballast.core.practice import EXERCISES, OPEN, Drawn, Exercise, Left
from ballast.server.practice.models import Try
from ballast.server.practice.world import clear
from ballast.server.upkeep.copies import counted
from tests.browser.serving import CLUSTER
from tests.server.conftest import Api, Fleet
from tests.server.test_pictures import body, taken

KPA_PSI = 6.894757
CASES = [(key, act) for key, of in EXERCISES.items() for act in ("", *of.mistakes)]


def drawn_of(key: str, seed: int) -> Drawn:
    return EXERCISES[key].draw(random.Random(seed))


@pytest.fixture
def seeded(monkeypatch: pytest.MonkeyPatch) -> Callable[[int], None]:
    """Lets every exercise be drawn by one seed."""

    def by(seed: int) -> None:
        monkeypatch.setattr(random.SystemRandom, "randrange", lambda *_: seed)

    by(7)
    return by


def begin(api: Api, key: str, again: bool = False) -> Any:
    return api.ok("POST", "/practice/tries", {"exercise": key, "again": again})


def shown(api: Api, wheel: str, gauge: str) -> float:
    return float(api.ok("POST", "/practice/try/look", {"wheel": wheel, "gauge": gauge})["kpa"])


def _walk(api: Api, rig: int, of: Exercise, left: Left, gauges: dict[str, int], plan_open: bool) -> None:
    """Reads wheels with a gauge, leaves them at what is wanted, and seals."""
    label = left.gauge or sorted(gauges)[0]
    body = {"gauge": gauges[label], "standing_h": 0 if of.key == "bled" else 12, "driven": "highway"}
    here = api.ok("GET", f"/yard/{rig}")["air"]["air"]["outside_c"]
    body |= {"outside_c": here, "elevation_m": 0} | ({"plan_kept": False} if plan_open else {})
    row = api.ok("POST", f"/rigs/{rig}/rounds", body)
    for wheel in sorted(left.read or left.left_kpa):
        found = shown(api, wheel, label)
        note = {"wheel": wheel, "not_rolled": True}
        api.ok("PUT", f"/rounds/{row['id']}/readings/{uuid4()}", note | {"pressure": found})
        to = left.left_kpa.get(wheel, found)
        hot_and_kept = of.key == "bled" and wheel not in left.let_out
        if abs(to - found) > 1 and not hot_and_kept:
            api.ok("PUT", f"/rounds/{row['id']}/readings/{uuid4()}", note | {"pressure": to, "after": True})
    api.ok(
        "POST", f"/rounds/{row['id']}/seal", {"unread_reason": "As it is", "signed": "Somebody", "without_target": True}
    )


def _lamp(api: Api, rig: int, left: Left, gauge: int) -> None:
    codes = [w["code"] for w in api.ok("GET", f"/yard/{rig}")["rig"]["wheels"]]
    answers = {
        "light": "solid", "which": "?", "seen": "nothing", "gauge": gauge, "standing_h": 12, "aired": True,
        "readings": [{"wheel": w, "pressure": shown(api, w, "G1")} for w in codes if w in left.read],
        "left_out": [{"wheel": w, "reason": "Under the floor"} for w in codes if w not in left.read],
        "after": "out" if left.lamp == "spare" else "on",
    }  # fmt: skip
    api.ok("PUT", f"/rigs/{rig}/lamps/{uuid4()}", answers)


def do(api: Api, of: Exercise, drawn: Drawn, left: Left) -> None:
    """Does by the calls of real work what a record says was done."""
    rig = api.ok("GET", "/practice/try")["rig"]
    gauges = {g["label"]: g["id"] for g in api.ok("GET", "/gauges")}
    if left.corners:
        pads = {w: api.ok("POST", "/practice/try/look", {"wheel": w})["kg"] for w in drawn.scene.pads}
        axles = [{"left_kg": pads[f"{n}L"], "right_kg": pads[f"{n}R"]} for n in (1, 2)]
        day = timezone.now().date().isoformat()
        api.ok("POST", f"/rigs/{rig}/weighings", {"load_state": "trip-ready", "weighed_on": day, "axles": axles})
    if left.inflator:
        known = {i["label"]: i["id"] for i in api.ok("GET", "/inflators")}
        if left.inflator not in known:
            given = {"label": left.inflator, "supply": "clamps", "max_kpa": "850 kPa"}
            known[left.inflator] = api.ok("POST", "/inflators", given)["id"]
        api.ok("PUT", f"/rigs/{rig}/kit", {"items": [{"kind": "inflator", "inflator": known[left.inflator]}]})
    if left.chalk_next:
        trial = api.ok("GET", f"/rigs/{rig}/trials")["trials"][0]["id"]
        kpa = drawn.truth["now"] + (20 if left.chalk_next == "up" else -20)
        marks = {"left": ["left", "left", "left"], "right": ["left", "left", "left"]}
        api.ok("POST", f"/trials/{trial}/passes", {"uuid": str(uuid4()), "pressure": kpa} | marks)
    if left.lamp:
        _lamp(api, rig, left, gauges["G1"])
    elif left.read or (left.left_kpa and left.plan_open is None):
        _walk(api, rig, of, left, gauges, left.plan_open is not None)


LOADED = ("sidewall", "trailer", "duals", "thrice", "rounded", "even")


@pytest.mark.parametrize(("key", "act"), CASES)
def test_what_is_done_on_the_real_screens_is_judged(
    api: Api, seeded: Callable[[int], None], key: str, act: str
) -> None:
    """Right, and every mistake, done by the calls of real work in a world of its own."""
    of = EXERCISES[key]
    for seed in range(20):
        left = (of.wrong[act] if act else of.right)(drawn_of(key, seed))
        if left != Left():
            break
    seeded(seed)
    drawn = drawn_of(key, seed)
    made = begin(api, key)
    assert made["judgement"] is None
    do(api, of, drawn, left)
    said = api.ok("POST", "/practice/try/judge", {"reason": left.reason or next(iter(of.reasons))})["judgement"]
    if act:
        assert (said["right"], said["words"], said["comes_to"]) == (
            False,
            of.mistakes[act].name,
            of.mistakes[act].comes_to,
        )
    else:
        assert (said["right"], said["reason_right"], said["earned"]) == (True, True, 1.0)
    assert len(said["working"]) == len(drawn.working)
    # Beside it stands what they left themselves.
    stands = {line["what"]["text"]: line["result"] for line in said["left"]}
    assert f"Your reason: {of.reasons[left.reason or next(iter(of.reasons))]}" in stands
    for wheel, kpa in left.left_kpa.items() if key in LOADED else ():
        assert stands[f"You left {wheel} at"]["value"] == pytest.approx(kpa, abs=KPA_PSI), wheel
    assert api.no("POST", "/practice/try/judge", {"reason": next(iter(of.reasons))}, 409).startswith(
        "This try is judged"
    )


@pytest.mark.parametrize("key", LOADED)
def test_the_way_of_real_work_leads_to_the_number_that_wins(api: Api, seeded: Callable[[int], None], key: str) -> None:
    """Put in force from the weighing and the sheet, the target is the number that is judged right, to half a psi."""
    for seed in range(6):
        seeded(seed)
        truth = drawn_of(key, seed).truth
        rig = begin(api, key)["rig"]
        axles = api.ok("POST", f"/rigs/{rig}/targets", {})["axles"]
        number = 2 if key == "duals" else 1
        wanted = truth["floor"] if key == "even" else truth["wanted"]
        assert axles[number - 1]["target_kpa"] == pytest.approx(wanted, abs=KPA_PSI / 2), seed


@pytest.mark.parametrize("seed", range(4))
def test_a_receiver_plays_its_fault_on_the_rigs_own_screen(api: Api, seeded: Callable[[int], None], seed: int) -> None:
    seeded(seed)
    drawn = drawn_of("loop", seed)
    told = api.ok("GET", f"/rigs/{begin(api, 'loop')['rig']}/sensors")
    (front,) = [a for a in told["axles"] if a["name"] == "Front"]
    assert (front["low_kpa"], front["low_clears_kpa"]) == (
        pytest.approx(drawn.truth["sets"], abs=0.1), pytest.approx(drawn.truth["clears"], abs=0.1)
    )  # fmt: skip
    # One fell to where it sets and came back between the lines; the other came down from its target, or is below them too.
    grades = sorted(w["grade"] or "" for w in front["wheels"])
    assert grades == (["low", "low"] if drawn.named["because"] == "fault" else ["clear", "low"])
    told = api.ok("GET", f"/rigs/{begin(api, 'stale')['rig']}/sensors")
    wheels = [w for a in told["axles"] for w in a["wheels"]]
    assert {w["kpa"] and round(w["kpa"], 1) for w in wheels} == {round(drawn_of("stale", seed).truth["wanted"], 1)}
    assert len(told["glances"]) == 2
    assert api.ok("GET", f"/rigs/{begin(api, 'spare')['rig']}/sensors")["system"]["kind"] == "speed"


def test_nothing_done_is_open_hints_and_a_wrong_reason_cost(api: Api, seeded: Callable[[int], None]) -> None:
    of, drawn = EXERCISES["sidewall"], drawn_of("sidewall", 7)
    made = begin(api, "sidewall")
    assert (made["hints"], made["hints_left"], made["hint_costs"]) == ([], 2, 0.2)
    assert [api.ok("POST", "/practice/try/hint")["hints_left"] for _ in range(2)] == [1, 0]
    api.no("POST", "/practice/try/hint", None, 409)
    said = api.no("POST", "/practice/try/judge", {"reason": "load"}, 409)
    assert said == "Nothing to be judged is on record yet. Leave both front tires at what their load needs."
    api.no("POST", "/practice/try/judge", {"reason": "weather"}, 422, "reason")
    do(api, of, drawn, of.right(drawn))
    judged = api.ok("POST", "/practice/try/judge", {"reason": "feel"})["judgement"]
    # Two hints leave 0.6 of it, another reason half of that.
    assert (judged["right"], judged["reason_right"], judged["earned"]) == (True, False, pytest.approx(0.3))
    line = next(e for e in api.ok("GET", "/practice")["exercises"] if e["key"] == "sidewall")
    assert (line["done"], line["tries"], line["best"]) == (True, 1, pytest.approx(0.3))
    seeded(8)
    assert begin(api, "sidewall", again=True)["facts"] == made["facts"]
    assert begin(api, "sidewall")["facts"] != made["facts"]


def test_what_cannot_be_is_refused(api: Api) -> None:
    api.no("POST", "/practice/tries", {"exercise": "moon"}, 422, "exercise")
    api.no("POST", "/practice/tries", {"exercise": "stale", "again": True}, 422, "again")
    assert api.no("GET", "/practice/try", None, 409).startswith("This is no practice")
    begin(api, "stale")
    api.no("POST", "/practice/try/look", {"wheel": "9L", "gauge": "G1"}, 422, "wheel")
    api.no("POST", "/practice/try/look", {"wheel": "1L", "gauge": "G9"}, 422, "gauge")
    api.no("POST", "/practice/try/look", {"wheel": "1L"}, 422, "wheel")
    # Nobody is added to a practice, and its settings are the exercise's.
    new = {"name": "N", "username": "n", "password": "kelp-anchor-9", "role": "viewer"}
    assert api.no("POST", "/people", new, 403).startswith("Practice is one person's")


def test_a_gauge_shows_what_was_left_and_a_night_cools_it(api: Api, seeded: Callable[[int], None]) -> None:
    drawn = drawn_of("bled", 7)
    made = begin(api, "bled")
    assert made["warm"]
    assert shown(api, "1L", "G1") == pytest.approx(drawn.truth["hot"])
    gauges = {g["label"]: g["id"] for g in api.ok("GET", "/gauges")}
    left = Left({"1L": drawn.truth["cold"]}, frozenset(("1L",)), frozenset(("1L",)))
    _walk(api, made["rig"], EXERCISES["bled"], left, gauges, False)
    assert shown(api, "1L", "G1") == pytest.approx(drawn.truth["cold"], abs=0.1)
    before = timezone.now()
    assert not api.ok("POST", "/practice/try/night")["warm"]
    # Bled hot to its cold number, it is far below it in the morning; the others are where they were.
    assert shown(api, "1L", "G1") == pytest.approx(drawn.truth["bled"], abs=0.1)
    assert shown(api, "1R", "G1") == pytest.approx(drawn.truth["cold"], abs=0.1)
    # Practice has its own clock, and only practice.
    row = api.ok(
        "POST",
        f"/rigs/{made['rig']}/rounds",
        {"gauge": gauges["G1"], "standing_h": 12, "outside_c": 10, "elevation_m": 0},
    )
    assert row["opened_at"][:13] > before.isoformat()[:13]
    api.ok("POST", "/practice/leave")
    rig = api.ok("POST", "/rigs", {"kind": "van", "name": "Real", "axles": [{"tire_size": "225/75R16C 121/120R"}]})
    assert api.ok("GET", f"/rigs/{rig['id']}/history")[0]["at"][:13] == before.isoformat()[:13]


def test_of_practice_nothing_is_seen_outside_and_nothing_stays(
    aimed: Fleet, api_as: Callable[[str], Api], stranger: Api, settings: Any
) -> None:
    """No list, export, count or page of a real workspace changes by it; how it went only its person sees."""
    settings.DEMO = True
    manager, technician = aimed.api, api_as("technician")
    listed = [
        "/yard",
        "/rigs",
        "/gauges",
        "/tables",
        "/inflators",
        "/deflators",
        "/people",
        "/tires",
        "/tires.csv",
        "/surfaces",
    ]
    before = {path: manager.call("GET", path).getvalue() for path in listed}
    rows = {m: m._base_manager.count() for m in apps.get_models(include_auto_created=True)}
    tried = {}
    for key in ("which", "sand", "chalk", "stalls", "spare"):
        tried[key] = begin(technician, key)["rig"]
        if key == "stalls":
            of, drawn = EXERCISES[key], drawn_of(key, Try.objects.get(exercise=key).seed)
            do(technician, of, drawn, of.right(drawn))
            assert technician.ok("POST", "/practice/try/judge", {"reason": "spare"})["judgement"]["right"]
    assert {path: manager.call("GET", path).getvalue() for path in listed} == before
    for rig in tried.values():
        for path in (f"/rigs/{rig}", f"/rigs/{rig}/rounds.csv", f"/rigs/{rig}/card.pdf", f"/rigs/{rig}/sensors"):
            assert manager.call("GET", path).status_code == stranger.call("GET", path).status_code == 404
    session = technician.ok("GET", "/session")
    assert session["practice"]
    assert [w["name"] for w in session["workspaces"]] == ["Ours"]
    assert all(p["workspace"] in ("Ours", "Theirs") for p in Api(type(manager.client)()).ok("GET", "/session")["demo"])
    told = manager.ok("GET", "/practice/people")
    assert told == [
        {"name": n, "done": ["stalls"] if n == "Technician" else []} for n in ("Manager", "Technician", "Viewer")
    ]
    assert manager.ok("GET", "/practice")["done"] == 0
    assert technician.ok("GET", "/practice")["done"] == 1
    # In practice, her own: the manager's view is for a real workspace.
    technician.no("GET", "/practice/people", None, 403)
    assert technician.ok("DELETE", "/practice")["done"] == 0
    assert not technician.ok("GET", "/session")["practice"]
    gone = {m: m._base_manager.count() for m in rows}
    assert {m.__name__: gone[m] - n for m, n in rows.items() if gone[m] != n} in ({}, {"Session": 1}, {"Session": 2})


def test_another_try_takes_the_world_of_the_last_one_down(api: Api, people: dict[str, Any]) -> None:
    first = begin(api, "sidewall")
    assert api.ok("GET", "/practice")["open"] == "sidewall"
    begin(api, "stale")
    assert api.call("GET", f"/rigs/{first['rig']}").status_code == 404
    assert [(t.exercise, t.outcome) for t in Try.objects.all()] == [("stale", OPEN)]
    api.ok("POST", "/practice/leave")
    # It can be gone on with.
    there = api.ok("GET", "/practice")
    assert there["open"] == "stale"
    assert api.ok("PUT", "/session/workspace", {"workspace": there["workspace"]})["practice"]
    clear(people["manager"])
    assert api.call("GET", "/practice/try").status_code == 409


def test_the_simulated_road_goes_in_practice_and_not_outside(aimed: Fleet, settings: Any) -> None:
    settings.ROAD = ""
    run = {"seed": 1, "scene": "highway", "fault": "", "pace": 600}
    assert aimed.api.no("PUT", f"/rigs/{aimed.rig}/drives/{uuid4()}", run, 409).startswith("There is no simulated road")
    rig = begin(aimed.api, "only")["rig"]
    scene = next(iter(aimed.api.ok("GET", f"/rigs/{rig}/drives")["road"]["scenes"]))
    made = aimed.api.ok("PUT", f"/rigs/{rig}/drives/{uuid4()}", run | {"scene": scene})
    assert made["simulated"]["scene"]
    assert json.dumps(made)


@pytest.mark.skipif(CLUSTER, reason="copies are of files")
def test_what_a_copy_is_said_to_hold_leaves_practice_out_and_its_pictures_go_with_it(
    aimed: Fleet, api_as: Callable[[str], Api], settings: Any, tmp_path: Any, django_capture_on_commit_callbacks: Any
) -> None:
    settings.PICTURES = tmp_path
    row = aimed.open_round()
    aimed.read(row["id"], "1L", 624)
    told = counted(connection.connection)
    assert told == "4 people, 1 rigs, 1 rounds, 1 readings"
    technician = api_as("technician")
    rig = begin(technician, "which")["rig"]
    assert counted(connection.connection) == told
    technician.ok("PUT", f"/rigs/{rig}/pictures/{uuid4()}", body(taken(), place="label"))
    assert [p for p in tmp_path.rglob("*") if p.is_file()] != []
    with django_capture_on_commit_callbacks(execute=True):
        technician.ok("DELETE", "/practice")
    assert [p for p in tmp_path.rglob("*") if p.is_file()] == []
