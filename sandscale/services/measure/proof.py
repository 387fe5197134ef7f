"""What must hold of elements and their lines from a project file."""

from __future__ import annotations

from ...core.numbers.formula import in_order
from ...core.refusals import Refusal
from ...store.models import DimensionLine, Element, Figure, OwnMakeUp, Project, Sheet
from .actions.figures import moved_by
from .entered import checked_detailing, read_source
from .measurers import known


def prove(project_id: int) -> None:
    """Make-ups can be read, measurers are known, figures lie on their sheets, no element is taken from
    itself.

    Raises:
        Refusal: something doesn't hold.
    """
    for own in OwnMakeUp.select().where(OwnMakeUp.project == project_id):
        read_source(own.source)
    checked_detailing(Project.get_by_id(project_id).detailing)
    for element in Element.select().where(Element.project == project_id):
        checked_detailing(element.detailing)
        if element.measurer not in known():
            raise Refusal(f"{element.mark} is measured by “{element.measurer}”, which isn't known here.")
    for figure in Figure.select(Figure, Sheet).join(Sheet).where(Figure.project == project_id):
        moved_by(figure, [0.0, 0.0])
    taken: dict[str, list[str]] = {str(i): [] for (i,) in _ids(project_id)}
    mine = (DimensionLine.project == project_id) & DimensionLine.taken_from.is_null(False)
    for element_id, source_id in (
        DimensionLine.select(DimensionLine.element, DimensionLine.taken_from).where(mine).tuples()
    ):
        taken[str(element_id)].append(str(source_id))
    in_order(taken, "The elements")


def _ids(project_id: int) -> list[tuple[int]]:
    return list(Element.select(Element.id).where(Element.project == project_id).tuples())
