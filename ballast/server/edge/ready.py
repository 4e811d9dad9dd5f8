"""Statements that are put together once: what every key press asks of the database, again and again.

Django puts a statement together anew each time a queryset is read, and for a rig's few rows that takes three times as
long as reading them.
"""

import datetime as dt
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from operator import itemgetter
from typing import Any, Generic, NoReturn, TypeVar
from uuid import UUID

from django.db import DEFAULT_DB_ALIAS, connections, models
from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.models.query import FlatValuesListIterable, ModelIterable, ValuesIterable, get_related_populators
from django.db.models.sql import InsertQuery
from django.db.models.sql.compiler import SQLCompiler

Row = TypeVar("Row")
Stored = TypeVar("Stored", bound=models.Model)
Key = int | str | UUID | dt.datetime
_KEYS = (int, str, UUID, dt.datetime)


@dataclass(frozen=True)
class _Statement:
    sql: str
    # Of each parameter its place in what is asked; None: it never changes, and stands in `fixed`.
    places: tuple[int | None, ...]
    fixed: tuple[Any, ...]
    # What makes of a column's value the field's: its place, what is called with it in turn, and its expression.
    converters: tuple[tuple[int, Sequence[Callable[..., Any]], Any], ...]
    # What makes of a row what the queryset gives.
    made_of: Callable[[Sequence[Any]], Any]


class Ready(Generic[Row]):
    """A queryset over keys (numbers, words, UUIDs, moments) and lists of keys, its statement made once for each length of the lists.

    `ask` makes the queryset of them; it must not look at them. Prefetched rows are not its own: see `hang`.
    """

    def __init__(self, ask: Callable[..., Any]) -> None:
        self._ask = ask
        self._made: dict[tuple[tuple[type, int], ...], _Statement] = {}

    def __call__(self, *asked: Key | Sequence[Key]) -> list[Row]:
        """What the queryset gives; nothing where a list is empty."""
        connection = connections[DEFAULT_DB_ALIAS]
        shape: list[tuple[type, int]] = []
        keys: list[Any] = []
        for one in asked:
            if isinstance(one, _KEYS):
                shape.append((type(one), 0))
                keys.append(_as_stored(one, connection))
            elif one:
                shape.append((type(one[0]), _length(len(one))))
                own = [_as_stored(key, connection) for key in one]
                # The last one again and again, up to the length of a statement.
                keys += own + own[-1:] * (shape[-1][1] - len(own))
            else:
                return []
        made = self._made.get(tuple(shape))
        if made is None:
            made = self._made[tuple(shape)] = self._put_together(shape)
        return _run(made, keys, connection)

    def first(self, *asked: Key | Sequence[Key]) -> Row | None:
        return next(iter(self(*asked)), None)

    def _put_together(self, shape: Sequence[tuple[type, int]]) -> _Statement:
        marks: list[Key] = []

        def mark(kind: type) -> Key:
            marks.append(_mark(kind, len(marks)))
            return marks[-1]

        queryset = self._ask(*([mark(kind) for _ in range(n)] if n else mark(kind) for kind, n in shape))
        compiler = queryset.query.get_compiler(DEFAULT_DB_ALIAS)
        sql, params = compiler.as_sql()
        stored = [_as_stored(m, connections[DEFAULT_DB_ALIAS]) for m in marks]
        places = tuple(stored.index(p) if p in stored else None for p in params)
        converters = compiler.get_converters([s[0] for s in compiler.select[: compiler.col_count]])
        by_place = tuple((place, calls, of) for place, (calls, of) in converters.items())
        return _Statement(sql, places, tuple(params), by_place, _maker(queryset, compiler))


def _maker(queryset: models.QuerySet[Any], compiler: SQLCompiler) -> Callable[[Sequence[Any]], Any]:
    """What makes of a row what Django would: a model's row with what was asked beside it, a dict, a value or a tuple."""
    kind, count = queryset._iterable_class, compiler.col_count
    if kind is FlatValuesListIterable:
        return itemgetter(0)
    if kind is ValuesIterable:
        keys = list(queryset.query.selected or ())
        return lambda row: dict(zip(keys, row, strict=False))
    if kind is not ModelIterable:
        return lambda row: tuple(row[:count])
    info: Any = compiler.klass_info
    model, own = info["model"], slice(info["select_fields"][0], info["select_fields"][-1] + 1)
    names = [column.target.attname for column, *_ in compiler.select[own]]
    others = get_related_populators(info, compiler.select, DEFAULT_DB_ALIAS)  # type: ignore[call-arg]
    beside = list((compiler.annotation_col_map or {}).items())

    def made(row: Sequence[Any]) -> Any:
        one = model.from_db(DEFAULT_DB_ALIAS, names, row[own])
        for other in others:
            other.populate(row, one)
        for name, place in beside:
            setattr(one, name, row[place])
        return one

    return made


