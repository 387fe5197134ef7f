"""Reports and comparisons of bills as files, written by jobs."""

from __future__ import annotations

from typing import Any

from ...core.refusals import BadEntry
from ...reports import bill_tables
from ...reports.bill_tables import BillTables
from ...reports.works import ChainageTable, TableColumn
from ...store.models import Job, Project
from ..keeping.acting import Actor
from ..keeping.jobs import Outcome, Progress, reader_of
from ..keeping.project_file import file_name
from .compared import compared
from .exchange import exchanged
from .received import given_back
from .report import report
from .views import ComparedView, PairView, ReportTable, ReportView, StoodView

BY_WORDS = {
    "section": "by section", "location": "by location", "element": "by element", "sheet": "by sheet",
    "family": "by family", "cost": "by kind of cost", "resource": "by resource", "stage": "by stage",
    "stretch": "by stretch",
}  # fmt: skip


def given_back_of(job: Job, _progress: Progress) -> Outcome:
    """A client's workbook, priced."""
    return given_back(reader_of(job), job.arguments["bill"])


def exchanged_of(job: Job, _progress: Progress) -> Outcome:
    """A bill in the exchange format."""
    return exchanged(reader_of(job), job.arguments.get("bill"))


def report_of(job: Job, _progress: Progress) -> Outcome:
    """A bill by what is asked of it, as PDF or XLSX."""
    actor, asked = reader_of(job), job.arguments
    if not asked.get("grouped"):
        raise BadEntry("Nothing to report by was chosen.", field="grouped", remedy="Choose one at least.")
    view = report(
        actor, asked["grouped"], asked.get("bill"), adjustments=asked.get("adjustments", ()),
        subcontract=asked.get("subcontract", True),
    )  # fmt: skip
    note = f"{view.bill}, amounts in {view.currency}"
    note += "" if view.subcontract else ", without subcontract"
    along = (1, 1 + len(view.adjustments)) if view.adjustments else None
    return tables_written(actor, job, "Report", note, [_grouped(view, table) for table in view.tables], along)


def _grouped(view: ReportView, table: ReportTable) -> ChainageTable:
    rows = table.rows
    money = [TableColumn("Items", "", [float(r.amount) for r in rows], total=float(table.amount))]
    for at, name in enumerate(view.adjustments):
        added = [float(r.added[at]) for r in rows]
        money.append(TableColumn(name, "", added, total=sum(added)))
    if view.adjustments:
        money.append(TableColumn("Together", "", [float(r.total) for r in rows], total=float(table.total)))
    share = TableColumn("% of it", "", [r.share * 100 for r in rows], places=1)
    names = TableColumn(table.by.capitalize(), "", [r.name for r in rows])
    return ChainageTable(BY_WORDS[table.by], [names, *money, share])


def compared_of(job: Job, _progress: Progress) -> Outcome:
    """Two bills held against one another, as PDF or XLSX."""
    actor, asked = reader_of(job), job.arguments
    view = compared(actor, asked["before"], asked["after"])
    note = f"{view.before.title} and {view.after.title}, amounts in {view.after.currency}"
    return tables_written(actor, job, "Bills compared", note, [_items(view), _foot(view)])


def _items(view: ComparedView) -> ChainageTable:
    def of(pair: PairView, name: str) -> Any:
        item: StoodView | None = pair.after or pair.before
        return getattr(item, name)

    def side(which: str, name: str) -> list[float | str | None]:
        items = [getattr(pair, which) for pair in view.pairs]
        values = [getattr(item, name) if item else None for item in items]
        return [None if value is None else float(value) for value in values]

    pairs = view.pairs
    what = ["new" if p.before is None else "gone" if p.after is None else ", ".join(p.differs) for p in pairs]
    columns = [
        TableColumn("Item", "", [of(p, "ref") for p in pairs]),
        TableColumn("Description", "", [of(p, "description") for p in pairs]),
        TableColumn("What", "", what), TableColumn("Unit", "", [of(p, "unit") for p in pairs]),
        TableColumn("Quantity before", "", side("before", "quantity")),
        TableColumn("after", "", side("after", "quantity")),
        TableColumn("Rate before", "", side("before", "rate")),
        TableColumn("after", "", side("after", "rate")),
        TableColumn("Amount before", "", side("before", "amount")),
        TableColumn("after", "", side("after", "amount")),
        TableColumn("Moved", "", [float(p.moved) for p in pairs], total=float(view.moved)),
    ]  # fmt: skip
    return ChainageTable("Items that differ", columns, held=2)


def _foot(view: ComparedView) -> ChainageTable:
    def side(which: str) -> list[float | str | None]:
        values = [getattr(line, which) for line in view.foot]
        return [None if value is None else float(value) for value in values]

    names = TableColumn("At the foot", "", [line.name for line in view.foot])
    before, after = TableColumn("Before", "", side("before")), TableColumn("After", "", side("after"))
    return ChainageTable("Foot", [names, before, after])


def tables_written(
    actor: Actor, job: Job, title: str, note: str, tables: list[ChainageTable],
    along: tuple[int, int] | None = None,
) -> Outcome:  # fmt: skip
    """Tables as the file that a job asks for, PDF or XLSX."""
    project = Project.get_by_id(actor.project_id)
    document = BillTables(project.name, project.client, title, note, tables, along)
    kind = job.arguments.get("file", "pdf")
    content = bill_tables.xlsx(document) if kind == "xlsx" else bill_tables.pdf(document)
    return f"{file_name(project.name)} {title.lower()}.{kind}", content
