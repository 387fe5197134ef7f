"""What a revision did to the bill, as a file written by a job."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal

from ...reports.works import ChainageTable, TableColumn
from ...store.models import Job
from ..bill.papers import tables_written
from ..keeping.jobs import Outcome, Progress, reader_of
from .revised import revised
from .views import RevisedItem


def revision_of(job: Job, _progress: Progress) -> Outcome:
    """The items a revision moved, as PDF or XLSX."""
    actor = reader_of(job)
    view = revised(actor, job.arguments["revision"])
    note = f"Revision {view.letter} of {view.number} after {view.former}, amounts in {view.currency}"
    if view.near:
        note += f"; not settled: {view.near} figure{'s' * (view.near > 1)} near a change to be looked at"
    here = [item for item in view.items if item.measured_here]
    others = [item for item in view.items if not item.measured_here]
    tables = [_items(f"Measured on {view.number}", here)] if here else []
    tables += [_items("Moved otherwise since", others)] if others else []
    names = ["Bill before", "Bill now", "Difference"]
    sums = [view.before, view.after, view.after - view.before]
    tables.append(ChainageTable("Bill", [_words("Bill", names), TableColumn("Amount", "", _numbers(sums))]))
    return tables_written(actor, job, "Revision", note, tables)


def _words(title: str, values: Sequence[str]) -> TableColumn:
    return TableColumn(title, "", list(values))


def _numbers(values: Sequence[Decimal | None]) -> list[float | str | None]:
    return [None if value is None else float(value) for value in values]


def _items(name: str, items: Sequence[RevisedItem]) -> ChainageTable:
    by_quantity, otherwise = ([getattr(i, of) for i in items] for of in ("by_quantity", "otherwise"))
    columns = [
        _words("Item", [i.ref for i in items]), _words("Description", [i.description for i in items]),
        _words("Unit", [i.unit for i in items]),
        TableColumn("Quantity before", "", _numbers([i.quantity_before for i in items])),
        TableColumn("after", "", _numbers([i.quantity_after for i in items])),
        TableColumn("Rate", "", _numbers([i.rate for i in items])),
        TableColumn("By quantity", "", _numbers(by_quantity), total=float(sum(by_quantity))),
        TableColumn("Otherwise", "", _numbers(otherwise), total=float(sum(otherwise))),
    ]  # fmt: skip
    return ChainageTable(name, columns, held=2)
