"""What must hold of bills from a project file."""

from __future__ import annotations

from typing import Any, get_args

from peewee import fn

from ...core.measurers.measurer import Split
from ...core.numbers.entry import read_entry
from ...core.pricing.bill import AFTER
from ...core.refusals import Refusal
from ...store.models import Adjustment, BeingWorkedOut, Bill, BuildUp, Item, ItemLink, QuantityLine, Section
from ..keeping.proving import refuse_empty, refuse_other, refuse_twins
from .actions import checked_item, checked_percent
from .reading import MOST_DEEP


def _bill(row: dict[str, Any]) -> None:
    refuse_empty(row, "title")
    refuse_other(row, "kind", ("own", "received", "issued"))


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


RULES = {
    "bill": _bill, "section": lambda row: refuse_empty(row, "title"), "item": _item, "item_link": _link,
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
    outer = Section.alias()
    astray = Section.select().join(outer, on=(Section.parent == outer.id)).where(
        (Section.project == project_id) & (Section.bill != outer.bill)
    )  # fmt: skip
    if astray.exists():
        raise Refusal("A section lies in one of another bill.")
    depth: dict[int | None, int] = {None: -1}
    nested = Section.select(Section.id, Section.parent).where(Section.project == project_id)
    for section, parent in nested.order_by(Section.id).tuples():
        depth[section] = depth[parent] + 1
        if depth[section] > MOST_DEEP:
            raise Refusal(f"A section lies more than {MOST_DEEP} deep.")
    askew = Item.select(Item.description).join(BuildUp).where(
        (Item.project == project_id) & (Item.unit != BuildUp.unit)
    )  # fmt: skip
    for item in askew:
        raise Refusal(f"“{item.description[:60]}” has a rate in another unit.")
    refuse_twins(Adjustment, project_id, Adjustment.name, Adjustment.bill)


def prove_worked_out(project_id: int) -> None:
    """What items draw on is there.

    Raises:
        Refusal: an element has no such quantity line.
    """
    there = QuantityLine.select(QuantityLine.id).where(
        (QuantityLine.element == ItemLink.element) & (QuantityLine.output == ItemLink.output)
    )
    late = BeingWorkedOut.select(BeingWorkedOut.row_id).where(BeingWorkedOut.node == "quantities")
    mine = (ItemLink.project == project_id) & ~(ItemLink.element << late)
    for link in ItemLink.select().where(mine & ~fn.EXISTS(there)).limit(1):
        raise Refusal(f"An item draws on “{link.output}” of {link.element.mark}, which doesn't give that.")
