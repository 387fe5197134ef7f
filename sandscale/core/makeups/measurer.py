"""Make-ups over dimension lines, as a measurer."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..measurers.measurer import Measured, QuantityLine
from ..numbers.working import Working
from .makeup import MakeUp
from .run import Line, Quantity, bar_working, run, working


@dataclass(frozen=True)
class Entered:
    """What was entered for an element of a make-up: its answers, and its dimension lines."""

    makeup: MakeUp
    entries: Mapping[str, str]
    lines: tuple[Line, ...]


class OverLines:
    """The measurer of every element that has a make-up."""

    key = "make-up"
    slow = False

    def measure(self, given: Entered) -> Measured:
        """The outputs of the make-up over the element's lines."""
        result = run(given.makeup, given.entries, given.lines)
        headline = next(q for q in result.quantities if q.output.key == given.makeup.document.headline)
        return Measured(
            tuple(_line(given, quantity) for quantity in result.quantities),
            headline.output.key,
            result.findings,
            [float(each) for each in headline.each],
            [bool(counted) for counted in result.counted],
            result.bars,
        )

    def working(self, given: Entered, output: str, name: str) -> Working:
        """Dimension paper, then the arithmetic of the first line that counts."""
        return working(given.makeup, given.entries, given.lines, output, name)

    def bar_working(self, given: Entered, key: str, name: str) -> Working:
        """The shape's legs and how many there are, from the line the bar first comes from."""
        return bar_working(given.makeup, given.entries, given.lines, key, name)

    def needs(self, given: Entered) -> tuple[str, ...]:
        """The dimensions the make-up asks of each line."""
        return tuple(given.makeup.needs)


def _line(given: Entered, quantity: Quantity) -> QuantityLine:
    output, words = quantity.output, given.makeup.words
    return QuantityLine(
        output.key, output.label, output.unit, quantity.family, quantity.net, quantity.waste, quantity.gross,
        words(output.item, given.entries) if output.item else "",
        words(output.section, given.entries) if output.item else "",
        f"{quantity.pack.number} × {quantity.pack.words}" if quantity.pack else "",
        always=not output.optional,
    )  # fmt: skip
