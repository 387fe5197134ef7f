"""The issue stage: files made off the request by jobs, and the project as one file."""

from __future__ import annotations

from tempfile import TemporaryFile
from typing import Any
from urllib.parse import quote

from flask import Response, g, request, send_file
from pydantic import RootModel

from ..core.refusals import BadEntry
from ..formats.bill_workbook import LARGEST
from ..services.issue import forms, live, packages, reading
from ..services.issue.views import (
    FormBrief,
    FormView,
    LiveTableView,
    PackagesCompared,
    PackagesView,
)
from ..services.keeping import jobs, project_file
from ..services.keeping.views import JobView, Saved
from .api import answers, api, asks_once, stage, writes
from .bill_schemas import Comparing, FormChange, NewLiveTable, NewPackage, TiedCell
from .schemas import NewJob

blueprint = stage("issue")
MEDIA_TYPES = {
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "pdf": "application/pdf",
    "zip": "application/zip",
    "csv": "text/csv; charset=utf-8",
    "abs": "text/plain; charset=iso-8859-1",
    "dxf": "image/vnd.dxf",
    "X84": "application/xml",
}


# What a file can't be made without knowing.
_NEEDED = (
    ("sheet_pdf", "sheet"), ("ground_proof", "element"), ("bill_given_back", "bill"),
    ("bill_compared", "before"), ("bill_compared", "after"), ("order_list", "order"),
    ("form_filled", "form"), ("revision_report", "revision"),
)  # fmt: skip


@blueprint.post("/jobs")
@api.validate(resp=answers(JobView))
def begin(json: NewJob) -> JobView:
    """Have a file made off the request."""
    arguments = {name: value for name, value in json.given().items() if name != "kind" and value is not None}
    for kind, of in _NEEDED:
        if json.kind == kind and of not in arguments:
            raise BadEntry(f"Which {of}?", field=of)
    return jobs.view(g.actor, jobs.ask_for(g.actor, json.kind, arguments).id)


@blueprint.get("/jobs/<int:job>")
@api.validate(resp=answers(JobView))
def one(job: int) -> JobView:
    """How far a job is."""
    return jobs.view(g.actor, job)


@blueprint.delete("/jobs/<int:job>")
@api.validate(resp=answers(JobView))
def stop(job: int) -> JobView:
    """Stop a job."""
    return jobs.stop(g.actor, job)


@blueprint.get("/jobs/<int:job>/file")
def made(job: int) -> Response:
    """The file a job made."""
    name, content = jobs.result(g.actor, job)
    return download(name, content, MEDIA_TYPES[name.rsplit(".", 1)[-1]])


class Forms(RootModel[list[FormBrief]]):
    """The forms of a project."""


class LiveTables(RootModel[list[LiveTableView]]):
    """The live tables of a project."""


@blueprint.get("/packages")
@api.validate(resp=answers(PackagesView))
def listed_packages() -> PackagesView:
    """The packages that were issued, and what another can hold."""
    return reading.packages_view(g.actor)


@blueprint.post("/packages")
@api.validate(resp=answers(JobView))
def issue_package(json: NewPackage) -> JobView:
    """Have a package written and issued."""
    job = packages.ask_for_package(g.actor, json.title, json.documents, json.recipient, json.note)
    return jobs.view(g.actor, job.id)


@blueprint.get("/packages/compared")
@api.validate(query=Comparing, resp=answers(PackagesCompared))
def compare_packages(query: Comparing) -> PackagesCompared:
    """Two packages document by document."""
    return reading.compared(g.actor, query.before, query.after)


@blueprint.get("/packages/<int:package>/file")
@asks_once
def package_file(package: int) -> Response:
    """A package as it went out."""
    return download(*packages.content_of(g.actor, package), MEDIA_TYPES["zip"])


@blueprint.delete("/packages/<int:package>")
@writes
def delete_package(package: int) -> Saved:
    """Take a package back."""
    return packages.delete_package(g.actor, package)


@blueprint.get("/forms")
@api.validate(resp=answers(Forms))
def listed_forms() -> Any:
    """The forms of one's own."""
    return Forms(forms.forms_of(g.actor))


@blueprint.post("/forms")
@writes
def add_form() -> Saved:
    """A workbook as a form, sent as a form's file."""
    return forms.add_form(g.actor, *_workbook())


@blueprint.get("/forms/<int:own_form>")
@api.validate(resp=answers(FormView))
def one_form(own_form: int) -> FormView:
    """A form with its cells."""
    return forms.form_view(g.actor, own_form)


@blueprint.patch("/forms/<int:own_form>")
@writes
def rename_form(own_form: int, json: FormChange) -> Saved:
    """Call a form something else."""
    return forms.rename_form(g.actor, own_form, json.version, json.name)


@blueprint.post("/forms/<int:own_form>/file")
@writes
def replace_form(own_form: int) -> Saved:
    """Another file for a form."""
    return forms.replace_form(g.actor, own_form, *_workbook())


@blueprint.delete("/forms/<int:own_form>")
@writes
def delete_form(own_form: int) -> Saved:
    """Take a form out."""
    return forms.delete_form(g.actor, own_form)


@blueprint.post("/forms/<int:own_form>/cells")
@writes
def tie_cell(own_form: int, json: TiedCell) -> Saved:
    """Tie a cell of a form to a number."""
    return forms.tie_cell(g.actor, own_form, json.place, json.ref)


@blueprint.delete("/form-cells/<int:form_cell>")
@writes
def untie_cell(form_cell: int) -> Saved:
    """Let a cell of a form be."""
    return forms.untie_cell(g.actor, form_cell)


@blueprint.get("/live-tables")
@api.validate(resp=answers(LiveTables))
def listed_live() -> Any:
    """The live tables there are."""
    return LiveTables(live.live_tables(g.actor))


@blueprint.post("/live-tables")
@api.validate(resp=answers(LiveTableView))
def open_live(json: NewLiveTable) -> LiveTableView:
    """Give a table an address of its own."""
    return live.open_table(g.actor, json.what, json.name)


@blueprint.delete("/live-tables/<int:live_table>")
@api.validate(resp=answers(LiveTableView))
def withdraw_live(live_table: int) -> LiveTableView:
    """Withdraw a table's key."""
    return live.withdraw(g.actor, live_table)


def _workbook() -> tuple[bytes, str]:
    request.max_content_length = LARGEST + 64 * 1024
    file = request.files.get("file")
    if file is None:
        raise BadEntry("No file was sent.", field="file")
    return file.read(), file.filename or "the workbook"


@blueprint.get("/issue/project.json")
@asks_once
def whole() -> Response:
    """The whole project; written to disk first, so that a slow browser holds nothing up."""
    file = TemporaryFile()  # noqa: SIM115  closed when it has been sent
    name = project_file.write(g.actor, file)
    file.seek(0)
    return _named(send_file(file, mimetype="application/json"), name)


def download(name: str, content: bytes, media_type: str) -> Response:
    return _named(Response(content, mimetype=media_type), name)


def _named(answer: Response, name: str) -> Response:
    answer.headers["Content-Disposition"] = f"attachment; filename*=UTF-8''{quote(name)}"
    answer.headers["Cache-Control"] = "no-store"
    return answer
