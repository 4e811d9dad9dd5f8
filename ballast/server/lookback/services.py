import datetime as dt
from dataclasses import dataclass, field

import numpy as np
from django.db.models import Count, OuterRef, Subquery
from django.db.models.functions import Coalesce

from ballast.core import lookback as core
from ballast.core import rigs as core_rigs
from ballast.core import rounds as core_rounds
from ballast.core import sensors as core_sensors
from ballast.core import standing
from ballast.core.gas import Air
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import person_name
from ballast.server.edge import clock
from ballast.server.edge.files import Listed, in_units
from ballast.server.edge.finding import every_word, in_turn
from ballast.server.ground import plans
from ballast.server.lookback.columns import DAY, NO_RECORD, Columns, History, by_tire, read, record
from ballast.server.lookback.schemas import Mark, RoundAir, SealedIn, Series
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Fitting, Rig
from ballast.server.rounds import ledger, stored
from ballast.server.rounds import services as rounds
from ballast.server.rounds.models import Amendment, Round, Service
from ballast.server.sensors import seen

# Rounds are listed so many at a time.
AT_ONCE = 60
_LOOKED_IN = ("summary", "place", "gauge__label", "sealed_by__first_name", "sealed_by__username")


@dataclass(frozen=True)
class SealedLine:
    """A sealed round as a line: when, in what air, and leak or weather in two sentences (as they are stored)."""

    id: int
    at: dt.datetime
    by: str
    time_zone: str
    gauge: str
    place: str
    outside_c: float
    elevation_m: float
    summary: str
    words: list[stored.Stored]
    odd: bool
    amended: int
    next_on: dt.date | None
    next_why: str


@dataclass(frozen=True)
class SealedLines:
    """Rounds in their order, and whether there are more past them."""

    rounds: list[SealedLine]
    more: bool


@dataclass(frozen=True)
class LookBack(SealedLines):
    """A rig's past; `start` is day 0."""

    start: dt.datetime | None = None
    tires: tuple[Series, ...] = ()
    marks: tuple[Mark, ...] = ()
    air: RoundAir = field(default_factory=lambda: RoundAir([], [], []))
    record: core.Record = NO_RECORD
    next_check_on: dt.date | None = None
    next_check_over: bool = False
    next_check_words: str = ""


def look_back(actor: Actor, rig: Rig) -> LookBack:
    """All sealed rounds of a rig: every tire's series, the splits, how good predictions were. Queries do not grow."""
    actor.must(May.READ)
    wheels = rigs.wheels_of(rig)
    on = {f.wheel: f for f in rigs.fitted_on(rig)}
    history = read(ledger.of_rig(rig, [f.tire_id for f in on.values()]))
    listed = rounds_of(actor, rig, SealedIn())
    if history is None:
        return LookBack(listed.rounds, listed.more)
    every = by_tire(_at_one_air(history.services))
    own = {}
    for wheel in wheels:
        tire = on[wheel.code].tire_id if wheel.code in on else None
        columns = every.get(tire) or every.get((rig.pk, wheel.code))
        if columns is not None:
            own[wheel.code] = columns | {"tire": tire}
    away = set(np.unique(history.services["rig_id"]).tolist()) - {rig.pk}
    others = dict(rigs.rigs(actor).filter(pk__in=away).values_list("pk", "name")) if away else {}
    shown = _shown(actor, rig, own, history.start)
    tires = [
        _series(own[w.code], history.start, rig, w, others, shown.get(w.code, [])) for w in wheels if w.code in own
    ]
    check = None
    last = listed.rounds[0] if listed.rounds else None
    if last is not None and last.next_on is not None:
        check = ledger.next_for(rig, last.at.date(), last.next_on, last.next_why)
    return LookBack(
        listed.rounds, listed.more, start=history.start, tires=tuple(tires), marks=_marks(history, rig, on),
        air=RoundAir(history.rounds, np.round(history.days, 3).tolist(), history.air_c.tolist()),
        record=record(own.values()), next_check_on=check.on if check else None,
        next_check_over=bool(check and check.on and standing.past(check.on, clock.today())),
        next_check_words=check.words if check else "",
    )  # fmt: skip


