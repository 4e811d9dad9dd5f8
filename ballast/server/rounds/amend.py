"""What is put right in a sealed round, and what came late for it. What was entered stays; the round as it stands is worked out
anew from the entries and what was put right since, and the ledger follows it."""

import datetime as dt
import uuid as uuids
from dataclasses import dataclass
from zoneinfo import ZoneInfo

from django.db import transaction

from ballast.core import gauges as core_gauges
from ballast.core import rounds as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Gauge
from ballast.server.rounds import ledger, stored, value
from ballast.server.rounds.entries import says_of
from ballast.server.rounds.models import Amendment, Round
from ballast.server.rounds.schemas import AmendAirIn, AmendIn, LateIn
from ballast.server.rounds.services import line_of, round_


@dataclass(frozen=True)
class Entry:
    """A reading to be put in the place of another, or beside those that are there."""

    uuid: uuids.UUID
    wheel: str
    after: bool
    typed: str
    raw_kpa: float
    gauge: Gauge
    not_rolled: bool | None


@transaction.atomic
def amend(actor: Actor, round_id: int, data: AmendIn) -> Round:
    """Puts a reading, what was seen at a wheel, or the air of a sealed round right; what follows is worked out again.

    Raises Conflict for an open round (read it again there) and for a second reading where there is no first; Refusal for an
    amendment of nothing.
    """
    row = _of_sealed(actor, round_id)
    if row.amendments.filter(uuid=data.uuid).exists():
        return row
    since = row.opened_at
    if data.pressure is not None:
        gauge = gauges.usable(actor, data.gauge) if data.gauge is not None else _gauge_of(row, data.wheel, data.after)
        entry = Entry(
            data.uuid, data.wheel, data.after, data.pressure.typed, data.pressure.value, gauge, data.not_rolled
        )
        _put(actor, row, entry, data.reason)
    elif data.seen is not None:
        line_of(row, data.wheel)
        _saw(actor, row, data.uuid, data.wheel, says_of(actor, row, data.seen), data.reason)
    elif data.air is not None:
        _aired(actor, row, data.uuid, data.air, data.reason)
    else:
        raise Refusal("Nothing is put right. Give a reading, what was seen, or the air.", "pressure")
    _work_out(row, min(since, row.opened_at))
    return round_(actor, round_id)


@transaction.atomic
def settle_late(actor: Actor, round_id: int, uuid: uuids.UUID, data: LateIn) -> Round:
    """Takes an entry that came late into its round, as an amendment by whoever decides it, or leaves it out.

    What was left out can still be taken in. Raises DoesNotExist for an entry of another round.
    """
    row = _of_sealed(actor, round_id)
    late = row.late.get(uuid=uuid)
    if late.settled == "taken":
        return row
    if data.take:
        reason = data.reason or f"Came late, from {late.by.shown_name}"
        if late.note:
            _saw(actor, row, late.uuid, *stored.late_note(late.body), reason)
        else:
            came = stored.late_reading(late.body)
            gauge = Gauge.objects.of(actor.workspace).get(pk=came.gauge)
            entry = Entry(late.uuid, came.wheel, came.after, came.typed, came.raw_kpa, gauge, came.not_rolled)
            _put(actor, row, entry, reason)
        _work_out(row, row.opened_at)
    late.settled, late.settled_by, late.settled_at = "taken" if data.take else "left", actor.person, clock.now()
    late.save()
    return round_(actor, round_id)


def _of_sealed(actor: Actor, round_id: int) -> Round:
    actor.must(May.ROUNDS)
    row = round_(actor, round_id)
    if row.sealed_at is None:
        raise Conflict("This round is open: read the wheel again.", "wheel")
    return row


def _put(actor: Actor, row: Round, entry: Entry, reason: str) -> None:
    line_of(row, entry.wheel)
    if entry.after and _counts(_readings(row), entry.wheel, False) is None:
        raise Conflict("It was not read in this round before air was added. Enter that reading first.", "wheel")
    true = core_gauges.correct(gauges.gauge_of(entry.gauge), entry.raw_kpa)
    Amendment.objects.create(
        uuid=entry.uuid, round=row, wheel=entry.wheel, after=entry.after, typed=entry.typed, raw_kpa=entry.raw_kpa,
        gauge=entry.gauge, corrected_kpa=true.kpa, uncertainty_kpa=true.uncertainty_kpa, outside_calibration=true.outside,
        not_rolled=entry.not_rolled, reason=reason, by=actor.person, at=clock.now(),
    )  # fmt: skip


