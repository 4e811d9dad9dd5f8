import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache
from typing import Any, NamedTuple

from django.db import transaction
from django.db.models import F, Prefetch, Q, QuerySet, Subquery
from django.db.models.functions import Coalesce
from simple_history.utils import bulk_create_with_history

from ballast.core import rigs as core
from ballast.core import units
from ballast.core.refusal import Refusal, Refusals
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.edge.ready import Ready, hang
from ballast.server.edge.versions import must_match, shown, version_of
from ballast.server.rigs.models import Axle, Fitting, Rig, Sidewall, Spare, TireSpec
from ballast.server.rigs.schemas import (
    AxleDraft,
    AxleIn,
    AxleOut,
    CautionOut,
    NewTireIn,
    RigDraft,
    RigIn,
    RigOut,
    SidewallIn,
    SizeRead,
    TireIn,
    VehicleOut,
    WheelOut,
)

_MARKS = ("load_index_single", "load_index_dual", "max_load_single_kg", "max_load_dual_kg", "sidewall_max_kpa")
_WHEEL = ("wheel_max_kpa", "wheel_max_load_kg", "rim_width_in", "rim_low_in", "rim_high_in")
SIDEWALL_FIELDS = tuple(f.name for f in Sidewall._meta.get_fields())
_TIRE_FIELDS = tuple(f.name for f in TireSpec._meta.get_fields())
_RIG_FIELDS = (
    "gvwr_kg", "gcwr_kg", "hitch_max_kg", "cargo_kg", "wheelbase_m", "hitch_m", "coupler_m", "top_speed_kmh", "replace_years",
)  # fmt: skip
# Wheels of the vehicles behind the first carry a letter in front of their code.
PREFIXES = ("", "T", "U", "V", "W")


def tire_of(row: Sidewall, placard_kpa: float | None = None) -> core.Tire:
    """The rules' view of a tire, the load index also from its size marking; of one that cannot be read as it was entered."""
    size = core.as_marked(row.tire_size)
    marks = {name: getattr(row, name) for name in _MARKS}
    for name in ("load_index_single", "load_index_dual"):
        if marks[name] is None:
            marks[name] = getattr(size, name)
    on_wheel = {name: getattr(row, name) for name in _WHEEL} if isinstance(row, TireSpec) else {}
    return core.Tire(size=size, load_range=row.load_range or size.range, placard_kpa=placard_kpa, **marks, **on_wheel)


def fitted_on(rig: Rig) -> list[Fitting]:
    """What is on a rig now; uses what `rigs` has fetched."""
    fitted: list[Fitting] | None = getattr(rig, "on_now", None)
    return fitted if fitted is not None else list(rig.fittings.filter(removed_on=None).select_related("tire"))


def axle_of(row: Axle, fitted: list[Sidewall]) -> core.Axle:
    described = tire_of(row, row.placard_kpa)
    tire = core.weakest(described, tuple(tire_of(t) for t in fitted), len(fitted) >= row.wheels)
    return core.Axle(
        row.number, row.position_m, row.track_m, row.wheels, row.gawr_kg, tire, row.role, row.lift, row.share,  # type: ignore[arg-type]
        core.as_marked(row.placard_size).name if row.placard_size else "",
    )  # fmt: skip


def rig_of(rig: Rig) -> core.Rig:
    """The rules' view of a stored rig; uses prefetched axles and fittings."""
    on_axle: dict[int, list[Sidewall]] = {}
    for fitting in fitted_on(rig):
        number = core.axle_at(fitting.wheel)
        if number is not None:
            on_axle.setdefault(number, []).append(fitting.tire)
    axles = tuple(axle_of(a, on_axle.get(a.number, [])) for a in rig.axles.all())
    ratings = {f: getattr(rig, f) for f in _RIG_FIELDS if f not in ("cargo_kg", "replace_years")}
    return core.Rig(rig.kind, axles, **ratings)


def wheels_of(rig: Rig) -> tuple[core.Wheel, ...]:
    """Every wheel in the order of a walk; which tires are on them makes no difference."""
    axles = tuple(axle_of(a, []) for a in rig.axles.all())
    return core.walking_order(axles, rig.kind, len(rig.spares.all()))


