"""The Yard, the finder and a rig's sheet: queries only. What there is to say of a rig the core says."""

from collections import Counter
from collections.abc import Iterator
from typing import TYPE_CHECKING

from django.db.models import Case, Count, F, OuterRef, Q, QuerySet, Subquery, Value, When
from django.db.models.functions import Coalesce

from ballast.core import standing
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now, trips
from ballast.server.air import services as air
from ballast.server.assignments import services as assignments
from ballast.server.edge import clock
from ballast.server.edge.ready import Ready
from ballast.server.ground import plans
from ballast.server.lookback import happened
from ballast.server.rigs import laid_up, out_of_service
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig, shown_name
from ballast.server.rounds import sheet as walks
from ballast.server.rounds import stored
from ballast.server.rounds.models import Round, RoundText
from ballast.server.sensors import services as alarms
from ballast.server.sensors.held import WITH_HEARD, Held
from ballast.server.targets import in_force, policies
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetSet
from ballast.server.weighing import services as weighing
from ballast.server.yard import morning, printed, standings
from ballast.server.yard.facts import Rows, Since, facts_of, on_now
from ballast.server.yard.models import Standing
from ballast.server.yard.schemas import (
    FoundOut,
    LaidUpOut,
    LastRoundOut,
    LastTireOut,
    SheetOut,
    YardIn,
    YardLineOut,
    YardOut,
    YardRigOut,
)

if TYPE_CHECKING:
    from django_stubs_ext import WithAnnotations

# So many lines are asked for at a time, and so many rigs does the finder name.
PAGE, FOUND = 50, 8
_SORTS = {
    "urgency": ("urgency", "number"),
    "number": ("number",),
    "weighed": (F("weighed_on").asc(nulls_first=True), "number"),
    "read": (F("last_round").asc(nulls_first=True), "number"),
}  # fmt: skip


def _found(actor: Actor, of: YardIn) -> "QuerySet[WithAnnotations[Standing, standings.Old]]":
    """The rigs in whose number, name, kind or words every word that is looked for stands, and of which each line is said."""
    rows = standings.kept_with(actor, of.find)
    for about in of.lines:
        rows = rows.filter(_said_of(about))
    for tag in of.tags:
        rows = rows.filter(rig__tags=tag)
    if of.air:
        rows = rows.filter(rig__in=morning.wanting(actor))
    if of.dawn:
        rows = rows.filter(rig__in=morning.by_dawn(actor))
    return rows.filter(_UNASSIGNED) if of.unassigned else rows


def _said_of(about: standing.About) -> Q:
    return Q(about__contains=f" {about} ", old=False)


# A round is due, or never was done, and nobody has it to do.
_UNASSIGNED = _said_of("round") & Q(~assignments.given(OuterRef("rig_id"), OuterRef("rig__head_id")))


# How many rigs a workspace has, and of how many each line is said, in one row; none where it has no rig.
_COUNTS = Ready[dict[str, int]](
    lambda workspace, now: standings.kept_at(workspace, now).order_by().values("workspace").annotate(
        total=Count("rig"), asking=Count("rig", Q(asks=True) | Q(old=True)), anew=Count("rig", Q(old=True)), unassigned=Count("rig", _UNASSIGNED),
        **{f"n_{about}": Count("rig", _said_of(about)) for about in standing.ABOUT},
    )
)  # fmt: skip


def _counts(actor: Actor) -> Counter[str]:
    return Counter(_COUNTS.first(actor.workspace.pk, clock.now()))


def _line(row: "WithAnnotations[Standing, standings.Old]", given: assignments.Open | None = None) -> YardRigOut:
    if row.old:
        # What no longer counts is not shown either: no tire of it is drawn well.
        line = standings.bare(row.rig) | {"weighed_on": None, "last_round": None}
        first, *more = [standing.ANEW]
    else:
        line = row.line | {"weighed_on": row.weighed_on, "last_round": row.last_round}
        first, *more = standings.matters_of(row.line, clock.today())
    has = given or {}
    said = {
        "state": first.state, "words": first.words, "more": [m.words for m in more],
        "assigned": has.get(row.rig_id, []) + has.get(row.rig.head_id or 0, []),
    }  # fmt: skip
    return YardRigOut.model_validate(line | said | {"id": row.rig_id, "anew": row.old})


