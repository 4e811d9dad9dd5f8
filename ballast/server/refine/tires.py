"""All tires of a workspace: where each is, how old, how worn; and what happened to one through its life."""

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, TypedDict
from uuid import UUID

from django.db import transaction
from django.db.models import Case, CharField, F, OuterRef, Q, QuerySet, Subquery, Value, When
from django.db.models.functions import Concat, Substr

from ballast.core import refine as core
from ballast.core import rigs as core_rigs
from ballast.core.lookback import MONTH
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.days import latest_day
from ballast.server.edge.files import Listed, in_units
from ballast.server.edge.finding import every_word
from ballast.server.edge.problems import Denied
from ballast.server.refine import wear
from ballast.server.refine.models import TireEvent
from ballast.server.refine.schemas import (
    EventIn,
    EventOut,
    TireOut,
    TirePageOut,
    TireRowOut,
    TiresIn,
    TireSort,
    TireWhich,
    WearOut,
)
from ballast.server.rigs import fittings
from ballast.server.rigs.models import Fitting, Tire
from ballast.server.rounds.models import Service, TreadDepth

if TYPE_CHECKING:
    from django.db.models.expressions import Combinable
    from django_stubs_ext import WithAnnotations

PAGE = 100
# Tires whose histories are read at once for a file.
_SLICE = 500
_LOOKED_IN = (
    "tire_size", "tire_make", "casing", "date_code", "sensor", "on_rig", "on_number", "on_wheel", "retired_reason",
)  # fmt: skip
_ORDER: "dict[TireSort, tuple[str | Combinable, ...]]" = {
    "where": (F("on_number").asc(nulls_last=True), F("on_rig").asc(nulls_last=True), "on_wheel", "pk"),
    "size": ("tire_size", "pk"),
    # Oldest first; those without a date code, whose age is not known, before all.
    "age": ("made", "pk"),
    "tread": (F("least_mm").asc(nulls_last=True), "pk"),
    "number": (F("casing").desc(), "pk"),
    # What loses most before all; what was not measured after them.
    "loses": (F("rate").asc(nulls_last=True), "pk"),
}


class _Place(TypedDict):
    """Where a tire is, its newest depth, and its date code as it sorts."""

    on_rig: str | None
    on_number: str | None
    on_wheel: str | None
    least_mm: float | None
    made: str
    rate: float | None
    leaks: bool | None


def _tires(actor: Actor) -> "QuerySet[WithAnnotations[Tire, _Place]]":
    """Every tire with where it is, its newest depth, and what it loses by its newest service."""
    on = Fitting.objects.filter(tire=OuterRef("pk"), removed_on=None)
    depth = TreadDepth.objects.filter(tire=OuterRef("pk")).order_by("-at", "-id")
    last = Service.objects.filter(tire=OuterRef("pk")).order_by("-at", "-id")
    # What nobody measured is not known, whatever the usual tire loses.
    rate = Case(When(measured=True, then=F("rate_kpa_day")), default=Value(None))
    return fittings.tires(actor).annotate(
        on_rig=Subquery(on.values("rig__name")[:1]),
        on_number=Subquery(on.values("rig__fleet_number")[:1]),
        on_wheel=Subquery(on.values("wheel")[:1]),
        least_mm=Subquery(depth.values("least_mm")[:1]),
        rate=Subquery(last.values(known=rate)[:1]),
        leaks=Subquery(last.values("named")[:1]),
        made=Concat(Substr("date_code", 3, 2), Substr("date_code", 1, 2), output_field=CharField()),
    )


def _old(rows: "QuerySet[WithAnnotations[Tire, _Place]]") -> "QuerySet[WithAnnotations[Tire, _Place]]":
    """Those whose age asks for something, each by its own rig's years."""
    today = clock.today()
    dated = rows.exclude(date_code="").annotate(
        years=Subquery(Fitting.objects.filter(tire=OuterRef("pk"), removed_on=None).values("rig__replace_years")[:1])
    )
    ask = Q(pk=None)
    for code, years in dated.order_by().values_list("date_code", "years").distinct():
        made = core_rigs.read_date_code(code, today)
        if core_rigs.age_words(made, today, years or core_rigs.AGE_REPLACE_YEARS)[1]:
            ask |= Q(date_code=code, years=years) if years is not None else Q(date_code=code, years__isnull=True)
    return dated.filter(ask)


