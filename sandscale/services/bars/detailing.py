"""The detailing rules a project's bars follow: those that ship with the application, and its own."""

from __future__ import annotations

from collections.abc import Iterable

from ...core.bars.detailing import Detailing, built_in_detailing, rules_of
from ...core.refusals import BadEntry
from ...store.models import Element, OwnDetailing, Project


def checked_detailing(key: str, project_id: int | None = None) -> str:
    """The key of a set of detailing rules, or nothing for those that hold anyway.

    Raises:
        BadEntry: there is no such set.
    """
    if key and key not in built_in_detailing() and key not in texts_of(project_id or 0, [key]):
        own = OwnDetailing.select(OwnDetailing.key).where(OwnDetailing.project == project_id).tuples()
        names = ", ".join([*built_in_detailing(), *(name for (name,) in own)])
        raise BadEntry(
            f"There are no detailing rules “{key}”.", field="detailing", remedy=f"Choose one of {names}."
        )
    return key


def detailing_of(element: Element, project: Project) -> str:
    """The key of the rules an element's bars follow: its own, else the project's."""
    return str(element.detailing or project.detailing)


def texts_of(project_id: int, keys: Iterable[str]) -> dict[str, str]:
    """Sets of rules by their keys, as :func:`~sandscale.core.bars.detailing.rules_of` reads them: built-in
    ones by their key, a project's own by its text. Those there aren't are left out."""
    wanted = set(keys)
    found = {key: key for key in wanted if not key or key in built_in_detailing()}
    if left := wanted - set(found):
        found |= {
            row.key: row.source for row in OwnDetailing.those(OwnDetailing.key, left, project=project_id)
        }
    return found


def rules_for(element: Element, project: Project) -> Detailing:
    """The rules an element's bars follow."""
    key = detailing_of(element, project)
    return rules_of(texts_of(project.id, [key]).get(key, ""))
