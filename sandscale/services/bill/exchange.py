"""Bills in the open exchange format."""

from __future__ import annotations

from ...formats import gaeb_xml
from ...formats.gaeb_xml import ExchangeBill, ExchangeItem, ExchangeSection
from ...store.models import Project
from ..keeping.acting import Actor
from ..keeping.project_file import file_name
from .reading import bill_of, bill_view
from .views import ItemView


def exchanged(actor: Actor, bill_id: int | None = None) -> tuple[str, bytes]:
    """A bill in the exchange format, with quantities and prices; with its file name."""
    bill, view = bill_of(actor, bill_id), bill_view(actor, bill_id)
    project = Project.get_by_id(actor.project_id)
    tops, open_sections = list[ExchangeSection](), list[ExchangeSection]()
    for section in view.sections:
        made = ExchangeSection(section.title, [_exchanged(item) for item in section.items])
        del open_sections[section.depth :]
        (open_sections[-1].inner if open_sections else tops).append(made)
        open_sections.append(made)
    document = ExchangeBill(
        project.name, bill.title, view.currency, bill.dated or project.price_date, view.items_total, tops
    )
    return f"{file_name(bill.title)}.X84", gaeb_xml.write(document)


def _exchanged(item: ItemView) -> ExchangeItem:
    return ExchangeItem(
        item.kind, item.description, item.note, item.unit, item.quantity, item.rate, item.amount
    )
