"""Drawings and their sheets, the scale each is measured at, the layers that are hidden."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from ...core.figures import scale, shapes
from ...core.figures.scale import Scale
from ...core.numbers.entry import kept, read_entry
from ...core.numbers.ways import ways
from ...core.numbers.working import shown_in
from ...core.refusals import BadEntry, BadShape
from ...store.models import (
    Bill,
    ChangedPlace,
    Drawing,
    Element,
    Figure,
    Revision,
    ScaleArea,
    Sheet,
    Survey,
)
from ..keeping.acting import Actor, InUse, check_version, find
from ..keeping.recording import action, recording
from ..keeping.views import Saved
from ..measure.measuring import scale_of
from .pages import layers_of
from .reading import find_sheet


@action
def set_scale_by_ratio(
    actor: Actor, sheet_id: int, version: int, ratio: str, *, everywhere: bool = False
) -> Saved:
    """Set a sheet's scale as it is written on it: ``100``, ``1:100``, ``1/4" = 1'-0"``; with ``everywhere``
    that of its drawing's other sheets too, where they have none yet.

    Raises:
        BadEntry: it is no ratio, or not above zero.
    """
    number, source = scale.read_scale(ratio)
    found = Scale.even(scale.from_ratio(number))
    return _set_scale(actor, sheet_id, version, found, source, everywhere=everywhere)


@action
def set_scale_by_length(
    actor: Actor, sheet_id: int, version: int, first: scale.Point, second: scale.Point, length: str
) -> Saved:
    """Set a sheet's scale from two picks (sheet units) and the length between them as typed.

    Raises:
        BadEntry: the length can't be read, or the picks are too close.
    """
    metres = _known(length)
    found = Scale.even(scale.from_known_length(first, second, metres))
    return _set_scale(
        actor, sheet_id, version, found, f"known length {shown_in(metres, 'm')} between two picks"
    )


@action
def set_scale_stretched(
    actor: Actor,
    sheet_id: int,
    version: int,
    along: tuple[scale.Point, scale.Point],
    length: str,
    up: tuple[scale.Point, scale.Point],
    height: str,
) -> Saved:
    """Set the scale of a stretched scan from a known length along it and one up it.

    Raises:
        BadEntry: a length can't be read, or a pick runs askew.
    """
    across, upward = _known(length, "length along"), _known(height, "length up")
    found = scale.stretched(along, across, up, upward)
    return _set_scale(
        actor,
        sheet_id,
        version,
        found,
        f"known lengths {shown_in(across, 'm')} along and {shown_in(upward, 'm')} up",
    )


def _known(typed: str, what: str = "known length") -> float:
    """A known length as typed, in m."""
    return read_entry(kept(typed, "m", field=what), "m", field=what)


@action
def prove_scale(
    actor: Actor, sheet_id: int, version: int, first: scale.Point, second: scale.Point, length: str
) -> Saved:
    """Keep a second known length of a sheet, which its scale is held against from then on.

    Raises:
        BadEntry: the sheet has no scale, the length can't be read, or the picks are too close.
    """
    sheet = find_sheet(actor, sheet_id)
    if sheet.metres_per_unit is None:
        raise BadEntry("This sheet has no scale to prove yet.", field="scale", remedy="Set its scale first.")
    proof = scale.prove(scale_of(sheet), first, second, _known(length))
    fields = {"proof": {"first": list(first), "second": list(second), "length": kept(length, "m")}}
    check_version(sheet, version, fields)
    with recording(actor, f"Scale of {name_of(sheet)} proved: {abs(proof.off):.2%} off") as log:
        log.update(sheet, **fields)
    return log.saved(sheet)


@action
def add_scale_area(actor: Actor, sheet_id: int, ring: list[scale.Point], ratio: str) -> Saved:
    """Give a part of a sheet, such as a detail, a scale of its own.

    Raises:
        BadEntry: the ratio can't be read.
        BadShape: the ring can't be measured, or it crosses another scale area.
    """
    sheet = find_sheet(actor, sheet_id)
    outline = shapes.area(ring, [], sheet.width, sheet.height)
    others = [shapes.area(row.ring, [], sheet.width, sheet.height) for row in sheet.scale_areas]
    if shapes.overlaps([outline, *others]):
        raise BadShape(
            "It overlaps another scale area of this sheet.", field="ring", remedy="Draw it beside that one."
        )
    number, source = scale.read_scale(ratio)
    with recording(actor, f"Scale area of {name_of(sheet)}: {source.partition(',')[0]}") as log:
        row = log.insert(
            ScaleArea,
            sheet=sheet.id,
            ring=[list(p[:2]) for p in outline.outline],
            metres_per_unit=scale.from_ratio(number),
            scale_source=source,
        )
    return log.saved(row)


@action
def delete_scale_area(actor: Actor, area_id: int) -> Saved:
    """Take a scale area off; what lies in it is measured at the sheet's scale again."""
    row = find(ScaleArea, actor, area_id)
    with recording(actor, f"Scale area of {name_of(find_sheet(actor, row.sheet_id))} deleted") as log:
        log.delete(row)
    return log.saved()


