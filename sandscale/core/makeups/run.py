"""Running a make-up over dimension lines, in bulk, and the working of each quantity from the same
formulas."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import combinations, pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..bars.schedule import ScheduleLine, steel_ratio
from ..findings import Finding
from ..numbers.formula import Formula
from ..numbers.rounding import LARGEST, ceil_guarded
from ..numbers.systems import METRIC
from ..numbers.units import unit
from ..numbers.working import PaperRow, Working, shown
from ..refusals import BadEntry
from .bars import AND, bar_columns, scheduled_bars
from .by_hand import BY_HAND
from .document import Output
from .makeup import DIMENSIONS, OVER_ALL, MakeUp

Column = NDArray[np.float64]
_MASS = unit("kg").dimension
_DIMENSION_WORDS = {
    "length": "length",
    "width": "width",
    "height": "height",
    "area": "area, or length and width",
}


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
        girth: the length of the area figure's outline; 2 × (length + width) otherwise.
        void_girth: the length of the edges of its voids.
        drawn_junctions: how many ends of the run it was taken from meet other runs; a cross is two.
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
    girth: float | None = None
    void_girth: float = 0.0
    drawn_junctions: int = 0


def faced(line: Line, needs: Sequence[str]) -> Line:
    """A line whose face was measured the other way: its height taken as its width where a make-up asks for
    an area, its width as its height where it asks for a length and a height."""
    if line.area is not None or line.length is None:
        return line
    if "area" in needs and "height" not in needs and line.width is None and line.height is not None:
        return replace(line, width=line.height, height=None)
    upright = {"length", "height"} <= set(needs) and "width" not in needs
    if upright and line.height is None and line.width is not None:
        return replace(line, height=line.width, width=None)
    return line


@dataclass(frozen=True)
class Pack:
    """How a quantity is bought: so many whole packs of a size, in the output's unit."""

    words: str
    holds: float
    number: int


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
        broken: the lines whose formula comes to no number, or to one too large; they give nothing.
        pack: how the gross quantity is bought, where the make-up says so.
    """

    output: Output
    net: float
    waste: float
    gross: float
    family: str
    each: Column
    broken: NDArray[np.bool_]
    pack: Pack | None = None


@dataclass(frozen=True)
class Result:
    """What a make-up gives over an element's lines.

    Attributes:
        quantities: one per output.
        findings: what looks wrong.
        counted: for each line, whether it has what the make-up needs; others count nothing.
        values: every named value, in base units of the make-up's system, per line.
        bars: what stands in the bending schedule, without marks.
    """

    quantities: tuple[Quantity, ...]
    findings: tuple[Finding, ...]
    counted: NDArray[np.bool_]
    values: Mapping[str, Column]
    bars: tuple[ScheduleLine, ...] = ()


def run(makeup: MakeUp, entries: Mapping[str, str], lines: Sequence[Line]) -> Result:
    """The quantities of one element.

    Args:
        makeup: the recipe.
        entries: what was entered for its inputs; defaults for the rest.
        lines: the element's dimension lines.

    Raises:
        BadEntry: an input can't be read or is out of bounds.
    """
    return _run(makeup, tuple(sorted(entries.items())), tuple(lines))


# What an element came to is asked for again when it is shown, and when its working is.
@lru_cache(maxsize=256)
def _run(makeup: MakeUp, entries: tuple[tuple[str, str], ...], lines: tuple[Line, ...]) -> Result:
    return run_all(makeup, [(dict(entries), lines)])[0]


def run_all(makeup: MakeUp, elements: Sequence[tuple[Mapping[str, str], Sequence[Line]]]) -> list[Result]:
    """The quantities of many elements of one make-up, each formula computed once over all their lines.

    Args:
        makeup: the recipe.
        elements: for each, what was entered for its inputs, and its dimension lines.

    Raises:
        BadEntry: an input of an element can't be read or is out of bounds.
    """
    if not elements:
        return []
    sizes = np.array([len(lines) for _, lines in elements])
    bounds = np.concatenate([[0], np.cumsum(sizes)])
    inputs = [makeup.values(entries) for entries, _ in elements]
    lines = [line for _, element in elements for line in element]
    values: dict[str, Any] = {
        name: np.repeat(np.array([value[name] for value in inputs], dtype=float), sizes) for name in inputs[0]
    } | _columns(makeup, lines)
    counted, findings = _have_what_is_needed(makeup, values, len(lines))
    for derived, formula in makeup.derived:
        values[derived.key] = _per_line(formula, values, len(lines))
    each = [_each(makeup, output, formula, values, counted, findings) for output, formula in makeup.outputs]
    barred = bar_columns(makeup, values, len(lines))
    members = {
        output.key: _members(output, values, counted & ~broken)
        for (output, _), (_, broken) in zip(makeup.outputs, each, strict=True)
    }
    _caution(makeup, values, counted, bounds, findings)
    findings.sort(key=lambda found: found.line)
    starts = [found.line for found in findings]
    results = []
    for at, (entries, _) in enumerate(elements):
        low, high = int(bounds[at]), int(bounds[at + 1])
        mine = [
            replace(found, line=found.line - low)
            for found in findings[bisect_left(starts, low) : bisect_left(starts, high)]
        ]
        quantities = tuple(
            _quantity(makeup, output, column[low:high], broken[low:high], inputs[at], entries)
            for (output, _), (column, broken) in zip(makeup.outputs, each, strict=True)
        )
        bars, unbent = scheduled_bars(makeup, barred, members, inputs[at], low, high)
        mine += _over_all(makeup, quantities, high - low)
        mine += unbent
        results.append(
            Result(
                quantities,
                tuple(mine),
                counted[low:high],
                {name: column[low:high] for name, column in values.items()},
                bars,
            )
        )
    return results


def _per_line(formula: Formula, values: Mapping[str, Any], number: int) -> Column:
    return np.broadcast_to(np.asarray(formula.value(values), dtype=float), (number,))


def _have_what_is_needed(
    makeup: MakeUp, values: Mapping[str, Column], number: int
) -> tuple[NDArray[np.bool_], list[Finding]]:
    counted, findings = np.ones(number, dtype=bool), list[Finding]()
    for need in makeup.needs:
        missing = np.isnan(values[need])
        findings += [
            Finding(
                f"Has no {_DIMENSION_WORDS[need]} yet, so it counts nothing.",
                int(at),
                wrong=True,
                code="dimension-missing",
            )
            for at in np.flatnonzero(missing & counted)
        ]
        counted &= ~missing
    return counted, findings


def _each(
    makeup: MakeUp,
    output: Output,
    formula: Formula,
    values: Mapping[str, Column],
    counted: NDArray[np.bool_],
    findings: list[Finding],
) -> tuple[Column, NDArray[np.bool_]]:
    """What every line gives to an output, signed; where the formula comes to no number that can be, a
    finding."""
    each = _per_line(formula, values, len(counted)) / makeup.system.size(output.unit)
    deduct = values["deduct"] > 0
    broken = counted & ~(np.abs(each) < LARGEST)
    for at in np.flatnonzero(broken):
        what = (
            "a number that is too large"
            if np.isfinite(each[at])
            else "no number: its formula divides by zero, or a measure is far too large"
        )
        findings.append(Finding(f"{output.label} comes to {what}.", int(at), wrong=True, code="no-number"))
    if output.deducts == "subtract":
        each = np.where(deduct, -each, each)
    taken = np.where(deduct, output.takes(True), output.takes(False))
    return np.where(counted & ~broken & taken, each, 0.0), broken


def _members(output: Output, values: Mapping[str, Column], counted: NDArray[np.bool_]) -> Column:
    """How many of what an output is of every line gives to it, signed."""
    deduct = values["deduct"] > 0
    times = np.where(deduct & (output.deducts == "subtract"), -values["times"], values["times"])
    taken = np.where(deduct, output.takes(True), output.takes(False))
    return np.where(counted & taken, times, 0.0)


def _quantity(
    makeup: MakeUp,
    output: Output,
    each: Column,
    broken: NDArray[np.bool_],
    values: Mapping[str, float],
    entries: Mapping[str, str],
) -> Quantity:
    net, waste = float(each.sum()), values.get(f"waste_{output.key}", 0.0)
    if found := makeup.set_by_hand(output.key, entries):
        net = found[0] / unit(output.unit).size
    gross = net * (1 + waste / 100)
    bought = None
    if entered := makeup.pack_entered(output.key, entries):
        holds = entered[1] / unit(output.unit).size
        bought = Pack(entered[0], holds, int(ceil_guarded(max(gross, 0.0) / holds)))
    elif output.purchase:
        holds = float(makeup.packs[output.key].value(values)) / makeup.system.size(output.unit)
        if holds > 0 and max(gross, 0.0) / holds < LARGEST:
            words = makeup.words(output.purchase.pack, entries, units=True)
            bought = Pack(words, holds, int(ceil_guarded(max(gross, 0.0) / holds)))
    return Quantity(output, net, waste, gross, makeup.words(output.family, entries), each, broken, bought)


def _caution(
    makeup: MakeUp,
    values: dict[str, Any],
    counted: NDArray[np.bool_],
    bounds: NDArray[np.int64],
    findings: list[Finding],
) -> None:
    adds = counted & (values["deduct"] == 0)
    for name, dimension in (("longest", "length"), ("tallest", "height")):
        measured = np.where(adds & np.isfinite(values[dimension]), values[dimension], 0.0)
        most = [measured[low:high].max(initial=0.0) for low, high in pairwise(bounds)]
        values[name] = np.repeat(most, np.diff(bounds))
    for caution, formula in makeup.cautions:
        met = _per_line(formula, values, len(counted)).astype(bool) & (
            adds if caution.on == "adds" else counted & ~adds
        )
        findings += [Finding(caution.says, int(at), code="caution") for at in np.flatnonzero(met)]
    for name in OVER_ALL:
        del values[name]


def _over_all(makeup: MakeUp, quantities: Sequence[Quantity], lines: int) -> list[Finding]:
    """What looks wrong with an element as a whole: more deducted than measured, too much or too little
    steel."""
    found = [
        Finding(
            f"{q.output.label} is below zero: more is deducted than measured.",
            lines - 1,
            wrong=True,
            code="below-zero",
        )
        for q in quantities
        if q.net < -1e-9
    ]
    found += [
        Finding(f"A pack of {q.output.label.lower()} holds no amount that can be.", lines - 1, code="no-pack")
        for q in quantities
        if q.output.purchase and q.pack is None and q.net > 0
    ]
    concrete = next(
        q.net * unit(q.output.unit).size for q in quantities if q.output.key == makeup.document.headline
    )
    masses = (q for q in quantities if q.family == "bars" and unit(q.output.unit).dimension == _MASS)
    bars = sum(q.net * unit(q.output.unit).size for q in masses)
    if (
        makeup.document.steel
        and concrete > 0
        and bars > 0
        and (off := steel_ratio(makeup.document.steel, bars, concrete)[1])
    ):
        found.append(replace(off, line=lines - 1))
    return found


@dataclass(frozen=True)
class Drawn:
    """A part of a make-up's sketch worked out for one line: points in m, or one point and a radius."""

    label: str
    family: str
    view: str
    points: tuple[tuple[float, float], ...]
    radius: float | None
    hollow: bool


