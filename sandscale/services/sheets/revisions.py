"""A drawing's new revision: laid over the one before, where they differ, and what was measured carried over.

Figures go over to the new sheet as they lie. Those near a change are marked until someone has looked at each.
The bill as it was before is kept, so that what the revision moved can be told item by item.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import shapely

from ...core.figures.differences import Place, Word, differences, near
from ...core.figures.lay import Laid, Lay, Lines, by_two_points, lay_over
from ...core.figures.pages import Signs, matched
from ...core.figures.scale import LEAST_PICK, Point
from ...core.refusals import BadEntry, BadShape, Refusal
from ...store.models import (
    ChangedPlace,
    Drawing,
    Figure,
    Level,
    Revision,
    ScaleArea,
    Sheet,
    StoredFile,
    Survey,
    now,
)
from ..bill.bills import keep_issued, own_as_it_is
from ..keeping.acting import Actor, check_version, find, require_writer
from ..keeping.jobs import Progress
from ..keeping.recording import Recording, action, recording
from ..keeping.views import Saved
from ..measure.actions.figures import geometry_of
from ..measure.measuring import points_of
from ..measure.reading import figure_views
from .actions import name_of
from .bringing_in import have_read, sheet_fields
from .laid import lay_of
from .pages import FilePage, layers_of, lines_on, read_page_content, words_on
from .reading import find_sheet, latest_revision

MOST_PLACES = 500  # kept of a sheet, largest first
MOST_LINES = 400  # kept of a place
NEAR = 24.0  # sheet units from a change within which a figure is looked at again
NEAR_COUNTED = 60.0  # as above, from a point that counts what is drawn around it
LEAST_SHARE = 0.08  # of the lines; where fewer coincide it is another drawing
_OFF_SCALE = 0.005
_BY_HAND = 0.2  # sheet units that lines laid by hand are off


@dataclass(frozen=True)
class _Page:
    """What is read of a page: its shown lines and its words."""

    lines: Lines
    words: Sequence[Word]


@dataclass(frozen=True)
class Over:
    """A new page over the former sheet it follows: how, and where they differ. ``by`` is ``lines``, ``picks``
    or ``paper``; ``share`` of the lines coincide."""

    lay: Lay
    by: str
    share: float
    places: Sequence[Place]

    def kept(self) -> dict[str, Any]:
        """As a sheet keeps it."""
        turn, shift = self.lay.turn, self.lay.shift
        return {
            "turn": [turn.real, turn.imag], "shift": [shift.real, shift.imag], "by": self.by,
            "share": round(self.share, 4), "places": len(self.places),
        }  # fmt: skip


def take_in(
    actor: Actor,
    drawing_id: int,
    letter: str,
    file: StoredFile,
    pages: Sequence[FilePage],
    progress: Progress,
) -> Saved:
    """Lay a file's pages over the sheets of a drawing and carry over what is measured on them; a job's work.

    Nothing is held up meanwhile: only what it came to is written as an action.

    Raises:
        Refusal: it is another drawing altogether, or another revision came meanwhile.
    """
    former = latest_revision(find(Drawing, actor, drawing_id).id)
    sheets = Sheet.those(Sheet.revision, [former.id], Sheet.page)
    before = [_page(former.file_id, sheet.page, sheet.hidden) for sheet in sheets]
    for at, page in enumerate(pages):
        if page.content is None:
            read_page_content(file.id, page.number)
            progress(0.5 + 0.2 * (at + 1) / len(pages))
    after = [_arriving(file, page) for page in pages]
    pairs = _matched(before, after)
    overs: dict[int, tuple[Sheet, Over]] = {}
    for at, (one, other) in enumerate(pairs):
        over = _over(before[one], after[other], sheets[one], pages[other])
        if over is not None:
            overs[pages[other].number] = (sheets[one], over)
        progress(0.7 + 0.25 * (at + 1) / len(pairs))
    if not overs:
        number = find(Drawing, actor, drawing_id).number
        raise Refusal(
            f"“{file.name}” is another drawing than {number}: its lines coincide nowhere.",
            remedy="Bring it in as a drawing of its own.",
        )
    return _take_over(actor, drawing_id, former.id, letter, file, pages, overs)


def _page(file_id: int, page: int, hidden: Sequence[str]) -> _Page:
    read_page_content(file_id, page)
    return _Page(lines_on(file_id, page, hidden).astype(float), words_on(file_id, page, hidden))


def _arriving(file: StoredFile, page: FilePage) -> _Page:
    if page.content is None:
        return _page(file.id, page.number, ())
    return _page(file.id, page.number, page.hidden)


def _matched(before: Sequence[_Page], after: Sequence[_Page]) -> list[tuple[int, int]]:
    if len(before) == len(after) == 1:
        return [(0, 0)]
    signs = [
        [Signs.of(page.lines, [word[0] for word in page.words]) for page in pages]
        for pages in (before, after)
    ]
    return matched(*signs)


def _over(before: _Page, after: _Page, sheet: Sheet, page: FilePage) -> Over | None:
    """How a page lies over a sheet; None where it is another drawing."""
    laid = lay_over(before.lines, after.lines)
    if laid is None:  # pictures: as the papers lie, to be looked at by eye
        return Over(Lay(complex(page.width / sheet.width)), "paper", 0.0, [])
    if laid.share < LEAST_SHARE:
        return None
    return Over(laid.lay, "lines", laid.share, _places(before, after, laid))


def _places(before: _Page, after: _Page, laid: Laid) -> list[Place]:
    return differences(before.lines, after.lines, before.words, after.words, laid)


@action
def _take_over(
    actor: Actor,
    drawing_id: int,
    former_id: int,
    letter: str,
    file: StoredFile,
    pages: Sequence[FilePage],
    overs: dict[int, tuple[Sheet, Over]],
) -> Saved:
    drawing = find(Drawing, actor, drawing_id)
    if latest_revision(drawing.id).id != former_id:
        raise Refusal(f"Another revision of {drawing.number} came meanwhile.", remedy="Bring it in again.")
    if Revision.those(Revision.drawing, [drawing.id], letter=letter):  # two were asked for at once
        raise Refusal(f"{drawing.number} has a revision {letter} by now.", remedy="Bring it in again.")
    frozen = own_as_it_is(actor.project_id)
    followed = {sheet.id for sheet, _ in overs.values()}
    left = [
        sheet for sheet in Sheet.those(Sheet.revision, [former_id], Sheet.page) if sheet.id not in followed
    ]
    with recording(actor, f"Revision {letter} of {drawing.number}{_lacks(left)}") as log:
        revision = log.insert(
            Revision, drawing=drawing.id, letter=letter, received=now().date(), file=file.id
        )
        bill = keep_issued(log, f"Before revision {letter} of {drawing.number}", now().date(), frozen)
        log.update(bill, revision=revision.id)
        have_read(actor, file.id, pages)
        for page in pages:
            fields = sheet_fields(revision, page)
            if page.number in overs:
                _carry_over(log, fields, *overs[page.number])
            else:
                log.insert(Sheet, **fields)
        _mark(log, Figure.those(Figure.sheet, [sheet.id for sheet in left]))
    return log.saved(drawing)


def _lacks(left: Sequence[Sheet]) -> str:
    """Which pages of the former revision the new one hasn't got, in words."""
    if not left:
        return ""
    pages = ", ".join(str(sheet.page) for sheet in left[:10])
    return f", without page{'s' * (len(left) > 1)} {pages} of the one before"


