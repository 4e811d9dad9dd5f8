"""What rides with a rig, what it lacks, and the valves of its wheels."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction

from ballast.core import gauges as core_gauges
from ballast.core import ground as core
from ballast.core import rigs as core_rigs
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, join, plain, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.ready import Ready
from ballast.server.edge.versions import must_match, version_of
from ballast.server.gauges import deflators, inflators
from ballast.server.gauges import services as gauges
from ballast.server.ground.models import KitItem, Valve
from ballast.server.ground.schemas import (
    KitIn,
    KitItemOut,
    KitOut,
    LackingOut,
    ValveOut,
    ValvesIn,
    ValvesOut,
)
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.targets import in_force

_FIELDS = ("kind", "label", "count", "gauge_id", "inflator_id", "deflators_id", "charged_on", "replace_by", "fuse_a")


def _items(train: Sequence[Rig]) -> list[KitItem]:
    rows = KitItem.objects.filter(rig__in=train).select_related("gauge", "inflator", "deflators")
    return list(rows)


def _value(row: KitItem) -> core.KitItem:
    named = row.gauge or row.inflator or row.deflators
    return core.KitItem(
        row.kind, row.label or (named.label if named else ""), row.count, row.gauge.kind if row.gauge else "",  # type: ignore[arg-type]
        bool(row.inflator and row.inflator.supply == "battery"), row.charged_on, row.replace_by,
    )  # fmt: skip


@dataclass(frozen=True)
class Lacking:
    """What a kit lacks for a plan, a trip and a round."""

    plan_phrases: tuple[Phrase, ...]
    trip_phrases: tuple[Phrase, ...]
    round_phrases: tuple[Phrase, ...]


def lacking(actor: Actor, train: Sequence[Rig]) -> Lacking:
    """What a combination's kit lacks; where none is written down, what it wants."""
    actor.must(May.READ)
    items, today = [_value(r) for r in _items(train)], clock.today()
    return Lacking(
        core.lacking("plan", items, today), core.lacking("trip", items, today), core.lacking("round", items, today)
    )


_INFLATORS = Ready[KitItem](
    lambda rigs: KitItem.objects.filter(rig__in=rigs, count__gt=0, inflator__retired=False).select_related("inflator")
)


def inflators_aboard(actor: Actor, of: Sequence[int]) -> list[tuple[str, core_gauges.Inflator]]:
    """The inflators of the kit of some rigs that are still in use, by label; the fuse that it rides behind counts before its own socket's."""
    actor.must(May.READ)
    found = {}
    for row in _INFLATORS(of):
        assert row.inflator is not None
        it = inflators.inflator_of(row.inflator)
        found[row.inflator.label] = it if row.fuse_a is None else replace(it, socket_a=row.fuse_a)
    return sorted(found.items(), key=lambda named: named[0])


_VALVES = Ready[Valve](lambda rigs: Valve.objects.filter(rig__in=rigs))


def valve_notes(actor: Actor, train: Sequence[Rig]) -> dict[tuple[int, str], Phrase]:
    """What is to be said of the valves of a combination, by rig and its own wheel."""
    bands = in_force.bands_in_force(actor, list(train))
    asked = {(pk, a.number): a.target_kpa for pk, row in bands.items() for a in row.axles.all()}
    said = {}
    for row in _VALVES([r.pk for r in train]):
        number = core_rigs.axle_at(row.wheel)
        of = core.Valve(row.stem, row.flow_through, row.reachable, row.core_changed_on, row.note)  # type: ignore[arg-type]
        words = core.valve_words(of, asked.get((row.rig_id, number)) if number is not None else None)
        if words is not None:
            said[row.rig_id, row.wheel] = words
    return said


def _valve_list(actor: Actor, train: Sequence[Rig]) -> list[Phrase]:
    said = valve_notes(actor, train)
    wheels = [
        (r.pk, own, shown) for r in train for own, shown in zip(rigs.wheels_of(r), rigs.wheels_in_train(r), strict=True)
    ]
    return [
        join(say(plain(f"{shown.name}:")), said[pk, own.code]) for pk, own, shown in wheels if (pk, own.code) in said
    ]


def _state(rows: Sequence[KitItem]) -> dict[str, object]:
    return {"items": [[getattr(r, f) for f in _FIELDS] for r in rows]}