@dataclass(frozen=True)
class Size:
    """A measure written on a make-up's sketch.

    Attributes:
        name: the input or dimension it is.
        start, end: the points it is taken between, in m; along x where ``across``, else along y.
        value: in m.
    """

    name: str
    start: tuple[float, float]
    end: tuple[float, float]
    across: bool
    value: float


@dataclass(frozen=True)
class Sketch:
    """A make-up's sketch for one line, with the lengths that were entered written on it; all in the base
    unit of the make-up's system."""

    parts: tuple[Drawn, ...]
    sizes: tuple[Size, ...]


def drawn(makeup: MakeUp, entries: Mapping[str, str], line: Line) -> Sketch:
    """The make-up's sketch at the sizes of a dimension line; parts that come to no number are left out.

    Raises:
        BadEntry: an input can't be read or is out of bounds.
    """
    values = {name: float(column[0]) for name, column in run(makeup, entries, [line]).values.items()}
    parts = []
    corners: list[_Corner] = []
    for part, points, radius in makeup.sketch:
        at = tuple((float(x.value(values)), float(y.value(values))) for x, y in points)
        size = None if radius is None else float(radius.value(values))
        if np.isfinite([*(value for point in at for value in point), size or 0.0]).all():
            parts.append(
                Drawn(part.label, makeup.words(part.family, entries), part.view, at, size, part.hollow)
            )
            if size is None:
                corners += [
                    _Corner(place, (x.names, y.names)) for place, (x, y) in zip(at, points, strict=True)
                ]
    return Sketch(tuple(parts), _sizes(makeup, values, corners))


