"""Drives of a rig: what a receiver sends is taken as it comes, kept in blocks, and told at once where a state changes."""

import datetime as dt
import zlib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from uuid import UUID

from django.db import transaction
from pydantic import TypeAdapter

from ballast.core import sensors as core
from ballast.core.gas import Air
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.files import Listed, in_units
from ballast.server.edge.problems import Conflict
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.sensors import held, record
from ballast.server.sensors.models import Drive, DriveBlock, Receiver
from ballast.server.sensors.road import Road, Run, Tire, road
from ballast.server.sensors.schemas import (
    DriveLine,
    DriveOut,
    DriveRise,
    DriveSeries,
    DriveWheel,
    SimulatedOut,
    SimulateIn,
    ToldLine,
    WheelSeries,
)
from ballast.server.weighing import services as weighing

# So many messages are a block.
BLOCK = 60
# What every message changes of a drive.
_GOES_ON = ("pending", "count", "heard_at", "started_at", "followed", "kept", "held", "held_at")
# What wheels are held to, and the air, are asked anew after so long.
ASKED_AFTER = dt.timedelta(minutes=5)
# On a simulated road, where nobody weighed: what a tire carries as a share of its rated load.
NOT_WEIGHED = 0.8
_POINTS = 240
_MINUTE = dt.timedelta(minutes=1)


@dataclass(frozen=True)
class Holding:
    """What a drive's wheels are held to, and the air that they are in; None: not known. `never`: spares that nothing hears.

    `sealed`: whether the sensors are; of one kept before that was asked, not.
    """

    groups: tuple[core.Group, ...]
    air: Air | None
    never: tuple[str, ...] = ()
    sealed: bool | None = False


@dataclass(frozen=True)
class Simulated:
    """A run and its clock: from `since` on it goes `pace` times as fast as life, `at_min` into it."""

    run: Run
    pace: float
    since: dt.datetime
    at_min: float = 0.0

    def minutes(self, now: dt.datetime) -> float:
        return self.at_min + max(0.0, (now - self.since) / _MINUTE) * self.pace


_HOLDING = TypeAdapter(Holding)
_FOLLOWED = TypeAdapter(core.Drive)
_MESSAGE = TypeAdapter(core.Message)
_SAMPLES = TypeAdapter(list[core.Sample])
_SIMULATED = TypeAdapter(Simulated)


def held_now(actor: Actor, rig: Rig) -> Holding:
    """What the wheels of a rig are held to by now."""
    of = held.of(actor, rig)
    spares = tuple(c for g in of.groups if g.number is None for c, _ in g.wheels if not of.hears(g, c))
    groups = tuple(core.Group(tuple(c for c, _ in g.wheels), g.aim) for g in of.groups)
    return Holding(groups, of.here, spares, of.system.sealed)


def begin(actor: Actor, rig: Rig, uuid: UUID, at: dt.datetime, receiver: Receiver | None, run: Simulated | None = None) -> Drive:  # fmt: skip
    """A drive that nothing was heard of yet, not stored yet."""
    return Drive(
        uuid=uuid, rig=rig, receiver=receiver, by=actor.person, started_at=at, heard_at=at, held_at=clock.now(),
        simulated=_SIMULATED.dump_python(run, mode="json") if run else None,
        held=_HOLDING.dump_json(held_now(actor, rig)).decode(), followed=_FOLLOWED.dump_json(core.Drive()).decode(),
    )  # fmt: skip


def held_by(row: Drive) -> Holding:
    """What a drive's wheels were held to when that was asked last."""
    return _HOLDING.validate_json(row.held)


def ask_anew(actor: Actor, row: Drive, now: dt.datetime) -> None:
    """Asks anew what a drive's wheels are held to; it is kept with the next message."""
    of = held_now(actor, rigs.rig(actor, row.rig_id, also=held.ALSO))
    row.held, row.held_at = _HOLDING.dump_json(of).decode(), now


class Meanwhile(Exception):
    """Somebody else took messages of the same drive since it was read: read it again."""


