"""Where a mass goes: which axle, which end, and how much of it a hitch passes on. Statics of a beam on its supports."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.weighing.loads import (
    ASSUMED_HEAVIER,
    AxleLoad,
    AxleReading,
    Bars,
    Check,
    RigLoad,
    Weighed,
    shared,
    weigh_together,
)

What = Literal["cargo", "people", "water", "diesel", "gasoline", "propane", "urea"]
WHAT: dict[What, str] = {
    "cargo": "Cargo", "people": "People", "water": "Water", "diesel": "Diesel", "gasoline": "Gasoline",
    "propane": "Propane", "urea": "Urea solution",
}  # fmt: skip
# Mass of a liter [kg]; what is named here may be given in liters.
PER_LITER_KG = {"water": 1.00, "gasoline": 0.74, "diesel": 0.84, "propane": 0.51, "urea": 1.09}
# What engaged weight-distribution bars give back of the front axle's loss, where nobody measured it.
BARS_RESTORE = 0.5
# Nothing of a rig reaches further [m] beyond its outermost axle, hitch or coupler.
OVERHANG_M = 5.0


@dataclass(frozen=True)
class Support:
    """An axle that is down: meters behind the first axle, track [m], wheels, its share in its group (None: equal).

    Lengths that nobody measured are None.
    """

    number: int
    x_m: float | None
    track_m: float | None
    wheels: int
    share: float | None = None


@dataclass(frozen=True)
class Part:
    """A vehicle of a combination on its supports, from the front.

    `front` are the axle numbers of the front support; a pulled trailer has none, its front support is the hitch,
    `coupler_m` ahead of its first axle. `hitch_m` is where the next vehicle hangs, behind the first axle.
    """

    name: str
    axles: tuple[Support, ...]
    front: tuple[int, ...]
    pulled: bool = False
    coupler_m: float | None = None
    hitch_m: float | None = None


@dataclass(frozen=True)
class Placed:
    """A mass at a place: vehicle from the front, meters behind its first axle, meters right of the center line."""

    vehicle: int
    mass_kg: float
    x_m: float
    y_m: float = 0.0


@dataclass(frozen=True)
class Effect:
    """Changes [kg]: every axle's (left, right), every hitch by the trailer on it, every vehicle's gross."""

    ends: dict[tuple[int, int], tuple[float, float]]
    hitch: dict[int, float]
    gross: dict[int, float]

    def axle(self, vehicle: int, number: int) -> float:
        return sum(self.ends[(vehicle, number)])

    @property
    def total(self) -> float:
        return sum(sum(e) for e in self.ends.values())

    def on_hitch(self, vehicle: int) -> float:
        """Change of the hitch load that a vehicle is judged by: a pulled trailer's own, else what hangs on it."""
        return self.hitch.get(vehicle, self.hitch.get(vehicle + 1, 0.0))

    def __add__(self, other: "Effect") -> "Effect":
        return self._with(other, 1.0)

    def __sub__(self, other: "Effect") -> "Effect":
        return self._with(other, -1.0)

    def _with(self, other: "Effect", sign: float) -> "Effect":
        ends = {
            key: tuple(self.ends.get(key, (0.0, 0.0))[n] + sign * other.ends.get(key, (0.0, 0.0))[n] for n in (0, 1))
            for key in {*self.ends, *other.ends}
        }
        return Effect(
            ends,  # type: ignore[arg-type]
            {k: self.hitch.get(k, 0.0) + sign * other.hitch.get(k, 0.0) for k in {*self.hitch, *other.hitch}},
            {k: self.gross.get(k, 0.0) + sign * other.gross.get(k, 0.0) for k in {*self.gross, *other.gross}},
        )


NOTHING = Effect({}, {}, {})


def check_place(part: Part, x_m: float) -> None:
    """Raises Refusal for a place [m] behind the first axle that lies ahead of the rig or behind it."""
    ends = (part.hitch_m, -part.coupler_m if part.coupler_m else None)
    known = [x for x in (*(a.x_m for a in part.axles), *ends) if x is not None]
    low, high = min(known, default=0.0) - OVERHANG_M, max(known, default=0.0) + OVERHANG_M
    if not low <= x_m <= high:
        raise Refusal(
            f"That place is not on {part.name}: {low:.1f} to {high:.1f} m behind its first axle is. Choose it on the plan.",
            "x",
        )


def mass_kg(what: str, liters: float | None, typed_kg: float | None) -> float:
    """Mass [kg] of what is put aboard, by its weight or, of a liquid, its liters. Raises Refusal unless just one is given."""
    if (liters is None) == (typed_kg is None):
        raise Refusal("Enter either how much it weighs or, of a liquid, how many liters.", "mass")
    if typed_kg is not None:
        return typed_kg
    if what not in PER_LITER_KG or liters is None:
        raise Refusal("Only liquids come in liters. Enter what it weighs.", "liters")
    return liters * PER_LITER_KG[what]


