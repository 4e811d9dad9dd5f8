"""Earlier readings: a file looked at, brought in slices, counting only when the whole of it is there, and taken back whole."""

import datetime as dt
from collections import defaultdict
from collections.abc import Iterable, Iterator
from functools import lru_cache
from uuid import UUID

from django.db import transaction
from django.db.models import Count, Max, Min, Q, QuerySet

from ballast.core import columns
from ballast.core.gas import Air
from ballast.core.lookback import normalized, thinned
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now as air
from ballast.server.earlier.models import EarlierFile, EarlierReading, EarlierSlice
from ballast.server.earlier.schemas import (
    EarlierFileOut,
    EarlierIn,
    EarlierLook,
    EarlierRow,
    EarlierWheel,
    WorkEarlierIn,
)
from ballast.server.edge import clock
from ballast.server.edge.columns import (
    NOTHING_YET,
    SHOWN,
    ColumnsIn,
    SliceIn,
    TakenOut,
    look,
    must_be_whole,
    read_slice,
    taken,
)
from ballast.server.edge.problems import Conflict
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import Rig, shown_name
from ballast.server.weather import services as weather

# So long what was begun waits for its end; so many rows are taken away at once, that no other writer waits.
LEFT = dt.timedelta(days=1)
_AT_ONCE = 5_000
SHOWN_A_WHEEL = 300
COLUMNS = ("read_at_utc", "rig", "wheel", "as_shown_kpa", "at_20_c_kpa", "outside_c", "elevation_m", "gauge", "file")


def _files(actor: Actor) -> QuerySet[EarlierFile]:
    return EarlierFile.objects.filter(workspace=actor.workspace)


# By what a file may call a rig, in small letters: its number, and its wheels' codes by code and by name.
_Called = dict[str, tuple[int, dict[str, str]]]


def _called(workspace: int, of: int | None) -> _Called:
    """What a file may call the rigs of a workspace; by no name the one that all of it is of."""
    rows = Rig.objects.filter(workspace=workspace).prefetch_related("axles", "spares")
    called: _Called = {}
    doubtful = set()
    for rig in rows.filter(archived=False) if of is None else rows.filter(pk=of):
        wheels = {n: w.code for w in rigs.wheels_of(rig) for n in (w.code, w.name)}
        for name in {rig.name.lower(), rig.fleet_number.lower()} - {""} if of is None else {""}:
            doubtful |= {name} & called.keys()
            called[name] = (rig.pk, wheels)
    # Of two rigs called alike nobody knows which is meant.
    return {name: one for name, one in called.items() if name not in doubtful}


@lru_cache(maxsize=4)
def _called_in(file: int, workspace: int, of: int | None) -> _Called:
    """The same for a file on its way in, slice after slice: found out once, while it comes."""
    return _called(workspace, of)


def _reader(called: _Called, data: ColumnsIn) -> columns.Reader:
    return columns.Reader(data.means(), {name: wheels for name, (_, wheels) in called.items()})


def _wheels(of: Iterable[dict[str, str]]) -> dict[str, str]:
    """Every wheel that some rigs have, by code: what they call it, or the few names that it has."""
    names = defaultdict[str, set[str]](set)
    for wheels in of:
        for name, code in wheels.items():
            names[code] |= {name} - {code}
    return {code: f"{code}: {' or '.join(sorted(of))}" if len(of) < 3 else code for code, of in sorted(names.items())}


def _rig(actor: Actor, pk: int | None) -> Rig | None:
    return None if pk is None else rigs.rig(actor, pk, also=("air",))


def _zone(actor: Actor, rig: Rig | None) -> str:
    """The time zone of where a rig is, else of where the workspace is; where that is not known, the world's."""
    if rig is not None:
        return air.air_of(actor, rig).time_zone or "UTC"
    home = actor.workspace.place_key
    return next((p.time_zone for p in weather.places(actor) if p.key == home), "UTC")


