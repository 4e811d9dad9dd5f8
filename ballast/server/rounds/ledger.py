"""The ledger of sealed rounds: one row a tire, and what follows from them: the split, the evidence, the next check."""

import copy
import datetime as dt
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from django.db.models import Exists, OuterRef, Q, QuerySet

from ballast.core import lookback as core
from ballast.core import rounds as core_rounds
from ballast.core import standing
from ballast.core.gas import Air
from ballast.server.air import trips
from ballast.server.edge import clock
from ballast.server.edge.words import kept
from ballast.server.ground import plans
from ballast.server.rigs import laid_up
from ballast.server.rigs.models import Rig
from ballast.server.rounds import found_out, stored
from ballast.server.rounds.models import Round, RoundPart, Scatter, Service, TreadDepth
from ballast.server.rounds.sheet import Newest

# Half a year of weekly rounds, and what shows of a leak since, is what a rig's evidence is drawn from.
WINDOW = 32
# A workspace's scatter is what its last rounds showed, so many of them.
_REMEMBERED = 30
_DAY = dt.timedelta(days=1)


def newest(train: list[Rig], before: dt.datetime | None = None) -> Newest:
    """The newest service of every wheel of some rigs; `before`: as it was at a moment that is past."""
    services = Service.objects.filter(rig__in=train)
    if before is None:
        services = services.filter(newest=True)
    else:
        later = Service.objects.filter(
            rig=OuterRef("rig"), wheel=OuterRef("wheel"), at__gt=OuterRef("at"), at__lt=before
        )
        services = services.filter(~Exists(later), at__lt=before)
    return {(s.rig_id, s.wheel): s for s in services}


def _taken_down(row: Round, wheels: Sequence[core_rounds.Wheel]) -> list[Service]:
    """A round's rows of the ledger, one a tire that was read; not saved."""
    lines = {line.code: line for line in stored.lines(row)}
    made = []
    for wheel in wheels:
        before, second = wheel.before, wheel.after_answer
        if before is None or wheel.answer.cold_kpa is None or wheel.stands.uncertainty_kpa is None:
            continue
        made.append(
            Service(
                round=row,
                rig_id=wheel.rig,
                tire_id=lines[wheel.code].tire,
                anew=lines[wheel.code].anew,
                wheel=wheel.own,
                side=wheel.side,
                spare=wheel.spare,
                at=row.opened_at,
                found_kpa=wheel.answer.cold_kpa,
                left_kpa=second.cold_kpa if second else None,
                uncertainty_kpa=wheel.stands.uncertainty_kpa,
                estimate_kpa=wheel.stands.estimate_kpa or None,
                raw_kpa=before.raw_kpa,
                air_c=row.outside_c,
                elevation_m=row.elevation_m,
                absolute_kpa=row.here.absolute_kpa,
                gauge_id=before.gauge_id,
                here_kpa=wheel.here_kpa,
                floor_kpa=wheel.floor_kpa,
                word=wheel.stands.word,
            )
        )
    return made


def _treads(row: Round, wheels: Sequence[core_rounds.Wheel]) -> None:
    """A round's depths of tread, as they stand; taken down anew."""
    tires = {line.code: line.tire for line in stored.lines(row)}
    row.treads.all().delete()
    TreadDepth.objects.bulk_create(
        TreadDepth(
            round=row, rig_id=w.rig, tire_id=tires[w.code], wheel=w.own, at=row.opened_at,
            odometer_km=row.odometer_km if w.rig == row.rig_id else None, inner_mm=w.seen.tread.inner_mm,
            centre_mm=w.seen.tread.centre_mm, outer_mm=w.seen.tread.outer_mm, least_mm=least,
        )
        for w in wheels
        if w.seen.tread is not None and (least := w.seen.tread.least_mm) is not None
    )  # fmt: skip


# What a row of the ledger says of the round itself, beside what follows from it.
_OF_ROUND = (
    "at", "found_kpa", "left_kpa", "uncertainty_kpa", "estimate_kpa", "raw_kpa", "air_c", "elevation_m", "absolute_kpa",
    "gauge_id", "here_kpa", "floor_kpa", "word",
)  # fmt: skip


