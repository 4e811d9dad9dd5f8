import uuid as uuids
from collections import Counter
from dataclasses import dataclass
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import Prefetch, QuerySet
from django.utils import timezone
from pydantic import TypeAdapter

from ballast.core import air as core_air
from ballast.core import gauges as core_gauges
from ballast.core import rounds as core
from ballast.core import weighing as core_weighing
from ballast.core.gas import Air
from ballast.core.refusal import Refusal
from ballast.core.tables import STEPS
from ballast.core.working import Phrase, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import services as air
from ballast.server.air.schemas import AirIn
from ballast.server.edge.problems import Conflict
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Gauge
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds.models import Reading, Round, RoundPart
from ballast.server.rounds.schemas import ConditionsIn, ReadingIn, RoundOut
from ballast.server.tables.models import Table
from ballast.server.targets import policies
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetSet
from ballast.server.targets.policies import Way
from ballast.server.weighing import services as weighing

_ROUND = TypeAdapter(RoundOut)


_PARTS = Prefetch("parts__rig", Rig.objects.prefetch_related("axles", rigs.ON_NOW))


def rounds(actor: Actor) -> QuerySet[Round]:
    actor.must(May.READ)
    return Round.objects.filter(rig__workspace=actor.workspace, abandoned_at=None)


def round_(actor: Actor, round_id: int) -> Round:
    """One round of the workspace. Raises DoesNotExist for any other."""
    return (
        rounds(actor)
        .select_related("rig", "opened_by", "sealed_by")
        .prefetch_related(
            "gauge__calibrations",
            "readings__gauge",
            "readings__entered_by",
            "parts__target_set__weighing__axles",
            _PARTS,
        )
        .get(pk=round_id)
    )


def _sheet(train: list[Rig], sets: list[TargetSet | None]) -> list[dict[str, Any]]:
    """Every wheel of a combination in walking order with its band, from the targets in force.

    Down the left side of all vehicles, up the right, then the spares.
    """
    lines = [_lines(rig, row) for rig, row in zip(train, sets, strict=True)]
    left = [line for own in lines for side, line in own if side in ("L", "C")]
    right = [line for own in reversed(lines) for side, line in own if side == "R"]
    spares = [line for own in lines for side, line in own if side is None]
    return left + right + spares


def _lines(rig: Rig, row: TargetSet | None) -> list[tuple[str | None, dict[str, Any]]]:
    """The wheels of a vehicle, each with its side."""
    typed = rigs.rig_of(rig)
    bands = {a.number: a for a in row.axles.all()} if row else {}
    spares = list(rig.spares.all())
    own_spares = {s["number"]: s for s in row.spares} if row else {}
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
            dual = False
        else:
            axle = bands.get(wheel.axle)
            band = {
                "floor": axle.floor_kpa if axle else None,
                "target": axle.target_kpa if axle else None,
                "ceiling": axle.ceiling_kpa if axle else None,
            }
            dual = typed.axles[wheel.axle - 1].row == "dual"
        line = {
            "code": shown.code,
            "name": shown.name,
            "own": wheel.code,
            "rig": rig.pk,
            "axle": wheel.axle,
            "spare": wheel.axle is None,
            "heavy_or_dual": dual or not typed.light,
            "step": STEPS[row.step].kpa if row else 1.0,
            **band,
        }
        lines.append((wheel.side, line))
    return lines


def _conditions(actor: Actor, data: ConditionsIn, way: Way) -> dict[str, Any]:
    try:
        gauge = gauges.gauge(actor, data.gauge)
    except Gauge.DoesNotExist:
        raise Refusal("There is no such gauge in this workspace. Choose one of the drawer.", "gauge") from None
    if gauge.retired:
        raise Refusal("That gauge is retired. Choose another.", "gauge")
    read = air.read_air(
        actor,
        AirIn(
            place_key=data.place_key, outside_c=data.outside_c, dawn_c=data.dawn_c, elevation_m=data.elevation_m,
            station_kpa=data.station_kpa,
        ),
    )  # fmt: skip
    ahead = air.surroundings(read, way.check_days).dawns
    morning = data.morning_c.value if data.morning_c else read["morning_c"]
    return {
        "gauge": gauge,
        "standing_h": data.standing_h,
        "driven": data.driven,
        "place": read["place"],
        "time_zone": read["time_zone"],
        "outside_c": read["outside_c"],
        "morning_c": morning,
        "dawn_c": read["dawn_c"],
        "dawns": [[d.air.temperature_c, d.days] for d in ahead],
        "station_kpa": read["station_kpa"],
        "elevation_m": read["elevation_m"],
        "temperature": way.temperature,
        "cold_after_h": way.cold_after_h,
    }


