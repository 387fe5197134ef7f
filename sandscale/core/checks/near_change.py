"""Figures near a change of their drawing that nobody has looked at since."""

from __future__ import annotations

from .check import Check


def near_change(mark: str, ref: str, figures: int) -> list[Check]:
    """A check where figures of an element lie near what a new revision changed."""
    if not figures:
        return []
    what = "1 figure lies" if figures == 1 else f"{figures} figures lie"
    says = f"{mark}: {what} near a change of the drawing; keep, put right or delete each."
    return [Check("look", "drawing changed", says, ref, numbers=(figures,))]
