"""Ids as spans of them: those of one table that move together mostly follow one another."""

from __future__ import annotations

from collections.abc import Collection

import numpy as np

Span = tuple[int, int]


def spans(ids: Collection[int]) -> list[Span]:
    """Ids in order, those that follow one another as the first and the last of them."""
    if not ids:
        return []
    ordered = np.sort(np.fromiter(ids, np.int64, len(ids)))
    ends = np.flatnonzero(np.diff(ordered) > 1)
    firsts, lasts = np.append(ordered[:1], ordered[ends + 1]), np.append(ordered[ends], ordered[-1:])
    return list(zip(firsts.tolist(), lasts.tolist(), strict=True))
