"""The measure: locations, elements with their make-up, and the dimension lines of each."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

from peewee import fn

from ..core.makeups.makeup import MakeUp
from ..core.makeups.run import Line, run
from ..core.numbers.entry import read_entry, read_times
from ..core.refusals import BadEntry, Refusal
from ..store.models import DimensionLine, Element, Figure, Item, ItemLink, Location, QuantityLine
from .acting import Actor, InUse, Missing, check_version, find
from .bill import item_for, refs
from .figures import shows
from .makeups import input_views, sketch_views
from .recompute import lines_of, makeup_of, read_lines
from .recording import Recording, action, recording
from .views import ElementBrief, ElementView, LineView, LocationView, QuantityView, Saved

LENGTHS = ("length", "width", "height")
LONGEST_NOTE = 300


@dataclass(frozen=True)
class LineEdit:
    """A change of one dimension line within a block; ``line`` is None for a new one."""

    line: int | None
    version: int
    fields: dict[str, Any]


def locations(actor: Actor) -> list[LocationView]:
    """The project's locations with their elements, each with its headline quantity."""
    first = (
        QuantityLine.select(QuantityLine.element, fn.MIN(QuantityLine.id).alias("id"))
        .where(QuantityLine.project == actor.project_id)
        .group_by(QuantityLine.element)
    )
    headline = {
        q.element_id: q for q in QuantityLine.select().join(first, on=(QuantityLine.id == first.c.id))
    }
    found = {
        location.id: LocationView(id=location.id, version=location.version, name=location.name, elements=[])
        for location in Location.select()
        .where(Location.project == actor.project_id)
        .order_by(Location.position, Location.id)
    }
    for element in (
        Element.select().where(Element.project == actor.project_id).order_by(Element.position, Element.id)
    ):
        quantity = headline.get(element.id)
        found[element.location_id].elements.append(
            ElementBrief(
                id=element.id, mark=element.mark, description=element.description, makeup=element.makeup,
                family=quantity.family if quantity else "concrete", value=quantity.net if quantity else None,
                unit=quantity.unit if quantity else "", findings=len(element.findings),
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
        raise InUse(
            f"{row.name} holds {number} element{'s' if number > 1 else ''}.",
            remedy="Move or delete them first.",
        )
    with recording(actor, f"Location {row.name} deleted") as log:
        log.delete(row)
    return Saved(label=log.label, bill_total=log.bill_total)


def _named(name: str, what: str) -> str:
    if not name.strip():
        raise BadEntry(f"{what} needs a name.", field="name")
    return name.strip()[:120]


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
    fields = _checked_element(
        actor,
        {"mark": mark, "makeup": makeup, "description": description, "inputs": inputs or {}},
        location.id,
    )
    with recording(actor, f"Element {fields['mark']}") as log:
        position = Element.select().where(Element.project == actor.project_id).count()
        row = log.insert(Element, location=location.id, position=position, **fields)
    return Saved(
        label=log.label, id=row.id, version=1, change=log.change and log.change.id, bill_total=log.bill_total
    )


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
        row,
        version,
        {**fields, "inputs": {**row.inputs, **entered}},
        lambda state: {**state, "inputs": {key: state["inputs"].get(key, "") for key in entered}},
    )
    if makeup.key != row.makeup:
        _check_outputs(row, makeup)
    kept = {key: entry for key, entry in row.inputs.items() if key in makeup.inputs}
    inputs = {key: entry.strip() for key, entry in {**kept, **entered}.items() if entry.strip()}
    fields = _checked_element(
        actor,
        {**fields, "makeup": makeup.key, "inputs": inputs},
        fields.get("location", row.location_id),
        row.id,
    )
    with recording(actor, _label(row, fields)) as log:
        log.update(row, **fields)
    return Saved(
        label=log.label,
        id=row.id,
        version=row.version,
        change=log.change and log.change.id,
        bill_total=log.bill_total,
    )


def _label(row: Element, fields: dict[str, Any]) -> str:
    for key, entry in fields.get("inputs", {}).items():
        if row.inputs.get(key) != entry:
            return f"{row.mark}: {key.replace('_', ' ')} {entry}"
    changed = [name for name, value in fields.items() if row.__data__.get(name) != value]
    return f"{row.mark}: {', '.join(changed) or 'unchanged'}"


def _checked_element(
    actor: Actor, fields: dict[str, Any], location_id: int, element_id: int | None = None
) -> dict[str, Any]:
    if "mark" in fields:
        fields["mark"] = fields["mark"].strip()[:40]
        if not fields["mark"]:
            raise BadEntry("An element needs a mark, such as PF2.", field="mark")
        twins = (
            (Element.location == location_id)
            & (fn.LOWER(Element.mark) == fields["mark"].lower())
            & (Element.id != (element_id or 0))
        )
        if Element.select().where(twins).exists():
            raise BadEntry(
                f"This location already has an element {fields['mark']}.",
                field="mark",
                remedy="Give it another mark.",
            )
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
    return Saved(
        label=log.label, id=row.id, version=1, change=log.change and log.change.id, bill_total=log.bill_total
    )


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
    said = ", ".join(
        f"{name} {getattr(row, name) or 'nothing'} → {value or 'nothing'}"
        for name, value in fields.items()
        if name in ("times", *LENGTHS)
    )
    with recording(actor, f"{row.element.mark}: {said or ', '.join(fields)}") as log:
        log.update(row, **fields)
    return Saved(
        label=log.label,
        id=row.id,
        version=row.version,
        change=log.change and log.change.id,
        bill_total=log.bill_total,
    )


@action
def change_lines(actor: Actor, element_id: int, changes: list[LineEdit]) -> Saved:
    """Many changes of an element's dimension lines as one: a block pasted, filled down or cleared; undone as
    one.

    Args:
        changes: for each, the line (None for a new one at the end), the version its writer saw, and the
            fields.

    Raises:
        BadEntry: an entry can't be read; its field names the place in the block, as ``3.width``.
        Stale: someone else changed one of the lines meanwhile.
    """
    element = find(Element, actor, element_id)
    rows = {line.id: line for line in element.lines}
    position = max((line.position for line in rows.values()), default=-1)
    made = None
    with recording(
        actor, f"{element.mark}: {len(changes)} line{'s' if len(changes) != 1 else ''} changed"
    ) as log:
        for at, edit in enumerate(changes):
            try:
                fields = _checked_line(edit.fields)
            except BadEntry as error:
                raise BadEntry(
                    f"Line {at + 1} of the block: {error.sentence}",
                    field=f"{at}.{error.field}",
                    remedy=error.remedy,
                ) from None
            if edit.line is None:
                position += 1
                made = log.insert(DimensionLine, element=element.id, position=position, **fields).id
            elif row := rows.get(edit.line):
                check_version(row, edit.version, fields)
                log.update(row, **fields)
            else:
                raise Missing(
                    f"A line of {element.mark} that was to be changed is gone.",
                    remedy="Look again, then repeat it.",
                )
    return Saved(label=log.label, id=made, change=log.change and log.change.id, bill_total=log.bill_total)


@action
def move_lines(actor: Actor, line_ids: list[int], to_element: int, *, copy: bool) -> Saved:
    """Move or copy dimension lines to the end of another element; figures go along, or are copied.

    Raises:
        Missing: a line is gone.
    """
    target = find(Element, actor, to_element)
    lines = [find(DimensionLine, actor, line_id) for line_id in line_ids]
    position = max((line.position for line in target.lines), default=-1)
    with recording(
        actor,
        f"{len(lines)} line{'s' if len(lines) != 1 else ''} {'copied' if copy else 'moved'} to {target.mark}",
    ) as log:
        for line in lines:
            position += 1
            figure = line.figure if line.figure_id else None
            if copy:
                _copy_line(log, line, target, position)
                continue
            if figure is not None:
                log.update(figure, element=target.id)
            log.update(line, element=target.id, position=position)
    return Saved(
        label=log.label, id=target.id, change=log.change and log.change.id, bill_total=log.bill_total
    )


def _copy_line(log: Recording, line: DimensionLine, target: Element, position: int) -> None:
    kept = {name: getattr(line, name) for name in ("times", *LENGTHS, "deduct", "note")}
    figure = None
    if line.figure_id:
        shape = line.figure
        figure = log.insert(
            Figure, sheet=shape.sheet_id, element=target.id, kind=shape.kind, geometry=shape.geometry
        ).id
    log.insert(DimensionLine, element=target.id, position=position, figure=figure, **kept)


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
        "makeup": source.makeup,
        "inputs": source.inputs,
    }
    fields = _checked_element(actor, fields, place.id)
    with recording(actor, f"Element {fields['mark']}, like {source.mark}") as log:
        position = Element.select().where(Element.project == actor.project_id).count()
        made = log.insert(Element, location=place.id, position=position, **fields)
        for at, line in enumerate(source.lines.order_by(DimensionLine.position, DimensionLine.id)):
            if line.figure_id and not figures:
                kept = {name: getattr(line, name) for name in ("times", *LENGTHS, "deduct", "note")}
                log.insert(DimensionLine, element=made.id, position=at, **kept)
            else:
                _copy_line(log, line, made, at)
    return Saved(
        label=log.label, id=made.id, version=1, change=log.change and log.change.id, bill_total=log.bill_total
    )


