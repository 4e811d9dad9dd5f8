import datetime as dt
import uuid as uuids
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import Count, OuterRef, Prefetch, QuerySet, Subquery
from django.utils import timezone
from pydantic import TypeAdapter

from ballast.core import air as core_air
from ballast.core import gauges as core_gauges
from ballast.core import rigs as core_rigs
from ballast.core import rounds as core
from ballast.core.refusal import Refusal, Refusals
from ballast.core.working import Phrase, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.problems import Conflict, Denied
from ballast.server.edge.versions import must_match
from ballast.server.edge.words import in_both
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Gauge
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import conditions, ledger, sheet
from ballast.server.rounds.conditions import Frame, goal_of, here_of, shows_of
from ballast.server.rounds.models import Late, Reading, Round, RoundPart, Take, WheelNote
from ballast.server.rounds.schemas import (
    ConditionsIn,
    QuickIn,
    QuickWheelIn,
    ReadingIn,
    RoundOut,
    SeenIn,
    StandingIn,
    TakeIn,
    WheelNoteIn,
)
from ballast.server.rounds.views import last_answer, open_at, present, state_of, wheel_view, with_mates
from ballast.server.targets import policies
from ballast.server.targets import services as targets

_ROUND = TypeAdapter(RoundOut)


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
        .select_related("rig", "opened_by", "sealed_by", "gauge")
        .prefetch_related(
            "gauge__calibrations",
            Prefetch(
                "readings",
                Reading.objects.select_related("gauge", "entered_by").prefetch_related("gauge__calibrations"),
            ),
            Prefetch("notes", WheelNote.objects.select_related("by")),
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
    in_force = targets.each_in_force(targets.sets(actor, *train))
    sets = [in_force.get(vehicle.pk) for vehicle in train]
    try:
        made = Round.objects.create(
            rig=rig,
            sheet=sheet.of(actor, train, sets, ledger.newest(train, read_at)),
            heavy=any(not rigs.rig_of(vehicle).light for vehicle in train),
            opened_by=actor.person,
            opened_at=read_at or timezone.now(),
            **conditions.read(actor, data, rig, policies.way_of(actor, rig), read_at or timezone.now()),
        )
    except IntegrityError:
        raise Conflict("Another round was opened at this moment. Go on with it.", "rig") from None
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
    stored = state_of(row)
    for name, value in conditions.read(actor, data, rig, policies.way_of(actor, rig), row.opened_at).items():
        setattr(row, name, value)
    must_match(data.version, stored, state_of(row), actor.person.units)
    row.save()
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
    row.abandoned_at, row.abandoned_by = timezone.now(), actor.person
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


def _put_away(actor: Actor, rig: Rig) -> dict[str, Any] | None:
    """The newest round of a rig that was abandoned, and not so long ago that it is of no use; None: none was."""
    since = timezone.now() - dt.timedelta(days=KEPT_DAYS)
    found = all_rounds(actor).filter(rig=rig, abandoned_at__gte=since)
    row = (
        found.annotate(read=Count("readings__wheel", distinct=True)).select_related("abandoned_by", "opened_by").first()
    )
    if row is None or rounds(actor).filter(rig=rig, opened_at__gt=row.opened_at).exists():
        # None, or its place was taken by a newer one.
        return None
    mine = row.opened_by_id == actor.person.pk or actor.may(May.RIGS)
    return {
        "id": row.pk, "opened_at": row.opened_at, "time_zone": row.time_zone, "abandoned_at": row.abandoned_at,
        "abandoned_by": row.abandoned_by.shown_name if row.abandoned_by else "", "read": row.read,
        "may_bring_back": mine and actor.may(May.ROUNDS),
    }  # fmt: skip


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


def left(actor: Actor, rig_id: int) -> dict[str, Any]:
    """What rounds of a rig left to be seen to: one that was abandoned, and entries that came late for a sealed one."""
    train = rigs.train(actor, rig_id)
    waiting = (
        Late.objects.filter(settled="", round__rig=train[0])
        .order_by("-round__opened_at")
        .values_list("round", flat=True)
    )
    late = list(waiting)
    return {
        "put_away": _put_away(actor, train[0]),
        "late": {"round": late[0], "words": late_words(late.count(late[0]))} if late else None,
    }


def _lightly(actor: Actor, round_id: int) -> Round:
    """A round with its gauge and takes alone at hand: all that a reading asks of it. Raises DoesNotExist.

    A reading for a round that was abandoned meanwhile is kept with it: it may be brought back.
    """
    return (
        all_rounds(actor)
        .select_related("gauge")
        .prefetch_related("gauge__calibrations", "takes__gauge__calibrations")
        .get(pk=round_id)
    )


def _in_hand(actor: Actor, row: Round, asked: int | None) -> Gauge:
    """The gauge of a reading: the one that was named, else the person's own in this round, else the round's."""
    if asked is not None and asked != row.gauge_id:
        return gauges.usable(actor, asked)
    own = next((t.gauge for t in row.takes.all() if t.person_id == actor.person.pk), None)
    return row.gauge if asked is not None or own is None else own


def line_of(row: Round, code: str) -> dict[str, Any]:
    found = next((w for w in row.sheet if w["code"] == code), None)
    if found is None:
        raise Refusal(f"There is no wheel {code} in this round. Choose one of the plan.", "wheel")
    return found  # type: ignore[no-any-return]


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
    if stored := Reading.every.filter(uuid=uuid).first():
        same = (
            stored.round_id == row.pk
            and stored.wheel == data.wheel
            and stored.after == data.after
            and stored.not_rolled == data.not_rolled
            and abs(stored.raw_kpa - data.pressure.value) < 1e-6
        )
        if not same:
            raise Conflict(
                "This reading is stored already with another value. Send the new one under its own UUID.", "uuid"
            )
        return
    line = line_of(row, data.wheel)
    gauge = _in_hand(actor, row, data.gauge)
    if row.sealed_at is not None:
        keep_late(actor, row, uuid, _late_body(data, gauge), note=False)
        return
    corrected = core_gauges.correct(gauges.gauge_of(gauge), data.pressure.value)
    if data.after:
        view = _with_its_mate(row, line)
        if view["before"] is None:
            raise Conflict("Read it before adding air first.", "after")
        if view["locked"]:
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
        read_at=min(data.read_at, timezone.now()) if data.read_at else None,
        entered_by=actor.person,
        received_at=timezone.now(),
    )


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
        reading.withdrawn_at = timezone.now()
        reading.save()
    return round_(actor, round_id, abandoned=True)


