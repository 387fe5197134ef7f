"""What the quantities of routes come from, for whoever walks from them."""

from __future__ import annotations

from collections.abc import Iterable

from ....store.models import Element, Figure, GroundSurface, Route, RouteChange, TypicalSection
from ...keeping.views import WalkLink
from ...keeping.walking import link_to


def route_sources(element: Element) -> Iterable[WalkLink]:
    """The typical sections, the ground, and the run on a sheet of a route."""
    for route in Route.those(Route.element, [element.id]):
        typicals = RouteChange.column(RouteChange.typical, RouteChange.route, [route.id]) - {None}
        for typical in TypicalSection.those(TypicalSection.id, typicals, TypicalSection.position):
            name = f"Typical section “{typical.name}”"
            yield link_to(f"typical:{typical.id}", name, None, "", "ground", None)
        for figure in Figure.those(Figure.id, {route.figure_id} - {None}):
            name = f"Centreline, run on {figure.sheet.revision.drawing.number}"
            yield link_to(f"figure:{figure.id}", name, None, "", "sheets", figure.sheet_id)
        for surface in GroundSurface.those(GroundSurface.id, {route.ground_id} - {None}):
            yield link_to(f"surface:{surface.id}", f"Ground, {surface.name}", None, "", "ground", None)
