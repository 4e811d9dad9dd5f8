"""The lamp came on: each step by what was answered, every reading judged as a round would; what it came to is kept."""

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass
from uuid import UUID

from django.db import transaction

from ballast.core import gauges as core_gauges
from ballast.core import rounds as core_rounds
from ballast.core import sensors as core
from ballast.core.air import NOW_OLD_H, Driven, standing
from ballast.core.refusal import Refusal
from ballast.core.targets import LampSeen
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now as air
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.edge.words import kept, phrase_of
from ballast.server.gauges import services as gauges
from ballast.server.gauges.models import Gauge
from ballast.server.ground import plans
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import ledger, sheet
from ballast.server.sensors.models import LampCase
from ballast.server.sensors.schemas import (
    LampCarried,
    LampCaseOut,
    LampGauge,
    LampIn,
    LampKeptIn,
    LampStep,
    LampStood,
    LampWheel,
    LampWheelName,
)
from ballast.server.targets import in_force, policies
from ballast.server.targets import lamp as own_lamp

# So many gauges are carried, those that the rig was read with last before all.
_GAUGES = 3


@dataclass(frozen=True)
class _Asked:
    """What was answered so far, and what each tire that was read comes to."""

    answers: core.Answers
    wheels: tuple[LampWheel, ...]
    # True numbers, as read, and as those that lack air are filled [kPa].
    read_kpa: dict[str, float]
    filled_kpa: dict[str, float]


def work(actor: Actor, rig_id: int, data: LampIn) -> LampStep:
    """The next step by what was answered so far. Nothing is saved. Raises DoesNotExist, Refusal."""
    actor.must(May.READ)
    return _step(_asked(actor, rigs.rig(actor, rig_id, also=("air", "policy")), data))


def _step(asked: _Asked) -> LampStep:
    step = core.guide(asked.answers)
    name = core.OUTCOMES[step.outcome] if step.outcome else ""
    return LampStep(
        step.key, step.words, step.notes, step.outcome, name, asked.wheels, core.LIGHTS, core.LOOKED, core.AFTER, core.STOOD
    )  # fmt: skip


def _asked(actor: Actor, rig: Rig, data: LampIn) -> _Asked:
    lines = _lines(actor, rig)
    names = {line.own: line.name for line in lines}
    given = {r.wheel: r.pressure.value for r in data.readings}
    left_out = {o.wheel: o.reason for o in data.left_out}
    for field, codes in (
        ("readings", [r.wheel for r in data.readings]),
        ("left_out", [o.wheel for o in data.left_out]),
    ):
        for i, code in enumerate(codes):
            if code not in names:
                raise Refusal(f"There is no wheel {code} on it. It has {', '.join(names)}.", f"{field}.{i}.wheel")
    if data.which not in ("", "?", *names):
        raise Refusal(f"There is no wheel {data.which} on it. It has {', '.join(names)}.", "which")
    judged = _judged(actor, rig, data, lines, given) if given else {}
    reads, shown = [], []
    for line in lines:
        if line.own in left_out and line.own not in given:
            continue
        of = judged.get(line.own)
        word = of.said.word if of else "not_checked"
        reads.append(core.Read(line.own, line.name, line.spare, word, of.lacks if of else None))
        if of:
            shown.append(LampWheel(line.own, line.name, line.spare, word, of.said.words, of.shows_kpa))
    answers = core.Answers(
        data.light, data.which, data.seen, tuple(reads) if given else (), data.aired, data.after,
        tuple((names[w], why) for w, why in left_out.items() if w not in given),
    )  # fmt: skip
    read_kpa = {code: of.read_kpa for code, of in judged.items()}
    filled_kpa = {code: of.said.fill_kpa for code, of in judged.items() if of.said.fill_kpa is not None}
    return _Asked(answers, tuple(shown), read_kpa, filled_kpa)


def _lines(actor: Actor, rig: Rig) -> tuple[core_rounds.WheelLine, ...]:
    """The wheels of a rig and what each is held to, as in a round."""
    row = in_force.each_in_force(in_force.sets(actor, rig)).get(rig.pk)
    return sheet.of(
        actor, [rig], [row], ledger.newest([rig]), sheet.ground([rig], plans.open_of(actor, [rig]), None, False)
    )


def _conditions(
    actor: Actor, rig: Rig, in_hand: Iterable[Gauge], standing_h: float, driven: Driven
) -> core_rounds.Conditions | None:
    """Under what it is read; None: the air is not known."""
    way = policies.way_of(actor, rig)
    around = air.surroundings(air.air_of(actor, rig), way.check_days)
    if around.here is None:
        return None
    heavy = not rigs.rig_of(rig).light
    read_with = {row.pk: gauges.gauge_of(row) for row in in_hand}
    return core_rounds.Conditions(
        at=clock.now(), here=around.here, morning=around.morning, dawns=around.dawns, temperature=way.temperature,
        standing=standing(standing_h, heavy, driven, around.here.temperature_c, way.cold_after_h),
        rolled=True, sunny="", gauge_id=min(read_with, default=0), gauges=read_with,
    )  # fmt: skip


