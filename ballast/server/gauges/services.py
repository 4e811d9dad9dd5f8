from typing import Any

from django.db import transaction
from django.utils import timezone

from ballast.core import gauges as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.days import latest_day
from ballast.server.edge.problems import Conflict
from ballast.server.gauges.models import Calibration, Gauge
from ballast.server.gauges.schemas import CalibrationIn, GaugeIn


def gauges(actor: Actor) -> list[Gauge]:
    actor.must(May.READ)
    return list(Gauge.objects.of(actor.workspace).prefetch_related("calibrations__entered_by"))


def gauge(actor: Actor, gauge_id: int) -> Gauge:
    """One gauge of the workspace. Raises DoesNotExist for any other."""
    actor.must(May.READ)
    return Gauge.objects.of(actor.workspace).prefetch_related("calibrations__entered_by").get(pk=gauge_id)  # type: ignore[no-any-return]


def latest(row: Gauge) -> Calibration | None:
    """The comparison in use: the newest."""
    return next(iter(row.calibrations.all()), None)


def gauge_of(row: Gauge) -> core.Gauge:
    """The rules' view of a gauge with its newest comparison."""
    compared = latest(row)
    pairs = tuple(core.Pair(p[0], p[1]) for p in compared.pairs) if compared else ()
    return core.Gauge(
        row.kind, row.low_kpa, row.high_kpa, row.resolution_kpa, pairs, compared.master_u_kpa if compared else None
    )


@transaction.atomic
def save_gauge(actor: Actor, data: GaugeIn, gauge_id: int | None = None) -> Gauge:
    """Adds or changes a gauge. Raises Conflict for a label that is taken, Refusal for an empty range."""
    actor.must(May.GAUGES)
    row = Gauge(workspace=actor.workspace) if gauge_id is None else gauge(actor, gauge_id)
    if Gauge.objects.of(actor.workspace).filter(label=data.label).exclude(pk=row.pk).exists():
        raise Conflict(f"There is a gauge {data.label} already. Choose another label.", "label")
    if data.high_kpa.value <= data.low_kpa.value:
        raise Refusal("The range ends below where it begins. Check both.", "high_kpa")
    if not 0 < data.resolution_kpa.value <= (data.high_kpa.value - data.low_kpa.value) / 5:
        raise Refusal(
            "The resolution is the smallest step it shows, above zero and small in its range.", "resolution_kpa"
        )
    row.label, row.kind, row.dual_foot = data.label, data.kind, data.dual_foot
    row.dropped, row.retired = data.dropped, data.retired
    row.low_kpa, row.high_kpa, row.resolution_kpa = (
        data.low_kpa.value, data.high_kpa.value, data.resolution_kpa.value,
    )  # fmt: skip
    row.save()
    return gauge(actor, row.pk)


@transaction.atomic
def compare(actor: Actor, gauge_id: int, data: CalibrationIn) -> Gauge:
    """Records a comparison with a master; a drop before it is settled by it.

    Raises Refusal for pairs that do not rise, lie outside the gauge's range, or a date ahead.
    """
    actor.must(May.GAUGES)
    row = gauge(actor, gauge_id)
    if data.compared_on > latest_day():
        raise Refusal("The date lies in the future. Check it.", "compared_on")
    for i, pair in enumerate(data.pairs):
        if not row.low_kpa <= pair.reading.value <= row.high_kpa:
            raise Refusal("This gauge cannot show that: it is outside its range.", f"pairs.{i}.reading")
        if abs(pair.reading.value - pair.reference.value) > 0.25 * max(pair.reference.value, 50):
            raise Refusal("More than a quarter apart: check both, or retire the gauge.", f"pairs.{i}.reading")
    core.curve(tuple(core.Pair(p.reference.value, p.reading.value) for p in data.pairs))
    Calibration.objects.create(
        gauge=row,
        compared_on=data.compared_on,
        reference=data.reference,
        master_u_kpa=data.master_u_kpa.value if data.master_u_kpa else None,
        pairs=[[p.reference.value, p.reading.value, p.reference.typed, p.reading.typed] for p in data.pairs],
        entered_by=actor.person,
    )
    if row.dropped:
        row.dropped = False
        row.save()
    return gauge(actor, gauge_id)


def present(row: Gauge) -> dict[str, Any]:
    compared = latest(row)
    days = (timezone.now().date() - compared.compared_on).days if compared else None
    condition = core.condition(gauge_of(row), days)
    fields = (
        "id", "label", "kind", "low_kpa", "high_kpa", "resolution_kpa", "dual_foot", "dropped", "retired",
    )  # fmt: skip
    return {f: getattr(row, f) for f in fields} | {
        "kind_name": core.KIND_NAMES[row.kind],
        "condition": core.DROPPED if row.dropped else condition,
        "suspect": row.dropped or condition is not None,
        "calibrations": [
            {
                "id": c.pk,
                "compared_on": c.compared_on,
                "reference": c.reference,
                "master_u_kpa": c.master_u_kpa,
                "by": c.entered_by.shown_name,
                "pairs": [{"reference_kpa": p[0], "reading_kpa": p[1]} for p in c.pairs],
            }
            for c in row.calibrations.all()
        ],
    }
