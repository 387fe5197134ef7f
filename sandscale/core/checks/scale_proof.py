"""A scale that a second known length doesn't bear out."""

from __future__ import annotations

from ..figures.scale import Point, Scale, prove
from .check import Check


def scale_proof(sheet: str, ref: str, scale: Scale, first: Point, second: Point, known: float) -> list[Check]:
    """A check where a second known length, in m, is more than 0.5 % off."""
    finding = prove(scale, first, second, known).finding
    return [Check("stop", "scale proof off", f"{sheet}: {finding.says}", ref)] if finding else []
