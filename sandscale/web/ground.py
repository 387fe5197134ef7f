"""The ground stage: levels, surfaces, earthworks."""

from __future__ import annotations

from typing import Any

from flask import Response, g, request
from pydantic import RootModel

from ..core.refusals import BadEntry
from ..formats.level_file import LARGEST_FILE
from ..services.ground import feed
from ..services.ground.actions import billing, earthworks, surfaces, surveys
from ..services.ground.reading import earthworks as earth_reading
from ..services.ground.reading import levels as level_reading
from ..services.ground.reading import overview
from ..services.ground.reading import surfaces as surface_reading
from ..services.ground.views import (
    BalanceView,
    BlocksView,
    ContoursView,
    DeliveryView,
    EarthworkView,
    GroundView,
    LevelPage,
    MapView,
    NearView,
    PointsView,
    ProfileView,
    RowsView,
    SectionView,
    SeenView,
    SurfaceView,
    SurveyView,
    WholeView,
)
from ..services.ground.whole import whole_view
from ..services.keeping.views import Saved
from .api import answers, api, asks_once, stage, writes
from .ground_schemas import (
    Box,
    Decided,
    Delivered,
    EarthClassChange,
    EarthStageChange,
    EarthworkChange,
    FormationChange,
    GroundLineChange,
    Interval,
    KnownPoint,
    LevelChange,
    LevelsPasted,
    LevelWindow,
    LineDrawn,
    NewContour,
    NewEarthClass,
    NewEarthStage,
    NewEarthwork,
    NewFormation,
    NewGroundLine,
    NewLevel,
    NewSurface,
    NewSurvey,
    PlaceWanted,
    Split,
    SummedBy,
    SurfaceChange,
    SurveyChange,
    Undecided,
    how_read,
)
from .issue import download

blueprint = stage("ground")
_MEDIA_TYPES = {
    "dxf": "image/vnd.dxf", "xml": "application/xml", "geojson": "application/geo+json",
    "csv": "text/csv; charset=utf-8",
}  # fmt: skip


class Deliveries(RootModel[list[DeliveryView]]):
    """Files of the survey feed."""


class LevelHere(RootModel[float | None]):
    """A level, or none."""


@blueprint.get("/ground")
@api.validate(resp=answers(GroundView))
def whole() -> GroundView:
    """Surveys, surfaces and earthworks."""
    return overview.ground_view(g.actor)


@blueprint.get("/ground/whole")
@api.validate(query=SummedBy, resp=answers(WholeView))
def whole_job(query: SummedBy) -> WholeView:
    """Earthworks, trenches and routes summed as one job."""
    return whole_view(g.actor, query.by)


def _file() -> tuple[str, bytes]:
    request.max_content_length = LARGEST_FILE + 64 * 1024
    file = request.files.get("file")
    if file is None:
        raise BadEntry("No file was sent.", field="file")
    return file.filename or "levels", file.read()


@blueprint.post("/surveys/read")
@api.validate(resp=answers(SeenView))
def read_file() -> SeenView:
    """What a file of levels holds, sent as a form with it and how it is read; nothing is kept."""
    name, content = _file()
    given = how_read(request.form.get("how", ""))
    return level_reading.seen_view(surveys.read_file(g.actor, name, content, given.how), given.how)


@blueprint.post("/surveys/file")
@writes
def take_in() -> Saved:
    """Take levels in from a file, sent as a form with it and how it is read."""
    name, content = _file()
    given = how_read(request.form.get("how", ""))
    return surveys.take_in(
        g.actor, name, content, given.how, unit=given.unit, level_unit=given.level_unit, surface=given.surface
    )


@blueprint.post("/surveys/pasted/read")
@api.validate(resp=answers(SeenView))
def read_pasted(json: LevelsPasted) -> SeenView:
    """What rows from the clipboard hold; nothing is kept."""
    seen = surveys.read_file(g.actor, json.name, json.text.encode(), json.how)
    return level_reading.seen_view(seen, json.how)


