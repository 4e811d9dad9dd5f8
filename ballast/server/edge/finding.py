"""Looking for words in rows."""

from itertools import product
from typing import Any, TypeVar

from django.db.models import Model, Q, QuerySet

Rows = TypeVar("Rows", bound=QuerySet[Any, Any])


def fits(find: str, text: str) -> bool:
    """Whether every word that is looked for stands in a text, in letters of any size."""
    told = text.lower()
    return all(word in told for word in find.lower().split())


def anywhere(word: str, *fields: str) -> Q:
    """A word in any of some fields, in letters of any size."""
    # SQLite knows the sizes of the letters a to z alone.
    forms = {word} if word.isascii() else {word, word.lower(), word.upper(), word.capitalize()}
    found = Q(pk=None)
    for field, form in product(fields, sorted(forms)):
        found |= Q(**{f"{field}__icontains": form})
    return found


def in_turn(rows: Rows, at: str, rising: bool, last: Model | None) -> Rows:
    """Rows in the order of a moment, and of their numbers where it is the same; those past one where that is given."""
    if last is not None:
        moment, way = getattr(last, at), "gt" if rising else "lt"
        rows = rows.filter(Q(**{f"{at}__{way}": moment}) | Q(**{at: moment, f"pk__{way}": last.pk}))
    return rows.order_by(at, "pk") if rising else rows.order_by(f"-{at}", "-pk")


def every_word(rows: Rows, find: str, *fields: str) -> Rows:
    """The rows in which every word that is looked for stands, each in any of the fields."""
    for word in find.split():
        rows = rows.filter(anywhere(word, *fields))
    return rows
