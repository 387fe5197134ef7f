"""The make-ups a project can use: those built in, and its own, written as text and proved before they are
kept."""

from __future__ import annotations

from ..core.checks.bar_mass import bar_masses
from ..core.makeups.makeup import MakeUp, built_in, built_in_source, read_makeup
from ..core.makeups.run import Line, drawn, run
from ..core.numbers.entry import read_entry, read_times
from ..core.refusals import BadFormula
from ..store.database import database
from ..store.models import Element, OwnMakeUp, Project, QuantityLine, Shelf
from . import shelves
from .acting import Actor, InUse, check_version, find, require_writer
from .recording import action, recording
from .views import (
    InputView,
    MakeUpEffect,
    MakeUpTrial,
    MakeUpView,
    MovedQuantity,
    Saved,
    SketchPart,
    TrialQuantity,
)


def makeups(actor: Actor) -> list[MakeUpView]:
    """Every make-up of the project: built in first, then its own."""
    found = [
        MakeUpView(
            key=m.key, name=m.name, about=m.document.about, own=None, shelf="", shelf_number=None, newer=None,
            findings=[], version=None,
            source=built_in_source(m.key),
        )
        for m in built_in().values()
    ]  # fmt: skip
    rows = list(OwnMakeUp.select().where(OwnMakeUp.project == actor.project_id).order_by(OwnMakeUp.id))
    names = dict(
        Shelf.select(Shelf.id, Shelf.name)
        .where(Shelf.id << [row.shelf for row in rows if row.shelf])
        .tuples()
    )
    latest = shelves.latest_numbers([row.shelf for row in rows if row.shelf])
    for row in rows:
        makeup, now = read_makeup(row.source), latest.get((row.shelf, row.key), 0)
        found.append(
            MakeUpView(
                key=row.key, name=makeup.name, about=makeup.document.about, own=row.id,
                shelf=names.get(row.shelf, ""), shelf_number=row.shelf_number,
                newer=now if row.shelf_number and now > row.shelf_number else None,
                findings=[f.says for f in bar_masses(makeup)],
                version=row.version, source=row.source,
            )
        )  # fmt: skip
    return found


def try_makeup(actor: Actor, source: str) -> MakeUp:
    """Read and prove a make-up without keeping it.

    Raises:
        BadFormula: it doesn't hold together; the sentence says where.
    """
    require_writer(actor)
    return read_makeup(source)


def trial(actor: Actor, source: str, entries: dict[str, str], line: dict[str, str]) -> MakeUpTrial:
    """A make-up that is being written, tried on sample dimensions.

    Args:
        entries: what is entered for its inputs; those it doesn't ask for are passed over.
        line: the sample's times, length, width and height, as typed.

    Raises:
        BadFormula: it doesn't hold together.
        BadEntry: a sample can't be read.
    """
    makeup = try_makeup(actor, source)
    entries = {key: entry for key, entry in entries.items() if key in makeup.inputs and entry.strip()}

    def size(name: str) -> float | None:
        return read_entry(line[name], "m", field=name, minimum=0) if line.get(name, "").strip() else None

    sample = Line(read_times(line.get("times", "")), size("length"), size("width"), size("height"))
    result = run(makeup, entries, [sample])
    return MakeUpTrial(
        name=makeup.name, inputs=input_views(makeup, entries),
        quantities=[
            TrialQuantity(
                label=q.output.label, net=q.net, unit=q.output.unit, waste=q.waste, gross=q.gross,
                pack=f"{q.pack.number} " "" f"× {q.pack.words}" if q.pack else ""
            )
            for q in result.quantities
        ],
        findings=[f.says for f in (*result.findings, *bar_masses(makeup))],
        sketch=sketch_views(makeup, entries, sample),
    )  # fmt: skip


def input_views(makeup: MakeUp, entered: dict[str, str]) -> list[InputView]:
    """The questions of a make-up with what was entered."""
    return [
        InputView(
            key=field.key, label=field.label, unit=field.unit, hint=field.hint,
            entry=entered.get(field.key, field.default),
            entered=field.key in entered, words=field.words,
            choices=[choice.label for choice in field.choices],
        )
        for field in makeup.inputs.values()
    ]  # fmt: skip


def sketch_views(makeup: MakeUp, entries: dict[str, str], line: Line) -> list[SketchPart]:
    """The make-up's sketch at the sizes of a line."""
    return [
        SketchPart(
            label=p.label,
            family=p.family,
            view=p.view,
            points=[list(point) for point in p.points],
            radius=p.radius,
            hollow=p.hollow,
        )
        for p in drawn(makeup, entries, line)
    ]


def effect(actor: Actor, makeup_id: int, source: str) -> MakeUpEffect:
    """What another text for a make-up of the project's own would move, tried on the project and taken back.

    Raises:
        BadFormula: it doesn't hold together.
        InUse: an element's entries no longer fit.
    """
    require_writer(actor)
    with database.atomic() as trial_run:
        before = _quantities(actor, makeup_id)
        total = Project.get_by_id(actor.project_id).bill_total
        saved = change_makeup(actor, makeup_id, find(OwnMakeUp, actor, makeup_id).version, source)
        after = _quantities(actor, makeup_id)
        trial_run.rollback()
    moved = [
        MovedQuantity(
            mark=mark, label=label, unit=unit, before=before.get((mark, label, unit), 0.0),
            after=after.get((mark, label, unit), 0.0)
        )
        for mark, label, unit in dict.fromkeys((*before, *after))
        if before.get((mark, label, unit), 0.0) != after.get((mark, label, unit), 0.0)
    ]  # fmt: skip
    return MakeUpEffect(quantities=moved, bill_before=total, bill_after=saved.bill_total)


