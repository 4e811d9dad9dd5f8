"""Numbers out of a file of one's own: looked at first, brought in slices, and counting only when the whole of it is there."""

import datetime as dt
import zlib
from uuid import UUID

from django.db import transaction
from pydantic import TypeAdapter

from ballast.core import columns
from ballast.core import sensors as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.air import now as air
from ballast.server.edge import clock
from ballast.server.edge.columns import (
    NOTHING_YET,
    SHOWN,
    BeginIn,
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
from ballast.server.rigs.models import Rig
from ballast.server.sensors import drives, held
from ballast.server.sensors.models import Drive, ImportSlice, NumbersImport
from ballast.server.sensors.schemas import NumbersDone, NumbersLook, PreviewRow, WorkNumbersIn

_ROWS = TypeAdapter(list[columns.Row])
# So long what was begun waits for its end.
_LEFT = dt.timedelta(days=1)


def _reader(rig: Rig, data: ColumnsIn) -> columns.Reader:
    """Reads rows by what was chosen. What a file calls by the rig's own words needs no choosing. Raises Refusal."""
    return columns.Reader(data.means(), {"": {n: w.code for w in rigs.wheels_of(rig) for n in (w.code, w.name)}})


def work(actor: Actor, data: WorkNumbersIn) -> NumbersLook:
    """How a file would be read. Nothing is saved. Raises DoesNotExist, Refusal for what is no rows at all."""
    actor.must(May.READ)
    rig = rigs.rig(actor, data.rig, also=held.ALSO)
    seen = look(data.head, data.chosen, lambda: _zone(actor, rig), lambda of: _reader(rig, of), columns.OF_SENSORS)
    rows = [PreviewRow(r.at, n.wheel, n.kpa, n.tire_c) for r in seen.rows for n in r.read][:SHOWN]
    return NumbersLook.model_validate(seen.said() | {"rows": rows})


def _zone(actor: Actor, rig: Rig) -> str:
    """The time zone of where a rig is; where that is not known, the world's."""
    return air.air_of(actor, rig).time_zone or "UTC"


def _begun(actor: Actor, rig_id: int, uuid: UUID) -> tuple[Rig, NumbersImport]:
    actor.must(May.ROUNDS)
    rig = rigs.rig(actor, rig_id, also=held.ALSO)
    return rig, NumbersImport.objects.filter(rig=rig).get(uuid=uuid)


@transaction.atomic
def begin(actor: Actor, rig_id: int, uuid: UUID, data: BeginIn) -> TakenOut:
    """A file on its way in; begun again with other columns, it starts from nothing. Raises Refusal for columns that do not do."""
    actor.must(May.ROUNDS)
    rig = rigs.rig(actor, rig_id, also=held.ALSO)
    if Drive.objects.filter(uuid=uuid).exists() or NumbersImport.objects.filter(uuid=uuid).exclude(rig=rig).exists():
        raise Conflict("This file was brought in already.", "uuid")
    chosen = data.model_copy(update={"zone": data.zone or _zone(actor, rig)})
    _reader(rig, chosen)
    # And what somebody began and left: nothing of it counts, and nobody comes back for it.
    left = NumbersImport.objects.filter(rig=rig, begun_at__lt=clock.now() - _LEFT)
    (left | NumbersImport.objects.filter(uuid=uuid, rig=rig)).delete()
    kept = chosen.model_dump(mode="json", exclude={"name", "delimiter"})
    NumbersImport.objects.create(
        uuid=uuid, rig=rig, name=data.name, columns=kept, delimiter=data.delimiter, by=actor.person
    )
    return NOTHING_YET


def take(actor: Actor, rig_id: int, uuid: UUID, number: int, data: SliceIn) -> TakenOut:
    """Some lines of it; sent again they take their own place. Raises Refusal past 100,000 rows."""
    rig, of = _begun(actor, rig_id, uuid)
    reader = _reader(rig, ColumnsIn.model_validate(of.columns))
    rows, faults = read_slice(reader, data, of.delimiter)
    kept = {
        "rows": len(rows), "read": zlib.compress(_ROWS.dump_json(rows), 1),
        "faults": [{"row": f.row, "words": f.words} for f in faults],
    }  # fmt: skip
    # Nobody else's writing waited for the reading of it.
    with transaction.atomic():
        ImportSlice.objects.update_or_create(of=NumbersImport.objects.get(pk=of.pk), number=number, defaults=kept)
    return taken(reader, len(rows), faults)


def finish(actor: Actor, rig_id: int, uuid: UUID) -> NumbersDone:
    """The whole of it counts from here on, or nothing. Raises Refusal for faults, for a file with a gap, for no numbers at all."""
    rig, of = _begun(actor, rig_id, uuid)
    slices = list(of.slices.all())
    must_be_whole((s.number for s in slices), [f for s in slices for f in s.faults])
    rows = [r for s in slices for r in _ROWS.validate_json(zlib.decompress(bytes(s.read)))]
    messages = _messages(rows, drives.held_now(actor, rig))
    if not messages:
        raise Refusal("There is no number in it.", "slices")
    row = drives.begin(actor, rig, uuid, messages[0].at, None)
    row.source, row.ended_at = of.name, clock.now()
    followed = drives.followed(row, messages)
    with transaction.atomic():
        # Cancelled meanwhile, or begun anew: then nothing of it counts.
        NumbersImport.objects.get(pk=of.pk).delete()
        drives.keep(row, followed)
    return NumbersDone(
        uuid=uuid, numbers=sum(len(m.wheels) for m in messages), judged=sum(len(m.samples) for m in messages),
        begins=messages[0].at, ends=messages[-1].at,
    )  # fmt: skip


def _messages(rows: list[columns.Row], by: drives.Holding) -> list[core.Message]:
    """What was read at one moment is one message; the air of then is known where the file says how warm it was."""
    wheels: dict[dt.datetime, dict[str, core.Said]] = {}
    outside: dict[dt.datetime, float] = {}
    for r in rows:
        wheels.setdefault(r.at, {}).update({n.wheel: core.Said(n.wheel, n.kpa, n.tire_c) for n in r.read})
        if r.outside_c is not None:
            outside[r.at] = r.outside_c
    now = clock.now()
    return [
        core.Message(
            n, at, tuple(wheels[at].values()), core.air_then(now - at, by.air, outside.get(at)), sealed=by.sealed
        )
        for n, at in enumerate(sorted(wheels), 1)
    ]


@transaction.atomic
def cancel(actor: Actor, rig_id: int, uuid: UUID) -> None:
    """Takes a file back that is on its way in: nothing of it is left."""
    _, of = _begun(actor, rig_id, uuid)
    of.delete()
