"""What the quantities of an earthwork come from, for whoever walks from them."""

from __future__ import annotations

from collections.abc import Iterable

from ...core.numbers.ways import ways
from ...core.numbers.working import shown
from ...store.models import Earthwork, Element, Formation, GroundSurface, SurfaceMade
from ..keeping.views import WalkLink
from ..keeping.walking import link_to


def earth_sources(element: Element) -> Iterable[WalkLink]:
    """The ground and the formations of an earthwork."""
    for work in Earthwork.those(Earthwork.element, [element.id]):
        rows = Formation.those(Formation.earthwork, [work.id], Formation.position, Formation.id)
        surfaces = [work.ground_id, *(row.surface_id for row in rows)]
        for surface in GroundSurface.those(GroundSurface.id, {each for each in surfaces if each is not None}):
            made = SurfaceMade.select(SurfaceMade.lowest, SurfaceMade.highest).where(
                SurfaceMade.surface == surface.id
            )
            low, high = made.tuples().first() or (None, None)
            told = f"{levelled(low)} to {levelled(high)}" if low is not None else ""
            word = "Ground" if surface.id == work.ground_id else "Formation"
            unit = ways().system.symbol("m")
            yield link_to(f"surface:{surface.id}", f"{word}, {surface.name}", told, unit, "ground", None)
        for number, row in enumerate(rows, start=1):
            if row.surface_id is None:
                name = row.name or f"Formation {number}"
                yield link_to(f"formation:{row.id}", name, row.level, "", "ground", element.id)


def levelled(metres: float) -> str:
    """A level in the project's unit."""
    return shown(metres * ways().system.size("m"), 2, 2)