@transaction.atomic
def begin(actor: Actor, rig_id: int, data: ConditionsIn) -> Round:
    """Opens a round of a rig and of all that is hitched behind it.

    Raises Conflict while one of them has an open one, or for a trailer that is towed: the round is the whole's.
    Raises Refusal for a gauge that is not this workspace's.
    """
    actor.must(May.ROUNDS)
    train = rigs.train(actor, rig_id)
    rig = train[0]
    if rig.pk != rig_id:
        raise Conflict(f"It is hitched behind {rig.name}: read the whole from there, or unhitch it first.", "rig")
    if rig.archived:
        raise Conflict("This rig is archived. Bring it back first.")
    if other := rounds(actor).filter(parts__rig__in=train, sealed_at=None).select_related("rig", "opened_by").first():
        raise Conflict(
            f"A round of {other.rig.name} by {other.opened_by.shown_name} is open. Go on with it, or abandon it.", "rig"
        )
    in_force = targets.each_in_force(targets.sets(actor, *train))
    sets = [in_force.get(vehicle.pk) for vehicle in train]
    try:
        made = Round.objects.create(
            rig=rig,
            sheet=_sheet(train, sets),
            heavy=any(not rigs.rig_of(vehicle).light for vehicle in train),
            opened_by=actor.person,
            opened_at=timezone.now(),
            **_conditions(actor, data, policies.way_of(actor, rig)),
        )
    except IntegrityError:
        raise Conflict("Another round was opened at this moment. Go on with it.", "rig") from None
    RoundPart.objects.bulk_create(
        RoundPart(round=made, rig=vehicle, place=i, target_set=row)
        for i, (vehicle, row) in enumerate(zip(train, sets, strict=True))
    )
    return round_(actor, made.pk)


def _still_open(actor: Actor, round_id: int) -> Round:
    actor.must(May.ROUNDS)
    row = round_(actor, round_id)
    _must_be_open(row)
    return row


def _must_be_open(row: Round) -> None:
    if row.sealed_at is not None:
        raise Conflict("This round is sealed. Open a new one for more readings.")


@transaction.atomic
def change_conditions(actor: Actor, round_id: int, data: ConditionsIn) -> Round:
    """Changes gauge, air or standing of an open round; every answer follows, readings keep their own gauge."""
    row = _still_open(actor, round_id)
    way = policies.way_of(actor, policies.rig_of(actor, row.rig_id))
    for name, value in _conditions(actor, data, way).items():
        setattr(row, name, value)
    row.save()
    return round_(actor, round_id)


@transaction.atomic
def abandon(actor: Actor, round_id: int) -> None:
    """Puts an open round away. Its readings stay stored, and count for nothing."""
    row = _still_open(actor, round_id)
    row.abandoned_at = timezone.now()
    row.save()


def _with_gauge(actor: Actor, round_id: int) -> Round:
    """A round with its gauge alone at hand: all that a reading asks of it. Raises DoesNotExist."""
    return rounds(actor).select_related("gauge").prefetch_related("gauge__calibrations").get(pk=round_id)


def _corrected(row: Round, data: ReadingIn) -> core_gauges.Corrected:
    return core_gauges.correct(gauges.gauge_of(row.gauge), data.pressure.value)


def _wheel(row: Round, code: str) -> dict[str, Any]:
    found = next((w for w in row.sheet if w["code"] == code), None)
    if found is None:
        raise Refusal(f"There is no wheel {code} in this round. Choose one of the plan.", "wheel")
    return found  # type: ignore[no-any-return]


