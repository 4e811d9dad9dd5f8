import datetime as dt

import pytest

from ballast.core.standing.due import (
    ROUND_EVERY_DAYS,
    WEIGH_EVERY_DAYS,
    NextCheck,
    ago,
    before_trip,
    due,
    next_check,
    round_due,
    sooner,
    weighing_due,
)

TODAY = dt.date(2026, 11, 25)


@pytest.mark.parametrize(
    ("last", "every", "over"),
    [(dt.date(2026, 11, 18), ROUND_EVERY_DAYS, 0), (dt.date(2026, 11, 19), ROUND_EVERY_DAYS, -1),
     (dt.date(2025, 11, 20), WEIGH_EVERY_DAYS, 5)],
)  # fmt: skip
def test_due_by_days(last: dt.date, every: int, over: int) -> None:
    found = due(last, every, TODAY)
    assert found.days_over == over
    assert found.now is (over >= 0)


def test_never_done_is_due() -> None:
    assert due(None, 7, TODAY).now


@pytest.mark.parametrize(
    ("days", "words"),
    [
        (0, "today"),
        (1, "yesterday"),
        (12, "12 days ago"),
        (60, "60 days ago"),
        (75, "2 months ago"),
        (450, "15 months ago"),
    ],
)
def test_how_long_ago(days: int, words: str) -> None:
    assert ago(TODAY - dt.timedelta(days=days), TODAY) == words


def test_a_day_ahead_is_named() -> None:
    assert ago(dt.date(2026, 12, 4), TODAY) == "on Dec 4, 2026"


@pytest.mark.parametrize(
    ("added", "gross", "now"),
    [(0, 10_000, False), (200, 10_000, False), (200.5, 10_000, True), (5000, None, False), (10, 0, False)],
)
def test_more_than_two_percent_put_aboard_asks_for_the_scale(added: float, gross: float | None, now: bool) -> None:
    last = dt.date(2026, 9, 13)
    found = weighing_due(last, added, gross, dt.date(2026, 11, 25))
    assert found.now is now
    assert found.on == (dt.date(2026, 11, 25) if now else dt.date(2027, 9, 13))


def test_an_overdue_weighing_stays_overdue_whatever_was_put_aboard() -> None:
    found = weighing_due(dt.date(2025, 8, 22), 900, 10_000, dt.date(2026, 11, 25))
    # Due on 22 August 2026, 95 days ago.
    assert (found.on, found.days_over, found.now) == (dt.date(2026, 8, 22), 95, True)


def test_never_weighed_is_due_now() -> None:
    assert weighing_due(None, 0, None, dt.date(2026, 11, 25)).now


LAST = dt.date(2026, 11, 18)


def test_the_next_check_is_the_usual_one_unless_a_tire_asks_for_it_sooner() -> None:
    usual = next_check(LAST, 7, ())
    assert usual.on == dt.date(2026, 11, 25)
    assert usual.words.startswith("A week after the last")
    assert next_check(LAST, 14, ()).words.startswith("14 days after")
    # The earliest rules; part of a day is not waited for, but never the same day.
    early = next_check(LAST, 7, (("left rear", 5.9), ("right rear", 3.2), ("spare", 40.0)))
    assert (early.on, early.words) == (dt.date(2026, 11, 21), "right rear")
    assert next_check(LAST, 7, (("stopped", 0.2),)).on == dt.date(2026, 11, 19)


def test_a_round_is_due_by_what_the_last_one_found() -> None:
    today = dt.date(2026, 11, 22)
    assert round_due(LAST, dt.date(2026, 11, 21), today).now
    assert not round_due(LAST, dt.date(2026, 11, 25), today).now
    # Rounds of before, and none at all.
    assert round_due(LAST, None, today).days_over == -3
    assert round_due(None, None, today).now
    assert sooner(LAST, dt.date(2026, 11, 24))
    assert not sooner(LAST, dt.date(2026, 11, 25))


def test_a_trip_brings_the_next_check_forward_to_the_day_it_begins() -> None:
    usual = NextCheck(dt.date(2026, 11, 25), "A week after")
    last = dt.date(2026, 11, 18)
    assert before_trip(usual, last, dt.date(2026, 11, 21)) == NextCheck(dt.date(2026, 11, 21), "The trip begins then")
    # Not after the usual day, not once it was read on the day, and not where nothing is planned.
    for leaves in (dt.date(2026, 11, 25), dt.date(2026, 12, 1), last, dt.date(2026, 11, 2), None):
        assert before_trip(usual, last, leaves) == usual
