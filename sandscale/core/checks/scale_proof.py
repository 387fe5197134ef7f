"""A scale that a second known length doesn't bear out."""

from __future__ import annotations

from ..figures.scale import Point, Scale, prove
from .check import Check


def scale_proof(sheet: str, ref: str, scale: Scale, first: Point, second: Point, known: float) -> list[Check]:
    """A check where a second known length, in m, is more than 0.5 % off."""
    finding = prove(scale, first, second, known).finding
    if not finding:
        return []
    says = f"{sheet}: {finding.says}"
    return [Check("stop", "scale proof off", says, ref, finding.code, finding.numbers)]
