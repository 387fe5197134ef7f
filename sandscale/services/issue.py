"""Issuing: the bill as XLSX with live formulas, and the whole project out and in as one file."""

from __future__ import annotations

import base64
import binascii
import hashlib
import re
from decimal import InvalidOperation
from typing import Any

from peewee import (
    BooleanField,
    CharField,
    DataError,
    ForeignKeyField,
    IntegrityError,
    ProgrammingError,
    TextField,
)

from ..core.figures.arcs import flattened
from ..core.figures.scale import prove
from ..core.makeups.makeup import read_makeup
from ..core.numbers.entry import read_entry
from ..core.numbers.rounding import exact
from ..core.numbers.working import shown
from ..core.refusals import Refusal
from ..formats import drawing_file, image, project_json
from ..formats.project_json import ProjectDocument, UnreadableProject
from ..reports import bill_pdf as bill_pdf_report
from ..reports import bill_xlsx
from ..reports import dimensions_pdf as dimensions_pdf_report
from ..reports import sheet_pdf as sheet_pdf_report
from ..reports.bill_xlsx import (
    BillDocument,
    ElementBlock,
    ItemRow,
    PriceBlock,
    Progress,
    RateBlock,
    SectionRow,
)
from ..reports.sheet_pdf import DrawnFigure, SheetDocument, Total
from ..store.changes import Entry, restored, snapshot
from ..store.database import database
from ..store.models import (
    PROJECT_TABLES,
    BuildUp,
    Drawing,
    Element,
    Figure,
    ItemLink,
    Location,
    Membership,
    OwnMakeUp,
    Project,
    Quote,
    Resource,
    Revision,
    ScaleArea,
    Section,
    Sheet,
    StoredFile,
)
from . import jobs, sheets
from .acting import Actor, find
from .bill import bill_view
from .figures import figure_views, geometry_of, moved_by
from .measuring import scale_of
from .recompute import (
    core_lines,
    core_quote,
    lines_of,
    makeup_of,
    nesting,
    output_of,
    places_of,
    price_of,
    read_lines,
    recompute,
    summary_of,
)
from .views import FigureView, ItemView

# What the database says of values from a file that its columns don't take.
_NOT_TAKEN = (IntegrityError, DataError, ProgrammingError, TypeError, UnicodeError)


def _no_progress(_share: float) -> None:
    """Nobody waits for how far it is."""


def bill_workbook(actor: Actor, progress: Progress = _no_progress) -> tuple[str, bytes]:
    """The bill as XLSX: bill, dimension lines, build-ups and prices on sheets linked by formulas; with its
    file name."""
    document = bill_document(actor)
    return f"{_file_name(document.project)} bill.xlsx", bill_xlsx.write(document, progress)


def bill_pdf(actor: Actor, progress: Progress = _no_progress) -> tuple[str, bytes]:
    """The bill as PDF with page totals and their collection; with its file name."""
    document = bill_document(actor)
    return f"{_file_name(document.project)} bill.pdf", bill_pdf_report.write(document, progress)


def dimensions_pdf(actor: Actor, progress: Progress = _no_progress) -> tuple[str, bytes]:
    """The dimension sheets of every element as PDF; with its file name."""
    document = bill_document(actor)
    query = (
        Figure.select(Figure, Sheet, Revision, Drawing)
        .join(Sheet)
        .join(Revision)
        .join(Drawing)
        .where(Figure.project == actor.project_id)
    )
    sources = {f"figure:{f.id}": f"{f.sheet.revision.drawing.number} p. {f.sheet.page}" for f in query}
    return f"{_file_name(document.project)} dimensions.pdf", dimensions_pdf_report.write(
        document, sources, progress
    )


def sheet_pdf(actor: Actor, sheet_id: int, _progress: Progress = _no_progress) -> tuple[str, bytes]:
    """A sheet as PDF with its figures and, where they were placed, its totals; with its file name."""
    sheet = find(Sheet, actor, sheet_id)
    file = sheet.revision.file
    content = bytes(file.content)
    name = f"{sheet.revision.drawing.number} p. {sheet.page}"
    totals = [Total(t.mark, t.family, t.label, f"{shown(t.net)} {t.unit}") for t in sheets.totals(sheet)]
    document = SheetDocument(
        title=name, width=sheet.width, height=sheet.height, content=content, media_type=file.media_type,
        page=sheet.page,
        picture=None if file.media_type == drawing_file.PDF else image.page_picture(content, sheet.page, file.name),
        figures=[_drawn(view) for view in figure_views(sheet)], totals=totals,
        totals_at=(sheet.tally_at[0], sheet.tally_at[1]) if sheet.tally_at else None,
    )  # fmt: skip
    return f"{_file_name(name)} measured.pdf", sheet_pdf_report.write(document)


