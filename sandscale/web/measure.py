"""The measure stage: locations, elements, dimension lines, figures and make-ups."""

from __future__ import annotations

from typing import Any

from flask import g
from pydantic import RootModel

from ..services.keeping.views import Saved
from ..services.measure import reading as measure_reading
from ..services.measure.actions import dimension_lines, elements, figures, makeups
from ..services.measure.actions.dimension_lines import LineEdit
from ..services.measure.views import (
    ElementPage,
    ElementView,
    LocationView,
    MakeUpEffect,
    MakeUpTrial,
    MakeUpView,
    MakeUpWords,
)
from .api import answers, api, asks_once, stage, writes
from .schemas import (
    ElementChange,
    ElementCopy,
    FigureChange,
    FigureCopies,
    FigureMove,
    FromShelf,
    IntoBill,
    LineBlock,
    LineChange,
    LinesMoved,
    MakeUpChange,
    MakeUpSample,
    MakeUpText,
    MovedBy,
    Named,
    NewElement,
    NewFigure,
    NewLine,
    NewTakenLine,
    NewVoid,
    Renamed,
    Replacement,
    TakenLine,
    ToShelf,
    Window,
)

blueprint = stage("measure")


class Locations(RootModel[list[LocationView]]):
    """The project's locations with their elements."""


class MakeUps(RootModel[list[MakeUpView]]):
    """The make-ups of a project."""


@blueprint.get("/locations")
@api.validate(resp=answers(Locations))
def locations() -> Any:
    """The locations with their elements."""
    return Locations(measure_reading.locations(g.actor))


@blueprint.post("/locations")
@writes
def add_location(json: Named) -> Saved:
    """Add a location."""
    return elements.add_location(g.actor, json.name)


@blueprint.patch("/locations/<int:location>")
@writes
def rename_location(location: int, json: Renamed) -> Saved:
    """Rename a location."""
    return elements.rename_location(g.actor, location, json.version, json.name)


@blueprint.delete("/locations/<int:location>")
@writes
def delete_location(location: int) -> Saved:
    """Delete an empty location."""
    return elements.delete_location(g.actor, location)


@blueprint.get("/elements")
@api.validate(query=Window, resp=answers(ElementPage))
def elements_listed(query: Window) -> ElementPage:
    """A window of the elements, or of those found by some words."""
    return measure_reading.elements(g.actor, query.first, query.most, query.find)


@blueprint.post("/elements")
@writes
def add_element(json: NewElement) -> Saved:
    """Add an element."""
    return elements.add_element(g.actor, json.location, json.mark, json.makeup, json.description, json.inputs)


@blueprint.get("/elements/<int:element>")
@api.validate(resp=answers(ElementView))
def element(element: int) -> ElementView:
    """An element with its dimension sheet and quantities."""
    return measure_reading.element_view(g.actor, element)


@blueprint.patch("/elements/<int:element>")
@writes
def change_element(element: int, json: ElementChange) -> Saved:
    """Change an element."""
    return elements.change_element(g.actor, element, json.version, json.given())


@blueprint.delete("/elements/<int:element>")
@writes
def delete_element(element: int) -> Saved:
    """Delete an element with its lines and figures."""
    return elements.delete_element(g.actor, element)


@blueprint.post("/elements/<int:element>/bill")
@writes
def into_bill(element: int, json: IntoBill) -> Saved:
    """Make or link the bill items the element needs, or the one of a quantity line."""
    return elements.link_to_bill(g.actor, element, json.output)


@blueprint.post("/elements/<int:element>/lines")
@writes
def add_line(element: int, json: NewLine) -> Saved:
    """Add a dimension line."""
    return dimension_lines.add_line(g.actor, element, json.model_dump(exclude={"after"}), json.after)


@blueprint.post("/elements/<int:element>/lines/taken")
@writes
def add_taken_line(element: int, json: NewTakenLine) -> Saved:
    """A new line that takes an output of another element."""
    return dimension_lines.add_taken_line(g.actor, element, json.element, json.output)


@blueprint.post("/elements/<int:element>/lines/block")
@writes
def change_lines(element: int, json: LineBlock) -> Saved:
    """Change many lines as one."""
    edits = [
        LineEdit(edit.line, edit.version, edit.model_dump(exclude_unset=True, exclude={"line", "version"}))
        for edit in json.lines
    ]
    return dimension_lines.change_lines(g.actor, element, edits)


@blueprint.post("/elements/<int:element>/copy")
@writes
def copy_element(element: int, json: ElementCopy) -> Saved:
    """Make an element like this one, in a location."""
    return elements.copy_element(g.actor, element, json.location, json.mark, figures=json.figures)


@blueprint.post("/lines/move")
@writes
def move_lines(json: LinesMoved) -> Saved:
    """Move or copy lines to another element."""
    return dimension_lines.move_lines(g.actor, json.lines, json.element, copy=json.copy_them)


