"""The measurer of this stage: earthworks; and where a change makes one dirty."""

from __future__ import annotations

from ...core.measurers.earthwork import Earthworks
from ...store.models import EarthClass, EarthStage, Earthwork, Formation
from ..keeping.graph import After, Ids, Written, ids_in
from ..measure.measurers import Entry
from .entered import earthwork_entries, fresh, keep
from .nodes import SURFACES

_EARTHWORKS = Earthworks()
MEASURERS = (Entry(_EARTHWORKS, earthwork_entries, reckon=_EARTHWORKS.measure, fresh=fresh, keep=keep),)


def _on_surfaces(_project_id: int, surfaces: Ids) -> Ids:
    """The elements of earthworks that rest on some surfaces."""
    wanted = list(surfaces)
    works = {row.id for row in Earthwork.those(Earthwork.ground, wanted)}
    works |= Formation.column(Formation.earthwork, Formation.surface, wanted)
    works |= EarthClass.column(EarthClass.earthwork, EarthClass.surface, wanted)
    return ids_in(Earthwork.select(Earthwork.element).where(Earthwork.id << list(works)))


EDGES = (
    Written(Earthwork, through=(Earthwork.element,)),
    Written(Formation, through=(Formation.earthwork, Earthwork.element)),
    Written(EarthClass, through=(EarthClass.earthwork, Earthwork.element)),
    Written(EarthStage, through=(EarthStage.earthwork, Earthwork.element)),
    After(SURFACES, found=_on_surfaces),
)
