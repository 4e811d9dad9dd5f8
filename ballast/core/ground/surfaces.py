"""Surfaces of the ground: shares of the road target by role, the speed that belongs to each, and floors that hold.

What ships is practice, cautious, and no standard: the makers' word goes before it.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ballast.core.refusal import Refusal
from ballast.core.units import both

GroundRole = Literal["steered", "driven", "trailer"]
GROUND_ROLES: dict[GroundRole, str] = {"steered": "Steered", "driven": "Driven", "trailer": "Trailer"}
# How a stretch is drawn.
Pattern = Literal["plain", "strokes", "dots", "dense"]
PATTERNS: dict[Pattern, str] = {
    "plain": "Plain road", "strokes": "Broken strokes", "dots": "Dots", "dense": "Dense dots",
}  # fmt: skip

PRACTICE = (
    "Practice, not a standard: what the makers of tires and vehicle, and local rules, say goes before these shares. "
    "Lowered pressures carry lowered speeds."
)


@dataclass(frozen=True)
class ByRole:
    """One value for each role of an axle."""

    steered: float
    driven: float
    trailer: float

    def of(self, role: GroundRole) -> float:
        return {"steered": self.steered, "driven": self.driven, "trailer": self.trailer}[role]

    @property
    def least(self) -> float:
        return min(self.steered, self.driven, self.trailer)


@dataclass(frozen=True)
class Surface:
    """A kind of ground: shares of the road target, the most that is driven there [km/h], floors [kPa], each by role.

    `speed_kmh` None: the road's own. `recovery`: to get one vehicle out, with a reason, and no further.
    """

    key: str
    name: str
    shares: ByRole
    floors_kpa: ByRole
    speed_kmh: float | None = None
    recovery: bool = False
    pattern: Pattern = "plain"

    @property
    def road(self) -> bool:
        """Road numbers: nothing is let out for it."""
        return self.shares.least >= 1.0


# Below these a bead may come off [kPa]; in recovery, straight and at walking pace, somewhat lower.
HARD_FLOORS = ByRole(110.0, 110.0, 90.0)
RECOVERY_FLOORS = ByRole(80.0, 80.0, 70.0)

_ALIKE = ByRole(1.0, 1.0, 1.0)


def _shares(share: float) -> ByRole:
    return ByRole(share, share, share)


SHIPPED: tuple[Surface, ...] = (
    Surface("highway", "Highway", _ALIKE, HARD_FLOORS),
    Surface("gravel", "Gravel", _shares(0.80), HARD_FLOORS, 70.0, pattern="strokes"),
    Surface("firm", "Firm sand or mud", _shares(0.60), HARD_FLOORS, 40.0, pattern="dots"),
    Surface("soft", "Soft sand", _shares(0.45), HARD_FLOORS, 20.0, pattern="dense"),
    Surface("recovery", "Recovery", _shares(0.33), RECOVERY_FLOORS, 10.0, recovery=True, pattern="dense"),
)
HIGHWAY = SHIPPED[0]
# A share below so much is driven at most at so many km/h, whoever edits the row.
SPEED_CAPS: tuple[tuple[float, float], ...] = ((0.33, 10.0), (0.44, 20.0), (0.75, 50.0), (1.0, 70.0))
RECOVERY_CAP_KMH = 10.0
MOST_SURFACES = 12


def speed_cap(surface: Surface) -> float | None:
    """The most that may be driven on a surface [km/h], by its lowest share; None: it is the road.

    >>> speed_cap(SHIPPED[3])
    50.0
    """
    if surface.recovery:
        return RECOVERY_CAP_KMH
    return next((cap for below, cap in SPEED_CAPS if surface.shares.least < below), None)


def floors_of(surface: Surface) -> ByRole:
    """The floors below which no row may go [kPa]."""
    return RECOVERY_FLOORS if surface.recovery else HARD_FLOORS


def check_surfaces(surfaces: Sequence[Surface]) -> None:
    """Whether rows, hardest first, may stand. Raises Refusal, the field named, for what breaks a hard floor or a speed."""
    if not surfaces or not surfaces[0].road:
        raise Refusal("The first surface is the road, at 100 %. Leave it in front.", "surfaces.0.shares")
    if len(surfaces) > MOST_SURFACES:
        raise Refusal(f"At most {MOST_SURFACES} surfaces are kept. Take one away.", "surfaces")
    names = [s.name.casefold() for s in surfaces]
    for i, surface in enumerate(surfaces):
        at = f"surfaces.{i}"
        if names.index(surface.name.casefold()) != i:
            raise Refusal(f"{surface.name} stands there twice. Name each once.", f"{at}.name")
        _check_one(surface, at)
        if i:
            _check_pair(surfaces[i - 1], surface, at)


def _check_one(surface: Surface, at: str) -> None:
    for role, name in GROUND_ROLES.items():
        share, floor = surface.shares.of(role), surface.floors_kpa.of(role)
        if not 0.0 < share <= 1.0:
            raise Refusal(f"A share lies between 1 and 100 %, here {share:.0%}.", f"{at}.shares.{role}")
        least = floors_of(surface).of(role)
        if floor < least - 1e-6:
            kind = "in recovery" if surface.recovery else "here"
            raise Refusal(
                f"{name} tires go no lower than {both('pressure', least)} {kind}: below it a bead may come off.",
                f"{at}.floors_kpa.{role}",
            )
    cap = speed_cap(surface)
    if cap is None:
        return
    if surface.speed_kmh is None:
        raise Refusal("A share is never without its speed. Enter the most that is driven there.", f"{at}.speed_kmh")
    if not 0 < surface.speed_kmh <= cap:
        raise Refusal(
            f"At {surface.shares.least:.0%} at most {both('speed', cap)} are driven. Enter that or less.",
            f"{at}.speed_kmh",
        )


def _check_pair(harder: Surface, softer: Surface, at: str) -> None:
    """A softer row asks for no more air, no higher floor and no more speed than the one before it."""
    for role in GROUND_ROLES:
        if softer.shares.of(role) > harder.shares.of(role):
            raise Refusal(
                f"{softer.name} is softer than {harder.name}: its share is not above {harder.shares.of(role):.0%}.",
                f"{at}.shares.{role}",
            )
        if softer.floors_kpa.of(role) > harder.floors_kpa.of(role) + 1e-6:
            raise Refusal(
                f"{softer.name} is softer than {harder.name}: its floor is not above "
                f"{both('pressure', harder.floors_kpa.of(role))}.",
                f"{at}.floors_kpa.{role}",
            )
    if harder.speed_kmh is not None and softer.speed_kmh is not None and softer.speed_kmh > harder.speed_kmh:
        raise Refusal(
            f"{softer.name} is softer than {harder.name}: it is not driven faster than {both('speed', harder.speed_kmh)}.",
            f"{at}.speed_kmh",
        )
