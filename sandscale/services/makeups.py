"""The make-ups a project can use: those built in, and its own, written as text and proved before they are kept."""

from __future__ import annotations

from ..core.makeups.makeup import MakeUp, built_in, built_in_source, read_makeup
from ..core.refusals import BadFormula
from ..store.models import Element, OwnMakeUp
from .acting import Actor, InUse, check_version, find, require_writer
from .recording import action, recording
from .views import MakeUpView, Saved


def makeups(actor: Actor) -> list[MakeUpView]:
    """Every make-up of the project: built in first, then its own."""
    found = [MakeUpView(key=m.key, name=m.name, about=m.document.about, own=None, version=None, source=built_in_source(m.key)) for m in built_in().values()]
    for row in OwnMakeUp.select().where(OwnMakeUp.project == actor.project_id).order_by(OwnMakeUp.id):
        makeup = read_makeup(row.source)
        found.append(MakeUpView(key=row.key, name=makeup.name, about=makeup.document.about, own=row.id, version=row.version, source=row.source))
    return found


def try_makeup(actor: Actor, source: str) -> MakeUp:
    """Read and prove a make-up without keeping it.

    Raises:
        BadFormula: it doesn't hold together; the sentence says where.
    """
    require_writer(actor)
    return read_makeup(source)


@action
def add_makeup(actor: Actor, source: str) -> Saved:
    """Keep a make-up of the project's own.

    Raises:
        BadFormula: it doesn't hold together, or its key is taken.
    """
    makeup = try_makeup(actor, source)
    taken = makeup.key in built_in() or OwnMakeUp.select().where((OwnMakeUp.project == actor.project_id) & (OwnMakeUp.key == makeup.key)).exists()
    if taken:
        raise BadFormula(f"There is a make-up “{makeup.key}” already.", field="key", remedy="Give this one another key and name.")
    with recording(actor, f"Make-up {makeup.name}") as log:
        row = log.insert(OwnMakeUp, key=makeup.key, source=source)
    return Saved(label=log.label, id=row.id, version=1, bill_total=log.bill_total)


@action
def change_makeup(actor: Actor, makeup_id: int, version: int, source: str) -> Saved:
    """Change a make-up of the project's own; every element that uses it follows.

    Raises:
        BadFormula: it doesn't hold together, its key changed, or an element's entries no longer fit.
        Stale: someone else changed it meanwhile.
    """
    row = find(OwnMakeUp, actor, makeup_id)
    makeup = try_makeup(actor, source)
    if makeup.key != row.key:
        raise BadFormula(f"Its key is “{row.key}” and stays so; elements know it by that.", field="key", remedy="Keep as a new make-up to use another key.")
    check_version(row, version, {"source": source})
    for element in _users(actor, row):
        unknown = set(element.inputs) - set(makeup.inputs)
        if unknown:
            raise InUse(f"{element.mark} has an entry for “{sorted(unknown)[0]}”, which the make-up would no longer ask for.", field="source")
        makeup.values(element.inputs)
    with recording(actor, f"Make-up {makeup.name} changed") as log:
        log.update(row, source=source)
    return Saved(label=log.label, id=row.id, version=row.version, change=log.change and log.change.id, bill_total=log.bill_total)


@action
def delete_makeup(actor: Actor, makeup_id: int) -> Saved:
    """Take a make-up of the project's own out.

    Raises:
        InUse: elements use it.
    """
    row = find(OwnMakeUp, actor, makeup_id)
    if marks := [element.mark for element in _users(actor, row)]:
        raise InUse(f"{', '.join(marks[:4])} use{'s' if len(marks) == 1 else ''} this make-up.", remedy="Give them another one first.")
    with recording(actor, f"Make-up {row.key} deleted") as log:
        log.delete(row)
    return Saved(label=log.label, bill_total=log.bill_total)


def _users(actor: Actor, row: OwnMakeUp) -> list[Element]:
    return list(Element.select().where((Element.project == actor.project_id) & (Element.makeup == row.key)))
