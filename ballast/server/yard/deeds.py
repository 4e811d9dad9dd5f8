"""What a person did in a workspace, from the rows that keep who did it and when: the newest first."""

import datetime as dt
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from heapq import nlargest
from typing import Any

from pydantic import AwareDatetime, TypeAdapter

from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import Membership, Workspace
from ballast.server.assignments.models import Assignment
from ballast.server.earlier.models import EarlierFile
from ballast.server.gauges.models import Beside, Calibration, Gauge
from ballast.server.ground.models import GroundPlan
from ballast.server.pictures.models import Picture
from ballast.server.refine.models import ChalkTrial, Rotation, TireEvent
from ballast.server.rigs.models import OutOfService, Rig, SignOff, Tire, shown_name
from ballast.server.rounds.models import Amendment, Round
from ballast.server.sensors.models import Glance, LampCase, Receiver
from ballast.server.tables.models import Table
from ballast.server.targets.models import TargetSet
from ballast.server.weather.models import Record
from ballast.server.weighing.models import Weighing
from ballast.server.yard.schemas import DeedOut, DeedsOut

LISTED = 100


@dataclass(frozen=True)
class _Past:
    """Where a page begins: at a moment (None: now), past so many that were done at the same one. Whoever gives a hundred rounds
    away does so in one."""

    moment: dt.datetime | None = None
    skip: int = 0

    @classmethod
    def read(cls, text: str) -> "_Past":
        """As `written`. Raises Refusal."""
        moment, _, skip = text.partition("~")
        try:
            return cls(TypeAdapter(AwareDatetime).validate_python(moment), int(skip)) if text else cls()
        except ValueError:
            raise Refusal("No page begins there. Take what the page before it gives as `next`.", "past") from None

    def written(self) -> str:
        assert self.moment is not None
        return f"{self.moment.isoformat()}~{self.skip}"

    @property
    def most(self) -> int:
        """How many of a kind can stand on the page, before it at its moment, and first after it."""
        return self.skip + LISTED + 1

    def of(self, rows: Any, at: str) -> Any:
        rows = rows.order_by(f"-{at}", "-pk")
        return rows if self.moment is None else rows.filter(**{f"{at}__lte": self.moment})

    def after(self, page: Sequence[tuple[Any, ...]]) -> "_Past":
        """Where the page after one begins that begins here."""
        last = page[-1][0]
        return _Past(last, sum(at == last for at, *_ in page) + (self.skip if last == self.moment else 0))


@dataclass(frozen=True)
class _Kind:
    """Rows that say who did something and when; `rig` leads to the rig (empty: of none), `place` to the workspace."""

    words: str
    model: Any
    by: str
    at: str
    rig: str = "rig"
    place: str = ""

    def rows(self, actor: Actor, person: int, past: "_Past") -> Iterator[tuple[Any, ...]]:
        place = self.place or f"{self.rig}__workspace"
        rows = self.model._base_manager.filter(**{self.by: person, place: actor.workspace.pk})
        rigs = (self.rig, f"{self.rig}__fleet_number", f"{self.rig}__name") if self.rig else ()
        for at, *rig in past.of(rows, self.at).values_list(self.at, *rigs)[: past.most]:
            if at is not None:
                yield (at, self.words, *(rig or (None, "", "")))


_KINDS = (
    _Kind("Sealed a round", Round, "sealed_by", "sealed_at"),
    _Kind("Opened a round", Round, "opened_by", "opened_at"),
    _Kind("Abandoned a round", Round, "abandoned_by", "abandoned_at"),
    _Kind("Put a sealed round right", Amendment, "by", "at", "round__rig"),
    _Kind("Gave its round to somebody", Assignment, "by", "made_at"),
    _Kind("Entered a weighing", Weighing, "entered_by", "entered_at"),
    _Kind("Put targets in force", TargetSet, "put_by", "put_at"),
    _Kind("Took targets back", TargetSet, "withdrawn_by", "withdrawn_at"),
    _Kind("Entered a table", Table, "entered_by", "entered_at", "", "workspace"),
    _Kind("Compared a gauge", Calibration, "entered_by", "entered_at", "", "gauge__workspace"),
    _Kind("Put gauges beside each other", Beside, "done_by", "done_at", "", "workspace"),
    _Kind("Began a chalk trial", ChalkTrial, "begun_by", "begun_at"),
    _Kind("Noted what was done to a tire", TireEvent, "by", "entered_at", "", "tire__workspace"),
    _Kind("Rotated tires", Rotation, "by", "entered_at"),
    _Kind("Opened a ground plan", GroundPlan, "opened_by", "opened_at"),
    _Kind("Read a display", Glance, "by", "entered_at"),
    _Kind("Followed the lamp", LampCase, "by", "entered_at"),
    _Kind("Paired a receiver", Receiver, "by", "added_at"),
    _Kind("Took a picture", Picture, "taken_by", "taken_at"),
    _Kind("Brought in earlier readings", EarlierFile, "by", "done_at", "", "workspace"),
    _Kind("Brought a weather record", Record, "brought_by", "brought_at", "", "workspace"),
    _Kind("Took it out of service", OutOfService, "by", "since"),
    _Kind("Signed it off", SignOff, "by", "at"),
)
# What keeps its own history: the words, the model, and where its workspace stands.
_CHANGED = (
    ("rig", Rig, "workspace"), ("gauge", Gauge, "workspace"), ("tire", Tire, "workspace"), ("settings", Workspace, "id"),
    ("role of somebody", Membership, "workspace"),
)  # fmt: skip
_DID = {"+": "Added", "~": "Changed", "-": "Took away"}


def _changes(actor: Actor, person: int, past: _Past) -> Iterator[tuple[Any, ...]]:
    """What is on record of changes to things that keep their history."""
    for what, model, place in _CHANGED:
        rows = past.of(model.history.filter(history_user=person, **{place: actor.workspace.pk}), "history_date")
        of_rig = ("id", "fleet_number", "name") if model is Rig else ()
        for at, did, *rig in rows.values_list("history_date", "history_type", *of_rig)[: past.most]:
            yield (at, f"{_DID[did]} {'the' if model is Workspace else 'a'} {what}", *(rig or (None, "", "")))


def deeds(actor: Actor, member_id: int, past: str) -> DeedsOut:
    """What somebody of the workspace did, the newest first, from where the page before ended. Raises DoesNotExist, Refusal."""
    actor.must(May.PEOPLE)
    member = actor.workspace.memberships.select_related("person").get(pk=member_id)
    begins = _Past.read(past)
    of = (actor, member.person_id, begins)
    every = [row for kind in _KINDS for row in kind.rows(*of)] + list(_changes(*of))
    newest = nlargest(begins.most, every, key=lambda row: row[0])[begins.skip :]
    page = newest[:LISTED]
    return DeedsOut(
        name=member.person.shown_name, next=begins.after(page).written() if len(newest) > LISTED else None,
        deeds=[
            DeedOut(at=at, words=words, rig=rig, name=shown_name(number, name)) for at, words, rig, number, name in page
        ],
    )  # fmt: skip
