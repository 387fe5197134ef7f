"""What must hold of trials from a project file."""

from __future__ import annotations

from typing import Any

from ...core.refusals import Refusal
from ...store.models import Trial, TrialChange
from ..keeping.proving import refuse_empty
from ..keeping.trying import renumbered
from .actions import MOST_TRIALS, MOST_VALUES


def _change(row: dict[str, Any]) -> None:
    refuse_empty(row, "field")
    renumbered(row["ref"], lambda _table, named: named)


RULES = {"trial": lambda row: refuse_empty(row, "name"), "trial_change": _change}


def prove(project_id: int) -> None:
    """There aren't more trials and values than there may be, and one value for each field.

    Raises:
        Refusal: something doesn't hold.
    """
    trials = Trial.those(Trial.project, [project_id])
    if len(trials) > MOST_TRIALS:
        raise Refusal(f"It has more than {MOST_TRIALS} trials.")
    for trial in trials:
        changes = TrialChange.those(TrialChange.trial, [trial.id])
        if len({(row.ref, row.field) for row in changes}) < len(changes) or len(changes) > MOST_VALUES:
            raise Refusal(f"Trial {trial.name} has two values for one field, or too many.")
