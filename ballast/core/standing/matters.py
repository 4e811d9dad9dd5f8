"""What there is to say of a rig, the most urgent first, and until which day that is so."""

import datetime as dt
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ballast.core.lookback import leak_words
from ballast.core.rounds import WORDS
from ballast.core.standing.due import Dated, round_due, sooner
from ballast.core.standing.facts import Facts
from ballast.core.working import Phrase, day, number, plain, say

State = Literal["attention", "todo", "quiet", "fine"]
RANK: dict[State, int] = {"attention": 0, "todo": 1, "quiet": 2, "fine": 3}


About = Literal[
    "out", "plan", "late", "over", "pressure", "inspect", "leak", "round", "open", "weigh", "target", "age", "tires", "gauge", "unchecked", "rest"
]  # fmt: skip
# What a matter may be about, in the words of whoever looks for it.
ABOUT: dict[About, str] = {
    "out": "Out of service", "plan": "Plan open", "late": "Came late", "over": "Over a rating", "pressure": "Pressure",
    "inspect": "Left open", "leak": "Leak", "round": "Round due", "open": "Round open", "weigh": "Weigh", "target": "Target",
    "age": "Tire age", "tires": "Tires and nuts", "gauge": "Gauge due", "unchecked": "Not checked", "rest": "Laid up",
}  # fmt: skip


@dataclass(frozen=True)
class Matter:
    """One thing to say, how urgent it is, and what it is about; with `since`, as `Dated` has it."""

    state: State
    words: Phrase
    about: About | None = None
    since: dt.date | None = None

    @property
    def asks(self) -> bool:
        """Whether somebody is to do something."""
        return self.state in ("attention", "todo")

    def on(self, today: dt.date) -> "Matter":
        """The same in the words of a day."""
        return Matter(self.state, Dated(self.words, self.since).on(today), self.about)


# Of a rig on which something has changed, until it is worked out: never good.
ANEW = Matter("todo", say("Being worked out anew"))
_NOTHING_YET = Matter("quiet", say("Nothing to say yet"))


def matters(rig: Facts) -> tuple[Matter, ...]:
    """Everything there is to say, at least one thing; it holds until `changes_on`. Nothing is fine of which something is not
    known. An open ground plan stands first of all, then that it is out of service, then entries that came late."""
    listed = [
        *_laid_up(rig), *_loads(rig), *_wheels(rig), *_targets(rig), *_weighing(rig), *_round(rig), *_ticket(rig),
        *_tires(rig), *_gauge(rig),
    ]  # fmt: skip
    listed.sort(key=lambda m: RANK[m.state])
    if not listed and rig.last and not rig.ground and not rig.out:
        listed.append(Matter("fine", say("All hold, read {ago}"), since=rig.last.read_at.date()))
    late = [Matter("attention", rig.late, "late")] if rig.late else []
    # Tires that were let out stand before everything else.
    ground = [Matter("attention" if rig.ground_loud else "todo", rig.ground, "plan")] if rig.ground else []
    out = [Matter("attention", rig.out, "out")] if rig.out else []
    return (*ground, *out, *late, *listed) or (_NOTHING_YET,)


def out_of_service(since: dt.date, why: str) -> Phrase:
    """That a rig does not roll, since when and why.

    >>> out_of_service(dt.date(2026, 11, 3), "cracked hub").text
    'Out of service since Nov 3, 2026: cracked hub'
    """
    return say(f"Out of service since {day(since)}: {plain(why)}")


def urgency(said: Sequence[Matter]) -> int:
    """What a rig is ordered by among others, by the first of its matters: whose tires were let out stands before all."""
    return -1 if said[0].about == "plan" else RANK[said[0].state]


def changes_on(rig: Facts) -> dt.date | None:
    """The first day after today on which there is something else to say though nothing was done; None: none is foreseen."""
    days = [rig.ages_on]
    if rig.ticket:
        days.append(rig.ticket.again.on)
    if rig.last:
        days.append(round_due(rig.last.read_at.date(), rig.last.next_on, rig.today).on)
    if rig.laid_up:
        days.append(rig.laid_up.until)
    if rig.read_with and rig.read_with.due_on:
        days.append(rig.read_with.due_on + dt.timedelta(days=1))
    return min((day for day in days if day is not None and day > rig.today), default=None)


def _laid_up(rig: Facts) -> list[Matter]:
    words = rig.laid_up_words
    return [] if words is None else [Matter("quiet" if rig.resting else "todo", words, "rest")]


