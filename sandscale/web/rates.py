"""The rates stage: build-ups."""

from __future__ import annotations

from typing import Any

from flask import Response, g, request
from pydantic import RootModel

from ..core.pricing.sizes import COLUMNS
from ..core.refusals import BadEntry
from ..services.keeping.acting import Missing
from ..services.keeping.views import Saved, TableRead
from ..services.measure import reading as measure_reading
from ..services.measure.actions import allowances
from ..services.measure.views import ElementBrief
from ..services.rates import actions as rates
from ..services.rates import bands, shelved, size_tables, taking
from ..services.rates import lines as rate_lines
from ..services.rates import reading as rates_reading
from ..services.rates import sizes as reference_sizes
from ..services.rates.views import BuildUpBrief, BuildUpView, ReadingView
from .api import answers, api, stage, writes
from .issue import MEDIA_TYPES, download
from .rate_schemas import (
    BandChange,
    BuildUpChange,
    BuildUpLineChange,
    InputDraws,
    NewAllowance,
    NewBand,
    NewBuildUp,
    NewBuildUpLine,
    NewReferenceSize,
    RateOfProject,
    ReferenceSizeChange,
    SizeAsked,
    SizesPasted,
    SizesTaken,
    TakenFigure,
    TakenQuantity,
)
from .schemas import FromShelf, MovedBy, ToShelf

blueprint = stage("rates")


class BuildUps(RootModel[list[BuildUpBrief]]):
    """The project's build-ups."""


class Allowances(RootModel[list[ElementBrief]]):
    """The project's allowances."""


@blueprint.get("/build-ups")
@api.validate(resp=answers(BuildUps))
def build_ups() -> Any:
    """The build-ups."""
    return BuildUps(rates_reading.build_ups(g.actor))


@blueprint.post("/build-ups")
@writes
def add_build_up(json: NewBuildUp) -> Saved:
    """Add a build-up."""
    return rates.add_build_up(g.actor, json.model_dump())


@blueprint.get("/build-ups/<int:build_up>")
@api.validate(resp=answers(BuildUpView))
def build_up(build_up: int) -> BuildUpView:
    """A build-up worked out."""
    return rates_reading.build_up_view(g.actor, build_up)


@blueprint.patch("/build-ups/<int:build_up>")
@writes
def change_build_up(build_up: int, json: BuildUpChange) -> Saved:
    """Change a build-up."""
    return rates.change_build_up(g.actor, build_up, json.version, json.given())


@blueprint.delete("/build-ups/<int:build_up>")
@writes
def delete_build_up(build_up: int) -> Saved:
    """Delete a build-up nothing uses."""
    return rates.delete_build_up(g.actor, build_up)


@blueprint.post("/build-ups/<int:build_up>/copy")
@writes
def copy_build_up(build_up: int) -> Saved:
    """Copy a build-up with its lines."""
    return rates.copy_build_up(g.actor, build_up)


@blueprint.post("/build-up-lines/<int:line>/move")
@writes
def move_line(line: int, json: MovedBy) -> Saved:
    """Put a line earlier or later in its group."""
    return rate_lines.move_build_up_line(g.actor, line, json.by)


@blueprint.post("/build-ups/<int:build_up>/lines")
@writes
def add_line(build_up: int, json: NewBuildUpLine) -> Saved:
    """Add a line."""
    return rate_lines.add_build_up_line(g.actor, build_up, {"quantity": "1", **json.given()})


@blueprint.patch("/build-up-lines/<int:line>")
@writes
def change_line(line: int, json: BuildUpLineChange) -> Saved:
    """Change a line."""
    return rate_lines.change_build_up_line(g.actor, line, json.version, json.given())


@blueprint.delete("/build-up-lines/<int:line>")
@writes
def delete_line(line: int) -> Saved:
    """Delete a line."""
    return rate_lines.delete_build_up_line(g.actor, line)


@blueprint.post("/build-ups/<int:build_up>/sizes")
@writes
def add_size(build_up: int, json: NewReferenceSize) -> Saved:
    """Add a size to a reference."""
    return reference_sizes.add_size(g.actor, build_up, json.model_dump())


@blueprint.post("/build-ups/<int:build_up>/sizes/read")
@api.validate(resp=answers(TableRead))
def read_sizes(build_up: int, json: SizesPasted) -> TableRead:
    """What a pasted table would become; nothing is kept."""
    return size_tables.read_sizes(g.actor, build_up, json.text.encode(), "what was pasted", json.columns)


