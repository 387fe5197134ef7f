"""What must hold of drawings and sheets from a project file."""

from __future__ import annotations

import hashlib
from typing import Any, Literal

from pydantic import BaseModel, Field, ValidationError

from ...core.figures.scale import prove as prove_scale
from ...core.numbers.entry import read_entry
from ...core.refusals import Refusal
from ...core.words import FigureKind
from ...formats import apart, drawing_file, dxf_sheet
from ...formats.bill_workbook import MEDIA_TYPE as WORKBOOK
from ...formats.packed import AS_IT_CAME
from ...formats.packed import MEDIA_TYPE as LEVELS
from ...formats.page import LARGEST_SIDE
from ...store.models import Revision, ScaleArea, Sheet, StoredFile
from ..keeping.files import PACKAGE
from ..keeping.proving import refuse_empty, refuse_other
from ..measure.actions.figures import geometry_of
from ..measure.measuring import scale_of
from .views import Point

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
    if (row["follows"] is None) != (row["lay"] == {}):
        raise Refusal("It lies over a sheet that it doesn't follow.")
    _holds(row, _Follows)


class _Nothing(BaseModel, extra="forbid"):
    pass


class _Lay(BaseModel, extra="forbid", allow_inf_nan=False):
    turn: tuple[float, float]
    shift: tuple[float, float]
    by: Literal["lines", "picks", "paper"]
    share: float = Field(ge=0, le=1)
    places: int = Field(ge=0)


_Stood = tuple[str, str, FigureKind, list[Point], bool, list[list[Point]], str]


class _Follows(BaseModel, allow_inf_nan=False):
    hidden: list[str]
    lay: _Lay | _Nothing
    stood: list[_Stood]


class _Place(BaseModel, allow_inf_nan=False):
    box: tuple[float, float, float, float]
    size: float = Field(ge=0)
    gone: list[tuple[float, float, float, float]]
    came: list[tuple[float, float, float, float]]
    words_gone: list[tuple[str, float, float, float, float]]
    words_came: list[tuple[str, float, float, float, float]]


def _holds(row: dict[str, Any], shape: type[BaseModel]) -> None:
    """Refuse a row whose parts are of another shape than they are kept in."""
    try:
        shape.model_validate({name: row[name] for name in shape.model_fields})
    except ValidationError as error:
        raise Refusal(f"Its {error.errors()[0]['loc'][0]} is not as it is kept.") from None


RULES = {
    "stored_file": _file,
    "drawing": lambda row: refuse_empty(row, "number"),
    "revision": lambda row: refuse_empty(row, "letter"),
    "sheet": _sheet,
    "changed_place": lambda row: _holds(row, _Place),
    "scale_area": lambda row: _scaled(row["metres_per_unit"]),
}


def _read(file: StoredFile) -> tuple[str, int]:
    """The kind of a drawing's file and how many pages it has; a DXF is drawn by a job later."""
    content = bytes(file.content)
    if drawing_file.is_dxf(content):
        dxf_sheet.bounded(content, file.name)
        return drawing_file.DXF, 1
    media_type, pages = apart.read(drawing_file.read_pages, content, file.name)
    return media_type, len(pages)


def prove(project_id: int) -> None:
    """Files can be read and have the pages of their sheets, which follow sheets of their own drawing; scale
    areas and proofs can be measured.

    Raises:
        Refusal: something doesn't hold.
    """
    drawn = Revision.select(Revision.file).where(Revision.project == project_id)
    for (file_id,) in StoredFile.select(StoredFile.id).where(StoredFile.id << drawn).tuples():
        file = StoredFile.get_by_id(file_id)
        media_type, pages = _read(file)
        if media_type != file.media_type:
            raise Refusal(f"“{file.name}” is another kind of file than it says.")
        sheets = Sheet.select().join(Revision).where(Revision.file == file_id)
        if any(sheet.page > pages for sheet in sheets):
            raise Refusal(f"“{file.name}” has {pages} pages, and a sheet beyond them.")
    for sheet in Sheet.select().where((Sheet.project == project_id) & Sheet.follows.is_null(False)):
        former, own = sheet.follows.revision, sheet.revision
        if former.drawing_id != own.drawing_id or former.id >= own.id:
            raise Refusal("A sheet follows one that isn't of a former revision of its drawing.")
    for area in ScaleArea.select(ScaleArea, Sheet).join(Sheet).where(ScaleArea.project == project_id):
        geometry_of("area", area.ring, [], area.sheet)
    for sheet in Sheet.select().where((Sheet.project == project_id) & (Sheet.proof.cast("text") != "{}")):
        first, second = (tuple(sheet.proof[name]) for name in ("first", "second"))
        prove_scale(scale_of(sheet), first, second, read_entry(sheet.proof["length"], "m"))
