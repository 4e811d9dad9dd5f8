"""Targets in force: which they are, and why they may no longer fit what is known."""

from typing import Any

from django.db.models import Exists, F, OuterRef, Q, QuerySet, Subquery
from pydantic import TypeAdapter

from ballast.core import standing
from ballast.core import targets as core
from ballast.core.rounds import Bare
from ballast.core.working import say
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.ready import Ready, hang
from ballast.server.edge.words import phrase_of
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.tables.models import Table
from ballast.server.targets import policies
from ballast.server.targets.models import ChalkResult, TargetAxle, TargetSet
from ballast.server.targets.shelf import Shelf, cases_of, choose_tables, sizes_of, table_marks
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing

_SPARES = TypeAdapter(list[core.SpareTarget])

# What may have happened since targets were put in force: a newer edition of a table that had a part, another chalk result.
SINCE: dict[str, Any] = {
    "table_replaced": Exists(Table.objects.filter(replaces__target_sets=OuterRef("pk"))),
    "tables_since": Exists(
        Table.objects.filter(workspace=OuterRef("rig__workspace"), entered_at__gt=OuterRef("put_at"), sample=False)
    ),
    "chalk_since": Exists(
        ChalkResult.objects.filter(load_state=OuterRef("load_state")).filter(
            Q(entered_at__gt=OuterRef("put_at")) | Q(withdrawn_at__gt=OuterRef("put_at"))
        )
    ),
}


def sets(actor: Actor, *train: Rig, withdrawn: bool = False) -> QuerySet[TargetSet]:
    """Targets of rigs, the ones put in force last first; `withdrawn`: with those that were taken back."""
    actor.must(May.READ)
    rows = TargetSet.every if withdrawn else TargetSet.objects
    return (
        rows.filter(rig__in=train, rig__workspace=actor.workspace)
        .annotate(**SINCE)
        .select_related("put_by", "load_state", "weighing__load_state")
        .prefetch_related("axles", "tables")
    )


def in_force(actor: Actor, rig: Rig) -> TargetSet | None:
    """The newest targets of the load state in force."""
    return sets(actor, rig).filter(load_state__in_force=True).first()


def _last(rows: QuerySet[TargetSet]) -> QuerySet[TargetSet]:
    last = TargetSet.objects.filter(rig=OuterRef("rig"), load_state__in_force=True).order_by("-id").values("pk")[:1]
    return rows.filter(pk=Subquery(last))


def each_in_force(rows: QuerySet[TargetSet]) -> dict[int, TargetSet]:
    """Of several rigs' targets those in force, by rig. What was in force before is not fetched."""
    return {row.rig_id: row for row in _last(rows)}


# The working and what it was worked out from are long, and not of the band.
_BANDS = Ready[TargetSet](
    lambda workspace, rigs: (
        _last(TargetSet.objects.filter(rig__in=rigs, rig__workspace=workspace))
        .annotate(
            from_sample=Exists(Table.objects.filter(target_sets=OuterRef("pk"), sample=True)),
            from_simulated=F("weighing__made_up"),
        )
        .defer("inputs")
    )
)
_BAND_AXLES = Ready[TargetAxle](lambda sets: TargetAxle.objects.filter(target_set__in=sets).defer("answer"))


def bands_in_force(actor: Actor, train: list[Rig]) -> dict[int, TargetSet]:
    """The targets in force of several rigs with their axles alone at hand, by rig."""
    actor.must(May.READ)
    rows = _BANDS(actor.workspace.pk, [r.pk for r in train])
    hang(rows, "axles", _BAND_AXLES([r.pk for r in rows]), "target_set")
    return {row.rig_id: row for row in rows}


