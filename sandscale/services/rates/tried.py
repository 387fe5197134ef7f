"""What of rates can be tried: what a line takes, loses and is escalated by; what is done in which time."""

from __future__ import annotations

from ...core.numbers.written import listed
from ...store.models import BuildUp, BuildUpLine
from ..bill.bills import text
from ..keeping.acting import Actor
from ..keeping.trying import Field, Offers, Tries
from .actions import change_build_up
from .lines import change_build_up_line


def _of_line(line: BuildUpLine) -> list[Field]:
    if line.taken_id:
        return []
    source = line.resource or line.nested
    if line.basis == "percent":
        return [Field("quantity", "percentage", "%", line.quantity)]
    return [
        Field("quantity", "quantity", source.unit if source else "", line.quantity),
        Field("allowance", "waste", "%", text(line.allowance)),
        Field("escalation", "escalation", "%", text(line.escalation)),
    ]


def _change_line(actor: Actor, line: BuildUpLine, field: str, value: str) -> object:
    typed = value if field == "quantity" else listed(value, field)
    return change_build_up_line(actor, line.id, line.version, {field: typed})


def _of_rate(row: BuildUp) -> list[Field]:
    if row.kind != "rate":
        return []
    output = [] if row.output_taken_id else [Field("output", "output", row.unit, row.output)]
    hours = [] if row.hours_taken_id else [Field("hours", "hours", "h", row.hours)]
    return [*output, *hours, Field("added", "put on", "%", text(row.added))]


def _change_rate(actor: Actor, row: BuildUp, field: str, value: str) -> object:
    typed = listed(value, field) if field == "added" else value
    return change_build_up(actor, row.id, row.version, {field: typed})


def _called(line: BuildUpLine) -> str:
    source = line.resource or line.nested
    return f"{line.build_up.name}, {source.name if source else 'percentage'}"


TRIES = {
    "build-up-line": Tries(BuildUpLine, _called, _of_line, _change_line),
    "build-up": Tries(BuildUp, lambda row: str(row.name), _of_rate, _change_rate),
}
OFFERS: Offers = {
    "build-up-line": lambda _actor, row: [("build-up-line", row)],
    "build-up": lambda _actor, row: [("build-up", row)],
}
