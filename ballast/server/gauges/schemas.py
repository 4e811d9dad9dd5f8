import datetime as dt
from typing import Annotated, Literal

from pydantic import Field

from ballast.core.gauges import GaugeKind, Suspicion
from ballast.core.ground import GroundRole
from ballast.core.working import Line, Phrase
from ballast.server.edge.quantities import (
    Amps,
    CompareDays,
    Day,
    Find,
    First,
    Flow,
    Minutes,
    Name,
    Number,
    Pressure,
    Version,
    Volume,
    Words,
)
from ballast.server.edge.schema import Out, Strict

Supply = Literal["battery", "socket", "clamps", "tank"]
Way = Literal["", "up", "down"]


class GaugeIn(Strict):
    version: Version = ""
    label: Annotated[str, Words(40, 1)]
    kind: GaugeKind
    low_kpa: Pressure
    high_kpa: Pressure
    resolution_kpa: Pressure
    claimed_kpa: Pressure | None = None
    dual_foot: bool = False
    sealed: bool = False
    battery: Annotated[str, Words(60)] = ""
    keeper: Annotated[str, Words(60)] = ""
    every_days: CompareDays = 365
    radio: Annotated[str, Words(40)] = ""
    retired: bool = False


class SuspectIn(Strict):
    """What happened to a gauge; empty: it was a mistake, nothing did."""

    suspicion: Literal["", "drop", "over-pressure"]


class PairIn(Strict):
    reference: Pressure
    reading: Pressure
    direction: Way = ""


class PairsIn(Strict):
    """Pairs, and what they were read against: a gauge of the drawer by its label, or what a certificate vouches for."""

    reference: Annotated[str, Words(80)] = ""
    certificate: Annotated[str, Words(120)] = ""
    master_u_kpa: Pressure | None = None
    pairs: Annotated[list[PairIn], Field(min_length=1, max_length=60)]


class CalibrationIn(PairsIn):
    compared_on: Day
    reference: Name
    certificate_until: Day | None = None
    note: Annotated[str, Words(200)] = ""


class WorkPairsIn(PairsIn):
    gauge: int


class ComparedPairOut(Out):
    reference_kpa: float
    reading_kpa: float
    direction: Way


class CurvePointOut(Out):
    reading_kpa: float
    error_kpa: float
    uncertainty_kpa: float
    outside: bool


class CorrectionOut(Out):
    """The correction curve of a comparison, and what it leaves open."""

    curve: list[CurvePointOut]
    lag_kpa: float | None
    remarks: list[Phrase]
    # What it was compared with: "drawer" or "certificate"; empty: nothing to call a master.
    master: str


class CalibrationOut(CorrectionOut):
    id: int
    compared_on: dt.date
    reference: str
    certificate: str
    certificate_until: dt.date | None
    note: str
    master_u_kpa: float | None
    by: str
    pairs: list[ComparedPairOut]
    # How far the correction moved since the comparison before.
    drift_kpa: float | None


class GaugeOut(Out):
    id: int
    version: str
    label: str
    kind: GaugeKind
    kind_name: str
    low_kpa: float
    high_kpa: float
    resolution_kpa: float
    claimed_kpa: float | None
    dual_foot: bool
    sealed: bool
    battery: str
    keeper: str
    every_days: int
    radio: str
    suspicion: Suspicion
    retired: bool
    # Whether a round may be read with it, and whether it learns its offset from rounds.
    in_hand: bool
    learns: bool
    suspect: bool
    # What made it suspect was noted by a person, who may take it back.
    noted: bool
    condition: Phrase | None
    # Never compared: what one good gauge beside it would give.
    worth: Phrase | None
    compared_on: dt.date | None
    due_on: dt.date | None
    # Uncertainty at 95 % in the middle of what was compared.
    uncertainty_kpa: float


class DrawerIn(Strict):
    """Gauges in whose label, kind or keeper every word stands, from one on; `asks`: only those before which something must be said.

    In order of their labels, of when they are to be compared, or of how far they may be off; what is not known before all.
    """

    find: Find = ""
    asks: bool = False
    sort: Literal["label", "due", "doubt"] = "label"
    first: First = 0


class DrawerOut(Out):
    """`gauges`: a page. Of all that are there `total`, of those that fit the words `asking`, and `found` of what was asked for."""

    gauges: list[GaugeOut]
    page: int
    total: int
    asking: int
    found: int


