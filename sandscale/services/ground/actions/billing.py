"""Quantities of earthworks, trenches and routes into the bill, whole or by their parts."""

from __future__ import annotations

from ....core.measurers.measurer import Split
from ....core.refusals import BadEntry, Refusal
from ....store.models import Element, Item, ItemLink, QuantityLine, QuantityPart
from ...bill.actions import item_for
from ...keeping.acting import Actor, Missing, find
from ...keeping.recording import Recording, action, recording
from ...keeping.views import Saved

MEASURED = ("earthwork", "trench", "route")
SPLITS: tuple[Split, ...] = ("band", "stage", "kind", "stretch", "layer")
_WORDS = {"band": "{}, {} deep"}


@action
def into_bill(actor: Actor, element_id: int, split: str = "") -> Saved:
    """Make or link the bill items of an earthwork, of trenches or of a route, by depth, stage, kind, stretch
    or layer where it is split so; quantities already drawn on stay as they are.

    Raises:
        BadEntry: there is no such split.
        Refusal: it was never worked out.
    """
    element = find(Element, actor, element_id)
    if element.measurer not in MEASURED:
        raise Missing(f"{element.mark} is no earthwork, no network of trenches and no route.")
    if split and split not in SPLITS:
        raise BadEntry(f"Quantities of the ground aren't split by “{split}”.", field="split")
    linked = {link.output for link in element.links}
    with recording(actor, f"{element.mark} into the bill") as log:
        for quantity in element.quantities.order_by(QuantityLine.position):
            if quantity.item and quantity.net and quantity.output not in linked:
                _draw(log, quantity, split)
        if not log.entries and not linked:
            raise Refusal(
                f"{element.mark} has no quantities yet.",
                remedy="Say what it is dug from, and what is dug, first.",
            )
    return log.saved(element)


def _draw(log: Recording, quantity: QuantityLine, split: str) -> None:
    mine = (QuantityPart.element == quantity.element_id) & (QuantityPart.output == quantity.output)
    parts = (
        list(QuantityPart.select().where(mine & (QuantityPart.split == split)).order_by(QuantityPart.id))
        if split
        else []
    )
    if not parts:
        _link(log, item_for(log, quantity.section, quantity.item, quantity.unit), quantity, "", "")
    for part in parts:
        if part.net:
            words = _WORDS.get(split, "{}, {}").format(quantity.item, part.part)
            item = item_for(log, quantity.section, words, quantity.unit)
            _link(log, item, quantity, split, part.part)


def _link(log: Recording, item: Item, quantity: QuantityLine, split: str, part: str) -> None:
    log.insert(
        ItemLink, item=item.id, element=quantity.element_id, output=quantity.output, split=split, part=part
    )
