"""Known costs of a reference from a table, seen before they are kept; and out as one."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import Any, Literal

from ...core.numbers.units import is_unit
from ...core.numbers.written import listed
from ...core.pricing.reference import PARTS
from ...core.pricing.sizes import SizeColumn, recognise
from ...core.refusals import BadEntry, Refusal
from ...formats.table import as_csv, cells
from ...reports.book import Book
from ...store.models import BuildUp, Project, ReferenceSize
from ..keeping.acting import Actor
from ..keeping.project_file import file_name
from ..keeping.recording import action, recording
from ..keeping.views import RowRead, Saved, TableRead
from .references import kept_size, size_in, sizes_of
from .sizes import check_size, reference

SAMPLE = 6  # rows shown as they came
MOST_AT_ONCE = 500


def read_sizes(
    actor: Actor, build_up_id: int, content: bytes, name: str, said: Sequence[SizeColumn] | None = None
) -> TableRead:
    """Rows of a file or of the clipboard as they would become sizes of a reference; nothing is kept.

    Args:
        content: CSV or any text in columns, or a workbook.
        name: what the user calls it, for sentences.
        said: what the columns are, where they were put right by hand.

    Raises:
        UnreadableTable: it holds no rows.
    """
    row, table = reference(actor, build_up_id), cells(content, name)
    columns = recognise(table, said)
    symbols = dict(zip(columns.columns, columns.units, strict=False))
    there = {size_in(each.size, row.sized_in) for each in row.sizes}
    rows: list[RowRead] = []
    for at, cells_ in enumerate(table[columns.first :], start=columns.first + 1):
        fields = {c: t for c, cell in zip(columns.columns, cells_, strict=False) if c and (t := cell.strip())}
        symbol = symbols.get("size", "")
        if fields.get("size") and symbol != row.sized_in and is_unit(symbol):
            fields["size"] = f"{fields['size']} {symbol}"
        if fields:
            rows.append(_looked_over(row, at, fields, there))
    return TableRead(
        columns=list(columns.columns),
        heads=list(table[columns.first - 1]) if columns.first else [],
        sample=[list(each) for each in table[columns.first : columns.first + SAMPLE]],
        rows=rows,
        wrong=sum(bool(each.says) for each in rows),
    )


def _looked_over(row: BuildUp, at: int, fields: dict[str, str], there: set[Decimal]) -> RowRead:
    """A row with what keeps it from being taken in; one that is taken in is there for those after it."""
    try:
        size = check_size(_size_of(row, fields), row.sized_in)
        if size in there:
            raise BadEntry("The reference tells of that size already.", field="size")
        there.add(size or Decimal(0))
    except Refusal as refusal:
        return RowRead(line=at, fields=fields, says=refusal.sentence)
    return RowRead(line=at, fields=fields, says="")


def _size_of(row: BuildUp, fields: Mapping[str, str]) -> dict[str, Any]:
    costs = {part: listed(fields[part], part) for part in (*PARTS, "whole") if fields.get(part)}
    if not costs:
        raise BadEntry("It tells no cost.", field="whole")
    return {"size": kept_size(fields.get("size", ""), row.sized_in), **costs}


@action
def add_sizes(actor: Actor, build_up_id: int, rows: Sequence[Mapping[str, str]]) -> Saved:
    """Many sizes of a reference at once, as one change.

    Raises:
        BadEntry: a row can't be; its number is told, and nothing is kept.
    """
    row = reference(actor, build_up_id)
    if len(rows) > MOST_AT_ONCE:
        raise BadEntry(f"{len(rows)} sizes are more than the {MOST_AT_ONCE} taken in at once.", field="rows")
    there = {size_in(each.size, row.sized_in) for each in row.sizes}
    ready = []
    for number, told in enumerate(rows, start=1):
        found = _looked_over(row, number, dict(told), there)
        if found.says:
            raise BadEntry(f"Row {number}: {found.says}", field=f"{number - 1}", remedy="Leave the row out.")
        ready.append(_size_of(row, told))
    empty = dict.fromkeys((*PARTS, "whole"))
    with recording(actor, f"{row.name}: {len(ready)} size{'s' if len(ready) != 1 else ''} taken in") as log:
        log.insert_all(ReferenceSize, [{"build_up": row.id, **empty, **each} for each in ready])
    return log.saved(len(ready))


def sizes_file(actor: Actor, build_up_id: int, form: Literal["csv", "xlsx"]) -> tuple[str, bytes]:
    """A reference as a table that can be read back: its name and its bytes.

    Raises:
        BadEntry: it is no reference.
    """
    row = reference(actor, build_up_id)
    currency = Project.get_by_id(actor.project_id).currency
    money = f"[{currency}/{row.unit}]"
    heads = [f"Size [{row.sized_in}]", *(f"{part.capitalize()} {money}" for part in (*PARTS, "whole"))]
    table = [
        [size_in(each.size, row.sized_in), *(getattr(each, part) for part in (*PARTS, "whole"))]
        for each in sizes_of(row)
    ]
    name = f"{file_name(row.name)}.{form}"
    return name, as_csv([heads, *table]) if form == "csv" else _as_workbook(row, heads, table)


def _as_workbook(row: BuildUp, heads: list[str], table: list[list[Decimal | None]]) -> bytes:
    book = Book()
    sheet = book.sheet(row.name)
    sheet.set_column(0, len(heads) - 1, 18)
    source = ", ".join(part for part in (row.source, row.year) if part)
    told = f"{row.name}, by {row.sized_by or 'size'}; {source}".rstrip("; ")
    sheet.write_string(0, 0, told, book.looks["title"])
    for column, words in enumerate(heads):
        sheet.write_string(2, column, words, book.looks["head"])
    for at, cells_ in enumerate(table, start=3):
        for column, cell in enumerate(cells_):
            if cell is not None:
                sheet.write_number(at, column, float(cell), book.looks["number"])
    return book.content()
