"""Exercises about the number itself: whose it is, what it must carry, and how it is rounded."""

import random
from dataclasses import replace

from ballast.core.practice.exercise import Drawn, Exercise, Left, Mistake, by_pressure, drawn_until
from ballast.core.practice.scene import FOUR, FRONT, RESERVE, TIRES, AxleScene, Made, Scene, apart, weighed
from ballast.core.tables import STEPS, steps_up
from ballast.core.units import PSI_KPA
from ballast.core.working import Line, kg, kpa, plain, say


def at(wheels: tuple[str, ...], pressure: float) -> dict[str, float]:
    return dict.fromkeys(wheels, pressure)


DUALS = ("2Lo", "2Li", "2Ri", "2Ro")


def _front(dice: random.Random) -> tuple[Made, float, float]:
    """A tire, the load of the heavier front wheel in whole 10 kg, and what it needs."""
    tire = dice.choice(TIRES)
    load = round(tire.single_kg * dice.uniform(0.5, 0.72) / 10) * 10.0
    return tire, load, tire.needs(load)


# -- the sidewall's number -------------------------------------------------------------------------------


def _sidewall(dice: random.Random) -> Drawn | None:
    tire, load, wanted = _front(dice)
    if not apart(wanted, tire.max_kpa):
        return None
    return Drawn(
        (say("The sidewalls say {0} at {1}.", kg(tire.single_kg), kpa(tire.max_kpa)), say("The heavier front wheel was weighed with {0}.", kg(load))),
        {"wanted": wanted, "sidewall": tire.max_kpa, "load_kg": load}, weighed(tire, load, 0.85 * wanted),
        (Line(say("weighed, and 8 % over it"), kg(load * (1 + RESERVE))), Line(say("what carries that, in whole psi"), kpa(wanted)),
         Line(say("the sidewall's own: the most, and what the most load needs"), kpa(tire.max_kpa))),
    )  # fmt: skip


SIDEWALL = Exercise(
    "sidewall", "The number on the sidewall", "rounds", 2, "Leave both front tires at what their load needs.",
    {"load": "Its load says what it needs; the sidewall's is its most", "printed": "The maker printed what belongs in it", "feel": "Harder tires wear longer"},
    "load",
    {"sidewall": Mistake("The sidewall's number was taken for the target", "It rides on the middle of its tread: less grip, a harsh ride, and no room left for heat."),
     "low": Mistake("It does not carry its load", "It flexes too far, runs hot, and comes apart."),
     "high": Mistake("More than it needs", "Less grip, and a harsh ride.")},
    ("What does the sidewall's pressure go with?", "Look its load up, add the reserve, go up to the next step."),
    lambda d: drawn_until(d, _sidewall),
    lambda s, left: by_pressure(left, FRONT, s.truth["wanted"], {"sidewall": s.truth["sidewall"]}, "low", "high"),
    lambda s: Left(at(FRONT, s.truth["wanted"]), reason="load"),
    {"sidewall": lambda s: Left(at(FRONT, s.truth["sidewall"])), "low": lambda s: Left(at(FRONT, 0.8 * s.truth["wanted"])),
     "high": lambda s: Left(at(FRONT, s.truth["wanted"] + 5 * PSI_KPA))},
)  # fmt: skip


# -- the trailer's own -----------------------------------------------------------------------------------


def _trailer(dice: random.Random) -> Drawn | None:
    tow, own = dice.choice(TIRES[:2]), dice.choice(TIRES[:2])
    tow_kg = round(tow.single_kg * dice.uniform(0.45, 0.6) / 10) * 10.0
    load = round(own.single_kg * dice.uniform(0.7, 0.85) / 10) * 10.0
    theirs, wanted = tow.needs(tow_kg), own.needs(load)
    if not apart(theirs, wanted, 0.75 * wanted):
        return None
    return Drawn(
        (say("The tow vehicle's tires are at {0}, as their load needs.", kpa(theirs)), say("Behind it a trailer, its heaviest wheel {0}; its tires carry {1} at {2}.", kg(load), kg(own.single_kg), kpa(own.max_kpa))),
        {"wanted": wanted, "tow": theirs, "load_kg": load},
        Scene("trailer", (AxleScene(own, (load, load - 20)), AxleScene(own, (load - 30, load - 10))), at(FOUR, 0.9 * wanted)),
        (Line(say("the trailer's heaviest wheel, and 8 % over it"), kg(load * (1 + RESERVE))), Line(say("what carries that"), kpa(wanted))),
    )  # fmt: skip


