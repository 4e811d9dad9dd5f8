"""The pressure card: what hangs in the cab. A rig, or a combination from its tow vehicle, on one sheet."""

from ballast.core import air as core
from ballast.core import rigs as core_rigs
from ballast.core import targets as core_targets
from ballast.core import weighing as core_weighing
from ballast.core.gas import Air
from ballast.core.working import join, plain, say
from ballast.server.accounts.actors import Actor
from ballast.server.air import now, services
from ballast.server.card.schemas import Card, CardAxle, CardVehicle
from ballast.server.edge.squares import qr_rows
from ballast.server.edge.words import phrase_of
from ballast.server.ground import plans
from ballast.server.rigs import out_of_service
from ballast.server.rigs import services as rigs
from ballast.server.targets import in_force
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetAxle, TargetSet
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing

TEMPERATURES_C = tuple(float(c) for c in range(-20, 45, 10))
CAUTIONS = (
    "Cold pressures. The tire's and vehicle's makers and local law rule; where there is doubt, ask a licensed tire service.",
    "Never let air out of a warm tire. Never above the ceiling.",
)


def card(actor: Actor, rig_id: int, address: str) -> Card:
    """All that stands on the card. Raises DoesNotExist.

    Readings are of the target set in the air that its policy names, at the elevation in use.
    """
    on_card = services.vehicles(actor, rig_id, whole=True, on_axles=False)
    train = [v.rig for v in on_card]
    sets = in_force.each_in_force(in_force.sets(actor, *train).prefetch_related("weighing__axles"))
    newest = weighing.each_in_force(actor, train)
    first = on_card[0]
    air = now.air_of(actor, first.rig)
    set_in = now.set_in(air, first.way, air.elevation_m or 0.0)
    vehicles = tuple(_vehicle(actor, v, sets.get(v.rig.pk), newest.get(v.rig.pk), set_in) for v in on_card)
    off_road = plans.open_of(actor, train)
    stamps = [*(s for v in vehicles for s in v.stamps), *([air.stamp] if air.stamp else [])]
    return Card(
        title=" + ".join(v.rig.name for v in on_card), vehicles=vehicles, temperatures_c=TEMPERATURES_C,
        set_in_c=set_in.temperature_c, elevation_m=set_in.elevation_m, place=air.place, made_on=air.today,
        address=address, qr=qr_rows(address), cautions=CAUTIONS,
        out=out_of_service.said_of(train), ground=join(plans.strip(off_road, train).words, say(". These are road numbers.")) if off_road else None, stamps=tuple(dict.fromkeys(stamps)),
    )  # fmt: skip


def _axle(axle: core_rigs.Axle, name: str, band: TargetAxle | None, set_in: Air) -> CardAxle:
    target = band.target_kpa if band else None
    readings: tuple[core.Reading, ...] = ()
    if band and target is not None:
        readings = core.readings(target, set_in, band.floor_kpa, band.ceiling_kpa, TEMPERATURES_C)
    return CardAxle(
        name=name, wheels=axle.wheels,
        size=axle.tire.size.name if axle.tire else "", target_kpa=target, floor_kpa=band.floor_kpa if band else None,
        ceiling_kpa=band.ceiling_kpa if band else None,
        words=phrase_of(band.answer["words"]) if band else say("No target in force."),
        provisional=bool(band and band.state == "provisional"), readings=readings,
    )  # fmt: skip


def _vehicle(
    actor: Actor, vehicle: services.Vehicle, row: TargetSet | None, newest: Weighing | None, set_in: Air
) -> CardVehicle:
    rig = vehicle.rig
    typed = rigs.rig_of(rig)
    ticket = row.weighing if row else None
    bands = {a.number: a for a in row.axles.all()} if row else {}
    over = weighing.loads_of(ticket, typed).over if ticket else ()
    made_from = targets.made_from(list(row.tables.all()) if row else [], ticket)
    axles = tuple(_axle(a, typed.axle_name(a.number), bands.get(a.number), set_in) for a in typed.axles)
    return CardVehicle(
        rig=rig.pk, name=rig.name, fleet_number=rig.fleet_number, shown_name=rig.shown_name,
        trailer=rig.kind in core_rigs.TRAILERS, load_state=row.load_state.name if row else "",
        weighed_on=ticket.weighed_on if ticket else None, put_at=row.put_at if row else None,
        put_by=row.put_by.shown_name if row else "", tables=made_from.table_names, stamps=made_from.stamps,
        unchecked=made_from.unchecked, out_of_date=tuple(in_force.out_of_date(row, rig, newest, actor)) if row else (),
        trials=tuple(f"{typed.axle_name(a.number)}: {a.trial}" for a in bands.values() if a.trial),
        ranges=tuple(
            join(say(f"{plain(typed.axle_name(a.number))}:"), core_targets.range_words(a.target_kpa, a.range_kpa, a.ceiling_kpa, a.feel))
            for a in bands.values()
            if a.target_kpa is not None and a.range_kpa is not None
        ),
        unlike=typed.unlike, over=tuple(core_weighing.overload_words(c) for c in over),
        axles=axles, provisional=any(a.provisional for a in axles),
        spares=tuple(in_force.spares_in_force(row)) if row else tuple(targets.spares_of(rig, vehicle.way)),
    )  # fmt: skip
