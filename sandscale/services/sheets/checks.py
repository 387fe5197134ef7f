"""What looks wrong with sheets."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from peewee import fn

from ...core.checks.near_change import near_change
from ...core.checks.scale_proof import scale_proof
from ...core.checks.unscaled import unscaled
from ...core.numbers.entry import read_entry
from ...store.models import Element, Figure, Sheet
from ..keeping.acting import Actor
from ..keeping.checking import Place
from ..measure.measuring import scale_of, with_drawings


def _sheets(actor: Actor) -> Iterator[Place]:
    drawn = dict(
        Figure.select(Figure.sheet, fn.COUNT(Figure.id))
        .where((Figure.project == actor.project_id) & (Figure.kind != "count"))
        .group_by(Figure.sheet)
        .tuples()
    )
    sheets = Sheet.those(Sheet.project, [actor.project_id], Sheet.id)
    with_drawings(sheets)
    for sheet in sheets:
        name, ref = f"{sheet.revision.drawing.number} p. {sheet.page}", f"sheet:{sheet.id}"
        found = unscaled(name, ref, drawn.get(sheet.id, 0), scaled=sheet.metres_per_unit is not None)
        if sheet.proof and sheet.metres_per_unit:
            known = read_entry(sheet.proof["length"], "m")
            found += scale_proof(
                name, ref, scale_of(sheet), tuple(sheet.proof["first"]), tuple(sheet.proof["second"]), known
            )
        yield from ((check, sheet.id, name) for check in found)


def _near(actor: Actor) -> Iterator[Place]:
    mine = (Figure.project == actor.project_id) & Figure.near
    query = Figure.select(Figure.element, Figure.sheet, Element.mark).join(Element).where(mine)
    counts = Counter(query.order_by(Element.position, Element.id, Figure.sheet).tuples())
    for (_, sheet, mark), count in counts.items():
        yield from ((check, sheet, mark) for check in near_change(mark, f"sheet:{sheet}", count))


CHECKS = (_sheets, _near)
