"""What must hold of drawings and sheets from a project file."""

from __future__ import annotations

import hashlib
from typing import Any

from ...core.figures.scale import prove as prove_scale
from ...core.numbers.entry import read_entry
from ...core.refusals import Refusal
from ...formats import apart, drawing_file
from ...formats.bill_workbook import MEDIA_TYPE as WORKBOOK
from ...formats.packed import AS_IT_CAME
from ...formats.packed import MEDIA_TYPE as LEVELS
from ...formats.page import LARGEST_SIDE
from ...store.models import Revision, ScaleArea, Sheet, StoredFile
from ..keeping.files import PACKAGE
from ..keeping.proving import refuse_empty, refuse_other
from ..measure.actions.figures import geometry_of
from ..measure.measuring import scale_of

SMALLEST_SCALE, LARGEST_SCALE = 1e-9, 1e6  # metres to a sheet unit


def _file(row: dict[str, Any]) -> None:
    refuse_empty(row, "name")
    refuse_other(row, "media_type", (*drawing_file.MEDIA_TYPES, AS_IT_CAME, LEVELS, WORKBOOK, PACKAGE))
    if hashlib.sha256(row["content"]).hexdigest() != row["sha256"]:
        raise Refusal(f"“{row['name']}” is not the file it was.")


def _scaled(value: float | None) -> None:
    if value is not None and not SMALLEST_SCALE <= value <= LARGEST_SCALE:
        raise Refusal(f"A scale of {value:g} m to a sheet unit can't be measured at.")


def _sheet(row: dict[str, Any]) -> None:
    if row["page"] < 1 or not all(1 <= row[side] <= LARGEST_SIDE for side in ("width", "height")):
        raise Refusal("It is of no size a sheet has.")
    _scaled(row["metres_per_unit"])
    _scaled(row["metres_per_unit_y"])
    if row["metres_per_unit_y"] is not None and row["metres_per_unit"] is None:
        raise Refusal("It has a scale upwards and none along.")
    at = row["tally_at"]
    if at and not (len(at) == 2 and all(isinstance(each, int | float) for each in at)):
        raise Refusal("Its totals stand nowhere.")


RULES = {
    "stored_file": _file,
    "drawing": lambda row: refuse_empty(row, "number"),
    "revision": lambda row: refuse_empty(row, "letter"),
    "sheet": _sheet,
    "scale_area": lambda row: _scaled(row["metres_per_unit"]),
}


def prove(project_id: int) -> None:
    """Files can be read and have the pages of their sheets; scale areas and proofs can be measured.

    Raises:
        Refusal: something doesn't hold.
    """
    drawn = Revision.select(Revision.file).where(Revision.project == project_id)
    for (file_id,) in StoredFile.select(StoredFile.id).where(StoredFile.id << drawn).tuples():
        file = StoredFile.get_by_id(file_id)
        media_type, pages = apart.read(drawing_file.read_pages, bytes(file.content), file.name)
        if media_type != file.media_type:
            raise Refusal(f"“{file.name}” is another kind of file than it says.")
        sheets = Sheet.select().join(Revision).where(Revision.file == file_id)
        if any(sheet.page > len(pages) for sheet in sheets):
            raise Refusal(f"“{file.name}” has {len(pages)} pages, and a sheet beyond them.")
    for area in ScaleArea.select(ScaleArea, Sheet).join(Sheet).where(ScaleArea.project == project_id):
        geometry_of("area", area.ring, [], area.sheet)
    for sheet in Sheet.select().where((Sheet.project == project_id) & (Sheet.proof.cast("text") != "{}")):
        first, second = (tuple(sheet.proof[name]) for name in ("first", "second"))
        prove_scale(scale_of(sheet), first, second, read_entry(sheet.proof["length"], "m"))
