"""What items come to: the quantity lines they draw on, or what was typed."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal
from functools import lru_cache
from typing import Any

from ...core.numbers.entry import read_entry
from ...core.numbers.rounding import DEFAULT_PLACES, billed
from ...core.numbers.units import unit
from ...core.pricing import bill as bill_rules
from ...store.database import database
from ...store.models import Bill, ItemLink, Project, Section

# The elements are named too: in the shadow, where tables are views, a join alone reads all of them.
_DRAWN_ON = """
SELECT l.item_id, l.factor, l.output, l.part, e.id, e.mark, q.label, q.unit, q.net, p.net FROM item_link l
JOIN element e ON e.id = l.element_id JOIN quantity_line q ON q.element_id = e.id AND q.output = l.output
LEFT JOIN quantity_part p ON p.element_id = e.id AND p.output = l.output AND p.split = l.split
AND p.part = l.part AND p.element_id = ANY(%s)
WHERE l.item_id = ANY(%s) AND e.id = ANY(%s) AND q.element_id = ANY(%s) ORDER BY l.id"""


def core_links(item_ids: Iterable[int]) -> dict[int, list[bill_rules.Link]]:
    """What items draw on, as the core takes it: quantity lines, or named parts of them."""
    wanted = list(item_ids)
    found: dict[int, list[bill_rules.Link]] = {item_id: [] for item_id in wanted}
    drawn_on = list(ItemLink.column(ItemLink.element, ItemLink.item, wanted))
    asked = (drawn_on, wanted, drawn_on, drawn_on)
    rows = database.execute_sql(_DRAWN_ON, asked) if drawn_on else ()
    for item, factor, output, part, element, mark, label, symbol, net, of_part in rows:
        name = f"{label} in {mark}" + (f", {part}" if part else "")
        drawn = net if not part else of_part or 0.0  # a part that is no more gives nothing
        link = f"quantity:{element}:{output}"
        found[item].append(bill_rules.Link(drawn, symbol, read_entry(factor, ""), name, link))
    return found


def places_of(project: Project) -> dict[str, int]:
    """A project's rounding rules: decimal places per unit."""
    return {**DEFAULT_PLACES, **project.rounding}


def quantity_of(item: Any, links: list[bill_rules.Link], places: dict[str, int], period: str = "") -> Decimal:
    """What an item comes to as it is measured or typed; a time-related charge lasts as long as the work
    (``period``) where nothing else is said. Sums have none."""
    if item.kind not in bill_rules.MEASURED:
        return Decimal(0)
    if item.typed_quantity.strip():
        return billed(_typed_quantity(item.typed_quantity, item.unit), item.unit, places)
    if item.kind == "time" and not links:
        return billed(_typed_quantity(period, item.unit), item.unit, places) if period else Decimal(0)
    return bill_rules.item_quantity(links, item.unit, places)


def periods_of(section_ids: Iterable[int]) -> dict[int, str]:
    """How long the work of the bills lasts that sections are in."""
    bill_of = {row.id: row.bill_id for row in Section.those(Section.id, set(section_ids))}
    periods = {row.id: row.period for row in Bill.those(Bill.id, set(bill_of.values()))}
    return {section: periods[bill] for section, bill in bill_of.items()}


@lru_cache(maxsize=20_000)
def _typed_quantity(text: str, symbol: str) -> float:
    return read_entry(text, symbol, field="quantity") / unit(symbol).size