def rewrite(row: Round, wheels: Sequence[core_rounds.Wheel], since: dt.datetime) -> None:
    """Takes a sealed round down anew after it was put right; what follows is worked out again from `since` on."""
    there = {(s.rig_id, s.wheel): s for s in row.services.all()}
    made = _taken_down(row, wheels)
    Service.objects.bulk_create(s for s in made if (s.rig_id, s.wheel) not in there)
    again = [(there[s.rig_id, s.wheel], s) for s in made if (s.rig_id, s.wheel) in there]
    for known, s in again:
        for name in _OF_ROUND:
            setattr(known, name, getattr(s, name))
    Service.objects.bulk_update([known for known, _ in again], _OF_ROUND)
    # The time may have moved, or a wheel may have been read after all: the newest of each wheel is found again.
    of_wheels = Service.objects.filter(_same_wheels(made))
    later = of_wheels.filter(rig=OuterRef("rig"), wheel=OuterRef("wheel"))
    later = later.filter(Q(at__gt=OuterRef("at")) | Q(at=OuterRef("at"), pk__gt=OuterRef("pk")))
    of_wheels.update(newest=~Exists(later))
    rigs = [part.rig_id for part in row.parts.all()]
    _treads(row, wheels)
    derive(row)
    _rederive_later(since, rigs, row.pk)
    found_out.settle(row.rig.workspace_id)


def write(row: Round, wheels: Sequence[core_rounds.Wheel]) -> None:
    """Takes a sealed round down, a row a tire that was read, and works out what follows."""
    made = _taken_down(row, wheels)
    rigs = [part.rig_id for part in row.parts.all()]
    newest_ones = Service.objects.filter(_same_wheels(made), newest=True)
    # A sheet of paper that is entered late: what was read after it stays the newest, and is worked out anew.
    after = {(s.rig_id, s.wheel) for s in newest_ones if s.at > row.opened_at}
    for s in made:
        s.newest = (s.rig_id, s.wheel) not in after
    newest_ones.filter(at__lte=row.opened_at).update(newest=False)
    earlier, workspace = [s for s in _window(row, rigs) if s.round_id != row.pk], row.rig.workspace_id
    evidence = _work_out(row, made, earlier, _usual(workspace))
    _learn(workspace, evidence)
    Service.objects.bulk_create(made)
    _treads(row, wheels)
    if after:
        _rederive_later(row.opened_at, rigs, row.pk)
    if after or row.gauge_shared_kpa is not None:
        found_out.settle(workspace)


def _same_wheels(made: list[Service]) -> Q:
    """The wheels of some services, whichever rig of the round they are on."""
    wheels = Q(pk=0)
    for rig in {s.rig_id for s in made}:
        wheels |= Q(rig=rig, wheel__in=[s.wheel for s in made if s.rig_id == rig])
    return wheels


def _air(s: Service) -> Air:
    return Air(s.air_c, s.elevation_m, s.absolute_kpa)


def _key(s: Service) -> tuple[Any, ...]:
    """A tire through its rotations; where no tire is recorded, its wheel."""
    return ("tire", s.tire_id) if s.tire_id else ("wheel", s.rig_id, s.wheel)


def seen_of(services: list[Service]) -> tuple[tuple[core.Seen, ...], dict[tuple[Any, ...], int]]:
    """Services as the rules take them, tires and rounds numbered."""
    tires: dict[tuple[Any, ...], int] = {}
    rounds: dict[int, int] = {}
    start = services[0].at
    seen = tuple(
        core.Seen(
            tires.setdefault(_key(s), len(tires)), rounds.setdefault(s.round_id, len(rounds)), (s.at - start) / _DAY,
            s.found_kpa, s.left_kpa, _air(s), s.side, s.spare, s.gauge_id, s.anew,
        )
        for s in services
    )  # fmt: skip
    return seen, tires


def _window(row: Round, rigs: list[int]) -> list[Service]:
    """The services of these rigs in the last rounds up to this one, oldest first."""
    rounds = (
        Round.objects.filter(parts__rig__in=rigs, abandoned_at=None, opened_at__lte=row.opened_at)
        .exclude(sealed_at=None)
        .order_by("-opened_at")
        .values_list("pk", flat=True)
        .distinct()[:WINDOW]
    )
    return list(Service.objects.filter(round__in=list(rounds), rig__in=rigs).order_by("at", "id"))