def read(actor: Actor, round_id: int, uuid: uuids.UUID, data: ReadingIn) -> Round:
    """Stores a reading and gives the round as it stands then. Raises Conflict as `store` does."""
    store(actor, round_id, uuid, data)
    return round_(actor, round_id)


@transaction.atomic
def store(actor: Actor, round_id: int, uuid: uuids.UUID, data: ReadingIn) -> None:
    """Stores a reading, once, however often it is sent.

    Raises Conflict when the UUID was used for another value, the round is sealed, or the tire waits for inspection.
    """
    actor.must(May.ROUNDS)
    row = _with_gauge(actor, round_id)
    if stored := Reading.objects.filter(uuid=uuid).first():
        same = (
            stored.round_id == row.pk
            and stored.wheel == data.wheel
            and stored.after == data.after
            and stored.not_rolled == data.not_rolled
            and abs(stored.raw_kpa - data.pressure.value) < 1e-6
        )
        if not same:
            raise Conflict(
                "This reading is stored already with another value. Send the new one under its own UUID.", "uuid"
            )
        return
    _must_be_open(row)
    wheel = _wheel(row, data.wheel)
    corrected = _corrected(row, data)
    if data.after:
        view = wheel_view(Frame.of(row), wheel, list(row.readings.select_related("gauge", "entered_by")))
        if view["before"] is None:
            raise Conflict("Read it before adding air first.", "after")
        if view["locked"]:
            raise Conflict(
                "It may have rolled far too low: no air before an inspection. If it has not rolled like this, say so "
                "with its first reading.",
                "after",
            )
    Reading.objects.create(
        uuid=uuid,
        round=row,
        wheel=data.wheel,
        after=data.after,
        typed=data.pressure.typed,
        raw_kpa=data.pressure.value,
        gauge=row.gauge,
        corrected_kpa=corrected.kpa,
        uncertainty_kpa=corrected.uncertainty_kpa,
        outside_calibration=corrected.outside,
        not_rolled=data.not_rolled,
        entered_by=actor.person,
        received_at=timezone.now(),
    )


@dataclass(frozen=True)
class Frame:
    """What all wheels of a round share: the air, how the rig stands, the gauge in hand."""

    here: Air
    morning: Air | None
    dawns: tuple[core_air.Ahead, ...]
    temperature: core_air.TemperaturePolicy
    standing: core_air.Standing
    gauge: core_gauges.Gauge

    @classmethod
    def of(cls, row: Round) -> "Frame":
        def air_at(temperature: float | None) -> Air | None:
            return None if temperature is None else Air(temperature, row.elevation_m)

        # A round of before dawns were kept knows the coming one alone.
        dawns = row.dawns or ([[row.dawn_c, 1.0]] if row.dawn_c is not None else [])
        return cls(
            Air(row.outside_c, row.elevation_m, row.station_kpa),
            air_at(row.morning_c),
            tuple(core_air.Ahead(Air(c, row.elevation_m), days) for c, days in dawns),
            row.temperature,  # type: ignore[arg-type]
            core_air.standing(row.standing_h, row.heavy, row.driven, row.outside_c, row.cold_after_h),  # type: ignore[arg-type]
            gauges.gauge_of(row.gauge),
        )


def here_of(frame: Frame, wheel: dict[str, Any]) -> dict[str, Any]:
    """A wheel's target in the air of the round, and what the gauge in hand shows there."""
    if wheel["target"] is None:
        return {"here_kpa": None, "shows_kpa": None, "hold_from_kpa": None, "target_working": (), "target_notes": ()}
    found = core_air.target_here(
        wheel["target"], wheel["floor"], wheel["ceiling"], frame.here, frame.morning, frame.dawns, wheel["step"],
        frame.temperature,
    )  # fmt: skip
    return {
        "here_kpa": found.kpa,
        "shows_kpa": core_gauges.shows(frame.gauge, found.kpa),
        "hold_from_kpa": found.hold_from_kpa,
        "target_working": found.working,
        # What speaks against this gauge at this pressure belongs beside it.
        "target_notes": (*found.notes, *core_gauges.suits(frame.gauge, found.kpa)[1]),
    }


