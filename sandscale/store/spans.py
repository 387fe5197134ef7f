"""Ids as spans of them: those of one table that move together mostly follow one another."""

from __future__ import annotations

from collections.abc import Collection

import numpy as np

Span = tuple[int, int]
_MANY, _THIN = 100, 2


def spans(ids: Collection[int]) -> list[Span]:
    """Ids in order, those that follow one another as the first and the last of them."""
    if not ids:
        return []
    ordered = np.sort(np.fromiter(ids, np.int64, len(ids)))
    ends = np.flatnonzero(np.diff(ordered) > 1)
    firsts, lasts = np.append(ordered[:1], ordered[ends + 1]), np.append(ordered[ends], ordered[-1:])
    return list(zip(firsts.tolist(), lasts.tolist(), strict=True))


def lie_close(ids: Collection[int]) -> bool:
    """Whether ids are many, and at least half of those between the first and the last of them."""
    return len(ids) > _MANY and max(ids) - min(ids) < _THIN * len(ids)