def derive(row: Round) -> None:
    """Works out anew what follows from a round's rows of the ledger, and keeps it."""
    window = _window(row, [part.rig_id for part in row.parts.all()])
    of_round = [s for s in window if s.round_id == row.pk]
    if of_round:
        _work_out(row, of_round, [s for s in window if s.round_id != row.pk], _usual(row.rig.workspace_id))
        Service.objects.bulk_update(
            of_round, ["rate_kpa_day", "rate_error", "measured", "score", "named", "since", "own_kpa", "noise_kpa"]
        )  # fmt: skip


def _work_out(
    row: Round, of_round: list[Service], earlier_ones: list[Service], usual: core.Scatter
) -> core.Told | None:
    """From a round's services and those before them: its split, each tire's loss and evidence, and the next check."""
    if not of_round:
        return None
    window = [*earlier_ones, *of_round]
    seen, tires = seen_of(window)
    taken = core.take_apart(seen, usual)
    evidence = {e.tire: e for e in taken.tires}
    lines = stored.lines(row)
    names = {(line.rig, line.own): line.name for line in lines}
    before: dict[tuple[Any, ...], Service] = {}
    for s in earlier_ones:
        before[_key(s)] = s
    steps, stepping = [], []
    start = window[0].at
    for s in of_round:
        judged = evidence[tires[_key(s)]]
        loss = core.rate(judged)
        s.rate_kpa_day, s.rate_error, s.measured = loss.kpa_day, loss.error_kpa_day, loss.measured
        s.noise_kpa = math.hypot(core.noise_kpa(s.stood_kpa, s.absolute_kpa, taken), (s.estimate_kpa or 0.0) / 2)
        s.score, s.named = judged.score, judged.named
        s.since = start + dt.timedelta(days=judged.since_day) if judged.named and judged.since_day is not None else None
        earlier = before.get(_key(s))
        if earlier is not None and not s.anew:
            days = (s.at - earlier.at) / _DAY
            steps.append(
                core.Step(
                    names[s.rig_id, s.wheel],
                    earlier.stood_kpa,
                    _air(earlier),
                    s.found_kpa,
                    _air(s),
                    days,
                    s.spare,
                    s.side,
                )
            )
            stepping.append(s)
    previous = Round.objects.filter(pk__in={s.round_id for s in before.values()}).order_by("-opened_at").first()
    circumstances = core.Circumstances(
        previous is not None and previous.gauge_id != row.gauge_id,
        row.service_c,
        any(s.anew for s in of_round),
    )
    split = core.split(tuple(steps), circumstances)
    for s, part in zip(stepping, split.parts, strict=True):
        s.own_kpa = part.own_kpa
    row.text.split, row.split_words, row.odd = stored.keep_split(split), [kept(w) for w in split.words], split.odd
    row.text.save(update_fields=["split"])
    changed = previous is not None and previous.gauge_id != row.gauge_id and split.shared_kpa is not None
    row.gauge_before_id = previous.gauge_id if previous is not None and changed else None
    row.gauge_shared_kpa = split.shared_kpa if changed else None
    check = next_check(row, of_round, names)
    row.next_on, row.next_why = check.on, check.words
    leaks = {
        (s.rig_id, s.wheel): core_rounds.NamedLeak(s.wheel, s.tire_id, s.rate_kpa_day) for s in of_round if s.named
    }
    places = {line.code: (line.rig, line.own) for line in lines}
    told_of = [replace(w, leak=leaks.get(places[w.code])) for w in stored.words(row.last_words)]
    row.last_words = stored.keep_words(told_of)
    row.save(
        update_fields=[
            "split_words", "odd", "gauge_shared_kpa", "gauge_before", "next_on", "next_why", "last_words",
        ]
    )  # fmt: skip
    return taken


def _usual(workspace: int) -> core.Scatter:
    """How far readings and rounds of a workspace scatter, as its rounds have shown."""
    known = Scatter.objects.filter(workspace=workspace).first()
    return core.Scatter() if known is None else core.Scatter(known.hand_kpa, known.thermometer)


def _learn(workspace: int, evidence: core.Told | None) -> None:
    """What a sealed round showed of the scatter goes into its workspace's."""
    if evidence is None or not evidence.separable:
        return
    known = Scatter.objects.filter(workspace=workspace).first() or Scatter(
        workspace_id=workspace, hand_kpa=core.Scatter().hand_kpa, thermometer=core.Scatter().thermometer, rounds=0
    )
    known.rounds += 1
    share = 1 / min(known.rounds + 1, _REMEMBERED)
    known.hand_kpa += share * (evidence.hand_kpa - known.hand_kpa)
    known.thermometer += share * (evidence.thermometer - known.thermometer)
    known.save()


