"""A surface as a picture seen from above: how much light falls on it, and how high it lies."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .pieces import Floats
from .surface import Surface

_LIGHT = np.array([-0.5, 0.5, 0.70710678])  # from the north-west, as maps are shaded
_AT_ONCE = 100_000  # places looked at together: more take hundreds of megabytes, and longer
_STEEPENED = 3.5  # heights are taken larger, so that gentle ground shows too


@dataclass(frozen=True)
class Relief:
    """A surface on a raster, its first row the northernmost.

    Attributes:
        light: h × w, from 0 in shadow to 1; NaN off the surface.
        height: h × w, from 0 at the lowest to 1 at the highest.
        bounds: west, south, east, north of the raster, in m.
    """

    light: NDArray[np.float32]
    height: NDArray[np.float32]
    bounds: tuple[float, float, float, float]


def relief(made: Surface, pixels: int) -> Relief:
    """A surface on a raster whose longer side has so many places."""
    used = made.points[np.unique(made.triangles)]
    west, south = used[:, :2].min(axis=0)
    east, north = used[:, :2].max(axis=0)
    size = max(east - west, north - south) / pixels
    width, height = (max(int(np.ceil(each / size)), 1) for each in (east - west, north - south))
    corners = (made.points[:, :2] - [west, north]) / [size, -size]
    rise = max(made.highest - made.lowest, 1e-9)
    shade = _shade(made)
    high = (made.points[:, 2] - made.lowest) / rise
    light = np.full((height, width), np.nan, np.float32)
    level = np.full((height, width), np.nan, np.float32)
    _fill(corners[made.triangles], shade[made.triangles], high[made.triangles], light, level)
    bounds = (west, north - height * size, west + width * size, north)
    return Relief(light, level, tuple(float(each) for each in bounds))  # type: ignore[arg-type]


def _shade(made: Surface) -> Floats:
    """How much light falls on each point: the mean of the triangles round it."""
    a, b, c = (made.points[made.triangles[:, corner]] for corner in range(3))
    normals = np.cross((b - a) * [1, 1, _STEEPENED], (c - a) * [1, 1, _STEEPENED])
    at_point = np.zeros((len(made.points), 3))
    for corner in range(3):
        np.add.at(at_point, made.triangles[:, corner], normals)
    length = np.sqrt((at_point**2).sum(axis=1))
    return np.asarray(np.clip(at_point @ _LIGHT / np.where(length == 0, 1, length), 0, 1))


def _fill(
    corners: Floats, shade: Floats, high: Floats, light: NDArray[np.float32], level: NDArray[np.float32]
) -> None:
    """Put triangles (n × 3 × 2, in places of the raster) onto it, each place by its middle."""
    height, width = light.shape
    low = np.maximum(np.floor(corners.min(axis=1) - 0.5), 0).astype(np.int64)
    top = np.minimum(np.ceil(corners.max(axis=1) + 0.5), [width, height]).astype(np.int64)
    across, down = (np.maximum(top - low, 0)).T
    number = across * down
    ends = np.cumsum(number)
    begin = 0
    while begin < len(corners):
        stop = max(int(np.searchsorted(ends, (ends[begin - 1] if begin else 0) + _AT_ONCE)), begin + 1)
        some = np.arange(begin, min(stop, len(corners)))
        of = np.repeat(some, number[some])
        first = np.repeat(np.cumsum(number[some]) - number[some], number[some])
        at = np.arange(len(of)) - first
        column, row = low[of, 0] + at % across[of], low[of, 1] + at // across[of]
        a, b, c = corners[of, 0], corners[of, 1], corners[of, 2]
        x, y = column + 0.5, row + 0.5
        whole = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1])
        with np.errstate(divide="ignore", invalid="ignore"):
            second = ((x - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (y - a[:, 1])) / whole
            third = ((b[:, 0] - a[:, 0]) * (y - a[:, 1]) - (x - a[:, 0]) * (b[:, 1] - a[:, 1])) / whole
        inside = (second >= -1e-9) & (third >= -1e-9) & (second + third <= 1 + 1e-9)
        of, row, column = of[inside], row[inside], column[inside]
        shares = np.stack([1 - second - third, second, third], axis=1)[inside]
        light[row, column] = (shares * shade[of]).sum(axis=1)
        level[row, column] = (shares * high[of]).sum(axis=1)
        begin = int(some[-1]) + 1
