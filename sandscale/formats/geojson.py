"""Levels, lines and surfaces in GeoJSON, with projected coordinates in m: read and written."""

from __future__ import annotations

import json
import math
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

import numpy as np

from ..core.ground.pieces import Floats
from ..core.ground.surface import Surface
from ..core.ground.survey import LineKind, Survey, SurveyLine
from .level_file import FARTHEST, MOST_LEVELS, FileLevels, Told, UnreadableLevels, bounded, number

_LEVEL_NAMES = ("z", "level", "elevation", "elev", "height", "rl")


def read_levels(content: bytes, name: str) -> FileLevels:
    """Levels from GeoJSON.

    Points are levels (from the third coordinate, or a property such as level); lines are breaklines, or
    contours where the property ``kind`` says so; polygons of three corners with levels are faces of a
    surface; the first other polygon is the boundary and its inner rings are holes. A finding's line is the
    feature's number, from 0.

    Raises:
        UnreadableLevels: it is too large, no GeoJSON, in degrees, or holds no levels.
    """
    try:
        document = json.loads(bounded(content, name).decode("utf-8-sig"))
    except (ValueError, RecursionError):
        raise UnreadableLevels(f"“{name}” is broken or no GeoJSON.", field="file") from None
    got = _Gathered(name)
    for row, (geometry, properties) in enumerate(_features(document), start=1):
        got.take(geometry, properties, row)
    got.refuse_degrees()
    if not got.points and not got.lines and not got.faces:
        raise UnreadableLevels(f"“{name}” holds no points, lines or faces.", field="file")
    points = np.array(got.points, dtype=float).reshape(-1, 3)
    survey = Survey(points, tuple(got.codes), np.array(got.rows, dtype=np.int64), tuple(got.lines))
    return FileLevels(survey, np.array(got.faces, dtype=float).reshape(-1, 3, 3), got.told.findings())


class _Gathered:
    def __init__(self, name: str) -> None:
        self.name = name
        self.points: list[list[float]] = []
        self.codes: list[str] = []
        self.rows: list[int] = []
        self.lines: list[SurveyLine] = []
        self.faces: list[Floats] = []
        self.told = Told()

    def take(self, geometry: Any, properties: Mapping[str, Any], row: int, deep: int = 0) -> None:
        if not isinstance(geometry, dict) or deep > 4:
            self.find(row, "has no geometry")
            return
        kind, given = geometry.get("type"), geometry.get("coordinates")
        if kind == "GeometryCollection":
            for inner in geometry.get("geometries") or []:
                self.take(inner, properties, row, deep + 1)
            return
        if kind not in ("Point", "MultiPoint", "LineString", "MultiLineString", "Polygon", "MultiPolygon"):
            self.find(row, f"is of a kind that is not read ({str(kind)[:30]})")
            return
        try:
            self._coordinates(kind, given, properties, row)
        except (TypeError, ValueError, IndexError):
            self.find(row, "has coordinates that can't be read")

    def _coordinates(self, kind: str, given: Any, properties: Mapping[str, Any], row: int) -> None:
        level = next(
            (
                value
                for key, cell in properties.items()
                if key.lower() in _LEVEL_NAMES and (value := number(cell)) is not None
            ),
            math.nan,
        )
        code, layer = str(properties.get("code") or ""), str(properties.get("layer") or "")
        if kind in ("Point", "MultiPoint"):
            for place in _places([given] if kind == "Point" else given, level):
                self.points.append(place)
                self.codes.append(code)
                self.rows.append(row)
            if len(self.points) > MOST_LEVELS:
                raise UnreadableLevels(
                    f"“{self.name}” has more than {MOST_LEVELS:,} levels.", field="file", remedy="Split it."
                )
        elif kind in ("LineString", "MultiLineString"):
            for part in [given] if kind == "LineString" else given:
                corners = np.array(_places(part, level))
                if len(corners) < 2 or not np.isfinite(corners).all():
                    self.find(row, "is a line without levels")
                    continue
                told = properties.get("kind")
                self.lines.append(
                    SurveyLine(told if told in ("breakline", "contour") else "breakline", corners, layer)
                )
        else:
            for polygon in [given] if kind == "Polygon" else given:
                for at, ring in enumerate(polygon):
                    self._ring(np.array(_places(ring, math.nan)), at, layer, row)

    def _ring(self, corners: Floats, at: int, layer: str, row: int) -> None:
        if len(corners) == 4 and np.isfinite(corners).all() and np.array_equal(corners[0], corners[3]):
            self.faces.append(corners[:3])
            return
        if len(corners) < 4:
            self.find(row, "has a ring of fewer than four points")
            return
        outer = at == 0 and not any(line.kind == "boundary" for line in self.lines)
        if at == 0 and not outer:
            self.find(row, "is a second polygon; only the first is the boundary")
            return
        kind: LineKind = "boundary" if outer else "hole"
        self.lines.append(SurveyLine(kind, corners, layer))

    def find(self, row: int, why: str) -> None:
        self.told.add(f"Feature {row} {why}; it is left out.", row - 1, "feature")

    def refuse_degrees(self) -> None:
        """GeoJSON by its standard is in degrees; areas and volumes can't be reckoned in them."""
        places = np.array(
            [place[:2] for place in self.points]
            + [corner[:2] for line in self.lines for corner in line.corners.tolist()]
        ).reshape(-1, 2)
        if (
            len(places)
            and (np.abs(places) <= (180, 90)).all()
            and np.ptp(places, axis=0).max() < 1
            and (np.abs(places) % 1 > 0).any()
        ):
            raise UnreadableLevels(
                f"The coordinates of “{self.name}” look like degrees; they must be in m on a grid.",
                field="file",
                remedy="Export it in the site's grid.",
            )


