"""Walking rates."""

from __future__ import annotations

from decimal import Decimal

from ...core.numbers.working import Working, shown
from ...core.pricing import bands as band_rules
from ...core.pricing import build_up as rate_rules
from ...core.pricing import reference
from ...core.refusals import BadEntry
from ...store.models import BuildUp, BuildUpLine, Item
from ..bill.reading import refs_of
from ..keeping.acting import Actor, find
from ..keeping.views import WalkLink, WalkView
from ..keeping.walking import MOST_LINKS, Step, currency_of, link_to, view_of
from ..measure.taken import Taken, taken_of
from .banded import Banded
from .priced import Priced
from .reading import core_lines, lines_of, taken_by, terms_of
from .references import known_size, sizes_of


def _build_up(actor: Actor, ref: str, build_up_id: str) -> WalkView:
    row, currency = find(BuildUp, actor, int(build_up_id)), currency_of(actor)
    lines = core_lines(row)
    terms = terms_of(row, lines)
    analysis = rate_rules.analyse(lines, terms)
    if row.kind == "reference":
        working = _known(row)
    elif row.kind == "banded":
        working = _bands(row, f"{currency}/{row.unit}")
    else:
        working = rate_rules.rate_working(row.name, analysis, terms, row.unit, currency)
    comes = [_source_link(line, currency) for line in lines if line.link]
    comes += [_taken_link(taken, figure) for figure, taken in taken_by(row).items() if taken]
    comes += [
        link_to(
            f"build-up:{b.nested_id}",
            b.nested.name,
            b.nested.cost,
            f"{currency}/{row.unit}",
            "rates",
            b.nested_id,
        )
        for b in row.bands
        if b.nested_id
    ]
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
        for o in (*row.used_in, *row.banded_in)
    ]
    return view_of(ref, working, comes, goes, [f.says for f in analysis.findings])


def _taken_link(taken: Taken, figure: str) -> WalkLink:
    name = f"{figure.capitalize()}: {taken.name}"
    element = int(taken.link.split(":")[1])
    return link_to(taken.link, name, taken.value, taken.unit, "measure", element)


def _bands(row: BuildUp, unit: str) -> Working:
    """What a banded rate costs, band by band."""
    bands = Banded([row.id]).bands(row.id)
    told = tuple(
        Working(
            band.told(row.sized_in),
            band.cost or Decimal(0),
            unit,
            source=band.name or "typed",
            link=band.link,
        )
        for band in band_rules.in_order(bands)
    )
    return Working(f"{row.name}, bands", len(bands), "nr", f"cost by {row.sized_by or 'size'}", parts=told)


def _item_size(actor: Actor, ref: str, item_id: str) -> WalkView:
    """A banded or a reference rate at an item's size."""
    item, currency = find(Item, actor, int(item_id)), currency_of(actor)
    row = find(BuildUp, actor, item.build_up_id or 0)
    unit = f"{currency}/{row.unit}"
    goes = [link_to(f"item:{item.id}", item.description, item.amount, currency, "bill", item.id)]
    comes = [link_to(f"build-up:{row.id}", row.name, None, "", "rates", row.id)]
    try:
        picked = Priced([row.id]).at(row.id, item.size)
    except BadEntry as refusal:
        return view_of(ref, Working(row.name, Decimal(0), unit), comes, goes, [refusal.sentence])
    if isinstance(picked, reference.Reading):
        told = reference.working(picked, row.name, unit, f"{picked.told(row.sized_in)}; {_source_of(row)}")
    else:
        told = band_rules.working(picked, row.name, unit, row.sized_in)
    if row.added:
        word = "mark-up on cost" if row.added_on == "cost" else "margin on price"
        how = f"cost with {word} of {shown(row.added, least=0)} %"
        told = Working(row.name, item.rate or Decimal(0), unit, how, parts=(told,))
    if isinstance(picked, band_rules.Picked) and picked.band.link:
        nested = int(picked.band.link.partition(":")[2])
        comes.append(link_to(picked.band.link, picked.band.name, picked.band.cost, unit, "rates", nested))
    return view_of(ref, told, comes, goes, [f.says for f in picked.findings])


def _source_of(row: BuildUp) -> str:
    return ", ".join(part for part in (row.source or "no source noted", row.year) if part)


def _known(row: BuildUp) -> Working:
    """What a reference tells, size by size."""
    sizes = sizes_of(row)
    known = [known_size(each) for each in sizes]
    costs = [sum(each.parts.values(), Decimal(0)) or each.whole or Decimal(0) for each in known]
    told = " ; ".join(
        f"{shown(k.size, least=0)}: {shown(cost)}" for k, cost in zip(known, costs, strict=True)
    )
    source = _source_of(row)
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
    if taken := taken_of([(row.taken_id, row.taken_key)]):
        comes += [_taken_link(each, "quantity") for each in taken.values()]
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
    source = _source_of(row)
    goes = [
        link_to(f"build-up:{outer.id}", outer.name, outer.rate, f"{currency}/{outer.unit}", "rates", outer.id)
    ]
    comes = [link_to(f"build-up:{row.id}", row.name, None, "", "rates", row.id)]
    unit = f"{currency}/{row.unit}"
    if isinstance(known.reading, band_rules.Picked):
        told = band_rules.working(known.reading, row.name, unit, row.sized_in)
        return view_of(ref, told, comes, goes, [])
    if not isinstance(known.reading, reference.Reading):
        says = str(known.reading or "It isn't read.")
        return view_of(ref, Working(row.name, Decimal(0), unit, "", "", source=source), comes, goes, [says])
    told = reference.working(known.reading, row.name, unit, f"{known.reading.told(row.sized_in)}; {source}")
    return view_of(ref, told, comes, goes, [f.says for f in known.reading.findings])


STEPS = {
    "item-size": Step(1, _item_size, Item),
    "reference": Step(2, _reference, BuildUp),
    "build-up": Step(1, _build_up, BuildUp),
    "build-up-line": Step(1, _build_up_line, BuildUpLine),
}