def yard(actor: Actor, of: YardIn) -> YardOut:
    """A page of the rigs with their states in words, by default the most urgent first."""
    actor.must(May.READ)
    standings.renew(actor)
    rows = _found(actor, of)
    archived = rigs.rigs(actor).filter(archived=True).order_by()
    # Counted along with the first question, where that has an answer.
    counted = archived.values("workspace").annotate(n=Count("pk")).values("n")
    page = rows.order_by(*_SORTS[of.sort], "rig_id").select_related("rig")
    shown = list(page.annotate(archived=Coalesce(Subquery(counted), 0))[of.first : of.first + PAGE])
    given = assignments.open_of(actor, {pk for row in shown for pk in (row.rig_id, row.rig.head_id) if pk})
    counts = _counts(actor)
    said = [(about, name, counts[f"n_{about}"]) for about, name in standing.ABOUT.items()]
    return YardOut(
        rigs=[_line(row, given) for row in shown], page=PAGE, prints=printed.MOST, found=rows.count() if of.narrowed else counts["total"],
        total=counts["total"], asking=counts["asking"], anew=counts["anew"], unassigned=counts["unassigned"],
        lines=[YardLineOut(key=about, name=name, rigs=count) for about, name, count in said if count or about in of.lines],
        archived=shown[0].archived if shown else archived.count(),
    )  # fmt: skip


CSV_COLUMNS = (
    "rig", "kind", "state", "says", "also", "weighed_on", "last_round_utc", "next_check_on", "assigned", "tires",
)  # fmt: skip


def export(actor: Actor, of: YardIn) -> Iterator[dict[str, object]]:
    """All that fit as rows of a file, a page at a time: nothing of it is held."""
    actor.must(May.READ)
    standings.renew(actor)
    rows = _found(actor, of).order_by(*_SORTS[of.sort], "rig_id").select_related("rig")
    units, first = actor.person.units, 0
    while page := list(rows[first : first + 10 * PAGE]):
        given = assignments.open_of(actor, {pk for row in page for pk in (row.rig_id, row.rig.head_id) if pk})
        for line in (_line(row, given) for row in page):
            yield {
                "rig": shown_name(line.fleet_number, line.name), "kind": line.kind_name,
                "state": line.state, "says": line.words.show(units), "also": "; ".join(m.show(units) for m in line.more),
                "weighed_on": line.weighed_on, "last_round_utc": line.last_round.isoformat() if line.last_round else None,
                "next_check_on": line.next_check_on, "assigned": "; ".join(f"{a.to} {a.on}" for a in line.assigned),
                "tires": line.wheels,
            }  # fmt: skip
        first += len(page)


def chosen(actor: Actor, of: YardIn) -> list[int]:
    """All that fit, to be chosen together."""
    actor.must(May.READ)
    standings.renew(actor)
    return list(_found(actor, of).order_by("number", "rig_id").values_list("rig_id", flat=True))


def finder(actor: Actor, find: str) -> list[FoundOut]:
    """The first rigs in whose number, name and kind every word that is typed stands."""
    actor.must(May.READ)
    found = standings.kept_with(actor, find, words=False).order_by("number", "rig_id").select_related("rig")[:FOUND]
    return [FoundOut.model_validate(vars(_line(row))) for row in found]


