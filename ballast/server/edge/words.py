"""The schemas of words with measures, and of a check: core values as they are, field by field."""

from typing import Literal

from ballast.core import units
from ballast.server.edge.schema import Out


class MeasureOut(Out):
    kind: units.Kind
    value: float
    toward: units.Toward


class PhraseOut(Out):
    """`{0}`, `{1}` … in the text stand for the values, shown in the reader's units."""

    text: str
    values: list[MeasureOut]


class LineOut(Out):
    what: PhraseOut
    result: MeasureOut | PhraseOut | None


class CheckOut(Out):
    what: str
    name: str
    load_kg: float
    limit_kg: float
    margin_kg: float
    share: float
    over: bool


class PairOut(Out):
    """A choice and its name."""

    key: str
    name: str


State = Literal["todo", "attention", "fine", "quiet"]


class StageOut(Out):
    """A stage of the work line in a few words."""

    key: str
    name: str
    words: PhraseOut
    state: State