def _mark(log: Recording, figures: Sequence[Figure]) -> None:
    for figure in figures:
        if not figure.near:
            log.update(figure, near=True)


def _carry_over(log: Recording, fields: dict[str, Any], former: Sheet, over: Over) -> None:
    """Insert a sheet that follows another, and carry over to it what is on that one."""
    lay = over.lay

    def at(place: Sequence[float]) -> list[float]:
        return _points(lay, [place])[0]

    own = fields["metres_per_unit"]
    carried = former.metres_per_unit / lay.size if former.metres_per_unit else None
    if carried is not None and own is None:
        up = former.metres_per_unit_y
        fields |= {
            "metres_per_unit": carried, "metres_per_unit_y": up / lay.size if up else None,
            "scale_source": former.scale_source,
        }  # fmt: skip
    other_scale = carried is not None and own is not None and abs(own / carried - 1) > _OFF_SCALE
    if former.proof:
        fields["proof"] = {
            **former.proof,
            "first": at(former.proof["first"]),
            "second": at(former.proof["second"]),
        }
    fields |= {
        "title": former.title, "tally_at": at(former.tally_at) if former.tally_at else [],
        "hidden": [*fields["hidden"], *(name for name in former.hidden if name not in fields["hidden"])],
        "follows": former.id, "lay": over.kept(),
    }  # fmt: skip
    stood = [
        [view.mark, view.family, view.kind, view.points, view.closed, view.voids, view.shows]
        for view in figure_views(former)
    ]
    sheet = log.insert(Sheet, **fields)
    log.update(former, stood=stood)
    _keep_places(log, sheet, over.places)
    for area in ScaleArea.those(ScaleArea.sheet, [former.id], ScaleArea.id):
        log.insert(
            ScaleArea, sheet=sheet.id, ring=_points(lay, area.ring), scale_source=area.scale_source,
            metres_per_unit=area.metres_per_unit / lay.size,
        )  # fmt: skip
    _carry_surveys(log, former.id, sheet.id, lay)
    unsure = over.by == "paper" or other_scale
    for figure in Figure.those(Figure.sheet, [former.id], Figure.id):
        _carry_figure(log, figure, sheet, over, unsure=unsure)


