"""What of dimension sheets can be tried: the sizes of a line, and what a make-up asks."""

from __future__ import annotations

from ...store.models import DimensionLine, Element
from ..keeping.acting import Actor
from ..keeping.trying import Field, Offers, Tries
from .actions.dimension_lines import change_line
from .actions.elements import change_element
from .entered import makeup_of

_SIZES = ("times", "length", "width", "height")


def _sizes(line: DimensionLine) -> list[Field]:
    """All of a typed line; of one that follows something what was typed beside that."""
    follows = line.figure_id or line.taken_from_id
    return [
        Field(name, name, "" if name == "times" else "m", getattr(line, name), measured=name != "times")
        for name in _SIZES
        if getattr(line, name) or not follows
    ]


def _inputs(element: Element) -> list[Field]:
    if element.measurer != "make-up":
        return []
    makeup = makeup_of(element.project_id, element.source)
    return [
        Field(
            key, asked.label, asked.unit, element.inputs.get(key) or asked.default, measured=bool(asked.unit)
        )
        for key, asked in makeup.inputs.items()
        if asked.is_number
    ]


def _change_line(actor: Actor, line: DimensionLine, field: str, value: str) -> object:
    return change_line(actor, line.id, line.version, {field: value})


def _change_input(actor: Actor, element: Element, field: str, value: str) -> object:
    return change_element(actor, element.id, element.version, {"inputs": {field: value}})


TRIES = {
    "line": Tries(
        DimensionLine, lambda line: f"{line.element.mark}, line {line.position + 1}", _sizes, _change_line
    ),
    "element": Tries(Element, lambda element: str(element.mark), _inputs, _change_input),
}
OFFERS: Offers = {
    "line": lambda _actor, row: [("line", row)],
    "quantity": lambda _actor, row: [("element", row)],
}
