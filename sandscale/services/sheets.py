"""Drawings brought in, their sheets, what their pages hold, and the scale each sheet is measured at."""

from __future__ import annotations

import hashlib
import re
from datetime import date
from functools import lru_cache
from typing import Any

from peewee import fn

from ..core.figures import scale, shapes
from ..core.figures.scale import Scale
from ..core.numbers.entry import read_entry
from ..core.numbers.working import shown
from ..core.refusals import BadEntry, BadShape
from ..formats import drawing_file
from ..store.models import (
    Drawing,
    Element,
    Figure,
    PageContent,
    QuantityLine,
    Revision,
    ScaleArea,
    Sheet,
    StoredFile,
)
from . import jobs
from .acting import Actor, InUse, Missing, check_version, find
from .figures import figure_views
from .measuring import scale_of
from .recording import action, recording
from .views import DrawingView, ProofView, Saved, ScaleAreaView, SheetDetail, SheetTotal, SheetView, WordView


@action
def add_drawing(actor: Actor, name: str, content: bytes, received: date) -> Saved:
    """Bring a PDF, PNG, JPEG or TIFF in as a drawing, revision A, with a sheet for every page.

    Raises:
        UnreadableDrawing: the file can't be taken (see :mod:`sandscale.formats.drawing_file`).
    """
    name = re.sub(r"[\x00-\x1f/\\]+", " ", name).strip()[:120] or "drawing.pdf"
    media_type, pages = drawing_file.read_pages(content, name)
    number = re.sub(r"\.(pdf|png|jpe?g|tiff?)$", "", name, flags=re.IGNORECASE)
    with recording(actor, f"Drawing {number} brought in") as log:
        # Outside the change log: a file never changes, and redo needs it after an undo.
        file = StoredFile.create(
            project=actor.project_id,
            name=name,
            media_type=media_type,
            sha256=hashlib.sha256(content).hexdigest(),
            content=content,
        )
        position = Drawing.select().where(Drawing.project == actor.project_id).count()
        drawing = log.insert(Drawing, number=number, position=position)
        revision = log.insert(Revision, drawing=drawing.id, letter="A", received=received, file=file.id)
        for page in pages:
            log.insert(Sheet, revision=revision.id, page=page.number, width=page.width, height=page.height)
            jobs.begin(actor, "page_content", {"file": file.id, "page": page.number})
    return Saved(label=log.label, id=drawing.id, version=1, bill_total=log.bill_total)


def drawings(actor: Actor) -> list[DrawingView]:
    """The project's drawings with their sheets, in order."""
    figures = dict(
        Figure.select(Figure.sheet, fn.COUNT(Figure.id))
        .where(Figure.project == actor.project_id)
        .group_by(Figure.sheet)
        .tuples()
    )
    query = (
        _sheets().where(Sheet.project == actor.project_id).order_by(Drawing.position, Drawing.id, Sheet.page)
    )
    found: dict[int, DrawingView] = {}
    for sheet in query:
        drawing, revision = sheet.revision.drawing, sheet.revision
        view = found.setdefault(
            drawing.id,
            DrawingView(
                id=drawing.id, version=drawing.version, number=drawing.number, title=drawing.title,
                letter=revision.letter,
                file=revision.file.name, received=revision.received, sheets=[],
            ),
        )  # fmt: skip
        view.sheets.append(_view(sheet, figures.get(sheet.id, 0)))
    return list(found.values())


def sheet_detail(actor: Actor, sheet_id: int) -> SheetDetail:
    """A sheet with every figure on it."""
    sheet = _sheet(actor, sheet_id)
    drawn = figure_views(sheet)
    kept = (
        PageContent.select(PageContent.said)
        .where((PageContent.file == sheet.revision.file_id) & (PageContent.page == sheet.page))
        .first()
    )
    return SheetDetail(
        **_view(sheet, len(drawn)).model_dump(), shapes=drawn,
        content="waiting" if kept is None else kept.said or "read",
        proof=_proof(sheet), areas=[_area_view(area) for area in sheet.scale_areas.order_by(ScaleArea.id)],
        totals=totals(sheet), tally_at=sheet.tally_at,
    )  # fmt: skip


