"""The dimension lines of elements."""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from peewee import Case, fn

from ....core.numbers.entry import as_typed, kept, read_entry, read_times
from ....core.refusals import BadEntry, Refusal
from ....store.models import (
    LINE_ENTRIES,
    LINE_FIELDS,
    LINE_SIZES,
    DimensionLine,
    Element,
    Figure,
    QuantityLine,
)
from ...keeping.acting import Actor, InUse, Missing, check_version, find
from ...keeping.naming import stripped
from ...keeping.recording import Recording, action, as_one, in_words, recording
from ...keeping.views import Saved
from ..draws import refuse_ring as refuse_drawn_ring
from ..entered import TAKEN_AS, makeup_of

MOST_TAKEN = 30  # elements that are taken from one another, in a chain
LONGEST_NOTE = 300


@dataclass(frozen=True)
class LineEdit:
    """A change of one dimension line within a block; ``line`` is None for a new one."""

    line: int | None
    version: int
    fields: dict[str, Any]


def with_lines(actor: Actor, element_id: int) -> Element:
    """An element that dimension lines can be typed for.

    Raises:
        Refusal: it is measured otherwise, as typed bars and earthworks are.
    """
    element = find(Element, actor, element_id)
    if element.measurer != "make-up" or makeup_of(element.project_id, element.source).is_allowance:
        raise Refusal(
            f"{element.mark} is not measured by dimension lines.", field="element",
            remedy="Choose another element, or add one.",
        )  # fmt: skip
    return element


@action
def add_line(actor: Actor, element_id: int, fields: dict[str, Any], after: int | None = None) -> Saved:
    """A new dimension line, at the end or after another.

    Raises:
        BadEntry: a dimension can't be read.
    """
    element = with_lines(actor, element_id)
    fields = typed_line(fields)
    with recording(actor, f"{element.mark}: line added") as log:
        lines = list(element.lines.order_by(DimensionLine.position, DimensionLine.id))
        at = next((i + 1 for i, line in enumerate(lines) if line.id == after), len(lines))
        position = last = lines[at - 1].position + 1 if at else 0
        for later in lines[at:]:
            if later.position > last:
                break
            last += 1
            log.update(later, position=last)
        row = log.insert(DimensionLine, element=element.id, position=position, **fields)
    return log.saved(row)


