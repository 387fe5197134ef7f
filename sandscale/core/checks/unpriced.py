"""A bill item that adds nothing: without a quantity, a rate or an amount."""

from __future__ import annotations

from decimal import Decimal

from ..pricing.bill import SUMS, ItemKind
from .check import Check


def unpriced(
    item: str, ref: str, kind: ItemKind, quantity: Decimal, rate: Decimal | None, amount: Decimal
) -> list[Check]:
    """Checks on one item: each kind needs what its amount is made of."""
    if kind == "heading":
        return []
    if kind in SUMS:
        return (
            []
            if amount
            else [Check("stop", "sum without an amount", f"{item} is a sum without an amount.", ref)]
        )
    found = []
    if not quantity and kind in ("measured", "time"):
        found.append(Check("stop", "item without a quantity", f"{item} has no quantity.", ref))
    if rate is None or rate == 0:
        found.append(
            Check(
                "stop",
                "item without a rate",
                f"{item} has {'no rate' if rate is None else 'a rate of zero'}.",
                ref,
            )
        )
    return found
