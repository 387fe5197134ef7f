"""The part of the walk that is routes: typical sections, and the areas of single sections."""

from __future__ import annotations

import dataclasses

from ....core.ground.route.document import read_typical, typical_of
from ....core.ground.route.sections import cross_sections
from ....core.measurers.route import keys_of
from ....core.measurers.trench import slug
from ....core.numbers.working import Working, shown
from ....store.models import Route, RouteChange, TypicalSection
from ...keeping.acting import Actor, Missing, find
from ...keeping.views import WalkView
from ...keeping.walking import Step, link_to, view_of
from ..surfaces import surface_print
from .actions import route_of
from .entered import Entered, ground_across, last_made

_ACROSS = {"layer": "m²", "edge": "nr", "strip": "m"}


def _section(actor: Actor, ref: str, element_id: str, at: str, column: str) -> WalkView:
    """What a named quantity, cut or fill has at one section. In m, whatever the project's units."""
    row = route_of(actor, int(element_id))
    entered, element, made = Entered(row), row.element, last_made(int(element_id))
    along = made.quantities.chainages
    told = dict(zip(keys_of(g.name for g in made.told), made.told, strict=True))
    if not at.isdecimal() or int(at) >= len(along) or column not in told:
        raise Missing(f"{element.mark} has no such section.")
    each = told[column]
    chainage, names = float(along[int(at)]), each.parts
    parts = []
    if not entered.imported and row.ground_id is not None and each.kind == "layer":
        way, _ = entered.way()
        ground = ground_across(row.ground_id, surface_print(row.ground_id))
        found = cross_sections(way, ground, [chainage])[0]
        if found:
            twins = [n for n, c in enumerate(along) if abs(c - chainage) < 1e-6]
            section = found[-1] if int(at) != twins[0] else found[0]
            parts = [section.working(name) for name in names if name in section.areas]
    sizes = [float(made.sizes(each.kind, name)[int(at)]) for name in names]
    unit = _ACROSS[each.kind]
    if not parts and len(names) > 1:
        parts = [Working(name, size, unit) for name, size in zip(names, sizes, strict=True)]
    title = f"{each.name[:1].upper()}{each.name[1:]} at {shown(chainage)}"
    expression = "Σ of what is gathered under it" if parts else ""
    working = Working(title, sum(sizes), unit, expression, parts=tuple(parts))
    if len(parts) == 1:
        working = dataclasses.replace(parts[0], name=title)
    own = dict(zip(made.gathered, keys_of(g.name for g in made.gathered), strict=True))
    output = f"named_{own[each]}" if each in own else slug(each.name)
    goes = [
        link_to(f"quantity:{element.id}:{output}", f"All of {element.mark}", None, "", "ground", element.id)
    ]
    typical = made.typicals[int(at)] if len(made.typicals) == len(along) else ""
    comes = [
        link_to(f"typical:{t.id}", f"Typical section “{t.name}”", None, "", "ground", None)
        for t in entered.typicals.values()
        if t.name in typical
    ]
    return view_of(ref, working, comes, goes)


def _typical(actor: Actor, ref: str, typical_id: str) -> WalkView:
    row = find(TypicalSection, actor, int(typical_id))
    typical = typical_of(read_typical(row.document))
    parts = [
        Working(f"{strip.name}, {side}", strip.width, "m", source=f"falls {shown(strip.fall * 100)} %")
        for side, strips in (("left", typical.left), ("right", typical.right))
        for strip in strips
    ]
    parts += [
        Working(layer.name, layer.thickness, "m", source=f"under {', '.join(layer.under) or 'no strip'}")
        for layer in typical.layers
    ]
    whole = sum(strip.width for strip in (*typical.left, *typical.right))
    working = Working(
        f"Typical section “{row.name}”, its width", whole, "m", "Σ of its strips", parts=tuple(parts)
    )
    routes = RouteChange.column(RouteChange.route, RouteChange.typical, [row.id])
    goes = [
        link_to(f"quantity:{r.element_id}:cut", f"Route {r.element.mark}", None, "", "ground", r.element_id)
        for r in Route.those(Route.id, routes)
    ]
    return view_of(ref, working, [], goes)


STEPS = {"route-section": Step(3, _section), "typical": Step(1, _typical)}
