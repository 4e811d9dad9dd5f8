"""Tires through their lives: fitted, moved, removed, retired; and what speaks against what is on a rig."""

import datetime as dt
from dataclasses import dataclass

from django.db import IntegrityError, transaction
from django.db.models import OuterRef, QuerySet, Subquery
from simple_history.utils import bulk_create_with_history

from ballast.core import refine
from ballast.core import rigs as core
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, day
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.days import latest_day
from ballast.server.edge.problems import Conflict
from ballast.server.edge.quantities import Entry
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Axle, Fitting, Rig, Sidewall, Spare, Tire, Torque
from ballast.server.rigs.schemas import (
    FitAllIn,
    FitIn,
    FittedTireOut,
    FittingOut,
    MoveIn,
    NewTireIn,
    OdometerIn,
    RemoveIn,
    TireMarksIn,
    TiresOut,
    TorqueIn,
)


def tires(actor: Actor) -> QuerySet[Tire]:
    actor.must(May.READ)
    return Tire.objects.of(actor.workspace)


def replace_years(rig: Rig) -> int:
    """The age at which a rig's tires are replaced: its own, else ten years."""
    return rig.replace_years or core.AGE_REPLACE_YEARS


def _past(day: dt.date, field: str) -> None:
    if day > latest_day():
        raise Refusal("The date lies in the future. Check it.", field)


def _wheel(rig: Rig, code: str, field: str) -> core.Wheel:
    place = next((w for w in rigs.wheels_of(rig) if w.code == code), None)
    if place is None:
        known = ", ".join(w.code for w in rigs.wheels_of(rig))
        raise Refusal(f"There is no wheel {code} on {rig.name}. It has {known}.", field)
    return place


def described(rig: Rig, wheel: core.Wheel) -> Axle | Spare:
    """What a wheel is described with in its rig's labels."""
    if wheel.axle is not None:
        return rig.axles.all()[wheel.axle - 1]
    return rig.spares.all()[int(wheel.code[1:]) - 1]


def _new(actor: Actor, given: NewTireIn, described: Sidewall, on: dt.date) -> Tire:
    """A new tire as it stands on its sidewall; of one whose marking was left empty all is as its axle is described.

    What else was left empty is unknown: `core.as_fitted` fills it in where nothing contradicts the description.
    """
    size = core.as_marked(given.tire_size or described.tire_size)
    try:
        if given.date_code:
            core.read_date_code(given.date_code, on)
    except Refusal as no:
        raise no.within("new") from None
    fields = rigs.sidewall_fields(given, size)
    if not given.tire_size:
        fields |= {n: getattr(described, n) for n, value in fields.items() if value in (None, "") or n == "tire_size"}
    return Tire(
        workspace=actor.workspace,
        date_code=given.date_code,
        sensor=given.sensor,
        casing=given.casing,
        one_way=given.one_way,
        coarse=given.coarse,
        diameter_mm=round(given.diameter.value * 1000, 2) if given.diameter else None,
        **fields,
    )


def _off(rig: Rig, wheel: str, on: dt.date, reason: str) -> Fitting | None:
    """What is taken off a wheel, with the day and the reason in it, not saved; None: nothing was there."""
    current = next((f for f in rigs.fitted_on(rig) if f.wheel == wheel), None)
    if current is None:
        return None
    if on < current.fitted_on:
        raise Refusal(
            f"The tire there was fitted on {day(current.fitted_on)}. Choose that day or a later one.", "removed_on"
        )
    current.removed_on, current.removed_reason = on, reason
    rig.on_now = [f for f in rigs.fitted_on(rig) if f is not current]  # type: ignore[attr-defined]
    return current


@dataclass(frozen=True)
class Fit:
    """A tire about to be fitted, with what makes room for it; nothing of it is saved."""

    tire: Tire
    fitting: Fitting
    off: Fitting | None


