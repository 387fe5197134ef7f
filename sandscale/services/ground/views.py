"""What is read of the ground. Coordinates and levels in m, areas in m², volumes in m³."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ...core.ground.papers import SummedBy
from ...formats.levels_in import ColumnRole, Decimal, FileKind, PartRole
from ..keeping.views import View

State = Literal["fresh", "working", "none"]
Corner = list[float | None]


class SurveyBrief(View):
    """A survey as the list shows it."""

    id: int
    version: int
    name: str
    origin: str
    number: int
    used: int
    undecided: int
    state: State


class SurfaceBrief(View):
    """A surface as the list shows it; ``says`` why there is none."""

    id: int
    version: int
    name: str
    number: int
    lowest: float | None
    highest: float | None
    says: str
    state: State


class EarthworkBrief(View):
    """An earthwork as the list shows it, by its element."""

    id: int
    version: int
    location: int
    mark: str
    description: str
    cut: float | None
    fill: float | None
    findings: int
    state: State


class NetworkBrief(View):
    """A network as the list shows it, by its element."""

    id: int
    version: int
    location: int
    mark: str
    description: str
    length: float | None
    dug: float | None
    findings: int
    state: State


class KindBrief(View):
    """A kind of trench as the list shows it; how many runs are of it."""

    id: int
    version: int
    name: str
    runs: int


class RouteBrief(View):
    """A route as the list shows it, by its element."""

    id: int
    version: int
    location: int
    mark: str
    description: str
    length: float | None
    findings: int
    state: State


class TypicalBrief(View):
    """A typical section as the list shows it; how many routes are built like it."""

    id: int
    version: int
    name: str
    routes: int


class GroundView(View):
    """What the ground stage holds."""

    surveys: list[SurveyBrief]
    surfaces: list[SurfaceBrief]
    earthworks: list[EarthworkBrief]
    networks: list[NetworkBrief]
    kinds: list[KindBrief]
    routes: list[RouteBrief]
    typicals: list[TypicalBrief]


class WholeRow(View):
    """A quantity of the whole job: what falls to each head of the columns, and where its parts are walked."""

    name: str
    unit: str
    values: list[float]
    whole: float
    refs: list[str]


class WholeView(View):
    """Earthworks, trenches and routes summed as one job; an empty head holds what falls to none. ``waiting``
    are the works that are still being worked out."""

    by: SummedBy
    heads: list[str]
    rows: list[WholeRow]
    works: int
    waiting: list[str]


class FilePartView(View):
    """A layer, colour or surface of a file, how much it holds and what it is taken for."""

    name: str
    holds: int
    role: PartRole


class SeenView(View):
    """What a file of levels holds, and what would be taken of it; ``says`` why nothing can be yet."""

    kind: FileKind
    heads: list[str]
    sample: list[list[str]]
    columns: list[ColumnRole]
    header: bool
    decimal: Decimal
    sheets: list[str]
    sheet: str
    parts: list[FilePartView]
    ground: int
    formation: int
    lines: int
    bounds: list[float]
    doubts: list[str]
    findings: list[str]
    says: str


class DeliveryView(View):
    """A file that the survey feed has sent."""

    name: str
    made: datetime
    size: int


class DoubtView(View):
    """Levels of a survey that look wrong in one way; ``decided`` what was decided of the kind."""

    kind: str
    name: str
    says: str
    number: int
    undecided: int
    general: bool
    decided: str


class PickedContour(View):
    """A line of one level followed on a sheet, in sheet units; ``level`` as it was typed."""

    id: int
    level: str
    corners: list[list[float]]


class SurveyView(SurveyBrief):
    """A survey with what looks wrong with it, how its numbers are taken, and what was decided."""

    unit: str
    level_unit: str
    swapped: bool
    file: str
    sheet: int | None
    known: list[list[float]]
    said: list[str]
    doubts: list[DoubtView]
    told: list[str]
    bounds: list[float]
    surfaces: list[int]
    picked: list[list[float]]
    contours: list[PickedContour]


class LevelView(View):
    """A level of a survey: ``at`` its place there, ``row`` of its file. ``entries`` are what was typed of one
    that was (east, north, level)."""

    at: int
    row: int
    east: float | None
    north: float | None
    level: float | None
    code: str
    used: bool
    doubts: list[str]
    decided: str
    id: int | None
    version: int
    entries: list[str]


class LevelPage(View):
    """A window of a survey's levels."""

    levels: list[LevelView]
    first: int
    total: int


