"""Drawings, their sheets, and what their pages hold."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from typing import Any

from peewee import fn

from ...core.figures import scale
from ...core.numbers.entry import read_entry
from ...core.numbers.ways import ways
from ...formats import apart, drawing_file
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
from .laid import lay_view
from .pages import drawn_pdf, layers_of, lines_on, words_on
from .views import (
    DrawingView,
    LayerView,
    ProofView,
    RevisionView,
    ScaleAreaView,
    SheetDetail,
    SheetTotal,
    SheetView,
    StoodFigure,
    WordView,
)


def drawings(actor: Actor) -> list[DrawingView]:
    """The project's drawings with their sheets, in order."""
    figures = _counted(Figure.project == actor.project_id)
    near = _counted((Figure.project == actor.project_id) & Figure.near)
    query = _sheets().where(Sheet.project == actor.project_id)
    query = query.order_by(Drawing.position, Drawing.id, Revision.id.desc(), Sheet.page)
    found: dict[int, DrawingView] = {}
    for sheet in query:
        drawing, revision = sheet.revision.drawing, sheet.revision
        view = found.setdefault(
            drawing.id,
            DrawingView(
                id=drawing.id, version=drawing.version, number=drawing.number, title=drawing.title,
                letter=revision.letter, file=revision.file.name, received=revision.received,
                revision=revision.id, sheets=[], former=[],
            ),
        )  # fmt: skip
        sheets = view.sheets if revision.id == view.revision else _former(view, revision).sheets
        sheets.append(_view(sheet, figures.get(sheet.id, 0), near.get(sheet.id, 0)))
    return list(found.values())


def _counted(which: Any) -> dict[int, int]:
    query = Figure.select(Figure.sheet, fn.COUNT(Figure.id)).where(which).group_by(Figure.sheet)
    return dict(query.tuples())


def _former(view: DrawingView, revision: Revision) -> RevisionView:
    if not view.former or view.former[-1].id != revision.id:
        view.former.append(
            RevisionView(id=revision.id, letter=revision.letter, received=revision.received, sheets=[])
        )
    return view.former[-1]


def latest_revision(drawing_id: int) -> Revision:
    """A drawing's latest revision."""
    mine = Revision.select().where(Revision.drawing == drawing_id)
    latest: Revision = mine.order_by(Revision.id.desc()).first()
    return latest


def sheet_detail(actor: Actor, sheet_id: int) -> SheetDetail:
    """A sheet with every figure on it."""
    sheet = find_sheet(actor, sheet_id)
    drawn = figure_views(sheet)
    kept = (
        PageContent.select(PageContent.said)
        .where((PageContent.file == sheet.revision.file_id) & (PageContent.page == sheet.page))
        .first()
    )
    followed = Sheet.select(Sheet, Revision).join(Revision).where(Sheet.follows == sheet.id).first()
    hidden, layers = set(sheet.hidden), layers_of(sheet.revision.file_id)
    return SheetDetail(
        **_view(sheet, len(drawn), sum(view.near for view in drawn)).model_dump(), shapes=drawn,
        content="waiting" if kept is None else kept.said or "read",
        proof=_proof(sheet), areas=[_area_view(area) for area in sheet.scale_areas.order_by(ScaleArea.id)],
        tally_at=sheet.tally_at,
        layers=[LayerView(name=name, shown=name not in hidden) for name, _ in layers],
        lay=lay_view(sheet), followed=followed.revision.letter if followed else "",
        stood=[StoodFigure(**dict(zip(StoodFigure.model_fields, each, strict=True))) for each in sheet.stood],
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
    sheet = find_sheet(actor, sheet_id)
    return lines_on(sheet.revision.file_id, sheet.page, sheet.hidden).tobytes()


def page_words(actor: Actor, sheet_id: int, wanted: str, most: int = 60) -> list[WordView]:
    """Where a sheet says something: words that hold what is wanted, whatever their case; several must
    follow one another."""
    sheet, parts = find_sheet(actor, sheet_id), wanted.lower().split()
    if not parts:
        return []
    words = words_on(sheet.revision.file_id, sheet.page, sheet.hidden)
    found = []
    for at in range(len(words) - len(parts) + 1):
        run = words[at : at + len(parts)]
        if all(part in word[0].lower() for part, word in zip(parts, run, strict=True)):
            left, bottom = min(w[1] for w in run), min(w[2] for w in run)
            right, top = max(w[1] + w[3] for w in run), max(w[2] + w[4] for w in run)
            found.append(WordView(text=" ".join(w[0] for w in run), box=[left, bottom, right, top]))
    return found[:most]


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


def _view(sheet: Sheet, figures: int, near: int) -> SheetView:
    return SheetView(
        id=sheet.id, version=sheet.version, drawing=sheet.revision.drawing_id,
        number=sheet.revision.drawing.number,
        letter=sheet.revision.letter, page=sheet.page,
        tile_key=_tile_key(sheet.revision.file.sha256, sheet.hidden)[:12],
        title=sheet.title, width=sheet.width, height=sheet.height,
        metres_per_unit=sheet.metres_per_unit,
        ratio=scale.ratio_of(sheet.metres_per_unit) if sheet.metres_per_unit else None,
        ratio_up=scale.ratio_of(sheet.metres_per_unit_y) if sheet.metres_per_unit_y else None,
        scale=_scale_words(sheet),
        scale_source=sheet.scale_source, figures=figures, near=near,
    )  # fmt: skip


def tile(actor: Actor, sheet_id: int, zoom: int, column: int, row: int) -> bytes:
    """A tile of a sheet as PNG (see :func:`sandscale.formats.pdf.tile`)."""
    found = (
        Sheet.select(Sheet.page, Sheet.hidden, StoredFile.id, StoredFile.sha256, StoredFile.media_type)
        .join(Revision)
        .join(StoredFile)
        .where((Sheet.id == sheet_id) & (Sheet.project == actor.project_id))
        .tuples()
        .first()
    )
    if found is None:
        raise Missing("That sheet is not in this project any more.")
    page, hidden, file_id, sha256, media_type = found
    if media_type == drawing_file.DXF:
        # Its readers know the DXF itself by its hash.
        media_type, key = drawing_file.PDF, f"drawn {_tile_key(sha256, hidden)}"
        return _tile(lambda: drawn_pdf(file_id, hidden), key, media_type, page, zoom, column, row)
    whole = lambda: bytes(StoredFile.get_by_id(file_id).content)  # noqa: E731
    return _tile(whole, sha256, media_type, page, zoom, column, row)


def _tile(fetch: Callable[[], bytes], key: str, media_type: str, page: int, *at: int) -> bytes:
    return apart.readers.call(
        drawing_file.tile, fetch, key, media_type, key, page, *at, limits=apart.DRAWING, page=page
    )


def _tile_key(sha256: str, hidden: Sequence[str]) -> str:
    """What the tiles of a file are known by: others where some of its layers are hidden."""
    if not hidden:
        return sha256
    return hashlib.sha256("\n".join([sha256, *sorted(hidden)]).encode()).hexdigest()
