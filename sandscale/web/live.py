"""Live tables: read with nothing but their address, by a spreadsheet that nobody signs in with."""

from __future__ import annotations

from flask import Blueprint, Response, request

from ..services.issue import live
from .issue import MEDIA_TYPES, download

blueprint = Blueprint("live", __name__, url_prefix="/api/live")


@blueprint.get("/<key>/<what>.csv")
def table(key: str, what: str) -> Response:
    """A live table as it is now; whoever has it as it is isn't sent it again."""
    file = live.read(key, what)
    answer = download(file.name, file.content, MEDIA_TYPES["csv"])
    answer.headers["Cache-Control"] = "private, no-cache"
    answer.set_etag(file.mark)
    answer.make_conditional(request)
    return answer
