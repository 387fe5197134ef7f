"""Walking rates."""

from __future__ import annotations

from decimal import Decimal

from ...core.numbers.working import Working, shown
from ...core.pricing import build_up as rate_rules
from ...core.pricing import reference
from ...store.models import BuildUp, BuildUpLine, Item
from ..bill.reading import refs_of
from ..keeping.acting import Actor, find
from ..keeping.views import WalkLink, WalkView
from ..keeping.walking import MOST_LINKS, Step, currency_of, link_to, view_of
from .reading import core_lines, known_size, lines_of, sizes_of, terms_of


def _build_up(actor: Actor, ref: str, build_up_id: str) -> WalkView:
    row, currency = find(BuildUp, actor, int(build_up_id)), currency_of(actor)
    lines = core_lines(row)
    terms = terms_of(row, lines)
    analysis = rate_rules.analyse(lines, terms)
    if row.kind == "reference":
        working = _known(row)
    else:
        working = rate_rules.rate_working(row.name, analysis, terms, row.unit, currency)
    comes = [_source_link(line, currency) for line in lines if line.link]
    items = list(row.items.order_by(Item.id))
    numbers = refs_of(items[:MOST_LINKS])
    goes = [
        link_to(f"item:{i.id}", f"{numbers.get(i.id)} {i.description}", i.amount, currency, "bill", i.id)
        for i in items
    ]
    goes += [
        link_to(
            f"build-up:{o.build_up_id}",
            o.build_up.name,
            o.build_up.rate,
            f"{currency}/{o.build_up.unit}",
            "rates",
            o.build_up_id,
        )
        for o in row.used_in
    ]
    return view_of(ref, working, comes, goes, [f.says for f in analysis.findings])


def _known(row: BuildUp) -> Working:
    """What a reference tells, size by size."""
    sizes = sizes_of(row)
    known = [known_size(each) for each in sizes]
    costs = [sum(each.parts.values(), Decimal(0)) or each.whole or Decimal(0) for each in known]
    told = " ; ".join(
        f"{shown(k.size, least=0)}: {shown(cost)}" for k, cost in zip(known, costs, strict=True)
    )
    source = ", ".join(part for part in (row.source or "no source noted", row.year) if part)
    by = f"known costs per {row.unit} by {row.sized_by or 'size'}, {row.sized_in}"
    return Working(f"{row.name}, sizes known", len(sizes), "nr", by, told, source=source)


def _source_link(line: rate_rules.BuildUpLine, currency: str) -> WalkLink:
    kind, row_id, *_ = line.link.split(":")
    return link_to(
        line.link,
        line.name,
        line.price,
        f"{currency}/{line.unit}",
        "prices" if kind == "resource" else "rates",
        int(row_id),
    )


def _build_up_line(actor: Actor, ref: str, line_id: str) -> WalkView:
    row, currency = find(BuildUpLine, actor, int(line_id)), currency_of(actor)
    outer = row.build_up
    lines = core_lines(outer)
    terms = terms_of(outer, lines)
    worked = [a for a in rate_rules.analyse(lines, terms).lines if a.line.row == row.id]
    told = [rate_rules.line_working(a, terms, outer.unit, currency) for a in worked]
    goes = [
        link_to(f"build-up:{outer.id}", outer.name, outer.rate, f"{currency}/{outer.unit}", "rates", outer.id)
    ]
    if len(told) == 1:
        working = told[0]
    else:
        total = sum((a.unit_price for a in worked), Decimal(0))
        working = Working(
            row.nested.name,
            total,
            f"{currency}/{outer.unit}",
            "who works in it" if row.nested.kind == "gang" else "its parts",
            " + ".join(shown(t.value) for t in told),
            parts=tuple(told),
        )
    comes = [_source_link(a.line, currency) for a in worked if a.line.link]
    return view_of(
        ref,
        working,
        comes,
        goes,
        [f"{a.line.name} has no price yet." for a in worked if a.line.link and a.line.price is None],
    )


def _reference(actor: Actor, ref: str, build_up_id: str, line_id: str) -> WalkView:
    """A reference as one line reads it."""
    row, line, currency = (
        find(BuildUp, actor, int(build_up_id)),
        find(BuildUpLine, actor, int(line_id)),
        currency_of(actor),
    )
    outer = line.build_up
    known = next(each for each in lines_of([outer.id])[outer.id] if each.id == line.id)
    source = ", ".join(part for part in (row.source or "no source noted", row.year) if part)
    goes = [
        link_to(f"build-up:{outer.id}", outer.name, outer.rate, f"{currency}/{outer.unit}", "rates", outer.id)
    ]
    comes = [link_to(f"build-up:{row.id}", row.name, None, "", "rates", row.id)]
    unit = f"{currency}/{row.unit}"
    if not isinstance(known.reading, reference.Reading):
        says = str(known.reading or "It isn't read.")
        return view_of(ref, Working(row.name, Decimal(0), unit, "", "", source=source), comes, goes, [says])
    told = reference.working(known.reading, row.name, unit, f"{known.reading.told(row.sized_in)}; {source}")
    return view_of(ref, told, comes, goes, [f.says for f in known.reading.findings])


STEPS = {
    "reference": Step(2, _reference),
    "build-up": Step(1, _build_up),
    "build-up-line": Step(1, _build_up_line),
}
