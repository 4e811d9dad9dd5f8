"""Exercises about chalk on the tread, and about air that was let out."""

import random
from dataclasses import replace

from ballast.core.practice.exercise import OPEN, Drawn, Exercise, Left, Mistake, by_pressure, close
from ballast.core.practice.load import at
from ballast.core.practice.scene import FOUR, FRONT, RESERVE, TIRES, Made, Pump, by_placard, weighed
from ballast.core.units import PSI_KPA
from ballast.core.working import Line, kpa, say


def _needing(kpa: float) -> tuple[Made, float]:
    """A tire with room above a pressure, and a load for which it needs just that, rounded down to whole 10 kg."""
    tire = next(t for t in TIRES if t.max_kpa >= 1.25 * kpa)
    return tire, tire.carries(kpa) / (1 + RESERVE) // 10 * 10


# -- chalk -----------------------------------------------------------------------------------------------


def _chalk(dice: random.Random) -> Drawn:
    kpa_now, shoulders = dice.randint(40, 70) * PSI_KPA, dice.random() < 0.5
    gone, stays = ("on both shoulders", "in the middle") if shoulders else ("in the middle", "on both shoulders")
    return Drawn(
        (say(f"Chalk across the tread at {{0}}, a straight mile. It is gone {gone} and stays {stays}, on both tires.", kpa(kpa_now)),),
        {"now": kpa_now}, replace(weighed(*_needing(kpa_now - 10 * PSI_KPA), kpa_now), marks=("gone", "left", "gone") if shoulders else ("left", "gone", "left")),
        (Line(say(f"where it is gone, the tire bears: {gone}"), None), Line(say("so the next pass goes up" if shoulders else "so the next pass goes down, inside what the load needs"), None)),
        {"next": "up" if shoulders else "down", "because": "shoulders" if shoulders else "middle"},
    )  # fmt: skip


CHALK = Exercise(
    "chalk", "What the chalk says", "chalk", 2, "Which way does the next pass go?",
    {"shoulders": "It bears on its shoulders: too soft", "middle": "It bears on its middle: too hard", "even": "It bears evenly"}, "shoulders",
    {"wrong_way": Mistake("Chalk was read the wrong way around", "The next pass is worse, and the one after that.")},
    ("Where it is gone, it bore.", "A soft tire bears on its shoulders."),
    _chalk,
    lambda s, left: OPEN if not left.chalk_next else "" if left.chalk_next == s.named["next"] else "wrong_way",
    lambda s: Left(chalk_next="up" if s.named["next"] == "up" else "down", reason=s.named["because"]),
    {"wrong_way": lambda s: Left(chalk_next="down" if s.named["next"] == "up" else "up")},
)  # fmt: skip


def _even(dice: random.Random) -> Drawn:
    floor = dice.randint(45, 75) * PSI_KPA
    even = floor - dice.randint(4, 8) * PSI_KPA
    return Drawn(
        (
            say(
                "At {0} the chalk goes off evenly on both front tires. What their load needs is {1}.",
                kpa(even),
                kpa(floor),
            ),
        ),
        {"even": even, "floor": floor},
        weighed(*_needing(floor), even),
        (Line(say("even at"), kpa(even)), Line(say("needed for the load"), kpa(floor))),
    )


EVEN = Exercise(
    "even", "Even at last, and below the floor", "chalk", 10, "Leave both front tires where they belong.",
    {"floor": "The load comes first: chalk chooses only above what it needs", "even": "Even wear shows the right pressure", "middle": "Half way between is a fair answer"}, "floor",
    {"below": Mistake("Even chalk below the floor was taken for the target", "It wears evenly and does not carry its load."),
     "half": Mistake("Half way is below the floor too", "It does not carry its load either."),
     "high": Mistake("More than was asked for", "The chalk said hard already.")},
    ("What is the least that carries the load?", "Above the floor chalk may choose, below it nobody may."),
    _even,
    lambda s, left: {"low": "half"}.get(o := by_pressure(left, FRONT, s.truth["floor"], {"below": s.truth["even"]}, "low", "high"), o),
    lambda s: Left(at(FRONT, s.truth["floor"]), reason="floor"),
    {"below": lambda s: Left(at(FRONT, s.truth["even"])), "half": lambda s: Left(at(FRONT, s.truth["floor"] - 2 * PSI_KPA)),
     "high": lambda s: Left(at(FRONT, s.truth["floor"] + 8 * PSI_KPA))},
)  # fmt: skip


# -- sand, and then the motorway -------------------------------------------------------------------------


def _sand(dice: random.Random) -> Drawn:
    road = dice.randint(38, 60) * PSI_KPA
    sand = round(road * dice.uniform(0.4, 0.5) / PSI_KPA) * PSI_KPA
    return Drawn(
        (say("Road pressure is {0}. For the beach all four were let out to {1}.", kpa(road), kpa(sand)),
         say("You are back on the tarmac, and the motorway begins behind the next bend.")),
        {"road": road, "sand": sand},
        replace(by_placard(road, at(FOUR, sand)), pumps={"I1": Pump(120 * PSI_KPA, 28)}, let_out=True),
        (Line(say("for the road"), kpa(road)), Line(say("on the sand"), kpa(sand))),
    )  # fmt: skip


def _sand_judged(s: Drawn, left: Left) -> str:
    if left.plan_open is None:
        return OPEN
    back = [close(left.left_kpa.get(w, 0.0), s.truth["road"]) for w in FOUR]
    if all(back) and not left.plan_open:
        return ""
    return "some" if any(back) else "forgotten"


SAND = Exercise(
    "sand", "Off the beach", "ground", 10, "Go on by the motorway.",
    {"first": "Air first: at speed a soft tire comes apart", "warm": "They warm up on the road, and that is enough", "home": "It can wait until home"}, "first",
    {"forgotten": Mistake("Air was let out on the sand, and the motorway came next", "Soft at speed it runs hot within minutes, and comes off its rim in the bend."),
     "some": Mistake("Some were filled, and some were not", "It steers with one end on the sand.")},
    ("What do they hold now?", "All four to road pressure, before the ramp."),
    _sand, _sand_judged,
    lambda s: Left(at(FOUR, s.truth["road"]), frozenset(FOUR), plan_open=False, reason="first"),
    {"forgotten": lambda s: Left(at(FOUR, s.truth["sand"]), plan_open=True),
     "some": lambda s: Left(at(FOUR[:2], s.truth["road"]) | at(FOUR[2:], s.truth["sand"]), frozenset(FOUR), plan_open=True)},
)  # fmt: skip

EXERCISES = (CHALK, EVEN, SAND)
