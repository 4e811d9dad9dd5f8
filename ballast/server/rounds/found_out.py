"""Gauges that rounds find out: over what rounds keep of a change of gauges."""

import datetime as dt

from django.db.models import Avg, OuterRef, Subquery

from ballast.core import gauges as core
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Calibration, Gauge
from ballast.server.rounds.models import Round, Service
from ballast.server.rounds.schemas import GaugeSaidOut

# A gauge is judged by the changes of a year.
WINDOW = dt.timedelta(days=365)


def settle(workspace: int) -> None:
    """What rounds found out by now is kept with each gauge: from then on it is suspect, wherever it is asked for."""
    for row, of in _found(workspace):
        if of.named:
            gauges.find_out(row, of)


def named(actor: Actor) -> list[Phrase]:
    """What rounds say of the gauges that they found out."""
    return [g.words for g in said(actor) if g.named]


def said(actor: Actor) -> list[GaugeSaidOut]:
    """What rounds say of each gauge that took part in a change, those that are found out first."""
    actor.must(May.READ)
    assert actor.workspace is not None
    return sorted((_said(row, of) for row, of in _found(actor.workspace.pk)), key=_loudest)


def _found(workspace: int) -> list[tuple[Gauge, core.FoundOut]]:
    """What rounds of a workspace say by now of each gauge that took part in a change."""
    last = Round.objects.filter(rig=OuterRef("rig"), opened_at__lt=OuterRef("opened_at"), abandoned_at=None)
    rows = list(
        Round.objects.filter(
            rig__workspace=workspace,
            gauge_shared_kpa__isnull=False,
            opened_at__gte=clock.now() - WINDOW,
            abandoned_at=None,
        )
        .exclude(sealed_at=None)
        .exclude(gauge_before=None)
        .annotate(last=Subquery(last.exclude(sealed_at=None).order_by("-opened_at").values("opened_at")[:1]))
        .values_list("pk", "rig", "gauge_before", "gauge", "last", "opened_at", "gauge_shared_kpa")
    )
    took_part = list(Gauge.objects.filter(pk__in={g for row in rows for g in row[2:4]}))
    compared: dict[int, list[dt.date]] = {row.pk: [] for row in took_part}
    for pk, on in (
        Calibration.objects.filter(gauge__in=took_part).order_by("compared_on").values_list("gauge", "compared_on")
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
    return [(row, found.get(row.pk, core.UNKNOWN)) for row in took_part]


def _said(row: Gauge, by_now: core.FoundOut) -> GaugeSaidOut:
    # Found out it stays so until it is compared: since then it is held to be less sure, which is no excuse for it.
    kept = gauges.found_out(row)
    of = kept if kept.named else by_now
    return GaugeSaidOut(
        gauge=row.pk, label=row.label, error_kpa=of.error_kpa, named=of.named, words=core.found_words(row.label, of),
        within_kpa=of.within_kpa if of.error_kpa is not None else None,
    )  # fmt: skip


def _loudest(of: GaugeSaidOut) -> tuple[bool, bool, str]:
    return not of.named, of.error_kpa is None, of.label
