"""Exercises about what is in the hand: gauges that differ, and inflators that do not reach."""

import random
from dataclasses import replace

from ballast.core.practice.exercise import OPEN, Drawn, Exercise, Left, Mistake
from ballast.core.practice.load import at
from ballast.core.practice.scene import FOUR, SPARE, Pump, by_placard
from ballast.core.units import PSI_KPA
from ballast.core.working import Line, kpa, number, plain, say

LABELS = ("G1", "G2", "G3")


# -- three gauges ----------------------------------------------------------------------------------------


def _gauges(dice: random.Random) -> Drawn:
    true, labels = dice.randint(50, 95) * PSI_KPA, list(LABELS)
    dice.shuffle(labels)
    sure, nice, other = labels
    reads = {
        sure: true + dice.uniform(1.5, 3) * PSI_KPA,
        nice: true + dice.choice((4, 5)) * PSI_KPA,
        other: true - dice.choice((3, 4, 5)) * PSI_KPA,
    }
    offset = reads[sure] - true
    return Drawn(
        (say("Three gauges on one tire: " + ", ".join(f"{g} reads {{{i}}}" for i, g in enumerate(LABELS)) + ".", *(kpa(reads[g]) for g in LABELS)),
         say(f"{sure} was compared with a master last month, and reads {{0}} over it there. The others never were.", kpa(offset)),
         say(f"It should stand at {{0}}: {nice} says just that.", kpa(reads[nice]))),
        {"true": true, "offset": offset},
        replace(by_placard(reads[nice], at(FOUR, true)), gauges={g: reads[g] - true for g in LABELS}, compared=frozenset((sure,))),
        (Line(say(f"{sure}, less what it is off"), kpa(true)), Line(say("the mean of all three"), kpa(sum(reads.values()) / 3))),
        {"sure": sure, "nice": nice, "other": other},
    )  # fmt: skip


def _gauges_judged(s: Drawn, left: Left) -> str:
    if not left.gauge:
        return OPEN
    if left.gauge == s.named["sure"]:
        return ""
    return "nice" if left.gauge == s.named["nice"] else "other"


GAUGES = Exercise(
    "gauges", "Three gauges, three numbers", "gauges", 2, "Read the round with the one that can be trusted.",
    {"compared": "What was compared with a master is known, however far it is off", "agree": "The one that says what it should", "new": "The newest is the best"}, "compared",
    {"nice": Mistake("The gauge that says what one would like was believed", "It says so at every tire, low or not."),
     "other": Mistake("A gauge that nobody compared was believed", "How far it is off, nobody knows.")},
    ("Of which one is it known how far it is off?", "The one that was compared."),
    _gauges, _gauges_judged,
    lambda s: Left(read=frozenset(FOUR), gauge=s.named["sure"], reason="compared"),
    {"nice": lambda s: Left(read=frozenset(FOUR), gauge=s.named["nice"]), "other": lambda s: Left(read=frozenset(FOUR), gauge=s.named["other"])},
)  # fmt: skip


# -- inflators -------------------------------------------------------------------------------------------


def _inflator_judged(s: Drawn, left: Left) -> str:
    if not left.inflator:
        return OPEN
    return "" if left.inflator == s.named["right"] else "weak" if left.inflator == s.named["weak"] else "none"


def _supply(dice: random.Random) -> Drawn:
    labels = ["I1", "I2"]
    dice.shuffle(labels)
    weak, right = labels
    fuse, draws, clamps = dice.choice((10, 15)), dice.randint(18, 30), dice.randint(12, 28)
    return Drawn(
        (say(f"{weak} draws {{0}} A at the pressure that is wanted, and plugs into a socket behind {{1}} A.", number(draws), number(fuse)),
         say(f"{right} draws {{0}} A and is clamped to the battery.", number(clamps)),
         say(f"{weak} is on top and quick at hand; both are made for {{0}}.", kpa(120 * PSI_KPA))),
        {"draws": draws, "fuse": fuse},
        replace(by_placard(45 * PSI_KPA, at(FOUR, 45 * PSI_KPA)),
                pumps={weak: Pump(120 * PSI_KPA, draws, fuse), right: Pump(120 * PSI_KPA, clamps)}),
        (Line(say(f"{weak} draws"), number(draws)), Line(say("its socket gives"), number(fuse))),
        {"right": right, "weak": weak},
    )  # fmt: skip


SUPPLY = Exercise(
    "supply", "A pump and its socket", "kit", 2, "Choose the inflator for the way back.",
    {"supply": "It gives no more than its supply does", "max": "Both reach the pressure by their sheet", "near": "It is the one at hand"}, "supply",
    {"weak": Mistake("A supply weaker than what it is asked for", "The fuse goes at the first tire, and three more are flat on the sand."),
     "none": Mistake("Another one than those two", "It is not aboard.")},
    ("What does it draw, and what does its socket give?", "The one that is clamped to the battery."),
    _supply, _inflator_judged,
    lambda s: Left(inflator=s.named["right"], reason="supply"),
    {"weak": lambda s: Left(inflator=s.named["weak"]), "none": lambda s: Left(inflator="I9")},
)  # fmt: skip


def _stalls(dice: random.Random) -> Drawn:
    labels = ["I1", "I2"]
    dice.shuffle(labels)
    weak, right = labels
    road, spare = dice.randint(34, 48) * PSI_KPA, dice.randint(70, 80) * PSI_KPA
    stall, enough = dice.randint(55, 65) * PSI_KPA, dice.randint(95, 120) * PSI_KPA
    return Drawn(
        (say("The four tires stand at {0}, the spare at {1}: one of another kind, for a while.", kpa(road), kpa(spare)),
         say(f"{weak} stalls at {{0}}, {right} at {{1}}. {plain('One of them goes along.')}", kpa(stall), kpa(enough))),
        {"road": road, "spare": spare, "stall": stall},
        replace(by_placard(road, at(FOUR, road) | {SPARE: spare}, spare_kpa=spare), pumps={weak: Pump(stall, 15), right: Pump(enough, 15)}),
        (Line(say("the spare wants"), kpa(spare)), Line(say(f"{weak} stalls at"), kpa(stall)), Line(say(f"{right} stalls at"), kpa(enough))),
        {"right": right, "weak": weak},
    )  # fmt: skip


STALLS = Exercise(
    "stalls", "One inflator goes along", "kit", 2, "Choose it for all that may have to be filled.",
    {"spare": "It must reach the spare, which wants the most", "four": "It reaches the four that roll", "quick": "It is the quicker one"}, "spare",
    {"weak": Mistake("An inflator that stalls below the spare", "The day the spare is needed, it stays soft."),
     "none": Mistake("Another one than those two", "It is not aboard.")},
    ("Which tire aboard wants the most?", "The spare's number is above where one of them stalls."),
    _stalls, _inflator_judged,
    lambda s: Left(inflator=s.named["right"], reason="spare"),
    {"weak": lambda s: Left(inflator=s.named["weak"]), "none": lambda s: Left(inflator="I9")},
)  # fmt: skip

EXERCISES = (GAUGES, SUPPLY, STALLS)
