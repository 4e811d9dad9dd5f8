"""This morning: what every tire reads before anyone kneels, and how good such predictions have been."""

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import accumulate, chain
from typing import Any, NamedTuple

import numpy as np
from django.db.models import TextField
from django.db.models.functions import Cast
from pydantic_core import from_json

from ballast.core import lookback, standing
from ballast.core import rounds as core
from ballast.core.gas import Air
from ballast.core.sensors import OLD, Glimpse
from ballast.core.working import Phrase, join, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now as air
from ballast.server.air import trips
from ballast.server.air.models import RigAir
from ballast.server.air.now import AirNow
from ballast.server.edge import clock
from ballast.server.edge.words import phrase_of
from ballast.server.rigs import services as rigs
from ballast.server.sensors.held import WITH_HEARD
from ballast.server.sensors.seen import glimpses
from ballast.server.yard import awaited, standings
from ballast.server.yard.awaited import Kept
from ballast.server.yard.schemas import AirTodayOut, ExpectedOut, MorningIn, MorningOut, MorningRigOut

# So many rigs are told at a time.
PAGE = 25


class _Rig(NamedTuple):
    """A rig and what is kept of it; None: that is being worked out anew, and nothing of before counts."""

    pk: int
    # By which rigs alike are ordered.
    order: str
    name: str
    fleet_number: str
    kept: Kept | None


@dataclass(frozen=True)
class _Around:
    """The air at a rig, and why nothing is foretold where it is not known."""

    now: AirNow
    here: Air | None
    why: Phrase


def morning(actor: Actor, of: MorningIn) -> MorningOut:
    """What every tire reads now, before anyone kneels, and which want air: a page of the rigs, the most urgent first."""
    actor.must(May.READ)
    return _page(actor, _kept(actor, of.find), of.first)


def morning_of(actor: Actor, rig_id: int) -> MorningOut:
    """The same of one rig with what it tows."""
    actor.must(May.READ)
    train = rigs.train(actor, rig_id, also=("policy", *trips.WITH_TRIP))
    kept = awaited.of(actor, train)
    of = [_Rig(r.pk, standings.order(r), r.name, r.fleet_number, kept[r.pk]) for r in train]
    return _page(actor, of, 0)


def wanting(actor: Actor) -> set[int]:
    """The rigs of which a tire wants air today, by prediction."""
    actor.must(May.READ)
    lines, _ = _told(actor, _kept(actor))
    return {line.rig.pk for line in lines if line.wanting}


def air_today(actor: Actor) -> AirTodayOut:
    """How many rigs `wanting` names."""
    actor.must(May.READ)
    lines, _ = _told(actor, _kept(actor))
    return AirTodayOut(rigs=sum(line.wanting > 0 for line in lines), anew=sum(line.rig.kept is None for line in lines))


def _kept(actor: Actor, find: str = "") -> list[_Rig]:
    standings.renew(actor)
    # As text: of the whole fleet it is read sooner by the parser that answers are checked with.
    rows = standings.kept_with(actor, find, words=False).annotate(text=Cast("morning", TextField()))
    asked = rows.values_list("rig_id", "number", "rig__name", "rig__fleet_number", "text", "old")
    return [
        _Rig(pk, order, name, number, None if old else from_json(text)) for pk, order, name, number, text, old in asked
    ]


def _around(actor: Actor, of: Sequence[int]) -> dict[int, _Around]:
    """The air at each rig; each place is asked once, and what was typed is read just where that is gone by."""
    ours = RigAir.objects.filter(rig__workspace=actor.workspace)
    if len(of) <= PAGE:
        ours = ours.filter(rig__in=of)
    chosen = {rig: air.place(actor, key, by) for rig, key, by in ours.values_list("rig", "place_key", "of_round")}
    keys = {pk: chosen.get(pk, actor.workspace.place_key) for pk in of}
    typed = {a.rig_id: a for a in ours.filter(place_key="")} if "" in keys.values() else {}
    asked: dict[str, _Around] = {}
    found = {}
    for pk, key in keys.items():
        if not key:
            found[pk] = _at(air.in_use(actor, typed.get(pk)))
            continue
        if key not in asked:
            asked[key] = _at(air.at_place(actor, key))
        found[pk] = asked[key]
    return found


