"""This morning: what every tire reads before anyone kneels, and how good such predictions have been."""

import datetime as dt
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
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

    @property
    def asked(self) -> core.Around:
        """As the rules take it, where the air is known; a dawn that was typed without its day is the coming one."""
        assert self.here is not None
        on = tuple((day or self.now.today).toordinal() for day, _ in self.dawns)
        return core.Around(self.here, tuple(dawn for _, dawn in self.dawns), on)


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
    told = _told(actor, _kept(actor))
    return {told.rigs[i].pk for i in np.flatnonzero(told.wanting).tolist()}


def by_dawn(actor: Actor, find: str = "", of: Collection[int] | None = None) -> dict[int, Phrase]:
    """The rigs that a dawn before their next check asks for a round at once, each with that in words; `of` some alone."""
    actor.must(May.READ)
    told = _told(actor, _kept(actor, find, of))
    return {told.rigs[i].pk: words for i in np.flatnonzero(told.dawn).tolist() if (words := told.dawn_words(i))}


def of_tires(actor: Actor, rig_id: int) -> Wanting | None:
    """The tires of a rig and of what it tows that want air today, by prediction; None: nothing is foretold of any."""
    actor.must(May.READ)
    told = _told(actor, _of_train(actor, rig_id))
    tires = told.tires
    if not tires.foreseen.foretold.any():
        return None
    return {
        (rig.pk, code): Lacking(float(tires.foreseen.kpa[i]), target_kpa, core.known(tires.kept[i]["floor_kpa"]))
        for rig, own in zip(told.rigs, told.own, strict=True)
        for i, code in zip(own, rig.said()["codes"], strict=False)
        if tires.foreseen.wanting[i] and (target_kpa := tires.held[tires.whose[i]].target_kpa) is not None
    }