TRAILERS_OWN = Exercise(
    "trailer", "Behind the tow vehicle", "rounds", 2, "Leave all four tires of the trailer at what they need.",
    {"own": "Each axle has its own load and its own tires", "same": "What is hitched together is kept alike", "soft": "A trailer rides better soft"},
    "own",
    {"tow": Mistake("The trailer was given the tow vehicle's number", "Its tires carry other loads by another table: too soft they run hot where nobody feels it."),
     "low": Mistake("The trailer's tires do not carry their load", "They run hot where nobody feels it, and come apart."),
     "high": Mistake("More than they need", "The load hops, and so does what is in it.")},
    ("Whose table is it?", "The heaviest wheel of the trailer, in the table of the trailer's tires."),
    lambda d: drawn_until(d, _trailer),
    lambda s, left: by_pressure(left, FOUR, s.truth["wanted"], {"tow": s.truth["tow"]}, "low", "high"),
    lambda s: Left(at(FOUR, s.truth["wanted"]), reason="own"),
    {"tow": lambda s: Left(at(FOUR, s.truth["tow"])), "low": lambda s: Left(at(FOUR, 0.75 * s.truth["wanted"])),
     "high": lambda s: Left(at(FOUR, s.truth["wanted"] + 6 * PSI_KPA))},
)  # fmt: skip


# -- four tires on an axle -------------------------------------------------------------------------------


def _duals(dice: random.Random) -> Drawn | None:
    tire = dice.choice(TIRES[1:])
    axle = round(4 * tire.dual_kg * dice.uniform(0.42, 0.48) / 20) * 20.0
    wanted, undivided = tire.needs(axle / 4, dual=True), tire.needs(axle / 2, dual=False)
    undivided, front = min(undivided, tire.max_kpa), round(0.55 * tire.single_kg / 10) * 10.0
    single = tire.needs(axle / 4)
    if not apart(wanted, undivided, single):
        return None
    return Drawn(
        (say("A rear axle on four tires was weighed with {0}, even from side to side.", kg(axle)),
         say("Each carries {0} alone and {1} beside another, at {2}.", kg(tire.single_kg), kg(tire.dual_kg), kpa(tire.max_kpa))),
        {"wanted": wanted, "undivided": undivided, "single": single, "load_kg": axle / 4},
        Scene("straight_truck", (AxleScene(tire, (front, front)), AxleScene(tire, (axle / 2, axle / 2), dual=True)),
              at(FRONT, tire.needs(front)) | at(DUALS, 0.85 * wanted)),
        (Line(say("the axle, by its four tires"), kg(axle / 4)), Line(say("and 8 % over it, in the row for duals"), kpa(wanted))),
    )  # fmt: skip


DIVIDED = Exercise(
    "duals", "Four tires on an axle", "rounds", 2, "Leave all four at what they need.",
    {"four": "Four tires share it, and the row for duals is read", "two": "Each side carries half of it", "most": "Duals always get the most"}, "four",
    {"undivided": Mistake("The axle's load was not divided by its duals", "Far too hard: less rubber on the road, and every bump in the frame."),
     "single": Mistake("The row for single tires was read", "Beside another a tire carries less: this is too soft, and the inner one pays first."),
     "low": Mistake("They do not carry their load", "The inner one runs hot first, unseen."), "high": Mistake("More than they need", "Less rubber on the road.")},
    ("How many tires stand under that load?", "By four, and in the row for duals."),
    lambda d: drawn_until(d, _duals),
    lambda s, left: by_pressure(left, DUALS, s.truth["wanted"], {"undivided": s.truth["undivided"], "single": s.truth["single"]}, "low", "high"),
    lambda s: Left(at(DUALS, s.truth["wanted"]), reason="four"),
    {"undivided": lambda s: Left(at(DUALS, s.truth["undivided"])), "single": lambda s: Left(at(DUALS, s.truth["single"])),
     "low": lambda s: Left(at(DUALS, 0.8 * s.truth["single"])), "high": lambda s: Left(at(DUALS, s.truth["wanted"] + 3 * PSI_KPA + (s.truth["undivided"] - s.truth["wanted"]) / 2))},
)  # fmt: skip


