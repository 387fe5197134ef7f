"""Other values tried, and trials under a name."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from flask import g
from pydantic import RootModel

from ..services.keeping.views import Saved
from ..services.trials import actions, reading
from ..services.trials.reading import Value
from ..services.trials.views import TriableView, TrialView, TriedEffect
from .api import answers, api, stage, writes
from .bill_schemas import NewTrial, OneOfTrial, RefAsked, TrialKept, TrialRenamed, TriedValue, TriedValues

blueprint = stage("trials")


class Triables(RootModel[list[TriableView]]):
    """The fields behind a number that can be tried."""


class Trials(RootModel[list[TrialView]]):
    """The trials of a project."""


def _values(values: Iterable[TriedValue]) -> list[Value]:
    return [Value(each.ref, each.field, each.value) for each in values]


@blueprint.get("/tries")
@api.validate(query=RefAsked, resp=answers(Triables))
def triable(query: RefAsked) -> Any:
    """What behind a number can be tried."""
    return Triables(reading.triable(g.actor, query.ref))


@blueprint.post("/tries")
@api.validate(resp=answers(TriedEffect))
def effect(json: TriedValues) -> TriedEffect:
    """What values would do together; nothing is written."""
    return reading.effect_of_values(g.actor, _values(json.values))


@blueprint.post("/tries/kept")
@writes
def keep(json: TriedValues) -> Saved:
    """Write values that were tried."""
    return actions.keep_values(g.actor, _values(json.values))


@blueprint.get("/trials")
@api.validate(resp=answers(Trials))
def listed() -> Any:
    """The trials there are."""
    return Trials(reading.trials(g.actor))


@blueprint.post("/trials")
@writes
def add(json: NewTrial) -> Saved:
    """A trial."""
    return actions.add_trial(g.actor, json.name, _values(json.values))


@blueprint.patch("/trials/<int:trial>")
@writes
def rename(trial: int, json: TrialRenamed) -> Saved:
    """Call a trial something else."""
    return actions.rename_trial(g.actor, trial, json.version, json.name)


@blueprint.delete("/trials/<int:trial>")
@writes
def drop(trial: int) -> Saved:
    """Drop a trial."""
    return actions.drop_trial(g.actor, trial)


@blueprint.get("/trials/<int:trial>/effect")
@api.validate(query=OneOfTrial, resp=answers(TriedEffect))
def trial_effect(trial: int, query: OneOfTrial) -> TriedEffect:
    """What a trial would do, or one of its values by itself."""
    return reading.effect_of_trial(g.actor, trial, query.value)


@blueprint.post("/trials/<int:trial>/values")
@writes
def add_value(trial: int, json: TriedValue) -> Saved:
    """Put a value into a trial."""
    return actions.add_value(g.actor, trial, *_values([json]))


@blueprint.delete("/trial-values/<int:trial_value>")
@writes
def drop_value(trial_value: int) -> Saved:
    """Take a value out of a trial."""
    return actions.drop_value(g.actor, trial_value)


@blueprint.post("/trials/<int:trial>/renewed")
@writes
def renew(trial: int) -> Saved:
    """Let a trial stand on what is there now."""
    return actions.renew_trial(g.actor, trial)


@blueprint.post("/trials/<int:trial>/kept")
@writes
def keep_trial(trial: int, json: TrialKept) -> Saved:
    """Write a trial as one change."""
    return actions.keep_trial(g.actor, trial, json.over)
