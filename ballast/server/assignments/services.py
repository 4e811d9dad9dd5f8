"""Rounds given to people and crews: given, handed over, taken back, and done by sealing."""

import datetime as dt
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, TypedDict
from uuid import UUID, uuid4

from django.db import transaction
from django.db.models import Case, Exists, OuterRef, Q, QuerySet, Value, When

from ballast.core import standing
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May, roles_that_may
from ballast.server.accounts.models import Person
from ballast.server.assignments.models import Assignment, Crew, name_of
from ballast.server.assignments.schemas import (
    AssignedOut,
    CrewIn,
    CrewOut,
    GiveIn,
    GivenOut,
    GiveOnceIn,
    HandIn,
    NotGivenOut,
    ToIn,
)
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict, Denied
from ballast.server.edge.ready import Ready
from ballast.server.rigs import laid_up, out_of_service
from ballast.server.rigs.models import Rig
from ballast.server.rounds.models import Round

if TYPE_CHECKING:
    from django_stubs_ext import WithAnnotations

# By rig, what is open of it.
Open = dict[int, list[AssignedOut]]


@dataclass(frozen=True)
class _To:
    """Who does it."""

    person: Person | None = None
    crew: Crew | None = None

    @property
    def name(self) -> str:
        return name_of(self.person, self.crew)


def given(rig: OuterRef, head: OuterRef) -> Exists:
    """Whether somebody has the round of a rig, or of the vehicle that it hangs behind, to do."""
    return Exists(Assignment.objects.open().filter(Q(rig=rig) | Q(rig=head)))


class _Yours(TypedDict):
    yours: bool


def assignments(actor: Actor) -> "QuerySet[WithAnnotations[Assignment, _Yours]]":
    """What is still to do in a workspace, and whether it is of whoever asks."""
    actor.must(May.READ)
    return _to_do(actor.workspace.pk, actor.person.pk)


def _to_do(workspace: int, person: int) -> "QuerySet[WithAnnotations[Assignment, _Yours]]":
    own = Crew.objects.filter(pk=OuterRef("crew"), people=person)
    rows: QuerySet[Assignment] = Assignment.objects.of(workspace).open().select_related("person", "crew")
    yours = Case(When(Q(person=person) | Exists(own), then=Value(True)), default=Value(False))
    return rows.annotate(yours=yours)


_OF_RIGS = Ready["WithAnnotations[Assignment, _Yours]"](
    lambda workspace, person, rigs: _to_do(workspace, person).filter(rig__in=rigs)
)


def present(row: "WithAnnotations[Assignment, _Yours]") -> AssignedOut:
    """One of `assignments`."""
    today = clock.today()
    return AssignedOut(
        id=row.pk, rig=row.rig_id, on=row.on, when=standing.when(row.on, today), over=standing.past(row.on, today),
        to=row.to, yours=row.yours, note=row.note,
    )  # fmt: skip


def open_of(actor: Actor, rigs: Collection[int]) -> Open:
    """What is open of some rigs, in one query."""
    actor.must(May.READ)
    found: Open = {}
    for row in _OF_RIGS(actor.workspace.pk, actor.person.pk, list(rigs)):
        found.setdefault(row.rig_id, []).append(present(row))
    return found


def of_rig(actor: Actor, rig_id: int) -> list[AssignedOut]:
    """What is open of a rig, and of the vehicle that it hangs behind. Raises DoesNotExist."""
    rig = Rig.objects.of(actor.workspace).get(pk=rig_id)
    return [present(row) for row in assignments(actor).filter(rig__in={rig.pk, rig.head_id} - {None})]


def _to(actor: Actor, to: ToIn) -> _To:
    """Raises Refusal for somebody who is not here, or may do no rounds."""
    if to.crew is not None:
        crew = Crew.objects.of(actor.workspace).filter(pk=to.crew).first()
        if crew is None:
            raise Refusal("There is no such crew here. Choose one of its list.", "to.crew")
        return _To(crew=crew)
    if to.member is None:
        return _To(person=actor.person)
    member = actor.workspace.memberships.filter(pk=to.member, off_at=None).select_related("person").first()
    if member is None:
        raise Refusal("There is nobody like that here. Choose somebody of the list.", "to.member")
    if member.role not in roles_that_may(May.ROUNDS):
        raise Refusal(f"{member.person.shown_name} looks and does no rounds. Choose somebody else.", "to.member")
    return _To(person=member.person)