def place_mass(mass_kg: float, behind_front_m: float, wheelbase_m: float) -> tuple[float, float]:
    """Change on front and rear supports [kg] of a mass put `behind_front_m` [m]: moments about the front one.

    Behind the rear support the front gets lighter. A hitch load is a mass at the hitch.
    """
    rear = mass_kg * behind_front_m / wheelbase_m
    return mass_kg - rear, rear


def _shares(axles: Iterable[Support]) -> dict[int, float]:
    """How axles of a group share: as given, what is left equally among the others."""
    return shared({a.number: a.share for a in axles})


def _center(axles: list[Support], shares: dict[int, float]) -> float:
    return sum(a.x_m * shares[a.number] for a in axles if a.x_m is not None)


def _supports(part: Part) -> tuple[list[Support], list[Support], float, float]:
    """Front and rear axles of a part, where its front support is, and how far behind that the rear group's center is."""
    if any(a.x_m is None for a in part.axles):
        raise Refusal(
            f"How far {part.name}'s axles lie behind its first one is not known. Measure it, and enter it with the rig.",
            "rig",
        )
    front = [a for a in part.axles if a.number in part.front]
    rear = [a for a in part.axles if a.number not in part.front]
    if not rear:
        raise Refusal(f"{part.name} stands on one axle group only: where a mass goes cannot be told.", "rig")
    if part.pulled:
        if part.coupler_m is None:
            raise Refusal(
                f"How far {part.name} is coupled ahead of its first axle is not known. Enter it with the rig.",
                "coupler_m",
            )
        at = -part.coupler_m
    elif front:
        at = _center(front, _shares(front))
    else:
        raise Refusal(f"{part.name} has no front axle. Describe its axles first.", "rig")
    behind = _center(rear, _shares(rear)) - at
    if behind <= 0.1:
        raise Refusal(f"{part.name}'s rear axles stand under its front support. Check the positions.", "rig")
    return front, rear, at, behind


def effect(parts: tuple[Part, ...], placed: Iterable[Placed]) -> Effect:
    """What masses put aboard change, each hitch passing its part on to the vehicle in front.

    Masses add up, and moments about every support balance. Raises Refusal where the geometry is not known.
    """
    ends = {(i, a.number): (0.0, 0.0) for i, p in enumerate(parts) for a in p.axles}
    hitch = {i: 0.0 for i, p in enumerate(parts) if p.pulled}
    gross = dict.fromkeys(range(len(parts)), 0.0)

    def add(group: list[Support], i: int, load: float, y: float) -> None:
        shares = _shares(group)
        for axle in group:
            own = load * shares[axle.number]
            if y and axle.wheels > 1 and axle.track_m is None:
                raise Refusal(
                    f"How wide {parts[i].name} is from wheel to wheel is not known. Put it on the center line, "
                    "or enter the track with the rig.",
                    "rig",
                )
            right = 0.5 + y / axle.track_m if axle.wheels > 1 and axle.track_m else 0.5
            before = ends[(i, axle.number)]
            ends[(i, axle.number)] = (before[0] + own * (1 - right), before[1] + own * right)

    def put(i: int, mass: float, x: float, y: float) -> None:
        part = parts[i]
        front, rear, at, behind = _supports(part)
        on_front, on_rear = place_mass(mass, x - at, behind)
        add(rear, i, on_rear, y)
        if not part.pulled:
            add(front, i, on_front, y)
            return
        hitch[i] += on_front
        if i:
            ahead = parts[i - 1]
            if ahead.hitch_m is None:
                raise Refusal(
                    f"Where {ahead.name} tows, behind its first axle, is not known. Enter it with the rig.", "hitch_m"
                )
            put(i - 1, on_front, ahead.hitch_m, 0.0)

    for item in placed:
        gross[item.vehicle] += item.mass_kg
        put(item.vehicle, item.mass_kg, item.x_m, item.y_m)
    # What a trailer lays on the hitch counts in its own gross, and in that of the vehicle that carries it.
    for i in sorted(hitch, reverse=True):
        if i:
            gross[i - 1] += hitch[i]
    return Effect(ends, hitch, gross)


def bars_effect(parts: tuple[Part, ...], hitch_kg: float, restore: float = BARS_RESTORE) -> Effect:
    """What engaging the weight-distribution bars between vehicles 0 and 1 changes [kg].

    The bars press a moment M into the coupling. About the trailer's axles it takes M/L off the hitch (L from coupling
    to its axle group), about the tow vehicle's rear group it loads the front: M (1 + b/L)/w in all, b the hitch behind
    that group. `restore` is the share of the front axle's loss H b/w that comes back, so M = restore × H b/(1 + b/L).
    An estimate: stiffness of bars and frame decides.
    """
    tow, trailer = parts[0], parts[1]
    front, rear, at, wheelbase = _supports(tow)
    _, trailer_rear, _, length = _supports(trailer)
    if tow.hitch_m is None:
        raise Refusal(f"Where {tow.name} tows, behind its first axle, is not known. Enter it with the rig.", "hitch_m")
    behind = tow.hitch_m - (at + wheelbase)
    moment = restore * hitch_kg * behind / (1 + behind / length)
    off_hitch = moment / length
    front_gain = moment * (1 + behind / length) / wheelbase
    ends = {(i, a.number): (0.0, 0.0) for i, p in enumerate(parts) for a in p.axles}
    for i, group, load in ((0, front, front_gain), (0, rear, -front_gain - off_hitch), (1, trailer_rear, off_hitch)):
        shares = _shares(group)
        for axle in group:
            ends[(i, axle.number)] = (load * shares[axle.number] / 2, load * shares[axle.number] / 2)
    hitch = {i: -off_hitch if i == 1 else 0.0 for i, p in enumerate(parts) if i and p.pulled}
    return Effect(ends, hitch, {0: -off_hitch, **dict.fromkeys(range(1, len(parts)), 0.0)})


