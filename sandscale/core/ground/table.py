"""The table behind a volume: a row for each block, span or section, its last column summing to the volume."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .pieces import Floats


@dataclass(frozen=True)
class Table:
    """A sheet of arithmetic.

    Attributes:
        name: what it adds up to.
        columns: (heading, unit) of each.
        rows: n × columns; what isn't there is NaN.
    """

    name: str
    columns: tuple[tuple[str, str], ...]
    rows: Floats

    @property
    def total(self) -> float:
        """The sum of the last column."""
        return float(np.nansum(self.rows[:, -1]))


def table(name: str, *columns: tuple[str, str, Floats]) -> Table:
    """A table from its columns: heading, unit, values."""
    values = [np.asarray(column[2], dtype=float) for column in columns]
    return Table(
        name,
        tuple((heading, unit) for heading, unit, _ in columns),
        np.column_stack(values) if values else np.zeros((0, 0)),
    )
