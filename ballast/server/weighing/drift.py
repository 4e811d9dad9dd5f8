"""Weighings over time: what crept up, and when the next is due."""

from ballast.core import weighing as core
from ballast.server.accounts.actors import Actor
from ballast.server.edge import clock
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.weighing import services as weighing
from ballast.server.weighing.schemas import DriftOut


def drift(actor: Actor, rig: Rig) -> DriftOut:
    """Weighings over time, what changed since the last of the same load state, and when the next is due."""
    typed = rigs.rig_of(rig)
    rows = [w for w in weighing.weighings(actor, rig) if not w.amended]  # type: ignore[attr-defined]
    weighed = [w for w in rows if w.way != weighing.WORKED_OUT]
    loads = {w.pk: weighing.loads_of(w, typed) for w in weighed}
    now = next((w for w in rows if w.load_state.in_force), None)
    newest = next((w for w in weighed if now is None or now.basis_id in (None, w.pk)), None)
    older = weighed[weighed.index(newest) + 1 :] if newest else []
    before = next((w for w in older if newest and w.load_state_id == newest.load_state_id), None)
    due, words = weighing.again(now, typed, clock.today())
    return DriftOut.model_validate({
        "points": [
            {
                "id": w.pk, "weighed_on": w.weighed_on, "load_state": w.load_state.name, "way": w.way, "scale": w.scale,
                "odometer_km": w.odometer_km, "total_kg": loads[w.pk].total_kg, "axles": loads[w.pk].axles,
            }
            for w in reversed(weighed)
        ],
        "changes": core.drifts(loads[before.pk], loads[newest.pk]) if newest and before else [],
        "since": before.weighed_on if before else None,
        "due_on": due.on,
        "due": due.now,
        "due_words": words.on(clock.today()),
    })  # fmt: skip