def _drawn(view: FigureView) -> DrawnFigure:
    if view.kind == "count":
        return DrawnFigure(view.mark, view.family, view.shows, points=[(p[0], p[1]) for p in view.points])
    if view.kind == "run":
        line = flattened(view.points, closed=view.closed)
        return DrawnFigure(view.mark, view.family, view.shows, line=[*line, line[0]] if view.closed else line)
    return DrawnFigure(
        view.mark,
        view.family,
        view.shows,
        rings=[flattened(ring, closed=True) for ring in (view.points, *view.voids)],
    )


def bill_document(actor: Actor) -> BillDocument:
    """All that the documents of a bill are written from."""
    project = Project.get_by_id(actor.project_id)
    return BillDocument(
        project=project.name,
        client=project.client,
        currency=project.currency,
        price_date=project.price_date,
        sections=_section_rows(actor),
        summary=summary_of(project.id),
        elements=_element_blocks(project.id),
        rates=_rate_blocks(project.id),
        prices=_price_blocks(project),
        places=places_of(project),
    )


def _file_name(name: str) -> str:
    return re.sub(r"[^\w .-]+", "_", name).strip(" .") or "project"


def _section_rows(actor: Actor) -> list[SectionRow]:
    links: dict[int, list[tuple[int, str, str]]] = {}
    for item, element, output, factor in (
        ItemLink.select(ItemLink.item, ItemLink.element, ItemLink.output, ItemLink.factor)
        .where(ItemLink.project == actor.project_id)
        .order_by(ItemLink.id)
        .tuples()
    ):
        links.setdefault(item, []).append((element, output, factor))

    def row(i: ItemView) -> ItemRow:
        typed = exact(read_entry(i.typed_amount, "")) if i.typed_amount else None
        return ItemRow(
            i.ref,
            i.kind,
            i.description,
            i.unit,
            i.quantity,
            i.typed_quantity,
            i.typed_reason,
            typed,
            i.build_up,
            i.rate,
            i.amount,
            links.get(i.id, []),  # type: ignore[arg-type]
        )

    return [
        SectionRow(s.ref, s.depth, s.title, s.total, [row(i) for i in s.items])
        for s in bill_view(actor).sections
    ]


def _element_blocks(project_id: int) -> list[ElementBlock]:
    elements = list(
        Element.select(Element, Location)
        .join(Location)
        .where(Element.project == project_id)
        .order_by(Element.position, Element.id)
    )
    lines = lines_of(e.id for e in elements)
    makeups = {key: makeup_of(project_id, key) for key in {e.makeup for e in elements}}
    return [
        ElementBlock(e.id, e.mark, e.location.name, makeups[e.makeup], e.inputs, read_lines(lines[e.id]))
        for e in elements
    ]


def _rate_blocks(project_id: int) -> list[RateBlock]:
    return [
        RateBlock(b.id, b.name, b.unit, *output_of(b), core_lines(b), b.rate)
        for b in BuildUp.select().where(BuildUp.project == project_id).order_by(BuildUp.heading, BuildUp.id)
    ]


def _price_blocks(project: Project) -> list[PriceBlock]:
    blocks = []
    for row in Resource.select().where(Resource.project == project.id).order_by(Resource.name):
        quotes = list(row.quotes.order_by(Quote.quoted_on.desc(), Quote.id))
        price = price_of(row, quotes, project)
        blocks.append(
            PriceBlock(
                row.id,
                row.name,
                row.unit,
                row.basis,
                [core_quote(q) for q in quotes],
                [q.reference for q in price.used],
                row.price,
            )
        )
    return blocks


def project_file(actor: Actor) -> tuple[str, bytes]:
    """The whole project as one JSON file, with its file name."""
    project = Project.get_by_id(actor.project_id)
    return f"{_file_name(project.name)}.json", project_json.write(project_document(project.id))