@blueprint.post("/surveys/pasted")
@writes
def take_pasted(json: LevelsPasted) -> Saved:
    """Take levels in from the clipboard."""
    return surveys.take_in(
        g.actor, json.name, json.text.encode(), json.how,
        unit=json.unit, level_unit=json.level_unit, surface=json.surface,
    )  # fmt: skip


@blueprint.get("/surveys/feed")
@asks_once
@api.validate(resp=answers(Deliveries))
def feed_listed() -> Any:
    """What the survey feed has sent."""
    return Deliveries(feed.deliveries(g.actor))


@blueprint.post("/surveys/feed/read")
@api.validate(resp=answers(SeenView))
def read_delivery(json: Delivered) -> SeenView:
    """What a file of the feed holds; nothing is kept."""
    return level_reading.seen_view(feed.read_delivery(g.actor, json.name, json.how), json.how)


@blueprint.post("/surveys/feed")
@writes
def take_delivery(json: Delivered) -> Saved:
    """Take in a file of the feed."""
    return feed.take_delivery(g.actor, json.name, json.how, json.unit, json.level_unit, surface=json.surface)


def _known(points: list[KnownPoint]) -> list[tuple[float, float, str, str]]:
    return [(point.x, point.y, point.east, point.north) for point in points]


@blueprint.post("/surveys")
@writes
def add_survey(json: NewSurvey) -> Saved:
    """Add a survey to type levels into, or to pick them off a sheet."""
    return surveys.add_survey(g.actor, json.name, json.sheet, _known(json.known))


@blueprint.get("/surveys/<int:survey>")
@api.validate(resp=answers(SurveyView))
def one_survey(survey: int) -> SurveyView:
    """A survey with what looks wrong with it."""
    return level_reading.survey_view(g.actor, survey)


@blueprint.patch("/surveys/<int:survey>")
@writes
def change_survey(survey: int, json: SurveyChange) -> Saved:
    """Rename a survey, or put right how its numbers are taken."""
    fields = json.given()
    if "known" in fields:
        fields["known"] = _known(json.known)
    return surveys.change_survey(g.actor, survey, json.version, fields)


@blueprint.delete("/surveys/<int:survey>")
@writes
def delete_survey(survey: int) -> Saved:
    """Delete a survey."""
    return surveys.delete_survey(g.actor, survey)


@blueprint.get("/surveys/<int:survey>/levels")
@api.validate(query=LevelWindow, resp=answers(LevelPage))
def levels(survey: int, query: LevelWindow) -> LevelPage:
    """A window of a survey's levels."""
    return level_reading.level_page(g.actor, survey, query.first, query.most, query.only)


@blueprint.get("/surveys/<int:survey>/points")
@api.validate(resp=answers(PointsView))
def points(survey: int) -> PointsView:
    """A survey's levels as the plan shows them."""
    return level_reading.points_view(g.actor, survey)


@blueprint.post("/surveys/<int:survey>/levels")
@writes
def add_level(survey: int, json: NewLevel) -> Saved:
    """Type a level, or pick one off the survey's sheet."""
    given = {name: value for name, value in json.given().items() if value is not None}
    return surveys.add_level(g.actor, survey, given)


@blueprint.post("/surveys/<int:survey>/contours")
@writes
def add_contour(survey: int, json: NewContour) -> Saved:
    """Follow a contour on the survey's sheet."""
    return surveys.add_contour(g.actor, survey, json.corners, json.level)


@blueprint.post("/surveys/<int:survey>/decide")
@writes
def decide(survey: int, json: Decided) -> Saved:
    """Decide about levels in doubt."""
    return surveys.decide(g.actor, survey, json.kind, json.does, json.at, json.level)


@blueprint.post("/surveys/<int:survey>/undecide")
@writes
def undecide(survey: int, json: Undecided) -> Saved:
    """Take decisions about levels back."""
    return surveys.undecide(g.actor, survey, json.kind, json.at)


@blueprint.patch("/levels/<int:level>")
@writes
def change_level(level: int, json: LevelChange) -> Saved:
    """Change a typed level."""
    return surveys.change_level(g.actor, level, json.version, json.given())


@blueprint.delete("/levels/<int:level>")
@writes
def delete_level(level: int) -> Saved:
    """Delete a typed level."""
    return surveys.delete_level(g.actor, level)


