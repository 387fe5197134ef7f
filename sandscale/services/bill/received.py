"""A client's bill in a workbook: seen and put right before it is taken in, and given back priced."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from ...core.numbers.written import listed
from ...core.pricing import bill_columns
from ...core.pricing.bill import SUMS
from ...core.pricing.bill_columns import BillColumn, Line
from ...core.refusals import BadEntry, Refusal
from ...formats import bill_workbook, gaeb_xml
from ...formats.bill_workbook import MEDIA_TYPE, Filled, SheetRows, UnreadableBill
from ...store.models import Bill, Item, Section, StoredFile
from ..keeping.acting import Actor, find
from ..keeping.files import keep_file
from ..keeping.recording import Recording, action, recording
from ..keeping.views import Saved
from .bills import new_bill, text
from .reading import ordered_sections
from .views import SheetSeen, WorkbookSeen

SAMPLE, MOST_SAID, LONGEST = 8, 40, 500
_NEEDED: tuple[BillColumn, ...] = ("description", "quantity", "unit", "rate", "amount")
Said = Mapping[
    str, Sequence[BillColumn] | None
]  # the columns of each sheet that is taken; None: as recognised


@dataclass(frozen=True)
class _Sheet:
    """A sheet of a client's workbook as it would be taken in."""

    rows: SheetRows
    columns: tuple[BillColumn, ...]
    first: int  # of its rows, the first that is no head
    lines: tuple[Line, ...]

    @property
    def is_a_bill(self) -> bool:
        """Whether it looks like a bill: its columns have heads, for words and two more at least."""
        return (
            self.first > 0
            and "description" in self.columns
            and sum(each in self.columns for each in _NEEDED) >= 3
        )


def _sheet(rows: SheetRows, said: Sequence[BillColumn] | None) -> _Sheet:
    texts = [cells for _, cells in rows.rows]
    known = bill_columns.recognise(texts, said)
    told = bill_columns.lines(rows.rows[known.first :], known.columns, lambda cell: listed(cell, "quantity"))
    return _Sheet(rows, known.columns, known.first, tuple(told))


def _read(content: bytes, name: str, said: Said | None) -> tuple[list[_Sheet], set[str]]:
    """The sheets of a workbook, and the names of those that are taken in; a bill in the exchange format is
    one sheet, whose columns need no telling."""
    if gaeb_xml.is_exchange(content):
        lines = tuple(gaeb_xml.read(content, name))
        whole = SheetRows(name.rsplit(".", 1)[0] or "Bill", False, ())
        return [_Sheet(whole, (), 0, lines)], {whole.name}
    sheets = [_sheet(rows, (said or {}).get(rows.name)) for rows in bill_workbook.read(content, name)]
    if said is not None:
        return sheets, set(said)
    return sheets, {s.rows.name for s in sheets if s.is_a_bill and not s.rows.hidden}


def seen(content: bytes, name: str, said: Said | None = None) -> WorkbookSeen:
    """What a client's workbook holds; nothing is kept.

    Args:
        content: the file.
        name: what the user calls it.
        said: the sheets that are taken, and what their columns are where they were put right by hand.

    Raises:
        UnreadableBill: it can't be read, or is let out for what it holds.
    """
    sheets, taken = _read(content, name, said)
    return WorkbookSeen(
        sheets=[_seen(sheet, sheet.rows.name in taken) for sheet in sheets],
        items=sum(_counts(sheet)["item"] for sheet in sheets if sheet.rows.name in taken),
    )


def _seen(sheet: _Sheet, taken: bool) -> SheetSeen:
    counts, rows = _counts(sheet), sheet.rows.rows
    says = [f"Row {line.row}, {line.description[:40]}: {line.says}" for line in sheet.lines if line.says]
    begins = max(sheet.first, 0)
    return SheetSeen(
        name=sheet.rows.name, hidden=sheet.rows.hidden, taken=taken, columns=list(sheet.columns),
        heads=list(rows[begins - 1][1]) if begins else [],
        sample=[[str(number), *cells] for number, cells in rows[begins : begins + SAMPLE]],
        sections=counts["section"], items=counts["item"], words=counts["words"], totals=counts["total"],
        says=says[:MOST_SAID], more=max(len(says) - MOST_SAID, 0),
    )  # fmt: skip


def _counts(sheet: _Sheet) -> Counter[str]:
    return Counter(line.what for line in sheet.lines)


