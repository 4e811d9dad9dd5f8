from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import QuerySet

from ballast.core import rigs as core
from ballast.core import units
from ballast.core.refusal import Refusal, Refusals
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.problems import Conflict
from ballast.server.rigs.models import Axle, Rig, Spare, TireSpec
from ballast.server.rigs.schemas import AxleIn, RigIn, TireIn

# The marks that the rules of a tire take; what else stands on it is only told.
_RULED = (
    "load_index_single", "load_index_dual", "max_load_single_kg", "max_load_dual_kg", "sidewall_max_kpa", "wheel_max_kpa",
)  # fmt: skip
_TIRE_FIELDS = tuple(f.name for f in TireSpec._meta.get_fields())


def tire_of(row: TireSpec, placard_kpa: float | None = None) -> core.Tire:
    size = core.read_size(row.tire_size)
    return core.Tire(
        size=size,
        load_index_single=row.load_index_single if row.load_index_single is not None else size.load_index_single,
        load_index_dual=row.load_index_dual if row.load_index_dual is not None else size.load_index_dual,
        max_load_single_kg=row.max_load_single_kg,
        max_load_dual_kg=row.max_load_dual_kg,
        sidewall_max_kpa=row.sidewall_max_kpa,
        wheel_max_kpa=row.wheel_max_kpa,
        placard_kpa=placard_kpa,
    )


def axle_of(row: Axle) -> core.Axle:
    return core.Axle(row.number, row.position_m, row.track_m, row.wheels, row.gawr_kg, tire_of(row, row.placard_kpa))


def rig_of(rig: Rig) -> core.Rig:
    """The rules' view of a stored rig; uses prefetched axles."""
    return core.Rig(rig.kind, tuple(axle_of(a) for a in rig.axles.all()), rig.gvwr_kg, rig.wheelbase_m)


def wheels_of(rig: Rig) -> tuple[core.Wheel, ...]:
    return core.walking_order(rig_of(rig).axles, rig.kind, len(rig.spares.all()))


def rigs(actor: Actor) -> QuerySet[Rig]:
    """The rigs that the actor may see, with axles and spares at hand."""
    actor.must(May.READ)
    return Rig.objects.of(actor.workspace).prefetch_related("axles", "spares")


def rig(actor: Actor, rig_id: int) -> Rig:
    """One rig of the workspace. Raises DoesNotExist for any other."""
    return rigs(actor).get(pk=rig_id)


def rig_on_axles(actor: Actor, rig_id: int) -> Rig:
    """One rig with its axles alone at hand: all that a work call asks of it."""
    return rigs(actor).prefetch_related(None).prefetch_related("axles").get(pk=rig_id)


@dataclass(frozen=True)
class Draft:
    """A rig as typed, read by the rules."""

    rig: core.Rig
    sizes: list[core.Size]
    spares: list[core.Size]


def _value(entry: Any) -> Any:
    return getattr(entry, "value", entry)


def _tire_fields(given: TireIn, size: core.Size) -> dict[str, Any]:
    fields = {name: _value(getattr(given, name)) for name in _TIRE_FIELDS}
    for name in ("load_index_single", "load_index_dual"):
        if fields[name] is None:
            fields[name] = getattr(size, name)
    fields["tire_size"] = size.text
    fields["load_range"] = fields["load_range"] or size.load_range or ""
    return fields


def _wheels(given: AxleIn, field: str, wrong: list[Refusal]) -> int:
    wheels = given.wheels or (4 if given.dual else 2)
    if given.dual and wheels != 4:
        wrong.append(
            Refusal(f"A dual axle has four wheels, two on each end; here it is {wheels}. Set four, or not dual.", field)
        )
    if not given.dual and wheels == 4:
        wrong.append(Refusal("Four wheels on one axle are duals. Say dual, or set two.", field))
    return wheels


def read_draft(data: RigIn) -> Draft:
    """Reads a rig as typed. Raises Refusals with every contradiction at once."""
    wrong: list[Refusal] = []
    sizes: list[core.Size] = []
    axles: list[core.Axle] = []

    def size_of(given: TireIn, field: str) -> core.Size | None:
        try:
            return core.read_size(given.tire_size)
        except Refusal as no:
            wrong.append(no.within(field))
            return None

    for i, given in enumerate(data.axles):
        wheels = _wheels(given, f"axles.{i}.wheels", wrong)
        size = size_of(given, f"axles.{i}")
        if size is None:
            continue
        sizes.append(size)
        fields = _tire_fields(given, size)
        marked = {name: fields[name] for name in _RULED}
        tire = core.Tire(size=size, placard_kpa=_value(given.placard_kpa), **marked)
        axles.append(core.Axle(i + 1, given.position_m.value, given.track_m.value, wheels, _value(given.gawr_kg), tire))
    spares = [size for i, spare in enumerate(data.spares) if (size := size_of(spare, f"spares.{i}"))]
    for i, spare in enumerate(data.spares):
        if spare.required_kpa and spare.sidewall_max_kpa and spare.required_kpa.value > spare.sidewall_max_kpa.value:
            wrong.append(
                Refusal("The spare's pressure is above its sidewall's maximum. Check both.", f"spares.{i}.required_kpa")
            )
    typed = core.Rig(data.kind, tuple(axles), _value(data.gvwr_kg), _value(data.wheelbase_m))
    wrong += core.contradictions(typed) if len(axles) == len(data.axles) else []
    if wrong:
        raise Refusals(wrong)
    return Draft(typed, sizes, spares)