def _loads(rig: Facts) -> list[Matter]:
    listed = [Matter("attention", words, "over") for words in (rig.ticket.over if rig.ticket else ())]
    beyond = [a.name.lower() for a in rig.aims or () if a.no_pressure]
    if beyond:
        listed.append(Matter("attention", say(f"No pressure carries the load: {', '.join(beyond)}"), "over"))
    return listed


def _wheels(rig: Facts) -> list[Matter]:
    """What the last round said of its wheels, its named leaks, and what it left open."""
    listed = []
    for word, use in WORDS.items():
        count = rig.words[word]
        if count and use.matter:
            noun = "{0} tire" if count == 1 else "{0} tires"
            about: About = "unchecked" if word == "not_checked" else "pressure"
            listed.append(Matter(use.urgency, say(use.matter.replace("{0}", noun), number(count)), about))
    listed += [Matter("attention", leak_words(leak.name, leak.kpa_day), "leak") for leak in rig.leaks]
    return listed + [
        Matter("todo", say(plain(f"{w.code} {w.open}")), "inspect") for w in rig.said if w.open and w.open != "not read"
    ]


def _targets(rig: Facts) -> list[Matter]:
    listed = []
    if rig.ticket is None:
        provisional = ", its target is provisional" if rig.aims is not None else ""
        listed.append(Matter("todo", say(f"Not weighed{provisional}: weigh it as it travels"), "weigh"))
    elif rig.aims is None:
        listed.append(Matter("todo", say("No target in force"), "target"))
    elif any(a.provisional for a in rig.aims):
        listed.append(Matter("todo", say("Target provisional: enter the table of its tires"), "target"))
    if any(a.trial for a in rig.aims or ()):
        listed.append(Matter("quiet", say("On trial below its placard"), "target"))
    if rig.stale:
        listed.append(Matter("todo", say(f"Target out of date: {', '.join(rig.stale)}"), "target"))
    return listed


def _weighing(rig: Facts) -> list[Matter]:
    due = rig.ticket and rig.ticket.again.now and not rig.resting
    if rig.ticket is None or not due:
        return []
    return [Matter("todo", rig.ticket.again_words.words, "weigh", rig.ticket.again_words.since)]


def _round(rig: Facts) -> list[Matter]:
    if rig.open_round:
        return [Matter("todo", say("A round is open"), "open")]
    if rig.aims is None or rig.laid_up_words is not None:
        # Laid up, or said to be read before it rolls.
        return []
    if rig.last is None:
        return [Matter("todo", say("Round due, never done"), "round")]
    on = rig.last.read_at.date()
    if rig.last.overtaken:
        return [
            Matter(
                "todo", say(f"Round due: {plain(', '.join(rig.last.overtaken))} since the last, {{ago}}"), "round", on
            )
        ]
    if not round_due(on, rig.last.next_on, rig.today).now:
        return []
    why = f": {plain(rig.last.next_why)}" if rig.last.next_on and sooner(on, rig.last.next_on) else ""
    return [Matter("todo", say(f"Round due, last {{ago}}{why}"), "round", on)]


def _ticket(rig: Facts) -> list[Matter]:
    listed = []
    if rig.ticket and rig.ticket.made_up:
        listed.append(Matter("todo", say("Weighed by a simulated scale: made up, not for the road"), "weigh"))
    if rig.ticket and rig.ticket.worked_out:
        listed.append(Matter("todo", say(f"{plain(rig.ticket.load_state)}: worked out, not weighed"), "weigh"))
    return listed


def _tires(rig: Facts) -> list[Matter]:
    alike = Counter(f.of_many for f in rig.findings if f.of_many)
    listed = []
    for f in rig.findings:
        count = alike.pop(f.of_many, 0)
        if f.of_many and not count:
            # Said with the first of them.
            continue
        words = say(plain(f.words)) if count < 2 else say(f"{{0}} tires {plain(f.of_many)}", number(count))
        listed.append(Matter("attention" if f.urgent else "quiet", words, "age" if f.of_many else "tires"))
    jobs = [Matter("todo", rig.retorque, "tires")] if rig.retorque else []
    return listed + jobs + ([Matter("quiet", rig.rotate, "tires")] if rig.rotate else [])


def _gauge(rig: Facts) -> list[Matter]:
    """That its gauge is due for a comparison: what it read stands, and is no surer than one of its kind that was never compared."""
    gauge = rig.read_with
    if gauge is None or gauge.due_on is None or gauge.due_on >= rig.today:
        return []
    return [Matter("quiet", say(f"Read with {plain(gauge.label)}, to be compared by {day(gauge.due_on)}"), "gauge")]
