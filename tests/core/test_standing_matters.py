"""What there is to say of a rig: what is the same of several tires once, with their number."""

import datetime as dt

from ballast.core.rigs import Fitted, findings, read_size, walking_order
from ballast.core.standing import Facts, matters
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
