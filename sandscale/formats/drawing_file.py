"""A drawing file of any kind that is read: PDF, PNG, JPEG, TIFF, DXF. Which it is, is seen from its first
bytes."""

from __future__ import annotations

import numpy as np

from . import dxf_sheet, image, pdf
from .dxf_file import is_dxf as is_dxf
from .page import Page, PageContent, UnreadableDrawing

LARGEST_FILE = max(image.LARGEST_FILE, pdf.LARGEST_FILE, dxf_sheet.LARGEST_FILE)
PDF, DXF = "application/pdf", "image/vnd.dxf"
MEDIA_TYPES = frozenset((PDF, DXF, *image.MEDIA_TYPES.values()))


def read_pages(content: bytes, name: str) -> tuple[str, list[Page]]:
    """The media type and the pages of a drawing; a DXF is drawn as one page, see :mod:`.dxf_sheet`.

    Raises:
        UnreadableDrawing: the file can't be taken; the sentence says why.
    """
    if image.is_image(content):
        return image.read_pages(content, name)
    refuse_unknown(content, name)
    return PDF, pdf.read_pages(content, name)


def refuse_unknown(content: bytes, name: str) -> None:
    """Refuse what is no drawing that is read, by its first bytes.

    Raises:
        UnreadableDrawing: it is none.
    """
    if not (image.is_image(content) or b"%PDF-" in content[:1024] or is_dxf(content)):
        raise UnreadableDrawing(
            f"“{name}” is not a PDF, DXF, PNG, JPEG or TIFF.",
            field="file",
            remedy="Choose the drawing's PDF, DXF or picture.",
        )


def tile(content: bytes, media_type: str, key: str, page: int, zoom: int, column: int, row: int) -> bytes:
    """A tile of a page as PNG (see :func:`sandscale.formats.pdf.tile`)."""
    reader = pdf if media_type == PDF else image
    return reader.tile(content, key, page, zoom, column, row)


def let_go(key: str) -> None:
    """Forget what is kept of a file for its tiles."""
    for reader in (pdf, image):
        reader.let_go(key)


def page_content(content: bytes, media_type: str, name: str, page: int) -> PageContent:
    """What a page holds; a picture holds nothing that can be read from it."""
    if media_type != PDF:
        return PageContent(np.zeros((0, 4), np.float32), [], "A picture has no lines to snap to.")
    return pdf.page_content(content, name, page)
