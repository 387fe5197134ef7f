"""The bar bending schedule: bar lines worked out, summed by diameter, and looked over."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from ..findings import Finding
from ..numbers.entry import read_entry
from ..numbers.formula import Formula
from ..numbers.rounding import up_to_step
from ..numbers.units import NUMBER, unit
from ..numbers.working import Working
from ..refusals import BadEntry
from .detailing import Detailing
from .shapes import SHAPES, Shape, own_shape
from .sizes import diameter, mass_per_metre


@dataclass(frozen=True)
class BarLine:
    """One line of the schedule, as entered.

    Attributes:
        member: what the bars are in, such as “PF2”.
        mark: the bar mark.
        size: ``16`` (mm) or ``#5``.
        members: how many of the member there are; below zero where a ddt line takes bars off.
        each: bars of this mark in one member.
        shape: the shape code.
        legs: the dimensions by letter, in m (a number for the turns of a helix).
        grade: the type letter or grade shown before the size, such as ``B``.
        bends: for shape 99, how many corners are bends.
        corners: for shape 99, where they lie in m, if it was drawn; its legs lie between them.
        exact: whether its cut length is left as it is, as that of what is cut where it is laid.
        key: what a make-up calls it; empty for a typed one.
        label: where it lies, in words.
        output: the output of its element it is part of.
        line: the first dimension line it comes from, by its place; -1 for none.
    """

    member: str
    mark: str
    size: str
    members: float
    each: float
    shape: str
    legs: Mapping[str, float]
    grade: str = ""
    bends: int = 0
    corners: tuple[tuple[float, float], ...] = ()
    exact: bool = False
    key: str = ""
    label: str = ""
    output: str = ""
    line: int = -1


@dataclass(frozen=True)
class ScheduleLine:
    """A bar line worked out.

    Attributes:
        bar: the line.
        total: bars in all; below zero where they are taken off.
        cut_length: of one bar, in m, rounded up by the detailing rules.
        length: of all bars, in m.
        mass: of all bars, in kg.
        findings: what looks wrong with it.
        outline: the bar's points in m, to draw.
        working: how the cut length came about.
    """

    bar: BarLine
    total: float
    cut_length: float
    length: float
    mass: float
    findings: tuple[Finding, ...]
    outline: tuple[tuple[float, float], ...]
    working: Working


@dataclass(frozen=True)
class SizeTotal:
    """The bars of one size: number, length in m, mass in kg and in t."""

    size: str
    number: float
    length: float
    mass: float

    @property
    def tonnes(self) -> float:
        """The mass in t."""
        return self.mass / 1000


@dataclass(frozen=True)
class Schedule:
    """A bar bending schedule: its lines, and the summary by size."""

    lines: tuple[ScheduleLine, ...]
    sizes: tuple[SizeTotal, ...] = field(default=())

    @property
    def mass(self) -> float:
        """The mass of all bars in kg."""
        return sum(line.mass for line in self.lines)


def schedule(bars: Sequence[BarLine], rules: Detailing) -> Schedule:
    """Work out a bar bending schedule.

    Raises:
        BadEntry: a size, shape, number or leg can't be; the field names the line and the column.
    """
    lines = []
    for number, bar in enumerate(bars):
        try:
            if bar.members < 0:
                raise BadEntry("A number of members can't be below zero.", field="members")
            lines.append(scheduled(bar, rules))
        except BadEntry as error:
            raise BadEntry(
                f"Bar mark {bar.mark} in {bar.member}: {error.sentence}",
                field=f"{number}.{error.field}",
                remedy=error.remedy,
            ) from None
    for number, says in marked_twice(bars):
        said = Finding(says, line=number, field="mark", code="mark-twice")
        lines[number] = replace(lines[number], findings=(*lines[number].findings, said))
    return Schedule(tuple(lines), by_size(lines))


def marked_twice(bars: Sequence[BarLine]) -> Iterator[tuple[int, str]]:
    """The lines whose mark stands for another bar further up in the same member, and what to say of each."""
    seen: dict[tuple[str, str], BarLine] = {}
    for number, bar in enumerate(bars):
        first = seen.setdefault((bar.member, bar.mark), bar)
        if bar.mark and (first.size, first.shape, dict(first.legs)) != (bar.size, bar.shape, dict(bar.legs)):
            yield number, f"Mark {bar.mark} is another bar in {bar.member}: one mark is one bar."


def marked(bars: Iterable[BarLine]) -> list[BarLine]:
    """Bars with a mark each: 01, 02 … in their order, past those that have one."""
    given = list(bars)
    taken = {bar.mark for bar in given}
    free = (mark for number in range(1, len(given) + len(taken) + 1) if (mark := f"{number:02}") not in taken)
    return [bar if bar.mark else replace(bar, mark=next(free)) for bar in given]


def shape_of(bar: BarLine) -> Shape:
    """The shape of a bar line.

    Raises:
        BadEntry: there is no such shape code.
    """
    if bar.shape == "99":
        return own_shape(len(bar.legs), bar.bends)
    if bar.shape not in SHAPES:
        raise BadEntry(
            f"There is no shape code {bar.shape}.",
            field="shape",
            remedy=f"Use one of {', '.join(SHAPES)}, or 99 with legs of its own.",
        )
    return SHAPES[bar.shape]


def scheduled(bar: BarLine, rules: Detailing) -> ScheduleLine:
    """A bar line worked out.

    Raises:
        BadEntry: its size, shape, number or a leg can't be.
    """
    if bar.each < 0:
        raise BadEntry("A number of bars can't be below zero.", field="each")
    shape, d = shape_of(bar), diameter(bar.size)
    r = rules.radius(d)
    values = shape.values(bar.legs, d, r)
    formula, step = _cut(shape, rules), 0.0 if bar.exact else read_entry(rules.cut_step, "m")
    exact = float(formula.value(values))
    cut = float(up_to_step(exact, step))
    findings = list(shape.findings(bar.legs, d, r, rules.leg(d)))
    if exact <= 0:
        findings.append(
            Finding(
                "The legs are used up by the bends: the cut length is not above zero.",
                field="legs",
                code="legs-used-up",
            )
        )
        exact = cut = 0.0
    stock = rules.stock_lengths()[0]
    if cut > stock + 1e-9:
        findings.append(
            Finding(
                f"{cut:.3f} m is longer than the stock of {stock:g} m: it needs a lap.",
                field="legs",
                code="longer-than-stock",
                numbers=(cut, stock),
            )
        )
    expression, figures = formula.arithmetic(values, {"r": "former radius", "d": "diameter"})
    inner = Working(
        f"Shape {shape.code} before rounding",
        exact,
        "m",
        expression,
        figures,
        source=f"Shape code {shape.code}, bends by {rules.name}",
    )
    told = f"up to {step * 1000:g} mm" if step else ""
    name = f"Cut length of {bar.member} {bar.mark}".rstrip()
    shown = Working(name, cut, "m", told, f"{exact:.4f} m" if step else "", parts=(inner,))
    total = bar.members * bar.each
    return ScheduleLine(
        bar,
        total,
        cut,
        total * cut,
        total * cut * mass_per_metre(bar.size),
        tuple(findings),
        bar.corners or tuple(shape.points(bar.legs, d, r)),
        shown,
    )


def _cut(shape: Shape, rules: Detailing) -> Formula:
    """The formula of a cut length; the same for every bar of a shape, so it is read once."""
    if shape.code == "99":
        return _cut_of(shape, rules)
    key = (rules.key, rules.bends, rules.bend_times_d, shape.code)
    if key not in _CUTS:
        _CUTS[key] = _cut_of(shape, rules)
    return _CUTS[key]


def _cut_of(shape: Shape, rules: Detailing) -> Formula:
    scope = {
        name: NUMBER if name in shape.numbers else unit("m").dimension for name in (*shape.legs, "r", "d")
    }
    call = f"shape_{shape.code}({', '.join((*shape.legs, 'r', 'd'))})"
    return Formula(call, scope, rules.formulas([shape]), where=f"shape {shape.code}").expect(
        unit("m").dimension, "m"
    )


def by_size(lines: Iterable[ScheduleLine]) -> tuple[SizeTotal, ...]:
    """The summary of some lines by size, thinnest first."""
    sums: dict[str, list[float]] = {}
    for line in lines:
        total = sums.setdefault(line.bar.size, [0, 0.0, 0.0])
        for at, amount in enumerate((line.total, line.length, line.mass)):
            total[at] += amount
    ordered = sorted(sums, key=diameter)
    return tuple(SizeTotal(size, sums[size][0], sums[size][1], sums[size][2]) for size in ordered)


_CUTS: dict[tuple[str, str, float, str], Formula] = {}
# Usual kg of bars per m³ of concrete, by kind of element: bands of practice, wide on purpose.
STEEL_BANDS: Mapping[str, tuple[float, float]] = {
    "pad footing": (25, 150), "strip footing": (30, 130), "pile cap": (60, 200), "pile": (30, 150),
    "ground " "" "slab": (25, 120),
    "suspended slab": (60, 180), "ground beam": (60, 250),
    "beam": (90, 350), "column": (90, 450), "wall": (40, 180), "retaining wall": (50, 160),
    "stair": (40, 200),
}  # fmt: skip


def steel_ratio(kind: str, mass: float, concrete: float) -> tuple[float, Finding | None]:
    """The kg of bars per m³ of an element's concrete, and a finding when it is outside the band of its kind.

    Args:
        kind: a key of :data:`STEEL_BANDS`.
        mass: of the bars, in kg.
        concrete: in m³.

    Raises:
        BadEntry: there is no concrete, or no band for that kind.
    """
    if kind not in STEEL_BANDS:
        raise BadEntry(
            f"There is no steel band for “{kind}”.", field="kind", remedy=f"Kinds: {', '.join(STEEL_BANDS)}."
        )
    if concrete <= 0:
        raise BadEntry("A steel ratio needs concrete above zero.", field="concrete")
    ratio = mass / concrete
    low, high = STEEL_BANDS[kind]
    if low <= ratio <= high:
        return ratio, None
    side = "less than" if ratio < low else "more than"
    bound = low if ratio < low else high
    return ratio, Finding(
        f"{ratio:.0f} kg/m³ is {side} the {bound:g} kg/m³ usual in a {kind}: are the bar and spacing right?",
        code="steel-ratio",
        numbers=(ratio, bound),
    )
