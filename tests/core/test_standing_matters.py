"""What there is to say of a rig: what is the same of several tires once, with their number."""

import datetime as dt

import pytest

from ballast.core.refusal import Refusal
from ballast.core.rigs import Fitted, findings, read_size, walking_order
from ballast.core.standing import Dated, Due, Facts, LaidUp, LastRound, Ticket, check_laid_up, matters, stages
from ballast.core.working import kpa, say
from tests.core.samples import coach

TODAY = dt.date(2026, 11, 27)
SIZE = read_size("245/70R19.5 135/133M")


def of_age(**codes: str) -> list[tuple[str, str]]:
    """The matters of a coach whose tires have these date codes."""
    rig = coach()
    wheels = walking_order(rig.axles, rig.kind, 1)
    noticed = findings(rig, wheels, [Fitted(at, SIZE, date_code=made) for at, made in codes.items()], TODAY, 10)
    spoken = matters(Facts(TODAY, 2, 6, None, None, findings=noticed))
    return [(m.words.show("us"), m.state) for m in spoken if "old" in m.words.text]


def test_tires_as_old_as_each_other_are_told_once() -> None:
    # Made on Monday 18 March 2019: 2,811 days, 7.7 years. Made on 22 November 2021: 1,831 days, 5.0 years.
    assert of_age(**{"1L": "1219", "1R": "1219", "2Lo": "4721", "2Li": "1219"}) == [
        ("3 tires 7.7 years old: have them inspected every year", "quiet"),
        ("Rear left, outer: 5.0 years old: have it inspected every year", "quiet"),
    ]


def test_what_is_to_be_replaced_is_told_apart_from_what_is_to_be_inspected() -> None:
    # Week 16 of 2016 is 10.6 years ago.
    assert of_age(**{"1L": "1616", "1R": "1616", "2Lo": "1219"}) == [
        ("2 tires 10.6 years old: replace them, whatever their tread", "attention"),
        ("Rear left, outer: 7.7 years old: have it inspected every year", "quiet"),
    ]


# Laid up on November 20 until March 15, last read on November 19.
WINTER = LaidUp(dt.date(2026, 11, 20), dt.date(2027, 3, 15), 550.0, "covered, {dry}")
READ = dt.datetime(2026, 11, 19, 8, tzinfo=dt.UTC)


def laid_up(today: dt.date, read: dt.datetime = READ, at: LaidUp = WINTER) -> Facts:
    last = LastRound(read, (), read.date() + dt.timedelta(days=7), "A week after the last")
    again = Due(dt.date(2026, 12, 1), (today - dt.date(2026, 12, 1)).days)
    ticket = Ticket(dt.date(2025, 12, 1), (), again, Dated(say("Weighed {ago}: weigh again"), dt.date(2025, 12, 1)))
    return Facts(today, 2, 6, ticket, (), last=last, laid_up=at)


def test_what_is_due_rests_while_a_rig_is_laid_up() -> None:
    resting = laid_up(dt.date(2027, 3, 14))
    spoken = [(m.state, m.words.show("metric")) for m in matters(resting)]
    assert spoken == [("quiet", "Laid up until Mar 15, 2027, kept at 550 kPa: covered, (dry)")]
    assert {s.key: s.words.text for s in stages(resting)}["rounds"] == "laid up until Mar 15, 2027"
    assert resting.next_on == dt.date(2027, 3, 15)


def test_on_its_day_a_round_asks_for_itself_until_one_is_sealed() -> None:
    rising = laid_up(dt.date(2027, 3, 15))
    assert [(m.state, m.on(rising.today).words.show("metric")) for m in matters(rising)] == [
        ("todo", "Laid up until Mar 15, 2027 (it was kept at 550 kPa): read every tire before it rolls"),
        ("todo", "Weighed 15 months ago: weigh again"),
    ]
    # A reading of the day before does not count: it may have rested since.
    before = laid_up(dt.date(2027, 3, 16), dt.datetime(2027, 3, 14, 8, tzinfo=dt.UTC))
    assert matters(before)[0].words.text.endswith("read every tire before it rolls")
    read = laid_up(dt.date(2027, 3, 16), dt.datetime(2027, 3, 15, 8, tzinfo=dt.UTC))
    assert [m.on(read.today).words.text for m in matters(read)] == ["Weighed 15 months ago: weigh again"]
    assert read.next_on == dt.date(2027, 3, 22)


def test_a_trip_wakes_it_earlier_and_no_trip_lays_it_up_longer() -> None:
    leaves = dt.date(2027, 1, 5)
    assert WINTER.before(leaves).words(READ.date(), TODAY) == say(
        "Laid up until Jan 5, 2027, a trip begins then, kept at {0}: covered, (dry)", kpa(550.0)
    )
    assert WINTER.before(leaves).stands(READ.date(), leaves) == "rising"
    assert WINTER.before(dt.date(2027, 4, 1)) == WINTER.before(None) == WINTER


@pytest.mark.parametrize(
    ("until", "kept", "field"),
    [(TODAY, None, "until"), (dt.date(2031, 1, 1), None, "until"), (dt.date(2027, 3, 1), 560.0, "kept")],
)
def test_laid_up_never_above_a_ceiling_nor_until_a_day_that_passed(
    until: dt.date, kept: float | None, field: str
) -> None:
    with pytest.raises(Refusal) as no:
        check_laid_up(until, kept, (None, 690.0, 551.6), TODAY)
    assert no.value.field == field


def test_laid_up_at_its_ceiling_or_with_none_known() -> None:
    check_laid_up(dt.date(2027, 3, 1), 552.0, (690.0, 551.6), TODAY)
    check_laid_up(dt.date(2027, 3, 1), 900.0, (None,), TODAY)
