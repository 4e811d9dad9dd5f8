import datetime as dt

from ballast.server.edge.schema import Out
from ballast.server.rounds.schemas import Word


class TireLineOut(Out):
    """A tire in a sealed round [kPa]. `normalized_kpa`: as it would read at 20 °C and sea level."""

    code: str
    name: str
    word: Word
    raw_kpa: float | None
    corrected_kpa: float | None
    here_kpa: float | None
    normalized_kpa: float | None
    change_kpa: float | None
    after_raw_kpa: float | None
    after_kpa: float | None
    typed: str
    by: str


class SealedRoundOut(Out):
    id: int
    sealed_at: dt.datetime
    sealed_by: str
    opened_at: dt.datetime
    time_zone: str
    gauge: str
    place: str
    outside_c: float
    elevation_m: float
    cold: bool
    summary: str
    findings: list[str]
    unread_reason: str
    tires: list[TireLineOut]
