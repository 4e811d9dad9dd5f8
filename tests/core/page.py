"""The cases that the page's own units are held against: what it must decide without a network, as the core decides it.

`python -m tests.core.page` writes them again; a test fails where they are not what the core says.
"""

import datetime as dt
import json
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

from ballast.core import ground, rounds, sensors, units
from ballast.core.air import Standing, standing
from ballast.core.gas import Air
from ballast.core.gauges import Gauge, Pair, correct, shows
from ballast.core.refusal import Refusal
from ballast.core.working import toward

FILE = Path(__file__).parents[1] / "page.json"

TYPED: tuple[tuple[units.Kind, str], ...] = (
    *(("pressure", t) for t in ("90", "90 psi", "100 PSI", "690kPa", "690 kpa", "6.2 bar", "6,2 bar", "1,050", "1,050 kPa",
                                "1 050 kPa", "1.050,5", "7", "0.5", ".5", "90.", "+90", "− 4", "-4 psi", "90 #", "90 lbf/in2",
                                "", " ", "psi", "90 kg", "9o", "1e3", "90 psi psi", "90.5.1", "12,34", "0,125", "1,2,3", "１２")),
    *(("length", t) for t in ("20 ft", "6.1 m", "6.1", "240 in", "1,310 m", "24'", '100"', "1300 mm", "5 psi")),
    *(("mass", t) for t in ("3,150 kg", "6,940 lbs", "3.15 t", "6940", "6940 pounds")),
    *(("temperature", t) for t in ("−4 °C", "25 F", "-4", "25 degf", "4 c")),
)  # fmt: skip
SHOWN: tuple[tuple[units.Kind, float], ...] = (
    ("pressure", 689.4757), ("pressure", 620.5281), ("pressure", 65.25), ("pressure", 450.0), ("mass", 3150.4),
    ("temperature", -4.4), ("length", 6.1), ("length", 1310.0), ("distance", 84200.0), ("share", 0.0825),
    ("pressure", -0.001), ("pressure", 1050.0), ("pressure", 690.5), ("mass", 1200.5),
)  # fmt: skip
NEAR = ((449.0, 450.0), (450.0, 450.0), (449.6, 450.0), (300.0, None), (450.0, 449.9), (620.5, 690.0))
HERE = Air(5.0, 410.0)
GOAL = rounds.WheelGoal(690.0, 620.0, 760.0, True, True, out_to_kpa=712.0, stop_kpa=rounds.stop_at(690.0), sure_kpa=6.0)
GAUGE = Gauge("digital", 0.0, 1034.0, 3.4, (Pair(400, 403), Pair(600, 606), Pair(800, 809)), 1.0)
STOOD = {"cold": Standing(True, 5.0, 0.0), "warm": standing(1.0, True, "highway", 5.0)}
READ = (40.0, 300.0, 543.0, 553.0, 566.0, 612.5, 640.0, 676.0, 684.0, 700.0, 719.0, 734.0, 758.0, 769.0, 900.0)


def _read(kind: units.Kind, typed: str, unit: str) -> float | None:
    try:
        return units.parse(kind, typed, -1e12, 1e12, unit)
    except Refusal:
        return None


def _quantities() -> list[dict[str, Any]]:
    found = []
    for system in ("us", "metric"):
        for kind, typed in TYPED:
            unit = units.SHOWN[system][kind]  # type: ignore[index]
            found.append({"kind": kind, "typed": typed, "unit": unit, "value": _read(kind, typed, unit)})
    return found


def _shown() -> list[dict[str, Any]]:
    ways: tuple[units.Toward, ...] = ("nearest", "up", "down")
    systems: tuple[units.System, ...] = ("us", "metric")
    return [
        {"kind": k, "value": v, "system": s, "toward": w, "text": units.show(k, v, s, w)}
        for k, v in SHOWN for s in systems for w in ways
    ]  # fmt: skip


def _decisions() -> list[dict[str, Any]]:
    found = []
    for name, stood in STOOD.items():
        for rolled in (True, False):
            goal = replace(GOAL, may_have_rolled=rolled)
            sheet = rounds.decision_sheet(goal, GAUGE, stood, HERE)
            stretches = [asdict(s) | {"asks_for_air": s.asks_for_air} for s in sheet.stretches]
            answers = []
            for reading in READ:
                said = rounds.answer(goal, correct(GAUGE, reading), stood, HERE)
                answers.append(
                    {
                        "reading_kpa": reading, "word": said.word, "text": said.words.text, "cold_kpa": said.cold_kpa,
                        "uncertainty_kpa": said.uncertainty_kpa, "change_kpa": said.change_kpa, "fill_kpa": said.fill_kpa,
                        "shows_kpa": None if said.fill_kpa is None else shows(GAUGE, said.fill_kpa), "locked": said.locked,
                        "asks_for_air": said.asks_for_air, "stops_mate": said.ran_low,
                    }
                )  # fmt: skip
            of_sheet = {"wheels": ["2Li"], "gauge": 1, "rolled": rolled, "estimate": not stood.cold}
            found.append(
                {"name": name, "decision": asdict(sheet) | {"stretches": stretches} | of_sheet, "answers": answers}
            )
    return found


# Done at the wheels of a plan over gravel and soft sand, one after the other: wheel, stretch, how.
WALKED: tuple[tuple[str, int, ground.Done], ...] = (
    ("1L", 0, "set"), ("T1L", 0, "left"), ("1L", 1, "set"), ("T1L", 1, "set"), ("1L", 2, "set"), ("T1L", 2, "unreadable"),
)  # fmt: skip


