"""A firm's own norms, put on a shelf and taken from it."""

from __future__ import annotations

from ...core.pricing.norms import NormEntry, NormsDocument, known_by, read_norms
from ...core.refusals import BadEntry
from ...store.models import Project, Resource
from ..keeping.acting import Actor
from ..keeping.recording import action, recording
from ..keeping.views import Saved
from ..shelves import actions as shelves


@action
def put_norms(actor: Actor, shelf_id: int, name: str) -> Saved:
    """Put the norms of the project's resources on a shelf under a name, such as the firm's.

    Raises:
        BadEntry: there are none, or the name is empty.
        Missing: the shelf isn't the person's.
    """
    project = Project.get_by_id(actor.project_id)
    rows = Resource.select().where((Resource.project == project.id) & Resource.norm_low.is_null(False))
    norms = [
        NormEntry(resource=row.name, unit=row.unit, low=row.norm_low, high=row.norm_high)
        for row in rows.order_by(Resource.name)
    ]
    if not norms or not name.strip():
        raise BadEntry("A list of norms needs a name, and a resource with a norm.", field="name")
    document = NormsDocument(name=name.strip()[:60], currency=project.currency, norms=norms)
    shelves.put(actor.person_id, shelf_id, "norms", document.model_dump_json(indent=1))
    with recording(actor, f"{len(norms)} norms put on a shelf") as log:
        pass
    return log.saved(len(norms))


@action
def take_norms(actor: Actor, shelf_id: int, key: str) -> Saved:
    """Give the project's resources the norms of a list on a shelf, matched by their names and units. The
    others keep theirs; the answer tells how many were matched.

    Raises:
        BadEntry: it is in another currency, or matches no resource.
        Missing: the shelf isn't the person's, or has no such list.
    """
    there = shelves.latest(actor.person_id, shelf_id, "norms", key)
    made, project = read_norms(there.source), Project.get_by_id(actor.project_id)
    if made.currency != project.currency:
        raise BadEntry(
            f"“{made.name}” is in {made.currency}, the project in {project.currency}.", field="key",
            remedy="Take a list in the project’s currency.",
        )  # fmt: skip
    norms = {each.known_by: each for each in made.norms}
    rows = Resource.select().where(Resource.project == project.id).order_by(Resource.id)
    matched = [(row, each) for row in rows if (each := norms.get(known_by(row.name, row.unit)))]
    if not matched:
        raise BadEntry(
            f"None of the {len(norms)} norms of “{made.name}” is for a resource of this project.",
            field="key",
            remedy="They are matched by name and unit.",
        )  # fmt: skip
    source = f"{made.name}, no. {there.number}"
    with recording(actor, f"{len(matched)} of {len(norms)} norms of {made.name}") as log:
        for row, each in matched:
            log.update(row, norm_low=each.low, norm_high=each.high, norm_source=source)
    return log.saved(len(matched))
