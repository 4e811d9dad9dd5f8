"""The lamp came on: the guided way from the light to its cause, one step after the other, by what was answered so far."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

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
# Tires that lack about the same share of their target lack it for the same reason.
ALIKE = 0.03
_SERVICE = "Let a tire service see to it; the vehicle's handbook and local law come first."


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


def guide(of: Answers) -> Step:
    """The next step. A tire that must be stopped for ends it; nothing is concluded before every tire was read, the spare too.

    >>> guide(Answers()).key, guide(Answers("solid", "?", "flat")).outcome
    ('light', 'stop')
    """
    if of.light is None:
        return Step(
            "light", say("Slow down, and stop where it is safe. Does the lamp stay on, or does it flash first?")
        )
    notes = _of_light(of.light)
    if not of.which:
        return Step("which", say("Does a display say which tire?"), notes)
    if of.seen is None:
        return Step("look", say("Walk around it and look at every tire, on both sides."), notes)
    if of.seen == "flat":
        words = say(f"Do not drive on it. Fit the spare as the handbook says, or call for help. {_SERVICE}")
        return Step("end", words, notes, "stop")
    if of.seen == "object":
        notes = (
            *notes,
            say(
                "Leave it in: pulled out, the air goes at once. Read all the same, and drive no further than you must."
            ),
        )
    if of.left_out:
        told = ", ".join(f"{name.lower()} ({reason})" for name, reason in of.left_out)
        notes = (*notes, say(f"Not read, and so not known: {plain(told)}."))
    return _by_reads(of, notes)


def _of_light(light: Light) -> tuple[Phrase, ...]:
    if light == "solid":
        return ()
    return (say("Flashing means a fault, or a spare in use that is not heard, not a pressure. The handbook says which. Read the tires all the same."),)  # fmt: skip


def _named(reads: Sequence[Read]) -> str:
    return plain(", ".join(r.name.lower() for r in reads))


def _by_reads(of: Answers, notes: tuple[Phrase, ...]) -> Step:
    stopped = [r for r in of.reads if r.word == "stop"]
    if stopped:
        words = say(f"Stop: inspect {_named(stopped)}. No air and no driving before somebody looked at it. {_SERVICE}")
        return Step("end", words, notes, "stop")
    left = [r for r in of.reads if r.word in ("not_checked", "cannot_tell")]
    if left or not of.reads:
        asked = f" Not yet: {_named(left)}." if left else ""
        return Step("read", say(f"Read every tire with a gauge, the spare too.{asked}"), notes)
    low = [r for r in of.reads if r.word == "add"]
    if low and not of.aired:
        return Step("air", say(f"Add air to {_named(low)}, until the gauge shows what stands beside it."), notes)
    if of.after is None:
        return Step("roll", say("Roll as the handbook says, ten minutes or more, and look at the lamp again."), notes)
    return _end(of, low, notes)


def _end(of: Answers, low: Sequence[Read], notes: tuple[Phrase, ...]) -> Step:
    if of.left_out and (of.after == "on" or not low):
        names = plain(", ".join(name.lower() for name, _ in of.left_out))
        words = say(
            f"The tires that were read do not explain it, and {names} was not read: it may be the one. Read it first."
        )
        return Step("end", words, notes, "unread")
    if of.after == "on":
        words = say(f"The tires are at their numbers and the lamp stays on: the sensor, have it seen to. {_SERVICE}")
        return Step("end", words, notes, "sensor")
    if not low:
        words = say(
            "No tire was low, and it went out: it lights close to where the tires stand. Write its threshold down with the rig."
        )
        return Step("end", words, notes, "threshold")
    on_road = [r for r in low if not r.spare]
    if not on_road:
        return Step("end", say("It was the spare: it is heard too. Read it again in a week."), notes, "spare")
    rolling = [r for r in of.reads if not r.spare]
    lacks = [r.lacks for r in on_road if r.lacks is not None]
    alike = len(on_road) == len(rolling) > 1 and len(lacks) == len(on_road) and max(lacks) - min(lacks) <= ALIKE
    if alike and of.seen != "object":
        words = say(
            "All lacked about alike: the air is colder than when they were set, and no tire leaks alone. A cold round sets them right."
        )
        return Step("end", words, notes, "weather")
    # Those that lack more than the least of all do for a reason of their own.
    least = min((r.lacks for r in rolling if r.lacks is not None), default=0.0)
    own = [r for r in on_road if r.lacks is None or r.lacks > least + ALIKE] or on_road
    may = "it may leak" if len(own) == 1 else "they may leak"
    words = say(
        f"{_named(own).capitalize()} lacked more than the others: {may}. Read cold tomorrow, and open a round. {_SERVICE}"
    )
    return Step("end", words, notes, "leak")