ON_NOW = Prefetch("fittings", Fitting.objects.filter(removed_on=None).select_related("tire"), to_attr="on_now")


def rigs(actor: Actor) -> QuerySet[Rig]:
    """The rigs that the actor may see, with axles, spares and fitted tires at hand."""
    actor.must(May.READ)
    return Rig.objects.of(actor.workspace).prefetch_related("axles", "spares", ON_NOW)


_AXLES = Ready[Axle](lambda rigs: Axle.objects.filter(rig__in=rigs))
_SPARES = Ready[Spare](lambda rigs: Spare.objects.filter(rig__in=rigs))
_PLACES = Ready[Fitting](lambda rigs: Fitting.objects.filter(rig__in=rigs, removed_on=None))
_FITTED = Ready[Fitting](lambda rigs: Fitting.objects.filter(rig__in=rigs, removed_on=None).select_related("tire"))


@cache
def _one(also: tuple[str, ...]) -> Ready[Rig]:
    return Ready(lambda workspace, rig: Rig.objects.of(workspace).filter(pk=rig).select_related(*also))


def _hitched(workspace: int, rig: int) -> QuerySet[Rig]:
    own = Rig.objects.of(workspace)
    first = Subquery(own.filter(pk=rig).values(first=Coalesce(F("head_id"), F("pk")))[:1])
    return own.filter(Q(pk=first) | Q(head=first))


@cache
def _combination(also: tuple[str, ...]) -> Ready[Rig]:
    return Ready(lambda workspace, rig: _hitched(workspace, rig).select_related(*also))


def _with_wheels(rows: list[Rig], spares: bool = True, fitted: Ready[Fitting] | None = _FITTED) -> list[Rig]:
    keys = [r.pk for r in rows]
    hang(rows, "axles", _AXLES(keys), "rig")
    if spares:
        hang(rows, "spares", _SPARES(keys), "rig")
    if fitted is not None:
        there = fitted(keys)
        for row in rows:
            row.on_now = [f for f in there if f.rig_id == row.pk]  # type: ignore[attr-defined]
    return rows


def hang_wheels(rows: list[Rig]) -> None:
    """Hangs axles and fitted tires on rigs that another room read."""
    _with_wheels(rows, spares=False)


def _the_one(actor: Actor, rig_id: int, also: tuple[str, ...]) -> list[Rig]:
    actor.must(May.READ)
    rows = _one(also)(actor.workspace.pk, rig_id)
    if not rows:
        raise Rig.DoesNotExist
    return rows


def rig(actor: Actor, rig_id: int, also: tuple[str, ...] = (), on_axles: bool = False) -> Rig:
    """One rig of the workspace; `also` and `on_axles` as for `train`. Raises DoesNotExist for any other."""
    rows = _the_one(actor, rig_id, also)
    return _with_wheels(rows, spares=not on_axles, fitted=None if on_axles else _FITTED)[0]


def rig_on_axles(actor: Actor, rig_id: int) -> Rig:
    """One rig with its axles and tires alone at hand: all that a work call asks of it."""
    return _with_wheels(_the_one(actor, rig_id, ()), spares=False)[0]


def rig_on_wheels(actor: Actor, rig_id: int, also: tuple[str, ...] = ()) -> Rig:
    """One rig with its wheels at hand and the numbers of the tires on them, the tires themselves not; `also` as for `train`."""
    return _with_wheels(_the_one(actor, rig_id, also), fitted=_PLACES)[0]


def train(actor: Actor, rig_id: int, also: tuple[str, ...] = (), on_axles: bool = False) -> list[Rig]:
    """The combination that a rig is part of, from the front; alone, the rig itself.

    `also` names rows of other rooms to fetch along; `on_axles` leaves spares and fitted tires out. Raises DoesNotExist.
    """
    actor.must(May.READ)
    ordered = sorted(_combination(also)(actor.workspace.pk, rig_id), key=lambda r: r.place)
    if not any(r.pk == rig_id for r in ordered):
        raise Rig.DoesNotExist
    return _with_wheels(ordered, spares=not on_axles, fitted=None if on_axles else _FITTED)


