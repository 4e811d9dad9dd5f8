"""What is put right in a sealed round, and what came late for it. What was entered stays; the round as it stands is worked out
anew from the entries and what was put right since, and the ledger follows it."""

import datetime as dt
import uuid as uuids
from dataclasses import dataclass
from typing import Any
from zoneinfo import ZoneInfo

from django.db import transaction
from django.utils import timezone

from ballast.core import gauges as core_gauges
from ballast.core.refusal import Refusal
from ballast.core.working import Measure, Phrase, celsius, kpa, meters, number, plain, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.problems import Conflict
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Gauge
from ballast.server.rounds import ledger
from ballast.server.rounds.conditions import Frame
from ballast.server.rounds.models import Amendment, Late, Reading, Round, WheelNote
from ballast.server.rounds.schemas import AmendAirIn, AmendIn, LateIn
from ballast.server.rounds.services import LATE_DAYS, frozen, line_of, round_, says_of, written
from ballast.server.rounds.views import of_wheels, read_in, wheels_of, with_stamps


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
        stood = _standing_at(row, data.wheel, data.after)
        entry = Entry(
            data.uuid, data.wheel, data.after, data.pressure.typed, data.pressure.value,
            gauges.usable(actor, data.gauge) if data.gauge is not None else stood.gauge if stood else row.gauge,
            data.not_rolled,
        )  # fmt: skip
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
            _saw(actor, row, late.uuid, late.body["wheel"], late.body["says"], reason)
        else:
            body = late.body
            gauge = Gauge.objects.of(actor.workspace).get(pk=body["gauge"])
            entry = Entry(
                late.uuid, body["wheel"], body["after"], body["typed"], body["raw_kpa"], gauge, body["not_rolled"]
            )  # fmt: skip
            _put(actor, row, entry, reason)
        _work_out(row, row.opened_at)
    late.settled, late.settled_by, late.settled_at = "taken" if data.take else "left", actor.person, timezone.now()
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
    if entry.after and _standing_at(row, entry.wheel, False) is None:
        raise Conflict("It was not read in this round before air was added. Enter that reading first.", "wheel")
    true = core_gauges.correct(gauges.gauge_of(entry.gauge), entry.raw_kpa)
    Amendment.objects.create(
        uuid=entry.uuid, round=row, wheel=entry.wheel, after=entry.after, typed=entry.typed, raw_kpa=entry.raw_kpa,
        gauge=entry.gauge, corrected_kpa=true.kpa, uncertainty_kpa=true.uncertainty_kpa, outside_calibration=true.outside,
        not_rolled=entry.not_rolled, reason=reason, by=actor.person, at=timezone.now(),
    )  # fmt: skip


def _saw(actor: Actor, row: Round, uuid: uuids.UUID, wheel: str, says: dict[str, Any], reason: str) -> None:
    if not says:
        raise Refusal("Nothing is noted. Say what was seen.", "note")
    Amendment.objects.create(
        uuid=uuid, round=row, wheel=wheel, says=says, reason=reason, by=actor.person, at=timezone.now()
    )  # fmt: skip


