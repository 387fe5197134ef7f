"""What must hold of elements and their lines from a project file."""

from __future__ import annotations

from typing import Any

from peewee import fn

from ...core.makeups.makeup import built_in_keys
from ...core.numbers.formula import refuse_deeper
from ...core.refusals import Refusal
from ...store.models import DimensionLine, Element, Figure, Project, QuantityLine, Sheet
from ..bars.detailing import checked_detailing
from ..keeping.proving import refuse_empty, refuse_other, refuse_twins
from .actions.dimension_lines import MOST_TAKEN, checked_line
from .actions.figures import moved_by
from .entered import read_source
from .measurers import at_once, known

MOST_INPUTS = 200


def _own_make_up(row: dict[str, Any]) -> None:
    if row["key"] in built_in_keys() or read_source(row["source"]).key != row["key"]:
        raise Refusal("Its key is not that of its text, or a built-in one.")


def _element(row: dict[str, Any]) -> None:
    refuse_empty(row, "mark")
    refuse_other(row, "measurer", known())
    entries = row["inputs"]
    texts = isinstance(entries, dict) and all(isinstance(entry, str) for entry in entries.values())
    if not texts or len(entries) > MOST_INPUTS:
        raise Refusal("Its entries are no texts, or too many.")


def _line(row: dict[str, Any]) -> None:
    if checked_line(row) != row:
        raise Refusal("It is no dimension line that could be typed.")
    if (row["taken_from"] is None) != (row["taken_output"] == "") or (row["figure"] and row["taken_from"]):
        raise Refusal("It is taken from nothing, or from two.")


def _draw(row: dict[str, Any]) -> None:
    refuse_empty(row, "input")
    of_item = row["resource"] is not None and row["item"] is not None
    of_element = row["taken"] is not None and row["taken_key"] != ""
    none = row["taken"] is None and row["taken_key"] == ""
    if of_item != none or of_element != (row["resource"] is None and row["item"] is None):
        raise Refusal("It draws on neither a resource over an item nor a quantity line.")


RULES = {
    "input_draw": _draw,
    "location": lambda row: refuse_empty(row, "name"),
    "own_make_up": _own_make_up,
    "element": _element,
    "figure": lambda row: refuse_other(row, "kind", ("count", "run", "area")),
    "dimension_line": _line,
}


def prove(project_id: int) -> None:
    """Figures lie on their sheets, marks differ in a location, no element is taken from itself.

    Raises:
        Refusal: something doesn't hold.
    """
    own = Element.select(Element.detailing).where(Element.project == project_id).distinct().tuples()
    for key in (Project.get_by_id(project_id).detailing, *(key for (key,) in own)):
        checked_detailing(key, project_id)
    refuse_twins(Element, project_id, Element.mark, Element.location)
    for figure in Figure.select(Figure, Sheet).join(Sheet).where(Figure.project == project_id):
        if moved_by(figure, [0.0, 0.0]).keys() != figure.geometry.keys():
            raise Refusal("A figure holds what none has.")
    taken: dict[str, list[str]] = {str(i): [] for (i,) in _ids(project_id)}
    mine = (DimensionLine.project == project_id) & DimensionLine.taken_from.is_null(False)
    for element_id, source_id in (
        DimensionLine.select(DimensionLine.element, DimensionLine.taken_from).where(mine).tuples()
    ):
        taken[str(element_id)].append(str(source_id))
    refuse_deeper(taken, "The elements", MOST_TAKEN)
    astray = DimensionLine.select(DimensionLine.id).join(Figure).where(
        (DimensionLine.project == project_id) & (DimensionLine.element != Figure.element)
    )  # fmt: skip
    if astray.exists():
        raise Refusal("A line is measured by a figure of another element.")


def prove_worked_out(project_id: int) -> None:
    """What lines are taken from is there.

    Raises:
        Refusal: an element has no such quantity line.
    """
    there = QuantityLine.select(QuantityLine.id).where(
        (QuantityLine.element == DimensionLine.taken_from)
        & (QuantityLine.output == DimensionLine.taken_output)
    )
    source = Element.select(Element.id).where(
        (Element.project == project_id) & (Element.measurer << at_once())
    )
    mine = (DimensionLine.project == project_id) & (DimensionLine.taken_from << source)
    for line in DimensionLine.select().where(mine & ~fn.EXISTS(there)).limit(1):
        raise Refusal(f"A line is taken from “{line.taken_output[:40]}”, which its element doesn't give.")


def _ids(project_id: int) -> list[tuple[int]]:
    return list(Element.select(Element.id).where(Element.project == project_id).tuples())