def _area_view(row: ScaleArea) -> ScaleAreaView:
    return ScaleAreaView(
        id=row.id,
        version=row.version,
        ring=row.ring,
        ratio=scale.ratio_of(row.metres_per_unit),
        scale_source=row.scale_source,
    )


def _proof(sheet: Sheet) -> ProofView | None:
    """A sheet's second known length, held against the scale it has now."""
    if not sheet.proof or not sheet.metres_per_unit:
        return None
    first, second = (tuple(p) for p in (sheet.proof["first"], sheet.proof["second"]))
    proof = scale.prove(scale_of(sheet), first, second, read_entry(sheet.proof["length"], "m"))  # type: ignore[arg-type]
    return ProofView(
        first=sheet.proof["first"], second=sheet.proof["second"], known=proof.known, measured=proof.measured,
        off=proof.off,
        finding=proof.finding.says if proof.finding else "",
    )  # fmt: skip


def totals(sheet: Sheet) -> list[SheetTotal]:
    """What is measured on a sheet, by element: the quantity lines of the elements with figures on it."""
    here = Figure.select(Figure.element).where(Figure.sheet == sheet.id)
    query = (
        QuantityLine.select(QuantityLine, Element.id, Element.mark)
        .join(Element)
        .where((QuantityLine.element << here) & (QuantityLine.net != 0))
        .order_by(Element.position, Element.id, QuantityLine.id)
    )
    return [
        SheetTotal(
            element=q.element_id, mark=q.element.mark, family=q.family, label=q.label, net=q.net, unit=q.unit
        )
        for q in query
    ]


def page_lines(actor: Actor, sheet_id: int) -> bytes:
    """The line work of a sheet as float32 x1, y1, x2, y2 for each line, in sheet units; empty until it was
    read."""
    kept = _page_content(_sheet(actor, sheet_id))
    return bytes(kept.segments) if kept else b""


def page_words(actor: Actor, sheet_id: int, wanted: str, most: int = 60) -> list[WordView]:
    """Where a sheet says something: words that hold what is wanted, whatever their case; several must
    follow one another."""
    kept = _page_content(_sheet(actor, sheet_id))
    parts = wanted.lower().split()
    if kept is None or not parts:
        return []
    words = kept.words
    found = []
    for at in range(len(words) - len(parts) + 1):
        run = words[at : at + len(parts)]
        if all(part in word[0].lower() for part, word in zip(parts, run, strict=True)):
            left, bottom = min(w[1] for w in run), min(w[2] for w in run)
            right, top = max(w[1] + w[3] for w in run), max(w[2] + w[4] for w in run)
            found.append(WordView(text=" ".join(w[0] for w in run), box=[left, bottom, right, top]))
    return found[:most]


def _page_content(sheet: Sheet) -> PageContent | None:
    return PageContent.get_or_none(
        (PageContent.file == sheet.revision.file_id) & (PageContent.page == sheet.page)
    )


def read_page_content(file_id: int, page: int) -> None:
    """Read what a page holds and keep it; a job's work. Reading it again changes nothing."""
    file = StoredFile.get_or_none(StoredFile.id == file_id)
    if (
        file is None
        or PageContent.select().where((PageContent.file == file_id) & (PageContent.page == page)).exists()
    ):
        return
    found = drawing_file.page_content(bytes(file.content), file.media_type, file.name, page)
    row = {
        "file": file_id,
        "page": page,
        "segments": found.segments.tobytes(),
        "words": found.words,
        "said": found.said,
    }
    PageContent.insert(row).on_conflict_ignore().execute()


def _sheets() -> Any:
    """Sheets with their revision, drawing and file, without the file's content."""
    file = (StoredFile.id, StoredFile.name, StoredFile.sha256)
    return (
        Sheet.select(Sheet, Revision, Drawing, *file)
        .join(Revision)
        .join(Drawing)
        .switch(Revision)
        .join(StoredFile)
    )


def _sheet(actor: Actor, sheet_id: int) -> Sheet:
    sheet = _sheets().where((Sheet.id == sheet_id) & (Sheet.project == actor.project_id)).first()
    if sheet is None:
        raise Missing("That sheet is not in this project any more.")
    return sheet