def lay_on(vehicles: tuple[Weighed, ...], change: Effect, bars: Bars) -> tuple[tuple[RigLoad, ...], float | None]:
    """The loads of weighed vehicles with a change on top, and all of their axles together.

    What is not known stays so: an axle weighed as a whole changes as a whole. Raises Refusal (field "mass") where
    more is taken off than stands there, or an axle would lift off the ground.
    """
    laden = []
    for i, v in enumerate(vehicles):
        reads = {n: _changed(r, change.ends.get((i, n), (0.0, 0.0))) for n, r in v.reads.items()}
        hitch = None if v.hitch_kg is None else v.hitch_kg + change.on_hitch(i)
        gross = None if v.gross_kg is None else v.gross_kg + change.gross.get(i, 0.0)
        laden.append(replace(v, reads=reads, hitch_kg=hitch, gross_kg=gross))
    for v in laden:
        names = {a.number: a.name for a in v.limits}
        for number, read in v.reads.items():
            if any(kg is not None and kg < 0 for kg in (read.known_kg, read.left_kg, read.right_kg)):
                raise Refusal(
                    f"{names[number]} of {v.name} would lift off the ground. Put less there, or put it elsewhere.",
                    "mass",
                )
    return weigh_together(tuple(laden), bars)


def _changed(read: AxleReading, ends: tuple[float, float]) -> AxleReading:
    if read.lifted:
        return read
    left, right = ends
    return AxleReading(
        None if read.whole_kg is None else read.whole_kg + left + right,
        None if read.left_kg is None else read.left_kg + left,
        None if read.right_kg is None else read.right_kg + right,
        of=read.of,
    )


@dataclass(frozen=True)
class CargoLeft:
    """How much may still go to a place [kg], and the limits that bind it with their vehicle, the tightest first."""

    left_kg: float
    bound_by: tuple[tuple[int, Check], ...]


def cargo_at(parts: tuple[Part, ...], loads: tuple[RigLoad, ...], place: Placed) -> CargoLeft | None:
    """What may still be put at a place, whatever `place` weighs: every margin over the share of a kilogram put there.

    None where no limit that is known carries anything of it. Raises Refusal as `effect` does.
    """
    one = effect(parts, [replace(place, mass_kg=1.0)])
    bounds: list[tuple[float, int, Check]] = []
    for i, rig in enumerate(loads):
        for check in rig.checks:
            on_group = sum(sum(one.ends.get((i, n), (0.0, 0.0))) for n in check.axles)
            per_kg = {"gvwr": one.gross[i], "gcwr": 1.0, "hitch": one.on_hitch(i), "group": on_group}[check.what]
            bounds.append((per_kg, i, check))
        for axle in rig.axles:
            ends = one.ends.get((i, axle.number), (0.0, 0.0))
            bounds += [(_end_share(check, axle, ends), i, check) for check in axle.checks]
    binding = sorted(((c.margin_kg / share, i, c) for share, i, c in bounds if share > 1e-9), key=lambda b: b[0])
    if not binding:
        return None
    left = cargo_left(tuple(c.margin_kg for _, _, c in bounds), tuple(share for share, _, _ in bounds))
    return CargoLeft(left, tuple((i, c) for _, i, c in binding))


def _end_share(check: Check, axle: AxleLoad, ends: tuple[float, float]) -> float:
    """The part of a kilogram that a check of an axle feels. An assumed heavier end feels the worse of end and assumption."""
    left, right = ends
    if check.what.startswith("left"):
        return left
    if check.what.startswith("right"):
        return right
    if axle.assumed and check.what != "gawr":
        return max(left, right, (left + right) * ASSUMED_HEAVIER)
    return left + right


def cargo_left(margins_kg: tuple[float, ...], shares: tuple[float, ...]) -> float:
    """Mass [kg] that may still be put at a place: the least margin ÷ the share of a kilogram put there.

    Limits with no share, or a negative one, do not bind. Never below zero. Raises Refusal if none binds.
    """
    binding = [m / s for m, s in zip(margins_kg, shares, strict=True) if s > 0]
    if not binding:
        raise Refusal("No limit carries anything of that place. Enter at least one rating.", "shares")
    return max(0.0, min(binding))