def _sorted(actor: Actor, data: GiveIn, to: _To) -> tuple[list[Rig], dict[int, Assignment], list[NotGivenOut]]:
    """The rigs whose round is given, what somebody else has of them on that day, and those whose is not."""
    today = clock.today()
    standing.check_day(data.on, today)
    asked = Rig.objects.of(actor.workspace).filter(pk__in=data.rigs)
    if asked.count() != len(set(data.rigs)):
        raise Refusal("One of these rigs is not in this workspace. Choose anew.", "rigs")
    # A round is of the whole combination, and begins at its front.
    heads = {head or pk for pk, head in asked.values_list("pk", "head_id")}
    rows = Rig.objects.of(actor.workspace).filter(pk__in=heads).select_related(out_of_service.WITH_OUT)
    open_then = {
        a.rig_id: a for a in Assignment.objects.of(actor.workspace).filter(ended_at=None, on=data.on, rig__in=heads)
    }
    give, held = [], []
    for rig in rows.order_by("fleet_number", "name", "id"):
        has = open_then.get(rig.pk)
        same = has and (has.person_id, has.crew_id) == (to.person and to.person.pk, to.crew and to.crew.pk)
        out, laid = out_of_service.of(rig) is not None, laid_up.of(rig)
        if why := standing.not_given(rig.archived, out, laid, data.on, today) or ("has it already" if same else ""):
            held.append(NotGivenOut(rig=rig.pk, name=rig.shown_name, words=why))
        else:
            give.append(rig)
    return give, open_then, held


def work(actor: Actor, data: GiveIn) -> GivenOut:
    """What giving these rounds would come to. Nothing is saved. Raises Refusal."""
    actor.must(May.ASSIGN)
    to = _to(actor, data.to)
    give, has, held = _sorted(actor, data, to)
    return GivenOut(to=to.name, given=len(give), moved=sum(r.pk in has for r in give), not_given=held)


@transaction.atomic
def give(actor: Actor, data: GiveOnceIn) -> GivenOut:
    """Gives rounds to somebody; sent again they are simply there. Raises Refusal."""
    actor.must(May.ASSIGN)
    to = _to(actor, data.to)
    there = Assignment.objects.of(actor.workspace).filter(batch=data.uuid)
    if there.exists():
        return GivenOut(to=to.name, given=there.count(), moved=there.exclude(replaces=None).count(), not_given=[])
    give, has, held = _sorted(actor, data, to)
    _replace(actor, data.uuid, [(rig.pk, data.on, data.note, to, has.get(rig.pk)) for rig in give])
    return GivenOut(to=to.name, given=len(give), moved=sum(r.pk in has for r in give), not_given=held)


def _replace(
    actor: Actor, batch: UUID, rows: Sequence[tuple[int, dt.date, str, _To, Assignment | None]]
) -> list[Assignment]:  # fmt: skip
    """New rows in the place of what was open, or of nothing."""
    now = clock.now()
    Assignment.objects.filter(pk__in=[before.pk for *_, before in rows if before]).update(ended_at=now)
    made = Assignment.objects.bulk_create(
        Assignment(
            workspace=actor.workspace, rig_id=rig, on=on, note=note, person=to.person, crew=to.crew, batch=batch,
            by=actor.person, made_at=now,
        )
        for rig, on, note, to, _ in rows
    )  # fmt: skip
    replaced = []
    for new, (*_, before) in zip(made, rows, strict=True):
        if before is not None:
            before.ended_at, before.replaced_by = now, new
            replaced.append(before)
    Assignment.objects.bulk_update(replaced, ["ended_at", "replaced_by"])
    return made


@transaction.atomic
def take_back(actor: Actor, batch: UUID) -> None:
    """Takes back what was given in one act and is not done; who had it before has it again. Raises DoesNotExist."""
    actor.must(May.ASSIGN)
    rows = Assignment.objects.of(actor.workspace).filter(batch=batch)
    if not rows.exists():
        raise Assignment.DoesNotExist
    open_ones = list(rows.filter(ended_at=None).values_list("pk", flat=True))
    rows.filter(pk__in=open_ones).update(ended_at=clock.now())
    before = Assignment.objects.filter(replaced_by__in=open_ones, round=None)
    before.update(ended_at=None, replaced_by=None)


