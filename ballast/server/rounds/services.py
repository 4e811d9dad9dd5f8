"""Rounds: opened, read wheel by wheel, put away and brought back. Sealing, amending and paper have modules of their own."""

import datetime as dt
from collections.abc import Sequence

from django.db import IntegrityError, transaction
from django.db.models import Count, OuterRef, QuerySet, Subquery

from ballast.core import air as core_air
from ballast.core import rigs as core_rigs
from ballast.core import rounds as core
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now as air
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict, Denied
from ballast.server.edge.ready import Ready, hang
from ballast.server.edge.versions import must_match
from ballast.server.gauges import services as gauges
from ballast.server.ground import plans
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import conditions, ledger, sheet, stored, value
from ballast.server.rounds.models import Late, Reading, Round, RoundPart, RoundText, Take, WheelNote
from ballast.server.rounds.schemas import (
    ConditionsIn,
    LateWaitingOut,
    LeftOut,
    PutAwayOut,
    StandingIn,
    StandingOut,
    TakeIn,
)
from ballast.server.targets import in_force, policies
from ballast.server.weighing import services as weighing

_ROUND = Ready[Round](
    lambda workspace, pk: Round.objects.filter(rig__workspace=workspace, pk=pk, abandoned_at=None).select_related(
        "rig", "opened_by", "sealed_by", "gauge", "text"
    )
)
_READINGS = Ready[Reading](
    lambda pk: Reading.objects.filter(round=pk).select_related("gauge", "entered_by").order_by("id")
)
_NOTES = Ready[WheelNote](lambda pk: WheelNote.objects.filter(round=pk).select_related("by").order_by("id"))
TAKES = Ready[Take](lambda pk: Take.objects.filter(round=pk).select_related("person", "gauge").order_by("id"))
_PARTS = Ready[RoundPart](
    lambda pk: RoundPart.objects.filter(round=pk).select_related("rig", "target_set__weighing").order_by("place")
)


def all_rounds(actor: Actor) -> QuerySet[Round]:
    """The rounds of the workspace, those that were abandoned among them."""
    actor.must(May.READ)
    return Round.objects.filter(rig__workspace=actor.workspace)


def rounds(actor: Actor) -> QuerySet[Round]:
    return all_rounds(actor).filter(abandoned_at=None)


def round_(actor: Actor, round_id: int) -> Round:
    """One round of the workspace with all that is entered in it, and its rigs. Raises DoesNotExist for any other."""
    actor.must(May.READ)
    row = _ROUND.first(actor.workspace.pk, round_id)
    if row is None:
        raise Round.DoesNotExist
    readings, takes, parts = _READINGS(round_id), TAKES(round_id), _PARTS(round_id)
    for name, own in (("readings", readings), ("notes", _NOTES(round_id)), ("takes", takes), ("parts", parts)):
        hang([row], name, own, "round")
    gauges.compared([row.gauge, *(r.gauge for r in readings), *(t.gauge for t in takes)])
    weighing.hang_axles([p.target_set.weighing for p in parts if p.target_set and p.target_set.weighing])
    rigs.hang_wheels([p.rig for p in parts])
    return row


def begin(actor: Actor, rig_id: int, data: ConditionsIn) -> Round:
    """Opens a round as `opened` does, and gives it with all that belongs to it."""
    return round_(actor, opened(actor, rig_id, data).pk)