def _with_its_mate(row: Round, line: dict[str, Any]) -> dict[str, Any]:
    """A wheel as it stands, and stopped where the other of its duals ran low."""
    related = row.readings.select_related("gauge", "entered_by").prefetch_related("gauge__calibrations")
    readings, notes, frame = list(related), list(row.notes.select_related("by")), Frame.of(row)
    both = [w for w in row.sheet if w["code"] in (line["code"], core.mate_of(line["code"]))]
    views = with_mates([wheel_view(frame, w, readings, notes) for w in both])
    return next(v for v in views if v["code"] == line["code"])


def says_of(actor: Actor, row: Round, data: SeenIn) -> dict[str, Any]:
    """What a note adds, in canonical units; a display that is in the drawer is corrected as every gauge is."""
    says: dict[str, Any] = {
        k: v
        for k in ("leak", "cap", "valve", "damage", "note", "skipped", "inspected", "display_rolled")
        if (v := getattr(data, k)) is not None
    }
    for k in ("sensor", "display"):
        if (entry := getattr(data, k)) is not None:
            says[f"{k}_kpa"] = entry.value
    if data.display_gauge is not None:
        display = gauges.ours(actor, data.display_gauge, "display_gauge")
        says["display_gauge"] = display.pk
        if data.display is not None:
            true = core_gauges.correct(gauges.gauge_of(display), data.display.value, row.here.absolute_kpa)
            says |= {"display_label": display.label, "display_true_kpa": true.kpa}
    if data.tread is not None:
        grooves = {f"{k}_mm": getattr(data.tread, k) for k in ("inner", "centre", "outer")}
        says["tread"] = {k: round(e.value * 1000, 1) if e else None for k, e in grooves.items()}
    return says