@blueprint.post("/surfaces")
@writes
def add_surface(json: NewSurface) -> Saved:
    """Add a surface through surveys."""
    return surfaces.add_surface(g.actor, json.name, json.surveys)


@blueprint.get("/surfaces/<int:surface>")
@api.validate(resp=answers(SurfaceView))
def one_surface(surface: int) -> SurfaceView:
    """A surface with what is told of it."""
    return surface_reading.surface_view(g.actor, surface)


@blueprint.patch("/surfaces/<int:surface>")
@writes
def change_surface(surface: int, json: SurfaceChange) -> Saved:
    """Rename a surface, or say which surveys it goes through."""
    return surfaces.change_surface(g.actor, surface, json.version, json.given())


@blueprint.delete("/surfaces/<int:surface>")
@writes
def delete_surface(surface: int) -> Saved:
    """Delete a surface."""
    return surfaces.delete_surface(g.actor, surface)


@blueprint.get("/surfaces/<int:surface>/relief.png")
def relief(surface: int) -> Response:
    """A surface's relief; a browser keeps it under what it was made from."""
    answer = Response(surface_reading.relief_png(g.actor, surface), mimetype="image/png")
    answer.headers["Cache-Control"] = "private, max-age=86400"
    return answer


@blueprint.get("/surfaces/<int:surface>/contours")
@api.validate(query=Interval, resp=answers(ContoursView))
def contours(surface: int, query: Interval) -> ContoursView:
    """A surface's contours."""
    return surface_reading.contours_view(g.actor, surface, query.interval)


@blueprint.get("/surfaces/<int:surface>/near")
@api.validate(query=Box, resp=answers(NearView))
def near(surface: int, query: Box) -> NearView:
    """The triangles and levels of a part of a surface."""
    return surface_reading.near_view(g.actor, surface, (query.west, query.south, query.east, query.north))


@blueprint.get("/surfaces/<int:surface>/level")
@api.validate(query=PlaceWanted, resp=answers(LevelHere))
def level_here(surface: int, query: PlaceWanted) -> Any:
    """A surface's level at a place."""
    return LevelHere(surface_reading.level_at(g.actor, surface, query.east, query.north))


@blueprint.post("/surfaces/<int:surface>/profile")
@api.validate(resp=answers(ProfileView))
def profile(surface: int, json: LineDrawn) -> ProfileView:
    """A surface's levels along a line."""
    return surface_reading.profile_view(g.actor, surface, json.line)


@blueprint.get("/surfaces/<int:surface>/file/<kind>")
def surface_file(surface: int, kind: str) -> Response:
    """A surface as DXF, LandXML, GeoJSON or CSV."""
    name, content = surface_reading.surface_file(g.actor, surface, kind)
    return download(name, content, _MEDIA_TYPES[name.rsplit(".", 1)[-1]])


@blueprint.post("/surfaces/<int:surface>/lines")
@writes
def add_line(surface: int, json: NewGroundLine) -> Saved:
    """Draw a breakline, a boundary or a hole for a surface."""
    return surfaces.add_line(g.actor, surface, json.kind, json.corners)


@blueprint.patch("/ground-lines/<int:ground_line>")
@writes
def change_line(ground_line: int, json: GroundLineChange) -> Saved:
    """Change a line drawn for a surface."""
    return surfaces.change_line(g.actor, ground_line, json.version, json.corners)


@blueprint.delete("/ground-lines/<int:ground_line>")
@writes
def delete_line(ground_line: int) -> Saved:
    """Delete a line drawn for a surface or followed on a sheet."""
    return surfaces.delete_line(g.actor, ground_line)


@blueprint.post("/earthworks")
@writes
def add_earthwork(json: NewEarthwork) -> Saved:
    """Add an earthwork."""
    return earthworks.add_earthwork(g.actor, json.mark, json.description, json.location, json.ground)


@blueprint.get("/earthworks/<int:element>")
@api.validate(resp=answers(EarthworkView))
def one_earthwork(element: int) -> EarthworkView:
    """An earthwork, by its element."""
    return earth_reading.earthwork_view(g.actor, element)