def plan(actor: Actor, rig: Rig, data: FitIn) -> Fit:
    """What fitting a new tire, or one of the store, to a wheel would come to; the rig at hand is as it would be then.

    Raises Refusal and Conflict as `fit` does.
    """
    wheel = _wheel(rig, data.wheel, "wheel")
    _past(data.fitted_on, "fitted_on")
    if (data.tire is None) == (data.new is None):
        raise Refusal("Name a tire of the store, or describe a new one.", "tire")
    if data.new is not None:
        tire = _new(actor, data.new, described(rig, wheel), data.fitted_on)
    else:
        stored = tires(actor).filter(pk=data.tire or 0).first()
        if stored is None:
            raise Refusal("There is no such tire in this workspace. Choose one of the store.", "tire")
        if stored.retired_on:
            raise Conflict("That tire is retired. It is not fitted again.", "tire")
        if stored.fittings.filter(removed_on=None).exists():
            raise Conflict("That tire is on a wheel. Take it off there first.", "tire")
        tire = stored
    try:
        off = _off(rig, data.wheel, data.fitted_on, "replaced")
    except Refusal as no:
        raise Refusal(no.message, "fitted_on") from None
    tread_mm = round(data.tread.value * 1000, 3) if data.tread else None
    return Fit(tire, _fitting(actor, tire, rig, data.wheel, data.fitted_on, data.odometer, tread_mm), off)


@transaction.atomic
def fit(actor: Actor, rig: Rig, data: FitIn) -> None:
    """Fits a new tire or one of the store to a wheel; what was there goes to the store.

    Raises Conflict where somebody fitted one there, or fitted this one elsewhere, at this moment.
    """
    actor.must(May.FIT)
    planned = plan(actor, rig, data)
    if planned.off is not None:
        _end(planned.off)
    if planned.tire.pk is None:
        planned.tire.save()
    _save(planned.fitting)


@transaction.atomic
def fit_all(actor: Actor, rig: Rig, data: FitAllIn) -> None:
    """Fits tires as the rig is described at every wheel where none is entered. Raises Conflict where one is at each."""
    actor.must(May.FIT)
    there = {f.wheel for f in rigs.fitted_on(rig)}
    empty = [w.code for w in rigs.wheels_of(rig) if w.code not in there and described(rig, w).tire_size]
    if not empty:
        raise Conflict("A tire is entered at every wheel that is described.", "wheel")
    for code in empty:
        fit(actor, rig, FitIn(wheel=code, new=NewTireIn(), **{n: getattr(data, n) for n in FitAllIn.model_fields}))


@transaction.atomic
def mark(actor: Actor, tire_id: int, data: TireMarksIn) -> Tire:
    """Says what tells a tire apart, and how its tread is. Raises Refusal for a date code that is none."""
    actor.must(May.FIT)
    tire = tires(actor).get(pk=tire_id)
    if data.date_code:
        core.read_date_code(data.date_code, clock.today())
    for name in TireMarksIn.model_fields:
        setattr(tire, name, getattr(data, name))
    tire.save()
    return tire


def save_all(actor: Actor, fits: list[Fit]) -> None:
    """Saves many, in their order, in few words to the database; their rigs are saved by now."""
    bulk_create_with_history([f.tire for f in fits if f.tire.pk is None], Tire, default_user=actor.person)
    off = [f.off for f in fits if f.off is not None and f.off.pk is not None]
    Fitting.objects.bulk_update(off, ["removed_on", "removed_reason"])
    for f in fits:
        f.fitting.tire, f.fitting.rig = f.tire, f.fitting.rig
    Fitting.objects.bulk_create(f.fitting for f in fits)
    rigs.seen_at_all([(f.fitting.rig, f.fitting.odometer_km, f.fitting.fitted_on) for f in fits])


_MEANWHILE = "Somebody changed what is on {} at this moment. Look again."


def _end(off: Fitting) -> None:
    """Saves that a tire came off. Raises Conflict where it is off already."""
    still = Fitting.objects.filter(pk=off.pk, removed_on=None)
    if not still.update(removed_on=off.removed_on, removed_reason=off.removed_reason):
        raise Conflict(_MEANWHILE.format(off.wheel), "wheel")


def _save(fitting: Fitting) -> None:
    # The tire may have been saved since it was named here.
    fitting.tire_id = fitting.tire.pk
    try:
        with transaction.atomic():
            fitting.save()
    except IntegrityError:
        raise Conflict(_MEANWHILE.format(fitting.wheel), "wheel") from None
    rigs.seen_at(fitting.rig, fitting.odometer_km, fitting.fitted_on)


