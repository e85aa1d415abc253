"""Queries that are built and compiled once in a process, and run with other values ever after.

Django builds and compiles a query anew each time that it is asked, which on the way of every payment costs several
times what the database needs to answer it. A prepared query is made of the same querysets, with ``Param`` where a value
stands; only its values are bound anew.

    UNDER_WAY = PreparedSelect(lambda: Visit.objects.filter(visitor=Param("visitor")).values_list("id")[:1])
    UNDER_WAY.first(visitor="…")

Tests hold each of them to what Django's own way does.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Any, TypeVar

from django.db import DEFAULT_DB_ALIAS, connection
from django.db.models import Expression, Field, Model, QuerySet
from django.db.models.sql import InsertQuery, UpdateQuery


class _Mark:
    """Stands for a value among the parameters of a compiled query."""

    def __init__(self, name: str, field: Field[Any, Any] | None) -> None:
        self.name = name
        self.field = field


class Param(Expression):
    """A value that is given when the query is run: as it is, or prepared for the database as ``field`` does it.

    Days, instants and JSON need their field; numbers and texts do not.
    """

    def __init__(self, name: str, field: Field[Any, Any] | None = None) -> None:
        super().__init__(output_field=field)
        self.mark = _Mark(name, field)

    def as_sql(self, compiler: Any, connection: Any) -> Any:
        return "%s", [self.mark]

    def get_source_expressions(self) -> list[Any]:
        return []


class _Prepared:
    """The compiled statement: its SQL, and its parameters with marks among them."""

    def __init__(self, build: Callable[[], QuerySet[Any, Any]]) -> None:
        self._build = build
        self._statement: tuple[str, Sequence[Any]] | None = None

    def _compiled(self) -> tuple[str, Sequence[Any]]:
        if self._statement is None:
            self._statement = self._compile()
        return self._statement

    def _compile(self) -> tuple[str, Sequence[Any]]:
        raise NotImplementedError

    def _bound(self, marks: Sequence[Any], values: dict[str, Any]) -> list[Any]:
        return [self._value(mark, values) if isinstance(mark, _Mark) else mark for mark in marks]

    def _value(self, mark: _Mark, values: dict[str, Any]) -> Any:
        value = values[mark.name]
        return value if mark.field is None else mark.field.get_db_prep_value(value, connection)


class PreparedSelect(_Prepared):
    """A queryset of ``values_list``; its rows are tuples."""

    def _compile(self) -> tuple[str, Sequence[Any]]:
        self._compiler = self._build().query.get_compiler(connection=connection)
        sql, marks = self._compiler.as_sql()
        selected = [each[0] for each in self._compiler.select[: self._compiler.col_count]]
        self._converters = self._compiler.get_converters(selected)
        return sql, marks

    def rows(self, **values: Any) -> list[tuple[Any, ...]]:
        """Every row, as the queryset would have it."""
        sql, marks = self._compiled()
        with connection.cursor() as cursor:
            cursor.execute(sql, self._bound(marks, values))
            found: list[tuple[Any, ...]] = cursor.fetchall()
        if not self._converters:
            return found
        return [tuple(row) for row in self._compiler.apply_converters(found, self._converters)]

    def first(self, **values: Any) -> tuple[Any, ...] | None:
        """The first row, or None. The queryset itself says how many are looked for."""
        return next(iter(self.rows(**values)), None)


class PreparedUpdate(_Prepared):
    """An update of the rows of a queryset; ``changes`` as ``QuerySet.update`` takes them."""

    def __init__(self, build: Callable[[], QuerySet[Any, Any]], **changes: Any) -> None:
        super().__init__(build)
        self._changes = changes

    def _compile(self) -> tuple[str, Sequence[Any]]:
        query: Any = self._build().query.chain(UpdateQuery)
        query.add_update_values(self._changes)
        sql, marks = query.get_compiler(connection=connection).as_sql()
        return sql, marks

    def run(self, **values: Any) -> int:
        """Change the rows; returns how many there were."""
        sql, marks = self._compiled()
        with connection.cursor() as cursor:
            cursor.execute(sql, self._bound(marks, values))
            changed: int = cursor.rowcount
        return changed


_Row = TypeVar("_Row", bound=Model)
_INSERTS: dict[type[Model], tuple[str, list[Field[Any, Any]]]] = {}


def insert(row: _Row) -> _Row:
    """Save a new row by its model's prepared statement. Its values are plain ones, and no signal is sent."""
    model = type(row)
    if model not in _INSERTS:
        _INSERTS[model] = _compiled_insert(row)
    sql, fields = _INSERTS[model]
    values = [field.get_db_prep_save(field.pre_save(row, add=True), connection) for field in fields]
    with connection.cursor() as cursor:
        cursor.execute(sql, values)
        row.pk = cursor.fetchone()[0]
    row._state.adding, row._state.db = False, DEFAULT_DB_ALIAS
    return row


def insert_all(model: type[Model], names: Sequence[str], rows: Iterable[Sequence[Any]]) -> None:
    """Save new rows of a model by one statement: the values of the fields of those names, as the database has them. No
    objects are made of them, and none is checked but by the database."""
    quoted = connection.ops.quote_name
    of_name = {field.name: str(field.column) for field in model._meta.concrete_fields}
    columns = ", ".join(quoted(of_name[name]) for name in names)
    marks = ", ".join(["%s"] * len(names))
    with connection.cursor() as cursor:
        cursor.executemany(
            f"INSERT INTO {quoted(model._meta.db_table)} ({columns}) VALUES ({marks})",  # noqa: S608  # names alone
            [tuple(row) for row in rows],
        )


def _compiled_insert(row: Model) -> tuple[str, list[Field[Any, Any]]]:
    key = row._meta.pk
    assert key is not None
    fields = [field for field in row._meta.concrete_fields if field is not key or row.pk is not None]
    query = InsertQuery(type(row))
    query.insert_values(fields, [row])
    compiler: Any = query.get_compiler(connection=connection)
    compiler.returning_fields = [key]
    ((sql, _),) = compiler.as_sql()
    return sql, fields
