"""The bending schedule as CSV: a head, and a line for each mark."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping, Sequence

from .table import safe

_HEAD = ("Member", "Mark", "Size", "Nr of", "In each", "Total", "Length", "Code")


def write_bars(
    rows: Iterable[Sequence[object]], legs: Sequence[Mapping[str, float]], letters: Sequence[str]
) -> bytes:
    """A schedule's rows as CSV in UTF-8, lengths in m, legs in mm; it is read again as the same rows.

    Args:
        rows: member, mark, size, members, in each, total, length, code and revision of each.
        legs: of each, by their letters.
        letters: the columns there are for them.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow((*_HEAD, *letters, "Rev"))
    for row, own in zip(rows, legs, strict=True):
        *told, revision = row
        sizes = [f"{round(own[letter], 1):.10g}" if letter in own else "" for letter in letters]
        writer.writerow([*(safe(cell) for cell in told), *sizes, safe(revision)])
    return out.getvalue().encode("utf-8-sig")
