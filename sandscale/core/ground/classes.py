"""What is dug, by class: paving and topsoil from the ground down, ordinary digging, unsuitable material below
formation.

Each class has a bottom; what lies between it and the bottom above it is its volume. Bottoms are taken in
order and never rise again, so nothing counts twice and the classes add up to the whole dig."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from ..findings import Finding
from ..numbers.working import Working, shown
from ..refusals import BadEntry
from .cut_and_fill import CutFill
from .measures import sound
from .pieces import Floats, Pieces, joined, overlay
from .surface import Line, Surface, ring_region
from .table import Table, table

Taken = Literal["stripped", "dug", "below formation"]
_ORDER: tuple[Taken, ...] = get_args(Taken)
ORDINARY = "ordinary"


@dataclass(frozen=True)
class Layer:
    """A class of material with a bottom of its own.

    Attributes:
        name: such as topsoil.
        depth: in m; below the bottom of the class before it, or below formation.
        bottom: a surface in place of a depth.
        outline: the ring it lies in; everywhere where there is none.
        taken: ``stripped`` wherever the work goes, under fill too; ``dug`` as far as the formation goes, so
            that what lies deeper stays; ``below formation`` dug out from under it and replaced.
    """

    name: str
    depth: float = 0.0
    bottom: Surface | None = None
    outline: Line | None = None
    taken: Taken = "stripped"


@dataclass(frozen=True)
class Dig:
    """The whole dig by class.

    Attributes:
        pieces: with ``ground``, ``formation``, ``dug`` (the bottom of the dig) and a bottom named after each
            class.
        classes: the names of the classes from the top down.
        findings: where a bottom isn't known.
    """

    pieces: Pieces
    classes: tuple[str, ...]
    findings: tuple[Finding, ...]

    def thickness(self, name: str) -> Floats:
        """How thick a class is at the corners of the pieces, n × 3, in m."""
        at = self.classes.index(name)
        return self.pieces[self.classes[at - 1] if at else "ground"] - self.pieces[name]

    def volume(self, name: str) -> float:
        """Of a class, in m³."""
        return float(self.pieces.volumes(self.thickness(name)).sum())

    @property
    def volumes(self) -> dict[str, float]:
        """Of each class, in m³, from the top down."""
        return {name: self.volume(name) for name in self.classes}

    @property
    def dug(self) -> float:
        """The whole dig, in m³, reckoned by itself."""
        return float(self.pieces.volumes(self.pieces["ground"] - self.pieces["dug"]).sum())

    @property
    def fill(self) -> float:
        """What is filled up to the formation again, in m³."""
        return float(self.pieces.volumes(self.pieces["formation"] - self.pieces["dug"]).sum())

    @property
    def stripped_area(self) -> dict[str, float]:
        """The plan area on which each class lies, in m²."""
        return {
            name: float(self.pieces.areas[self.thickness(name).max(axis=1) > 1e-9].sum())
            for name in self.classes
        }

    def table(self, name: str) -> Table:
        """The prisms of a class: their middles, areas, three thicknesses and volumes."""
        thickness, middles = self.thickness(name), self.pieces.plan.mean(axis=1)
        thick = np.flatnonzero(thickness.max(axis=1) > 0)
        return table(
            name,
            ("east", "m", middles[thick, 0]),
            ("north", "m", middles[thick, 1]),
            ("area", "m²", self.pieces.areas[thick]),
            *((f"thickness {corner + 1}", "m", thickness[thick, corner]) for corner in range(3)),
            ("volume", "m³", self.pieces.volumes(thickness)[thick]),
        )

    def block(self, name: str, at: int) -> Working:
        """The arithmetic of one prism of a class, 0-based in the order of its table."""
        east, north, area, *thickness, volume = self.table(name).rows[at].tolist()
        figures = f"{shown(area)} × ({' + '.join(shown(each, 3) for each in thickness)}) / 3"
        return Working(
            f"{name} at {east:.2f}, {north:.2f}", volume, "m³", "area × (t1 + t2 + t3) / 3", figures
        )

    def working(self) -> Working:
        """The classes as the parts of the whole dig."""
        parts = tuple(
            Working(
                name,
                volume,
                "m³",
                "Σ plan area × mean thickness of three corners",
                f"over {shown(self.stripped_area[name])} m²",
            )
            for name, volume in self.volumes.items()
        )
        return Working(
            "Dig",
            sum(self.volumes.values()),
            "m³",
            " + ".join(self.classes),
            " + ".join(shown(part.value) for part in parts),
            parts=parts,
        )


def dig(earth: CutFill, layers: Sequence[Layer]) -> Dig:
    """The dig to a formation, by class.

    Args:
        earth: ground and formation.
        layers: the classes from the top down: stripped, then dug, then below formation.

    Raises:
        BadEntry: a depth is below zero, or two classes have one name.
    """
    _check(layers)
    findings = list[Finding]()
    upper = [layer for layer in layers if layer.taken != "below formation"]
    lower = [layer for layer in layers if layer.taken == "below formation"]
    some, top = earth.pieces.only("ground", "formation"), "ground"
    for layer in upper:
        some = _with_bottom(some, layer, top, findings)
        if layer.taken == "dug":
            some = some.lower(top, "formation", "floor").higher(layer.name, "floor", layer.name)
        top = layer.name
    some = some.lower(top, "formation", ORDINARY)
    top = ORDINARY
    for layer in lower:
        some = _with_bottom(some, layer, top, findings)
        top = layer.name
    return Dig(
        some.with_value("dug", some[top]),
        (*(layer.name for layer in upper), ORDINARY, *(layer.name for layer in lower)),
        tuple(findings),
    )


def _with_bottom(some: Pieces, layer: Layer, top: str, findings: list[Finding]) -> Pieces:
    """The pieces with the bottom of a class, which is nowhere above the bottom before it."""
    inside, rest = some, list[Pieces]()
    if layer.outline is not None:
        region = ring_region(layer.outline, f"outline of {layer.name}")
        inside, rest = some.within(region), [some.beyond(region)]
    if layer.bottom is None:
        made = inside.with_value(layer.name, inside[top] - layer.depth)
    else:
        known = overlay(inside, layer.bottom.named("bottom"))
        if inside.area - known.area > 1e-6:
            findings.append(
                Finding(
                    f"The bottom of {layer.name} is not known on {inside.area - known.area:.2f} "
                    "m²; none of it is counted there.",
                    field="layers",
                    wrong=True,
                    code="bottom-unknown",
                )
            )
            rest.append(inside.beyond(layer.bottom.outline))
        made = known.lower(top, "bottom", layer.name).only(*some.names, layer.name)
    return joined(made, *(part.with_value(layer.name, part[top]) for part in rest))


def _check(layers: Sequence[Layer]) -> None:
    names = [*(layer.name for layer in layers), ORDINARY, "ground", "formation", "dug", "floor", "bottom"]
    if len(set(names)) < len(names):
        raise BadEntry("Each class of digging needs a name of its own.", field="layers")
    for layer in layers:
        if not sound(layer.depth):
            raise BadEntry(f"The depth of {layer.name} is missing or below zero.", field="depth")
    order = [_ORDER.index(layer.taken) for layer in layers]
    if order != sorted(order):
        raise BadEntry(
            "Classes come from the top down: what is stripped, then what is dug, "
            "then what lies below formation.",
            field="layers",
        )
