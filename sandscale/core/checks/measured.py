"""What the measure itself found: more deducted than measured, overlapping areas, a steel ratio out of
band, a figure off its sheet."""

from __future__ import annotations

from .check import Check


def measured(mark: str, says: str, ref: str, *, wrong: bool) -> Check:
    """A finding on an element as a check; it stops the bill where a quantity is wrong by it."""
    return Check("stop" if wrong else "look", "measure", f"{mark}: {says}", ref)