@action
def replace(actor: Actor, element_id: int | None, field: str, find_text: str, put: str) -> Saved:
    """Find what stands in a field of dimension lines and put something else: in one element, or in the whole
    project.

    In notes, a part of the words; in dimensions and times, the whole entry (3 is not found in 3.5).

    Raises:
        BadEntry: nothing to find was given, or what is put can't be read in that field.
        Refusal: nothing was found.
    """
    if field not in ("times", *LENGTHS, "note"):
        raise BadEntry(f"Lines have no field “{field}”.", field="field")
    if not find_text.strip():
        raise BadEntry("Type what to find.", field="find")
    column = getattr(DimensionLine, field)
    where = (DimensionLine.project == actor.project_id) & (
        column.contains(find_text) if field == "note" else column == find_text.strip()
    )
    if element_id is not None:
        where &= DimensionLine.element == find(Element, actor, element_id).id
    rows = list(DimensionLine.select().where(where).order_by(DimensionLine.id))
    if not rows:
        raise Refusal(f"“{find_text}” stands in no {field} here.", field="find")
    with recording(
        actor,
        f"{field.capitalize()} “{find_text}” → “{put}” in {len(rows)} line{'s' if len(rows) != 1 else ''}",
    ) as log:
        for row in rows:
            text = (
                re.sub(re.escape(find_text), lambda _: put, row.note, flags=re.IGNORECASE)
                if field == "note"
                else put
            )
            log.update(row, **_checked_line({field: text}))
    return Saved(
        label=log.label, id=len(rows), change=log.change and log.change.id, bill_total=log.bill_total
    )


