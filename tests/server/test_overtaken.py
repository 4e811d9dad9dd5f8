"""What a round said is no word of another tire, nor beside another target."""

import datetime as dt
from importlib import import_module
from typing import Any

from django.apps import apps

from ballast.server.rounds.models import Round
from tests.server.conftest import Fleet
from tests.server.test_rounds import GOOD, sealed_round


def sealed_good(fleet: Fleet) -> int:
    view = fleet.open_round()
    for wheel, kpa in GOOD.items():
        fleet.read(view["id"], wheel, kpa)
    fleet.api.ok("POST", f"/rounds/{view['id']}/seal", {})
    return int(view["id"])


def said(fleet: Fleet) -> tuple[str, list[str]]:
    line = fleet.api.ok("GET", "/yard")["rigs"][0]
    words = [line["words"], *line["more"]]
    return line["state"], [w["text"].format(*(v["value"] for v in w["values"])) for w in words]


def marks(fleet: Fleet) -> dict[str, str]:
    tires = fleet.api.ok("GET", f"/yard/{fleet.rig}")["last_round"]["tires"]
    return {t["code"]: t["overtaken"] for t in tires if t["overtaken"]}


def fit(fleet: Fleet, wheel: str, on: dt.date = dt.date(2026, 11, 25)) -> None:
    fleet.api.ok("POST", f"/rigs/{fleet.rig}/fittings", {"wheel": wheel, "new": {}, "fitted_on": on.isoformat()})


def test_another_tire_is_not_checked_and_asks_for_a_round_at_once(aimed: Fleet) -> None:
    fit(aimed, "1L", dt.date(2026, 11, 1))
    aimed.targets()
    sealed_good(aimed)
    assert said(aimed) == ("fine", ["All hold, read today"])
    # Of the same day: that it was fitted after the round its number tells.
    fit(aimed, "1L")
    aimed.targets()
    state, words = said(aimed)
    assert state == "todo"
    assert words == ["1 tire not checked", "Round due: another tire at 1L since the last, today"]
    assert marks(aimed) == {"1L": "another tire"}
    due = aimed.api.ok("GET", "/schedule")["dues"]
    assert [(d["kind"], d["why"]["text"]) for d in due if d["kind"] == "round"] == [
        ("round", "Since the last: another tire at 1L")
    ]
    stage = next(s for s in aimed.api.ok("GET", f"/yard/{aimed.rig}")["stages"] if s["key"] == "rounds")
    assert (stage["state"], stage["words"]["text"]) == ("todo", "due, last today")
    sealed_good(aimed)
    assert said(aimed) == ("fine", ["All hold, read today"])


def test_a_tire_written_down_after_the_round_is_the_one_that_was_read(aimed: Fleet) -> None:
    sealed_good(aimed)
    fit(aimed, "1L", dt.date(2026, 11, 1))
    aimed.targets()
    assert said(aimed) == ("fine", ["All hold, read today"])
    assert marks(aimed) == {}


def test_beside_another_target_nothing_holds_before_it_is_read(aimed: Fleet) -> None:
    sealed_good(aimed)
    # The same again is no other.
    aimed.targets()
    assert said(aimed) == ("fine", ["All hold, read today"])
    before = [a["target_kpa"] for a in aimed.api.ok("GET", f"/yard/{aimed.rig}")["targets"]["axles"]]
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/targets", {"reserve": 0.15})
    after = [a["target_kpa"] for a in aimed.api.ok("GET", f"/yard/{aimed.rig}")["targets"]["axles"]]
    assert all(b < a for b, a in zip(before, after, strict=True))
    state, words = said(aimed)
    assert state == "todo"
    assert words[0] == "6 tires not checked"
    assert words[1].startswith("Round due: another target at 1L, ")
    # Its spare has a pressure of its own.
    assert marks(aimed) == dict.fromkeys(("1L", "1R", "2Lo", "2Li", "2Ri", "2Ro"), "another target")


def test_rounds_of_before_it_was_kept_are_told_by_their_text(aimed: Fleet) -> None:
    fit(aimed, "1L", dt.date(2026, 11, 1))
    aimed.targets()
    row = Round.objects.get(pk=sealed_good(aimed))
    kept: Any = row.last_words
    for word in kept["value"]:
        for name in ("own", "tire", "target_kpa"):
            word.pop(name)
    row.save()
    import_module("ballast.server.rounds.migrations.0014_last_words")._keep(apps, None)
    fit(aimed, "1L")
    aimed.targets()
    assert said(aimed)[1][0] == "1 tire not checked"
    assert sealed_round(aimed)
