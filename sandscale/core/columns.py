"""Which columns of somebody's table hold what: seen in its heads, or said by hand."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

C = TypeVar("C", bound=str)  # what a column may hold; an empty one is left out
_LEAST_HEADS = 3


@dataclass(frozen=True)
class Recognised(Generic[C]):
    """What the columns of a table were taken for.

    Attributes:
        columns: one for each; empty for what is left out.
        units: of each, as its head says; empty where it says none.
        first: the first row that isn't a head.
    """

    columns: tuple[C, ...]
    units: tuple[str, ...]
    first: int


def recognise(
    rows: Sequence[Sequence[str]],
    head: Callable[[str], tuple[C, str]],
    usual: Sequence[C],
    said: Sequence[C] | None = None,
    heads_seen: int = 6,
) -> Recognised[C]:
    """Which column holds what, by the heads; in the usual order where there are none.

    Args:
        rows: the table.
        head: what a head's words say: the column, and its unit.
        usual: the order of columns without heads.
        said: what somebody says the columns are, which then holds.
        heads_seen: rows among which the heads are looked for.
    """
    wide = max((len(row) for row in rows), default=0)
    heads = [[head(cell) for cell in row] for row in rows[:heads_seen]]
    best = max(range(len(heads)), key=lambda at: len({c for c, _ in heads[at] if c}), default=0)
    if heads and len({c for c, _ in heads[best] if c}) >= _LEAST_HEADS:
        found, first = heads[best], best + 1
    else:
        found, first = [(column, "") for column in usual], 0
    left_out = [head("")] * wide
    found = [*found, *left_out][:wide]
    columns = tuple(said) if said is not None else _once([column for column, _ in found], left_out)
    columns = (*columns, *(column for column, _ in left_out))[:wide]
    return Recognised(columns, tuple(unit for _, unit in found), first)


def _once(columns: Sequence[C], left_out: Sequence[tuple[C, str]]) -> tuple[C, ...]:
    """A second column of one kind is left out."""
    return tuple(
        column if column and columns.index(column) == at else left_out[at][0]
        for at, column in enumerate(columns)
    )
