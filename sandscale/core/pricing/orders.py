"""What to buy: packs, rounded up once over all that is needed or delivery by delivery; how orders stand."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import ROUND_CEILING, Decimal
from typing import Literal

from ..refusals import BadEntry

# Where a resource stands between the bill and the site.
OrderState = Literal["to order", "ordered", "late", "part delivered", "delivered", "outgrown"]
_DUST = Decimal("1e-9")  # a share of a pack that is no more than noise
MOST_DELIVERIES = 200


def packs(needed: Decimal, contains: Decimal, deliveries: int = 1) -> Decimal:
    """How many packs cover what is needed; each delivery is of whole packs.

    Args:
        needed: of the resource, in its unit.
        contains: so much is in one pack.
        deliveries: how many it comes in.

    Raises:
        BadEntry: a pack holds nothing, or there are no deliveries, or too many.
    """
    if contains <= 0:
        raise BadEntry("A pack holds more than nothing.", field="contains")
    if not 1 <= deliveries <= MOST_DELIVERIES:
        raise BadEntry(f"It comes in 1 to {MOST_DELIVERIES} deliveries.", field="deliveries")
    if needed <= 0:
        return Decimal(0)
    each = (needed / deliveries / contains - _DUST).to_integral_value(ROUND_CEILING)
    return max(each, Decimal(1)) * deliveries


@dataclass(frozen=True)
class Standing:
    """How a resource stands: what the bill needs of it, what is ordered, and what came; all in its unit.

    Attributes:
        due: the earliest day that something ordered is to come on; None where no day was set.
    """

    needed: Decimal
    ordered: Decimal
    delivered: Decimal
    due: date | None = None

    @property
    def left(self) -> Decimal:
        """What is still to be ordered."""
        return max(self.needed - self.ordered, Decimal(0))

    @property
    def covered(self) -> bool:
        """Whether as much is ordered as is needed, but for what is no more than noise."""
        return self.left <= _DUST * max(self.needed, Decimal(1))

    @property
    def outgrown(self) -> bool:
        """Whether it was ordered, and the job needs more by now."""
        return self.ordered > 0 and not self.covered

    def state(self, today: date) -> OrderState:
        """Where it stands on a day."""
        if not self.ordered:
            return "to order"
        if self.outgrown:
            return "outgrown"
        if self.delivered >= self.ordered:
            return "delivered"
        if self.due is not None and self.due < today:
            return "late"
        return "part delivered" if self.delivered else "ordered"
