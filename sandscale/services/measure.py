"""The measure: locations, elements with their make-up, and the dimension lines of each."""

from __future__ import annotations

from typing import Any

from peewee import fn

from ..core.makeups.makeup import MakeUp
from ..core.makeups.run import run
from ..core.numbers.entry import read_entry, read_times
from ..core.refusals import BadEntry, Refusal
from ..store.models import DimensionLine, Element, Figure, Item, ItemLink, Location, QuantityLine
from .acting import Actor, InUse, check_version, find
from .bill import item_for, refs
from .figures import shows
from .recompute import lines_of, makeup_of, read_lines
from .recording import action, recording
from .views import ElementBrief, ElementView, InputView, LineView, LocationView, QuantityView, Saved

LENGTHS = ("length", "width", "height")
LONGEST_NOTE = 300


def locations(actor: Actor) -> list[LocationView]:
    """The project's locations with their elements, each with its headline quantity."""
    first = (
        QuantityLine.select(QuantityLine.element, fn.MIN(QuantityLine.id).alias("id"))
        .where(QuantityLine.project == actor.project_id)
        .group_by(QuantityLine.element)
    )
    headline = {q.element_id: q for q in QuantityLine.select().join(first, on=(QuantityLine.id == first.c.id))}
    found = {
        location.id: LocationView(id=location.id, version=location.version, name=location.name, elements=[])
        for location in Location.select().where(Location.project == actor.project_id).order_by(Location.position, Location.id)
    }
    for element in Element.select().where(Element.project == actor.project_id).order_by(Element.position, Element.id):
        quantity = headline.get(element.id)
        found[element.location_id].elements.append(
            ElementBrief(
                id=element.id, mark=element.mark, description=element.description, makeup=element.makeup,
                family=quantity.family if quantity else "concrete", value=quantity.net if quantity else None,
                unit=quantity.unit if quantity else "", findings=0,
            )
        )  # fmt: skip
    return list(found.values())


@action
def add_location(actor: Actor, name: str) -> Saved:
    """A new location.

    Raises:
        BadEntry: the name is empty.
    """
    with recording(actor, f"Location {name.strip()}") as log:
        position = Location.select().where(Location.project == actor.project_id).count()
        row = log.insert(Location, name=_named(name, "A location"), position=position)
    return Saved(label=log.label, id=row.id, version=1, bill_total=log.bill_total)


@action
def rename_location(actor: Actor, location_id: int, version: int, name: str) -> Saved:
    """Give a location another name."""
    row = find(Location, actor, location_id)
    fields = {"name": _named(name, "A location")}
    check_version(row, version, fields)
    with recording(actor, f"Location {row.name} renamed") as log:
        log.update(row, **fields)
    return Saved(label=log.label, id=row.id, version=row.version, bill_total=log.bill_total)


@action
def delete_location(actor: Actor, location_id: int) -> Saved:
    """Take an empty location out.

    Raises:
        InUse: it has elements.
    """
    row = find(Location, actor, location_id)
    if number := row.elements.count():
        raise InUse(f"{row.name} holds {number} element{'s' if number > 1 else ''}.", remedy="Move or delete them first.")
    with recording(actor, f"Location {row.name} deleted") as log:
        log.delete(row)
    return Saved(label=log.label, bill_total=log.bill_total)


def _named(name: str, what: str) -> str:
    if not name.strip():
        raise BadEntry(f"{what} needs a name.", field="name")
    return name.strip()[:120]


@action
def add_element(actor: Actor, location_id: int, mark: str, makeup: str, description: str = "", inputs: dict[str, str] | None = None) -> Saved:
    """A new element in a location.

    Raises:
        BadEntry: the mark is empty or taken in the location, or an input doesn't fit.
    """
    location = find(Location, actor, location_id)
    fields = _checked_element(actor, {"mark": mark, "makeup": makeup, "description": description, "inputs": inputs or {}}, location.id)
    with recording(actor, f"Element {fields['mark']}") as log:
        position = Element.select().where(Element.project == actor.project_id).count()
        row = log.insert(Element, location=location.id, position=position, **fields)
    return Saved(label=log.label, id=row.id, version=1, change=log.change and log.change.id, bill_total=log.bill_total)


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
    makeup = makeup_of(actor.project_id, fields.get("makeup", row.makeup))
    entered = fields.pop("inputs", {})
    check_version(
        row, version, {**fields, "inputs": {**row.inputs, **entered}}, lambda state: {**state, "inputs": {key: state["inputs"].get(key, "") for key in entered}}
    )
    if makeup.key != row.makeup:
        _check_outputs(row, makeup)
    kept = {key: entry for key, entry in row.inputs.items() if key in makeup.inputs}
    inputs = {key: entry.strip() for key, entry in {**kept, **entered}.items() if entry.strip()}
    fields = _checked_element(actor, {**fields, "makeup": makeup.key, "inputs": inputs}, fields.get("location", row.location_id), row.id)
    with recording(actor, _label(row, fields)) as log:
        log.update(row, **fields)
    return Saved(label=log.label, id=row.id, version=row.version, change=log.change and log.change.id, bill_total=log.bill_total)


