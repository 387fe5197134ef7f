"""Drawings brought in as PDF, their sheets, and the scale each sheet is measured at."""

from __future__ import annotations

import hashlib
import re
from datetime import date
from functools import lru_cache
from typing import Any

from peewee import fn

from ..core.figures import scale
from ..core.numbers.entry import read_entry
from ..core.numbers.working import shown
from ..core.refusals import BadEntry
from ..formats import pdf
from ..store.models import Drawing, Element, Figure, Revision, Sheet, StoredFile
from .acting import Actor, InUse, Missing, check_version, find
from .figures import figure_views
from .recording import action, recording
from .views import DrawingView, Saved, SheetDetail, SheetView


@action
def add_drawing(actor: Actor, name: str, content: bytes, received: date) -> Saved:
    """Bring a PDF in as a drawing, revision A, with a sheet for every page.

    Raises:
        UnreadablePdf: the file can't be taken (see :mod:`sandscale.formats.pdf`).
    """
    name = re.sub(r"[\x00-\x1f/\\]+", " ", name).strip()[:120] or "drawing.pdf"
    pages = pdf.read_pages(content, name)
    number = re.sub(r"\.pdf$", "", name, flags=re.IGNORECASE)
    with recording(actor, f"Drawing {number} brought in") as log:
        # Outside the change log: a file never changes, and redo needs it after an undo.
        file = StoredFile.create(project=actor.project_id, name=name, media_type="application/pdf", sha256=hashlib.sha256(content).hexdigest(), content=content)
        position = Drawing.select().where(Drawing.project == actor.project_id).count()
        drawing = log.insert(Drawing, number=number, position=position)
        revision = log.insert(Revision, drawing=drawing.id, letter="A", received=received, file=file.id)
        for page in pages:
            log.insert(Sheet, revision=revision.id, page=page.number, width=page.width, height=page.height)
    return Saved(label=log.label, id=drawing.id, version=1, bill_total=log.bill_total)


def drawings(actor: Actor) -> list[DrawingView]:
    """The project's drawings with their sheets, in order."""
    figures = dict(Figure.select(Figure.sheet, fn.COUNT(Figure.id)).where(Figure.project == actor.project_id).group_by(Figure.sheet).tuples())
    query = _sheets().where(Sheet.project == actor.project_id).order_by(Drawing.position, Drawing.id, Sheet.page)
    found: dict[int, DrawingView] = {}
    for sheet in query:
        drawing, revision = sheet.revision.drawing, sheet.revision
        view = found.setdefault(
            drawing.id,
            DrawingView(
                id=drawing.id, version=drawing.version, number=drawing.number, title=drawing.title, letter=revision.letter,
                file=revision.file.name, received=revision.received, sheets=[],
            ),
        )  # fmt: skip
        view.sheets.append(_view(sheet, figures.get(sheet.id, 0)))
    return list(found.values())


def sheet_detail(actor: Actor, sheet_id: int) -> SheetDetail:
    """A sheet with every figure on it."""
    sheet = _sheet(actor, sheet_id)
    shapes = figure_views(sheet)
    return SheetDetail(**_view(sheet, len(shapes)).model_dump(), shapes=shapes)


def _sheets() -> Any:
    """Sheets with their revision, drawing and file, without the file's content."""
    file = (StoredFile.id, StoredFile.name, StoredFile.sha256)
    return Sheet.select(Sheet, Revision, Drawing, *file).join(Revision).join(Drawing).switch(Revision).join(StoredFile)


def _sheet(actor: Actor, sheet_id: int) -> Sheet:
    sheet = _sheets().where((Sheet.id == sheet_id) & (Sheet.project == actor.project_id)).first()
    if sheet is None:
        raise Missing("That sheet is not in this project any more.")
    return sheet


def _view(sheet: Sheet, figures: int) -> SheetView:
    return SheetView(
        id=sheet.id, version=sheet.version, drawing=sheet.revision.drawing_id, number=sheet.revision.drawing.number,
        letter=sheet.revision.letter, tile_key=sheet.revision.file.sha256[:12], page=sheet.page, title=sheet.title, width=sheet.width, height=sheet.height,
        metres_per_unit=sheet.metres_per_unit, ratio=scale.ratio_of(sheet.metres_per_unit) if sheet.metres_per_unit else None,
        scale_source=sheet.scale_source, figures=figures,
    )  # fmt: skip


