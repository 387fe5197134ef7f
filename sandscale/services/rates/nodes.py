"""The part of the graph that is rates."""

from __future__ import annotations

from decimal import Decimal

from ...core.pricing import build_up as rate_rules
from ...store.models import BuildUp, BuildUpLine
from ..keeping.graph import After, Ids, Node, Written
from .reading import core_lines, output_of

_KEPT = Decimal(1).scaleb(-12)


def _rate(_project_id: int, ids: Ids) -> Ids:
    """Rates of build-ups."""
    moved: Ids = set()
    for build_up in BuildUp.select().where(BuildUp.id << list(ids)):
        analysis = rate_rules.analyse(core_lines(build_up), *output_of(build_up))
        cost = analysis.cost.quantize(_KEPT)
        if (cost, analysis.rate) != (build_up.cost, build_up.rate):
            BuildUp.update(cost=cost, rate=analysis.rate).where(BuildUp.id == build_up.id).execute()
            moved.add(build_up.id)
    return moved


NODES = (
    Node(
        name="rates",
        table=BuildUp,
        gives=(BuildUp.cost, BuildUp.rate),
        edges=(
            Written(BuildUp, (BuildUp.output, BuildUp.hours, BuildUp.unit, BuildUp.kind)),
            Written(BuildUpLine, through=(BuildUpLine.build_up,)),
            After("prices", through=(BuildUpLine.resource, BuildUpLine.build_up)),
        ),
        work=_rate,
        within=(BuildUpLine.nested, BuildUpLine.build_up),
    ),
)
