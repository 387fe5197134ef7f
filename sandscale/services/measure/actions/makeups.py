"""Make-ups of a project's own, written, tried, taken from shelves and put there."""

from __future__ import annotations

from ....core.checks.bar_mass import bar_masses
from ....core.makeups.makeup import DIMENSIONS, MakeUp, built_in
from ....core.makeups.run import Line, run
from ....core.numbers.entry import read_entry, read_times
from ....core.numbers.rounding import is_whole
from ....core.numbers.ways import ways
from ....core.refusals import BadFormula
from ....store.database import database
from ....store.models import Element, Location, OwnMakeUp, Project, QuantityLine
from ...keeping.acting import Actor, InUse, check_version, find, require_writer
from ...keeping.recording import action, recording
from ...keeping.views import Saved
from ...shelves import actions as shelves
from ..entered import read_source
from ..reading import input_views, sketch_view
from ..views import MakeUpEffect, MakeUpTrial, MovedQuantity, NameView, TrialQuantity
from .dimension_lines import typed_line
from .elements import check_outputs, typed_inputs


def try_makeup(actor: Actor, source: str) -> MakeUp:
    """Read and prove a make-up without keeping it.

    Raises:
        BadFormula: it doesn't hold together; the sentence says where.
    """
    require_writer(actor)
    return read_source(source)


def trial(actor: Actor, source: str, entries: dict[str, str], line: dict[str, str]) -> MakeUpTrial:
    """A make-up that is being written, tried on sample dimensions.

    Args:
        entries: what is entered for its inputs; those it doesn't ask for are passed over.
        line: the sample's times, length, width and height, as typed.

    Raises:
        BadFormula: it doesn't hold together.
        BadEntry: a sample can't be read.
    """
    require_writer(actor)
    makeup = read_source(source, unit_system=ways().system.key)
    entries = {key: entry for key, entry in entries.items() if key in makeup.inputs and entry.strip()}
    entries = typed_inputs(makeup, entries)
    line = typed_line(line)

    def size(name: str) -> float | None:
        return read_entry(line[name], "m", field=name, minimum=0) if line.get(name, "").strip() else None

    sample = Line(read_times(line.get("times", "")), size("length"), size("width"), size("height"))
    result = run(makeup, entries, [sample])
    return MakeUpTrial(
        name=makeup.name, allowance=makeup.is_allowance, inputs=input_views(makeup, entries),
        quantities=[
            TrialQuantity(
                key=q.output.key, label=q.output.label,
                asks=q.output.had_whole and not is_whole(q.net), net=q.net, unit=q.output.unit,
                waste=q.waste, gross=q.gross,
                pack=f"{q.pack.number} × {q.pack.words}" if q.pack else "",
            )
            for q in result.quantities
        ],
        findings=[f.says for f in (*result.findings, *bar_masses(makeup))],
        sketch=sketch_view(makeup, entries, sample),
        names=[
            NameView(name=name, words=makeup.labels.get(name, ""), unit=makeup.system.symbol_of(dimension))
            for name, dimension in makeup.dimensions.items()
            if not (makeup.is_allowance and name in DIMENSIONS)
        ],
    )  # fmt: skip


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
            element=element, mark=mark, location=place, label=label, unit=unit,
            before=before.get(key, 0.0), after=after.get(key, 0.0),
        )
        for key in dict.fromkeys((*before, *after))
        for element, mark, place, label, unit in (key,)
        if before.get(key, 0.0) != after.get(key, 0.0)
    ]  # fmt: skip
    return MakeUpEffect(quantities=moved, bill_before=total, bill_after=saved.bill_total)


def _quantities(actor: Actor, makeup_id: int) -> dict[tuple[int, str, str, str, str], float]:
    """What the elements of a make-up come to: two of one mark in two locations are two."""
    key = find(OwnMakeUp, actor, makeup_id).key
    mine = (Element.project == actor.project_id) & (Element.measurer == "make-up") & (Element.source == key)
    query = QuantityLine.select(QuantityLine, Element, Location).join(Element).join(Location).where(mine)
    return {
        (q.element_id, q.element.mark, q.element.location.name, q.label, q.unit): q.net
        for q in query.order_by(Element.position, Element.id, QuantityLine.position)
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
    return log.saved(row)


@action
def take_from_shelf(actor: Actor, shelf_id: int, key: str) -> Saved:
    """Take the latest of a make-up from a shelf into the project, or move the project's on to it.

    Raises:
        Missing: the shelf isn't the actor's, or has no such make-up.
        BadFormula: the project has a make-up of that key that isn't from this shelf.
        InUse: an element's entries no longer fit.
    """
    kept = shelves.latest(actor.person_id, shelf_id, "make-up", key)
    row = OwnMakeUp.get_or_none((OwnMakeUp.project == actor.project_id) & (OwnMakeUp.key == key))
    if row is not None and row.shelf != shelf_id:
        raise BadFormula(
            f"The project has a make-up “{key}” of its own.",
            field="key",
            remedy="Give that one another key, or delete it.",
        )
    makeup = read_source(kept.source)
    with recording(actor, f"Make-up {makeup.name}, number {kept.number} of its shelf") as log:
        if row is None:
            row = log.insert(OwnMakeUp, key=key, source=kept.source, shelf=shelf_id, shelf_number=kept.number)
        else:
            _check_users(actor, row, makeup)
            log.update(row, source=kept.source, shelf_number=kept.number)
    return log.saved(row)


@action
def put_on_shelf(actor: Actor, makeup_id: int, shelf_id: int) -> Saved:
    """Put the project's make-up on a shelf as its next number there; the project goes on from that number."""
    row = find(OwnMakeUp, actor, makeup_id)
    kept = shelves.put(actor.person_id, shelf_id, "make-up", row.source)
    with recording(actor, f"Make-up {row.key} put on a shelf, number {kept.number}") as log:
        log.update(row, shelf=shelf_id, shelf_number=kept.number)
    return log.saved(row)


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
    return log.saved(row)


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
    return log.saved()


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
        check_outputs(element, makeup)


def _users(actor: Actor, row: OwnMakeUp) -> list[Element]:
    return list(
        Element.select().where(
            (Element.project == actor.project_id)
            & (Element.measurer == "make-up")
            & (Element.source == row.key)
        )
    )
