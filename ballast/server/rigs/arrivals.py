"""A fleet from a file that is too long for one request: it comes in slices, its rigs are worked out step by step in a workspace
of their own that nobody is a member of, and one short write makes them this workspace's. Until then nothing of it counts.
"""

import datetime as dt
from itertools import chain
from typing import Any
from uuid import UUID

from django.db import transaction
from django.db.models import Q, QuerySet

from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import Workspace
from ballast.server.edge import clock
from ballast.server.edge.columns import must_be_whole
from ballast.server.edge.files import delimiter_of, read_heading, read_lines, rows_by
from ballast.server.edge.problems import Conflict
from ballast.server.edge.taken_down import all_on, take_down
from ballast.server.rigs import fittings, imports
from ballast.server.rigs import services as rigs
from ballast.server.rigs.models import FleetFile, FleetSlice, FleetStep, Rig, Tire
from ballast.server.rigs.schemas import FleetDoneOut, FleetFileIn, FleetStepOut

MOST_ROWS = 100_000
# So many rigs are worked out, and written, at once: nobody else waits long for that.
RIGS_A_STEP = 100
# Tires for rigs that are here already are written with the end itself.
MOST_ON_OTHERS = 1_000
# So long what was begun waits for its end.
LEFT = dt.timedelta(days=1)


def _files(actor: Actor) -> QuerySet[FleetFile]:
    actor.must(May.RIGS)
    return FleetFile.objects.of(actor.workspace).filter(done_at=None)


def begin(actor: Actor, uuid: UUID, data: FleetFileIn) -> None:
    """A file on its way in; begun again it starts from nothing. Raises Refusal for a first row that does not do."""
    actor.must(May.RIGS)
    (heading, *_), field = read_lines(data.heading, delimiter_of(data.heading), "heading"), "heading"
    read_heading(heading, imports.NEEDED, imports.COLUMNS, field)
    if FleetFile.objects.filter(uuid=uuid).exclude(workspace=actor.workspace, done_at=None).exists():
        raise Conflict("This file was brought in already.", "uuid")
    for left in _files(actor).filter(uuid=uuid):
        _drop(left)
    with transaction.atomic():
        apart = Workspace.objects.create(name=f"On its way in: {data.name}"[:80])
        FleetFile.objects.create(
            uuid=uuid, workspace=actor.workspace, name=data.name, heading=data.heading, apart=apart, by=actor.person,
            begun_at=clock.now(),
        )  # fmt: skip


def take(actor: Actor, uuid: UUID, number: int, text: str) -> None:
    """Some rows of it; sent again they take their own place, and what was worked out is worked out anew."""
    of = _files(actor).get(uuid=uuid)
    delimiter = delimiter_of(of.heading)
    columns = [c.lower() for c in read_lines(of.heading, delimiter, "text")[0]]
    rows = rows_by(columns, read_lines(text, delimiter, "text"))
    if of.steps.exists():
        raise Conflict("Its rigs are being worked out. Bring it in again.", "number")
    with transaction.atomic():
        FleetSlice.objects.update_or_create(of=_files(actor).get(pk=of.pk), number=number, defaults={"rows": rows})


