"""The Yard and a rig's sheet: queries only. What there is to say of a rig the core says."""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, TypedDict

from django.db.models import Case, OuterRef, Prefetch, Q, Subquery, Value, When, prefetch_related_objects

from ballast.core import refine, standing
from ballast.core import rigs as core_rigs
from ballast.core import targets as core_targets
from ballast.core import weighing as core_weighing
from ballast.core.working import Phrase, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now, trips
from ballast.server.air import services as air
from ballast.server.edge import clock
from ballast.server.ground import plans
from ballast.server.rigs import fittings, laid_up
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import services as rounds
from ballast.server.rounds import sheet as walks
from ballast.server.rounds import stored
from ballast.server.rounds.models import Round, RoundText
from ballast.server.sensors import services as alarms
from ballast.server.sensors.held import WITH_HEARD, Held
from ballast.server.tables.models import Table
from ballast.server.targets import in_force, policies
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetAxle, TargetSet
from ballast.server.targets.shelf import Shelf, sizes_of, table_marks
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing
from ballast.server.yard.schemas import LaidUpOut, LastRoundOut, LastTireOut, SheetOut, YardOut, YardRigOut, YardTireOut

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


@dataclass(frozen=True)
class _Rows:
    """What is newest of a rig, row by row, and what of it takes more than its rows to tell."""

    rig: Rig
    ticket: Weighing | None
    targets: TargetSet | None
    last: standing.LastRound | None
    open_round: bool
    stale: tuple[str, ...]
    retorque: Phrase | None = None
    answer: air.AirAnswer | None = None
    late: int = 0
    ground: plans.Strip | None = None


