"""Ground: levels as they were taken in and what was decided about them, surfaces, earthworks, trenches,
routes."""

from __future__ import annotations

from peewee import BlobField, BooleanField, CharField, DoubleField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import BinaryJSONField

from .measure import Element, Figure
from .project import Project, ProjectRow
from .rows import Row
from .sheets import Sheet, StoredFile


class Survey(ProjectRow):
    """Levels as they were taken in. ``source`` is the file as it came and ``levels`` what was read of it,
    packed; those of a survey that is typed or picked off a sheet stand in rows of :class:`Level`.

    ``unit`` and ``level_unit`` are what its numbers are in, and ``swapped`` whether east and north stand the
    other way round; all three can be put right later. ``said`` is what its reader found, as (sentence, code).
    ``known`` are two points of ``sheet`` with their places: (x, y, east, north) each.
    """

    name = TextField()
    position = IntegerField()
    origin = CharField(8)
    source = ForeignKeyField(StoredFile, null=True, backref="surveys")
    levels = ForeignKeyField(StoredFile, null=True, backref="level_surveys")
    unit = CharField(8, default="m")
    level_unit = CharField(8, default="m")
    swapped = BooleanField(default=False)
    said = BinaryJSONField(default=list, index=False)
    sheet = ForeignKeyField(Sheet, null=True, backref="surveys")
    known = BinaryJSONField(default=list, index=False)


class Level(ProjectRow):
    """A level that was typed, or picked off a sheet at (x, y) in sheet units. Entries are kept as typed."""

    survey = ForeignKeyField(Survey, backref="typed_levels")
    position = IntegerField()
    east = TextField(default="")
    north = TextField(default="")
    level = TextField(default="")
    code = TextField(default="")
    x = DoubleField(null=True)
    y = DoubleField(null=True)


class LevelDecision(ProjectRow):
    """What was decided about a level that looks wrong: about one, ``at`` its place in a file's levels or
    ``typed``, or about all of a kind. ``level`` is what one was put right to."""

    survey = ForeignKeyField(Survey, backref="decisions")
    kind = CharField(10)
    at = IntegerField(null=True)
    typed = ForeignKeyField(Level, null=True, backref="decisions")
    does = CharField(10)
    level = TextField(default="")


class GroundSurface(ProjectRow):
    """A surface through the levels of surveys."""

    name = TextField()
    position = IntegerField()


class SurfaceSurvey(ProjectRow):
    """A survey whose levels a surface goes through."""

    surface = ForeignKeyField(GroundSurface, backref="surveys")
    survey = ForeignKeyField(Survey, backref="surfaces")

    class Meta:
        indexes = ((("surface", "survey"), True),)


class GroundLine(ProjectRow):
    """A breakline, boundary or hole drawn for a surface, or a line followed on a survey's sheet: ``corners``
    are (east, north, level or nothing), or (x, y) in sheet units with one ``level`` for all."""

    surface = ForeignKeyField(GroundSurface, null=True, backref="lines")
    survey = ForeignKeyField(Survey, null=True, backref="lines")
    kind = CharField(10)
    corners = BinaryJSONField(index=False)
    level = TextField(default="")


class Earthwork(ProjectRow):
    """A ground brought to a formation: an element, and how it is reckoned. Entries are kept as typed."""

    element = ForeignKeyField(Element, unique=True, backref="earthworks")
    ground = ForeignKeyField(GroundSurface, null=True, backref="earthworks")
    method = CharField(16, default="exact")
    rule = CharField(12, default="mean area")
    spacing = TextField(default="10")
    angle = TextField(default="0")
    interval = TextField(default="0.5")
    bands = TextField(default="0; 1; 2; 4")
    bulking = TextField(default="1.25")
    compacted = TextField(default="0.9")
    lorry = TextField(default="")


class Formation(ProjectRow):
    """What the ground is brought to: a level or a plane in an outline, with batters, or a surface. The whole
    ground without an outline. ``outline`` corners are (east, north, level or nothing: the plane's)."""

    earthwork = ForeignKeyField(Earthwork, backref="formations")
    position = IntegerField()
    name = TextField(default="")
    outline = BinaryJSONField(default=list, index=False)
    level = TextField(default="")
    at = BinaryJSONField(default=list, index=False)
    grade_east = TextField(default="")
    grade_north = TextField(default="")
    surface = ForeignKeyField(GroundSurface, null=True, backref="formations")
    cut_batter = TextField(default="")
    cut_bench_height = TextField(default="")
    cut_bench_width = TextField(default="")
    fill_batter = TextField(default="")
    fill_bench_height = TextField(default="")
    fill_bench_width = TextField(default="")


