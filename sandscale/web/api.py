"""What every blueprint shares: the API document, who acts, and how a refusal is answered."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from functools import wraps
from inspect import unwrap
from typing import Any, TypeVar, get_type_hints

from flask import Blueprint, Flask, Response, current_app, g, jsonify, request
from peewee import DataError, IntegrityError, InterfaceError, OperationalError
from spectree import Response as Answers
from spectree import SpecTree
from werkzeug.exceptions import HTTPException

from ..core.numbers.ways import hold
from ..core.refusals import BadEntry, BadFormula, BadShape, Refusal
from ..formats.apart import Busy
from ..formats.page import UnreadableDrawing
from ..formats.project_json import UnreadableProject
from ..services.answers import moved
from ..services.answers.views import Answer
from ..services.issue.live import Withdrawn
from ..services.keeping.acting import Actor, Forbidden, InUse, Missing, Stale
from ..services.keeping.jobs import TooMany
from ..services.keeping.views import Saved
from ..services.people import signing_in
from ..services.people.passwords import TooManyTries
from ..services.people.signing_in import SignedIn, SignInRefused
from ..store.database import database

R = TypeVar("R", bound=Callable[..., Any])
COOKIE = "sandscale_session"
CSRF_HEADER = "X-Sandscale-Token"
KNOWN_HEADER = "X-Sandscale-Known"


class NotSignedIn(Refusal):
    """Nobody is signed in in this browser."""


class NoJson(Refusal):
    """What was sent is not the JSON that the route takes."""


_STATUS: tuple[tuple[type[Refusal], int], ...] = (
    (NotSignedIn, 401), (SignInRefused, 401), (TooManyTries, 429), (TooMany, 429),
    (Forbidden, 403),
    (Missing, 404), (Withdrawn, 410),
    (Stale, 409), (InUse, 409), (Busy, 503), (UnreadableDrawing, 422), (UnreadableProject,
    422), (BadEntry, 422), (BadFormula, 422), (BadShape, 422), (NoJson, 415), (Refusal, 409), )  # fmt: skip


# What may be typed into a field that isn't what it holds: the beginning of pydantic's name for it, and what
# to say.
_TYPED = (
    ("decimal", "no number", "Type something like 12.5."),
    ("float", "no number", "Type something like 12.5."),
    ("int", "no whole number", "Type something like 12."),
    ("date", "no date", "Type it like 2026-11-02."),
    ("string_too_long", "too long", ""),
)


def _refuse_invalid(_request: Any, _response: Any, error: Any, _instance: Any, _adapter: Any) -> None:
    """A request that doesn't fit its schema is refused like any other bad entry, with a sentence."""
    if error is not None:
        first = error.errors()[0]
        field = ".".join(str(part) for part in first["loc"])
        name, typed = (field.replace("_", " ") or "The request").capitalize(), first["input"]
        if isinstance(typed, str) and first["type"] == "literal_error":
            raise BadEntry(f"{name}: “{typed[:40]}” is none of {first['ctx']['expected']}.", field=field)
        for kind, says, remedy in _TYPED:
            if isinstance(typed, str) and first["type"].startswith(kind):
                raise BadEntry(f"{name}: “{typed[:40]}” is {says}.", field=field, remedy=remedy)
        raise BadEntry(f"{name}: {first['msg'].lower()}.", field=field)


class Document(SpecTree):
    """The routes and what they take and answer. The schemas are made when the document is asked for: made for
    each route as it is declared, they took a server longer to start than all else."""

    def __init__(self, *given: Any, **named: Any) -> None:
        self._shown: dict[tuple[Any, Any], None] = {}
        super().__init__(*given, **named)

    def _add_model(self, model: Any, mode: Any = "validation") -> str:
        self._shown.pop((model, mode), None)
        self._shown[model, mode] = None  # of one name, the model that comes last is shown
        return str(self.naming_strategy(model))

    def _generate_spec(self) -> dict[str, Any]:
        for shown in self._shown:
            super()._add_model(*shown)
        return dict(super()._generate_spec())


api = Document(
    "flask",
    title="Sand Scale",
    version="1",
    path="api/document",
    page_templates={},
    naming_strategy=lambda model: model.__name__,
    nested_naming_strategy=lambda _parent, child: child,
    before=_refuse_invalid,
)


def answers(model: Any) -> Answers:
    """The answer of a route: this model, or a problem."""
    return Answers(HTTP_200=model)


def writes(route: Callable[..., Saved]) -> Any:
    """A route that writes: its answer names what it touched, read once the action is done and its lock
    given back."""

    @wraps(route)
    def answered(**values: Any) -> Answer:
        return moved.answered(g.actor, route(**values), _known())

    # The checker reads what a route takes by its annotations, in the route's own module.
    answered.__annotations__ = get_type_hints(route)
    return api.validate(resp=answers(Answer))(answered)


def _known() -> int:
    """The latest change the browser says it has put in place; 0 where it says none."""
    said = request.headers.get(KNOWN_HEADER, "")
    return int(said) if said.isdecimal() and len(said) < 10 else 0