def _view(sheet: Sheet, figures: int) -> SheetView:
    return SheetView(
        id=sheet.id, version=sheet.version, drawing=sheet.revision.drawing_id,
        number=sheet.revision.drawing.number,
        letter=sheet.revision.letter, tile_key=sheet.revision.file.sha256[:12], page=sheet.page,
        title=sheet.title, width=sheet.width, height=sheet.height,
        metres_per_unit=sheet.metres_per_unit,
        ratio=scale.ratio_of(sheet.metres_per_unit) if sheet.metres_per_unit else None,
        ratio_up=scale.ratio_of(sheet.metres_per_unit_y) if sheet.metres_per_unit_y else None,
        scale_source=sheet.scale_source, figures=figures,
    )  # fmt: skip


@lru_cache(maxsize=8)
def _content(file_id: int, sha256: str) -> bytes:
    """A stored file; it never changes, so a few are kept at hand for their tiles."""
    return bytes(StoredFile.get_by_id(file_id).content)


def tile(actor: Actor, sheet_id: int, zoom: int, column: int, row: int) -> bytes:
    """A tile of a sheet as PNG (see :func:`sandscale.formats.pdf.tile`)."""
    found = (
        Sheet.select(Sheet.page, StoredFile.id, StoredFile.sha256, StoredFile.media_type)
        .join(Revision)
        .join(StoredFile)
        .where((Sheet.id == sheet_id) & (Sheet.project == actor.project_id))
        .tuples()
        .first()
    )
    if found is None:
        raise Missing("That sheet is not in this project any more.")
    page, file_id, sha256, media_type = found
    return drawing_file.tile(_content(file_id, sha256), media_type, sha256, page, zoom, column, row)


@action
def set_scale_by_ratio(actor: Actor, sheet_id: int, version: int, ratio: str) -> Saved:
    """Set a sheet's scale from its ratio: ``100`` or ``1:100``.

    Raises:
        BadEntry: it is no ratio, or not above zero.
    """
    number = _ratio(ratio)
    return _set_scale(actor, sheet_id, version, Scale.even(scale.from_ratio(number)), f"1:{number:g}, typed")


@action
def set_scale_by_length(
    actor: Actor, sheet_id: int, version: int, first: scale.Point, second: scale.Point, length: str
) -> Saved:
    """Set a sheet's scale from two picks (sheet units) and the length between them as typed.

    Raises:
        BadEntry: the length can't be read, or the picks are too close.
    """
    metres = read_entry(length, "m", field="known length")
    found = Scale.even(scale.from_known_length(first, second, metres))
    return _set_scale(actor, sheet_id, version, found, f"known length {shown(metres)} m between two picks")


@action
def set_scale_stretched(
    actor: Actor,
    sheet_id: int,
    version: int,
    along: tuple[scale.Point, scale.Point],
    length: str,
    up: tuple[scale.Point, scale.Point],
    height: str,
) -> Saved:
    """Set the scale of a stretched scan from a known length along it and one up it.

    Raises:
        BadEntry: a length can't be read, or a pick runs askew.
    """
    across, upward = read_entry(length, "m", field="length along"), read_entry(height, "m", field="length up")
    found = scale.stretched(along, across, up, upward)
    return _set_scale(
        actor, sheet_id, version, found, f"known lengths {shown(across)} m along and {shown(upward)} m up"
    )


@action
def prove_scale(
    actor: Actor, sheet_id: int, version: int, first: scale.Point, second: scale.Point, length: str
) -> Saved:
    """Keep a second known length of a sheet, which its scale is held against from then on.

    Raises:
        BadEntry: the sheet has no scale, the length can't be read, or the picks are too close.
    """
    sheet = _sheet(actor, sheet_id)
    if sheet.metres_per_unit is None:
        raise BadEntry("This sheet has no scale to prove yet.", field="scale", remedy="Set its scale first.")
    proof = scale.prove(scale_of(sheet), first, second, read_entry(length, "m", field="known length"))
    fields = {"proof": {"first": list(first), "second": list(second), "length": length.strip()}}
    check_version(sheet, version, fields)
    with recording(actor, f"Scale of {_name(sheet)} proved: {abs(proof.off):.2%} off") as log:
        log.update(sheet, **fields)
    return Saved(label=log.label, id=sheet.id, version=sheet.version, bill_total=log.bill_total)


