"""Targets, and the rhythm of rounds, of many rigs at once: told before, done whole, and taken back."""

from collections import defaultdict
from dataclasses import dataclass

from django.db import transaction
from django.db.models import Exists, OuterRef

from ballast.core import targets as core
from ballast.core.working import Phrase, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.rigs import many
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rigs.schemas import NotDoneOut
from ballast.server.tables.models import Table
from ballast.server.targets import policies, services
from ballast.server.targets.in_force import each_in_force, out_of_date, sets
from ballast.server.targets.models import RigPolicy, TargetAxle, TargetSet
from ballast.server.targets.schemas import (
    CheckedEvery,
    CheckEveryIn,
    CheckEveryOut,
    LookedOut,
    LookManyIn,
    LookManyOut,
    MovedOut,
    PutManyIn,
    PutManyOut,
    TargetsIn,
    WithdrawManyIn,
    WithdrawManyOut,
)


@transaction.atomic
def check_every(actor: Actor, data: CheckEveryIn) -> CheckEveryOut:
    """Gives rigs so many days between their checks, from the next round of each on; null: as the workspace has it.

    Raises Refusal where one of them is not of this workspace.
    """
    actor.must(May.TARGETS)
    which = many.of(actor, data.rigs)
    own = dict(RigPolicy.objects.filter(rig__in=which).values_list("rig", "check_days"))
    usual = actor.workspace.check_days
    wanted = None if data.days == usual else data.days
    changed = [rig for rig in which if own.get(rig.pk) != wanted]
    policies.keep_all(actor, changed, {"check_days": wanted or usual})
    were = defaultdict[int | None, list[int]](list)
    for rig in changed:
        were[own.get(rig.pk)].append(rig.pk)
    return CheckEveryOut(were=[CheckedEvery(days=days, rigs=rigs) for days, rigs in were.items()])


@dataclass(frozen=True)
class _Looked:
    """A rig's targets worked out anew beside those in force, and what contradicts."""

    rig: Rig
    worked: services.Worked
    before: dict[int, core.Before]
    stale: bool
    words: Phrase | None

    @property
    def asks(self) -> bool:
        """Whether there is anything to put in force: other numbers, or the same from what is known now."""
        return self.stale or core.changes(self.worked.axles, self.before)

    def out(self) -> LookedOut:
        moved = [
            MovedOut(
                name=a.name, now_kpa=self.before[a.number].target_kpa if a.number in self.before else None,
                target_kpa=a.target_kpa,
            )
            for a in self.worked.axles
        ]  # fmt: skip
        stamps = list(services.made_from(self.worked.used, self.worked.weighing).stamps)
        return LookedOut(rig=self.rig.pk, name=self.rig.shown_name, axles=moved, stamps=stamps, words=self.words)


def _looked(actor: Actor, which: list[int]) -> list[_Looked]:
    """Raises Refusal where one of them is not of this workspace."""
    actor.must(May.TARGETS)
    many.of(actor, which)
    found = list(rigs.rigs(actor).filter(pk__in=which).select_related("policy").order_by("fleet_number", "name", "id"))
    rows = each_in_force(sets(actor, *found).prefetch_related("axles__table"))
    return [_look(actor, rig, rows.get(rig.pk)) for rig in found]


def _look(actor: Actor, rig: Rig, row: TargetSet | None) -> _Looked:
    # By its newest weighing, the newest tables and its own way: nobody chooses anything for many.
    worked = services.work(actor, rig, TargetsIn())
    said = services.worked_out(worked)
    chosen = dict(zip((a.number for a in worked.axles), worked.shelf.chosen, strict=True))
    before = {
        a.number: core.Before(a.target_kpa, _chosen(a, chosen.get(a.number))) for a in (row.axles.all() if row else ())
    }
    words = core.contradicts(worked.axles, before, worked.notes, bool(said.over))
    if words is None and said.unchecked:
        words = say("Nobody has checked its table: have it read against its source first.")
    stale = row is not None and bool(out_of_date(row, rig, worked.weighing, actor))
    return _Looked(rig, worked, before, stale, words)


def _chosen(axle: TargetAxle, now: Table | None) -> bool:
    """Whether somebody chose what is in force of an axle; a newer edition of its table is the same table."""
    other = axle.table is not None and (now is None or axle.table_id not in (now.pk, now.replaces_id))
    return axle.own_kpa is not None or bool(axle.trial) or axle.range_kpa is not None or other


def look(actor: Actor, data: LookManyIn) -> LookManyOut:
    """What the targets of some rigs would be, and what contradicts. Raises Refusal where one is not of this workspace."""
    looked = _looked(actor, data.rigs)
    asking = [one.out() for one in looked if one.asks]
    return LookManyOut(rigs=asking, fits=len(looked) - len(asking))


@transaction.atomic
def put_in_force(actor: Actor, data: PutManyIn) -> PutManyOut:
    """Puts targets in force as they were told; where something contradicts, or they are others by now, it is told instead.

    Sent again it is done once. Raises Refusal where one of the rigs is not of this workspace, Conflict for another rig's UUID.
    """
    told = {one.rig: one for one in data.rigs}
    made, not_done = [], []
    for one in _looked(actor, list(told)):
        of = told[one.rig.pk]
        if pk := services.known(one.rig, of.uuid):
            made.append(pk)
            continue
        words, axles = one.words, one.worked.axles
        as_told = {a.number: core.Before(kpa) for a, kpa in zip(axles, of.told_kpa, strict=False)}
        if words is None and core.changes(axles, as_told):
            words = say("Its targets are others by now: look at them again.")
        if words is None:
            made.append(services.put(actor, one.rig, TargetsIn(uuid=of.uuid), one.worked).pk)
        else:
            not_done.append(NotDoneOut(rig=one.rig.pk, name=one.rig.shown_name, words=words.show(actor.person.units)))
    return PutManyOut(sets=made, not_done=not_done)


@transaction.atomic
def withdraw(actor: Actor, data: WithdrawManyIn) -> WithdrawManyOut:
    """Takes targets back that are the newest of their rig's load state: those of before are in force again."""
    actor.must(May.TARGETS)
    since = TargetSet.objects.filter(rig=OuterRef("rig"), load_state=OuterRef("load_state"), pk__gt=OuterRef("pk"))
    ours = TargetSet.objects.filter(rig__workspace=actor.workspace, pk__in=data.sets).filter(~Exists(since))
    return WithdrawManyOut(withdrawn=ours.update(withdrawn_at=clock.now(), withdrawn_by=actor.person))
