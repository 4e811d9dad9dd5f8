"""This morning: what every tire reads before anyone kneels, and how good such predictions have been."""

import copy
import datetime as dt
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from ballast.core import air as core_air
from ballast.core import lookback as core
from ballast.core import rounds as core_rounds
from ballast.core import sensors as core_sensors
from ballast.core import standing
from ballast.core.gas import Air
from ballast.core.working import Phrase, join, number, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now as air
from ballast.server.air import trips
from ballast.server.air.now import AirNow
from ballast.server.edge import clock
from ballast.server.ground import plans
from ballast.server.ground.models import GroundPlan
from ballast.server.lookback import happened
from ballast.server.lookback.columns import NO_RECORD, by_tire, read, record
from ballast.server.lookback.schemas import ExpectedOut, MorningOut, MorningRigOut
from ballast.server.rigs import laid_up
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import ledger, sheet
from ballast.server.rounds.models import Service
from ballast.server.sensors.held import WITH_HEARD
from ballast.server.sensors.seen import glimpses
from ballast.server.targets import in_force, policies
from ballast.server.targets import services as targets
from ballast.server.targets.models import TargetSet
from ballast.server.targets.policies import Way


@dataclass(frozen=True)
class Known:
    """What is known at a rig: the air, by wheel what its tires are held against there, and why nothing is where it is not."""

    here: Air | None
    place: str
    lines: dict[str, core_rounds.WheelLine]
    here_kpa: dict[str, float | None]
    range_kpa: dict[str, float | None]
    why: Phrase
    stamps: tuple[str, ...]
    # As typed by hand and too old to go by: one word brings it back.
    typed_c: float | None
    # The ground plan that is open, in words.
    ground: Phrase | None = None


def _known(actor: Actor, train: list[Rig]) -> dict[int, Known]:
    """The air at each rig, and by wheel what its tires are held against there; each place is asked once."""
    bands, off_road = in_force.bands_in_force(actor, train), plans.each_open(actor, train)
    asked: dict[str, AirNow] = {}
    known = {}
    for rig in train:
        key = air.place_of(actor, getattr(rig, "air", None))
        around = asked.get(key) if key else None
        if around is None:
            around = air.air_of(actor, rig)
            asked[key] = around
        known[rig.pk] = _known_at(rig, bands.get(rig.pk), around, policies.way_of(actor, rig), off_road.get(rig.pk))
    return known


def _known_at(
    rig: Rig, row: TargetSet | None, around: AirNow, way: Way, off_road: tuple[GroundPlan, plans.Strip] | None
) -> Known:
    here = air.surroundings(around, standing.ROUND_EVERY_DAYS).here
    lines = {} if here is None else {line.own: line for line in sheet.lines_of(rig, row, {}, {})}
    plan, strip = off_road or (None, None)
    if plan is not None:
        held = sheet.Ground(plans.numbers(plan))
        on = {own: sheet.on_ground(line, held) for own, line in lines.items()}
        lines = {own: replace(line, aim=line.on_ground or line.aim) for own, line in on.items()}
    why = say("The air is not known: set its place on the Air stage.")
    if around.old and around.age_words:
        why = join(say("The air is too old to go by,"), around.age_words)
    made_up = targets.stamps(row.from_sample, row.from_simulated) if row else []  # type: ignore[attr-defined]
    stamps = (*made_up, *([around.stamp] if around.stamp else []))
    aimed, ranges = (
        {own: _here(line, end, here, way) for own, line in lines.items() if here is not None} for end in _ENDS
    )
    return Known(
        here,
        around.place,
        lines,
        aimed,
        ranges,
        why,
        stamps,
        around.outside_c if around.old else None,
        strip.words if strip else None,
    )


# The two ends of what a wheel is held at: its target, and the other end of its range.
_ENDS: tuple[Callable[[core_rounds.Aim], float | None], ...] = (lambda aim: aim.target_kpa, lambda aim: aim.range_kpa)


