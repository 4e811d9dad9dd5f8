"""What there is to say of rigs: worked out from their rows, kept, and read by lists without asking for those rows again."""

import datetime as dt
import re
from collections.abc import Collection, Sequence
from contextlib import suppress
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, TypedDict

from django.db import IntegrityError, OperationalError
from django.db.models import (
    BooleanField,
    Case,
    F,
    OuterRef,
    Prefetch,
    Q,
    QuerySet,
    Subquery,
    Value,
    When,
    prefetch_related_objects,
)
from django.db.models.functions import Coalesce

from ballast.core import ground, refine, standing
from ballast.core import rigs as core_rigs
from ballast.core import targets as core_targets
from ballast.core import weighing as core_weighing
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import Membership, Workspace
from ballast.server.air import services as air
from ballast.server.air import trips
from ballast.server.edge import clock
from ballast.server.edge.words import kept, phrase_of
from ballast.server.edge.writing import soon_or_not
from ballast.server.ground import plans
from ballast.server.rigs import fittings, laid_up
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import services as rounds
from ballast.server.rounds import stored
from ballast.server.rounds.models import Round
from ballast.server.tables.models import Table
from ballast.server.targets import in_force
from ballast.server.targets.models import TargetAxle, TargetSet
from ballast.server.targets.shelf import Shelf, sizes_of, table_marks
from ballast.server.weighing import services as weighing
from ballast.server.weighing.models import Weighing
from ballast.server.yard.models import Standing

if TYPE_CHECKING:
    from django_stubs_ext import WithAnnotations

# So many are worked out for one reader, and what is hitched to them; the next takes the next.
SLICE = 50


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
class Rows:
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


def facts_of(of: Rows) -> standing.Facts:
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
        open_round=of.open_round, findings=fittings.findings(rig, today), ages_on=fittings.ages_change(rig, today), retorque=of.retorque,
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


class _Newest(TypedDict):
    """The keys of what is newest of a rig, and how many entries came late for its rounds."""

    ticket_id: int | None
    set_id: int | None
    round_id: int | None
    part_id: int | None
    open_id: int | None
    late: int | None


def _hitched(rig: str, which: Collection[int]) -> Q:
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
        .filter(_hitched("", which), archived=False)
        .select_related("policy", "head", *trips.WITH_TRIP)
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


@dataclass(frozen=True)
class Said:
    """What there is to say of a rig, and the first moment at which that may be something else; None: none is foreseen."""

    rig: Rig
    facts: standing.Facts
    matters: tuple[standing.Matter, ...]
    off_road: bool
    until: dt.datetime | None


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
    done_last = Round.objects.filter(pk__in=[pk for r in rigs_here for pk in (r.round_id, r.part_id) if pk])
    last_rounds = {
        pk: standing.LastRound(at, stored.words(words), on, why, summary)
        for pk, at, words, on, why, summary in done_last.values_list(*_LAST)
    }
    typed_rigs = {r.pk: rigs.rig_of(r) for r in rigs_here}
    shelf = _tables_since(actor, rigs_here, typed_rigs, list(sets.values()))
    off_road = plans.each_open(actor, rigs_here)
    said, now = [], clock.now()
    for rig in rigs_here:
        ticket, row = tickets.get(rig.ticket_id), sets.get(rig.set_id)
        stale = in_force.out_of_date(row, rig, ticket, actor, shelf) if row else ()
        last, due, late = last_rounds.get(rig.round_id or 0), fittings.retorque(rig), rig.late or 0
        if last and (part := last_rounds.get(rig.part_id or 0)):
            last = last.renewed(part.read_at, part.words)
        plan, strip = off_road.get(rig.pk, (None, None))
        facts = facts_of(Rows(rig, ticket, row, last, bool(rig.open_id), stale, due, late=late, ground=strip))
        moments = [ground.changes_at(plan.opened_at, now)] if plan else []
        if day := standing.changes_on(facts):
            moments.append(dt.datetime.combine(day, dt.time(), dt.UTC))
        said.append(Said(rig, facts, standing.matters(facts), bool(plan), min(moments, default=None)))
    return said


# -- as it is kept ----------------------------------------------------------------------------------------


def _number(rig: Rig) -> str:
    """What a rig is ordered by: its number, else its name, in which 9 comes before 10."""
    return re.sub(r"\d+", lambda m: m[0].zfill(12), (rig.fleet_number or rig.name).lower())[:200]


def line_of(said: Said) -> dict[str, Any]:
    """What of it the Yard shows, as it is stored: the words hold on every day."""
    rig, facts, last = said.rig, said.facts, said.facts.last
    return {
        "name": rig.name, "fleet_number": rig.fleet_number, "kind_name": rig.get_kind_display(), "wheels": facts.tires,
        "round_open": facts.open_round, "next_check_on": facts.next_on.isoformat() if facts.next_on else None,
        "weighed_on": facts.ticket.weighed_on.isoformat() if facts.ticket else None,
        "last_round": last.read_at.isoformat() if last else None, "head": rig.head_id, "behind": rig.head.name if rig.head else "",
        "trailer": rig.kind in core_rigs.TRAILERS, "tires": [{"code": w.code, "word": w.word} for w in facts.said],
        "said": [
            {"state": m.state, "words": kept(m.words), "since": m.since.isoformat() if m.since else None}
            for m in said.matters
        ],
    }  # fmt: skip


