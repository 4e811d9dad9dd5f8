"""Where the vehicle's own lamp lights over an axle: as written down, else as it was seen, else as the law has it."""

import datetime as dt
from dataclasses import dataclass

from ballast.core.rigs import TRAILERS, Axle, Rig

# The least pressure [kPa] at which a vehicle's own lamp must light: 49 CFR 571.138, table 1, by the tire's kind.
_LAMP_LEAST = {"": 140.0, "XL": 160.0, "C": 200.0, "D": 240.0, "E": 240.0}
LAMP_SHARE = 0.75


@dataclass(frozen=True)
class LampSeen:
    """What was seen of the lamp over an axle, by raw numbers [kPa], on tires of one size, last on a day.

    `lit_kpa`: the highest at which a tire lit it; `out_kpa`: the lowest at which it was out. None: never seen.
    """

    on: dt.date
    size: str
    lit_kpa: float | None
    out_kpa: float | None

    @property
    def contradicts(self) -> bool:
        """It sets low and clears higher, and so is never lit where it was out: one of the two is not true."""
        return self.lit_kpa is not None and self.out_kpa is not None and self.lit_kpa >= self.out_kpa

    def of(self, size: str) -> bool:
        """Whether it says anything of tires of this size."""
        return self.size == size and not self.contradicts


def lamp_learned(before: LampSeen | None, now: LampSeen) -> LampSeen:
    """What is known once it was seen again; tires of another size begin anew.

    >>> first = LampSeen(dt.date(2026, 11, 7), "A", 205.0, None)
    >>> lamp_learned(first, LampSeen(dt.date(2026, 11, 9), "A", 198.0, 226.0))
    LampSeen(on=datetime.date(2026, 11, 9), size='A', lit_kpa=205.0, out_kpa=226.0)
    """
    if before is None or before.size != now.size:
        return now
    lit = [p for p in (before.lit_kpa, now.lit_kpa) if p is not None]
    out = [p for p in (before.out_kpa, now.out_kpa) if p is not None]
    return LampSeen(now.on, now.size, max(lit, default=None), min(out, default=None))


def lamp_kpa(placard_kpa: float | None, service: str, load_range: str) -> float | None:
    """Below this the law lets a vehicle's own lamp light at the latest [kPa]: 25 % under the placard, or the least by kind.

    49 CFR 571.138 S4.2, vehicles up to 4,536 kg without duals. None without a placard.
    """
    if placard_kpa is None:
        return None
    least = (
        _LAMP_LEAST["XL" if load_range == "XL" else ""]
        if service == "passenger"
        else _LAMP_LEAST.get(load_range, 140.0)
    )
    return max(LAMP_SHARE * placard_kpa, least)


def own_lamp_kpa(
    rig: Rig, axle: Axle, load_range: str, recorded_kpa: float | None, seen: LampSeen | None = None, size: str = ""
) -> float | None:
    """Below this the vehicle's own lamp lights over an axle [kPa]: as recorded, else as seen, by law at the latest.

    `size`: of the tires as the axle is described. None where no such lamp is asked for: trailers, motorcycles, duals, and
    above 4,536 kg.
    """
    if not rig.light or rig.kind in TRAILERS or any(a.wheels != 2 for a in rig.axles) or axle.tire is None:
        return None
    if recorded_kpa is not None:
        return recorded_kpa
    learned = seen.lit_kpa if seen is not None and seen.of(size) else None
    by_law = lamp_kpa(axle.tire.placard_kpa, axle.tire.size.service, load_range)
    return max((p for p in (learned, by_law) if p is not None), default=None)
