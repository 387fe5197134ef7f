"""Allowances: elements that count once by what a rule of thumb asks, and what their inputs draw."""

from __future__ import annotations

from dataclasses import dataclass

from ....core.numbers.units import unit
from ....core.refusals import BadEntry
from ....store.models import Element, InputDraw, Item, Location, Resource
from ...keeping.acting import Actor, check_version, find
from ...keeping.recording import action, recording
from ...keeping.views import Saved
from ..draws import refuse_ring
from ..entered import makeup_of
from ..taken import quantity_line
from .elements import checked_mark

PLACE = "Allowances"  # the location that new ones stand in
MOST_DRAWS = 200  # of one input


@dataclass(frozen=True)
class Draw:
    """What an input is to draw: how much of a resource an item takes, or a quantity line of an element."""

    resource: int | None = None
    item: int | None = None
    element: int | None = None
    output: str = ""


@action
def add_allowance(actor: Actor, mark: str, rule: str) -> Saved:
    """A new allowance by a rule, in the location of allowances, which is made where there is none.

    Raises:
        BadEntry: the mark is empty or taken there, or the rule is a make-up of dimension lines.
    """
    makeup = makeup_of(actor.project_id, rule)
    if not makeup.is_allowance:
        raise BadEntry(
            f"“{makeup.name}” is measured by dimension lines.", field="rule", remedy="Choose an allowance."
        )
    mine = Location.project == actor.project_id
    place = Location.select().where(mine & (Location.name == PLACE)).order_by(Location.id).first()
    fields = checked_mark({"mark": mark}, place.id if place else 0)
    with recording(actor, f"Allowance {fields['mark']}") as log:
        place = place or log.insert(Location, name=PLACE, position=Location.select().where(mine).count())
        row = log.insert(
            Element, location=place.id, source=makeup.key, inputs={}, description=makeup.name,
            position=Element.select().where(Element.project == actor.project_id).count(), **fields,
        )  # fmt: skip
    return log.saved(row)


@action
def draw_input(actor: Actor, element_id: int, version: int, name: str, draws: list[Draw]) -> Saved:
    """Let an input of an allowance draw from the project, in place of what it drew before; with nothing to
    draw it is what is typed again.

    Raises:
        BadEntry: the element has no such input, or a unit is none of its kind.
        BadFormula: an element would draw on itself, by however many steps.
        Stale: someone else changed the element meanwhile.
    """
    row = find(Element, actor, element_id)
    makeup = makeup_of(actor.project_id, row.source) if row.measurer == "make-up" else None
    asked = makeup.inputs.get(name) if makeup and makeup.is_allowance else None
    if asked is None or not asked.is_number:
        raise BadEntry(f"{row.mark} has no number “{name}” to draw.", field="input")
    if len(draws) > MOST_DRAWS:
        raise BadEntry(f"An input draws on {MOST_DRAWS} at most.", field="draws", remedy="Choose fewer.")
    check_version(row, version, {"inputs": row.inputs})
    wanted = [_checked(actor, draw, asked.unit, asked.label) for draw in dict.fromkeys(draws)]
    before = [each for each in InputDraw.those(InputDraw.element, [row.id]) if each.input == name]
    with recording(actor, f"{row.mark}: {asked.label.lower()}, drawn") as log:
        log.delete_all(before)
        log.insert_all(InputDraw, [{"element": row.id, "input": name, **each} for each in wanted])
        refuse_ring(actor.project_id)
    return log.saved(row)


def _checked(actor: Actor, draw: Draw, symbol: str, label: str) -> dict[str, object]:
    if draw.element is not None:
        source = find(Element, actor, draw.element)
        quantity_line(source, draw.output).held_in(symbol)
        return {"resource": None, "item": None, "taken": source.id, "taken_key": draw.output}
    if draw.resource is None or draw.item is None:
        raise BadEntry("An input draws a resource over an item, or a quantity line.", field="draws")
    resource, item = find(Resource, actor, draw.resource), find(Item, actor, draw.item)
    if unit(resource.unit).dimension != unit(symbol).dimension:
        raise BadEntry(
            f"{resource.name} is in {resource.unit}; {label.lower()} is in {symbol or 'a number'}.",
            field="resource", remedy="Choose another resource.",
        )  # fmt: skip
    return {"resource": resource.id, "item": item.id, "taken": None, "taken_key": ""}
