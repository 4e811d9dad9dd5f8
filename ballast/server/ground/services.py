"""Plans: worked out as they are typed, opened, walked wheel by wheel, undone; and what the ground asks of a combination."""

import uuid as uuids
from collections.abc import Callable, Mapping, Sequence
from functools import cache, partial

from django.db import IntegrityError, transaction
from django.db.models import F

from ballast.core import air as core_air
from ballast.core import gauges as core_gauges
from ballast.core import ground as core
from ballast.core.gas import Air, carry
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now
from ballast.server.edge import clock
from ballast.server.edge.days import CLOCKS_APART
from ballast.server.edge.problems import Conflict, Denied
from ballast.server.edge.ready import Ready
from ballast.server.edge.words import kept, phrase_of
from ballast.server.gauges import deflators
from ballast.server.gauges import services as gauges
from ballast.server.ground import kit, plans, stored, surfaces
from ballast.server.ground.models import AxleOnGround, GroundEntry, GroundPart, GroundPlan, PlaceNote
from ballast.server.ground.schemas import (
    AxleOnGroundIn,
    BackOut,
    ChainIn,
    EntryIn,
    EntryOut,
    Goal,
    Goals,
    GroundOut,
    JobAt,
    LearnedIn,
    OnSurface,
    OpenIn,
    OpenPlan,
    OpenWheel,
    PastPlan,
    PlaceKnown,
    PlannedStep,
    PlanOut,
    StepIn,
    StretchOut,
    SurfaceOut,
    WheelOnGround,
    WorkGroundIn,
)
from ballast.server.ground.wheels import Combination, OnGround, air_around, as_typed, combination
from ballast.server.rigs import services as rigs
from ballast.server.targets import policies

USUAL_NIGHTS = 2


def _stands(of: OnGround, standing_h: float, driven: core_air.Driven) -> core_air.Standing:
    return core_air.standing(standing_h, of.heavy, driven, of.here.temperature_c, of.way.cold_after_h)


def _goal(of: OnGround, stood: core_air.Standing, ceiling_kpa: float | None, kpa: float, out: bool) -> Goal:
    """What the gauge in hand shows where a number stands in a tire as it is, and between what it is at it."""
    there = core.in_tire(kpa, out, ceiling_kpa, core.AsItIs(stood, of.here, of.set_in))
    at, outside = core.bounds(there), of.here.absolute_kpa
    return Goal(*(core_gauges.shows(of.gauge_value, v, outside) for v in (at.goal_kpa, at.low_kpa, at.high_kpa)))


# -- as it is typed --------------------------------------------------------------------------------------


def _wanted(data: ChainIn) -> core.Wanted:
    return core.Wanted(tuple(data.chain), {one.rig: one.reason for one in data.left_out}, data.recovery_reason)


def work(actor: Actor, data: WorkGroundIn) -> PlanOut:
    """A chain as it would be walked. Nothing is saved."""
    of, rows = as_typed(actor, data.rig, data.gauge), surfaces.of(actor)
    return _planned(actor, of, rows, data)


def _planned(actor: Actor, of: OnGround, rows: Sequence[core.Surface], data: ChainIn) -> PlanOut:
    if (why := of.refused) is not None:
        return PlanOut(why, (), False, say(""), (), (), ())
    made = core.plan(of.wheels, rows, _wanted(data), of.meets(data.nights))
    ways = _ways_back(actor, of, made)
    best = core.best_back(ways)
    by_code = {w.code: w for w in of.wheels}
    # The tires of an axle are let out to the same.
    goal = cache(partial(_goal, of, _stands(of, data.standing_h, data.driven)))
    timed = _last_timed(of)
    preset = _preset(actor, data, made, by_code)
    set_notes = core.preset_notes(preset, made.steps, by_code) if preset else ()
    steps = tuple(_step(of, by_code, step, goal, timed, preset) for step in made.steps)
    return PlanOut(
        None, steps, best is not None, core.back_words(ways),
        tuple(BackOut(w.inflator, w.able, w.minutes, w.words) for w in ways), made.cautions,
        (*made.notes, *set_notes, *_air_notes(of)),
    )  # fmt: skip