@blueprint.post("/build-ups/<int:build_up>/sizes/read-file")
@api.validate(resp=answers(TableRead))
def read_sizes_file(build_up: int) -> TableRead:
    """What a table in a file would become, sent as a form with it and the columns; nothing is kept."""
    file = request.files.get("file")
    if file is None:
        raise BadEntry("No file was sent.", field="file")
    told = request.form.get("columns")
    said = [each if each in COLUMNS else "" for each in told.split(",")] if told else None
    name = file.filename or "the file"
    return size_tables.read_sizes(g.actor, build_up, file.read(), name, said)  # type: ignore[arg-type]


@blueprint.post("/build-ups/<int:build_up>/sizes/taken")
@writes
def add_sizes(build_up: int, json: SizesTaken) -> Saved:
    """Take sizes of a table in, as one change."""
    return size_tables.add_sizes(g.actor, build_up, json.rows)


@blueprint.get("/build-ups/<int:build_up>/sizes.<form>")
def sizes_file(build_up: int, form: str) -> Response:
    """A reference as CSV or XLSX."""
    if form not in ("csv", "xlsx"):
        raise Missing("There is no such file.")
    name, content = size_tables.sizes_file(g.actor, build_up, form)  # type: ignore[arg-type]
    return download(name, content, MEDIA_TYPES[form])


@blueprint.post("/build-ups/<int:build_up>/bands")
@writes
def add_band(build_up: int, json: NewBand) -> Saved:
    """Add a band to a banded rate."""
    return bands.add_band(g.actor, build_up, json.model_dump())


@blueprint.patch("/bands/<int:band>")
@writes
def change_band(band: int, json: BandChange) -> Saved:
    """Change a band."""
    return bands.change_band(g.actor, band, json.version, json.given())


@blueprint.delete("/bands/<int:band>")
@writes
def delete_band(band: int) -> Saved:
    """Take a band out."""
    return bands.delete_band(g.actor, band)


@blueprint.put("/build-ups/<int:build_up>/taken")
@writes
def take_for_rate(build_up: int, json: TakenFigure) -> Saved:
    """Let a rate's output or hours be those of a quantity line, or as typed again."""
    return taking.take_for_rate(g.actor, build_up, json.version, json.figure, json.element, json.output)


@blueprint.put("/build-up-lines/<int:line>/taken")
@writes
def take_for_line(line: int, json: TakenQuantity) -> Saved:
    """Let a line's quantity be that of a quantity line, or as typed again."""
    return taking.take_for_line(g.actor, line, json.version, json.element, json.output)


@blueprint.get("/allowances")
@api.validate(resp=answers(Allowances))
def allowances_listed() -> Any:
    """The allowances, with what they come to."""
    return Allowances(measure_reading.allowances(g.actor))


@blueprint.post("/allowances")
@writes
def add_allowance(json: NewAllowance) -> Saved:
    """Add an allowance by a rule."""
    return allowances.add_allowance(g.actor, json.mark, json.rule)


@blueprint.put("/allowances/<int:element>/draws")
@writes
def draw_input(element: int, json: InputDraws) -> Saved:
    """Let an input of an allowance draw from the project, or be typed again."""
    draws = [allowances.Draw(**each.model_dump()) for each in json.draws]
    return allowances.draw_input(g.actor, element, json.version, json.input, draws)


@blueprint.get("/build-ups/<int:build_up>/read")
@api.validate(resp=answers(ReadingView))
def read_reference(build_up: int, query: SizeAsked) -> ReadingView:
    """Read a reference at a size."""
    return rates_reading.read_at(g.actor, build_up, query.size)


@blueprint.patch("/reference-sizes/<int:reference_size>")
@writes
def change_size(reference_size: int, json: ReferenceSizeChange) -> Saved:
    """Change a size of a reference."""
    return reference_sizes.change_size(g.actor, reference_size, json.version, json.given())


@blueprint.delete("/reference-sizes/<int:reference_size>")
@writes
def delete_size(reference_size: int) -> Saved:
    """Delete a size of a reference."""
    return reference_sizes.delete_size(g.actor, reference_size)


@blueprint.post("/build-ups/<int:build_up>/shelf")
@writes
def put_rate(build_up: int, json: ToShelf) -> Saved:
    """Put a rate on a shelf, with all that it draws on."""
    return shelved.put_rate_on_shelf(g.actor, build_up, json.shelf)


@blueprint.post("/build-ups/from-shelf")
@writes
def take_rate(json: FromShelf) -> Saved:
    """Take a rate from a shelf."""
    return shelved.take_rate_from_shelf(g.actor, json.shelf, json.key)


@blueprint.post("/build-ups/from-project")
@writes
def take_rate_of(json: RateOfProject) -> Saved:
    """Take a rate of another project."""
    return shelved.take_rate_from_project(g.actor, json.project, json.build_up)
