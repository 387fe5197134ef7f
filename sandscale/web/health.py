"""Whether the application is well, for whoever watches it from outside; told to anybody, so it names
nothing."""

from __future__ import annotations

from flask import Blueprint, Response, jsonify

from ..services.keeping.health import health
from ..services.keeping.views import HealthView
from .api import answers, api

blueprint = Blueprint("health", __name__, url_prefix="/api/health")


@blueprint.get("")
@api.validate(resp=answers(HealthView))
def told() -> Response:
    """Whether the database is up to date and anyone does the long work; 503 when all isn't well."""
    found = health()
    answer = jsonify(found.model_dump())
    answer.status_code = 200 if found.well else 503
    return answer
