"""What a morning goes by that is kept of each rig beside what there is to say of it: of each tire what it is held to, and how it
was left. Today's air is no part of it, nor what displays said since.
"""

import copy
import datetime as dt
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, TypedDict

import numpy as np
from django.db.models import Q

from ballast.core import lookback, standing
from ballast.core import rounds as core
from ballast.core.air import TemperaturePolicy
from ballast.server.accounts.actors import Actor
from ballast.server.air import trips
from ballast.server.edge import clock
from ballast.server.edge.words import kept
from ballast.server.ground import plans
from ballast.server.ground.models import GroundPlan
from ballast.server.lookback import happened
from ballast.server.lookback.columns import DAY, by_tire, measured, read
from ballast.server.rigs import laid_up
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import ledger, sheet
from ballast.server.rounds.models import Round, Service
from ballast.server.targets import in_force, policies
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetSet


class Said(TypedDict):
    """What is said of a rig, as it is stored. `resting`: laid up, in words; `ground`: of its open plan; `read`: it was read at
    all; by tire its code and name."""

    stamps: list[str]
    resting: dict[str, Any] | None
    ground: dict[str, Any] | None
    read: bool
    next_check_on: str | None
    next_check_words: str
    codes: list[str]
    names: list[str]


@dataclass(frozen=True)
class Kept:
    """A rig: what is said of it, and, as bytes of which those of a whole fleet are put together at once, its tires (`AWAITED`; laid
    up it has none that is awaited) and what its last rounds measured of predictions (`MEASURED`)."""

    said: Said
    tires: bytes
    measured: bytes


# On which day since 1970, by how much it was missed, and whether it lay inside its range.
MEASURED = np.dtype([("day", "<i4"), ("missed_kpa", "<f4"), ("inside", "?")])

_OffRoad = Mapping[int, tuple[GroundPlan, plans.Strip]]


def of(actor: Actor, train: Sequence[Rig], off_road: _OffRoad | None = None) -> dict[int, Kept]:
    """By rig what a morning goes by. The number of queries does not grow with them.

    Rigs come with `policy` and `trips.WITH_TRIP`; `off_road`: their open plans, where they are at hand.
    """
    if off_road is None:
        off_road = plans.each_open(actor, list(train))
    bands = in_force.bands_in_force(actor, list(train))
    services: dict[int, list[Service]] = {}
    for s in Service.objects.filter(rig__in=train, newest=True).order_by("id"):
        services.setdefault(s.rig_id, []).append(s)
    last = {rig: max(own, key=lambda s: s.at).round_id for rig, own in services.items()}
    rounds = Round.objects.only("opened_at", "next_on", "next_why").in_bulk(last.values())
    oldest = min((s.at for own in services.values() for s in own), default=None)
    happened_at, misses = happened.since(services, oldest), _measured(services)
    done = plans.touched(train, since=oldest) if services else {}
    return {
        rig.pk: _of_rig(
            rig, bands.get(rig.pk), policies.way_of(actor, rig).temperature, off_road.get(rig.pk),
            rounds.get(last.get(rig.pk, 0)), _Left(rig, services.get(rig.pk, []), done, happened_at.get(rig.pk, ())),
            misses.get(rig.pk, b""),
        )
        for rig in train
    }  # fmt: skip


def _of_rig(
    rig: Rig,
    row: TargetSet | None,
    temperature: TemperaturePolicy,
    off_road: tuple[GroundPlan, plans.Strip] | None,
    newest: Round | None,
    left: "_Left",
    misses: bytes,
) -> Kept:
    laid = laid_up.of(rig)
    rests = laid and laid.before(trips.leaves(rig))
    last, today = newest.opened_at.date() if newest else None, clock.today()
    resting = rests.words(last, today) if rests and rests.stands(last, today) == "resting" else None
    check = None
    if resting and rests:
        check = standing.NextCheck(rests.until, "Before it rolls")
    elif newest and newest.next_on:
        check = ledger.next_for(rig, newest.opened_at.date(), newest.next_on, newest.next_why)
    plan, strip = off_road or (None, None)
    held = sheet.Ground(plans.numbers(plan)) if plan else None
    lines = [sheet.on_ground(line, held) if held else line for line in sheet.lines_of(rig, row, {}, {})]
    tires = (
        []
        if resting
        else [left.awaited(line, temperature, check.on if check else None, plan is not None) for line in lines]
    )
    said = Said(
        stamps=list(targets.stamps(row.from_sample, row.from_simulated)) if row else [],  # type: ignore[attr-defined]
        resting=kept(resting) if resting else None, ground=kept(strip.words) if strip else None, read=newest is not None,
        next_check_on=check.on.isoformat() if check else None, next_check_words=check.words if check else "",
        codes=[line.own for line in lines], names=[line.name for line in lines],
    )  # fmt: skip
    return Kept(said, core.awaited(tires).tobytes(), misses)


