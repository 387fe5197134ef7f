"""Reference rates: known costs by size, in parts or only as a whole, read at a size."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from ..findings import Finding
from ..numbers.rounding import half_up, within_size
from ..numbers.working import Working, shown
from ..refusals import BadEntry
from .build_up import Group

Part = Literal["labour", "plant", "material"]
PARTS: tuple[Part, ...] = ("labour", "plant", "material")
How = Literal["at", "between", "beyond"]


@dataclass(frozen=True)
class Known:
    """What is known at one size.

    Attributes:
        size: in the table's own unit.
        parts: money per unit, of those parts that are told.
        whole: money per unit as a whole; None where only parts are told.
    """

    size: Decimal
    parts: Mapping[Part, Decimal]
    whole: Decimal | None = None

    def value(self, part: Part | Literal["whole"]) -> Decimal | None:
        """What is told of a part, or of the whole."""
        return self.whole if part == "whole" else self.parts.get(part)


@dataclass(frozen=True)
class Reading:
    """A table read at a size.

    Attributes:
        size: where.
        how: at a size it knows, between two, or beyond them.
        known: the one or two it was read from.
        parts: money per unit of each part, unrounded; none where only a whole is told.
        whole: money per unit as the table tells the whole; None where it doesn't.
        findings: what is to be looked at.
    """

    size: Decimal
    how: How
    known: tuple[Known, ...]
    parts: Mapping[Part, Decimal]
    whole: Decimal | None
    findings: tuple[Finding, ...] = ()

    @property
    def total(self) -> Decimal:
        """What counts: its parts' sum, or the whole where no part is told."""
        return sum(self.parts.values(), Decimal(0)) if self.parts else self.whole or Decimal(0)

    @property
    def groups(self) -> dict[Group, Decimal]:
        """The parts as groups of a build-up; none where only a whole is told."""
        return {part: self.parts[part] for part in PARTS if part in self.parts}

    def told(self, unit: str) -> str:
        """From which sizes it was read, and how."""
        sizes = " and ".join(shown(each.size, least=0) for each in self.known)
        at = f"read at {shown(self.size, least=0)} {unit}".strip()
        if self.how == "at":
            return at
        return f"{at}, {'between' if self.how == 'between' else 'beyond'} {sizes} {unit}".strip()


def read(table: Sequence[Known], size: Decimal, unit: str, places: int = 2) -> Reading:
    """Read a table at a size: linear between the two sizes around it, and flagged along the last two beyond
    them; part by part.

    Args:
        table: what is known, in any order.
        size: in the table's unit.
        unit: the table's unit of sizes, for sentences.
        places: to which parts and whole are held against one another.

    Raises:
        BadEntry: it knows no size, or only another one; or something would be below zero there.
    """
    known = sorted(table, key=lambda each: each.size)
    if not known:
        raise BadEntry("The table knows no size yet.", field="size", remedy="Type a size and what it costs.")
    told = f"{shown(size, least=0)} {unit}".strip()
    exact = [each for each in known if each.size == size]
    if exact:
        return _reading(size, "at", (exact[0],), (), places)
    if len(known) == 1:
        raise BadEntry(
            f"{told} is outside the table, which knows {shown(known[0].size, least=0)} {unit} only.",
            field="size", remedy="Type another size into it.",
        )  # fmt: skip
    below = [each for each in known if each.size < size]
    at = min(max(len(below), 1), len(known) - 1)
    two = (known[at - 1], known[at])
    if two[0].size < size < two[1].size:
        return _reading(size, "between", two, (), places)
    ends = f"{shown(known[0].size, least=0)} to {shown(known[-1].size, least=0)} {unit}".strip()
    says = f"{told} lies beyond the sizes known, {ends}; it is read along the last two."
    return _reading(size, "beyond", two, (Finding(says, code="beyond-sizes"),), places)


def _reading(
    size: Decimal, how: How, known: tuple[Known, ...], findings: tuple[Finding, ...], places: int
) -> Reading:
    parts: dict[Part, Decimal] = {}
    for part in PARTS:
        values = [each.value(part) for each in known]
        if None not in values:
            parts[part] = _line(size, known, part)
        elif any(value is not None for value in values):
            says = f"{part.capitalize()} is told at one of the two sizes only, so it counts nothing."
            findings = (*findings, Finding(says, code="part-missing"))
    whole = None if any(each.whole is None for each in known) else _line(size, known, "whole")
    for name, value in (*parts.items(), ("whole", whole)):
        if value is not None and value < 0:
            raise BadEntry(
                f"At {shown(size, least=0)} its {name} would be below zero.", field="size",
                remedy="Type a size nearer to it into the table.",
            )  # fmt: skip
    together = sum(parts.values(), Decimal(0))
    if parts and whole is not None and half_up(together, places) != half_up(whole, places):
        says = f"Its parts come to {shown(together)}, its whole to {shown(whole)}; the parts count."
        findings = (*findings, Finding(says, code="parts-off-whole", numbers=(float(together), float(whole))))
    if not parts and whole is None:
        raise BadEntry("Nothing is told at those sizes.", field="size", remedy="Type what they cost.")
    return Reading(size, how, known, parts, whole, findings)


def _line(size: Decimal, known: tuple[Known, ...], part: Part | Literal["whole"]) -> Decimal:
    first = known[0].value(part) or Decimal(0)
    if len(known) == 1:
        return first
    last = known[1].value(part) or Decimal(0)
    share = (size - known[0].size) / (known[1].size - known[0].size)
    return within_size(first + (last - first) * share, "rate")


def working(reading: Reading, name: str, unit: str, source: str) -> Working:
    """How a reading came about, part by part.

    Args:
        reading: it.
        name: of the table.
        unit: money per unit.
        source: of the table, with its year.
    """
    names: list[Part | Literal["whole"]] = [*reading.parts] or ["whole"]
    told = tuple(_working(reading, part, unit) for part in names)
    if len(told) == 1:
        return Working(name, reading.total, unit, told[0].expression, told[0].figures, source=source)
    figures = " + ".join(shown(each.value) for each in told)
    return Working(name, reading.total, unit, " + ".join(names), figures, parts=told, source=source)


def _working(reading: Reading, part: Part | Literal["whole"], unit: str) -> Working:
    values = [each.value(part) or Decimal(0) for each in reading.known]
    result = reading.parts[part] if part != "whole" else reading.whole or Decimal(0)
    if len(values) == 1:
        return Working(part.capitalize(), result, unit, "told at that size", shown(values[0]))
    (low, high), size = (each.size for each in reading.known), reading.size
    figures = (
        f"{shown(values[0])} + ({shown(values[1])} − {shown(values[0])}) × ({shown(size, least=0)} − "
        f"{shown(low, least=0)}) / ({shown(high, least=0)} − {shown(low, least=0)})"
    )
    return Working(part.capitalize(), result, unit, f"{reading.how} two sizes, along a line", figures)