def carried(actor: Actor, rig_id: int) -> LampCarried:
    """The whole way as data, and everything that a reading of a gauge in hand can mean for as long as its air is no old one.

    Without air the way alone. Raises DoesNotExist.
    """
    actor.must(May.READ)
    rig = rigs.rig(actor, rig_id, also=("air", "policy"))
    lines = _lines(actor, rig)
    read_with = {s.gauge_id for s in ledger.newest([rig]).values()}
    in_hand = sorted(gauges.all_usable(actor), key=lambda g: g.pk not in read_with)[:_GAUGES]
    stood = []
    for of in core.STOOD:
        at = _conditions(actor, rig, in_hand, of.hours, "highway")
        decided = core_rounds.decisions(at, lines, at.gauges, (True,)) if at else ()
        stood.append(LampStood.model_validate({"hours": of.hours, "name": of.name, "decisions": decided}))
    now, of_now = clock.now(), air.air_of(actor, rig)
    return LampCarried(
        as_of=now, until=now + dt.timedelta(hours=NOW_OLD_H - (of_now.age_h or 0.0)), outside_c=of_now.outside_c, old_air=core.OLD_AIR,
        ways=list(core.WAYS), notes=list(core.NOTES), outcomes=core.OUTCOMES, lights=core.LIGHTS, looked=core.LOOKED,
        afters=core.AFTER, alike=core.ALIKE, unread=list(core.UNREAD),
        wheels=[LampWheelName(code=w.own, name=w.name, spare=w.spare) for w in lines],
        gauges=[LampGauge(id=g.pk, label=g.label) for g in in_hand], stood=stood,
    )  # fmt: skip


@dataclass(frozen=True)
class _Judged:
    """A tire that was read: its true number [kPa], the answer, what it lacks as a share, what the gauge shows when filled."""

    read_kpa: float
    said: core_rounds.Answer
    lacks: float | None
    shows_kpa: float | None


def _judged(
    actor: Actor, rig: Rig, data: LampIn, lines: tuple[core_rounds.WheelLine, ...], given: dict[str, float]
) -> dict[str, _Judged]:
    """Every reading through the answers of a round."""
    if data.gauge is None:
        raise Refusal("Which gauge is it read with? Choose it: how sure it is decides what a reading means.", "gauge")
    at = _conditions(actor, rig, [gauges.usable(actor, data.gauge)], data.standing_h, data.driven)
    if at is None:
        raise Refusal(
            "The air outside is not known, and what a warm tire comes to hangs on it. Set the air first.", "air"
        )
    gauge = at.gauges[data.gauge]
    found: dict[str, _Judged] = {}
    for line in lines:
        if line.own not in given:
            continue
        held = core_rounds.held(at, line)
        true = core_gauges.correct(gauge, given[line.own])
        said = core_rounds.answer(core_rounds.goal(at, line, held, True, gauge), true, at.stands(line), at.here)
        shows = core_rounds.should_show(at, line, held, gauge, said.fill_kpa)
        found[line.own] = _Judged(true.kpa, said, core.lacks(said.cold_kpa, held.here_kpa), shows)
    return found


@transaction.atomic
def keep(actor: Actor, rig_id: int, uuid: UUID, data: LampKeptIn) -> None:
    """Keeps what a lamp came to. Sent again it is simply there. Raises Conflict before its end."""
    actor.must(May.ROUNDS)
    rig = rigs.rig(actor, rig_id, also=("air", "policy"))
    asked = _asked(actor, rig, data)
    step = _step(asked)
    outcome, words = step.outcome, step.words
    if data.said is not None:
        names = {w.code: w.name for w in rigs.wheels_of(rig)}
        unknown = [code for code in data.said.wheels if code not in names]
        if unknown:
            raise Refusal(f"There is no wheel {unknown[0]} on it. It has {', '.join(names)}.", "said.wheels")
        outcome = data.said.outcome
        words = core.end_words(outcome, [names[code].lower() for code in data.said.wheels])
    if outcome is None:
        raise Conflict("It has not come to its end yet. Answer what is asked first.", "after")
    now = clock.now()
    case, made = LampCase.objects.get_or_create(
        uuid=uuid,
        defaults={
            "rig": rig, "at": min(data.at or now, now), "answers": data.model_dump(mode="json", exclude={"at"}), "outcome": outcome,
            "words": kept(words), "by": actor.person,
        },
    )  # fmt: skip
    if made:
        _learn(actor, rig, asked, case, told_here=data.said is None)
    elif case.rig_id != rig.pk:
        raise Conflict("This was kept for another rig.", "uuid")


def _learn(actor: Actor, rig: Rig, asked: _Asked, case: LampCase, told_here: bool) -> None:
    """Keeps what a case showed of where the lamp lights. A phone alone said itself what to fill to: not what the air of now says."""
    filled = asked.filled_kpa if told_here else {}
    here = air.surroundings(air.air_of(actor, rig), policies.way_of(actor, rig).check_days).here
    if here is None:
        return
    for row in rig.axles.all():
        wheels = [w.code for w in rigs.wheels_of(rig) if w.axle == row.number]
        lit, out = core.lamp_seen(asked.answers, asked.read_kpa, filled, wheels, here, not rigs.rig_of(rig).light)
        if lit is not None or out is not None:
            own_lamp.learn(row, LampSeen(case.at.date(), row.tire_size, lit, out))


def cases(rig: Rig) -> list[LampCaseOut]:
    rows = LampCase.objects.filter(rig=rig).select_related("by")[:10]
    return [
        LampCaseOut(
            uuid=c.uuid, at=c.at, outcome=core.OUTCOMES[c.outcome], words=phrase_of(c.words), by=c.by.shown_name
        )
        for c in rows
    ]