@transaction.atomic
def note(actor: Actor, round_id: int, uuid: uuids.UUID, data: WheelNoteIn) -> Round:
    """Keeps what was seen at a wheel, once, however often it is sent. Raises Conflict as `store` does."""
    actor.must(May.ROUNDS)
    row = _lightly(actor, round_id)
    says = says_of(actor, row, data)
    if stored := WheelNote.objects.filter(uuid=uuid).first():
        if (stored.round_id, stored.wheel, stored.says) != (row.pk, data.wheel, says):
            raise Conflict("This note is stored already with other words. Send the new one under its own UUID.", "uuid")
        return round_(actor, round_id, abandoned=True)
    line_of(row, data.wheel)
    if not says:
        raise Refusal("Nothing is noted. Say what was seen.", "note")
    if row.sealed_at is not None:
        keep_late(actor, row, uuid, {"wheel": data.wheel, "says": says}, note=True)
        return round_(actor, round_id)
    WheelNote.objects.create(
        uuid=uuid, round=row, wheel=data.wheel, says=says, by=actor.person, received_at=timezone.now()
    )
    return round_(actor, round_id, abandoned=True)


@transaction.atomic
def take(actor: Actor, round_id: int, data: TakeIn) -> Round:
    """The person takes wheels with a gauge of their own. What another holds is a conflict until they give it back."""
    row = _still_open(actor, round_id)
    gauge = gauges.usable(actor, data.gauge)
    for code in data.wheels:
        line_of(row, code)
    others = {c: t.person.shown_name for t in row.takes.all() if t.person_id != actor.person.pk for c in t.wheels}
    if held := next((c for c in data.wheels if c in others), None):
        raise Conflict(f"{others[held]} has {held}. Take others, or ask for it.", "wheels")
    row.takes.filter(person=actor.person).delete()
    if data.wheels:
        Take.objects.create(round=row, person=actor.person, gauge=gauge, wheels=data.wheels)
    return round_(actor, round_id)


def frozen(view: dict[str, Any]) -> dict[str, Any]:
    """A round in the form in which it is sealed."""
    found: dict[str, Any] = _ROUND.validate_python(view, from_attributes=True).model_dump(mode="json")
    return found


def written(row: Round, wheels: list[dict[str, Any]]) -> list[list[Any]]:
    """`Round.words` of the wheels of a round, before the ledger adds what it names."""
    whose = {w["code"]: w["rig"] for w in row.sheet}
    return [[w["code"], last_answer(w).word, whose[w["code"]], open_at(w)] for w in wheels]


def _late_body(data: ReadingIn, gauge: Gauge) -> dict[str, Any]:
    return {
        "wheel": data.wheel, "after": data.after, "typed": data.pressure.typed, "raw_kpa": data.pressure.value,
        "not_rolled": data.not_rolled, "gauge": gauge.pk, "read_at": data.read_at.isoformat() if data.read_at else None,
    }  # fmt: skip


def keep_late(actor: Actor, row: Round, uuid: uuids.UUID, body: dict[str, Any], note: bool) -> None:
    """Keeps an entry that came for a sealed round beside it, once, however often it is sent."""
    found, made = Late.objects.get_or_create(
        uuid=uuid,
        defaults={"round": row, "body": body, "note": note, "by": actor.person, "received_at": timezone.now()},
    )
    if not made and (found.round_id, found.body) != (row.pk, body):
        raise Conflict("This entry is kept already with another value. Send the new one under its own UUID.", "uuid")


