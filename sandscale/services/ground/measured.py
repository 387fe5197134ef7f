"""The measurers of this stage, earthworks and trenches; and where a change makes one dirty."""

from __future__ import annotations

from ...core.measurers.earthwork import Earthworks
from ...core.measurers.trench import Trenches
from ...store.models import (
    EarthClass,
    EarthStage,
    Earthwork,
    Formation,
    TrenchKind,
    TrenchNetwork,
    TrenchNode,
    TrenchRun,
)
from ..keeping.graph import After, Ids, Written, ids_in
from ..measure.measurers import Entry
from .entered import earthwork_entries, fresh, keep
from .nodes import SURFACES
from .trenches import entered as trenches

_EARTHWORKS, _TRENCHES = Earthworks(), Trenches()
MEASURERS = (
    Entry(_EARTHWORKS, earthwork_entries, reckon=_EARTHWORKS.measure, fresh=fresh, keep=keep),
    Entry(
        _TRENCHES, trenches.network_entries,
        reckon=_TRENCHES.measure, fresh=trenches.fresh, keep=trenches.keep,
    ),
)  # fmt: skip


def _on_surfaces(_project_id: int, surfaces: Ids) -> Ids:
    """The elements of earthworks and trenches that rest on some surfaces."""
    wanted = list(surfaces)
    works = {row.id for row in Earthwork.those(Earthwork.ground, wanted)}
    works |= Formation.column(Formation.earthwork, Formation.surface, wanted)
    works |= EarthClass.column(EarthClass.earthwork, EarthClass.surface, wanted)
    return ids_in(Earthwork.select(Earthwork.element).where(Earthwork.id << list(works))) | set(
        TrenchNetwork.column(TrenchNetwork.element, TrenchNetwork.ground, wanted)
    )


EDGES = (
    Written(Earthwork, through=(Earthwork.element,)),
    Written(Formation, through=(Formation.earthwork, Earthwork.element)),
    Written(EarthClass, through=(EarthClass.earthwork, Earthwork.element)),
    Written(EarthStage, through=(EarthStage.earthwork, Earthwork.element)),
    Written(TrenchNetwork, through=(TrenchNetwork.element,)),
    Written(TrenchNode, through=(TrenchNode.network, TrenchNetwork.element)),
    Written(TrenchRun, through=(TrenchRun.network, TrenchNetwork.element)),
    Written(
        TrenchKind,
        (TrenchKind.document,),
        through=(TrenchRun.kind, TrenchRun.network, TrenchNetwork.element),
    ),
    After(SURFACES, found=_on_surfaces),
)