class Count(NamedTuple):
    """How often anything changed that is said of a rig, as the database counts it (`yard.marks`), and when that was worked out last:
    in a database that was restored the number alone may stand for another state."""

    rig: int
    changes: int | None
    known_at: dt.datetime | None


_COUNTS = Ready[tuple[int, int | None, dt.datetime | None]](
    lambda workspace, rig: (
        _hitched(workspace, rig).order_by("pk").values_list("pk", "standing__marks", "standing__made_at")
    )
)


def counts_of_changes(actor: Actor, rig_id: int) -> tuple[Count, ...]:
    """Of each rig of the combination that a rig is part of, in the order of their numbers."""
    return tuple(Count(*row) for row in _COUNTS(actor.workspace.pk, rig_id))


def check_odometer(row: Rig, odometer_km: float | None, on: dt.date) -> None:
    """Raises Refusal for an odometer that runs backwards."""
    if odometer_km is not None:
        core.check_odometer(odometer_km, on, row.odometer_km, row.odometer_on)


def seen_at(row: Rig, odometer_km: float | None, on: dt.date) -> None:
    """Notes an odometer reading that some room was told; the newest counts."""
    seen_at_all([(row, odometer_km, on)])


def seen_at_all(entries: list[tuple[Rig, float | None, dt.date]]) -> None:
    """The same for many, in one word to the database."""
    changed = {}
    for row, odometer_km, on in entries:
        if odometer_km is not None and (row.odometer_on is None or on >= row.odometer_on):
            row.odometer_km, row.odometer_on = odometer_km, on
            changed[row.pk] = row
    if changed:
        Rig.objects.bulk_update(changed.values(), ["odometer_km", "odometer_on"])


@dataclass(frozen=True)
class Draft:
    """A rig as typed, read by the rules."""

    rig: core.Rig
    sizes: list[core.Size]
    spares: list[core.Size]


def _value(entry: Any) -> Any:
    return getattr(entry, "value", entry)


def sidewall_fields(given: SidewallIn, size: core.Size) -> dict[str, Any]:
    """A tire's columns from what was typed, its marking filling in what was left empty."""
    fields = {name: _value(getattr(given, name)) for name in SIDEWALL_FIELDS}
    for name in ("load_index_single", "load_index_dual"):
        if fields[name] is None:
            fields[name] = getattr(size, name)
    fields["tire_size"] = size.text
    fields["load_range"] = (fields["load_range"] or size.range).upper()
    return fields


def _tire_fields(given: TireIn, size: core.Size) -> dict[str, Any]:
    return sidewall_fields(given, size) | {name: _value(getattr(given, name)) for name in _WHEEL}


def _wheels(given: AxleIn, field: str, wrong: list[Refusal]) -> int:
    wheels = given.wheels or (4 if given.dual else 2)
    if given.dual and wheels != 4:
        wrong.append(
            Refusal(f"A dual axle has four wheels, two on each end; here it is {wheels}. Set four, or not dual.", field)
        )
    if not given.dual and wheels == 4:
        wrong.append(Refusal("Four wheels on one axle are duals. Say dual, or set two.", field))
    return wheels


