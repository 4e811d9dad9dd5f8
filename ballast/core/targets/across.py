"""What no axle shows by itself: front against rear, the vehicle's own lamp, a placard for other tires."""

from ballast.core.rigs import TRAILERS, Axle, Rig, Row
from ballast.core.tables import LoadTable
from ballast.core.targets.axle import AxleTarget
from ballast.core.targets.case import AxleCase
from ballast.core.working import Phrase, say

# The least pressure [kPa] at which a vehicle's own lamp must light: 49 CFR 571.138, table 1, by the tire's kind.
_LAMP_LEAST = {"": 140.0, "XL": 160.0, "C": 200.0, "D": 240.0, "E": 240.0}
LAMP_SHARE = 0.75


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


def own_lamp_kpa(rig: Rig, axle: Axle, load_range: str, recorded_kpa: float | None) -> float | None:
    """Below this the vehicle's own lamp lights over an axle [kPa]: as recorded, else as the law has it.

    None where no such lamp is asked for: trailers, motorcycles, duals, and above 4,536 kg.
    """
    if not rig.light or rig.kind in TRAILERS or any(a.wheels != 2 for a in rig.axles) or axle.tire is None:
        return None
    return recorded_kpa or lamp_kpa(axle.tire.placard_kpa, axle.tire.size.service, load_range)


def placard_carried(
    placard_kpa: float | None, original: str, fitted: str, tables: tuple[LoadTable | None, LoadTable | None], row: Row
) -> tuple[float | None, Phrase | None]:
    """A placard for another size than is fitted: the pressure that counts [kPa], and what was done, in words.

    `tables` are of the original and of the fitted size. Without both the placard's own number stands, marked; for the
    fitted size itself there is nothing to carry: (None, None).
    """
    if placard_kpa is None or original == fitted:
        return None, None
    same = placard_equivalent(placard_kpa, *tables, row)
    if same is None:
        why = "without both tables its pressure stands as it is, marked"
        return None, say(f"The placard is for {original}, not for {fitted}: {why}.")
    return same, say(f"The placard is for {original}: {fitted} carries as much as it did at the pressure used here.")


def placard_equivalent(
    placard_kpa: float, original: LoadTable | None, fitted: LoadTable | None, row: Row
) -> float | None:
    """The pressure [kPa] at which the fitted size carries what the original carried at its placard.

    None where a table is missing, has not the row, or cannot say.
    """
    if original is None or fitted is None or (row == "dual" and None in (original.dual_kg, fitted.dual_kg)):
        return None
    carried = original.load_at(row, placard_kpa)
    return None if carried is None else fitted.floor(row, carried)


def across(cases: tuple[AxleCase, ...], targets: tuple[AxleTarget, ...], light: bool) -> tuple[Phrase, ...]:
    """What to say of a rig's targets together: on a light rig, front and rear the other way round than the placard's."""
    if not light or len(cases) < 2:
        return ()
    front, rear = (cases[0], targets[0]), (cases[-1], targets[-1])
    pressures = [front[0].placard_kpa, rear[0].placard_kpa, front[1].target_kpa, rear[1].target_kpa]
    if any(p is None for p in pressures):
        return ()
    placard_front, placard_rear, target_front, target_rear = (float(p) for p in pressures if p is not None)
    if (placard_front - placard_rear) * (target_front - target_rear) < 0:
        more = "front" if target_front > target_rear else "rear"
        words = (
            f"The {more} gets more air here, the placard has it the other way round: handling changes, drive with care."
        )
        return (say(words),)
    return ()