def air_today(actor: Actor) -> AirTodayOut:
    """How many rigs `wanting` names, and how many `by_dawn` does."""
    actor.must(May.READ)
    told = _told(actor, _kept(actor))
    return AirTodayOut(
        rigs=np.count_nonzero(told.wanting), dawn=np.count_nonzero(told.dawn), anew=told.anew,
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
    number of its sensor by its place among them, what all that foretells, and which dawn asks for a round at once (-1: none)."""

    kept: Any
    held: list[core.HeldHere]
    whose: list[int]
    seen: Mapping[int, Glimpse]
    foreseen: core.Morning
    dawn: Any

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


@dataclass(frozen=True)
class _Told:
    """Rigs this morning, with the air at each and which of all tires are its own; by rig, in arrays, how many of them want air,
    hold, and are not known, whether it asks for somebody, and whether a dawn asks for a round at once."""

    rigs: Sequence[_Rig]
    around: Mapping[int, _Around]
    own: Sequence[range]
    tires: _Tires
    wanting: Any
    holding: Any
    unknown: Any
    asks: Any
    dawn: Any

    @property
    def anew(self) -> int:
        """How many are being worked out anew."""
        return sum(r.tires is None for r in self.rigs)

    @property
    def order(self) -> list[int]:
        """The most urgent first, by their places."""
        named = np.array(sorted(range(len(self.rigs)), key=lambda i: self.rigs[i].order), dtype=int)
        order: list[int] = named[np.lexsort((~self.asks[named], -self.wanting[named]))].tolist()
        return order

    def dawn_words(self, i: int) -> Phrase | None:
        """That of a rig, by its place, tires are taken to their floors before its next check."""
        own, rig = self.own[i], self.rigs[i]
        dawns = self.tires.dawn[own.start : own.stop]
        if not (dawns >= 0).any():
            return None
        first = int(dawns[dawns >= 0].min())
        on, coldest = self.around[rig.pk].dawns[first]
        named = [code for code, dawn in zip(rig.said()["codes"], dawns, strict=True) if dawn == first]
        return core.dawn_words(on, coldest.air.temperature_c, named)


def _told(actor: Actor, of: Sequence[_Rig]) -> _Told:
    """Some rigs in one computation over all their tires."""
    now = clock.now()
    around = _around(actor, [r.pk for r in of if r.tires])
    here = {pk: a.here for pk, a in around.items() if a.here is not None}
    # Only where the air is known is anything foretold; of what is being worked out anew nothing is.
    wheels = np.array([len(r.tires or b"") for r in of], dtype=int) // core.AWAITED.itemsize
    foretold = np.array([r.pk in here for r in of], dtype=bool)
    every = np.frombuffer(b"".join(r.tires or b"" for r in of if r.pk in here), dtype=core.AWAITED)
    ends = np.cumsum(wheels * foretold)
    own = [range(first, end) for first, end in zip([0, *ends.tolist()], ends.tolist(), strict=False)]
    first = {r.pk: there.start for r, there in zip(of, own, strict=True)}
    seen = _seen(actor, here, first, {r.pk: r for r in of}, now)
    # Of each place once: few rigs have air of their own.
    places = {id(a): a for a in around.values() if a.here is not None}
    number = {place: n for n, place in enumerate(places)}
    at = np.repeat(np.array([number[id(around[r.pk])] for r in of if r.pk in here], dtype=int), wheels[foretold])
    tires = _tires(every, at, [a.asked for a in places.values()], seen, now)
    wanting, holding, off_road, dawn = (
        np.diff(np.append(0, np.cumsum(word))[np.append(0, ends)])
        for word in (tires.foreseen.wanting, tires.foreseen.holding, every["off_road"], tires.dawn >= 0)
    )
    unknown = wheels - wanting - holding
    asks = np.array([r.tires is None for r in of], dtype=bool) | lookback.asks(wanting, unknown, off_road > 0, dawn > 0)
    return _Told(of, around, own, tires, wanting, holding, unknown, asks, dawn > 0)


def _seen(
    actor: Actor, here: dict[int, Air], first: Mapping[int, int], asked: Mapping[int, _Rig], now: dt.datetime
) -> dict[int, Glimpse]:
    """By tire the newest number of its sensor, of the few rigs that were heard lately."""
    lately = rigs.rigs(actor).filter(heard__at__gte=now - OLD).select_related(*WITH_HEARD)
    seen = glimpses([rig for rig in lately if rig.pk in here], here, now)
    codes = {pk: asked[pk].said()["codes"] for pk in {pk for pk, _ in seen}}
    return {
        first[pk] + codes[pk].index(wheel): glimpse for (pk, wheel), glimpse in seen.items() if wheel in codes[pk]
    }  # fmt: skip


def _tires(every: Any, at: Any, around: Sequence[core.Around], seen: dict[int, Glimpse], now: dt.datetime) -> _Tires:
    """Tires, each at one of some places by its number."""
    held, whose = core.held_all(every, at, [core.Around(a.here) for a in around])
    celsius, absolute = np.array([(a.here.temperature_c, a.here.absolute_kpa) for a in around]).reshape(-1, 2)[at].T
    foreseen = core.foresee(every, core.low_kpa(held, whose), (celsius, absolute), now, seen)
    return _Tires(every, held, whose, seen, foreseen, core.asking_dawn(every, foreseen, at, around))


def _rig_out(told: _Told, at: int) -> MorningRigOut:
    """A rig by its place among them."""
    rig, tires, around = told.rigs[at], told.tires, told.around.get(told.rigs[at].pk)
    wanting, holding, unknown = int(told.wanting[at]), int(told.holding[at]), int(told.unknown[at])
    base = MorningRigOut(
        id=rig.pk, name=rig.name, fleet_number=rig.fleet_number, place="", outside_c=None, words=standing.ANEW.words, wanting=wanting,
        holding=holding, unknown=unknown, asks=bool(told.asks[at]), resting=False, anew=rig.tires is None, typed_c=None, stamps=[],
        tires=[], next_check_on=None, next_check_over=False, next_check_words="",
    )  # fmt: skip
    if rig.tires is None:
        return base
    said = rig.said()
    if said["next_check_on"]:
        base.next_check_on = dt.date.fromisoformat(said["next_check_on"])
        base.next_check_over = standing.past(base.next_check_on, clock.today())
    base.next_check_words = said["next_check_words"]
    if said["resting"]:
        base.words, base.resting = phrase_of(said["resting"]), True
        return base
    base.ground, base.dawn = phrase_of(said["ground"]) if said["ground"] else None, told.dawn_words(at)
    base.stamps = said["stamps"]
    if around is not None:
        now, here = around.now, around.here
        base.place, base.outside_c = now.place, here.temperature_c if here else None
        base.typed_c = now.outside_c if now.old else None
        base.stamps = [*said["stamps"], *([now.stamp] if now.stamp else [])]
        if here is None:
            base.words = around.why
            return base
    if not said["read"]:
        base.words = say("No sealed round yet: nothing to go by.")
        return base
    base.words = core.counted(wanting, holding, unknown)
    for i, code, name in zip(told.own[at], said["codes"], said["names"], strict=False):
        if tires.foreseen.foretold[i]:
            base.tires.append(tires.expected(i, code, name))
        else:
            base.not_foretold.append(NotForetoldOut(code=code, name=name, words=core.NOT_FORETOLD))
    return base


def _page(actor: Actor, of: list[_Rig], first: int) -> MorningOut:
    told = _told(actor, of)
    return MorningOut(
        at=clock.now(), rigs=[_rig_out(told, i) for i in told.order[first : first + PAGE]], page=PAGE, found=len(of),
        asking=np.count_nonzero(told.asks), anew=told.anew, wanting=int(told.wanting.sum()), holding=int(told.holding.sum()),
        unknown=int(told.unknown.sum()), record=awaited.record_of(rig.measured for rig in of),
    )  # fmt: skip