def bare(rig: Rig) -> dict[str, Any]:
    """The line of a rig of which nothing that was worked out counts: what stands in its own row."""
    return {
        "name": rig.name, "fleet_number": rig.fleet_number, "kind_name": rig.get_kind_display(), "wheels": None,
        "round_open": False, "next_check_on": None, "weighed_on": None, "last_round": None, "head": rig.head_id, "behind": "",
        "trailer": rig.kind in core_rigs.TRAILERS, "tires": [],
    }  # fmt: skip


def matters_of(line: dict[str, Any], today: dt.date) -> list[standing.Matter]:
    """What a stored line says, in the words of a day."""
    since = [dt.date.fromisoformat(m["since"]) if m["since"] else None for m in line["said"]]
    return [
        standing.Matter(m["state"], phrase_of(m["words"]), since=on).on(today)
        for m, on in zip(line["said"], since, strict=True)
    ]


def _row(said: Said, workspace: int, known: int, now: dt.datetime) -> Standing:
    rig, facts, first = said.rig, said.facts, said.matters[0]
    name = " ".join((rig.fleet_number, rig.name, rig.get_kind_display()))
    words = re.sub(r"\{\w+\}", "", " ".join(m.words.text for m in said.matters))
    return Standing(
        rig=rig, workspace_id=workspace, known=known, made_at=now, until=said.until,
        # Whose tires were let out stands before all others.
        urgency=-1 if said.off_road else standing.RANK[first.state], asks=first.state in ("attention", "todo"),
        about=f" {' '.join(dict.fromkeys(m.about for m in said.matters if m.about))} ", number=_number(rig), name=name.lower(), words=words.lower(), line=line_of(said),
        weighed_on=facts.ticket.weighed_on if facts.ticket else None, last_round=facts.last.read_at if facts.last else None,
    )  # fmt: skip


def _fresh(now: dt.datetime) -> Q:
    return Q(known=F("marks"), made_at__lte=now) & (Q(until=None) | Q(until__gt=now))


class Old(TypedDict):
    """Whether a standing is to be worked out anew."""

    old: bool


def kept_of(actor: Actor) -> "QuerySet[WithAnnotations[Standing, Old]]":
    """The standings of a workspace's rigs that are not archived, each with whether it is to be worked out anew (`old`)."""
    old = Case(When(_fresh(clock.now()), then=Value(False)), default=Value(True), output_field=BooleanField())
    return Standing.objects.filter(workspace=actor.workspace, rig__archived=False).annotate(old=old)


def renew(actor: Actor, most: int = SLICE) -> int:
    """Works out anew what no longer counts, the most urgent first, `most` rigs at a time; returns how many it kept.

    Where others write at this moment it is left to the next who reads: what is old is said to be.
    """
    now = clock.now()
    old = kept_of(actor).filter(old=True).order_by("urgency", "number", "rig_id")
    which = list(old.values_list("rig_id", flat=True)[:most])
    if not which:
        return 0
    # The marks are read before the rows: what is written from here on marks anew.
    ours = Standing.objects.filter(_hitched("rig__", which), workspace=actor.workspace)
    marks = dict(ours.values_list("rig_id", "marks"))
    rows = [_row(s, actor.workspace.pk, marks[s.rig.pk], now) for s in said_of(actor, which) if s.rig.pk in marks]
    fields = [f.name for f in Standing._meta.fields if f.name not in ("rig", "workspace", "marks")]
    with suppress(OperationalError, IntegrityError), soon_or_not():
        Standing.objects.bulk_create(rows, update_conflicts=True, unique_fields=["rig"], update_fields=fields)
        return len(rows)
    return 0


def differing(actor: Actor) -> list[str]:
    """The rigs of which another line is kept, as one that counts, than is worked out now; none is as it must be."""
    rows = {row.rig_id: row for row in kept_of(actor).filter(old=False)}
    now = clock.now()
    anew = [_row(s, actor.workspace.pk, rows[s.rig.pk].known, now) for s in said_of(actor, rows) if s.rig.pk in rows]
    compared = ("urgency", "asks", "about", "number", "name", "words", "weighed_on", "last_round", "line")
    return [
        f"{row.rig.shown_name}: {name} is kept as {getattr(rows[row.rig_id], name)!r} and is {getattr(row, name)!r}"
        for row in anew
        for name in compared
        if getattr(row, name) != getattr(rows[row.rig_id], name)
    ]


def reader(workspace: Workspace) -> Actor | None:
    """Somebody of a workspace, looking only; None: nobody is left in it."""
    member = workspace.memberships.select_related("person").first()
    return Actor(member.person, workspace, Membership.Role.VIEWER) if member else None