def _air_notes(of: OnGround) -> list[Phrase]:
    return [] if of.known_air else [say("The air is not known: numbers are as at 20 °C.")]


def _step(
    of: OnGround,
    wheels: Mapping[str, core.GroundWheel],
    step: core.Step,
    goal: Callable[[float | None, float, bool], Goal],
    timed: tuple[float, float | None] | None,
    preset: core.Preset | None,
) -> PlannedStep:
    jobs = tuple(
        JobAt(
            j.code, wheels[j.code].name, j.from_kpa, j.number.kpa, j.change_kpa, j.number.floor_kpa,
            goal(wheels[j.code].ceiling_kpa, j.number.kpa, j.change_kpa < 0), j.number.kept, j.number.working,
        )
        for j in step.jobs
    )  # fmt: skip
    down = core.step_down(step, wheels, timed, of.here.absolute_kpa, preset)
    s = step.surface
    return PlannedStep(
        s.key, s.name, s.pattern, s.speed_kmh, s.road, s.recovery, step.words, jobs, down.minutes if down else None,
        bool(down and down.at_least),
    )  # fmt: skip


def _preset(actor: Actor, data: ChainIn, made: core.Plan, wheels: Mapping[str, core.GroundWheel]) -> core.Preset | None:
    """The set of deflators that is chosen; None: the valve. Raises Refusal for one that may close below a floor."""
    if data.deflators is None:
        return None
    row = next((d for d in deflators.sets(actor) if d.pk == data.deflators and not d.retired), None)
    if row is None:
        raise Refusal("There is no such set in this workspace. Choose another, or let out by the valve.", "deflators")
    preset = core.Preset(deflators.value_of(row), row.role, row.surface)
    core.check_preset(preset, made.steps, wheels)
    return preset


_TIMED = Ready[tuple[str, float | None, float | None, float | None]](
    lambda rig: (
        GroundEntry.objects.filter(plan__rig=rig, withdrawn_at=None, done="set", raw_kpa__lt=F("from_kpa"))
        .exclude(minutes=None)
        .order_by("-done_at", "-id")
        .values_list("wheel", "from_kpa", "raw_kpa", "minutes")[:1]
    )
)


def _last_timed(of: OnGround) -> tuple[float, float | None] | None:
    """How fast air leaves by the valve, from the last tire of this combination that was timed, and that tire's volume."""
    code, from_kpa, raw_kpa, minutes = _TIMED.first(of.rigs[0]) or ("", None, None, None)
    if from_kpa is None or raw_kpa is None or minutes is None:
        return None
    k = core.learned_k(from_kpa, raw_kpa, minutes, of.here.absolute_kpa)
    return k, next((w.volume_l for w in of.wheels if w.code == code), None)


def _ways_back(actor: Actor, of: OnGround, made: core.Plan) -> tuple[core.Back, ...]:
    """The way back to road pressure with each inflator of the kit; none written down: none."""
    aboard = kit.inflators_aboard(actor, of.rigs)
    tires = _to_fill(of, made)
    outside = of.here.absolute_kpa
    return tuple(core.way_back(label, of, tires, outside) for label, of in aboard)


def _to_fill(of: OnGround, made: core.Plan) -> tuple[core_gauges.ToFill, ...]:
    """Every tire from the lowest number of the chain back to its road target."""
    tires = []
    for w in of.wheels:
        lowest = made.lowest_kpa.get(w.code)
        if lowest is not None and w.road_kpa is not None and lowest < w.road_kpa:
            tires.append(core_gauges.ToFill(w.name, lowest, w.road_kpa, w.volume_l or core_gauges.LARGE_TIRE_L))
    return tuple(tires)


# -- the sheet of a combination --------------------------------------------------------------------------