def read_draft(data: RigIn, to_keep: bool = False) -> Draft:
    """Reads a rig as typed. Raises Refusals with every contradiction at once, and `to_keep` with what it cannot be kept without."""
    wrong: list[Refusal] = []
    sizes: list[core.Size] = []
    axles: list[core.Axle] = []

    for i, given in enumerate(data.axles):
        wheels = _wheels(given, f"axles.{i}.wheels", wrong)
        # A marking that cannot be read refuses no rig: it is kept as typed, and said (`core.cautions`).
        size = core.as_marked(given.tire_size)
        sizes.append(size)
        fields = _tire_fields(given, size)
        marked = {name: fields[name] for name in (*_MARKS, *_WHEEL)}
        tire = core.Tire(
            size=size, load_range=fields["load_range"], placard_kpa=_value(given.placard_kpa), **marked
        )  # fmt: skip
        axles.append(
            core.Axle(
                i + 1, _value(given.position_m) if i else 0.0, _value(given.track_m), wheels, _value(given.gawr_kg), tire, given.role,
                given.lift, given.share, core.as_marked(given.placard_size).name if given.placard_size else "",
            )
        )  # fmt: skip
        light, full = given.placard_light_kpa, given.placard_kpa
        if light and full and light.value > full.value:
            wrong.append(
                Refusal(
                    "The placard asks for more with a full load, not less. Are the two swapped?",
                    f"axles.{i}.placard_light_kpa",
                )
            )
    spares = [core.as_marked(spare.tire_size) for spare in data.spares]
    for i, spare in enumerate(data.spares):
        if spare.required_kpa and spare.sidewall_max_kpa and spare.required_kpa.value > spare.sidewall_max_kpa.value:
            wrong.append(
                Refusal("The spare's pressure is above its sidewall's maximum. Check both.", f"spares.{i}.required_kpa")
            )
    ratings = {f: _value(getattr(data, f)) for f in _RIG_FIELDS if f not in ("cargo_kg", "replace_years")}
    typed = core.Rig(data.kind, tuple(axles), **ratings)
    wrong += core.contradictions(typed)
    if to_keep:
        wrong += core.must_have(typed, data.name)
    if wrong:
        raise Refusals(wrong)
    return Draft(typed, sizes, spares)


Parts = list[dict[str, Any]]


def build(
    actor: Actor, data: RigIn, row: Rig, numbers: Mapping[str, Rig] | None = None
) -> tuple[Parts, Parts]:  # fmt: skip
    """Reads a rig as typed into its row, which is not saved, and gives the columns of its axles and of its spares.

    `numbers`: the rigs that are there by their fleet numbers, where many are asked about; else they are looked up.
    Raises Refusals for contradictions, Conflict for a fleet number that is taken.
    """
    draft = read_draft(data, to_keep=True)
    if data.fleet_number:
        taken = Rig.objects.of(actor.workspace).filter(fleet_number=data.fleet_number, archived=False)
        other = taken.exclude(pk=row.pk).first() if numbers is None else numbers.get(data.fleet_number)
        if other:
            raise Conflict(f"{data.fleet_number} is {other.name} already. Choose another.", "fleet_number")
    row.kind, row.name, row.fleet_number, row.note = data.kind, data.name, data.fleet_number, data.note
    row.checklist = data.checklist
    for name in _RIG_FIELDS:
        setattr(row, name, _value(getattr(data, name)))
    if row.pk and row.head_id and data.kind not in core.TRAILERS:
        raise Conflict("It is hitched as a trailer. Unhitch it before making it another kind.", "kind")
    axles = [
        _tire_fields(given, size)
        | {
            "position_m": axle.position_m,
            "track_m": axle.track_m,
            "wheels": axle.wheels,
            "role": axle.role,
            "lift": axle.lift,
            "share": axle.share,
            "gawr_kg": axle.gawr_kg,
            "placard_kpa": _value(given.placard_kpa),
            "placard_light_kpa": _value(given.placard_light_kpa),
            "placard_size": given.placard_size.upper(),
            "lamp_kpa": _value(given.lamp_kpa),
        }
        for given, size, axle in zip(data.axles, draft.sizes, draft.rig.axles, strict=True)
    ]
    spares = [
        _tire_fields(given, size) | {"required_kpa": _value(given.required_kpa)}
        for given, size in zip(data.spares, draft.spares, strict=True)
    ]
    return axles, spares


def _state(row: Rig, axles: Parts, spares: Parts) -> dict[str, object]:
    """All that a rig's form shows and writes, flat, by the names of its fields."""
    fields = {f: getattr(row, f) for f in ("kind", "name", "fleet_number", "note", "checklist", *_RIG_FIELDS)}
    for name, parts in (("axles", axles), ("spares", spares)):
        fields |= {f"{name}.{i}.{k}": v for i, part in enumerate(parts) for k, v in part.items()}
    return fields


_AXLE_STATE = (
    *_TIRE_FIELDS, "position_m", "track_m", "wheels", "role", "lift", "share", "gawr_kg", "placard_kpa",
    "placard_light_kpa", "placard_size", "lamp_kpa",
)  # fmt: skip
_SPARE_STATE = (*_TIRE_FIELDS, "required_kpa")


