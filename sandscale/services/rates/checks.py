"""What looks wrong with rates: what they read at a size, what they take, an output that is nothing."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from ...core.checks.check import Check
from ...core.findings import Finding
from ...core.pricing.build_up import analyse
from ...store.models import BuildUp, BuildUpLine
from ..keeping.acting import Actor
from ..keeping.checking import MOST, Place
from .priced import SIZED
from .reading import Drawn, core_lines, findings_of, lines_of, terms_of


def _drawing(actor: Actor) -> Iterator[Place]:
    """Rates that draw on what may not be told: on known costs and bands at a size, and on quantity lines."""
    mine, kinds = BuildUp.project == actor.project_id, list(SIZED)
    sized = BuildUp.select(BuildUp.id).where(mine & (BuildUp.kind << kinds))
    drawing = BuildUpLine.select(BuildUpLine.build_up).where(
        (BuildUpLine.project == actor.project_id)
        & ((BuildUpLine.nested << sized) | BuildUpLine.taken.is_null(False))
    )
    taken = BuildUp.output_taken.is_null(False) | BuildUp.hours_taken.is_null(False)
    rates = BuildUp.select().where(mine & (taken | (BuildUp.id << drawing.distinct()))).limit(MOST)
    by_id = {row.id: row for row in rates}
    known = lines_of(by_id)
    for row in by_id.values():
        for rule, finding in _found(row, known):
            severity, says = "stop" if finding.wrong else "look", f"{row.name}: {finding.says}"
            check = Check(severity, rule, says, f"build-up:{row.id}", finding.code, finding.numbers)
            yield check, row.id, row.name


def _found(row: BuildUp, known: Drawn) -> Iterable[tuple[str, Finding]]:
    """What is to be looked at in a rate, each with the rule that tells it."""
    for line in known[row.id]:
        yield from ((_rule(line), finding) for finding in findings_of([line]))
    lines = core_lines(row, known)
    told = analyse(lines, terms_of(row, lines)).findings
    yield from (("no output", finding) for finding in told if finding.code == "no-output")


def _rule(line: Any) -> str:
    """What a line draws on, in a few words."""
    if line.reading is None:
        return "taken quantity"
    return "reference" if line.nested.kind == "reference" else "banded rate"


CHECKS = (_drawing,)