@transaction.atomic
def hand_over(actor: Actor, assignment_id: int, data: HandIn) -> AssignedOut:
    """Over to another, or for another day. Whoever does rounds takes any, and hands on their own; a manager any.

    Raises Refusal, Denied, Conflict where it has that day already, DoesNotExist for what is open no more.
    """
    actor.must(May.ROUNDS)
    row = assignments(actor).get(pk=assignment_id)
    to = _To(row.person, row.crew) if data.to is None else _to(actor, data.to)
    takes = to.person is not None and to.person.pk == actor.person.pk
    if not (actor.may(May.ASSIGN) or row.yours or takes):
        raise Denied(f"This round is {row.to}'s to hand on. You may take it yourself.")
    on = data.on or row.on
    if on != row.on:
        standing.check_day(on, clock.today())
        if Assignment.objects.filter(rig=row.rig_id, on=on, ended_at=None).exists():
            raise Conflict("Somebody has this rig's round on that day already.", "on")
    note = row.note if data.note is None else data.note
    if (to, on, note) == (_To(row.person, row.crew), row.on, row.note):
        return present(row)
    made = _replace(actor, uuid4(), [(row.rig_id, on, note, to, row)])
    return present(assignments(actor).get(pk=made[0].pk))


@transaction.atomic
def end(actor: Actor, assignment_id: int) -> None:
    """It is given to nobody any more. Raises DoesNotExist."""
    actor.must(May.ASSIGN)
    row = Assignment.objects.of(actor.workspace).filter(ended_at=None).get(pk=assignment_id)
    row.ended_at = clock.now()
    row.save(update_fields=["ended_at"])


def done(round: Round, **_: Any) -> None:
    """A sealed round of the whole does what was given of its rigs, by whomever it was sealed."""
    if round.partial:
        return
    of_round = Assignment.objects.filter(rig__in=[part.rig_id for part in round.parts.all()], ended_at=None)
    read_on = round.opened_at.date()
    covered = [pk for pk, on in of_round.values_list("pk", "on") if standing.covers(on, read_on, round.next_on)]
    Assignment.objects.filter(pk__in=covered).update(ended_at=round.sealed_at, round=round)


def crews(actor: Actor) -> list[CrewOut]:
    actor.must(May.READ)
    members = {m.person_id: m.pk for m in actor.workspace.memberships.all()}
    return [
        CrewOut(
            id=c.pk, name=c.name, members=[members[p.pk] for p in c.people.all() if p.pk in members],
            yours=any(p.pk == actor.person.pk for p in c.people.all()),
        )
        for c in Crew.objects.of(actor.workspace).prefetch_related("people")
    ]  # fmt: skip


@transaction.atomic
def keep_crew(actor: Actor, data: CrewIn, crew_id: int | None = None) -> list[CrewOut]:
    """A crew more, or what it is called and who is in it. Raises Refusal, Conflict for a name twice, DoesNotExist."""
    actor.must(May.PEOPLE)
    rows = Crew.objects.of(actor.workspace)
    people = list(actor.workspace.memberships.filter(pk__in=data.members).values_list("person", flat=True))
    if len(people) != len(set(data.members)):
        raise Refusal("One of them is not in this workspace. Choose anew.", "members")
    crew = Crew(workspace=actor.workspace) if crew_id is None else rows.get(pk=crew_id)
    if rows.filter(name__iexact=data.name).exclude(pk=crew.pk).exists():
        raise Conflict(f"There is a crew “{data.name}” already.", "name")
    crew.name = data.name
    crew.save()
    crew.people.set(people)
    return crews(actor)


@transaction.atomic
def disband(actor: Actor, crew_id: int) -> list[CrewOut]:
    """A crew that is no more. Raises Conflict while it has rounds to do, DoesNotExist."""
    actor.must(May.PEOPLE)
    crew = Crew.objects.of(actor.workspace).get(pk=crew_id)
    if count := crew.assignments.filter(ended_at=None).count():
        raise Conflict(f"It has {count} {'round' if count == 1 else 'rounds'} to do: hand them over first.")
    if crew.assignments.exists():
        raise Conflict("It did rounds, so its name stays on record. Take its people out instead.")
    crew.delete()
    return crews(actor)