@action
def change_line(actor: Actor, line_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change what was typed into a dimension line.

    Raises:
        BadEntry: a dimension can't be read.
        Stale: someone else changed it meanwhile.
    """
    row = find(DimensionLine, actor, line_id)
    fields = typed_line(fields)
    check_version(row, version, fields)
    said = ", ".join(
        f"{name} {_shown(name, getattr(row, name))} → {_shown(name, value)}"
        for name, value in fields.items()
        if name in LINE_ENTRIES
    )
    with recording(actor, f"{row.element.mark}: {said or in_words(fields)}") as log:
        log.update(row, **fields)
    return log.saved(row)


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
    element = with_lines(actor, element_id)
    rows = {line.id: line for line in element.lines}
    position = max((line.position for line in rows.values()), default=-1)
    made = None
    fresh = sum(edit.line is None for edit in changes)
    counts = [(fresh, "added"), (len(changes) - fresh, "changed")]
    said = ", ".join(f"{n} line{'s' if n != 1 else ''} {what}" for n, what in counts if n)
    with recording(actor, f"{element.mark}: {said}") as log:
        for at, edit in enumerate(changes):
            try:
                fields = typed_line(edit.fields)
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
    return log.saved(made)


@action
def move_lines(actor: Actor, line_ids: list[int], to_element: int, *, copy: bool) -> Saved:
    """Move or copy dimension lines to the end of another element; figures go along, or are copied.

    Raises:
        Missing: a line is gone.
    """
    target = with_lines(actor, to_element)
    lines = [find(DimensionLine, actor, line_id) for line_id in line_ids]
    position = max((line.position for line in target.lines), default=-1)
    with recording(
        actor,
        f"{len(lines)} line{'s' if len(lines) != 1 else ''} {'copied' if copy else 'moved'} to {target.mark}",
    ) as log:
        for line in lines:
            position += 1
            figure = line.figure if line.figure_id else None
            if line.taken_from_id:
                refuse_ring(target, line.taken_from)
            if copy:
                copy_line(log, line, target, position)
                continue
            if figure is not None:
                log.update(figure, element=target.id)
            log.update(line, element=target.id, position=position)
    return log.saved(target)


@action
def take_line(actor: Actor, line_id: int, version: int, element_id: int | None, output: str = "") -> Saved:
    """Let a dimension line take an output of another element, which it then follows; or nothing any more.

    Raises:
        BadEntry: the line has a figure, there is no such output, or its unit is none a line can take.
        Refusal: the other element draws on this one, by however many steps.
        Stale: someone else changed it meanwhile.
    """
    row = find(DimensionLine, actor, line_id)
    fields: dict[str, Any] = {"taken_from": None, "taken_output": ""}
    if element_id is not None:
        source = find(Element, actor, element_id)
        fields = {"taken_from": source.id, "taken_output": output}
        _check_taken(row, source, output)
    check_version(row, version, fields)
    mark = f"taken from {source.mark}" if element_id is not None else "taken from nothing"
    with recording(actor, f"{row.element.mark}: line {mark}") as log:
        log.update(row, **fields)
        refuse_drawn_ring(actor.project_id)
    return log.saved(row)


@action
def add_taken_line(actor: Actor, element_id: int, source_id: int, output: str) -> Saved:
    """A new dimension line that takes an output of another element, as one change.

    Raises:
        BadEntry: there is no such output, or its unit is none a line can take.
        Refusal: the other element draws on this one, by however many steps.
    """
    element, source = find(Element, actor, element_id), find(Element, actor, source_id)
    with as_one(actor, f"{element.mark}: line taken from {source.mark}") as log:
        line = add_line(actor, element.id, {}).id or 0
        take_line(actor, line, 1, source.id, output)
    return log.saved(DimensionLine.get_by_id(line))


def _check_taken(row: DimensionLine, source: Element, output: str) -> None:
    if row.figure_id:
        raise BadEntry(
            "This line is measured by a figure.", field="element", remedy="Take a line that is typed."
        )
    mine = (QuantityLine.element == source.id) & (QuantityLine.output == output)
    quantity = QuantityLine.get_or_none(mine)
    if quantity is None:
        raise BadEntry(f"{source.mark} has no quantity line “{output}”.", field="output")
    if quantity.unit not in TAKEN_AS:
        says = (
            f"{quantity.label} of {source.mark} is in {quantity.unit}; a line "
            "takes a length, an area or a number."
        )
        raise BadEntry(says, field="output", remedy=f"Choose an output in {', '.join(TAKEN_AS)}.")
    refuse_ring(row.element, source)


def refuse_ring(element: Element, source: Element) -> None:
    """Refuse that a line of an element is taken from one that is itself taken from it, by however many steps.

    Raises:
        Refusal: it would be.
    """
    above = _chain({source.id}, DimensionLine.element, DimensionLine.taken_from)
    if any(element.id in layer for layer in above):
        says = f"{source.mark} is itself taken from {element.mark}."
        raise Refusal(says, field="element", remedy="An element can't come to what comes from it.")
    below = _chain({element.id}, DimensionLine.taken_from, DimensionLine.element)
    if len(above) + len(below) > MOST_TAKEN:
        raise Refusal(
            f"More than {MOST_TAKEN} elements would be taken from one another in a chain.", field="element",
            remedy="Take the line from the first of them.",
        )  # fmt: skip


def _chain(first: set[int], here: Any, there: Any) -> list[set[int]]:
    """The elements that lines lead to from some, step by step, those among them."""
    layers, seen = list[set[int]](), set[int]()
    layer = first
    while layer:
        layers.append(layer)
        seen |= layer
        lines = DimensionLine.select(there).where((here << list(layer)) & there.is_null(False))
        layer = {element for (element,) in lines.tuples()} - seen
    return layers


def copy_line(log: Recording, line: DimensionLine, target: Element, position: int) -> None:
    """A line like another at the end of an element, with a figure like its own where it has one."""
    kept = {name: getattr(line, name) for name in LINE_FIELDS}
    figure = None
    if line.figure_id:
        shape = line.figure
        figure = log.insert(
            Figure, sheet=shape.sheet_id, element=target.id, kind=shape.kind, geometry=shape.geometry
        ).id
    taken = {"taken_from": line.taken_from_id, "taken_output": line.taken_output}
    log.insert(DimensionLine, element=target.id, position=position, figure=figure, **taken, **kept)


def _same_entry(column: Any, text: str) -> Any:
    """Entries that are a text, or the number it is in the same unit."""
    same = column == text
    typed = re.fullmatch(r"([0-9]+(?:[.][0-9]*)?)( ft)?", text)
    if not typed:
        return same
    unit = typed[2] or ""
    bare = fn.REPLACE(column, unit, "") if unit else column
    is_one = column.regexp(rf"^[0-9]+([.][0-9]*)?{unit}$")
    as_number = Case(None, [(is_one, bare.cast("numeric"))], None)
    return same | (as_number == Decimal(typed[1]))


@action
def replace(actor: Actor, element_id: int | None, field: str, find_text: str, put: str) -> Saved:
    """Find what stands in a field of dimension lines and put something else: in one element, or in the whole
    project.

    In notes, a part of the words; in dimensions and times, the whole entry (3 is not found in 3.5), or the
    same number written otherwise (0.50 finds 0.5).

    Raises:
        BadEntry: nothing to find was given, or what is put can't be read in that field.
        Refusal: nothing was found.
    """
    if field not in (*LINE_ENTRIES, "note"):
        raise BadEntry(f"Lines have no field “{field}”.", field="field")
    if not find_text.strip():
        raise BadEntry("Type what to find.", field="find")
    column = getattr(DimensionLine, field)
    where = (DimensionLine.project == actor.project_id) & (
        column.contains(find_text) if field == "note" else _same_entry(column, _typed_entry(field, find_text))
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
            log.update(row, **typed_line({field: text}))
    return log.saved(len(rows))


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
    return log.saved(row)


def refuse_route(figure: Figure, other_than: int = 0) -> None:
    """Refuse where a route of another element goes along a figure.

    Raises:
        InUse: one does.
    """
    for route in figure.routes:
        if route.element_id != other_than:
            raise InUse(
                f"Route {route.element.mark} goes along this run.", remedy="Give it another centreline first."
            )


@action
def delete_line(actor: Actor, line_id: int) -> Saved:
    """Take a dimension line out, with the figure that feeds it.

    Raises:
        InUse: a route goes along that figure.
    """
    row = find(DimensionLine, actor, line_id)
    if row.figure_id:
        refuse_route(row.figure)
    with recording(actor, f"{row.element.mark}: line deleted") as log:
        figure = row.figure if row.figure_id else None
        log.delete(row)
        if figure is not None:
            log.delete(figure)
    return log.saved()


def typed_line(fields: dict[str, Any]) -> dict[str, Any]:
    """What was typed into a line in the project's ways, as it is kept.

    Raises:
        BadEntry: an entry can't be read, or in two ways.
    """
    return checked_line(
        {
            name: _typed_entry(name, value) if name in LINE_ENTRIES and isinstance(value, str) else value
            for name, value in fields.items()
        }
    )


def _shown(name: str, entry: str) -> str:
    return as_typed(entry, "m" if name in LINE_SIZES else "") or "nothing"


def _typed_entry(name: str, text: str) -> str:
    return kept(text, "m" if name in LINE_SIZES else "", field=name)


def checked_line(fields: dict[str, Any]) -> dict[str, Any]:
    """What was typed into a line, as it is kept.

    Raises:
        BadEntry: an entry can't be read.
    """
    fields = stripped(fields)
    for name in LINE_SIZES:
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
