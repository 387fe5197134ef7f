"""What the bill takes of rates: of a plain one its price, of a banded or a reference rate what it costs at a
size."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal
from typing import Any

from ...core.numbers.rounding import half_up
from ...core.pricing.bands import Picked
from ...core.pricing.build_up import Terms
from ...core.pricing.reference import Reading
from ...core.refusals import BadEntry
from ...store.models import BuildUp
from .banded import Banded, kept_limit, limit_in
from .references import kept_size, reading_of, size_in, tables_of

SIZED = ("banded", "reference")  # kinds of rate that cost by a size
_HEADS = (
    BuildUp.id, BuildUp.kind, BuildUp.name, BuildUp.unit, BuildUp.cost, BuildUp.rate, BuildUp.added,
    BuildUp.added_on, BuildUp.sized_by, BuildUp.sized_in, BuildUp.source, BuildUp.year,
)  # fmt: skip


class Priced:
    """Some rates as the bill takes them.

    Attributes:
        heads: each, by its id.
    """

    def __init__(self, build_up_ids: Iterable[int | None]) -> None:
        self.heads: dict[int, Any] = {
            row.id: row for row in BuildUp.some(_HEADS, BuildUp.id, set(build_up_ids) - {None})
        }
        kinds = {kind: [i for i, row in self.heads.items() if row.kind == kind] for kind in SIZED}
        self._banded, self._tables = Banded(kinds["banded"]), tables_of(kinds["reference"])

    def is_sized(self, build_up_id: int | None) -> bool:
        """Whether a rate costs by a size."""
        return build_up_id in self.heads and self.heads[build_up_id].kind in SIZED

    def at(self, build_up_id: int, size: str) -> Picked | Reading:
        """A banded or a reference rate at a size.

        Raises:
            BadEntry: no size is said, or it lies in no band or can't be read there.
        """
        head = self.heads[build_up_id]
        if head.kind == "banded":
            return self._banded.pick(build_up_id, size)
        return reading_of(head, self._tables.get(build_up_id, []), size)

    def price_at(self, build_up_id: int, size: str) -> Decimal | None:
        """Money per unit with what is added to it, unrounded; None where it costs nothing yet, or can't be
        read at that size."""
        head = self.heads[build_up_id]
        cost: Decimal | None = head.cost
        if head.kind in SIZED:
            try:
                cost = self.at(build_up_id, size).total
            except BadEntry:
                return None
        return None if cost is None else Terms(added=head.added, added_on=head.added_on).price_of(cost)

    def rate_at(self, build_up_id: int, size: str, places: int) -> Decimal | None:
        """What the bill takes, rounded once; None where it costs nothing yet."""
        head = self.heads[build_up_id]
        if head.kind not in SIZED:
            rate: Decimal | None = head.rate
            return rate
        price = self.price_at(build_up_id, size)
        return None if price is None else half_up(price, places)

    def rate_within(self, build_up_id: int, size: str) -> int | None:
        """The rate whose resources are taken: itself, or that of the band a size picks; None where what it
        costs is known as a sum only."""
        if not self.is_sized(build_up_id):
            return build_up_id
        try:
            picked = self.at(build_up_id, size)
        except BadEntry:
            return None
        link = picked.band.link if isinstance(picked, Picked) else ""
        return int(link.partition(":")[2]) if link else None


def kept_size_of(build_up: BuildUp, text: str) -> str:
    """A size typed for a rate, as it is kept: a bare number is in the rate's own unit.

    Raises:
        BadEntry: the rate asks for none, or it can't be read.
    """
    if build_up.kind not in SIZED:
        raise BadEntry(f"“{build_up.name}” asks for no size.", field="size", remedy="Choose one that does.")
    if build_up.kind == "banded":
        size = kept_limit(text, build_up.sized_in)
        limit_in(size, build_up.sized_in)
    else:
        size = kept_size(text, build_up.sized_in)
        size_in(size, build_up.sized_in)
    return size
