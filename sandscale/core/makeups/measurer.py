"""Make-ups over dimension lines, as a measurer."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace

from ..measurers.measurer import Measured, QuantityLine
from ..numbers.rounding import exact
from ..numbers.working import Working, shown
from .makeup import MakeUp
from .run import Line, Quantity, bar_working, run, working


@dataclass(frozen=True)
class Entered:
    """What was entered for an element of a make-up: its answers, and its dimension lines; one that measures
    nothing where it is an allowance. ``drawn`` are the inputs that are drawn from the project, each with what
    it is made of."""

    makeup: MakeUp
    entries: Mapping[str, str]
    lines: tuple[Line, ...]
    drawn: Mapping[str, tuple[Working, ...]] = field(default_factory=dict)

    def drawing(self, drawn: Iterable[tuple[str, Working]]) -> Entered:
        """The same with inputs drawn from the project; those drawn for one input add up.

        Args:
            drawn: input keys, each with a number in the input's unit and where it comes from.
        """
        parts: dict[str, tuple[Working, ...]] = {}
        for key, part in drawn:
            parts[key] = (*parts.get(key, ()), part)
        sums = {key: float(sum(part.value for part in of)) for key, of in parts.items()}
        entries = {key: f"{exact(value):f} {self.makeup.inputs[key].unit}" for key, value in sums.items()}
        return replace(self, entries={**self.entries, **entries}, drawn=parts)


class OverLines:
    """The measurer of every element that has a make-up."""

    key = "make-up"
    slow = False

    def measure(self, given: Entered) -> Measured:
        """The outputs of the make-up over the element's lines."""
        result = run(given.makeup, given.entries, given.lines)
        headline = next(q for q in result.quantities if q.output.key == given.makeup.document.headline)
        lines = not given.makeup.is_allowance
        return Measured(
            tuple(_line(given, quantity) for quantity in result.quantities),
            headline.output.key,
            result.findings,
            [float(each) for each in headline.each] if lines else (),
            [bool(counted) for counted in result.counted] if lines else (),
            result.bars,
        )

    def working(self, given: Entered, output: str, name: str) -> Working:
        """Dimension paper, then the arithmetic of the first line that counts."""
        told = working(given.makeup, given.entries, given.lines, output, name)
        labels = {given.makeup.inputs[key].label: parts for key, parts in given.drawn.items()}
        return _traced(told, labels) if labels else told

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


def _traced(told: Working, drawn: Mapping[str, tuple[Working, ...]]) -> Working:
    """A working whose inputs that are drawn, by their labels, say from where."""
    if told.source == "entered" and (parts := drawn.get(told.name)):
        figures = " + ".join(shown(part.value) for part in parts)
        return replace(told, source="", expression="drawn from the project", figures=figures, parts=parts)
    return replace(told, parts=tuple(_traced(part, drawn) for part in told.parts))
