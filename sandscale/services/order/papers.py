"""Order lists, and what is to be bought, as files; and the letters that orders go out by."""

from __future__ import annotations

from typing import get_args

from ...core.numbers.working import shown
from ...core.refusals import BadEntry
from ...reports import bill_tables
from ...reports.bill_tables import BillTables
from ...reports.works import ChainageTable, TableColumn
from ...store.models import Job, Project, PurchaseOrder, Supplier
from ..keeping.acting import Actor
from ..keeping.jobs import Outcome, Progress, reader_of
from ..keeping.project_file import file_name
from ..people.letters import send
from .grouped import NeededBy, needed_by
from .reading import order_view, ordering_view
from .views import BuyView, NeedGroup, OrderView


def to_buy_of(job: Job, _progress: Progress) -> Outcome:
    """What the bill needs and what to buy, as PDF or XLSX."""
    actor = reader_of(job)
    view = ordering_view(actor)
    kinds = ("labour", "plant", "material", "sundries", "subcontract")
    by_kind = [(kind, [row for row in view.resources if row.kind == kind]) for kind in kinds]
    tables = [needs_table(kind.capitalize(), rows) for kind, rows in by_kind if rows]
    for by in get_args(NeededBy):
        tables.append(_by(by, needed_by(actor, by)))
    return _written(actor, job.arguments.get("file", "pdf"), "What to buy", tables)


def _by(by: NeededBy, groups: list[NeedGroup]) -> ChainageTable:
    rows = [(group.name, row) for group in groups for row in group.rows]
    columns = [
        TableColumn(by.capitalize(), "", [name for name, _ in rows]),
        TableColumn("Resource", "", [row.name for _, row in rows]),
        TableColumn("Unit", "", [row.unit for _, row in rows]),
        TableColumn("Net", "", [float(row.net) for _, row in rows]),
        TableColumn("With waste", "", [float(row.gross) for _, row in rows]),
        TableColumn(
            "Money", "", [float(row.money) for _, row in rows], total=float(sum(row.money for _, row in rows))
        ),
    ]  # fmt: skip
    return ChainageTable(f"By {by}", columns, held=2)


def needs_table(name: str, rows: list[BuyView]) -> ChainageTable:
    """What is needed and bought of some resources, as a table."""
    columns = [
        TableColumn("Resource", "", [r.name for r in rows]), TableColumn("Unit", "", [r.unit for r in rows]),
        TableColumn("Net", "", [float(r.net) for r in rows]),
        TableColumn("With waste", "", [float(r.gross) for r in rows]),
        TableColumn("Sold by", "", [r.sold_by for r in rows]),
        TableColumn("Of", "", [r.supplier for r in rows]),
        TableColumn("Packs to order", "", [float(r.packs) for r in rows]),
        TableColumn("Price", "", [None if r.pack_price is None else float(r.pack_price) for r in rows]),
        TableColumn(
            "Cost", "", [None if r.cost is None else float(r.cost) for r in rows],
            total=float(sum(r.cost or 0 for r in rows)),
        ),
        TableColumn("Ordered", "", [float(r.ordered) for r in rows]),
        TableColumn("Came", "", [float(r.delivered) for r in rows]),
        TableColumn("Stands", "", [r.state for r in rows]),
    ]  # fmt: skip
    return ChainageTable(name, columns)


def order_of(job: Job, _progress: Progress) -> Outcome:
    """An order as PDF or XLSX."""
    actor = reader_of(job)
    if "order" not in job.arguments:
        raise BadEntry("Which order?", field="order")
    view = order_view(actor, job.arguments["order"])
    return order_file(actor, view, job.arguments.get("file", "pdf"))


def order_file(actor: Actor, view: OrderView, kind: str) -> tuple[str, bytes]:
    """The file of an order, with its name."""
    lines = view.lines
    columns = [
        TableColumn("Resource", "", [line.name for line in lines]),
        TableColumn("Sold by", "", [line.sold_by for line in lines]),
        TableColumn("Number", "", [float(line.packs) for line in lines]),
        TableColumn("Holds", "", [float(line.holds) for line in lines]),
        TableColumn("Unit", "", [line.unit for line in lines]),
        TableColumn("Price", "", [None if line.price is None else float(line.price) for line in lines]),
        TableColumn(
            "Cost", "", [None if line.cost is None else float(line.cost) for line in lines],
            total=float(view.cost),
        ),
        TableColumn("Due", "", [f"{line.due:%d %b %Y}" if line.due else "" for line in lines]),
    ]  # fmt: skip
    title = f"Order {view.number} to {view.supplier}"
    return _written(actor, kind, title, [ChainageTable("Lines", columns)])


def _written(actor: Actor, kind: str, title: str, tables: list[ChainageTable]) -> tuple[str, bytes]:
    project = Project.get_by_id(actor.project_id)
    document = BillTables(project.name, project.client, title, f"Amounts in {project.currency}", tables)
    content = bill_tables.xlsx(document) if kind == "xlsx" else bill_tables.pdf(document)
    return f"{file_name(f'{project.name} {title}')}.{'xlsx' if kind == 'xlsx' else 'pdf'}", content


def letter_of(job: Job, _progress: Progress) -> Outcome:
    """Send an order by letter, with its list along."""
    row = PurchaseOrder.get_or_none(PurchaseOrder.id == job.arguments["order"])
    supplier = Supplier.get_or_none(Supplier.id == job.arguments["supplier"])
    if row is None or supplier is None or row.ordered_on is None:
        return None  # taken back meanwhile
    actor = reader_of(job)
    view, project = order_view(actor, row.id), Project.get_by_id(row.project_id)
    listed = "\n".join(
        f"  {shown(line.packs, least=0)} × {line.sold_by} {line.name}"
        + (f", due {line.due:%d %b %Y}" if line.due else "")
        for line in view.lines
    )
    send(
        supplier.email, f"Order {row.number}: {project.name}",
        f"{supplier.name},\n\nwe order for {project.name}:\n\n{listed}\n\n{row.note}\n\n"
        f"Together {shown(view.cost)} {project.currency}. The same as a table goes along.\n\n"
        f"{job.person.name if job.person_id else ''}\n",
        order_file(actor, view, "xlsx"),
    )  # fmt: skip
    return None
