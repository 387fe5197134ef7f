"""The tables, a file for each stage. Every row of a project carries its project, so that access is one
filter.

Typed entries (lengths, times, quantities) are kept as typed; their values are read when computed.
Columns named in ``derived`` are worked out from others: they are not logged, undone or exported.
"""

from __future__ import annotations

from typing import Any

from .allowances import InputDraw
from .bars import (
    BarIssue,
    BarLine,
    BarMark,
    CutMember,
    CutPlan,
    Cutting,
    OffCut,
    OwnDetailing,
    TypedBar,
)
from .bill import Adjustment, Bill, Item, ItemLink, RatePart, Section
from .ground import (
    EarthClass,
    EarthStage,
    Earthwork,
    EarthworkMade,
    Formation,
    GroundLine,
    GroundSurface,
    ImportedSection,
    Level,
    LevelDecision,
    NamedQuantity,
    Route,
    RouteChange,
    RouteCorner,
    RouteLevel,
    RouteMade,
    RouteStretch,
    SurfaceMade,
    SurfaceSurvey,
    Survey,
    SurveyLooked,
    TrenchKind,
    TrenchMade,
    TrenchNetwork,
    TrenchNode,
    TrenchRun,
    TypicalSection,
)
from .issued import FormCell, IssuedPackage, LiveTable, OwnForm
from .keeping import BeingWorkedOut, Change, ChangeEntry, Job, Telling
from .measure import (
    LINE_ENTRIES,
    LINE_FIELDS,
    LINE_SIZES,
    DimensionLine,
    Element,
    Figure,
    Location,
    OwnMakeUp,
    QuantityLine,
    QuantityPart,
)
from .orders import Delivery, OrderLine, PurchaseOrder
from .people import Invitation, Membership, Person, Session, SignInTry
from .prices import Answer, Enquiry, EnquiryLine, EnquirySupplier, PriceDraw, Quote, Resource, Supplier
from .project import Project, ProjectRow
from .rates import BuildUp, BuildUpLine, RateBand, ReferenceSize
from .rows import Row, now
from .sheets import ChangedPlace, Drawing, PageContent, Revision, ScaleArea, Sheet, StoredFile
from .shelves import Shelf, ShelfDocument, ShelfMember
from .trials import Trial, TrialChange

# In the order rows can be written, so that what a row refers to stands before it.
PROJECT_TABLES: tuple[type[ProjectRow], ...] = (
    StoredFile, Drawing, Revision, Sheet, ChangedPlace, ScaleArea,
    Location, OwnMakeUp, OwnDetailing, Element, Figure,
    DimensionLine, TypedBar, BarMark, BarIssue, Cutting, CutMember, OffCut,
    Survey, Level, LevelDecision, GroundSurface, SurfaceSurvey, GroundLine,
    Earthwork, Formation, EarthClass, EarthStage, TrenchKind, TrenchNetwork, TrenchNode, TrenchRun,
    TypicalSection, Route, RouteCorner, RouteLevel, RouteChange, RouteStretch, NamedQuantity, ImportedSection,
    Resource, PriceDraw, Supplier, Enquiry, EnquiryLine, EnquirySupplier, Answer, Quote,
    BuildUp, ReferenceSize, RateBand, BuildUpLine, Bill, Section, Item, RatePart, ItemLink,
    Adjustment, InputDraw, PurchaseOrder, OrderLine, Delivery, IssuedPackage, OwnForm, FormCell,
    Trial, TrialChange,
)  # fmt: skip
# Worked out from those above, and written by nobody.
DERIVED_TABLES: tuple[type[Row], ...] = (
    QuantityLine, QuantityPart, BarLine, CutPlan, SurveyLooked, SurfaceMade, EarthworkMade,
    TrenchMade, RouteMade, BeingWorkedOut, PageContent,
)  # fmt: skip
ALL_TABLES: tuple[type[Row], ...] = (
    Person, Session, SignInTry, Project, Membership, *PROJECT_TABLES, *DERIVED_TABLES, Change,
    ChangeEntry, Telling,
    Shelf, ShelfMember, ShelfDocument, Invitation, Job, LiveTable,
)  # fmt: skip


def table_named(name: str) -> type[Any]:
    """The model of a table, by the name the change log keeps.

    Raises:
        KeyError: no table of a project has that name.
    """
    return {model._meta.table_name: model for model in (Project, *PROJECT_TABLES)}[name]


__all__ = [
    "ALL_TABLES",
    "DERIVED_TABLES",
    "LINE_ENTRIES",
    "LINE_FIELDS",
    "LINE_SIZES",
    "PROJECT_TABLES",
    "Adjustment",
    "Answer",
    "BarIssue",
    "BarLine",
    "BarMark",
    "BeingWorkedOut",
    "Bill",
    "BuildUp",
    "BuildUpLine",
    "Change",
    "ChangeEntry",
    "ChangedPlace",
    "CutMember",
    "CutPlan",
    "Cutting",
    "Delivery",
    "DimensionLine",
    "Drawing",
    "EarthClass",
    "EarthStage",
    "Earthwork",
    "EarthworkMade",
    "Element",
    "Enquiry",
    "EnquiryLine",
    "EnquirySupplier",
    "Figure",
    "FormCell",
    "Formation",
    "GroundLine",
    "GroundSurface",
    "ImportedSection",
    "InputDraw",
    "Invitation",
    "IssuedPackage",
    "Item",
    "ItemLink",
    "Job",
    "Level",
    "LevelDecision",
    "LiveTable",
    "Location",
    "Membership",
    "NamedQuantity",
    "OffCut",
    "OrderLine",
    "OwnDetailing",
    "OwnForm",
    "OwnMakeUp",
    "PageContent",
    "Person",
    "PriceDraw",
    "Project",
    "ProjectRow",
    "PurchaseOrder",
    "QuantityLine",
    "QuantityPart",
    "Quote",
    "RateBand",
    "RatePart",
    "ReferenceSize",
    "Resource",
    "Revision",
    "Route",
    "RouteChange",
    "RouteCorner",
    "RouteLevel",
    "RouteMade",
    "RouteStretch",
    "Row",
    "ScaleArea",
    "Section",
    "Session",
    "Sheet",
    "Shelf",
    "ShelfDocument",
    "ShelfMember",
    "SignInTry",
    "StoredFile",
    "Supplier",
    "SurfaceMade",
    "SurfaceSurvey",
    "Survey",
    "SurveyLooked",
    "Telling",
    "TrenchKind",
    "TrenchMade",
    "TrenchNetwork",
    "TrenchNode",
    "TrenchRun",
    "Trial",
    "TrialChange",
    "TypedBar",
    "TypicalSection",
    "now",
    "table_named",
]  # fmt: skip
