"""What values would do: they are put down in the shadow of the project, looked at, and forgotten."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ...core.numbers.written import written
from ...core.refusals import Refusal
from ...store.changes import moved_by
from ...store.database import database
from ...store.models import BeingWorkedOut, Project, Trial, TrialChange
from ...store.shadow import tried
from ..answers.effects import figures_of, moved_items, moved_rates, of_own_bill
from ..keeping.acting import Actor, Missing, find
from ..keeping.graph import Ids
from ..keeping.recording import Recording, as_one
from ..keeping.trying import field_of, offers, row_of
from .views import TriableView, TrialChangeView, TrialView, TriedEffect


@dataclass(frozen=True)
class Value:
    """Another value, as it is typed, for a field of the row that a reference names."""

    ref: str
    field: str
    value: str


def triable(actor: Actor, ref: str) -> list[TriableView]:
    """The fields behind a number that other values may be put into; none where there are none."""
    kind, _, rest = ref.partition(":")
    row = rest.partition(":")[0]
    offered = offers().get(kind)
    if offered is None or (row and not row.isdecimal()) or len(row) > 9:
        return []
    found = []
    for of, row_id in offered(actor, int(row or 0)):
        tries, each = row_of(actor, f"{of}:{row_id}")
        found += [
            TriableView(
                ref=f"{of}:{row_id}", field=field.key, called=tries.called(each), name=field.name,
                unit=field.symbol, value=field.told(field.value),
            )
            for field in tries.fields(each)
        ]  # fmt: skip
    return found


def effect_of_values(actor: Actor, values: Sequence[Value]) -> TriedEffect:
    """What values would do together. Nothing is written, and nobody waits."""
    able = Actor(actor.person_id, actor.project_id, "editor")  # nothing of it stays
    return tried(lambda: _effect(able, values))


def _effect(actor: Actor, values: Sequence[Value]) -> TriedEffect:
    says = list[str]()
    waiting = BeingWorkedOut.project == actor.project_id
    waited = BeingWorkedOut.select().where(waiting).count()
    with database.atomic() as trial:
        with as_one(actor, "Tried") as log:
            says += put(actor, log, values)
        moved = moved_by(log.change) if log.change else {}
        rates, items = moved.get("rates", Ids()), of_own_bill(moved.get("items", ()))
        after, total = figures_of(rates, items), Project.get_by_id(actor.project_id).bill_total
        waits = BeingWorkedOut.select().where(waiting).count() - waited
        trial.rollback()
    before, was = figures_of(rates, items), Project.get_by_id(actor.project_id).bill_total
    told_rates, told_items = moved_rates(rates, before[0], after[0]), moved_items(items, before[1], after[1])
    return TriedEffect(
        bill_before=was, bill_after=total, items=told_items, items_moved=len(items), rates=told_rates,
        rates_moved=len(rates), waits=max(waits, 0), says=says,
    )  # fmt: skip


def put(actor: Actor, log: Recording, values: Iterable[Value]) -> list[str]:
    """Put values down; gives what is said of those that can't be, which are left out."""
    says = []
    for each in values:
        written_before = len(log.entries)
        try:
            with database.atomic():
                kind, row = row_of(actor, each.ref)
                field_of(kind, row, each.field)
                kind.change(actor, row, each.field, each.value)
        except Refusal as refusal:
            del log.entries[written_before:]
            says.append(f"{_called(actor, each)}: {refusal.sentence}")
    return says


def _called(actor: Actor, value: Value) -> str:
    try:
        kind, row = row_of(actor, value.ref)
        return f"{kind.called(row)}, {field_of(kind, row, value.field).name} {value.value}"
    except Missing:
        return f"{value.field} {value.value}"


def trials(actor: Actor) -> list[TrialView]:
    """The project's trials, with the values in them."""
    rows = Trial.those(Trial.project, [actor.project_id], Trial.id)
    changes: dict[int, list[TrialChange]] = {}
    order = (TrialChange.position, TrialChange.id)
    for change in TrialChange.those(TrialChange.trial, [row.id for row in rows], *order):
        changes.setdefault(change.trial_id, []).append(change)
    return [_trial(actor, row, changes.get(row.id, [])) for row in rows]


def _trial(actor: Actor, row: Trial, changes: Iterable[TrialChange]) -> TrialView:
    views = [change_view(actor, change) for change in changes]
    return TrialView(
        id=row.id, version=row.version, name=row.name, changes=views,
        moved_on=any(view.says for view in views),
    )  # fmt: skip


def change_view(actor: Actor, change: TrialChange) -> TrialChangeView:
    """A value of a trial, beside what stood there and what stands there now."""
    told = {"called": change.ref, "name": change.field, "unit": "", "now": "", "says": ""}
    told |= {"was": written(change.was), "value": written(change.value)}
    try:
        kind, row = row_of(actor, change.ref)
        told["called"] = kind.called(row)
        field = field_of(kind, row, change.field)
        told |= {"name": field.name, "unit": field.symbol, "now": field.told(field.value)}
        told |= {"was": field.told(change.was), "value": field.told(change.value)}
        if field.value != change.was:
            told["says"] = (
                f"{told['called']}, {field.name}: {told['now'] or 'nothing'} stands there, where "
                f"{told['was'] or 'nothing'} did when {told['value']} was put down."
            )
    except Refusal as gone:
        told["says"] = gone.sentence
    return TrialChangeView(
        id=change.id, version=change.version, ref=change.ref, field=change.field, **told,
    )  # fmt: skip


def values_of(trial_id: int, change_id: int | None = None) -> list[Value]:
    """The values of a trial, or one of them, as they are typed."""
    rows = TrialChange.those(TrialChange.trial, [trial_id], TrialChange.position, TrialChange.id)
    return [
        Value(row.ref, row.field, written(row.value))
        for row in rows
        if change_id is None or row.id == change_id
    ]


def effect_of_trial(actor: Actor, trial_id: int, change_id: int | None = None) -> TriedEffect:
    """What a trial would do, or one of its values by itself."""
    return effect_of_values(actor, values_of(find(Trial, actor, trial_id).id, change_id))
