"""A surface's relief as a PNG: paper that darkens where light doesn't fall, transparent off the surface."""

from __future__ import annotations

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..core.ground.relief import Relief

_LOW, _HIGH, _SHADOW = (
    np.array(colour, np.float32) for colour in ((236, 236, 226), (252, 246, 234), (150, 140, 122))
)
_ROWS = 64  # coloured together


def write_relief(made: Relief) -> bytes:
    """The picture, as large as its raster."""
    pixels = np.empty((*made.light.shape, 4), np.uint8)
    for top in range(0, len(pixels), _ROWS):
        rows = slice(top, top + _ROWS)
        pixels[rows] = _coloured(made.light[rows], made.height[rows])
    out = io.BytesIO()
    Image.fromarray(pixels, "RGBA").save(out, "PNG", compress_level=3)
    return out.getvalue()


def _coloured(light: NDArray[np.float32], height: NDArray[np.float32]) -> NDArray[np.uint8]:
    known = np.isfinite(light)
    light, height = np.nan_to_num(light, nan=1.0), np.nan_to_num(height)
    paper = _LOW + (_HIGH - _LOW) * height[..., None]
    # Level ground is lit to 0.71: there the paper is as it is, and slopes go from it both ways.
    lit = np.clip(1 + (light[..., None] - 0.7071) * 1.5, 0, 1.08)
    colours = np.minimum(_SHADOW + (paper - _SHADOW) * lit, 255)
    return np.concatenate([colours, np.where(known, 255, 0)[..., None]], axis=2).astype(np.uint8)