def state_of(row: Rig) -> dict[str, object]:
    """The same of a rig as it is stored."""
    axles = [{k: getattr(a, k) for k in _AXLE_STATE} for a in row.axles.all()]
    return _state(row, axles, [{k: getattr(s, k) for k in _SPARE_STATE} for s in row.spares.all()])


@transaction.atomic
def save_rig(actor: Actor, data: RigIn, rig_id: int | None = None) -> Rig:
    """Adds or changes a rig with its axles and spares. Raises as `build`, and Stale where somebody changed it meanwhile."""
    actor.must(May.RIGS)
    row = Rig(workspace=actor.workspace) if rig_id is None else rig(actor, rig_id)
    stored = state_of(row) if row.pk else {}
    axles, spares = build(actor, data, row)
    if row.pk:
        must_match(data.version, stored, _state(row, axles, spares), actor.person.units)
    row.save()
    _replace(Axle, row, axles)
    _replace(Spare, row, spares)
    saved = rig(actor, row.pk)
    # Tires of wheels that are no more go to the store.
    there = {w.code for w in wheels_of(saved)}
    gone = [f.pk for f in fitted_on(saved) if f.wheel not in there]
    if not gone:
        return saved
    why = "the rig has this wheel no more"
    Fitting.objects.filter(pk__in=gone).update(removed_on=clock.today(), removed_reason=why)
    return rig(actor, row.pk)


def at_hand(row: Rig, pk: int, axles: Parts, spares: Parts) -> None:
    """Gives a rig that is not saved a number for the time being, and its parts as if they had been fetched."""
    row.pk, row.on_now = pk, []  # type: ignore[attr-defined]
    row._prefetched_objects_cache = {}  # type: ignore[attr-defined]
    for name, model, parts in (("axles", Axle, axles), ("spares", Spare, spares)):
        rows = model.objects.none()
        rows._result_cache = [model(number=i, **fields) for i, fields in enumerate(parts, 1)]  # type: ignore[assignment]
        row._prefetched_objects_cache[name] = rows  # type: ignore[attr-defined]


def save_all(actor: Actor, made: list[Rig]) -> None:
    """Saves rigs that are `at_hand`, each with its parts, in few words to the database."""
    parts = [(Axle, row.axles.all(), row) for row in made] + [(Spare, row.spares.all(), row) for row in made]
    for row in made:
        row.pk = None
    bulk_create_with_history(made, Rig, default_user=actor.person)
    for model in (Axle, Spare):
        own = [(part, row) for kind, rows, row in parts if kind is model for part in rows]
        for part, row in own:
            part.rig = row
        bulk_create_with_history([part for part, _ in own], model, default_user=actor.person)


def _replace(model: Any, owner: Rig, wanted: list[dict[str, Any]]) -> None:
    """Makes an owner's numbered rows what is wanted, touching (and so logging) only what differs."""
    present = {r.number: r for r in model.objects.filter(rig=owner)}
    for number, fields in enumerate(wanted, 1):
        row = present.pop(number, None) or model(rig=owner, number=number)
        if row.pk is None or any(getattr(row, name) != value for name, value in fields.items()):
            for name, value in fields.items():
                setattr(row, name, value)
            row.save()
    for row in present.values():
        row.delete()


@transaction.atomic
def archive(actor: Actor, rig_id: int, archived: bool) -> Rig:
    """Takes a rig out of the Yard, or brings it back: the undo of the other."""
    actor.must(May.RIGS)
    row = rig(actor, rig_id)
    if not archived and row.fleet_number:
        taken = Rig.objects.of(actor.workspace).filter(fleet_number=row.fleet_number, archived=False)
        if other := taken.exclude(pk=row.pk).first():
            raise Conflict(f"{row.fleet_number} is {other.name} by now. Change one of the two first.", "fleet_number")
    if archived and len(train(actor, rig_id)) > 1:
        raise Conflict("It is hitched. Unhitch it first, then archive it.")
    row.archived = archived
    row.save()
    return row


