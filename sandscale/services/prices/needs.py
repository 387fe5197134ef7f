"""How much of some resources the project's own bill needs, waste and allowances in it."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from ...core.pricing.build_up import analyse
from ...store.models import BuildUp, BuildUpLine, Project
from ..bill.reading import billed_by
from ..rates.reading import core_lines, terms_of

_Shares = dict[int, Decimal]  # by resource, in its unit, for one unit of a rate


def needed(project: Project, resource_ids: Iterable[int]) -> dict[int, Decimal]:
    """What the bill needs of resources, in their units; nothing stands for those no item draws on.

    Only the rates that draw on them, at whatever depth, are read.
    """
    wanted = set(resource_ids)
    if not wanted:
        return {}
    shares: dict[int, _Shares] = {}
    drawing = _drawing_on(wanted)
    found = dict.fromkeys(wanted, Decimal(0))
    for build_up, quantity in billed_by(drawing).items():
        for resource, share in _shares(build_up, project, wanted, drawing, shares).items():
            found[resource] += quantity * share
    return found


def _drawing_on(resource_ids: set[int]) -> set[int]:
    """The rates that draw on resources, themselves or by others."""
    found = set(BuildUpLine.column(BuildUpLine.build_up, BuildUpLine.resource, list(resource_ids)))
    fresh = found
    while fresh:
        fresh = set(BuildUpLine.column(BuildUpLine.build_up, BuildUpLine.nested, list(fresh))) - found
        found |= fresh
    return found


def _shares(
    build_up_id: int, project: Project, wanted: set[int], drawing: set[int], known: dict[int, _Shares]
) -> _Shares:
    """What one unit of a rate takes of the resources."""
    if build_up_id not in known:
        own: _Shares = {}
        row = BuildUp.get_by_id(build_up_id)
        row.project = project
        lines = core_lines(row)
        for worked in analyse(lines, terms_of(row, lines)).lines:
            kind, _, source = worked.line.link.partition(":")
            if kind == "resource" and int(source) in wanted:
                own[int(source)] = own.get(int(source), Decimal(0)) + worked.unit_quantity
            elif kind == "build-up" and int(source) in drawing:
                for resource, share in _shares(int(source), project, wanted, drawing, known).items():
                    own[resource] = own.get(resource, Decimal(0)) + worked.unit_quantity * share
        known[build_up_id] = own
    return known[build_up_id]
