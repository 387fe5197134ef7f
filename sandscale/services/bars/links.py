"""Where the bars of a quantity stand in the schedule, for whoever walks from it."""

from __future__ import annotations

from collections.abc import Iterable

from ...core.numbers.working import shown
from ...store.models import BarLine, QuantityLine
from ..keeping.views import WalkLink
from ..keeping.walking import link_to


def scheduled(quantity: QuantityLine) -> Iterable[WalkLink]:
    """The lines of the schedule that a quantity of bars is of."""
    if quantity.family != "bars":
        return
    size = quantity.output.removeprefix("bars_").replace("n", "#")
    for line in BarLine.those(BarLine.element, [quantity.element_id], BarLine.position):
        if line.output == quantity.output or (line.typed and line.size == size):
            told = f"{shown(line.total, 0)} × {shown(line.cut, 3, 3)}"
            yield link_to(f"bar:{line.id}", f"Schedule, mark {line.mark}", told, "m", "bars", None)
