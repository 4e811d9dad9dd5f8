"""A round's row as the core's value: as it stands now, or as it was sealed."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Any

from ballast.core import rounds as core
from ballast.core import weighing as core_weighing
from ballast.core.working import Phrase, join, plain, say
from ballast.server.edge.ready import Ready
from ballast.server.edge.versions import version_of
from ballast.server.gauges import services as gauges
from ballast.server.rigs import services as rigs
from ballast.server.rounds import stored
from ballast.server.rounds.models import MADE_UP_AIR, Round
from ballast.server.tables.models import Table
from ballast.server.targets import services as targets
from ballast.server.weighing import services as weighing

_READ_IN = (
    "place", "time_zone", "outside_c", "morning_c", "dawn_c", "elevation_m", "standing_h", "driven", "rolled", "sunny",
    "shop_c", "air_source", "odometer_km", "opened_at", "sealed_at", "unread_reason", "without_target", "signed",
    "abandoned_at", "plan_kept", "partial",
)  # fmt: skip
_FORM = (
    "gauge_id", "standing_h", "driven", "rolled", "sunny", "shop_c", "odometer_km", "place", "outside_c", "morning_c", "dawn_c",
    "elevation_m", "plan_kept",
)  # fmt: skip

# Of each table that targets stand on whether it is made up, and who checked it.
_TABLES = Ready[tuple[bool, int | None]](
    lambda sets: Table.objects.filter(target_sets__in=sets).values_list("sample", "checked_by")
)


def form_of(row: Round) -> dict[str, object]:
    """All that the form of what a round is read in shows and writes, column by column."""
    return {f: getattr(row, f) for f in _FORM}


def conditions(row: Round) -> core.Conditions:
    """What its wheels are read in, with the gauges of its readings and of whoever took wheels."""
    return stored.conditions(row, (*(r.gauge for r in row.readings.all()), *(t.gauge for t in row.takes.all())))


def each(row: Round, at: core.Conditions, lines: Iterable[core.WheelLine]) -> list[core.Wheel]:
    """Wheels of an open round, each by itself, by its own readings and notes, read in its conditions."""
    readings, notes = [stored.reading(r) for r in row.readings.all()], stored.noted(row.notes.all())
    return [core.wheel(at, line, readings, notes) for line in lines]


def together(row: Round, each: Sequence[core.Wheel]) -> core.State:
    """An open round by its wheels, each looked at by itself."""
    return core.together(each, stored.taken(row.takes.all()))


def state(row: Round, at: core.Conditions) -> core.State:
    """An open round as it stands."""
    return together(row, each(row, at, stored.lines(row)))


def around(row: Round, stands: core.State, at: core.Conditions) -> dict[str, Any]:
    """The fields of `core.Round` that are its state, and where, when, with what and how it was read."""
    return (
        vars(stands)
        | {f: getattr(row, f) for f in _READ_IN}
        | {
            "id": row.pk,
            "version": version_of(form_of(row)),
            "rig": row.rig_id,
            "gauge": row.gauge_id,
            "gauge_label": row.gauge.label,
            "cold": at.standing.cold,
            "wait_h": at.standing.wait_h,
            "made_up_weather": row.air_source == MADE_UP_AIR,
        }
    )


def of(row: Round) -> core.Round:
    """A round as it stands; a sealed one as it stood when it was sealed, or since it was put right."""
    if (sealed := stored.as_it_stands(row.text)) is not None:
        return sealed
    over, stamps, unchecked = _of_targets(row)
    at = conditions(row)
    return core.Round(
        **around(row, state(row, at), at),
        rig_name=row.rig.shown_name,
        gauge_condition=gauges.condition(row.gauge),
        opened_by=row.opened_by.shown_name,
        opened_by_id=row.opened_by_id,
        sealed_by=row.sealed_by.shown_name if row.sealed_by else None,
        takes=stored.taken(row.takes.all()),
        over=over,
        unlike=tuple(words for part in row.parts.all() for words in rigs.rig_of(part.rig).unlike),
        stamps=stamps,
        unchecked=unchecked,
    )


def put_right(row: Round, stands: core.State, at: core.Conditions) -> core.Round:
    """A sealed round as it stands with another state, and read in what its row says by now."""
    before = stored.as_sealed(row.text)
    assert before is not None
    return replace(before, **around(row, stands, at))


def _of_targets(row: Round) -> tuple[tuple[Phrase, ...], tuple[str, ...], bool]:
    """What its targets give to say: overloads, what is made up in them, and whether a table was not checked."""
    parts = list(row.parts.all())
    over: list[Phrase] = []
    stamps: list[str] = []
    for part in parts:
        if part.target_set is not None and part.target_set.weighing is not None:
            stamps += targets.stamps(False, part.target_set.weighing.made_up)
            loads = weighing.loads_of(part.target_set.weighing, rigs.rig_of(part.rig))
            said = [core_weighing.overload_words(c) for c in loads.over]
            over += [join(say(plain(f"{part.rig.name}:")), p) for p in said] if len(parts) > 1 else said
    kinds = set(_TABLES([p.target_set_id for p in parts if p.target_set_id]))
    stamps += targets.stamps(any(sample for sample, _ in kinds), False)
    unchecked = any(not sample and checked is None for sample, checked in kinds)
    return tuple(over), tuple(dict.fromkeys(stamps)), unchecked
