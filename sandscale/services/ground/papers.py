"""Papers of trenches, routes and the whole job: PDF, workbook with live formulas, CSV, drawing."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Sequence
from typing import Any

from ...core.ground.papers import PAPER_FILES, PAPER_PARTS, PaperFile, SummedBy
from ...core.refusals import BadEntry
from ...reports import whole_xlsx, works_dxf, works_pdf
from ...reports.works import ChainageTable, Chosen, TableColumn, WorkDocument
from ...store.models import Element, Job, Project
from ..keeping.acting import Actor, find
from ..keeping.jobs import Outcome, Progress, reader_of
from ..keeping.project_file import file_name
from .proof_package import PER_PAGE
from .routes import papers as route_papers
from .trenches import papers as trench_papers
from .views import WholeView
from .whole import whole_view

KIND = "ground_paper"
_OF = {"route": route_papers, "trench": trench_papers}


def paper(
    actor: Actor, element_id: int, kind: PaperFile, chosen: Chosen, progress: Progress
) -> tuple[str, bytes]:
    """What was chosen of a network of trenches or a route as a file, or all kinds of files in one package.

    Raises:
        BadEntry: it is neither, or comes to nothing yet.
    """
    element = find(Element, actor, element_id)
    if element.measurer not in _OF:
        raise BadEntry(
            f"{element.mark} is neither a trench nor a route.", field="element",
            remedy="Earthworks have a proof of their own.",
        )  # fmt: skip
    of = _OF[element.measurer]
    name = file_name(f"{Project.get_by_id(actor.project_id).name} {of.title_of(actor, element_id)}")
    document = WorkDocument("", "", "", (), ())
    if kind in ("pdf", "dxf", "zip"):
        document = of.document_of(actor, element_id, chosen, lambda done: progress(done * 0.5))

    def made(each: PaperFile) -> bytes:
        if each == "xlsx":
            return of.workbook(actor, element_id, chosen)
        if each == "csv":
            return csv_of(of.table_of(actor, element_id, chosen))
        if each == "dxf":
            return works_dxf.write(document)
        return works_pdf.write(document, lambda done: progress(0.5 + done * 0.4))

    if kind != "zip":
        return f"{name}.{kind}", made(kind)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for each in PAPER_FILES[:-1]:
            packed.writestr(f"{name}.{each}", made(each))
    return f"{name}.zip", out.getvalue()


def paper_of_whole(actor: Actor, by: SummedBy, kind: PaperFile, progress: Progress) -> tuple[str, bytes]:
    """The whole job summed, as a PDF, a workbook or CSV.

    Raises:
        BadEntry: no work comes to anything yet, or there is no such kind of file.
    """
    seen, project = whole_view(actor, by), Project.get_by_id(actor.project_id)
    if not seen.rows:
        raise BadEntry("No earthwork, trench or route comes to anything yet.", field="by")
    name, heads = file_name(f"{project.name} whole job"), _heads(seen)
    if kind == "xlsx":
        return f"{name}.xlsx", whole_xlsx.write(f"{project.name}: the whole job by {by}", heads, seen.rows)
    table = whole_table(seen)
    if kind == "csv":
        return f"{name}.csv", csv_of(table)
    if kind != "pdf":
        raise BadEntry("The whole job is written as PDF, XLSX or CSV.", field="file")
    waiting = ", ".join(seen.waiting)
    told = [("Being worked out", f"{waiting}; what stands here is from before")] if waiting else []
    title = f"The whole job by {by}"
    document = WorkDocument(project.name, project.client, title, told, (), tables=[table])
    return f"{name}.pdf", works_pdf.write(document, progress)


def _heads(seen: WholeView) -> list[str]:
    none = {"stage": "in no stage", "stretch": "in no stretch"}.get(seen.by, "")
    return [head or none for head in seen.heads]


def whole_table(seen: WholeView) -> ChainageTable:
    """The whole job as a table: a row for each quantity."""
    units = [row.unit for row in seen.rows]
    columns = [
        TableColumn("Quantity", "", [row.name for row in seen.rows]), TableColumn("Unit", "", units),
        *(
            TableColumn(head, "", [row.values[n] or None for row in seen.rows], units=units)
            for n, head in enumerate(_heads(seen))
        ),
        TableColumn("Whole", "", [row.whole for row in seen.rows], units=units),
    ]  # fmt: skip
    return ChainageTable("Quantities of all works", columns, held=2)


def csv_of(table: ChainageTable) -> bytes:
    """A table as CSV in UTF-8; words that begin like a formula stay words in a spreadsheet."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([_plain(column.title) for column in table.columns])
    for row in zip(*(column.values for column in table.columns), strict=True):
        writer.writerow(_cells(table.columns, row))
    return out.getvalue().encode("utf-8-sig")


def _cells(columns: Sequence[TableColumn], row: Iterable[float | str | None]) -> list[str]:
    return [
        "" if value is None else _plain(value) if isinstance(value, str) else f"{column.size(value):.6f}"
        for column, value in zip(columns, row, strict=True)
    ]


def _plain(words: str) -> str:
    return f"'{words}" if words[:1] in ("=", "+", "-", "@", "\t") else words


def work_of(job: Job, progress: Progress) -> Outcome:
    """A job's work: write the paper it was asked for."""
    given: dict[str, Any] = job.arguments
    actor, kind = reader_of(job), given.get("file", "pdf")
    if "element" not in given:
        return paper_of_whole(actor, given.get("by", "work"), kind, progress)
    parts, per_page = given.get("parts", PAPER_PARTS), given.get("per_page", 4)
    chosen = Chosen(
        frozenset(part for part in PAPER_PARTS if part in parts), tuple(given.get("names", ())),
        bool(given.get("together")), per_page if per_page in PER_PAGE else 4,
    )  # fmt: skip
    return paper(actor, given["element"], kind, chosen, progress)