def ground(actor: Actor, rig_id: int, gauge_id: int | None = None) -> GroundOut:
    """All that the ground asks of a combination, and its open plan."""
    of, rows = combination(actor, rig_id, gauge_id), surfaces.of(actor)
    row = plans.open_of(actor, of.train)
    meets, valves = of.meets(USUAL_NIGHTS), kit.valve_notes(actor, of.train)
    walked = core.order(of.wheels)
    return GroundOut(
        rig=of.rigs[0], surfaces=tuple(SurfaceOut.model_validate(s) for s in rows), practice=core.PRACTICE,
        warmths=core.WARMTHS, verdicts=core.BESIDE_NUMBER, wheels=tuple(_wheel(of, w, found, valves) for w, found in zip(walked, core.numbers_all(walked, rows, meets), strict=True)), axles=of.axles,
        refused=of.refused, notes=tuple(_air_notes(of)), places=_places(actor, of.rigs[0]), lacks=kit.lacking(actor, of.train).plan_phrases,
        set_in_c=of.set_in.temperature_c, outside_c=of.here.temperature_c, gauge=of.gauge.pk if of.gauge else None,
        gauge_label=of.gauge.label if of.gauge else "", open=_open(row, of) if row else None, made_at=clock.now(),
    )  # fmt: skip


def _wheel(
    of: Combination,
    w: core.GroundWheel,
    found: Sequence[core.Number],
    valves: Mapping[tuple[int, str], Phrase],
) -> WheelOnGround:
    return WheelOnGround(
        w.code, w.name, w.rig, w.own, w.axle, w.role, w.inner, w.road_kpa, w.ceiling_kpa, w.heavy_or_dual,
        tuple(_on_surface(of, w, n) for n in found), valves.get((w.rig, w.own)),
    )  # fmt: skip


def _goals(of: OnGround, w: core.GroundWheel, kpa: float) -> Goals:
    """What the gauge shows at a number, for every way in which the rig may have stood."""
    stood = {one.key: _stands(of, one.standing_h, one.driven) for one in core.WARMTHS}
    out, up = ({key: _goal(of, s, w.ceiling_kpa, kpa, way) for key, s in stood.items()} for way in (True, False))
    return Goals(out, up)


def _on_surface(of: OnGround, w: core.GroundWheel, n: core.Number) -> OnSurface:
    goals = _goals(of, w, n.kpa)
    return OnSurface(
        n.surface, n.kpa, n.floor_kpa, n.speed_kmh, n.kept, n.working, core.footprint(w, n.kpa),
        goals.out, goals.up,
    )  # fmt: skip


def _places(actor: Actor, rig_id: int) -> tuple[PlaceKnown, ...]:
    by_place: dict[str, list[core.Learned]] = {}
    for row in PlaceNote.objects.of(actor.workspace).filter(rig=rig_id):
        by_place.setdefault(row.place, []).append(
            core.Learned(row.surface, row.surface_name, row.kpa, row.outcome, row.on)
        )
    known = ((place, core.proposal(told)) for place, told in by_place.items())
    return tuple(PlaceKnown(place, said.surface, said.words) for place, said in known if said is not None)


def _open(row: GroundPlan, of: Combination) -> OpenPlan:
    text = stored.text_of(row)
    plan = stored.plan(row, text)
    why = plans.reasons(row, plan, of.train)
    by_code = {w.code: w for w in text.wheels}
    last = {e.wheel: e for e in row.entries.all() if e.withdrawn_at is None}
    waiting = set(plan.waiting)
    wheels = []
    for code, number in plan.stretch.numbers.items():
        entry = last.get(code)
        wheels.append(
            OpenWheel(
                code, by_code[code].name, number.kpa, plan.lets_out(code, plan.at), code in waiting, plan.stands_on[code], 
                entry.beside or None if entry else None,  # type: ignore[arg-type]
                _entry_out(entry) if entry else None, phrase_of(entry.words) if entry and entry.words else None,
            )
        )  # fmt: skip
    stretches = tuple(
        StretchOut(
            s.key,
            s.name,
            p,
            s.speed_kmh,
            s.road,
            s.recovery,
            {c: n.kpa for c, n in s.numbers.items()},
            {c: _goals(of, by_code[c], n.kpa) for c, n in s.numbers.items()},
        )
        for s, p in zip(plan.stretches, text.patterns, strict=True)
    )
    return OpenPlan(
        row.uuid, row.rig_id, row.opened_at, row.opened_by.shown_name, row.place, plan.at, stretches,
        core.open_words(plan, why), plan.speed_kmh, why, row.no_way_back, phrase_of(row.back_words), row.recovery_reason,
        not plan.let_out, tuple(phrase_of(w) for w in row.why_open), tuple(wheels), row.gauge_id,
    )  # fmt: skip