@blueprint.post("/lines/replace")
@writes
def replace(json: Replacement) -> Saved:
    """Find and replace in dimension lines."""
    return dimension_lines.replace(g.actor, json.element, json.field, json.find, json.put)


@blueprint.put("/lines/<int:line>/taken")
@writes
def take_line(line: int, json: TakenLine) -> Saved:
    """Let a line take an output of another element, or nothing."""
    return dimension_lines.take_line(g.actor, line, json.version, json.element, json.output)


@blueprint.post("/lines/<int:line>/move")
@writes
def move_line(line: int, json: MovedBy) -> Saved:
    """Put a line earlier or later in its element."""
    return dimension_lines.move_line(g.actor, line, json.by)


@blueprint.patch("/lines/<int:line>")
@writes
def change_line(line: int, json: LineChange) -> Saved:
    """Change a dimension line."""
    return dimension_lines.change_line(g.actor, line, json.version, json.given())


@blueprint.delete("/lines/<int:line>")
@writes
def delete_line(line: int) -> Saved:
    """Delete a dimension line."""
    return dimension_lines.delete_line(g.actor, line)


@blueprint.post("/figures")
@writes
def draw(json: NewFigure) -> Saved:
    """Draw a figure."""
    return figures.draw_figure(g.actor, json.sheet, json.element, json.kind, json.points, json.line)


@blueprint.post("/voids")
@writes
def add_void(json: NewVoid) -> Saved:
    """Take a void off an area."""
    return figures.add_void(g.actor, json.sheet, json.element, json.points)


@blueprint.patch("/figures/<int:figure>")
@writes
def reshape(figure: int, json: FigureChange) -> Saved:
    """Reshape a figure."""
    return figures.reshape_figure(g.actor, figure, json.version, json.points, json.voids)


@blueprint.post("/figures/<int:figure>/move")
@writes
def move_figure(figure: int, json: FigureMove) -> Saved:
    """Move a figure."""
    return figures.move_figure(g.actor, figure, json.version, list(json.by))


@blueprint.post("/figures/<int:figure>/copies")
@writes
def copy_figure(figure: int, json: FigureCopies) -> Saved:
    """Repeat a figure."""
    return figures.copy_figure(g.actor, figure, [list(step) for step in json.by])


@blueprint.delete("/figures/<int:figure>")
@writes
def delete_figure(figure: int) -> Saved:
    """Delete a figure with its line."""
    return figures.delete_figure(g.actor, figure)


@blueprint.get("/makeups")
@api.validate(resp=answers(MakeUps))
def makeups_listed() -> Any:
    """The make-ups."""
    return MakeUps(measure_reading.makeups(g.actor))


@blueprint.get("/makeups/words")
@api.validate(resp=answers(MakeUpWords))
@asks_once
def makeup_words() -> MakeUpWords:
    """What make-ups are written with: functions, families, shared parts."""
    return measure_reading.makeup_words()


@blueprint.post("/makeups/trial")
@api.validate(resp=answers(MakeUpTrial))
def try_makeup(json: MakeUpSample) -> MakeUpTrial:
    """Try a make-up that is being written."""
    return makeups.trial(g.actor, json.source, json.inputs, dict(json.line))


@blueprint.post("/makeups/<int:makeup>/effect")
@api.validate(resp=answers(MakeUpEffect))
def effect(makeup: int, json: MakeUpText) -> MakeUpEffect:
    """What another text of a make-up would move."""
    return makeups.effect(g.actor, makeup, json.source)


@blueprint.post("/makeups/from-shelf")
@writes
def take_from_shelf(json: FromShelf) -> Saved:
    """Take a make-up from a shelf."""
    return makeups.take_from_shelf(g.actor, json.shelf, json.key)


@blueprint.post("/makeups/<int:makeup>/shelf")
@writes
def put_on_shelf(makeup: int, json: ToShelf) -> Saved:
    """Put a make-up on a shelf."""
    return makeups.put_on_shelf(g.actor, makeup, json.shelf)


@blueprint.post("/makeups")
@writes
def add_makeup(json: MakeUpText) -> Saved:
    """Keep a make-up of the project's own."""
    return makeups.add_makeup(g.actor, json.source)


@blueprint.patch("/makeups/<int:makeup>")
@writes
def change_makeup(makeup: int, json: MakeUpChange) -> Saved:
    """Change a make-up of the project's own."""
    return makeups.change_makeup(g.actor, makeup, json.version, json.source)


@blueprint.delete("/makeups/<int:makeup>")
@writes
def delete_makeup(makeup: int) -> Saved:
    """Delete a make-up of the project's own."""
    return makeups.delete_makeup(g.actor, makeup)