def _carry_surveys(log: Recording, former: int, sheet: int, lay: Lay) -> None:
    """Carry levels picked off a sheet over to another, with the points they lie on the ground by."""
    for survey in Survey.those(Survey.sheet, [former]):
        log.update(survey, sheet=sheet, known=_points(lay, survey.known))
        for level in Level.those(Level.survey, [survey.id]):
            if level.x is not None:
                ((x, y),) = _points(lay, [[level.x, level.y]])
                log.update(level, x=x, y=y)


def _keep_places(log: Recording, sheet: Sheet, places: Sequence[Place]) -> None:
    rows = [
        {
            "sheet": sheet.id, "box": [round(value, 2) for value in place.box], "size": round(place.size, 2),
            "gone": place.gone[:MOST_LINES].round(2).tolist(),
            "came": place.came[:MOST_LINES].round(2).tolist(),
            "words_gone": [list(word) for word in place.words_gone[:MOST_LINES]],
            "words_came": [list(word) for word in place.words_came[:MOST_LINES]],
        }
        for place in places[:MOST_PLACES]
    ]  # fmt: skip
    if rows:
        log.insert_all(ChangedPlace, rows)


def _points(lay: Lay, places: Sequence[Sequence[float]]) -> list[list[float]]:
    """Places of the former sheet on the new one; what else a place tells, such as the bulge of its arc,
    stays."""
    if lay.is_as_it_is:
        return [list(place) for place in places]
    found = [lay.turn * complex(*place[:2]) + lay.shift for place in places]
    return [[at.real, at.imag, *place[2:]] for at, place in zip(found, places, strict=True)]


def _carry_figure(log: Recording, figure: Figure, sheet: Sheet, over: Over, *, unsure: bool) -> None:
    """Carry a figure over; one that would lie off the new sheet stays where it is, to be looked at."""
    shape, lay = figure.geometry, over.lay
    corners = shape.get("points") or shape.get("corners") or shape["outline"]
    kind = "loop" if shape.get("closed") else figure.kind
    voids = [_points(lay, void) for void in shape.get("voids", [])]
    try:
        geometry = geometry_of(kind, _points(lay, corners), voids, sheet)
    except BadShape:
        return _mark(log, [figure])
    if lay.is_as_it_is:
        geometry = shape
    is_near = unsure or near(figure_shape(figure.kind, geometry), over.places, reach_of(figure.kind))
    log.update(figure, sheet=sheet.id, geometry=geometry, near=figure.near or is_near)


def reach_of(kind: str) -> float:
    """How close to a figure of a kind a change is near, in sheet units."""
    return NEAR_COUNTED if kind == "count" else NEAR


def figure_shape(kind: str, geometry: dict[str, Any]) -> shapely.Geometry:
    """A figure as it lies on its sheet; an area with what is in it."""
    points = points_of(kind, geometry)
    if kind == "count":
        return shapely.MultiPoint(points)
    if kind == "area":
        return shapely.Polygon(points)
    return shapely.LineString(points)


