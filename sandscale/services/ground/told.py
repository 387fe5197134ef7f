"""The quantities of trenches and routes as papers tell them."""

from __future__ import annotations

from ...reports.works import QuantityTold
from ...store.models import QuantityLine, QuantityPart


def lines_told(element_id: int) -> list[QuantityTold]:
    """The quantities of an element that come to anything, with what falls to each part of a split."""
    lines = QuantityLine.those(QuantityLine.element, [element_id], QuantityLine.position)
    parts = dict[str, list[tuple[str, str, float]]]()
    for part in QuantityPart.those(QuantityPart.element, [element_id], QuantityPart.id):
        parts.setdefault(part.output, []).append((part.split, part.part, part.net))
    return [
        QuantityTold(line.label, line.net, line.gross, line.unit, _several(parts.get(line.output, [])))
        for line in lines
        if line.net
    ]


def _several(parts: list[tuple[str, str, float]]) -> list[tuple[str, str, float]]:
    """A split of one part tells nothing."""
    number = dict[str, int]()
    for split, _, _ in parts:
        number[split] = number.get(split, 0) + 1
    return [each for each in parts if number[each[0]] > 1]