def _quantities(actor: Actor, makeup_id: int) -> dict[tuple[str, str, str], float]:
    key = find(OwnMakeUp, actor, makeup_id).key
    query = (
        QuantityLine.select(QuantityLine, Element.id, Element.mark)
        .join(Element)
        .where((Element.project == actor.project_id) & (Element.makeup == key))
    )
    return {
        (q.element.mark, q.label, q.unit): q.net for q in query.order_by(Element.position, QuantityLine.id)
    }


@action
def add_makeup(actor: Actor, source: str) -> Saved:
    """Keep a make-up of the project's own.

    Raises:
        BadFormula: it doesn't hold together, or its key is taken.
    """
    makeup = try_makeup(actor, source)
    taken = (
        makeup.key in built_in()
        or OwnMakeUp.select()
        .where((OwnMakeUp.project == actor.project_id) & (OwnMakeUp.key == makeup.key))
        .exists()
    )
    if taken:
        raise BadFormula(
            f"There is a make-up “{makeup.key}” already.",
            field="key",
            remedy="Give this one another key and name.",
        )
    with recording(actor, f"Make-up {makeup.name}") as log:
        row = log.insert(OwnMakeUp, key=makeup.key, source=source)
    return Saved(label=log.label, id=row.id, version=1, bill_total=log.bill_total)


@action
def take_from_shelf(actor: Actor, shelf_id: int, key: str) -> Saved:
    """Take the latest of a make-up from a shelf into the project, or move the project's on to it.

    Raises:
        Missing: the shelf isn't the actor's, or has no such make-up.
        BadFormula: the project has a make-up of that key that isn't from this shelf.
        InUse: an element's entries no longer fit.
    """
    kept = shelves.latest(actor.person_id, shelf_id, key)
    row = OwnMakeUp.get_or_none((OwnMakeUp.project == actor.project_id) & (OwnMakeUp.key == key))
    if row is not None and row.shelf != shelf_id:
        raise BadFormula(
            f"The project has a make-up “{key}” of its own.",
            field="key",
            remedy="Give that one another key, or delete it.",
        )
    makeup = read_makeup(kept.source)
    with recording(actor, f"Make-up {makeup.name}, number {kept.number} of its shelf") as log:
        if row is None:
            row = log.insert(OwnMakeUp, key=key, source=kept.source, shelf=shelf_id, shelf_number=kept.number)
        else:
            _check_users(actor, row, makeup)
            log.update(row, source=kept.source, shelf_number=kept.number)
    return Saved(
        label=log.label,
        id=row.id,
        version=row.version,
        change=log.change and log.change.id,
        bill_total=log.bill_total,
    )


@action
def put_on_shelf(actor: Actor, makeup_id: int, shelf_id: int) -> Saved:
    """Put the project's make-up on a shelf as its next number there; the project goes on from that number."""
    row = find(OwnMakeUp, actor, makeup_id)
    kept = shelves.put(actor.person_id, shelf_id, row.key, row.source)
    with recording(actor, f"Make-up {row.key} put on a shelf, number {kept.number}") as log:
        log.update(row, shelf=shelf_id, shelf_number=kept.number)
    return Saved(label=log.label, id=row.id, version=row.version, bill_total=log.bill_total)


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
        raise BadFormula(
            f"Its key is “{row.key}” and stays so; elements know it by that.",
            field="key",
            remedy="Keep as a new make-up to use another key.",
        )
    check_version(row, version, {"source": source})
    _check_users(actor, row, makeup)
    with recording(actor, f"Make-up {makeup.name} changed") as log:
        log.update(row, source=source)
    return Saved(
        label=log.label,
        id=row.id,
        version=row.version,
        change=log.change and log.change.id,
        bill_total=log.bill_total,
    )


@action
def delete_makeup(actor: Actor, makeup_id: int) -> Saved:
    """Take a make-up of the project's own out.

    Raises:
        InUse: elements use it.
    """
    row = find(OwnMakeUp, actor, makeup_id)
    if marks := [element.mark for element in _users(actor, row)]:
        raise InUse(
            f"{', '.join(marks[:4])} use{'s' if len(marks) == 1 else ''} this make-up.",
            remedy="Give them another one first.",
        )
    with recording(actor, f"Make-up {row.key} deleted") as log:
        log.delete(row)
    return Saved(label=log.label, bill_total=log.bill_total)


def _check_users(actor: Actor, row: OwnMakeUp, makeup: MakeUp) -> None:
    for element in _users(actor, row):
        unknown = set(element.inputs) - set(makeup.inputs)
        if unknown:
            raise InUse(
                f"{element.mark} has an entry for “{sorted(unknown)[0]}”, which the "
                "make-up would no longer ask for.",
                field="source",
            )
        makeup.values(element.inputs)


def _users(actor: Actor, row: OwnMakeUp) -> list[Element]:
    return list(Element.select().where((Element.project == actor.project_id) & (Element.makeup == row.key)))
