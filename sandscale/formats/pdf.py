"""Reading a PDF drawing with PDFium: its pages, and square tiles of a page at a zoom.

A page is seen as it is printed: rotated and cropped as the file says, its origin at the lower left,
one sheet unit 1/72 inch. PDFium is not thread-safe, so one lock guards every call.
"""

from __future__ import annotations

import io
import threading
from collections import OrderedDict
from dataclasses import dataclass

import pypdfium2 as pdfium
from PIL import Image

from ..core.refusals import Refusal

LARGEST_FILE = 80 * 1024 * 1024
MOST_PAGES = 400
LARGEST_SIDE = 14_400.0  # sheet units: 200 inches, the largest page a PDF has without a user unit
TILE = 256  # pixels
DEEPEST_ZOOM = 6  # at zoom z a sheet unit is 2**(z − 2) pixels
_KEPT_DOCUMENTS = 8

_lock = threading.RLock()
_open: OrderedDict[str, pdfium.PdfDocument] = OrderedDict()


class UnreadablePdf(Refusal):
    """A file that can't be taken in as a drawing."""


@dataclass(frozen=True)
class Page:
    """One page: its number from 1, its size in sheet units."""

    number: int
    width: float
    height: float


def read_pages(content: bytes, name: str) -> list[Page]:
    """The pages of a PDF.

    Args:
        content: the file.
        name: what the user calls it, for sentences.

    Raises:
        UnreadablePdf: it is too large, no PDF, broken, encrypted, empty, or has too many or too large pages.
    """
    if len(content) > LARGEST_FILE:
        raise UnreadablePdf(f"“{name}” is larger than {LARGEST_FILE // 2**20} MB.", field="file", remedy="Print it to a smaller PDF, or split it.")
    if b"%PDF-" not in content[:1024]:
        raise UnreadablePdf(f"“{name}” is not a PDF.", field="file", remedy="Choose the PDF of the drawing.")
    with _lock:
        document = _document(content, name)
        try:
            if not 1 <= len(document) <= MOST_PAGES:
                raise UnreadablePdf(f"“{name}” has {len(document)} pages; 1 to {MOST_PAGES} are taken.", field="file", remedy="Split it.")
            pages = [Page(number + 1, *document.get_page_size(number)) for number in range(len(document))]
        finally:
            document.close()
    for page in pages:
        if not (1 <= page.width <= LARGEST_SIDE and 1 <= page.height <= LARGEST_SIDE):
            raise UnreadablePdf(
                f"Page {page.number} of “{name}” is {page.width / 72:.0f} × {page.height / 72:.0f} inches, which is no paper size.", field="file"
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
        UnreadablePdf: the page or tile doesn't exist.
    """
    scale = 2.0 ** (zoom - 2)
    with _lock:
        document = _open.pop(key, None) or _document(content, "The drawing")
        _open[key] = document
        while len(_open) > _KEPT_DOCUMENTS:
            _open.popitem(last=False)[1].close()
        if not 1 <= page <= len(document):
            raise UnreadablePdf(f"The drawing has no page {page}.", field="page")
        width, height = document.get_page_size(page - 1)
        left, top = column * TILE / scale, row * TILE / scale
        if not (0 <= zoom <= DEEPEST_ZOOM and 0 <= left < width and 0 <= top < height):
            raise UnreadablePdf("That tile is off the sheet.", field="tile")
        crop = (left, max(0.0, height - top - TILE / scale), max(0.0, width - left - TILE / scale), top)
        opened = document[page - 1]
        try:
            picture = opened.render(scale=scale, crop=crop, draw_annots=True).to_pil()
        finally:
            opened.close()
    canvas = Image.new("RGB", (TILE, TILE), "white")
    canvas.paste(picture.convert("RGB"), (0, 0))
    out = io.BytesIO()
    canvas.quantize(64).save(out, "PNG", optimize=False, compress_level=1)
    return out.getvalue()


def _document(content: bytes, name: str) -> pdfium.PdfDocument:
    try:
        return pdfium.PdfDocument(content)
    except pdfium.PdfiumError as error:
        if "password" in str(error).lower():
            raise UnreadablePdf(f"“{name}” is locked with a password.", field="file", remedy="Save a copy without one and bring that in.") from None
        raise UnreadablePdf(f"“{name}” is broken and can't be opened.", field="file", remedy="Ask for it again, or print it to a new PDF.") from None
