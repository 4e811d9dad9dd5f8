"""Every wheel of a combination in walking order with what it is held against, as a round takes it down when it is opened."""

import datetime as dt
from typing import Any

from django.db import transaction

from ballast.core import lookback as core_lookback
from ballast.core import rigs as core_rigs
from ballast.core import rounds as core_rounds
from ballast.core.gas import Air
from ballast.core.refusal import Refusal
from ballast.core.tables import STEPS
from ballast.core.working import say
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.words import kept
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds.models import Service, WalkOrder
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetSet

Newest = dict[tuple[int, str], Service]


def of(actor: Actor, train: list[Rig], sets: list[TargetSet | None], newest: Newest) -> list[dict[str, Any]]:
    """The wheels of a combination. Down the left side of all vehicles, up the right, then the spares; or as kept."""
    lines = [
        lines_of(rig, row, newest, targets.unaimed(actor, rig, row)) for rig, row in zip(train, sets, strict=True)
    ]  # fmt: skip
    left = [line for own in lines for side, line in own if side in ("L", "C")]
    right = [line for own in reversed(lines) for side, line in own if side == "R"]
    spares = [line for own in lines for side, line in own if side is None]
    usual = left + right + spares
    walked = WalkOrder.objects.filter(rig=train[0]).values_list("codes", flat=True).first() or []
    place = {code: i for i, code in enumerate(walked)}
    return sorted(usual, key=lambda line: place.get(line["code"], len(place)))


def lines_of(
    rig: Rig, row: TargetSet | None, newest: Newest, unaimed: dict[int, targets.Unaimed]
) -> list[tuple[str | None, dict[str, Any]]]:
    """The wheels of a vehicle, each with its side; `unaimed` are its axles without a target number."""
    typed = rigs.rig_of(rig)
    bands = {a.number: a for a in row.axles.all()} if row else {}
    spares = list(rig.spares.all())
    own_spares = {s["number"]: s for s in row.spares} if row else {}
    on = {f.wheel: f.tire_id for f in rigs.fitted_on(rig)}
    lines: list[tuple[str | None, dict[str, Any]]] = []
    for wheel, shown in zip(rigs.wheels_of(rig), rigs.wheels_in_train(rig), strict=True):
        if wheel.axle is None:
            spare = spares[int(wheel.code[1:]) - 1]
            aimed = own_spares.get(spare.number)
            band = {
                "floor": None,
                "target": aimed["target_kpa"] if aimed else spare.required_kpa,
                "ceiling": aimed["ceiling_kpa"] if aimed else spare.sidewall_max_kpa,
            }
            if band["target"] is None:
                band |= {"missing": kept(say("Its pressure is not known: enter it with the rig."))}
            dual = False
        else:
            axle = bands.get(wheel.axle)
            band = {
                "floor": axle.floor_kpa if axle else None,
                "floor_from": axle.floor_from if axle else "load",
                "target": axle.target_kpa if axle else None,
                "ceiling": axle.ceiling_kpa if axle else None,
            }
            dual = typed.axles[wheel.axle - 1].row == "dual"
            if (bare := unaimed.get(wheel.axle)) is not None:
                ceiling = core_rounds.stop_without_target(bare.known_kpa, bare.sidewall_max_kpa, _small(typed))
                band |= {"stop": ceiling, "missing": kept(bare.missing)}
                band["ceiling"] = bare.sidewall_max_kpa if band["ceiling"] is None else band["ceiling"]
        last = newest.get((rig.pk, wheel.code))
        line = {
            "code": shown.code,
            "name": shown.name,
            "own": wheel.code,
            "rig": rig.pk,
            "axle": wheel.axle,
            "spare": wheel.axle is None,
            "side": {"L": -1, "R": 1}.get(wheel.side or "", 0),
            "dual": dual,
            "inner": wheel.code.endswith("i"),
            "tire": on.get(wheel.code),
            "heavy_or_dual": dual or not typed.light,
            "step": STEPS[row.step].kpa if row else 1.0,
            # Of another tire than the one that is on now nothing is expected.
            "last": _last_out(last) if last and last.tire_id == on.get(wheel.code) else None,
            **band,
        }
        lines.append((wheel.side, line))
    return lines


def _small(typed: core_rigs.Rig) -> bool:
    """A light trailer or a motorcycle."""
    return typed.kind == "motorcycle" or (typed.light and typed.kind in core_rigs.TRAILERS)


def _last_out(row: Service) -> dict[str, Any]:
    return {
        "kpa": row.stood_kpa, "noise_kpa": row.scatters_kpa, "gauge": row.gauge_id, "gauge_kpa": row.uncertainty_kpa, "air_c": row.air_c, "elevation_m": row.elevation_m,
        "absolute_kpa": row.absolute_kpa, "at": row.at.isoformat(), "rate": row.rate_kpa_day, "error": row.rate_error,
    }  # fmt: skip


def last_of(line: dict[str, Any], now: dt.datetime) -> core_lookback.Last | None:
    """A line's last service as the rules take it; None: there was none with this tire."""
    last = line.get("last")
    if last is None:
        return None
    days = (now - dt.datetime.fromisoformat(last["at"])) / dt.timedelta(days=1)
    # Rounds of before the scatter was learned were opened with the usual one.
    noise = last.get("noise_kpa") or core_lookback.noise_kpa(last["kpa"], last["absolute_kpa"])
    return core_lookback.Last(
        last["kpa"], noise, Air(last["air_c"], last["elevation_m"], last["absolute_kpa"]), max(0.0, days),
        core_lookback.Rate(last["rate"], last["error"], True), last.get("gauge", 0), last.get("gauge_kpa", 0.0),
    )  # fmt: skip


@transaction.atomic
def keep_walk(actor: Actor, rig_id: int, codes: list[str]) -> list[str]:
    """Keeps the order in which a rig is walked; an empty one goes back to the usual. Raises Refusal for unknown wheels."""
    actor.must(May.ROUNDS)
    train = rigs.train(actor, rig_id)
    known = [w.code for rig in train for w in rigs.wheels_in_train(rig)]
    strange = next((c for c in codes if c not in known), None)
    if strange is not None:
        raise Refusal(f"There is no wheel {strange} on it. It has {', '.join(known)}.", "codes")
    if len(set(codes)) < len(codes):
        raise Refusal("A wheel stands twice in the order. Name each once.", "codes")
    WalkOrder.objects.filter(rig=train[0]).delete()
    if codes:
        WalkOrder.objects.create(rig=train[0], codes=codes)
    return codes