_LABELS = {
    "gvwr_kg": "GVWR", "gcwr_kg": "GCWR", "hitch_max_kg": "hitch limit", "cargo_kg": "cargo carrying capacity",
    "hitch_m": "hitch position", "coupler_m": "coupling ahead", "top_speed_kmh": "top speed", "role": "kind of axle",
    "placard_light_kpa": "placard pressure, light load", "placard_size": "placard's size", "lamp_kpa": "lamp threshold", "wheel_max_load_kg": "wheel's rated load", "rim_width_in": "rim width",
    "gawr_kg": "GAWR", "wheelbase_m": "wheelbase", "position_m": "position", "track_m": "track",
    "tire_size": "tire size", "tire_make": "tire make", "sidewall_max_kpa": "sidewall maximum",
    "laid_up_on": "laid up on", "laid_up_until": "laid up until", "laid_up_kpa": "kept at", "laid_up_why": "why laid up",
    "wheel_max_kpa": "wheel's rated pressure", "placard_kpa": "placard pressure", "required_kpa": "required pressure",
}  # fmt: skip


def changes(actor: Actor, rig_id: int) -> list[dict[str, str]]:
    """Who changed what of a rig, newest first, a line for every field."""
    row = rig(actor, rig_id)
    system: units.System = actor.person.units
    entries: list[tuple[Any, dict[str, str]]] = []
    logs = [(Rig.history.filter(id=row.pk), "")]
    logs += [(Axle.history.filter(rig_id=row.pk), "axle"), (Spare.history.filter(rig_id=row.pk), "spare")]
    for log, what in logs:
        previous: dict[int, Any] = {}
        for record in log.select_related("history_user").order_by("history_date", "history_id"):
            thing = f"{what} {record.number}" if what else "rig"
            before = previous.get(record.id)
            previous[record.id] = record
            if before is None or record.history_type != "~":
                done = {"+": "added", "-": "removed", "~": "changed"}[record.history_type]
                lines = [(f"{thing} {done}", "", "")]
            else:
                lines = [
                    (
                        f"{thing}: {_LABELS.get(c.field, c.field.replace('_', ' '))}".removeprefix("rig: "),
                        shown(c.field, c.old, system),
                        shown(c.field, c.new, system),
                    )
                    for c in record.diff_against(before).changes
                ]
            who = record.history_user.shown_name if record.history_user else "the demo"
            for text, old, new in lines:
                entries.append(
                    (
                        record.history_date,
                        {
                            "at": record.history_date.isoformat(), "who": who, "what": text, "before": old, "after": new,
                        },
                    )
                )  # fmt: skip
    return [line for _, line in sorted(entries, key=lambda pair: pair[0], reverse=True)]


def describe_size(size: core.Size) -> str:
    """What was understood of a marking, in words."""
    if size.service == "unknown":
        return "not read: kept as typed"
    bits: list[str] = [size.service, *([size.construction] if size.construction else [])]
    for row, index in (("single", size.load_index_single), ("dual", size.load_index_dual)):
        if index is not None:
            bits.append(f"{index} is {units.both('mass', core.load_index_kg(index))} {row}")
    if size.speed:
        bits.append(f"{size.speed} is {core.SPEEDS[size.speed]} km/h")
    if size.load_range:
        bits.append(f"load range {size.load_range}")
    return ", ".join(bits)


def _entered(beside: SidewallIn | None) -> tuple[bool, bool]:
    """Whether a load, and a load range, were entered beside a marking."""
    if beside is None:
        return False, False
    rated = beside.load_index_single is not None or beside.max_load_single_kg is not None
    return rated, bool(beside.load_range)


def size_read(size: core.Size, beside: SidewallIn | None = None) -> SizeRead:
    """What was understood of a marking, why nothing was, and what it leaves open; of none nothing."""
    if not size.text:
        return SizeRead(words="", asked_for=[])
    words = core.unread(size.text) or describe_size(size)
    return SizeRead.model_validate({"words": words, "asked_for": core.asked_for(size, *_entered(beside))})


def read_marking(given: NewTireIn) -> SizeRead:
    """What a marking says in words, its date code read along."""
    read = size_read(core.as_marked(given.tire_size))
    if given.date_code:
        today = clock.today()
        words, _ = core.age_words(core.read_date_code(given.date_code, today), today)
        read.words += f"; {words}"
    return read