def next_check(row: Round, services: list[Service], names: dict[tuple[int, str], str]) -> standing.NextCheck:
    """When these tires are to be read again, by the usual interval or by what one of them loses."""
    sooner: list[tuple[str, float]] = []
    for s in services:
        name = names.get((s.rig_id, s.wheel), s.wheel)
        if s.word == "stop":
            sooner.append((f"{name} may have rolled low: look at it again within a day", core_rounds.RECHECK_DAYS))
        if s.here_kpa is None or not s.measured:
            continue
        limit, what = core_rounds.check_again_at(s.here_kpa, s.floor_kpa)
        rate = core.Rate(s.rate_kpa_day, s.rate_error, s.measured)
        _, days = core.days_until(s.stood_kpa, limit, rate)
        if days:
            sooner.append((f"{name} may be at {what} by then", days))
    return standing.next_check(row.opened_at.date(), row.check_days, tuple(sooner))


def next_for(rig: Rig, last: dt.date, on: dt.date, why: str) -> standing.NextCheck:
    """The next check of a rig after one on `last`: as that round left it, before the trip that is kept, or before it rolls."""
    leaves, laid = trips.leaves(rig), laid_up.of(rig)
    check = standing.before_trip(standing.NextCheck(on, why), last, leaves)
    return check if laid is None else laid.before(leaves).next_check(check, last, clock.today())


def _rederive_later(since: dt.datetime, rigs: list[int], but: int) -> None:
    """The rounds after a moment whose window reaches back to it, but one that is worked out already."""
    later = (
        Round.objects.filter(
            pk__in=RoundPart.objects.filter(rig__in=rigs).values("round"), abandoned_at=None, opened_at__gt=since
        )
        .select_related("text", "rig")
        .exclude(sealed_at=None)
        .exclude(pk=but)
        .order_by("opened_at")[: WINDOW - 1]
    )
    for after in later:
        derive(after)


def as_set(s: Service, done: plans.Touched | None) -> Service | None:
    """A tire's last service, or what was let out or filled since, as if it were one; None: what stands in it is not known.

    Not to be saved.
    """
    if done is None or done.at <= s.at:
        return s
    if done.kpa is None or done.air is None:
        return None
    since = copy.copy(s)
    since.at, since.found_kpa, since.left_kpa, since.noise_kpa = done.at, done.kpa, None, None
    since.air_c, since.elevation_m, since.absolute_kpa = (
        done.air.temperature_c,
        done.air.elevation_m,
        done.air.absolute_kpa,
    )
    return since


@dataclass(frozen=True)
class Forecast:
    """A tire's pressure before anyone kneels [kPa], give or take."""

    service: Service
    kpa: float
    within_kpa: float


def forecast(services: list[Service], here: dict[int, Air], now: dt.datetime | None = None) -> list[Forecast]:
    """What tires read now, from each one's last service, by the air at each rig; with the same gauges as then.

    Rigs without air are left out.
    """
    of_rigs = [s for s in services if s.rig_id in here]
    if not of_rigs:
        return []
    at = now or clock.now()
    left = np.array([s.stood_kpa for s in of_rigs])
    columns = np.array(
        [
            (
                s.air_c, s.absolute_kpa, s.rate_kpa_day, max(0.0, (at - s.at) / _DAY), here[s.rig_id].temperature_c,
                here[s.rig_id].absolute_kpa, s.scatters_kpa, s.rate_error,
            )
            for s in of_rigs
        ]
    ).T  # fmt: skip
    predicted = core.predict(left, *columns)
    return [
        Forecast(s, kpa, within)
        for s, kpa, within in zip(of_rigs, predicted.kpa.tolist(), predicted.uncertainty_kpa.tolist(), strict=True)
    ]


def of_rig(rig: Rig, tires: list[int]) -> QuerySet[Service]:
    """All services at a rig, and of the tires that are on it now wherever they were, oldest first."""
    return Service.objects.filter(Q(rig=rig) | Q(tire__in=tires)).order_by("at", "id")
