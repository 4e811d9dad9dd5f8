"""The right gauge and the right inflator for a rig, and what is heard over the radio link at a wheel."""

import statistics
from collections.abc import Callable, Sequence
from typing import Literal, NamedTuple

from django.db.models import BigIntegerField, Prefetch
from django.db.models.fields.json import KeyTextTransform
from django.db.models.functions import Cast

from ballast.core import gauges as core
from ballast.core import rigs as core_rigs
from ballast.core import rounds as core_rounds
from ballast.core.gas import SEA_LEVEL_KPA
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now as air
from ballast.server.edge import clock
from ballast.server.gauges import inflators, radio
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Beside, Gauge
from ballast.server.rigs import fittings
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import ledger, sheet, stored, value
from ballast.server.rounds import services as rounds
from ballast.server.rounds.models import Reading, WheelNote
from ballast.server.rounds.schemas import EquipmentOut, GaugeUseOut, RadioIn, SuitedAxleOut, SuitedGaugeOut
from ballast.server.targets import in_force

Basis = Literal["round", "prediction", "none"]


# A gauge of the drawer with its value and what must be said of it.
Drawer = list[tuple[Gauge, core.Gauge, Phrase | None]]


class Lacking(NamedTuple):
    """A tire that wants air this morning: what it reads by prediction, what it is held to now, and its floor [kPa]."""

    kpa: float
    target_kpa: float
    floor_kpa: float | None


# By rig and wheel those that want air; None: nothing is foretold of any.
Wanting = dict[tuple[int, str], Lacking]


def for_rig(
    actor: Actor, rig_id: int, foretold: Callable[[], Wanting | None]
) -> EquipmentOut:  # fmt: skip
    """For each axle and spare which gauges suit; for each inflator whether it does what the rig needs now.

    `foretold` is asked where no open round says it.
    """
    actor.must(May.READ)
    train = rigs.train(actor, rig_id, also=("air",))
    bands = in_force.each_in_force(in_force.sets(actor, *train))
    lines = sheet.of(actor, train, [bands.get(v.pk) for v in train], ledger.newest(train))
    drawer = [g for g in gauges.gauges(actor) if not g.retired and g.kind not in (*core.FITTED, "master")]
    typed = [(g, gauges.gauge_of(g), gauges.condition(g)) for g in drawer]
    axles: dict[tuple[int, int | None, str], SuitedAxleOut] = {}
    for line in lines:
        key = (line.rig, line.axle, line.code if line.spare else "")
        if line.aim.target_kpa is not None and key not in axles:
            axles[key] = _axle(train, line, line.aim.target_kpa, typed)
    basis, needs = _needs(actor, train, lines, foretold)
    here = air.surroundings(air.air_of(actor, train[0]), 7).here
    outside = here.absolute_kpa if here else SEA_LEVEL_KPA
    usable = [row for row in inflators.inflators(actor) if not row.retired and basis != "none"]
    jobs = tuple(inflators.job(row, needs, outside) for row in usable)
    return EquipmentOut(axles=list(axles.values()), basis=basis, jobs=list(jobs))


def _axle(train: list[Rig], line: core_rounds.WheelLine, target_kpa: float, drawer: Drawer) -> SuitedAxleOut:
    rig = next(v for v in train if v.pk == line.rig)
    name = line.name
    if line.axle is not None:
        name = core_rigs.axle_name(line.axle, len(rig.axles.all()), rig.kind)
        if len(train) > 1:
            name = f"{rig.name}: {name.lower()}"
    suited = []
    for row, gauge, said in drawer:
        suits = core.suits(gauge, target_kpa, line.dual)
        notes = suits.notes if said is None else (*suits.notes, said)
        able = suits.able and row.suspicion != "differs"
        suited.append(
            SuitedGaugeOut(
                gauge=row.pk, label=row.label, able=able, best=False, uncertainty_kpa=suits.uncertainty_kpa, notes=list(notes),
            )
        )  # fmt: skip
    # The one to take: able, nothing said against it if there is such a one, and surest.
    best = min((g for g in suited if g.able), key=lambda g: (bool(g.notes), g.uncertainty_kpa or 0.0), default=None)
    if best is not None:
        best.best = True
    return SuitedAxleOut(
        name=name, target_kpa=target_kpa, ceiling_kpa=line.aim.ceiling_kpa, dual=line.dual, gauges=suited
    )


def _volume(rig: Rig, line: core_rounds.WheelLine) -> float:
    """About how much air a tire holds [L]; where its size does not say, that of a large one."""
    wheel = next(w for w in rigs.wheels_of(rig) if w.code == line.own)
    return inflators.volume_of(fittings.described(rig, wheel).tire_size) or core.LARGE_TIRE_L