@action
def move_line(actor: Actor, line_id: int, by: int) -> Saved:
    """Put a dimension line earlier (below zero) or later in its element."""
    row = find(DimensionLine, actor, line_id)
    lines = list(row.element.lines.order_by(DimensionLine.position, DimensionLine.id))
    at = next(i for i, line in enumerate(lines) if line.id == row.id)
    lines.insert(min(max(at + by, 0), len(lines) - 1), lines.pop(at))
    with recording(actor, f"{row.element.mark}: line moved") as log:
        for position, line in enumerate(lines):
            log.update(line, position=position)
    return Saved(label=log.label, id=row.id, change=log.change and log.change.id, bill_total=log.bill_total)


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
    first = next((line for at, line in enumerate(lines) if result.counted[at] and not line.deduct), Line())
    headline = next(q for q in result.quantities if q.output.key == makeup.document.headline)
    said: dict[int, list[str]] = {}
    for line_id, says, _ in element.findings:
        said.setdefault(line_id, []).append(says)
    numbered = {row.id: f"Line {at}: " for at, row in enumerate(rows, start=1)}
    taken = dict(
        ItemLink.select(ItemLink.output, ItemLink.item).where(ItemLink.element == element.id).tuples()
    )
    numbers = refs(actor.project_id) if taken else {}
    return ElementView(
        id=element.id, version=element.version, location=element.location_id, mark=element.mark,
        description=element.description,
        makeup=makeup.key, makeup_name=makeup.name, about=makeup.document.about, needs=list(makeup.needs),
        headline=headline.output.label, unit=headline.output.unit, inputs=input_views(makeup, element.inputs),
        lines=[_line(row, float(headline.each[at]), bool(result.counted[at]), said.get(row.id, [])) for at, row in enumerate(rows)],
        quantities=[
            QuantityView(
                output=q.output.key, label=q.output.label, unit=q.output.unit, family=q.family, net=q.net,
                waste=q.waste, gross=q.gross,
                item=taken.get(q.output.key), item_ref=numbers.get(taken.get(q.output.key, 0), ""),
                billed=bool(q.output.item), pack=f"{q.pack.number} × {q.pack.words}" if q.pack else "",
            )
            for q in result.quantities
            if q.net or not q.output.optional
        ],
        findings=[f"{numbered.get(line_id, '')}{says}" for line_id, says, _ in element.findings],
        figures=list(makeup.document.figures),
        sketch=sketch_views(makeup, element.inputs, first),
    )  # fmt: skip


def _line(row: DimensionLine, squared: float, counted: bool, findings: list[str]) -> LineView:
    figure: Figure | None = row.figure if row.figure_id else None
    sheet = figure.sheet if figure else None
    drawing = sheet.revision.drawing.number if sheet else ""
    return LineView(
        id=row.id, version=row.version, times=row.times, length=row.length, width=row.width,
        height=row.height, deduct=row.deduct,
        note=row.note, squared=squared, counted=counted, figure=row.figure_id,
        sheet=sheet.id if sheet else None,
        figure_shows=shows(figure, sheet) if figure and sheet else "",
        source=f"{drawing} p. {sheet.page}" if sheet else "typed", findings=findings,
    )  # fmt: skip


@action
def link_to_bill(actor: Actor, element_id: int) -> Saved:
    """Make or link the bill items an element's quantity lines need; those already linked stay.

    An item is found again by its words, unit and section; the section is made when the bill has none of that
    title.
    """
    element = find(Element, actor, element_id)
    makeup = makeup_of(actor.project_id, element.makeup)
    linked = {link.output for link in element.links}
    nets = {q.output: q.net for q in element.quantities}
    with recording(actor, f"{element.mark} into the bill") as log:
        for output, _ in makeup.outputs:
            if not output.item or output.key in linked or not nets.get(output.key):
                continue
            item: Item = item_for(
                log,
                makeup.words(output.section, element.inputs),
                makeup.words(output.item, element.inputs),
                output.unit,
            )
            log.insert(ItemLink, item=item.id, element=element.id, output=output.key)
        if not log.entries and not linked:
            raise Refusal(f"{element.mark} has no quantities yet.", remedy="Give it a dimension line first.")
    return Saved(
        label=log.label, id=element.id, change=log.change and log.change.id, bill_total=log.bill_total
    )