def work(actor: Actor, data: WorkEarlierIn) -> EarlierLook:
    """How a file would be read. Nothing is saved. Raises DoesNotExist, Refusal for what is no rows at all."""
    actor.must(May.READ)
    of_one = _rig(actor, data.rig)
    called = _called(actor.workspace.pk, data.rig)
    may = [m for m in columns.MEANS if m != "temperature" and (m != "rig" or data.rig is None)]
    seen = look(data.head, data.chosen, lambda: _zone(actor, of_one), lambda of: _reader(called, of), may)
    rows = [
        EarlierRow(r.at, r.rig, n.wheel, n.kpa, r.outside_c, r.elevation_m) for r in seen.rows for n in r.read
    ][:SHOWN]  # fmt: skip
    wheels = _wheels(called[name][1] for name in seen.told("rig") or called if name in called)
    return EarlierLook.model_validate(seen.said() | {"rows": rows, "wheels": wheels})


@transaction.atomic
def begin(actor: Actor, uuid: UUID, data: EarlierIn) -> TakenOut:
    """A file on its way in; begun again it starts from nothing. Raises Refusal for columns that do not do."""
    actor.must(May.ROUNDS)
    rig = _rig(actor, data.rig)
    chosen = data.model_copy(update={"zone": data.zone or _zone(actor, rig)})
    _reader(_called(actor.workspace.pk, data.rig), chosen)
    there = EarlierFile.objects.filter(uuid=uuid)
    if there.exclude(workspace=actor.workspace, done_at=None).exists():
        raise Conflict("This file was brought in already.", "uuid")
    there.delete()
    kept = chosen.model_dump(mode="json", exclude={"name", "delimiter", "rig", "elevation_m"})
    EarlierFile.objects.create(
        uuid=uuid, workspace=actor.workspace, rig=rig, name=data.name, columns=kept, delimiter=data.delimiter,
        elevation_m=data.elevation_m.value if data.elevation_m else None, by=actor.person, begun_at=clock.now(),
    )  # fmt: skip
    return NOTHING_YET


def take(actor: Actor, uuid: UUID, number: int, data: SliceIn) -> TakenOut:
    """Some lines of it; sent again they take their own place. Raises Refusal past 100,000 rows."""
    actor.must(May.ROUNDS)
    of = _files(actor).get(uuid=uuid, done_at=None)
    called = _called_in(of.pk, actor.workspace.pk, of.rig_id)
    reader = _reader(called, ColumnsIn.model_validate(of.columns))
    rows, faults = read_slice(reader, data, of.delimiter)
    # Nobody else's writing waited for the reading of it.
    made = [
        EarlierReading(
            of=of, slice=number, rig_id=called[r.rig.lower()][0], wheel=n.wheel, at=r.at, kpa=n.kpa, outside_c=r.outside_c,
            elevation_m=of.elevation_m if r.elevation_m is None else r.elevation_m, gauge=r.gauge[:40],
        )
        for r in rows
        for n in r.read
    ]  # fmt: skip
    kept = {"rows": len(made), "faults": [{"row": f.row, "words": f.words} for f in faults]}
    with transaction.atomic():
        # Cancelled meanwhile, there is nothing to take it.
        still = _files(actor).get(pk=of.pk, done_at=None)
        EarlierSlice.objects.update_or_create(of=still, number=number, defaults=kept)
        EarlierReading.objects.filter(of=still, slice=number).delete()
        EarlierReading.objects.bulk_create([] if faults else made)
    return taken(reader, len(rows), faults)


def finish(actor: Actor, uuid: UUID) -> EarlierFileOut:
    """The whole of it counts from here on, by one short write, or nothing. Raises Refusal for faults, a gap, no reading at all."""
    actor.must(May.ROUNDS)
    of = _files(actor).get(uuid=uuid, done_at=None)
    slices = list(of.slices.all())
    must_be_whole((s.number for s in slices), [f for s in slices for f in s.faults])
    if not sum(s.rows for s in slices):
        raise Conflict("There is no reading in it.", "slices")
    if not _files(actor).filter(pk=of.pk, done_at=None).update(done_at=clock.now()):
        raise Conflict("It was brought in already, or taken back.", "uuid")
    (told,) = _told(_files(actor).filter(pk=of.pk))
    return told


def take_back(actor: Actor, uuid: UUID) -> None:
    """A file counts no more, at once; its rows go after it, some at a time. What another brought in is a manager's to take back."""
    actor.must(May.ROUNDS)
    of = _files(actor).get(uuid=uuid)
    if of.done_at is not None and of.by_id != actor.person.pk:
        actor.must(May.RIGS)
    _files(actor).filter(pk=of.pk).update(done_at=None)
    _drop(of)


