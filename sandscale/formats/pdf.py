"""Reading a PDF drawing with PDFium: its pages, and square tiles of a page at a zoom.

A page is seen as it is printed: rotated and cropped as the file says, its origin at the lower left,
one sheet unit 1/72 inch. PDFium is not thread-safe, and a file may hang it: it is called in a process of its
own (:mod:`.apart`), one file at a time.
"""

from __future__ import annotations

import ctypes
import math
from collections import OrderedDict
from collections.abc import Iterable
from typing import Any

import numpy as np
import pypdfium2 as pdfium
import pypdfium2.raw as raw
from numpy.typing import NDArray

from .page import LARGEST_SIDE, TILE, Page, PageContent, UnreadableDrawing, framed, tile_corner

LARGEST_FILE = 80 * 1024 * 1024
MOST_PAGES = 400
MOST_SEGMENTS, MOST_CHARACTERS, MOST_WORDS = 120_000, 200_000, 20_000
DEEPEST_FORM = 8  # form objects within form objects
SHORTEST = 0.2  # sheet units; shorter strokes are no line to measure on
CHORDS = 8  # a curve
_KEPT_DOCUMENTS, _KEPT_PAGES = 8, 6

_open: OrderedDict[str, tuple[pdfium.PdfDocument, OrderedDict[int, pdfium.PdfPage]]] = OrderedDict()


class UnreadablePdf(UnreadableDrawing):
    """A PDF that can't be taken in as a drawing."""


def read_pages(content: bytes, name: str) -> list[Page]:
    """The pages of a PDF.

    Args:
        content: the file.
        name: what the user calls it, for sentences.

    Raises:
        UnreadablePdf: it is too large, no PDF, broken, encrypted, empty, or has too many or too large pages.
    """
    if len(content) > LARGEST_FILE:
        raise UnreadablePdf(
            f"“{name}” is larger than {LARGEST_FILE // 2**20} MB.",
            field="file",
            remedy="Print it to a smaller PDF, or split it.",
        )
    if b"%PDF-" not in content[:1024]:
        raise UnreadablePdf(f"“{name}” is not a PDF.", field="file", remedy="Choose the PDF of the drawing.")
    document = _document(content, name)
    try:
        if not 1 <= len(document) <= MOST_PAGES:
            raise UnreadablePdf(
                f"“{name}” has {len(document)} pages; one drawing holds at most {MOST_PAGES}."
                if len(document)
                else f"“{name}” has no pages.",
                field="file",
                remedy="Split it, and bring its parts in one by one."
                if len(document)
                else "Print it to a PDF again.",
            )
        pages = [
            Page(number, *_opened(document, number, name).get_size())
            for number in range(1, len(document) + 1)
        ]
    finally:
        document.close()
    for page in pages:
        if not (1 <= page.width <= LARGEST_SIDE and 1 <= page.height <= LARGEST_SIDE):
            raise UnreadablePdf(
                f"Page {page.number} of “{name}” is {page.width / 72:.0f} × {page.height / 72:.0f} "
                "inches, which is no paper size.",
                field="file",
                remedy="Print it to a PDF at the size of its paper, A0 or smaller.",
            )
    return pages


def tile(content: bytes, key: str, page: int, zoom: int, column: int, row: int) -> bytes:
    """A tile of a page as PNG, 256 pixels square, white beyond the page's edge.

    Args:
        content: the file.
        key: what to remember the open document by, such as the file's hash.
        page: the page's number from 1.
        zoom: 0 to 6; a sheet unit is 2**(zoom − 2) pixels.
        column: tiles to the right of the page's left edge.
        row: tiles down from the page's top edge.

    Raises:
        UnreadableDrawing: the page or tile doesn't exist.
    """
    opened = _page(content, key, page)
    width, height = opened.get_size()
    scale, left, top = tile_corner(zoom, column, row, width, height)
    crop = (left, max(0.0, height - top - TILE / scale), max(0.0, width - left - TILE / scale), top)
    return framed(opened.render(scale=scale, crop=crop, draw_annots=True).to_pil())


