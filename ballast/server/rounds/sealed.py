"""A sealed round to look back on: as it stands, as it was sealed, what was put right since, and what came late."""

import datetime as dt
from collections.abc import Callable
from dataclasses import dataclass

from ballast.core import lookback as core_lookback
from ballast.core import rounds as core
from ballast.core.working import Measure, Phrase, celsius, kpa, meters, number, plain, say
from ballast.server.edge.problems import Conflict
from ballast.server.gauges.models import Gauge
from ballast.server.rounds import stored
from ballast.server.rounds.models import Late, Round
from ballast.server.rounds.schemas import CameLate, Mended


@dataclass(frozen=True)
class Sealed(core.Round):
    """`wheels` are as they were sealed; `now`, and all else here, as they stand since something was put right."""

    now: tuple[core.Wheel, ...] = ()
    amendments: tuple[Mended, ...] = ()
    late: tuple[CameLate, ...] = ()
    split: tuple[Phrase, ...] = ()
    parts: tuple[core_lookback.Part, ...] = ()
    next_check_on: dt.date | None = None
    next_check_words: str = ""


def of(row: Round) -> Sealed:
    """A sealed round. Raises Conflict for an open one."""
    as_sealed, stands = stored.as_sealed(row.text), stored.as_it_stands(row.text)
    if as_sealed is None or stands is None:
        raise Conflict("This round is open. Seal it first.")
    names = {line.code: line.name for line in stored.lines(row)}
    split = stored.split(row.text)
    fields = vars(stands) | {"wheels": as_sealed.wheels, "now": stands.wheels}
    return Sealed(
        **fields,
        amendments=_amendments(row, as_sealed, names),
        late=_late(row, names),
        split=split.words if split else (),
        parts=split.parts if split else (),
        next_check_on=row.next_on,
        next_check_words=row.next_why,
    )


def _amendments(row: Round, as_sealed: core.Round, names: dict[str, str]) -> tuple[Mended, ...]:
    was = {
        (w.code, after): r.typed if (r := w.after if after else w.before) else ""
        for w in as_sealed.wheels
        for after in (False, True)
    }
    amendments = []
    for a in row.amendments.select_related("by", "gauge"):
        of_reading = a.gauge is not None
        words: list[Phrase] = []
        if not of_reading:
            words = seen_words(stored.note_of(a.says or {})) if a.wheel else _air_words(stored.changes_of(a.says or {}))
        amendments.append(
            Mended(
                kind="reading" if of_reading else "seen" if a.wheel else "air", wheel=a.wheel,
                name=names.get(a.wheel, ""), after=a.after, typed=a.typed, gauge=a.gauge.label if a.gauge else "",
                was=was.get((a.wheel, a.after), "") if of_reading else "", words=tuple(words), raw_kpa=a.raw_kpa,
                corrected_kpa=a.corrected_kpa, reason=a.reason, by=a.by.shown_name, at=a.at,
            )
        )  # fmt: skip
        if of_reading:
            was[a.wheel, a.after] = a.typed
    return tuple(amendments)


def _late(row: Round, names: dict[str, str]) -> tuple[CameLate, ...]:
    rows = list(row.late.select_related("by", "settled_by"))
    labels = dict(Gauge.objects.filter(pk__in=[e.body.get("gauge") for e in rows]).values_list("pk", "label"))
    return tuple(_came(e, names, labels) for e in rows)


def _came(e: Late, names: dict[str, str], labels: dict[int, str]) -> CameLate:
    reading = None if e.note else stored.late_reading(e.body)
    wheel, says = stored.late_note(e.body) if reading is None else (reading.wheel, core.Note())
    return CameLate(
        uuid=e.uuid, wheel=wheel, name=names.get(wheel, ""), note=e.note, after=bool(reading and reading.after),
        typed=reading.typed if reading else "", words=tuple(seen_words(says)),
        gauge=labels.get(reading.gauge, "") if reading else "", by=e.by.shown_name,
        read_at=reading.read_at if reading else None, received_at=e.received_at, settled=e.settled,
        settled_by=e.settled_by.shown_name if e.settled_by else "",
    )  # fmt: skip


def seen_words(says: core.Note) -> list[Phrase]:
    """What a note adds, in words."""
    words = (
        ("leak", says.leak), ("cap", says.cap), ("valve", says.valve), ("damage", says.damage), ("note", says.note),
        ("not read", says.skipped), ("inspected", says.inspected),
    )  # fmt: skip
    phrases = [say(f"{what}: {plain(said or 'none')}") for what, said in words if said is not None]
    for what, shown in (("sensor", says.sensor_kpa), ("display", says.display_kpa)):
        if shown is not None:
            phrases.append(say(f"its own {what}: {{0}}", kpa(shown)))
    return phrases + ([say("tread depths")] if says.tread else [])


_AIR: dict[str, tuple[str, Callable[[float], Measure] | None]] = {
    "outside_c": ("outside", celsius), "shop_c": ("shop", celsius), "elevation_m": ("elevation", meters),
    "standing_h": ("stood, hours", number), "opened_at": ("read at", None), "driven": ("driven", None),
}  # fmt: skip


def _air_words(says: dict[str, stored.Changed]) -> list[Phrase]:
    """What of the air and the time was put right, in words."""
    phrases = []
    for column, words in says.items():
        name, measure = _AIR[column]
        if measure is None:
            phrases.append(say(plain(f"{name}: {words.was} to {words.now}")))
            continue
        values = [measure(float(v)) for v in (words.was, words.now) if v is not None]
        phrases.append(say(f"{name}: " + " to ".join(f"{{{i}}}" for i in range(len(values))), *values))
    return phrases
