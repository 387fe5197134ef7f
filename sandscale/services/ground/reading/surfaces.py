"""Surfaces as they are read: relief, contours, what lies near, levels and profiles."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache

import numpy as np
import shapely

from ....core.ground.relief import relief
from ....core.ground.surface import Surface
from ....core.ground.survey import Survey as Levels
from ....core.refusals import BadEntry
from ....formats import dxf, geojson, landxml, levels_csv
from ....formats.relief_png import write_relief
from ....store.models import GroundLine, GroundSurface, SurfaceMade, SurfaceSurvey
from ...keeping.acting import Actor, find
from ...keeping.project_file import file_name
from ..surfaces import last_made
from ..views import ContoursView, ContourView, GroundLineView, NearView, ProfileView, SurfaceView
from .overview import surface_briefs

PIXELS = 1600
NEAR = 700  # triangles shown together
_CONTOURS_SHOWN = 24  # about so many lie between the lowest and the highest, where nobody chose
_MOST_CORNERS = 400_000
FORMATS = ("dxf", "landxml", "geojson", "csv")


def surface_view(actor: Actor, surface_id: int) -> SurfaceView:
    """A surface with what is told of it."""
    row = find(GroundSurface, actor, surface_id)
    fields = [field for field in SurfaceMade._meta.sorted_fields if field.name != "packed"]
    made = SurfaceMade.select(*fields).where(SurfaceMade.surface == row.id).first()
    chosen = SurfaceSurvey.those(SurfaceSurvey.surface, [row.id], SurfaceSurvey.id)
    lines = GroundLine.those(GroundLine.surface, [row.id], GroundLine.id)
    return SurfaceView(
        **surface_briefs([row])[0].model_dump(), surveys=[each.survey_id for each in chosen],
        lines=[
            GroundLineView(id=line.id, version=line.version, kind=line.kind, corners=line.corners)
            for line in lines
        ],
        triangles=made.triangles if made else 0, plan_area=made.plan_area if made else None,
        true_area=made.true_area if made else None, bounds=made.bounds if made else [],
        findings=[says for says, *_ in made.findings] if made else [],
        interval=fitting(made.highest - made.lowest) if made and made.lowest is not None else 1.0,
        made=made.fingerprint[:16] if made else "",
    )  # fmt: skip


def fitting(rise: float) -> float:
    """An interval of contours that shows a rise well: 0.1, 0.25, 0.5, 1, 2.5 …"""
    wanted = max(rise, 0.2) / _CONTOURS_SHOWN
    tens = 10 ** math.floor(math.log10(wanted))
    return next(step * tens for step in (1, 2.5, 5, 10) if step * tens >= wanted - 1e-12)


def relief_png(actor: Actor, surface_id: int) -> bytes:
    """A surface's relief as a picture of its bounds.

    Raises:
        BadEntry: it isn't made yet.
    """
    row = find(GroundSurface, actor, surface_id)
    made = SurfaceMade.get_or_none(SurfaceMade.surface == row.id)
    return _relief(row.id, made.fingerprint if made else "")


@lru_cache(maxsize=8)
def _relief(surface_id: int, _fingerprint: str) -> bytes:
    return write_relief(relief(last_made(surface_id), PIXELS))


def contours_view(actor: Actor, surface_id: int, interval: float) -> ContoursView:
    """Contours of a surface, as fine as they can be seen.

    Raises:
        BadEntry: the interval is not above zero, or makes too many.
    """
    row = find(GroundSurface, actor, surface_id)
    made = last_made(row.id)
    chosen = interval or fitting(made.highest - made.lowest)
    found = made.contours(chosen)
    if sum(len(each.line) for each in found) > _MOST_CORNERS:
        raise BadEntry(
            f"Contours every {chosen:g} m have too many corners to be shown.", field="interval",
            remedy="Choose a larger interval.",
        )  # fmt: skip
    size = np.ptp(made.points[:, :2], axis=0).max() / 8000
    shown = []
    for each in found:
        line = shapely.get_coordinates(shapely.simplify(shapely.linestrings(each.line), size))
        shown.append(ContourView(level=round(each.level, 6), line=np.round(line, 3).reshape(-1).tolist()))
    return ContoursView(interval=chosen, contours=shown)


def near_view(actor: Actor, surface_id: int, box: Sequence[float]) -> NearView:
    """The triangles and levels of a part of a surface; none where they are too many to be seen."""
    made = last_made(find(GroundSurface, actor, surface_id).id)
    west, south, east, north = box
    x, y = made.points[made.triangles, 0], made.points[made.triangles, 1]
    meets = (
        (x.min(axis=1) < east) & (x.max(axis=1) > west) & (y.min(axis=1) < north) & (y.max(axis=1) > south)
    )
    which = np.flatnonzero(meets)
    if len(which) > NEAR:
        return NearView(triangles=[], points=[], many=True)
    corners = made.points[made.triangles[which]]
    points = made.points[np.unique(made.triangles[which])]
    return NearView(triangles=corners.reshape(-1, 9).tolist(), points=points.tolist(), many=False)


def level_at(actor: Actor, surface_id: int, east: float, north: float) -> float | None:
    """A surface's level at a place; nothing off it."""
    made = last_made(find(GroundSurface, actor, surface_id).id)
    found = float(made.levels_at(np.array([[east, north]]))[0])
    return found if math.isfinite(found) else None


def profile_view(actor: Actor, surface_id: int, line: Sequence[Sequence[float]]) -> ProfileView:
    """A surface's levels along a line.

    Raises:
        BadShape: the line has no length.
    """
    made = last_made(find(GroundSurface, actor, surface_id).id)
    found = made.profile(line)
    return ProfileView(chainages=found.chainages.tolist(), levels=plain(found.levels))


def plain(values: np.ndarray[tuple[int, ...], np.dtype[np.float64]]) -> list[float | None]:
    """Numbers as they are told; nothing for those that are none."""
    return [float(value) if math.isfinite(value) else None for value in values]


def surface_file(actor: Actor, surface_id: int, kind: str, interval: float = 0.0) -> tuple[str, bytes]:
    """A surface as a file: its triangles (and contours) as DXF, LandXML or GeoJSON, its levels as CSV.

    Raises:
        BadEntry: it isn't made yet, or there is no such kind.
    """
    row = find(GroundSurface, actor, surface_id)
    made = last_made(row.id)
    name = file_name(row.name)
    if kind == "dxf":
        return f"{name}.dxf", _dxf(row.name, made, interval)
    if kind == "landxml":
        return f"{name}.xml", landxml.write_landxml({row.name: made})
    if kind == "geojson":
        return f"{name}.geojson", geojson.write_geojson(surfaces={row.name: made})
    if kind == "csv":
        return f"{name}.csv", levels_csv.write_levels(Levels(made.points[np.unique(made.triangles)]))
    raise BadEntry(f"Surfaces aren't written as “{kind}”.", field="kind")


def _dxf(name: str, made: Surface, interval: float) -> bytes:
    lines = made.contours(interval or fitting(made.highest - made.lowest))
    by_layer = {f"contour {each.level:g}": [] for each in lines}  # type: ignore[var-annotated]
    for each in lines:
        by_layer[f"contour {each.level:g}"].append(each.line)
    levels = {f"contour {each.level:g}": each.level for each in lines}
    return dxf.write_dxf({name: made}, None, by_layer, levels)