def let_go(key: str) -> None:
    """Close what is kept open of a file."""
    if kept := _open.pop(key, None):
        kept[0].close()


def _page(content: bytes, key: str, page: int) -> pdfium.PdfPage:
    """A page, kept open with its document: opening one means reading all of its lines."""
    document, pages = _open.pop(key, None) or (_document(content, "The drawing"), OrderedDict())
    _open[key] = (document, pages)
    while len(_open) > _KEPT_DOCUMENTS:
        _open.popitem(last=False)[1][0].close()
    opened = pages.pop(page, None) or _opened(document, page, "The drawing")
    pages[page] = opened
    while len(pages) > _KEPT_PAGES:
        pages.popitem(last=False)[1].close()
    return opened


def _opened(document: pdfium.PdfDocument, page: int, name: str) -> pdfium.PdfPage:
    if not 1 <= page <= len(document):
        raise UnreadablePdf(f"“{name}” has no page {page}.", field="page")
    try:
        return document[page - 1]
    except pdfium.PdfiumError:
        raise UnreadablePdf(
            f"Page {page} of “{name}” is missing from the file, or broken.",
            field="file",
            remedy="Ask for it again, or print it to a new PDF.",
        ) from None


def page_content(content: bytes, name: str, page: int) -> PageContent:
    """The line work and words of a page, for snapping and searching.

    Raises:
        UnreadablePdf: the file is broken or has no such page.
    """
    document = _document(content, name)
    try:
        opened = _opened(document, page, name)
        seen = _Seen(opened)
        segments = _Segments(seen)
        segments.read_page(opened)
        words = _words(opened, seen)
    finally:
        document.close()
    return PageContent(segments.array(), words, segments.said)


class _Seen:
    """From a page's own coordinates to the page as it is seen: cropped and rotated."""

    def __init__(self, page: pdfium.PdfPage) -> None:
        self.left, self.bottom, right, top = page.get_cropbox()
        self.wide, self.high = right - self.left, top - self.bottom
        self.quarter = page.get_rotation() // 90 % 4

    def point(self, x: float, y: float) -> tuple[float, float]:
        x, y = x - self.left, y - self.bottom
        return ((x, y), (y, self.wide - x), (self.wide - x, self.high - y), (self.high - y, x))[self.quarter]


Matrix = tuple[float, float, float, float, float, float]


def _times(m: Matrix, n: Matrix) -> Matrix:
    """The matrix that applies m, then n."""
    return (
        m[0] * n[0] + m[1] * n[2], m[0] * n[1] + m[1] * n[3], m[2] * n[0] + m[3] * n[2],
        m[2] * n[1] + m[3] * n[3],
        m[4] * n[0] + m[5] * n[2] + n[4], m[4] * n[1] + m[5] * n[3] + n[5],
    )  # fmt: skip


