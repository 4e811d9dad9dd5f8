"""What is entered at the wheels of a round: readings and notes, each stored once, and what it changed.

It is asked for as often as everybody together types, so its statements stand ready and it reads nothing but the round's own.
"""

import datetime as dt
import uuid as uuids
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, TypeVar

from django.db import transaction
from django.db.models import Manager, QuerySet, Subquery

from ballast.core import gauges as core_gauges
from ballast.core import rounds as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import Person
from ballast.server.edge import clock
from ballast.server.edge.lately import Lately
from ballast.server.edge.problems import Conflict, Denied
from ballast.server.edge.ready import Keeping, Ready, apart, hang
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Gauge
from ballast.server.rounds import marks, stored, value
from ballast.server.rounds.models import Late, Reading, Round, WheelNote
from ballast.server.rounds.schemas import ReadingIn, SeenIn, WheelNoteIn
from ballast.server.rounds.services import TAKES, line_of, must_be_open

Entry = TypeVar("Entry")

_ROUND = Ready[Round](
    lambda workspace, pk: Round.objects.filter(rig__workspace=workspace, pk=pk).select_related("gauge", "text")
)
_kept = Keeping(Reading)
_SENT = Ready[Reading](lambda uuid: Reading.every.filter(uuid=uuid))
_READINGS = Ready[Reading](lambda pk, wheels: Reading.objects.filter(round=pk, wheel__in=wheels).order_by("id"))
# The wheels of an entry, and of those that came into its round since.
_READ_SINCE = Ready[str](lambda uuid: _since(Reading.every, uuid))
_NOTED_SINCE = Ready[str](lambda uuid: _since(WheelNote.objects, uuid))
_GAUGES = Ready[Gauge](lambda pks: Gauge.objects.filter(pk__in=pks))
_PEOPLE = Ready[Person](lambda pks: Person.objects.filter(pk__in=pks))
_NOTES = Ready[WheelNote](
    lambda pk, wheels: WheelNote.objects.filter(round=pk, wheel__in=wheels).select_related("by").order_by("id")
)


def _since(rows: Manager[Any], uuid: uuids.UUID) -> QuerySet[Any, Any]:
    one = rows.filter(uuid=uuid)
    later = rows.filter(round=Subquery(one.values("round")), pk__gte=Subquery(one.values("pk")))
    return later.order_by("pk").values_list("wheel", flat=True)


@dataclass(frozen=True)
class Entered(core.State):
    """A round's state by an entry, its wheels those that it can have changed; and whether the round ended meanwhile."""

    id: int
    sealed_at: dt.datetime | None
    abandoned_at: dt.datetime | None
    # The round's `marks` before it and with it: a page that knew all before knows all now. Empty: the round ended.
    mark_before: str
    mark: str


def _lightly(actor: Actor, round_id: int) -> Round:
    """A round with its gauge and takes alone at hand: all that a reading asks of it. Raises DoesNotExist.

    What comes for a round that was abandoned meanwhile is kept with it: it may be brought back.
    """
    row = _ROUND.first(actor.workspace.pk, round_id)
    if row is None:
        raise Round.DoesNotExist
    takes = TAKES(round_id)
    hang([row], "takes", takes, "round")
    gauges.compared([row.gauge, *(t.gauge for t in takes)])
    return row


def _each(actor: Actor, row: Round, lines: list[core.WheelLine]) -> list[core.Wheel]:
    """Some of its wheels, each by its own readings and notes as they are by now."""
    codes = [line.code for line in lines]
    readings = _READINGS(row.pk, codes)
    hang([row], "readings", readings, "round")
    hang([row], "notes", _NOTES(row.pk, codes), "round")
    takes = row.takes.all()
    in_hand = {gauge.pk: gauge for gauge in (row.gauge, *(t.gauge for t in takes))}
    in_hand |= {g.pk: g for g in gauges.compared(_GAUGES(list({r.gauge_id for r in readings} - in_hand.keys())))}
    people = {actor.person.pk: actor.person} | {t.person_id: t.person for t in takes}
    people |= {p.pk: p for p in _PEOPLE(list({r.entered_by_id for r in readings} - people.keys()))}
    for reading in readings:
        reading.gauge, reading.entered_by = in_hand[reading.gauge_id], people[reading.entered_by_id]
    return value.each(row, value.conditions(row), lines)