def _mark(kind: type, number: int) -> Key:
    """The key of no row: where it stands in a finished statement, what is asked goes."""
    if kind is UUID:
        return UUID(int=number)
    if kind is dt.datetime:
        return dt.datetime(1, 1, 2, microsecond=number, tzinfo=dt.UTC)
    return (1 << 50) + number if kind is int else f"\0{number}"


def _as_stored(key: Key, connection: BaseDatabaseWrapper) -> Any:
    """A key as the engine in use takes it."""
    if isinstance(key, dt.datetime):
        return connection.ops.adapt_datetimefield_value(key)
    return key.hex if isinstance(key, UUID) and not connection.features.has_native_uuid_field else key


def _length(count: int) -> int:
    """The next of 1, 2, 4, …: few statements serve lists of any length."""
    return 1 << (count - 1).bit_length()


def _run(made: _Statement, keys: Sequence[Any], connection: BaseDatabaseWrapper) -> list[Any]:
    """The rows of a statement, asked by the connection of this thread."""
    with connection.cursor() as cursor:
        cursor.execute(
            made.sql, [fixed if p is None else keys[p] for p, fixed in zip(made.places, made.fixed, strict=True)]
        )
        rows: list[Any] = cursor.fetchall()
    if made.converters:
        rows = [list(row) for row in rows]
        for place, calls, of in made.converters:
            for call in calls:
                for row in rows:
                    row[place] = call(row[place], of, connection)
    return [made.made_of(row) for row in rows]


class Keeping(Generic[Stored]):
    """Stores a new row of a model as its `save` would, by a statement made once; no signal tells of it."""

    def __init__(self, model: type[Stored]) -> None:
        self._model = model
        self._fields = [f for f in model._meta.concrete_fields if not f.primary_key]

    @cached_property
    def _sql(self) -> str:
        query = InsertQuery(self._model)
        # Any values do: a statement has places for them.
        query.insert_values(self._fields, [self._model()], raw=True)
        compiler = query.get_compiler(DEFAULT_DB_ALIAS)
        compiler.returning_fields = [self._model._meta.pk]
        sql: str = compiler.as_sql()[0][0]
        return sql

    def __call__(self, row: Stored) -> Stored:
        """The row, stored. Raises IntegrityError as `save` does."""
        connection = connections[DEFAULT_DB_ALIAS]
        values = [f.get_db_prep_save(f.pre_save(row, True), connection) for f in self._fields]
        with connection.cursor() as cursor:
            cursor.execute(self._sql, values)
            [row.pk] = cursor.fetchone()
        row._state.adding, row._state.db = False, DEFAULT_DB_ALIAS
        return row


def _twin(of: object, **other: Any) -> Any:
    """The same but for some attributes. `copy` would not do: it reads a queryset's rows."""
    twin = object.__new__(type(of))
    twin.__dict__.update(of.__dict__, **other)
    return twin


def apart(row: Stored) -> Stored:
    """The same row once more, to hang other rows on: what hangs on it already hangs on both."""
    state = _twin(row._state, fields_cache=dict(row._state.fields_cache))
    twin: Stored = _twin(row, _state=state, _prefetched_objects_cache=dict(row.__dict__["_prefetched_objects_cache"]))
    return twin


class _Hung(models.QuerySet[Any]):
    """Rows that hang on another, fetched whole. To ask for others of them, ask the model."""

    def _chain(self) -> NoReturn:
        raise TypeError("These rows are at hand already: pick from them, or ask their own model.")


def hang(rows: Iterable[models.Model], name: str, own: Iterable[models.Model], by: str) -> None:
    """Hangs fetched rows on those that they belong to by the foreign key `by`, as a prefetch of `name` would."""
    under: dict[Any, list[models.Model]] = {}
    key = by + "_id"
    for one in own:
        under.setdefault(getattr(one, key), []).append(one)
    for row in rows:
        hung = _Hung(model=type(row)._meta.get_field(name).related_model)
        hung._result_cache = mine = under.get(row.pk, [])
        hung._prefetch_done = True  # type: ignore[attr-defined]
        for one in mine:
            one._state.fields_cache[by] = row
        row.__dict__.setdefault("_prefetched_objects_cache", {})[name] = hung
