"""Workbooks of the user's own: cells tied to numbers of the project, filled as they stand now."""

from __future__ import annotations

import re
from collections.abc import Sequence
from decimal import Decimal
from functools import lru_cache
from typing import Any

from openpyxl.utils import get_column_letter
from openpyxl.utils.cell import column_index_from_string, coordinate_from_string

from ...core.refusals import BadEntry, Refusal
from ...formats import bill_workbook
from ...formats.bill_workbook import MEDIA_TYPE, SheetRows
from ...store.models import FormCell, Job, OwnForm, StoredFile
from ..keeping.acting import Actor, Missing, check_version, find
from ..keeping.files import keep_file
from ..keeping.jobs import Outcome, Progress, reader_of
from ..keeping.recording import action, recording
from ..keeping.views import Saved, WorkingView
from ..keeping.walking import renumbered, walk
from .views import FormBrief, FormCellView, FormSheet, FormView

MOST_CELLS, MOST_FORMS = 500, 40
_Sheets = tuple[Sequence[SheetRows], dict[str, tuple[str, str]]]
SHOWN_ROWS = 150  # of each sheet
_PLACE = re.compile(r"(?P<sheet>.+)!(?P<cell>[A-Z]{1,3}[1-9][0-9]{0,6})")


@action
def add_form(actor: Actor, content: bytes, name: str) -> Saved:
    """A workbook as a form, as it came.

    Raises:
        UnreadableBill: it is no workbook, encrypted, too large, or holds macros.
        BadEntry: there are as many forms as there may be.
    """
    bill_workbook.read(content, name)
    if OwnForm.select().where(OwnForm.project == actor.project_id).count() >= MOST_FORMS:
        raise BadEntry(f"A project has up to {MOST_FORMS} forms.", field="file", remedy="Take one out first.")
    with recording(actor, f"Form {name[:80]}") as log:
        file = keep_file(actor.project_id, name[:200], MEDIA_TYPE, content)
        row = log.insert(OwnForm, name=_named(name.rsplit(".", 1)[0]), file=file.id)
    return log.saved(row)


@action
def replace_form(actor: Actor, form_id: int, content: bytes, name: str) -> Saved:
    """Another file for a form, such as one that was worked on since; its cells stay tied where they are.

    Raises:
        UnreadableBill: it is no workbook, encrypted, too large, or holds macros.
    """
    row = find(OwnForm, actor, form_id)
    bill_workbook.read(content, name)
    with recording(actor, f"Form {row.name}: another file") as log:
        log.update(row, file=keep_file(actor.project_id, name[:200], MEDIA_TYPE, content).id)
    return log.saved(row)


@action
def rename_form(actor: Actor, form_id: int, version: int, name: str) -> Saved:
    """Call a form something else.

    Raises:
        BadEntry: the name is empty.
    """
    row = find(OwnForm, actor, form_id)
    fields = {"name": _named(name)}
    check_version(row, version, fields)
    with recording(actor, f"Form {fields['name']}") as log:
        log.update(row, **fields)
    return log.saved(row)


def _named(name: str) -> str:
    if not name.strip():
        raise BadEntry("A form needs a name.", field="name")
    return name.strip()[:120]


@action
def delete_form(actor: Actor, form_id: int) -> Saved:
    """Take a form out, with what its cells are tied to."""
    row = find(OwnForm, actor, form_id)
    with recording(actor, f"Form {row.name} taken out") as log:
        log.delete_all(FormCell.those(FormCell.form, [row.id]))
        log.delete(row)
    return log.saved()


@action
def tie_cell(actor: Actor, form_id: int, place: str, ref: str) -> Saved:
    """Tie a cell of a form, or a range it names, to a number; one that was tied is tied anew.

    Args:
        place: ``Cover!C4``, or the range's name.
        ref: the number, as the walk knows it.

    Raises:
        BadEntry: the form has no such place, or a formula stands there.
        Missing: the reference names no number, or one that comes and goes.
    """
    row = find(OwnForm, actor, form_id)
    place, number = place.strip(), walk(actor, checked_ref(ref)).working
    _, _, says = _where(place, *_read(row))
    if says:
        raise BadEntry(says, field="place", remedy="Choose a cell that holds no formula.")
    cells = FormCell.those(FormCell.form, [row.id])
    tied = next((cell for cell in cells if cell.place.casefold() == place.casefold()), None)
    if tied is None and len(cells) >= MOST_CELLS:
        raise BadEntry(f"A form has up to {MOST_CELLS} tied cells.", field="place")
    with recording(actor, f"Form {row.name}: {place} is {number.name}"[:200]) as log:
        if tied is None:
            tied = log.insert(FormCell, form=row.id, place=place, ref=ref)
        else:
            log.update(tied, ref=ref)
    return log.saved(tied)


def checked_ref(ref: str) -> str:
    """A reference that can be kept.

    Raises:
        Missing: it is none, or names a number that comes and goes.
    """
    return renumbered(ref, lambda _table, row: row)


@action
def untie_cell(actor: Actor, cell_id: int) -> Saved:
    """Let a cell of a form be."""
    row = find(FormCell, actor, cell_id)
    with recording(actor, f"Form {row.form.name}: {row.place} let be") as log:
        log.delete(row)
    return log.saved()