@dataclass(frozen=True)
class Followed:
    """What some more messages make of a drive, worked out and not kept yet. `since`: how many it had; `new`: none, where all were had."""

    since: int
    new: tuple[core.Message, ...]
    drive: core.Drive
    told: tuple[core.Told, ...] = ()
    pending: str = ""
    block: bytes | None = None
    # The rig's newest number is looked for again: not with every message.
    newest: bool = False


def followed(row: Drive, messages: Sequence[core.Message]) -> Followed:
    """Follows a drive by messages: each once, whenever it comes. It needs no lock: whoever keeps it looks whether it still holds."""
    groups = held_by(row).groups
    before = _FOLLOWED.validate_json(row.followed)
    new = core.fresh_of(before, messages)
    if not new:
        return Followed(row.count, (), before)
    late = core.is_late(before, new)
    drive = core.follow(groups, [*messages_of(row), *new], None) if late else core.follow(groups, new, before)
    pending, block = row.pending + "".join(_MESSAGE.dump_json(m).decode() + "\n" for m in new), None
    if pending.count("\n") >= BLOCK:
        block, pending = zlib.compress(pending.encode()), ""
    told = drive.told if late else drive.told[len(before.told) :]
    return Followed(row.count, tuple(new), drive, told, pending, block, late or before.up_to is None or not pending)


@transaction.atomic
def keep(row: Drive, of: Followed) -> None:
    """Keeps what was followed: a change of a state is told at once, the messages wait for their block. Raises Meanwhile."""
    up_to = of.drive.up_to
    if not of.new or up_to is None:
        return
    row.pending, row.count, row.heard_at = of.pending, of.since + len(of.new), up_to.at
    row.started_at = min(row.started_at, of.new[0].at)
    row.followed, row.kept = _FOLLOWED.dump_json(of.drive).decode(), _SAMPLES.dump_json(of.drive.kept()).decode()
    if row.pk is None:
        if Drive.objects.filter(uuid=row.uuid).exists():
            raise Meanwhile
        row.save()
    else:
        now = {name: getattr(row, name) for name in _GOES_ON}
        if not Drive.objects.filter(pk=row.pk, count=of.since).update(**now):
            raise Meanwhile
    if of.block is not None:
        DriveBlock.objects.create(drive=row, text=of.block)
    # A simulated one is of no tire: nothing of it stands on the rig's record.
    if row.simulated is None:
        record.tell(row.rig_id, of.told)
        if of.newest:
            record.note_newest(row.rig_id)


def messages_of(row: Drive) -> list[core.Message]:
    """All messages of a drive, as they came."""
    texts = [_unpacked(t) for t in row.blocks.values_list("text", flat=True)]
    return _messages("".join([*texts, row.pending]))


def _unpacked(text: bytes | memoryview) -> str:
    return zlib.decompress(bytes(text)).decode()


def _messages(text: str) -> list[core.Message]:
    return [_MESSAGE.validate_json(line) for line in text.splitlines()]


def _in_order(row: Drive) -> Iterator[core.Message]:
    """All messages of a drive by when they are of, late ones in their places; a few blocks of them in memory at a time."""

    @lru_cache(maxsize=4)
    def block(pk: int) -> list[core.Message]:
        return _messages(_unpacked(row.blocks.values_list("text", flat=True).get(pk=pk)) if pk else row.pending)

    blocks = [*row.blocks.values_list("pk", flat=True), 0]
    for _, _, of, i in sorted((m.at, m.number, pk, i) for pk in blocks for i, m in enumerate(block(pk))):
        yield block(of)[i]


def kept(rig: Rig, since: dt.datetime) -> list[core.Sample]:
    """Of each real drive of a rig the few numbers that stand for all of them."""
    rows = Drive.objects.filter(rig=rig, simulated__isnull=True, heard_at__gte=since).values_list("kept", flat=True)
    return [s for text in rows for s in _SAMPLES.validate_json(text)]