def rounds_of(actor: Actor, rig: Rig, of: SealedIn) -> SealedLines:
    """The sealed rounds of a rig as lines, `AT_ONCE` of them, and whether there are more.

    Raises DoesNotExist where they are to come past a round of another workspace.
    """
    fields = (
        "pk", "opened_at", "sealed_by__first_name", "sealed_by__username", "time_zone", "gauge__label", "place",
        "outside_c", "elevation_m", "split_words", "odd", "summary", "next_on", "next_why",
    )  # fmt: skip
    sealed = every_word(rounds.rounds(actor).filter(parts__rig=rig).exclude(sealed_at=None), of.find, *_LOOKED_IN)
    last = None if of.past is None else rounds.rounds(actor).get(pk=of.past)
    rising = of.sort == "oldest"
    # They are chosen first: what is long in them is not read of the others.
    chosen = in_turn(sealed, "opened_at", rising, last).values("pk")[: AT_ONCE + 1]
    amended = (
        Amendment.objects.filter(round=OuterRef("pk")).order_by().values("round").annotate(n=Count("pk")).values("n")
    )
    rows = list(
        in_turn(Round.objects.filter(pk__in=chosen), "opened_at", rising, None)
        .annotate(amended=Coalesce(Subquery(amended), 0))
        .values(*fields, "amended")
    )
    listed = [
        SealedLine(
            id=r["pk"], at=r["opened_at"], by=person_name(r["sealed_by__first_name"], r["sealed_by__username"]),
            gauge=r["gauge__label"], words=r["split_words"], odd=r["odd"], time_zone=r["time_zone"], place=r["place"],
            outside_c=r["outside_c"], elevation_m=r["elevation_m"], summary=r["summary"], amended=r["amended"],
            next_on=r["next_on"], next_why=r["next_why"],
        )
        for r in rows[:AT_ONCE]
    ]  # fmt: skip
    return SealedLines(listed, len(rows) > AT_ONCE)


def _day_after(at: dt.datetime, days: float | None) -> dt.date | None:
    """The day so many days on; what is ten years away is not told."""
    return None if days is None or days > 3650 else (at + dt.timedelta(days=days)).date()


def _at_one_air(services: Columns) -> Columns:
    """Services with what was found and left as it would read at 20 °C and sea level [kPa]."""
    around = services["absolute_kpa"], services["air_c"]
    return services | {n: np.round(core.normalized_all(services[f"{n}_kpa"], *around), 2) for n in ("found", "left")}


def _shown(
    actor: Actor, rig: Rig, own: dict[str, Columns], start: dt.datetime
) -> dict[str, list[core_sensors.Glimpse]]:
    """By wheel a tire's numbers off a display at which it stood as a round had left it: none from off the road."""
    through = seen.through(rig, clock.now())
    plan = plans.open_of(actor, [rig]) if through else None
    until = plan.opened_at if plan is not None else clock.now()
    shown = {}
    for code in through.keys() & own.keys():
        ahead = np.searchsorted(own[code]["day"], [(one.at - start) / DAY for one in through[code]])
        anew = np.append(own[code]["anew"], False)[ahead]
        shown[code] = [one for one, let_out in zip(through[code], anew, strict=True) if not let_out and one.at < until]
    return shown