def answer_for(
    frame: Frame, wheel: dict[str, Any], held: dict[str, Any], found: core_gauges.Corrected | None, not_rolled: bool
) -> core.Answer:
    """What a corrected reading means at a wheel of a round. A spare has not rolled, so it is cold."""
    goal = core.WheelGoal(
        target_kpa=held["here_kpa"],
        hold_from_kpa=held["hold_from_kpa"],
        floor_kpa=wheel["floor"],
        ceiling_kpa=wheel["ceiling"],
        may_have_rolled=not wheel["spare"] and not not_rolled,
        heavy_or_dual=wheel["heavy_or_dual"],
    )
    standing = core_air.Standing(True, frame.here.temperature_c, 0.0) if wheel["spare"] else frame.standing
    return core.answer(goal, found, standing, frame.here)


def _reading_out(reading: Reading) -> dict[str, Any]:
    return {
        "uuid": str(reading.uuid),
        "typed": reading.typed,
        "raw_kpa": reading.raw_kpa,
        "corrected_kpa": reading.corrected_kpa,
        "uncertainty_kpa": reading.uncertainty_kpa,
        "gauge": reading.gauge.label,
        "not_rolled": reading.not_rolled,
        "by": reading.entered_by.shown_name,
        "at": reading.received_at,
    }


def _as_corrected(reading: Reading | None) -> core_gauges.Corrected | None:
    if reading is None:
        return None
    return core_gauges.Corrected(reading.corrected_kpa, reading.uncertainty_kpa, reading.outside_calibration)


def wheel_view(frame: Frame, wheel: dict[str, Any], readings: list[Reading]) -> dict[str, Any]:
    """A wheel with its newest readings and what they mean."""
    own = [r for r in readings if r.wheel == wheel["code"]]
    before = next((r for r in reversed(own) if not r.after), None)
    # A new first reading starts the wheel again: an earlier second one no longer belongs to it.
    after = next((r for r in reversed(own) if r.after and before is not None and r.pk > before.pk), None)
    not_rolled = bool(before and before.not_rolled)
    held = here_of(frame, wheel)
    answer = answer_for(frame, wheel, held, _as_corrected(before), not_rolled)
    after_answer = answer_for(frame, wheel, held, _as_corrected(after), True) if after else None
    firsts = sum(1 for r in own if not r.after)
    return {
        "code": wheel["code"],
        "name": wheel["name"],
        "own": wheel["own"],
        "rig": wheel["rig"],
        "axle": wheel["axle"],
        "spare": wheel["spare"],
        "floor_kpa": wheel["floor"],
        "target_kpa": wheel["target"],
        "ceiling_kpa": wheel["ceiling"],
        **held,
        "before": _reading_out(before) if before else None,
        "after": _reading_out(after) if after else None,
        "answer": answer,
        "after_answer": after_answer,
        "locked": answer.word == "stop" and wheel["heavy_or_dual"],
        "retakes": max(0, firsts - 1),
    }


_WORDS = {
    "stop": "stop and inspect", "add": "add air", "let_out": "let out", "hold": "hold", "cannot_tell": "cannot tell",
    "not_checked": "not checked",
}  # fmt: skip


def last_answer(wheel: dict[str, Any]) -> core.Answer:
    """The answer that stands: after air was added the second, else the first."""
    return wheel["after_answer"] or wheel["answer"]  # type: ignore[no-any-return]


def summarise(wheels: list[dict[str, Any]]) -> str:
    """A round in a few words, by the answers that stand at its end."""
    count = Counter(last_answer(w).word for w in wheels)
    served = sum(1 for w in wheels if w["after"])
    parts = [f"{_WORDS[w]}: {count[w]}" for w in ("stop", "add", "let_out", "cannot_tell", "not_checked") if count[w]]
    text = ", ".join(parts) if parts else "all hold"
    return f"{text}; air set in {served}" if served else text