def inputs_of(rig: Rig) -> dict[str, Any]:
    """What of a rig its targets hang on, in a form that can be compared later."""
    return {
        "gvwr_kg": rig.gvwr_kg,
        "fitted": [
            [
                f.wheel, f.tire.tire_size, f.tire.load_index_single, f.tire.load_index_dual, f.tire.max_load_single_kg,
                f.tire.max_load_dual_kg, f.tire.sidewall_max_kpa,
            ]
            for f in sorted(rigs.fitted_on(rig), key=lambda f: f.wheel)
        ],
        "axles": [
            [
                a.number, a.wheels, a.gawr_kg, a.tire_size, a.load_index_single, a.load_index_dual,
                a.max_load_single_kg, a.max_load_dual_kg, a.sidewall_max_kpa, a.wheel_max_kpa, a.placard_kpa,
            ]
            for a in rig.axles.all()
        ],
        "placards": [[a.placard_size, a.lamp_kpa] for a in rig.axles.all()],
        "kind": rig.kind,
        "light_rows": [a.placard_light_kpa for a in rig.axles.all()],
        "marks": [[a.load_range, a.tire_make] for a in rig.axles.all()],
        "fitted_marks": [
            [f.wheel, f.tire.load_range, f.tire.tire_make]
            for f in sorted(rigs.fitted_on(rig), key=lambda f: f.wheel)
        ],
        "spares": [[s.required_kpa, s.sidewall_max_kpa, s.wheel_max_kpa] for s in rig.spares.all()],
    }  # fmt: skip


def spares_in_force(row: TargetSet) -> list[core.SpareTarget]:
    """The spares' own pressures, as they were put in force."""
    return _SPARES.validate_python(row.spares)


def out_of_date(
    row: TargetSet, rig: Rig, newest: Weighing | None, actor: Actor, shelf: Shelf | None = None
) -> tuple[str, ...]:  # fmt: skip
    """Why targets in force no longer fit what is known, in words. The row comes with `SINCE` and its tables.

    `shelf`: the tables of the rig's sizes, where they are at hand.
    """
    now, way = inputs_of(rig) | {"light_row": row.load_state.light_row}, policies.way_of(actor, rig)
    reweighed = newest is not None and newest.pk != row.weighing_id
    return standing.out_of_date(
        standing.Since(
            weighed_on=newest.weighed_on if newest is not None and reweighed else None,
            again=bool(row.weighing_id),
            # What was not asked for when they were put in force has not changed since.
            changed=tuple(name for name, value in row.inputs.items() if now.get(name) != value),
            table_replaced=row.table_replaced,  # type: ignore[attr-defined]
            table_entered=bool(row.tables_since) and _table_since(row, rig, actor, shelf),  # type: ignore[attr-defined]
            chalk_changed=row.school == "chalk" and row.chalk_since,  # type: ignore[attr-defined]
            anew=tuple(name for name in standing.CHOICES if getattr(way, name) != getattr(row, name)),
        )
    )


def _table_since(row: TargetSet, rig: Rig, actor: Actor, shelf: Shelf | None) -> bool:
    """Whether a table that would be looked up now was entered after the targets were put in force."""
    typed = rigs.rig_of(rig)
    at_hand = table_marks(actor, sizes_of(rig, typed)) if shelf is None else shelf
    had = {t.pk for t in row.tables.all()}
    fitting = [at_hand.newest(kind, a.row) for a in typed.axles if a.tire for kind in a.tire.kinds]
    return any(t is not None and t.pk not in had and t.entered_at > row.put_at for t in fitting)


def unaimed(actor: Actor, rig: Rig, row: TargetSet | None) -> dict[int, Bare]:
    """The axles of a rig for which no target number is in force, by number; none, and no query, where all have one."""
    bands = {a.number: a for a in row.axles.all()} if row else {}
    bare = [a.number for a in rig.axles.all() if not (band := bands.get(a.number)) or band.target_kpa is None]
    if not bare:
        return {}
    typed = rigs.rig_of(rig)
    state = weighing.in_force_state(rig)
    cases, _ = cases_of(rig, typed, None, choose_tables(actor, rig, typed, []), {}, bool(state and state.light_row))
    earlier = TargetAxle.objects.filter(
        target_set__rig=rig, target_set__withdrawn_at=None, number__in=bare
    ).exclude(target_kpa=None)  # fmt: skip
    last = dict(earlier.order_by("target_set_id").values_list("number", "target_kpa"))
    without = {}
    for case in cases:
        if case.number not in bare:
            continue
        band, rated = bands.get(case.number), core.as_rated(case)
        words = say("No target is in force: put one in force first.")
        if band is not None:
            words = phrase_of(band.answer["words"])
        elif case.placard_kpa is None:
            words = say("Not weighed and no placard: enter the placard's pressure, or weigh it.")
        sidewall = [t.sidewall_max_kpa for t in case.tires if t.sidewall_max_kpa is not None]
        known = (core.row_of(case), rated.kpa if rated else None, last.get(case.number))
        without[case.number] = Bare(words, known, min(sidewall) if sidewall else None)
    return without