def stage(name: str) -> Blueprint:
    """A blueprint for a stage of a project; its routes find the person's role in ``g.actor``, with its ways
    held.

    A project the person doesn't belong to is answered like one that doesn't exist.
    """
    blueprint = Blueprint(name, __name__, url_prefix="/api/projects/<int:project_id>")

    @blueprint.url_value_preprocessor
    def into_project(_endpoint: str | None, values: dict[str, Any] | None) -> None:
        project_id = (values or {}).pop("project_id")
        known = _known_browser(project_id if project_id < 2**31 else 0)
        if known.role is None:
            raise Missing("There is no such project, or it is not shared with you.")
        g.actor = Actor(known.person_id, project_id, known.role)
        hold(known.unit_system, known.numbers, known.working_day)

    @blueprint.before_request
    def as_of_one_moment() -> None:
        """What is read by several questions is read as at one moment, whatever is written meanwhile."""
        view = current_app.view_functions[request.endpoint or ""]
        if request.method == "GET" and not getattr(view, "asks_once", False):
            g.moment = database.atomic("REPEATABLE READ")
            g.moment.__enter__()

    @blueprint.teardown_request
    def moment_over(_error: BaseException | None) -> None:
        hold()
        if moment := g.pop("moment", None):
            with suppress(OperationalError, InterfaceError):  # the connection may have gone with the database
                moment.__exit__(None, None, None)

    return blueprint


def asks_once(route: R) -> R:
    """A route that asks the database once, or waits for something else: it needs no moment of its own."""
    route.asks_once = True  # type: ignore[attr-defined]
    return route


def signed_in() -> int:
    """The id of the person signed in; a write must also carry the session's token.

    Raises:
        NotSignedIn: nobody is.
        Forbidden: a write without the session's token.
    """
    return _known_browser(None).person_id


def _known_browser(project_id: int | None) -> SignedIn:
    known = signing_in.signed_in(request.cookies.get(COOKIE), project_id)
    if known is None:
        raise NotSignedIn("You are not signed in.", remedy="Sign in again; what you typed is still here.")
    if request.method not in ("GET", "HEAD") and request.headers.get(CSRF_HEADER) != known.csrf_token:
        raise Forbidden("This request didn't come from the application.", remedy="Reload the page.")
    return known


def current_session() -> Any:
    """The browser's running session, or None."""
    if "session" not in g:
        g.session = signing_in.session_of(request.cookies.get(COOKIE))
    return g.session


def problem(refusal: Refusal, status: int = 0) -> tuple[Response, int]:
    """A refusal as one JSON shape (RFC 9457): the sentence, the field, the remedy; both values of a clash.

    Args:
        status: the answer's, where it isn't that of the kind of refusal.
    """
    status = status or next(code for kind, code in _STATUS if isinstance(refusal, kind))
    body: dict[str, Any] = {
        "type": type(refusal).__name__,
        "status": status,
        "title": refusal.sentence,
        "code": refusal.code,
        "field": refusal.field,
        "numbers": refusal.numbers,
        "remedy": refusal.remedy,
    }
    if isinstance(refusal, Stale):
        body |= {"yours": refusal.yours, "theirs": refusal.theirs, "version": refusal.version}
    answer = jsonify(body)
    answer.mimetype = "application/problem+json"
    if status in (429, 503):
        answer.headers["Retry-After"] = str(max(1, round(refusal.numbers.get("wait", 1))))
    return answer, status


def handle_refusals(app: Flask) -> None:
    """Answer every refusal, and what Flask itself refuses, in the problem shape."""
    app.register_error_handler(Refusal, problem)

    @app.before_request
    def takes_json() -> None:
        """A route that takes JSON is given some, or the request is refused in words."""
        view = app.view_functions.get(request.endpoint or "")
        if view is None or "json" not in unwrap(view).__annotations__:
            return
        try:
            request.get_json(cache=True)
        except HTTPException as error:
            if error.code == 413:
                raise
            raise NoJson("The request's body is not JSON.", remedy="Send it as application/json.") from None
        except (RecursionError, ValueError):
            raise NoJson("The request's body lies too deep within itself, or isn't text.") from None

    @app.errorhandler(HTTPException)
    def refused(error: HTTPException) -> tuple[Response, int]:
        """What Flask and Werkzeug refuse by themselves."""
        if error.code == 413:
            sentence, remedy = "The file is too large to send.", "Split it, or print it to a smaller PDF."
            return problem(BadEntry(sentence, field="file", remedy=remedy), 413)
        if error.code == 404:
            return problem(Missing(f"There is nothing at {request.path[:80]}."), 404)
        return problem(Refusal(f"The request can't be read: {error.name.lower()}."), error.code or 400)

    @app.errorhandler(OperationalError)
    @app.errorhandler(InterfaceError)
    def away(_error: Exception) -> tuple[Response, int]:
        database.obj.manual_close()
        sentence = "The database can't be reached; nothing was changed."
        return problem(Refusal(sentence, remedy="It is coming back; try again in a moment."), 503)

    @app.errorhandler(IntegrityError)
    @app.errorhandler(DataError)
    def unfitting(error: Exception) -> tuple[Response, int]:
        """What no rule here refused, and the database does."""
        app.logger.exception("Refused by the database", exc_info=error)
        sentence = "That doesn't fit with what is there; nothing was changed."
        return problem(Refusal(sentence, remedy="Reload the page and look at it again."), 409)

    @app.errorhandler(500)
    def broken(_error: Exception) -> tuple[Response, int]:
        sentence = "The server could not finish this; nothing was changed."
        remedy = "Try again; if it happens again, tell whoever runs the server what you did."
        return problem(Refusal(sentence, remedy=remedy), 500)
