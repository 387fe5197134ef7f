"""Signing in and out, and one's own account."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, Response, current_app, g, jsonify, request
from pydantic import RootModel

from .. import settings
from ..services.people import accounts, invitations, signing_in
from ..services.people.views import InvitedView, PersonView, SessionView
from ..services.projects.reading import projects_of
from ..services.projects.views import ProjectBrief
from ..store.models import Session
from .api import COOKIE, answers, api, current_session, signed_in
from .schemas import Acceptance, Password, PasswordChange, SignIn

blueprint = Blueprint("sign_in", __name__, url_prefix="/api/session")


class Invitations(RootModel[list[InvitedView]]):
    """The invitations that wait for the person signed in."""


class OwnProjects(RootModel[list[ProjectBrief]]):
    """The person's projects, an invitation just taken up among them."""


def _view() -> SessionView:
    session = current_session()
    if session is None:
        return _nobody()
    person = PersonView.model_validate(session.person)
    return SessionView(person=person, csrf_token=session.csrf_token, letters=bool(settings.mail()))


def _nobody() -> SessionView:
    return SessionView(person=None, csrf_token="", letters=bool(settings.mail()))


@blueprint.get("")
@api.validate(resp=answers(SessionView))
def who() -> SessionView:
    """Who is signed in in this browser."""
    return _view()


@blueprint.post("")
@api.validate(resp=answers(SessionView))
def sign_in(json: SignIn) -> Response:
    """Sign in. No token is asked for: there is no session yet that a foreign page could ride on."""
    old = request.cookies.get(COOKIE)
    return _signed_in(*signing_in.sign_in(json.email, json.password, request.remote_addr or "", old))


@blueprint.post("/invited")
@api.validate(resp=answers(SessionView))
def accept(json: Acceptance) -> Response:
    """Take up an invitation that came by letter: make the account it was for, and sign in."""
    return _signed_in(*invitations.accept(json.token, json.name, json.password))


def _signed_in(token: str, session: Session) -> Response:
    g.session = session
    answer = jsonify(_view().model_dump(mode="json"))
    secure = bool(current_app.config["SECURE_COOKIES"])
    lasts = signing_in.LASTS
    answer.set_cookie(COOKIE, token, max_age=lasts, httponly=True, samesite="Strict", secure=secure)
    return answer


@blueprint.post("/password")
@api.validate(resp=answers(SessionView))
def change_password(json: PasswordChange) -> SessionView:
    """Change one's password; one's other browsers are signed out."""
    signed_in()
    accounts.change_password(current_session(), json.now, json.new)
    return _view()


@blueprint.delete("")
@api.validate(resp=answers(SessionView))
def sign_out() -> Response:
    """Sign out."""
    signed_in()
    signing_in.sign_out(request.cookies.get(COOKIE, ""))
    return _signed_out()


@blueprint.delete("/everywhere")
@api.validate(resp=answers(SessionView))
def sign_out_everywhere() -> Response:
    """Sign out in every browser."""
    signing_in.sign_out_everywhere(signed_in())
    return _signed_out()


@blueprint.post("/leave")
@api.validate(resp=answers(SessionView))
def leave(json: Password) -> Response:
    """Give one's account up, with what is one's own alone."""
    signed_in()
    person = current_session().person
    accounts.check_password(person, json.password)
    accounts.remove_person(person)
    return _signed_out()


def _signed_out() -> Response:
    answer = jsonify(_nobody().model_dump())
    answer.delete_cookie(COOKIE)
    return answer


@blueprint.get("/invitations")
@api.validate(resp=answers(Invitations))
def invited() -> Any:
    """What one is invited to."""
    signed_in()
    return Invitations(invitations.waiting_for(current_session().person))


@blueprint.post("/invitations/<int:invitation>")
@api.validate(resp=answers(OwnProjects))
def take_up(invitation: int) -> Any:
    """Take an invitation up."""
    person = signed_in()
    invitations.take_up(current_session().person, invitation)
    return OwnProjects(projects_of(person))


@blueprint.delete("/invitations/<int:invitation>")
@api.validate(resp=answers(Invitations))
def decline(invitation: int) -> Any:
    """Turn an invitation down."""
    signed_in()
    invitations.decline(current_session().person, invitation)
    return Invitations(invitations.waiting_for(current_session().person))
