"""What must hold of bills from a project file."""

from __future__ import annotations

from typing import Any, get_args

from peewee import fn

from ...core.measurers.measurer import Split
from ...core.numbers.entry import read_entry
from ...core.pricing.bill import AFTER
from ...core.refusals import Refusal
from ...formats.bill_workbook import MEDIA_TYPE, refuse_unsafe
from ...store.models import (
    Adjustment,
    Bill,
    BuildUp,
    Element,
    Item,
    ItemLink,
    QuantityLine,
    RatePart,
    Section,
)
from ..keeping.proving import refuse_empty, refuse_other, refuse_twins
from ..measure.measurers import at_once
from ..rates.priced import SIZED, kept_size_of
from .actions import checked_item
from .adjustments import checked_percent, refuse_many
from .bills import checked_period
from .reading import MOST_DEEP
from .received import checked_layout


def _bill(row: dict[str, Any]) -> None:
    refuse_empty(row, "title")
    refuse_other(row, "kind", ("own", "received", "issued"))
    if checked_period(row["period"]) != row["period"]:
        raise Refusal("Its work lasts no time that could be typed.")
    checked_layout(row["layout"])


def _item(row: dict[str, Any]) -> None:
    if checked_item(row, {}) != row:
        raise Refusal("It is no item that could be typed.")


def _link(row: dict[str, Any]) -> None:
    refuse_empty(row, "output")
    refuse_other(row, "split", ("", *get_args(Split)))
    if bool(row["split"]) != bool(row["part"]):
        raise Refusal("It draws on a part without a split, or on a split without a part.")
    read_entry(row["factor"], "", field="factor")


def _adjustment(row: dict[str, Any]) -> None:
    refuse_empty(row, "name")
    checked_percent(row["percent"])
    if not row["base"].startswith(AFTER):
        refuse_other(row, "base", ("items", "work", "running"))


def _part(row: dict[str, Any]) -> None:
    if read_entry(row["factor"], "", field="factor") == 0:
        raise Refusal("It takes nothing of a rate.")


RULES = {
    "bill": _bill, "section": lambda row: refuse_empty(row, "title"), "item": _item, "item_link": _link,
    "rate_part": _part,
    "adjustment": _adjustment,
}  # fmt: skip


def prove(project_id: int) -> None:
    """There is one bill of the project's own; a section lies in the bill of the one around it, not too deep;
    a rate is in its item's unit; an adjustment stands after the one it is taken on.

    Raises:
        Refusal: something doesn't hold.
    """
    own = Bill.select().where((Bill.project == project_id) & (Bill.kind == "own")).count()
    if own != 1:
        raise Refusal(f"It has {own} bills of its own; a project has one.")
    loose = Item.select().join(Section).join(Bill).where(
        (Item.project == project_id) & Item.composite & (Bill.kind != "issued")
    )  # fmt: skip
    if loose.exists():
        raise Refusal("An item of a bill that wasn't issued was composed without parts.")
    outer = Section.alias()
    astray = Section.select().join(outer, on=(Section.parent == outer.id)).where(
        (Section.project == project_id) & (Section.bill != outer.bill)
    )  # fmt: skip
    if astray.exists():
        raise Refusal("A section lies in one of another bill.")
    nested = Section.select(Section.id, Section.parent).where(Section.project == project_id)
    parents = dict(nested.tuples())
    for parent in parents.values():
        depth = 0
        while parent is not None:
            parent, depth = parents[parent], depth + 1
            if depth > MOST_DEEP:
                raise Refusal(f"A section lies more than {MOST_DEEP} deep.")
    askew = Item.select(Item.description).join(BuildUp).where(
        (Item.project == project_id) & (Item.unit != BuildUp.unit)
    )  # fmt: skip
    for item in askew:
        raise Refusal(f"“{item.description[:60]}” has a rate in another unit.")
    astray = RatePart.select(RatePart.id).join(Item).where(
        (RatePart.project == project_id) & ((Item.typed_rate != "") | Item.build_up.is_null(False))
    )  # fmt: skip
    if astray.exists():
        raise Refusal("An item's rate is composed, and typed or of one build-up as well.")
    for bill in Bill.select().where((Bill.project == project_id) & Bill.file.is_null(False)):
        if bill.file.media_type != MEDIA_TYPE:
            raise Refusal(f"“{bill.title[:60]}” came in no workbook.")
        refuse_unsafe(bytes(bill.file.content), bill.file.name)
    for part in RatePart.select().where(RatePart.project == project_id):
        if part.size and part.build_up.kind in SIZED:
            kept_size_of(part.build_up, part.size)
    for bill in Bill.those(Bill.project, [project_id]):
        refuse_many(bill.adjustments.count())
    refuse_twins(Adjustment, project_id, Adjustment.name, Adjustment.bill)


def prove_worked_out(project_id: int) -> None:
    """What items draw on is there.

    Raises:
        Refusal: an element has no such quantity line.
    """
    there = QuantityLine.select(QuantityLine.id).where(
        (QuantityLine.element == ItemLink.element) & (QuantityLine.output == ItemLink.output)
    )
    mine = (ItemLink.project == project_id) & (Element.measurer << at_once())
    for link in ItemLink.select().join(Element).where(mine & ~fn.EXISTS(there)).limit(1):
        raise Refusal(f"An item draws on “{link.output}” of {link.element.mark}, which doesn't give that.")
