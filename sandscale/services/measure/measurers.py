"""The measurers there are, each with what reads from the tables what was entered for its elements."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby
from typing import Any

from ...core.measurers.measurer import Measured, Measurer
from ...store.models import DimensionLine, Element
from ..keeping.graph import After, Written
from ..keeping.stages import parts
from .entered import lines_of

Lines = Mapping[int, list[DimensionLine]]


@dataclass(frozen=True)
class Entry:
    """A measurer with how the application works with it.

    Attributes:
        given: what was entered for elements of it, by id, their lines being read; with a ``print`` of it
            where it is slow.
        reckon: what a slow one makes of what was entered, telling how far it is; ``measure`` where it is not
            given.
        fresh: whether what is kept of an element is of what was entered, by its print.
        keep: keeps what is not a quantity line of what a slow one made; or that it made nothing.
    """

    measurer: Measurer[Any]
    given: Callable[[Sequence[Element], Lines], Mapping[int, Any]]
    reckon: Callable[[Any, Callable[[float], None]], Measured] | None = None
    fresh: Callable[[int, str], bool] | None = None
    keep: Callable[[Element, str, Any], None] | None = None


@lru_cache(maxsize=1)
def known() -> dict[str, Entry]:
    """Every measurer by its key; each stage that has some names them in ``measured``."""
    return {entry.measurer.key: entry for module in parts("measured") for entry in module.MEASURERS}


def at_once() -> list[str]:
    """Measurers whose elements give what they give as soon as something is entered; a job works others out,
    which may no longer give what is drawn on."""
    return [key for key, entry in known().items() if not entry.measurer.slow]


def entered_edges() -> tuple[Written | After, ...]:
    """Where a change of what the stages' measurers read makes an element dirty."""
    return tuple(edge for module in parts("measured") for edge in getattr(module, "EDGES", ()))


def measurer_of(element: Element) -> Measurer[Any]:
    """The measurer of an element."""
    return known()[element.measurer].measurer


def notes_of(elements: Sequence[Element]) -> list[str]:
    """What was entered for those that tell it in words, as trenches and routes do."""
    told = [e for e in elements if e.measurer in ("trench", "route")]
    return [f"{e.mark}: {note}" for e in told if (note := given([e])[e.id].note())]


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