def project_document(project_id: int) -> ProjectDocument:
    """The whole project as a document; its history and its people are not part of it."""
    numbers: dict[str, dict[int, int]] = {}
    tables: dict[str, list[dict[str, Any]]] = {}
    for model in PROJECT_TABLES:
        table = model._meta.table_name
        rows = list(_rows_of(model, project_id))
        numbers[table] = {row.id: number for number, row in enumerate(rows, start=1)}
        tables[table] = [_numbered(model, snapshot(row) | _content(row), numbers) for row in rows]
    for row in tables["resource"]:
        row["chosen"] = numbers["quote"].get(row["chosen"])
    for row in tables["own_make_up"]:
        row["shelf"] = row["shelf_number"] = None  # a shelf is not part of a project
    kept = snapshot(Project.get_by_id(project_id))
    return ProjectDocument(project=kept, tables=tables)


def _rows_of(model: Any, project_id: int) -> Any:
    """A table's rows in a project; of files only those a drawing uses (an undone upload leaves its file)."""
    query = model.select().where(model.project == project_id).order_by(model.id)
    if model is StoredFile:
        query = query.where(
            StoredFile.id << Revision.select(Revision.file).where(Revision.project == project_id)
        )
    return _outer_first(list(query)) if model is Section else query


def _outer_first(sections: list[Section]) -> list[Section]:
    """Sections each after the one it lies in, as a file is read, whichever was made first."""
    inside: dict[int | None, list[Section]] = {}
    for section in sections:
        inside.setdefault(section.parent_id, []).append(section)

    def within(parent: int | None) -> list[Section]:
        return [each for section in inside.get(parent, []) for each in (section, *within(section.id))]

    return within(None)


def _content(row: Any) -> dict[str, str]:
    return {"content": base64.b64encode(bytes(row.content)).decode()} if isinstance(row, StoredFile) else {}


def _numbered(model: Any, kept: dict[str, Any], numbers: dict[str, dict[int, int]]) -> dict[str, Any]:
    """A row with its references as row numbers instead of ids, and without its project."""
    kept.pop("project")
    for name, field in model._meta.fields.items():
        if isinstance(field, ForeignKeyField) and name in kept and kept[name] is not None:
            kept[name] = numbers[field.rel_model._meta.table_name][kept[name]]
    return kept


def project_from_file(person_id: int, content: bytes) -> Project:
    """A new project equal to the one a file was written from, with the person as its owner.

    Raises:
        UnreadableProject: the file is no project, or something in it doesn't hold; the row is named.
    """
    document = project_json.read(content)
    known = {model._meta.table_name for model in PROJECT_TABLES}
    for table in set(document.tables) ^ known:
        raise UnreadableProject(
            f"The file {'has an unknown' if table in document.tables else 'lacks the'} table “{table}”.",
            field="file",
        )
    with database.atomic():
        try:
            project = Project.create(**_fields(Project, document.project, "project", 1))
        except _NOT_TAKEN:
            raise UnreadableProject("The project's own fields don't hold.", field="file") from None
        Membership.create(project=project, person=person_id, role="owner")
        ids: dict[str, list[int]] = {}
        for model in PROJECT_TABLES:
            ids[model._meta.table_name] = _insert_rows(
                model, document.tables[model._meta.table_name], project.id, ids
            )
        _restore_chosen(document, ids)
        _prove(project.id)
        for sheet in (
            Sheet.select(Sheet.page, Revision.file).join(Revision).where(Sheet.project == project.id).tuples()
        ):
            jobs.begin(
                Actor(person_id, project.id, "owner"), "page_content", {"file": sheet[1], "page": sheet[0]}
            )
    return project


def _insert_rows(
    model: Any, rows: list[dict[str, Any]], project_id: int, ids: dict[str, list[int]]
) -> list[int]:
    table, made = model._meta.table_name, []
    for number, kept in enumerate(rows, start=1):
        fields = _fields(model, kept, table, number)
        for name, field in model._meta.fields.items():
            if isinstance(field, ForeignKeyField) and name != "project" and fields.get(name) is not None:
                fields[name] = _id_of(field, fields[name], ids, made, table, number)
        try:
            made.append(model.create(project=project_id, **fields).id)
        except _NOT_TAKEN:
            raise UnreadableProject(f"Row {number} of “{table}” doesn't hold.", field="file") from None
    return made