def _label(row: Element, fields: dict[str, Any]) -> str:
    for key, entry in fields.get("inputs", {}).items():
        if row.inputs.get(key) != entry:
            return f"{row.mark}: {key.replace('_', ' ')} {entry}"
    changed = [name for name, value in fields.items() if row.__data__.get(name) != value]
    return f"{row.mark}: {', '.join(changed) or 'unchanged'}"


def _checked_element(actor: Actor, fields: dict[str, Any], location_id: int, element_id: int | None = None) -> dict[str, Any]:
    if "mark" in fields:
        fields["mark"] = fields["mark"].strip()[:40]
        if not fields["mark"]:
            raise BadEntry("An element needs a mark, such as PF2.", field="mark")
        twins = (Element.location == location_id) & (fn.LOWER(Element.mark) == fields["mark"].lower()) & (Element.id != (element_id or 0))
        if Element.select().where(twins).exists():
            raise BadEntry(f"This location already has an element {fields['mark']}.", field="mark", remedy="Give it another mark.")
    makeup_of(actor.project_id, fields["makeup"]).values(fields["inputs"])
    return fields


def _check_outputs(row: Element, makeup: MakeUp) -> None:
    outputs = {output.key for output, _ in makeup.outputs}
    for link in row.links:
        if link.output not in outputs:
            raise InUse(
                f"The bill draws on “{link.output}” of {row.mark}, which “{makeup.name}” doesn't give.",
                field="makeup",
                remedy="Take its links out of the bill first.",
            )


@action
def delete_element(actor: Actor, element_id: int) -> Saved:
    """Take an element out with its lines, figures and links; undo brings all of it back."""
    row = find(Element, actor, element_id)
    with recording(actor, f"Element {row.mark} deleted") as log:
        for each in (*row.links, *row.lines, *row.figures, row):
            log.delete(each)
    return Saved(label=log.label, change=log.change and log.change.id, bill_total=log.bill_total)


@action
def add_line(actor: Actor, element_id: int, fields: dict[str, Any], after: int | None = None) -> Saved:
    """A new dimension line, at the end or after another.

    Raises:
        BadEntry: a dimension can't be read.
    """
    element = find(Element, actor, element_id)
    fields = _checked_line(fields)
    with recording(actor, f"{element.mark}: line added") as log:
        lines = list(element.lines.order_by(DimensionLine.position, DimensionLine.id))
        at = next((i + 1 for i, line in enumerate(lines) if line.id == after), len(lines))
        position = lines[at - 1].position + 1 if at else 0
        for later in lines[at:]:
            if later.position < position + 1:
                log.update(later, position=later.position + 1)
        row = log.insert(DimensionLine, element=element.id, position=position, **fields)
    return Saved(label=log.label, id=row.id, version=1, change=log.change and log.change.id, bill_total=log.bill_total)


