"""A surface as a picture seen from above: how much light falls on it, and how high it lies."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .pieces import Floats
from .surface import Surface

_LIGHT = np.array([-0.5, 0.5, 0.70710678])  # from the north-west, as maps are shaded
_ROWS = 2_000  # rows of triangles laid down together: more take hundreds of megabytes, and no less time
_TOUCHING = 1e-9  # of a place, by which one may lie beside a triangle
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
    """Put triangles (n × 3 × 2, in places of the raster) onto it row by row, each place by its middle."""
    height, width = light.shape
    whole = _turn(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    first = np.maximum(np.ceil(corners[:, :, 1].min(axis=1) - 0.5), 0).astype(np.int64)
    last = np.minimum(np.floor(corners[:, :, 1].max(axis=1) - 0.5), height - 1).astype(np.int64)
    rows = np.where(whole == 0, 0, np.maximum(last - first + 1, 0))
    ends, begin = np.cumsum(rows), 0
    while begin < len(corners):
        stop = max(int(np.searchsorted(ends, (ends[begin - 1] if begin else 0) + _ROWS)), begin + 1)
        of, ahead = _counted(np.arange(begin, min(stop, len(corners))), rows)
        row, begin = first[of] + ahead, stop
        left, right = _between(corners[of], row + 0.5)
        start = np.maximum(np.ceil(left - 0.5 - _TOUCHING), 0)
        places = np.maximum(np.minimum(np.floor(right - 0.5 + _TOUCHING), width - 1) - start + 1, 0)
        each, ahead = _counted(np.arange(len(of)), places.astype(np.int64))
        at = row[each], start[each].astype(np.int64) + ahead
        from_a = np.column_stack([start + 0.5, row + 0.5]) - corners[of, 0]
        for values, onto in ((shade, light), (high, level)):
            slope = _slope(corners[of], values[of], whole[of])
            begins = values[of, 0] + (slope * from_a).sum(axis=1)
            onto[at] = np.clip(begins[each] + slope[each, 0] * ahead, 0, 1)


def _counted(items: NDArray[np.int64], numbers: NDArray[np.int64]) -> tuple[NDArray[np.int64], ...]:
    """Each item as often as its number says, and beside it how often it was there before."""
    often = numbers[items]
    repeated = np.repeat(items, often)
    return repeated, np.arange(len(repeated)) - np.repeat(np.cumsum(often) - often, often)


def _between(corners: Floats, y: Floats) -> tuple[Floats, Floats]:
    """Between what x a triangle lies at a y; from right to left where it doesn't."""
    left, right = np.full(len(y), np.inf), np.full(len(y), -np.inf)
    for one, other in ((0, 1), (1, 2), (2, 0)):
        p, q = corners[:, one], corners[:, other]
        with np.errstate(divide="ignore", invalid="ignore"):
            share = (y - p[:, 1]) / (q[:, 1] - p[:, 1])
        met = (share >= 0) & (share <= 1)
        x = p[met, 0] + share[met] * (q[met, 0] - p[met, 0])
        left[met], right[met] = np.minimum(left[met], x), np.maximum(right[met], x)
    met = left <= right
    return np.where(met, left, 1.0), np.where(met, right, -1.0)


def _slope(corners: Floats, values: Floats, whole: Floats) -> Floats:
    """By how much values at the corners of triangles rise along x and along y."""
    b, c = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    to_b, to_c = values[:, 1] - values[:, 0], values[:, 2] - values[:, 0]
    rises = [to_b * c[:, 1] - to_c * b[:, 1], to_c * b[:, 0] - to_b * c[:, 0]]
    return np.asarray(np.column_stack(rises) / whole[:, None])


def _turn(one: Floats, other: Floats) -> Floats:
    return np.asarray(one[:, 0] * other[:, 1] - other[:, 0] * one[:, 1])
