"""Running a make-up over dimension lines, in bulk, and the working of each quantity from the same formulas."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..numbers.units import unit
from ..numbers.working import PaperRow, Working, shown
from .makeup import DIMENSIONS, MakeUp, Output

Column = NDArray[np.float64]
_SI_SYMBOLS = {unit(symbol).dimension: symbol for symbol in ("m", "m²", "m³", "kg", "h", "kg/m", "kg/m²", "kg/m³")}
_DIMENSION_WORDS = {"length": "length", "width": "width", "height": "height", "area": "area, or length and width"}


@dataclass(frozen=True)
class Line:
    """One dimension line, read: lengths in m, area in m²; a dimension not given is None.

    Attributes:
        times: the product of the timesing and, for a counted figure, its number of points.
        deduct: whether it is taken away (ddt).
        area: the area of the figure it was taken from; length × width otherwise.
        times_shown: the timesing as set on dimension paper, such as ``2/3/``.
        note: what it is.
        link: where it came from, such as ``line:12``.
    """

    times: float = 1.0
    length: float | None = None
    width: float | None = None
    height: float | None = None
    area: float | None = None
    deduct: bool = False
    times_shown: str = ""
    note: str = ""
    link: str = ""


@dataclass(frozen=True)
class Quantity:
    """One quantity line: what an output of a make-up comes to over an element.

    Attributes:
        output: the output's definition.
        net: unrounded, in the output's unit, deducts taken off.
        waste: percent.
        gross: net with waste.
        family: the family of work it belongs to.
        each: what every dimension line gives to it, in the output's unit, signed.
    """

    output: Output
    net: float
    waste: float
    gross: float
    family: str
    each: Column


@dataclass(frozen=True)
class Finding:
    """Something legal but suspect: what, and the line (0-based) it was found on."""

    says: str
    line: int


@dataclass(frozen=True)
class Result:
    """What a make-up gives over an element's lines.

    Attributes:
        quantities: one per output.
        findings: what looks wrong.
        counted: for each line, whether it has what the make-up needs; others count nothing.
        values: every named value, per line, in SI.
    """

    quantities: tuple[Quantity, ...]
    findings: tuple[Finding, ...]
    counted: NDArray[np.bool_]
    values: Mapping[str, Any]


def run(makeup: MakeUp, entries: Mapping[str, str], lines: Sequence[Line]) -> Result:
    """The quantities of one element.

    Args:
        makeup: the recipe.
        entries: what was entered for its inputs; defaults for the rest.
        lines: the element's dimension lines.

    Raises:
        BadEntry: an input can't be read or is out of bounds.
    """
    values: dict[str, Any] = dict(makeup.values(entries)) | _columns(lines)
    counted = np.ones(len(lines), dtype=bool)
    findings: list[Finding] = []
    for need in makeup.needs:
        missing = np.isnan(values[need])
        findings += [Finding(f"Has no {_DIMENSION_WORDS[need]} yet, so it counts nothing.", int(at)) for at in np.flatnonzero(missing & counted)]
        counted &= ~missing
    for derived, formula in makeup.derived:
        values[derived.key] = formula.value(values)
    quantities = []
    sign = np.where(values["deduct"], -1.0, 1.0)
    for output, formula in makeup.outputs:
        each = np.broadcast_to(np.asarray(formula.value(values), dtype=float), (len(lines),)) / unit(output.unit).size
        broken = counted & ~np.isfinite(each)
        findings += [Finding(f"{output.label} comes to no number: its formula divides by zero.", int(at)) for at in np.flatnonzero(broken)]
        left_out = ~counted | broken
        if output.deducts == "ignore":
            left_out |= values["deduct"]
        each = np.where(left_out, 0.0, each * sign)
        net, waste = float(each.sum()), float(values[f"waste_{output.key}"])
        quantities.append(Quantity(output, net, waste, net * (1 + waste / 100), makeup.words(output.family, entries), each))
    for caution, formula in makeup.cautions:
        met = np.broadcast_to(np.asarray(formula.value(values), dtype=bool), (len(lines),)) & counted & ~values["deduct"]
        findings += [Finding(caution.says, int(at)) for at in np.flatnonzero(met)]
    findings += [Finding(f"{q.output.label} is below zero: more is deducted than measured.", len(lines) - 1) for q in quantities if q.net < -1e-9]
    return Result(tuple(quantities), tuple(sorted(findings, key=lambda f: f.line)), counted, values)


def working(makeup: MakeUp, entries: Mapping[str, str], lines: Sequence[Line], key: str, name: str) -> Working:
    """How one output of an element came about: dimension paper, then the arithmetic of its first line.

    Args:
        key: the output's key.
        name: what to call the number, such as “Concrete in PF2”.
    """
    result = run(makeup, entries, lines)
    quantity = next(q for q in result.quantities if q.output.key == key)
    formula = next(f for o, f in makeup.outputs if o.key == key)
    rows = tuple(
        _paper_row(line, float(each), squares=formula.is_product and formula.names <= set(DIMENSIONS)) for line, each in zip(lines, quantity.each, strict=True)
    )
    shown_line = next((at for at in range(len(lines)) if result.counted[at] and quantity.each[at]), None)
    if shown_line is None:
        return Working(name, quantity.net, quantity.output.unit, rows=rows)
    values = {name: float(np.broadcast_to(value, (len(lines),))[shown_line]) for name, value in result.values.items() if name != "deduct"}
    expression, figures = formula.arithmetic(values, makeup.labels)
    parts = tuple(
        _part(makeup, entries, values, used) for used in sorted(formula.names, key=_paper_order) if used in makeup.dimensions and used not in DIMENSIONS
    )
    return Working(name, quantity.net, quantity.output.unit, expression, figures, rows, parts)


def _part(makeup: MakeUp, entries: Mapping[str, str], values: Mapping[str, float], name: str) -> Working:
    """The working of one named value, with those it was made of."""
    for derived, formula in makeup.derived:
        if derived.key == name:
            expression, figures = formula.arithmetic(values, makeup.labels)
            inner = tuple(
                _part(makeup, entries, values, used) for used in sorted(formula.names, key=_paper_order) if used in makeup.dimensions and used not in DIMENSIONS
            )
            return Working(derived.label, values[name], derived.unit, expression, figures, parts=inner)
    for field in makeup.inputs.values():
        if field.key == name or any(name in choice.sets for choice in field.choices):
            entry = entries.get(field.key, field.default)
            label = field.label if field.key == name else f"{name}, by {field.label.lower()} {entry}"
            symbol = _SI_SYMBOLS.get(makeup.dimensions[name], "")
            return Working(label, values[name], symbol, source="entered" if field.key in entries else "default of the make-up")
    raise KeyError(name)


def _paper_order(name: str) -> tuple[int, str]:
    return (list(DIMENSIONS).index(name) if name in DIMENSIONS else len(DIMENSIONS), name)


def _paper_row(line: Line, amount: float, *, squares: bool) -> PaperRow:
    """A line on dimension paper: the measured area, or its length and width; then its height.

    Where the amount is not the product of those, they are told in the note instead of set out.
    """
    given = [line.area] if line.area is not None else [line.length, line.width]
    dimensions = tuple(value for value in (*given, line.height) if value is not None)
    if squares:
        return PaperRow(line.times_shown, dimensions, amount, line.deduct, line.note, line.link)
    size = " × ".join(shown(value) for value in dimensions)
    return PaperRow(line.times_shown, (), amount, line.deduct, ", ".join(filter(None, (size, line.note))), line.link)


def _columns(lines: Sequence[Line]) -> dict[str, Any]:
    """The lines as columns; a dimension not given is NaN."""

    def column(name: str) -> Column:
        return np.array([np.nan if (value := getattr(line, name)) is None else value for line in lines], dtype=float)

    columns: dict[str, Any] = {name: column(name) for name in ("times", "length", "width", "height")}
    columns["area"] = np.where(np.isnan(drawn := column("area")), columns["length"] * columns["width"], drawn)
    columns["deduct"] = np.array([line.deduct for line in lines], dtype=bool)
    return columns
