"""A round as it stands: every wheel with its newest readings, what they mean, and what is open."""

from collections import Counter
from typing import Any

from ballast.core import gauges as core_gauges
from ballast.core import rounds as core
from ballast.core import weighing as core_weighing
from ballast.core.tables import SAMPLE_STAMP
from ballast.core.working import Phrase, kpa, plain, say
from ballast.server.edge.versions import version_of
from ballast.server.gauges import services as gauges
from ballast.server.rigs import services as rigs
from ballast.server.rounds.conditions import Frame, expected, goal_of, here_of, shows_of
from ballast.server.rounds.models import Reading, Round, WheelNote
from ballast.server.tables.models import Table
from ballast.server.targets import services as targets
from ballast.server.weighing import services as weighing


def as_corrected(reading: Reading | None, frame: Frame) -> core_gauges.Corrected | None:
    """A reading; of an open round no surer than its gauge is now: it may have been dropped since."""
    if reading is None:
        return None
    sure = reading.uncertainty_kpa
    if frame.round.sealed_at is None:
        sure = max(sure, gauges.gauge_of(reading.gauge).least_kpa)
    return core_gauges.Corrected(reading.corrected_kpa, sure, reading.outside_calibration)


def _reading_out(reading: Reading) -> dict[str, Any]:
    return {
        "uuid": str(reading.uuid),
        "typed": reading.typed,
        "raw_kpa": reading.raw_kpa,
        "corrected_kpa": reading.corrected_kpa,
        "uncertainty_kpa": reading.uncertainty_kpa,
        "gauge": reading.gauge.label,
        "not_rolled": reading.not_rolled,
        "by": reading.entered_by.shown_name,
        "by_id": reading.entered_by_id,
        "at": reading.read_at or reading.received_at,
    }


def unseen(readings: list[Reading]) -> list[Reading]:
    """Readings of a wheel, of one kind, that whoever entered the newest had not seen."""
    if len(readings) < 2:
        return []
    newest, found = readings[-1], []
    for earlier in reversed(readings[:-1]):
        if newest.saw == earlier.uuid or (newest.saw is None and earlier.entered_by_id == newest.entered_by_id):
            break
        found.append(earlier)
    return found


def wheel_view(
    frame: Frame, line: dict[str, Any], readings: list[Reading], notes: list[WheelNote] | None = None
) -> dict[str, Any]:
    """A wheel with its newest readings and what they mean."""
    own = [r for r in readings if r.wheel == line["code"]]
    firsts = [r for r in own if not r.after]
    before = firsts[-1] if firsts else None
    # A new first reading starts the wheel again: an earlier second one no longer belongs to it.
    seconds = [r for r in own if r.after and before is not None and r.pk > before.pk]
    after = seconds[-1] if seconds else None
    seen = _seen([n for n in notes or [] if n.wheel == line["code"]], before)
    held = here_of(frame, line)
    rolled = not (before and before.not_rolled) and not seen["inspected"]
    stands = frame.stands(line)
    gauge = frame.gauge if before is None else gauges.gauge_of(before.gauge)
    goal = goal_of(frame, line, held, rolled, gauge)
    answer = core.answer(goal, as_corrected(before, frame), stands, frame.here)
    after_answer = None
    if after is not None:
        again = goal_of(frame, line, held, False, gauges.gauge_of(after.gauge))
        after_answer = core.answer(again, as_corrected(after, frame), stands, frame.here)
    others = unseen(firsts) + unseen(seconds)
    expects, within = expected(frame, line, gauge, before.gauge_id if before else None)
    bounds: tuple[float | None, float | None] = None, None
    if expects is not None and within is not None and held["here_kpa"] is not None:
        bounds = core.likely(expects, within, held["here_kpa"])
    return {
        "code": line["code"],
        "name": line["name"],
        "own": line["own"],
        "rig": line["rig"],
        "axle": line["axle"],
        "spare": line["spare"],
        "floor_kpa": line["floor"],
        "target_kpa": line["target"],
        "ceiling_kpa": line["ceiling"],
        **held,
        "goal": goal,
        "shows_kpa": shows_of(frame, line, held, gauge, answer.fill_kpa),
        "missing": goal.missing if line["target"] is None else None,
        "before": _reading_out(before) if before else None,
        "after": _reading_out(after) if after else None,
        "others": [_reading_out(r) for r in others],
        "answer": answer,
        "after_answer": after_answer,
        "side": line.get("side", 0),
        "locked": answer.locked,
        "retakes": max(0, len(firsts) - 1),
        "seen": seen | {"words": _said(line, seen, own, frame)},
        "expected_kpa": expects,
        "expected_within_kpa": within,
        "likely_from_kpa": bounds[0],
        "likely_to_kpa": bounds[1],
    }


