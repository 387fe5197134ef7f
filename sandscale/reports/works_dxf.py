"""A trench network or a route as a DXF drawing in m: its plan where it lies, its sections below."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from ezdxf.document import Drawing
from ezdxf.layouts import Modelspace

from ..core.ground.pieces import Floats
from .drawing_dxf import content, layer_name, lines, opened, ring, text
from .works import Across, Along, WorkDocument

_HEIGHTENED = 10  # times that heights stand up in long sections
_ACROSS = 4  # sections beside one another
_COLOURS = {
    "plan centreline": 1, "plan trench": 1, "plan edge": 8, "plan texts": 7, "section texts": 7,
    "section ground": 7, "section formation": 140, "section finished": 5, "section invert": 5,
    "section crown": 8, "section bottom": 140, "section cut": 30, "section fill": 140,
}  # fmt: skip
_LAYERS = (1, 3, 4, 6, 32, 92, 152, 212)


def write(document: WorkDocument) -> bytes:
    """The drawing's bytes."""
    drawing = opened()
    for name, colour in _COLOURS.items():
        drawing.layers.add(name, color=colour)
    _layers(drawing, document.across)
    space = drawing.modelspace()
    west, south = 0.0, 0.0
    if document.plan:
        every = np.concatenate([line.places for line in document.plan])
        west, south = every.min(axis=0).tolist()
        size = max(float((every.max(axis=0) - every.min(axis=0)).max()) / 150, 0.1)
        for line in document.plan:
            lines(space, line.places, f"plan {line.kind}")
        for east, north, name in document.places:
            text(space, name, np.array([east, north]), size, "plan texts")
    base = math.floor(south) - 20.0
    for along in document.along:
        base = _long(space, along, west, base)
    _sections(space, document.across, west, base)
    return content(drawing)


def _layers(drawing: Drawing, across: Sequence[Across]) -> None:
    names = dict.fromkeys(shape.name for each in across for shape in each.shapes)
    for n, name in enumerate(names):
        layer = layer_name(f"section {name}")
        if layer not in drawing.layers:
            drawing.layers.add(layer, color=_LAYERS[n % len(_LAYERS)])


def _long(space: Modelspace, along: Along, west: float, base: float) -> float:
    """A long section below a level; gives the level below it."""
    known = [places for _, places in along.lines if np.isfinite(places).all(axis=1).any()]
    if not known:
        return base
    levels = np.concatenate([places[:, 1] for places in known])
    low, high = float(np.nanmin(levels)), float(np.nanmax(levels))
    floor = base - (high - low) * _HEIGHTENED - 10
    begin = min(float(places[0, 0]) for places in known)

    def at(places: Floats) -> Floats:
        return np.stack([west + places[:, 0] - begin, floor + (places[:, 1] - low) * _HEIGHTENED], axis=1)

    for kind, places in along.lines:
        lines(space, at(places), f"section {kind}")
    for chainage, name in along.marks:
        foot, head = at(np.array([[chainage, low], [chainage, high + 4 / _HEIGHTENED]]))
        lines(space, np.array([foot, head]), "section texts")
        text(space, name, head + np.array([0.5, 0.0]), 1.5, "section texts")
    told = f"{along.title}: heights × {_HEIGHTENED}, datum {low:.2f} m"
    text(space, told, np.array([west, floor - 4]), 2.0, "section texts")
    return floor - 12


def _sections(space: Modelspace, across: Sequence[Across], west: float, base: float) -> None:
    """In rows below one another, heights as large as lengths."""
    if not across:
        return
    reach = [_reach(each) for each in across]
    wide = max(high[0] - low[0] for low, high in reach)
    size = max(wide / 70, 0.05)
    at = 0
    while at < len(across):
        row = list(zip(across[at : at + _ACROSS], reach[at : at + _ACROSS], strict=True))
        tall = max(high[1] - low[1] for _, (low, high) in row)
        floor = base - tall
        for n, (each, (low, _)) in enumerate(row):
            move = np.array([west + n * wide * 1.2 - low[0], floor - low[1]])
            for shape in each.shapes:
                for outline in shape.rings:
                    ring(space, outline + move, layer_name(f"section {shape.name}"))
            for kind, places in each.lines:
                lines(space, places + move, f"section {kind}")
            words = f"{each.title}: {each.told}; base {low[1]:.2f} m"
            text(space, words, np.array([move[0] + low[0], floor - 2 * size]), size, "section texts")
        base = floor - 6 * size
        at += _ACROSS


def _reach(across: Across) -> tuple[Floats, Floats]:
    every = [places for _, places in across.lines if len(places)]
    every += [outline for shape in across.shapes for outline in shape.rings if len(outline)]
    places = np.concatenate(every) if every else np.zeros((1, 2))
    return places.min(axis=0), places.max(axis=0)
