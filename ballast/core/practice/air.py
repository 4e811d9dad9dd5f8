"""Exercises about warm and cold air, and about looking at more than the one tire that asks for it."""

import random
from dataclasses import replace

from ballast.core.air import HOT_OVER_C
from ballast.core.gas import Air, carry
from ballast.core.practice.exercise import (
    CLOSE_KPA,
    OPEN,
    Drawn,
    Exercise,
    Left,
    Mistake,
    by_pressure,
    close,
    drawn_until,
)
from ballast.core.practice.load import at
from ballast.core.practice.scene import FOUR, SPARE, by_placard
from ballast.core.units import PSI_KPA
from ballast.core.working import Line, celsius, kpa, say


def _psi(dice: random.Random, low: int, high: int) -> float:
    return dice.randint(low, high) * PSI_KPA


# -- a hot tire ------------------------------------------------------------------------------------------


def _bled(dice: random.Random) -> Drawn:
    cold, outside = _psi(dice, 60, 95), float(dice.randint(4, 24))
    over = dice.uniform(HOT_OVER_C["heavy"][0] + 8, HOT_OVER_C["heavy"][1] - 3)
    hot = carry(cold, Air(outside, 0), Air(outside + over, 0))
    return Drawn(
        (say("Cold at {0} this morning all four stood at {1}, as they should.", celsius(outside), kpa(cold)),
         say("After an hour on the highway all four read about {0}.", kpa(hot))),
        {"cold": cold, "hot": hot, "bled": carry(cold, Air(outside + over, 0), Air(outside, 0))},
        replace(by_placard(cold, at(FOUR, hot), heavy=True), outside_c=outside, over_c=over),
        (Line(say("as set, cold"), kpa(cold)), Line(say("the same air, {0} warmer", celsius(over)), kpa(hot)),
         Line(say("let out hot to {0}, cold it is", kpa(cold)), kpa(carry(cold, Air(outside + over, 0), Air(outside, 0))))),
    )  # fmt: skip


BLED = Exercise(
    "bled", "They rose on the road", "rounds", 2, "Look at all four, and leave them as they should be.",
    {"heat": "Warm air reads higher; the target is a cold number", "over": "More than the target is too much", "climb": "They go on rising until they burst"}, "heat",
    {"bled": Mistake("A hot tire was bled", "Cold tomorrow it is far under its target, and runs hotter still.")},
    ("Is the target a hot or a cold number?", "Let nothing out of a hot tire."),
    _bled,
    lambda s, left: "bled" if left.let_out else "" if left.read >= frozenset(FOUR) else OPEN,
    lambda s: Left(at(FOUR, s.truth["cold"]), frozenset(FOUR), reason="heat"),
    {"bled": lambda s: Left(at(FOUR, s.truth["bled"]), frozenset(FOUR), frozenset(FOUR))},
)  # fmt: skip


# -- over the target before a frost ----------------------------------------------------------------------


def _frost(dice: random.Random) -> Drawn | None:
    floor, outside = _psi(dice, 48, 80), float(dice.randint(14, 22))
    dawn = outside - dice.randint(16, 26)
    target = floor + 3 * PSI_KPA
    found = carry(floor + PSI_KPA, Air(dawn, 0), Air(outside, 0))
    if found < target + 2 * PSI_KPA:
        return None
    out_of = carry(target, Air(outside, 0), Air(dawn, 0))
    if out_of >= floor - CLOSE_KPA:
        return None
    return Drawn(
        (say("At {0} all four read {1}. What the load needs is {2}.", celsius(outside), kpa(found), kpa(floor)),
         say("The morning will be {0}, before anybody checks them again.", celsius(dawn))),
        {"found": found, "target": target, "floor": floor, "at_dawn": out_of},
        replace(by_placard(floor, at(FOUR, found)), outside_c=outside, dawn_c=dawn),
        (Line(say("left as they are, at dawn"), kpa(floor + PSI_KPA)), Line(say("let out to {0}, at dawn", kpa(target)), kpa(out_of)), Line(say("needed"), kpa(floor))),
    )  # fmt: skip


FROST = Exercise(
    "frost", "A little over, and a cold night", "rounds", 2, "Leave all four so that they carry their load in the morning too.",
    {"dawn": "The coldest dawn ahead decides", "now": "What counts is what they read now", "even": "Over and under even out"}, "dawn",
    {"out": Mistake("Air was let out before a frost", "At dawn they no longer carry what stands on them."),
     "more": Mistake("Air was put on top of what held already", "By noon it is over what anybody asked for.")},
    ("How cold will it be before the next check?", "They hold at dawn just as they are."),
    lambda d: drawn_until(d, _frost),
    lambda s, left: {"low": "out", "high": "more"}.get(o := by_pressure(left, FOUR, s.truth["found"], {}, "low", "high"), o),
    lambda s: Left(at(FOUR, s.truth["found"]), frozenset(FOUR), reason="dawn"),
    {"out": lambda s: Left(at(FOUR, s.truth["target"]), frozenset(FOUR), frozenset(FOUR)),
     "more": lambda s: Left(at(FOUR, s.truth["found"] + 4 * PSI_KPA), frozenset(FOUR))},
)  # fmt: skip


