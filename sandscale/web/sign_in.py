"""Signing in and out."""

from __future__ import annotations

from flask import Blueprint, Response, current_app, g, jsonify, request

from ..services.people import actions as people
from ..services.people.views import PersonView, SessionView
from ..store.models import Session
from .api import COOKIE, answers, api, current_session, signed_in
from .schemas import Acceptance, PasswordChange, SignIn

blueprint = Blueprint("sign_in", __name__, url_prefix="/api/session")


def _view() -> SessionView:
    session = current_session()
    if session is None:
        return SessionView(person=None, csrf_token="")
    return SessionView(person=PersonView.model_validate(session.person), csrf_token=session.csrf_token)


@blueprint.get("")
@api.validate(resp=answers(SessionView))
def who() -> SessionView:
    """Who is signed in in this browser."""
    return _view()


@blueprint.post("")
@api.validate(resp=answers(SessionView))
def sign_in(json: SignIn) -> Response:
    """Sign in. No token is asked for: there is no session yet that a foreign page could ride on."""
    return _signed_in(*people.sign_in(json.email, json.password))


@blueprint.post("/invited")
@api.validate(resp=answers(SessionView))
def accept(json: Acceptance) -> Response:
    """Take an invitation up: make the account it was for, and sign in."""
    return _signed_in(*people.accept(json.token, json.name, json.password))


def _signed_in(token: str, session: Session) -> Response:
    g.session = session
    answer = jsonify(_view().model_dump(mode="json"))
    secure = bool(current_app.config["SECURE_COOKIES"])
    answer.set_cookie(COOKIE, token, max_age=people.LASTS, httponly=True, samesite="Strict", secure=secure)
    return answer


@blueprint.post("/password")
@api.validate(resp=answers(SessionView))
def change_password(json: PasswordChange) -> SessionView:
    """Change one's password; one's other browsers are signed out."""
    signed_in()
    people.change_password(current_session(), json.now, json.new)
    return _view()


@blueprint.delete("")
@api.validate(resp=answers(SessionView))
def sign_out() -> Response:
    """Sign out."""
    signed_in()
    people.sign_out(request.cookies.get(COOKIE, ""))
    answer = jsonify(SessionView(person=None, csrf_token="").model_dump())
    answer.delete_cookie(COOKIE)
    return answer
