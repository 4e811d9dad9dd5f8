"""Rounds: opened, read wheel by wheel, put away and brought back. Sealing, amending and paper have modules of their own."""

import datetime as dt
import uuid as uuids
from collections.abc import Sequence
from dataclasses import dataclass, replace

from django.db import IntegrityError, transaction
from django.db.models import Count, OuterRef, Prefetch, QuerySet, Subquery, prefetch_related_objects

from ballast.core import air as core_air
from ballast.core import gauges as core_gauges
from ballast.core import rigs as core_rigs
from ballast.core import rounds as core
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now as air
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict, Denied
from ballast.server.edge.versions import must_match
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Gauge
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
    ReadingIn,
    SeenIn,
    StandingIn,
    StandingOut,
    TakeIn,
    WheelNoteIn,
)
from ballast.server.targets import in_force, policies

_ENTRIES = (
    Prefetch("readings", Reading.objects.select_related("gauge", "entered_by").prefetch_related("gauge__calibrations")),
    Prefetch("notes", WheelNote.objects.select_related("by")),
)
_PARTS = Prefetch("parts__rig", Rig.objects.prefetch_related("axles", rigs.ON_NOW))


def all_rounds(actor: Actor) -> QuerySet[Round]:
    """The rounds of the workspace, those that were abandoned among them."""
    actor.must(May.READ)
    return Round.objects.filter(rig__workspace=actor.workspace)


def rounds(actor: Actor) -> QuerySet[Round]:
    return all_rounds(actor).filter(abandoned_at=None)


def round_(actor: Actor, round_id: int, abandoned: bool = False) -> Round:
    """One round of the workspace, with `abandoned` also one that was put away. Raises DoesNotExist for any other."""
    return (
        (all_rounds if abandoned else rounds)(actor)
        .select_related("rig", "opened_by", "sealed_by", "gauge", "text")
        .prefetch_related(
            "gauge__calibrations",
            *_ENTRIES,
            Prefetch("takes", Take.objects.select_related("person", "gauge")),
            "takes__gauge__calibrations",
            "parts__target_set__weighing__axles",
            _PARTS,
        )
        .get(pk=round_id)
    )


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
    _must_be_open(row)
    return row


def _must_be_open(row: Round) -> None:
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


def _lightly(actor: Actor, round_id: int) -> Round:
    """A round with its gauge and takes alone at hand: all that a reading asks of it. Raises DoesNotExist.

    A reading for a round that was abandoned meanwhile is kept with it: it may be brought back.
    """
    return (
        all_rounds(actor)
        .select_related("gauge", "text")
        .prefetch_related("gauge__calibrations", "takes__gauge__calibrations")
        .get(pk=round_id)
    )


def _in_hand(actor: Actor, row: Round, asked: int | None) -> Gauge:
    """The gauge of a reading: the one that was named, else the person's own in this round, else the round's."""
    if asked is not None and asked != row.gauge_id:
        return gauges.usable(actor, asked)
    own = next((t.gauge for t in row.takes.all() if t.person_id == actor.person.pk), None)
    return row.gauge if asked is not None or own is None else own


def line_of(row: Round, code: str) -> core.WheelLine:
    """A wheel of a round. Raises Refusal for one that it does not have."""
    return line_among(stored.lines(row), code)


def line_among(lines: Sequence[core.WheelLine], code: str) -> core.WheelLine:
    """The same, of lines that are at hand."""
    named = next((line for line in lines if line.code == code), None)
    if named is None:
        raise Refusal(f"There is no wheel {code} in this round. Choose one of the plan.", "wheel")
    return named


def read(actor: Actor, round_id: int, uuid: uuids.UUID, data: ReadingIn) -> Round:
    """Stores a reading and gives the round as it stands then. Raises Conflict as `store` does."""
    store(actor, round_id, uuid, data)
    return round_(actor, round_id, abandoned=True)


@transaction.atomic
def store(actor: Actor, round_id: int, uuid: uuids.UUID, data: ReadingIn) -> None:
    """Stores a reading, once, however often it is sent; of a round that is sealed by now beside it, as come late.

    Raises Conflict when the UUID was used for another value, or the tire waits for inspection.
    """
    actor.must(May.ROUNDS)
    row = _lightly(actor, round_id)
    if there := Reading.every.filter(uuid=uuid).first():
        same = (
            there.round_id == row.pk
            and there.wheel == data.wheel
            and there.after == data.after
            and there.not_rolled == data.not_rolled
            and abs(there.raw_kpa - data.pressure.value) < 1e-6
        )
        if not same:
            raise Conflict(
                "This reading is stored already with another value. Send the new one under its own UUID.", "uuid"
            )
        return
    line = line_of(row, data.wheel)
    gauge = _in_hand(actor, row, data.gauge)
    if row.sealed_at is not None:
        late = stored.LateReading(
            data.wheel, data.after, data.pressure.typed, data.pressure.value, gauge.pk, data.not_rolled, data.read_at
        )
        _keep_late(actor, row, uuid, stored.keep_late(late), note=False)
        return
    corrected = core_gauges.correct(gauges.gauge_of(gauge), data.pressure.value)
    if data.after:
        stands = _as_it_stands(row, line)
        if stands.before is None:
            raise Conflict("Read it before adding air first.", "after")
        if stands.locked:
            raise Conflict(
                "It may have rolled far too low: no air before an inspection is recorded. If it has not rolled like this, "
                "say so with its first reading.",
                "after",
            )
    Reading.objects.create(
        uuid=uuid,
        round=row,
        wheel=data.wheel,
        after=data.after,
        typed=data.pressure.typed,
        raw_kpa=data.pressure.value,
        gauge=gauge,
        corrected_kpa=corrected.kpa,
        uncertainty_kpa=corrected.uncertainty_kpa,
        outside_calibration=corrected.outside,
        not_rolled=data.not_rolled,
        saw=data.saw,
        read_at=min(data.read_at, clock.now()) if data.read_at else None,
        entered_by=actor.person,
        received_at=clock.now(),
    )


