"""The measurers of this stage, earthworks, trenches and routes; and where a change makes one dirty."""

from __future__ import annotations

from typing import Any

from ...core.measurers.earthwork import Earthworks
from ...core.measurers.route import Routes
from ...core.measurers.trench import Trenches
from ...store.models import (
    EarthClass,
    EarthStage,
    Earthwork,
    Figure,
    Formation,
    ImportedSection,
    NamedQuantity,
    Route,
    RouteChange,
    RouteCorner,
    RouteLevel,
    RouteStretch,
    Survey,
    TrenchKind,
    TrenchNetwork,
    TrenchNode,
    TrenchRun,
    TypicalSection,
)
from ..keeping.graph import After, Ids, Written, ids_in
from ..measure.measurers import Entry
from .entered import earthwork_entries, fresh, keep
from .nodes import SURFACES
from .routes import entered as routes
from .trenches import entered as trenches

_EARTHWORKS, _TRENCHES, _ROUTES = Earthworks(), Trenches(), Routes()
MEASURERS = (
    Entry(_EARTHWORKS, earthwork_entries, reckon=_EARTHWORKS.measure, fresh=fresh, keep=keep),
    Entry(
        _TRENCHES, trenches.network_entries,
        reckon=_TRENCHES.measure, fresh=trenches.fresh, keep=trenches.keep,
    ),
    Entry(
        _ROUTES, routes.route_entries, reckon=_ROUTES.measure, fresh=routes.fresh, keep=routes.keep
    ),
)  # fmt: skip


def _on_surfaces(_project_id: int, surfaces: Ids) -> Ids:
    """The elements of earthworks, trenches and routes that rest on some surfaces."""
    wanted = list(surfaces)
    works = {row.id for row in Earthwork.those(Earthwork.ground, wanted)}
    works |= Formation.column(Formation.earthwork, Formation.surface, wanted)
    works |= EarthClass.column(EarthClass.earthwork, EarthClass.surface, wanted)
    return ids_in(Earthwork.select(Earthwork.element).where(Earthwork.id << list(works))) | set(
        TrenchNetwork.column(TrenchNetwork.element, TrenchNetwork.ground, wanted)
        | Route.column(Route.element, Route.ground, wanted)
    )


def _along_known_sheets(project_id: int, _known: list[Any]) -> Ids:
    """The elements of routes along runs on sheets: where a sheet lies on the ground, they lie."""
    along = Route.select(Route.element).where((Route.project == project_id) & Route.figure.is_null(False))
    return ids_in(along)


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
    Written(Route, through=(Route.element,)),
    *(
        Written(table, through=(table.route, Route.element))
        for table in (RouteCorner, RouteLevel, RouteChange, RouteStretch, NamedQuantity, ImportedSection)
    ),
    Written(
        TypicalSection,
        (TypicalSection.document,),
        through=(RouteChange.typical, RouteChange.route, Route.element),
    ),
    Written(Figure, (Figure.geometry,), through=(Route.figure, Route.element)),
    Written(Survey, (Survey.known,), found=_along_known_sheets),
    After(SURFACES, found=_on_surfaces),
)