class GaugeSheetOut(GaugeOut):
    calibrations: list[CalibrationOut]
    changes: list[str]


class BesideReadingIn(Strict):
    gauge: int
    pressure: Pressure


class BesideIn(Strict):
    readings: Annotated[list[BesideReadingIn], Field(min_length=2, max_length=12)]


class BesideReadingOut(Out):
    gauge: int
    label: str
    typed: str
    raw_kpa: float
    corrected_kpa: float
    uncertainty_kpa: float


class BesideOut(Out):
    id: int | None = None
    verdict: Literal["agree", "watch", "apart"]
    words: Phrase
    readings: list[BesideReadingOut]
    working: list[Line]
    barred: list[str]
    done_at: dt.datetime | None = None
    by: str = ""


class DeviceOut(Out):
    key: str
    name: str
    inflates: bool
    bench: bool
    simulated: bool


class HeardOut(Out):
    kpa: float
    steady: bool
    remark: str
    at: dt.datetime


class BenchIn(Strict):
    set_kpa: Pressure
    way: Literal["up", "down"] = "up"


class BenchOut(Out):
    master: HeardOut
    gauge: HeardOut


class FlowPointIn(Strict):
    pressure: Pressure
    flow: Flow


class InflatorIn(Strict):
    version: Version = ""
    label: Annotated[str, Words(40, 1)]
    supply: Supply
    max_kpa: Pressure
    free_l_min: Flow | None = None
    points: Annotated[list[FlowPointIn], Field(max_length=20)] = []
    hose_loss_kpa: Pressure | None = None
    settling_kpa: Pressure | None = None
    on_min: Minutes | None = None
    rest_min: Minutes | None = None
    draws_a: Amps | None = None
    socket_a: Amps | None = None
    tank_l: Volume | None = None
    display: int | None = None
    retired: bool = False


class FlowPointOut(Out):
    pressure_kpa: float
    flow_l_min: float


class InflatorOut(Out):
    id: int
    version: str
    label: str
    supply: Supply
    supply_name: str
    max_kpa: float
    free_l_min: float | None
    points: list[FlowPointOut]
    hose_loss_kpa: float
    settling_kpa: float
    on_min: float | None
    rest_min: float | None
    draws_a: float | None
    socket_a: float | None
    tank_l: float | None
    display: int | None
    display_label: str
    retired: bool


class ToFillIn(Strict):
    name: Annotated[str, Words(80, 1)]
    from_kpa: Pressure
    to_kpa: Pressure
    # What it holds, or the size that says so.
    volume_l: Volume | None = None
    tire_size: Annotated[str, Words(60)] = ""
    urgent: bool = False


class JobIn(Strict):
    """Any job: tires with what stands in them, what shall, and their volume, at an elevation."""

    inflator: int
    tires: Annotated[list[ToFillIn], Field(min_length=1, max_length=60)]
    elevation_m: Annotated[float, Field(ge=-500, le=9000)] = 0.0


class FillOut(Out):
    name: str
    able: bool
    set_point_kpa: float
    # What its own display shows there.
    dial_kpa: float
    minutes: float | None
    words: Phrase
    working: list[Line]


class JobOut(Out):
    fills: list[FillOut]
    running_min: float | None
    whole_min: float | None
    words: Phrase


class DeflatorsIn(Strict):
    """A set of preset deflators, for a role and a surface where it is set for them alone."""

    version: Version = ""
    label: Annotated[str, Words(40, 1)]
    count: Annotated[int, Number("how many deflators", 1, 20, whole=True)]
    set_kpa: Pressure
    role: GroundRole | Literal[""] = ""
    surface: Annotated[str, Words(24)] = ""
    retired: bool = False


class ClosingIn(Strict):
    """What a set left in a tire, read with a gauge."""

    gauge: int
    pressure: Pressure


class ClosingOut(Out):
    kpa: float
    typed: str
    gauge: str
    on: dt.date


class DeflatorsOut(Out):
    id: int
    version: str
    label: str
    count: int
    set_kpa: float
    role: str
    surface: str
    retired: bool
    closings: list[ClosingOut]
    # Where it closes by what is known, give or take; compared: by what was found.
    closes_kpa: float
    within_kpa: float
    compared: bool
