"""What there is to say of rigs, worked out from their rows: the server asks for what the core needs."""

import datetime as dt
from collections import defaultdict
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, TypedDict

from django.db.models import (
    OuterRef,
    Prefetch,
    Q,
    Subquery,
    prefetch_related_objects,
)
from django.db.models.functions import Coalesce

from ballast.core import ground, refine, standing
from ballast.core import rigs as core_rigs
from ballast.core import targets as core_targets
from ballast.core import weighing as core_weighing
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor
from ballast.server.air import services as air
from ballast.server.air import trips
from ballast.server.edge import clock
from ballast.server.ground import plans
from ballast.server.lookback import happened
from ballast.server.rigs import fittings, laid_up, out_of_service
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import services as rounds
from ballast.server.rounds.models import Round
from ballast.server.tables.models import Table
from ballast.server.targets import in_force
from ballast.server.targets.models import TargetAxle, TargetSet
from ballast.server.targets.shelf import Shelf, sizes_of, table_marks
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing
from ballast.server.yard import awaited

if TYPE_CHECKING:
    from django_stubs_ext import WithAnnotations


def _ticket(row: Weighing | None, typed: core_rigs.Rig, today: dt.date) -> standing.Ticket | None:
    if row is None:
        return None
    due, words = weighing.again(row, typed, today)
    over = tuple(core_weighing.overload_words(c) for c in weighing.loads_of(row, typed).over)
    return standing.Ticket(
        row.weighed_on, over, due, words, row.load_state.name, row.made_up, row.way == weighing.WORKED_OUT
    )


def _aims(row: TargetSet | None, typed: core_rigs.Rig) -> tuple[standing.AxleAim, ...] | None:
    if row is None:
        return None
    return tuple(
        standing.AxleAim(
            typed.axle_name(a.number), a.target_kpa, a.state in core_targets.NO_PRESSURE, a.state == "provisional",
            bool(a.trial),
        )
        for a in row.axles.all()
    )  # fmt: skip


def on_now(rig: Rig, targets: TargetSet | None, off_road: bool) -> dict[str, standing.OnNow]:
    """What is at each wheel of a rig by now, from its rows at hand."""
    fitted = {f.wheel: (f.tire_id, f.fitted_on) for f in rigs.fitted_on(rig)}
    holds = {a.number: a.target_kpa for a in targets.axles.all()} if targets else None
    return standing.on_now(rigs.wheels_of(rig), fitted, holds, off_road)


@dataclass(frozen=True)
class Since:
    """What happened to a rig since it was read, and all that is hitched together now."""

    events: Sequence[standing.Event]
    train: Collection[int]


@dataclass(frozen=True)
class Rows:
    """What is newest of a rig, row by row, and what of it takes more than its rows to tell."""

    rig: Rig
    ticket: Weighing | None
    targets: TargetSet | None
    last: standing.LastRound | None
    open_round: bool
    stale: tuple[str, ...]
    since: Since
    retorque: Phrase | None = None
    answer: air.AirAnswer | None = None
    late: int = 0
    ground: plans.Strip | None = None
    read_with: standing.ReadWith | None = None


def facts_of(of: Rows) -> standing.Facts:
    """A rig today as the rules take it, from its rows at hand."""
    rig, last, answer = of.rig, of.last, of.answer
    typed, today, wheels = rigs.rig_of(rig), clock.today(), rigs.wheels_of(rig)
    leaks: tuple[standing.Leaking, ...] = ()
    leaves, laid = trips.leaves(rig), laid_up.of(rig)
    if last is not None:
        last = last.before(leaves).since(of.ground.opened_at if of.ground else None)
        here = on_now(rig, of.targets, of.ground is not None)
        last = last.by_now(rig.pk, here, of.since.events, of.since.train)
        on = {f.tire_id: f.wheel for f in rigs.fitted_on(rig)}
        leaks = last.leaks(rig.pk, on, {w.code: w.name for w in wheels})
    ahead = None
    if answer is not None:
        judged = tuple((a.above_floor, a.below_ceiling) for a in answer.axles)
        ahead = standing.AirAhead(answer.words, judged, answer.air.old)
    return standing.Facts(
        today=today, axles=len(typed.axles), tires=len(wheels), ticket=_ticket(of.ticket, typed, today),
        aims=_aims(of.targets, typed), stale=of.stale, last=last, said=last.of(rig.pk) if last else (), leaks=leaks,
        open_round=of.open_round, read_with=of.read_with, findings=fittings.findings(rig, today), ages_on=fittings.ages_change(rig, today), retorque=of.retorque,
        rotate=refine.due(fittings.stood_km(rig), fittings.coarse(rig), None),
        late=rounds.late_words(of.late) if of.late else None, air=ahead, laid_up=laid.before(leaves) if laid else None, out=out_of_service.words(rig),
        ground=of.ground.words if of.ground else None, ground_loud=bool(of.ground and of.ground.loud),
    )  # fmt: skip


def _tables_since(
    actor: Actor, train: Sequence[Rig], typed: dict[int, core_rigs.Rig], sets: list[TargetSet]
) -> Shelf | None:  # fmt: skip
    """The tables of all rigs' sizes, with those that had a part at hand; asked for only where one was entered since."""
    later = [row for row in sets if row.tables_since]  # type: ignore[attr-defined]
    if not later:
        return None
    prefetch_related_objects(later, Prefetch("tables", Table.objects.only("pk")))
    return table_marks(actor, {size for r in train for size in sizes_of(r, typed[r.pk])})


