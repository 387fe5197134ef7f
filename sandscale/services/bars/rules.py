"""What can be done with detailing rules: written for the project, changed, taken from shelves, put there."""

from __future__ import annotations

from ...core.bars.detailing import Detailing, built_in_detailing, built_in_source, read_detailing
from ...core.bars.sizes import diameter
from ...core.refusals import BadEntry
from ...store.models import Element, OwnDetailing, Project, Shelf
from ..keeping.acting import Actor, InUse, check_version, find
from ..keeping.one_reading import one_reading
from ..keeping.recording import action, recording
from ..keeping.views import Saved
from ..shelves import actions as shelves
from .views import DetailingTable, DetailingView, LeastView


def detailing_views(actor: Actor) -> list[DetailingView]:
    """Every set of rules a project can follow: its own first."""
    with one_reading():
        project = Project.get_by_id(actor.project_id)
        own = OwnDetailing.those(OwnDetailing.project, [project.id], OwnDetailing.id)
        names = dict(
            Shelf.select(Shelf.id, Shelf.name).where(Shelf.id << [r.shelf for r in own if r.shelf]).tuples()
        )
        used: dict[str, int] = {}
        mine = (Element.project == project.id) & (Element.detailing != "")
        for (key,) in Element.select(Element.detailing).where(mine).tuples():
            used[key] = used.get(key, 0) + 1
        chosen = project.detailing or "bs-8666"
        return [
            *(
                DetailingView(
                    key=row.key, name=row.name, own=row.id, version=row.version, source=row.source,
                    shelf=f"{names[row.shelf]}, {row.shelf_number}" if row.shelf in names else "",
                    used_by=used.get(row.key, 0), project=row.key == chosen,
                )
                for row in own
            ),
            *(
                DetailingView(
                    key=key, name=rules.name, own=None, version=None, source=built_in_source(key), shelf="",
                    used_by=used.get(key, 0), project=key == chosen,
                )
                for key, rules in built_in_detailing().items()
            ),
        ]  # fmt: skip


def tried(source: str) -> DetailingTable:
    """What a set of rules comes to, size by size.

    Raises:
        BadFormula: it doesn't hold.
    """
    rules = read_detailing(source)
    concretes = list(dict.fromkeys(lap.concrete for lap in rules.laps))
    return DetailingTable(
        name=rules.name, concretes=concretes, sizes=[_least(rules, size, concretes) for size in rules.bars]
    )


def _least(rules: Detailing, size: str, concretes: list[str]) -> LeastView:
    d = diameter(size)
    r, leg = rules.radius(d), rules.leg(d)
    # The end of a bar round its former, as it is drawn: down the leg, round the bend, along.
    bent = [[0.0, leg], [0.0, r + d], [r + d, 0.0], [max(3 * leg, 4 * (r + d)), 0.0]]
    return LeastView(
        size=size, former=r * 1000, leg=leg * 1000,
        laps=[rules.lap(d, concrete) * 1000 for concrete in concretes],
        bent=[[x * 1000, y * 1000] for x, y in bent],
    )  # fmt: skip


@action
def add_detailing(actor: Actor, source: str) -> Saved:
    """A set of rules of the project's own.

    Raises:
        BadFormula: it doesn't hold.
        BadEntry: its key is taken.
    """
    rules = _fresh(actor, source)
    with recording(actor, f"Detailing rules {rules.name}") as log:
        row = log.insert(OwnDetailing, key=rules.key, name=rules.name, source=source)
    return log.saved(row)


def _fresh(actor: Actor, source: str) -> Detailing:
    rules = read_detailing(source)
    taken = rules.key in built_in_detailing() or OwnDetailing.those(
        OwnDetailing.key, [rules.key], project=actor.project_id
    )
    if taken:
        raise BadEntry(
            f"There are rules “{rules.key}” already.", field="key", remedy="Give these another key."
        )
    return rules


@action
def change_detailing(actor: Actor, row_id: int, version: int, source: str) -> Saved:
    """Change a set of rules; all bars that follow it are worked out again.

    Raises:
        BadFormula: it doesn't hold.
        Stale: someone else changed it meanwhile.
    """
    row = find(OwnDetailing, actor, row_id)
    rules = read_detailing(source)
    if rules.key != row.key:
        raise BadEntry("The key of a set of rules stays.", field="key", remedy="Copy it to give it another.")
    fields = {"name": rules.name, "source": source}
    check_version(row, version, fields)
    with recording(actor, f"Detailing rules {rules.name}") as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete_detailing(actor: Actor, row_id: int) -> Saved:
    """Take a set of rules out.

    Raises:
        InUse: the project or an element follows it.
    """
    row = find(OwnDetailing, actor, row_id)
    following = Element.select().where((Element.project == actor.project_id) & (Element.detailing == row.key))
    if Project.get_by_id(actor.project_id).detailing == row.key:
        raise InUse(f"The project's bars follow “{row.name}”.", remedy="Choose other rules first.")
    if element := following.first():
        raise InUse(f"{element.mark} follows “{row.name}”.", remedy="Choose other rules for it first.")
    with recording(actor, f"Detailing rules {row.name} deleted") as log:
        log.delete(row)
    return log.saved()


@action
def take_from_shelf(actor: Actor, shelf_id: int, key: str) -> Saved:
    """Take the latest of a set of rules from a shelf into the project, or move the project's on to it.

    Raises:
        Missing: the shelf isn't the actor's, or has no such set.
        BadEntry: the project has rules of that key that aren't from this shelf.
    """
    kept = shelves.latest(actor.person_id, shelf_id, "detailing", key)
    row = next(iter(OwnDetailing.those(OwnDetailing.key, [key], project=actor.project_id)), None)
    if row is not None and row.shelf != shelf_id:
        raise BadEntry(f"The project has rules “{key}” that are not from this shelf.", field="key")
    fields = {"name": kept.name, "source": kept.source, "shelf_number": kept.number}
    with recording(actor, f"Detailing rules {kept.name}, number {kept.number} of its shelf") as log:
        if row is None:
            _fresh(actor, kept.source)
            row = log.insert(OwnDetailing, key=key, shelf=shelf_id, **fields)
        else:
            log.update(row, **fields)
    return log.saved(row)


@action
def put_on_shelf(actor: Actor, row_id: int, shelf_id: int) -> Saved:
    """Put the project's rules on a shelf as their next number there; the project goes on from that."""
    row = find(OwnDetailing, actor, row_id)
    kept = shelves.put(actor.person_id, shelf_id, "detailing", row.source)
    with recording(actor, f"Detailing rules {row.name} put on a shelf, number {kept.number}") as log:
        log.update(row, shelf=shelf_id, shelf_number=kept.number)
    return log.saved(row)
