"""Rows that go for good with all that hangs on them, history and all: of what never counted in a workspace that does."""

from collections.abc import Iterable
from typing import Any

from django.apps import apps

# Rows by their kind.
Rows = dict[Any, set[Any]]


def all_on(model: Any, keys: Iterable[Any]) -> Rows:
    """Some rows and everything that refers to them, and to that, whatever may be deleted of real ones."""
    found: Rows = {model: set(keys)}
    gone: Rows = {}
    while found:
        for kind, pks in found.items():
            gone.setdefault(kind, set()).update(pks)
        found = _referring(found, gone)
    return gone


def _referring(found: Rows, gone: Rows) -> Rows:
    """Rows that refer to those found, and were not found before."""
    new: Rows = {}
    for model in apps.get_models(include_auto_created=True):
        for field in model._meta.concrete_fields:
            keys = found.get(field.related_model)
            if keys:
                rows = model._base_manager.filter(**{f"{field.name}__in": keys}).values_list("pk", flat=True)
                new.setdefault(model, set()).update(set(rows) - gone.get(model, set()))
    return {model: keys for model, keys in new.items() if keys}


def take_down(gone: Rows) -> None:
    """Deletes rows that `all_on` gave, and their history, in one transaction of the caller's."""
    for model, keys in gone.items():
        history = getattr(model, "history", None)
        if history is not None:
            history.filter(**{f"{model._meta.pk.attname}__in": keys}).delete()
        # Constraints are checked when all of it is gone.
        model._base_manager.filter(pk__in=keys)._raw_delete("default")