def _worn(rows: "QuerySet[WithAnnotations[Tire, _Place]]") -> "QuerySet[WithAnnotations[Tire, _Place]]":
    """Those at the limit of the wheel where they are."""
    on = Fitting.objects.filter(tire=OuterRef("pk"), removed_on=None)
    near = rows.filter(least_mm__lte=core.STEER_LIMIT_MM).annotate(
        kind=Subquery(on.values("rig__kind")[:1]), gvwr_kg=Subquery(on.values("rig__gvwr_kg")[:1])
    )
    worn = [
        pk
        for pk, least, wheel, kind, gvwr_kg in near.order_by().values_list("pk", "least_mm", "on_wheel", "kind", "gvwr_kg")
        if least is not None and least <= wear.limit_of(core_rigs.Rig(kind, (), gvwr_kg=gvwr_kg) if kind else None, wheel or "")
    ]  # fmt: skip
    return rows.filter(pk__in=worn)


def _which(
    rows: "QuerySet[WithAnnotations[Tire, _Place]]", which: TireWhich
) -> "QuerySet[WithAnnotations[Tire, _Place]]":
    if which == "all":
        return rows
    if which == "retired":
        return rows.exclude(retired_on=None)
    rows = rows.filter(retired_on=None)
    if which == "fitted":
        return rows.exclude(on_wheel=None)
    if which == "store":
        return rows.filter(on_wheel=None)
    if which == "leaks":
        return rows.filter(leaks=True)
    return _old(rows) if which == "old" else _worn(rows)


def _asked(actor: Actor, asked: TiresIn) -> "QuerySet[WithAnnotations[Tire, _Place]]":
    rows = _which(_tires(actor), asked.which)
    return every_word(rows, asked.find, *_LOOKED_IN).order_by(*_ORDER[asked.sort])