# -- a heavy corner --------------------------------------------------------------------------------------


def _corner(dice: random.Random) -> Drawn | None:
    tire = dice.choice(TIRES)
    axle = round(2 * tire.single_kg * dice.uniform(0.55, 0.65) / 20) * 20.0
    heavy = round(axle * dice.uniform(0.54, 0.58) / 10) * 10.0
    side, rear = dice.choice(("left", "right")), round(0.45 * tire.single_kg / 10) * 10.0
    wanted, halved = tire.needs(heavy), tire.needs(axle / 2)
    # Found low, and not so low that it must not roll.
    if not apart(wanted, halved, tire.needs(axle - heavy)) or halved < 0.82 * wanted:
        return None
    return Drawn(
        (say("A scale beside the road gives {0} for the front axle.", kg(axle)), say(f"The water tank is on the {side}, and pads to weigh each wheel are in the bay.")),
        {"wanted": wanted, "halved": halved, "heavy_kg": heavy, "light_kg": axle - heavy},
        Scene("van", (AxleScene(tire, total_kg=axle), AxleScene(tire, total_kg=2 * rear)),
              at(FRONT, halved) | at(("2L", "2R"), tire.needs(rear)),
              pads={"1L": heavy if side == "left" else axle - heavy, "1R": axle - heavy if side == "left" else heavy, "2L": rear, "2R": rear}),
        (Line(say("its heavier end, weighed alone"), kg(heavy)), Line(say("what carries that, for both ends"), kpa(wanted)), Line(say("half of the axle would have asked for"), kpa(halved))),
        {"side": side},
    )  # fmt: skip


def _corner_judged(s: Drawn, left: Left) -> str:
    outcome = by_pressure(left, FRONT, s.truth["wanted"], {"halved": s.truth["halved"]}, "low", "high")
    return "guessed" if outcome == "" and not left.corners else outcome


CORNER = Exercise(
    "corner", "A scale for the whole axle", "weighing", 10, "Find out what the front tires carry, and leave both at what they need.",
    {"end": "The heavier end decides for both", "mean": "Over the axle it evens out", "side": "Each end gets its own pressure"}, "end",
    {"halved": Mistake("A heavy corner stayed hidden in the axle's weight", "The tire under the tank is overloaded at the pressure of half the axle."),
     "guessed": Mistake("The number is right, and nobody weighed it", "Next time the guess is another one."),
     "low": Mistake("The heavier end is not carried", "It runs hot under the tank."), "high": Mistake("More than the heavier end needs", "Less grip on both.")},
    ("An axle has two ends.", "Weigh each wheel, and go by the heavier."),
    lambda d: drawn_until(d, _corner), _corner_judged,
    lambda s: Left(at(FRONT, s.truth["wanted"]), corners=True, reason="end"),
    {"halved": lambda s: Left(at(FRONT, s.truth["halved"])), "guessed": lambda s: Left(at(FRONT, s.truth["wanted"])),
     "low": lambda s: Left(at(FRONT, 0.75 * s.truth["halved"]), corners=True), "high": lambda s: Left(at(FRONT, s.truth["wanted"] + 6 * PSI_KPA), corners=True)},
)  # fmt: skip


# -- a reserve three times -------------------------------------------------------------------------------


