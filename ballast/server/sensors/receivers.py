"""Receivers of a rig: each is paired once, knows its key, and sends what the sensors say. See docs/receivers.md."""

import datetime as dt
from typing import Any

from django.db import transaction
from django.http import HttpRequest
from ninja.errors import HttpError
from ninja.security import HttpBearer

from ballast.core import sensors as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import Membership
from ballast.server.edge import clock
from ballast.server.edge.days import is_ahead
from ballast.server.edge.keys import hash_of, new_key
from ballast.server.edge.problems import Conflict
from ballast.server.edge.ready import Ready
from ballast.server.edge.writing import set_workspace
from ballast.server.rigs import services as rigs
from ballast.server.sensors import drives, held
from ballast.server.sensors.models import Drive, Receiver
from ballast.server.sensors.schemas import MessageIn, ReceiverIn, ReceiverOut, ReceiverPaired, SentIn, TakenOut

_BY_KEY = Ready[Receiver](
    lambda key: Receiver.objects.filter(key_hash=key, ended_at=None).select_related("rig__workspace", "by")
)


class ByKey(HttpBearer):
    """`Authorization: Bearer` with the key of a receiver; `request.auth` is the Receiver."""

    def authenticate(self, request: HttpRequest, token: str) -> Any:
        found = _BY_KEY.first(hash_of(token))
        if found is None:
            raise HttpError(401, "This key is not known here, or was taken back. Pair the receiver anew.")
        set_workspace(found.rig.workspace_id)
        return found


class ReceiverRequest(HttpRequest):
    """A request that passed ByKey."""

    auth: Receiver


def _actor(of: Receiver) -> Actor:
    """A receiver looks with the eyes of whoever paired it, and only looks."""
    return Actor(of.by, of.rig.workspace, Membership.Role.VIEWER)


def receivers(actor: Actor, rig_id: int) -> list[ReceiverOut]:
    """The receivers that may send for a rig. Raises DoesNotExist."""
    actor.must(May.READ)
    rows = Receiver.objects.filter(rig=rigs.rig(actor, rig_id), ended_at=None).select_related("by")
    return [ReceiverOut(r.pk, r.name, r.by.shown_name, r.added_at) for r in rows]


@transaction.atomic
def pair(actor: Actor, rig_id: int, data: ReceiverIn) -> ReceiverPaired:
    """A receiver more. Its key is told now and never again. Raises DoesNotExist."""
    actor.must(May.FIT)
    rig = rigs.rig(actor, rig_id)
    key = new_key()
    Receiver.objects.create(rig=rig, name=data.name, key_hash=hash_of(key), by=actor.person)
    return ReceiverPaired(key=key, receivers=receivers(actor, rig_id))


@transaction.atomic
def unpair(actor: Actor, rig_id: int, receiver_id: int) -> list[ReceiverOut]:
    """A receiver that may send no more; what it sent stays. Raises DoesNotExist."""
    actor.must(May.FIT)
    row = Receiver.objects.filter(rig=rigs.rig(actor, rig_id), ended_at=None).get(pk=receiver_id)
    row.end()
    return receivers(actor, rig_id)


def take(of: Receiver, data: SentIn) -> TakenOut:
    """Takes what a receiver sends. Raises Refusal for wheels that the rig has not or a moment ahead, Conflict for another's drive.

    All is worked out before anything is locked, so that two hundred receivers do not wait for each other's arithmetic.
    """
    try:
        return _take(of, data)
    except drives.Meanwhile:
        # Another message of the same drive came between: now it stands in line.
        with transaction.atomic():
            return _take(of, data)


def _take(of: Receiver, data: SentIn) -> TakenOut:
    now = clock.now()
    for i, m in enumerate(data.messages):
        if is_ahead(m.at):
            raise Refusal("That lies in the future. Set the receiver's clock.", f"messages.{i}.at")
    row = Drive.objects.filter(uuid=data.drive).first()
    if row is None:
        rig = rigs.rig(_actor(of), of.rig_id, also=held.ALSO)
        row = drives.begin(_actor(of), rig, data.drive, min(m.at for m in data.messages), of)
    elif row.receiver_id != of.pk:
        raise Conflict("This drive is another receiver's. Begin one of its own.", "drive")
    if now - row.held_at > drives.ASKED_AFTER:
        drives.ask_anew(_actor(of), row, now)
    by_now = drives.held_by(row)
    aims = {w: g.aim for g in by_now.groups for w in g.wheels}
    for i, m in enumerate(data.messages):
        for j, w in enumerate(m.wheels):
            if w.wheel not in aims:
                field = f"messages.{i}.wheels.{j}.wheel"
                raise Refusal(f"There is no wheel {w.wheel} on it. It has {', '.join(sorted(aims))}.", field)
    taken = drives.followed(row, [_message(m, by_now, now) for m in data.messages])
    drives.keep(row, taken)
    if data.ended:
        Drive.objects.filter(pk=row.pk, ended_at=None).update(ended_at=now)
    drive = taken.drive
    loud = {w: core.state_words(a, aims[w], False).text for w, a in drive.alarms.items() if a.loud}
    return TakenOut(taken=len(taken.new), through=drive.through, missing=core.missing(drive)[:100], loud=loud)


def _message(m: MessageIn, by: drives.Holding, now: dt.datetime) -> core.Message:
    """A message with the air it was measured in: its own, else that of now where it is of now, else not known."""
    then = core.air_then(now - m.at, by.air, m.outside_c, m.elevation_m, m.station_kpa)
    said = tuple(core.Said(w.wheel, w.kpa, w.tire_c, w.fresh, w.low) for w in m.wheels)
    return core.Message(m.number, m.at, said, then, m.rolled_min, m.stood_h, m.km_h, by.sealed)