def _at(now: AirNow) -> _Around:
    why = say("The air is not known: set its place on the Air stage.")
    if now.old and now.age_words:
        why = join(say("The air is too old to go by,"), now.age_words)
    return _Around(now, air.surroundings(now, standing.ROUND_EVERY_DAYS).here, why)


@dataclass(frozen=True)
class _Tires:
    """All tires of which something may be foretold, in the order of their rigs: what each is held to, the newest number of its
    sensor by its place among them, and what all that foretells."""

    held: list[core.HeldHere]
    seen: Mapping[int, Glimpse]
    foreseen: core.Morning


@dataclass(frozen=True)
class _Line:
    """A rig this morning: where its tires begin among all, None: none of them is foretold; how many want air, hold, and are not
    known, and whether it asks for somebody."""

    rig: _Rig
    around: _Around | None
    first: int | None
    wanting: int
    holding: int
    unknown: int
    asks: bool


def _line(rig: _Rig, around: _Around | None, first: int | None, counts: tuple[int, int]) -> _Line:
    kept, (wanting, holding) = rig.kept, counts
    if kept is None or kept["resting"]:
        # Of what is being worked out anew nothing is known.
        return _Line(rig, around, None, 0, 0, 0, kept is None)
    unknown = kept["wheels"] - wanting - holding
    asks = lookback.asks(wanting, unknown, kept["ground"] is not None)
    return _Line(rig, around, first, wanting, holding, unknown, asks)


def _told(actor: Actor, of: list[_Rig]) -> tuple[list[_Line], _Tires]:
    """Some rigs in one computation over all their tires, the most urgent first."""
    now = clock.now()
    awake = [(r, r.kept) for r in of if r.kept is not None and not r.kept["resting"]]
    around = _around(actor, [r.pk for r, _ in awake])
    here = {pk: a.here for pk, a in around.items() if a.here is not None}
    # Only where the air is known is anything foretold.
    asked = [(pk, kept, here[pk]) for (pk, *_), kept in awake if pk in here]
    starts = list(accumulate((kept["wheels"] for _, kept, _ in asked), initial=0))
    first = {pk: start for (pk, *_), start in zip(asked, starts, strict=False)}
    tires = _tires(asked, _seen(actor, asked, first, now), now)
    wanting, holding = (
        np.diff(np.append(0, np.cumsum(word))[starts]).tolist()
        for word in (tires.foreseen.wanting, tires.foreseen.holding)
    )
    counts = {pk: pair for (pk, *_), pair in zip(asked, zip(wanting, holding, strict=True), strict=True)}
    lines = [_line(rig, around.get(rig.pk), first.get(rig.pk), counts.get(rig.pk, (0, 0))) for rig in of]
    lines.sort(key=lambda line: (-line.wanting, not line.asks, line.rig.order))
    return lines, tires


_Asked = Sequence[tuple[int, Kept, Air]]


def _seen(actor: Actor, asked: _Asked, first: Mapping[int, int], now: dt.datetime) -> dict[int, Glimpse]:
    """By tire the newest number of its sensor, of the few rigs that were heard lately."""
    lately = rigs.rigs(actor).filter(heard__at__gte=now - OLD).select_related(*WITH_HEARD)
    here = {pk: here for pk, _, here in asked}
    seen = glimpses([rig for rig in lately if rig.pk in here], here, now)
    codes = {pk: kept["tires"]["code"] for pk, kept, _ in asked}
    return {
        first[pk] + codes[pk].index(wheel): glimpse for (pk, wheel), glimpse in seen.items() if wheel in codes[pk]
    }  # fmt: skip


_HELD = ("target_kpa", "range_kpa", "floor_kpa", "ceiling_kpa", "step_kpa", "spare")