def sheet(actor: Actor, rig_id: int) -> SheetOut:
    """All that the screens of one rig stand on."""
    train = rigs.train(
        actor, rig_id, also=("air", "policy", "walk", out_of_service.WITH_OUT, *trips.WITH_TRIP, *WITH_HEARD)
    )
    rig = next(r for r in train if r.pk == rig_id)
    ticket = weighing.weighings(actor, rig).filter(amended_by=None, load_state__in_force=True).first()
    in_train = in_force.each_in_force(in_force.sets(actor, *train))
    row = in_train.get(rig.pk)
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
        .annotate(
            part_id=Subquery(parts.order_by("-opened_at").values("pk")[:1]),
            happened=happened.anything([r.pk for r in train]),
        )
        .select_related("text")[:2]
    )
    open_round = next((r.pk for r in newest if r.sealed_at is None), None)
    done_last = next((r for r in newest if r.sealed_at), None)
    last, part, asked = None, None, False
    if done_last is not None:
        if done_last.part_id is not None:
            part = parts.filter(opened_at__gt=done_last.opened_at, pk=done_last.part_id).select_related("text").first()
        asked = done_last.happened or part is not None
        said = happened.last_rounds([r for r in (done_last, part) if r], asked)
        last = said[done_last.pk].renewed(said[part.pk]) if part else said[done_last.pk]
    since_then = happened.since([r.pk for r in train], last.read_at if last and asked else None)
    stale = target_set.out_of_date if target_set else ()
    plan = plans.open_of(actor, train)
    strip = plans.strip(plan, train) if plan else None
    off_road = bool(last and strip and last.let_out_after(strip.opened_at))
    overtaken = _overtaken(last, {r: in_train.get(r.pk) for r in train}, strip is not None, since_then)
    since = Since(since_then.get(rig.pk, ()), [r.pk for r in train])
    facts = facts_of(Rows(rig, ticket, row, last, open_round is not None, stale, since, answer=answer, ground=strip))
    return SheetOut(
        rig=rigs.present(rig), train=[rigs.vehicle_out(r) for r in train], walk=walks.walked(train),
        stages=standing.stages(facts), weighing=weighing.present(ticket, rig) if ticket else None, targets=target_set, way=way,
        air=answer, laid_up=_laid_up(rig, facts), out=out_of_service.present(rig, actor), ground=strip, heard=getattr(rig, "heard", None) is not None, alarms=alarms.standing(actor, rig, Held(row, way, of_now, plan)), open_round=open_round, last_round=_last(done_last.text, part.text if part else None, rig.pk, off_road, overtaken) if done_last else None,
    )  # fmt: skip


def _laid_up(rig: Rig, facts: standing.Facts) -> LaidUpOut | None:
    laid, words = laid_up.of(rig), facts.laid_up_words
    if laid is None or words is None:
        return None
    return LaidUpOut(
        on=laid.on, until=laid.until, kept_kpa=laid.kept_kpa, why=laid.why, resting=facts.resting, words=words
    )  # fmt: skip


def _overtaken(
    last: standing.LastRound | None,
    train: dict[Rig, TargetSet | None],
    off_road: bool,
    since_then: dict[int, list[standing.Event]],
) -> dict[tuple[int, str], str]:
    """At which wheels of a combination, by vehicle and own code, the last round says nothing any more, and why."""
    if last is None:
        return {}
    return {
        (rig.pk, own): why
        for rig, targets in train.items()
        for own, why in last.overtaken_at(rig.pk, on_now(rig, targets, off_road), since_then.get(rig.pk, ())).items()
    }


def _last(
    text: RoundText, part: RoundText | None, rig_id: int, off_road: bool, overtaken: dict[tuple[int, str], str]
) -> LastRoundOut | None:  # fmt: skip
    """The last sealed round as the plan shows it: of a combination every wheel; a trailer's by their own codes.

    `part`: of a round of just some of them since; `off_road`: its tires may have been let out since; `overtaken`: by what
    else, at which wheels.
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
            ceiling_kpa=w.ceiling_kpa, answer=w.stands, overtaken="off road" if off_road and w.axle is not None else overtaken.get((w.rig, w.own), ""),
        )
        for w in (newer.get(w.code, w) for w in round_then.wheels)
        if not towed or w.rig == rig_id
    ]  # fmt: skip
    return LastRoundOut(id=round_then.id, sealed_at=round_then.sealed_at, summary=round_then.summary, tires=tires)