def _fitting(
    actor: Actor, tire: Tire, rig: Rig, wheel: str, on: dt.date, odometer: Entry | None, tread_mm: float | None
) -> Fitting:
    """A tire at a wheel, not saved, and what `fitted_on` has at hand of the rig. Raises Refusal for its odometer."""
    km = odometer.value if odometer else None
    rigs.check_odometer(rig, km, on)
    made = Fitting(
        tire=tire, rig=rig, wheel=wheel, fitted_on=on, odometer_km=km, tread_mm=tread_mm,
        by=actor.person,
    )  # fmt: skip
    rig.on_now = [*rigs.fitted_on(rig), made]  # type: ignore[attr-defined]
    return made


@transaction.atomic
def move(actor: Actor, rig: Rig, data: MoveIn) -> None:
    """Moves tires from wheel to wheel in one job. Whatever stood at a target and is not moved goes to the store."""
    actor.must(May.FIT)
    _past(data.moved_on, "moved_on")
    on = {f.wheel: f for f in rigs.fitted_on(rig)}
    if len(set(data.moves.values())) < len(data.moves):
        raise Refusal("Two tires would stand at one wheel. Give each its own.", "moves")
    for source, target in data.moves.items():
        _wheel(rig, source, "moves")
        _wheel(rig, target, "moves")
        if source not in on:
            raise Refusal(f"No tire is entered at {source}. Fit it first.", "moves")
    lifted = {source: on[source].tire for source in data.moves}
    for wheel in {*data.moves, *data.moves.values()}:
        try:
            why = f"moved to {data.moves[wheel]}" if wheel in data.moves else "made room"
            if off := _off(rig, wheel, data.moved_on, why):
                _end(off)
        except Refusal as no:
            raise Refusal(no.message, "moved_on") from None
    for source, target in data.moves.items():
        _save(_fitting(actor, lifted[source], rig, target, data.moved_on, data.odometer, None))


@transaction.atomic
def remove(actor: Actor, tire_id: int, data: RemoveIn) -> Tire:
    """Takes a tire off, or retires it for good; retired, it stays readable."""
    actor.must(May.FIT)
    tire = tires(actor).get(pk=tire_id)
    _past(data.removed_on, "removed_on")
    current = tire.fittings.filter(removed_on=None).select_related("rig").first()
    if current is None and not data.retire:
        raise Conflict("That tire is on no wheel.", "removed_on")
    if current is not None:
        why = data.reason or ("retired" if data.retire else "removed")
        if off := _off(current.rig, current.wheel, data.removed_on, why):
            _end(off)
    if data.retire:
        tire.retired_on, tire.retired_reason = data.removed_on, data.reason
        tire.save()
    return tire


@transaction.atomic
def bring_back(actor: Actor, tire_id: int) -> Tire:
    """The undo of retiring."""
    actor.must(May.FIT)
    tire = tires(actor).get(pk=tire_id)
    tire.retired_on, tire.retired_reason = None, ""
    tire.save()
    return tire


@transaction.atomic
def torque(actor: Actor, rig: Rig, data: TorqueIn) -> None:
    """Wheel nuts torqued again."""
    actor.must(May.FIT)
    _past(data.done_on, "done_on")
    rigs.check_odometer(rig, data.odometer.value, data.done_on)
    rigs.seen_at(rig, data.odometer.value, data.done_on)
    Torque.objects.create(rig=rig, done_on=data.done_on, odometer_km=data.odometer.value, by=actor.person)


@transaction.atomic
def correct_odometer(actor: Actor, rig: Rig, data: OdometerIn) -> None:
    """Takes what the odometer shows today for true, though it was told further before: mistyped, or exchanged."""
    actor.must(May.FIT)
    rigs.seen_at(rig, data.odometer.value, clock.today())


def history(actor: Actor, tire_id: int) -> list[FittingOut]:
    """Where a tire was, newest first."""
    tire = tires(actor).get(pk=tire_id)
    rows = tire.fittings.select_related("rig", "by").order_by("-fitted_on", "-id")
    fields = ("wheel", "fitted_on", "odometer_km", "tread_mm", "removed_on", "removed_reason")
    return [
        FittingOut.model_validate(fitting)
        for fitting in [
            {f: getattr(r, f) for f in fields} | {"rig": r.rig_id, "rig_name": r.rig.name, "by": r.by.shown_name}
            for r in rows
        ]
    ]


def age_words(tire: Tire, today: dt.date, years: int) -> tuple[str, bool]:
    """How old a tire is, and whether that asks for something; without a date code nothing is said."""
    return core.age_words(core.read_date_code(tire.date_code, today), today, years) if tire.date_code else ("", False)


