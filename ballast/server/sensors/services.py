"""A rig's sensors: its system, the alarms from its targets, what was read off, and the state of every wheel by that."""

import datetime as dt
from collections.abc import Sequence
from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction

from ballast.core import sensors as core
from ballast.core.gas import Air
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, join, plain, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now as air
from ballast.server.edge import clock
from ballast.server.edge.days import is_ahead
from ballast.server.edge.problems import Conflict, Denied
from ballast.server.edge.versions import must_match, version_of
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds.models import Service
from ballast.server.sensors import drives, held, lamp, record
from ballast.server.sensors.held import ALSO, Group, Held, OnAlarm, system_of
from ballast.server.sensors.models import AlarmTold, Glance, GlanceNumber, Heard, SensorSystem
from ballast.server.sensors.schemas import (
    SOURCES,
    AxleAlarms,
    GlanceIn,
    GlanceOut,
    ReceiverAt,
    SensorsOut,
    SystemIn,
    SystemOut,
    ToldLine,
    WheelState,
)
from ballast.server.sensors.seen import samples, unlearned
from ballast.server.targets import policies

# Numbers of before are history: a state is folded from so far back.
_SINCE = dt.timedelta(days=90)
_FIELDS = (
    "kind", "wheels", "spare_heard", "sealed", "refresh_min", "relearn", "batteries_on", "battery_years", "low_share",
)  # fmt: skip


# Fresh numbers by wheel and moment.
_Read = dict[tuple[str, dt.datetime], core.Sample]


def _state(row: SensorSystem) -> dict[str, object]:
    return {f: getattr(row, f) for f in _FIELDS}


def _lamp(group: Group) -> tuple[Phrase, ...]:
    if group.lamp_kpa is None:
        return ()
    target = group.aim.target_kpa if group.aim else None
    return core.threshold_words(group.lamp_kpa, group.lamp_recorded, group.lamp_seen, group.size, target)


def _events(rig: Rig) -> list[core.Sample | core.Filled]:
    """All that was read of a rig lately: glances, and what its sealed rounds left in the tires, cold."""
    since = clock.now() - _SINCE
    events: list[core.Sample | core.Filled] = [sample for _, sample in samples([rig.pk], since)]
    for s in Service.objects.filter(rig=rig, at__gte=since):
        around = Air(s.air_c, s.elevation_m, s.absolute_kpa)
        if s.left_kpa is not None:
            events.append(core.Filled(s.wheel, s.at))
        # A round's number is true and as if cold.
        events.append(core.Sample(s.wheel, s.at, s.left_kpa or s.found_kpa, around, s.air_c, 0.0))
    return [*events, *drives.kept(rig, since)]


def _folds(of: OnAlarm, events: list[core.Sample | core.Filled]) -> list[core.Fold | None]:
    return [core.fold(g.aim, [c for c, _ in g.wheels], events) if g.aim else None for g in of.groups]


def _axle(of: OnAlarm, group: Group, folded: core.Fold | None, read: _Read) -> AxleAlarms:
    aim, here = group.aim, of.here
    at = core.thresholds(aim, here or aim.set_in) if aim else None
    raw = core.for_receiver(aim, here, [d for _, d in of.dawns], of.system.sealed) if aim and here else None
    lit = None
    if aim and here and group.lamp_kpa is not None:
        lit = core.lamp_ahead(group.lamp_kpa, aim.target_kpa, aim.set_in, of.dawns)
    states = tuple(_wheel(code, name, of.hears(group, code), folded, aim, read) for code, name in group.wheels)
    apart = []
    if aim and folded:
        codes = [c for c, _ in group.wheels]
        apart = [w for a in codes for b in codes if a != b and (w := core.why_apart(aim, folded, a, b)) is not None]
    return AxleAlarms(
        group.name, group.number, aim.target_kpa if aim else None, group.ceiling_kpa, group.on_ground, at.low_kpa if at else None,
        at.very_low_kpa if at else None, at.low_clears_kpa if at else None, at.high_kpa if at and here else None,
        core.limits(at, here is not None), ReceiverAt(raw.low_kpa, raw.high_kpa, raw.limits, raw.heat_c, raw.hides, raw.working) if raw else None,
        _lamp(group), lit.words if lit else None, states, tuple(apart),
    )  # fmt: skip


