"""A combination as the ground takes it: its wheels with their road targets, roles and bounds, and the air they are let out in."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ballast.core import gauges as core_gauges
from ballast.core import ground as core
from ballast.core import rigs as core_rigs
from ballast.core import weighing as core_weighing
from ballast.core.air import REFERENCE_C
from ballast.core.gas import Air
from ballast.core.targets import NO_PRESSURE
from ballast.core.units import PSI_KPA
from ballast.core.working import Phrase, join, plain, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now, services, trips
from ballast.server.air.models import RigAir
from ballast.server.air.now import AirNow
from ballast.server.edge import clock
from ballast.server.edge.lately import Lately
from ballast.server.edge.ready import Ready
from ballast.server.gauges import inflators
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Gauge
from ballast.server.ground.models import AxleOnGround
from ballast.server.ground.schemas import AxleAsked
from ballast.server.rigs import fittings
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Axle, Rig
from ballast.server.targets import in_force, policies
from ballast.server.targets.policies import Way
from ballast.server.weighing import services as weighing


@dataclass(frozen=True)
class Together:
    """Rigs as they are hitched, by their rows, with the way of the first; nothing of it hangs on the hour or on a gauge."""

    rigs: tuple[int, ...]
    way: Way
    wheels: tuple[core.GroundWheel, ...]
    axles: tuple[AxleAsked, ...]
    over: tuple[Phrase, ...]
    heavy: bool

    @property
    def roles_unknown(self) -> tuple[str, ...]:
        return tuple(f"{a.rig_name}, {a.name.lower()}" for a in self.axles if a.role is None)

    @property
    def refused(self) -> Phrase | None:
        return core.refused(self.wheels, self.over, self.roles_unknown)


@dataclass(frozen=True)
class AirAround:
    """The air around a combination now, the one that its numbers are set in, and the dawns ahead; not known: at 20 °C."""

    here: Air
    set_in: Air
    known_air: bool
    dawns: tuple[Air, ...]


@dataclass(frozen=True)
class OnGround(Together, AirAround):
    """All that a plan stands on."""

    gauge: Gauge | None
    gauge_value: core_gauges.Gauge

    def meets(self, nights: int) -> core.Meets:
        """The dawns of so many nights ahead, at the gauge's near end about where floors lie."""
        sure = core_gauges.sure_at(self.gauge_value, core.HIGHWAY.floors_kpa.steered)
        return core.Meets(self.set_in, self.dawns[:nights], sure)


@dataclass(frozen=True)
class Combination(OnGround):
    """The same with its rows."""

    train: tuple[Rig, ...]


_ASKED = Ready[AxleOnGround](lambda rigs: AxleOnGround.objects.filter(rig__in=rigs))
_AIR = Ready[RigAir](lambda rig: RigAir.objects.filter(rig=rig))
_Asked = Mapping[tuple[int, int], AxleOnGround]
# With the next key just the chain is another.
LATELY = Lately[Together](50)


def combination(actor: Actor, rig_id: int, gauge_id: int | None = None) -> Combination:
    """The whole combination that a rig belongs to. Raises DoesNotExist, Refusal for a gauge that cannot be used."""
    train = rigs.train(actor, rig_id, also=("policy", *trips.WITH_TRIP))
    together = _together(actor, train, _asked([r.pk for r in train]))
    return Combination(**vars(_on_ground(actor, together, gauge_id)), train=tuple(train))


def as_typed(actor: Actor, rig_id: int, gauge_id: int | None = None) -> OnGround:
    """The same without its rows; what stands in them is read again once the database has counted a change of it."""
    actor.must(May.READ)
    # The counts before the rows: what is written from here on is counted.
    counts = rigs.counts_of_changes(actor, rig_id)
    asked = _asked([count.rig for count in counts])
    ways = policies.of_workspace(actor)
    said = tuple((at, a.role, a.least_kpa, a.words) for at, a in sorted(asked.items()))
    key = (counts, said, ways, clock.today())
    together = LATELY.get(key)
    if together is None:
        together = _together(actor, rigs.train(actor, rig_id, also=("policy",)), asked)
        LATELY.keep(key, together)
    return _on_ground(actor, together, gauge_id)


def _asked(of: Sequence[int]) -> _Asked:
    return {(a.rig_id, a.number): a for a in _ASKED(of)}


def _on_ground(actor: Actor, together: Together, gauge_id: int | None) -> OnGround:
    around = air_around(now.in_use(actor, _AIR.first(together.rigs[0])), together.way)
    row, value = _gauge(actor, gauge_id)
    return OnGround(**vars(around), **vars(together), gauge=row, gauge_value=value)


