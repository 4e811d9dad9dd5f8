"""The pressure of a wheel on a surface: a share of its road target, over every floor, never above what is harder."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ballast.core.air import Driven, Standing, fill_to
from ballast.core.gas import Air, carry
from ballast.core.ground.surfaces import GroundRole, Surface
from ballast.core.rigs import TRAILERS, Axle
from ballast.core.working import Line, Phrase, kpa, say, share

# How much further than estimated a tire may be warmed through: let out for the upper end, it never ends too low.
WARM_UPPER = 1.4
HELD_HEAVY = "Heavy or dual: not below its table or placard without the maker's word on record."
HELD_UNKNOWN = "Heavy or dual, and neither table nor placard is known: it stays at its road target."


@dataclass(frozen=True)
class MakersWord:
    """What a maker of tire or vehicle allows off the road: no less than `least_kpa`, and where that stands."""

    least_kpa: float
    words: str


@dataclass(frozen=True)
class GroundWheel:
    """A wheel as the ground takes it: its road target and bounds, cold [kPa]. None: not known.

    `bound_kpa`: what table and placard ask of it on the road, the higher. `load_kg`: what it carries. `volume_l`: of air.
    """

    code: str
    name: str
    role: GroundRole
    road_kpa: float | None
    step_kpa: float
    rig: int = 0
    own: str = ""
    axle: int | None = None
    dual: bool = False
    inner: bool = False
    heavy_or_dual: bool = False
    bound_kpa: float | None = None
    ceiling_kpa: float | None = None
    makers: MakersWord | None = None
    load_kg: float | None = None
    width_mm: float | None = None
    volume_l: float | None = None
    provisional: bool = False


@dataclass(frozen=True)
class Number:
    """What stands in a wheel on a surface, cold [kPa], with the speed that belongs to it [km/h]. `floor_kpa` is the least that
    counts there. `kept`: nothing is let out, and why."""

    surface: str
    kpa: float
    floor_kpa: float
    speed_kmh: float | None
    kept: Phrase | None = None
    working: tuple[Line, ...] = ()


@dataclass(frozen=True)
class Meets:
    """The air in which pressures are let out, the dawns that a plan may meet (empty: not known), and how sure the gauge is
    there, half a width at 95 % [kPa]."""

    here: Air
    dawns: tuple[Air, ...] = ()
    sure_kpa: float = 0.0


def role_of(kind: str, axle: Axle, count: int) -> GroundRole | None:
    """The role of an axle, as far as the kind of its vehicle says so; None: to be asked.

    The front axle of what drives itself is steered; of more than two behind it, which is driven is not known beforehand.
    """
    if kind in TRAILERS:
        return "trailer"
    if axle.number == 1:
        return "steered"
    if count == 2 or axle.role in ("tag", "pusher"):
        return "driven"
    return None


def to_step(wanted_kpa: float, step_kpa: float) -> float:
    """The nearest practical step [kPa], halves up."""
    return math.floor(wanted_kpa / step_kpa + 0.5 + 1e-9) * step_kpa


def up_to_step(wanted_kpa: float, step_kpa: float) -> float:
    """The next practical step at or above [kPa]."""
    return math.ceil(wanted_kpa / step_kpa - 1e-9) * step_kpa


def ground_kpa(
    road_kpa: float, of_road: float, floor_kpa: float, step_kpa: float, harder_kpa: float | None = None
) -> float:
    """The number on a surface [kPa]: a share of the road target in steps, not below the floor, not above what is harder.

    Where the road target is at or below the floor nothing is let out.

    >>> round(ground_kpa(262.0, 0.8, 110.0, 6.894757) / 6.894757, 6)
    30.0
    """
    if road_kpa <= floor_kpa or of_road >= 1.0:
        return road_kpa if harder_kpa is None else min(road_kpa, harder_kpa)
    wanted = max(to_step(of_road * road_kpa, step_kpa), up_to_step(floor_kpa, step_kpa))
    return min(wanted, road_kpa, math.inf if harder_kpa is None else harder_kpa)


def floor_met(floor_kpa: float, meets: Meets) -> float:
    """What must stand in a tire here [kPa] so that the floor holds at each dawn ahead, at the gauge's near end."""
    return max([floor_kpa, *(carry(floor_kpa, dawn, meets.here) for dawn in meets.dawns)]) + meets.sure_kpa


def numbers(wheel: GroundWheel, surfaces: Sequence[Surface], meets: Meets) -> tuple[Number, ...]:
    """A wheel's number on every surface, hardest first; empty where its road target is not known."""
    if wheel.road_kpa is None:
        return ()
    found: list[Number] = []
    for surface in surfaces:
        found.append(_number(wheel, wheel.road_kpa, surface, meets, found[-1].kpa if found else None))
    return tuple(found)


def numbers_all(wheels: Sequence[GroundWheel], surfaces: Sequence[Surface], meets: Meets) -> list[tuple[Number, ...]]:
    """`numbers` of each; worked out once for wheels of which all that counts is the same, as on an axle."""
    known: dict[object, tuple[Number, ...]] = {}
    found = []
    for w in wheels:
        like = (w.road_kpa, w.role, w.step_kpa, w.bound_kpa, w.heavy_or_dual, w.makers)
        if like not in known:
            known[like] = numbers(w, surfaces, meets)
        found.append(known[like])
    return found


