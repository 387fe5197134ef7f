"""Trials: values put down under a name, kept as one change, or dropped."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ...core.numbers.written import written
from ...core.refusals import BadEntry, Refusal
from ...store.models import Trial, TrialChange
from ...store.shadow import tried
from ..keeping.acting import Actor, Stale, check_version, find, require_writer
from ..keeping.recording import Recording, action, as_one, in_words, recording
from ..keeping.trying import field_of, row_of
from ..keeping.views import Saved
from .reading import Value, change_view, put, values_of

MOST_TRIALS, MOST_VALUES = 60, 200


@dataclass(frozen=True)
class _Checked:
    """A value written plainly, and what stood there before."""

    ref: str
    field: str
    value: str
    was: str


def add_trial(actor: Actor, name: str, values: Sequence[Value] = ()) -> Saved:
    """A trial, with the values that are tried in it first; they are read before the project is locked.

    Raises:
        BadEntry: it has no name, there are many, or a value can't be read.
        Missing: a value is for something that isn't there.
    """
    require_writer(actor)
    return _keep_new(actor, _named(name), _checked(actor, values))


@action
def _keep_new(actor: Actor, name: str, values: Sequence[_Checked]) -> Saved:
    if Trial.select().where(Trial.project == actor.project_id).count() >= MOST_TRIALS:
        raise BadEntry(f"A project has up to {MOST_TRIALS} trials.", field="name", remedy="Drop one first.")
    with recording(actor, f"Trial {name}") as log:
        row = log.insert(Trial, name=name)
        for value in values:
            _put_down(log, row.id, value)
    return log.saved(row)


def _named(name: str) -> str:
    if not name.strip():
        raise BadEntry("A trial needs a name.", field="name")
    return name.strip()[:120]


@action
def rename_trial(actor: Actor, trial_id: int, version: int, name: str) -> Saved:
    """Call a trial something else.

    Raises:
        BadEntry: the name is empty.
    """
    row, fields = find(Trial, actor, trial_id), {"name": _named(name)}
    check_version(row, version, fields)
    with recording(actor, f"Trial {fields['name']}") as log:
        log.update(row, **fields)
    return log.saved(row)


def add_value(actor: Actor, trial_id: int, value: Value) -> Saved:
    """Put a value into a trial; one that was there for the same field makes way.

    Raises:
        BadEntry: it can't be read, or there are many.
        Missing: it is for something that isn't there.
    """
    require_writer(actor)
    return _keep_value(actor, trial_id, *_checked(actor, [value]))


@action
def _keep_value(actor: Actor, trial_id: int, value: _Checked) -> Saved:
    row = find(Trial, actor, trial_id)
    with recording(actor, f"Trial {row.name}: {in_words([value.field])} {written(value.value)}") as log:
        made = _put_down(log, row.id, value)
    return log.saved(made)


def _put_down(log: Recording, trial_id: int, value: _Checked) -> TrialChange:
    rows = TrialChange.those(TrialChange.trial, [trial_id], TrialChange.position)
    there = next((row for row in rows if (row.ref, row.field) == (value.ref, value.field)), None)
    if there is not None:
        log.update(there, value=value.value, was=value.was)
        return there
    if len(rows) >= MOST_VALUES:
        raise BadEntry(f"A trial holds up to {MOST_VALUES} values.", field="value")
    place = rows[-1].position + 1 if rows else 0
    fields = {"ref": value.ref, "field": value.field, "value": value.value, "was": value.was}
    return log.insert(TrialChange, trial=trial_id, position=place, **fields)


def _checked(actor: Actor, values: Sequence[Value]) -> list[_Checked]:
    """Values as they are kept: as each would stand in its row, beside what stands there."""
    return tried(lambda: [_stands(actor, value) for value in values])


def _stands(actor: Actor, value: Value) -> _Checked:
    kind, row = row_of(actor, value.ref)
    was = field_of(kind, row, value.field).value
    kind.change(actor, row, value.field, value.value)
    _, changed = row_of(actor, value.ref)
    return _Checked(value.ref, value.field, field_of(kind, changed, value.field).value, was)


@action
def drop_value(actor: Actor, change_id: int) -> Saved:
    """Take a value out of a trial."""
    row = find(TrialChange, actor, change_id)
    with recording(actor, f"Trial {row.trial.name}: a value dropped") as log:
        log.delete(row)
    return log.saved()


@action
def drop_trial(actor: Actor, trial_id: int) -> Saved:
    """Drop a trial; nothing else moves."""
    row = find(Trial, actor, trial_id)
    with recording(actor, f"Trial {row.name} dropped") as log:
        log.delete_all(TrialChange.those(TrialChange.trial, [row.id]))
        log.delete(row)
    return log.saved()


@action
def renew_trial(actor: Actor, trial_id: int) -> Saved:
    """Let a trial stand on the project as it is now; values for what is gone are dropped."""
    row = find(Trial, actor, trial_id)
    with recording(actor, f"Trial {row.name}: on what stands now") as log:
        for change in TrialChange.those(TrialChange.trial, [row.id]):
            try:
                kind, of = row_of(actor, change.ref)
                log.update(change, was=field_of(kind, of, change.field).value)
            except Refusal:
                log.delete(change)
    return log.saved(row)


@action
def keep_trial(actor: Actor, trial_id: int, over: bool = False) -> Saved:
    """Write all values of a trial as one change, undone as one; the trial has done its work then.

    Args:
        over: also over what was put there since.

    Raises:
        Stale: something else stands where one was put down; both values are given.
        Refusal: it holds nothing, or a value can't be written.
    """
    row = find(Trial, actor, trial_id)
    changes = TrialChange.those(TrialChange.trial, [row.id], TrialChange.position)
    if not changes:
        raise Refusal(f"Trial {row.name} holds no value.", remedy="Put one into it, or drop it.")
    views = [change_view(actor, change) for change in changes]
    if not over and (odd := [view for view in views if view.says]):
        raise Stale(
            odd[0].says, {f"{v.called}, {v.name}": v.value for v in odd},
            {f"{v.called}, {v.name}": v.now for v in odd}, row.version,
        )  # fmt: skip
    values = values_of(row.id)
    with as_one(actor, f"Trial {row.name} kept") as log:
        log.delete_all(changes)
        log.delete(row)
        _write(actor, log, values)
    return log.saved()


@action
def keep_values(actor: Actor, values: Sequence[Value]) -> Saved:
    """Write values that were tried, as one change.

    Raises:
        Refusal: there are none, or one can't be written.
    """
    if not values:
        raise Refusal("There is no value to write.")
    with as_one(actor, "; ".join(_said(actor, value) for value in values)[:300]) as log:
        _write(actor, log, values)
    return log.saved()


def _write(actor: Actor, log: Recording, values: Sequence[Value]) -> None:
    if says := put(actor, log, values):
        raise Refusal(says[0], remedy="Take that value out, or put it right; nothing was written.")


def _said(actor: Actor, value: Value) -> str:
    kind, row = row_of(actor, value.ref)
    return f"{kind.called(row)}: {field_of(kind, row, value.field).name} {value.value}"
