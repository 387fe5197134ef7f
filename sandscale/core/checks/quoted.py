"""A price that rests on a stale or outlying quote, or on none."""

from __future__ import annotations

from ..findings import Finding
from .check import Check, Severity


def quoted(resource: str, finding: Finding, ref: str, *, used: bool) -> Check:
    """A finding on a resource's price as a check; it stops the bill where something draws on a price there
    isn't."""
    says = f"{resource}: {finding.says[0].lower()}{finding.says[1:]}"
    severity: Severity = "stop" if used and finding.wrong else "look"
    return Check(severity, "quote", says, ref, finding.code, finding.numbers)
