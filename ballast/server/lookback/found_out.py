"""Gauges that rounds find out: queries over what rounds keep of a change of gauges."""

import datetime as dt

from django.db.models import Avg, OuterRef, Subquery

from ballast.core import gauges as core
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.gauges.models import Calibration, Gauge
from ballast.server.lookback.schemas import GaugeSaidOut
from ballast.server.rounds.models import Round, Service

# A gauge is judged by the changes of a year.
WINDOW = dt.timedelta(days=365)


def named(actor: Actor) -> dict[int, Phrase]:
    """What rounds say of the gauges that they found out."""
    return {g.gauge: g.words for g in said(actor) if g.named}


def said(actor: Actor) -> list[GaugeSaidOut]:
    """What rounds say of each gauge that took part in a change, those that are found out first."""
    actor.must(May.READ)
    last = Round.objects.filter(rig=OuterRef("rig"), opened_at__lt=OuterRef("opened_at"), abandoned_at=None)
    rows = list(
        Round.objects.filter(
            rig__workspace=actor.workspace,
            gauge_shared_kpa__isnull=False,
            opened_at__gte=clock.now() - WINDOW,
            abandoned_at=None,
        )
        .exclude(sealed_at=None)
        .exclude(gauge_before=None)
        .annotate(last=Subquery(last.exclude(sealed_at=None).order_by("-opened_at").values("opened_at")[:1]))
        .values_list("pk", "rig", "gauge_before", "gauge", "last", "opened_at", "gauge_shared_kpa")
    )
    labels = dict(Gauge.objects.filter(pk__in={g for row in rows for g in row[2:4]}).values_list("pk", "label"))
    compared: dict[int, list[dt.date]] = {pk: [] for pk in labels}
    for pk, on in (
        Calibration.objects.filter(gauge__in=labels).order_by("compared_on").values_list("gauge", "compared_on")
    ):
        compared[pk].append(on)
    of_key: dict[int, int] = {}

    def key(gauge: int, at: dt.datetime) -> int:
        made = core.since_compared(gauge, at.date(), compared[gauge])
        of_key[made] = gauge
        return made

    changes = [
        core.GaugeChange(key(before, last or at), key(gauge, at), rig, shared)
        for _, rig, before, gauge, last, at, shared in rows
        if shared is not None
    ]
    means = dict(
        Service.objects.filter(round__in=[row[0] for row in rows])
        .order_by()
        .values_list("gauge")
        .annotate(mean=Avg("uncertainty_kpa"))
    )
    found = core.found_out(changes, {made: means[gauge] for made, gauge in of_key.items() if gauge in means})
    return sorted((_said(pk, label, found.get(pk, core.UNKNOWN)) for pk, label in labels.items()), key=_loudest)


def _said(pk: int, label: str, of: core.FoundOut) -> GaugeSaidOut:
    return GaugeSaidOut(
        gauge=pk, label=label, error_kpa=of.error_kpa, named=of.named, words=core.found_words(label, of),
        within_kpa=of.within_kpa if of.error_kpa is not None else None,
    )  # fmt: skip


def _loudest(of: GaugeSaidOut) -> tuple[bool, bool, str]:
    return not of.named, of.error_kpa is None, of.label
