"""What is taken from quantity lines, by a dimension line, a line of a rate or an input."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ...core.numbers.units import unit
from ...core.refusals import BadEntry
from ...store.models import Element, QuantityLine


@dataclass(frozen=True)
class Taken:
    """A number in a unit, what it is called and where it stands."""

    value: float
    unit: str
    link: str
    name: str = ""

    def held_in(self, symbol: str) -> float:
        """The number in another unit.

        Raises:
            BadEntry: that is none of the same kind.
        """
        ours = unit(symbol)
        if unit(self.unit).dimension != ours.dimension:
            raise BadEntry(
                f"{self.name} is in {self.unit or 'a number'}, where {symbol or 'a number'} is wanted.",
                field="output", remedy="Choose another quantity line.",
            )  # fmt: skip
        return self.value * unit(self.unit).size / ours.size


def taken_of(wanted: Iterable[tuple[int | None, str]]) -> dict[tuple[int, str], Taken]:
    """Quantity lines by their element and output; those that are gone are left out."""
    keys = {(element, output) for element, output in wanted if element is not None}
    if not keys:
        return {}
    elements = {element for element, _ in keys}
    marks = {row.id: row.mark for row in Element.some((Element.id, Element.mark), Element.id, elements)}
    return {
        (q.element_id, q.output): Taken(
            q.net, q.unit, f"quantity:{q.element_id}:{q.output}", f"{q.label} in {marks[q.element_id]}"
        )
        for q in QuantityLine.those(QuantityLine.element, elements)
        if (q.element_id, q.output) in keys
    }


def quantity_line(element: Element, output: str) -> Taken:
    """A quantity line that is to be taken.

    Raises:
        BadEntry: the element has none of that key.
    """
    if (found := taken_of([(element.id, output)]).get((element.id, output))) is None:
        raise BadEntry(f"{element.mark} has no quantity line “{output}”.", field="output")
    return found
