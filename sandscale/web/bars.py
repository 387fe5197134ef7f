"""The bars stage: the bending schedule, typed bars, cutting, detailing rules."""

from __future__ import annotations

from typing import Any

from flask import g, request
from pydantic import RootModel

from ..core.bars.columns import COLUMNS, BarColumn
from ..core.refusals import BadEntry
from ..services.bars import actions, cuttings, reading, rules, taking_in
from ..services.bars.views import (
    BarsMoved,
    BarView,
    CuttingView,
    DetailingTable,
    DetailingView,
    IssueChange,
    ScheduleView,
    ShapeView,
    SheetRead,
    SummaryView,
)
from ..services.keeping.views import Saved
from .api import answers, api, stage, writes
from .schemas import (
    BarChange,
    BarMarked,
    CuttingChange,
    DetailingChange,
    DetailingText,
    Elements,
    FromShelf,
    ManyBars,
    NewBar,
    NewCutting,
    NewMember,
    NewOffCut,
    OffCutChange,
    OffCutsKept,
    RowsPasted,
    ToShelf,
    Window,
)

blueprint = stage("bars")


class Bars(RootModel[list[BarView]]):
    """Lines of the schedule."""


class Shapes(RootModel[list[ShapeView]]):
    """The shapes of bars."""


class IssueChanges(RootModel[list[IssueChange]]):
    """What changed since the last issue."""


class Cuttings(RootModel[list[CuttingView]]):
    """The cuttings of a project."""


class DetailingSets(RootModel[list[DetailingView]]):
    """The sets of detailing rules."""


class Place(RootModel[int]):
    """Where a line stands."""


@blueprint.get("/bars")
@api.validate(resp=answers(ScheduleView))
def schedule() -> ScheduleView:
    """The schedule without its lines."""
    return reading.schedule_view(g.actor)


@blueprint.get("/bars/lines")
@api.validate(query=Window, resp=answers(Bars))
def lines(query: Window) -> Any:
    """A window of the schedule's lines."""
    return Bars(reading.bar_views(g.actor, query.first, query.most))


@blueprint.get("/bars/lines/<int:bar>/place")
@api.validate(resp=answers(Place))
def place(bar: int) -> Any:
    """Where a line stands in the schedule."""
    return Place(reading.place_of(g.actor, bar))


@blueprint.get("/bars/of")
@api.validate(query=Elements, resp=answers(BarsMoved))
def bars_of(query: Elements) -> BarsMoved:
    """The bars of some elements."""
    return reading.bars_moved(g.actor, [int(each) for each in query.elements.split(",") if each])


@blueprint.get("/bars/shapes")
@api.validate(resp=answers(Shapes))
def shapes() -> Any:
    """The shapes there are."""
    return Shapes(reading.shape_views())


@blueprint.get("/bars/summary")
@api.validate(resp=answers(SummaryView))
def summary() -> SummaryView:
    """The schedule summed up."""
    return reading.summary_view(g.actor)


@blueprint.get("/bars/changes")
@api.validate(resp=answers(IssueChanges))
def changes() -> Any:
    """What changed since the schedule was issued last."""
    return IssueChanges(reading.changes(g.actor))


@blueprint.post("/bars/issue")
@writes
def issue() -> Saved:
    """Keep the schedule under the next revision letter."""
    return actions.issue(g.actor)


@blueprint.post("/bars/members")
@writes
def add_member(json: NewMember) -> Saved:
    """Add an element of typed bars."""
    return actions.add_member(g.actor, json.location, json.mark, json.description)


@blueprint.post("/bars/members/<int:element>/bars")
@writes
def add_bar(element: int, json: NewBar) -> Saved:
    """Type a bar."""
    return actions.add_bar(g.actor, element, json.given())


@blueprint.post("/bars/typed")
@writes
def add_bars(json: ManyBars) -> Saved:
    """Take many bars in at once."""
    return actions.add_bars(g.actor, [row.given() for row in json.rows], json.location)


@blueprint.post("/bars/read")
@api.validate(resp=answers(SheetRead))
def read_rows(json: RowsPasted) -> SheetRead:
    """What pasted rows would become; nothing is kept."""
    return taking_in.read(g.actor, json.text.encode(), "what was pasted", json.columns)


@blueprint.post("/bars/read-file")
@api.validate(resp=answers(SheetRead))
def read_file() -> SheetRead:
    """What the rows of a file would become, sent as a form with it and the columns; nothing is kept."""
    file = request.files.get("file")
    if file is None:
        raise BadEntry("No file was sent.", field="file")
    said = [each if each in COLUMNS else "" for each in request.form.get("columns", "").split(",")]
    given: list[BarColumn] | None = said if request.form.get("columns") else None  # type: ignore[assignment]
    return taking_in.read(g.actor, file.read(), file.filename or "the file", given)


