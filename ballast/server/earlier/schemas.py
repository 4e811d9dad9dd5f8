import datetime as dt
from dataclasses import dataclass
from typing import Annotated
from uuid import UUID

from pydantic import Field

from ballast.server.edge.columns import BeginIn, ColumnsIn, FileLookOut
from ballast.server.edge.quantities import Elevation
from ballast.server.edge.schema import Out, Strict


class WorkEarlierIn(Strict):
    """The beginning of a file with its heading, and what was chosen so far; null: guess. `rig`: all of it is of that one."""

    rig: int | None = None
    head: Annotated[str, Field(min_length=1, max_length=60_000)]
    chosen: ColumnsIn | None = None


class EarlierIn(BeginIn):
    """`elevation_m`: where all of it was read, for rows that do not say."""

    rig: int | None = None
    elevation_m: Elevation | None = None


@dataclass(frozen=True)
class EarlierRow:
    """A reading as it would be read; without its air it stands as it was shown, and is compared with nothing."""

    at: dt.datetime
    rig: str
    wheel: str
    kpa: float
    outside_c: float | None
    elevation_m: float | None


class EarlierLook(FileLookOut):
    """How a file of readings would be read."""

    rows: list[EarlierRow]
    # Every wheel that a row may be of, by its code, with what the rigs of the file call it.
    wheels: dict[str, str]


class EarlierFileOut(Out):
    """A file that was brought in: what it came to, how many of its readings lack their air, and of how many rigs they are."""

    uuid: UUID
    name: str
    by: str
    done_at: dt.datetime
    readings: int
    without_air: int
    rigs: int
    begins: dt.datetime | None
    ends: dt.datetime | None


@dataclass(frozen=True)
class EarlierWheel:
    """Read at a wheel before, oldest first, in columns of one length: as shown [kPa], as it would read at 20 °C and sea level
    (null: its air is not known), and whether it may have been the tire that is on now. `count`: of so many."""

    code: str
    count: int
    at: list[dt.datetime]
    raw: list[float]
    level: list[float | None]
    own: list[bool]


class EarlierOfRig(Out):
    wheels: list[EarlierWheel]


class EarlierListOut(Out):
    files: list[EarlierFileOut]
