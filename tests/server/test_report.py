"""A fleet's month: what was done and missed, found and mended, as rows and on paper."""

import csv
import datetime as dt
import io

import pytest

from ballast.core.lookback import Kept, kept
from ballast.server.rounds.models import Round, Service
from tests.server.conftest import COACH, NOW, Api, Fleet

WHEELS = ("1L", "1R", "2Lo", "2Li", "2Ri", "2Ro")


def sealed(fleet: Fleet, on: dt.date, low: str = "") -> int:
    """A whole round of a day, all at their targets but one; the next is due a week later."""
    round_id: int = fleet.open_round()["id"]
    targets = {w["code"]: w["here_kpa"] for w in fleet.api.ok("GET", f"/rounds/{round_id}")["wheels"]}
    for wheel in WHEELS:
        # The gauge reads some 4 kPa high.
        fleet.read(round_id, wheel, targets[wheel] + 4 - (40 if wheel == low else 0))
    fleet.api.ok("POST", f"/rounds/{round_id}/seal", {"unread_reason": "dark"})
    at = dt.datetime.combine(on, dt.time(12), dt.UTC)
    Round.objects.filter(pk=round_id).update(opened_at=at, sealed_at=at, next_on=on + dt.timedelta(days=7))
    Service.objects.filter(round=round_id).update(at=at)
    return round_id


def test_a_month_is_counted_by_hand(aimed: Fleet) -> None:
    other = aimed.api.ok("POST", "/rigs", COACH | {"name": "Beacon", "fleet_number": "CF-02"})["id"]
    # Due on Nov 7, done on the 6th; due on the 13th, done on the 17th; due on the 24th, not done.
    for on in (dt.date(2026, 10, 31), dt.date(2026, 11, 6)):
        sealed(aimed, on)
    last = sealed(aimed, dt.date(2026, 11, 17), low="1L")
    Service.objects.update(named=False)
    told = aimed.api.ok("GET", "/report?month=2026-11")
    assert (told["first"], told["last"], told["rounds"]) == ("2026-11-01", "2026-11-30", 2)
    assert (told["on_time"], told["late"], told["missed"]) == (1, 1, 1)
    assert {i + 1: n for i, n in enumerate(told["days"]) if n} == {6: 1, 17: 1}
    assert len(told["days"]) == 30
    assert told["people"] == [{"name": "Manager", "rounds": 2}]
    assert {s["word"]: s["count"] for s in told["said"]} == {"add": 1, "hold": 11}
    rigs = {r["rig"]: r for r in told["rigs"]}
    assert (rigs[aimed.rig]["read"], rigs[aimed.rig]["out"], rigs[aimed.rig]["rounds"]) == (12, 1, 2)
    assert (rigs[other]["rounds"], rigs[other]["read"], rigs[other]["missed"]) == (0, 0, 0)
    # A leak that the last round names, and the round before did not.
    assert (told["found"], told["mended"]) == (0, 0)
    Service.objects.filter(round=last, wheel="1L").update(named=True)
    assert aimed.api.ok("GET", "/report?month=2026-11")["found"] == 1
    Service.objects.filter(round=last, wheel="1L").update(named=False, left_kpa=700, found_kpa=660)
    Service.objects.filter(wheel="1L", at__date=dt.date(2026, 11, 6)).update(named=True)
    told = aimed.api.ok("GET", "/report?month=2026-11")
    assert (told["found"], told["mended"], told["filled"], told["filled_kpa"]) == (1, 1, 1, 40)
    # What was named before the month began is no leak that this month found.
    Service.objects.filter(wheel="1L", at__date=dt.date(2026, 10, 31)).update(named=True)
    told = aimed.api.ok("GET", "/report?month=2026-11")
    assert (told["found"], told["mended"]) == (0, 1)
    # October: one round, nothing fell due.
    told = aimed.api.ok("GET", "/report?month=2026-10")
    assert (told["rounds"], told["on_time"], told["late"], told["missed"]) == (1, 0, 0, 0)


def test_it_is_a_file_and_a_sheet_too(aimed: Fleet, stranger: Api) -> None:
    sealed(aimed, dt.date(2026, 11, 17))
    reply = aimed.api.call("GET", "/report.csv?month=2026-11")
    (row,) = csv.DictReader(io.StringIO(reply.content.decode()))
    assert (row["rig"], row["rounds"], row["checks_missed"], row["tires_read"]) == ("CF-01 Almagest", "1", "1", "6")
    paper = aimed.api.call("GET", "/report.pdf?month=2026-11")
    assert paper.content.startswith(b"%PDF")
    assert 'filename="tires-2026-11.pdf"' in paper["Content-Disposition"]
    assert stranger.ok("GET", "/report?month=2026-11")["rigs"] == []
    assert aimed.api.ok("GET", "/report")["month"] == f"{NOW:%Y-%m}"
    # Of a month in which nothing is done yet there is nothing to say.
    Round.objects.update(opened_at=NOW - dt.timedelta(days=NOW.day))
    assert aimed.api.ok("GET", "/report")["month"] == f"{NOW - dt.timedelta(days=NOW.day):%Y-%m}"


def test_the_report_takes_no_more_queries_with_more_rigs(aimed: Fleet, django_assert_max_num_queries: object) -> None:
    for n in range(3):
        aimed.api.ok("POST", "/rigs", COACH | {"name": f"Bus {n}", "fleet_number": f"B-{n}"})
    aimed.api.ok("GET", "/report")
    with django_assert_max_num_queries(23):  # type: ignore[operator]
        aimed.api.ok("GET", "/report")


@pytest.mark.parametrize("month", ["2026-13", "nonsense", "26-1", "1899-01"])
def test_what_is_no_month_is_told(api: Api, month: str) -> None:
    assert api.call("GET", f"/report?month={month}").status_code == 422


@pytest.mark.parametrize(
    ("days", "said"),
    [
        ([], Kept()),
        # Read each week, the last one within it.
        ([1, 8, 15, 22, 29], Kept(on_time=4)),
        # The next falls due today or later: not missed yet.
        ([24], Kept()),
        ([1, 24], Kept(late=1)),
        ([1, 20], Kept(late=1, missed=1)),
        ([1], Kept(missed=1)),
    ],
)
def test_how_checks_are_kept(days: list[int], said: Kept) -> None:
    checks = [(dt.date(2026, 11, d), dt.date(2026, 11, d) + dt.timedelta(days=7)) for d in days]
    assert kept(checks, dt.date(2026, 11, 1), dt.date(2026, 11, 30), dt.date(2026, 11, 30)) == said