def _walks() -> dict[str, Any]:
    """A plan as data, and how it stands after each thing that is done, at each stretch: what a phone says without a network."""
    meets = ground.Meets(HERE)
    wheels = [
        ground.GroundWheel("1L", "Front left", "steered", 262.0, units.PSI_KPA, rig=1),
        ground.GroundWheel("T1L", "Axle left", "trailer", 227.5, units.PSI_KPA, rig=2),
    ]
    made = ground.plan(wheels, ground.SHIPPED, ground.Wanted(("gravel", "soft")), meets)
    stretches = tuple(
        ground.Stretch(
            s.surface.key,
            s.surface.name,
            s.surface.speed_kmh,
            s.surface.road,
            False,
            {j.code: j.number for j in s.jobs},
        )
        for s in made.steps
    )
    numbers = {w.code: ground.numbers(w, ground.SHIPPED, meets) for w in wheels}
    start, stands = dt.datetime(2026, 11, 28, 9, tzinfo=dt.UTC), []
    for done in range(len(WALKED) + 1):
        entries = tuple(ground.Entry(code, step, how, start, 100.0) for code, step, how in WALKED[:done])
        for at in range(len(stretches)):
            plan = ground.Open(start, stretches, at, entries)
            lets_out = {code: plan.lets_out(code, at) for code in numbers}
            stands.append(
                {"done": done, "at": at, "waiting": plan.waiting, "lets_out": lets_out, "speed_kmh": plan.speed_kmh}
            )
    return {
        "surfaces": [{"key": s.key, "name": s.name, "speed_kmh": s.speed_kmh, "road": s.road} for s in ground.SHIPPED],
        "wheels": [
            {"code": w.code, "name": w.name, "rig": w.rig, "numbers": [{"surface": n.surface, "kpa": n.kpa} for n in numbers[w.code]]}
            for w in wheels
        ],
        "walked": WALKED,
        "stands": stands,
    }  # fmt: skip


LAMP_WHEELS = (
    ("1L", "Front left", False),
    ("1R", "Front right", False),
    ("2L", "Rear {left}", False),
    ("S1", "Spare", True),
)
# Of each wheel its word and what it lacks, in that order; None: it was left out.
LAMP_READ: tuple[tuple[tuple[str, float | None] | None, ...], ...] = (
    (("hold", 0.0), ("hold", 0.01), ("hold", 0.0), ("hold", 0.0)),
    (("hold", 0.0), ("add", 0.1), ("hold", 0.0), ("hold", 0.0)),
    (("add", 0.1), ("add", 0.12), ("add", 0.11), ("hold", 0.0)),
    (("add", 0.1), ("add", 0.14), ("add", 0.11), ("add", 0.2)),
    (("add", 0.1), ("add", None), ("add", 0.11), ("hold", 0.0)),
    (("hold", 0.0), ("hold", 0.0), ("hold", 0.0), ("add", 0.2)),
    (("hold", 0.0), ("stop", 0.5), ("cannot_tell", None), ("hold", 0.0)),
    (("hold", 0.0), ("cannot_tell", None), ("not_checked", None), ("hold", 0.0)),
    (("hold", 0.0), ("hold", 0.0), ("hold", 0.0), None),
    (("add", 0.2), ("hold", 0.0), ("hold", 0.0), None),
    (),
)  # fmt: skip


def _guided(**answered: Any) -> dict[str, Any]:
    of = sensors.Answers(**answered)
    step = sensors.guide(of)
    asked = {k: v for k, v in asdict(of).items() if k != "reads"}
    return {
        "asked": asked | {"reads": [asdict(r) for r in of.reads]}, "key": step.key, "text": step.words.text,
        "notes": [n.text for n in step.notes], "outcome": step.outcome,
    }  # fmt: skip


def _guide() -> dict[str, Any]:
    """The lamp's way as data, and where it leads by all that can be answered: what a phone says without a network."""
    steps = [_guided(), _guided(light="flashing"), _guided(light="solid", which="?")]
    for seen in ("nothing", "object", "flat"):
        for read in LAMP_READ:
            found = tuple(zip(LAMP_WHEELS, read, strict=False))
            reads = tuple(sensors.Read(c, n, s, *r) for (c, n, s), r in found if r)  # type: ignore[arg-type]
            left_out = tuple((n, "no {key}") for (_, n, _), r in found if r is None)
            for aired, after in ((False, None), (True, None), (True, "out"), (True, "on")):
                more = {"reads": reads, "left_out": left_out, "aired": aired, "after": after}
                steps.append(_guided(light="flashing", which="2L", seen=seen, **more))
    return {
        "ways": [asdict(w) for w in sensors.WAYS], "notes": [asdict(n) for n in sensors.NOTES], "alike": sensors.ALIKE,
        "unread": sensors.UNREAD, "steps": steps,
    }  # fmt: skip


def cases() -> dict[str, Any]:
    made = {
        "units": [asdict(u) for u in units.UNITS],
        "shown_in": units.SHOWN,
        "quantities": _quantities(),
        "shown": _shown(),
        "toward": [{"kpa": k, "bound": b, "toward": toward(k, b)} for k, b in NEAR],
        "words": [{"word": w, "asks_for_air": use.asks_for_air} for w, use in rounds.WORDS.items()],
        "decisions": _decisions(),
        "walks": _walks(),
        "guide": _guide(),
    }
    plain: dict[str, Any] = json.loads(json.dumps(made))
    return plain


if __name__ == "__main__":
    FILE.write_text(json.dumps(cases(), ensure_ascii=False, separators=(",", ":")) + "\n")