@action
def place_totals(actor: Actor, sheet_id: int, version: int, at: scale.Point | None) -> Saved:
    """Put the totals of a sheet on it, their upper left corner at a point; or take them off."""
    sheet = find_sheet(actor, sheet_id)
    fields = {"tally_at": list(at) if at else []}
    check_version(sheet, version, fields)
    with recording(actor, f"Totals on {name_of(sheet)}") as log:
        log.update(sheet, **fields)
    return log.saved(sheet)


def name_of(sheet: Sheet) -> str:
    return f"{sheet.revision.drawing.number} p. {sheet.page}"


def _set_scale(
    actor: Actor, sheet_id: int, version: int, found: Scale, source: str, *, everywhere: bool = False
) -> Saved:
    sheet = find_sheet(actor, sheet_id)
    others = Sheet.those(Sheet.revision, [sheet.revision_id], Sheet.page) if everywhere else []
    fields = {
        "metres_per_unit": found.x,
        "metres_per_unit_y": None if found.is_even else found.y,
        "scale_source": source,
    }
    check_version(sheet, version, fields)
    moves = Figure.select().where((Figure.sheet == sheet.id) & (Figure.kind != "count")).count()
    told = (
        f", {moves} figure{'s' if moves != 1 else ''} measured anew"
        if moves and sheet.metres_per_unit
        else ""
    )
    words = scale.in_words(scale.ratio_of(found.x), ways().system)
    with recording(actor, f"Scale of {name_of(sheet)}: {words}{told}") as log:
        log.update(sheet, **fields)
        for other in others:
            if other.id != sheet.id and other.metres_per_unit is None:
                log.update(other, **fields)
    return log.saved(sheet)


@action
def show_layers(actor: Actor, sheet_id: int, names: Collection[str], *, shown: bool) -> Saved:
    """Show layers of a sheet, or hide them; the others stay as they are.

    Raises:
        BadEntry: it has no such layer.
    """
    sheet = find_sheet(actor, sheet_id)
    known = [layer for layer, _ in layers_of(sheet.revision.file_id)]
    if strange := sorted(set(names) - set(known)):
        raise BadEntry(
            f"{name_of(sheet)} has no layer “{strange[0][:60]}”.", field="names",
            remedy="Choose among its layers.",
        )  # fmt: skip
    hidden = set(sheet.hidden) - set(names) if shown else {*sheet.hidden, *names}
    one = f" “{next(iter(names))}”" if len(names) == 1 else f"s, {len(names)} of them,"
    with recording(actor, f"Layer{one} of {name_of(sheet)} {'shown' if shown else 'hidden'}") as log:
        log.update(sheet, hidden=[layer for layer in known if layer in hidden])
    return log.saved(sheet)


@action
def rename_sheet(actor: Actor, sheet_id: int, version: int, title: str) -> Saved:
    """Give a sheet a title."""
    sheet = find_sheet(actor, sheet_id)
    check_version(sheet, version, {"title": title.strip()})
    with recording(actor, f"Sheet title “{title.strip()}”") as log:
        log.update(sheet, title=title.strip()[:120].strip())
    return log.saved(sheet)


@action
def change_drawing(actor: Actor, drawing_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a drawing's number or title.

    Raises:
        BadEntry: the number is empty.
    """
    drawing = find(Drawing, actor, drawing_id)
    fields = {name: value.strip()[:120].strip() for name, value in fields.items()}
    if fields.get("number") == "":
        raise BadEntry("A drawing needs a number.", field="number")
    check_version(drawing, version, fields)
    with recording(actor, f"Drawing {fields.get('number', drawing.number)}") as log:
        log.update(drawing, **fields)
    return log.saved(drawing)


@action
def delete_drawing(actor: Actor, drawing_id: int) -> Saved:
    """Take a drawing with its sheets out of the project; its file stays, so that it can be undone.

    Raises:
        InUse: something is measured on one of its sheets, or levels are picked off it.
    """
    drawing = find(Drawing, actor, drawing_id)
    with recording(actor, f"Drawing {drawing.number} deleted") as log:
        sheets = list(Sheet.select().join(Revision).where(Revision.drawing == drawing.id))
        marks = (
            Element.select(Element.mark)
            .join(Figure)
            .where(Figure.sheet << [s.id for s in sheets])
            .distinct()
            .limit(4)
        )
        if names := [element.mark for element in marks]:
            raise InUse(
                f"{', '.join(names)} {'is' if len(names) == 1 else 'are'} measured "
                f"on drawing {drawing.number}.",
                remedy="Delete those figures first.",
            )
        survey = next(iter(Survey.those(Survey.sheet, [s.id for s in sheets])), None)
        if survey is not None:
            raise InUse(
                f"Levels “{survey.name}” are picked off drawing {drawing.number}.",
                remedy="Delete those levels first.",
            )
        log.delete_all(ChangedPlace.those(ChangedPlace.sheet, [s.id for s in sheets]))
        log.delete_all(ScaleArea.those(ScaleArea.sheet, [s.id for s in sheets]))
        log.delete_all(sorted(sheets, key=lambda sheet: -sheet.id))  # what follows another first
        revisions = list(drawing.revisions)
        for bill in Bill.those(Bill.revision, [revision.id for revision in revisions]):
            log.update(bill, revision=None)
        log.delete_all(revisions)
        log.delete(drawing)
    return log.saved()