@dataclass(frozen=True)
class _Typed:
    """A round in which somebody types: its row as `_lightly` reads it, and of its wheels, each by itself, those of which it is
    known how they are at a mark."""

    mark: marks.Mark | None
    row: Round
    each: list[core.Wheel]


# With the next reading only what changed since is looked at, by it or by an entry that another process kept: each has its own.
_typed_in = Lately[_Typed](200)


def _at(actor: Actor, round_id: int, mark: marks.Mark | None) -> _Typed:
    """A round at a mark; its row is for all threads, and nothing is hung on it."""
    lately = _typed_in.get(round_id)
    touched = _touched(lately.mark, mark) if lately else None
    if lately is None or touched is None:
        return _Typed(mark, _lightly(actor, round_id), [])
    return _Typed(mark, lately.row, [w for w in lately.each if w.code not in touched])


def _touched(then: marks.Mark | None, now: marks.Mark | None) -> set[str] | None:
    """The wheels that entries between two marks can have changed; None: anything can be another."""
    if not then or not now or (then.around, then.withdrawn) != (now.around, now.withdrawn):
        return None
    touched: set[str] = set()
    for newest, newer, since in ((then.reading, now.reading, _READ_SINCE), (then.note, now.note, _NOTED_SINCE)):
        if newest == newer:
            continue
        # Of a round in which there was none, or which was restored since.
        entries = since(newest) if newest else []
        if not entries:
            return None
        touched |= {code for wheel in entries[1:] for code in core.touched_by(wheel)}
    return touched


def _as_it_is(actor: Actor, known: _Typed, touched: tuple[str, ...], now: marks.Mark | None) -> core.State:
    """An open round after an entry that can have changed the wheels that it touched."""
    own, lines = apart(known.row), stored.lines(known.row)
    stand = {w.code: w for w in known.each if w.code not in touched}
    stand |= {w.code: w for w in _each(actor, own, [line for line in lines if line.code not in stand])}
    each = [stand[line.code] for line in lines]
    if now:
        _typed_in.keep(own.pk, _Typed(now, known.row, each))
    return value.together(own, each)


def _in_hand(actor: Actor, row: Round, asked: int | None) -> Gauge:
    """The gauge of a reading: the one that was named, else the person's own in this round, else the round's."""
    if asked is not None and asked != row.gauge_id:
        return gauges.usable(actor, asked)
    own = next((t.gauge for t in row.takes.all() if t.person_id == actor.person.pk), None)
    return row.gauge if asked is not None or own is None else own


def _enter(actor: Actor, round_id: int, keep: Callable[[Actor, Round, Entry], str], entry: Entry) -> Entered:
    """Keeps an entry of a round by `keep`, which gives its wheel, and tells what that changed: of the wheels only those whose
    word hangs on that one. A round that was sealed stands as it is.
    """
    actor.must(May.ROUNDS)
    # Looked at before others have to wait for it, and once more where it changed since: the mark says so.
    known = _typed_in.get(round_id) or _at(actor, round_id, marks.of(actor, round_id))
    with transaction.atomic():
        before = marks.of(actor, round_id)
        if not before or before != known.mark:
            known = _at(actor, round_id, before)
        row = known.row
        wheel = keep(actor, row, entry)
        now = marks.of(actor, round_id)
    touched = core.touched_by(wheel)
    stands: core.State | None = stored.as_it_stands(row.text)
    if stands is None:
        stands = _as_it_is(actor, known, touched, now)
    return Entered(
        wheels=tuple(w for w in stands.wheels if w.code in touched),
        findings=stands.findings,
        open_matters=stands.open_matters,
        summary=stands.summary,
        id=row.pk,
        sealed_at=row.sealed_at,
        abandoned_at=row.abandoned_at,
        mark_before=str(before or ""),
        mark=str(now or ""),
    )


def read(actor: Actor, round_id: int, uuid: uuids.UUID, data: ReadingIn) -> Entered:
    """Stores a reading, once, however often it is sent; of a round that is sealed by now beside it, as come late.

    Raises Conflict when the UUID was used for another value, or the tire waits for inspection.
    """
    return _enter(actor, round_id, _keep_reading, (uuid, data))


