"""Hourly temperatures from a person's own CSV: a second weather service, for places that no service knows."""

import datetime as dt
import itertools
from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from django.db import transaction

from ballast.core.refusal import Refusal
from ballast.core.units import parse
from ballast.core.working import day
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.files import read_rows, read_text
from ballast.server.weather.models import Record
from ballast.server.weather.service import POSSIBLE_C, Place, WeatherUnavailable

COLUMNS = ("time", "outside_c")
PREFIX = "own-"
_HOUR = dt.timedelta(hours=1)
# A gap up to this many hours is bridged by a straight line; a longer one stays unknown.
BRIDGED_HOURS = 3


class HourlyRecord:
    """Fills the weather service's protocol from stored records of one workspace."""

    def __init__(self, records: list[Record]) -> None:
        self.records = {f"{PREFIX}{r.pk}": r for r in records}

    def places(self) -> list[Place]:
        return [Place(key, r.name, r.elevation_m, r.time_zone) for key, r in self.records.items()]

    def hourly(self, key: str, start: dt.datetime, hours: int) -> list[float | None]:
        record = self.records[key]
        first = round((start - record.start) / _HOUR)
        measured = [record.hours[i] if 0 <= i < len(record.hours) else None for i in range(first, first + hours)]
        if all(c is None for c in measured):
            last = record.start + (len(record.hours) - 1) * _HOUR
            raise WeatherUnavailable(
                f"The record of {record.name} goes from {day(record.start)} to {day(last)} and does not cover "
                "the days that are asked for. Bring a newer one, or enter the air by hand."
            )
        return measured


def records(actor: Actor) -> HourlyRecord:
    actor.must(May.READ)
    return HourlyRecord(list(Record.objects.of(actor.workspace)))


def _zone(name: str) -> ZoneInfo:
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise Refusal(
            f"“{name[:40]}” is no time zone. Enter one by its IANA name, for example Etc/GMT+7.", "time_zone"
        ) from None


def read_hours(content: str, zone: ZoneInfo) -> tuple[dt.datetime, list[float | None]]:
    """The hours of a CSV: `time` (ISO 8601; without an offset the place's own) and `outside_c` (°C, or with its unit).

    Raises Refusal naming the line.
    """
    rows = read_rows(read_text(content), COLUMNS, COLUMNS, most=24 * 400)
    measured: dict[dt.datetime, float] = {}
    for line, row in enumerate(rows, 2):
        try:
            at = dt.datetime.fromisoformat(row.get("time", ""))
        except ValueError:
            raise Refusal(
                f"Line {line}: “{row.get('time', '')[:30]}” is no time. Write it as 2026-11-26T06:00.", "content"
            ) from None
        at = (at if at.tzinfo else at.replace(tzinfo=zone)).astimezone(dt.UTC)
        try:
            measured[at.replace(minute=0, second=0, microsecond=0)] = parse(
                "temperature", row.get("outside_c", ""), *POSSIBLE_C
            )
        except Refusal as no:
            raise Refusal(f"Line {line}: {no.message}", "content") from None
    if len(measured) < 24:
        raise Refusal("The file has fewer than 24 hours. Bring at least a day.", "content")
    start, end = min(measured), max(measured)
    count = round((end - start) / _HOUR) + 1
    if count > 24 * 400:
        raise Refusal("The file spans more than 400 days. Bring a shorter stretch.", "content")
    hours: list[float | None] = [measured.get(start + i * _HOUR) for i in range(count)]
    return start, _bridged(hours)


def _bridged(hours: list[float | None]) -> list[float | None]:
    known = [i for i, c in enumerate(hours) if c is not None]
    for a, b in itertools.pairwise(known):
        if 1 < b - a <= BRIDGED_HOURS + 1:
            low, high = hours[a], hours[b]
            assert low is not None
            assert high is not None
            for i in range(a + 1, b):
                hours[i] = low + (high - low) * (i - a) / (b - a)
    return hours


@transaction.atomic
def bring(actor: Actor, name: str, elevation_m: float, time_zone: str, content: str) -> Record:
    """Stores a record of a place; one of the same name is replaced. Raises Refusal naming the line."""
    actor.must(May.AIR)
    start, hours = read_hours(content, _zone(time_zone))
    given: dict[str, Any] = {
        "elevation_m": elevation_m, "time_zone": time_zone, "start": start, "hours": hours, "brought_by": actor.person,
    }  # fmt: skip
    row, _ = Record.objects.of(actor.workspace).update_or_create(
        name=name, defaults=given, create_defaults=given | {"workspace": actor.workspace}
    )
    return row  # type: ignore[no-any-return]


def drop(actor: Actor, record_id: int) -> None:
    actor.must(May.AIR)
    Record.objects.of(actor.workspace).get(pk=record_id).delete()


def blank() -> str:
    """A file to start from."""
    return "time,outside_c\r\n2026-11-26T05:00,-3.5\r\n2026-11-26T06:00,-4\r\n2026-11-26T07:00,25 F\r\n"
