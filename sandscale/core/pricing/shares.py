"""An amount shared out in whole cents, so that the shares add up to it."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import ROUND_FLOOR, Decimal
from typing import Literal, get_args

# What a bill may be reported by.
GroupedBy = Literal[
    "section", "location", "element", "sheet", "family", "cost", "resource", "stage", "stretch"
]
GROUPED_BY: tuple[GroupedBy, ...] = get_args(GroupedBy)
_CENT = Decimal("0.01")


def spread(amount: Decimal, weights: Sequence[Decimal]) -> list[Decimal]:
    """An amount in cents, shared out by weights; cents that are left over go where most was cut off, first
    come first.

    Args:
        amount: in whole cents.
        weights: none below zero; where all are zero, the first gets all of it.
    """
    if not weights:
        return []
    total = sum(weights, Decimal(0))
    if not total:
        return [amount, *(Decimal("0.00") for _ in weights[1:])]
    exact = [amount * weight / total for weight in weights]
    cut = [each.quantize(_CENT, ROUND_FLOOR) for each in exact]
    left = int((amount - sum(cut, Decimal(0))) / _CENT)
    order = sorted(range(len(weights)), key=lambda at: (cut[at] - exact[at], at))
    for at in order[:left]:
        cut[at] += _CENT
    return cut
