"""A PDF's layers, hidden and shown."""

from __future__ import annotations

import io
from collections.abc import Collection

from pypdf import PdfReader, PdfWriter
from pypdf.generic import ArrayObject, NameObject


def without(content: bytes, hidden: Collection[str]) -> bytes:
    """A PDF with layers hidden, by their names; itself where none is."""
    if not hidden:
        return content
    writer = PdfWriter(clone_from=PdfReader(io.BytesIO(content)))
    told = writer.root_object["/OCProperties"]
    groups = [group for group in told["/OCGs"] if group.get_object()["/Name"] in hidden]
    told["/D"][NameObject("/OFF")] = ArrayObject(groups)
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()
