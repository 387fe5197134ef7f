"""A waste outside the band that is usual for its family of work."""

from __future__ import annotations

from .check import Check

# Percent, from practice: below and above these a waste is looked at.
BANDS = {
    "concrete": (0, 12.5), "formwork": (0, 20), "bars": (0, 10), "masonry": (0, 15), "earth": (0, 15),
    "paving": (0, 12.5), "pipes": (0, 10), "steel": (0, 10),
}  # fmt: skip


def waste_band(quantity: str, ref: str, family: str, waste: float) -> list[Check]:
    """A check where a quantity line's waste, in percent, is out of its family's band."""
    low, high = BANDS.get(family, (0, 25))
    if low <= waste <= high:
        return []
    return [
        Check(
            "look",
            "waste out of band",
            f"{quantity} has {waste:g} % waste; {low:g} to {high:g} % is usual.",
            ref,
            numbers=(waste, low, high),
        )
    ]