def _here(
    line: core_rounds.WheelLine, end: Callable[[core_rounds.Aim], float | None], here: Air, way: Way
) -> float | None:
    """An end of what a wheel is held at in the air here, no dawn asked; a spare's is its own number."""
    aim, own_kpa = line.aim, end(line.aim)
    if own_kpa is None or line.spare:
        return own_kpa
    held = core_air.target_here(own_kpa, aim.floor_kpa, aim.ceiling_kpa, here, None, (), line.step_kpa, way.temperature)
    return held.kpa


def morning(actor: Actor, only: int | None = None) -> MorningOut:
    """What every tire reads now, before anyone kneels, and which want air; of one rig with what it tows, or of all."""
    actor.must(May.READ)
    also = ("air", "policy", *trips.WITH_TRIP, *WITH_HEARD)
    if only is not None:
        train = rigs.train(actor, only, also=also)
    else:
        train = list(rigs.rigs(actor).filter(archived=False).select_related(*also))
    known = _known(actor, train)
    services: dict[int, list[Service]] = {}
    for s in Service.objects.filter(rig__in=train, newest=True).select_related("round").order_by("id"):
        services.setdefault(s.rig_id, []).append(s)
    now = clock.now()
    oldest = min((s.at for own in services.values() for s in own), default=now)
    here = {pk: one.here for pk, one in known.items() if one.here is not None}
    forecasts: dict[int, dict[str, ledger.Forecast]] = {}
    seen = glimpses(train, here, now)
    since_then = happened.since(services, oldest) if services else {}
    every, done = [s for own in services.values() for s in own], plans.touched(train, since=oldest)
    by_now = _where_they_are(train, every, done, since_then)
    for f in ledger.forecast(by_now, here, now):
        s, heard = f.service, seen.get((f.service.rig_id, f.service.wheel))
        if standing.foretells(s.at, _there(s, since_then), heard.at if heard else None):
            forecasts.setdefault(s.rig_id, {})[s.wheel] = f
    lines = [
        _morning_rig(rig, known[rig.pk], forecasts.get(rig.pk, {}), services.get(rig.pk, []), seen) for rig in train
    ]
    lines.sort(key=lambda line: (-line.wanting, not line.asks, line.fleet_number, line.name))
    return MorningOut(at=now, rigs=lines, record=_recent_record([r.pk for r in train]))


_Events = Mapping[int, Sequence[standing.Event]]


def _there(s: Service, since_then: _Events) -> list[standing.Event]:
    return [e for e in since_then.get(s.rig_id, ()) if e.wheel == s.wheel]


def _where_they_are(
    train: list[Rig], services: list[Service], done: plans.Places, since_then: _Events
) -> list[Service]:
    """The last service of every tire at the wheel where it is now, or what was let out or filled there since; of one of which
    that is not known, none. Where no tire is recorded, neither then nor now, it is the wheel's."""
    by_tire = {s.tire_id: s for s in sorted(services, key=lambda s: s.at) if s.tire_id is not None}
    unknown = {(s.rig_id, s.wheel): s for s in services if s.tire_id is None}
    found = []
    for rig in train:
        on = {f.wheel: f.tire_id for f in rigs.fitted_on(rig)}
        for wheel in (w.code for w in rigs.wheels_of(rig)):
            s = by_tire.get(on[wheel]) if wheel in on else unknown.get((rig.pk, wheel))
            if s is not None and (s.rig_id, s.wheel) != (rig.pk, wheel):
                s = _moved(s, rig.pk, wheel, done, since_then)
            elif s is not None:
                s = ledger.as_set(s, done.get((rig.pk, wheel)))
            if s is not None:
                found.append(s)
    return found


def _moved(s: Service, rig: int, wheel: str, done: plans.Places, since_then: _Events) -> Service | None:
    """A tire's last service at another wheel than it is at now; None: at one of the two its air was moved since, or where it was
    something happened. Not to be saved."""
    touched = (done.get((s.rig_id, s.wheel)), done.get((rig, wheel)))
    if any(there is not None and there.at > s.at for there in touched):
        return None
    if not standing.foretells(s.at, _there(s, since_then), None):
        return None
    here = copy.copy(s)
    here.rig_id, here.wheel = rig, wheel
    return here


