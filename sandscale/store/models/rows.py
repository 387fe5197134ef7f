"""What every row is.

Rows are read and kept by statements written out once per table and column: the many small ones of an action
cost more to build by the mapper, each time, than to ask.
"""

from __future__ import annotations

from collections import namedtuple
from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import UTC, datetime
from functools import lru_cache, partial
from itertools import islice
from typing import Any, ClassVar, Self

from peewee import OP, AutoField, DecimalField, Expression, Field, ForeignKeyField, IntegerField, Model

from ..database import database
from ..spans import spans


def now() -> datetime:
    """The time, in UTC without zone, as the tables keep it."""
    return datetime.now(UTC).replace(tzinfo=None)


_AT_ONCE = 10_000  # new rows written by one statement
_BY_AND_BY = 400  # and such that are written over
_MANY, _THIN = 100, 2  # ids looked for by what they lie between, and which part of all there they are
_BEYOND = {"integer": 2**31, "bigint": 2**63}


class Row(Model):
    """Any row."""

    derived: ClassVar[frozenset[str]] = frozenset()

    class Meta:
        database = database
        legacy_table_names = False

    @classmethod
    def those(cls, key: Field, values: Iterable[Any], *order: Field, **same: Any) -> list[Self]:
        """The rows in whose column ``key`` stands one of some values, and in others just what is given;
        ordered by columns."""
        wanted = list(values)
        if not wanted:
            return []
        fields = tuple(cls._meta.sorted_fields)
        sought = _sought(key, wanted)
        statement = _reading(cls, fields, key, order, tuple(same), len(sought))
        names = tuple(field.name for field in fields)
        found = database.execute_sql(statement, (*sought, *same.values())).fetchall()
        return [cls._read(names, row) for row in found]

    @classmethod
    def some(cls, fields: Sequence[Field], key: Field, values: Iterable[Any], *order: Field) -> list[Any]:
        """Some columns of the rows in whose column ``key`` stands one of some values, named as in a row
        (``build_up_id``); ordered by columns. For thousands at once: they are no models, which take longer to
        be made and asked."""
        wanted = list(values)
        if not wanted:
            return []
        sought = _sought(key, wanted)
        found = database.execute_sql(_reading(cls, tuple(fields), key, order, (), len(sought)), sought)
        return list(map(_some(cls, tuple(fields)), found.fetchall()))

    @classmethod
    def one(cls, row_id: int) -> Self | None:
        """The row of an id; None where there is none."""
        return next(iter(cls.those(cls._meta.primary_key, [row_id])), None)

    @classmethod
    def get_by_id(cls, pk: int) -> Self:
        """The row of an id.

        Raises:
            DoesNotExist: there is none.
        """
        if (row := cls.one(pk)) is None:
            raise cls.DoesNotExist(pk)
        return row

    @classmethod
    def get(cls, *query: Any, **filters: Any) -> Self:
        """The first row that a question finds; where all it asks for is an id, as of a row that another
        names, it is read like any of that id.

        Raises:
            DoesNotExist: there is none.
        """
        match query:
            case (Expression(lhs=column, op=OP.EQ, rhs=int(row_id)),):
                if column is cls._meta.primary_key and not filters:
                    return cls.get_by_id(row_id)
        return super().get(*query, **filters)  # type: ignore[no-any-return]

    @classmethod
    def _read(cls, names: tuple[str, ...], values: tuple[Any, ...]) -> Self:
        row = cls(__no_default__=True)
        row.__data__ = dict(zip(names, values, strict=True))
        return row

    @classmethod
    def column(cls, wanted: Field, key: Field, values: Iterable[Any]) -> set[Any]:
        """What stands in a column of the rows in whose column ``key`` stands one of some values."""
        given = list(values)
        if not given:
            return set()
        sought = _sought(key, given)
        found = database.execute_sql(_picking(cls, wanted, key, len(sought)), sought)
        return {value for (value,) in found.fetchall()}

    @classmethod
    def add(cls, rows: Sequence[Mapping[str, Any]]) -> list[int]:
        """Write new rows, the same columns of each; gives their ids, in order."""
        made: list[int] = []
        for start in range(0, len(rows), _AT_ONCE):
            some = rows[start : start + _AT_ONCE]
            fields = [cls._meta.fields[name] for name in some[0]]
            columns = [_array(field, [row[field.name] for row in some]) for field in fields]
            made += [each for (each,) in database.execute_sql(_adding(cls, tuple(some[0])), columns)]
        return made

    @classmethod
    def keep(cls, fields: Sequence[Field], rows: Iterable[Sequence[Any]]) -> set[int]:
        """Write columns of rows, each told by its id and what is to stand in them. Gives the ids.

        Those that are reckoned as they are asked for are written by and by, the first ones while more are
        reckoned where writing isn't waited for."""
        kept, coming = set[int](), iter(rows)
        while some := list(islice(coming, _BY_AND_BY)):
            ids, *values = zip(*some, strict=True)
            given = _array(cls._meta.primary_key, ids)
            columns = [_array(field, each) for field, each in zip(fields, values, strict=True)]
            least, most = min(ids), max(ids)
            among = (least, most) if _lie_close(len(ids), least, most) else (given,)
            database.execute_sql(_keeping(cls, tuple(fields), len(among)), (given, *columns, *among))
            kept.update(ids)
        return kept


