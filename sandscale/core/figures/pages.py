"""Which page of a drawing's new revision is which of the former one."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.optimize import linear_sum_assignment

from .lay import Lines

_WORDS, _LENGTHS, _PLACE = 0.5, 0.4, 0.1  # how much of two pages' likeness each of these tells
_LIKE = 0.15  # pages less alike than this are others, unless nothing tells


@dataclass(frozen=True)
class Signs:
    """What a page is known again by, wherever on the paper it is drawn: its words, its lines' lengths."""

    words: Counter[str]
    lengths: Counter[int]

    @classmethod
    def of(cls, lines: Lines, words: Sequence[str]) -> Signs:
        """The signs of a page."""
        lengths = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])
        return cls(Counter(words), Counter(np.rint(lengths[lengths > 3] * 2).astype(int).tolist()))


def matched(before: Sequence[Signs], after: Sequence[Signs]) -> list[tuple[int, int]]:
    """Pairs of pages, by their places from 0, that are most alike together; a page with no like is in
    none."""
    likeness = np.array(
        [[_likeness(a, b, i == j) for j, b in enumerate(after)] for i, a in enumerate(before)]
    )
    pairs = zip(*linear_sum_assignment(likeness, maximize=True), strict=True)
    return [
        (int(i), int(j)) for i, j in pairs if likeness[i, j] > _LIKE or _tells_nothing(before[i], after[j])
    ]


def _likeness(one: Signs, other: Signs, same_place: bool) -> float:
    return (
        _WORDS * _shared(one.words, other.words) + _LENGTHS * _shared(one.lengths, other.lengths)
        + _PLACE * same_place
    )  # fmt: skip


def _shared(one: Counter[Any], other: Counter[Any]) -> float:
    """How much two have in common, of all they have."""
    every = (one | other).total()
    return (one & other).total() / every if every else 0.0


def _tells_nothing(one: Signs, other: Signs) -> bool:
    """Whether neither holds anything to be known by, as pictures."""
    return not any((one.words, one.lengths, other.words, other.lengths))
