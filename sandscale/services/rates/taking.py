"""What rates take from quantity lines: a line's quantity, an output, its hours."""

from __future__ import annotations

from typing import Any, Literal

from ...core.refusals import BadEntry
from ...store.models import BuildUp, BuildUpLine, Element
from ..keeping.acting import Actor, check_version, find
from ..keeping.recording import action, recording
from ..keeping.views import Saved
from ..measure.draws import refuse_ring
from ..measure.taken import quantity_line

Figure = Literal["output", "hours"]


@action
def take_for_line(
    actor: Actor, line_id: int, version: int, element_id: int | None, output: str = ""
) -> Saved:
    """Let a line's quantity be that of a quantity line, such as an allowance's hours; or what was typed
    again.

    Raises:
        BadEntry: there is no such quantity line, its unit is another kind, or the line is a percentage.
        BadFormula: an allowance would draw on itself by it.
        Stale: someone else changed it meanwhile.
    """
    row = find(BuildUpLine, actor, line_id)
    source = row.resource if row.resource_id else row.nested
    if source is None:
        raise BadEntry("A percentage takes no quantity.", field="element", remedy="Choose another line.")
    fields, told = _taken(actor, element_id, output, source.unit)
    fields = {"taken": fields[0], "taken_key": fields[1]}
    check_version(row, version, fields)
    with recording(actor, f"{row.build_up.name}: {source.name}, {told}") as log:
        log.update(row, **fields)
        refuse_ring(actor.project_id)
    return log.saved(row)


@action
def take_for_rate(
    actor: Actor, build_up_id: int, version: int, figure: Figure, element_id: int | None, output: str = ""
) -> Saved:
    """Let a rate's output, or its hours, be those of a quantity line; or what was typed again.

    Raises:
        BadEntry: there is no such quantity line, or its unit is another kind.
        BadFormula: an allowance would draw on itself by it.
        Stale: someone else changed it meanwhile.
    """
    row = find(BuildUp, actor, build_up_id)
    if row.kind != "rate" and element_id is not None:
        raise BadEntry(f"“{row.name}” has no {figure} of its own.", field="element")
    symbol = row.unit if figure == "output" else "h"
    taken, told = _taken(actor, element_id, output, symbol)
    fields: dict[str, Any] = {f"{figure}_taken": taken[0], f"{figure}_key": taken[1]}
    check_version(row, version, fields)
    with recording(actor, f"Rate {row.name}: {figure} {told}") as log:
        log.update(row, **fields)
        refuse_ring(actor.project_id)
    return log.saved(row)


def _taken(
    actor: Actor, element_id: int | None, output: str, symbol: str
) -> tuple[tuple[int | None, str], str]:
    if element_id is None:
        return (None, ""), "as typed"
    source = find(Element, actor, element_id)
    quantity_line(source, output).held_in(symbol)
    return (source.id, output), f"taken from {source.mark}"
