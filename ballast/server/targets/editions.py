"""What a new edition of a table would change, before it is taken into use."""

from dataclasses import replace

from django.db.models import OuterRef, Subquery

from ballast.core import targets as core
from ballast.server.accounts.actors import Actor
from ballast.server.rigs import services as rigs
from ballast.server.tables import services as tables
from ballast.server.tables.models import Table
from ballast.server.tables.schemas import TableIn
from ballast.server.targets import policies
from ballast.server.targets.chalk import chalk_in
from ballast.server.targets.models import TargetSet
from ballast.server.targets.schemas import Changed
from ballast.server.targets.shelf import Shelf, cases_of
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing


def _as_row(actor: Actor, data: TableIn, old: Table | None) -> Table:
    """A table as it would be stored; not saved."""
    read = tables.understand(actor, data)
    return Table(
        pk=old.pk if old else 0, size=read.size.name, load_range=(data.load_range or read.size.range).upper(),
        load_index_single=read.indices[0], load_index_dual=read.indices[1], pressure_unit=data.pressure_unit,
        mass_unit=data.mass_unit, steps=data.steps, single=data.single, dual=data.dual or None, source=data.source,
        speed_kmh=data.speed_kmh.value if data.speed_kmh else None,
    )  # fmt: skip


def impact(actor: Actor, data: TableIn) -> list[Changed]:
    """Every axle whose target in force comes from the edition that `data` replaces: as it is, and as it would be.

    A table that replaces none changes nothing that is in force. The number of queries does not grow with the rigs.
    Raises Refusal naming the cell.
    """
    old = tables.table(actor, data.replaces, "replaces") if data.replaces is not None else None
    new = _as_row(actor, data, old)
    if old is None:
        return []
    newest = TargetSet.objects.filter(rig=OuterRef("pk"), load_state__in_force=True).order_by("-id")
    affected = (
        rigs.rigs(actor)
        .filter(archived=False)
        .select_related("policy")
        .annotate(set_id=Subquery(newest.values("pk")[:1]))
        .filter(set_id__in=TargetSet.objects.filter(tables=old).values("pk"))
    )
    sets = TargetSet.objects.prefetch_related("axles__table", "tables").in_bulk([r.set_id for r in affected])
    tickets = Weighing.objects.prefetch_related("axles").in_bulk(
        [s.weighing_id for s in sets.values() if s.weighing_id]
    )
    chalk = chalk_in([row.load_state_id for row in sets.values()])
    lines: list[Changed] = []
    for rig in affected:
        row = sets[rig.set_id]
        ticket = tickets.get(row.weighing_id or 0)
        axles = list(row.axles.all())
        if ticket is None or len(axles) != len(rig.axles.all()):
            continue
        typed = rigs.rig_of(rig)
        by_size: dict[str, list[Table]] = {}
        for t in row.tables.all():
            by_size.setdefault(t.size, []).append(t)
        shelf = Shelf([a.table for a in axles], by_size).instead(old, new)
        loads = weighing.loads_of(ticket, typed)
        cases, _ = cases_of(rig, typed, loads, shelf, chalk.get(row.load_state_id, {}))
        policy = policies.way_of(
            actor, rig, {n: getattr(row, n) for n in ("reserve", "edge", "step", "school", "between")}
        )
        for axle, case in zip(axles, cases, strict=True):
            then = core.axle_target(replace(case, own_kpa=axle.own_kpa, trial=axle.trial), policy.policy())
            if axle.table_id != old.pk and then.target_kpa == axle.target_kpa:
                continue
            lines.append(
                Changed(
                    rig.pk,
                    rig.shown_name,
                    axle.number,
                    case.name,
                    axle.target_kpa,
                    then.target_kpa,
                    then.state,
                    then.words,
                )
            )
    return lines