@dataclass(frozen=True)
class _Corner:
    at: tuple[float, float]
    names: tuple[frozenset[str], frozenset[str]]


def _sizes(makeup: MakeUp, values: Mapping[str, float], corners: Sequence[_Corner]) -> tuple[Size, ...]:
    """Where the lengths that were entered stand: between two corners that lie just so far apart, and only one
    of which that length has moved."""
    wanted: dict[float, list[str]] = {}
    for name in (*DIMENSIONS, *makeup.inputs):
        value = values.get(name, 0.0)
        if makeup.dimensions.get(name) == makeup.dimensions["length"] and np.isfinite(value) and value > 0:
            wanted.setdefault(round(value, 9), []).append(name)
    found: dict[str, tuple[tuple[bool, float], Size]] = {}
    for one, other in combinations(corners, 2):
        for axis in (0, 1):
            apart, beside = (abs(one.at[n] - other.at[n]) for n in (axis, 1 - axis))
            moved = one.names[axis] ^ other.names[axis]
            for name in wanted.get(round(apart, 9), ()):
                # Straight between two points rather than across the sketch, and on the outside.
                rank = (beside > 1e-9, min(one.at[1 - axis], other.at[1 - axis]))
                if name in moved and (name not in found or rank < found[name][0]):
                    found[name] = (rank, Size(name, one.at, other.at, axis == 0, apart))
    return tuple(size for _, size in found.values())