def draft_out(draft: Draft, data: RigIn) -> RigDraft:
    """What a rig that is being described means so far."""
    rig = draft.rig
    named = [g.name for g in core.groups(rig.axles, rig.kind) for _ in g.numbers]
    titles = core.axle_titles(rig.kind)[len(rig.axles) - 1]
    places = core.places_drawn(rig.kind, rig.axles)
    return RigDraft(
        sizes=[size_read(s, given) for s, given in zip(draft.sizes, data.axles, strict=True)],
        spares=[size_read(s, given) for s, given in zip(draft.spares, data.spares, strict=True)],
        axles=[AxleDraft(name=n, group=g, drawn=p) for n, g, p in zip(titles, named, places, strict=True)],
        enough=not core.must_have(rig, data.name),
        missing=list(core.missing(rig, tuple(_value(s.required_kpa) for s in data.spares))),
        wheels=[WheelOut.model_validate(w) for w in core.walking_order(rig.axles, rig.kind, len(data.spares))],
        cautions=[CautionOut.model_validate(c) for c in core.cautions(rig)],
    )


def axles_out(row: Rig) -> list[AxleOut]:
    typed = rig_of(row)
    named = {n: g.name for g in core.groups(typed.axles, row.kind) for n in g.numbers}
    drawn = core.places_drawn(row.kind, typed.axles)
    fields = (
        "number", "position_m", "track_m", "wheels", "role", "lift", "share", "gawr_kg", "placard_kpa", "placard_light_kpa",
        "placard_size", "lamp_kpa", *_TIRE_FIELDS,
    )  # fmt: skip
    return [
        AxleOut.model_validate(
            {f: getattr(stored, f) for f in fields}
            | {
                "name": typed.axle_name(axle.number),
                "group": named[axle.number],
                "drawn": place,
                "tire_max_kg": axle.tire.max_kg(axle.row, row.kind) if axle.tire else None,
                "sidewall_words": describe_size(core.as_marked(stored.tire_size)),
                "unlike": typed.unlike_on(axle),
            }
        )
        for stored, axle, place in zip(row.axles.all(), typed.axles, drawn, strict=True)
    ]


def present(row: Rig) -> RigOut:
    """A stored rig with what follows from it."""
    typed = rig_of(row)
    fields = ("id", "kind", "name", "fleet_number", "note", "archived", *_RIG_FIELDS)
    fields_out = {f: getattr(row, f) for f in fields} | {
        "version": version_of(state_of(row)),
        "kind_name": row.get_kind_display(),
        "checklist": row.checklist or core.ready_to_roll(row.kind),
        "light": typed.light,
        "trailer": row.kind in core.TRAILERS,
        "pulled": typed.pulled,
        "head": row.head_id,
        "odometer_km": row.odometer_km,
        "axles": axles_out(row),
        "spares": list(row.spares.all()),
        "wheels": wheels_of(row),
        "cautions": core.cautions(typed),
    }
    return RigOut.model_validate(fields_out)


def vehicle_out(row: Rig) -> VehicleOut:
    """A vehicle as the plan of its combination draws it."""
    fields = ("id", "name", "fleet_number", "kind", "coupler_m", "hitch_m")
    fields_out = {f: getattr(row, f) for f in fields} | {
        "trailer": row.kind in core.TRAILERS,
        "pulled": row.kind in core.PULLED,
        "axles": axles_out(row),
        "together": list(core.printed_together(rig_of(row).axles, row.kind)),
        "wheels": wheels_in_train(row),
    }
    return VehicleOut.model_validate(fields_out)


def wheels_in_train(row: Rig) -> list[core.Wheel]:
    """A vehicle's wheels as its combination names them: “Perigee, axle 1 left · T1L”."""
    if not row.place:
        return list(wheels_of(row))
    prefix = PREFIXES[row.place]
    return [
        replace(w, code=f"{prefix}{w.code}", name=f"{row.name}, {w.name[0].lower()}{w.name[1:]}")
        for w in wheels_of(row)
    ]
