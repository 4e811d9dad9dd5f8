"""Triggers of the database: what is kept of other rows is marked by them, so that no way of writing goes past it.

They run in the transaction of the write itself.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from django.apps import AppConfig
from django.db import connections
from django.db.models.signals import post_migrate, pre_migrate

# By what is done to a table, the rows of it that a trigger has before it.
ROWS = {"insert": ("NEW",), "update": ("NEW", "OLD"), "delete": ("OLD",)}


@dataclass(frozen=True)
class Trigger:
    """One: its name, its table, what it waits for, and what it does then."""

    name: str
    table: str
    event: str
    does: str


@dataclass(frozen=True)
class Watch:
    """What watches over the rows of a table (`kept`): its triggers by the database's vendor, and what gives a row to whatever
    was there before them."""

    kept: str
    triggers: Callable[[str], Iterator[Trigger]]
    of_before: Callable[[str], str]

    def over(self, app: AppConfig) -> None:
        """Sets them up after each migration of an app, and takes them away before."""
        pre_migrate.connect(self.drop, sender=app)
        post_migrate.connect(self.create, sender=app)

    def names(self) -> set[str]:
        return {t.name for t in self.triggers("sqlite")}

    def drop(self, using: str = "default", **_: Any) -> None:
        """Takes them away, for migrations: those make tables anew, and what watches them would be gone or in the way."""
        vendor = connections[using].vendor
        with connections[using].cursor() as cursor:
            for t in self.triggers(vendor):
                on = f" ON {t.table}" if vendor == "postgresql" else ""
                cursor.execute(f"DROP TRIGGER IF EXISTS {t.name}{on}")

    def create(self, using: str = "default", **_: Any) -> None:
        """Sets them up, and gives what is of before a row that knows nothing yet."""
        vendor = connections[using].vendor
        with connections[using].cursor() as cursor:
            if self.kept not in connections[using].introspection.table_names(cursor):
                # Migrated back to before it.
                return
            for t in self.triggers(vendor):
                if vendor == "postgresql":
                    body = f"BEGIN {t.does}; RETURN NULL; END"
                    cursor.execute(
                        f"CREATE OR REPLACE FUNCTION {t.name}() RETURNS trigger LANGUAGE plpgsql AS $${body}$$"
                    )
                    cursor.execute(
                        f"CREATE OR REPLACE TRIGGER {t.name} AFTER {t.event} ON {t.table} FOR EACH ROW EXECUTE FUNCTION {t.name}()"
                    )
                else:
                    cursor.execute(
                        f"CREATE TRIGGER IF NOT EXISTS {t.name} AFTER {t.event} ON {t.table} BEGIN {t.does}; END"
                    )
            cursor.execute(self.of_before(vendor))
