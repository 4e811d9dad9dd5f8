from collections.abc import Iterable
from dataclasses import dataclass

from django.db import transaction
from django.db.models import Exists, OuterRef, QuerySet

from ballast.core import tables as core
from ballast.core.refusal import Refusal
from ballast.core.rigs import Size, Tire, as_marked, load_index_kg, unlike, unread
from ballast.core.units import to_canonical
from ballast.core.working import Phrase, plain, say
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import Workspace
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.edge.ready import Ready
from ballast.server.rigs.models import Axle, Spare
from ballast.server.rigs.models import Tire as StoredTire
from ballast.server.tables.models import Table
from ballast.server.tables.samples import SAMPLES
from ballast.server.tables.schemas import GridIn, GridOut, PasteIn, SampleOut, TableIn, TableOut


def _of(workspace: Workspace | int) -> QuerySet[Table]:
    rows: QuerySet[Table] = Table.objects.of(workspace)
    return rows.annotate(replaced=Exists(Table.objects.filter(replaces=OuterRef("pk"))))


_OF_SIZES = Ready[Table](lambda workspace, sizes: _of(workspace).filter(size__in=sizes))


def tables(actor: Actor) -> QuerySet[Table]:
    """The tables of the workspace, each with whether a newer edition replaces it."""
    actor.must(May.READ)
    return _of(actor.workspace).select_related("entered_by", "checked_by")


def of_sizes(actor: Actor, sizes: Iterable[str]) -> list[Table]:
    """The tables of some sizes, each with whether a newer edition replaces it."""
    actor.must(May.READ)
    return _OF_SIZES(actor.workspace.pk, sorted(sizes))


def table(actor: Actor, table_id: int, field: str = "") -> Table:
    """One table of the workspace. With `field`, a foreign one is a Refusal there, else DoesNotExist."""
    row = tables(actor).filter(pk=table_id).first()
    if row is None and field:
        raise Refusal("There is no such table in this workspace. Choose one of its list.", field)
    if row is None:
        raise Table.DoesNotExist
    return row


def _index_kg(single: int | None, dual: int | None) -> tuple[float | None, float | None]:
    return (
        None if single is None else load_index_kg(single),
        None if dual is None else load_index_kg(dual),
    )


def table_of(row: Table) -> core.LoadTable:
    """The rules' view of a stored table."""
    return core.build(
        tuple(row.steps), tuple(row.single), tuple(row.dual) if row.dual else None, row.pressure_unit, row.mass_unit
    )


def tire_of(row: Table) -> Tire:
    """The tire that a table is for, as far as it says."""
    return Tire(as_marked(row.size), row.load_index_single, row.load_index_dual, load_range=row.load_range)


@dataclass(frozen=True)
class Understood:
    """A grid as typed, read and inspected."""

    size: Size
    indices: tuple[int | None, int | None]
    table: core.LoadTable
    curves: list[core.Curve]
    suspicions: list[core.Suspicion]
    odd: list[Phrase]


def _inspected(
    built: core.LoadTable,
    printed: tuple[float, ...],
    mass_unit: str,
    indices: tuple[int | None, int | None],
) -> tuple[list[core.Curve], list[core.Suspicion], list[Phrase]]:
    rounding = to_canonical(core.rounding_of(printed), mass_unit)
    cells, odd = core.inspect(built, _index_kg(*indices), rounding)
    return core.curves(built, rounding), cells, odd


def _marking(actor: Actor, text: str) -> Size:
    """A size as typed. One that cannot be read is taken where a tire of the workspace is marked so. Raises Refusal else."""
    size = as_marked(text)
    if size.service == "unknown":
        same_size = {"rig__workspace": actor.workspace, "tire_size": size.text}
        kept = Axle.objects.filter(**same_size).exists() or Spare.objects.filter(**same_size).exists()
        if not (kept or StoredTire.objects.of(actor.workspace).filter(tire_size=size.text).exists()):
            raise Refusal(unread(text), "tire_size")
    return size


def understand(actor: Actor, data: GridIn) -> Understood:
    """A grid as typed, read and inspected. Raises Refusal naming the cell."""
    if not data.steps:
        raise Refusal("The table is empty. Enter at least two columns as printed.", "steps")
    size = _marking(actor, data.size)
    single = data.load_index_single if data.load_index_single is not None else size.load_index_single
    dual = data.load_index_dual if data.load_index_dual is not None else size.load_index_dual
    built = core.build(
        tuple(data.steps),
        tuple(data.single),
        tuple(data.dual) if data.dual else None,
        data.pressure_unit,
        data.mass_unit,
        index_kg=_index_kg(single, dual),
    )
    printed = (*data.single, *(data.dual or ()))
    lines, cells, odd = _inspected(built, printed, data.mass_unit, (single, dual))
    if words := unread(size.text):
        odd = [say(plain(f"{words} The table is found by just these letters.")), *odd]
    return Understood(size, (single, dual), built, lines, cells, odd)


def grid_out(read: Understood) -> GridOut:
    return GridOut.model_validate(
        {
            "size": read.size.name,
            "steps_kpa": read.table.steps_kpa,
            "single_kg": read.table.single_kg,
            "dual_kg": read.table.dual_kg,
            "curves": read.curves,
            "suspicions": read.suspicions,
            "odd": read.odd,
        }
    )