@transaction.atomic
def opened(actor: Actor, rig_id: int, data: ConditionsIn, read_at: dt.datetime | None = None) -> Round:
    """Opens a round of a rig and of all that is hitched behind it, or takes one down that was read at another time.

    Raises Conflict while one of them has an open one, or for a trailer that is towed: the round is the whole's.
    Raises Refusal for a gauge that is not this workspace's.
    """
    actor.must(May.ROUNDS)
    train = rigs.train(actor, rig_id)
    rig = train[0]
    if rig.pk != rig_id:
        raise Conflict(f"It is hitched behind {rig.name}: read the whole from there, or unhitch it first.", "rig")
    if rig.archived:
        raise Conflict("This rig is archived. Bring it back first.")
    if other := rounds(actor).filter(parts__rig__in=train, sealed_at=None).select_related("rig", "opened_by").first():
        raise Conflict(
            f"A round of {other.rig.name} by {other.opened_by.shown_name} is open. Go on with it, or abandon it.", "rig"
        )
    plan = plans.open_at(actor, train, read_at)
    if plan is not None and data.only:
        raise Conflict("A ground plan is open for it: every wheel is read until that is closed.", "only")
    if plan is not None and data.plan_kept is None:
        raise Refusal(
            "A ground plan is open for it. Say whether its numbers still stand in the tires, or it is back at road numbers.",
            "plan_kept",
        )
    bands = in_force.each_in_force(in_force.sets(actor, *train))
    sets = [bands.get(vehicle.pk) for vehicle in train]
    lines = sheet.of(
        actor, train, sets, ledger.newest(train, read_at), sheet.ground(train, plan, read_at, data.plan_kept is False)
    )
    walked = core.just(lines, data.only)
    try:
        made = Round.objects.create(
            rig=rig,
            heavy=any(not rigs.rig_of(vehicle).light for vehicle in train),
            opened_by=actor.person,
            opened_at=read_at or clock.now(),
            ground_plan=plan,
            plan_kept=data.plan_kept if plan else None,
            partial=len(walked) < len(lines),
            **conditions.read(actor, data, rig, policies.way_of(actor, rig), read_at or clock.now()),
        )
    except IntegrityError:
        raise Conflict("Another round was opened at this moment. Go on with it.", "rig") from None
    if read_at is None:
        air.keep_rounds_own(actor, rig, conditions.air_in(data), made.opened_at)
    RoundText.objects.create(round=made, sheet=stored.keep_lines(walked))
    RoundPart.objects.bulk_create(
        RoundPart(round=made, rig=vehicle, place=i, target_set=row)
        for i, (vehicle, row) in enumerate(zip(train, sets, strict=True))
    )
    return made


def _still_open(actor: Actor, round_id: int) -> Round:
    actor.must(May.ROUNDS)
    row = round_(actor, round_id)
    must_be_open(row)
    return row


def must_be_open(row: Round) -> None:
    if row.sealed_at is not None:
        raise Conflict("This round is sealed. Open a new one for more readings.")


@transaction.atomic
def change_conditions(actor: Actor, round_id: int, data: ConditionsIn) -> Round:
    """Changes gauge, air or standing of an open round; every answer follows, readings keep their own gauge."""
    row = _still_open(actor, round_id)
    rig = policies.rig_of(actor, row.rig_id)
    by_now = value.form_of(row)
    for name, condition in conditions.read(actor, data, rig, policies.way_of(actor, rig), row.opened_at).items():
        setattr(row, name, condition)
    if row.ground_plan_id is not None and data.plan_kept is not None:
        row.plan_kept = data.plan_kept
    must_match(data.version, by_now, value.form_of(row), actor.person.units)
    row.save()
    air.keep_rounds_own(actor, rig, conditions.air_in(data), row.opened_at)
    return round_(actor, round_id)


def _must_be_theirs(actor: Actor, row: Round) -> None:
    """Raises Denied for a round that somebody else opened, but for whoever answers for the rigs."""
    if row.opened_by_id != actor.person.pk and not actor.may(May.RIGS):
        raise Denied(f"{row.opened_by.shown_name} opened this round. Ask them, or a manager.")


@transaction.atomic
def abandon(actor: Actor, round_id: int) -> None:
    """Puts an open round away. Its readings stay stored, and count for nothing until it is brought back."""
    row = _still_open(actor, round_id)
    _must_be_theirs(actor, row)
    row.abandoned_at, row.abandoned_by = clock.now(), actor.person
    row.save()


@transaction.atomic
def bring_back(actor: Actor, round_id: int) -> Round:
    """The undo of abandoning: the round is open again, with what came for it meanwhile. Raises Conflict while another is."""
    actor.must(May.ROUNDS)
    row = all_rounds(actor).select_related("rig", "opened_by").get(pk=round_id)
    if row.abandoned_at is None:
        return round_(actor, round_id)
    _must_be_theirs(actor, row)
    train = [p.rig_id for p in row.parts.all()]
    if other := rounds(actor).filter(parts__rig__in=train, sealed_at=None).select_related("opened_by").first():
        raise Conflict(f"A round by {other.opened_by.shown_name} is open by now. Seal or abandon it first.", "rig")
    row.abandoned_at = row.abandoned_by = None
    row.save()
    return round_(actor, round_id)


