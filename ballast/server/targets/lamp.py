"""The vehicle's own lamp over an axle, as stored: what was seen of it, and where it lights by all that is known."""

import datetime as dt

from ballast.core import rigs as core_rigs
from ballast.core import targets as core
from ballast.server.rigs.models import Axle, Rig
from ballast.server.targets.models import TargetAxle


def seen_of(row: Axle) -> core.LampSeen | None:
    """What was seen of it; None: nothing."""
    if row.lamp_seen is None:
        return None
    return core.LampSeen(
        dt.date.fromisoformat(row.lamp_seen["on"]), row.lamp_seen["size"], row.lamp_seen["lit_kpa"], row.lamp_seen["out_kpa"]
    )  # fmt: skip


def lights_kpa(typed: core_rigs.Rig, axle: core_rigs.Axle, row: Axle) -> float | None:
    """Below this it lights [kPa]; None: no such lamp is asked for, or nothing says."""
    return core.own_lamp_kpa(typed, axle, row.load_range, row.lamp_kpa, seen_of(row), row.tire_size)


def learn(row: Axle, now: core.LampSeen) -> None:
    """Keeps what was seen of it, with what was seen before."""
    known = core.lamp_learned(seen_of(row), now)
    row.lamp_seen = {
        "on": known.on.isoformat(), "size": known.size, "lit_kpa": known.lit_kpa, "out_kpa": known.out_kpa
    }  # fmt: skip
    row.save()


def targets_put(rig: Rig) -> dict[int, list[tuple[dt.datetime, float | None]]]:
    """By axle what was put in force for the load state in force, and when, oldest first [kPa]."""
    put: dict[int, list[tuple[dt.datetime, float | None]]] = {}
    rows = TargetAxle.objects.filter(
        target_set__rig=rig, target_set__load_state__in_force=True, target_set__withdrawn_at=None
    ).order_by("target_set_id")
    for number, at, kpa in rows.values_list("number", "target_set__put_at", "target_kpa"):
        put.setdefault(number, []).append((at, kpa))
    return put