def _tire_out(tire: Tire, fitting: Fitting | None, today: dt.date, years: int) -> FittedTireOut:
    words, old = age_words(tire, today, years)
    fields = (
        "id",
        "date_code",
        "sensor",
        "casing",
        "one_way",
        "coarse",
        "diameter_mm",
        "retired_on",
        "retired_reason",
        *rigs.SIDEWALL_FIELDS,
    )
    return FittedTireOut.model_validate(
        {f: getattr(tire, f) for f in fields}
        | {
            "age_words": words,
            "old": old,
            "wheel": fitting.wheel if fitting else "",
            "fitted_on": fitting.fitted_on if fitting else None,
            "tread_mm": fitting.tread_mm if fitting else None,
        }
    )


def findings(rig: Rig, today: dt.date) -> tuple[core.Finding, ...]:
    """What speaks against the tires that are on a rig; uses what `rigs` has fetched."""
    return core.findings(rigs.rig_of(rig), rigs.wheels_of(rig), _on_rig(rig), today, replace_years(rig))


def ages_change(rig: Rig, today: dt.date) -> dt.date | None:
    """The first day after today on which their age alone makes `findings` others; None: never."""
    return core.ages_change(_on_rig(rig), today, replace_years(rig))


def _on_rig(rig: Rig) -> tuple[core.Fitted, ...]:
    return tuple(
        core.Fitted(
            f.wheel, core.as_marked(f.tire.tire_size), f.tire.tire_make, f.tire.load_range, f.tire.date_code, f.tire.diameter_mm
        )
        for f in rigs.fitted_on(rig)
    )  # fmt: skip


def with_wheels_off(rows: QuerySet[Rig]) -> QuerySet[Rig]:
    """Rigs with the odometer at which a wheel was last off (`off_km`) and last torqued (`torqued_km`) at hand."""
    off = Fitting.objects.filter(rig=OuterRef("pk")).exclude(odometer_km=None).order_by("-fitted_on", "-id")
    torqued = Torque.objects.filter(rig=OuterRef("pk"), done_on__gte=OuterRef("off_on")).order_by("-done_on", "-id")
    return rows.annotate(
        off_km=Subquery(off.values("odometer_km")[:1]), off_on=Subquery(off.values("fitted_on")[:1])
    ).annotate(torqued_km=Subquery(torqued.values("odometer_km")[:1]))


def fitted_running(rig: Rig) -> list[Fitting]:
    """What is on a rig's axles; uses what `rigs` has fetched."""
    return [f for f in rigs.fitted_on(rig) if core.axle_at(f.wheel) is not None]


def stood_km(rig: Rig) -> float | None:
    """How far a rig ran since the longest standing of its running tires came to its wheel; None: that is not known."""
    return refine.stood_km(rig.odometer_km, (f.odometer_km for f in fitted_running(rig)))


def coarse(rig: Rig) -> bool | None:
    """Whether the treads of a rig count as coarse."""
    return refine.coarse_of(f.tire.coarse for f in fitted_running(rig))


def retorque(rig: Rig) -> Phrase | None:
    """The reminder after a wheel was off, where one is due, of a rig that came `with_wheels_off`."""
    return core.retorque_words(rig.off_km, rig.torqued_km, rig.odometer_km)  # type: ignore[attr-defined]


def present(actor: Actor, rig_id: int) -> TiresOut:
    """The tires of a rig: on it, in the store for it, and what there is to say of them."""
    rig = with_wheels_off(rigs.rigs(actor)).get(pk=rig_id)
    today = clock.today()
    years = replace_years(rig)
    order = {w.code: i for i, w in enumerate(rigs.wheels_of(rig))}
    fitted = sorted(rigs.fitted_on(rig), key=lambda f: order.get(f.wheel, 99))
    sizes = {core.as_marked(a.tire_size).name for a in (*rig.axles.all(), *rig.spares.all())}
    loose = tires(actor).filter(retired_on=None).exclude(fittings__removed_on=None, fittings__isnull=False)
    store = [t for t in loose if core.as_marked(t.tire_size).name in sizes]
    return TiresOut.model_validate(
        {
            "fitted": [_tire_out(f.tire, f, today, years) for f in fitted],
            "store": [_tire_out(t, None, today, years) for t in store],
            "findings": findings(rig, today),
            "retorque": retorque(rig),
            "odometer_km": rig.odometer_km,
        }
    )
