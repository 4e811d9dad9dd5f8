"""What is said of a rig holds until a day that is told with it: held against every day or minute one by one."""

import datetime as dt

import pytest

from ballast.core.ground import Around, Open, Stretch, changes_at, loud, open_words
from ballast.core.refusal import Refusal
from ballast.core.rigs import Fitted, ages_change, findings, read_size, walking_order
from ballast.core.rounds import LastWord
from ballast.core.standing import (
    Dated,
    Event,
    Facts,
    LaidUp,
    LastRound,
    OnNow,
    Ticket,
    UsedGauge,
    changes_on,
    foretells,
    matters,
    weighing_due,
    weighing_words,
)
from tests.core.samples import coach

DAY = dt.timedelta(days=1)
SIZE = read_size("245/70R19.5 135/133M")
TIRES = (
    Fitted("1L", SIZE, date_code="1219"),
    Fitted("1R", SIZE, date_code="4721"),
    Fitted("2Lo", SIZE, date_code="699"),
)


@pytest.mark.parametrize("replace", [4, 6, 10])
def test_of_their_age_tires_say_the_same_until_the_day_that_is_told(replace: float) -> None:
    rig = coach()
    wheels = walking_order(rig.axles, rig.kind, 1)

    def said(on: dt.date) -> object:
        return findings(rig, wheels, TIRES, on, replace)

    day, changes = dt.date(2021, 12, 1), 0
    while day < dt.date(2033, 1, 1):
        tells = ages_change(TIRES, day, replace)
        assert tells is not None
        assert tells > day
        while day < min(tells, dt.date(2033, 1, 1)):
            before, day = said(day), day + DAY
            assert (said(day) != before) <= (day == tells)
        changes += said(day) != before
    # A tenth of a year each 36.5 days, of two tires once both are old enough.
    assert changes > 12 * 10 * 0.9


def test_of_its_dates_a_rig_says_the_same_until_the_day_that_is_told() -> None:
    weighed, read = dt.date(2026, 2, 3), dt.datetime(2026, 11, 20, 8, tzinfo=dt.UTC)
    last = LastRound(read, (LastWord("1L", "hold", 1),), dt.date(2026, 11, 27), "A week after the last")

    def facts(on: dt.date, resting: bool) -> Facts:
        asked = (weighed, 0.0, 9000.0, on)
        ticket = Ticket(weighed, (), weighing_due(*asked), weighing_words(*asked))
        laid = LaidUp(dt.date(2026, 11, 21), dt.date(2026, 12, 24)) if resting else None
        return Facts(on, 2, 6, ticket, (), last=last, said=last.words, laid_up=laid)

    for resting, days in (
        (False, [dt.date(2026, 11, 27), dt.date(2027, 2, 3)]),
        (True, [dt.date(2026, 11, 27), dt.date(2026, 12, 24), dt.date(2027, 2, 3)]),
    ):
        day, told = dt.date(2026, 11, 20), []
        while tells := changes_on(facts(day, resting)):
            told.append(tells)
            while day < tells - DAY:
                day += DAY
                assert matters(facts(day, resting)) == matters(facts(day - DAY, resting))
            day = tells
        assert told == days
        # From then on it is the same for ever, but for how long ago that was.
        assert matters(facts(day + 999 * DAY, resting)) == matters(facts(day, resting))
    words = matters(facts(dt.date(2027, 2, 3), False))[0].on(dt.date(2027, 3, 5)).words
    assert words.text == "Weighed 13 months ago: weigh again"


@pytest.mark.parametrize("trip", [None, dt.date(2026, 12, 3)])
def test_an_open_plan_says_the_same_until_the_minute_that_is_told(trip: dt.date | None) -> None:
    opened = dt.datetime(2026, 11, 27, 6, 12, tzinfo=dt.UTC)
    plan = Open(opened, (Stretch("sand", "Sand", 25.0, False, False, {}),), 0)

    def said(at: dt.datetime) -> str:
        return open_words(plan, loud(plan, Around(at, trip))).text

    now = opened
    while now < opened + 9 * DAY:
        tells = changes_at(opened, now)
        assert tells > now
        # To the second before, but for the one in which a half is passed.
        for at in (now + dt.timedelta(minutes=m) for m in range(0, 1441)):
            if at < tells - dt.timedelta(seconds=2):
                assert said(at) == said(now)
        now = tells


def test_words_without_a_day_are_the_same_on_every_day() -> None:
    words = weighing_words(dt.date(2026, 2, 3), 0.0, 9000.0, dt.date(2026, 3, 1))
    assert words == Dated(words.words)
    assert words.on(dt.date(2030, 1, 1)) is words.words


def test_a_code_of_the_future_is_refused_as_it_is_where_tires_are_found() -> None:
    with pytest.raises(Refusal, match="lies in the future"):
        ages_change((Fitted("1L", SIZE, date_code="5026"),), dt.date(2026, 11, 29), 10)


def test_what_happened_at_a_wheel_is_over_once_it_was_read_again() -> None:
    read, day = dt.datetime(2026, 11, 20, 8, tzinfo=dt.UTC), DAY
    wheels = {"1L": OnNow(7, dt.date(2026, 1, 1), 620.0), "1R": OnNow(8, dt.date(2026, 1, 1), 620.0)}
    words = tuple(LastWord(c, "hold", 1, own=c, tire=t, target_kpa=620.0) for c, t in (("1L", 7), ("1R", 8)))
    last = LastRound(read, words, gauges=(UsedGauge("G2", read, read - day), UsedGauge("G4", read, read + 3 * day)))
    events = (
        Event("plug", read.date() + day, read + 5 * day, "1L"), Event("low", read.date() + day, read + day, "1R"),
        Event("lamp", read.date() - day, read - day), Event("fast loss", read.date() + day, read + day, "S1"),
    )  # fmt: skip
    now = last.by_now(1, wheels, events, train=(1,))
    assert [w.word for w in now.words] == ["not_checked", "not_checked"]
    # A spare that no round spoke of asks all the same; the lamp was before it, and G2 was known to be in doubt.
    assert now.overtaken == ("a plug at 1L", "a low alarm at 1R", "an alarm of a fast loss at S1", "gauge G4 in doubt")
    part = LastRound(read + 2 * day, words[:1])
    again = last.renewed(part).by_now(1, wheels, events, train=(1,))
    assert [w.word for w in again.words] == ["hold", "not_checked"]
    assert again.overtaken == ("a low alarm at 1R", "an alarm of a fast loss at S1", "gauge G4 in doubt")
    # One of before the whole round says nothing more.
    assert last.renewed(LastRound(read - day, words[:1])) == last


def test_what_was_read_foretells_nothing_once_its_air_was_moved() -> None:
    read, day = dt.datetime(2026, 11, 20, 8, tzinfo=dt.UTC), DAY
    low, cut = Event("low", read.date() + day, read + day, "1L"), Event("cut", read.date() + day, read + day, "1L")
    assert foretells(read, ()) == "it"
    assert foretells(read + 2 * day, (low, cut)) == "it"
    assert foretells(read, (low,)) == "its sensor"
    assert foretells(read, (low, cut)) == foretells(read, (cut,)) == "nothing"
