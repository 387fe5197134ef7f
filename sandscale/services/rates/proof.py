"""What must hold of rates from a project file."""

from __future__ import annotations

from typing import Any, get_args

from ...core.numbers.formula import refuse_deeper
from ...core.numbers.units import unit
from ...core.refusals import Refusal
from ...core.words import RateKind
from ...store.models import BuildUp, BuildUpLine, RateBand, ReferenceSize, Resource
from ..keeping.proving import refuse_twins
from .actions import checked_build_up
from .banded import limit_in
from .bands import check_band, refuse_overlaps
from .lines import check_line, refuse_once_in_gang
from .reading import MOST_NESTED, nesting
from .references import size_in
from .sizes import check_size


def _build_up(row: dict[str, Any]) -> None:
    if row["kind"] not in get_args(RateKind) or checked_build_up(row) != row:
        raise Refusal("It is no rate that could be typed.")
    for figure in ("output", "hours"):
        _refuse_half(row, f"{figure}_taken", f"{figure}_key")


def _refuse_half(row: dict[str, Any], taken: str, key: str) -> None:
    if (row[taken] is None) != (row[key] == ""):
        raise Refusal("It takes a quantity line of nothing.")


def _line(row: dict[str, Any]) -> None:
    draws_on = [name for name in ("resource", "nested") if row[name] is not None]
    if len(draws_on) != (row["basis"] != "percent"):
        raise Refusal("It draws on one resource or rate, or is a percentage.")
    _refuse_half(row, "taken", "taken_key")
    check_line({name: value for name, value in row.items() if name != "quantity"}, "")


def _size(row: dict[str, Any]) -> None:
    check_size({name: value for name, value in row.items() if name != "size"}, "")


def _band(row: dict[str, Any]) -> None:
    check_band({name: value for name, value in row.items() if name not in ("low", "below")}, "")


RULES = {"build_up": _build_up, "build_up_line": _line, "reference_size": _size, "rate_band": _band}


def prove(project_id: int) -> None:
    """No build-up is nested in itself or too deep, no two have one name.

    Raises:
        BadFormula: one is, by however many steps.
    """
    refuse_twins(BuildUp, project_id, BuildUp.name)
    refuse_deeper(nesting(project_id), "The build-ups", MOST_NESTED)
    units = {
        table: dict(table.select(table.id, table.unit).where(table.project == project_id).tuples())
        for table in (BuildUp, Resource)
    }
    for symbol in set(units[BuildUp].values()):
        unit(symbol)
    banded = _of_kind(project_id, "banded")
    for band in RateBand.those(RateBand.project, [project_id]):
        head = _only(banded, band.build_up_id, "bands")
        check_band({"low": band.low, "below": band.below}, head.sized_in)
        if band.nested_id and units[BuildUp][band.nested_id] != head.unit:
            raise Refusal(f"A band of “{head.name[:60]}” takes a rate in another unit.")
    for head in banded.values():
        refuse_overlaps(head)
    gangs, references = _of_kind(project_id, "gang"), _of_kind(project_id, "reference")
    for line in BuildUpLine.those(BuildUpLine.project, [project_id]):
        if line.build_up_id in gangs:
            refuse_once_in_gang("gang", line.basis)
        if line.build_up_id in banded or line.build_up_id in references:
            raise Refusal("A rate by size has lines, which only one by what it takes has.")
        symbol = units[Resource].get(line.resource_id) or units[BuildUp].get(line.nested_id, "")
        check_line({"quantity": line.quantity, "basis": line.basis}, symbol)
        if line.size and line.nested_id in references:
            size_in(line.size, references[line.nested_id].sized_in)
        elif line.size:
            limit_in(line.size, _only(banded, line.nested_id, "sizes").sized_in)
    for size in ReferenceSize.those(ReferenceSize.project, [project_id]):
        size_in(size.size, _only(references, size.build_up_id, "sizes").sized_in)


def _of_kind(project_id: int, kind: RateKind) -> dict[int, BuildUp]:
    return {row.id: row for row in BuildUp.those(BuildUp.project, [project_id], kind=kind)}


def _only(heads: dict[int, BuildUp], build_up_id: int | None, what: str) -> BuildUp:
    """The rate of a kind that something is of, which no other kind has."""
    if build_up_id not in heads:
        raise Refusal(f"A rate of another kind has {what}.")
    return heads[build_up_id]
