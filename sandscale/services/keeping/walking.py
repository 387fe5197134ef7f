"""Walking a number: its arithmetic, what it comes from and what it goes to.

A reference names a number: ``line:3``, ``figure:3``, ``quantity:2:concrete``, ``item:5`` (its amount),
``item-quantity:5``, ``build-up:1``, ``build-up-line:4``, ``resource:7``, ``quote:9``, ``section:1``,
``bill``, ``bar:12`` (its cut length), ``to-buy:2:16``.
Each stage says in its ``steps`` which kinds of reference are its own.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

from ...core.numbers.rounding import DEFAULT_PLACES
from ...core.numbers.working import Number, Working, shown
from ...store.models import Project, ProjectRow
from .acting import Actor, Missing
from .references import with_row
from .stages import parts
from .trying import offers
from .views import PaperRowView, WalkLink, WalkView, WorkingView

MOST_LINKS = 60  # neighbours told on one side


@dataclass(frozen=True)
class Step:
    """A kind of reference: how many parts follow its name (the first a row's id), and what tells its
    number.

    ``row``: the table whose row the first part is the id of, so that it can be kept."""

    parts: int
    tell: Callable[..., WalkView]
    row: type[ProjectRow] | None = None


@lru_cache(maxsize=1)
def steps() -> Mapping[str, Step]:
    """Every kind of reference, as the stages' ``steps`` name them."""
    return {kind: step for module in parts("steps") for kind, step in module.STEPS.items()}


def walk(actor: Actor, ref: str) -> WalkView:
    """The working of a number and its neighbours.

    Raises:
        Missing: the reference names nothing in this project.
    """
    kind, *rest = ref.split(":")
    step = steps().get(kind)
    fits = step is not None and len(rest) == step.parts and all(part and len(part) < 50 for part in rest)
    if step is None or not fits or (rest and not rest[0].isdecimal()):
        raise Missing(f"“{ref[:60]}” names no number of this project.")
    return step.tell(actor, ref, *rest).model_copy(update={"tries": kind in offers()})


def renumbered(ref: str, number: Callable[[type[ProjectRow], int], int]) -> str:
    """A reference that can be kept, with another number for the row it names.

    Raises:
        Missing: it is none, or names a number that comes and goes.
    """
    kind, *rest = ref.split(":")
    step = steps().get(kind)
    fits = step is not None and len(rest) == step.parts and (not rest or step.row is not None)
    if step is None or not fits or (rest and not rest[0].isdecimal()):
        raise Missing(
            f"“{ref[:60]}” names no number that can be kept.", remedy="Walk to a quantity or amount."
        )
    return ref if step.row is None else with_row(ref, number(step.row, int(rest[0])))


def view_of(
    ref: str,
    working: Working,
    comes: Iterable[WalkLink],
    goes: Iterable[WalkLink],
    findings: Iterable[str] = (),
) -> WalkView:
    """A number with its neighbours, as the working column shows it."""
    back, on = list(comes), list(goes)
    return WalkView(
        ref=ref,
        working=_working(working),
        comes_from=back[:MOST_LINKS],
        goes_to=on[:MOST_LINKS],
        more_from=max(len(back) - MOST_LINKS, 0),
        more_to=max(len(on) - MOST_LINKS, 0),
        findings=list(findings),
    )


def _working(working: Working) -> WorkingView:
    rows = [
        PaperRowView(
            times=r.times,
            dimensions=list(r.dimensions),
            squared=r.squared,
            deduct=r.deduct,
            note=r.note,
            link=r.link,
        )
        for r in working.rows
    ]
    parts = [_working(part) for part in working.parts]
    return WorkingView(
        name=working.name, value=_number(working.value), unit=working.unit, expression=working.expression,
        figures=working.figures,
        source=working.source, link=working.link, rows=rows, parts=parts,
    )  # fmt: skip


def _number(value: Number) -> float | None:
    return float(value) if math.isfinite(value) else None


def link_to(
    ref: str, name: str, value: Number | str | None, unit: str, stage: str, target: int | None
) -> WalkLink:
    """A step to a neighbour; its number is shown to the places it was billed with, or those of its unit."""
    if value is None or isinstance(value, str):
        text = value or ""
    elif isinstance(value, Decimal):
        text = shown(value, most=4)
    else:
        text = shown(value, most=max(2, DEFAULT_PLACES.get(unit, 2)))
    return WalkLink(ref=ref, name=name, value=text, unit=unit, stage=stage, target=target)


def currency_of(actor: Actor) -> str:
    """The project's currency."""
    return str(Project.get_by_id(actor.project_id).currency)