def _whose(wheel: dict[str, Any]) -> str:
    """A wheel by its name, and who still has it."""
    held = wheel.get("taken_by")
    return f"{wheel['name']} ({held} has it)" if held else str(wheel["name"])


@transaction.atomic
def seal(
    actor: Actor, round_id: int, unread_reason: str, signed: str = "", without_target: bool = False
) -> Round:  # fmt: skip
    """Seals a round; sealing twice is as once.

    Raises Conflict for wheels not read without a reason, of their own or for all, where two readings did not know of
    each other, and where a wheel that was read has no target number and that is not said.
    """
    actor.must(May.ROUNDS)
    row = round_(actor, round_id)
    if row.sealed_at is not None:
        return row
    view = present(row)
    unread = [w for w in view["wheels"] if w["before"] is None]
    if len(unread) == len(view["wheels"]):
        raise Conflict("Nothing is read yet. Read the wheels, or abandon the round.", "unread_reason")
    silent = [_whose(w) for w in unread if not w["seen"]["skipped"]]
    if silent and not unread_reason:
        raise Conflict(f"Not read: {', '.join(silent)}. Read them, or give the reason.", "unread_reason")
    if split := next((w["name"] for w in view["wheels"] if w["others"]), None):
        raise Conflict(f"{split} has two readings that did not know of each other. Read it once more.", "wheel")
    row.without_target = _without_target(view["wheels"], without_target)
    row.sealed_at, row.sealed_by, row.unread_reason, row.signed = timezone.now(), actor.person, unread_reason, signed
    final = view | {
        "sealed_at": row.sealed_at, "sealed_by": actor.person.shown_name, "unread_reason": unread_reason, "signed": signed,
        "without_target": row.without_target,
    }  # fmt: skip
    row.result = frozen(final)
    row.summary = final["summary"]
    row.words = written(row, final["wheels"])
    row.save()
    if row.odometer_km is not None:
        rigs.seen_at(row.rig, row.odometer_km, row.opened_at.date())
    ledger.write(row, final["wheels"])
    return row


def _without_target(wheels: list[dict[str, Any]], said: bool) -> str:
    """What is missing for the wheels that were read and have no target number, in words. Raises Conflict where that is not
    said."""
    bare = [w for w in wheels if w["before"] is not None and w["here_kpa"] is None]
    if not bare:
        return ""
    why = dict.fromkeys(w["missing"].text if w["missing"] else "No target is in force." for w in bare)
    names = ", ".join(w["name"] for w in bare)
    if not said:
        told = in_both(bare[0]["missing"]) if bare[0]["missing"] else next(iter(why))
        raise Conflict(f"No target number is known for {names}: {told} Say that it is sealed so.", "without_target")
    return f"{names}: no target number is known"


@transaction.atomic
def quick(actor: Actor, rig_id: int, data: QuickIn) -> Round:
    """A whole round written on paper first, entered at once: opened, read line by line, sealed. All of it or nothing.

    Raises Refusals naming every line that cannot be used.
    """
    _when_read(data)
    row = opened(actor, rig_id, data.conditions, data.read_at)
    fill(actor, row, data.wheels)
    row = round_(actor, row.pk)
    locked = {w["code"] for w in present(row)["wheels"] if w["locked"]}
    for i, given in enumerate(data.wheels):
        if given.after is not None and given.wheel in locked:
            raise Refusal(
                "It may have rolled far too low: air is not recorded before an inspection. Enter this wheel in the round.",
                f"wheels.{i}.after",
            )
    return seal(actor, row.pk, "", data.signed, data.without_target) if data.seal else row


# A sheet of paper is entered within this many days.
LATE_DAYS = 60
# A round that was abandoned can be brought back for so long.
KEPT_DAYS = 14