def _entry_out(row: GroundEntry) -> EntryOut:
    return EntryOut(
        row.uuid, row.wheel, row.step, row.done, row.typed, row.kpa, row.minutes, row.reason, row.by.shown_name, row.by_id,  # type: ignore[arg-type]
        row.done_at,
    )  # fmt: skip


def past(actor: Actor, rig_id: int) -> list[PastPlan]:
    """Plans of a combination that are closed or undone, the newest first."""
    train = rigs.train(actor, rig_id)
    rows = plans.plans(actor).filter(pk__in=plans.of_any(train)).exclude(closed_at=None, undone_at=None)[:40]
    return [
        PastPlan(
            r.uuid, r.opened_at, r.opened_by.shown_name, r.place, tuple(s.name for s in stored.text_of(r).stretches),
            r.closed_at, r.closed_by.shown_name if r.closed_by else "", r.closed_round, r.undone_at is not None,
        )
        for r in rows
    ]  # fmt: skip


# -- opened and walked -----------------------------------------------------------------------------------


@transaction.atomic
def open_plan(actor: Actor, rig_id: int, data: OpenIn) -> GroundOut:
    """Opens a plan, once, however often it is sent. Raises Conflict while another is open, Refusal for one that cannot be."""
    actor.must(May.ROUNDS)
    known = GroundPlan.objects.filter(uuid=data.uuid).select_related("rig").first()
    train = rigs.train(actor, rig_id)
    if known is not None:
        if known.rig_id != train[0].pk:
            raise Conflict("This plan was opened for another rig. Send it under its own UUID.", "uuid")
        return ground(actor, rig_id)
    if other := plans.open_of(actor, train):
        raise Conflict(f"{other.opened_by.shown_name} opened a plan that is not closed. Go on with it.", "rig")
    of, rows = combination(actor, rig_id, data.gauge), surfaces.of(actor)
    if (why := of.refused) is not None:
        raise Refusal(why.in_both(), "chain")
    unknown = {one.rig for one in data.left_out} - {*of.rigs}
    if unknown:
        raise Refusal("That vehicle is not part of the combination. Leave it away.", "left_out")
    made = core.plan(of.wheels, rows, _wanted(data), of.meets(data.nights))
    _preset(actor, data, made, {w.code: w for w in of.wheels})
    ways = _ways_back(actor, of, made)
    if core.best_back(ways) is None and not data.no_way_back:
        raise Refusal(f"{core.back_words(ways).in_both()} Say that you know, or take one along.", "no_way_back")
    now = clock.now()
    stretches = tuple(
        core.Stretch(
            s.surface.key, s.surface.name, s.surface.speed_kmh, s.surface.road, s.surface.recovery,
            {j.code: j.number for j in s.jobs},
        )
        for s in made.steps
    )  # fmt: skip
    text = stored.PlanText(stretches, tuple(s.surface.pattern for s in made.steps), core.order(of.wheels))
    try:
        row = GroundPlan.objects.create(
            uuid=data.uuid, rig=of.train[0], opened_at=min(data.opened_at or now, now), received_at=now, opened_by=actor.person,
            place=data.place, text=stored.keep(text), elevation_m=of.here.elevation_m, station_kpa=of.here.station_kpa, heavy=of.heavy, cold_after_h=of.way.cold_after_h, gauge=of.gauge,
            no_way_back=core.best_back(ways) is None, back_words=kept(core.back_words(ways)),
            recovery_reason=data.recovery_reason, left_out={str(one.rig): one.reason for one in data.left_out},
        )  # fmt: skip
    except IntegrityError:
        raise Conflict("Another plan was opened at this moment. Go on with it.", "rig") from None
    GroundPart.objects.bulk_create(GroundPart(plan=row, rig=rig, place=i) for i, rig in enumerate(of.train))
    return ground(actor, rig_id, data.gauge)


def _still_open(actor: Actor, uuid: uuids.UUID) -> GroundPlan:
    actor.must(May.ROUNDS)
    row = plans.plans(actor).get(uuid=uuid)
    if row.undone_at is not None:
        raise Conflict("This plan was undone. Open it anew.")
    if row.closed_at is not None:
        raise Conflict("This plan is closed: a cold round at road numbers was sealed. Open another.")
    return row