def _as_it_stands(row: Round, line: core.WheelLine) -> core.Wheel:
    """A wheel of an open round, stopped where the other of its duals ran low."""
    prefetch_related_objects([row], *_ENTRIES, "takes__person")
    wheels = value.state(row, value.conditions(row), (line.code, core.mate_of(line.code))).wheels
    return next(w for w in wheels if w.code == line.code)


@transaction.atomic
def take_back(actor: Actor, round_id: int, uuid: uuids.UUID) -> Round:
    """Takes a reading of an open round back, as its own person; done twice is as once.

    Raises Denied for somebody else's, Conflict in a sealed round, DoesNotExist where there is none.
    """
    actor.must(May.ROUNDS)
    row = _lightly(actor, round_id)
    reading = Reading.every.select_related("entered_by").get(round=row, uuid=uuid)
    if reading.entered_by_id != actor.person.pk:
        raise Denied(f"{reading.entered_by.shown_name} entered this reading. Read the wheel again instead.")
    if reading.withdrawn_at is None:
        _must_be_open(row)
        reading.withdrawn_at = clock.now()
        reading.save()
    return round_(actor, round_id, abandoned=True)


def says_of(actor: Actor, row: Round, data: SeenIn) -> core.Note:
    """What a note adds, in canonical units; a display that is in the drawer is corrected as every gauge is.

    Raises Refusal where nothing is said.
    """
    note = core.Note(
        leak=data.leak, cap=data.cap, valve=data.valve, damage=data.damage, note=data.note, skipped=data.skipped,
        inspected=data.inspected, display_rolled=data.display_rolled,
        sensor_kpa=data.sensor.value if data.sensor else None,
        display_kpa=data.display.value if data.display else None,
    )  # fmt: skip
    if data.display_gauge is not None:
        display = gauges.ours(actor, data.display_gauge, "display_gauge")
        note = replace(note, display_gauge=display.pk)
        if data.display is not None:
            true = core_gauges.correct(gauges.gauge_of(display), data.display.value, row.here.absolute_kpa)
            note = replace(note, display_label=display.label, display_true_kpa=true.kpa)
    if data.tread is not None:
        depths = (
            round(e.value * 1000, 1) if e else None for e in (data.tread.inner, data.tread.centre, data.tread.outer)
        )
        note = replace(note, tread=core.Tread(*depths))
    if note == core.Note():
        raise Refusal("Nothing is noted. Say what was seen.", "note")
    return note


@transaction.atomic
def note(actor: Actor, round_id: int, uuid: uuids.UUID, data: WheelNoteIn) -> Round:
    """Keeps what was seen at a wheel, once, however often it is sent. Raises Conflict as `store` does."""
    actor.must(May.ROUNDS)
    row = _lightly(actor, round_id)
    line_of(row, data.wheel)
    says = says_of(actor, row, data)
    if there := WheelNote.objects.filter(uuid=uuid).first():
        if (there.round_id, there.wheel, stored.note_of(there.says)) != (row.pk, data.wheel, says):
            raise Conflict("This note is stored already with other words. Send the new one under its own UUID.", "uuid")
        return round_(actor, round_id, abandoned=True)
    if row.sealed_at is not None:
        _keep_late(actor, row, uuid, stored.keep_late((data.wheel, says)), note=True)
        return round_(actor, round_id)
    WheelNote.objects.create(
        uuid=uuid, round=row, wheel=data.wheel, says=stored.keep_note(says), by=actor.person, received_at=clock.now()
    )
    return round_(actor, round_id, abandoned=True)


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
    row.takes.filter(person=actor.person).delete()
    if data.wheels:
        Take.objects.create(round=row, person=actor.person, gauge=gauge, wheels=data.wheels)
    return round_(actor, round_id)


def _keep_late(actor: Actor, row: Round, uuid: uuids.UUID, body: stored.Stored, note: bool) -> None:
    """Keeps an entry that came for a sealed round beside it, once, however often it is sent."""
    late, made = Late.objects.get_or_create(
        uuid=uuid,
        defaults={"round": row, "body": body, "note": note, "by": actor.person, "received_at": clock.now()},
    )
    if not made and (late.round_id, late.body) != (row.pk, body):
        raise Conflict("This entry is kept already with another value. Send the new one under its own UUID.", "uuid")


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


@dataclass(frozen=True)
class Meant(core.Answer):
    """An answer, and what the gauge in hand shows once that is done [kPa]."""

    shows_kpa: float | None = None


def work_answer(actor: Actor, round_id: int, data: ReadingIn) -> Meant:
    """What a reading as typed would mean, and what its gauge shows once that is done. Nothing is saved."""
    row = _lightly(actor, round_id)
    in_hand = _in_hand(actor, row, data.gauge)
    at, line = stored.conditions(row, (in_hand,)), line_of(row, data.wheel)
    gauge, held = at.gauges[in_hand.pk], core.held(at, line)
    goal = core.goal(at, line, held, not (data.not_rolled or data.after), gauge)
    verdict = core.answer(goal, core_gauges.correct(gauge, data.pressure.value), at.stands(line), at.here)
    return Meant(**vars(verdict), shows_kpa=core.should_show(at, line, held, gauge, verdict.fill_kpa))
