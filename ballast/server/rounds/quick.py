"""A whole round written on paper first, entered at once."""

import datetime as dt
import uuid as uuids

from django.db import transaction

from ballast.core import air as core_air
from ballast.core import gauges as core_gauges
from ballast.core import rounds as core
from ballast.core.refusal import Refusal, Refusals
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.gauges import services as gauges
from ballast.server.rounds import stored, value
from ballast.server.rounds.models import Reading, Round, WheelNote
from ballast.server.rounds.schemas import QuickIn, QuickWheelIn
from ballast.server.rounds.seal import seal
from ballast.server.rounds.services import line_among, opened, round_


@transaction.atomic
def quick(actor: Actor, rig_id: int, data: QuickIn) -> Round:
    """Opened, read line by line, sealed: all of it or nothing.

    Raises Refusals naming every line that cannot be used.
    """
    _when_read(data)
    row = opened(actor, rig_id, data.conditions, data.read_at)
    fill(actor, row, data.wheels)
    row = round_(actor, row.pk)
    locked = {w.code for w in value.of(row).wheels if w.locked}
    for i, given in enumerate(data.wheels):
        if given.after is not None and given.wheel in locked:
            raise Refusal(
                "It may have rolled far too low: air is not recorded before an inspection. Enter this wheel in the round.",
                f"wheels.{i}.after",
            )
    return seal(actor, row.pk, "", data.signed, data.without_target) if data.seal else row


def _when_read(data: QuickIn) -> None:
    """Raises Refusal for a time ahead, one so long ago that it belongs to no round any more, and for the air of now where it
    was read in that of then."""
    now, read_at, most = clock.now(), data.read_at, core.ENTERED_WITHIN_DAYS
    if read_at is None:
        return
    if not now - dt.timedelta(days=most) <= read_at <= now + dt.timedelta(minutes=5):
        raise Refusal(
            f"A sheet is entered when it was read, at most {most} days ago and not ahead. Check date and time.",
            "read_at",
        )
    if data.conditions.place_key and core_air.given(read_at, now, None).old:
        raise Refusal("The place tells the air of now, and it was read in that of then: enter it by hand.", "read_at")


@transaction.atomic
def fill(actor: Actor, row: Round, given: list[QuickWheelIn]) -> None:
    """Keeps the lines of a sheet in an open round. Raises Refusals naming every line that cannot be used."""
    actor.must(May.ROUNDS)
    lines, gauge = stored.lines(row), gauges.gauge_of(row.gauge)
    wrong: list[Refusal] = []
    readings: list[Reading] = []
    notes: list[WheelNote] = []
    for i, line in enumerate(given):
        try:
            line_among(lines, line.wheel)
            notes += _noted(actor, row, line)
            readings += _read(actor, row, line, gauge)
        except Refusal as no:
            wrong.append(Refusal(no.message, f"wheels.{i}.{no.field}"))
    if wrong:
        raise Refusals(wrong)
    Reading.objects.bulk_create(readings)
    WheelNote.objects.bulk_create(notes)


def _noted(actor: Actor, row: Round, line: QuickWheelIn) -> list[WheelNote]:
    skipped = line.skipped if line.skipped and line.before is None else None
    note = core.Note(leak=line.leak, cap=line.cap, note=line.note, skipped=skipped)
    if note == core.Note():
        return []
    says, now = stored.keep_note(note), clock.now()
    return [WheelNote(uuid=uuids.uuid4(), round=row, wheel=line.wheel, says=says, by=actor.person, received_at=now)]


def _read(actor: Actor, row: Round, line: QuickWheelIn, gauge: core_gauges.Gauge) -> list[Reading]:
    """The readings of a line. Raises Refusal beside the column that cannot be used."""
    now = clock.now()
    readings = []
    for field, entry in (("before", line.before), ("after", line.after)):
        if entry is None:
            continue
        if field == "after" and line.before is None:
            raise Refusal("What was left needs what was found first.", field)
        try:
            true = core_gauges.correct(gauge, entry.value)
        except Refusal as no:
            raise Refusal(no.message, field) from None
        readings.append(
            Reading(
                uuid=uuids.uuid4(), round=row, wheel=line.wheel, after=field == "after", typed=entry.typed,
                raw_kpa=entry.value, gauge=row.gauge, corrected_kpa=true.kpa, uncertainty_kpa=true.uncertainty_kpa,
                outside_calibration=true.outside, entered_by=actor.person, received_at=now,
            )
        )  # fmt: skip
    return readings