@transaction.atomic
def save_rig(actor: Actor, data: RigIn, rig_id: int | None = None) -> Rig:
    """Adds or changes a rig with its axles and spares.

    Raises Refusals for contradictions, Conflict for a fleet number that is taken.
    """
    actor.must(May.RIGS)
    row = Rig(workspace=actor.workspace) if rig_id is None else rig(actor, rig_id)
    draft = read_draft(data)
    if data.fleet_number:
        taken = Rig.objects.of(actor.workspace).filter(fleet_number=data.fleet_number, archived=False)
        if other := taken.exclude(pk=row.pk).first():
            raise Conflict(f"{data.fleet_number} is {other.name} already. Choose another.", "fleet_number")
    row.kind, row.name, row.fleet_number, row.note = data.kind, data.name, data.fleet_number, data.note
    row.gvwr_kg, row.wheelbase_m = draft.rig.gvwr_kg, draft.rig.wheelbase_m
    row.save()
    axles = [
        _tire_fields(given, size)
        | {
            "position_m": axle.position_m,
            "track_m": axle.track_m,
            "wheels": axle.wheels,
            "gawr_kg": axle.gawr_kg,
            "placard_kpa": _value(given.placard_kpa),
        }
        for given, size, axle in zip(data.axles, draft.sizes, draft.rig.axles, strict=True)
    ]
    spares = [
        _tire_fields(given, size) | {"required_kpa": _value(given.required_kpa)}
        for given, size in zip(data.spares, draft.spares, strict=True)
    ]
    _replace(Axle, row, axles)
    _replace(Spare, row, spares)
    return rig(actor, row.pk)


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
    row.archived = archived
    row.save()
    return row


_KIND_BY_SUFFIX: dict[str, units.Kind] = {"kg": "mass", "kpa": "pressure", "m": "length"}


def _shown(name: str, value: Any, system: units.System) -> str:
    if value is None or value == "":
        return "not known"
    if isinstance(value, bool):
        return "yes" if value else "no"
    kind = _KIND_BY_SUFFIX.get(name.rsplit("_", 1)[-1])
    return units.show(kind, value, system) if kind and isinstance(value, float) else str(value)


_LABELS = {
    "gvwr_kg": "GVWR", "gawr_kg": "GAWR", "wheelbase_m": "wheelbase", "position_m": "position", "track_m": "track",
    "tire_size": "tire size", "tire_make": "tire make", "sidewall_max_kpa": "sidewall maximum",
    "wheel_max_kpa": "wheel's rated pressure", "placard_kpa": "placard pressure", "required_kpa": "required pressure",
}  # fmt: skip


def changes(actor: Actor, rig_id: int) -> list[dict[str, str]]:
    """Who changed what of a rig, newest first, a line for every field."""
    row = rig(actor, rig_id)
    system: units.System = actor.person.units  # type: ignore[assignment]
    found: list[tuple[Any, dict[str, str]]] = []
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
                        _shown(c.field, c.old, system),
                        _shown(c.field, c.new, system),
                    )
                    for c in record.diff_against(before).changes
                ]
            who = record.history_user.shown_name if record.history_user else "the demo"
            for text, old, new in lines:
                found.append(
                    (
                        record.history_date,
                        {
                            "at": record.history_date.isoformat(), "who": who, "what": text, "before": old, "after": new,
                        },
                    )
                )  # fmt: skip
    return [line for _, line in sorted(found, key=lambda pair: pair[0], reverse=True)]


def describe_size(size: core.Size) -> str:
    """What was understood of a marking, in words."""
    bits: list[str] = [size.service, *([size.construction] if size.construction else [])]
    for row, index in (("single", size.load_index_single), ("dual", size.load_index_dual)):
        if index is not None:
            bits.append(f"{index} is {units.both('mass', core.load_index_kg(index))} {row}")
    if size.speed:
        bits.append(f"{size.speed} is {core.SPEEDS[size.speed]} km/h")
    if size.load_range:
        bits.append(f"load range {size.load_range}")
    return ", ".join(bits)


def present(row: Rig) -> dict[str, Any]:
    """A stored rig with what follows from it."""
    typed = rig_of(row)
    axles = []
    for stored, axle in zip(row.axles.all(), typed.axles, strict=True):
        assert axle.tire is not None  # every stored axle has a size
        own = {f: getattr(stored, f) for f in ("number", "position_m", "track_m", "wheels", "gawr_kg", "placard_kpa")}
        own |= {f: getattr(stored, f) for f in _TIRE_FIELDS}
        axles.append(own | {"name": typed.axle_name(axle.number), "tire_max_kg": axle.tire.max_kg(axle.row, row.kind)})
    fields = ("id", "kind", "name", "fleet_number", "gvwr_kg", "wheelbase_m", "note", "archived")
    return {f: getattr(row, f) for f in fields} | {
        "kind_name": core.KINDS[row.kind],
        "light": typed.light,
        "axles": axles,
        "spares": list(row.spares.all()),
        "wheels": wheels_of(row),
        "cautions": core.cautions(typed),
    }