def with_mates(wheels: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The wheels of a round with each dual stopped whose mate ran low: it carried the load of both."""
    at = {w["code"]: w for w in wheels}
    for wheel in wheels:
        mate = at.get(core.mate_of(wheel["code"]) or "")
        if mate is not None and mate["answer"].ran_low and mate["goal"].may_have_rolled and wheel["before"] is not None:
            wheel["answer"] = core.mate_stopped(wheel["goal"], wheel["answer"], mate["name"])
            wheel["locked"] = wheel["answer"].locked
    return wheels


def _seen(notes: list[WheelNote], before: Reading | None) -> dict[str, Any]:
    """All that was noted at a wheel, the newest word of each kind. An inspection counts for the reading it followed."""
    found: dict[str, Any] = {
        "leak": "", "cap": "", "valve": "", "tread": None, "damage": "", "sensor_kpa": None, "display_kpa": None,
        "display_rolled": None, "note": "", "skipped": "", "inspected": "", "inspected_by": "",
    }  # fmt: skip
    for row in notes:
        says = dict(row.says)
        if "inspected" in says:
            fresh = before is None or row.received_at >= before.received_at
            says["inspected"] = says["inspected"] if fresh else ""
            found["inspected_by"] = row.by.shown_name if fresh else ""
        if "display_kpa" in says:
            # A number of before belongs to what was read before: like is held against like.
            found["display_at"] = row.received_at
        found |= says
    if before is not None:
        found["skipped"] = ""
    return found


def beside_display(readings: list[Reading], at: Any, rolled: bool | None) -> Reading | None:
    """The reading that a display's number, noted at a moment, is to be held against: the newest before it, where the tire has
    rolled since that number last changed; none where it has not, or nobody said so."""
    earlier = [r for r in readings if r.received_at <= at]
    return earlier[-1] if rolled and earlier else None


def _said(line: dict[str, Any], seen: dict[str, Any], own: list[Reading], frame: Frame) -> list[Phrase]:
    """What the notes of a wheel, and its readings together, give to say."""
    words: list[Phrase] = []
    if seen["leak"] in ("heard", "bubbled"):
        words.append(say(f"Leak {seen['leak']}: find it, and have it mended."))
    if seen["cap"] == "missing":
        words.append(say("Its cap is missing: fit one."))
    if seen["valve"] == "damaged":
        words.append(say("Its valve is damaged: have it changed."))
    if seen["damage"]:
        words.append(say("Damage: " + plain(seen["damage"]) + ". A tire service decides."))
    if seen["inspected"]:
        words.append(say(f"Inspected by {plain(seen['inspected_by'])}: {plain(seen['inspected'])}."))
    read = tuple(c for r in own if not r.after and (c := as_corrected(r, frame)))
    newest = read[-1] if read else None
    if (apart := core.retake(read)) is not None:
        words.append(say("Two readings differ by {0}, more than the gauge explains: read it once more.", kpa(apart)))
    label, shown_true = plain(seen.get("display_label", "") or "The display"), seen.get("display_true_kpa")
    like = beside_display(own, seen["display_at"], seen["display_rolled"]) if "display_at" in seen else None
    if seen["display_kpa"] is not None and like is None:
        words.append(say(f"{label}: a number of before it has rolled judges nothing, and teaches nothing."))
    for name, shown, true in (
        ("Its own sensor", seen["sensor_kpa"], newest),
        (label, shown_true, as_corrected(like, frame)),
    ):
        gap = 0.0 if shown is None or true is None else shown - true.kpa
        if abs(gap) >= core_gauges.AGREE_KPA:
            way = "lower" if gap < 0 else "higher"
            words.append(say(f"{name} shows {{0}} {way} than the gauge.", kpa(abs(gap))))
    return words


_WORDS = {
    "stop": "stop and inspect", "add": "add air", "let_out": "let out", "hold": "hold", "cannot_tell": "cannot tell",
    "not_checked": "not checked",
}  # fmt: skip


def last_answer(wheel: dict[str, Any]) -> core.Answer:
    """The answer that stands: after air was added the second, else the first."""
    return wheel["after_answer"] or wheel["answer"]  # type: ignore[no-any-return]


def summarise(wheels: list[dict[str, Any]]) -> str:
    """A round in a few words, by the answers that stand at its end."""
    count = Counter(last_answer(w).word for w in wheels if w["here_kpa"] is not None)
    bare = [w for w in wheels if w["here_kpa"] is None]
    count.update(word for w in bare if (word := last_answer(w).word) != "cannot_tell")
    served = sum(1 for w in wheels if w["after"])
    parts = [f"{_WORDS[w]}: {count[w]}" for w in ("stop", "add", "let_out", "cannot_tell", "not_checked") if count[w]]
    parts += [f"no target known: {len(bare)}"] if bare else []
    text = ", ".join(parts) if parts else "all hold"
    return f"{text}; air set in {served}" if served else text


def findings(wheels: list[dict[str, Any]]) -> list[str]:
    """What is a finding of its own: mates that disagree."""
    cold = {}
    for w in wheels:
        standing, reading = last_answer(w), w["after"] or w["before"]
        if standing.cold_kpa is not None and reading is not None:
            cold[w["code"]] = core.Stands(standing.cold_kpa, standing.uncertainty_kpa or 0.0, reading["gauge"])
    names = {w["code"]: w["name"] for w in wheels}
    return [core.mates_words(m, names[m.first], names[m.second]) for m in core.mates(cold)]


def open_at(wheel: dict[str, Any]) -> str:
    """What a wheel leaves open, in a few words; empty: nothing."""
    seen = wheel["seen"]
    if wheel["before"] is None:
        return f"not read: {seen['skipped']}" if seen["skipped"] else "not read"
    found = []
    if wheel["others"]:
        found.append("two readings that did not know of each other")
    if wheel["here_kpa"] is None:
        found.append("no target known")
    if wheel["locked"]:
        found.append("locked until inspected")
    elif last_answer(wheel).word == "stop":
        found.append("to be looked at again within a day")
    if seen["leak"] in ("heard", "bubbled"):
        found.append(f"leak {seen['leak']}")
    if seen["damage"]:
        found.append(f"damage: {seen['damage']}")
    if seen["valve"] == "damaged":
        found.append("valve damaged")
    if seen["cap"] == "missing":
        found.append("cap missing")
    return ", ".join(found)


_READ_IN = (
    "id", "place", "time_zone", "outside_c", "morning_c", "dawn_c", "elevation_m", "standing_h", "driven", "rolled",
    "sunny", "shop_c", "air_source", "odometer_km", "opened_at", "sealed_at", "unread_reason", "without_target", "signed",
    "abandoned_at",
)  # fmt: skip


_STATE = (
    "gauge_id", "standing_h", "driven", "rolled", "sunny", "shop_c", "odometer_km", "place", "outside_c", "morning_c", "dawn_c",
    "elevation_m",
)  # fmt: skip


def state_of(row: Round) -> dict[str, Any]:
    """All that the form of what a round is read in shows and writes."""
    return {f: getattr(row, f) for f in _STATE}


def read_in(row: Round, frame: Frame) -> dict[str, Any]:
    """Where, when, with what and how a round was read."""
    return {f: getattr(row, f) for f in _READ_IN} | {
        "version": version_of(state_of(row)),
        "rig": row.rig_id,
        "gauge": row.gauge_id,
        "gauge_label": row.gauge.label,
        "cold": frame.standing.cold,
        "wait_h": frame.standing.wait_h,
        "made_up_weather": row.air_source == "made up",
    }


def wheels_of(frame: Frame, readings: list[Reading], notes: list[WheelNote]) -> list[dict[str, Any]]:
    """Every wheel of a round as it stands by some readings and notes."""
    return with_mates([wheel_view(frame, line, readings, notes) for line in frame.round.sheet])


def of_wheels(wheels: list[dict[str, Any]]) -> dict[str, Any]:
    """The wheels of a round, and what follows from all of them."""
    return {
        "wheels": wheels,
        "findings": findings(wheels),
        "open_matters": [f"{w['name']}: {matter}" for w in wheels if (matter := open_at(w))],
        "summary": summarise(wheels),
    }


def with_stamps(result: dict[str, Any]) -> dict[str, Any]:
    """A sealed round; of one that was sealed before a simulated scale was told apart, whether a sample table had a part."""
    before: dict[str, Any] = {"stamps": [SAMPLE_STAMP] if result.get("samples") else []}
    return before | result


def present(row: Round) -> dict[str, Any]:
    """A round as it stands; a sealed one as it stood when it was sealed, or since it was put right."""
    if row.result is not None:
        return with_stamps(row.stands or row.result)
    readings, notes = list(row.readings.all()), list(row.notes.all())
    frame = Frame.of(row)
    takes = [
        {
            "person": t.person_id, "name": t.person.shown_name, "gauge": t.gauge_id, "gauge_label": t.gauge.label,
            "wheels": t.wheels,
        }
        for t in row.takes.all()
    ]  # fmt: skip
    taken = {code: {"taken_by": t["name"], "taken_by_id": t["person"]} for t in takes for code in t["wheels"]}
    wheels = [w | taken.get(w["code"], {}) for w in wheels_of(frame, readings, notes)]
    parts = list(row.parts.all())
    over: list[Phrase] = []
    stamps: list[str] = []
    for part in parts:
        if part.target_set is not None and part.target_set.weighing is not None:
            stamps += targets.stamps(False, part.target_set.weighing.made_up)
            loads = weighing.loads_of(part.target_set.weighing, rigs.rig_of(part.rig))
            said = [core_weighing.overload_words(c) for c in loads.over]
            over += [say(f"{part.rig.name}: {p.text}", *p.values) for p in said] if len(parts) > 1 else said
    sets = [p.target_set_id for p in parts if p.target_set_id]
    kinds = set(Table.objects.filter(target_sets__in=sets).values_list("sample", "checked_by")) if sets else set()
    stamps += targets.stamps(any(sample for sample, _ in kinds), False)
    return (
        read_in(row, frame)
        | of_wheels(wheels)
        | {
            "rig_name": " ".join(filter(None, (row.rig.fleet_number, row.rig.name))),
            "gauge_condition": gauges.condition(row.gauge),
            "opened_by": row.opened_by.shown_name,
            "opened_by_id": row.opened_by_id,
            "sealed_by": row.sealed_by.shown_name if row.sealed_by else None,
            "takes": takes,
            "over": over,
            "unlike": [words for part in parts for words in rigs.rig_of(part.rig).unlike],
            "stamps": list(dict.fromkeys(stamps)),
            "unchecked": any(not sample and checked is None for sample, checked in kinds),
        }
    )
