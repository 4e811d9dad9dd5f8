"""What happened to rigs since they were read, in two questions however many they are."""

import datetime as dt
from collections import defaultdict
from collections.abc import Collection, Sequence

from django.db.models import CharField, DateField, Exists, F, Max, Min, OuterRef, Q, QuerySet, Value
from django.db.models.functions import Coalesce, TruncDate

from ballast.core import gauges as core_gauges
from ballast.core import standing
from ballast.server.gauges.models import Gauge
from ballast.server.refine.models import TireEvent
from ballast.server.refine.wear import standing_events
from ballast.server.rounds import stored
from ballast.server.rounds.models import Amendment, Reading, Round
from ballast.server.sensors.models import AlarmTold, LampCase

# What of a round is asked for.
LAST = ("opened_at", "last_words", "next_on", "next_why", "summary", "gauge_id")


def last_rounds(rows: Sequence[Round], asked: bool = True) -> dict[int, standing.LastRound]:
    """Sealed rounds, by key, as what they said last; with those of their gauges that were in doubt ever since, where that is to
    be `asked`."""
    gauges = defaultdict[int, list[standing.UsedGauge]](list)
    of = Q(round__in=rows if asked else [], gauge__doubted_at__isnull=False)
    named = ("round", "gauge__label", "gauge__doubted_at")
    read = Reading.objects.filter(of).values(*named).annotate(since=Min(Coalesce("read_at", "received_at")))
    # What was put right was read in the round too, at no time that is known any better.
    amended = Amendment.objects.filter(of).values(*named).annotate(since=Min("round__opened_at"))
    used = read.order_by().union(amended.order_by()).values_list(*named, "since").order_by("gauge__label", "since")
    for pk, label, doubted_at, since in used:
        if since and doubted_at:
            gauges[pk].append(standing.UsedGauge(label, since, doubted_at))
    return {
        r.pk: standing.LastRound(
            r.opened_at, stored.words(r.last_words), r.next_on, r.next_why, r.summary, tuple(gauges[r.pk])
        )
        for r in rows
    }


def read_with(rows: Sequence[Round]) -> dict[int, standing.ReadWith]:
    """By round the gauge that it was read with, and until when its comparison stands."""
    used = Gauge.objects.filter(pk__in={r.gauge_id for r in rows}).annotate(compared=Max("calibrations__compared_on"))
    gauges = {
        pk: standing.ReadWith(label, core_gauges.due_on(compared, days) if compared else None)
        for pk, label, days, compared in used.values_list("pk", "label", "every_days", "compared")
    }
    return {r.pk: gauges[r.gauge_id] for r in rows}


def anything(rigs: Collection[int]) -> Q:
    """Of a round: whether anything of it is to be asked for at all; for most nothing is."""
    then = OuterRef("opened_at")
    return Q(
        Exists(AlarmTold.objects.filter(rig__in=rigs, sets=True, at__gt=then))
        | Exists(LampCase.objects.filter(rig__in=rigs, at__gt=then))
        | Exists(_done(rigs).filter(entered_at__gt=then))
        | Exists(Reading.objects.filter(round=OuterRef("pk"), gauge__doubted_at__isnull=False))
        | Exists(Amendment.objects.filter(round=OuterRef("pk"), gauge__doubted_at__isnull=False))
    )


def _done(rigs: Collection[int]) -> QuerySet[TireEvent]:
    """What was done to the tires that are on some rigs now, and asks."""
    here = TireEvent.objects.filter(tire__fittings__rig__in=rigs, tire__fittings__removed_on=None)
    return standing_events(here.filter(kind__in=standing.ASKING)).order_by()


def since(rigs: Collection[int], read_at: dt.datetime | None) -> dict[int, list[standing.Event]]:
    """What happened to each rig and asks for a round at once, since any of them was read; None: none was."""
    if read_at is None:
        return {}
    lamp, nowhere = Value("lamp", CharField()), Value("", CharField())
    on = TruncDate("at", tzinfo=dt.UTC, output_field=DateField())
    of = ("rig_id", "what", "on", "told", "wheel")
    alarms = AlarmTold.objects.filter(rig__in=rigs, sets=True, at__gt=read_at).order_by()
    lamps = LampCase.objects.filter(rig__in=rigs, at__gt=read_at).order_by()
    here = _done(rigs).filter(done_on__gte=read_at.date())
    rows = lamps.annotate(what=lamp, on=on, told=F("at"), wheel=nowhere).values_list(*of)
    rows = rows.union(
        alarms.annotate(on=on, told=F("at")).values_list(*of),
        here.annotate(
            rig_id=F("tire__fittings__rig_id"), what=F("kind"), on=F("done_on"), told=F("entered_at"), wheel=F("tire__fittings__wheel"),
        ).values_list(*of),
    )  # fmt: skip
    happened = defaultdict[int, list[standing.Event]](list)
    for rig, what, day, told_at, wheel in rows:
        happened[rig].append(standing.Event(what, day, told_at, wheel))
    return {rig: sorted(events, key=lambda e: (e.told_at, e.wheel, e.what)) for rig, events in happened.items()}
