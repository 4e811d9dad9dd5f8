"""Targets, and the rhythm of rounds, of many rigs at once: told before, done whole, and taken back."""

from collections import defaultdict
from dataclasses import dataclass, replace

from django.db import transaction
from django.db.models import Exists, OuterRef

from ballast.core import targets as core
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.rigs import many
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rigs.schemas import NotDoneOut
from ballast.server.tables import services as tables
from ballast.server.tables.models import Table
from ballast.server.targets import policies, services
from ballast.server.targets.chalk import chalk_in
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
from ballast.server.targets.shelf import shelf_of, sizes_of
from ballast.server.weighing import services as weighing


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
                name=a.name, now_kpa=before.target_kpa, now_ceiling_kpa=before.ceiling_kpa, target_kpa=a.target_kpa,
                ceiling_kpa=a.ceiling_kpa,
            )
            for a in self.worked.axles
            for before in [self.before.get(a.number, core.Before(None))]
        ]  # fmt: skip
        stamps = list(services.made_from(self.worked.used, self.worked.weighing).stamps)
        return LookedOut(rig=self.rig.pk, name=self.rig.shown_name, axles=moved, stamps=stamps, words=self.words)


def _looked(actor: Actor, which: list[int]) -> list[_Looked]:
    """The number of queries does not grow with them. Raises Refusal where one of them is not of this workspace."""
    actor.must(May.TARGETS)
    found = many.of(actor, which, rigs.rigs(actor).select_related("policy"))
    rows, hands = each_in_force(sets(actor, *found)), _at_hand(actor, found)
    return [_look(actor, rig, rows.get(rig.pk), hands[rig.pk]) for rig in found]


def _at_hand(actor: Actor, found: list[Rig]) -> dict[int, services.AtHand]:
    """By rig its newest weighing and the newest tables: nobody chooses anything for many."""
    typed = {rig.pk: rigs.rig_of(rig) for rig in found}
    shelf = shelf_of(tables.of_sizes(actor, {size for rig in found for size in sizes_of(rig, typed[rig.pk])}))
    tickets, states = weighing.each_in_force(actor, found), weighing.states_in_force(found)
    chalk = chalk_in([t.load_state_id for t in tickets.values()])
    hands = {}
    for rig in found:
        ticket = tickets.get(rig.pk)
        state = ticket.load_state if ticket else states.get(rig.pk)
        hands[rig.pk] = services.AtHand(
            typed[rig.pk], ticket, bool(state and state.light_row), chalk.get(ticket.load_state_id, {}) if ticket else {},
            replace(shelf, chosen=shelf.newest_of(typed[rig.pk])),
        )  # fmt: skip
    return hands


def _look(actor: Actor, rig: Rig, row: TargetSet | None, of: services.AtHand) -> _Looked:
    worked = services.work_with(actor, rig, TargetsIn(), of)
    now = dict(zip((a.number for a in worked.axles), worked.shelf.chosen, strict=True))
    before = {a.number: _before(a, now.get(a.number)) for a in (row.axles.all() if row else ())}
    over = bool(worked.loads and worked.loads.over)
    unchecked = any(tables.unchecked(t) for t in worked.used)
    words = core.contradicts(worked.axles, before, worked.notes, over, unchecked)
    stale = row is not None and bool(out_of_date(row, rig, of.ticket, actor, of.shelf))
    return _Looked(rig, worked, before, stale, words)


def _before(axle: TargetAxle, now: Table | None) -> core.Before:
    same = axle.table_id is None or (now is not None and axle.table_id in (now.pk, now.replaces_id))
    return core.Before(axle.target_kpa, axle.own_kpa, axle.range_kpa, axle.trial, not same, axle.ceiling_kpa)


def look(actor: Actor, data: LookManyIn) -> LookManyOut:
    """What the targets of some rigs would be, and what contradicts. Raises Refusal where one is not of this workspace."""
    looked = _looked(actor, data.rigs)
    asking = [one.out() for one in looked if one.asks]
    return LookManyOut(rigs=asking, fits=len(looked) - len(asking))


@transaction.atomic
def put_in_force(actor: Actor, data: PutManyIn) -> PutManyOut:
    """Puts targets in force as they were told; where something contradicts, or they are others by now, it is told instead.

    Sent again it is done once. Raises Refusal where one of the rigs is not of this workspace, or stands twice; Conflict for another
    rig's UUID.
    """
    told = {one.rig: one for one in data.rigs}
    if len(told) != len(data.rigs) or len({one.uuid for one in data.rigs}) != len(data.rigs):
        raise Refusal("A rig or a UUID stands twice in this. Send each once.", "rigs")
    looked, known = _looked(actor, list(told)), services.known({one.uuid: one.rig for one in data.rigs})
    made, not_done = list(known.values()), []
    for one in looked:
        of = told[one.rig.pk]
        if of.uuid in known:
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
