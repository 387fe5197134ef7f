"""What looks wrong with bars: a mark that stands for two, bars that are billed and not scheduled."""

from __future__ import annotations

from collections.abc import Iterator

from ...core.checks.check import Check
from ...store.models import Cutting
from ..keeping.acting import Actor
from ..keeping.checking import Place
from .cuttings import cutting_view
from .reading import unscheduled


def _unscheduled(actor: Actor) -> Iterator[Place]:
    for element, mark, says in unscheduled(actor.project_id):
        yield Check("look", "bars not scheduled", says, f"quantity:{element}:"), element, mark


def _uncut(actor: Actor) -> Iterator[Place]:
    """Bars longer than what they are to be cut from."""
    for cutting in Cutting.those(Cutting.project, [actor.project_id], Cutting.position):
        for plan in cutting_view(cutting).plans:
            number = sum(each.number for each in plan.too_long)
            if number:
                longest = max(each.length for each in plan.too_long)
                says = (
                    f"{number} bars of {plan.grade}{plan.size} are up to {longest:.3f} m long, longer than "
                    f"the stock of “{cutting.name}”, and aren't cut."
                )
                yield (
                    Check("look", "bars longer than stock", says, f"to-buy:{cutting.id}:{plan.size}"),
                    None,
                    cutting.name,
                )


CHECKS = (_unscheduled, _uncut)