def _together(actor: Actor, train: Sequence[Rig], asked: _Asked) -> Together:
    bands = in_force.bands_in_force(actor, list(train))
    vehicles = [services.Vehicle(r, bands.get(r.pk), policies.way_of(actor, r)) for r in train]
    tickets = weighing.each_in_force(actor, list(train))
    wheels: list[core.GroundWheel] = []
    axles: list[AxleAsked] = []
    over: list[Phrase] = []
    known = [rigs.rig_of(r) for r in train]
    for v, typed in zip(vehicles, known, strict=True):
        ticket = tickets.get(v.rig.pk)
        loads = weighing.loads_of(ticket, typed) if ticket else None
        if loads:
            said = [core_weighing.overload_words(c) for c in loads.over]
            over += [join(say(plain(f"{v.rig.name}:")), p) for p in said] if len(train) > 1 else said
        own = _axles(v, typed, asked)
        axles += own
        wheels += _wheels(v, typed, loads, {a.number: a for a in own})
    heavy = any(not typed.light for typed in known)
    return Together(tuple(r.pk for r in train), vehicles[0].way, tuple(wheels), tuple(axles), tuple(over), heavy)


def air_around(around: AirNow, way: Way) -> AirAround:
    surroundings = now.surroundings(around, way.check_days)
    elevation = around.elevation_m or 0.0
    here = surroundings.here or Air(REFERENCE_C, elevation)
    dawns = tuple(d.air for d in surroundings.dawns)
    return AirAround(here, now.set_in(around, way, elevation), surroundings.here is not None, dawns)


def _gauge(actor: Actor, gauge_id: int | None) -> tuple[Gauge | None, core_gauges.Gauge]:
    """The gauge that is named, else the first of the drawer that nothing speaks against."""
    if gauge_id is not None:
        row = gauges.usable(actor, gauge_id)
        return row, gauges.gauge_of(row)
    drawer = [g for g in gauges.gauges(actor) if not g.retired and g.kind not in (*core_gauges.FITTED, "master")]
    first = next((g for g in drawer if not gauges.in_doubt(g)), drawer[0] if drawer else None)
    if first is not None:
        return first, gauges.gauge_of(first)
    # Without one in the drawer: as sure as a dial that was never compared.
    return None, core_gauges.Gauge("dial", 0.0, 1400.0, PSI_KPA)


def _axles(v: services.Vehicle, typed: core_rigs.Rig, asked: _Asked) -> list[AxleAsked]:
    made = []
    for axle in typed.axles:
        usual, said = core.role_of(typed.kind, axle, len(typed.axles)), asked.get((v.rig.pk, axle.number))
        role: core.GroundRole | None = (said.role or usual) if said else usual  # type: ignore[assignment]
        made.append(
            AxleAsked(
                v.rig.pk, v.rig.name, axle.number, typed.axle_name(axle.number), role, usual is None, axle.row == "dual",
                said.least_kpa if said else None, said.words if said else "",
            )
        )  # fmt: skip
    return made


def _wheels(
    v: services.Vehicle, typed: core_rigs.Rig, weighed: core_weighing.RigLoad | None, axles: Mapping[int, AxleAsked]
) -> list[core.GroundWheel]:
    bands = {a.number: a for a in v.row.axles.all()} if v.row else {}
    loads = weighed.per_tire if weighed else {}
    described: dict[int, Axle] = {a.number: a for a in v.rig.axles.all()}
    made = []
    for wheel, shown in zip(rigs.wheels_of(v.rig), rigs.wheels_in_train(v.rig), strict=True):
        if wheel.axle is None:
            continue
        axle, band, asked = typed.axles[wheel.axle - 1], bands.get(wheel.axle), axles[wheel.axle]
        size = axle.tire.size if axle.tire else None
        made.append(
            core.GroundWheel(
                code=shown.code, name=shown.name, role=asked.role or "driven",
                road_kpa=band.target_kpa if band and band.state not in NO_PRESSURE else None,
                step_kpa=v.way.step_of.kpa, rig=v.rig.pk, own=wheel.code, axle=wheel.axle, dual=axle.row == "dual", inner=wheel.inner,
                heavy_or_dual=typed.heavy_or_dual(axle),
                bound_kpa=core.road_bound(
                    band.target_kpa if band else None, band.floor_kpa if band else None, described[wheel.axle].placard_kpa
                ),
                ceiling_kpa=band.ceiling_kpa if band else None,
                makers=core.MakersWord(asked.least_kpa, asked.words) if asked.least_kpa is not None else None,
                load_kg=loads.get(wheel.axle), width_mm=size.width_mm if size else None,
                volume_l=inflators.volume_of(fittings.described(v.rig, wheel).tire_size),
                provisional=bool(band and band.state == "provisional"),
            )
        )  # fmt: skip
    return made
