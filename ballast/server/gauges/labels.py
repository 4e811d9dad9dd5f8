"""Labels of what stands in the drawer: each once of its kind."""

from typing import Any

from django.db.models import QuerySet

from ballast.server.edge.problems import Conflict


def must_be_free(others: QuerySet[Any], label: str, what: str) -> None:
    """Raises Conflict where one of the others has that label."""
    if others.filter(label=label).exists():
        raise Conflict(f"There is {what} {label} already. Choose another label.", "label")