def _rig_and(actor: Actor, rig_id: int, uuid: UUID) -> tuple[Rig, Drive]:
    rig = rigs.rig(actor, rig_id, also=held.ALSO)
    return rig, Drive.objects.filter(rig=rig).select_related("receiver").get(uuid=uuid)


@transaction.atomic
def simulate(actor: Actor, rig_id: int, uuid: UUID, data: SimulateIn) -> DriveOut:
    """Sends a rig over a simulated road. Raises Conflict where there is none, Refusal without targets or air."""
    actor.must(May.ROUNDS)
    rig, there = rigs.rig(actor, rig_id, also=held.ALSO), _there(actor)
    if Drive.objects.filter(uuid=uuid).exists():
        if not Drive.objects.filter(uuid=uuid, rig=rig).exists():
            raise Conflict("This drive is another rig's.", "uuid")
        return present(actor, rig_id, uuid)
    _check(there, rig, data)
    of = held.of(actor, rig)
    if of.here is None:
        raise Refusal("The air outside is not known, and what a tire reads hangs on it. Set the air first.", "air")
    right, shares = {w.code for w in rigs.wheels_of(rig) if w.side == "R"}, _load_shares(actor, rig)
    tires = tuple(
        Tire(code, g.aim.target_kpa, g.aim.target_kpa, g.aim.set_in, g.aim.heavy, shares.get(g.number, 0.0), code in right)
        for g in of.groups
        if g.aim
        for code, _ in g.wheels
        if g.number is not None or of.hears(g, code)
    )  # fmt: skip
    if not tires:
        raise Refusal("No target is in force, and nothing says what its tires hold. Put targets in force first.", "rig")
    now = clock.now()
    run = Run(data.seed, data.scene, data.fault, data.wheel, tires, of.here, now, of.system.kind == "speed")
    row = begin(actor, rig, uuid, now, None, Simulated(run, data.pace, now))
    row.save()
    _catch_up(row, there)
    return _present(actor, rig, row)


def _load_shares(actor: Actor, rig: Rig) -> dict[int | None, float]:
    """By axle what a tire of the rig carries as a share of its rated load, by the weighing in force; a spare carries nothing."""
    ticket, typed = weighing.in_force(actor, rig), rigs.rig_of(rig)
    loads = weighing.loads_of(ticket, typed).per_tire if ticket else {}
    shares: dict[int | None, float] = {}
    for axle in typed.axles:
        load, rated = loads.get(axle.number), axle.tire.max_kg(axle.row, rig.kind) if axle.tire else None
        shares[axle.number] = load / rated if load is not None and rated else NOT_WEIGHED
    return shares


def _there(actor: Actor) -> Road:
    there = road(actor.practices)
    if there is None:
        raise Conflict("There is no simulated road here: it is in the demo and in practice alone.")
    return there


def _check(there: Road, rig: Rig, data: SimulateIn) -> None:
    if data.scene not in there.scenes:
        raise Refusal(f"There is no such road. Choose one of: {', '.join(there.scenes)}.", "scene")
    if data.fault and data.fault not in there.faults:
        raise Refusal(f"There is no such fault. Choose one of: {', '.join(there.faults)}.", "fault")
    codes = [w.code for w in rigs.wheels_of(rig) if w.axle is not None]
    if data.fault and data.wheel not in codes:
        raise Refusal(f"Say which wheel it is: {', '.join(codes)}.", "wheel")


def _catch_up(row: Drive, there: Road | None) -> None:
    """What the simulated receiver has sent by now, however long nobody looked."""
    if row.simulated is None or row.ended_at is not None or there is None:
        return
    of, now = _SIMULATED.validate_python(row.simulated), clock.now()
    until = of.minutes(now)
    keep(row, followed(row, there.messages(of.run, row.count, until)))
    if until >= there.minutes(of.run):
        row.ended_at = now
        row.save(update_fields=["ended_at"])