def findings(wheels: list[dict[str, Any]]) -> list[str]:
    """What is a finding of its own: mates that disagree."""
    cold = {w["code"]: a.cold_kpa for w in wheels if (a := last_answer(w)).cold_kpa is not None}
    names = {w["code"]: w["name"] for w in wheels}
    return [f"{names[a]} and {names[b].lower()} differ by 5 psi or 7 %: mates must agree." for a, b in core.mates(cold)]


def present(row: Round) -> dict[str, Any]:
    """A round as it stands; a sealed one as it stood when it was sealed."""
    if row.result is not None:
        return row.result  # type: ignore[no-any-return]
    readings = list(row.readings.all())
    frame = Frame.of(row)
    wheels = [wheel_view(frame, wheel, readings) for wheel in row.sheet]
    compared = gauges.latest(row.gauge)
    days = (timezone.now().date() - compared.compared_on).days if compared else None
    condition = core_gauges.condition(frame.gauge, days)
    fields = (
        "id", "place", "time_zone", "outside_c", "morning_c", "dawn_c", "elevation_m", "standing_h", "driven",
        "opened_at", "sealed_at", "unread_reason",
    )  # fmt: skip
    parts = list(row.parts.all())
    over: list[Phrase] = []
    for part in parts:
        if part.target_set is not None and part.target_set.weighing is not None:
            loads = weighing.loads_of(part.target_set.weighing, rigs.rig_of(part.rig))
            said = [core_weighing.overload_words(c) for c in loads.over]
            over += [say(f"{part.rig.name}: {p.text}", *p.values) for p in said] if len(parts) > 1 else said
    sets = [p.target_set_id for p in parts if p.target_set_id]
    kinds = set(Table.objects.filter(target_sets__in=sets).values_list("sample", "checked_by")) if sets else set()
    return {f: getattr(row, f) for f in fields} | {
        "rig": row.rig_id,
        "rig_name": " ".join(filter(None, (row.rig.fleet_number, row.rig.name))),
        "gauge": row.gauge_id,
        "gauge_label": row.gauge.label,
        "gauge_condition": core_gauges.DROPPED if row.gauge.dropped else condition,
        "cold": frame.standing.cold,
        "wait_h": frame.standing.wait_h,
        "opened_by": row.opened_by.shown_name,
        "sealed_by": row.sealed_by.shown_name if row.sealed_by else None,
        "wheels": wheels,
        "findings": findings(wheels),
        "over": over,
        "samples": any(sample for sample, _ in kinds),
        "unchecked": any(not sample and checked is None for sample, checked in kinds),
        "summary": summarise(wheels),
    }


@transaction.atomic
def seal(actor: Actor, round_id: int, unread_reason: str) -> Round:
    """Seals a round; sealing twice is as once. Raises Conflict for wheels not read without a reason."""
    actor.must(May.ROUNDS)
    row = round_(actor, round_id)
    if row.sealed_at is not None:
        return row
    view = present(row)
    unread = [w["name"] for w in view["wheels"] if w["before"] is None]
    if len(unread) == len(view["wheels"]):
        raise Conflict("Nothing is read yet. Read the wheels, or abandon the round.", "unread_reason")
    if unread and not unread_reason:
        raise Conflict(f"Not read: {', '.join(unread)}. Read them, or give the reason.", "unread_reason")
    row.sealed_at, row.sealed_by, row.unread_reason = timezone.now(), actor.person, unread_reason
    final = present(row)
    row.result = _ROUND.validate_python(final, from_attributes=True).model_dump(mode="json")
    whose = {w["code"]: w["rig"] for w in row.sheet}
    row.words = [[w["code"], last_answer(w).word, whose[w["code"]]] for w in final["wheels"]]
    row.save()
    return round_(actor, round_id)


def work_answer(actor: Actor, round_id: int, data: ReadingIn) -> core.Answer:
    """What a reading as typed would mean. Nothing is saved."""
    row = _with_gauge(actor, round_id)
    frame, wheel = Frame.of(row), _wheel(row, data.wheel)
    return answer_for(frame, wheel, here_of(frame, wheel), _corrected(row, data), data.not_rolled or data.after)
