"""The application factory."""

from __future__ import annotations

from os.path import isfile  # which is False, and no error, of a name too long to be one
from pathlib import Path

from flask import Flask, Response, request, send_from_directory

from ..core.makeups.makeup import built_in
from ..services.keeping.acting import Missing
from ..settings import hsts, secure_cookies
from ..store.database import connect, database
from ..store.database import open_connection as connection_opened
from . import (
    bars,
    bill,
    ground,
    health,
    issue,
    live,
    measure,
    order,
    prices,
    projects,
    rates,
    routes,
    sheets,
    shelves,
    sign_in,
    trenches,
    trials,
)
from .api import api, handle_refusals

FRONT_END = Path(__file__).parents[2] / "frontend" / "dist"
LARGEST_REQUEST = 4 * 1024 * 1024
# Styles may be inline: the component library writes its own at run time. Scripts may not.
CONTENT_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src "
    "'self' data: blob:; font-src 'self'; "
    "connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)


def create_app(database_url: str | None = None) -> Flask:
    """The web application, over the database of that address or of the setting."""
    app = Flask(__name__, static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_REQUEST
    app.config["SECURE_COOKIES"] = secure_cookies()
    connect(database_url)
    built_in()  # read and proved now rather than at the first screen
    handle_refusals(app)
    _register(app)

    @app.before_request
    def open_connection() -> None:
        if request.path.startswith("/api/"):
            connection_opened()

    @app.teardown_request
    def close_connection(_error: BaseException | None) -> None:
        if not database.is_closed():
            database.close()

    @app.after_request
    def harden(answer: Response) -> Response:
        answer.headers["Content-Security-Policy"] = CONTENT_POLICY
        answer.headers["X-Content-Type-Options"] = "nosniff"
        answer.headers["Referrer-Policy"] = "same-origin"
        if request.path.startswith("/api/"):
            answer.headers.setdefault("Cache-Control", "no-store")
        if hsts():
            answer.headers["Strict-Transport-Security"] = f"max-age={hsts()}; includeSubDomains"
        return answer

    @app.get("/", defaults={"path": ""})
    @app.get("/<path:path>")
    def front_end(path: str) -> Response:
        """The interface; its own router finds the view of any path that is no file."""
        if path.startswith("api/"):
            raise Missing(f"There is nothing at /{path}.")
        if path.startswith("assets/"):
            answer = _asset(path)
            answer.headers["Cache-Control"] = "public, max-age=31536000, immutable"
            return answer
        answer = send_from_directory(FRONT_END, path if isfile(FRONT_END / path) else "index.html")
        answer.headers["Cache-Control"] = "no-cache"
        return answer

    return app


def _asset(path: str) -> Response:
    """A script, style or font; scripts and styles in gzip, as the build left them, where the browser takes
    it."""
    zipped = f"{path}.gz"
    if "gzip" not in request.accept_encodings or not isfile(FRONT_END / zipped):
        return send_from_directory(FRONT_END, path)
    kind = "text/css" if path.endswith(".css") else "text/javascript"
    answer = send_from_directory(FRONT_END, zipped, mimetype=kind)
    answer.headers["Content-Encoding"] = "gzip"
    answer.headers["Vary"] = "Accept-Encoding"
    return answer


def _register(app: Flask) -> None:
    """Every route, with the document that describes them."""
    for module in (
        sign_in,
        health,
        projects,
        shelves,
        sheets,
        measure,
        order,
        bars,
        ground,
        routes,
        trenches,
        prices,
        rates,
        bill,
        trials,
        issue,
        live,
    ):
        app.register_blueprint(module.blueprint)
    app.register_blueprint(projects.one)
    api.register(app)


def api_document() -> dict[str, object]:
    """The OpenAPI document of the application, from which the interface's types are made."""
    app = Flask("document")
    _register(app)
    with app.app_context():
        return dict(api.spec)
