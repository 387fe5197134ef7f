"""Locations, and elements with their make-up."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import chain
from typing import Any

from peewee import fn

from ....core.makeups.makeup import MakeUp
from ....core.refusals import BadEntry, Refusal
from ....store.models import (
    LINE_FIELDS,
    DimensionLine,
    Earthwork,
    Element,
    InputDraw,
    ItemLink,
    Location,
    ProjectRow,
    QuantityLine,
    Route,
    TrenchNetwork,
    TypedBar,
)
from ...bars.detailing import checked_detailing
from ...bill.actions import item_for
from ...keeping.acting import Actor, InUse, check_version, find
from ...keeping.recording import action, recording
from ...keeping.views import Saved
from ..entered import makeup_of
from .dimension_lines import copy_line, refuse_route

_PLACE = ("id", "version", "project", "element", "earthwork", "network", "route")


@action
def add_location(actor: Actor, name: str) -> Saved:
    """A new location.

    Raises:
        BadEntry: the name is empty.
    """
    with recording(actor, f"Location {name.strip()}") as log:
        position = Location.select().where(Location.project == actor.project_id).count()
        row = log.insert(Location, name=_named(name, "A location"), position=position)
    return log.saved(row)


@action
def rename_location(actor: Actor, location_id: int, version: int, name: str) -> Saved:
    """Give a location another name."""
    row = find(Location, actor, location_id)
    fields = {"name": _named(name, "A location")}
    check_version(row, version, fields)
    with recording(actor, f"Location {row.name} renamed") as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete_location(actor: Actor, location_id: int) -> Saved:
    """Take an empty location out.

    Raises:
        InUse: it has elements.
    """
    row = find(Location, actor, location_id)
    if number := row.elements.count():
        raise InUse(
            f"{row.name} holds {number} element{'s' if number > 1 else ''}.",
            remedy="Move or delete them first.",
        )
    with recording(actor, f"Location {row.name} deleted") as log:
        log.delete(row)
    return log.saved()


def _named(name: str, what: str) -> str:
    if not name.strip():
        raise BadEntry(f"{what} needs a name.", field="name")
    return name.strip()[:120].strip()


@action
def add_element(
    actor: Actor,
    location_id: int,
    mark: str,
    makeup: str,
    description: str = "",
    inputs: dict[str, str] | None = None,
) -> Saved:
    """A new element in a location.

    Raises:
        BadEntry: the mark is empty or taken in the location, or an input doesn't fit.
    """
    location = find(Location, actor, location_id)
    asked = typed_inputs(makeup_of(actor.project_id, makeup), inputs or {})
    fields = _checked_element(
        actor,
        {"mark": mark, "source": makeup, "description": description, "inputs": asked},
        location.id,
    )
    with recording(actor, f"Element {fields['mark']}") as log:
        position = Element.select().where(Element.project == actor.project_id).count()
        row = log.insert(Element, location=location.id, position=position, **fields)
    return log.saved(row)


@action
def change_element(actor: Actor, element_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change an element's mark, description, location, make-up or inputs.

    Inputs given are merged over those entered before; an empty one goes back to its default. With
    another make-up, inputs it also asks for are kept.

    Raises:
        BadEntry: a value doesn't fit.
        Stale: someone else changed it meanwhile.
        InUse: the new make-up lacks an output the bill draws on.
    """
    row = find(Element, actor, element_id)
    if "location" in fields:
        find(Location, actor, fields["location"])
    if row.measurer != "make-up":
        return _change_measured(actor, row, version, fields)
    if "makeup" in fields:
        fields["source"] = fields.pop("makeup")
    makeup = makeup_of(actor.project_id, fields.get("source", row.source))
    entered = typed_inputs(makeup, fields.pop("inputs", {}))
    check_version(
        row,
        version,
        {**fields, "inputs": {**row.inputs, **entered}},
        lambda state: {**state, "inputs": {key: state["inputs"].get(key, "") for key in entered}},
    )
    if makeup.key != row.source:
        check_outputs(row, makeup)
    before = {key: entry for key, entry in row.inputs.items() if key in makeup.inputs}
    inputs = {key: entry.strip() for key, entry in {**before, **entered}.items() if entry.strip()}
    fields = _checked_element(
        actor,
        {**fields, "source": makeup.key, "inputs": inputs},
        fields.get("location", row.location_id),
        row.id,
    )
    with recording(actor, _label(row, fields)) as log:
        log.update(row, **fields)
    return log.saved(row)


def typed_inputs(makeup: MakeUp, entries: dict[str, str]) -> dict[str, str]:
    """What was typed for a make-up's inputs in the project's ways, as it is kept.

    Raises:
        BadEntry: an entry can't be read, or in two ways.
    """
    return {key: makeup.typed(key, entry) for key, entry in entries.items()}


