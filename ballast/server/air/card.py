"""The pressure card: what hangs in the cab. A rig, or a combination from its tow vehicle, on one sheet."""

from typing import Any

from reportlab.graphics.barcode.qrencoder import QRCode, QRErrorCorrectLevel

from ballast.core import air as core
from ballast.core import rigs as core_rigs
from ballast.core import weighing as core_weighing
from ballast.core.gas import Air
from ballast.core.working import say
from ballast.server.accounts.actors import Actor
from ballast.server.air import services
from ballast.server.rigs import services as rigs
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetSet
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing

TEMPERATURES_C = tuple(float(c) for c in range(-20, 45, 10))
CAUTIONS = (
    "Cold pressures. The tire's and vehicle's makers and local law rule; where there is doubt, ask a licensed tire service.",
    "Never let air out of a warm tire. Never above the ceiling.",
)


def qr_rows(text: str) -> list[str]:
    """A QR code as rows of 0 and 1, the dark ones 1, without its quiet zone."""
    code = QRCode(None, QRErrorCorrectLevel.M)
    code.addData(text)
    code.make()
    return [
        "".join("1" if code.isDark(r, c) else "0" for c in range(code.moduleCount)) for r in range(code.moduleCount)
    ]


def card(actor: Actor, rig_id: int, address: str) -> dict[str, Any]:
    """All that stands on the card. Raises DoesNotExist.

    Readings are of the target set in the air that its policy names, at the elevation in use.
    """
    found = services.vehicles(actor, rig_id, whole=True, on_axles=False)
    mine = [v.rig for v in found]
    sets = targets.each_in_force(targets.sets(actor, *mine).prefetch_related("weighing__axles"))
    newest = weighing.each_in_force(actor, mine)
    first = found[0]
    air = services.air_of(actor, first.rig)
    set_in = services.set_in(air, first.way, air["elevation_m"] or 0.0)
    vehicles = [_vehicle(actor, v, sets.get(v.rig.pk), newest.get(v.rig.pk), set_in) for v in found]
    return {
        "title": " + ".join(v.rig.name for v in found),
        "vehicles": vehicles,
        "temperatures_c": TEMPERATURES_C,
        "set_in_c": set_in.temperature_c,
        "elevation_m": set_in.elevation_m,
        "place": air["place"],
        "made_on": services.today_in(air),
        "address": address,
        "qr": qr_rows(address),
        "cautions": CAUTIONS,
        "stamps": list(dict.fromkeys([s for v in vehicles for s in v["stamps"]] + [air["stamp"]] * bool(air["stamp"]))),
    }


def _vehicle(
    actor: Actor, vehicle: services.Vehicle, row: TargetSet | None, newest: Weighing | None, set_in: Air
) -> dict[str, Any]:
    rig = vehicle.rig
    typed = rigs.rig_of(rig)
    ticket = row.weighing if row else None
    bands = {a.number: a for a in row.axles.all()} if row else {}
    axles = []
    for axle in typed.axles:
        band = bands.get(axle.number)
        target = band.target_kpa if band else None
        axles.append(
            {
                "name": typed.axle_name(axle.number),
                "position_m": axle.position_m,
                "track_m": axle.track_m,
                "wheels": axle.wheels,
                "size": axle.tire.size.name if axle.tire else "",
                "target_kpa": target,
                "floor_kpa": band.floor_kpa if band else None,
                "ceiling_kpa": band.ceiling_kpa if band else None,
                "words": band.answer["words"] if band else say("No target in force."),
                "provisional": bool(band and band.state == "provisional"),
                "readings": core.readings(target, set_in, band.floor_kpa, band.ceiling_kpa, TEMPERATURES_C)
                if band and target is not None
                else (),
            }
        )
    over = weighing.loads_of(ticket, typed).over if ticket else ()
    said = targets.made_from(list(row.tables.all()) if row else [], row.weighing if row else None)
    return {
        "rig": rig.pk,
        "name": rig.name,
        "fleet_number": rig.fleet_number,
        "trailer": rig.kind in core_rigs.TRAILERS,
        "load_state": row.load_state.name if row else "",
        "weighed_on": ticket.weighed_on if ticket else None,
        "put_at": row.put_at if row else None,
        "put_by": row.put_by.shown_name if row else "",
        "tables": said["table_names"],
        "stamps": said["stamps"],
        "unchecked": said["unchecked"],
        "provisional": any(a["provisional"] for a in axles),
        "out_of_date": targets.out_of_date(row, rig, newest, actor) if row else [],
        "trials": [f"{typed.axle_name(a.number)}: {a.trial}" for a in bands.values() if a.trial],
        "unlike": typed.unlike,
        "over": [core_weighing.overload_words(c) for c in over],
        "axles": axles,
        "spares": row.spares if row else targets.spares_of(rig, vehicle.way),
    }
