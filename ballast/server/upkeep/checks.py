"""What a database must be like, looked at when it is migrated."""

from typing import Any

from django.core.checks import CheckMessage, Error, Tags, register
from django.db import connections

# Letters in the order of their codes, as SQLite has them: what is sorted, and looked through page by page, is alike on both.
_BY_CODE = ("C", "POSIX", "C.UTF-8", "C.utf8")


@register(Tags.database)
def sorts_by_code(app_configs: Any, databases: Any = None, **_: Any) -> list[CheckMessage]:
    """An error for a database of PostgreSQL that is not in UTF-8, or sorts by the customs of a language."""
    no: list[CheckMessage] = []
    for name in databases or ():
        if connections[name].vendor != "postgresql":
            continue
        with connections[name].cursor() as cursor:
            cursor.execute(
                "SELECT pg_encoding_to_char(encoding), datcollate FROM pg_database WHERE datname = current_database()"
            )
            encoding, order = cursor.fetchone()
        if encoding != "UTF8" or order not in _BY_CODE:
            hint = "Make it anew: createdb --template=template0 --encoding=UTF8 --locale=C.UTF-8 NAME"
            no.append(Error(f"The database is in {encoding} and sorts by {order}, not by code.", hint=hint))
    return no