def _drop(of: EarlierFile) -> None:
    while gone := list(EarlierReading.objects.filter(of=of).values_list("pk", flat=True)[:_AT_ONCE]):
        EarlierReading.objects.filter(pk__in=gone).delete()
    of.delete()


def forget() -> int:
    """Takes away what was begun, or taken back, and never came to its end: nothing of it counts, and nobody comes back for it."""
    left = list(EarlierFile.objects.filter(done_at=None, begun_at__lt=clock.now() - LEFT))
    for of in left:
        _drop(of)
    return len(left)


def listed(actor: Actor) -> list[EarlierFileOut]:
    """The files of a workspace that count, the newest first, each with what it came to."""
    actor.must(May.READ)
    return _told(_files(actor))


def _told(files: QuerySet[EarlierFile]) -> list[EarlierFileOut]:
    unknown = Q(readings__outside_c=None) | Q(readings__elevation_m=None)
    rows = (
        files.exclude(done_at=None)
        .select_related("by")
        .annotate(
            readings_n=Count("readings"), without_air=Count("readings", unknown), rigs_n=Count("readings__rig", distinct=True),
            begins=Min("readings__at"), ends=Max("readings__at"),
        )
    )  # fmt: skip
    return [
        EarlierFileOut(
            uuid=f.uuid, name=f.name, by=f.by.shown_name, done_at=f.done_at, readings=f.readings_n, without_air=f.without_air,
            rigs=f.rigs_n, begins=f.begins, ends=f.ends,
        )
        for f in rows
    ]  # fmt: skip


def _level(kpa: float, outside_c: float | None, elevation_m: float | None) -> float | None:
    return None if outside_c is None or elevation_m is None else normalized(kpa, Air(outside_c, elevation_m))


def of_wheels(actor: Actor, rig_id: int) -> list[EarlierWheel]:
    """By wheel of a rig what was read there before, oldest first; of a long history as many as a chart can show."""
    actor.must(May.READ)
    rig = rigs.rig(actor, rig_id)
    since = {f.wheel: f.fitted_on for f in rigs.fitted_on(rig)}
    rows = EarlierReading.objects.filter(rig=rig).exclude(of__done_at=None).order_by("at", "id")
    read = defaultdict[str, list[tuple[dt.datetime, float, float | None, float | None]]](list)
    fields = ("wheel", "at", "kpa", "outside_c", "elevation_m")
    for wheel, at, kpa, outside_c, elevation_m in rows.values_list(*fields).iterator(5000):
        read[wheel].append((at, kpa, outside_c, elevation_m))
    return [_wheel(code, of, since.get(code)) for code, of in sorted(read.items())]


def _wheel(
    code: str, read: list[tuple[dt.datetime, float, float | None, float | None]], fitted_on: dt.date | None
) -> EarlierWheel:  # fmt: skip
    few = thinned(read, SHOWN_A_WHEEL)
    levels = [_level(kpa, outside_c, elevation_m) for _, kpa, outside_c, elevation_m in few]
    return EarlierWheel(
        code, len(read), [at for at, *_ in few], [round(kpa, 2) for _, kpa, *_ in few],
        [None if level is None else round(level, 2) for level in levels],
        [fitted_on is None or at.date() >= fitted_on for at, *_ in few],
    )  # fmt: skip


def export(actor: Actor, rig_id: int | None) -> Iterator[dict[str, object]]:
    """Every earlier reading of a rig, or of the workspace, row by row."""
    actor.must(May.READ)
    rows = EarlierReading.objects.filter(of__workspace=actor.workspace).exclude(of__done_at=None)
    if rig_id is not None:
        rows = rows.filter(rig=rigs.rig(actor, rig_id))
    fields = (
        "at", "rig__fleet_number", "rig__name", "wheel", "kpa", "outside_c", "elevation_m", "gauge", "of__name",
    )  # fmt: skip
    return (
        {
            "read_at_utc": at.isoformat(), "rig": shown_name(number, name), "wheel": wheel, "as_shown_kpa": kpa,
            "at_20_c_kpa": _level(kpa, outside_c, elevation_m), "outside_c": outside_c, "elevation_m": elevation_m,
            "gauge": gauge, "file": file,
        }
        for at, number, name, wheel, kpa, outside_c, elevation_m, gauge, file in rows.values_list(*fields).iterator(2000)
    )  # fmt: skip
