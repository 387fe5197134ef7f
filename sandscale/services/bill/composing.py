"""Rates of items composed of several: a slab's of concrete, bars and formwork."""

from __future__ import annotations

from typing import Any

from ...core.numbers.entry import kept, read_entry
from ...core.refusals import BadEntry
from ...store.models import BuildUp, Item, RatePart
from ..keeping.acting import Actor, check_version, find
from ..keeping.recording import action, recording
from ..keeping.views import Saved
from ..measure.draws import refuse_ring
from ..rates.priced import kept_size_of
from .actions import open_section

MOST_PARTS = 40


@action
def add_part(actor: Actor, item_id: int, build_up_id: int, factor: str = "1", size: str = "") -> Saved:
    """Let an item's rate be made of one more; what it had before is the first of them.

    Raises:
        BadEntry: the factor or the size can't be read, or it has too many.
    """
    item, build_up = find(Item, actor, item_id), find(BuildUp, actor, build_up_id)
    open_section(item.section)
    fields = checked_part({"factor": factor, "size": size}, build_up)
    position = max((part.position for part in item.parts), default=-1) + 1
    if item.parts.count() >= MOST_PARTS:
        raise BadEntry(f"A rate is composed of up to {MOST_PARTS}.", field="build_up")
    with recording(actor, f"Item {item.description}: rate composed with {build_up.name}") as log:
        if item.build_up_id and not position:
            first = {"build_up": item.build_up_id, "factor": "1", "size": item.size}
            log.insert(RatePart, item=item.id, position=position, **first)
            position += 1
        log.update(item, build_up=None, size="", typed_rate="", rate_reason="")
        row = log.insert(RatePart, item=item.id, position=position, build_up=build_up.id, **fields)
        refuse_ring(actor.project_id)
    return log.saved(row)


@action
def change_part(actor: Actor, part_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Take another number of a rate in a composed one, or read it at another size.

    Raises:
        BadEntry: the factor or the size can't be read.
    """
    row = find(RatePart, actor, part_id)
    open_section(row.item.section)
    fields = checked_part(fields, row.build_up)
    check_version(row, version, fields)
    with recording(
        actor, f"Item {row.item.description}: {row.build_up.name} × {fields.get('factor', row.factor)}"
    ) as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete_part(actor: Actor, part_id: int) -> Saved:
    """Take a rate out of a composed one."""
    row = find(RatePart, actor, part_id)
    item = row.item
    open_section(item.section)
    with recording(actor, f"Item {item.description}: rate without {row.build_up.name}") as log:
        log.delete(row)
    return log.saved()


def checked_part(fields: dict[str, Any], build_up: BuildUp) -> dict[str, Any]:
    """What was typed of a part of a rate, as it is kept.

    Raises:
        BadEntry: the factor or the size can't be read.
    """
    checked = dict(fields)
    if "factor" in fields:
        checked["factor"] = kept(fields["factor"], "", field="factor")
        if read_entry(checked["factor"], "", field="factor") == 0:
            raise BadEntry("Nothing of a rate is no part of another.", field="factor", remedy="Take it out.")
    if fields.get("size", "").strip():
        checked["size"] = kept_size_of(build_up, fields["size"].strip())
    return checked
