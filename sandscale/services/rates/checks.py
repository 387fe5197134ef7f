"""What looks wrong with rates: references that can't be read at a size, or are read beyond what they know."""

from __future__ import annotations

from collections.abc import Iterator

from ...core.checks.check import Check
from ...store.models import BuildUp, BuildUpLine
from ..keeping.acting import Actor
from ..keeping.checking import MOST, Place
from .reading import findings_of, lines_of


def _references(actor: Actor) -> Iterator[Place]:
    tables = BuildUp.select(BuildUp.id).where(
        (BuildUp.project == actor.project_id) & (BuildUp.kind == "reference")
    )
    drawing = BuildUpLine.select(BuildUpLine.build_up).where(BuildUpLine.nested << tables).distinct()
    rates = {row.id: row for row in BuildUp.select().where(BuildUp.id << drawing).limit(MOST)}
    for rate, rows in lines_of(rates).items():
        for finding in findings_of(rows) if rate in rates else ():
            name = rates[rate].name
            severity = "stop" if finding.wrong else "look"
            says = f"{name}: {finding.says}"
            yield (
                Check(severity, "reference", says, f"build-up:{rate}", finding.code, finding.numbers),
                rate,
                name,
            )


CHECKS = (_references,)