@transaction.atomic
def step(actor: Actor, uuid: uuids.UUID, data: StepIn) -> GroundOut:
    """Takes a stretch in hand. Raises Refusal for one that the plan does not have."""
    row = _still_open(actor, uuid)
    count = len(stored.text_of(row).stretches)
    if data.step >= count:
        raise Refusal(f"This plan has {count} stretches. Choose one of them.", "step")
    row.at = data.step
    row.save(update_fields=["at"])
    return ground(actor, row.rig_id, row.gauge_id)


@transaction.atomic
def enter(actor: Actor, plan_uuid: uuids.UUID, uuid: uuids.UUID, data: EntryIn) -> GroundOut:
    """Keeps what was done at a wheel, once, however often it is sent. Raises Conflict, Refusal."""
    row = _still_open(actor, plan_uuid)
    if there := GroundEntry.objects.filter(uuid=uuid).first():
        raw = data.pressure.value if data.pressure else None
        if (there.plan_id, there.wheel, there.step, there.done) != (row.pk, data.wheel, data.step, data.done) or (
            there.raw_kpa != raw
        ):
            raise Conflict(
                "This entry is stored already with another value. Send the new one under its own UUID.", "uuid"
            )
        return ground(actor, row.rig_id, row.gauge_id)
    _store(actor, row, uuid, data)
    return ground(actor, row.rig_id, row.gauge_id)


def _store(actor: Actor, row: GroundPlan, uuid: uuids.UUID, data: EntryIn) -> None:
    text = stored.text_of(row)
    if data.step >= len(text.stretches):
        raise Refusal(f"This plan has {len(text.stretches)} stretches. Choose one of them.", "step")
    if data.wheel not in text.stretches[data.step].numbers:
        raise Refusal(f"There is no wheel {data.wheel} in this plan. Choose one of the plan.", "wheel")
    entry = GroundEntry(
        uuid=uuid, plan=row, wheel=data.wheel, step=data.step, done=data.done, reason=data.reason, minutes=data.minutes,
        by=actor.person, received_at=clock.now(),
        done_at=min(data.done_at, clock.now() + CLOCKS_APART) if data.done_at else clock.now(),
    )  # fmt: skip
    if data.done == "set":
        if data.pressure is None:
            raise Refusal("Read it after, and enter what the gauge shows.", "pressure")
        gauge = gauges.usable(actor, data.gauge) if data.gauge else row.gauge
        if gauge is None:
            raise Refusal("There is no gauge yet. Put yours into the drawer.", "gauge")
        here, set_in = _air_then(actor, row, data)
        true = core_gauges.correct(gauges.gauge_of(gauge), data.pressure.value, here.absolute_kpa)
        stood = core_air.standing(data.standing_h, row.heavy, data.driven, here.temperature_c, row.cold_after_h)
        entry.typed, entry.raw_kpa, entry.gauge = data.pressure.typed, data.pressure.value, gauge
        entry.from_kpa = data.from_pressure.value if data.from_pressure else None
        if entry.minutes is not None and entry.from_kpa is not None:
            core.learned_k(entry.from_kpa, data.pressure.value, entry.minutes, here.absolute_kpa)
        cold, more = core_air.cold_equivalent(true.kpa, stood, here)
        entry.kpa, entry.sure_kpa = carry(cold, here, set_in), true.uncertainty_kpa + more
        entry.air_c = set_in.temperature_c
        at = _bounds(row, text, data, core.AsItIs(stood, here, set_in))
        entry.words, entry.beside = kept(core.reading_words(true.kpa, at)), core.beside(true.kpa, at)
    elif not data.reason:
        raise Refusal("A wheel is passed by with its reason only.", "reason")
    entry.save()


def _air_then(actor: Actor, row: GroundPlan, data: EntryIn) -> tuple[Air, Air]:
    """The air around a wheel that was read, and the one its numbers are set in: as it was in sight there, else now."""
    if data.outside_c is not None and data.set_in_c is not None:
        around, counts = (Air(c.value, row.elevation_m, row.station_kpa) for c in (data.outside_c, data.set_in_c))
        return around, counts
    head = rigs.train(actor, row.rig_id, also=("air", "policy"))[0]
    around_now = air_around(now.air_of(actor, head), policies.way_of(actor, head))
    return around_now.here, around_now.set_in


