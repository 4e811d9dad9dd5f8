"""Rounds as they are stored, to and from the core's values: the one place that knows their JSON and its version."""

import datetime as dt
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from pydantic import TypeAdapter

from ballast.core import air as core_air
from ballast.core import rounds as core
from ballast.core.gas import Air
from ballast.core.gauges import Gauge as GaugeValue
from ballast.core.lookback import Split
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Gauge
from ballast.server.rounds.models import Amendment, Reading, Round, RoundText, Take, WheelNote

# Of every JSON here. What is stored in an earlier one is brought up by a migration.
VERSION = 2
# A stored value; what only this file makes and reads.
Stored = dict[str, object]

# Where rows are named in it, and of what: who takes a workspace elsewhere gives them their new numbers.
_READING = {
    "by_id": "accounts.Person", "gauge_id": "gauges.Gauge", "order": "order", "uuid": "uuid", "saw": "uuid",
}  # fmt: skip
REFERS_WORDS = {"value[].rig": "rigs.Rig", "value[].tire": "rigs.Tire", "value[].leak.tire": "rigs.Tire"}
REFERS_LINES = {"value[].rig": "rigs.Rig", "value[].tire": "rigs.Tire", "value[].last.gauge": "gauges.Gauge"}
REFERS_NOTE = {"display_gauge": "gauges.Gauge"}
REFERS_LATE = {"gauge": "gauges.Gauge", "says.display_gauge": "gauges.Gauge"}
REFERS_ROUND = {
    "value.id": "rounds.Round", "value.rig": "rigs.Rig", "value.gauge": "gauges.Gauge",
    "value.opened_by_id": "accounts.Person", "value.takes[].person": "accounts.Person",
    "value.takes[].gauge": "gauges.Gauge", "value.wheels[].rig": "rigs.Rig",
    "value.wheels[].taken_by_id": "accounts.Person", "value.wheels[].seen.display_gauge": "gauges.Gauge",
} | {
    f"value.wheels[].{which}.{field}": of for which in ("before", "after", "others[]") for field, of in _READING.items()
}  # fmt: skip

_LINES: TypeAdapter[tuple[core.WheelLine, ...]] = TypeAdapter(tuple[core.WheelLine, ...])
_ROUND: TypeAdapter[core.Round] = TypeAdapter(core.Round)
_WORDS: TypeAdapter[tuple[core.LastWord, ...]] = TypeAdapter(tuple[core.LastWord, ...])
_SPLIT: TypeAdapter[Split] = TypeAdapter(Split)
_NOTE: TypeAdapter[core.Note] = TypeAdapter(core.Note)


def _kept(of: TypeAdapter[Any], value: Any) -> Stored:
    return {"version": VERSION, "value": of.dump_python(value, mode="json")}


def _read(of: TypeAdapter[Any], stored: Stored) -> Any:
    if stored["version"] != VERSION:
        raise ValueError(f"A round is stored in version {stored['version']}; this is {VERSION}. Run the migrations.")
    return of.validate_python(stored["value"])


# -- the text of a round ---------------------------------------------------------------------------------


def keep_lines(lines: Sequence[core.WheelLine]) -> Stored:
    return _kept(_LINES, tuple(lines))


def lines(row: Round) -> tuple[core.WheelLine, ...]:
    """The wheels of a round in walking order, as they were taken down when it was opened; held against an open ground plan
    where that was kept."""
    read: tuple[core.WheelLine, ...] = _read(_LINES, row.text.sheet)
    if not row.plan_kept:
        return read
    return tuple(line if line.on_ground is None else replace(line, aim=line.on_ground) for line in read)


def keep_round(value: core.Round) -> Stored:
    return _kept(_ROUND, value)


def as_sealed(text: RoundText) -> core.Round | None:
    """A round as it stood when it was sealed; None: it is not sealed."""
    return None if text.result is None else _read(_ROUND, text.result)


def as_it_stands(text: RoundText) -> core.Round | None:
    """A sealed round as it stands since something in it was put right, else as it was sealed; None: it is not sealed."""
    return as_sealed(text) if text.stands is None else _read(_ROUND, text.stands)


def check(text: RoundText) -> None:
    """Raises ValueError where the text of a round is none."""
    _read(_LINES, text.sheet)
    as_sealed(text)
    as_it_stands(text)
    split(text)


def keep_split(value: Split) -> Stored:
    return _kept(_SPLIT, value)


def split(text: RoundText) -> Split | None:
    return None if text.split is None else _read(_SPLIT, text.split)


# -- beside it, at hand for lists ------------------------------------------------------------------------


def keep_words(words: Sequence[core.LastWord]) -> Stored:
    return _kept(_WORDS, tuple(words))


def words(stored: Stored | None) -> tuple[core.LastWord, ...]:
    """What a round said last of every wheel; of one that is open nothing."""
    return () if stored is None else _read(_WORDS, stored)


def keep_dawns(dawns: Iterable[core_air.Ahead]) -> list[Stored]:
    return [{"c": d.air.temperature_c, "days": d.days} for d in dawns]


# -- entries ---------------------------------------------------------------------------------------------


def keep_note(note: core.Note) -> Stored:
    form: Stored = _NOTE.dump_python(note, exclude_none=True)
    return form


def note_of(says: Stored) -> core.Note:
    return _NOTE.validate_python(says)


def noted(rows: Iterable[WheelNote]) -> list[core.Noted]:
    return [core.Noted(r.wheel, note_of(r.says), r.by.shown_name, r.received_at) for r in rows]


