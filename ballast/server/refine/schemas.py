import datetime as dt
from dataclasses import dataclass
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from ballast.core.refine import Decision, Rib
from ballast.core.working import Phrase
from ballast.server.edge.quantities import Pressure, Words
from ballast.server.edge.schema import Strict

Ribs = Annotated[list[Rib], Field(min_length=3, max_length=3)]


class TrialIn(Strict):
    """A trial of an axle in the load state in force; `reason`: to go below the placard."""

    number: Annotated[int, Field(ge=1, le=9)]
    gauge: int
    reason: Annotated[str, Words(200)] = ""


class ChalkPassIn(Strict):
    """One drive: what both tires read, cold, and what was left on each, seen from above; `missing`: what did not hold."""

    pressure: Pressure
    left: Ribs
    right: Ribs
    missing: Annotated[list[Annotated[str, Words(12)]], Field(max_length=12)] = []


class KeepChalkPassIn(ChalkPassIn):
    uuid: UUID


class WorkChalkPassIn(ChalkPassIn):
    trial: int


class EndIn(Strict):
    """Ended by feel, with what it felt like, or left; a note either way."""

    how: Literal["feel", "left"]
    note: Annotated[str, Words(200)] = ""


@dataclass(frozen=True)
class VerdictOut:
    """What the passes say, and the next pressure [kPa] where there is one to try."""

    decision: Decision
    words: Phrase
    next_kpa: float | None
    done: bool
    notes: tuple[Phrase, ...]


@dataclass(frozen=True)
class ChalkPassOut:
    uuid: UUID
    kpa: float
    typed: str
    left: tuple[Rib, ...]
    right: tuple[Rib, ...]
    counts: bool
    by: str
    done_at: dt.datetime


@dataclass(frozen=True)
class TrialOut:
    """A trial with its passes, its bounds [kPa] and what the chalk says by now."""

    id: int
    number: int
    name: str
    load_state: str
    gauge: int
    gauge_label: str
    reason: str
    begun_at: dt.datetime
    begun_by: str
    ended: str
    note: str
    least_kpa: float | None
    most_kpa: float | None
    placard_kpa: float | None
    passes: tuple[ChalkPassOut, ...]
    verdict: VerdictOut
    # Why an even result is to be asked again; empty: it stands.
    again: tuple[str, ...]


@dataclass(frozen=True)
class Precondition:
    key: str
    words: str


@dataclass(frozen=True)
class TrialsOut:
    """The trials of a rig, the newest first, and what is asked before every pass."""

    trials: tuple[TrialOut, ...]
    preconditions: tuple[Precondition, ...]