def _morning_rig(
    rig: Rig,
    known: Known,
    forecasts: dict[str, ledger.Forecast],
    services: list[Service],
    seen: dict[tuple[int, str], core_sensors.Glimpse],
) -> MorningRigOut:
    newest = max(services, key=lambda s: s.at).round if services else None
    laid = laid_up.of(rig)
    resting = laid and laid.before(trips.leaves(rig))
    last, today = newest.opened_at.date() if newest else None, clock.today()
    if resting and resting.stands(last, today) == "resting":
        return MorningRigOut(
            id=rig.pk, name=rig.name, fleet_number=rig.fleet_number, place=known.place, outside_c=None,
            words=resting.words(last, today) or say(""), wanting=0, holding=0, unknown=0, asks=False, resting=True, typed_c=None, stamps=[], tires=[],
            next_check_on=resting.until, next_check_words="Before it rolls",
        )  # fmt: skip
    tires = [
        _expected(line, known.here_kpa[own], known.range_kpa[own], forecasts[own], seen.get((rig.pk, own)))
        for own, line in known.lines.items()
        if own in forecasts
    ]
    wanting = sum(1 for t in tires if t.word == "add")
    holding = sum(1 for t in tires if t.word == "hold")
    unknown = len(rigs.wheels_of(rig)) - wanting - holding
    if known.here is None:
        words = known.why
    elif not tires:
        words = say("No sealed round yet: nothing to go by.")
    else:
        words = _counted(wanting, holding, unknown)
    check = None
    if newest and newest.next_on:
        check = ledger.next_for(rig, newest.opened_at.date(), newest.next_on, newest.next_why)
    return MorningRigOut(
        id=rig.pk, name=rig.name, fleet_number=rig.fleet_number, place=known.place,
        outside_c=known.here.temperature_c if known.here else None, words=words, wanting=wanting, holding=holding,
        unknown=unknown, asks=core.asks(wanting, unknown, known.ground is not None), resting=False, typed_c=known.typed_c, stamps=list(known.stamps), tires=tires, next_check_on=check.on if check else None,
        next_check_words=check.words if check else "", ground=known.ground,
    )  # fmt: skip


def _counted(wanting: int, holding: int, unknown: int) -> Phrase:
    """How many want air, hold, and are not known; that none wants air is said only where all are known."""
    parts = []
    if wanting:
        parts.append(say("{0} " + ("tire wants" if wanting == 1 else "tires want") + " air", number(wanting)))
    if unknown:
        parts.append(say("{0} not known", number(unknown)))
    if holding or not parts:
        parts.append(say("{0} " + ("holds" if holding == 1 else "hold") + ", by prediction", number(holding)))
    return join(*parts, by=", ") if wanting or unknown else say("No tire wants air, by prediction")


def _expected(
    line: core_rounds.WheelLine,
    here_kpa: float | None,
    range_kpa: float | None,
    f: ledger.Forecast,
    seen: core_sensors.Glimpse | None,
) -> ExpectedOut:
    """What to expect of a tire by its last service, and by what a display said of it since."""
    kpa, within, glance_at = f.kpa, f.within_kpa, None
    if seen is not None and seen.at > f.service.at:
        (kpa, within), glance_at = core_sensors.beside(kpa, within, seen), seen.at
    foretold = core_rounds.foretell(kpa, within, here_kpa, line.aim.floor_kpa, range_kpa)
    return ExpectedOut(
        **vars(foretold), code=line.own, name=line.name, spare=line.spare, kpa=kpa, within_kpa=within,
        floor_kpa=line.aim.floor_kpa, target_kpa=here_kpa, ceiling_kpa=line.aim.ceiling_kpa, last_at=f.service.at,
        named=f.service.named, glance_at=glance_at,
    )  # fmt: skip


def _recent_record(train: list[int]) -> core.Record:
    """How good predictions of the last weeks were, over some rigs."""
    since = clock.now() - dt.timedelta(days=90)
    newest = Service.objects.filter(rig__in=train, at__gte=since).order_by("-at", "-id").values("pk")[:20_000]
    history = read(Service.objects.filter(pk__in=newest).order_by("at", "id"))
    if history is None:
        return NO_RECORD
    return record(by_tire(history.services).values())
