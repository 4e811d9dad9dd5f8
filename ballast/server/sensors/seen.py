"""What displays said of tires: lately of many rigs, for those who foretell, or through a year of one; at its own uncertainty."""

import datetime as dt
from collections.abc import Iterable

from django.db.models import F, QuerySet

from ballast.core import sensors as core
from ballast.core.gas import REFERENCE, Air
from ballast.server.refine.models import Rotation
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Fitting, Rig
from ballast.server.rounds.models import Service
from ballast.server.sensors.models import GlanceNumber, Heard

# A sensor's offset is learned from so far back, and never from before its tire came to its wheel.
_LEARNS = dt.timedelta(days=365)
_Wheel = tuple[int, str]
_Heard = dict[_Wheel, list[core.Sample]]


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
    _, off = _learned({rig for rig, _ in newest}, heavy, now)
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
    rows = (
        GlanceNumber.objects.filter(glance__rig__in=list(of), glance__withdrawn_at=None, glance__at__gte=since)
        .select_related("glance")
        .annotate(sealed=F("glance__rig__sensors__sealed"))
    )
    found = []
    for n in rows.order_by("glance__at", "id"):
        g = n.glance
        air = Air(g.air_c, g.elevation_m, g.absolute_kpa)
        shown = core.Sample(n.wheel, g.at, n.kpa, air, n.tire_c, g.rolled_min, g.stood_h, n.fresh)
        found.append(((g.rig_id, n.wheel), core.sampled(shown, n.sealed)))
    return found


def through(rig: Rig, now: dt.datetime) -> dict[str, list[core.Glimpse]]:
    """By wheel its numbers of the last year since its tire came there, oldest first, at 20 °C and sea level.

    The rig comes with `WITH_HEARD`. Empty where nobody knows of which tire a number is.
    """
    if getattr(rig, "heard", None) is None or unlearned([rig.pk]).exists():
        return {}
    heavy = {rig.pk: not rigs.rig_of(rig).light}
    heard, off = _learned({rig.pk}, heavy, now)
    return {
        where[1]: [
            one for s in seen if (one := core.glimpse(s, heavy[rig.pk], REFERENCE, s.at, off.get(where))) is not None
        ]
        for where, seen in heard.items()
    }


def _learned(of: set[int], heavy: dict[int, bool], now: dt.datetime) -> tuple[_Heard, dict[_Wheel, core.Offset]]:
    """All that was said of each wheel in a year since its tire came, and what its sensor is off by, where enough pairs say so."""
    if not of:
        return {}, {}
    on = Fitting.objects.filter(removed_on=None, rig__in=of)
    came = {(rig, wheel): day for rig, wheel, day in on.values_list("rig_id", "wheel", "fitted_on")}
    heard: _Heard = {}
    for where, sample in samples(of, now - _LEARNS):
        if sample.at.date() >= came.get(where, sample.at.date()):
            heard.setdefault(where, []).append(sample)
    served: dict[_Wheel, list[core.Served]] = {}
    for s in Service.objects.filter(rig__in=of, at__gte=now - _LEARNS):
        if s.at.date() >= came.get((s.rig_id, s.wheel), s.at.date()):
            air = Air(s.air_c, s.elevation_m, s.absolute_kpa)
            served.setdefault((s.rig_id, s.wheel), []).append(core.Served(s.at, air, s.found_kpa, s.left_kpa))
    off = {w: core.offset(core.pairs(seen, served.get(w, []), heavy[w[0]])) for w, seen in heard.items()}
    return heard, {w: one for w, one in off.items() if one is not None}