class _Newest(TypedDict):
    """The keys of what is newest of a rig, and how many entries came late for its rounds."""

    ticket_id: int | None
    set_id: int | None
    round_id: int | None
    part_id: int | None
    open_id: int | None
    late: int | None


def hitched(rig: str, which: Collection[int]) -> Q:
    """Some rigs and what is hitched to them; `rig` leads to the rig from the rows in question."""
    heads = Rig.objects.filter(pk__in=which).annotate(first=Coalesce("head_id", "pk")).values("first")
    return Q(**{f"{rig}pk__in": heads}) | Q(**{f"{rig}head__in": heads})


def _newest(actor: Actor, which: Collection[int]) -> "list[WithAnnotations[Rig, _Newest]]":
    """Some rigs with what is hitched to them, each with the keys of what is newest of it."""
    newest_ticket = Weighing.objects.filter(rig=OuterRef("pk"), amended_by=None, load_state__in_force=True).order_by(
        "-weighed_on", "-id"
    )
    newest_set = TargetSet.objects.filter(rig=OuterRef("pk"), load_state__in_force=True).order_by("-id")
    done = Round.objects.filter(parts__rig=OuterRef("pk"), abandoned_at=None)
    sealed = done.exclude(sealed_at=None).order_by("-opened_at", "-id")
    return list(
        fittings.with_wheels_off(rigs.rigs(actor))
        .filter(hitched("", which), archived=False)
        .select_related("policy", "head", out_of_service.WITH_OUT, *trips.WITH_TRIP)
        .annotate(
            ticket_id=Subquery(newest_ticket.values("pk")[:1]),
            set_id=Subquery(newest_set.values("pk")[:1]),
            round_id=Subquery(sealed.filter(partial=False).values("pk")[:1]),
            part_id=Subquery(sealed.filter(partial=True).values("pk")[:1]),
            late=rounds.LATE_WAITING,
            open_id=Subquery(done.filter(sealed_at=None).values("pk")[:1]),
        )
    )


@dataclass(frozen=True)
class Said:
    """What there is to say of a rig, and the first moment at which that may be something else; None: none is foreseen."""

    rig: Rig
    facts: standing.Facts
    matters: tuple[standing.Matter, ...]
    dues: tuple[standing.DueOn, ...]
    until: dt.datetime | None
    awaited: awaited.Kept


def said_of(actor: Actor, which: Collection[int]) -> list[Said]:
    """What there is to say of some rigs, and of what hangs together with them. The number of queries does not grow with them."""
    rigs_here = _newest(actor, which)
    tickets = (
        Weighing.objects.select_related("load_state", "basis")
        .prefetch_related("axles", "basis__axles")
        .in_bulk([r.ticket_id for r in rigs_here if r.ticket_id])
    )
    bands = Prefetch("axles", TargetAxle.objects.only("target_set_id", "number", "state", "trial", "target_kpa"))
    sets = (
        TargetSet.objects.annotate(**in_force.SINCE)
        .select_related("load_state")
        .prefetch_related(bands)
        .in_bulk([r.set_id for r in rigs_here if r.set_id])
    )
    done = Round.objects.filter(pk__in=[pk for r in rigs_here for pk in (r.round_id, r.part_id) if pk])
    done_last = list(done.only(*happened.LAST))
    last_rounds = happened.last_rounds(done_last)
    read_at = min((r.read_at for r in last_rounds.values()), default=None)
    since_then = happened.since([r.pk for r in rigs_here], read_at)
    trains = defaultdict[int, list[int]](list)
    for r in rigs_here:
        trains[r.head_id or r.pk].append(r.pk)
    gauges = happened.read_with(done_last)
    typed_rigs = {r.pk: rigs.rig_of(r) for r in rigs_here}
    shelf = _tables_since(actor, rigs_here, typed_rigs, list(sets.values()))
    off_road = plans.each_open(actor, rigs_here)
    mornings = awaited.of(actor, rigs_here, off_road)
    said, now = [], clock.now()
    for rig in rigs_here:
        ticket, row = tickets.get(rig.ticket_id), sets.get(rig.set_id)
        stale = in_force.out_of_date(row, rig, ticket, actor, shelf) if row else ()
        last, due, late = last_rounds.get(rig.round_id or 0), fittings.retorque(rig), rig.late or 0
        if last and (part := last_rounds.get(rig.part_id or 0)):
            last = last.renewed(part)
        plan, strip = off_road.get(rig.pk, (None, None))
        since = Since(since_then.get(rig.pk, ()), trains[rig.head_id or rig.pk])
        gauge = gauges.get(rig.round_id or 0)
        facts = facts_of(
            Rows(rig, ticket, row, last, bool(rig.open_id), stale, since, due, late=late, ground=strip, read_with=gauge)
        )
        moments = [ground.changes_at(plan.opened_at, now)] if plan else []
        if day := standing.changes_on(facts):
            moments.append(clock.midnight(day))
        dues = standing.dues(facts, trips.leaves(rig))
        said.append(Said(rig, facts, standing.matters(facts), dues, min(moments, default=None), mornings[rig.pk]))
    return said