class EarthClass(ProjectRow):
    """A class of what is dug: its thickness, or the surface that is its bottom, in an outline or everywhere.
    ``key`` is its own within the earthwork; items know its quantities by it."""

    earthwork = ForeignKeyField(Earthwork, backref="classes")
    position = IntegerField()
    key = CharField(8)
    name = TextField()
    taken = CharField(16, default="stripped")
    depth = TextField(default="")
    outline = BinaryJSONField(default=list, index=False)
    surface = ForeignKeyField(GroundSurface, null=True, backref="classes")
    reused = BooleanField(default=False)

    class Meta:
        indexes = ((("earthwork", "key"), True),)


class EarthStage(ProjectRow):
    """A stage of an earthwork, as an outline on the plan."""

    earthwork = ForeignKeyField(Earthwork, backref="stages")
    position = IntegerField()
    name = TextField()
    outline = BinaryJSONField(index=False)


class TrenchKind(ProjectRow):
    """A kind of trench: a document (see :mod:`sandscale.core.ground.trench.document`), its entries as
    typed. ``shelf`` is where it was taken from or put, and ``shelf_number`` its number there."""

    name = TextField()
    position = IntegerField()
    document = BinaryJSONField(index=False)
    shelf = IntegerField(null=True)
    shelf_number = IntegerField(null=True)


class TrenchNetwork(ProjectRow):
    """Trenches from node to node: an element, and how it is reckoned. Dug from a surface, or from the levels
    of its nodes. Entries are kept as typed."""

    element = ForeignKeyField(Element, unique=True, backref="networks")
    ground = ForeignKeyField(GroundSurface, null=True, backref="networks")
    bands = TextField(default="0; 1; 2; 4")
    bulking = TextField(default="1.25")
    compacted = TextField(default="0.9")
    lorry = TextField(default="")


class TrenchNode(ProjectRow):
    """Where runs meet or end; ``ground`` is its level, the surface's where it is empty. ``manhole`` is its
    inside size, as 1.0 or 1.2 x 0.9; none where it is empty."""

    network = ForeignKeyField(TrenchNetwork, backref="nodes")
    position = IntegerField()
    name = TextField()
    east = TextField(default="")
    north = TextField(default="")
    ground = TextField(default="")
    manhole = TextField(default="")
    wall = TextField(default="0.15")
    base = TextField(default="0.2")
    space = TextField(default="0.5")


class TrenchRun(ProjectRow):
    """A trench from node to node, by their names: inverts at both ends, its kind, and levels of the ground
    between as ``12.5: 43.20; 20: 43.10``."""

    network = ForeignKeyField(TrenchNetwork, backref="runs")
    position = IntegerField()
    begins = TextField(default="")
    ends = TextField(default="")
    invert_begins = TextField(default="")
    invert_ends = TextField(default="")
    kind = ForeignKeyField(TrenchKind, null=True, backref="runs")
    stage = TextField(default="")
    ground = TextField(default="")


class TypicalSection(ProjectRow):
    """What routes are built like: a document (see :mod:`sandscale.core.ground.route.document`), its entries
    as typed. ``shelf`` is where it was taken from or put, and ``shelf_number`` its number there."""

    name = TextField()
    position = IntegerField()
    document = BinaryJSONField(index=False)
    shelf = IntegerField(null=True)
    shelf_number = IntegerField(null=True)


class Route(ProjectRow):
    """A route: an element, and how it is reckoned. Its centreline goes along ``figure``, a run measured on a
    sheet with known points; else through ``line``, elements as a file had them (x, y, direction, length,
    curvature, end curvature); else through its corners. Entries are kept as typed.

    ``from_top`` names the lines of sections that came from elsewhere, from the top down: ``base; subbase``.
    """

    element = ForeignKeyField(Element, unique=True, backref="routes")
    ground = ForeignKeyField(GroundSurface, null=True, backref="routes")
    figure = ForeignKeyField(Figure, null=True, backref="routes")
    line = BinaryJSONField(default=list, index=False)
    begins = TextField(default="")
    interval = TextField(default="20")
    rule = CharField(12, default="mean area")
    curved = BooleanField(default=True)
    free = TextField(default="")
    bulking = TextField(default="1.25")
    compacted = TextField(default="0.9")
    lorry = TextField(default="")
    from_top = TextField(default="")


