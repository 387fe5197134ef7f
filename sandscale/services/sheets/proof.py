"""What must hold of drawings and sheets from a project file."""

from __future__ import annotations

import hashlib

from ...core.figures.scale import prove as prove_scale
from ...core.numbers.entry import read_entry
from ...core.refusals import Refusal
from ...formats import apart, drawing_file
from ...store.models import Revision, ScaleArea, Sheet, StoredFile
from ..measure.actions.figures import geometry_of
from ..measure.measuring import scale_of


def prove(project_id: int) -> None:
    """Files are what they were and can be read; scale areas and proofs can be measured.

    Raises:
        Refusal: something doesn't hold.
    """
    drawn = Revision.select(Revision.file).where(Revision.project == project_id)
    for file in StoredFile.select().where(StoredFile.id << drawn):
        apart.read(drawing_file.read_pages, bytes(file.content), file.name)
    for file in StoredFile.select().where(StoredFile.project == project_id):
        if hashlib.sha256(bytes(file.content)).hexdigest() != file.sha256:
            raise Refusal(f"“{file.name}” is not the file it was.")
    for area in ScaleArea.select(ScaleArea, Sheet).join(Sheet).where(ScaleArea.project == project_id):
        geometry_of("area", area.ring, [], area.sheet)
    for sheet in Sheet.select().where((Sheet.project == project_id) & (Sheet.proof.cast("text") != "{}")):
        first, second = (tuple(sheet.proof[name]) for name in ("first", "second"))
        prove_scale(scale_of(sheet), first, second, read_entry(sheet.proof["length"], "m"))