def _tires(asked: _Asked, seen: dict[int, Glimpse], now: dt.datetime) -> _Tires:
    held: list[core.HeldHere] = []
    # The tires of an axle, and of vehicles alike, are held to the same.
    known: dict[tuple[Any, ...], dict[tuple[Any, ...], core.HeldHere]] = {}
    for _, kept, here in asked:
        alike = known.setdefault((here, kept["temperature"]), {})
        for band in zip(*(kept["tires"][name] for name in _HELD), strict=True):
            if band not in alike:
                target, other, floor, ceiling, step, spare = band
                alike[band] = core.held_here((target, other), floor, ceiling, step, spare, here, kept["temperature"])
            held.append(alike[band])
    many = [kept["wheels"] for _, kept, _ in asked]
    airs = np.array([(here.temperature_c, here.absolute_kpa) for *_, here in asked]).reshape(-1, 2)
    celsius, absolute = np.repeat(airs, many, axis=0).T
    left = {name: list(chain.from_iterable(kept["tires"][name] for _, kept, _ in asked)) for name in core.AS_LEFT}
    return _Tires(held, seen, core.foresee(left, [h.low_kpa for h in held], (celsius, absolute), now, seen))


def _expected(tires: _Tires, i: int, of: Mapping[str, Any]) -> ExpectedOut:
    """A tire by its place among all, and by what is kept of it."""
    held, glance = tires.held[i], tires.seen.get(i)
    kpa, within = float(tires.foreseen.kpa[i]), float(tires.foreseen.within_kpa[i])
    foretold = core.foretell(kpa, within, held.target_kpa, of["floor_kpa"], held.range_kpa)
    last_at = dt.datetime.fromtimestamp(of["at_s"], dt.UTC)
    return ExpectedOut(
        **vars(foretold), code=of["code"], name=of["name"], spare=of["spare"], kpa=kpa, within_kpa=within,
        floor_kpa=of["floor_kpa"], target_kpa=held.target_kpa, ceiling_kpa=of["ceiling_kpa"], last_at=last_at,
        named=of["named"], glance_at=glance.at if glance and glance.at > last_at else None,
    )  # fmt: skip


def _expected_of(line: _Line, kept: Kept, tires: _Tires) -> list[ExpectedOut]:
    if line.first is None:
        return []
    own = [dict(zip(kept["tires"], values, strict=True)) for values in zip(*kept["tires"].values(), strict=True)]
    return [_expected(tires, i, of) for i, of in enumerate(own, line.first) if tires.foreseen.known[i]]


def _rig_out(line: _Line, tires: _Tires) -> MorningRigOut:
    pk, _, name, fleet_number, kept = line.rig
    base = MorningRigOut(
        id=pk, name=name, fleet_number=fleet_number, place="", outside_c=None, words=standing.ANEW.words, wanting=line.wanting,
        holding=line.holding, unknown=line.unknown, asks=line.asks, resting=False, anew=kept is None, typed_c=None, stamps=[], tires=[],
        next_check_on=None, next_check_words="",
    )  # fmt: skip
    if kept is None:
        return base
    base.next_check_on = dt.date.fromisoformat(kept["next_check_on"]) if kept["next_check_on"] else None
    base.next_check_words = kept["next_check_words"]
    if kept["resting"]:
        base.words, base.resting = phrase_of(kept["resting"]), True
        return base
    base.ground = phrase_of(kept["ground"]) if kept["ground"] else None
    base.tires = _expected_of(line, kept, tires)
    base.stamps = kept["stamps"]
    if line.around is not None:
        now, here = line.around.now, line.around.here
        base.place, base.outside_c = now.place, here.temperature_c if here else None
        base.typed_c = now.outside_c if now.old else None
        base.stamps = [*kept["stamps"], *([now.stamp] if now.stamp else [])]
        if here is None:
            base.words = line.around.why
            return base
    if base.tires:
        base.words = core.counted(line.wanting, line.holding, line.unknown)
    else:
        base.words = say("No sealed round yet: nothing to go by.")
    return base


def _page(actor: Actor, of: list[_Rig], first: int) -> MorningOut:
    lines, tires = _told(actor, of)
    return MorningOut(
        at=clock.now(), rigs=[_rig_out(line, tires) for line in lines[first : first + PAGE]], page=PAGE, found=len(lines),
        asking=sum(line.asks for line in lines), anew=sum(line.rig.kept is None for line in lines),
        wanting=sum(line.wanting for line in lines), holding=sum(line.holding for line in lines),
        unknown=sum(line.unknown for line in lines), record=awaited.record_of(rig.kept for rig in of if rig.kept),
    )  # fmt: skip
