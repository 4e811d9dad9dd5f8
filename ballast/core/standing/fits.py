"""Whether targets in force still fit what is known, and why not."""

import datetime as dt
from dataclasses import dataclass

from ballast.core.working import day

_CHOICES = {
    "reserve": "its reserve", "edge": "its edge", "step": "its step", "school": "where its number comes from",
    "between": "how columns are read",
}  # fmt: skip
CHOICES = tuple(_CHOICES)
_CHANGED = {
    "fitted_marks": "another tire is fitted", "marks": "a load range or make has changed", "kind": "its kind has changed",
    "light_row": "the placard's other row was chosen",
}  # fmt: skip


@dataclass(frozen=True)
class Since:
    """What happened since targets were put in force.

    `weighed_on`: a newer weighing, `again` where they came from one; `changed`: which groups of the rig's own values are
    others by now; `table_replaced`, `table_entered`: by a newer edition, or one that would be looked up now; `anew`: which
    of `CHOICES` were chosen anew.
    """

    weighed_on: dt.date | None = None
    again: bool = False
    changed: tuple[str, ...] = ()
    table_replaced: bool = False
    table_entered: bool = False
    chalk_changed: bool = False
    anew: tuple[str, ...] = ()


def out_of_date(since: Since) -> tuple[str, ...]:
    """Why targets no longer fit what is known, in words; empty: they do.

    >>> out_of_date(Since(weighed_on=dt.date(2026, 11, 20), again=True, anew=("step",)))
    ('weighed again on Nov 20, 2026', 'its step was chosen anew')
    """
    reasons = []
    if since.weighed_on is not None:
        reasons.append(f"weighed {'again ' if since.again else ''}on {day(since.weighed_on)}")
    general = [name for name in since.changed if name not in _CHANGED]
    reasons += ["tires or ratings have changed"] if general else [_CHANGED[name] for name in since.changed]
    if since.table_replaced:
        reasons.append("a newer edition of its table is in use")
    elif since.table_entered:
        reasons.append("a table for its tires was entered since")
    if since.chalk_changed:
        reasons.append("the chalk results have changed")
    return (*reasons, *(f"{_CHOICES[name]} was chosen anew" for name in since.anew))
