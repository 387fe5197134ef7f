"""The measurers there are, each with what reads from the tables what was entered for its elements."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby
from typing import Any

from ...core.measurers.measurer import Measurer
from ...store.models import DimensionLine, Element
from ..keeping.stages import parts
from .entered import lines_of

Lines = Mapping[int, list[DimensionLine]]


@dataclass(frozen=True)
class Entry:
    """A measurer with ``given``: what was entered for elements of it, by id, their lines being read."""

    measurer: Measurer[Any]
    given: Callable[[Sequence[Element], Lines], Mapping[int, Any]]


@lru_cache(maxsize=1)
def known() -> dict[str, Entry]:
    """Every measurer by its key; each stage that has some names them in ``measured``."""
    return {entry.measurer.key: entry for module in parts("measured") for entry in module.MEASURERS}


def measurer_of(element: Element) -> Measurer[Any]:
    """The measurer of an element."""
    return known()[element.measurer].measurer


def given(elements: Sequence[Element], lines: Lines | None = None) -> dict[int, Any]:
    """What was entered for elements, as their measurers take it, by their ids.

    Args:
        lines: their dimension lines (see :func:`.entered.lines_of`), where they were read already.
    """
    read = lines_of(e.id for e in elements) if lines is None else lines
    found: dict[int, Any] = {}
    ordered = sorted(elements, key=lambda e: e.measurer)
    for key, group in groupby(ordered, key=lambda e: e.measurer):
        found |= known()[key].given(list(group), read)
    return found