def reading(row: Reading) -> core.Reading:
    return core.Reading(
        uuid=str(row.uuid), typed=row.typed, raw_kpa=row.raw_kpa, corrected_kpa=row.corrected_kpa,
        uncertainty_kpa=row.uncertainty_kpa, gauge=row.gauge.label, not_rolled=row.not_rolled,
        by=row.entered_by.shown_name, by_id=row.entered_by_id, at=row.read_at or row.received_at, wheel=row.wheel,
        after=row.after, gauge_id=row.gauge_id, outside=row.outside_calibration, saw=str(row.saw) if row.saw else None,
        order=row.pk, received_at=row.received_at,
    )  # fmt: skip


def noted_since(rows: Iterable[Amendment]) -> list[core.Noted]:
    """What was said to have been seen after a round was sealed."""
    return [core.Noted(r.wheel, note_of(r.says or {}), r.by.shown_name, r.at) for r in rows]


def put_right(row: Amendment, of: core.Reading | None, order: int) -> core.Reading:
    """An amended reading in the place of another, `of`; without one it is one more, `order` in turn."""
    assert row.gauge is not None
    assert row.raw_kpa is not None
    assert row.corrected_kpa is not None
    assert row.uncertainty_kpa is not None
    said = row.not_rolled if row.not_rolled is not None else bool(of and of.not_rolled)
    return core.Reading(
        uuid=str(row.uuid), typed=row.typed, raw_kpa=row.raw_kpa, corrected_kpa=row.corrected_kpa,
        uncertainty_kpa=row.uncertainty_kpa, gauge=row.gauge.label, not_rolled=said, by=row.by.shown_name,
        by_id=row.by_id, at=of.at if of else row.at, wheel=row.wheel, after=row.after, gauge_id=row.gauge.pk,
        outside=row.outside_calibration, saw=of.saw if of else None, order=of.order if of else order,
        received_at=of.received_at if of else row.at,
    )  # fmt: skip


@dataclass(frozen=True)
class Changed:
    """A value of a round's air or time that was put right; None: it was not known."""

    was: float | str | None
    now: float | str


_CHANGES: TypeAdapter[dict[str, Changed]] = TypeAdapter(dict[str, Changed])


def keep_changes(changes: dict[str, Changed]) -> Stored:
    form: Stored = _CHANGES.dump_python(changes, mode="json")
    return form


def changes_of(says: Stored) -> dict[str, Changed]:
    return _CHANGES.validate_python(says)


def change(was: object, now: object) -> Changed:
    """A column's values before and after."""

    def of(v: object) -> float | str | None:
        return v.isoformat() if isinstance(v, dt.datetime) else v if isinstance(v, float) or v is None else str(v)

    return Changed(of(was), of(now) or 0.0)


def taken(rows: Iterable[Take]) -> tuple[core.Taken, ...]:
    return tuple(core.Taken(t.person_id, t.person.shown_name, t.gauge_id, t.gauge.label, tuple(t.wheels)) for t in rows)


@dataclass(frozen=True)
class LateReading:
    """A reading that came for a sealed round: what it takes to take it in."""

    wheel: str
    after: bool
    typed: str
    raw_kpa: float
    gauge: int
    not_rolled: bool
    read_at: dt.datetime | None


_LATE_READING: TypeAdapter[LateReading] = TypeAdapter(LateReading)


def keep_late(body: LateReading | tuple[str, core.Note]) -> Stored:
    """A late reading, or the wheel and the words of a late note."""
    if isinstance(body, tuple):
        return {"wheel": body[0], "says": keep_note(body[1])}
    form: Stored = _LATE_READING.dump_python(body, mode="json")
    return form


def late_reading(body: Stored) -> LateReading:
    return _LATE_READING.validate_python(body)


def late_note(body: Stored) -> tuple[str, core.Note]:
    return str(body["wheel"]), _NOTE.validate_python(body["says"])


# -- what it is read in ----------------------------------------------------------------------------------


def _standing(row: Round) -> core_air.Standing:
    """How the rig stands: in a heated shop its tires are as warm as the shop, however long."""
    if row.shop_c is not None:
        return core_air.in_shop(row.shop_c)
    return core_air.standing(row.standing_h, row.heavy, row.driven, row.outside_c, row.cold_after_h)  # type: ignore[arg-type]


def conditions(row: Round, others: Iterable[Gauge] = ()) -> core.Conditions:
    """What the wheels of a round are read in, with its gauge and the others that its readings were taken with."""
    # A round of before dawns were kept knows the coming one alone.
    dawns = row.dawns or ([{"c": row.dawn_c, "days": 1.0}] if row.dawn_c is not None else [])
    in_hand: dict[int, GaugeValue] = {
        g.pk: gauges.gauge_of(g) for g in {g.pk: g for g in (row.gauge, *others)}.values()
    }
    return core.Conditions(
        at=row.opened_at,
        here=row.here,
        morning=None if row.morning_c is None else Air(row.morning_c, row.elevation_m),
        dawns=tuple(core_air.Ahead(Air(d["c"], row.elevation_m), d["days"]) for d in dawns),
        temperature=row.temperature,  # type: ignore[arg-type]
        standing=_standing(row),
        rolled=row.rolled,
        sunny=row.sunny,  # type: ignore[arg-type]
        gauge_id=row.gauge_id,
        gauges=in_hand,
        still_open=row.sealed_at is None,
    )
