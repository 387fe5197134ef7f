"""Reading a scanned drawing: PNG, JPEG, or TIFF of many pages, and square tiles of a page at a zoom.

A page is as large as its resolution says, 150 dots an inch where it says none. Its size is read from the
header before a pixel is decoded, so that a small file that would unfold into a huge picture is refused."""

from __future__ import annotations

import io
import struct
import threading
import warnings
from collections import OrderedDict

from PIL import Image, ImageOps, UnidentifiedImageError

from .page import LARGEST_SIDE, TILE, Page, UnreadableDrawing, framed, tile_corner

LARGEST_FILE = 80 * 1024 * 1024
MOST_PIXELS = 180_000_000  # an A0 sheet at 300 dots an inch has 140 million
MOST_PAGES = 100
USUAL_DPI = 150.0
MEDIA_TYPES = {"PNG": "image/png", "JPEG": "image/jpeg", "TIFF": "image/tiff", "MPO": "image/jpeg"}
_SIGNS = (b"\x89PNG\r\n\x1a\n", b"\xff\xd8\xff", b"II*\x00", b"MM\x00*")
_KEPT_PICTURES = 2

_BROKEN = (UnidentifiedImageError, OSError, ValueError, SyntaxError, KeyError, TypeError, struct.error)
_lock = threading.Lock()
_kept: OrderedDict[tuple[str, int], list[Image.Image]] = OrderedDict()
Image.MAX_IMAGE_PIXELS = MOST_PIXELS


def is_image(content: bytes) -> bool:
    """Whether a file begins like a PNG, JPEG or TIFF."""
    return content.startswith(_SIGNS)


def read_pages(content: bytes, name: str) -> tuple[str, list[Page]]:
    """The media type and the pages of a scanned drawing.

    Raises:
        UnreadableDrawing: it is too large, broken, or of a size no sheet has.
    """
    if len(content) > LARGEST_FILE:
        raise UnreadableDrawing(
            f"“{name}” is larger than {LARGEST_FILE // 2**20} MB.",
            field="file",
            remedy="Save it at a lower resolution.",
        )
    try:
        with _opened(content, name) as image:
            media_type = MEDIA_TYPES[str(image.format)]
            frames = getattr(image, "n_frames", 1)
            if frames > MOST_PAGES:
                raise UnreadableDrawing(
                    f"“{name}” has {frames} pages; up to {MOST_PAGES} are taken.",
                    field="file",
                    remedy="Split it.",
                )
            pages = []
            for number in range(1, frames + 1):
                _turn_to(image, number, name)
                pages.append(Page(number, *_size(image)))
    except _BROKEN:
        raise UnreadableDrawing(
            f"“{name}” is broken and can't be opened.",
            field="file",
            remedy="Ask for it again, or save it anew.",
        ) from None
    for page in pages:
        if not (1 <= page.width <= LARGEST_SIDE and 1 <= page.height <= LARGEST_SIDE):
            raise UnreadableDrawing(
                f"Page {page.number} of “{name}” is {page.width / 72:.1f} × {page.height / 72:.1f} "
                "inches, which is no paper size.",
                field="file",
            )
    # The pixels themselves are decoded once, so that a picture broken half way is refused here and not on the
    # desk.
    _copies(content, 1, name)
    return media_type, pages


def tile(content: bytes, key: str, page: int, zoom: int, column: int, row: int) -> bytes:
    """A tile of a page as PNG, as :func:`sandscale.formats.pdf.tile` gives it.

    Raises:
        UnreadableDrawing: the page or tile doesn't exist.
    """
    levels = _pyramid(content, key, page, "The drawing")
    width, height = _size(levels[0])
    scale, left, top = tile_corner(zoom, column, row, width, height)
    span = TILE / scale
    # The smallest copy that still has a pixel of its own for each of the tile's.
    level = next((each for each in reversed(levels) if each.width / width >= scale), levels[0])
    density = level.width / width
    right, bottom = min(left + span, width), min(top + span, height)
    box = (left * density, top * density, right * density, bottom * density)
    size = (max(1, round((right - left) * scale)), max(1, round((bottom - top) * scale)))
    return framed(level.resize(size, Image.Resampling.BILINEAR, box=box))


def page_picture(content: bytes, page: int, name: str) -> bytes:
    """A page as it is seen, as PNG, to be put into a document."""
    out = io.BytesIO()
    _copies(content, page, name)[0].save(out, "PNG")
    return out.getvalue()


def _pyramid(content: bytes, key: str, page: int, name: str) -> list[Image.Image]:
    """A page's copies, a few pages kept at hand."""
    with _lock:
        levels = _kept.pop((key, page), None) or _copies(content, page, name)
        _kept[key, page] = levels
        while len(_kept) > _KEPT_PICTURES:
            _kept.popitem(last=False)
        return levels


def _copies(content: bytes, page: int, name: str) -> list[Image.Image]:
    """A page decoded, and copies at half, a quarter … of its size."""
    with _opened(content, name) as image:
        _turn_to(image, page, name)
        dpi = image.info.get("dpi")
        try:
            whole = ImageOps.exif_transpose(image)
            whole = whole.convert("L" if whole.mode in ("1", "L", "I;16", "I", "F") else "RGB")
        except (*_BROKEN, MemoryError):
            raise UnreadableDrawing(
                f"“{name}” is broken: its picture ends early.", field="file", remedy="Ask for it again."
            ) from None
    if dpi:
        whole.info["dpi"] = dpi
    levels = [whole]
    while min(levels[-1].size) > TILE:
        levels.append(levels[-1].reduce(2))
    return levels


def _opened(content: bytes, name: str) -> Image.Image:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(content), formats=("PNG", "JPEG", "TIFF", "MPO"))
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        raise UnreadableDrawing(
            f"“{name}” would unfold into more than {MOST_PIXELS // 1_000_000} million pixels.",
            field="file",
            remedy="Save it at a lower resolution.",
        ) from None
    except _BROKEN:
        raise UnreadableDrawing(
            f"“{name}” is broken and can't be opened.",
            field="file",
            remedy="Ask for it again, or save it anew.",
        ) from None
    return image


def _turn_to(image: Image.Image, page: int, name: str) -> None:
    try:
        image.seek(page - 1)
    except (EOFError, OSError, ValueError, SyntaxError):
        raise UnreadableDrawing(f"“{name}” has no page {page}.", field="page") from None
    if image.width * image.height > MOST_PIXELS:
        raise UnreadableDrawing(
            f"Page {page} of “{name}” would unfold into more than {MOST_PIXELS // 1_000_000} million pixels.",
            field="file",
            remedy="Save it smaller.",
        )


def _size(image: Image.Image) -> tuple[float, float]:
    """A picture's size in sheet units, turned as it is seen; a resolution out of reason is taken as none."""
    across, up = image.info.get("dpi") or (USUAL_DPI, USUAL_DPI)
    across, up = (float(dpi) if 20 <= float(dpi) <= 2400 else USUAL_DPI for dpi in (across, up))
    width, height = image.width / across * 72, image.height / up * 72
    turned = image.format in ("JPEG", "MPO", "TIFF") and image.getexif().get(0x0112, 1) >= 5
    return (height, width) if turned else (width, height)