def working(
    makeup: MakeUp, entries: Mapping[str, str], lines: Sequence[Line], key: str, name: str
) -> Working:
    """How one output of an element came about: dimension paper, then the arithmetic of its first line.

    Args:
        key: the output's key.
        name: what to call the number, such as “Concrete in PF2”.
    """
    result = run(makeup, entries, lines)
    quantity = next(q for q in result.quantities if q.output.key == key)
    if found := makeup.set_by_hand(key, entries):
        asked = {name: entry for name, entry in entries.items() if name != BY_HAND + key}
        reckoned = working(makeup, asked, lines, key, f"{quantity.output.label} as it comes out")
        return Working(
            name, quantity.net, quantity.output.unit, source=f"by hand: {found[1]}", parts=(reckoned,)
        )
    formula = next(f for o, f in makeup.outputs if o.key == key)
    rows = (
        ()
        if makeup.is_allowance
        else tuple(
            _paper_row(
                makeup, line, float(each), squares=formula.is_product and formula.names <= set(DIMENSIONS)
            )
            for line, each in zip(lines, quantity.each, strict=True)
        )
    )
    told = [at for at in range(len(lines)) if result.counted[at] and quantity.output.takes(lines[at].deduct)]
    shown_line = next((at for at in told if quantity.each[at]), told[0] if told else None)
    if shown_line is None:
        return Working(name, quantity.net, quantity.output.unit, rows=rows)
    values = {name: float(column[shown_line]) for name, column in result.values.items()}
    expression, figures = _per_unit(makeup, quantity.output.unit, formula, values)
    if lines[shown_line].deduct and quantity.output.deducts == "subtract":
        expression, figures = (
            f"−{text}" if formula.is_product else f"−({text})" for text in (expression, figures)
        )
    parts = tuple(
        _part(makeup, entries, values, used)
        for used in sorted(formula.names, key=_paper_order)
        if used in makeup.dimensions and used not in DIMENSIONS
    )
    return Working(name, quantity.net, quantity.output.unit, expression, figures, rows, parts)


def bar_working(
    makeup: MakeUp, entries: Mapping[str, str], lines: Sequence[Line], key: str, name: str
) -> Working:
    """How the cut length of a bar came about, and how many there are in each.

    Args:
        key: the bar's, as the schedule has it.
        name: what to call the cut length.

    Raises:
        BadEntry: the make-up has no such bar.
    """
    result = run(makeup, entries, lines)
    found = next((line for line in result.bars if line.bar.key == key), None)
    if found is None:
        raise BadEntry("There is no such bar.", field="key")
    bar, formulas = next(each for each in makeup.bars if each[0].key == re.sub(r"-\d+$", "", key))
    at = max(found.bar.line, 0)
    values = {name: float(column[at]) for name, column in result.values.items()}
    places = {place.lower() for place in found.bar.label.split(AND)}
    made = [
        _of_formula(makeup, entries, values, f"In each, {other.label.lower()}", "nr", counted["number"])
        for other, counted in makeup.bars
        if other is bar or (other.output == bar.output and other.label.lower() in places)
    ]
    made = [each for each in made if each.value] or made[:1]
    for letter in found.bar.legs:
        of = formulas.get(letter) or formulas.get("run") or formulas.get("laid")
        if of is not None:
            label = f"{letter}" if letter in formulas else "Run, made up from stock"
            symbol = makeup.system.symbol_of(makeup.dimensions["length"]) if of.dimension is not None else "m"
            made.append(_of_formula(makeup, entries, values, label, symbol or "m", of))
    inner = found.working
    return replace(inner, name=name, parts=(*inner.parts, *made), source=bar.label)