def _series(
    own: Columns, start: dt.datetime, rig: Rig, wheel: core_rigs.Wheel, others: dict[int, str],
    shown: list[core_sensors.Glimpse],
) -> Series:  # fmt: skip
    """A tire's columns at the same air, and what its last service knows; `others`: the rigs that tires came from, by name.

    `shown` since then off a display feeds what it loses, where the two agree.
    """
    last = {n: column[-1] for n, column in own.items() if n != "tire"}
    stood = float(last["found_kpa"] if np.isnan(last["left_kpa"]) else last["left_kpa"])
    by_rounds = core.Rate(float(last["rate_kpa_day"]), float(last["rate_error"]), bool(last["measured"]))
    loss = core_sensors.loss(by_rounds, core_sensors.trend([g for g in shown if g.at > start + last["day"] * DAY]))
    rate = loss.rate
    # Elsewhere it was held against another target.
    here, floor = (None if np.isnan(last[n]) else float(last[n]) for n in ("here_kpa", "floor_kpa"))
    if (last["rig_id"], last["wheel"]) != (rig.pk, wheel.code):
        here = None
    began = last["since"].replace(tzinfo=dt.UTC) if last["named"] and last["since"] else None
    low_on = low_soonest = None
    if here is not None:
        limit, _ = core_rounds.check_again_at(here, floor)
        low_on, low_soonest = (_day_after(start + last["day"] * DAY, d) for d in loss.days_until(stood, limit))
    away, moved = own["rig_id"] != rig.pk, own["wheel"] != wheel.code
    elsewhere = []
    if away.any() or moved.any():
        elsewhere = [
            f"{code} of {others[at]}" if at != rig.pk else "" if code == wheel.code else code
            for at, code in zip(own["rig_id"], own["wheel"], strict=True)
        ]
    return Series(
        code=wheel.code,
        name=wheel.name,
        tire=own["tire"],
        spare=wheel.axle is None,
        round=own["round_id"].tolist(),
        level=own["found"].tolist(),
        left=own["left"].tolist(),
        raw=np.asarray(own["raw_kpa"]).round(2).tolist(),
        elsewhere=elsewhere,
        target=None
        if here is None
        else float(core.normalized_all(np.array(here), last["absolute_kpa"], last["air_c"])),
        rate_kpa_month=rate.kpa_day * core.MONTH,
        rate_low_kpa_month=(rate.kpa_day - 2 * rate.error_kpa_day) * core.MONTH,
        rate_high_kpa_month=(rate.kpa_day + 2 * rate.error_kpa_day) * core.MONTH,
        measured=rate.measured,
        named=bool(last["named"]),
        since=began,
        low_on=low_on,
        low_soonest=low_soonest,
        words=core.loss_words(rate, stood, began.date() if began else None),
        seen_at=[one.at for one in shown],
        seen_level=[round(one.kpa, 2) for one in shown],
        seen_within=[round(one.within_kpa, 2) for one in shown],
        display=loss.words,
        apart=loss.apart is not None,
    )


def _marks(history: History, rig: Rig, on: dict[str, Fitting]) -> tuple[Mark, ...]:
    """Gauges that changed, tires that were fitted or moved, rounds that were amended."""
    here = history.services["rig_id"] == rig.pk
    of_rig = set(np.unique(history.services["round_id"][here]).tolist())
    marks: list[Mark] = []
    before = ""
    for pk, day, gauge in zip(history.rounds, history.days.tolist(), history.gauges, strict=True):
        if pk not in of_rig:
            continue
        if before and gauge != before:
            marks.append(Mark(day, "gauge", f"Read with {gauge} from here on"))
        if pk in history.amended:
            marks.append(Mark(day, "amended", "Put right afterwards"))
        before = gauge
    for fitting in on.values():
        if fitting.fitted_on > history.start.date():
            day = (clock.midnight(fitting.fitted_on) - history.start) / DAY
            marks.append(Mark(day, "tire", f"Tire fitted at {fitting.wheel}"))
    return tuple(sorted(marks, key=lambda m: m.day))


_COLUMNS = (
    "rig", "read_at_utc", "sealed_by", "gauge", "place", "outside_c", "elevation_m", "wheel", "tire", "raw_kpa", "found_kpa",
    "left_kpa", "uncertainty_kpa", "target_here_kpa", "answer", "level_kpa", "own_kpa", "rate_kpa_month", "leak_named",
)  # fmt: skip


def export(actor: Actor, rig: Rig) -> Listed:
    """All sealed rounds of a rig as a file of rows, a line for every tire, canonical units and the person's own."""
    rows = (
        Service.objects.filter(rig=rig, round__in=rounds.rounds(actor))
        .select_related("round__sealed_by", "gauge")
        .defer("round__last_words", "round__split_words", "round__dawns")
        .order_by("at", "id")
    )
    return in_units(_COLUMNS, (_line(rig, s) for s in rows.iterator(2_000)), actor.person.units)


def _line(rig: Rig, s: Service) -> dict[str, object]:
    return {
        "rig": rig.shown_name, "read_at_utc": s.at.isoformat(),
        "sealed_by": s.round.sealed_by.shown_name if s.round.sealed_by else None, "gauge": s.gauge.label,
        "place": s.round.place, "outside_c": s.air_c, "elevation_m": s.elevation_m, "wheel": s.wheel, "tire": s.tire_id,
        "raw_kpa": s.raw_kpa, "found_kpa": s.found_kpa, "left_kpa": s.left_kpa, "uncertainty_kpa": s.uncertainty_kpa,
        "target_here_kpa": s.here_kpa, "answer": s.word,
        "level_kpa": float(core.normalized(s.found_kpa, Air(s.air_c, s.elevation_m, s.absolute_kpa))),
        "own_kpa": s.own_kpa, "rate_kpa_month": s.rate_kpa_day * core.MONTH, "leak_named": s.named,
    }  # fmt: skip