def _read(row: OwnForm) -> _Sheets:
    return _sheets_of(row.file_id)


@lru_cache(maxsize=8)
def _sheets_of(file_id: int) -> _Sheets:
    """The sheets of a form's file, and where the ranges it names begin; a file never changes."""
    file = StoredFile.get_by_id(file_id)
    content = bytes(file.content)
    return bill_workbook.read(content, file.name), bill_workbook.names_of(content)


def _where(
    place: str, sheets: Sequence[SheetRows], names: dict[str, tuple[str, str]]
) -> tuple[str, str, str]:
    """Where a place of a form is: its sheet, its cell, and what is wrong with it."""
    named = next((at for name, at in names.items() if name.casefold() == place.casefold()), None)
    if named is None:
        if not (found := _PLACE.fullmatch(place)):
            return "", "", f"The form has no range that is called “{place[:60]}”."
        named = found["sheet"], found["cell"]
    sheet = next((each for each in sheets if each.name.casefold() == named[0].casefold()), None)
    if sheet is None:
        return "", "", f"The form has no sheet “{named[0][:60]}”."
    if _at(named[1]) in sheet.formulas:
        return sheet.name, named[1], f"A formula stands in {sheet.name}!{named[1]}; it stays."
    return sheet.name, named[1], ""


def _at(cell: str) -> tuple[int, int]:
    """A cell's row from 1 and column from 0."""
    column, row = coordinate_from_string(cell)
    return int(row), int(column_index_from_string(column)) - 1


def form_view(actor: Actor, form_id: int) -> FormView:
    """A form, its cells, and the numbers in them as they are now."""
    row = find(OwnForm, actor, form_id)
    sheets, names = _read(row)
    return FormView(
        id=row.id, version=row.version, name=row.name, file=row.file.name,
        sheets=[_sheet(sheet) for sheet in sheets], names=sorted(names),
        cells=[_cell(actor, cell, sheets, names) for cell in _cells(row)],
    )  # fmt: skip


def _cells(row: OwnForm) -> list[FormCell]:
    return FormCell.those(FormCell.form, [row.id], FormCell.place, FormCell.id)


def _sheet(sheet: SheetRows) -> FormSheet:
    return FormSheet(
        name=sheet.name, hidden=sheet.hidden,
        rows=[[str(number), *texts] for number, texts in sheet.rows[:SHOWN_ROWS]],
        formulas=[f"{get_column_letter(column + 1)}{row}" for row, column in sorted(sheet.formulas)],
        more=max(len(sheet.rows) - SHOWN_ROWS, 0),
    )  # fmt: skip


def _cell(
    actor: Actor, cell: FormCell, sheets: Sequence[SheetRows], names: dict[str, tuple[str, str]]
) -> FormCellView:
    sheet, at, says = _where(cell.place, sheets, names)
    number, gone = _number(actor, cell.ref)
    says = says or gone
    if number is not None and number.value is None:
        says = says or f"{number.name} is no number yet."
    return FormCellView(
        id=cell.id, version=cell.version, place=cell.place, sheet=sheet, cell=at, ref=cell.ref,
        name=number.name if number else "", value=number.value if number else None,
        unit=number.unit if number else "", says=says,
    )  # fmt: skip


def _number(actor: Actor, ref: str) -> tuple[WorkingView | None, str]:
    try:
        return walk(actor, ref).working, ""
    except Missing as gone:
        return None, gone.sentence


def forms_of(actor: Actor) -> list[FormBrief]:
    """The project's forms."""
    rows = OwnForm.those(OwnForm.project, [actor.project_id], OwnForm.name, OwnForm.id)
    cells = FormCell.those(FormCell.form, [row.id for row in rows])
    return [
        FormBrief(id=row.id, name=row.name, cells=sum(cell.form_id == row.id for cell in cells))
        for row in rows
    ]


def filled_of(job: Job, progress: Progress) -> Outcome:
    """A job's work: the form with its numbers, and nothing else in it changed."""
    actor = reader_of(job)
    row = find(OwnForm, actor, job.arguments["form"])
    sheets, names = _read(row)
    filled: dict[str, dict[tuple[int, int], Decimal]] = {}
    cells = _cells(row)
    for done, cell in enumerate(cells):
        progress(done / len(cells))
        view = _cell(actor, cell, sheets, names)
        if not view.says and view.value is not None:
            filled.setdefault(view.sheet, {})[_at(view.cell)] = Decimal(repr(view.value))
    if not filled:
        raise Refusal(
            f"No cell of “{row.name}” is tied to a number.",
            remedy="Choose a cell, walk to a number, tie them.",
        )
    return row.file.name, bill_workbook.fill(bytes(row.file.content), filled)


def refuse_untied(row: dict[str, Any]) -> None:
    """Refuse a cell of a form from a file that could not be tied.

    Raises:
        Missing: its number isn't one.
        Refusal: its place is none.
    """
    checked_ref(row["ref"])
    if not row["place"].strip():
        raise Refusal("Its place is empty.")
