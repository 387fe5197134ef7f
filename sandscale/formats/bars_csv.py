"""The bending schedule as CSV: a head, and a line for each mark."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from .table import Cell, as_csv

_HEAD = ("Member", "Mark", "Size", "Nr of", "In each", "Total", "Length [m]", "Code")


def write_bars(
    rows: Iterable[Sequence[Cell]], legs: Sequence[Mapping[str, float]], letters: Sequence[str]
) -> bytes:
    """A schedule's rows as CSV in UTF-8, lengths in m, legs in mm; it is read again as the same rows.

    Args:
        rows: member, mark, size, members, in each, total, length, code and revision of each.
        legs: of each, by their letters.
        letters: the columns there are for them.
    """
    table: list[Sequence[Cell]] = [(*_HEAD, *(f"{letter} [mm]" for letter in letters), "Rev")]
    for row, own in zip(rows, legs, strict=True):
        *told, revision = row
        sizes = [round(own[letter], 1) if letter in own else None for letter in letters]
        table.append([*told, *sizes, revision])
    return as_csv(table)
