"""What a page of any drawing file is: its size in sheet units, its tiles, what it holds."""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..core.refusals import Refusal

LARGEST_SIDE = 14_400.0  # sheet units: 200 inches, the largest page a PDF has without a user unit
TILE = 256  # pixels
DEEPEST_ZOOM = 6  # at zoom z a sheet unit is 2**(z − 2) pixels


class UnreadableDrawing(Refusal):
    """A file that can't be taken in as a drawing."""


@dataclass(frozen=True)
class Page:
    """One page: its number from 1, its size in sheet units."""

    number: int
    width: float
    height: float


@dataclass(frozen=True)
class PageContent:
    """What a page holds: its line work and its words, in sheet units as the page is seen.

    Attributes:
        segments: n × 4, each x1, y1, x2, y2; curves as chords.
        words: text, left, bottom, width, height.
        said: what was left out; empty when nothing was.
    """

    segments: NDArray[np.float32]
    words: list[tuple[str, float, float, float, float]]
    said: str = ""


def framed(picture: Image.Image) -> bytes:
    """A part of a page as a square PNG tile, white beyond the page's edge."""
    canvas = Image.new("RGB", (TILE, TILE), "white")
    canvas.paste(picture.convert("RGB"), (0, 0))
    out = io.BytesIO()
    canvas.quantize(64).save(out, "PNG", optimize=False, compress_level=1)
    return out.getvalue()


def tile_corner(zoom: int, column: int, row: int, width: float, height: float) -> tuple[float, float, float]:
    """Pixels to a sheet unit, and a tile's left and top edge in sheet units from the page's upper left
    corner.

    Raises:
        UnreadableDrawing: a page of that width and height (sheet units) has no such tile.
    """
    if 0 <= zoom <= DEEPEST_ZOOM:
        scale = 2.0 ** (zoom - 2)
        if 0 <= column < width * scale / TILE and 0 <= row < height * scale / TILE:
            return scale, column * TILE / scale, row * TILE / scale
    raise UnreadableDrawing("That tile is off the sheet.", field="tile")