def kit(actor: Actor, rig_id: int) -> KitOut:
    """What rides with a rig itself; what it lacks is judged with all that is hitched to it."""
    rig, train = rigs.rig(actor, rig_id), rigs.train(actor, rig_id)
    own = _items([rig])
    lacks = lacking(actor, train)
    return KitOut(
        items=[
            KitItemOut(
                kind=r.kind, label=r.label, count=r.count, gauge=r.gauge_id, inflator=r.inflator_id,
                deflators=r.deflators_id, charged_on=r.charged_on, replace_by=r.replace_by, fuse_a=r.fuse_a,
            )
            for r in own
        ],
        kinds=core.KIT_KINDS,
        version=version_of(_state(own)),
        lacks=LackingOut(
            plan=list(lacks.plan_phrases), trip=list(lacks.trip_phrases), round=list(lacks.round_phrases)
        ),
        valves=_valve_list(actor, train),
    )  # fmt: skip


@transaction.atomic
def keep(actor: Actor, rig_id: int, data: KitIn) -> KitOut:
    """Keeps all that rides with a rig. Raises Refusal for what is not of this workspace, Stale."""
    actor.must(May.GAUGES)
    rig = rigs.rig(actor, rig_id)
    known = {
        "gauge": {g.pk for g in gauges.gauges(actor)},
        "inflator": {i.pk for i in inflators.inflators(actor)},
        "deflators": {d.pk for d in deflators.sets(actor)},
    }
    wanted = []
    for i, item in enumerate(data.items):
        given: dict[str, Any] = item.model_dump()
        for name, ours in known.items():
            chosen = given.pop(name)
            if chosen is not None and chosen not in ours:
                raise Refusal("There is no such thing in this workspace. Choose another.", f"items.{i}.{name}")
            given[f"{name}_id"] = chosen if name == item.kind else None
        if item.kind == "other" and not item.label:
            raise Refusal("Name it.", f"items.{i}.label")
        wanted.append(KitItem(rig=rig, place=i, **given))
    must_match(data.version, _state(_items([rig])), _state(wanted), actor.person.units)
    KitItem.objects.filter(rig=rig).delete()
    for row in wanted:
        row.save()
    return kit(actor, rig_id)


_VALVE = ("stem", "flow_through", "reachable", "core_changed_on", "note")


def valves(actor: Actor, rig_id: int) -> ValvesOut:
    """The valve of every wheel of a rig; where nobody looked, nothing is said of it."""
    rig = rigs.rig(actor, rig_id)
    known = {v.wheel: v for v in Valve.objects.filter(rig=rig)}
    rows = []
    for wheel in rigs.wheels_of(rig):
        row = known.get(wheel.code) or Valve(rig=rig, wheel=wheel.code)
        rows.append(ValveOut(wheel=wheel.code, name=wheel.name, **{f: getattr(row, f) for f in _VALVE}))
    return ValvesOut(valves=rows, version=version_of({v.wheel: v.model_dump() for v in rows}))


@transaction.atomic
def keep_valves(actor: Actor, rig_id: int, data: ValvesIn) -> ValvesOut:
    """Keeps what is known of the valves that are named. Raises Refusal for unknown wheels, Stale."""
    actor.must(May.FIT)
    rig, now = rigs.rig(actor, rig_id), valves(actor, rig_id)
    codes = [v.wheel for v in now.valves]
    for i, given in enumerate(data.valves):
        if given.wheel not in codes:
            raise Refusal(f"There is no wheel {given.wheel} on it. It has {', '.join(codes)}.", f"valves.{i}.wheel")
        if given.core_changed_on is not None and given.core_changed_on > clock.today():
            raise Refusal("A core is not changed in the future. Check the date.", f"valves.{i}.core_changed_on")
    stored = {v.wheel: v.model_dump() for v in now.valves}
    wanted = stored | {v.wheel: stored[v.wheel] | v.model_dump() for v in data.valves}
    must_match(data.version, stored, wanted, actor.person.units)
    for v in data.valves:
        Valve.objects.update_or_create(rig=rig, wheel=v.wheel, defaults=v.model_dump(exclude={"wheel"}))
    return valves(actor, rig_id)