class RouteCorner(ProjectRow):
    """Where two straights of a centreline meet, or where it begins or ends; ``radius`` of the arc there."""

    route = ForeignKeyField(Route, backref="corners")
    position = IntegerField()
    east = TextField(default="")
    north = TextField(default="")
    radius = TextField(default="")


class RouteLevel(ProjectRow):
    """A point of a long section: chainage, level, and the length of the vertical curve about it."""

    route = ForeignKeyField(Route, backref="levels")
    position = IntegerField()
    chainage = TextField(default="")
    level = TextField(default="")
    curve = TextField(default="")


class RouteChange(ProjectRow):
    """Where a typical section begins, and over how many m the one before goes over into it."""

    route = ForeignKeyField(Route, backref="changes")
    position = IntegerField()
    chainage = TextField(default="")
    typical = ForeignKeyField(TypicalSection, null=True, backref="changes")
    taper = TextField(default="")


class RouteStretch(ProjectRow):
    """A named part of a route between two chainages, and the stage in which it is built."""

    route = ForeignKeyField(Route, backref="stretches")
    position = IntegerField()
    name = TextField(default="")
    begins = TextField(default="")
    ends = TextField(default="")
    stage = TextField(default="")


class NamedQuantity(ProjectRow):
    """What layers of a route are gathered under: their names, as ``Wearing; Binder``; the one of its own name
    where none is typed."""

    route = ForeignKeyField(Route, backref="named")
    position = IntegerField()
    name = TextField(default="")
    layers = TextField(default="")
    density = TextField(default="")
    extra = TextField(default="")


class ImportedSection(ProjectRow):
    """A section that came from elsewhere: name → its line, (offset, level) each."""

    route = ForeignKeyField(Route, backref="imported")
    chainage = DoubleField()
    lines = BinaryJSONField(index=False)


class SurveyLooked(Row):
    """What a survey's levels were found to be, worked out: ``doubts`` as (kind, sentence, how many, how many
    undecided), ``found`` packed: its levels as they are used, and which are in doubt."""

    project = ForeignKeyField(Project, on_delete="CASCADE")
    survey = ForeignKeyField(Survey, on_delete="CASCADE", unique=True, backref="looked")
    fingerprint = CharField(64)
    number = IntegerField()
    used = IntegerField()
    undecided = IntegerField()
    doubts = BinaryJSONField(default=list, index=False)
    bounds = BinaryJSONField(default=list, index=False)
    found = BlobField()


class SurfaceMade(Row):
    """A surface, worked out: its triangles packed, and what is told of it; ``says`` why there is none."""

    project = ForeignKeyField(Project, on_delete="CASCADE")
    surface = ForeignKeyField(GroundSurface, on_delete="CASCADE", unique=True, backref="made")
    fingerprint = CharField(64)
    number = IntegerField()
    triangles = IntegerField()
    lowest = DoubleField(null=True)
    highest = DoubleField(null=True)
    plan_area = DoubleField(null=True)
    true_area = DoubleField(null=True)
    bounds = BinaryJSONField(default=list, index=False)
    findings = BinaryJSONField(default=list, index=False)
    says = TextField(default="")
    packed = BlobField()


class EarthworkMade(Row):
    """An earthwork, worked out: ``result`` as the core keeps it, and its pieces packed."""

    project = ForeignKeyField(Project, on_delete="CASCADE")
    element = ForeignKeyField(Element, on_delete="CASCADE", unique=True, backref="earth_made")
    fingerprint = CharField(64)
    result = BinaryJSONField(default=dict, index=False)
    packed = BlobField()


class TrenchMade(Row):
    """A network, worked out: what its list tells of it, under what it was worked out from."""

    project = ForeignKeyField(Project, on_delete="CASCADE")
    element = ForeignKeyField(Element, on_delete="CASCADE", unique=True, backref="trench_made")
    fingerprint = CharField(64)
    result = BinaryJSONField(default=dict, index=False)


class RouteMade(Row):
    """A route, worked out: what its list tells of it, and its sections' areas packed."""

    project = ForeignKeyField(Project, on_delete="CASCADE")
    element = ForeignKeyField(Element, on_delete="CASCADE", unique=True, backref="route_made")
    fingerprint = CharField(64)
    result = BinaryJSONField(default=dict, index=False)
    packed = BlobField()
