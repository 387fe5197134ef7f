"""Areas of sections, and the volumes between them: by mean areas, by the prismoidal rule, by frusta."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from ..findings import Finding
from ..numbers.working import Working, shown
from ..refusals import BadEntry
from .measures import MOST, known
from .pieces import Floats
from .table import Table, table

Rule = Literal["mean area", "prismoidal", "frustum"]
RULES: tuple[Rule, ...] = get_args(Rule)
_EXPRESSIONS: dict[Rule, str] = {
    "mean area": "(A1 + A2) / 2 × L",
    "prismoidal": "(A1 + 4 × A2 + A3) × L / 3",
    "frustum": "(A1 + A2 + √(A1 × A2)) × L / 3",
}


@dataclass(frozen=True)
class Trapezia:
    """The area between two lines over offsets, in trapezia that are split where the lines cross.

    Attributes:
        offsets: k, in m, with the crossings; NaN between parts that don't hang together.
        heights: k, the upper line less the lower, in m.
        areas: k − 1, signed, in m².
    """

    offsets: Floats
    heights: Floats
    areas: Floats

    @property
    def above(self) -> float:
        """In m²."""
        return float(self.areas[self.areas > 0].sum())

    @property
    def below(self) -> float:
        """In m², as a positive number."""
        return abs(float(self.areas[self.areas < 0].sum()))

    @property
    def middle(self) -> float:
        """The offset of the middle of what is above, in m; 0 where nothing is."""
        return self._middle(self.areas > 0)

    @property
    def middle_below(self) -> float:
        """The offset of the middle of what is below, in m; 0 where nothing is."""
        return self._middle(self.areas < 0)

    def _middle(self, which: np.ndarray[tuple[int], np.dtype[np.bool_]]) -> float:
        total = self.areas[which].sum()
        if not total:
            return 0.0
        left, right, h1, h2 = (
            self.offsets[:-1][which],
            self.offsets[1:][which],
            self.heights[:-1][which],
            self.heights[1:][which],
        )
        moments = (right - left) / 6 * (h1 * (2 * left + right) + h2 * (left + 2 * right))
        return float(moments.sum() / total)

    def working(self, name: str, *, below: bool = False) -> Working:
        """The arithmetic of the area above or below, a part for each trapezium."""
        parts = []
        for left, right, h1, h2, area in zip(
            self.offsets, self.offsets[1:], self.heights, self.heights[1:], self.areas, strict=False
        ):
            if area and (area < 0) == below:
                figures = (
                    f"({shown(abs(float(h1)), 3)} + {shown(abs(float(h2)), 3)}) / "
                    f"2 × {shown(float(right - left))}"
                )
                parts.append(
                    Working(
                        f"{shown(float(left))} to {shown(float(right))}",
                        abs(float(area)),
                        "m²",
                        "(h1 + h2) / 2 × width",
                        figures,
                    )
                )
        return Working(name, self.below if below else self.above, "m²", "Σ trapezia", parts=tuple(parts))


def trapezia(offsets: Floats, heights: Floats) -> Trapezia:
    """The area between two lines whose heights over one another are known at offsets that rise, in m.

    Raises:
        BadEntry: a height is missing.
    """
    offsets, heights = (
        np.asarray(offsets, dtype=float),
        np.asarray(heights, dtype=float),
    )  # whole numbers would cut crossings short
    missing = np.isnan(heights) & ~np.isnan(offsets)
    if missing.any():
        raise BadEntry(f"A level is missing at offset {offsets[missing][0]:g}.", field="level")
    h1, h2 = heights[:-1], heights[1:]
    crossed = np.flatnonzero(h1 * h2 < 0)
    if not len(crossed):
        return Trapezia(offsets, heights, np.nan_to_num((h1 + h2) / 2 * np.diff(offsets)))
    share = h1[crossed] / (h1[crossed] - h2[crossed])
    at = offsets[:-1][crossed] + share * (offsets[1:] - offsets[:-1])[crossed]
    every, height = np.insert(offsets, crossed + 1, at), np.insert(heights, crossed + 1, 0.0)
    return Trapezia(every, height, np.nan_to_num((height[:-1] + height[1:]) / 2 * np.diff(every)))


@dataclass(frozen=True)
class Span:
    """The volume between two sections, or over three by the prismoidal rule.

    Attributes:
        begin: the first section's chainage, in m.
        end: the last one's.
        areas: of its sections, in m².
        rule: how its volume was reckoned.
        factor: what the volume is multiplied by for the curve of the route; 1 on a straight.
        volume: in m³.
    """

    begin: float
    end: float
    areas: tuple[float, ...]
    rule: Rule
    factor: float
    volume: float

    def working(self) -> Working:
        """Its arithmetic."""
        length = (self.end - self.begin) / (len(self.areas) - 1)
        one, two = shown(self.areas[0], 3), shown(self.areas[1], 3)
        figures = {
            "mean area": f"({one} + {two}) / 2 × {shown(length)}",
            "prismoidal": f"({one} + 4 × {two} + {shown(self.areas[-1], 3)}) × {shown(length)} / 3",
            "frustum": f"({one} + {two} + √({one} × {two})) × {shown(length)} / 3",
        }[self.rule]
        curved = self.factor != 1
        return Working(
            f"{shown(self.begin)} to {shown(self.end)}",
            self.volume,
            "m³",
            _EXPRESSIONS[self.rule] + (" × (1 + e / R)" if curved else ""),
            figures + (f" × {shown(self.factor, 4, 6)}" if curved else ""),
        )


@dataclass(frozen=True)
class Volume:
    """The volume along sections.

    Attributes:
        spans: from section to section.
        findings: where a rule couldn't be kept to.
    """

    spans: tuple[Span, ...]
    findings: tuple[Finding, ...] = ()

    @property
    def total(self) -> float:
        """In m³."""
        return sum(span.volume for span in self.spans)

    def table(self, name: str) -> Table:
        """A row for each span."""
        areas = np.array([[*span.areas, *[np.nan] * (3 - len(span.areas))] for span in self.spans]).reshape(
            -1, 3
        )
        return table(
            name,
            ("from", "m", np.array([span.begin for span in self.spans])),
            ("to", "m", np.array([span.end for span in self.spans])),
            *((f"area {at + 1}", "m²", areas[:, at]) for at in range(3)),
            ("1 + e / R", "", np.array([span.factor for span in self.spans])),
            ("volume", "m³", np.array([span.volume for span in self.spans])),
        )

    def working(self, name: str) -> Working:
        """Its arithmetic, a part for each span."""
        return Working(
            name, self.total, "m³", "Σ of the spans", parts=tuple(span.working() for span in self.spans)
        )


def volume(
    chainages: Sequence[float] | Floats,
    areas: Sequence[float] | Floats,
    rule: Rule,
    factors: Sequence[float] | Floats | None = None,
) -> Volume:
    """The volume along sections.

    Args:
        chainages: of the sections, not falling, in m. Two sections at one chainage are a step and hold
            nothing between.
        areas: of the sections, not below zero, in m².
        rule: how the volume between them is reckoned. The prismoidal rule takes three sections at equal
            distances; where there are none, mean areas are taken.
        factors: 1 + e / R at each section on a curve: its area's middle lies e outside a centreline of radius
            R.

    Raises:
        BadEntry: the chainages fall, an area is below zero or missing, or its middle lies beyond the centre
        of the curve.
    """
    along, area = np.asarray(chainages, dtype=float), np.asarray(areas, dtype=float)
    if len(along) != len(area) or (np.diff(along) < 0).any() or not known(along):
        raise BadEntry("Sections need chainages that don't fall, and an area each.", field="chainage")
    if len(odd := along[~((area >= 0) & (area <= MOST))]):
        raise BadEntry(
            f"The area at chainage {odd[0]:g} is missing, below zero or beyond all size.", field="area"
        )
    curve = np.ones(len(along)) if factors is None else np.asarray(factors, dtype=float)
    if len(odd := along[~((curve >= 0) & (curve <= MOST))]):
        raise BadEntry(
            f"The middle of the area at chainage {odd[0]:g} lies beyond the "
            "centre of the curve, or is missing.",
            field="middle",
            remedy="Reckon without the correction for curves, or divide the section.",
        )
    spans, lone, at = list[Span](), 0, 0
    places, sizes, factored = along.tolist(), area.tolist(), curve.tolist()
    while at + 1 < len(places):
        length = places[at + 1] - places[at]
        if length == 0:
            at += 1
            continue
        paired = (
            rule == "prismoidal"
            and at + 2 < len(places)
            and abs(places[at + 2] - places[at + 1] - length) <= 1e-9 * max(1.0, abs(places[at + 2]))
        )
        number = 3 if paired else 2
        used: Rule = rule if paired or rule != "prismoidal" else "mean area"
        lone += used != rule
        part = slice(at, at + number)
        spans.append(_span(places[part], sizes[part], factored[part], used))
        at += number - 1
    findings = (
        [
            Finding(
                f"{lone} of the spans have no third section at the same distance; "
                "mean areas are taken there.",
                field="chainage",
                code="mean-areas-taken",
            )
        ]
        if lone
        else []
    )
    return Volume(tuple(spans), tuple(findings))


def _span(along: list[float], areas: list[float], factors: list[float], rule: Rule) -> Span:
    length = along[1] - along[0]
    whole = made = _reckoned(areas, length, rule)
    factor = 1.0
    if any(each != 1 for each in factors):
        made = _reckoned([a * f for a, f in zip(areas, factors, strict=True)], length, rule)
        factor = made / whole if whole else 1.0
    return Span(along[0], along[-1], tuple(areas), rule, factor, made)


def _reckoned(areas: Sequence[float], length: float, rule: Rule) -> float:
    if rule == "mean area":
        return (areas[0] + areas[1]) / 2 * length
    middle = 4 * areas[1] if rule == "prismoidal" else math.sqrt(areas[0] * areas[1])
    return (areas[0] + middle + areas[-1]) * length / 3