def _saw(actor: Actor, row: Round, uuid: uuids.UUID, wheel: str, says: core.Note, reason: str) -> None:
    Amendment.objects.create(
        uuid=uuid, round=row, wheel=wheel, says=stored.keep_note(says), reason=reason, by=actor.person, at=clock.now()
    )  # fmt: skip


def _aired(actor: Actor, row: Round, uuid: uuids.UUID, data: AmendAirIn, reason: str) -> None:
    """The round's own columns are what stands; as it was sealed it stays in its result."""
    assert row.sealed_at is not None
    read_at = data.read_at
    if read_at is not None and read_at.tzinfo is None:
        read_at = read_at.replace(tzinfo=ZoneInfo(row.time_zone)).astimezone(dt.UTC)
    given = {
        "opened_at": read_at,
        "outside_c": data.outside_c.value if data.outside_c else None,
        "elevation_m": data.elevation_m.value if data.elevation_m else None,
        "standing_h": data.standing_h,
        "driven": data.driven,
        "shop_c": data.shop_c.value if data.shop_c else None,
    }
    changed = {k: v for k, v in given.items() if v is not None and v != getattr(row, k)}
    if not changed:
        raise Refusal("The air and the time are so already. Change one of them.", "air")
    if read_at is not None and read_at > row.sealed_at:
        raise Refusal("It was sealed by then. Give the time at which it was read.", "air.read_at")
    if read_at is not None and read_at < row.sealed_at - dt.timedelta(days=core.ENTERED_WITHIN_DAYS):
        most = core.ENTERED_WITHIN_DAYS
        raise Refusal(f"That is more than {most} days before it was sealed. Check the date.", "air.read_at")
    says = stored.keep_changes({k: stored.change(getattr(row, k), v) for k, v in changed.items()})
    for name, given_now in changed.items():
        setattr(row, name, given_now)
    if "elevation_m" in changed or "outside_c" in changed:
        # The pressure of the air was told with another air.
        row.station_kpa = None
    row.save()
    Amendment.objects.create(uuid=uuid, round=row, says=says, reason=reason, by=actor.person, at=clock.now())


# -- the round as it stands ------------------------------------------------------------------------------


def _readings(row: Round) -> list[core.Reading]:
    """A round's readings with those in their places that put them right; one of a wheel that was not read comes last."""
    readings = [stored.reading(r) for r in row.readings.all()]
    for a in _entered(row):
        of = _counts(readings, a.wheel, a.after)
        new = stored.put_right(a, of, max((r.order for r in readings), default=0) + 1)
        readings = [new if r is of else r for r in readings] if of else [*readings, new]
    return readings


def _entered(row: Round) -> list[Amendment]:
    """Readings that were put right or added since."""
    entered = row.amendments.exclude(gauge=None)
    return list(entered.select_related("gauge", "by").prefetch_related("gauge__calibrations"))


def _counts(readings: list[core.Reading], wheel: str, after: bool) -> core.Reading | None:
    """The reading of a wheel that counts: its newest first one, or the newest second one since."""
    return core.counting([r for r in readings if r.wheel == wheel])[after]


def _gauge_of(row: Round, wheel: str, after: bool) -> Gauge:
    """The gauge of the reading that is put right, else the round's."""
    stood = _counts(_readings(row), wheel, after)
    known = [*(r.gauge for r in row.readings.all()), *(a.gauge for a in _entered(row) if a.gauge)]
    return next((g for g in known if stood and g.pk == stood.gauge_id), row.gauge)


def _work_out(row: Round, since: dt.datetime) -> None:
    """The round as it stands by now, its rows of the ledger, and the rounds after it whose window reaches back to it."""
    entered = [a.gauge for a in _entered(row) if a.gauge]
    at = stored.conditions(row, (*(r.gauge for r in row.readings.all()), *entered))
    seen = row.amendments.filter(gauge=None).exclude(wheel="").select_related("by")
    notes = [*stored.noted(row.notes.all()), *stored.noted_since(seen)]
    lines = stored.lines(row)
    mended = value.put_right(row, core.state(at, lines, _readings(row), notes), at)
    row.text.stands, row.summary = stored.keep_round(mended), mended.in_short
    row.text.save()
    row.last_words = stored.keep_words(core.last_words(mended.wheels, {line.code: line.tire for line in lines}))
    row.save()
    ledger.rewrite(row, mended.wheels, since)