def _id_of(field: Any, number: Any, ids: dict[str, list[int]], made: list[int], table: str, row: int) -> int:
    target = field.rel_model._meta.table_name
    known = made if target == table else ids[target]
    if not isinstance(number, int) or not 1 <= number <= len(known):
        raise UnreadableProject(
            f"Row {row} of “{table}” refers to row {str(number)[:20]} of “{target}”, which isn't there.",
            field="file",
        )
    return known[number - 1]


def _fields(model: Any, kept: dict[str, Any], table: str, number: int) -> dict[str, Any]:
    """A row's columns as the table takes them; exactly the columns a project file has."""
    expected = {
        n for n in model._meta.fields if n not in ("id", "version", "project") and n not in model.derived
    }
    if set(kept) != expected:
        odd = sorted(set(kept) ^ expected)[0]
        raise UnreadableProject(
            f"Row {number} of “{table}” {'has an unknown' if odd in kept else 'lacks the'} column “{odd}”.",
            field="file",
        )
    for name, value in kept.items():
        column = model._meta.fields[name]
        wanted = (
            bool
            if isinstance(column, BooleanField)
            else str
            if isinstance(column, TextField | CharField)
            else object
        )
        if not isinstance(value, wanted) or (isinstance(value, str) and "\x00" in value):
            raise UnreadableProject(
                f"Row {number} of “{table}” holds a value of the wrong kind in “{name}”.", field="file"
            )
    try:
        values = restored(model, kept)
        if model is StoredFile:
            values["content"] = base64.b64decode(kept["content"], validate=True)
        return values
    except (ValueError, TypeError, InvalidOperation, binascii.Error):
        raise UnreadableProject(
            f"Row {number} of “{table}” holds a value that can't be read.", field="file"
        ) from None


def _restore_chosen(document: ProjectDocument, ids: dict[str, list[int]]) -> None:
    for row_id, kept in zip(ids["resource"], document.tables["resource"], strict=True):
        if kept["chosen"] is not None:
            if kept["chosen"] not in range(1, len(ids["quote"]) + 1):
                raise UnreadableProject(
                    f"A resource chooses quote {kept['chosen']}, which isn't there.", field="file"
                )
            Resource.update(chosen=ids["quote"][kept["chosen"] - 1]).where(Resource.id == row_id).execute()


def _prove(project_id: int) -> None:
    """Check what the database can't: files, shapes, make-ups, entries, loops; and compute the whole project.

    Raises:
        UnreadableProject: something doesn't hold.
    """
    try:
        for file in StoredFile.select().where(StoredFile.project == project_id):
            drawing_file.read_pages(bytes(file.content), file.name)
            if hashlib.sha256(bytes(file.content)).hexdigest() != file.sha256:
                raise Refusal(f"“{file.name}” is not the file it was.")
        for own in OwnMakeUp.select().where(OwnMakeUp.project == project_id):
            read_makeup(own.source)
        for figure in Figure.select(Figure, Sheet).join(Sheet).where(Figure.project == project_id):
            moved_by(figure, [0.0, 0.0])
        for scale_area in (
            ScaleArea.select(ScaleArea, Sheet).join(Sheet).where(ScaleArea.project == project_id)
        ):
            geometry_of("area", scale_area.ring, [], scale_area.sheet)
        for sheet in Sheet.select().where((Sheet.project == project_id) & (Sheet.proof.cast("text") != "{}")):
            first, second = (tuple(sheet.proof[name]) for name in ("first", "second"))
            prove(scale_of(sheet), first, second, read_entry(sheet.proof["length"], "m"))
        nesting(project_id)
        written = [
            Entry("element", e.id, None, None)
            for e in Element.select(Element.id).where(Element.project == project_id)
        ]
        written += [
            Entry("build_up", b.id, None, None)
            for b in BuildUp.select(BuildUp.id).where(BuildUp.project == project_id)
        ]
        recompute(project_id, [Entry("project", project_id, None, None), *written])
    except Refusal as error:
        raise UnreadableProject(f"The project file doesn't hold: {error.sentence}", field="file") from None
    except (LookupError, TypeError, ValueError, AttributeError):
        raise UnreadableProject("The project file holds a value of the wrong kind.", field="file") from None
