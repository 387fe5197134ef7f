"""What must hold of bills from a project file."""

from __future__ import annotations

from ...core.refusals import Refusal
from ...store.models import Bill, Section


def prove(project_id: int) -> None:
    """There is one bill of the project's own, and a section lies in the bill of the one around it.

    Raises:
        Refusal: something doesn't hold.
    """
    own = Bill.select().where((Bill.project == project_id) & (Bill.kind == "own")).count()
    if own != 1:
        raise Refusal(f"It has {own} bills of its own; a project has one.")
    outer = Section.alias()
    astray = Section.select().join(outer, on=(Section.parent == outer.id)).where(
        (Section.project == project_id) & (Section.bill != outer.bill)
    )  # fmt: skip
    if astray.exists():
        raise Refusal("A section lies in one of another bill.")