@blueprint.patch("/bars/typed/<int:typed_bar>")
@writes
def change_bar(typed_bar: int, json: BarChange) -> Saved:
    """Change a typed bar."""
    return actions.change_bar(g.actor, typed_bar, json.version, json.given())


@blueprint.delete("/bars/typed/<int:typed_bar>")
@writes
def delete_bar(typed_bar: int) -> Saved:
    """Delete a typed bar."""
    return actions.delete_bar(g.actor, typed_bar)


@blueprint.post("/bars/lines/<int:bar>/mark")
@writes
def mark_bar(bar: int, json: BarMarked) -> Saved:
    """Type a mark over the one by rule."""
    return actions.mark_bar(g.actor, bar, json.mark)


@blueprint.get("/cuttings")
@api.validate(resp=answers(Cuttings))
def cuttings_listed() -> Any:
    """The cuttings with their plans."""
    return Cuttings(cuttings.cutting_views(g.actor))


@blueprint.post("/cuttings")
@writes
def add_cutting(json: NewCutting) -> Saved:
    """Add a cutting."""
    return cuttings.add_cutting(g.actor, json.name, json.members)


@blueprint.patch("/cuttings/<int:cutting>")
@writes
def change_cutting(cutting: int, json: CuttingChange) -> Saved:
    """Change a cutting."""
    return cuttings.change_cutting(g.actor, cutting, json.version, json.given())


@blueprint.delete("/cuttings/<int:cutting>")
@writes
def delete_cutting(cutting: int) -> Saved:
    """Delete a cutting."""
    return cuttings.delete_cutting(g.actor, cutting)


@blueprint.post("/cuttings/<int:cutting>/stop")
@api.validate(resp=answers(CuttingView))
def stop_cutting(cutting: int) -> CuttingView:
    """Stop the job that is at a cutting."""
    return cuttings.stop_cutting(g.actor, cutting)


@blueprint.post("/cuttings/<int:cutting>/again")
@api.validate(resp=answers(CuttingView))
def cut_again(cutting: int) -> CuttingView:
    """Begin a cutting again."""
    return cuttings.cut_again(g.actor, cutting)


@blueprint.post("/cuttings/<int:cutting>/offcuts")
@writes
def add_offcut(cutting: int, json: NewOffCut) -> Saved:
    """Add pieces kept from before."""
    return cuttings.add_offcut(g.actor, cutting, json.size, json.length, json.number)


@blueprint.post("/cuttings/<int:cutting>/keep")
@writes
def keep_offcuts(cutting: int, json: OffCutsKept) -> Saved:
    """Keep what a cutting leaves over for another."""
    return cuttings.keep_offcuts(g.actor, cutting, json.into, json.least)


@blueprint.patch("/offcuts/<int:offcut>")
@writes
def change_offcut(offcut: int, json: OffCutChange) -> Saved:
    """Change kept pieces."""
    return cuttings.change_offcut(g.actor, offcut, json.version, json.given())


@blueprint.delete("/offcuts/<int:offcut>")
@writes
def delete_offcut(offcut: int) -> Saved:
    """Take kept pieces out."""
    return cuttings.delete_offcut(g.actor, offcut)


@blueprint.get("/detailing")
@api.validate(resp=answers(DetailingSets))
def detailing() -> Any:
    """The sets of detailing rules a project can follow."""
    return DetailingSets(rules.detailing_views(g.actor))


@blueprint.post("/detailing/trial")
@api.validate(resp=answers(DetailingTable))
def try_detailing(json: DetailingText) -> DetailingTable:
    """What a set of rules comes to, size by size; nothing is kept."""
    return rules.tried(json.source)


@blueprint.post("/detailing")
@writes
def add_detailing(json: DetailingText) -> Saved:
    """Add a set of rules."""
    return rules.add_detailing(g.actor, json.source)


@blueprint.patch("/detailing/<int:detailing>")
@writes
def change_detailing(detailing: int, json: DetailingChange) -> Saved:
    """Change a set of rules."""
    return rules.change_detailing(g.actor, detailing, json.version, json.source)


@blueprint.delete("/detailing/<int:detailing>")
@writes
def delete_detailing(detailing: int) -> Saved:
    """Delete a set of rules."""
    return rules.delete_detailing(g.actor, detailing)


@blueprint.post("/detailing/from-shelf")
@writes
def take_from_shelf(json: FromShelf) -> Saved:
    """Take a set of rules from a shelf."""
    return rules.take_from_shelf(g.actor, json.shelf, json.key)


@blueprint.post("/detailing/<int:detailing>/shelf")
@writes
def put_on_shelf(detailing: int, json: ToShelf) -> Saved:
    """Put a set of rules on a shelf."""
    return rules.put_on_shelf(g.actor, detailing, json.shelf)
