"""What must hold between rows, as each stage says in its ``proof``; and what several of these look for."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from types import ModuleType
from typing import Any

from peewee import Field, fn

from ...core.refusals import Refusal
from .stages import parts


def proofs(tables: Collection[str] | None = None) -> Sequence[ModuleType]:
    """The proofs of the stages; those only that rows of some tables concern, where these are told."""
    return [each for each in parts("proof") if tables is None or not each.RULES.keys().isdisjoint(tables)]


def prove_worked_out(project_id: int, tables: Collection[str] | None = None) -> None:
    """Check what must hold once a project is worked out.

    Raises:
        Refusal: something doesn't.
    """
    for module in proofs(tables):
        if prove := getattr(module, "prove_worked_out", None):
            prove(project_id)


def refuse_twins(model: Any, project_id: int, name: Field, within: Field | None = None) -> None:
    """Refuse two rows of one name, whatever its case, in a project or within one row of it.

    Raises:
        Refusal: there are; the name is told.
    """
    group = (fn.LOWER(name), *([within] if within else []))
    twins = model.select(fn.MIN(name)).where(model.project == project_id).group_by(*group)
    twin = twins.having(fn.COUNT(model.id) > 1).limit(1).scalar()
    if twin is not None:
        raise Refusal(f"Two rows of “{model._meta.table_name}” are called “{str(twin)[:60]}”.")


def refuse_empty(row: dict[str, Any], *names: str) -> None:
    """Refuse a row that lacks a text it must have.

    Raises:
        Refusal: one is empty.
    """
    for name in names:
        if not row[name].strip():
            raise Refusal(f"Its {name} is empty.")


def refuse_other(row: dict[str, Any], name: str, known: Any) -> None:
    """Refuse a row whose value is none of those there are.

    Raises:
        Refusal: it is another.
    """
    if row[name] not in known:
        raise Refusal(f"“{str(row[name])[:40]}” is no {name} there is.")