def _bounds(row: GroundPlan, text: stored.PlanText, data: EntryIn, as_it_is: core.AsItIs) -> core.Bounds:
    """Between what a wheel is at its number, in the tire as it is; let out warm it is left above, so that it never ends low."""
    wheel = next(w for w in text.wheels if w.code == data.wheel)
    number = text.stretches[data.step].numbers[data.wheel].kpa
    lets_out = stored.plan(row, text).lets_out(data.wheel, data.step)
    return core.bounds(core.in_tire(number, lets_out, wheel.ceiling_kpa, as_it_is))


@transaction.atomic
def take_back(actor: Actor, plan_uuid: uuids.UUID, uuid: uuids.UUID) -> GroundOut:
    """Takes an entry back, as its own person; done twice is as once."""
    row = _still_open(actor, plan_uuid)
    entry = GroundEntry.objects.select_related("by").get(plan=row, uuid=uuid)
    if entry.by_id != actor.person.pk:
        raise Denied(f"{entry.by.shown_name} entered this. Read the wheel again instead.")
    if entry.withdrawn_at is None:
        entry.withdrawn_at = clock.now()
        entry.save()
    return ground(actor, row.rig_id, row.gauge_id)


@transaction.atomic
def undo(actor: Actor, uuid: uuids.UUID) -> GroundOut:
    """Undoes a plan in which nothing was let out. Raises Conflict where something was, or it is not known."""
    actor.must(May.ROUNDS)
    row = plans.plans(actor).get(uuid=uuid)
    if row.undone_at is None:
        row = _still_open(actor, uuid)
        if stored.plan(row).let_out:
            raise Conflict("Air was let out: it is closed by a cold round at road numbers, sealed.")
        row.undone_at = clock.now()
        row.save()
    return ground(actor, row.rig_id)


@transaction.atomic
def learn(actor: Actor, uuid: uuids.UUID, data: LearnedIn) -> GroundOut:
    """Keeps what a place taught: the lowest number of the driven wheels, or of any, on that stretch."""
    actor.must(May.ROUNDS)
    row = plans.plans(actor).get(uuid=uuid)
    text = stored.text_of(row)
    place = data.place or row.place
    if not place:
        raise Refusal("Name the place: what it taught is proposed there the next time.", "place")
    if data.step >= len(text.stretches):
        raise Refusal(f"This plan has {len(text.stretches)} stretches. Choose one of them.", "step")
    stretch = text.stretches[data.step]
    kpa = core.learned_at(text.wheels, stretch.numbers)
    PlaceNote.objects.create(
        workspace=actor.workspace, place=place, surface=stretch.key, surface_name=stretch.name, kpa=kpa, outcome=data.outcome,
        note=data.note, on=clock.today(), rig=row.rig, by=actor.person,
    )  # fmt: skip
    return ground(actor, row.rig_id)


@transaction.atomic
def say_of_axle(actor: Actor, rig_id: int, number: int, data: AxleOnGroundIn) -> GroundOut:
    """Keeps what is asked of an axle: its role, and its maker's word with where it stands."""
    actor.must(May.RIGS)
    rig = rigs.rig(actor, rig_id)
    axle = next((a for a in rig.axles.all() if a.number == number), None)
    if axle is None:
        raise Refusal(f"There is no axle {number} on it. It has {len(rig.axles.all())}.", "number")
    if data.least_kpa is not None and not data.words:
        raise Refusal("Say where the maker's word stands: bulletin, manual, letter, with its date.", "words")
    if data.least_kpa is not None and data.least_kpa.value <= 0:
        raise Refusal("What the maker allows is above zero.", "least_kpa")
    AxleOnGround.objects.update_or_create(
        rig=rig,
        number=number,
        defaults={
            "role": data.role, "least_kpa": data.least_kpa.value if data.least_kpa else None, "words": data.words,
            "said_by": actor.person, "said_at": clock.now(),
        },
    )  # fmt: skip
    return ground(actor, rig_id)