class PointsView(View):
    """Levels as the plan shows them: (east, north, level, place) each, those in doubt apart with how; of very
    many only some."""

    points: list[list[float]]
    doubtful: list[list[float]]
    kinds: list[str]
    lines: list[LineShape]
    whole: bool


class LineShape(View):
    """A line on the plan."""

    kind: str
    corners: list[Corner]


class GroundLineView(LineShape):
    """A line drawn for a surface."""

    id: int
    version: int


class SurfaceView(SurfaceBrief):
    """A surface with what is told of it."""

    surveys: list[int]
    lines: list[GroundLineView]
    triangles: int
    plan_area: float | None
    true_area: float | None
    bounds: list[float]
    findings: list[str]
    interval: float
    made: str


class ContourView(View):
    """A line of one level: east and north by turns."""

    level: float
    line: list[float]


class ContoursView(View):
    """The contours of a surface at an interval."""

    interval: float
    contours: list[ContourView]


class NearView(View):
    """Triangles and levels of a part of a surface, where they aren't too many to be seen: corners as east,
    north, level by turns."""

    triangles: list[list[float]]
    points: list[list[float]]
    many: bool


class ProfileView(View):
    """Levels along a line; nothing where the ground isn't known."""

    chainages: list[float]
    levels: list[float | None]


class FormationView(View):
    """What the ground is brought to, as entered."""

    id: int
    version: int
    name: str
    outline: list[Corner]
    level: str
    at: list[float]
    grade_east: str
    grade_north: str
    surface: int | None
    cut_batter: str
    cut_bench_height: str
    cut_bench_width: str
    fill_batter: str
    fill_bench_height: str
    fill_bench_width: str


class EarthClassView(View):
    """A class of what is dug, as entered."""

    id: int
    version: int
    key: str
    name: str
    taken: str
    depth: str
    outline: list[Corner]
    surface: int | None
    reused: bool


class EarthStageView(View):
    """A stage, as entered."""

    id: int
    version: int
    name: str
    outline: list[Corner]


class MethodView(View):
    """What one method makes of the work."""

    name: str
    words: str
    cut: float
    fill: float
    off: float | None
    says: str


class NamedShare(View):
    """What falls to a depth band or a stage."""

    name: str
    value: float


class ShareView(View):
    """What falls to a class, by depth and by stage."""

    key: str
    output: str
    name: str
    taken: str
    volume: float
    area: float
    bands: list[NamedShare]
    stages: list[NamedShare]


class EarthworkView(EarthworkBrief):
    """An earthwork: how it is reckoned, and what it last came to."""

    work: int
    work_version: int
    ground: int | None
    method: str
    rule: str
    spacing: str
    angle: str
    interval: str
    bands: str
    bulking: str
    compacted: str
    lorry: str
    formations: list[FormationView]
    classes: list[EarthClassView]
    stages: list[EarthStageView]
    methods: list[MethodView]
    shares: list[ShareView]
    fill_stages: list[NamedShare]
    haul: dict[str, float]
    filled: float | None  # what was dug below formation filled up again too
    floor: float | None
    slopes: float | None
    footprint: float | None
    says: list[str]
    billed: bool
    made: str


class MapView(View):
    """An earthwork on the plan: rings of cut and fill (each an outline and its holes, east and north by
    turns), the lines between, and what it covers."""

    cut: list[list[list[float]]]
    fill: list[list[list[float]]]
    zero: list[list[float]]
    footprint: list[list[list[float]]]
    bounds: list[float]


class RowView(View):
    """A section along a row of the grid: its chainage across, its areas, the volumes to the next."""

    at: int
    chainage: float
    ends: list[list[float]]
    cut: float
    fill: float
    to_next: float | None
    next_cut: float | None
    next_fill: float | None


class RowsView(View):
    """All sections along the grid."""

    spacing: float
    angle: float
    rule: str
    rows: list[RowView]
    cut: float
    fill: float


class SectionLine(View):
    """A line of a section: the ground, the bottom of a class, the formation; no level off the work."""

    key: str
    name: str
    levels: list[float | None]


class SectionView(View):
    """A section as it is drawn."""

    name: str
    chainage: float
    offsets: list[float | None]
    lines: list[SectionLine]
    cut: float
    fill: float
    ends: list[list[float]]


class BlockView(View):
    """A square of the grid: its outline, mean levels, area and volume (cut above zero)."""

    outline: list[float]
    east: float
    north: float
    ground: float
    formation: float
    area: float
    volume: float


class BlocksView(View):
    """All squares of the grid."""

    spacing: float
    angle: float
    blocks: list[BlockView]
    cut: float
    fill: float


class BalanceView(View):
    """The level at which cut and fill balance."""

    level: float
    entry: str
