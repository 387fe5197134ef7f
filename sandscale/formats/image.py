"""Reading a scanned drawing: PNG, JPEG, or TIFF of many pages, and square tiles of a page at a zoom.

A page is as large as its resolution says, 150 dots an inch where it says none; a fax has another one across
than up. Its size is read from the header before a pixel is decoded, so that a small file that would unfold
into a huge picture is refused; pictures are decoded one at a time on a machine."""

from __future__ import annotations

import fcntl
import io
import os
import struct
import tempfile
import warnings
from collections import OrderedDict
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image, ImageOps, UnidentifiedImageError

from .page import LARGEST_SIDE, TILE, Page, UnreadableDrawing, framed, tile_corner

LARGEST_FILE = 80 * 1024 * 1024
MOST_PIXELS = 180_000_000  # an A0 sheet at 300 dots an inch has 140 million
MOST_BYTES = 600_000_000  # decoded
MOST_PAGES = 100
USUAL_DPI = 150.0
MEDIA_TYPES = {"PNG": "image/png", "JPEG": "image/jpeg", "TIFF": "image/tiff", "MPO": "image/jpeg"}
_SIGNS = (b"\x89PNG\r\n\x1a\n", b"\xff\xd8\xff", b"II*\x00", b"MM\x00*")
_KEPT_BYTES = 700_000_000
_BYTES = {"1": 1, "L": 1, "P": 1, "I;16": 2, "I;16B": 2, "I;16L": 2}  # a pixel, decoded; others have 4

_BROKEN = (UnidentifiedImageError, OSError, ValueError, SyntaxError, KeyError, TypeError, struct.error)
Image.MAX_IMAGE_PIXELS = MOST_PIXELS


@dataclass(frozen=True)
class _Copies:
    """A page decoded, as it is seen, and copies at half, a quarter … of its size; its own in sheet units."""

    width: float
    height: float
    levels: list[Image.Image]

    @property
    def bytes(self) -> int:
        return sum(each.width * each.height * _BYTES.get(each.mode, 4) for each in self.levels)


_kept: OrderedDict[tuple[str, int], _Copies] = OrderedDict()


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
                    f"“{name}” has {frames} pages; one drawing holds at most {MOST_PAGES}.",
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
                remedy="Save it with the density it was scanned at, such as 300 dots per inch.",
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
    copies = _pyramid(content, key, page, "The drawing")
    width, height = copies.width, copies.height
    scale, left, top = tile_corner(zoom, column, row, width, height)
    span = TILE / scale
    # The smallest copy that still has a pixel of its own for each of the tile's, across and up.
    fine = [each for each in copies.levels if min(each.width / width, each.height / height) >= scale]
    level = fine[-1] if fine else copies.levels[0]
    across, up = level.width / width, level.height / height
    right, bottom = min(left + span, width), min(top + span, height)
    box = (left * across, top * up, right * across, bottom * up)
    size = (max(1, round((right - left) * scale)), max(1, round((bottom - top) * scale)))
    return framed(level.resize(size, Image.Resampling.BILINEAR, box=box))


def page_picture(content: bytes, page: int, name: str) -> bytes:
    """A page as it is seen, as PNG, to be put into a document."""
    out = io.BytesIO()
    _copies(content, page, name).levels[0].save(out, "PNG")
    return out.getvalue()


def let_go(key: str) -> None:
    """Forget what is kept of a file."""
    for kept in [each for each in _kept if each[0] == key]:
        del _kept[kept]


def _pyramid(content: bytes, key: str, page: int, name: str) -> _Copies:
    """A page's copies; those of the last pages are kept."""
    copies = _kept.pop((key, page), None)
    if copies is None:
        _kept.clear()  # first, so that the memory is free for the next
        copies = _copies(content, page, name)
    _kept[key, page] = copies
    while len(_kept) > 1 and sum(each.bytes for each in _kept.values()) > _KEPT_BYTES:
        _kept.popitem(last=False)
    return copies


def _copies(content: bytes, page: int, name: str) -> _Copies:
    """A page decoded, and its copies."""
    with _opened(content, name) as image, _one_at_a_time():
        _turn_to(image, page, name)
        width, height = _size(image)
        try:
            image.load()
            ImageOps.exif_transpose(image, in_place=True)
            whole = _in_eight_bits(image)
        except _BROKEN:
            raise UnreadableDrawing(
                f"“{name}” is broken: its picture ends early.", field="file", remedy="Ask for it again."
            ) from None
    levels = [whole]
    while min(levels[-1].size) > TILE:
        levels.append(levels[-1].reduce(2))
    return _Copies(width, height, levels)


def _in_eight_bits(image: Image.Image) -> Image.Image:
    """A picture as grey or colour of eight bits; of sixteen, the upper eight are kept."""
    if image.mode.startswith("I"):
        values = np.asarray(image)
        shift = 8 if image.mode != "I" or values.max(initial=0) > 255 else 0
        grey = np.empty(values.shape, np.uint8)
        np.right_shift(values, shift, out=grey, casting="unsafe")
        return Image.fromarray(grey)
    wanted = "L" if image.mode in ("1", "L", "F") else "RGB"
    return image if image.mode == wanted else image.convert(wanted)


@contextmanager
def _one_at_a_time() -> Iterator[None]:
    """Whatever process of this user's decodes a picture, others wait for it."""
    with open(Path(tempfile.gettempdir()) / f"sandscale-{os.getuid()}-picture.lock", "a") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield


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
    pixels = image.width * image.height
    if pixels > MOST_PIXELS or pixels * _BYTES.get(image.mode, 4) > MOST_BYTES:
        raise UnreadableDrawing(
            f"Page {page} of “{name}” unfolds into {pixels / 1e6:.0f} million pixels, more than is taken.",
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