def paste(data: PasteIn) -> core.Block:
    """What a pasted block says, cell by cell. Raises Refusal where it is no table of this size."""
    return core.read_block(data.text, data.line, data.pressure_unit, data.mass_unit)


@transaction.atomic
def save_table(actor: Actor, data: TableIn) -> Table:
    """Enters a table, or a new edition of one. Raises Refusal naming the cell."""
    actor.must(May.TABLES)
    read = understand(actor, data)
    old = table(actor, data.replaces, "replaces") if data.replaces is not None else None
    if old is not None and old.replaced:  # type: ignore[attr-defined]
        raise Conflict("That edition has been replaced already. Start from the newest.", "replaces")
    load_range = (data.load_range or read.size.range).upper()
    if old is not None and (why := unlike(tire_of(old), Tire(read.size, *read.indices, load_range=load_range))):
        reasons = "; ".join(words.replace("described", "here") for words in why)
        raise Refusal(f"The edition that it replaces is for {old.size}: {reasons}. Enter a table of its own.", "size")
    row = Table.objects.create(
        workspace=actor.workspace,
        size=read.size.name,
        service=read.size.service,
        line=data.line,
        source=data.source,
        page=data.page,
        speed_kmh=data.speed_kmh.value if data.speed_kmh else None,
        load_range=load_range,
        load_index_single=read.indices[0],
        load_index_dual=read.indices[1],
        pressure_unit=data.pressure_unit,
        mass_unit=data.mass_unit,
        steps=data.steps,
        single=data.single,
        dual=data.dual or None,
        replaces=old,
        entered_by=actor.person,
    )
    return table(actor, row.pk)


@transaction.atomic
def check_table(actor: Actor, table_id: int, checked: bool) -> Table:
    """Marks a table as read against its source by a second person, or takes that back.

    Raises Conflict for the person who entered it, and for samples, which have no source.
    """
    actor.must(May.TABLES)
    row = table(actor, table_id)
    if row.sample:
        raise Conflict("A sample is made up: there is no source to check it against.")
    if checked and row.entered_by_id == actor.person.pk:
        raise Conflict("You entered it. Somebody else checks it against the source.")
    row.checked_by = actor.person if checked else None
    row.checked_at = clock.now() if checked else None
    row.save(update_fields=["checked_by", "checked_at"])
    return table(actor, table_id)


@transaction.atomic
def take_sample(actor: Actor, key: str) -> Table:
    """Takes a stamped sample table into the workspace; once is enough."""
    actor.must(May.TABLES)
    sample = SAMPLES.get(key)
    if sample is None:
        raise Refusal("There is no such sample table. Choose one of the list.", "key")
    have = tables(actor).filter(sample=True, size=sample.size, line=sample.line).first()
    if have is not None:
        return have
    row = Table.objects.create(
        workspace=actor.workspace,
        size=sample.size,
        line=sample.line,
        source=sample.source,
        service=sample.service,
        load_range=sample.load_range,
        load_index_single=sample.index_single,
        load_index_dual=sample.index_dual,
        sample=True,
        pressure_unit="kPa",
        mass_unit="kg",
        steps=[float(s) for s in sample.steps_kpa],
        single=sample.loads(sample.max_single_kg),
        dual=None if sample.max_dual_kg is None else sample.loads(sample.max_dual_kg),
        entered_by=actor.person,
    )
    return table(actor, row.pk)


def samples(actor: Actor) -> list[SampleOut]:
    taken = set(tables(actor).filter(sample=True).values_list("size", "line"))
    return [
        SampleOut.model_validate(sample)
        for sample in [
            {"key": s.key, "name": s.name, "size": s.size, "taken": (s.size, s.line) in taken} for s in SAMPLES.values()
        ]
    ]


def name_of(row: Table) -> str:
    """A table as it is named where it was used: its line or size, its source and page."""
    where = f"{row.source}, {row.page}" if row.page else row.source
    return f"{row.line or row.size}: {where}"


def unchecked(row: Table) -> bool:
    """Nobody but who entered it has read it against its source. A sample is stamped instead."""
    return not row.sample and row.checked_by_id is None


def present(row: Table, actor: Actor) -> TableOut:
    built = table_of(row)
    indices = (row.load_index_single, row.load_index_dual)
    lines, cells, odd = _inspected(built, (*row.single, *(row.dual or ())), row.mass_unit, indices)
    fields = (
        "id", "size", "line", "source", "page", "speed_kmh", "service", "load_range", "load_index_single",
        "load_index_dual", "sample", "pressure_unit", "mass_unit", "steps", "single", "dual", "entered_at", "checked_at",
    )  # fmt: skip
    return TableOut.model_validate(
        {f: getattr(row, f) for f in fields}
        | {
            "steps_kpa": built.steps_kpa,
            "single_kg": built.single_kg,
            "dual_kg": built.dual_kg,
            "curves": lines,
            "suspicions": cells,
            "odd": odd,
            "replaces": row.replaces_id,
            "replaced": row.replaced,  # type: ignore[attr-defined]
            "entered_by": row.entered_by.shown_name,
            "checked_by": row.checked_by.shown_name if row.checked_by else None,
            "may_check": actor.may(May.TABLES) and not row.sample and row.entered_by_id != actor.person.pk,
        }
    )
