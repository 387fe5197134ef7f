"""The sheets stage: drawings, tiles, scales."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import Response, g, request
from pydantic import BaseModel, Field, RootModel

from ..core.refusals import BadEntry
from ..formats.drawing_file import LARGEST_FILE
from ..services.keeping.views import JobView, Saved
from ..services.sheets import actions as sheets
from ..services.sheets import bringing_in, revised, revisions
from ..services.sheets import reading as sheets_reading
from ..services.sheets.views import ChangesView, DrawingView, RevisedView, SheetDetail, SheetTotal, WordView
from .api import answers, api, asks_once, stage, writes
from .schemas import (
    DrawingChange,
    LaidByPicks,
    LookedAtFigures,
    LookedAtPlace,
    NewScaleArea,
    ScaleByLength,
    ScaleByRatio,
    ScaleStretched,
    ShownLayers,
    Titled,
    TotalsPlace,
)

blueprint = stage("sheets")


class Drawings(RootModel[list[DrawingView]]):
    """The project's drawings."""


class Totals(RootModel[list[SheetTotal]]):
    """What is measured on a sheet."""


class Words(RootModel[list[WordView]]):
    """Places on a sheet."""


class Wanted(BaseModel):
    """What to find."""

    find: str = Field(default="", max_length=200)


@blueprint.get("/drawings")
@api.validate(resp=answers(Drawings))
def listed() -> Any:
    """The drawings with their sheets."""
    return Drawings(sheets_reading.drawings(g.actor))


@blueprint.post("/drawings")
@writes
def bring_in() -> Saved:
    """Bring a PDF, PNG, JPEG or TIFF in, sent as a form with one file."""
    name, content = _sent()
    return bringing_in.add_drawing(g.actor, name, content, date.today())


@blueprint.post("/drawings/dxf")
@api.validate(resp=answers(JobView))
def bring_in_dxf() -> JobView:
    """Have a DXF drawn and brought in, sent as a form with one file."""
    name, content = _sent()
    return bringing_in.ask_to_bring_in(g.actor, name, content)


@blueprint.post("/drawings/<int:drawing>/revisions")
@api.validate(resp=answers(JobView))
def revise(drawing: int) -> JobView:
    """Have the next revision of a drawing laid over the one before, sent as a form with one file, and a
    letter where it isn't the next."""
    name, content = _sent()
    return bringing_in.ask_to_revise(g.actor, drawing, name, content, request.form.get("letter", ""))


def _sent() -> tuple[str, bytes]:
    """The name and content of the file sent."""
    request.max_content_length = LARGEST_FILE + 64 * 1024
    file = request.files.get("file")
    if file is None:
        raise BadEntry("No file was sent.", field="file")
    return file.filename or "drawing", file.read()


@blueprint.get("/revisions/<int:revision>")
@api.validate(resp=answers(RevisedView))
def revision(revision: int) -> RevisedView:
    """What a revision did to the bill, item by item."""
    return revised.revised(g.actor, revision)


@blueprint.get("/sheets/<int:sheet>/changes")
@api.validate(resp=answers(ChangesView))
def changes(sheet: int) -> ChangesView:
    """Where a sheet differs from the one it follows."""
    return revised.changes_of(g.actor, sheet)


@blueprint.put("/sheets/<int:sheet>/lay")
@writes
def lay(sheet: int, json: LaidByPicks) -> Saved:
    """Lay a sheet over the one it follows by two points."""
    picks, onto = ([(p[0], p[1]) for p in places] for places in (json.picks, json.onto))
    return revisions.lay_by_picks(g.actor, sheet, json.version, picks, onto)


@blueprint.put("/sheets/<int:sheet>/layers")
@writes
def layers(sheet: int, json: ShownLayers) -> Saved:
    """Show layers of a sheet, or hide them."""
    return sheets.show_layers(g.actor, sheet, json.names, shown=json.shown)


@blueprint.post("/figures/looked-at")
@writes
def look_at_figures(json: LookedAtFigures) -> Saved:
    """Keep figures near a change as they are."""
    return revisions.look_at_figures(g.actor, json.figures)


@blueprint.patch("/changed-places/<int:place>")
@writes
def look_at_place(place: int, json: LookedAtPlace) -> Saved:
    """Say whether a place was looked at."""
    return revisions.look_at_place(g.actor, place, json.version, looked=json.looked)


