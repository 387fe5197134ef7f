"""The routes of the ground stage: typical sections, centrelines, what is built where and comes of it."""

from __future__ import annotations

from flask import g, request

from ..core.refusals import BadEntry
from ..formats.level_file import LARGEST_FILE
from ..services.ground.routes import actions, along, files, reading, typicals
from ..services.ground.routes.views import (
    HaulView,
    RouteLong,
    RoutePlan,
    RouteSections,
    RouteTable,
    RouteView,
    RunChoice,
    TypicalDrawn,
    TypicalView,
)
from ..services.keeping.views import Saved
from .api import answers, api, stage, writes
from .ground_schemas import (
    LevelDrawn,
    LineDrawn,
    NewRoute,
    NewRow,
    RouteChanged,
    RowChange,
    SectionWindow,
    TypicalChange,
    TypicalWritten,
)
from .schemas import FromShelf, ListOnShelf, ToShelf

blueprint = stage("routes")


@blueprint.post("/typicals")
@writes
def add_typical(json: TypicalWritten) -> Saved:
    """Add a typical section."""
    return typicals.add_typical(g.actor, json.document)


@blueprint.post("/typicals/drawn")
@api.validate(resp=answers(TypicalDrawn))
def draw_typical(json: TypicalWritten) -> TypicalDrawn:
    """How a typical section looks while it is typed; nothing is kept."""
    return reading.typical_drawn(g.actor, json.document)


@blueprint.post("/typicals/from-shelf")
@writes
def take_typical(json: FromShelf) -> Saved:
    """Take a typical section from a shelf, or move the project's on to its latest number."""
    return typicals.take_typical_from_shelf(g.actor, json.shelf, json.key)


@blueprint.get("/typicals/<int:typical>")
@api.validate(resp=answers(TypicalView))
def one_typical(typical: int) -> TypicalView:
    """A typical section."""
    return reading.typical_view(g.actor, typical)


@blueprint.patch("/typicals/<int:typical>")
@writes
def change_typical(typical: int, json: TypicalChange) -> Saved:
    """Change a typical section."""
    return typicals.change_typical(g.actor, typical, json.version, json.document)


@blueprint.delete("/typicals/<int:typical>")
@writes
def delete_typical(typical: int) -> Saved:
    """Delete a typical section."""
    return typicals.delete_typical(g.actor, typical)


@blueprint.post("/typicals/<int:typical>/shelf")
@writes
def put_typical(typical: int, json: ToShelf) -> Saved:
    """Put a typical section on a shelf."""
    return typicals.put_typical_on_shelf(g.actor, typical, json.shelf)


@blueprint.post("/routes")
@writes
def add_route(json: NewRoute) -> Saved:
    """Add a route."""
    return actions.add_route(g.actor, json.mark, json.description, json.location, json.ground)


@blueprint.get("/routes/<int:route>")
@api.validate(resp=answers(RouteView))
def one_route(route: int) -> RouteView:
    """A route, by its element."""
    return reading.route_view(g.actor, route)


@blueprint.patch("/routes/<int:route>")
@writes
def change_route(route: int, json: RouteChanged) -> Saved:
    """Change how a route is reckoned."""
    return actions.change_route(g.actor, route, json.version, json.given())


@blueprint.get("/routes/<int:route>/runs")
@api.validate(resp=answers(list[RunChoice]))
def runs(route: int) -> list[RunChoice]:
    """The runs on sheets that its centreline can go along."""
    return reading.runs_view(g.actor, route)


@blueprint.post("/routes/<int:route>/centreline")
@writes
def draw_centreline(route: int, json: LineDrawn) -> Saved:
    """Lay its centreline through corners drawn on the plan."""
    return actions.draw_centreline(g.actor, route, json.line)


@blueprint.post("/routes/<int:route>/drawn-levels")
@writes
def draw_level(route: int, json: LevelDrawn) -> Saved:
    """A point of its long section, drawn over the ground."""
    return actions.draw_level(g.actor, route, json.chainage, json.level)


@blueprint.post("/routes/<int:route>/file")
@writes
def bring_in(route: int) -> Saved:
    """Corners, levels or sections from a file, sent as a form with it, what it holds, and which alignment."""
    request.max_content_length = LARGEST_FILE + 64 * 1024
    file = request.files.get("file")
    if file is None:
        raise BadEntry("No file was sent.", field="file")
    what, alignment = (request.form.get(name, "")[:200] for name in ("what", "alignment"))
    return files.bring_in(g.actor, route, what, file.filename or "route", file.read(), alignment)


@blueprint.delete("/routes/<int:route>/sections")
@writes
def drop_sections(route: int) -> Saved:
    """Take out the sections that came from elsewhere."""
    return files.drop_sections(g.actor, route)


@blueprint.post("/routes/<int:route>/names/from-shelf")
@writes
def match_names(route: int, json: FromShelf) -> Saved:
    """Gather its layers under the names of a list on a shelf."""
    return typicals.match_names(g.actor, route, json.shelf, json.key)


@blueprint.post("/routes/<int:route>/names/shelf")
@writes
def put_names(route: int, json: ListOnShelf) -> Saved:
    """Put its list of names on a shelf."""
    return typicals.put_names_on_shelf(g.actor, route, json.shelf, json.name)


@blueprint.get("/routes/<int:route>/plan")
@api.validate(resp=answers(RoutePlan))
def plan(route: int) -> RoutePlan:
    """A route on the plan."""
    return reading.plan_view(g.actor, route)


@blueprint.get("/routes/<int:route>/sections")
@api.validate(query=SectionWindow, resp=answers(RouteSections))
def sections(route: int, query: SectionWindow) -> RouteSections:
    """Some of its sections."""
    return along.sections_view(g.actor, route, query.first, query.most)


@blueprint.get("/routes/<int:route>/table")
@api.validate(query=SectionWindow, resp=answers(RouteTable))
def table(route: int, query: SectionWindow) -> RouteTable:
    """Some rows of its table by chainage."""
    return along.table_view(g.actor, route, query.first, query.most)


@blueprint.get("/routes/<int:route>/long")
@api.validate(resp=answers(RouteLong))
def long_section(route: int) -> RouteLong:
    """Its long section."""
    return along.long_view(g.actor, route)


@blueprint.get("/routes/<int:route>/haul")
@api.validate(resp=answers(HaulView))
def haul(route: int) -> HaulView:
    """Its mass haul diagram."""
    return along.haul_view(g.actor, route)


@blueprint.post("/routes/<int:route>/rows/<part>")
@writes
def add_row(route: int, part: str, json: NewRow) -> Saved:
    """Add a row to one of its tables: corners, levels, changes, stretches, named."""
    return actions.add_row(g.actor, route, part, json.cells, json.typical)


@blueprint.patch("/route-rows/<part>/<int:route_row>")
@writes
def change_row(part: str, route_row: int, json: RowChange) -> Saved:
    """Change a row of one of a route's tables."""
    return actions.change_row(g.actor, part, route_row, json.version, json.cells, json.typical)


@blueprint.delete("/route-rows/<part>/<int:route_row>")
@writes
def delete_row(part: str, route_row: int) -> Saved:
    """Delete a row of one of a route's tables."""
    return actions.delete_row(g.actor, part, route_row)