# -- weather or a leak -----------------------------------------------------------------------------------


def _which(dice: random.Random) -> Drawn:
    set_at, then, now = _psi(dice, 55, 95), float(dice.randint(18, 28)), float(dice.randint(-4, 8))
    leaks = dice.random() < 0.5
    wheel = dice.choice(FOUR)
    cold = {w: carry(set_at, Air(then, 0), Air(now, 0)) + dice.uniform(-1, 1) for w in FOUR}
    if leaks:
        cold[wheel] -= set_at * dice.uniform(0.07, 0.12)
    facts = [say("Two weeks ago, at {0}, all four were set to {1}.", celsius(then), kpa(set_at))]
    facts += [say(f"Today, at {{0}}, {w} reads {{1}}.", celsius(now), kpa(cold[w])) for w in FOUR]
    return Drawn(
        tuple(facts), {f"now_{w}": p for w, p in cold.items()} | {"by_air": carry(set_at, Air(then, 0), Air(now, 0))},
        replace(by_placard(set_at, cold), outside_c=now, earlier=(set_at, then)),
        (Line(say("the colder air alone makes of it"), kpa(carry(set_at, Air(then, 0), Air(now, 0)))),
         *(Line(say(f"{w} reads"), kpa(p)) for w, p in cold.items())),
        {"because": f"leak_{wheel}" if leaks else "weather"},
    )  # fmt: skip


def _which_judged(s: Drawn, left: Left) -> str:
    because = s.named["because"]
    if not left.reason:
        return OPEN
    if left.reason == because:
        return ""
    return "missed" if because != "weather" and left.reason == "weather" else "elsewhere"


def _other(s: Drawn) -> str:
    return next(f"leak_{w}" for w in FOUR if f"leak_{w}" != s.named["because"])


WHICH = Exercise(
    "which", "All of them are lower", "lookback", 10, "Weather, or a leak, and then where?",
    {"weather": "The colder air did it", **{f"leak_{w}": f"{w} leaks" for w in FOUR}}, "weather",
    {"missed": Mistake("A leak was taken for the weather", "It goes on losing, and is flat one morning."),
     "elsewhere": Mistake("A leak was seen where none is", "The shop finds nothing, and next time nobody believes the numbers.")},
    ("What does the colder air alone make of it?", "Does one lack more than the others?"),
    _which, _which_judged,
    lambda s: Left(reason=s.named["because"]),
    {"missed": lambda s: Left(reason="weather" if s.named["because"] != "weather" else ""), "elsewhere": lambda s: Left(reason=_other(s))},
)  # fmt: skip


# -- only the one that asked -----------------------------------------------------------------------------


def _only(dice: random.Random) -> Drawn:
    wanted, lamp = _psi(dice, 33, 60), dice.choice(FOUR)
    second, soft = dice.choice([w for w in (*FOUR, SPARE) if w != lamp]), wanted * dice.uniform(0.82, 0.9)
    return Drawn(
        (say(f"A display says that {lamp} is low. All should stand at {{0}}, the spare too.", kpa(wanted)),),
        {"wanted": wanted, "second": soft},
        by_placard(wanted, at((*FOUR, SPARE), wanted) | {lamp: 0.82 * wanted, second: soft}, spare_kpa=wanted),
        (Line(say(f"{second} was low too, and nothing said so"), None), Line(say("wanted"), kpa(wanted))),
        {"lamp": lamp, "second": second},
    )


def _only_judged(s: Drawn, left: Left) -> str:
    if not left.read:
        return OPEN
    if left.read == {s.named["lamp"]}:
        return "one"
    if not left.read >= {*FOUR, SPARE}:
        return "some"
    low = any(not close(left.left_kpa.get(w, 0.0), s.truth["wanted"]) for w in (*FOUR, SPARE))
    return "left_low" if low else ""


ONLY = Exercise(
    "only", "One tire is low, says the display", "rounds", 10, "Do what is to be done before it rolls.",
    {"all": "What one sensor says is of one tire: all are read", "named": "The display names the tire that is low", "sensor": "Sensors are mostly wrong"}, "all",
    {"one": Mistake("Only the low tire was checked", "Another was low as well, and nobody looked."),
     "some": Mistake("Not all were read", "What was not read is not known, the spare too."),
     "left_low": Mistake("One was left low", "It was read, and rolls as it was found.")},
    ("What of those that no display names?", "All of them, and the spare."),
    _only, _only_judged,
    lambda s: Left(at((*FOUR, SPARE), s.truth["wanted"]), frozenset((*FOUR, SPARE)), reason="all"),
    {"one": lambda s: Left({s.named["lamp"]: s.truth["wanted"]}, frozenset({s.named["lamp"]})),
     "some": lambda s: Left(at(FOUR, s.truth["wanted"]), frozenset(w for w in FOUR if w != "2R")),
     "left_low": lambda s: Left(at((*FOUR, SPARE), s.truth["wanted"]) | {s.named["second"]: s.truth["second"]}, frozenset((*FOUR, SPARE)))},
)  # fmt: skip

EXERCISES = (BLED, FROST, WHICH, ONLY)
