"""The issue stage: the bill as XLSX, the project as one file."""

from __future__ import annotations

from urllib.parse import quote

from flask import Response, g

from ..services import issue
from .api import stage

blueprint = stage("issue")
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@blueprint.get("/issue/bill.xlsx")
def workbook() -> Response:
    """The bill with live formulas."""
    return _download(*issue.bill_workbook(g.actor), XLSX)


@blueprint.get("/issue/project.json")
def whole() -> Response:
    """The whole project."""
    return _download(*issue.project_file(g.actor), "application/json")


def _download(name: str, content: bytes, media_type: str) -> Response:
    answer = Response(content, mimetype=media_type)
    answer.headers["Content-Disposition"] = f"attachment; filename*=UTF-8''{quote(name)}"
    answer.headers["Cache-Control"] = "no-store"
    return answer