def _put_away(actor: Actor, rig: Rig) -> PutAwayOut | None:
    """The newest round of a rig that was abandoned, and not so long ago that it is of no use; None: none was."""
    since = clock.now() - dt.timedelta(days=core.BROUGHT_BACK_WITHIN_DAYS)
    abandoned = all_rounds(actor).filter(rig=rig, abandoned_at__gte=since)
    row = (
        abandoned.annotate(read=Count("readings__wheel", distinct=True))
        .select_related("abandoned_by", "opened_by")
        .first()
    )
    if row is None or row.abandoned_at is None or rounds(actor).filter(rig=rig, opened_at__gt=row.opened_at).exists():
        # None, or its place was taken by a newer one.
        return None
    may_resume = row.opened_by_id == actor.person.pk or actor.may(May.RIGS)
    by = row.abandoned_by.shown_name if row.abandoned_by else ""
    may_resume = may_resume and actor.may(May.ROUNDS)
    return PutAwayOut(
        id=row.pk, opened_at=row.opened_at, time_zone=row.time_zone, abandoned_at=row.abandoned_at, abandoned_by=by,
        read=row.read, may_bring_back=may_resume,
    )  # fmt: skip


# Of each rig: how many entries came late for its sealed rounds, and wait; null: none.
LATE_WAITING = Subquery(
    Late.objects.filter(settled="", round__rig=OuterRef("pk"))
    .order_by()
    .values("round__rig")
    .annotate(n=Count("pk"))
    .values("n")
)


def late_words(count: int) -> Phrase:
    """What came when its round was sealed already is not in it until somebody says so."""
    them = "it" if count == 1 else "them"
    return say(f"{count} {'entry' if count == 1 else 'entries'} came late: take {them} in, or leave {them} out")


def left(actor: Actor, rig_id: int) -> LeftOut:
    """What rounds of a rig left to be seen to: one that was abandoned, and entries that came late for a sealed one."""
    train = rigs.train(actor, rig_id)
    waiting = (
        Late.objects.filter(settled="", round__rig=train[0])
        .order_by("-round__opened_at")
        .values_list("round", flat=True)
    )
    late = list(waiting)
    waits = LateWaitingOut(round=late[0], words=late_words(late.count(late[0]))) if late else None
    return LeftOut(put_away=_put_away(actor, train[0]), late=waits)


def line_of(row: Round, code: str) -> core.WheelLine:
    """A wheel of a round. Raises Refusal for one that it does not have."""
    return line_among(stored.lines(row), code)


def line_among(lines: Sequence[core.WheelLine], code: str) -> core.WheelLine:
    """The same, of lines that are at hand."""
    named = next((line for line in lines if line.code == code), None)
    if named is None:
        raise Refusal(f"There is no wheel {code} in this round. Choose one of the plan.", "wheel")
    return named


@transaction.atomic
def take(actor: Actor, round_id: int, data: TakeIn) -> Round:
    """The person takes wheels with a gauge of their own. What another holds is a conflict until they give it back."""
    row = _still_open(actor, round_id)
    gauge = gauges.usable(actor, data.gauge)
    lines = stored.lines(row)
    for code in data.wheels:
        line_among(lines, code)
    others = {c: t.person.shown_name for t in row.takes.all() if t.person_id != actor.person.pk for c in t.wheels}
    if held := next((c for c in data.wheels if c in others), None):
        raise Conflict(f"{others[held]} has {held}. Take others, or ask for it.", "wheels")
    Take.objects.filter(round=row, person=actor.person).delete()
    if data.wheels:
        Take.objects.create(round=row, person=actor.person, gauge=gauge, wheels=data.wheels)
    return round_(actor, round_id)


def work_standing(actor: Actor, data: StandingIn) -> StandingOut:
    """Whether a rig that stood so, with all that is behind it, is cold by its own way. Nothing is saved."""
    actor.must(May.READ)
    train = rigs.train(actor, data.rig, also=("policy",), on_axles=True)
    heavy = any(not core_rigs.is_light(vehicle.gvwr_kg) for vehicle in train)
    hours = policies.way_of(actor, train[0]).cold_after_h
    # The air makes no difference to whether it is cold.
    stood = core_air.standing(data.standing_h, heavy, data.driven, 0.0, hours)
    if data.shop_c is not None:
        stood = core_air.in_shop(data.shop_c.value)
    return StandingOut(cold=stood.cold, words=core_air.stands_words(stood))
