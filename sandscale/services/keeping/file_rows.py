"""Values of a project file's rows, held to the kinds and sizes of their columns."""

from __future__ import annotations

import math
from typing import Any

from peewee import (
    BooleanField,
    CharField,
    DateField,
    DecimalField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    TextField,
)
from playhouse.postgres_ext import BinaryJSONField

from ...core.makeups.makeup import LARGEST_SOURCE
from ...core.refusals import Refusal

LONGEST = 500  # characters, as in any field that is typed into
LONGEST_OF = {"source": LARGEST_SOURCE, "content": 10**9}
MOST_VALUES, DEEPEST = 50_000, 6  # in a value of many parts
_LARGEST_WHOLE = 2**31 - 1
_LARGEST_NUMBER = 1e15


def check_row(model: Any, row: dict[str, Any]) -> None:
    """Refuse a row with a value that its column can't be typed to.

    Raises:
        Refusal: the first such value is told.
    """
    for name, value in row.items():
        column = model._meta.fields[name]
        if value is None and column.null:
            continue
        if not _fits(column, name, value):
            raise Refusal(f"It holds a value of the wrong kind or size in “{name}”.", field=name)


def _fits(column: Any, name: str, value: Any) -> bool:
    if isinstance(column, BooleanField):
        return isinstance(value, bool)
    if isinstance(column, ForeignKeyField | IntegerField):
        return _is_whole(value)
    if isinstance(column, DoubleField):
        return _is_number(value)
    if isinstance(column, DateField | DecimalField):
        return isinstance(value, str) and len(value) <= 40
    if isinstance(column, TextField | CharField):
        return _is_text(value, LONGEST_OF.get(name, LONGEST))
    return isinstance(column, BinaryJSONField) and _is_plain(value)


def _is_whole(value: Any) -> bool:
    return type(value) is int and abs(value) <= _LARGEST_WHOLE


def _is_number(value: Any) -> bool:
    number = type(value) in (int, float) and math.isfinite(value)
    return number and abs(value) <= _LARGEST_NUMBER


def _is_text(value: Any, longest: int) -> bool:
    return isinstance(value, str) and len(value) <= longest and "\x00" not in value


def _is_plain(value: Any) -> bool:
    """Whether a value of many parts holds nothing but text, numbers and yes or no, and not too many."""
    layer, left = [value], MOST_VALUES
    for _ in range(DEEPEST):
        inner: list[Any] = []
        for each in layer:
            if isinstance(each, dict):
                if not all(_is_text(key, LONGEST) for key in each):
                    return False
                inner += each.values()
            elif isinstance(each, list):
                inner += each
            elif not (each is None or isinstance(each, bool) or _is_number(each) or _is_text(each, LONGEST)):
                return False
        layer, left = inner, left - len(inner)
        if left < 0:
            return False
        if not layer:
            return True
    return False
