"""The issue stage: files made off the request by jobs, and the project as one file."""

from __future__ import annotations

from tempfile import TemporaryFile
from urllib.parse import quote

from flask import Response, g, send_file

from ..core.refusals import BadEntry
from ..services.keeping import jobs, project_file
from ..services.keeping.views import JobView
from .api import answers, api, asks_once, stage
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
