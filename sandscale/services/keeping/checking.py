"""The checks of a project, gathered from the stages' ``checks``."""

from __future__ import annotations

from ...core.checks.check import Check
from .acting import Actor
from .stages import parts
from .views import CheckCount, CheckView

MOST = 500
# The stages in the order of the work, by the kind of reference a check carries.
_STAGES = {
    "sheet": "sheets", "line": "measure", "quantity": "measure", "resource": "prices", "makeup": "make-ups",
    "build-up": "rates", "bar": "bars", "to-buy": "bars", "survey": "ground", "surface": "ground",
    "item": "bill", "need": "order",
}  # fmt: skip
_ORDER = list(dict.fromkeys(_STAGES.values()))
# A check, the row its stage's page opens, and where it is in words.
Place = tuple[Check, int | None, str]


def checks(actor: Actor) -> list[CheckView]:
    """Everything that looks wrong in the project, what stops the bill first, then in the order of the
    work."""
    return [
        CheckView(
            severity=check.severity, rule=check.rule, says=check.says, ref=check.ref, stage=_stage(check),
            target=target, place=where, code=check.code, numbers=list(check.numbers),
        )
        for check, target, where in _found(actor)[:MOST]
    ]  # fmt: skip


def count(actor: Actor) -> CheckCount:
    """How many checks stop the bill and how many want a look, as far as they are counted."""
    found = [check.severity for check, _, _ in _found(actor)[:MOST]]
    return CheckCount(stop=found.count("stop"), look=found.count("look"), most=MOST)


def _found(actor: Actor) -> list[Place]:
    found = [place for module in parts("checks") for rule in module.CHECKS for place in rule(actor)]
    return sorted(found, key=lambda place: (place[0].severity != "stop", _ORDER.index(_stage(place[0]))))


def _stage(check: Check) -> str:
    return _STAGES[check.ref.split(":")[0]]
