"""Drawings brought in, and revisions of them: what takes long is a job."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date
from typing import Any

from ...core.refusals import BadEntry
from ...formats import drawing_file
from ...formats.page import UnreadableDrawing
from ...store.models import Drawing, Revision, Sheet, StoredFile
from ..keeping import jobs
from ..keeping.acting import Actor, find, require_writer
from ..keeping.files import keep_file, take_what_is_known
from ..keeping.recording import action, recording
from ..keeping.views import JobView, Saved
from .pages import PAGE_CONTENT, FilePage, keep_page_content, pages_of

KIND = "drawing_in"
_ENDING = re.compile(r"\.(pdf|dxf|png|jpe?g|tiff?)$", re.IGNORECASE)


def add_drawing(actor: Actor, name: str, content: bytes, received: date) -> Saved:
    """Bring a PDF, PNG, JPEG or TIFF in as a drawing, revision A, with a sheet for every page.

    It is read before the project is locked: nobody waits for it.

    Raises:
        UnreadableDrawing: the file can't be taken (see :mod:`sandscale.formats.drawing_file`).
    """
    require_writer(actor)
    name = _plain(name)
    if drawing_file.is_dxf(content):
        raise UnreadableDrawing(
            f"“{name}” is a DXF under another name.", field="file", remedy="Give it a name that ends in .dxf."
        )
    return _keep_drawing(actor, name, content, received, *pages_of(content, name))


def _plain(name: str) -> str:
    """A file's name as it is kept."""
    return re.sub(r"[\x00-\x1f/\\]+", " ", name).strip(" .")[:120] or "drawing"


@action
def _keep_drawing(
    actor: Actor, name: str, content: bytes, received: date, media_type: str, pages: Sequence[FilePage]
) -> Saved:
    return _insert_drawing(actor, keep_file(actor.project_id, name, media_type, content), received, pages)


def _insert_drawing(actor: Actor, file: StoredFile, received: date, pages: Sequence[FilePage]) -> Saved:
    number = _ENDING.sub("", file.name).strip() or "drawing"
    with recording(actor, f"Drawing {number} brought in") as log:
        position = Drawing.select().where(Drawing.project == actor.project_id).count()
        drawing = log.insert(Drawing, number=number, position=position)
        revision = log.insert(Revision, drawing=drawing.id, letter="A", received=received, file=file.id)
        log.insert_all(Sheet, [sheet_fields(revision, page) for page in pages])
        have_read(actor, file.id, pages)
    return log.saved(drawing)


def sheet_fields(revision: Revision, page: FilePage) -> dict[str, Any]:
    """A new sheet of a revision, as the file has it."""
    return {
        "revision": revision.id, "page": page.number, "width": page.width, "height": page.height,
        "metres_per_unit": page.metres_per_unit, "scale_source": page.scale_source,
        "hidden": list(page.hidden),
    }  # fmt: skip


def have_read(actor: Actor, file_id: int, pages: Sequence[FilePage]) -> None:
    """Keep what was read of a file's pages, and have the others read."""
    for page in pages:
        if page.content is not None:
            keep_page_content(file_id, page.number, **page.content)
    if take_what_is_known(file_id) < len(pages):
        jobs.begin(actor, PAGE_CONTENT, {"file": file_id, "page": 1, "of": len(pages)})


def ask_to_bring_in(actor: Actor, name: str, content: bytes) -> JobView:
    """Have a DXF drawn and brought in as a drawing, revision A; a job.

    Raises:
        UnreadableDrawing: it is no DXF.
        Forbidden: the person may only look.
        Full: the project has no room for it.
    """
    if not drawing_file.is_dxf(content):
        raise UnreadableDrawing(
            f"“{name[:120]}” is no DXF.",
            field="file",
            remedy="Choose the drawing's DXF, or its PDF or picture.",
        )
    return _ask(actor, name, content, {})


def ask_to_revise(actor: Actor, drawing_id: int, name: str, content: bytes, letter: str) -> JobView:
    """Have a file brought in as the next revision of a drawing, laid over the one before; a job.

    Args:
        letter: what the revision is called; the next letter where it is empty.

    Raises:
        UnreadableDrawing: it is none of the kinds that are read.
        BadEntry: the drawing has that revision already.
        Forbidden: the person may only look.
        Full: the project has no room for it.
    """
    drawing = find(Drawing, actor, drawing_id)
    drawing_file.refuse_unknown(content, name[:120])
    taken = [revision.letter for revision in drawing.revisions.order_by(Revision.id)]
    letter = letter.strip()[:8].strip() or next_letter(taken)
    if letter in taken:
        raise BadEntry(
            f"{drawing.number} has a revision {letter} already.", field="letter", remedy="Call it otherwise."
        )
    return _ask(actor, name, content, {"drawing": drawing.id, "letter": letter})


def next_letter(taken: Sequence[str]) -> str:
    """What the revision after the last is called: C after B, 4 after 3."""
    last = taken[-1] if taken else ""
    if last.isdecimal():
        return str(int(last) + 1)
    if last and last[-1].upper() in "ABCDEFGHIJKLMNOPQRSTUVWXY":
        return f"{last[:-1]}{chr(ord(last[-1]) + 1)}"
    return f"{last}A"


@action
def _ask(actor: Actor, name: str, content: bytes, arguments: dict[str, Any]) -> JobView:
    name = _plain(name)
    kind = drawing_file.DXF if drawing_file.is_dxf(content) else drawing_file.PDF
    file = keep_file(actor.project_id, name, kind, content)
    job = jobs.ask_for(actor, KIND, {"brought": file.id, **arguments})
    return jobs.view(actor, job.id)


@action
def bring_in(actor: Actor, file: StoredFile, pages: Sequence[FilePage], received: date) -> Saved:
    """Make a file that was read a drawing, revision A."""
    return _insert_drawing(actor, file, received, pages)