def _thrice(dice: random.Random) -> Drawn | None:
    tire, load, wanted = _front(dice)
    thrice = steps_up(tire.bare(load * 1.08 * 1.10) * 1.1, STEPS["1 psi"])
    if not apart(wanted, thrice) or thrice > tire.max_kpa:
        return None
    return Drawn(
        (say("Weighed: {0} on the heavier front wheel. The sheet in the bay adds 8 % to it.", kg(load)),
         say("Somebody adds 10 % “for the guests”, and somebody else a tenth of the pressure “to be safe”."),
         say("The tires carry {0} at {1}.", kg(tire.single_kg), kpa(tire.max_kpa))),
        {"wanted": wanted, "thrice": thrice, "load_kg": load}, weighed(tire, load, 0.85 * wanted),
        (Line(say("weighed, and one reserve of 8 %"), kg(load * 1.08)), Line(say("what carries that"), kpa(wanted)), Line(say("with all three reserves"), kpa(thrice))),
    )  # fmt: skip


THRICE = Exercise(
    "thrice", "To be safe, to be safe, to be safe", "targets", 2, "Leave both front tires at what the load needs, with one reserve.",
    {"once": "One reserve on the load, and no other anywhere", "more": "A reserve more never hurts", "guests": "The guests are not in the weight"}, "once",
    {"thrice": Mistake("A reserve was taken three times", "Hard as a board: less grip, longer stops, and the ceiling is close on a hot day."),
     "low": Mistake("The load and its reserve are not carried", "It runs hot."), "high": Mistake("More than one reserve", "Less grip than it could have.")},
    ("How often is the reserve in there?", "It was weighed with the guests aboard."),
    lambda d: drawn_until(d, _thrice),
    lambda s, left: by_pressure(left, FRONT, s.truth["wanted"], {"thrice": s.truth["thrice"]}, "low", "high"),
    lambda s: Left(at(FRONT, s.truth["wanted"]), reason="once"),
    {"thrice": lambda s: Left(at(FRONT, s.truth["thrice"])), "low": lambda s: Left(at(FRONT, 0.85 * s.truth["wanted"])),
     "high": lambda s: Left(at(FRONT, (s.truth["wanted"] + s.truth["thrice"]) / 2 + 0.0))},
)  # fmt: skip


# -- rounded down ----------------------------------------------------------------------------------------

STEP = STEPS["5 psi"]


def _rounded(dice: random.Random) -> Drawn | None:
    tire = dice.choice(TIRES)
    load = round(tire.single_kg * dice.uniform(0.5, 0.75) / 10) * 10.0
    exact = tire.bare(load * (1 + RESERVE))
    up = steps_up(exact, STEP)
    down = up - STEP.kpa
    # Nearer to the step below, where rounding as one learned it goes down.
    if exact - down > 0.45 * STEP.kpa or exact - down < 0.1 * STEP.kpa:
        return None
    return Drawn(
        (say("The heavier front wheel and its reserve need {0}.", kpa(exact)), say(f"The pump can be set in steps of {plain('5 psi')}.")),
        {"wanted": up, "down": down, "exact": exact}, replace(weighed(tire, load, 0.85 * up), step="5 psi"),
        (Line(say("needed"), kpa(exact)), Line(say("the step above carries it"), kpa(up)), Line(say("the nearest step does not"), kpa(down))),
    )  # fmt: skip


ROUNDED = Exercise(
    "rounded", "The nearest step", "rounds", 2, "Set the pump for both front tires.",
    {"up": "What must be carried is rounded up, never down", "near": "The nearest step is the most exact", "within": "It is within the gauge's error"}, "up",
    {"down": Mistake("A requirement was rounded down", "It was the least that carries the load: below it, it does not."),
     "low": Mistake("Far below what is needed", "It runs hot."), "high": Mistake("Steps too far up", "Less grip than it could have.")},
    ("Is it a wish or a requirement?", "Up."),
    lambda d: drawn_until(d, _rounded),
    lambda s, left: by_pressure(left, FRONT, s.truth["wanted"], {"down": s.truth["down"]}, "low", "high"),
    lambda s: Left(at(FRONT, s.truth["wanted"]), reason="up"),
    {"down": lambda s: Left(at(FRONT, s.truth["down"])), "low": lambda s: Left(at(FRONT, s.truth["down"] - STEP.kpa)),
     "high": lambda s: Left(at(FRONT, s.truth["wanted"] + STEP.kpa))},
)  # fmt: skip

EXERCISES = (SIDEWALL, TRAILERS_OWN, DIVIDED, CORNER, THRICE, ROUNDED)