def _features(document: Any) -> Iterator[tuple[Any, Mapping[str, Any]]]:
    if isinstance(document, dict) and document.get("type") == "FeatureCollection":
        features = document.get("features")
        for feature in features if isinstance(features, list) else []:
            properties = feature.get("properties") if isinstance(feature, dict) else None
            yield (
                (feature.get("geometry") if isinstance(feature, dict) else None),
                properties if isinstance(properties, dict) else {},
            )
    elif isinstance(document, dict) and document.get("type") == "Feature":
        properties = document.get("properties")
        yield document.get("geometry"), properties if isinstance(properties, dict) else {}
    else:
        yield document, {}


def _places(given: Any, level: float) -> list[list[float]]:
    """Coordinates as east, north, level; ValueError where they are none."""
    found = []
    for place in given:
        values = [float(value) for value in place[:3]]
        if len(values) < 2 or not all(math.isfinite(value) and abs(value) < FARTHEST for value in values):
            raise ValueError
        found.append([*values[:2], values[2] if len(values) > 2 else level])
    return found


def write_geojson(
    survey: Survey | None = None,
    surfaces: Mapping[str, Surface] | None = None,
    lines: Mapping[str, Sequence[Floats]] | None = None,
) -> bytes:
    """GeoJSON in m: levels as points, lines of a survey, surfaces as triangles, and other lines (k × 2 or
    k × 3) by layer."""
    features = list[dict[str, Any]]()
    if survey is not None:
        for place, code in zip(
            survey.points.tolist(), survey.codes or ("",) * len(survey.points), strict=True
        ):
            known = place if math.isfinite(place[2]) else place[:2]
            features.append(_feature("Point", known, code=code))
        rings = [line for line in survey.lines if line.kind in ("boundary", "hole")]
        if rings:
            features.append(
                _feature(
                    "Polygon",
                    [_closed(line.corners) for line in sorted(rings, key=lambda line: line.kind)],
                    kind="boundary",
                )
            )
        features += [
            _feature("LineString", line.corners.tolist(), kind=line.kind, layer=line.layer)
            for line in survey.lines
            if line.kind in ("breakline", "contour")
        ]
    for layer, surface in (surfaces or {}).items():
        triangles = surface.points[surface.triangles]
        features.append(
            _feature(
                "MultiPolygon", [[[*corners, corners[0]]] for corners in triangles.tolist()], layer=layer
            )
        )
    for layer, drawn in (lines or {}).items():
        features += [_feature("LineString", corners.tolist(), layer=layer) for corners in drawn]
    return json.dumps({"type": "FeatureCollection", "features": features}, ensure_ascii=False).encode()


def _closed(corners: Floats) -> list[list[float]]:
    found: list[list[float]] = (corners if np.isfinite(corners).all() else corners[:, :2]).tolist()
    return found if found[0] == found[-1] else [*found, found[0]]


def _feature(shape: str, coordinates: Any, **properties: str) -> dict[str, Any]:
    told = {key: value for key, value in properties.items() if value}
    return {"type": "Feature", "geometry": {"type": shape, "coordinates": coordinates}, "properties": told}
