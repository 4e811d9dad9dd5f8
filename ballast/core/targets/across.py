"""What no axle shows by itself: front against rear, a placard for other tires."""

from ballast.core.rigs import Row
from ballast.core.tables import LoadTable
from ballast.core.targets.axle import AxleTarget
from ballast.core.targets.case import AxleCase
from ballast.core.working import Phrase, say


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