class _Segments:
    """Collects the straight segments of a page's paths, down into its form objects."""

    def __init__(self, seen: _Seen) -> None:
        self.seen, self.said = seen, ""
        self.found: list[tuple[float, float, float, float]] = []

    def array(self) -> NDArray[np.float32]:
        return np.array(self.found, dtype=np.float32).reshape(-1, 4)

    def read_page(self, page: pdfium.PdfPage) -> None:
        count = raw.FPDFPage_CountObjects(page)
        self._objects((raw.FPDFPage_GetObject(page, at) for at in range(count)), (1, 0, 0, 1, 0, 0), 0)

    def _objects(self, objects: Iterable[Any], outer: Matrix, depth: int) -> None:
        for each in objects:
            if len(self.found) >= MOST_SEGMENTS:
                self.said = f"Only the first {MOST_SEGMENTS:,} lines of the page are points to snap to."
                return
            own = raw.FS_MATRIX()
            kind = raw.FPDFPageObj_GetType(each)
            if kind not in (raw.FPDF_PAGEOBJ_PATH, raw.FPDF_PAGEOBJ_FORM) or not raw.FPDFPageObj_GetMatrix(
                each, own
            ):
                continue
            matrix = _times((own.a, own.b, own.c, own.d, own.e, own.f), outer)
            if kind == raw.FPDF_PAGEOBJ_PATH:
                self._path(each, matrix)
            elif depth < DEEPEST_FORM:
                count = raw.FPDFFormObj_CountObjects(each)
                self._objects((raw.FPDFFormObj_GetObject(each, at) for at in range(count)), matrix, depth + 1)

    def _path(self, path: Any, m: Matrix) -> None:
        x, y = ctypes.c_float(), ctypes.c_float()
        start = last = None
        curve: list[tuple[float, float]] = []
        for at in range(raw.FPDFPath_CountSegments(path)):
            segment = raw.FPDFPath_GetPathSegment(path, at)
            raw.FPDFPathSegment_GetPoint(segment, x, y)
            point = self.seen.point(
                x.value * m[0] + y.value * m[2] + m[4], x.value * m[1] + y.value * m[3] + m[5]
            )
            kind = raw.FPDFPathSegment_GetType(segment)
            if kind == raw.FPDF_SEGMENT_MOVETO:
                start = last = point
            elif kind == raw.FPDF_SEGMENT_BEZIERTO and last is not None:
                curve.append(point)
                if len(curve) == 3:
                    self._curve(last, curve)
                    last, curve = point, []
            elif last is not None:
                self._add(last, point)
                last = point
            if raw.FPDFPathSegment_GetClose(segment) and start is not None and last is not None:
                self._add(last, start)
                last = start

    def _curve(self, start: tuple[float, float], rest: list[tuple[float, float]]) -> None:
        (x0, y0), (x1, y1), (x2, y2), (x3, y3) = start, *rest
        last = start
        for step in range(1, CHORDS + 1):
            t = step / CHORDS
            a, b, c, d = (1 - t) ** 3, 3 * (1 - t) ** 2 * t, 3 * (1 - t) * t**2, t**3
            point = (a * x0 + b * x1 + c * x2 + d * x3, a * y0 + b * y1 + c * y2 + d * y3)
            self._add(last, point)
            last = point

    def _add(self, a: tuple[float, float], b: tuple[float, float]) -> None:
        if math.dist(a, b) > SHORTEST and all(map(math.isfinite, (*a, *b))):
            self.found.append((*a, *b))


def _words(page: pdfium.PdfPage, seen: _Seen) -> list[tuple[str, float, float, float, float]]:
    """The words of a page with their boxes, left to right as the file has them."""
    text = page.get_textpage()
    try:
        number = min(text.count_chars(), MOST_CHARACTERS)
        letters = text.get_text_range(0, number, errors="replace") if number else ""
        words: list[tuple[str, float, float, float, float]] = []
        begun = 0
        for at in range(len(letters) + 1):
            if at < len(letters) and not letters[at].isspace():
                continue
            if at > begun and len(words) < MOST_WORDS:
                corners = [
                    seen.point(*c)
                    for box in (text.get_charbox(begun), text.get_charbox(at - 1))
                    for c in (box[:2], box[2:])
                ]
                xs, ys = [c[0] for c in corners], [c[1] for c in corners]
                words.append(
                    (
                        letters[begun:at],
                        *(round(v, 1) for v in (min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys))),
                    )
                )
            begun = at + 1
        return words
    finally:
        text.close()


def _document(content: bytes, name: str) -> pdfium.PdfDocument:
    try:
        return pdfium.PdfDocument(content)
    except pdfium.PdfiumError as error:
        if "password" in str(error).lower():
            raise UnreadablePdf(
                f"“{name}” is locked with a password.",
                field="file",
                remedy="Save a copy without one and bring that in.",
            ) from None
        raise UnreadablePdf(
            f"“{name}” is broken and can't be opened.",
            field="file",
            remedy="Ask for it again, or print it to a new PDF.",
        ) from None