def _sort(of: FleetFile) -> None:
    """Puts the rows that came in order: a hundred rigs and their tires for each step, and one step for what names no rig of the file.

    Raises Refusal for a file with a gap, with too many rows, or with too many tires for rigs that are here already.
    """
    slices = list(of.slices.all())
    must_be_whole((s.number for s in slices), [])
    rows = list(enumerate(chain.from_iterable(s.rows for s in slices), 2))
    if len(rows) > MOST_ROWS:
        raise Refusal(f"The file has {len(rows):,} rows, the most is {MOST_ROWS:,}. Split it.", "slices")
    keys = dict.fromkeys(row.get("rig", "") for _, row in rows if row.get("row", "").lower() == "rig")
    steps = {key: i // RIGS_A_STEP for i, key in enumerate(keys)}
    last = -(-len(keys) // RIGS_A_STEP)
    sorted_rows: list[list[Any]] = [[] for _ in range(last + 1)]
    for line, row in rows:
        sorted_rows[steps.get(row.get("rig", ""), last)].append((line, row))
    if (many := len(sorted_rows[last])) > MOST_ON_OTHERS:
        told = f"{many:,} rows are of no rig in the file, the most is {MOST_ON_OTHERS:,}. Split it."
        raise Refusal(told, "slices")
    with transaction.atomic():
        if not of.steps.exists():
            FleetStep.objects.bulk_create(FleetStep(of=of, number=i, rows=r) for i, r in enumerate(sorted_rows))
            of.slices.all().delete()


def _worked_out(actor: Actor, of: FleetFile, row: FleetStep, last: bool) -> imports.Fleet:
    """The rigs of a step and their tires, as if the workspace apart were the actor's; in the last one the tires of rigs that are
    here already.
    """
    sheet = imports.Sheet([r for _, r in row.rows], [line for line, _ in row.rows])
    if last:
        named = {key for _, key, _ in sheet.tires}
        here = rigs.rigs(actor).filter(archived=False)
        called = here.filter(Q(fleet_number__in=named) | Q(fleet_number="", name__in=named))
        return imports.Fleet(actor, sheet, {r.fleet_number or r.name: r for r in called}, {})
    there = Rig.objects.filter(workspace__in=(of.workspace_id, of.apart_id), archived=False).exclude(fleet_number="")
    numbers = {r.fleet_number: r for r in there.only("name", "fleet_number")}
    return imports.Fleet(_apart(actor, of), sheet, {}, numbers)


def _apart(actor: Actor, of: FleetFile) -> Actor:
    assert of.apart is not None
    return Actor(actor.person, of.apart, actor.role)


def step(actor: Actor, uuid: UUID, number: int) -> FleetStepOut:
    """Works some of its rigs out, and has them ready where nothing is wrong with them; done twice is as once.

    Raises Refusal as `_sort` does, DoesNotExist for a step that it does not have.
    """
    of = _files(actor).select_related("apart").get(uuid=uuid)
    if not of.steps.exists():
        _sort(of)
    steps, row = of.steps.count(), of.steps.get(number=number)
    if not row.done:
        last = number == steps - 1
        fleet = _worked_out(actor, of, row, last)
        kept = {"rigs": len(fleet.made), "tires": len(fleet.fits), "faults": fleet.refused}
        with transaction.atomic():
            first = FleetStep.objects.filter(pk=row.pk, done=False, of__done_at=None).update(done=True, **kept)
            if first and not fleet.refused and not last:
                rigs.save_all(_apart(actor, of), fleet.made)
                fittings.save_all(_apart(actor, of), fleet.fits)
        # Left meanwhile, there is none.
        row.refresh_from_db()
    told = {"steps": steps, "rigs": row.rigs, "tires": row.tires, "faults": row.faults}
    return FleetStepOut.model_validate(told)


def finish(actor: Actor, uuid: UUID) -> FleetDoneOut:
    """All of it is this workspace's from here on, or nothing.

    Raises Refusal for faults and for what was not worked out, Conflict where a number is taken meanwhile or a rig changed.
    """
    of = _files(actor).select_related("apart").get(uuid=uuid)
    steps = list(of.steps.defer("rows"))
    if faults := [f for s in steps for f in s.faults]:
        raise Refusal(f"Row {faults[0]['line']}: {faults[0]['refused']} Nothing was brought in.", "faults")
    if not steps or not all(s.done for s in steps):
        raise Refusal("A part of the file was not worked out. Bring it in again.", "steps")
    done = FleetDoneOut(rigs=sum(s.rigs for s in steps), tires=sum(s.tires for s in steps))
    if not done.rigs and not done.tires:
        raise Conflict("There is no rig and no tire in it.", "slices")
    before = imports.as_it_is(actor) if steps[-1].tires else None
    on_others = _worked_out(actor, of, steps[-1], last=True).fits
    apart = _apart(actor, of).workspace
    with transaction.atomic():
        if before is not None and imports.as_it_is(actor) != before:
            raise Conflict("Somebody changed a rig while the file was read. Look at it, and import it again.")
        if not _files(actor).filter(pk=of.pk).update(done_at=clock.now(), rigs=done.rigs, tires=done.tires):
            raise Conflict("It was brought in already, or left.", "uuid")
        _must_be_free(of, apart)
        kinds: tuple[Any, ...] = (Rig, Tire, Rig.history.model, Tire.history.model)
        for kind in kinds:
            kind.objects.filter(workspace=apart).update(workspace=of.workspace)
        fittings.save_all(actor, on_others)
    _tidy(of)
    return done


def _must_be_free(of: FleetFile, apart: Workspace) -> None:
    """Raises Conflict where a fleet number of the file was given to another rig meanwhile."""
    coming = Rig.objects.filter(workspace=apart).exclude(fleet_number="")
    there = Rig.objects.filter(workspace=of.workspace_id, archived=False)
    if other := there.filter(fleet_number__in=coming.values("fleet_number")).first():
        raise Conflict(
            f"{other.fleet_number} is {other.name} by now. Choose another, and import it again.", "fleet_number"
        )


def _forget_rows(of: FleetFile) -> None:
    of.slices.all().delete()
    of.steps.all().delete()


def _tidy(of: FleetFile) -> None:
    """Takes away what a file that is done needs no more: its rows, and the workspace that is empty by now."""
    _forget_rows(of)
    if of.apart is not None:
        of.apart.delete()


def leave(actor: Actor, uuid: UUID) -> None:
    """A file that is on its way in is left. Raises DoesNotExist for one that is done: its rigs are archived one by one."""
    _drop(_files(actor).select_related("apart").get(uuid=uuid))


def _drop(of: FleetFile) -> None:
    """Takes it away with all that stood ready of it, some at a time, so that no other writer waits."""
    apart = of.apart
    with transaction.atomic():
        _forget_rows(of)
        of.delete()
    if apart is None:
        return
    for kind in (Rig, Tire):
        while gone := list(kind.objects.filter(workspace=apart).values_list("pk", flat=True)[:RIGS_A_STEP]):
            with transaction.atomic():
                take_down(all_on(kind, gone))
    with transaction.atomic():
        take_down(all_on(Workspace, [apart.pk]))


def forget() -> int:
    """Takes away what was begun and never came to its end: nothing of it counts, and nobody comes back for it."""
    left = list(FleetFile.objects.filter(done_at=None, begun_at__lt=clock.now() - LEFT).select_related("apart"))
    for of in left:
        _drop(of)
    # Of one that a server was stopped at just after its end.
    for of in FleetFile.objects.exclude(done_at=None).exclude(apart=None).select_related("apart"):
        _tidy(of)
    return len(left)
