"""Banded rates: the bands of each, and which of them a size picks."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal
from functools import lru_cache
from typing import Any

from ...core.numbers.entry import kept, read_entry
from ...core.numbers.rounding import exact
from ...core.numbers.units import unit
from ...core.numbers.written import plain, written
from ...core.pricing import bands as band_rules
from ...core.refusals import BadEntry
from ...store.models import BuildUp, RateBand

_OF_BANDED = (BuildUp.id, BuildUp.name, BuildUp.sized_by, BuildUp.sized_in, BuildUp.added, BuildUp.added_on)


@lru_cache(maxsize=5_000)
def limit_in(entry: str, symbol: str) -> Decimal | None:
    """A limit of a band, or a size that picks one, in the rate's unit of sizes; None where nothing is said.

    Raises:
        BadEntry: it can't be read.
    """
    if not entry.strip():
        return None
    return exact(read_entry(entry, symbol, field="size") / unit(symbol).size)


def kept_limit(text: str, symbol: str) -> str:
    """A limit or a size that was typed, as it is kept: a bare number is in the rate's own unit.

    Raises:
        BadEntry: it can't be read.
    """
    bare = plain(text.strip(), "size")
    try:
        float(bare)
    except ValueError:
        return kept(text, symbol, field="size") if text.strip() else ""
    return bare


def size_beside(entry: str, symbol: str) -> str:
    """A size or a limit as it stands beside the unit of its rate, whatever it was typed in: 17.5 cm is 175
    beside mm; empty where nothing is said."""
    at = limit_in(entry, symbol)
    return "" if at is None else written(f"{at.normalize():f}")


class Banded:
    """Some banded rates with their bands.

    Attributes:
        rows: the bands of each, by its id.
    """

    def __init__(self, build_up_ids: Iterable[int]) -> None:
        ids = list(build_up_ids)
        self.heads = {row.id: row for row in BuildUp.some(_OF_BANDED, BuildUp.id, ids)}
        self.rows: dict[int, list[Any]] = {each: [] for each in ids}
        for row in RateBand.some(RateBand._meta.sorted_fields, RateBand.build_up, ids, RateBand.id):
            self.rows[row.build_up_id].append(row)
        nested = {row.nested_id for rows in self.rows.values() for row in rows} - {None}
        drawn = BuildUp.some((BuildUp.id, BuildUp.name, BuildUp.cost), BuildUp.id, nested)
        self.nested = {row.id: row for row in drawn}

    def bands(self, build_up_id: int) -> list[band_rules.Band]:
        """The bands of a rate as the core takes them, in the order of ``rows``."""
        symbol = self.heads[build_up_id].sized_in
        return [self._band(row, symbol) for row in self.rows[build_up_id]]

    def _band(self, row: Any, symbol: str) -> band_rules.Band:
        low, below = limit_in(row.low, symbol), limit_in(row.below, symbol)
        if row.nested_id is None:
            return band_rules.Band(low, below, row.price)
        rate = self.nested[row.nested_id]
        return band_rules.Band(low, below, rate.cost, rate.name, f"build-up:{rate.id}")

    def pick(self, build_up_id: int, size: str) -> band_rules.Picked:
        """The band that a size picks.

        Raises:
            BadEntry: no size is said, or it lies in no band.
        """
        head = self.heads[build_up_id]
        at = limit_in(size, head.sized_in)
        if at is None:
            says = f"It isn't said which {head.sized_by or 'size'} it is priced for."
            raise BadEntry(says, field="size", remedy="Type it.")
        return band_rules.pick(self.bands(build_up_id), at, head.sized_in)
