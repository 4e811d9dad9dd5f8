"""What was done to a tire, or happened to it, beside being fitted, moved and taken off."""

import datetime as dt
from collections.abc import Sequence
from typing import Literal

from ballast.core.refusal import Refusal

EventKind = Literal["plug", "patch", "retread", "cupped", "feathered", "cut", "other"]
EVENTS: dict[EventKind, str] = {
    "plug": "Plugged",
    "patch": "Patched from inside",
    "retread": "Retreaded",
    "cupped": "Cupped: dips around the tread",
    "feathered": "Feathered: blocks sharp on one edge",
    "cut": "Cut, bulge or impact",
    "other": "Something else",
}
# What a finding of a tread points at. It is looked at by somebody who knows; no pressure mends it.
POINTS_AT: dict[EventKind, str] = {
    "cupped": "Points at dampers, balance or a worn bearing: have them looked at.",
    "feathered": "Points at the toe: have the alignment looked at.",
    "cut": "Have a licensed tire service look at it before it rolls.",
}
# Of these it says nothing by itself what it was.
_WANTS_WORDS: frozenset[EventKind] = frozenset({"cut", "other"})


def check_event(kind: EventKind, words: str, tread_mm: float | None) -> None:
    """Raises Refusal where an event lacks what makes it one: words, or the depth of a new tread."""
    if kind in _WANTS_WORDS and not words:
        raise Refusal("Say what it was, in a few words.", "words")
    if kind == "retread" and tread_mm is None:
        raise Refusal("Say how deep the new tread is: its wear is counted from there.", "tread")


def anew_on(events: Sequence[tuple[EventKind, dt.date]]) -> dt.date | None:
    """The day from which its tread is another; None: it is as it was made."""
    return max((on for kind, on in events if kind == "retread"), default=None)