@action
def change_line(actor: Actor, line_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change what was typed into a dimension line.

    Raises:
        BadEntry: a dimension can't be read.
        Stale: someone else changed it meanwhile.
    """
    row = find(DimensionLine, actor, line_id)
    fields = _checked_line(fields)
    check_version(row, version, fields)
    said = ", ".join(f"{name} {getattr(row, name) or 'nothing'} → {value or 'nothing'}" for name, value in fields.items() if name in ("times", *LENGTHS))
    with recording(actor, f"{row.element.mark}: {said or ', '.join(fields)}") as log:
        log.update(row, **fields)
    return Saved(label=log.label, id=row.id, version=row.version, change=log.change and log.change.id, bill_total=log.bill_total)


@action
def delete_line(actor: Actor, line_id: int) -> Saved:
    """Take a dimension line out, with the figure that feeds it."""
    row = find(DimensionLine, actor, line_id)
    with recording(actor, f"{row.element.mark}: line deleted") as log:
        figure = row.figure if row.figure_id else None
        log.delete(row)
        if figure is not None:
            log.delete(figure)
    return Saved(label=log.label, change=log.change and log.change.id, bill_total=log.bill_total)


def _checked_line(fields: dict[str, Any]) -> dict[str, Any]:
    fields = {name: value.strip() if isinstance(value, str) else value for name, value in fields.items()}
    for name in LENGTHS:
        if fields.get(name):
            read_entry(fields[name], "m", field=name, minimum=0)
    if fields.get("times"):
        if fields["times"].lower().startswith(("ddt", "-", "−")):
            fields["deduct"] = True
            fields["times"] = fields["times"].lower().removeprefix("ddt").lstrip("-− ")
        read_times(fields["times"])
    if len(fields.get("note", "")) > LONGEST_NOTE:
        raise BadEntry(f"A note takes at most {LONGEST_NOTE} characters.", field="note")
    return fields


def element_view(actor: Actor, element_id: int) -> ElementView:
    """An element with its inputs, its dimension lines squared, its quantity lines and what looks wrong."""
    element = find(Element, actor, element_id)
    makeup = makeup_of(actor.project_id, element.makeup)
    rows = lines_of([element.id])[element.id]
    lines = read_lines(rows)
    result = run(makeup, element.inputs, lines)
    headline = next(q for q in result.quantities if q.output.key == makeup.document.headline)
    said: dict[int, list[str]] = {}
    for finding in result.findings:
        said.setdefault(finding.line, []).append(finding.says)
    taken = dict(ItemLink.select(ItemLink.output, ItemLink.item).where(ItemLink.element == element.id).tuples())
    numbers = refs(actor.project_id) if taken else {}
    return ElementView(
        id=element.id, version=element.version, location=element.location_id, mark=element.mark, description=element.description,
        makeup=makeup.key, makeup_name=makeup.name, about=makeup.document.about, needs=list(makeup.needs),
        headline=headline.output.label, unit=headline.output.unit, inputs=_inputs(makeup, element.inputs),
        lines=[_line(row, float(headline.each[at]), bool(result.counted[at]), said.get(at, [])) for at, row in enumerate(rows)],
        quantities=[
            QuantityView(
                output=q.output.key, label=q.output.label, unit=q.output.unit, family=q.family, net=q.net, waste=q.waste, gross=q.gross,
                item=taken.get(q.output.key), item_ref=numbers.get(taken.get(q.output.key, 0), ""),
                billed=bool(q.output.item), pack=f"{q.pack.number} × {q.pack.words}" if q.pack else "",
            )
            for q in result.quantities
            if q.net or not q.output.optional
        ],
        findings=[f"Line {finding.line + 1}: {finding.says}" for finding in result.findings],
    )  # fmt: skip


def _inputs(makeup: MakeUp, entered: dict[str, str]) -> list[InputView]:
    return [
        InputView(
            key=field.key, label=field.label, unit=field.unit, hint=field.hint, entry=entered.get(field.key, field.default),
            entered=field.key in entered, words=field.words, choices=[choice.label for choice in field.choices],
        )
        for field in makeup.inputs.values()
    ]  # fmt: skip


def _line(row: DimensionLine, squared: float, counted: bool, findings: list[str]) -> LineView:
    figure: Figure | None = row.figure if row.figure_id else None
    sheet = figure.sheet if figure else None
    drawing = sheet.revision.drawing.number if sheet else ""
    return LineView(
        id=row.id, version=row.version, times=row.times, length=row.length, width=row.width, height=row.height, deduct=row.deduct,
        note=row.note, squared=squared, counted=counted, figure=row.figure_id, sheet=sheet.id if sheet else None,
        figure_shows=shows(figure, sheet) if figure and sheet else "",
        source=f"{drawing} p. {sheet.page}" if sheet else "typed", findings=findings,
    )  # fmt: skip


@action
def link_to_bill(actor: Actor, element_id: int) -> Saved:
    """Make or link the bill items an element's quantity lines need; those already linked stay.

    An item is found again by its words, unit and section; the section is made when the bill has none of that title.
    """
    element = find(Element, actor, element_id)
    makeup = makeup_of(actor.project_id, element.makeup)
    linked = {link.output for link in element.links}
    nets = {q.output: q.net for q in element.quantities}
    with recording(actor, f"{element.mark} into the bill") as log:
        for output, _ in makeup.outputs:
            if not output.item or output.key in linked or not nets.get(output.key):
                continue
            item: Item = item_for(log, makeup.words(output.section, element.inputs), makeup.words(output.item, element.inputs), output.unit)
            log.insert(ItemLink, item=item.id, element=element.id, output=output.key)
        if not log.entries and not linked:
            raise Refusal(f"{element.mark} has no quantities yet.", remedy="Give it a dimension line first.")
    return Saved(label=log.label, id=element.id, change=log.change and log.change.id, bill_total=log.bill_total)
