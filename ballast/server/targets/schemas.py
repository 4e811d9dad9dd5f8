import datetime as dt
from typing import Annotated, Literal

from pydantic import Field

from ballast.server.edge.quantities import Share
from ballast.server.edge.schema import Out, Strict
from ballast.server.edge.words import CheckOut, LineOut, PhraseOut
from ballast.server.weighing.schemas import WhatIfIn

StepName = Literal["1 psi", "5 psi", "5 kPa", "0.1 bar"]


class TargetsIn(Strict):
    """Which weighing, which table for each axle (null: none yet), and how to choose."""

    weighing: int | None = None
    tables: Annotated[list[int | None], Field(max_length=9)] = []
    reserve: Share = 0.08
    edge: Share = 0.02
    step: StepName = "1 psi"


class WorkTargetsIn(TargetsIn):
    rig: int


class WhatIfTargetsIn(WhatIfIn):
    reserve: Share = 0.08
    edge: Share = 0.02
    step: StepName = "1 psi"


class WorkWhatIfTargetsIn(WhatIfTargetsIn):
    rig: int


class WhatIfTargetOut(Out):
    """The target of an axle now, and with the masses put aboard."""

    rig: int
    number: int
    now_kpa: float | None
    then_kpa: float | None
    state: Literal["target", "not weighed", "no table", "beyond tires", "floor above ceiling"]
    words: PhraseOut


class FlagOut(Out):
    school: Literal["table", "ratio", "placard", "sidewall"]
    name: str
    kpa: float
    objection: PhraseOut | None


class AxleTargetOut(Out):
    number: int
    name: str
    state: Literal["target", "not weighed", "no table", "beyond tires", "floor above ceiling"]
    words: PhraseOut
    floor_kpa: float | None
    target_kpa: float | None
    ceiling_kpa: float | None
    ceiling_from: str
    reserve_left: float | None
    comes_off_kg: float | None
    flags: list[FlagOut]
    notes: list[PhraseOut]
    working: list[LineOut]
    over: list[CheckOut]


class TargetsOut(Out):
    """The answer for every axle, with the loads' overloads standing over all of them."""

    axles: list[AxleTargetOut]
    tables: list[int | None]
    samples: bool
    over: list[PhraseOut]
    caution: str


class TargetSetOut(TargetsOut):
    id: int
    weighing: int
    load_state: str
    worked_out: bool
    weighed_on: dt.date
    reserve: float
    edge: float
    step: str
    put_by: str
    put_at: dt.datetime
    out_of_date: list[str]