@transaction.atomic
def pace(actor: Actor, rig_id: int, uuid: UUID, faster: float) -> DriveOut:
    """Lets a simulated drive go on at another pace."""
    actor.must(May.ROUNDS)
    rig, row = _rig_and(actor, rig_id, uuid)
    there = _there(actor)
    if row.simulated is None:
        raise Refusal("A real drive goes as fast as it goes.", "pace")
    _catch_up(row, there)
    of, now = _SIMULATED.validate_python(row.simulated), clock.now()
    changed = replace(of, pace=faster, since=now, at_min=of.minutes(now))
    row.simulated = _SIMULATED.dump_python(changed, mode="json")
    row.save(update_fields=["simulated"])
    return _present(actor, rig, row)


@transaction.atomic
def end(actor: Actor, rig_id: int, uuid: UUID) -> DriveOut:
    """A drive that is over. What comes of it later is taken all the same."""
    actor.must(May.ROUNDS)
    rig, row = _rig_and(actor, rig_id, uuid)
    _catch_up(row, road(actor.practices))
    if row.ended_at is None:
        row.ended_at = clock.now()
        row.save(update_fields=["ended_at"])
    return _present(actor, rig, row)


def lines(actor: Actor, rig_id: int) -> list[DriveLine]:
    """The drives of a rig, the newest first. Raises DoesNotExist."""
    actor.must(May.READ)
    rig = rigs.rig(actor, rig_id)
    return [
        DriveLine(d.uuid, d.started_at, d.heard_at, d.ended_at is None, d.simulated is not None, d.receiver.name if d.receiver else "", d.source, d.count)
        for d in Drive.objects.filter(rig=rig).select_related("receiver").defer("followed", "kept", "pending", "held")[:50]
    ]  # fmt: skip


def mark(actor: Actor, rig_id: int, uuid: UUID) -> str:
    """What changes with every answer that would be another one; a simulated drive goes on meanwhile."""
    actor.must(May.READ)
    row = Drive.objects.filter(rig__workspace=actor.workspace, rig=rig_id).get(uuid=uuid)
    if row.simulated is not None and row.ended_at is None and (there := road(actor.practices)):
        with transaction.atomic():
            # Two who watch must not both send it on: writers stand in line, and each looks again.
            row.refresh_from_db()
            _catch_up(row, there)
    quiet = int((clock.now() - row.heard_at) / _MINUTE) if _live(row) else 0
    of = row.simulated or {}
    return f"{row.count}-{row.ended_at is not None}-{of.get('pace')}-{max(quiet, 0)}"


def _live(row: Drive) -> bool:
    return row.ended_at is None and row.simulated is None


def present(actor: Actor, rig_id: int, uuid: UUID) -> DriveOut:
    """A drive as far as it was heard of. Raises DoesNotExist."""
    actor.must(May.READ)
    return _present(actor, *_rig_and(actor, rig_id, uuid))


def _present(actor: Actor, rig: Rig, row: Drive) -> DriveOut:
    of, drive = held_by(row), _FOLLOWED.validate_json(row.followed)
    names = {w.code: w.name for w in rigs.wheels_of(rig)}
    # A simulated drive has its own clock, and so has one that is over: it is looked at as of its last message.
    since = max(clock.now() - row.heard_at, dt.timedelta(0)) if _live(row) else dt.timedelta(0)
    words, loud = core.drive_words(of.groups, drive, names, since, of.never)
    wheels, rises = [], []
    for g in of.groups:
        for code in g.wheels:
            name = names.get(code, code)
            wheels.append(_wheel(code, name, g.aim, core.on_drive(g, drive, code, since)))
            judged = core.rise(g, drive, code)
            if judged is not None:
                rises.append(DriveRise(code, name, judged.low_kpa, judged.high_kpa, judged.verdict, judged.words))
    m = drive.up_to
    return DriveOut(
        uuid=row.uuid, rig=rig.pk, started_at=row.started_at, heard_at=row.heard_at, going=row.ended_at is None, count=row.count,
        receiver=row.receiver.name if row.receiver else "", words=words, loud=loud, wheels=wheels, rises=rises,
        missing=len(core.missing(drive)), km_h=m.km_h if m else None, rolled_min=m.rolled_min if m else None,
        air_c=m.air.temperature_c if m and m.air else None,
        told=[
            ToldLine(t.wheel, t.what, t.set, t.at, core.told_words(replace(t, wheel=names.get(t.wheel, t.wheel))))
            for t in reversed(drive.told)
        ],
        simulated=_simulated(row, road(actor.practices)),
    )  # fmt: skip


