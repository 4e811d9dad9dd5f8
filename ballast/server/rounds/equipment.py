"""The right gauge and the right inflator for a rig, and what is heard over the radio link at a wheel."""

import statistics
from typing import Any

from django.utils import timezone

from ballast.core import gauges as core
from ballast.core import rigs as core_rigs
from ballast.core import rounds as core_rounds
from ballast.core.gas import SEA_LEVEL_KPA
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import services as air
from ballast.server.gauges import inflators, radio
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Beside, Gauge
from ballast.server.rigs import fittings
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import ledger
from ballast.server.rounds import services as rounds
from ballast.server.rounds.conditions import Frame, expected, here_of
from ballast.server.rounds.models import WheelNote
from ballast.server.rounds.schemas import RadioIn
from ballast.server.rounds.sheet import of as sheet_of
from ballast.server.rounds.views import beside_display, present
from ballast.server.targets import services as targets


def for_rig(actor: Actor, rig_id: int) -> dict[str, Any]:
    """For each axle and spare which gauges suit; for each inflator whether it does what the rig needs now."""
    actor.must(May.READ)
    train = rigs.train(actor, rig_id, also=("air",))
    in_force = targets.each_in_force(targets.sets(actor, *train))
    lines = sheet_of(actor, train, [in_force.get(v.pk) for v in train], ledger.newest(train))
    drawer = [g for g in gauges.gauges(actor) if not g.retired and g.kind not in (*core.FITTED, "master")]
    typed = [(g, gauges.gauge_of(g), gauges.condition(g)) for g in drawer]
    axles: dict[tuple[int, int | None, str], dict[str, Any]] = {}
    for line in lines:
        if line["target"] is None:
            continue
        key = (line["rig"], line["axle"], "" if line["axle"] is not None else line["code"])
        if key not in axles:
            axles[key] = _axle(train, line, typed)
    basis, needs = _needs(actor, train, lines)
    here = air.surroundings(air.air_of(actor, train[0]), 7).here
    outside = here.absolute_kpa if here else SEA_LEVEL_KPA
    jobs = []
    for row in inflators.inflators(actor):
        if row.retired or basis == "none":
            continue
        found = core.job(inflators.inflator_of(row), needs, outside)
        jobs.append({"inflator": row.pk, "label": row.label} | inflators.job_out(row, found))
    return {"axles": list(axles.values()), "basis": basis, "jobs": jobs}


def _axle(train: list[Rig], line: dict[str, Any], typed: list[tuple[Any, core.Gauge, Any]]) -> dict[str, Any]:
    rig = next(v for v in train if v.pk == line["rig"])
    name = line["name"]
    if line["axle"] is not None:
        name = core_rigs.axle_name(line["axle"], len(rig.axles.all()), rig.kind)
        if len(train) > 1:
            name = f"{rig.name}: {name.lower()}"
    found = []
    for row, gauge, said in typed:
        suits = core.suits(gauge, line["target"], line["dual"])
        notes = suits.notes if said is None else (*suits.notes, said)
        found.append(
            {
                "gauge": row.pk, "label": row.label, "able": suits.able and row.suspicion != "differs", "best": False,
                "uncertainty_kpa": suits.uncertainty_kpa, "notes": notes,
            }
        )  # fmt: skip
    # The one to take: able, nothing said against it if there is such a one, and surest.
    able = [g for g in found if g["able"]]
    if able:
        min(able, key=lambda g: (bool(g["notes"]), g["uncertainty_kpa"]))["best"] = True
    return {"name": name, "target_kpa": line["target"], "dual": line["dual"], "gauges": found}


def _volume(rig: Rig, line: dict[str, Any]) -> float:
    """About how much air a tire holds [L]; where its size does not say, that of a large one."""
    wheel = next(w for w in rigs.wheels_of(rig) if w.code == line["own"])
    return inflators.volume_of(fittings.described(rig, wheel).tire_size) or core.LARGE_TIRE_L


