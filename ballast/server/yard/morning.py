"""This morning: what every tire reads before anyone kneels, and how good such predictions have been."""

import datetime as dt
from collections import defaultdict
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import accumulate, count
from typing import Any, NamedTuple

import numpy as np
from django.db.models import TextField
from django.db.models.functions import Cast
from pydantic_core import from_json

from ballast.core import lookback, standing
from ballast.core import rounds as core
from ballast.core.air import Ahead
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
from ballast.server.rounds.equipment import Lacking, Wanting
from ballast.server.sensors.held import WITH_HEARD
from ballast.server.sensors.seen import glimpses
from ballast.server.yard import awaited, standings
from ballast.server.yard.schemas import AirTodayOut, ExpectedOut, MorningIn, MorningOut, MorningRigOut, NotForetoldOut

# So many rigs are told at a time.
PAGE = 25


class _Rig(NamedTuple):
    """A rig and what is kept of it (`awaited.Kept`). `tires` None: that is being worked out anew, and nothing of before counts;
    laid up it has none."""

    pk: int
    # By which rigs alike are ordered.
    order: str
    name: str
    fleet_number: str
    tires: bytes | memoryview | None
    measured: bytes | memoryview
    said: Callable[[], awaited.Said]


@dataclass(frozen=True)
class _Around:
    """The air at a rig, with the dawns ahead and their days, and why nothing is foretold where it is not known."""

    now: AirNow
    here: Air | None
    dawns: tuple[tuple[dt.date | None, Ahead], ...]
    why: Phrase


def morning(actor: Actor, of: MorningIn) -> MorningOut:
    """What every tire reads now, before anyone kneels, and which want air: a page of the rigs, the most urgent first."""
    actor.must(May.READ)
    return _page(actor, _kept(actor, of.find), of.first)


def morning_of(actor: Actor, rig_id: int) -> MorningOut:
    """The same of one rig with what it tows."""
    actor.must(May.READ)
    return _page(actor, _of_train(actor, rig_id), 0)


def _of_train(actor: Actor, rig_id: int) -> list[_Rig]:
    """A rig with what it tows, as it is, whatever is kept of it."""
    train = rigs.train(actor, rig_id, also=("policy", *trips.WITH_TRIP))
    kept = awaited.of(actor, train)
    return [
        _Rig(r.pk, standings.order(r), r.name, r.fleet_number, k.tires, k.measured, _as_is(k.said))
        for r in train
        for k in [kept[r.pk]]
    ]


def _as_is(said: awaited.Said) -> Callable[[], awaited.Said]:
    return lambda: said


def _nothing() -> awaited.Said:
    raise LookupError("What is worked out anew says nothing.")


def wanting(actor: Actor) -> set[int]:
    """The rigs of which a tire wants air today, by prediction."""
    actor.must(May.READ)
    lines, _ = _told(actor, _kept(actor))
    return {line.rig.pk for line in lines if line.wanting}


def by_dawn(actor: Actor, find: str = "", of: Collection[int] | None = None) -> dict[int, Phrase]:
    """The rigs that a dawn before their next check asks for a round at once, each with that in words; `of` some alone."""
    actor.must(May.READ)
    lines, _ = _told(actor, _kept(actor, find, of))
    return {line.rig.pk: line.dawn for line in lines if line.dawn is not None}


def of_tires(actor: Actor, rig_id: int) -> Wanting | None:
    """The tires of a rig and of what it tows that want air today, by prediction; None: nothing is foretold of any."""
    actor.must(May.READ)
    lines, tires = _told(actor, _of_train(actor, rig_id))
    if not tires.foreseen.foretold.any():
        return None
    return {
        (line.rig.pk, code): Lacking(float(tires.foreseen.kpa[i]), target_kpa, core.known(tires.kept[i]["floor_kpa"]))
        for line in lines
        if line.first is not None
        for i, code in zip(count(line.first), line.rig.said()["codes"], strict=False)
        if tires.foreseen.wanting[i] and (target_kpa := tires.held[tires.whose[i]].target_kpa) is not None
    }


