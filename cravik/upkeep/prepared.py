"""Queries that are built and compiled once in a process, and run with other values ever after.

Django builds and compiles a query anew each time that it is asked, which on the way of every payment costs several
times what the database needs to answer it. A prepared query is made of the same querysets, with ``Param`` where a value
stands; only its values are bound anew.

    UNDER_WAY = PreparedSelect(lambda: Visit.objects.filter(visitor=Param("visitor")).values_list("id")[:1])
    UNDER_WAY.first(visitor="…")

Tests hold each of them to what Django's own way does. Compilers and ``Model._state`` are no public parts of Django: see
docs/decisions/0007.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from threading import Lock
from types import NoneType
from typing import Any, NamedTuple, TypeVar

from django.db import DEFAULT_DB_ALIAS, connection, models
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


#: Turn one column's value from the database's into Python's, one after the other.
_Converters = tuple[int, Sequence[Callable[[Any, Any, Any], Any]], Any]


class _Statement(NamedTuple):
    """A compiled query, which never changes: its SQL, its parameters with marks among them, and what becomes of the
    columns of its rows."""

    sql: str
    marks: Sequence[Any]
    converters: Sequence[_Converters] = ()


#: Held while any of them is compiled, which happens once in a process.
_COMPILING = Lock()


class _Prepared:
    """A query that is compiled by the first thread that needs it and shared by all."""

    def __init__(self, build: Callable[[], QuerySet[Any, Any]]) -> None:
        self._build = build
        self._statement: _Statement | None = None

    def _compiled(self) -> _Statement:
        if self._statement is None:
            with _COMPILING:
                if self._statement is None:
                    # One assignment of something whole: no thread ever sees half of it.
                    self._statement = self._compile()
        return self._statement

    def _compile(self) -> _Statement:
        raise NotImplementedError

    def _bound(self, marks: Sequence[Any], values: dict[str, Any]) -> list[Any]:
        return [self._value(mark, values) if isinstance(mark, _Mark) else mark for mark in marks]

    def _value(self, mark: _Mark, values: dict[str, Any]) -> Any:
        value = values[mark.name]
        return value if mark.field is None else mark.field.get_db_prep_value(value, connection)


class PreparedSelect(_Prepared):
    """A queryset of ``values_list``; its rows are tuples."""

    def _compile(self) -> _Statement:
        return _compiled_select(self._build())

    def rows(self, **values: Any) -> list[tuple[Any, ...]]:
        """Every row, as the queryset would have it."""
        sql, marks, converters = self._compiled()
        with connection.cursor() as cursor:
            cursor.execute(sql, self._bound(marks, values))
            found: list[tuple[Any, ...]] = cursor.fetchall()
        return [_converted(row, converters) for row in found] if converters else found

    def first(self, **values: Any) -> tuple[Any, ...] | None:
        """The first row, or None. The queryset itself says how many are looked for."""
        return next(iter(self.rows(**values)), None)


def _converted(row: tuple[Any, ...], converters: Sequence[_Converters]) -> tuple[Any, ...]:
    changed = list(row)
    for column, convert, what in converters:
        for each in convert:
            changed[column] = each(changed[column], what, connection)
    return tuple(changed)


def _compiled_select(rows: QuerySet[Any, Any]) -> _Statement:
    compiler: Any = rows.query.get_compiler(connection=connection)
    sql, marks = compiler.as_sql()
    selected = [each[0] for each in compiler.select[: compiler.col_count]]
    of_column: dict[int, Any] = compiler.get_converters(selected)
    return _Statement(sql, marks, [(column, convert, what) for column, (convert, what) in of_column.items()])


class PreparedUpdate(_Prepared):
    """An update of the rows of a queryset; ``changes`` as ``QuerySet.update`` takes them.

    ``back`` names fields of the row itself that ``changed`` reads in the same statement (``UPDATE … RETURNING``, as
    SQLite and PostgreSQL have it).
    """

    def __init__(self, build: Callable[[], QuerySet[Any, Any]], *, back: Sequence[str] = (), **changes: Any) -> None:
        super().__init__(build)
        self._back, self._changes = back, changes

    def _compile(self) -> _Statement:
        query: Any = self._build().query.chain(UpdateQuery)
        query.add_update_values(self._changes)
        sql, marks = query.get_compiler(connection=connection).as_sql()
        if not self._back:
            return _Statement(sql, marks)
        quoted, meta = connection.ops.quote_name, query.get_meta()
        columns = ", ".join(quoted(meta.get_field(name).column) for name in self._back)
        converters = _compiled_select(self._build().values_list(*self._back)).converters
        return _Statement(f"{sql} RETURNING {columns}", marks, converters)

    def changed(self, **values: Any) -> tuple[Any, ...] | None:
        """Change one row, and what ``back`` names of it as it is then; None where there was none."""
        sql, marks, converters = self._compiled()
        with connection.cursor() as cursor:
            cursor.execute(sql, self._bound(marks, values))
            rows: list[tuple[Any, ...]] = cursor.fetchall()
        return _converted(rows[0], converters) if rows else None

    def run(self, **values: Any) -> int:
        """Change the rows; returns how many there were."""
        sql, marks, _ = self._compiled()
        with connection.cursor() as cursor:
            cursor.execute(sql, self._bound(marks, values))
            changed: int = cursor.rowcount
        return changed


_Row = TypeVar("_Row", bound=Model)
#: Values that every field that takes them hands to the database as they are.
_AS_THEY_ARE = frozenset({int, str, bool, NoneType})
_TAKES_THEM = (models.CharField, models.TextField, models.IntegerField, models.BooleanField, models.ForeignKey)
_INSERTS: dict[type[Model], tuple[str, list[tuple[str, Field[Any, Any], bool]]]] = {}


def insert(row: _Row) -> _Row:
    """Save a new row by its model's prepared statement. Its values are plain ones, and no signal is sent."""
    model = type(row)
    if model not in _INSERTS:
        _INSERTS[model] = _compiled_insert(row)
    sql, fields = _INSERTS[model]
    there = row.__dict__
    values = [
        there[name]
        if is_plain and type(there[name]) in _AS_THEY_ARE
        else field.get_db_prep_save(there[name], connection)
        for name, field, is_plain in fields
    ]
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


def _compiled_insert(row: Model) -> tuple[str, list[tuple[str, Field[Any, Any], bool]]]:
    """The statement, and of each column its attribute, its field, and whether that takes plain values as they are."""
    key = row._meta.pk
    assert key is not None
    fields = [field for field in row._meta.concrete_fields if field is not key or row.pk is not None]
    query = InsertQuery(type(row))
    query.insert_values(fields, [row])
    compiler: Any = query.get_compiler(connection=connection)
    compiler.returning_fields = [key]
    ((sql, _),) = compiler.as_sql()
    return sql, [(field.attname, field, isinstance(field, _TAKES_THEM)) for field in fields]