def _facts(of: _Rows) -> standing.Facts:
    """A rig today as the rules take it, from its rows at hand."""
    rig, last, answer = of.rig, of.last, of.answer
    typed, today, wheels = rigs.rig_of(rig), clock.today(), rigs.wheels_of(rig)
    leaks: tuple[standing.Leaking, ...] = ()
    leaves, laid = trips.leaves(rig), laid_up.of(rig)
    if last is not None:
        last = last.before(leaves).since(of.ground.opened_at if of.ground else None)
        on = {f.tire_id: f.wheel for f in rigs.fitted_on(rig)}
        leaks = last.leaks(rig.pk, on, {w.code: w.name for w in wheels})
    ahead = None
    if answer is not None:
        judged = tuple((a.above_floor, a.below_ceiling) for a in answer.axles)
        ahead = standing.AirAhead(answer.words, judged, answer.air.old)
    return standing.Facts(
        today=today, axles=len(typed.axles), tires=len(wheels), ticket=_ticket(of.ticket, typed, today),
        aims=_aims(of.targets, typed), stale=of.stale, last=last, said=last.of(rig.pk) if last else (), leaks=leaks,
        open_round=of.open_round, findings=fittings.findings(rig, today), retorque=of.retorque,
        rotate=refine.due(fittings.stood_km(rig), fittings.coarse(rig), None),
        late=rounds.late_words(of.late) if of.late else None, air=ahead, laid_up=laid.before(leaves) if laid else None,
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


_NOTHING_YET = standing.Matter("quiet", say("Nothing to say yet"))


def _line(rig: Rig, facts: standing.Facts, behind: str, open_round: bool) -> YardRigOut:
    first, *more = standing.matters(facts) or (_NOTHING_YET,)
    last = facts.last
    return YardRigOut(
        id=rig.pk, name=rig.name, fleet_number=rig.fleet_number, kind_name=rig.get_kind_display(), wheels=facts.tires,
        state=first.state, words=first.words, more=[m.words for m in more],
        weighed_on=facts.ticket.weighed_on if facts.ticket else None, last_round=last.read_at if last else None,
        round_open=open_round, next_check_on=facts.next_on, head=rig.head_id, behind=behind,
        trailer=rig.kind in core_rigs.TRAILERS, tires=[YardTireOut(code=w.code, word=w.word) for w in facts.said],
    )  # fmt: skip


class _Newest(TypedDict):
    """The keys of what is newest of a rig, and how many entries came late for its rounds."""

    ticket_id: int | None
    set_id: int | None
    round_id: int | None
    part_id: int | None
    open_id: int | None
    late: int | None


def _mine(actor: Actor) -> "list[WithAnnotations[Rig, _Newest]]":
    """The rigs that are not archived, each with the keys of what is newest of it."""
    newest_ticket = Weighing.objects.filter(rig=OuterRef("pk"), amended_by=None, load_state__in_force=True).order_by(
        "-weighed_on", "-id"
    )
    newest_set = TargetSet.objects.filter(rig=OuterRef("pk"), load_state__in_force=True).order_by("-id")
    done = Round.objects.filter(parts__rig=OuterRef("pk"), abandoned_at=None)
    sealed = done.exclude(sealed_at=None).order_by("-opened_at", "-id")
    return list(
        fittings.with_wheels_off(rigs.rigs(actor))
        .filter(archived=False)
        .select_related("policy", *trips.WITH_TRIP)
        .annotate(
            ticket_id=Subquery(newest_ticket.values("pk")[:1]),
            set_id=Subquery(newest_set.values("pk")[:1]),
            round_id=Subquery(sealed.filter(partial=False).values("pk")[:1]),
            part_id=Subquery(sealed.filter(partial=True).values("pk")[:1]),
            late=rounds.LATE_WAITING,
            open_id=Subquery(done.filter(sealed_at=None).values("pk")[:1]),
        )
    )


_LAST = ("pk", "opened_at", "last_words", "next_on", "next_why", "summary")


def yard(actor: Actor) -> YardOut:
    """Every rig with its state in words, the most urgent first. The number of queries does not grow with the rigs."""
    actor.must(May.READ)
    rigs_here = _mine(actor)
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
    done_last = Round.objects.filter(pk__in=[pk for r in rigs_here for pk in (r.round_id, r.part_id) if pk])
    last_rounds = {
        pk: standing.LastRound(at, stored.words(words), on, why, summary)
        for pk, at, words, on, why, summary in done_last.values_list(*_LAST)
    }
    typed_rigs = {r.pk: rigs.rig_of(r) for r in rigs_here}
    shelf = _tables_since(actor, rigs_here, typed_rigs, list(sets.values()))
    heads = {r.pk: r.name for r in rigs_here}
    off_road = {pk: strip for pk, (_, strip) in plans.each_open(actor, rigs_here).items()}
    lines = []
    for rig in rigs_here:
        ticket, row = tickets.get(rig.ticket_id), sets.get(rig.set_id)
        stale = in_force.out_of_date(row, rig, ticket, actor, shelf) if row else ()
        last, due, late = last_rounds.get(rig.round_id or 0), fittings.retorque(rig), rig.late or 0
        if last and (part := last_rounds.get(rig.part_id or 0)):
            last = last.renewed(part.read_at, part.words)
        facts = _facts(
            _Rows(rig, ticket, row, last, bool(rig.open_id), stale, due, late=late, ground=off_road.get(rig.pk))
        )
        lines.append(_line(rig, facts, heads.get(rig.head_id or 0, ""), bool(rig.open_id)))
    # Whose tires were let out stands before all others.
    lines.sort(key=lambda line: (line.id not in off_road, standing.RANK[line.state], line.fleet_number, line.name))
    return YardOut(rigs=lines, archived=rigs.rigs(actor).filter(archived=True).count())


def sheet(actor: Actor, rig_id: int) -> SheetOut:
    """All that the screens of one rig stand on."""
    train = rigs.train(actor, rig_id, also=("air", "policy", "walk", *trips.WITH_TRIP, *WITH_HEARD))
    rig = next(r for r in train if r.pk == rig_id)
    ticket = weighing.weighings(actor, rig).filter(amended_by=None, load_state__in_force=True).first()
    row = in_force.in_force(actor, rig)
    if row and ticket and row.weighing_id == ticket.pk:
        row.weighing = ticket
    way = policies.way_of(actor, rig)
    of_now = now.air_of(actor, rig)
    answer = air.answer(of_now, [air.Vehicle(rig, row, way)])
    target_set = targets.present(row, rig, ticket, actor) if row else None
    # Open ones first, then the newest sealed: both in one question.
    done = Round.objects.filter(parts__rig=rig, abandoned_at=None).order_by(
        Case(When(sealed_at=None, then=Value(0)), default=Value(1)), "-opened_at", "-id"
    )
    parts = Round.objects.filter(parts__rig=rig, partial=True, abandoned_at=None).exclude(sealed_at=None)
    newest = list(
        done.filter(Q(partial=False) | Q(sealed_at=None))
        .annotate(part_id=Subquery(parts.order_by("-opened_at").values("pk")[:1]))
        .select_related("text")[:2]
    )
    open_round = next((r.pk for r in newest if r.sealed_at is None), None)
    done_last = next((r for r in newest if r.sealed_at), None)
    last, part = None, None
    if done_last is not None:
        words = stored.words(done_last.last_words)
        last = standing.LastRound(
            done_last.opened_at, words, done_last.next_on, done_last.next_why, done_last.summary
        )  # fmt: skip
        if done_last.part_id is not None:
            part = parts.filter(opened_at__gt=done_last.opened_at, pk=done_last.part_id).select_related("text").first()
        if part is not None:
            last = last.renewed(part.opened_at, stored.words(part.last_words))
    stale = target_set.out_of_date if target_set else ()
    plan = plans.open_of(actor, train)
    strip = plans.strip(plan, train) if plan else None
    off_road = bool(last and strip and last.let_out_after(strip.opened_at))
    facts = _facts(_Rows(rig, ticket, row, last, open_round is not None, stale, answer=answer, ground=strip))
    return SheetOut(
        rig=rigs.present(rig), train=[rigs.vehicle_out(r) for r in train], walk=walks.walked(train),
        stages=standing.stages(facts), weighing=weighing.present(ticket, rig) if ticket else None, targets=target_set, way=way,
        air=answer, laid_up=_laid_up(rig, facts), ground=strip, heard=getattr(rig, "heard", None) is not None, alarms=alarms.standing(actor, rig, Held(row, way, of_now, plan)), open_round=open_round, last_round=_last(done_last.text, part.text if part else None, rig.pk, off_road) if done_last else None,
    )  # fmt: skip


def _laid_up(rig: Rig, facts: standing.Facts) -> LaidUpOut | None:
    laid, words = laid_up.of(rig), facts.laid_up_words
    if laid is None or words is None:
        return None
    return LaidUpOut(
        on=laid.on, until=laid.until, kept_kpa=laid.kept_kpa, why=laid.why, resting=facts.resting, words=words
    )  # fmt: skip


def _last(text: RoundText, part: RoundText | None, rig_id: int, off_road: bool) -> LastRoundOut | None:
    """The last sealed round as the plan shows it: of a combination every wheel; a trailer's by their own codes.

    `part`: of a round of just some of them since; `off_road`: its tires may have been let out since.
    """
    round_then = stored.as_it_stands(text)
    if round_then is None:
        return None
    since = stored.as_it_stands(part) if part else None
    newer = {w.code: w for w in since.wheels} if since else {}
    towed = round_then.rig != rig_id
    tires = [
        LastTireOut(
            code=w.own if towed else w.code, kpa=w.stands.cold_kpa, floor_kpa=w.floor_kpa, here_kpa=w.here_kpa,
            ceiling_kpa=w.ceiling_kpa, answer=w.stands, off_road=off_road and w.axle is not None,
        )
        for w in (newer.get(w.code, w) for w in round_then.wheels)
        if not towed or w.rig == rig_id
    ]  # fmt: skip
    return LastRoundOut(id=round_then.id, sealed_at=round_then.sealed_at, summary=round_then.summary, tires=tires)