def _of_formula(
    makeup: MakeUp,
    entries: Mapping[str, str],
    values: Mapping[str, float],
    name: str,
    symbol: str,
    formula: Formula,
) -> Working:
    """A number of a formula that has no name of its own, with the values it was made of."""
    expression, figures = formula.arithmetic(values, makeup.labels)
    inner = tuple(
        _part(makeup, entries, values, used)
        for used in sorted(formula.names, key=_paper_order)
        if used in makeup.dimensions and used not in DIMENSIONS
    )
    return Working(name, float(formula.value(values)), symbol, expression, figures, parts=inner)


def _per_unit(makeup: MakeUp, symbol: str, formula: Formula, values: Mapping[str, float]) -> tuple[str, str]:
    """A formula's arithmetic in base units, brought to the unit its result is in: “12 × 8 × 1.5 / 27” is in
    yd³."""
    texts = formula.arithmetic(values, makeup.labels)
    size = makeup.system.size(symbol)
    if makeup.system is METRIC or size == 1:
        return texts
    whole = formula.is_product
    one, other = (f"{text if whole else f'({text})'} / {shown(size, least=0)}" for text in texts)
    return one, other


def _part(makeup: MakeUp, entries: Mapping[str, str], values: Mapping[str, float], name: str) -> Working:
    """The working of one named value, with those it was made of."""
    for derived, formula in makeup.derived:
        if derived.key == name:
            expression, figures = formula.arithmetic(values, makeup.labels)
            inner = tuple(
                _part(makeup, entries, values, used)
                for used in sorted(formula.names, key=_paper_order)
                if used in makeup.dimensions and used not in DIMENSIONS
            )
            symbol = makeup.system.symbol_of(makeup.dimensions[name]) or derived.unit
            return Working(derived.label, values[name], symbol, expression, figures, parts=inner)
    for field in makeup.inputs.values():
        if field.key == name or any(name in choice.sets for choice in field.choices):
            entry = entries.get(field.key, field.default)
            label = (
                field.label
                if field.key == name
                else f"{makeup.labels[name].capitalize()}, by {field.label.lower()} {entry}"
            )
            symbol = makeup.system.symbol_of(makeup.dimensions[name])
            return Working(
                label,
                values[name],
                symbol,
                source="entered" if field.key in entries else _default_of(makeup),
            )
    raise KeyError(name)


def _default_of(makeup: MakeUp) -> str:
    return "default of the rule" if makeup.is_allowance else "default of the make-up"


def _paper_order(name: str) -> tuple[int, str]:
    return (list(DIMENSIONS).index(name) if name in DIMENSIONS else len(DIMENSIONS), name)


def _paper_row(makeup: MakeUp, line: Line, amount: float, *, squares: bool) -> PaperRow:
    """A line on dimension paper: the measured area, or its length and width; then its height.

    Where the amount is not the product of those, they are told in the note instead of set out.
    """
    length, area = makeup.system.size("m"), makeup.system.size("m²")
    plan = [(line.area, area)] if line.area is not None else [(line.length, length), (line.width, length)]
    given = (*plan, (line.height, length))
    dimensions = tuple(value * size for value, size in given if value is not None)
    if squares:
        return PaperRow(line.times_shown, dimensions, amount, line.deduct, line.note, line.link)
    size = " × ".join(shown(value) for value in dimensions)
    return PaperRow(
        line.times_shown, (), amount, line.deduct, ", ".join(filter(None, (size, line.note))), line.link
    )


def _columns(makeup: MakeUp, lines: Sequence[Line]) -> dict[str, Any]:
    """The lines as columns, in the base units of the make-up's system; a dimension not given is NaN."""

    def column(name: str) -> Column:
        return np.array(
            [np.nan if (value := getattr(line, name)) is None else value for line in lines], dtype=float
        )

    columns: dict[str, Any] = {
        name: column(name) for name in ("times", "length", "width", "height", "void_girth", "drawn_junctions")
    }
    columns["area"] = np.where(np.isnan(drawn := column("area")), columns["length"] * columns["width"], drawn)
    columns["girth"] = np.where(
        np.isnan(drawn := column("girth")), 2 * (columns["length"] + columns["width"]), drawn
    )
    columns["deduct"] = np.array([line.deduct for line in lines], dtype=float)
    if makeup.system is not METRIC:
        for name, symbol in DIMENSIONS.items():
            if symbol:
                columns[name] = columns[name] * makeup.system.size(symbol)
    return columns
