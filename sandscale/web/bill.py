"""The bill stage: sections, items, links, adjustments."""

from __future__ import annotations

from typing import Any

from flask import g
from pydantic import BaseModel, RootModel

from ..services.bill import actions as bill
from ..services.bill import reading as bill_reading
from ..services.bill.views import BillBrief, BillOutline, ItemView, LinkView
from ..services.keeping.views import Saved
from .api import answers, api, stage, writes
from .schemas import (
    AdjustmentChange,
    ItemChange,
    ItemMove,
    MovedBy,
    NewAdjustment,
    NewItem,
    NewLink,
    NewSection,
    SectionMove,
    Titled,
    Window,
)

blueprint = stage("bill")


class Items(RootModel[list[ItemView]]):
    """A window of a bill's items."""


class Bills(RootModel[list[BillBrief]]):
    """The bills of a project."""


class ItemPlace(BaseModel):
    """Where an item stands in the bill's order; 0 is the first."""

    index: int


class Links(RootModel[list[LinkView]]):
    """What an item draws on."""


@blueprint.get("/bill")
@api.validate(resp=answers(BillOutline))
def outline() -> BillOutline:
    """The bill's sections and foot; its items are read in windows."""
    return bill_reading.bill_outline(g.actor)


@blueprint.get("/bill/items")
@api.validate(query=Window, resp=answers(Items))
def window(query: Window) -> Any:
    """A window of the bill's items, in its order."""
    return Items(bill_reading.bill_items(g.actor, query.first, query.most))


@blueprint.get("/items/<int:item>/place")
@api.validate(resp=answers(ItemPlace))
def place(item: int) -> ItemPlace:
    """Where an item stands in the bill's order."""
    return ItemPlace(index=bill_reading.index_of(g.actor, item))


@blueprint.get("/bills")
@api.validate(resp=answers(Bills))
def bills_listed() -> Any:
    """The project's bills: its own, those received, those issued."""
    return Bills(bill_reading.bills(g.actor))


@blueprint.post("/sections")
@writes
def add_section(json: NewSection) -> Saved:
    """Add a section."""
    return bill.add_section(g.actor, json.title, json.parent)


@blueprint.patch("/sections/<int:section>")
@writes
def change_section(section: int, json: Titled) -> Saved:
    """Rename a section."""
    return bill.change_section(g.actor, section, json.version, json.title)


@blueprint.delete("/sections/<int:section>")
@writes
def delete_section(section: int) -> Saved:
    """Delete an empty section."""
    return bill.delete_section(g.actor, section)


@blueprint.post("/items")
@writes
def add_item(json: NewItem) -> Saved:
    """Add an item."""
    return bill.add_item(g.actor, json.section, json.model_dump(exclude={"section"}))


@blueprint.patch("/items/<int:item>")
@writes
def change_item(item: int, json: ItemChange) -> Saved:
    """Change an item."""
    return bill.change_item(g.actor, item, json.version, json.given())


@blueprint.delete("/items/<int:item>")
@writes
def delete_item(item: int) -> Saved:
    """Delete an item."""
    return bill.delete_item(g.actor, item)


@blueprint.get("/items/<int:item>/links")
@api.validate(resp=answers(Links))
def links(item: int) -> Any:
    """What an item draws on."""
    return Links(bill_reading.links(g.actor, item))


@blueprint.post("/items/<int:item>/links")
@writes
def add_link(item: int, json: NewLink) -> Saved:
    """Let an item draw on a quantity line."""
    return bill.add_link(g.actor, item, json.element, json.output, json.factor, json.split, json.part)


@blueprint.delete("/links/<int:link>")
@writes
def delete_link(link: int) -> Saved:
    """Take a link off an item."""
    return bill.delete_link(g.actor, link)


@blueprint.post("/items/<int:item>/move")
@writes
def move_item(item: int, json: ItemMove) -> Saved:
    """Put an item somewhere else."""
    return bill.move_item(g.actor, item, json.section, json.before)


@blueprint.post("/sections/<int:section>/move")
@writes
def move_section(section: int, json: SectionMove) -> Saved:
    """Put a section somewhere else."""
    return bill.move_section(g.actor, section, json.parent, json.before)


@blueprint.post("/adjustments")
@writes
def add_adjustment(json: NewAdjustment) -> Saved:
    """Add an adjustment."""
    return bill.add_adjustment(g.actor, json.name, json.percent, json.base)


@blueprint.patch("/adjustments/<int:adjustment>")
@writes
def change_adjustment(adjustment: int, json: AdjustmentChange) -> Saved:
    """Change an adjustment."""
    return bill.change_adjustment(g.actor, adjustment, json.version, json.given())


@blueprint.post("/adjustments/<int:adjustment>/move")
@writes
def move_adjustment(adjustment: int, json: MovedBy) -> Saved:
    """Put an adjustment earlier or later."""
    return bill.move_adjustment(g.actor, adjustment, json.by)


@blueprint.delete("/adjustments/<int:adjustment>")
@writes
def delete_adjustment(adjustment: int) -> Saved:
    """Take an adjustment off."""
    return bill.delete_adjustment(g.actor, adjustment)
