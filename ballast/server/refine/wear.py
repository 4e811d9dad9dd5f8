"""Wear: what the treads of tires say, from their depths in sealed rounds, as they were fitted and as they were retreaded."""

import datetime as dt
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from django.db.models import QuerySet

from ballast.core import refine as core
from ballast.core import rigs as core_rigs
from ballast.server.accounts.actors import Actor, May
from ballast.server.refine.models import TireEvent
from ballast.server.refine.schemas import PointOut, RateOut, WearOut
from ballast.server.rigs.models import Fitting, Tire
from ballast.server.rounds.models import TreadDepth


@dataclass(frozen=True)
class Measured:
    """A tread on a day, at a distance of its own vehicle [km] where that was noted."""

    on: dt.date
    km: float | None
    tread: core.Tread


@dataclass(frozen=True)
class History:
    """All that is known of a tire's tread where it is now: since when it runs by one odometer, and its depths since."""

    begun_on: dt.date | None = None
    measured: tuple[Measured, ...] = ()

    @property
    def newest(self) -> Measured | None:
        return self.measured[-1] if self.measured else None

    @property
    def points(self) -> tuple[core.Depth, ...]:
        return core.one_run([core.Depth(m.km, m.tread, m.on) for m in self.measured if m.km is not None])


@dataclass
class _Rows:
    stays: list[Fitting] = field(default_factory=list)
    depths: list[TreadDepth] = field(default_factory=list)
    treads: list[TireEvent] = field(default_factory=list)


def histories(tires: Iterable[int]) -> dict[int, History]:
    """The treads of tires, by their numbers, in three questions however many they are."""
    rows = {pk: _Rows() for pk in tires}
    for stay in Fitting.objects.filter(tire__in=rows).order_by("fitted_on", "id"):
        rows[stay.tire_id].stays.append(stay)
    for depth in TreadDepth.objects.filter(tire__in=rows):
        assert depth.tire_id is not None
        rows[depth.tire_id].depths.append(depth)
    for event in standing_events(TireEvent.objects.filter(tire__in=rows)):
        rows[event.tire_id].treads.append(event)
    return {pk: _history(of) for pk, of in rows.items()}


def standing_events(rows: QuerySet[TireEvent]) -> QuerySet[TireEvent]:
    """Those that were not taken back."""
    return rows.filter(withdrawn_at=None)


def _history(of: _Rows) -> History:
    anew = core.anew_on([(e.kind, e.done_on) for e in of.treads])  # type: ignore[misc]
    begun = core.unbroken_from([core.Stay(s.rig_id, s.fitted_on, s.removed_on) for s in of.stays], anew)
    if begun is None:
        # In the store: its last depth is known, how far it runs from there is not.
        return History(None, tuple(_of_round(d) for d in of.depths[-1:]))
    rig = of.stays[-1].rig_id
    new = [
        Measured(row.done_on, row.odometer_km, _evenly(row.tread_mm)) for row in of.treads if row.tread_mm and row.done_on == begun
    ] or [
        Measured(s.fitted_on, s.odometer_km, _evenly(s.tread_mm))
        for s in of.stays
        if s.tread_mm and s.rig_id == rig and s.fitted_on >= begun
    ]  # fmt: skip
    rounds = [_of_round(d) for d in of.depths if d.rig_id == rig and d.at.date() >= begun]
    return History(begun, tuple(sorted((*new, *rounds), key=lambda m: m.on)))


def _evenly(mm: float | None) -> core.Tread:
    """A tread of which one depth was told: it is new, and as deep everywhere."""
    return core.Tread(mm, mm, mm)


def _of_round(row: TreadDepth) -> Measured:
    return Measured(row.at.date(), row.odometer_km, core.Tread(row.inner_mm, row.centre_mm, row.outer_mm))


def wear_out(history: History, limit_mm: float, km_now: float | None) -> WearOut:
    """What a tread says: its depths, the rate of each rib, the shape it wears to, when it is at its limit."""
    said = core.worn(history.points, limit_mm)
    newest = history.newest
    least = newest.tread.least_mm if newest else None
    fastest = said.fastest
    return WearOut(
        begun_on=history.begun_on,
        points=tuple(
            PointOut(m.on, m.km, m.tread.inner_mm, m.tread.centre_mm, m.tread.outer_mm) for m in history.measured
        ),
        least_mm=least, on=newest.on if newest else None, limit_mm=limit_mm,
        rates=tuple(
            RateOut(r.mm_per_1000_km, r.standard_error, r.now_mm, r.limit_at_km) if r is not None else None for r in said.ribs
        ),
        fastest_mm=fastest.mm_per_1000_km if fastest else None,
        shape=said.shape, words=said.words, limit=core.limit_said(least, limit_mm, said, km_now, history.points),
        limit_on=core.limit_on(said.first, history.points) if said.first else None, at_limit=least is not None and least <= limit_mm,
    )  # fmt: skip


def limit_of(typed: core_rigs.Rig | None, wheel: str) -> float:
    """The least tread [mm] at a wheel of a rig; in the store, of any wheel."""
    return core.LIMIT_MM if typed is None else core.least_mm(typed, core_rigs.axle_at(wheel))


def of_tires(actor: Actor, tires: Sequence[Tire]) -> dict[int, History]:
    """The treads of tires of this workspace."""
    actor.must(May.READ)
    return histories(t.pk for t in tires if t.workspace_id == actor.workspace.pk)


def apart_mm(running: Sequence[Fitting], treads: dict[int, History]) -> float | None:
    """How far the axles of a rig differ in tread [mm], by the newest depth of each tire; None: fewer than two are known."""
    depths: dict[int, list[float]] = {}
    for f in running:
        newest = treads[f.tire_id].newest
        if newest is not None and newest.tread.least_mm is not None:
            depths.setdefault(int(f.wheel[:1]), []).append(newest.tread.least_mm)
    return core.apart_mm(depths)
