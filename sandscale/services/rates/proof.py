"""What must hold of rates from a project file."""

from __future__ import annotations

from ...core.numbers.formula import in_order
from .reading import nesting


def prove(project_id: int) -> None:
    """No build-up is nested in itself.

    Raises:
        BadFormula: one is, by however many steps.
    """
    in_order(nesting(project_id), "The build-ups")
