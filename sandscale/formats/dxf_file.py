"""A DXF file opened: mended where it can be, its unit known."""

from __future__ import annotations

import io
import logging
import re
import struct
import threading
from typing import Any

import ezdxf
from ezdxf import recover
from ezdxf.document import Drawing
from ezdxf.lldxf.tagger import binary_tags_loader

_BINARY = b"Binary DXF\r\n\x1a\x00"
# After any comments. Line by line: each can be read in one way only, so that no file takes long.
_BEGUN = re.compile(rb"\A(?:\xef\xbb\xbf)?(?:[ \t]*999[ \t]*\r?\n[^\n]*\n)*[ \t]*0[ \t]*\r?\n[ \t]*SECTION\s")
# Factors to m of the drawing units a header names ($INSUNITS of the DXF reference); 0 is none named.
UNITS = {
    0: 1.0,
    1: 0.0254,
    2: 0.3048,
    4: 0.001,
    5: 0.01,
    6: 1.0,
    7: 1000.0,
    10: 0.9144,
    14: 0.1,
    21: 1200 / 3937,
}
BROKEN = (
    ezdxf.DXFError,
    ValueError,
    TypeError,
    KeyError,
    IndexError,
    AttributeError,
    OverflowError,
    ZeroDivisionError,
    UnicodeError,
    RecursionError,
    AssertionError,
    struct.error,
)


def opened(content: bytes) -> tuple[Any, Any, int]:
    """The document, what was found wrong with it, and how many broken numbers were mended.

    Raises:
        Exception: one of ``BROKEN``, where it is no DXF or beyond repair.
    """
    with _Mended() as mended:
        if is_binary(content):
            document = Drawing.load(binary_tags_loader(content, errors="surrogateescape"))
            auditor = document.audit()
        else:
            document, auditor = recover.read(io.BytesIO(content))
    return document, auditor, mended.count


def is_dxf(content: bytes) -> bool:
    """Whether a file begins as a DXF does, text or binary."""
    return is_binary(content) or _BEGUN.match(content[:4096]) is not None


def is_binary(content: bytes) -> bool:
    """Whether a file begins as a binary DXF does."""
    return content[:30].find(_BINARY) > 0


def is_cut_off(content: bytes) -> bool:
    """Whether a DXF lacks its last words, by which it says that it is whole."""
    return b"EOF" not in content[-64:]


class _Mended(logging.Filter):
    """Counts the broken numbers that ezdxf mends while a file is read: it only logs them."""

    def __init__(self) -> None:
        super().__init__()
        self.count, self.thread, self.log = 0, threading.get_ident(), logging.getLogger("ezdxf")

    def filter(self, record: logging.LogRecord) -> bool:
        if record.thread == self.thread:
            self.count += str(record.msg).startswith("recovered invalid")
            return False
        return True

    def __enter__(self) -> _Mended:
        self.log.addFilter(self)
        return self

    def __exit__(self, *_: object) -> None:
        self.log.removeFilter(self)