@action
def add_scale_area(actor: Actor, sheet_id: int, ring: list[scale.Point], ratio: str) -> Saved:
    """Give a part of a sheet, such as a detail, a scale of its own.

    Raises:
        BadEntry: the ratio can't be read.
        BadShape: the ring can't be measured, or it crosses another scale area.
    """
    sheet = _sheet(actor, sheet_id)
    outline = shapes.area(ring, [], sheet.width, sheet.height)
    others = [shapes.area(row.ring, [], sheet.width, sheet.height) for row in sheet.scale_areas]
    if shapes.overlaps([outline, *others]):
        raise BadShape(
            "It overlaps another scale area of this sheet.", field="ring", remedy="Draw it beside that one."
        )
    number = _ratio(ratio)
    with recording(actor, f"Scale area of {_name(sheet)}: 1:{number:g}") as log:
        row = log.insert(
            ScaleArea,
            sheet=sheet.id,
            ring=[list(p[:2]) for p in outline.outline],
            metres_per_unit=scale.from_ratio(number),
            scale_source=f"1:{number:g}, typed",
        )
    return Saved(
        label=log.label, id=row.id, version=1, change=log.change and log.change.id, bill_total=log.bill_total
    )


@action
def delete_scale_area(actor: Actor, area_id: int) -> Saved:
    """Take a scale area off; what lies in it is measured at the sheet's scale again."""
    row = find(ScaleArea, actor, area_id)
    with recording(actor, f"Scale area of {_name(_sheet(actor, row.sheet_id))} deleted") as log:
        log.delete(row)
    return Saved(label=log.label, change=log.change and log.change.id, bill_total=log.bill_total)


@action
def place_totals(actor: Actor, sheet_id: int, version: int, at: scale.Point | None) -> Saved:
    """Put the totals of a sheet on it, their upper left corner at a point; or take them off."""
    sheet = _sheet(actor, sheet_id)
    fields = {"tally_at": list(at) if at else []}
    check_version(sheet, version, fields)
    with recording(actor, f"Totals on {_name(sheet)}") as log:
        log.update(sheet, **fields)
    return Saved(label=log.label, id=sheet.id, version=sheet.version, bill_total=log.bill_total)


def _name(sheet: Sheet) -> str:
    return f"{sheet.revision.drawing.number} p. {sheet.page}"


def _ratio(text: str) -> float:
    return read_entry(re.sub(r"^\s*1\s*:\s*", "", text), "", field="scale")


def _set_scale(actor: Actor, sheet_id: int, version: int, found: Scale, source: str) -> Saved:
    sheet = _sheet(actor, sheet_id)
    fields = {
        "metres_per_unit": found.x,
        "metres_per_unit_y": None if found.is_even else found.y,
        "scale_source": source,
    }
    check_version(sheet, version, fields)
    moves = Figure.select().where((Figure.sheet == sheet.id) & (Figure.kind != "count")).count()
    told = (
        f", {moves} figure{'s' if moves != 1 else ''} measured anew"
        if moves and sheet.metres_per_unit
        else ""
    )
    with recording(actor, f"Scale of {_name(sheet)}: 1:{scale.ratio_of(found.x):.4g}{told}") as log:
        log.update(sheet, **fields)
    return Saved(
        label=log.label,
        id=sheet.id,
        version=sheet.version,
        change=log.change and log.change.id,
        bill_total=log.bill_total,
    )


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
        marks = (
            Element.select(Element.mark)
            .join(Figure)
            .where(Figure.sheet << [s.id for s in sheets])
            .distinct()
            .limit(4)
        )
        if names := [element.mark for element in marks]:
            raise InUse(
                f"{', '.join(names)} {'is' if len(names) == 1 else 'are'} measured "
                f"on drawing {drawing.number}.",
                remedy="Delete those figures first.",
            )
        for row in (
            *(area for sheet in sheets for area in sheet.scale_areas),
            *sheets,
            *drawing.revisions,
            drawing,
        ):
            log.delete(row)
    return Saved(label=log.label, bill_total=log.bill_total)
