"""A bar mass typed into a make-up that is not that of its diameter."""

from __future__ import annotations

from ..bars.sizes import typed_mass
from ..findings import Finding
from ..makeups.document import Choice
from ..makeups.makeup import MakeUp
from ..numbers.entry import read_entry
from ..refusals import BadEntry


def bar_masses(makeup: MakeUp) -> tuple[Finding, ...]:
    """Findings on every row of a choice table that is named like a bar size and sets a mass per metre more
    than 2 % off."""
    rows = [(field.label, choice) for field in makeup.document.inputs for choice in field.choices]
    return tuple(
        Finding(f"{label}: {finding.says}", field=label, code=finding.code, numbers=finding.numbers)
        for label, choice in rows
        for finding in _of(choice)
    )


def _of(choice: Choice) -> list[Finding]:
    found = []
    for entry in choice.sets.values():
        if not entry.strip().endswith("kg/m"):
            continue
        try:
            finding = typed_mass(choice.label.split()[0], read_entry(entry, "kg/m"))
        except BadEntry:
            continue  # not named like a bar
        if finding:
            found.append(finding)
    return found