def _number(wheel: GroundWheel, road_kpa: float, surface: Surface, meets: Meets, harder_kpa: float | None) -> Number:
    of_road, floor = surface.shares.of(wheel.role), surface.floors_kpa.of(wheel.role)
    if surface.road:
        return Number(surface.key, road_kpa, wheel.bound_kpa or floor, surface.speed_kmh)
    met = floor_met(floor, meets)
    least, held = _held(wheel, road_kpa, met)
    value = ground_kpa(road_kpa, of_road, least, wheel.step_kpa, harder_kpa)
    working = [
        Line(say("{0} of the road target", share(of_road)), kpa(of_road * road_kpa)),
        Line(say("its floor on this surface"), kpa(floor, "up")),
    ]
    if met > floor + 1e-6:
        working.append(Line(say("raised for the dawns ahead and the gauge's near end"), kpa(met, "up")))
    if held is not None and least > met:
        working.append(Line(held, kpa(least, "up")))
    working.append(Line(say("in whole steps"), kpa(value, "up")))
    kept = None
    if value >= road_kpa:
        kept = held or say("Its road target is at or below the floor here: nothing is let out.")
    return Number(
        surface.key, value, min(floor if held is None else least, value), surface.speed_kmh, kept, tuple(working)
    )


def _held(wheel: GroundWheel, road_kpa: float, met_kpa: float) -> tuple[float, Phrase | None]:
    """What a heavy or a dual wheel is held at, and why: the maker's word where it is on record, else table and placard."""
    if not wheel.heavy_or_dual:
        return met_kpa, None
    if wheel.makers is not None:
        return max(met_kpa, wheel.makers.least_kpa), say("The maker's word allows no less.")
    if wheel.bound_kpa is None:
        return road_kpa, say(HELD_UNKNOWN)
    return max(met_kpa, wheel.bound_kpa), say(HELD_HEAVY)


def road_bound(target_kpa: float | None, floor_kpa: float | None, placard_kpa: float | None) -> float | None:
    """What table and placard ask of a wheel on the road [kPa], the higher, never above its target; None: neither is known.

    >>> road_bound(690, 586, 641), road_bound(690, None, None), road_bound(None, 586, 641)
    (641, None, None)
    """
    known = [v for v in (floor_kpa, placard_kpa) if v is not None]
    return min(max(known), target_kpa) if known and target_kpa is not None else None


@dataclass(frozen=True)
class Warmth:
    """How warm the tires may be: a way in which a rig has stood, to choose from."""

    key: str
    name: str
    standing_h: float
    driven: Driven


# How a rig may have stood when somebody kneels beside it: what a phone has numbers for.
WARMTHS = (
    Warmth("cold", "Cold", 24.0, "highway"),
    Warmth("highway", "Just off the highway", 0.0, "highway"),
    Warmth("town", "Just driven slowly", 0.0, "town"),
    Warmth("hour", "Stood an hour", 1.0, "highway"),
)


def let_out_to(cold_kpa: float, stood: Standing, here: Air, set_in: Air | None = None) -> float:
    """What must be left in a tire as warm as it may be [kPa] so that a ground number stands in it once cold, or more.

    The cold number carried from the air it is set in to the upper end of the tire's temperature: an estimated rise × 1.4. Of
    a ground number alone: no warm tire is let out to a road target.
    """
    upper = here.temperature_c + (0.0 if stood.cold else WARM_UPPER * (stood.tire_c - here.temperature_c))
    return carry(cold_kpa, set_in or here, Air(upper, here.elevation_m, here.station_kpa))


def fill_up_to(cold_kpa: float, ceiling_kpa: float | None, stood: Standing, here: Air, set_in: Air) -> float:
    """What must stand in a tire as it is [kPa] so that a number is in it once cold; never above the ceiling."""
    return fill_to(carry(cold_kpa, set_in, here), ceiling_kpa, stood, here)


@dataclass(frozen=True)
class AsItIs:
    """In what a tire is let out or filled: how it stands, in the air here, and in the air that numbers are set in."""

    stood: Standing
    here: Air
    set_in: Air


def in_tire(number_kpa: float, lets_out: bool, ceiling_kpa: float | None, at: AsItIs) -> float:
    """What must stand in a tire as it is [kPa] at its number: let out to it, or filled up."""
    if lets_out:
        return let_out_to(number_kpa, at.stood, at.here, at.set_in)
    return fill_up_to(number_kpa, ceiling_kpa, at.stood, at.here, at.set_in)


@dataclass(frozen=True)
class Footprint:
    """What of a tire lies on the ground, about, for the eye: area [cm²], width and length [cm]."""

    area_cm2: float
    width_cm: float
    length_cm: float


_GRAVITY = 9.80665
# The part of a tire's section that lies on the ground.
_TREAD_SHARE = 0.78


def footprint(wheel: GroundWheel, pressure_kpa: float) -> Footprint | None:
    """Load ÷ pressure as an ellipse as wide as the tread; None: load or width is not known.

    >>> round(footprint(GroundWheel("1L", "", "steered", 250, 1, load_kg=510, width_mm=245), 250).area_cm2)
    200
    """
    if wheel.load_kg is None or wheel.width_mm is None or pressure_kpa <= 0:
        return None
    area = wheel.load_kg * _GRAVITY / (pressure_kpa * 1000) * 1e4
    width = wheel.width_mm / 10 * _TREAD_SHARE
    return Footprint(area, width, area / (math.pi / 4 * width))


def by_surface(found: Sequence[Number]) -> Mapping[str, Number]:
    return {n.surface: n for n in found}
