"""Inflators: kept, and asked whether they can do a job."""

from dataclasses import dataclass

from django.db import transaction

from ballast.core import gauges as core
from ballast.core import rigs as core_rigs
from ballast.core.gas import atmosphere
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.versions import must_match, version_of
from ballast.server.gauges import services as gauges
from ballast.server.gauges.labels import must_be_free
from ballast.server.gauges.models import Gauge, Inflator
from ballast.server.gauges.schemas import InflatorIn, InflatorOut, JobIn


def inflators(actor: Actor) -> list[Inflator]:
    actor.must(May.READ)
    return list(
        Inflator.objects.of(actor.workspace).select_related("display").prefetch_related("display__calibrations")
    )


def inflator(actor: Actor, inflator_id: int) -> Inflator:
    """One inflator of the workspace. Raises DoesNotExist for any other."""
    actor.must(May.READ)
    drawer = Inflator.objects.of(actor.workspace).select_related("display").prefetch_related("display__calibrations")
    return drawer.get(pk=inflator_id)  # type: ignore[no-any-return]


_STATE = (
    "label", "supply", "retired", "display_id", "points", "max_kpa", "free_l_min", "on_min", "rest_min", "hose_loss_kpa",
    "settling_kpa", "draws_a", "socket_a", "tank_l",
)  # fmt: skip


def state_of(row: Inflator) -> dict[str, object]:
    """All that an inflator's form shows and writes."""
    return {f: getattr(row, f) for f in _STATE}


@transaction.atomic
def save(actor: Actor, data: InflatorIn, inflator_id: int | None = None) -> Inflator:
    """Adds or changes an inflator. Raises Conflict for a label that is taken, Refusal for what cannot be."""
    actor.must(May.GAUGES)
    row = Inflator(workspace=actor.workspace) if inflator_id is None else inflator(actor, inflator_id)
    must_be_free(Inflator.objects.of(actor.workspace).exclude(pk=row.pk), data.label, "an inflator")
    if data.max_kpa.value <= 0:
        raise Refusal("Where it stalls is above zero.", "max_kpa")
    if data.free_l_min == 0:
        raise Refusal("Free flow is above zero. Leave it empty where it is not known.", "free_l_min")
    points = sorted([p.pressure.value, p.flow] for p in data.points)
    if points and (len(points) < 2 or len({p for p, _ in points}) < len(points)):
        raise Refusal("The maker's points need two different pressures at least.", "points")
    for i, (_, flow) in enumerate(points):
        if flow <= 0 and i < len(points) - 1:
            raise Refusal("Flow may be nil at the last point alone.", "points")
    if (data.on_min is None) != (data.rest_min is None):
        raise Refusal("A duty cycle is minutes on and minutes of rest: enter both, or neither.", "rest_min")
    display: Gauge | None = None
    if data.display is not None:
        display = gauges.ours(actor, data.display, "display")
    stored = state_of(row)
    row.label, row.supply, row.retired, row.display = data.label, data.supply, data.retired, display
    row.points = [{"pressure_kpa": p, "flow_l_min": q} for p, q in points]
    row.max_kpa, row.free_l_min, row.on_min, row.rest_min = (
        data.max_kpa.value,
        data.free_l_min,
        data.on_min,
        data.rest_min,
    )
    row.hose_loss_kpa = data.hose_loss_kpa.value if data.hose_loss_kpa else 0.0
    row.settling_kpa = data.settling_kpa.value if data.settling_kpa else 0.0
    row.draws_a, row.socket_a = data.draws_a, data.socket_a
    row.tank_l = data.tank_l.value if data.tank_l else None
    if row.pk:
        must_match(data.version, stored, state_of(row), actor.person.units)
    row.save()
    return inflator(actor, row.pk)


def inflator_of(row: Inflator) -> core.Inflator:
    return core.Inflator(
        row.max_kpa, row.free_l_min, row.supply, tuple((p["pressure_kpa"], p["flow_l_min"]) for p in row.points), row.hose_loss_kpa, row.settling_kpa,
        row.on_min, row.rest_min, row.draws_a, row.socket_a, row.tank_l,
    )  # fmt: skip


@dataclass(frozen=True)
class Dialed(core.Fill):
    """A fill, and what the inflator's own display shows at its set-point [kPa]."""

    dial_kpa: float = 0.0


@dataclass(frozen=True)
class RigJob(core.Job):
    """A job by one inflator; its fills are `Dialed`."""

    inflator: int = 0
    label: str = ""


def job(row: Inflator, tires: tuple[core.ToFill, ...], outside_kpa: float) -> RigJob:
    """What an inflator makes of some tires, with what its own display shows at each set-point."""
    worked = core.job(inflator_of(row), tires, outside_kpa)
    display = gauges.gauge_of(row.display) if row.display else None

    def dialed(fill: core.Fill) -> Dialed:
        return Dialed(**vars(fill), dial_kpa=core.shows(display, fill.set_point_kpa) if display else fill.set_point_kpa)

    return RigJob(**vars(worked) | {"fills": tuple(dialed(f) for f in worked.fills)}, inflator=row.pk, label=row.label)


def volume_of(tire_size: str) -> float | None:
    """About how much air a tire of a size holds [L]; None where the size does not say."""
    size = core_rigs.as_marked(tire_size)
    if size.width_mm is None or size.diameter_mm is None or size.rim_in is None:
        return None
    return core.air_volume_l(size.width_mm, size.diameter_mm, size.rim_in)


def work_job(actor: Actor, data: JobIn) -> RigJob:
    """Whether an inflator does a job as typed. Nothing is saved."""
    try:
        row = inflator(actor, data.inflator)
    except Inflator.DoesNotExist:
        raise Refusal("There is no such inflator in this workspace. Choose another.", "inflator") from None
    tires = []
    for i, t in enumerate(data.tires):
        if t.volume_l is None and (words := core_rigs.unread(t.tire_size)):
            raise Refusal(words, f"tires.{i}.tire_size")
        volume = t.volume_l.value if t.volume_l is not None else volume_of(t.tire_size)
        if volume is None:
            raise Refusal(
                "This size does not say how much air it holds. Write it as 235/80R22.5, or give its volume.",
                f"tires.{i}.tire_size",
            )
        tires.append(core.ToFill(t.name, t.from_kpa.value, t.to_kpa.value, volume, t.urgent))
    return job(row, tuple(tires), atmosphere(data.elevation_m))


def present(row: Inflator) -> InflatorOut:
    fields = (
        "id", "label", "supply", "max_kpa", "free_l_min", "hose_loss_kpa", "settling_kpa", "on_min", "rest_min", "draws_a",
        "socket_a", "tank_l", "retired",
    )  # fmt: skip
    return InflatorOut.model_validate(
        {f: getattr(row, f) for f in fields}
        | {
            "version": version_of(state_of(row)),
            "supply_name": core.SUPPLIES[row.supply],
            "points": row.points,
            "display": row.display_id,
            "display_label": row.display.label if row.display else "",
        }
    )