def _aired(actor: Actor, row: Round, uuid: uuids.UUID, data: AmendAirIn, reason: str) -> None:
    """The round's own columns are what stands; as it was sealed it stays in its result."""
    assert row.sealed_at is not None
    read_at = data.read_at
    if read_at is not None and read_at.tzinfo is None:
        read_at = read_at.replace(tzinfo=ZoneInfo(row.time_zone)).astimezone(dt.UTC)
    given: dict[str, Any] = {
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
    if read_at is not None and read_at < row.sealed_at - dt.timedelta(days=LATE_DAYS):
        raise Refusal(f"That is more than {LATE_DAYS} days before it was sealed. Check the date.", "air.read_at")
    says = {k: [_kept(getattr(row, k)), _kept(v)] for k, v in changed.items()}
    for name, value in changed.items():
        setattr(row, name, value)
    if "elevation_m" in changed or "outside_c" in changed:
        # The pressure of the air was told with another air.
        row.station_kpa = None
    row.save()
    Amendment.objects.create(uuid=uuid, round=row, says=says, reason=reason, by=actor.person, at=timezone.now())


def _kept(value: Any) -> Any:
    return value.isoformat() if isinstance(value, dt.datetime) else value


# -- the round as it stands ------------------------------------------------------------------------------


def _readings(row: Round) -> list[Reading]:
    """A round's readings with those in their places that put them right; one of a wheel that was not read comes last."""
    found = list(row.readings.all())
    entered = row.amendments.exclude(gauge=None)
    for a in entered.select_related("gauge", "by").prefetch_related("gauge__calibrations"):
        of = _of(found, a.wheel, a.after)
        assert a.raw_kpa is not None
        assert a.corrected_kpa is not None
        assert a.uncertainty_kpa is not None
        new = Reading(
            pk=of.pk if of else max((r.pk for r in found), default=0) + 1, uuid=a.uuid, round=row, wheel=a.wheel,
            after=a.after, typed=a.typed, raw_kpa=a.raw_kpa, gauge=a.gauge, corrected_kpa=a.corrected_kpa,
            uncertainty_kpa=a.uncertainty_kpa, outside_calibration=a.outside_calibration,
            not_rolled=a.not_rolled if a.not_rolled is not None else bool(of and of.not_rolled),
            saw=of.saw if of else None, read_at=of.read_at if of else a.at, entered_by=a.by,
            received_at=of.received_at if of else a.at,
        )  # fmt: skip
        found = [new if r is of else r for r in found] if of else [*found, new]
    return found


def _of(readings: list[Reading], wheel: str, after: bool) -> Reading | None:
    """The reading of a wheel that counts: its newest first one, or the newest second one since."""
    own = [r for r in readings if r.wheel == wheel]
    firsts = [r for r in own if not r.after]
    if not after or not firsts:
        return firsts[-1] if firsts and not after else None
    seconds = [r for r in own if r.after and r.pk > firsts[-1].pk]
    return seconds[-1] if seconds else None


def _standing_at(row: Round, wheel: str, after: bool) -> Reading | None:
    return _of(_readings(row), wheel, after)


def _notes(row: Round) -> list[WheelNote]:
    since = [
        WheelNote(uuid=a.uuid, round=row, wheel=a.wheel, says=a.says, by=a.by, received_at=a.at)
        for a in row.amendments.filter(gauge=None).exclude(wheel="").select_related("by")
    ]
    return [*row.notes.all(), *since]


def _work_out(row: Round, since: dt.datetime) -> None:
    """The round as it stands by now, its rows of the ledger, and the rounds after it whose window reaches back to it."""
    readings, frame = _readings(row), Frame.of(row)
    view = with_stamps(row.result or {}) | read_in(row, frame) | of_wheels(wheels_of(frame, readings, _notes(row)))
    row.stands, row.summary = frozen(view), view["summary"]
    row.words = written(row, view["wheels"])
    row.save()
    ledger.rewrite(row, view["wheels"], {str(r.uuid): r.gauge_id for r in readings}, since)


# -- out -------------------------------------------------------------------------------------------------


def sealed(row: Round) -> dict[str, Any]:
    """A sealed round as it stands, as it was sealed, what was put right since, and what came late.

    Raises Conflict for an open one.
    """
    if row.result is None:
        raise Conflict("This round is open. Seal it first.")
    # Rounds of before something was asked for get what stands for nothing there.
    as_sealed = frozen(with_stamps(row.result))
    stands = frozen(with_stamps(row.stands)) if row.stands else as_sealed
    names = {line["code"]: line["name"] for line in row.sheet}
    was = {
        (w["code"], after): (w["after" if after else "before"] or {}).get("typed", "")
        for w in as_sealed["wheels"]
        for after in (False, True)
    }
    amendments = []
    for a in row.amendments.select_related("by", "gauge"):
        amendments.append(_amendment_out(a, names, was.get((a.wheel, a.after), "")))
        if a.gauge is not None:
            was[a.wheel, a.after] = a.typed
    late = row.late.select_related("by", "settled_by")
    held = {g.pk: g.label for g in Gauge.objects.filter(pk__in=[e.body.get("gauge") for e in late])}
    return stands | {
        "wheels": as_sealed["wheels"],
        "now": stands["wheels"],
        "amendments": amendments,
        "late": [_late_out(e, names, held) for e in late],
        "split": (row.split or {}).get("words", []),
        "parts": (row.split or {}).get("parts", []),
        "next_check_on": row.next_on,
        "next_check_words": row.next_why,
    }


def _amendment_out(a: Amendment, names: dict[str, str], was: str) -> dict[str, Any]:
    kind = "reading" if a.gauge is not None else "seen" if a.wheel else "air"
    words = [] if kind == "reading" else _seen_words(a.says or {}) if kind == "seen" else _air_words(a.says or {})
    return {
        "kind": kind, "wheel": a.wheel, "name": names.get(a.wheel, ""), "after": a.after, "typed": a.typed,
        "gauge": a.gauge.label if a.gauge else "", "was": was if kind == "reading" else "", "words": words,
        "raw_kpa": a.raw_kpa, "corrected_kpa": a.corrected_kpa, "reason": a.reason, "by": a.by.shown_name, "at": a.at,
    }  # fmt: skip


def _late_out(e: Late, names: dict[str, str], held: dict[int, str]) -> dict[str, Any]:
    body = e.body
    return {
        "uuid": e.uuid, "wheel": body["wheel"], "name": names.get(body["wheel"], ""), "note": e.note,
        "after": bool(body.get("after")), "typed": body.get("typed", ""),
        "words": _seen_words(body["says"]) if e.note else [], "gauge": held.get(body.get("gauge", 0), ""),
        "by": e.by.shown_name, "read_at": body.get("read_at"), "received_at": e.received_at, "settled": e.settled,
        "settled_by": e.settled_by.shown_name if e.settled_by else "",
    }  # fmt: skip


_TOLD = {"leak": "leak", "cap": "cap", "valve": "valve", "damage": "damage", "note": "note", "skipped": "not read",
         "inspected": "inspected"}  # fmt: skip


def _seen_words(says: dict[str, Any]) -> list[Phrase]:
    found = [say(f"{_TOLD[k]}: {plain(str(v) or 'none')}") for k, v in says.items() if k in _TOLD]
    found += [
        say(f"its own {k.removesuffix('_kpa')}: {{0}}", kpa(says[k]))
        for k in ("sensor_kpa", "display_kpa")
        if k in says
    ]
    return found + ([say("tread depths")] if says.get("tread") else [])


def _air_words(says: dict[str, Any]) -> list[Phrase]:
    def value(name: str, v: Any) -> Measure:
        if v is None:
            return number(0)
        return celsius(v) if name.endswith("_c") else meters(v) if name == "elevation_m" else number(v)

    names = {"outside_c": "outside", "shop_c": "shop", "elevation_m": "elevation", "standing_h": "stood, hours"}
    found = []
    for k, (was, now) in says.items():
        if k in ("opened_at", "driven"):
            found.append(say(plain(f"{'read at' if k == 'opened_at' else 'driven'}: {was} to {now}")))
        elif was is None:
            found.append(say(f"{names[k]}: {{0}}", value(k, now)))
        else:
            found.append(say(f"{names[k]}: {{0}} to {{1}}", value(k, was), value(k, now)))
    return found