def _wheel(
    code: str, name: str, hears: bool | None, folded: core.Fold | None, aim: core.Aim | None, read: _Read
) -> WheelState:
    alarm = folded.wheels[code] if folded else core.Alarm()
    old = alarm.at is not None and core.is_old(alarm.at, clock.now())
    by = read.get((code, alarm.at)) if alarm.at is not None else None
    return WheelState(
        code, name, hears, alarm.pressure if alarm.known else None, alarm.high, alarm.heat, alarm.fast, alarm.loud, alarm.kpa,
        alarm.cold_kpa, alarm.at, core.since_words(by, clock.now()) if by else None, old, core.state_words(alarm, aim, old),
    )  # fmt: skip


def present(actor: Actor, rig_id: int) -> SensorsOut:
    """All that there is to say of a rig's sensors. Raises DoesNotExist."""
    actor.must(May.READ)
    of = held.of(actor, rigs.rig(actor, rig_id, also=ALSO))
    events = _events(of.row)
    folds, read = _folds(of, events), {(e.wheel, e.at): e for e in events if isinstance(e, core.Sample) and e.fresh}
    names = dict(w for g in of.groups for w in g.wheels)
    told = AlarmTold.objects.filter(rig=of.row)[:30]
    glances = Glance.objects.filter(rig=of.row, withdrawn_at=None).select_related("by").prefetch_related("numbers")
    state = _state(of.system)
    return SensorsOut(
        rig=of.row.pk, version=version_of(state), system=SystemOut.model_validate(of.system, from_attributes=True),
        kinds=core.KINDS, sources=SOURCES, lately=core.LATELY, notes=_notes(of), time_zone=of.time_zone,
        axles=[_axle(of, g, f, read) for g, f in zip(of.groups, folds, strict=True)],
        told=[
            ToldLine(t.wheel, t.what, t.sets, t.at, core.told_words(core.Told(names.get(t.wheel, t.wheel), t.what, t.sets, t.at, t.by)))  # type: ignore[arg-type]
            for t in told
        ],
        glances=[
            GlanceOut(
                uuid=g.uuid, at=g.at, source=g.source, by=g.by.shown_name, mine=g.by_id == actor.person.pk,
                wheels=[n.wheel for n in g.numbers.all()],
            )
            for g in glances.order_by("-at", "-id")[:10]
        ],
        lamp_cases=lamp.cases(of.row),
    )  # fmt: skip


def standing(actor: Actor, rig: Rig, now: Held) -> list[Phrase]:
    """The alarms of a rig that stand by the last numbers read off; where none were, a round says what there is to say.

    What it was heard by is at hand with it: see `WITH_HEARD`.
    """
    actor.must(May.READ)
    heard: Heard | None = getattr(rig, "heard", None)
    if heard is None or heard.at < clock.now() - _SINCE:
        return []
    of = held.of(actor, rig, now)
    return [
        join(say(plain(f"{name}:")), core.state_words(f.wheels[code], g.aim, False))
        for g, f in zip(of.groups, _folds(of, _events(of.row)), strict=True)
        if f
        for code, name in g.wheels
        if f.wheels[code].loud
    ]


def _notes(of: OnAlarm) -> list[Phrase]:
    notes = []
    if all(g.aim is None for g in of.groups):
        notes.append(say("No target is in force: alarms cannot be derived."))
    if of.here is None:
        notes.append(say("The air is not known: how high hot tires may read, and raw numbers for a receiver, neither."))
    elif not of.dawns:
        notes.append(say("No dawn ahead is known: raw numbers are as the air is now."))
    if of.system.kind == "speed":
        notes.append(say("By wheel speed it sends no numbers, and four tires alike low stay unseen: a round tells."))
    turned = unlearned([of.row.pk]).first()
    if turned is not None:
        notes.append(core.moved_words(turned.done_on))
    words = core.battery_words(of.system.batteries_on, of.system.battery_years, clock.today())
    return [*notes, words] if words is not None else notes


@transaction.atomic
def keep_system(actor: Actor, rig_id: int, data: SystemIn) -> SensorsOut:
    """Keeps what a rig has of sensors. Raises Refusal for wheels it has not, Stale."""
    actor.must(May.FIT)
    core.check_low_share(data.low_share)
    rig = rigs.rig(actor, rig_id)
    codes = [w.code for w in rigs.wheels_of(rig)]
    for i, code in enumerate(data.wheels):
        if code not in codes:
            raise Refusal(f"There is no wheel {code} on it. It has {', '.join(codes)}.", f"wheels.{i}")
    if data.batteries_on is not None and data.batteries_on > clock.today():
        raise Refusal("Batteries are not fitted in the future. Check the date.", "batteries_on")
    row = system_of(rig)
    before = _state(row)
    for name in _FIELDS:
        setattr(row, name, getattr(data, name))
    row.wheels = [c for c in codes if c in data.wheels]
    must_match(data.version, before, _state(row), actor.person.units)
    row.save()
    _tell(actor, rig_id)
    return present(actor, rig_id)