def air_today(actor: Actor) -> AirTodayOut:
    """How many rigs `wanting` names, and how many `by_dawn` does."""
    actor.must(May.READ)
    lines, _ = _told(actor, _kept(actor))
    return AirTodayOut(
        rigs=sum(line.wanting > 0 for line in lines), dawn=sum(line.dawn is not None for line in lines),
        anew=sum(line.rig.tires is None for line in lines),
    )  # fmt: skip


def _kept(actor: Actor, find: str = "", of: Collection[int] | None = None) -> list[_Rig]:
    standings.renew(actor)
    # As text: just of those on the page it is read.
    rows = standings.kept_with(actor, find, words=False).annotate(said=Cast("morning", TextField()))
    if of is not None:
        rows = rows.filter(rig__in=of)
    asked = rows.values_list(
        "rig_id", "number", "rig__name", "rig__fleet_number", "old", "tires", "measured", "said"
    )  # fmt: skip
    return [
        _Rig(pk, order, name, number, None, b"", _nothing)
        if old
        else _Rig(pk, order, name, number, tires, measured, partial(from_json, said))
        for pk, order, name, number, old, tires, measured, said in asked
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
    return _Around(now, air.surroundings(now, standing.ROUND_EVERY_DAYS).here, air.dawns(now), why)


@dataclass(frozen=True)
class _Tires:
    """All tires of which something may be foretold (`AWAITED`), in the order of their rigs: what each is held to, the newest
    number of its sensor by its place among them, the air at each, and what all that foretells."""

    kept: Any
    held: list[core.HeldHere]
    whose: list[int]
    seen: Mapping[int, Glimpse]
    here: tuple[Any, Any]
    foreseen: core.Morning

    def expected(self, i: int, code: str, name: str) -> ExpectedOut:
        """A tire by its place among all."""
        of, held, floor = self.kept[i], self.held[self.whose[i]], core.known(self.kept[i]["floor_kpa"])
        kpa, within = float(self.foreseen.kpa[i]), float(self.foreseen.within_kpa[i])
        foretold = core.foretell(kpa, within, held.target_kpa, floor, held.range_kpa)
        last_at = dt.datetime.fromtimestamp(of["at_s"], dt.UTC)
        return ExpectedOut(
            **vars(foretold), code=code, name=name, spare=bool(of["spare"]), kpa=kpa, within_kpa=within, floor_kpa=floor,
            target_kpa=held.target_kpa, ceiling_kpa=core.known(of["ceiling_kpa"]), last_at=last_at, named=bool(of["named"]),
            glance_at=self.seen[i].at if i in self.foreseen.beside else None,
        )  # fmt: skip


class _Line(NamedTuple):
    """A rig this morning: where its tires begin among all, None: none of them is foretold; how many want air, hold, and are not
    known, whether it asks for somebody, and the dawn that asks for a round at once, in words."""

    rig: _Rig
    around: _Around | None
    first: int | None
    wanting: int
    holding: int
    unknown: int
    asks: bool
    dawn: Phrase | None = None


def _wheels(rig: _Rig) -> int:
    return len(rig.tires or b"") // core.AWAITED.itemsize


def _line(
    rig: _Rig, around: _Around | None, first: int | None, counts: tuple[int, int, int], dawn: Phrase | None
) -> _Line:
    wanting, holding, off_road = counts
    # Of what is being worked out anew nothing is known.
    if not rig.tires:
        return _Line(rig, around, None, 0, 0, 0, rig.tires is None)
    unknown = _wheels(rig) - wanting - holding
    asks = lookback.asks(wanting, unknown, off_road > 0, dawn is not None)
    return _Line(rig, around, first, wanting, holding, unknown, asks, dawn)


def _told(actor: Actor, of: list[_Rig]) -> tuple[list[_Line], _Tires]:
    """Some rigs in one computation over all their tires, the most urgent first."""
    now = clock.now()
    around = _around(actor, [r.pk for r in of if r.tires])
    here = {pk: a.here for pk, a in around.items() if a.here is not None}
    # Only where the air is known is anything foretold.
    asked = [r for r in of if r.pk in here]
    every = np.frombuffer(b"".join(r.tires or b"" for r in asked), dtype=core.AWAITED)
    starts = list(accumulate((_wheels(r) for r in asked), initial=0))
    first = {r.pk: start for r, start in zip(asked, starts, strict=False)}
    seen = _seen(actor, here, first, {r.pk: r for r in asked}, now)
    tires = _tires(every, [here[r.pk] for r in asked], np.diff(starts), seen, now)
    counts = [
        np.diff(np.append(0, np.cumsum(word))[starts]).tolist()
        for word in (tires.foreseen.wanting, tires.foreseen.holding, every["off_road"])
    ]
    by_rig = {r.pk: counted for r, counted in zip(asked, zip(*counts, strict=True), strict=True)}
    dawns = _by_dawn(asked, around, starts, tires)
    lines = [
        _line(r, around.get(r.pk), first.get(r.pk), by_rig.get(r.pk, (0, 0, 0)), dawns.get(r.pk)) for r in of
    ]  # fmt: skip
    lines.sort(key=lambda line: (-line.wanting, not line.asks, line.rig.order))
    return lines, tires


def _seen(
    actor: Actor, here: dict[int, Air], first: Mapping[int, int], asked: Mapping[int, _Rig], now: dt.datetime
) -> dict[int, Glimpse]:
    """By tire the newest number of its sensor, of the few rigs that were heard lately."""
    lately = rigs.rigs(actor).filter(heard__at__gte=now - OLD).select_related(*WITH_HEARD)
    seen = glimpses([rig for rig in lately if rig.pk in here], here, now)
    codes = {pk: asked[pk].said()["codes"] for pk, _ in seen}
    return {
        first[pk] + codes[pk].index(wheel): glimpse for (pk, wheel), glimpse in seen.items() if wheel in codes[pk]
    }  # fmt: skip


def _tires(every: Any, here: Sequence[Air], many: Any, seen: dict[int, Glimpse], now: dt.datetime) -> _Tires:
    places = {air: i for i, air in enumerate(dict.fromkeys(here))}
    at = np.repeat(np.array([places[air] for air in here], dtype=int), many)
    held, whose = core.held_all(every, at, list(places))
    low = np.array([np.nan if h.low_kpa is None else h.low_kpa for h in held], dtype=float)[np.array(whose, dtype=int)]
    airs = np.array([(air.temperature_c, air.absolute_kpa) for air in places]).reshape(-1, 2)
    celsius, absolute = airs[at].T
    return _Tires(
        every, held, whose, seen, (celsius, absolute), core.foresee(every, low, (celsius, absolute), now, seen)
    )


def _by_dawn(
    asked: Sequence[_Rig], around: Mapping[int, _Around], starts: Sequence[int], tires: _Tires
) -> dict[int, Phrase]:  # fmt: skip
    """By rig the first dawn before its next check that takes tires of it to their floors."""
    # Of each place once: few have a dawn of their own.
    places = {id(around[r.pk]): around[r.pk] for r in asked}
    of_place = {key: i for i, key in enumerate(places)}
    dawns = np.full((max((len(a.dawns) for a in places.values()), default=0), 3, len(places)), np.nan)
    for at, place in enumerate(places.values()):
        for i, (_, dawn) in enumerate(place.dawns):
            dawns[i, :, at] = dawn.air.temperature_c, dawn.air.absolute_kpa, dawn.days
    at_place = np.repeat(np.array([of_place[id(around[r.pk])] for r in asked], dtype=int), np.diff(starts))
    first = core.first_dawn(tires.kept, tires.foreseen, tires.here, dawns[:, :, at_place])
    found = {}
    for at in np.unique(np.searchsorted(starts, np.flatnonzero(first >= 0), side="right") - 1).tolist():
        words = _dawn_of(
            asked[at], around[asked[at].pk], starts[at], first[starts[at] : starts[at + 1]].tolist(), tires
        )
        if words is not None:
            found[asked[at].pk] = words
    return found


def _dawn_of(rig: _Rig, around: _Around, start: int, first: list[int], tires: _Tires) -> Phrase | None:
    """`_by_dawn` of one rig: of each tire, from one on among all, which dawn first takes it to its floor."""
    said = rig.said()
    until = dt.date.fromisoformat(said["next_check_on"]) if said["next_check_on"] else dt.date.max
    # The coming one, without its day, comes before any check that is not due yet.
    coming = [(on, dawn) for on, dawn in around.dawns if (on or around.now.today) <= until]
    ahead, here = tuple(dawn for _, dawn in coming), around.here
    by = defaultdict[int, list[str]](list)
    for i, (dawn, code) in enumerate(zip(first, said["codes"], strict=True), start):
        if not here or not 0 <= dawn < len(coming):
            continue
        if core.asks_before(tires.kept[i], float(tires.foreseen.kpa[i]), here, ahead):
            by[dawn].append(code)
    if not by:
        return None
    on, coldest = coming[min(by)]
    return core.dawn_words(on, coldest.air.temperature_c, by[min(by)])


def _rig_out(line: _Line, tires: _Tires) -> MorningRigOut:
    rig = line.rig
    base = MorningRigOut(
        id=rig.pk, name=rig.name, fleet_number=rig.fleet_number, place="", outside_c=None, words=standing.ANEW.words, wanting=line.wanting,
        holding=line.holding, unknown=line.unknown, asks=line.asks, resting=False, anew=rig.tires is None, typed_c=None, stamps=[], tires=[],
        next_check_on=None, next_check_words="",
    )  # fmt: skip
    if rig.tires is None:
        return base
    said = rig.said()
    base.next_check_on = dt.date.fromisoformat(said["next_check_on"]) if said["next_check_on"] else None
    base.next_check_words = said["next_check_words"]
    if said["resting"]:
        base.words, base.resting = phrase_of(said["resting"]), True
        return base
    base.ground, base.dawn = phrase_of(said["ground"]) if said["ground"] else None, line.dawn
    base.stamps = said["stamps"]
    if line.around is not None:
        now, here = line.around.now, line.around.here
        base.place, base.outside_c = now.place, here.temperature_c if here else None
        base.typed_c = now.outside_c if now.old else None
        base.stamps = [*said["stamps"], *([now.stamp] if now.stamp else [])]
        if here is None:
            base.words = line.around.why
            return base
    if not said["read"]:
        base.words = say("No sealed round yet: nothing to go by.")
        return base
    base.words = core.counted(line.wanting, line.holding, line.unknown)
    for i, code, name in zip(count(line.first or 0), said["codes"], said["names"], strict=False):
        if tires.foreseen.foretold[i]:
            base.tires.append(tires.expected(i, code, name))
        else:
            base.not_foretold.append(NotForetoldOut(code=code, name=name, words=core.NOT_FORETOLD))
    return base


def _page(actor: Actor, of: list[_Rig], first: int) -> MorningOut:
    lines, tires = _told(actor, of)
    return MorningOut(
        at=clock.now(), rigs=[_rig_out(line, tires) for line in lines[first : first + PAGE]], page=PAGE, found=len(lines),
        asking=sum(line.asks for line in lines), anew=sum(line.rig.tires is None for line in lines),
        wanting=sum(line.wanting for line in lines), holding=sum(line.holding for line in lines),
        unknown=sum(line.unknown for line in lines), record=awaited.record_of(rig.measured for rig in of),
    )  # fmt: skip
