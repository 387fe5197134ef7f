"""The rates stage: build-ups."""

from __future__ import annotations

from typing import Any

from flask import g
from pydantic import RootModel

from ..services.keeping.views import Saved
from ..services.rates import actions as rates
from ..services.rates import reading as rates_reading
from ..services.rates import shelved
from ..services.rates.views import BuildUpBrief, BuildUpView, ReadingView
from .api import answers, api, stage, writes
from .schemas import (
    BuildUpChange,
    BuildUpLineChange,
    FromShelf,
    MovedBy,
    NewBuildUp,
    NewBuildUpLine,
    NewReferenceSize,
    RateOfProject,
    ReferenceSizeChange,
    SizeAsked,
    ToShelf,
)

blueprint = stage("rates")


class BuildUps(RootModel[list[BuildUpBrief]]):
    """The project's build-ups."""


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
    return rates.move_build_up_line(g.actor, line, json.by)


@blueprint.post("/build-ups/<int:build_up>/lines")
@writes
def add_line(build_up: int, json: NewBuildUpLine) -> Saved:
    """Add a line."""
    return rates.add_build_up_line(g.actor, build_up, {"quantity": "1", **json.given()})


@blueprint.patch("/build-up-lines/<int:line>")
@writes
def change_line(line: int, json: BuildUpLineChange) -> Saved:
    """Change a line."""
    return rates.change_build_up_line(g.actor, line, json.version, json.given())


@blueprint.delete("/build-up-lines/<int:line>")
@writes
def delete_line(line: int) -> Saved:
    """Delete a line."""
    return rates.delete_build_up_line(g.actor, line)


@blueprint.post("/build-ups/<int:build_up>/sizes")
@writes
def add_size(build_up: int, json: NewReferenceSize) -> Saved:
    """Add a size to a reference."""
    return rates.add_size(g.actor, build_up, json.model_dump())


@blueprint.get("/build-ups/<int:build_up>/read")
@api.validate(resp=answers(ReadingView))
def read_reference(build_up: int, query: SizeAsked) -> ReadingView:
    """Read a reference at a size."""
    return rates_reading.read_at(g.actor, build_up, query.size)


@blueprint.patch("/reference-sizes/<int:reference_size>")
@writes
def change_size(reference_size: int, json: ReferenceSizeChange) -> Saved:
    """Change a size of a reference."""
    return rates.change_size(g.actor, reference_size, json.version, json.given())


@blueprint.delete("/reference-sizes/<int:reference_size>")
@writes
def delete_size(reference_size: int) -> Saved:
    """Delete a size of a reference."""
    return rates.delete_size(g.actor, reference_size)


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
