"""Exercises about displays and lamps: what they know, and what they only show."""

import datetime as dt
import random
from dataclasses import replace

from ballast.core.gas import Air
from ballast.core.practice.exercise import OPEN, Drawn, Exercise, Left, Mistake, close
from ballast.core.practice.load import at
from ballast.core.practice.scene import FOUR, SPARE, Shown, by_placard
from ballast.core.sensors import Aim, Sample, fold, thresholds
from ballast.core.units import PSI_KPA
from ballast.core.working import Line, kpa, say

_AIR = Air(15, 0)
_STOOD_H = 9.0
_AT = dt.datetime(2026, 11, 28, 6, tzinfo=dt.UTC)


# -- a stale display -------------------------------------------------------------------------------------


def _stale(dice: random.Random) -> Drawn:
    wanted, wheel, hours = dice.randint(33, 80) * PSI_KPA, dice.choice(FOUR), dice.randint(9, 30)
    true = wanted * dice.uniform(0.65, 0.85)
    return Drawn(
        (say(f"Parked for {hours} hours. The display shows {{0}} at all four, as they should be.", kpa(wanted)),
         say("It refreshes once the wheels turn. You set out in ten minutes.")),
        {"wanted": wanted, "true": true},
        replace(by_placard(wanted, at(FOUR, wanted) | {wheel: true}), sensors="wheel", shown=(
            Shown(60.0 * hours, at(FOUR, wanted), rolled_min=5.0), Shown(0.0, at(FOUR, wanted), fresh=False),
        )),
        (Line(say(f"{wheel} stood at"), kpa(true)), Line(say("its display still showed what it was when it last rolled"), kpa(wanted))),
        {"wheel": wheel},
    )  # fmt: skip


def _stale_judged(s: Drawn, left: Left) -> str:
    if not left.read:
        return "stale" if left.reason else OPEN
    if s.named["wheel"] not in left.read:
        return "some"
    return "" if close(left.left_kpa.get(s.named["wheel"], 0.0), s.truth["wanted"]) else "left_low"


STALE = Exercise(
    "stale", "The display says all is well", "rounds", 2, "Set out on tires that you know.",
    {"old": "It has not refreshed since it last rolled: a gauge tells", "shown": "It is shown in green, so it is so", "later": "It tells on the road, if there is something"}, "old",
    {"stale": Mistake("A stale display was believed", "It showed the evening before: the tire went soft overnight, and rolled so."),
     "some": Mistake("Not all were read", "The one that was low was not among them."),
     "left_low": Mistake("One was left low", "It was read, and rolls as it was found.")},
    ("When did it last measure?", "Read them with a gauge."),
    _stale, _stale_judged,
    lambda s: Left(at(FOUR, s.truth["wanted"]), frozenset(FOUR), reason="old"),
    {"stale": lambda s: Left(reason="shown"), "some": lambda s: Left(at(FOUR, s.truth["wanted"]), frozenset(w for w in FOUR if w != s.named["wheel"])),
     "left_low": lambda s: Left(at(FOUR, s.truth["wanted"]) | {s.named["wheel"]: s.truth["true"]}, frozenset(FOUR))},
)  # fmt: skip


# -- the loop of an alarm --------------------------------------------------------------------------------


