"""What the measure itself found: more deducted than measured, overlapping areas, a steel ratio out of band, a figure off its sheet."""

from __future__ import annotations

from .check import Check

# Findings that make a quantity wrong, by words they hold; the others may be right.
_WRONG = ("counts nothing", "off the sheet", "crosses itself", "overlap", "is below zero", "comes to no number")


def measured(mark: str, says: str, ref: str) -> Check:
    """A finding on an element as a check."""
    return Check("stop" if any(words in says for words in _WRONG) else "look", "measure", f"{mark}: {says}", ref)
