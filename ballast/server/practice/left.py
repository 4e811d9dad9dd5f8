"""What somebody's work left on record in the world of a try, as the core judges it."""

from typing import Any

from ballast.core.practice import LET_OUT_KPA, Left
from ballast.server.ground.models import GroundPlan, KitItem
from ballast.server.practice.models import Try
from ballast.server.refine.models import ChalkPass
from ballast.server.rounds.models import Reading, Round
from ballast.server.sensors.models import LampCase
from ballast.server.weighing.models import Weighing


def left_of(row: Try, reason: str) -> Left:
    """All of it that was done since the try began; what was there before is no work of theirs."""
    rounds = Round.objects.filter(rig_id=row.rig, sealed_at__isnull=False, opened_at__gte=row.begun_at)
    newest = rounds.select_related("gauge").order_by("-sealed_at").first()
    readings = list(Reading.objects.filter(round__in=rounds).order_by("round__sealed_at", "id"))
    found: dict[str, float] = {}
    last: dict[str, float] = {}
    let_out: set[str] = set()
    for r in readings:
        if not r.after:
            found[r.wheel] = r.corrected_kpa
        elif r.corrected_kpa < found.get(r.wheel, 0.0) - LET_OUT_KPA:
            let_out.add(r.wheel)
        last[r.wheel] = r.corrected_kpa
    lamp = LampCase.objects.filter(rig_id=row.rig, entered_at__gte=row.begun_at).order_by("-id").first()
    aboard = KitItem.objects.filter(rig_id=row.rig, kind="inflator", inflator__isnull=False).select_related("inflator")
    pumps = [i.inflator.label for i in aboard if i.inflator]
    return Left(
        left_kpa=last, read=frozenset(found) | _read_at_lamp(lamp), let_out=frozenset(let_out),
        gauge=newest.gauge.label if newest else "", inflator=pumps[0] if len(pumps) == 1 else "",
        lamp=lamp.outcome if lamp else "", chalk_next=_next_pass(row), corners=_corners(row),
        plan_open=_plan_open(row), reason=reason,
    )  # fmt: skip


def _read_at_lamp(case: LampCase | None) -> frozenset[str]:
    answers: dict[str, Any] = case.answers if case else {}
    return frozenset(r["wheel"] for r in answers.get("readings", []))


def _next_pass(row: Try) -> Any:
    """Which way the pass after the one that was there went."""
    passes = list(ChalkPass.objects.filter(trial__rig_id=row.rig).order_by("id")[:2].values_list("kpa", flat=True))
    if len(passes) < 2 or passes[0] == passes[1]:
        return ""
    return "up" if passes[1] > passes[0] else "down"


def _corners(row: Try) -> bool:
    """Whether somebody weighed each end of the front axle."""
    newest = Weighing.objects.filter(rig_id=row.rig, entered_at__gte=row.begun_at).prefetch_related("axles").first()
    return any(a.number == 1 and a.left_kg and a.right_kg for a in newest.axles.all()) if newest else False


def _plan_open(row: Try) -> bool | None:
    """Whether the ground plan is open; None: there was none."""
    plans = GroundPlan.objects.filter(rig_id=row.rig, undone_at=None)
    return plans.filter(closed_at=None).exists() if plans.exists() else None
