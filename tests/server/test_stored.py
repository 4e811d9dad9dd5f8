"""Rounds as they are stored: a form that is brought up means the same, and no list reads it."""

import json
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from ballast.server.rounds import stored
from ballast.server.rounds.models import Round
from tests.browser.serving import DemoServer, Visitor
from tests.server.conftest import Fleet
from tests.server.test_rounds import sealed_round


def _told(server: DemoServer) -> dict[str, Any]:
    """What the server says of every rig, of every round of it, and of the Yard."""
    visitor = Visitor(server, "technician")
    yard = visitor.call("GET", "/yard")[1]
    # Who has which round to do is kept above rounds, and goes on the way back to before it.
    del yard["unassigned"]
    for rig in yard["rigs"]:
        del rig["assigned"]
    found: dict[str, Any] = {"yard": yard}
    for rig in found["yard"]["rigs"]:
        sheet = visitor.call("GET", f"/yard/{rig['id']}")[1]
        found[f"rig {rig['id']}"] = {n: sheet[n] for n in ("stages", "last_round", "open_round")}
        back = visitor.call("GET", f"/lookback/{rig['id']}")[1]
        found[f"back {rig['id']}"] = back
        for row in back["rounds"]:
            found[f"round {row['id']}"] = visitor.call("GET", f"/rounds/{row['id']}/sealed")[1]
    return found


def test_what_was_sealed_means_the_same_in_the_form_of_before_and_in_that_of_now(own_server: DemoServer) -> None:
    before = _told(own_server)
    assert len(before) > 200
    own_server.kill()
    own_server.manage("migrate", "rounds", "0008")
    own_server.manage("migrate")
    own_server.start()
    after = _told(own_server)
    assert before.keys() == after.keys()
    assert [k for k in before if json.dumps(before[k]) != json.dumps(after[k])] == []


def test_another_version_is_not_guessed_at(aimed: Fleet) -> None:
    row = Round.objects.get(pk=sealed_round(aimed))
    row.text.result["version"] = stored.VERSION + 1
    with pytest.raises(ValueError, match="Run the migrations"):
        stored.as_sealed(row.text)


def test_no_list_reads_the_text_of_a_round(aimed: Fleet) -> None:
    first = sealed_round(aimed)
    sealed_round(aimed)
    aimed.open_round()
    rig = aimed.rig
    for path in (
        "/yard", "/morning", f"/rigs/{rig}/morning", f"/lookback/{rig}", f"/lookback/{rig}/rounds", f"/lookback/{rig}/rounds?past={first}",
        f"/rigs/{rig}/rounds/left", f"/gauges/{aimed.gauge}/use", "/rigs", f"/rigs/{rig}/tires",
    ):  # fmt: skip
        with CaptureQueriesContext(
            connection,
        ) as asked:
            aimed.api.ok("GET", path)
        assert [q["sql"] for q in asked if "rounds_roundtext" in q["sql"]] == [], path
    with CaptureQueriesContext(connection) as asked:
        reply = aimed.api.call("GET", f"/lookback/{rig}/rounds.csv")
        assert reply.status_code == 200
        assert reply.getvalue().startswith(b"rig,read_at_utc")
    assert not any("rounds_roundtext" in q["sql"] for q in asked)