def _change_measured(actor: Actor, row: Element, version: int, fields: dict[str, Any]) -> Saved:
    """Change what every element has, of one whose measurer asks for its inputs elsewhere."""
    if odd := set(fields) & {"makeup", "inputs"}:
        raise BadEntry(
            f"{row.mark} has no make-up.", field=min(odd), remedy="Change it where it was entered."
        )
    fields = checked_mark(fields, fields.get("location", row.location_id), row.id)
    check_version(row, version, fields)
    with recording(actor, _label(row, fields)) as log:
        log.update(row, **fields)
    return log.saved(row)


def _label(row: Element, fields: dict[str, Any]) -> str:
    for key, entry in fields.get("inputs", {}).items():
        if row.inputs.get(key) != entry:
            return f"{row.mark}: {key.replace('_', ' ')} {entry}"
    changed = [name for name, value in fields.items() if row.__data__.get(name) != value]
    return f"{row.mark}: {', '.join(changed) or 'unchanged'}"


def _checked_element(
    actor: Actor, fields: dict[str, Any], location_id: int, element_id: int = 0
) -> dict[str, Any]:
    fields = checked_mark(fields, location_id, element_id)
    makeup_of(actor.project_id, fields["source"]).values(fields["inputs"])
    return fields


def checked_mark(fields: dict[str, Any], location_id: int, element_id: int = 0) -> dict[str, Any]:
    """What every element has, as it is kept.

    Raises:
        BadEntry: the mark is empty or taken in the location, or there are no such detailing rules.
    """
    if "detailing" in fields:
        checked_detailing(fields["detailing"], Location.get_by_id(location_id).project_id)
    if "mark" in fields:
        fields["mark"] = fields["mark"].strip()[:40].strip()
        if not fields["mark"]:
            raise BadEntry("An element needs a mark, such as PF2.", field="mark")
    if "mark" in fields or "location" in fields:
        mark = fields["mark"] if "mark" in fields else Element.get_by_id(element_id).mark
        same = (Element.location == location_id) & (fn.LOWER(Element.mark) == mark.lower())
        if Element.select().where(same & (Element.id != element_id)).exists():
            says = f"This location already has an element {mark}."
            raise BadEntry(says, field="mark", remedy="Give it another mark.")
    return fields


def check_outputs(row: Element, makeup: MakeUp) -> None:
    """Refuse a make-up that doesn't give what is drawn from an element already.

    Raises:
        InUse: the bill, or a line of another element, draws on an output it lacks.
    """
    outputs = {output.key for output, _ in makeup.outputs}
    for link in row.links:
        if link.output not in outputs:
            raise InUse(
                f"The bill draws on “{link.output}” of {row.mark}, which “{makeup.name}” doesn't give.",
                field="makeup",
                remedy="Take its links out of the bill first.",
            )
    taking = [(line.taken_key, f"“{line.build_up.name}”") for line in row.rate_lines]
    taking += [(each.output_key, f"“{each.name}”") for each in row.outputs_of]
    taking += [(each.hours_key, f"“{each.name}”") for each in row.hours_of]
    taking += [(d.taken_key, d.element.mark) for d in InputDraw.those(InputDraw.taken, [row.id])]
    for output, who in taking:
        if output not in outputs:
            raise InUse(
                f"{who} takes “{output}” of {row.mark}, which “{makeup.name}” doesn't give.", field="makeup",
                remedy="Type that number there first.",
            )  # fmt: skip
    for line in row.taken_by:
        if line.taken_output not in outputs:
            raise InUse(
                f"A line of {line.element.mark} is taken from “{line.taken_output}” of {row.mark}, which "
                f"“{makeup.name}” doesn't give.",
                field="makeup", remedy="Take that line out first.",
            )  # fmt: skip


@action
def delete_element(actor: Actor, element_id: int) -> Saved:
    """Take an element out with its lines, figures and links; undo brings all of it back.

    Raises:
        InUse: a line of another element is taken from it, a cutting is of it alone, or a route goes along a
            run of it.
    """
    row = find(Element, actor, element_id)
    taking = row.taken_by.where(DimensionLine.element != row.id).first()
    if taking is not None:
        raise InUse(
            f"A line of {taking.element.mark} is taken from {row.mark}.", remedy="Take that line out first."
        )
    _refuse_drawn_on(row)
    alone = next((each.cutting for each in row.cut_in if each.cutting.chosen.count() == 1), None)
    if alone is not None:
        raise InUse(  # without its members a cutting would be of all bars
            f"The cutting “{alone.name}” is of {row.mark} alone.",
            remedy="Delete it, or give it other members, first.",
        )
    for figure in row.figures:
        refuse_route(figure, other_than=row.id)
    with recording(actor, f"Element {row.mark} deleted") as log:
        hung: list[Iterable[Any]] = [
            row.links,
            row.lines,
            row.figures,
            row.typed_bars,
            row.bar_marks,
            row.cut_in,
            row.drawn,
        ]
        for work in row.earthworks:
            hung += [work.formations, work.classes, work.stages, [work]]
        for network in row.networks:
            hung += [network.runs, network.nodes, [network]]
        for route in row.routes:
            hung += [*_tables_of(route), [route]]
        for each in (*chain.from_iterable(hung), row):
            log.delete(each)
    return log.saved()


