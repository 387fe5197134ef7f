"""What the quantities of trenches come from, for whoever walks from them."""

from __future__ import annotations

from collections.abc import Iterable

from ....store.models import Element, Figure, GroundSurface, TrenchKind, TrenchNetwork, TrenchRun
from ...keeping.views import WalkLink
from ...keeping.walking import link_to


def trench_sources(element: Element) -> Iterable[WalkLink]:
    """The kinds and the ground of a network of trenches, and the lines it was drawn along on sheets."""
    for network in TrenchNetwork.those(TrenchNetwork.element, [element.id]):
        kinds = TrenchRun.column(TrenchRun.kind, TrenchRun.network, [network.id]) - {None}
        for kind in TrenchKind.those(TrenchKind.id, kinds, TrenchKind.position):
            yield link_to(f"trench-kind:{kind.id}", f"Kind “{kind.name}”", None, "", "ground", None)
        for surface in GroundSurface.those(GroundSurface.id, {network.ground_id} - {None}):
            yield link_to(f"surface:{surface.id}", f"Ground, {surface.name}", None, "", "ground", None)
        for figure in Figure.those(Figure.element, [element.id], Figure.id):
            name = f"Laid along a run on {figure.sheet.revision.drawing.number}"
            yield link_to(f"figure:{figure.id}", name, None, "", "sheets", figure.sheet_id)