def _loop(dice: random.Random) -> Drawn:
    target = dice.randint(36, 90) * PSI_KPA
    aim = Aim(target, _AIR, target > 60 * PSI_KPA)
    lines = thresholds(aim, _AIR)
    fell = lines.low_kpa - dice.uniform(1, 3) * PSI_KPA
    alike = lines.low_kpa + (lines.low_clears_kpa - lines.low_kpa) * dice.uniform(0.3, 0.7)
    low, clear = dice.sample(("1L", "1R"), 2)
    fault = dice.random() < 0.4
    shown = lines.low_kpa - 2 * PSI_KPA if fault else alike
    before, now = {low: fell, clear: target}, {low: alike, clear: shown}
    read = [(w, p, m) for m, of in ((0, before), (60, now)) for w, p in of.items()]
    events = [Sample(w, _AT + dt.timedelta(minutes=m), p, _AIR, 15.0, stood_h=_STOOD_H) for w, p, m in read]
    states = {w: fold(aim, (w,), events).wheels[w].pressure for w in (low, clear)}
    words = "is in alarm" if states[clear] != "clear" and not fault else "is clear"
    return Drawn(
        (say("Low sets at {0} and clears at {1}, cold.", kpa(lines.low_kpa), kpa(lines.low_clears_kpa)),
         say(f"{low} fell to {{0}} in the night, and reads {{1}} by now: it is in alarm.", kpa(fell), kpa(alike)),
         say(f"{clear} came down from {{0}} to {{1}}, and {words}.", kpa(target), kpa(shown))),
        {"sets": lines.low_kpa, "clears": lines.low_clears_kpa, "shown": shown},
        replace(by_placard(target, at(FOUR, target) | now, heavy=aim.heavy), sensors="wheel", shown=(
            Shown(60.0, before, stood_h=_STOOD_H), Shown(0.0, now, stood_h=_STOOD_H),
        )),
        (Line(say(f"{low} fell below where it sets, and is not back where it clears"), kpa(alike)),
         Line(say(f"{clear} is below where it sets" if fault else f"{clear} never fell to where it sets"), kpa(shown))),
        {"because": "fault" if fault else "loop"},
    )  # fmt: skip


LOOP = Exercise(
    "loop", "Two alike, one in alarm", "sensors", 2, "Does the receiver do as it should?",
    {"loop": "It does: what set it low clears only higher", "fault": "It does not: one that is below where it sets is silent", "mix": "The wheels were mixed up"}, "loop",
    {"sound": Mistake("The loop of an alarm was taken for a fault", "A sound receiver is thrown away, or worse: its alarm is switched off."),
     "fault": Mistake("A silent alarm was taken for its loop", "It is low, and nothing says so.")},
    ("Which of them fell to where it sets?", "Is the one that is clear above where it sets?"),
    _loop,
    lambda s, left: OPEN if not left.reason else "" if left.reason == s.named["because"] else "sound" if s.named["because"] == "loop" else "fault",
    lambda s: Left(reason=s.named["because"]),
    {"sound": lambda s: Left(reason="fault" if s.named["because"] == "loop" else ""), "fault": lambda s: Left(reason="loop" if s.named["because"] == "fault" else "")},
)  # fmt: skip


# -- the spare -------------------------------------------------------------------------------------------


def _spare(dice: random.Random) -> Drawn:
    wanted = dice.randint(33, 60) * PSI_KPA
    spare = wanted * dice.uniform(0.55, 0.72)
    return Drawn(
        (say("The lamp came on and stays on; no display says which. All four read {0}, as they should.", kpa(wanted)),
         say("The spare hangs under the floor. Such a lamp goes out after ten minutes of rolling, once nothing that it hears is low.")),
        {"wanted": wanted, "spare": spare}, replace(by_placard(wanted, at(FOUR, wanted) | {SPARE: spare}, spare_kpa=wanted), sensors="speed"),
        (Line(say("the spare stood at"), kpa(spare)),),
    )  # fmt: skip


def _spare_judged(s: Drawn, left: Left) -> str:
    if not left.lamp:
        return OPEN
    if SPARE not in left.read:
        return "four"
    return "" if left.lamp == "spare" else "sensor"


CULPRIT = Exercise(
    "spare", "All four are well, the lamp is on", "lamp", 10, "Find out what the lamp means.",
    {"all": "Before a sensor is blamed, every tire is read, the spare too", "sensor": "Four good tires and a lamp: it is the sensor", "reset": "It goes out by itself"}, "all",
    {"four": Mistake("The spare was the one, and nobody read it", "It is flat the day it is needed."),
     "sensor": Mistake("The sensor was blamed", "It said just what is so.")},
    ("How many tires are aboard?", "Five."),
    _spare, _spare_judged,
    lambda s: Left(read=frozenset((*FOUR, SPARE)), lamp="spare", reason="all"),
    {"four": lambda s: Left(read=frozenset(FOUR), lamp="sensor"), "sensor": lambda s: Left(read=frozenset((*FOUR, SPARE)), lamp="sensor")},
)  # fmt: skip

EXERCISES = (STALE, LOOP, CULPRIT)