def _refuse_drawn_on(row: Element) -> None:
    """Refuse to take out what a rate or an allowance draws on.

    Raises:
        InUse: one does.
    """
    rates = [line.build_up.name for line in row.rate_lines] + [
        each.name for each in (*row.outputs_of, *row.hours_of)
    ]
    if rates:
        raise InUse(f"“{rates[0]}” takes from {row.mark}.", remedy="Type that number there first.")
    if drawn := InputDraw.select().where((InputDraw.taken == row.id) & (InputDraw.element != row.id)).first():
        raise InUse(f"{drawn.element.mark} draws on {row.mark}.", remedy="Type that input first.")


@action
def copy_element(
    actor: Actor, element_id: int, location_id: int, mark: str, *, figures: bool = False
) -> Saved:
    """An element like another, in a location: its make-up, inputs and lines; figures only where asked.

    Raises:
        BadEntry: the location has an element of that mark.
    """
    source, place = find(Element, actor, element_id), find(Location, actor, location_id)
    fields = {
        "mark": mark or source.mark,
        "description": source.description,
        "measurer": source.measurer,
        "source": source.source,
        "detailing": source.detailing,
        "inputs": source.inputs,
    }
    fields = checked_mark(fields, place.id)
    with recording(actor, f"Element {fields['mark']}, like {source.mark}") as log:
        position = Element.select().where(Element.project == actor.project_id).count()
        made = log.insert(Element, location=place.id, position=position, **fields)
        for at, line in enumerate(source.lines.order_by(DimensionLine.position, DimensionLine.id)):
            if line.figure_id and not figures:
                kept = {name: getattr(line, name) for name in LINE_FIELDS}
                log.insert(DimensionLine, element=made.id, position=at, **kept)
            else:
                copy_line(log, line, made, at)
        for draw in source.drawn:
            log.insert(InputDraw, **_own_of(draw), element=made.id)
        for bar in source.typed_bars:
            log.insert(TypedBar, **_own_of(bar), element=made.id)
        for work in source.earthworks:
            own = log.insert(Earthwork, **_own_of(work), element=made.id)
            for part in (*work.formations, *work.classes, *work.stages):
                log.insert(type(part), **_own_of(part), earthwork=own.id)
        for network in source.networks:
            own = log.insert(TrenchNetwork, **_own_of(network), element=made.id)
            for part in (*network.nodes, *network.runs):
                log.insert(type(part), **_own_of(part), network=own.id)
        for route in source.routes:
            own = log.insert(Route, **_own_of(route), element=made.id)
            for part in chain.from_iterable(_tables_of(route)):
                log.insert(type(part), **_own_of(part), route=own.id)
    return log.saved(made)


def _tables_of(route: Route) -> list[Iterable[Any]]:
    return [route.corners, route.levels, route.changes, route.stretches, route.named, route.imported]


def _own_of(row: ProjectRow) -> dict[str, Any]:
    """The columns of a row that are its own, and none of where it stands."""
    return {name: value for name, value in row.__data__.items() if name not in _PLACE}


@action
def link_to_bill(actor: Actor, element_id: int, output: str = "") -> Saved:
    """Make or link the bill items an element's quantity lines need, or the item of the one named, also where
    its make-up has no words for one; those already linked stay.

    An item is found again by its words, unit and section; the section is made when the bill has none of that
    title.
    """
    element = find(Element, actor, element_id)
    linked = {link.output for link in element.links}
    with recording(actor, f"{element.mark} into the bill") as log:
        for quantity in element.quantities.order_by(QuantityLine.position):
            wanted = quantity.output == output if output else quantity.item
            if wanted and quantity.net and quantity.output not in linked:
                words = quantity.item or f"{quantity.label}, {element.description or element.mark}"
                section = quantity.section or quantity.family.capitalize()
                item = item_for(log, section, words, quantity.unit)
                log.insert(ItemLink, item=item.id, element=element.id, output=quantity.output)
        if not log.entries and not linked:
            raise Refusal(f"{element.mark} has no quantities yet.", remedy="Give it a dimension line first.")
    return log.saved(element)