def _keep_reading(actor: Actor, row: Round, entry: tuple[uuids.UUID, ReadingIn]) -> str:
    uuid, data = entry
    if there := _SENT.first(uuid):
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
        return data.wheel
    line = line_of(row, data.wheel)
    gauge = _in_hand(actor, row, data.gauge)
    if row.sealed_at is not None:
        late = stored.LateReading(
            data.wheel, data.after, data.pressure.typed, data.pressure.value, gauge.pk, data.not_rolled, data.read_at
        )
        _keep_late(actor, row, uuid, stored.keep_late(late), note=False)
        return data.wheel
    corrected = core_gauges.correct(gauges.gauge_of(gauge), data.pressure.value)
    if data.after:
        stands = _as_it_stands(actor, row, line)
        if stands.before is None:
            raise Conflict("Read it before adding air first.", "after")
        if stands.locked:
            raise Conflict(
                "It may have rolled far too low: no air before an inspection is recorded. If it has not rolled like this, "
                "say so with its first reading.",
                "after",
            )
    _kept(
        Reading(
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
    )
    return data.wheel


def _as_it_stands(actor: Actor, row: Round, line: core.WheelLine) -> core.Wheel:
    """A wheel of an open round, stopped where the other of its duals ran low."""
    own, lines = apart(row), [other for other in stored.lines(row) if other.code in core.touched_by(line.code)]
    stands = value.together(own, _each(actor, own, lines))
    return next(w for w in stands.wheels if w.code == line.code)


def take_back(actor: Actor, round_id: int, uuid: uuids.UUID) -> Entered:
    """Takes a reading of an open round back, as its own person; done twice is as once.

    Raises Denied for somebody else's, Conflict in a sealed round, DoesNotExist where there is none.
    """
    return _enter(actor, round_id, _withdraw, uuid)


def _withdraw(actor: Actor, row: Round, uuid: uuids.UUID) -> str:
    reading = Reading.every.select_related("entered_by").get(round=row, uuid=uuid)
    if reading.entered_by_id != actor.person.pk:
        raise Denied(f"{reading.entered_by.shown_name} entered this reading. Read the wheel again instead.")
    if reading.withdrawn_at is None:
        must_be_open(row)
        reading.withdrawn_at = clock.now()
        reading.save()
    return reading.wheel


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


def note(actor: Actor, round_id: int, uuid: uuids.UUID, data: WheelNoteIn) -> Entered:
    """Keeps what was seen at a wheel, once, however often it is sent, and gives what it changed. Raises Conflict as `store` does."""
    return _enter(actor, round_id, _keep_note, (uuid, data))


def _keep_note(actor: Actor, row: Round, entry: tuple[uuids.UUID, WheelNoteIn]) -> str:
    uuid, data = entry
    line_of(row, data.wheel)
    says = says_of(actor, row, data)
    if there := WheelNote.objects.filter(uuid=uuid).first():
        if (there.round_id, there.wheel, stored.note_of(there.says)) != (row.pk, data.wheel, says):
            raise Conflict("This note is stored already with other words. Send the new one under its own UUID.", "uuid")
        return data.wheel
    if row.sealed_at is not None:
        _keep_late(actor, row, uuid, stored.keep_late((data.wheel, says)), note=True)
        return data.wheel
    WheelNote.objects.create(
        uuid=uuid, round=row, wheel=data.wheel, says=stored.keep_note(says), by=actor.person, received_at=clock.now()
    )
    return data.wheel


def _keep_late(actor: Actor, row: Round, uuid: uuids.UUID, body: stored.Stored, note: bool) -> None:
    """Keeps an entry that came for a sealed round beside it, once, however often it is sent."""
    late, made = Late.objects.get_or_create(
        uuid=uuid,
        defaults={"round": row, "body": body, "note": note, "by": actor.person, "received_at": clock.now()},
    )
    if not made and (late.round_id, late.body) != (row.pk, body):
        raise Conflict("This entry is kept already with another value. Send the new one under its own UUID.", "uuid")


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
