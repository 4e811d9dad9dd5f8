"""This morning: what every tire reads before anyone kneels, and how good such predictions have been."""

import datetime as dt
from dataclasses import dataclass

from django.utils import timezone

from ballast.core import air as core_air
from ballast.core import lookback as core
from ballast.core import rounds as core_rounds
from ballast.core import standing
from ballast.core.gas import Air
from ballast.core.working import Phrase, join, number, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now as air
from ballast.server.air import trips
from ballast.server.air.now import AirNow
from ballast.server.lookback.columns import NO_RECORD, by_tire, read, record
from ballast.server.lookback.schemas import ExpectedOut, MorningOut, MorningRigOut
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig
from ballast.server.rounds import ledger, sheet
from ballast.server.rounds.models import Service
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
    why: Phrase
    stamps: tuple[str, ...]


def _known(actor: Actor, train: list[Rig]) -> dict[int, Known]:
    """The air at each rig, and by wheel what its tires are held against there; each place is asked once."""
    bands = in_force.bands_in_force(actor, train)
    asked: dict[str, AirNow] = {}
    known = {}
    for rig in train:
        stored = getattr(rig, "air", None)
        key = actor.workspace.place_key if stored is None else stored.place_key
        around = asked.get(key) if key else None
        if around is None:
            around = air.air_of(actor, rig)
            asked[key] = around
        known[rig.pk] = _known_at(rig, bands.get(rig.pk), around, policies.way_of(actor, rig))
    return known


def _known_at(rig: Rig, row: TargetSet | None, around: AirNow, way: Way) -> Known:
    here = air.surroundings(around, standing.ROUND_EVERY_DAYS).here
    lines = {} if here is None else {line.own: line for line in sheet.lines_of(rig, row, {}, {})}
    why = say("The air is not known: set its place on the Air stage.")
    if around.old and around.age_words:
        why = join(say("The air is too old to go by,"), around.age_words)
    made_up = targets.stamps(row.from_sample, row.from_simulated) if row else []  # type: ignore[attr-defined]
    stamps = (*made_up, *([around.stamp] if around.stamp else []))
    aimed = {own: _here(line, here, way) for own, line in lines.items() if here is not None}
    return Known(here, around.place, lines, aimed, why, stamps)


def _here(line: core_rounds.WheelLine, here: Air, way: Way) -> float | None:
    """A wheel's target in the air here, no dawn asked; a spare's is its own number."""
    aim = line.aim
    if aim.target_kpa is None or line.spare:
        return aim.target_kpa
    held = core_air.target_here(
        aim.target_kpa, aim.floor_kpa, aim.ceiling_kpa, here, None, (), line.step_kpa, way.temperature
    )
    return held.kpa


def morning(actor: Actor, only: int | None = None) -> MorningOut:
    """What every tire reads now, before anyone kneels, and which want air; of one rig with what it tows, or of all."""
    actor.must(May.READ)
    also = ("air", "policy", *trips.WITH_TRIP)
    if only is not None:
        train = rigs.train(actor, only, also=also)
    else:
        train = list(rigs.rigs(actor).filter(archived=False).select_related(*also))
    known = _known(actor, train)
    services: dict[int, list[Service]] = {}
    for s in Service.objects.filter(rig__in=train, newest=True).select_related("round").order_by("id"):
        services.setdefault(s.rig_id, []).append(s)
    now = timezone.now()
    here = {pk: one.here for pk, one in known.items() if one.here is not None}
    forecasts: dict[int, dict[str, ledger.Forecast]] = {}
    for f in ledger.forecast([s for own in services.values() for s in own], here, now):
        forecasts.setdefault(f.service.rig_id, {})[f.service.wheel] = f
    lines = [_morning_rig(rig, known[rig.pk], forecasts.get(rig.pk, {}), services.get(rig.pk, [])) for rig in train]
    lines.sort(key=lambda line: (-line.wanting, line.fleet_number, line.name))
    return MorningOut(at=now, rigs=lines, record=_recent_record([r.pk for r in train]))


def _morning_rig(
    rig: Rig, known: Known, forecasts: dict[str, ledger.Forecast], services: list[Service]
) -> MorningRigOut:
    tires = [
        _expected(line, known.here_kpa[own], forecasts[own]) for own, line in known.lines.items() if own in forecasts
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
    newest = max(services, key=lambda s: s.at).round if services else None
    check = None
    if newest and newest.next_on:
        check = ledger.next_for(rig, newest.opened_at.date(), newest.next_on, newest.next_why)
    return MorningRigOut(
        id=rig.pk, name=rig.name, fleet_number=rig.fleet_number, place=known.place,
        outside_c=known.here.temperature_c if known.here else None, words=words, wanting=wanting, holding=holding,
        unknown=unknown, stamps=list(known.stamps), tires=tires, next_check_on=check.on if check else None,
        next_check_words=check.words if check else "",
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


def _expected(line: core_rounds.WheelLine, here_kpa: float | None, f: ledger.Forecast) -> ExpectedOut:
    foretold = core_rounds.foretell(f.kpa, f.within_kpa, here_kpa, line.aim.floor_kpa)
    return ExpectedOut(
        **vars(foretold), code=line.own, name=line.name, spare=line.spare, kpa=f.kpa, within_kpa=f.within_kpa,
        floor_kpa=line.aim.floor_kpa, target_kpa=here_kpa, ceiling_kpa=line.aim.ceiling_kpa, last_at=f.service.at,
        named=f.service.named,
    )  # fmt: skip


def _recent_record(train: list[int]) -> core.Record:
    """How good predictions of the last weeks were, over some rigs."""
    since = timezone.now() - dt.timedelta(days=90)
    newest = Service.objects.filter(rig__in=train, at__gte=since).order_by("-at", "-id").values("pk")[:20_000]
    history = read(Service.objects.filter(pk__in=newest).order_by("at", "id"))
    if history is None:
        return NO_RECORD
    return record(by_tire(history.services).values())
