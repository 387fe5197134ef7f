"""What every row is.

Rows are read and kept by statements written out once per table and column: the many small ones of an action
cost more to build by the mapper, each time, than to ask.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import UTC, datetime
from functools import lru_cache
from typing import Any, ClassVar, Self

from peewee import Field, Model

from ..database import database


def now() -> datetime:
    """The time, in UTC without zone, as the tables keep it."""
    return datetime.now(UTC).replace(tzinfo=None)


_AT_ONCE = 10_000  # rows written by one statement


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
        statement, names = _reading(cls, key, order, tuple(same))
        return [cls._read(names, row) for row in database.execute_sql(statement, (wanted, *same.values()))]

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
        return {value for (value,) in database.execute_sql(_picking(cls, wanted, key), (given,))}

    @classmethod
    def add(cls, rows: Sequence[Mapping[str, Any]]) -> list[int]:
        """Write new rows, the same columns of each; gives their ids, in order."""
        made: list[int] = []
        for start in range(0, len(rows), _AT_ONCE):
            some = rows[start : start + _AT_ONCE]
            fields = [cls._meta.fields[name] for name in some[0]]
            columns = [[field.db_value(row[field.name]) for row in some] for field in fields]
            made += [each for (each,) in database.execute_sql(_adding(cls, tuple(some[0])), columns)]
        return made

    @classmethod
    def keep(cls, rows: Mapping[int, Mapping[str, Any]]) -> None:
        """Write columns of rows, by their ids; the same columns of each."""
        every = list(rows.items())
        for start in range(0, len(every), _AT_ONCE):
            some = every[start : start + _AT_ONCE]
            names = tuple(some[0][1])
            fields = [cls._meta.fields[name] for name in names]
            columns = [[field.db_value(row[field.name]) for _, row in some] for field in fields]
            database.execute_sql(_keeping(cls, names), ([row_id for row_id, _ in some], *columns))


@lru_cache(maxsize=512)
def _reading(
    table: type[Row], key: Field, order: tuple[Field, ...], same: tuple[str, ...]
) -> tuple[str, tuple[str, ...]]:
    fields = table._meta.sorted_fields
    columns = ", ".join(f'"{field.column_name}"' for field in fields)
    ordered = ", ".join(f'"{field.column_name}"' for field in order)
    statement = f'SELECT {columns} FROM "{table._meta.table_name}" WHERE "{key.column_name}" = ANY(%s)'
    statement += "".join(f' AND "{table._meta.fields[name].column_name}" = %s' for name in same)
    names = tuple(field.name for field in fields)
    return statement + (f" ORDER BY {ordered}" if order else ""), names


@lru_cache(maxsize=512)
def _picking(table: type[Row], wanted: Field, key: Field) -> str:
    column = f'"{wanted.column_name}"'
    each = "" if wanted.primary_key else "DISTINCT "
    statement = f'SELECT {each}{column} FROM "{table._meta.table_name}" WHERE "{key.column_name}" = ANY(%s)'
    return statement + (f" AND {column} IS NOT NULL" if wanted.null else "")


@lru_cache(maxsize=512)
def _adding(table: type[Row], names: tuple[str, ...]) -> str:
    fields = [table._meta.fields[name] for name in names]
    columns = ", ".join(f'"{field.column_name}"' for field in fields)
    given = ", ".join(f"%s::{_kind(field)}[]" for field in fields)
    return f'INSERT INTO "{table._meta.table_name}" ({columns}) SELECT * FROM unnest({given}) RETURNING id'


@lru_cache(maxsize=512)
def _keeping(table: type[Row], names: tuple[str, ...]) -> str:
    fields = [table._meta.fields[name] for name in names]
    columns = [(f'"{field.column_name}"', _kind(field)) for field in fields]
    given = ", ".join(["%s::bigint[]", *(f"%s::{kind}[]" for _, kind in columns)])
    setting = ", ".join(f"{column} = kept.{column}" for column, _ in columns)
    named = ", ".join(["row_id", *(column for column, _ in columns)])
    return (
        f'UPDATE "{table._meta.table_name}" AS written SET {setting} '
        f"FROM unnest({given}) AS kept ({named}) WHERE written.id = kept.row_id"
    )


def _kind(field: Field) -> str:
    context = database.get_sql_context()
    # Without its size: a cast cuts to it in silence, the column refuses what is too long.
    return str(context.sql(field.ddl_datatype(context)).query()[0]).partition("(")[0]
