"""A forecast as people paste it, or as a CSV with its columns chosen."""

import datetime as dt

import pytest

from ballast.core.air import Columns, ForecastDay, check_forecast, coming_days, dawn_days, forecast_holds, read_forecast
from ballast.core.refusal import Refusal

# A Friday.
TODAY = dt.date(2026, 11, 27)


def days(text: str, columns: Columns | None = None, degrees: str = "°F") -> list[tuple[str, float, float | None]]:
    read = read_forecast(text, TODAY, degrees, columns)  # type: ignore[arg-type]
    assert not read.refused, read.refused
    return [(f"{d.on:%m-%d}", round(d.low_c, 1), None if d.high_c is None else round(d.high_c, 1)) for d in read.days]


@pytest.mark.parametrize(
    ("text", "read"),
    [
        # 28 °F is −2.2 °C, 45 °F is 7.2 °C.
        ("Sat 28 45", ("11-28", -2.2, 7.2)),
        ("Saturday, Nov 28: high 45, low 28", ("11-28", -2.2, 7.2)),
        ("2026-11-28 -2,5 C 8,1 C", ("11-28", -2.5, 8.1)),
        ("tomorrow 28°F/45°F", ("11-28", -2.2, 7.2)),
        ("29.11. −2°C – 8°C", ("11-29", -2.0, 8.0)),
        ("12/1 45/28", ("12-01", -2.2, 7.2)),
        # November 12 has passed, so it is December 11.
        ("12/11 28 45", ("12-11", -2.2, 7.2)),
        ("1 Dec 28", ("12-01", -2.2, None)),
        ("today 28 45", ("11-27", -2.2, 7.2)),
        ("Thu 28 45", ("12-03", -2.2, 7.2)),
    ],
)
def test_lines_as_people_paste_them(text: str, read: tuple[str, float, float | None]) -> None:
    assert days(text) == [read]


@pytest.mark.parametrize(
    "text",
    [
        "day,low,high\nNov 28,28,45\nNov 29,30,44", "date;max;min\n2026-11-28;45;28\n2026-11-29;44;30",
        "Nov 28\t28\t45\nNov 29\t30\t44", "when,words,a,b\n11/28,sun,45 F,28 F\n11/29,rain,44 F,30 F",
    ],
)  # fmt: skip
def test_a_table_by_its_heads_or_by_what_stands_in_it(text: str) -> None:
    assert days(text) == [("11-28", -2.2, 7.2), ("11-29", -1.1, 6.7)]


def test_a_decimal_comma_is_no_column() -> None:
    assert days("2026-11-28 -2,5 8,1\n2026-11-29 -3,5 7,1", degrees="°C") == [
        ("11-28", -2.5, 8.1), ("11-29", -3.5, 7.1),
    ]  # fmt: skip


def test_columns_that_nothing_tells_are_asked_for_and_chosen() -> None:
    text = "Nov 28,28,45,60\nNov 29,30,44,80"
    asked = read_forecast(text, TODAY, "°F")
    assert (asked.columns, asked.days, len(asked.heads), asked.refused[0].line) == (None, (), 4, 0)
    assert days(text, Columns(0, 1, 2)) == [("11-28", -2.2, 7.2), ("11-29", -1.1, 6.7)]
    assert days(text, Columns(0, 1)) == [("11-28", -2.2, None), ("11-29", -1.1, None)]
    assert read_forecast(text, TODAY, "°F", Columns(0, 7)).refused[0].words == "There is no column 8; it has 4."


def test_every_line_that_is_not_understood_is_told_at_once() -> None:
    read = read_forecast("Sat 28 45\nfoo\nNov 31 3 4\n\nSun 1 2 3\nDec 24 3 4\n11/12/27 3 4", TODAY, "°F")
    assert [(r.line, r.words[:24]) for r in read.refused] == [
        (2, "No day is named. Begin i"), (3, "Nov has no day 31. Check"), (5, "3 numbers beside the day"),
        (6, "Dec 24, 2026 is not amon"), (7, "“11/12/27” is no day ahe"),
    ]  # fmt: skip
    with pytest.raises(Refusal, match="Nothing is pasted"):
        read_forecast(" \n", TODAY, "°F")


def test_month_and_day_in_either_order_are_the_one_that_lies_ahead() -> None:
    # The two readings of 12/9 lie three months apart: on December 8 only the 9th is near, whichever way it is written.
    either = read_forecast("12/9 3 4\n9/12 3 4", dt.date(2026, 12, 8), "°F")
    assert [r.words for r in either.refused] == ["Dec 9, 2026 stands twice. Leave one of the two."]
    # January 18: of January 2 and February 1 the second lies ahead; over the turn of the year the next one does.
    assert read_forecast("1/2 28", dt.date(2027, 1, 18), "°F").days[0].on == dt.date(2027, 2, 1)
    assert read_forecast("1/2 28", dt.date(2026, 12, 28), "°F").days[0].on == dt.date(2027, 1, 2)


def test_days_that_contradict_each_other_are_refused() -> None:
    day = ForecastDay(TODAY, -2, 8)
    for wrong in (
        [day, day],
        [ForecastDay(TODAY, 9, 8)],
        [ForecastDay(TODAY + dt.timedelta(days=i), 0) for i in range(17)],
    ):
        with pytest.raises(Refusal):
            check_forecast(wrong)
    check_forecast([day, ForecastDay(TODAY + dt.timedelta(days=1), -2)])


def test_a_dawn_comes_until_eight_by_its_own_clock() -> None:
    # 12:00 in Greenwich is 05:00 at seven hours west: the dawn of this day, at six, is an hour off.
    noon = dt.datetime(2026, 11, 27, 12, tzinfo=dt.UTC)
    assert dawn_days(TODAY, noon, -420) == pytest.approx(1 / 24)
    assert dawn_days(TODAY, noon + dt.timedelta(hours=2), -420) == 0.0
    assert dawn_days(TODAY, noon + dt.timedelta(hours=3), -420) is None
    assert dawn_days(TODAY + dt.timedelta(days=1), noon, -420) == pytest.approx(25 / 24)
    assert dawn_days(TODAY, noon, 0) is None


def test_a_dawn_that_was_typed_counts_before_the_forecast_of_it() -> None:
    # At noon in Greenwich the next dawn is at six, 18 hours ahead; the one after it 42.
    noon = dt.datetime(2026, 11, 27, 12, tzinfo=dt.UTC)
    week = [ForecastDay(TODAY + dt.timedelta(days=n), float(-n), 8.0) for n in (0, 1, 2)]
    told = [(d.low_c, d.high_c, round(d.days * 24)) for d in coming_days(-9.0, None, week, noon, 0)]
    assert told == [(-9.0, 8.0, 18), (-2.0, 8.0, 42)]
    # A forecast that begins the day after leaves the coming dawn to what was typed.
    later = coming_days(-9.0, None, week[2:], noon, 0)
    assert [(d.on, d.low_c, d.days) for d in later] == [(None, -9.0, 1.0), (week[2].on, -2.0, 1.75)]
    assert [d.low_c for d in coming_days(None, None, week, noon, 0)] == [-1.0, -2.0]
    assert coming_days(None, None, (), noon, 0) == ()


def test_a_forecast_is_gone_by_for_three_days() -> None:
    given = dt.datetime(2026, 11, 27, 12, tzinfo=dt.UTC)
    assert forecast_holds(given, given + dt.timedelta(hours=72))
    assert not forecast_holds(given, given + dt.timedelta(hours=73))
    assert not forecast_holds(None, given)
