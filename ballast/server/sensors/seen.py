"""What displays said lately of the tires of many rigs, for those who foretell: evidence at its own uncertainty."""

import datetime as dt
from collections.abc import Iterable

from django.db.models import Q, QuerySet

from ballast.core import sensors as core
from ballast.core.gas import Air
from ballast.server.refine.models import Rotation
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Fitting, Rig
from ballast.server.rounds.models import Service
from ballast.server.sensors.models import GlanceNumber, Heard

# A sensor's offset is learned from so far back, and never from before its tire came to its wheel.
_LEARNS = dt.timedelta(days=365)
_Wheel = tuple[int, str]


def glimpses(train: Iterable[Rig], here: dict[int, Air], now: dt.datetime) -> dict[_Wheel, core.Glimpse]:
    """By rig and wheel the newest number that is not old, as it comes to in the air at its rig.

    Rigs come with `WITH_HEARD`: of those that were not heard nothing is asked. Those without air are left out.
    """
    heavy = {rig.pk: not rigs.rig_of(rig).light for rig in train if rig.pk in here and _lately(rig, now)}
    # Until a receiver has learned its wheels anew, nobody knows of which tire a number is.
    for rotation in unlearned(heavy):
        heavy.pop(rotation.rig_id, None)
    if not heavy:
        return {}
    newest: dict[_Wheel, core.Sample] = {}
    for where, sample in samples(heavy, now - core.OLD):
        if sample.fresh:
            newest[where] = sample
    off = _offsets({rig for rig, _ in newest}, heavy, now)
    seen = {
        where: core.glimpse(sample, heavy[where[0]], here[where[0]], now, off.get(where))
        for where, sample in newest.items()
    }
    return {where: one for where, one in seen.items() if one is not None}


def unlearned(of: Iterable[int]) -> QuerySet[Rotation]:
    """Rotations of rigs after which their receivers have not learned anew where the sensors are."""
    return Rotation.objects.filter(rig__in=list(of), sensors=True, learned_at=None)


def _lately(rig: Rig, now: dt.datetime) -> bool:
    heard: Heard | None = getattr(rig, "heard", None)
    return heard is not None and not core.is_old(heard.at, now)


def samples(of: Iterable[int], since: dt.datetime) -> list[tuple[_Wheel, core.Sample]]:
    """Numbers of rigs since a moment, oldest first; those that were only shown again say so."""
    rows = GlanceNumber.objects.filter(
        glance__rig__in=list(of), glance__withdrawn_at=None, glance__at__gte=since
    ).select_related("glance")
    found = []
    for n in rows.order_by("glance__at", "id"):
        g = n.glance
        air = Air(g.air_c, g.elevation_m, g.absolute_kpa)
        found.append(
            ((g.rig_id, n.wheel), core.Sample(n.wheel, g.at, n.kpa, air, n.tire_c, g.rolled_min, g.stood_h, n.fresh))
        )
    return found


def _offsets(of: set[int], heavy: dict[int, bool], now: dt.datetime) -> dict[_Wheel, core.Offset]:
    """What each sensor is off by where enough like pairs say so."""
    if not of:
        return {}
    since = now - _LEARNS
    came = {
        (rig, wheel): on
        for rig, wheel, on in Fitting.objects.filter(Q(removed_on=None), rig__in=of).values_list(
            "rig_id", "wheel", "fitted_on"
        )
    }
    heard: dict[_Wheel, list[core.Sample]] = {}
    for where, sample in samples(of, since):
        if sample.at.date() >= came.get(where, sample.at.date()):
            heard.setdefault(where, []).append(sample)
    served: dict[_Wheel, list[core.Served]] = {}
    for s in Service.objects.filter(rig__in=of, at__gte=since):
        if s.at.date() >= came.get((s.rig_id, s.wheel), s.at.date()):
            air = Air(s.air_c, s.elevation_m, s.absolute_kpa)
            served.setdefault((s.rig_id, s.wheel), []).append(core.Served(s.at, air, s.found_kpa, s.left_kpa))
    off = {w: core.offset(core.pairs(seen, served.get(w, []), heavy[w[0]])) for w, seen in heard.items()}
    return {w: one for w, one in off.items() if one is not None}
