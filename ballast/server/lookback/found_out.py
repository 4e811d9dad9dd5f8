"""Gauges that rounds find out: queries over what rounds keep of a change of gauges."""

import datetime as dt

from django.db.models import Avg

from ballast.core import gauges as core
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.gauges.models import Gauge
from ballast.server.lookback.schemas import GaugeSaidOut
from ballast.server.rounds.models import Round, Service

# A gauge is judged by the changes of a year.
WINDOW = dt.timedelta(days=365)


def said(actor: Actor) -> list[GaugeSaidOut]:
    """What rounds say of each gauge that took part in a change, those that are found out first."""
    actor.must(May.READ)
    since = clock.now() - WINDOW
    changed = Round.objects.filter(rig__workspace=actor.workspace, opened_at__gte=since, abandoned_at=None)
    rows = changed.exclude(sealed_at=None).exclude(gauge_shared_kpa=None)
    changes = [
        core.GaugeChange(before, now, rig, shared)
        for before, now, rig, shared in rows.values_list("gauge_before", "gauge", "rig", "gauge_shared_kpa")
        if before is not None and shared is not None
    ]
    used = {g for c in changes for g in (c.since, c.to)}
    stated = dict(
        Service.objects.filter(round__in=rows, gauge__in=used)
        .order_by()
        .values_list("gauge")
        .annotate(mean=Avg("uncertainty_kpa"))
    )
    labels = dict(Gauge.objects.filter(pk__in=used).values_list("pk", "label"))
    return sorted(
        (
            GaugeSaidOut(
                gauge=pk, label=labels[pk], error_kpa=of.error_kpa, named=of.named, words=core.found_words(labels[pk], of),
                within_kpa=of.within_kpa if of.error_kpa is not None else None,
            )
            for pk, of in core.found_out(changes, stated).items()
        ),
        key=lambda g: (not g.named, g.error_kpa is None, g.label),
    )  # fmt: skip
