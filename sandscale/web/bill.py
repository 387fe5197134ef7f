"""The bill stage: sections, items, links, adjustments."""

from __future__ import annotations

from typing import Any

from flask import g
from pydantic import RootModel

from ..services import bill
from ..services.views import BillView, LinkView, Saved
from .api import answers, api, stage
from .schemas import (
    AdjustmentChange,
    ItemChange,
    ItemMove,
    Moved,
    NewAdjustment,
    NewItem,
    NewLink,
    NewSection,
    SectionMove,
    Titled,
)

blueprint = stage("bill")


class Links(RootModel[list[LinkView]]):
    """What an item draws on."""


@blueprint.get("/bill")
@api.validate(resp=answers(BillView))
def whole() -> BillView:
    """The bill."""
    return bill.bill_view(g.actor)


@blueprint.post("/sections")
@api.validate(resp=answers(Saved))
def add_section(json: NewSection) -> Saved:
    """Add a section."""
    return bill.add_section(g.actor, json.title, json.parent)


@blueprint.patch("/sections/<int:section>")
@api.validate(resp=answers(Saved))
def change_section(section: int, json: Titled) -> Saved:
    """Rename a section."""
    return bill.change_section(g.actor, section, json.version, json.title)


@blueprint.delete("/sections/<int:section>")
@api.validate(resp=answers(Saved))
def delete_section(section: int) -> Saved:
    """Delete an empty section."""
    return bill.delete_section(g.actor, section)


@blueprint.post("/items")
@api.validate(resp=answers(Saved))
def add_item(json: NewItem) -> Saved:
    """Add an item."""
    return bill.add_item(g.actor, json.section, json.model_dump(exclude={"section"}))


@blueprint.patch("/items/<int:item>")
@api.validate(resp=answers(Saved))
def change_item(item: int, json: ItemChange) -> Saved:
    """Change an item."""
    return bill.change_item(g.actor, item, json.version, json.given())


@blueprint.delete("/items/<int:item>")
@api.validate(resp=answers(Saved))
def delete_item(item: int) -> Saved:
    """Delete an item."""
    return bill.delete_item(g.actor, item)


@blueprint.get("/items/<int:item>/links")
@api.validate(resp=answers(Links))
def links(item: int) -> Any:
    """What an item draws on."""
    return Links(bill.links(g.actor, item))


@blueprint.post("/items/<int:item>/links")
@api.validate(resp=answers(Saved))
def add_link(item: int, json: NewLink) -> Saved:
    """Let an item draw on a quantity line."""
    return bill.add_link(g.actor, item, json.element, json.output, json.factor)


@blueprint.delete("/links/<int:link>")
@api.validate(resp=answers(Saved))
def delete_link(link: int) -> Saved:
    """Take a link off an item."""
    return bill.delete_link(g.actor, link)


@blueprint.post("/items/<int:item>/move")
@api.validate(resp=answers(Saved))
def move_item(item: int, json: ItemMove) -> Saved:
    """Put an item somewhere else."""
    return bill.move_item(g.actor, item, json.section, json.before)


@blueprint.post("/sections/<int:section>/move")
@api.validate(resp=answers(Saved))
def move_section(section: int, json: SectionMove) -> Saved:
    """Put a section somewhere else."""
    return bill.move_section(g.actor, section, json.parent, json.before)


@blueprint.post("/adjustments")
@api.validate(resp=answers(Saved))
def add_adjustment(json: NewAdjustment) -> Saved:
    """Add an adjustment."""
    return bill.add_adjustment(g.actor, json.name, json.percent, json.base)


@blueprint.patch("/adjustments/<int:adjustment>")
@api.validate(resp=answers(Saved))
def change_adjustment(adjustment: int, json: AdjustmentChange) -> Saved:
    """Change an adjustment."""
    return bill.change_adjustment(g.actor, adjustment, json.version, json.given())


@blueprint.post("/adjustments/<int:adjustment>/move")
@api.validate(resp=answers(Saved))
def move_adjustment(adjustment: int, json: Moved) -> Saved:
    """Put an adjustment earlier or later."""
    return bill.move_adjustment(g.actor, adjustment, json.by)


@blueprint.delete("/adjustments/<int:adjustment>")
@api.validate(resp=answers(Saved))
def delete_adjustment(adjustment: int) -> Saved:
    """Take an adjustment off."""
    return bill.delete_adjustment(g.actor, adjustment)
