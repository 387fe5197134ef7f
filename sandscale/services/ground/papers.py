"""Papers of trenches, routes and the whole job: PDF, workbook with live formulas, CSV, drawing."""

from __future__ import annotations

import io
import zipfile
from typing import Any

from ...core.ground.papers import PAPER_FILES, PAPER_PARTS, PaperFile, SummedBy
from ...core.refusals import BadEntry
from ...formats.table import as_csv
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
            return as_csv(of.table_of(actor, element_id, chosen).rows())
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
        return f"{name}.csv", as_csv(table.rows())
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