@lru_cache(maxsize=8)
def _content(file_id: int, sha256: str) -> bytes:
    """A stored file; it never changes, so a few are kept at hand for their tiles."""
    return bytes(StoredFile.get_by_id(file_id).content)


def tile(actor: Actor, sheet_id: int, zoom: int, column: int, row: int) -> bytes:
    """A tile of a sheet as PNG (see :func:`sandscale.formats.pdf.tile`)."""
    found = (
        Sheet.select(Sheet.page, StoredFile.id, StoredFile.sha256)
        .join(Revision)
        .join(StoredFile)
        .where((Sheet.id == sheet_id) & (Sheet.project == actor.project_id))
        .tuples()
        .first()
    )
    if found is None:
        raise Missing("That sheet is not in this project any more.")
    page, file_id, sha256 = found
    return pdf.tile(_content(file_id, sha256), sha256, page, zoom, column, row)


@action
def set_scale_by_ratio(actor: Actor, sheet_id: int, version: int, ratio: str) -> Saved:
    """Set a sheet's scale from its ratio: ``100`` or ``1:100``.

    Raises:
        BadEntry: it is no ratio, or not above zero.
    """
    number = read_entry(re.sub(r"^\s*1\s*:\s*", "", ratio), "", field="scale")
    return _set_scale(actor, sheet_id, version, scale.from_ratio(number), f"1:{number:g}, typed")


@action
def set_scale_by_length(actor: Actor, sheet_id: int, version: int, first: scale.Point, second: scale.Point, length: str) -> Saved:
    """Set a sheet's scale from two picks (sheet units) and the length between them as typed.

    Raises:
        BadEntry: the length can't be read, or the picks are too close.
    """
    metres = read_entry(length, "m", field="known length")
    metres_per_unit = scale.from_known_length(first, second, metres)
    return _set_scale(actor, sheet_id, version, metres_per_unit, f"known length {shown(metres)} m between two picks")


def _set_scale(actor: Actor, sheet_id: int, version: int, metres_per_unit: float, source: str) -> Saved:
    sheet = _sheet(actor, sheet_id)
    fields = {"metres_per_unit": metres_per_unit, "scale_source": source}
    check_version(sheet, version, fields)
    with recording(actor, f"Scale of {sheet.revision.drawing.number} p. {sheet.page}: 1:{scale.ratio_of(metres_per_unit):.4g}") as log:
        log.update(sheet, **fields)
    return Saved(label=log.label, id=sheet.id, version=sheet.version, change=log.change and log.change.id, bill_total=log.bill_total)


@action
def rename_sheet(actor: Actor, sheet_id: int, version: int, title: str) -> Saved:
    """Give a sheet a title."""
    sheet = _sheet(actor, sheet_id)
    check_version(sheet, version, {"title": title.strip()})
    with recording(actor, f"Sheet title “{title.strip()}”") as log:
        log.update(sheet, title=title.strip()[:120])
    return Saved(label=log.label, id=sheet.id, version=sheet.version, bill_total=log.bill_total)


@action
def change_drawing(actor: Actor, drawing_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a drawing's number or title.

    Raises:
        BadEntry: the number is empty.
    """
    drawing = find(Drawing, actor, drawing_id)
    fields = {name: value.strip()[:120] for name, value in fields.items()}
    if fields.get("number") == "":
        raise BadEntry("A drawing needs a number.", field="number")
    check_version(drawing, version, fields)
    with recording(actor, f"Drawing {fields.get('number', drawing.number)}") as log:
        log.update(drawing, **fields)
    return Saved(label=log.label, id=drawing.id, version=drawing.version, bill_total=log.bill_total)


@action
def delete_drawing(actor: Actor, drawing_id: int) -> Saved:
    """Take a drawing with its sheets out of the project; its file stays, so that it can be undone.

    Raises:
        InUse: something is measured on one of its sheets.
    """
    drawing = find(Drawing, actor, drawing_id)
    with recording(actor, f"Drawing {drawing.number} deleted") as log:
        sheets = list(Sheet.select().join(Revision).where(Revision.drawing == drawing.id))
        marks = Element.select(Element.mark).join(Figure).where(Figure.sheet << [s.id for s in sheets]).distinct().limit(4)
        if names := [element.mark for element in marks]:
            raise InUse(f"{', '.join(names)} {'is' if len(names) == 1 else 'are'} measured on drawing {drawing.number}.", remedy="Delete those figures first.")
        for row in (*sheets, *drawing.revisions, drawing):
            log.delete(row)
    return Saved(label=log.label, bill_total=log.bill_total)