def lay_by_picks(
    actor: Actor, sheet_id: int, version: int, picks: Sequence[Point], onto: Sequence[Point]
) -> Saved:
    """Lay a sheet over the one it follows by two points of that one and where they are on this one; what is
    on it moves along, to be looked at.

    Raises:
        BadEntry: it follows none, or two picks are one.
    """
    require_writer(actor)
    sheet = find_sheet(actor, sheet_id)
    if sheet.follows_id is None:
        raise BadEntry(f"{name_of(sheet)} follows no other sheet.", field="picks")
    if min(math.dist(*picks), math.dist(*onto)) < LEAST_PICK:
        raise BadEntry("The two points are too close.", field="picks", remedy="Pick two far apart.")
    lay = by_two_points(*(complex(*pick) for pick in (*picks, *onto)))
    former = find_sheet(actor, sheet.follows_id)
    before, after = (_page(each.revision.file_id, each.page, each.hidden) for each in (former, sheet))
    told = min(len(before.lines), len(after.lines)) > 0
    places = _places(before, after, Laid(lay, 0.0, _BY_HAND)) if told else []
    return _lay_anew(actor, sheet_id, version, Over(lay, "picks", 0.0, places))


@action
def _lay_anew(actor: Actor, sheet_id: int, version: int, over: Over) -> Saved:
    sheet = find_sheet(actor, sheet_id)
    was = lay_of(sheet)
    turn = over.lay.turn / was.turn
    moving = Over(Lay(turn, over.lay.shift - turn * was.shift), over.by, over.share, over.places)
    check_version(sheet, version, {"lay": over.kept()})
    with recording(actor, f"{name_of(sheet)} laid over its former revision by two points") as log:
        log.delete_all(ChangedPlace.those(ChangedPlace.sheet, [sheet.id]))
        log.update(sheet, lay=over.kept(), **_moved_along(sheet, moving.lay))
        _keep_places(log, sheet, over.places)
        for area in ScaleArea.those(ScaleArea.sheet, [sheet.id]):
            ring, size = _points(moving.lay, area.ring), moving.lay.size
            log.update(area, ring=ring, metres_per_unit=area.metres_per_unit / size)
        _carry_surveys(log, sheet.id, sheet.id, moving.lay)
        for figure in Figure.those(Figure.sheet, [sheet.id], Figure.id):
            _carry_figure(log, figure, sheet, moving, unsure=True)
    return log.saved(sheet)


def _moved_along(sheet: Sheet, lay: Lay) -> dict[str, Any]:
    """What a sheet holds itself, moved as the drawing on it is; the scale it was carried over with too, a
    DXF's own stays."""
    fields: dict[str, Any] = {}
    if sheet.proof:
        first, second = _points(lay, [sheet.proof["first"], sheet.proof["second"]])
        fields["proof"] = {**sheet.proof, "first": first, "second": second}
    if sheet.tally_at:
        (fields["tally_at"],) = _points(lay, [sheet.tally_at])
    if sheet.metres_per_unit and not layers_of(sheet.revision.file_id):
        fields["metres_per_unit"] = sheet.metres_per_unit / lay.size
        if sheet.metres_per_unit_y:
            fields["metres_per_unit_y"] = sheet.metres_per_unit_y / lay.size
    return fields


@action
def look_at_figures(actor: Actor, figures: Sequence[int]) -> Saved:
    """Say of figures near a change that they were looked at and are right as they are."""
    rows = [find(Figure, actor, each) for each in dict.fromkeys(figures)]
    marks = ", ".join(dict.fromkeys(figure.element.mark for figure in rows[:4]))
    with recording(actor, f"{marks}: kept after the revision") as log:
        for figure in rows:
            if figure.near:
                log.update(figure, near=False)
    return log.saved(len(rows))


@action
def look_at_place(actor: Actor, place_id: int, version: int, *, looked: bool) -> Saved:
    """Say of a place where a sheet differs whether it was looked at."""
    place = find(ChangedPlace, actor, place_id)
    check_version(place, version, {"looked": looked})
    with recording(actor, f"Change on {name_of(find_sheet(actor, place.sheet_id))}") as log:
        log.update(place, looked=looked)
    return log.saved(place)