def page(actor: Actor, asked: TiresIn) -> TirePageOut:
    """A page of the list, in as many questions however long the list is."""
    rows = _asked(actor, asked)
    total = rows.count()
    first = min(asked.first, max(0, total - 1) // PAGE * PAGE)
    return TirePageOut(
        tuple(_rows(actor, list(rows[first : first + PAGE]))),
        total,
        first,
        PAGE,
        core.LIMIT_CAUTION,
        asked.which,
        asked.sort,
    )


def _rows(actor: Actor, tires: "Sequence[WithAnnotations[Tire, _Place]]") -> Iterator[TireRowOut]:
    treads = wear.of_tires(actor, tires)
    on = {f.tire_id: f for f in Fitting.objects.filter(tire__in=tires, removed_on=None).select_related("rig")}
    return (_row(tire, on.get(tire.pk), treads[tire.pk]) for tire in tires)


def _row(tire: "WithAnnotations[Tire, _Place]", on: Fitting | None, history: wear.History) -> TireRowOut:
    today, rig = clock.today(), on.rig if on else None
    years = fittings.replace_years(rig) if rig else core_rigs.AGE_REPLACE_YEARS
    words, old = fittings.age_words(tire, today, years)
    said = _wear(on, history)
    return TireRowOut(
        tire.pk, rig.pk if rig else None, rig.shown_name if rig else "", on.wheel if on else "", tire.tire_size,
        tire.tire_make, tire.casing, tire.date_code, words, old, said.least_mm, said.on, said.fastest_mm,
        said.limit if said.points else None, said.at_limit, tire.retired_on, tire.retired_reason,
        None if tire.rate is None else tire.rate * MONTH, bool(tire.leaks),
    )  # fmt: skip


def _wear(on: Fitting | None, history: wear.History) -> WearOut:
    typed = core_rigs.Rig(on.rig.kind, (), gvwr_kg=on.rig.gvwr_kg) if on else None
    return wear.wear_out(history, wear.limit_of(typed, on.wheel if on else ""), on.rig.odometer_km if on else None)


_COLUMNS = (
    "rig", "wheel", "size", "make", "casing", "date_code", "age", "tread_mm", "measured_on", "wear_mm_per_1000_km", "limit",
    "retired_on", "retired_because", "loses_kpa_month", "leak_named",
)  # fmt: skip


def as_rows(actor: Actor, asked: TiresIn) -> Listed:
    """The whole list as it is asked for, as a file of rows."""
    units = actor.person.units
    tires = list(_asked(actor, asked))
    rows = (row for i in range(0, len(tires), _SLICE) for row in _rows(actor, tires[i : i + _SLICE]))
    return in_units(
        _COLUMNS,
        (
            {
                "rig": r.rig_name, "wheel": r.wheel, "size": r.size, "make": r.make, "casing": r.casing,
                "date_code": r.date_code, "age": r.age, "tread_mm": r.least_mm, "measured_on": r.least_on,
                "wear_mm_per_1000_km": r.fastest_mm, "limit": r.limit.show(units) if r.limit else "",
                "retired_on": r.retired_on, "retired_because": r.retired_reason, "loses_kpa_month": r.loses_kpa_month,
                "leak_named": r.leaks,
            }
            for r in rows
        ),
        units,
    )  # fmt: skip


def one(actor: Actor, tire_id: int) -> TireOut:
    """A tire with its whole history."""
    tire = _tires(actor).get(pk=tire_id)
    on = tire.fittings.filter(removed_on=None).select_related("rig").first()
    history = wear.of_tires(actor, [tire])[tire.pk]
    return TireOut(
        _row(tire, on, history), tire.sensor, tire.one_way, tire.coarse, _wear(on, history), core.LIMIT_CAUTION,
        tuple(fittings.history(actor, tire_id)),
        tuple(_event(actor, e) for e in wear.standing_events(tire.events.select_related("by"))),
    )  # fmt: skip


def _event(actor: Actor, row: TireEvent) -> EventOut:
    kind: core.EventKind = row.kind  # type: ignore[assignment]
    return EventOut(
        row.uuid, kind, core.EVENTS[kind], core.POINTS_AT.get(kind, ""), row.done_on, row.odometer_km, row.tread_mm, row.words, row.by.shown_name,
        row.by_id == actor.person.pk or actor.may(May.RIGS),
    )  # fmt: skip


@transaction.atomic
def add_event(actor: Actor, tire_id: int, data: EventIn) -> TireOut:
    """Keeps what happened to a tire, once, however often it is sent. Raises Refusal for a day ahead, or without its words."""
    actor.must(May.FIT)
    tire = fittings.tires(actor).get(pk=tire_id)
    if data.done_on > latest_day():
        raise Refusal("The date lies in the future. Check it.", "done_on")
    tread_mm = round(data.tread.value * 1000, 3) if data.tread else None
    core.check_event(data.kind, data.words, tread_mm)
    TireEvent.objects.get_or_create(
        uuid=data.uuid,
        defaults={
            "tire": tire, "kind": data.kind, "done_on": data.done_on, "tread_mm": tread_mm, "words": data.words,
            "odometer_km": data.odometer.value if data.odometer else None, "by": actor.person, "entered_at": clock.now(),
        },
    )  # fmt: skip
    return one(actor, tire_id)


@transaction.atomic
def take_back_event(actor: Actor, tire_id: int, uuid: UUID) -> TireOut:
    """Takes an event back, by whoever entered it or a manager."""
    actor.must(May.FIT)
    tire = fittings.tires(actor).get(pk=tire_id)
    row = tire.events.get(uuid=uuid)
    if row.by_id != actor.person.pk and not actor.may(May.RIGS):
        raise Denied(f"{row.by.shown_name} entered it. Ask them, or a manager.")
    row.withdrawn_at = row.withdrawn_at or clock.now()
    row.save()
    return one(actor, tire_id)
