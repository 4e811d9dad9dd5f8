"""The schemas of words with measures, and of a check: core values as they are, field by field."""

import re
from typing import Any, Literal

from ballast.core.working import Measure, Phrase
from ballast.server.edge.schema import Out


def slug(title: str) -> str:
    """A title as part of a file's name."""
    return re.sub(r"[^A-Za-z0-9-]+", "-", title).strip("-") or "rig"


def kept(words: Phrase) -> dict[str, Any]:
    """A phrase as it is stored."""
    return {"text": words.text, "values": [vars(v) for v in words.values]}


def phrase_of(stored: dict[str, Any]) -> Phrase:
    """A stored phrase as the rules have it."""
    return Phrase(stored["text"], tuple(Measure(**v) for v in stored["values"]))


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
    words: Phrase
    state: State