@transaction.atomic
def glance(actor: Actor, rig_id: int, uuid: UUID, data: GlanceIn) -> SensorsOut:
    """Keeps numbers that were read off. Raises Refusal for other wheels, a moment ahead, or where the air is not known."""
    actor.must(May.ROUNDS)
    rig = rigs.rig(actor, rig_id, also=ALSO)
    if Glance.objects.filter(uuid=uuid).exists():
        if not Glance.objects.filter(uuid=uuid, rig=rig).exists():
            raise Conflict("These numbers were kept for another rig.", "uuid")
        return present(actor, rig_id)
    at = data.at or clock.now()
    if is_ahead(at):
        raise Refusal("That lies in the future. Check the clock.", "at")
    codes = {w.code for w in rigs.wheels_of(rig)}
    _check(data.numbers, codes)
    if data.rolled_min and data.stood_h:
        raise Refusal("It has rolled, or it has stood: say one.", "stood_h")
    here = _air_at(actor, rig, at, data)
    try:
        with transaction.atomic():
            row = Glance.objects.create(
                uuid=uuid, rig=rig, at=at, source=data.source, rolled_min=data.rolled_min, stood_h=data.stood_h,
                air_c=here.temperature_c, elevation_m=here.elevation_m, absolute_kpa=here.station_kpa, by=actor.person,
            )  # fmt: skip
            GlanceNumber.objects.bulk_create(
                GlanceNumber(
                    glance=row, wheel=n.wheel, typed=n.pressure.typed, kpa=n.pressure.value,
                    tire_c=n.temperature.value if n.temperature else None, fresh=n.fresh,
                )
                for n in data.numbers
            )  # fmt: skip
    except IntegrityError:
        return present(actor, rig_id)
    record.note_newest(rig.pk)
    _tell(actor, rig_id)
    return present(actor, rig_id)


def _air_at(actor: Actor, rig: Rig, at: dt.datetime, data: GlanceIn) -> Air:
    """The air that numbers were read off in: as given, else the air now. Raises Refusal where it is not known, or was then."""
    of_now = air.air_of(actor, rig)
    here = air.surroundings(of_now, policies.way_of(actor, rig).check_days).here
    outside_c = data.outside_c.value if data.outside_c is not None else None
    then = core.air_then(clock.now() - at, here, outside_c, of_now.elevation_m if outside_c is not None else None)
    if then is not None:
        return then
    if here is None:
        raise Refusal(
            "The air outside is not known, and what a number comes to cold hangs on it. Set the air first.", "air"
        )
    raise Refusal("These numbers are of earlier: enter how warm it was outside then.", "outside_c")


def _check(numbers: Sequence[Any], codes: set[str]) -> None:
    seen: set[str] = set()
    for i, n in enumerate(numbers):
        if n.wheel not in codes:
            raise Refusal(
                f"There is no wheel {n.wheel} on it. It has {', '.join(sorted(codes))}.", f"numbers.{i}.wheel"
            )
        if n.wheel in seen:
            raise Refusal(f"{n.wheel} stands there twice. Give each wheel once.", f"numbers.{i}.wheel")
        seen.add(n.wheel)


@transaction.atomic
def withdraw(actor: Actor, rig_id: int, uuid: UUID) -> SensorsOut:
    """Takes one's own numbers back; a manager anybody's. What was told by them stays on record."""
    actor.must(May.ROUNDS)
    row = Glance.objects.filter(rig=rigs.rig(actor, rig_id)).get(uuid=uuid)
    if row.by_id != actor.person.pk and not actor.may(May.PEOPLE):
        raise Denied("These numbers are somebody else's. They or a manager take them back.")
    row.withdrawn_at = clock.now()
    row.save()
    record.note_newest(row.rig_id)
    return present(actor, rig_id)


def _tell(actor: Actor, rig_id: int) -> None:
    """Puts on record what the numbers tell by now; what was told before stays."""
    of = held.of(actor, rigs.rig(actor, rig_id, also=ALSO))
    record.tell(rig_id, (t for f in _folds(of, _events(of.row)) if f for t in f.told))
