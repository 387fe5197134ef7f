"""What a measure must be before earth is reckoned with it: there, and of a size that can be."""

from __future__ import annotations

import numpy as np

from .pieces import Floats

MOST = 1e9  # m: a longer one is a slip, and its cube is still a number


def known(*values: float | Floats) -> bool:
    """Whether each is there and not beyond all size, above zero or below."""
    return all(
        abs(value) <= MOST if isinstance(value, (float, int)) else bool(np.all(np.abs(value) <= MOST))
        for value in values
    )


def sound(*measures: float) -> bool:
    """Whether each is known and not below zero."""
    return known(*measures) and all(measure >= 0 for measure in measures)


def positive(*measures: float) -> bool:
    """Whether each is known and above zero."""
    return known(*measures) and all(measure > 0 for measure in measures)
