"""The lamp came on: the guided way from the light to its cause, one step after the other, by what was answered so far.

The way is data: rows that ask for facts, and the first that finds its own is the next step. A phone without a network carries
the same rows, and looks up in them.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ballast.core.sensors.numbers import OVERNIGHT_H
from ballast.core.working import Phrase, plain, say

Light = Literal["solid", "flashing"]
Seen = Literal["nothing", "object", "flat"]
After = Literal["out", "on"]
StepKey = Literal["light", "which", "look", "read", "air", "roll", "end"]
Outcome = Literal["stop", "leak", "weather", "spare", "sensor", "threshold", "unread"]
OUTCOMES: dict[str, str] = {
    "stop": "Stopped for a tire",
    "leak": "One may leak",
    "weather": "Colder air",
    "spare": "The spare was low",
    "sensor": "The sensor, to be seen to",
    "threshold": "It lights close to the target",
    "unread": "A tire was not read",
}
LIGHTS: dict[Light, str] = {"solid": "It stays on", "flashing": "It flashes first, then stays on"}
LOOKED: dict[Seen, str] = {
    "nothing": "Nothing to be seen",
    "object": "Something stuck in a tire",
    "flat": "A tire flat, soft, bulged or cut",
}
AFTER: dict[After, str] = {"out": "It went out", "on": "It is still on"}
# The words of a tire that was not read, or not well enough.
UNREAD = ("not_checked", "cannot_tell")
# Tires that lack about the same share of their target lack it for the same reason.
ALIKE = 0.03
# What is known by the answers: see `facts`.
Fact = Literal[
    "lit", "flashing", "which", "seen", "flat", "object", "read", "stopped", "left", "low", "aired", "after", "on", "left_out",
    "low_on_road", "alike", "one",
]  # fmt: skip
# Whose names stand in the words: see `named`.
Named = Literal["", "stopped", "left", "low", "left_out", "why_left_out", "own"]
_SERVICE = "Let a tire service see to it; the vehicle's handbook and local law come first."

_TOMORROW = f"Read cold tomorrow, and open a round. {_SERVICE}"
_UNREAD = "The tires that were read do not explain it, and {names} was not read: it may be the one. Read it first."


@dataclass(frozen=True)
class Stood:
    """How it stood before it is read [h]."""

    hours: float
    name: str


STOOD = (Stood(0.0, "Just off the road"), Stood(1.0, "Stood an hour"), Stood(OVERNIGHT_H, "Stood overnight"))


@dataclass(frozen=True)
class Read:
    """A tire as it was read and judged like in a round: the word of its answer, what it lacks as a share of its target.

    `lacks` None: its target is not known, or it was not read.
    """

    code: str
    name: str
    spare: bool
    word: Literal["stop", "add", "let_out", "hold", "cannot_tell", "not_checked"]
    lacks: float | None = None


@dataclass(frozen=True)
class Answers:
    """What was answered so far; None and empty: not yet. `which`: the wheel that the display names, "?": it names none."""

    light: Light | None = None
    which: str = ""
    seen: Seen | None = None
    reads: tuple[Read, ...] = ()
    aired: bool = False
    after: After | None = None
    # Names of tires that could not be read, with the reason.
    left_out: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class Step:
    """What is to be done next, in words; at the end with what it came to."""

    key: StepKey
    words: Phrase
    notes: tuple[Phrase, ...] = ()
    outcome: Outcome | None = None


@dataclass(frozen=True)
class GuideWay:
    """A step, or a note beside it, where all that it asks for `holds` and nothing that it `lacks` does; `{names}` are of `named`."""

    words: str
    holds: tuple[Fact, ...] = ()
    lacks: tuple[Fact, ...] = ()
    named: Named = ""
    key: StepKey = "end"
    outcome: Outcome | None = None


# The first that fits is next. A tire that must be stopped for ends it; nothing is concluded before every tire was read, the spare too.
WAYS: tuple[GuideWay, ...] = (
    GuideWay("Slow down, and stop where it is safe. Does the lamp stay on, or does it flash first?", (), ("lit",), key="light"),
    GuideWay("Does a display say which tire?", (), ("which",), key="which"),
    GuideWay("Walk around it and look at every tire, on both sides.", (), ("seen",), key="look"),
    GuideWay(f"Do not drive on it. Fit the spare as the handbook says, or call for help. {_SERVICE}", ("flat",), outcome="stop"),
    GuideWay(f"Stop: inspect {{names}}. No air and no driving before somebody looked at it. {_SERVICE}", ("stopped",), (), "stopped",
        outcome="stop"),
    GuideWay("Read every tire with a gauge, the spare too. Not yet: {names}.", ("left",), (), "left", "read"),
    GuideWay("Read every tire with a gauge, the spare too.", (), ("read",), key="read"),
    GuideWay("Add air to {names}, until the gauge shows what stands beside it.", ("low",), ("aired",), "low", "air"),
    GuideWay("Roll as the handbook says, ten minutes or more, and look at the lamp again.", (), ("after",), key="roll"),
    GuideWay(_UNREAD, ("left_out", "on"), (), "left_out", outcome="unread"),
    GuideWay(_UNREAD, ("left_out",), ("low",), "left_out", outcome="unread"),
    GuideWay(f"The tires are at their numbers and the lamp stays on: the sensor, have it seen to. {_SERVICE}", ("on",), outcome="sensor"),
    GuideWay("No tire was low, and it went out: it lights close to where the tires stand. Write its threshold down with the rig.",
        (), ("low",), outcome="threshold"),
    GuideWay("It was the spare: it is heard too. Read it again in a week.", (), ("low_on_road",), outcome="spare"),
    GuideWay("All lacked about alike: the air is colder than when they were set, and no tire leaks alone. A cold round sets them right.",
        ("alike",), ("object",), outcome="weather"),
    GuideWay(f"{{names}} lacked more than the others: it may leak. {_TOMORROW}", ("one",), (), "own", outcome="leak"),
    GuideWay(f"{{names}} lacked more than the others: they may leak. {_TOMORROW}", (), ("one",), "own", outcome="leak"),
)  # fmt: skip
# Each that fits stands beside the step.
NOTES: tuple[GuideWay, ...] = (
    GuideWay("Flashing means a fault, or a spare in use that is not heard, not a pressure. The handbook says which. Read the tires all the same.",
        ("flashing",)),
    GuideWay("Leave it in: pulled out, the air goes at once. Read all the same, and drive no further than you must.", ("object",)),
    GuideWay("Not read, and so not known: {names}.", ("left_out",), (), "why_left_out"),
)  # fmt: skip

# Without a network, once the air that a phone knows is an old one.
OLD_AIR = say("Too old to judge a reading by. Compare the tires of an axle: one far below the other is not driven on.")


def named(of: Answers) -> dict[Named, tuple[str, ...]]:
    """Which tires the words of a way can be about, by their names in a sentence."""
    low = [r for r in of.reads if r.word == "add"]
    on_road = [r for r in low if not r.spare]
    # Those that lack more than the least of all do for a reason of their own.
    least = min((r.lacks for r in of.reads if not r.spare and r.lacks is not None), default=0.0)
    own = [r for r in on_road if r.lacks is None or r.lacks > least + ALIKE] or on_road
    reads: dict[Named, Sequence[Read]] = {
        "stopped": [r for r in of.reads if r.word == "stop"],
        "left": [r for r in of.reads if r.word in UNREAD],
        "low": low,
        "own": own,
    }
    return {name: tuple(r.name.lower() for r in found) for name, found in reads.items()} | {
        "left_out": tuple(name.lower() for name, _ in of.left_out),
        "why_left_out": tuple(f"{name.lower()} ({reason})" for name, reason in of.left_out),
    }


def facts(of: Answers) -> frozenset[Fact]:
    """What is known by the answers so far."""
    names = named(of)
    rolling = [r for r in of.reads if not r.spare]
    on_road = [r for r in rolling if r.word == "add"]
    lacks = [r.lacks for r in on_road if r.lacks is not None]
    alike = len(on_road) == len(rolling) > 1 and len(lacks) == len(on_road) and max(lacks) - min(lacks) <= ALIKE
    known: dict[Fact, bool] = {
        "lit": of.light is not None, "flashing": of.light == "flashing", "which": bool(of.which), "seen": of.seen is not None,
        "flat": of.seen == "flat", "object": of.seen == "object", "read": bool(of.reads), "stopped": bool(names["stopped"]),
        "left": bool(names["left"]), "low": bool(names["low"]), "aired": of.aired, "after": of.after is not None,
        "on": of.after == "on", "left_out": bool(of.left_out), "low_on_road": bool(on_road), "alike": alike,
        "one": len(names["own"]) == 1,
    }  # fmt: skip
    return frozenset(fact for fact, so in known.items() if so)


def _fits(way: GuideWay, known: frozenset[Fact]) -> bool:
    return known.issuperset(way.holds) and known.isdisjoint(way.lacks)


def words_of(way: GuideWay, names: Sequence[str]) -> Phrase:
    """The words of a way about some tires; names are text, and stay it.

    >>> words_of(WAYS[-2], ["rear right"]).text[:39]
    'Rear right lacked more than the others:'
    """
    text = way.words.replace("{names}", plain(", ".join(names)))
    return say(text[0].upper() + text[1:])


def guide(of: Answers) -> Step:
    """The next step.

    >>> guide(Answers()).key, guide(Answers("solid", "?", "flat")).outcome
    ('light', 'stop')
    """
    known, names = facts(of), named(of)
    way = next(w for w in WAYS if _fits(w, known))
    notes = tuple(words_of(n, names.get(n.named, ())) for n in NOTES if _fits(n, known))
    return Step(way.key, words_of(way, names.get(way.named, ())), notes, way.outcome)


def lacks(cold_kpa: float | None, here_kpa: float | None) -> float | None:
    """What a tire lacks as a share of its target here; None: not known.

    >>> lacks(270, 300)
    0.1
    """
    return None if here_kpa is None or cold_kpa is None else round(1 - cold_kpa / here_kpa, 9)


def end_words(outcome: Outcome, names: Sequence[str]) -> Phrase:
    """What it came to, as a phone without a network said it: the same words, about the same tires."""
    ways = [w for w in WAYS if w.outcome == outcome]
    way = next((w for w in ways if "one" in w.holds and len(names) == 1), ways[-1])
    return words_of(way, names if way.named else ())
