"""What the measure itself found: more deducted than measured, overlapping areas, a steel ratio out of
band, a figure off its sheet."""

from __future__ import annotations

from ..findings import Finding
from .check import Check, Severity


def measured(mark: str, finding: Finding, ref: str) -> Check:
    """A finding on an element as a check; it stops the bill where a quantity is wrong by it."""
    severity: Severity = "stop" if finding.wrong else "look"
    return Check(severity, "measure", f"{mark}: {finding.says}", ref, finding.code, finding.numbers)
