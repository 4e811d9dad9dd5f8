"""The work line: each stage of a rig in a few words."""

from dataclasses import dataclass
from typing import Literal

from ballast.core.standing.due import ago, round_due
from ballast.core.standing.facts import Facts
from ballast.core.standing.matters import State
from ballast.core.working import Phrase, day, kpa, say

Key = Literal["rig", "weighing", "targets", "air", "rounds", "lookback", "ground"]


@dataclass(frozen=True)
class Stage:
    """A stage of the work line: its key, its name, and how it stands."""

    key: Key
    name: str
    state: State
    words: Phrase


def stages(rig: Facts) -> tuple[Stage, ...]:
    """The stages in the order of the work."""
    return (_rig(rig), _weigh(rig), _target(rig), _air(rig), _round(rig), _look_back(rig), _ground(rig))


def _rig(rig: Facts) -> Stage:
    if rig.findings:
        words = say(f"{len(rig.findings)} {'finding' if len(rig.findings) == 1 else 'findings'} on its tires")
        return Stage("rig", "Rig", "attention" if any(f.urgent for f in rig.findings) else "todo", words)
    return Stage("rig", "Rig", "fine", say(f"{rig.axles} axles, {rig.tires} tires"))


def _weigh(rig: Facts) -> Stage:
    ticket = rig.ticket
    if ticket is None:
        return Stage("weighing", "Weigh", "todo", say("not weighed"))
    if ticket.over:
        return Stage("weighing", "Weigh", "attention", say("over a rating"))
    how = "worked out" if ticket.worked_out else "weighed"
    due = ticket.again.now and not rig.resting
    words = say(f"{how} {ago(ticket.weighed_on, rig.today)}{', weigh again' if due else ''}")
    return Stage("weighing", "Weigh", "todo" if due else "fine", words)


def _target(rig: Facts) -> Stage:
    if rig.aims is None:
        return Stage("targets", "Target", "todo" if rig.ticket else "quiet", say("none in force"))
    if rig.stale:
        return Stage("targets", "Target", "todo", say("out of date"))
    if any(a.provisional for a in rig.aims):
        return Stage("targets", "Target", "todo", say("provisional"))
    if any(a.target_kpa is None for a in rig.aims):
        return Stage("targets", "Target", "attention", say("an axle has no pressure"))
    shown = list(dict.fromkeys(a.target_kpa for a in rig.aims if a.target_kpa is not None))[:3]
    text = ", ".join(f"{{{i}}}" for i in range(len(shown)))
    return Stage("targets", "Target", "fine", say(text, *(kpa(v, "up") for v in shown)))


def _air(rig: Facts) -> Stage:
    air = rig.air
    if air is None:
        return Stage("air", "Air", "quiet", say("not set"))
    if rig.resting:
        return Stage("air", "Air", "quiet", say("laid up: not judged"))
    if air.leaves_band:
        return Stage("air", "Air", "attention", air.words)
    if air.old:
        return Stage("air", "Air", "todo", air.words)
    if not air.all_hold:
        return Stage("air", "Air", "quiet", air.words)
    if rig.stale:
        # Floors of a target that is out of date are not what these tires need now.
        return Stage("air", "Air", "quiet", say("by a target out of date"))
    return Stage("air", "Air", "fine", air.words)


def _round(rig: Facts) -> Stage:
    if rig.open_round:
        return Stage("rounds", "Round", "todo", say("open: go on"))
    if rig.resting and rig.laid_up:
        return Stage("rounds", "Round", "quiet", say(f"laid up until {day(rig.laid_up.until)}"))
    if rig.laid_up_words is not None:
        return Stage("rounds", "Round", "todo", say("due before it rolls"))
    if rig.last is None:
        return Stage("rounds", "Round", "todo" if rig.aims is not None else "quiet", say("never done"))
    on = rig.last.read_at.date()
    due = bool(rig.last.overtaken) or round_due(on, rig.last.next_on, rig.today).now
    return Stage(
        "rounds", "Round", "todo" if due else "fine", say(f"{'due, last' if due else 'done'} {ago(on, rig.today)}")
    )


def _look_back(rig: Facts) -> Stage:
    if rig.leaks:
        verb = "leaks" if len(rig.leaks) == 1 else "leak"
        codes = ", ".join(leak.code for leak in rig.leaks)
        return Stage("lookback", "Look back", "attention", say(f"{codes} {verb}"))
    if rig.last is None:
        return Stage("lookback", "Look back", "quiet", say("nothing sealed yet"))
    # What was overtaken is told as of then.
    then = f"{ago(rig.last.read_at.date(), rig.today)}: " if rig.last.overtaken else ""
    return Stage("lookback", "Look back", "quiet", say(f"{then}{rig.last.summary}"))


def _ground(rig: Facts) -> Stage:
    if rig.ground is None:
        return Stage("ground", "Ground", "quiet", say("on the road"))
    return Stage("ground", "Ground", "attention" if rig.ground_loud else "todo", say("plan open"))
