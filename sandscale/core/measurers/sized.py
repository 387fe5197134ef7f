"""Quantity lines of the ground, reckoned in SI and shown in a project's units."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

from ..numbers.systems import System
from ..numbers.units import unit
from .measurer import Part, QuantityLine, Split

Splits = Mapping[Split, Iterable[tuple[str, float]]]


def sized(metric: str, system: System, section: str, family: str = "earth") -> Callable[..., QuantityLine]:
    """What makes quantity lines of a unit: of an output, its label, its value in SI, the words of its item,
    its parts by each split, and what is bought of it where that is more."""
    symbol = system.symbol(metric)
    size = unit(symbol).size

    def line(
        output: str,
        label: str,
        value: float,
        item: str = "",
        splits: Splits | None = None,
        bought: float | None = None,
    ) -> QuantityLine:
        net, gross = value / size, (value if bought is None else bought) / size
        by = gross / net if net else 1.0
        parts = tuple(
            Part(split, name, each / size, each / size * by)
            for split, values in (splits or {}).items()
            for name, each in values
        )
        return QuantityLine(
            output, label, symbol, family, net, (by - 1) * 100, gross, item, section if item else "",
            parts=parts, always=bool(item),
        )  # fmt: skip

    return line
