"""A drawing made of lines, as it lies on a sheet: strokes, fills and words on layers.

Sizes are in sheet units (1/72 inch) from the sheet's lower left corner.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Path = NDArray[np.float64]  # n × 2
Word = tuple[str, float, float, float, float, int]  # text, left, bottom, width, height, layer


class Layer(NamedTuple):
    """A layer: its name, and whether the drawing shows it."""

    name: str
    shown: bool


@dataclass(frozen=True)
class Look:
    """How a line is drawn: colour as #rrggbb, weight in sheet units, dashes (on, off, …), empty for none."""

    colour: str
    weight: float = 0.5
    dashes: tuple[float, ...] = ()


class Stroke(NamedTuple):
    """A line; ``hatch`` where it only fills a face and is no line of the work."""

    layer: int
    look: Look
    path: Path
    hatch: bool = False


class Fill(NamedTuple):
    """A filled face, its holes by the even-odd rule."""

    layer: int
    colour: str
    paths: Sequence[Path]


class Text(NamedTuple):
    """Words in one line: from their left end on the base line (``at``), turned by ``angle`` (radians), so
    wide and so high (a capital letter)."""

    layer: int
    colour: str
    text: str
    at: tuple[float, float]
    angle: float
    width: float
    height: float


@dataclass(frozen=True)
class LineDrawing:
    """What a drawing holds, in the order it is drawn.

    Attributes:
        metres_per_unit: metres of the job to a sheet unit; None where the file tells no unit.
        scale_source: where the scale is from, in words.
        said: what was left out; empty when nothing was.
    """

    width: float
    height: float
    metres_per_unit: float | None
    scale_source: str
    layers: Sequence[Layer]
    parts: Sequence[Stroke | Fill | Text] = field(repr=False)
    said: str = ""

    def segments(self, most: int) -> tuple[NDArray[np.float32], NDArray[np.uint16]]:
        """The line work, n × 4 (x1, y1, x2, y2), and the layer each line lies on; the longest, where there
        are more than so many."""
        strokes = [part for part in self.parts if isinstance(part, Stroke) and not part.hatch]
        runs = [np.hstack((stroke.path[:-1], stroke.path[1:])) for stroke in strokes]
        layers = [np.full(len(stroke.path) - 1, stroke.layer) for stroke in strokes]
        lines = np.vstack(runs) if runs else np.zeros((0, 4))
        of = np.hstack(layers or [np.zeros(0)])
        if len(lines) > most:
            length = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])
            kept = np.sort(np.argpartition(-length, most)[:most])
            lines, of = lines[kept], of[kept]
        return lines.astype(np.float32), of.astype(np.uint16)

    @property
    def line_count(self) -> int:
        """How many lines it has."""
        strokes = (part for part in self.parts if isinstance(part, Stroke) and not part.hatch)
        return sum(len(stroke.path) - 1 for stroke in strokes)

    def words(self) -> list[Word]:
        """The words with their boxes."""
        return [word for part in self.parts if isinstance(part, Text) for word in _words(part)]


def _words(text: Text) -> list[Word]:
    """The words of a text, each its share of the width."""
    along = np.array((np.cos(text.angle), np.sin(text.angle)))
    up = np.array((-along[1], along[0])) * text.height
    letter = text.width / max(len(text.text), 1)
    found: list[Word] = []
    begin = 0
    for part in text.text.split():
        begin = text.text.index(part, begin)
        start = np.array(text.at) + along * letter * begin
        end = start + along * letter * len(part)
        corners = np.array((start, end, start + up, end + up))
        (left, bottom), (right, top) = corners.min(axis=0), corners.max(axis=0)
        box = (round(float(value), 1) for value in (left, bottom, right - left, top - bottom))
        found.append((part, *box, text.layer))  # type: ignore[arg-type]
        begin += len(part)
    return found