@blueprint.patch("/earthworks/<int:element>")
@writes
def change_earthwork(element: int, json: EarthworkChange) -> Saved:
    """Change how an earthwork is reckoned."""
    return earthworks.change_earthwork(g.actor, element, json.version, json.given())


@blueprint.get("/earthworks/<int:element>/map")
@api.validate(resp=answers(MapView))
def earth_map(element: int) -> MapView:
    """Cut and fill on the plan."""
    return earth_reading.map_view(g.actor, element)


@blueprint.get("/earthworks/<int:element>/rows")
@api.validate(resp=answers(RowsView))
def rows(element: int) -> RowsView:
    """The sections along the grid."""
    return earth_reading.rows_view(g.actor, element)


@blueprint.get("/earthworks/<int:element>/rows/<int:row>")
@api.validate(resp=answers(SectionView))
def one_row(element: int, row: int) -> SectionView:
    """A section along the grid, as it is drawn."""
    return earth_reading.row_view(g.actor, element, row)


@blueprint.post("/earthworks/<int:element>/across")
@api.validate(resp=answers(SectionView))
def across(element: int, json: LineDrawn) -> SectionView:
    """A section across any line."""
    return earth_reading.across_view(g.actor, element, json.line)


@blueprint.get("/earthworks/<int:element>/blocks")
@api.validate(resp=answers(BlocksView))
def blocks(element: int) -> BlocksView:
    """The squares of the grid."""
    return earth_reading.blocks_view(g.actor, element)


@blueprint.get("/earthworks/<int:element>/balance")
@api.validate(resp=answers(BalanceView))
def balance(element: int) -> BalanceView:
    """The level at which cut and fill balance; nothing is written."""
    return earth_reading.balance_view(g.actor, element)


@blueprint.post("/earthworks/<int:element>/into-bill")
@writes
def into_bill(element: int, json: Split) -> Saved:
    """An earthwork's quantities into the bill."""
    return billing.into_bill(g.actor, element, json.split)


@blueprint.post("/earthworks/<int:element>/formations")
@writes
def add_formation(element: int, json: NewFormation) -> Saved:
    """Add a formation."""
    return earthworks.add_formation(g.actor, element, json.given())


@blueprint.patch("/formations/<int:formation>")
@writes
def change_formation(formation: int, json: FormationChange) -> Saved:
    """Change a formation."""
    return earthworks.change_formation(g.actor, formation, json.version, json.given())


@blueprint.delete("/formations/<int:formation>")
@writes
def delete_formation(formation: int) -> Saved:
    """Delete a formation."""
    return earthworks.delete_formation(g.actor, formation)


@blueprint.post("/earthworks/<int:element>/classes")
@writes
def add_class(element: int, json: NewEarthClass) -> Saved:
    """Add a class of what is dug."""
    return earthworks.add_class(g.actor, element, json.given())


@blueprint.patch("/earth-classes/<int:earth_class>")
@writes
def change_class(earth_class: int, json: EarthClassChange) -> Saved:
    """Change a class of what is dug."""
    return earthworks.change_class(g.actor, earth_class, json.version, json.given())


@blueprint.delete("/earth-classes/<int:earth_class>")
@writes
def delete_class(earth_class: int) -> Saved:
    """Delete a class of what is dug."""
    return earthworks.delete_class(g.actor, earth_class)


@blueprint.post("/earthworks/<int:element>/stages")
@writes
def add_stage(element: int, json: NewEarthStage) -> Saved:
    """Add a stage."""
    return earthworks.add_stage(g.actor, element, json.given())


@blueprint.patch("/earth-stages/<int:earth_stage>")
@writes
def change_stage(earth_stage: int, json: EarthStageChange) -> Saved:
    """Change a stage."""
    return earthworks.change_stage(g.actor, earth_stage, json.version, json.given())


@blueprint.delete("/earth-stages/<int:earth_stage>")
@writes
def delete_stage(earth_stage: int) -> Saved:
    """Delete a stage."""
    return earthworks.delete_stage(g.actor, earth_stage)