def _simulated(row: Drive, there: Road | None) -> SimulatedOut | None:
    if row.simulated is None:
        return None
    of = _SIMULATED.validate_python(row.simulated)
    scenes, faults = (there.scenes, there.faults) if there else ({}, {})
    minutes = there.minutes(of.run) if there else 0.0
    return SimulatedOut(
        scene=scenes.get(of.run.scene, of.run.scene), fault=faults.get(of.run.fault, of.run.fault), wheel=of.run.wheel,
        pace=of.pace, seed=of.run.seed, minutes=minutes,
    )  # fmt: skip


def _wheel(code: str, name: str, aim: core.Aim | None, of: core.OnDrive) -> DriveWheel:
    shown, low, high = of.shown, of.at.low_kpa if of.at else None, of.at.high_kpa if of.at else None
    return DriveWheel(
        code, name, shown.kpa if shown else None, shown.tire_c if shown else None, shown.at if shown else None,
        shown.rolled_min if shown else None, of.old, of.loud, of.word, of.short, of.words, low,
        aim.target_kpa if aim else None, high, (core.low_limit("Low, cold", low), core.high_limit("High", high)),
    )  # fmt: skip


def series(actor: Actor, rig_id: int, uuid: UUID) -> DriveSeries:
    """What each wheel read along a drive, thinned to what can be drawn. Raises DoesNotExist."""
    actor.must(May.READ)
    rig, row = _rig_and(actor, rig_id, uuid)
    sent = sorted(messages_of(row), key=lambda m: (m.at, m.number))
    # The last of all and every so many before it.
    step = max(1, -(-len(sent) // _POINTS))
    sent = sent[::-1][::step][::-1]
    names = {w.code: w.name for w in rigs.wheels_of(rig)}
    said = [{w.wheel: w for w in m.wheels if w.fresh} for m in sent]
    return DriveSeries(
        minutes=[round((m.at - row.started_at) / _MINUTE, 2) for m in sent],
        km_h=[m.km_h for m in sent],
        wheels=[
            WheelSeries(
                code=code, name=name, kpa=[w[code].kpa if code in w else None for w in said],
                tire_c=[w[code].tire_c if code in w else None for w in said],
            )
            for code, name in names.items()
            if any(code in w for w in said)
        ],
    )  # fmt: skip


_COLUMNS = (
    "number",
    "at",
    "wheel",
    "wheel_name",
    "read_kpa",
    "tire_c",
    "fresh",
    "said_low",
    "outside_c",
    "rolled_min",
    "km_h",
    "simulated",
)


def rows(actor: Actor, rig_id: int, uuid: UUID) -> Listed:
    """Every number of a drive as it was sent, canonical and in the person's units. Raises DoesNotExist."""
    actor.must(May.READ)
    rig, row = _rig_and(actor, rig_id, uuid)
    names = {w.code: w.name for w in rigs.wheels_of(rig)}
    every = (
        {
            "number": m.number, "at": m.at.isoformat(), "wheel": w.wheel, "wheel_name": names.get(w.wheel, ""), "read_kpa": w.kpa,
            "tire_c": w.tire_c, "fresh": w.fresh, "said_low": w.low, "outside_c": m.air.temperature_c if m.air else None,
            "rolled_min": m.rolled_min, "km_h": m.km_h, "simulated": row.simulated is not None,
        }
        for m in _in_order(row)
        for w in m.wheels
    )  # fmt: skip
    return in_units(_COLUMNS, every, actor.person.units)