@blueprint.patch("/drawings/<int:drawing>")
@writes
def change_drawing(drawing: int, json: DrawingChange) -> Saved:
    """Change a drawing's number or title."""
    return sheets.change_drawing(g.actor, drawing, json.version, json.given())


@blueprint.delete("/drawings/<int:drawing>")
@writes
def delete_drawing(drawing: int) -> Saved:
    """Take a drawing out."""
    return sheets.delete_drawing(g.actor, drawing)


@blueprint.get("/sheets/<int:sheet>")
@api.validate(resp=answers(SheetDetail))
def one(sheet: int) -> SheetDetail:
    """A sheet with its figures."""
    return sheets_reading.sheet_detail(g.actor, sheet)


@blueprint.patch("/sheets/<int:sheet>")
@writes
def title(sheet: int, json: Titled) -> Saved:
    """Give a sheet a title."""
    return sheets.rename_sheet(g.actor, sheet, json.version, json.title)


@blueprint.put("/sheets/<int:sheet>/scale/ratio")
@writes
def scale_by_ratio(sheet: int, json: ScaleByRatio) -> Saved:
    """Set the scale by its ratio."""
    return sheets.set_scale_by_ratio(g.actor, sheet, json.version, json.ratio, everywhere=json.everywhere)


@blueprint.put("/sheets/<int:sheet>/scale/length")
@writes
def scale_by_length(sheet: int, json: ScaleByLength) -> Saved:
    """Set the scale by two picks and the length between them."""
    return sheets.set_scale_by_length(g.actor, sheet, json.version, json.first, json.second, json.length)


@blueprint.put("/sheets/<int:sheet>/scale/stretched")
@writes
def scale_stretched(sheet: int, json: ScaleStretched) -> Saved:
    """Set the scale of a stretched scan by a known length along it and one up it."""
    return sheets.set_scale_stretched(
        g.actor, sheet, json.version, json.along, json.length, json.up, json.height
    )


@blueprint.put("/sheets/<int:sheet>/scale/proof")
@writes
def prove_scale(sheet: int, json: ScaleByLength) -> Saved:
    """Hold a second known length against the scale."""
    return sheets.prove_scale(g.actor, sheet, json.version, json.first, json.second, json.length)


@blueprint.post("/sheets/<int:sheet>/scale-areas")
@writes
def add_scale_area(sheet: int, json: NewScaleArea) -> Saved:
    """Give a part of the sheet a scale of its own."""
    return sheets.add_scale_area(g.actor, sheet, [(p[0], p[1]) for p in json.ring], json.ratio)


@blueprint.delete("/scale-areas/<int:area>")
@writes
def delete_scale_area(area: int) -> Saved:
    """Take a scale area off."""
    return sheets.delete_scale_area(g.actor, area)


@blueprint.get("/sheets/<int:sheet>/totals")
@api.validate(resp=answers(Totals))
def totals(sheet: int) -> Any:
    """What is measured on a sheet, by element."""
    return Totals(sheets_reading.sheet_totals(g.actor, sheet))


@blueprint.put("/sheets/<int:sheet>/totals")
@writes
def place_totals(sheet: int, json: TotalsPlace) -> Saved:
    """Put the totals on the sheet, or take them off."""
    return sheets.place_totals(g.actor, sheet, json.version, json.at)


@blueprint.get("/sheets/<int:sheet>/words")
@api.validate(query=Wanted, resp=answers(Words))
def words(sheet: int, query: Wanted) -> Any:
    """Where the sheet says something."""
    return Words(sheets_reading.page_words(g.actor, sheet, query.find))


@blueprint.get("/sheets/<int:sheet>/lines")
def lines(sheet: int) -> Response:
    """The sheet's line work: little-endian float32, four to a line, in sheet units."""
    return Response(sheets_reading.page_lines(g.actor, sheet), mimetype="application/octet-stream")


@blueprint.get("/sheets/<int:sheet>/tiles/<int:zoom>/<int:column>/<int:row>.png")
@asks_once
def tile(sheet: int, zoom: int, column: int, row: int) -> Response:
    """A tile of a sheet. A sheet's page never changes, so a browser may keep it."""
    answer = Response(sheets_reading.tile(g.actor, sheet, zoom, column, row), mimetype="image/png")
    answer.headers["Cache-Control"] = "private, max-age=604800, immutable"
    return answer
