"""A sheet that something is measured on, without a scale."""

from __future__ import annotations

from .check import Check


def unscaled(sheet: str, ref: str, figures: int, *, scaled: bool) -> list[Check]:
    """A check where runs or areas lie on a sheet without a scale: they all come to nothing."""
    if scaled or not figures:
        return []
    return [
        Check(
            "stop",
            "sheet without a scale",
            f"{figures} figure{'s' if figures != 1 else ''} on {sheet} measure nothing: it has no scale.",
            ref,
            numbers=(figures,),
        )
    ]
