"""A surface's relief as a PNG: paper that darkens where light doesn't fall, transparent off the surface."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image

from ..core.ground.relief import Relief

_LOW, _HIGH, _SHADOW = (
    np.array(colour, np.float32) for colour in ((236, 236, 226), (252, 246, 234), (150, 140, 122))
)


def write_relief(made: Relief) -> bytes:
    """The picture, as large as its raster."""
    known = np.isfinite(made.light)
    light, height = np.nan_to_num(made.light, nan=1.0), np.nan_to_num(made.height)
    paper = _LOW + (_HIGH - _LOW) * height[..., None]
    # Level ground is lit to 0.71: there the paper is as it is, and slopes go from it both ways.
    lit = np.clip(1 + (light[..., None] - 0.7071) * 1.5, 0, 1.08)
    colours = np.minimum(_SHADOW + (paper - _SHADOW) * lit, 255)
    pixels = np.concatenate([colours, np.where(known, 255, 0)[..., None]], axis=2).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels, "RGBA").save(out, "PNG", compress_level=3)
    return out.getvalue()
