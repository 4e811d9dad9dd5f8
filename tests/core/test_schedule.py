import datetime as dt

import pytest

from ballast.core.schedule import ROUND_EVERY_DAYS, WEIGH_EVERY_DAYS, ago, due

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
    assert ago(dt.date(2026, 12, 4), TODAY) == "on 4 Dec 2026"