def _needs(actor: Actor, train: list[Rig], lines: list[dict[str, Any]]) -> tuple[str, tuple[core.ToFill, ...]]:
    """The tires that want air: by the open round's readings, else by prediction; below the floor is urgent."""
    by_pk = {v.pk: v for v in train}

    def fill(line: dict[str, Any], stands: float, here: float) -> core.ToFill:
        floor = line["floor"]
        volume = _volume(by_pk[line["rig"]], line)
        return core.ToFill(line["name"], stands, here, volume, floor is not None and stands < floor)

    open_round = rounds.rounds(actor).filter(parts__rig__in=train, sealed_at=None).first()
    if open_round is not None:
        view = present(rounds.round_(actor, open_round.pk))
        sheet = {line["code"]: line for line in open_round.sheet}
        wanting = [w for w in view["wheels"] if w["before"] and not w["after"] and not w["locked"]]
        if any(w["before"] for w in view["wheels"]):
            # From what is in it to what the verdict fills it to, both at the tire's own temperature.
            found = [
                fill(sheet[w["code"]], w["before"]["corrected_kpa"], answer.fill_kpa)
                for w in wanting
                if (answer := w["answer"]).word == "add" and answer.fill_kpa is not None
            ]
            return "round", tuple(found)
    around = air.surroundings(air.air_of(actor, train[0]), 7)
    if around.here is None:
        return "none", ()
    services = list(ledger.newest(train).values())
    found = []
    by_wheel = {(line["rig"], line["own"]): line for line in lines}
    for f in ledger.forecast(services, {v.pk: around.here for v in train}):
        line = by_wheel.get((f.service.rig_id, f.service.wheel))
        if line and core_rounds.foretell(f.kpa, f.within_kpa, line["target"], line["floor"]).word == "add":
            found.append(fill(line, f.kpa, line["target"]))
    return ("prediction" if services else "none"), tuple(found)


def hear(actor: Actor, round_id: int, data: RadioIn) -> radio.Heard:
    """What a device shows at a wheel of an open round; an inflator with a set-point fills it first. Nothing is kept.

    A real device feels the tire. A simulated one is told what its readings here, or its last service, let expect.
    """
    actor.must(May.ROUNDS)
    row = rounds.round_(actor, round_id)
    line, frame = rounds.line_of(row, data.wheel), Frame.of(row)
    likely = expected(frame, line)[0] or here_of(frame, line)["here_kpa"] or 0.0
    view = next(w for w in present(row)["wheels"] if w["code"] == data.wheel)
    standing = view["after"] or view["before"]
    pressing = standing["corrected_kpa"] if standing else likely
    try:
        if data.set_point is not None:
            if view["locked"]:
                raise Refusal("It may have rolled far too low: no air before an inspection is recorded.", "set_point")
            if line["ceiling"] is not None and data.set_point.value > core.shows(frame.gauge, line["ceiling"]):
                raise Refusal("That is above its ceiling. Dial less.", "set_point")
            return radio.link().inflate(data.device, pressing, data.set_point.value, timezone.now())
        return radio.link().read(data.device, pressing, timezone.now())
    except KeyError:
        raise Refusal("That device is not within reach. Type what the gauge shows.", "device") from None


def use_of(actor: Actor, gauge_id: int) -> dict[str, Any]:
    """A gauge among the rigs: which pressures in force it is for, which it was not compared near, what a display learned.

    Raises DoesNotExist for a gauge of another workspace.
    """
    row = gauges.gauge(actor, gauge_id)
    typed = gauges.gauge_of(row)
    in_force = targets.bands_in_force(actor, list(rigs.rigs(actor).filter(archived=False)))
    aimed = {a.target_kpa for found in in_force.values() for a in found.axles.all() if a.target_kpa is not None}
    aimed |= {s["target_kpa"] for found in in_force.values() for s in found.spares if s["target_kpa"] is not None}
    mine = tuple(sorted(p for p in aimed if typed.low_kpa <= p <= typed.high_kpa))
    return {
        "in_use_kpa": mine,
        "uncovered": core.uncovered(typed, mine),
        "learned": core.learned_offset(_pairs(actor, row), row.resolution_kpa) if row.kind in core.LEARNING else None,
    }


def _pairs(actor: Actor, row: Gauge) -> tuple[tuple[float, float], ...]:
    """(true, shown) of a display: of rounds in which it was read beside the gauge, and of tires that held several."""
    sealed = gauges.gauge_of(row)
    pairs = []
    notes = WheelNote.objects.filter(says__display_gauge=row.pk, round__rig__workspace=actor.workspace)
    for note in notes.select_related("round").prefetch_related("round__readings").order_by("-id")[:200]:
        own = [r for r in note.round.readings.all() if r.wheel == note.wheel]
        like = beside_display(own, note.received_at, note.says.get("display_rolled"))
        if like is not None and "display_kpa" in note.says:
            low = core.sealed_low(sealed, note.round.here.absolute_kpa)
            pairs.append((like.corrected_kpa, note.says["display_kpa"] + low))
    for held in Beside.objects.of(actor.workspace)[:100]:
        shown = next((r for r in held.readings if r["gauge"] == row.pk), None)
        others = [r["corrected_kpa"] for r in held.readings if r["gauge"] != row.pk]
        if shown is not None and others:
            pairs.append((statistics.median(others), shown["raw_kpa"]))
    return tuple(pairs)
