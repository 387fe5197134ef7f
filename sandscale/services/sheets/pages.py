"""What the pages of a drawing's file hold: read beside the request, and kept."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...core.figures.line_drawing import LineDrawing
from ...formats import apart, drawing_file, dxf_sheet, pdf, pdf_layers
from ...formats.page import UnreadableDrawing
from ...reports import line_drawing_pdf
from ...store.models import PageContent, Sheet, StoredFile

PAGE_CONTENT = "page_content"  # the job that reads what a file's pages hold
Told = Callable[[float], None]
Word = tuple[str, float, float, float, float]


@dataclass(frozen=True)
class FilePage:
    """A page of a drawing's file, in sheet units; where the file knows it, at its scale. ``content`` is what
    it holds, where that is read at once."""

    number: int
    width: float
    height: float
    metres_per_unit: float | None = None
    scale_source: str = ""
    hidden: Sequence[str] = ()
    content: dict[str, Any] | None = field(default=None, repr=False)


def pages_of(content: bytes, name: str, told: Told | None = None) -> tuple[str, list[FilePage]]:
    """The media type and the pages of a drawing's file.

    Raises:
        UnreadableDrawing: it can't be taken; the sentence says why.
    """
    if drawing_file.is_dxf(content):
        drawing = _drawn(content, name, told)
        hidden = [layer.name for layer in drawing.layers if not layer.shown]
        return drawing_file.DXF, [
            FilePage(
                1, drawing.width, drawing.height, drawing.metres_per_unit, drawing.scale_source, hidden,
                _content(drawing),
            )
        ]  # fmt: skip
    media_type, pages = apart.read(drawing_file.read_pages, content, name)
    return media_type, [FilePage(page.number, page.width, page.height) for page in pages]


def _drawn(content: bytes, name: str, told: Told | None) -> LineDrawing:
    made: Any = apart.read(dxf_sheet.read, content, name, limits=apart.DRAWN_ANEW, page=1, told=told)
    drawing: LineDrawing = made
    return drawing


def _content(drawing: LineDrawing) -> dict[str, Any]:
    segments, layers = drawing.segments(pdf.MOST_SEGMENTS)
    said = [drawing.said] if drawing.said else []
    if drawing.line_count > len(segments):
        said.append(f"Only the longest {len(segments):,} of its lines are points to snap to.")
    return {
        "segments": segments.tobytes(), "segment_layers": layers.tobytes(),
        "words": drawing.words()[: pdf.MOST_WORDS], "said": " ".join(said),
        "layers": [list(layer) for layer in drawing.layers], "drawn": line_drawing_pdf.write(drawing),
    }  # fmt: skip


def read_page_content(file_id: int, page: int, told: Told | None = None) -> None:
    """Read what a page holds and keep it; a job's work. Reading it again changes nothing."""
    file = StoredFile.get_or_none(StoredFile.id == file_id)
    kept = (PageContent.file == file_id) & (PageContent.page == page)
    if file is None or PageContent.select().where(kept).exists():
        return
    content = bytes(file.content)
    try:
        if file.media_type == drawing_file.DXF:
            return keep_page_content(file_id, page, **_content(_drawn(content, file.name, told)))
        given = (file.media_type, file.name, page)
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


_SEEN = (PageContent.segments, PageContent.segment_layers, PageContent.layers, PageContent.words)


def _kept(file_id: int, page: int) -> PageContent | None:
    """What a page holds, but for the page drawn."""
    mine = (PageContent.file == file_id) & (PageContent.page == page)
    found: PageContent | None = PageContent.select(*_SEEN).where(mine).first()
    return found


def lines_on(file_id: int, page: int, hidden: Collection[str] = ()) -> NDArray[np.float32]:
    """The line work of a page, n × 4 in sheet units, but for that on hidden layers; none until it was
    read."""
    kept = _kept(file_id, page)
    if kept is None:
        return np.zeros((0, 4), np.float32)
    lines = np.frombuffer(bytes(kept.segments), np.float32).reshape(-1, 4)
    if hidden and (unseen := _unseen(kept, hidden)):
        layers = np.frombuffer(bytes(kept.segment_layers), np.uint16)
        lines = lines[~np.isin(layers, unseen)]
    return lines


def words_on(file_id: int, page: int, hidden: Collection[str] = ()) -> list[Word]:
    """The words of a page with their boxes, but for those on hidden layers."""
    kept = _kept(file_id, page)
    if kept is None:
        return []
    unseen = set(_unseen(kept, hidden))
    return [tuple(word[:5]) for word in kept.words if len(word) < 6 or word[5] not in unseen]


def layers_of(file_id: int) -> list[tuple[str, bool]]:
    """The layers of a file, and whether it shows each itself; none of one that has none, or wasn't read."""
    kept = PageContent.select(PageContent.layers).where(PageContent.file == file_id).first()
    return [(name, shown) for name, shown in kept.layers] if kept else []


def _unseen(kept: PageContent, hidden: Collection[str]) -> list[int]:
    return [at for at, (name, _) in enumerate(kept.layers) if name in hidden]


def drawn_pdf(file_id: int, hidden: Collection[str]) -> bytes:
    """The PDF that a DXF was drawn as, some of its layers hidden.

    Raises:
        UnreadableDrawing: it wasn't drawn yet, or can't be.
    """
    kept = PageContent.select(PageContent.drawn, PageContent.said).where(PageContent.file == file_id).first()
    if kept is not None and kept.drawn is None:
        raise UnreadableDrawing(kept.said, field="file")
    if kept is None:
        raise UnreadableDrawing(
            "This drawing is being drawn.", field="file", remedy="Look again in a moment."
        )
    return pdf_layers.without(bytes(kept.drawn), hidden)


def printed(sheet: Sheet) -> tuple[bytes, bool]:
    """What a sheet is printed from: a PDF, or a file of pictures, and whether it is one of these."""
    file = sheet.revision.file
    if file.media_type == drawing_file.DXF:
        return drawn_pdf(file.id, sheet.hidden), False
    return bytes(file.content), file.media_type != drawing_file.PDF
