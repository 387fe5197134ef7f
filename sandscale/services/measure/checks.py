"""What looks wrong in the measure."""

from __future__ import annotations

from collections.abc import Iterator

from peewee import fn

from ...core.checks.check import Check
from ...core.checks.measured import measured
from ...core.checks.waste_band import BANDS, waste_band
from ...core.findings import Finding
from ...store.models import BeingWorkedOut, Element, OwnMakeUp, QuantityLine
from ..keeping.acting import Actor
from ..keeping.checking import MOST, Place


def _measure(actor: Actor) -> Iterator[Place]:
    query = Element.select(Element.id, Element.mark, Element.findings).where(
        (Element.project == actor.project_id) & (fn.jsonb_array_length(Element.findings) > 0)
    )
    for element in query.order_by(Element.position, Element.id).limit(MOST):
        for line, says, wrong, code, numbers in element.findings:
            ref = f"line:{line}" if line else f"quantity:{element.id}:"
            finding = Finding(says, wrong=wrong, code=code, numbers=tuple(numbers))
            yield measured(element.mark, finding, ref), element.id, element.mark


def _wastes(actor: Actor) -> Iterator[Place]:
    beyond = (QuantityLine.project == actor.project_id) & (
        QuantityLine.waste > min(high for _, high in BANDS.values())
    )
    for line in (
        QuantityLine.select(QuantityLine, Element.id, Element.mark).join(Element).where(beyond).limit(MOST)
    ):
        ref = f"quantity:{line.element_id}:{line.output}"
        yield from (
            (c, line.element_id, line.element.mark)
            for c in waste_band(f"{line.label} in {line.element.mark}", ref, line.family, line.waste)
        )


def _makeups(actor: Actor) -> Iterator[Place]:
    for own in OwnMakeUp.those(OwnMakeUp.project, [actor.project_id], OwnMakeUp.id):
        for says, code, numbers in own.findings:
            check = Check(
                "look", "bar mass", f"{own.name}, {says}", f"makeup:{own.key}", code, tuple(numbers)
            )
            yield check, None, own.name


def _waiting(actor: Actor) -> Iterator[Place]:
    late = BeingWorkedOut.select(BeingWorkedOut.row_id).where(BeingWorkedOut.node == "quantities")
    for element in (
        Element.select().where((Element.project == actor.project_id) & (Element.id << late)).limit(MOST)
    ):
        says = f"{element.mark} is being worked out; what rests on it isn't what it comes to."
        check = Check("stop", "being worked out", says, f"quantity:{element.id}:")
        yield check, element.id, element.mark


CHECKS = (
    _waiting,
    _measure,
    _wastes,
    _makeups,
)
