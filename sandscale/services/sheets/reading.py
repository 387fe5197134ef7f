"""Drawings, their sheets, and what their pages hold."""

from __future__ import annotations

from typing import Any

from peewee import fn

from ...core.figures import scale
from ...core.numbers.entry import read_entry
from ...core.numbers.ways import ways
from ...formats import apart, drawing_file
from ...formats.page import UnreadableDrawing
from ...store.models import (
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
from ..keeping.acting import Actor, Missing
from ..measure.measuring import scale_of
from ..measure.reading import figure_views
from .views import DrawingView, ProofView, ScaleAreaView, SheetDetail, SheetTotal, SheetView, WordView

PAGE_CONTENT = "page_content"  # the job that reads what a file's pages hold


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
    sheet = find_sheet(actor, sheet_id)
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
        tally_at=sheet.tally_at,
    )  # fmt: skip


def _in_words(metres_per_unit: float) -> str:
    return scale.in_words(scale.ratio_of(metres_per_unit), ways().system)


def _scale_words(sheet: Sheet) -> str:
    if not sheet.metres_per_unit:
        return "no scale"
    across, up = _in_words(sheet.metres_per_unit), sheet.metres_per_unit_y
    return f"{across} across, {_in_words(up)} up" if up else across


def _area_view(row: ScaleArea) -> ScaleAreaView:
    return ScaleAreaView(
        id=row.id,
        version=row.version,
        ring=row.ring,
        scale=_in_words(row.metres_per_unit),
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


def sheet_totals(actor: Actor, sheet_id: int) -> list[SheetTotal]:
    """What is measured on a sheet, by element."""
    return totals(find_sheet(actor, sheet_id))


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
    kept = _page_content(find_sheet(actor, sheet_id))
    return bytes(kept.segments) if kept else b""


def page_words(actor: Actor, sheet_id: int, wanted: str, most: int = 60) -> list[WordView]:
    """Where a sheet says something: words that hold what is wanted, whatever their case; several must
    follow one another."""
    kept = _page_content(find_sheet(actor, sheet_id))
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
    kept = (PageContent.file == file_id) & (PageContent.page == page)
    if file is None or PageContent.select().where(kept).exists():
        return
    content, given = bytes(file.content), (file.media_type, file.name, page)
    try:
        found = apart.read(drawing_file.page_content, content, *given, page=page)
    except UnreadableDrawing as refusal:
        return keep_unread(file_id, page, refusal.sentence)
    keep_page_content(file_id, page, segments=found.segments.tobytes(), words=found.words, said=found.said)


def keep_unread(file_id: int, page: int, says: str) -> None:
    """Say of a page why it can't be read: nothing on it is there to snap to."""
    keep_page_content(file_id, page, segments=b"", words=[], said=f"No lines to snap to. {says}")


def keep_page_content(file_id: int, page: int, **fields: Any) -> None:
    """Keep what a page was read to hold, unless it is kept already or its file is gone."""
    if StoredFile.select().where(StoredFile.id == file_id).exists():
        PageContent.insert({"file": file_id, "page": page, **fields}).on_conflict_ignore().execute()


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


def find_sheet(actor: Actor, sheet_id: int) -> Sheet:
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
        scale=_scale_words(sheet),
        scale_source=sheet.scale_source, figures=figures,
    )  # fmt: skip


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
    return apart.readers.call(
        drawing_file.tile, lambda: bytes(StoredFile.get_by_id(file_id).content), sha256,
        media_type, sha256, page, zoom, column, row,
        limits=apart.DRAWING, page=page,
    )  # fmt: skip