def _needs(
    actor: Actor, train: list[Rig], lines: Sequence[core_rounds.WheelLine], foretold: Callable[[], Wanting | None]
) -> tuple[Basis, tuple[core.ToFill, ...]]:  # fmt: skip
    """The tires that want air: by the open round's readings, else by prediction; below the floor is urgent."""
    by_pk = {v.pk: v for v in train}

    def fill(line: core_rounds.WheelLine, stands: float, here: float, floor: float | None) -> core.ToFill:
        volume = _volume(by_pk[line.rig], line)
        return core.ToFill(line.name, stands, here, volume, floor is not None and stands < floor)

    open_round = rounds.rounds(actor).filter(parts__rig__in=train, sealed_at=None).first()
    if open_round is not None:
        row = rounds.round_(actor, open_round.pk)
        wheels = value.of(row).wheels
        by_code = {line.code: line for line in stored.lines(row)}
        if any(w.before for w in wheels):
            # From what is in it to what the verdict fills it to, both at the tire's own temperature.
            to_fill = [
                fill(by_code[w.code], w.before.corrected_kpa, w.answer.fill_kpa, by_code[w.code].aim.floor_kpa)
                for w in wheels
                if w.before and w.wants_second and w.answer.word == "add" and w.answer.fill_kpa is not None
            ]
            return "round", tuple(to_fill)
    wanting = foretold()
    if wanting is None:
        return "none", ()
    wheels_wanting = [(line, wanting[line.rig, line.own]) for line in lines if (line.rig, line.own) in wanting]
    return "prediction", tuple(fill(line, f.kpa, f.target_kpa, f.floor_kpa) for line, f in wheels_wanting)


def hear(actor: Actor, round_id: int, data: RadioIn) -> radio.Heard:
    """What a device shows at a wheel of an open round; an inflator with a set-point fills it first. Nothing is kept.

    A real device feels the tire. A simulated one is told what its readings here, or its last service, let expect.
    """
    actor.must(May.ROUNDS)
    row = rounds.round_(actor, round_id)
    line, at = rounds.line_of(row, data.wheel), value.conditions(row)
    likely = core_rounds.expected(at, line)[0] or core_rounds.held(at, line).here_kpa or 0.0
    stands = next(w for w in value.of(row).wheels if w.code == data.wheel)
    newest, ceiling = stands.after or stands.before, line.aim.ceiling_kpa
    pressing = newest.corrected_kpa if newest else likely
    try:
        if data.set_point is not None:
            if stands.locked:
                raise Refusal("It may have rolled far too low: no air before an inspection is recorded.", "set_point")
            if ceiling is not None and data.set_point.value > core.shows(at.gauge, ceiling):
                raise Refusal("That is above its ceiling. Dial less.", "set_point")
            return radio.link().inflate(data.device, pressing, data.set_point.value, clock.now())
        return radio.link().read(data.device, pressing, clock.now())
    except KeyError:
        raise Refusal("That device is not within reach. Type what the gauge shows.", "device") from None


def use_of(actor: Actor, gauge_id: int) -> GaugeUseOut:
    """A gauge among the rigs: which pressures in force it is for, which it was not compared near, what a display learned.

    Raises DoesNotExist for a gauge of another workspace.
    """
    row = gauges.gauge(actor, gauge_id)
    typed = gauges.gauge_of(row)
    bands = in_force.bands_in_force(actor, list(rigs.rigs(actor).filter(archived=False)))
    aimed = {a.target_kpa for band in bands.values() for a in band.axles.all() if a.target_kpa is not None}
    aimed |= {s["target_kpa"] for band in bands.values() for s in band.spares if s["target_kpa"] is not None}
    in_range = tuple(sorted(p for p in aimed if typed.low_kpa <= p <= typed.high_kpa))
    learned = core.learned_offset(_pairs(actor, row), row.resolution_kpa) if row.kind in core.LEARNING else None
    return GaugeUseOut(in_use_kpa=list(in_range), uncovered=core.uncovered(typed, in_range), learned=learned)


def _pairs(actor: Actor, row: Gauge) -> tuple[tuple[float, float], ...]:
    """(true, shown) of a display: of rounds in which it was read beside the gauge, and of tires that held several."""
    sealed = gauges.gauge_of(row)
    pairs = []
    display = Cast(KeyTextTransform("display_gauge", "says"), BigIntegerField())
    notes = WheelNote.objects.annotate(display=display).filter(display=row.pk, round__rig__workspace=actor.workspace)
    there = Prefetch("round__readings", Reading.objects.select_related("gauge", "entered_by"))
    for note in notes.select_related("round").prefetch_related(there).order_by("-id")[:200]:
        says = stored.note_of(note.says)
        own = [stored.reading(r) for r in note.round.readings.all() if r.wheel == note.wheel]
        like = core_rounds.beside_display(own, note.received_at, says.display_rolled)
        if like is not None and says.display_kpa is not None:
            low = core.sealed_low(sealed, note.round.here.absolute_kpa)
            pairs.append((like.corrected_kpa, says.display_kpa + low))
    for held in Beside.objects.of(actor.workspace)[:100]:
        shown = next((r for r in held.readings if r["gauge"] == row.pk), None)
        others = [r["corrected_kpa"] for r in held.readings if r["gauge"] != row.pk]
        if shown is not None and others:
            pairs.append((statistics.median(others), shown["raw_kpa"]))
    return tuple(pairs)