@lru_cache(maxsize=512)
def _some(table: type[Row], fields: tuple[Field, ...]) -> Callable[[tuple[Any, ...]], Any]:
    """What makes a row of some columns; what else is found out about it can be set on it."""
    names = [getattr(field, "object_id_name", field.name) for field in fields]
    made: Any = type(f"Some{table.__name__}", (namedtuple("Columns", names),), {})
    return partial(tuple.__new__, made)


def _array(field: Field, values: Sequence[Any]) -> Any:
    """Values of a column as one value of a statement. Numbers are written out here: told one by one they
    took longer to be passed on than the statement to be done."""
    if isinstance(field, DecimalField | IntegerField | ForeignKeyField):
        # Asked for None among them, each Decimal would be compared with it: slower than to write it out.
        return f"{{{','.join(map(str, values)).replace('None', 'NULL')}}}"
    return [field.db_value(value) for value in values]


def _sought(field: Field, values: list[Any]) -> tuple[Any, ...]:
    """Values looked for in a column: all of them, or what they lie between and their spans, where they lie
    close. A number that no id can be is no row's."""
    if isinstance(field, IntegerField | ForeignKeyField):
        kind = _kind(field).lower()
        beyond, ids = _BEYOND[kind], set(values)
        ids.discard(None)
        least, most = min(ids, default=0), max(ids, default=0)
        if not -beyond < least <= most < beyond:
            return _sought(field, [value for value in ids if -beyond < value < beyond])
        if kind == "integer" and _lie_close(len(ids), least, most):
            within = ",".join(f"[{first},{last}]" for first, last in spans(ids))
            return least, most, f"{{{within}}}"
        values = list(ids)
    return (_array(field, values),)


def _lie_close(number: int, least: int, most: int) -> bool:
    """Whether ids are many, and most of all between the least and the most of them."""
    return number > _MANY and most - least < _THIN * number


@lru_cache(maxsize=512)
def _reading(
    table: type[Row],
    fields: tuple[Field, ...],
    key: Field,
    order: tuple[Field, ...],
    same: tuple[str, ...],
    sought: int,
) -> str:
    columns = ", ".join(f'"{field.column_name}"' for field in fields)
    ordered = ", ".join(f'"{field.column_name}"' for field in order)
    statement = f'SELECT {columns} FROM "{table._meta.table_name}" WHERE {_among(key, sought)}'
    statement += "".join(f' AND "{table._meta.fields[name].column_name}" = %s' for name in same)
    return statement + (f" ORDER BY {ordered}" if order else "")


def _among(key: Field, sought: int) -> str:
    """That one of the values looked for stands in a column; of how many arguments they are told in."""
    column = f'"{key.column_name}"'
    if sought == 1:
        return f"{column} = ANY(%s::{_kind(key)}[])"
    return f"{column} BETWEEN %s AND %s AND {column} <@ %s::int4multirange"


@lru_cache(maxsize=512)
def _picking(table: type[Row], wanted: Field, key: Field, sought: int) -> str:
    column = f'"{wanted.column_name}"'
    each = "" if wanted.primary_key else "DISTINCT "
    statement = f'SELECT {each}{column} FROM "{table._meta.table_name}" WHERE {_among(key, sought)}'
    return statement + (f" AND {column} IS NOT NULL" if wanted.null else "")


@lru_cache(maxsize=512)
def _adding(table: type[Row], names: tuple[str, ...]) -> str:
    fields = [table._meta.fields[name] for name in names]
    columns = ", ".join(f'"{field.column_name}"' for field in fields)
    given = ", ".join(f"%s::{_kind(field)}[]" for field in fields)
    return f'INSERT INTO "{table._meta.table_name}" ({columns}) SELECT * FROM unnest({given}) RETURNING id'


@lru_cache(maxsize=512)
def _keeping(table: type[Row], fields: tuple[Field, ...], sought: int) -> str:
    columns = [(f'"{field.column_name}"', _kind(field)) for field in fields]
    # How many they are is kept from the planner: told, it reads the whole table for some hundreds.
    given = ", ".join(f"(SELECT %s::{kind}[])" for kind in ("integer", *(kind for _, kind in columns)))
    setting = ", ".join(f"{column} = kept.{column}" for column, _ in columns)
    named = ", ".join(["row_id", *(column for column, _ in columns)])
    # Also by themselves: in the shadow, where tables are views, a join alone reads all of them.
    among = "= ANY((SELECT %s::integer[])::integer[])" if sought == 1 else "BETWEEN %s AND %s"
    return (
        f'UPDATE "{table._meta.table_name}" AS written SET {setting} FROM unnest({given}) AS kept ({named}) '
        f"WHERE written.id = kept.row_id AND written.id {among}"
    )


@lru_cache(maxsize=512)
def _kind(field: Field) -> str:
    """What a column holds, as a statement writes it."""
    if isinstance(field, AutoField):
        return "integer"
    context = database.get_sql_context()
    # Without its size: a cast cuts to it in silence, the column refuses what is too long.
    return str(context.sql(field.ddl_datatype(context)).query()[0]).partition("(")[0]