def _when_read(data: QuickIn) -> None:
    """Raises Refusal for a time ahead, one so long ago that it belongs to no round any more, and for the air of now where it
    was read in that of then."""
    now, read_at = timezone.now(), data.read_at
    if read_at is None:
        return
    if not now - dt.timedelta(days=LATE_DAYS) <= read_at <= now + dt.timedelta(minutes=5):
        raise Refusal(
            f"A sheet is entered when it was read, at most {LATE_DAYS} days ago and not ahead. Check date and time.",
            "read_at",
        )
    if data.conditions.place_key and core_air.given(read_at, now, None).old:
        raise Refusal("The place tells the air of now, and it was read in that of then: enter it by hand.", "read_at")


@transaction.atomic
def fill(actor: Actor, row: Round, lines: list[QuickWheelIn]) -> None:
    """Keeps the lines of a sheet in an open round. Raises Refusals naming every line that cannot be used."""
    actor.must(May.ROUNDS)
    gauge, now = gauges.gauge_of(row.gauge), timezone.now()
    wrong: list[Refusal] = []
    readings, notes = [], []
    for i, given in enumerate(lines):
        field = "wheel"
        try:
            line_of(row, given.wheel)
            says: dict[str, Any] = {
                k: v for k in ("leak", "cap", "note") if (v := getattr(given, k)) is not None
            }  # fmt: skip
            if given.skipped and given.before is None:
                says["skipped"] = given.skipped
            if says:
                notes.append(
                    WheelNote(
                        uuid=uuids.uuid4(), round=row, wheel=given.wheel, says=says, by=actor.person, received_at=now
                    )
                )  # fmt: skip
            for field, entry in (("before", given.before), ("after", given.after)):
                if entry is None:
                    continue
                if field == "after" and given.before is None:
                    raise Refusal("What was left needs what was found first.")
                true = core_gauges.correct(gauge, entry.value)
                readings.append(
                    Reading(
                        uuid=uuids.uuid4(), round=row, wheel=given.wheel, after=field == "after", typed=entry.typed,
                        raw_kpa=entry.value, gauge=row.gauge, corrected_kpa=true.kpa, uncertainty_kpa=true.uncertainty_kpa,
                        outside_calibration=true.outside, entered_by=actor.person, received_at=now,
                    )
                )  # fmt: skip
        except Refusal as no:
            wrong.append(Refusal(no.message, f"wheels.{i}.{field}"))
    if wrong:
        raise Refusals(wrong)
    Reading.objects.bulk_create(readings)
    WheelNote.objects.bulk_create(notes)


def work_standing(actor: Actor, data: StandingIn) -> dict[str, Any]:
    """Whether a rig that stood so, with all that is behind it, is cold by its own way. Nothing is saved."""
    actor.must(May.READ)
    train = rigs.train(actor, data.rig, also=("policy",), on_axles=True)
    heavy = any(not core_rigs.is_light(vehicle.gvwr_kg) for vehicle in train)
    hours = policies.way_of(actor, train[0]).cold_after_h
    # The air makes no difference to whether it is cold.
    stood = core_air.standing(data.standing_h, heavy, data.driven, 0.0, hours)
    if data.shop_c is not None:
        stood = core_air.in_shop(data.shop_c.value)
    return {"cold": stood.cold, "words": core_air.stands_words(stood)}


def work_answer(actor: Actor, round_id: int, data: ReadingIn) -> dict[str, Any]:
    """What a reading as typed would mean, and what its gauge shows once that is done. Nothing is saved."""
    row = _lightly(actor, round_id)
    frame, line = Frame.of(row), line_of(row, data.wheel)
    gauge = gauges.gauge_of(_in_hand(actor, row, data.gauge))
    held = here_of(frame, line)
    goal = goal_of(frame, line, held, not (data.not_rolled or data.after), gauge)
    found = core.answer(goal, core_gauges.correct(gauge, data.pressure.value), frame.stands(line), frame.here)
    return vars(found) | {"shows_kpa": shows_of(frame, line, held, gauge, found.fill_kpa)}
