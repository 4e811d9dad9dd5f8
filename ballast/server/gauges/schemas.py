import datetime as dt
from typing import Annotated, Literal

from pydantic import Field

from ballast.server.edge.quantities import Day, Name, Pressure, Words
from ballast.server.edge.schema import Out, Strict
from ballast.server.edge.words import PhraseOut

GaugeKind = Literal["stick", "dial", "digital", "inflator", "display", "station", "master"]


class GaugeIn(Strict):
    label: Annotated[str, Words(40, 1)]
    kind: GaugeKind
    low_kpa: Pressure
    high_kpa: Pressure
    resolution_kpa: Pressure
    dual_foot: bool = False
    dropped: bool = False
    retired: bool = False


class PairIn(Strict):
    reference: Pressure
    reading: Pressure


class CalibrationIn(Strict):
    compared_on: Day
    reference: Name
    master_u_kpa: Pressure | None = None
    pairs: Annotated[list[PairIn], Field(min_length=1, max_length=60)]


class ComparedPairOut(Out):
    reference_kpa: float
    reading_kpa: float


class CalibrationOut(Out):
    id: int
    compared_on: dt.date
    reference: str
    master_u_kpa: float | None
    by: str
    pairs: list[ComparedPairOut]


class GaugeOut(Out):
    id: int
    label: str
    kind: GaugeKind
    kind_name: str
    low_kpa: float
    high_kpa: float
    resolution_kpa: float
    dual_foot: bool
    dropped: bool
    retired: bool
    suspect: bool
    condition: PhraseOut | None
    calibrations: list[CalibrationOut]
