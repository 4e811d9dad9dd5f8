"""Words with measures, and what a person wrote inside them."""

from hypothesis import given
from hypothesis import strategies as st

from ballast.core.working import join, kpa, meters, plain, say


def test_a_persons_braces_are_no_places_for_measures() -> None:
    said = say(f"Stop at {plain('{0} {Camp}')}, and set {{0}} there.", kpa(600))
    assert said.show("metric") == "Stop at (0) (Camp), and set 600 kPa there."


@given(st.text(max_size=60))
def test_whatever_a_person_writes_can_be_said(text: str) -> None:
    shown = say(f"{plain(text)}: {{0}}", kpa(600)).show("us")
    assert shown.endswith(": 87 psi")


def test_elevations_are_whole_and_parts_of_a_rig_are_not() -> None:
    assert say("{0} and {1}", meters(410), meters(6.1)).show("us") == "1,345 ft and 20 ft"
    assert say("{0} and {1}", meters(2650.4), meters(1.85)).show("metric") == "2,650 m and 1.85 m"


def test_phrases_are_joined_with_their_measures_counted_through() -> None:
    joined = join(say("The air took {0} off", kpa(45)), say("all read {0}, not {1}", kpa(3), kpa(4)), by="; ")
    assert joined.text == "The air took {0} off; all read {1}, not {2}"
    assert joined.show("metric") == "The air took 45 kPa off; all read 3 kPa, not 4 kPa"
    assert join(say("One.")).text == "One."
