"""Reference rates as they are kept: their sizes, and what they tell at one."""

from __future__ import annotations

import re
from collections.abc import Iterable
from decimal import Decimal
from typing import Any

from ...core.numbers.entry import kept, read_entry
from ...core.numbers.rounding import exact
from ...core.numbers.units import unit
from ...core.numbers.written import plain
from ...core.pricing import reference
from ...core.refusals import BadEntry
from ...store.models import BuildUp, ReferenceSize

_BARE = re.compile(r"\d+(?:\.\d+)?")


def sizes_of(row: BuildUp) -> list[ReferenceSize]:
    """What a reference tells, from its smallest size up."""
    rows = ReferenceSize.those(ReferenceSize.build_up, [row.id], ReferenceSize.id)
    return sorted(rows, key=lambda each: size_in(each.size, row.sized_in))


def tables_of(build_up_ids: Iterable[int]) -> dict[int, list[reference.Known]]:
    """What references tell, as the core takes it, by reference; those without a size are missing."""
    rows = ReferenceSize.those(ReferenceSize.build_up, build_up_ids)
    heads = {row.id: row for row in BuildUp.those(BuildUp.id, {row.build_up_id for row in rows})}
    tables: dict[int, list[reference.Known]] = {}
    for row in rows:
        row.build_up = heads[row.build_up_id]
        tables.setdefault(row.build_up_id, []).append(known_size(row))
    return tables


def read_references(rows: list[Any]) -> None:
    """Read the references that lines draw on, each at its size; where one can't be read there, why not."""
    tables = tables_of({row.nested_id for row in rows})
    for row in rows:
        try:
            row.reading = reading_of(row.nested, tables.get(row.nested_id, []), row.size)
        except BadEntry as refusal:
            row.reading = refusal


def known_size(row: ReferenceSize) -> reference.Known:
    """A row of a reference as the core takes it."""
    parts = {part: value for part in reference.PARTS if (value := getattr(row, part)) is not None}
    return reference.Known(size_in(row.size, row.build_up.sized_in), parts, row.whole)


def size_in(entry: str, symbol: str) -> Decimal:
    """A size as it was typed, in a reference's unit of sizes.

    Raises:
        BadEntry: it can't be read, or is below zero.
    """
    return exact(read_entry(entry, symbol, field="size", minimum=0) / unit(symbol).size)


def kept_size(text: str, symbol: str) -> str:
    """A size that was typed, as it is kept: a bare number is in the reference's own unit, whatever the
    project measures in.

    Raises:
        BadEntry: it can't be read.
    """
    bare = plain(text.strip(), "size")
    return bare if _BARE.fullmatch(bare) else kept(text, symbol, field="size")


def reading_of(row: BuildUp, table: Iterable[reference.Known], size: str) -> reference.Reading:
    """A reference read at a size.

    Raises:
        BadEntry: no size is said, or it can't be read there.
    """
    if not size.strip():
        raise BadEntry(f"It isn't said at which {row.sized_by or 'size'} it is read.", field="size")
    return reference.read(list(table), size_in(size, row.sized_in), row.sized_in)