@action
def receive_workbook(
    actor: Actor, title: str, dated: date, content: bytes, name: str, said: Said | None = None
) -> Saved:
    """A client's bill from their workbook or in the exchange format, in its own order and numbers; a workbook
    stays with it, to be given back priced.

    Raises:
        BadEntry: the title is empty.
        UnreadableBill: no sheet that is taken holds an item.
    """
    sheets, names = _read(content, name, said)
    taken = [sheet for sheet in sheets if sheet.rows.name in names]
    if not any(line.what == "item" for sheet in taken for line in sheet.lines):
        raise UnreadableBill(
            f"No row of “{name}” is an item of a bill.", field="file",
            remedy="Say which columns hold description, unit and quantity, or choose another file.",
        )  # fmt: skip
    layout = {sheet.rows.name: list(sheet.columns) for sheet in taken if sheet.columns}
    with recording(actor, f"Bill {title.strip()} received") as log:
        kept: dict[str, Any] = {"layout": layout}
        if layout:
            kept["file"] = keep_file(actor.project_id, name[:200], MEDIA_TYPE, content).id
        bill = new_bill(log, "received", title, dated, **kept)
        writer = _Writer(log, bill)
        for sheet in taken:
            writer.sheet(sheet, apart=len(taken) > 1)
    return log.saved(bill)


class _Writer:
    """Writes a client's bill, row by row."""

    def __init__(self, log: Recording, bill: Bill) -> None:
        self.log, self.bill, self.sections = log, bill, 0
        self.open: list[tuple[int, Section]] = []  # the sections one stands in, with how deep each is

    def sheet(self, sheet: _Sheet, *, apart: bool) -> None:
        """A sheet; ``apart``: in a section of its own."""
        self.open = []
        if apart:
            self._section(-1, sheet.rows.name, "")
        items: list[dict[str, Any]] = []
        for line in sheet.lines:
            if line.what == "section":
                self._section(line.depth, line.description, line.number)
            elif line.what != "total":
                if not self.open:
                    self._section(0, sheet.rows.name, "")
                place = f"{sheet.rows.name}!{line.row}"
                stands = {"section": self.open[-1][1].id, "position": line.row, "place": place}
                items.append(_item(line) | stands)
        self.log.insert_all(Item, items)

    def _section(self, depth: int, title: str, number: str) -> None:
        while self.open and self.open[-1][0] >= depth:
            self.open.pop()
        parent = self.open[-1][1].id if self.open else None
        fields = {"title": title[:120].strip() or number, "number": number[:40], "position": self.sections}
        self.open.append((depth, self.log.insert(Section, bill=self.bill.id, parent=parent, **fields)))
        self.sections += 1


def _item(line: Line) -> dict[str, Any]:
    words = " ".join(line.description.split())
    fields: dict[str, Any] = {
        "description": words[:LONGEST].strip(), "unit": line.unit or "nr", "number": line.number[:60],
        "client_text": line.description[:LONGEST], "note": line.note[:LONGEST].strip(), "kind": line.kind,
        "typed_quantity": "", "typed_reason": "", "typed_amount": "", "typed_rate": "", "rate_reason": "",
    }  # fmt: skip
    if line.what == "words":
        return fields | {"kind": "heading"}
    if line.kind in SUMS:
        amount = line.amount if line.amount is not None else line.rate
        return fields | ({"typed_amount": text(amount)} if amount else {})
    if line.quantity is not None:
        fields |= {"typed_quantity": text(line.quantity), "typed_reason": "as received"}
    if line.rate:
        fields |= {"typed_rate": text(line.rate), "rate_reason": "as received"}
    return fields


def given_back(actor: Actor, bill_id: int) -> tuple[str, bytes]:
    """The client's workbook with the rates and amounts of its items filled in, and nothing else changed; with
    its file name.

    Raises:
        Refusal: the bill didn't come in a workbook.
    """
    bill = find(Bill, actor, bill_id)
    if not bill.file_id:
        raise Refusal(f"“{bill.title}” didn't come in a workbook.", remedy="Write it as XLSX instead.")
    file = StoredFile.get_by_id(bill.file_id)
    content = bytes(file.content)
    return f"{file.name.rsplit('.', 1)[0]} priced.xlsx", bill_workbook.fill(content, _filled(bill))


def _filled(bill: Bill) -> Filled:
    """The rate and the amount of every item that has them, by where they stand in the client's workbook."""
    filled: dict[str, dict[tuple[int, int], Decimal]] = {}
    sections = [place.section.id for place in ordered_sections(bill.id)]
    for item in Item.those(Item.section, sections):
        sheet, _, row = item.place.rpartition("!")
        if sheet not in bill.layout or item.kind == "heading" or (item.rate is None and not item.amount):
            continue
        columns, cells = bill.layout[sheet], filled.setdefault(sheet, {})
        rate = item.rate if item.kind not in SUMS else item.amount
        values = {"rate": rate, "amount": None if item.kind == "rate_only" else item.amount}
        for name, value in values.items():
            if name in columns and value is not None:
                cells[int(row), columns.index(name)] = value
    return filled


def checked_layout(layout: Any) -> None:
    """Refuse what isn't the columns of sheets.

    Raises:
        BadEntry: it isn't.
    """
    if not isinstance(layout, dict) or any(
        not isinstance(columns, list) or not set(columns) <= set(bill_columns.COLUMNS)
        for columns in layout.values()
    ):
        raise BadEntry("It doesn't say which columns of the workbook are what.", field="layout")