# How good predictions are is told of so many days; of a rig that is read every day, of so many tires.
RECORD_DAYS, _RECORD_MOST = 90, 400
# The first day of the calendar that days are counted in.
_DAY_0 = dt.date(1970, 1, 1)


def _measured(services: Mapping[int, Sequence[Service]]) -> dict[int, bytes]:
    """Of each rig what was measured up to its last round, so that no day changes it; `record_of` leaves out what is older."""
    lately = Q(pk=0)
    for rig, newest in services.items():
        lately |= Q(rig=rig, at__gte=max(s.at for s in newest) - dt.timedelta(days=RECORD_DAYS))
    history = read(Service.objects.filter(lately).order_by("at", "id"))
    found = measured(by_tire(history.services).values()) if history else None
    if history is None or found is None:
        return {}
    day = np.floor(history.start.timestamp() / DAY.total_seconds() + found.day).astype(int)
    every = np.empty(len(day), dtype=MEASURED)
    every["day"], every["missed_kpa"], every["inside"] = day, found.misses.kpa, found.misses.inside
    kept = {}
    for rig in np.unique(found.rig).tolist():
        own = every[(found.rig == rig) & found.stayed]
        kept[rig] = own[np.argsort(own["day"], kind="stable")][-_RECORD_MOST:].tobytes()
    return kept


def record_of(measured: Iterable[bytes | memoryview]) -> lookback.Record:
    """How good predictions were that were measured in the last `RECORD_DAYS` days."""
    every = np.frombuffer(b"".join(measured), dtype=MEASURED)
    lately = every["day"] >= (clock.today() - _DAY_0).days - RECORD_DAYS
    return lookback.Misses(every["missed_kpa"][lately].astype(float), every["inside"][lately]).record


class _Left:
    """How the tires of a rig were left: by the last service of each, what was let out or filled since, and what happened."""

    def __init__(
        self, rig: Rig, services: list[Service], done: plans.Places, happened_there: Iterable[standing.Event]
    ) -> None:
        self.rig, self.done = rig, done
        self.events = list(happened_there)
        self.of_tire = {s.tire_id: s for s in sorted(services, key=lambda s: s.at) if s.tire_id is not None}
        self.of_wheel = {s.wheel: s for s in services if s.tire_id is None}
        self.on = {f.wheel: f.tire_id for f in rigs.fitted_on(rig)}

    def awaited(
        self, line: core.WheelLine, policy: TemperaturePolicy, check_on: dt.date | None, off_road: bool
    ) -> core.Awaited:
        aim = line.on_ground or line.aim
        held = core.Awaited(
            policy, line.step_kpa, aim.target_kpa, aim.range_kpa, aim.floor_kpa, aim.ceiling_kpa,
            check_day=check_on.toordinal() if check_on else None, spare=line.spare, off_road=off_road,
        )  # fmt: skip
        s = self._there(line.own)
        by = "nothing" if s is None else standing.foretells(s.at, self._at(s.wheel))
        if s is None or by == "nothing":
            return held
        return replace(
            held, at_s=s.at.timestamp(), stood_kpa=s.stood_kpa, air_c=s.air_c, absolute_kpa=s.absolute_kpa, noise_kpa=s.scatters_kpa,
            rate_kpa_day=s.rate_kpa_day, rate_error_kpa_day=s.rate_error, named=s.named, alarmed=by == "its sensor",
        )  # fmt: skip

    def _there(self, wheel: str) -> Service | None:
        """The last service of the tire that is at a wheel now, or what was let out or filled there since; None: not known.

        Where no tire is recorded, neither then nor now, it is the wheel's. Of a tire that came from another rig nothing is known.
        """
        s = self.of_tire.get(self.on[wheel]) if wheel in self.on else self.of_wheel.get(wheel)
        if s is None or s.wheel == wheel:
            return s and ledger.as_set(s, self.done.get((self.rig.pk, wheel)))
        touched = (self.done.get((self.rig.pk, w)) for w in (s.wheel, wheel))
        if not standing.foretells_elsewhere(s.at, self._at(s.wheel), [there.at for there in touched if there]):
            return None
        here = copy.copy(s)
        here.wheel = wheel
        return here

    def _at(self, wheel: str) -> list[standing.Event]:
        return [e for e in self.events if e.wheel == wheel]
