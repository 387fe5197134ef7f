"""Bars as an engineer's schedule has them, typed or read, as a measurer."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..bars.detailing import Detailing
from ..bars.schedule import BarLine, ScheduleLine, marked_twice, scheduled
from ..bars.sizes import SIZES, diameter, typed_mass
from ..findings import Finding
from ..numbers.systems import METRIC, System
from ..numbers.units import unit
from ..numbers.working import PaperRow, Working, shown
from ..refusals import BadEntry
from .measurer import Measured, QuantityLine


@dataclass(frozen=True)
class Typed:
    """The bars of an element that has only typed ones.

    Attributes:
        bars: one for each mark, its key its own.
        masses: the masses per metre that were told, in kg/m, by key.
        rules: the detailing rules they follow.
        system: the unit system its quantities are in.
    """

    bars: tuple[BarLine, ...]
    masses: dict[str, float]
    rules: Detailing
    system: System = METRIC


class TypedBars:
    """The measurer of elements of typed bars: a quantity line for each size, and one for all."""

    key = "typed-bars"
    slow = False

    def measure(self, given: Typed) -> Measured:
        """The mass of every size there could be; a size that none is of isn't shown."""
        lines = list[ScheduleLine]()
        for bar in given.bars:
            try:
                line = scheduled(bar, given.rules)
            except BadEntry as error:
                found = Finding(f"{error.sentence} Until then it isn't counted.", wrong=True, code="bar")
                nothing = Working(_called(bar), 0.0, "m")
                line = ScheduleLine(bar, bar.members * bar.each, 0.0, 0.0, 0.0, (found,), (), nothing)
            lines.append(self._looked_over(line, given))
        for number, says in marked_twice([line.bar for line in lines]):
            said = Finding(says, field="mark", code="mark-twice")
            lines[number] = replace(lines[number], findings=(*lines[number].findings, said))
        findings = [
            replace(found, says=f"{_called(line.bar)}: {found.says}", field="")
            for line in lines
            for found in line.findings
        ]
        kg = given.system.symbol("kg")
        masses = {size: sum(line.mass for line in lines if line.bar.size == size) for size in SIZES}
        whole = sum(masses.values()) / unit(kg).size
        quantities = [QuantityLine("mass", "Bars, all sizes", kg, "bars", whole, gross=whole)]
        for size, mass in masses.items():
            net = mass / unit(kg).size
            label = f"Bars {size if size.startswith('#') else f'{size} mm'}"
            words = f"{label}, high yield, bent and fixed"
            made = QuantityLine(output_of(size), label, kg, "bars", net, 0.0, net, words, "Reinforcement")
            quantities.append(replace(made, always=False))
        return Measured(tuple(quantities), "mass", tuple(findings), bars=tuple(lines))

    @staticmethod
    def _looked_over(line: ScheduleLine, given: Typed) -> ScheduleLine:
        """A line with what else looks wrong: a size its rules don't have, a mass that isn't its size's."""
        bar, found = line.bar, []
        if bar.size not in given.rules.bars:
            says = f"{given.rules.name} has no bar of size {bar.size}."
            found.append(Finding(says, field="size", code="size-not-in-set"))
        if bar.key in given.masses and (off := typed_mass(bar.size, given.masses[bar.key])):
            found.append(off)
        return replace(line, findings=(*line.findings, *found))

    def working(self, given: Typed, output: str, name: str) -> Working:
        """Every bar of the size, as on dimension paper: members, bars in each, cut length."""
        measured = self.measure(given)
        quantity = next(q for q in measured.quantities if q.output == output)
        kg = unit(quantity.unit).size
        rows = tuple(
            _on_paper(line, kg) for line in measured.bars if output in ("mass", output_of(line.bar.size))
        )
        return Working(name, quantity.net, quantity.unit, "bars × cut length × mass per metre", rows=rows)

    def bar_working(self, given: Typed, key: str, name: str) -> Working:
        """The shape's cut length, from the legs that were typed."""
        bar = next((each for each in given.bars if each.key == key), None)
        if bar is None:
            raise BadEntry("There is no such bar.", field="key")
        return replace(scheduled(bar, given.rules).working, name=name)

    def needs(self, given: Typed) -> tuple[str, ...]:
        """It takes no dimension lines."""
        return ()


def _on_paper(line: ScheduleLine, kg: float) -> PaperRow:
    times = "".join(f"{shown(number, 0)}/" for number in (line.bar.members, line.bar.each))
    each = f", at {shown(line.mass / line.length, 3, 3)} kg/m" if line.length else ""
    return PaperRow(times, (line.cut_length,), line.mass / kg, note=f"{_called(line.bar)}{each}")


def output_of(size: str) -> str:
    """The output that bars of a size are part of."""
    return f"bars_{size.replace('#', 'n')}"


def _called(bar: BarLine) -> str:
    return f"Mark {bar.mark}" if bar.mark else f"A bar of {diameter(bar.size) * 1000:.0f} mm without a mark"
