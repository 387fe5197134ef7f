"""The measurers there are, each with what reads from the tables what was entered for its elements."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby
from typing import Any

from ...core.measurers.measurer import Measured, Measurer
from ...store.models import Element
from ..keeping.stages import parts


@dataclass(frozen=True)
class Entry:
    """A measurer with ``given``, which gives what was entered for elements of it, by their ids."""

    measurer: Measurer[Any]
    given: Callable[[Sequence[Element]], Mapping[int, Any]]


@lru_cache(maxsize=1)
def known() -> dict[str, Entry]:
    """Every measurer by its key; each stage that has some names them in ``measured``."""
    return {entry.measurer.key: entry for module in parts("measured") for entry in module.MEASURERS}


def measurer_of(element: Element) -> Measurer[Any]:
    """The measurer of an element."""
    return known()[element.measurer].measurer


def given(elements: Sequence[Element]) -> dict[int, Any]:
    """What was entered for elements, as their measurers take it, by their ids."""
    found: dict[int, Any] = {}
    ordered = sorted(elements, key=lambda e: e.measurer)
    for key, group in groupby(ordered, key=lambda e: e.measurer):
        found |= known()[key].given(list(group))
    return found


def measure(element: Element) -> Measured:
    """What an element comes to.

    Raises:
        Refusal: what was entered can't be read.
    """
    return measurer_of(element).measure(given([element])[element.id])
