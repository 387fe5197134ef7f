"""Earthworks as they are read: what was entered, what they come to, the map, sections and blocks."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
import shapely

from ....core.ground import earthwork as core
from ....core.ground.areas import Span
from ....core.ground.classes import ORDINARY
from ....core.ground.earthwork import CrossSection, Laid, Reckoned
from ....core.ground.grid import Cells, Rows
from ....core.ground.pieces import Region
from ....core.measurers.earthwork import METHOD_WORDS
from ....core.numbers.entry import as_typed, read_entry
from ....core.numbers.ways import ways
from ....core.refusals import BadEntry
from ....store.models import (
    EarthClass,
    EarthStage,
    Earthwork,
    EarthworkMade,
    Formation,
    Item,
    ItemLink,
)
from ...keeping.acting import Actor
from ..actions.earthworks import balance, earthwork_of
from ..entered import in_order, kept, last_laid
from ..surfaces import last_made
from ..views import (
    BalanceView,
    BlocksView,
    BlockView,
    EarthClassView,
    EarthStageView,
    EarthworkView,
    FormationView,
    MapView,
    MethodView,
    NamedShare,
    RowsView,
    RowView,
    SectionLine,
    SectionView,
    ShareView,
)
from .overview import work_briefs
from .surfaces import plain

MOST_BLOCKS = 20_000


def earthwork_view(actor: Actor, element_id: int) -> EarthworkView:
    """An earthwork: how it is reckoned, and what it last came to."""
    row = earthwork_of(actor, element_id)
    element, made = row.element, kept(element_id)
    print_ = (
        EarthworkMade.select(EarthworkMade.fingerprint).where(EarthworkMade.element == element_id).scalar()
    )
    linked = ItemLink.select(ItemLink.id).join(Item).where(ItemLink.element == element_id).exists()
    return EarthworkView(
        **work_briefs([element])[0].model_dump(), **_entered(row), work=row.id, work_version=row.version,
        methods=_methods(made), shares=_shares(made),
        fill_stages=_named(made.fill_stages) if made else [], haul=dict(made.haul) if made else {},
        filled=made.fill if made else None, floor=made.floor if made else None,
        slopes=made.slopes if made else None,
        footprint=made.footprint if made else None, says=[says for _, says, *_ in element.findings],
        billed=linked, made=(print_ or "")[:16],
    )  # fmt: skip


def _entered(row: Earthwork) -> dict[str, object]:
    formations = Formation.those(Formation.earthwork, [row.id], Formation.position, Formation.id)
    classes = in_order(EarthClass.those(EarthClass.earthwork, [row.id]))
    stages = EarthStage.those(EarthStage.earthwork, [row.id], EarthStage.position, EarthStage.id)
    return {
        "ground": row.ground_id, "method": row.method, "rule": row.rule,
        "spacing": as_typed(row.spacing, "m"), "angle": row.angle, "interval": as_typed(row.interval, "m"),
        "bands": "; ".join(as_typed(each.strip(), "m") for each in row.bands.split(";")),
        "bulking": row.bulking, "compacted": row.compacted, "lorry": as_typed(row.lorry, "m³"),
        "formations": [_formation(each) for each in formations],
        "classes": [
            EarthClassView(
                id=c.id, version=c.version, key=c.key, name=c.name, taken=c.taken,
                depth=as_typed(c.depth, "m"), outline=c.outline, surface=c.surface_id, reused=c.reused,
            )
            for c in classes
        ],
        "stages": [
            EarthStageView(id=s.id, version=s.version, name=s.name, outline=s.outline) for s in stages
        ],
    }  # fmt: skip


def _formation(row: Formation) -> FormationView:
    lengths = {
        f"{side}_bench_{what}": as_typed(getattr(row, f"{side}_bench_{what}"), "m")
        for side in ("cut", "fill")
        for what in ("height", "width")
    }
    return FormationView(
        id=row.id, version=row.version, name=row.name, outline=row.outline, level=as_typed(row.level, "m"),
        at=row.at, grade_east=row.grade_east, grade_north=row.grade_north, surface=row.surface_id,
        cut_batter=row.cut_batter, fill_batter=row.fill_batter, **lengths,
    )  # fmt: skip


def _methods(made: Reckoned | None) -> list[MethodView]:
    if made is None:
        return []
    exact = made.methods[0]
    moved = exact.cut + exact.fill
    return [
        MethodView(
            name=m.name, words=METHOD_WORDS[m.name], cut=m.cut, fill=m.fill, says=m.says,
            off=None if m.name == "exact" or m.says or not moved
            else (m.cut + m.fill - moved) / moved * 100,
        )
        for m in made.methods
    ]  # fmt: skip


def _shares(made: Reckoned | None) -> list[ShareView]:
    if made is None:
        return []
    return [
        ShareView(
            key=s.key, output="cut" if s.key == ORDINARY else f"class_{s.key}", name=s.name, taken=s.taken,
            volume=s.volume, area=s.area, bands=_named(s.bands), stages=_named(s.stages),
        )
        for s in made.shares
    ]  # fmt: skip


def _named(values: Sequence[tuple[str, float]]) -> list[NamedShare]:
    return [NamedShare(name=name, value=value) for name, value in values]


def map_view(actor: Actor, element_id: int) -> MapView:
    """Cut and fill on the plan, hatched by whoever draws it.

    Raises:
        BadEntry: it was never worked out.
    """
    earthwork_of(actor, element_id)
    return _map(element_id, _print(element_id))


@lru_cache(maxsize=8)
def _map(element_id: int, _fingerprint: str) -> MapView:
    work = last_laid(element_id)
    earth = work.between
    size = np.ptp(work.dig.pieces.plan.reshape(-1, 2), axis=0).max() / 4000
    return MapView(
        cut=_rings(_together(earth.cut_pieces.plan), size),
        fill=_rings(_together(earth.fill_pieces.plan), size),
        zero=[np.round(line, 3).reshape(-1).tolist() for line in earth.zero_lines],
        footprint=_rings(work.footprint, size), bounds=list(work.footprint.bounds),
    )  # fmt: skip


def _together(plan: np.ndarray[tuple[int, ...], np.dtype[np.float64]]) -> Region:
    """Pieces as regions to look at: to a tenth of a millimetre."""
    made: Region = shapely.union_all(shapely.polygons(plan), grid_size=1e-4)
    return made


def _rings(region: Region, size: float) -> list[list[list[float]]]:
    found = []
    for part in shapely.get_parts(shapely.simplify(region, size)):
        if part.geom_type != "Polygon" or part.area < size * size:
            continue
        rings = [part.exterior, *part.interiors]
        found.append([np.round(shapely.get_coordinates(ring), 3).reshape(-1).tolist() for ring in rings])
    return found


def _print(element_id: int) -> str:
    made = EarthworkMade.select(EarthworkMade.fingerprint).where(EarthworkMade.element == element_id)
    return str(made.scalar() or "")


def grid_of(row: Earthwork) -> tuple[float, float]:
    """The spacing and the angle of an earthwork's grid.

    Raises:
        BadEntry: one can't be read.
    """
    spacing = read_entry(row.spacing, "m", field="spacing")
    return spacing, read_entry(row.angle, "nr", field="angle") if row.angle.strip() else 0.0


def rows_of(row: Earthwork) -> tuple[Laid, Rows]:
    """The sections along an earthwork's grid."""
    spacing, angle = grid_of(row)
    work = last_laid(row.element_id)
    return work, _rows(row.element_id, _print(row.element_id), spacing, angle, row.rule)


@lru_cache(maxsize=8)
def _rows(element_id: int, _fingerprint: str, spacing: float, angle: float, rule: str) -> Rows:
    row = Earthwork.get(Earthwork.element == element_id)
    breaks = [_places(part.outline) for part in (*row.formations, *row.classes) if part.outline]
    return core.grid_rows(last_laid(element_id), spacing, rule, angle, breaks)  # type: ignore[arg-type]


def rows_view(actor: Actor, element_id: int) -> RowsView:
    """All sections along the grid, with the volumes from each to the next.

    Raises:
        BadEntry: it was never worked out, or the grid can't be laid.
    """
    row = earthwork_of(actor, element_id)
    work, made = rows_of(row)
    spacing, angle = grid_of(row)
    sections = [core.row_section(work, made, at) for at in range(len(made.sections))]
    cut = {span.begin: span for span in made.cut_volume.spans}
    fill = {span.begin: span for span in made.fill_volume.spans}
    return RowsView(
        spacing=spacing, angle=angle, rule=row.rule, cut=made.cut, fill=made.fill,
        rows=[
            RowView(
                at=at, chainage=s.chainage, ends=_ends(s), cut=s.cut, fill=s.fill,
                to_next=_length(cut.get(s.chainage)), next_cut=_volume(cut.get(s.chainage)),
                next_fill=_volume(fill.get(s.chainage)),
            )
            for at, s in enumerate(sections)
        ],
    )  # fmt: skip


def _places(outline: Sequence[Sequence[float]]) -> list[tuple[float, float]]:
    return [(corner[0], corner[1]) for corner in outline]


def _length(span: Span | None) -> float | None:
    return span.end - span.begin if span is not None else None


def _volume(span: Span | None) -> float | None:
    return span.volume if span is not None else None


def _ends(section: CrossSection) -> list[list[float]]:
    return [[float(value) for value in end] for end in section.ends]


def row_view(actor: Actor, element_id: int, at: int) -> SectionView:
    """A section along the grid, as it is drawn.

    Raises:
        BadEntry: there is no such section.
    """
    row = earthwork_of(actor, element_id)
    work, made = rows_of(row)
    if not 0 <= at < len(made.sections):
        raise BadEntry(f"The grid has {len(made.sections)} rows.", field="row")
    return section_view(core.row_section(work, made, at), names_of(row))


def across_view(actor: Actor, element_id: int, line: Sequence[Sequence[float]]) -> SectionView:
    """A section across any line.

    Raises:
        BadShape: the line has no length.
        BadEntry: it was never worked out.
    """
    row = earthwork_of(actor, element_id)
    if row.ground_id is None:
        raise BadEntry("It isn't said which surface is the ground.", field="ground")
    found = core.across(last_laid(element_id), line, last_made(row.ground_id))
    return section_view(found, names_of(row))


def names_of(row: Earthwork) -> dict[str, str]:
    """What the lines of a section are called, by their keys."""
    classes = {each.key: each.name for each in row.classes}
    return {"ground": "Ground", **classes, ORDINARY: "Ordinary digging", "formation": "Formation"}


def section_view(section: CrossSection, names: dict[str, str]) -> SectionView:
    """A section as it is drawn."""
    return SectionView(
        name=section.name, chainage=section.chainage, offsets=plain(section.offsets),
        lines=[
            SectionLine(key=key, name=names.get(key, key), levels=plain(levels))
            for key, levels in section.lines.items()
        ],
        cut=section.cut, fill=section.fill, ends=_ends(section),
    )  # fmt: skip


def cells_of(row: Earthwork) -> Cells:
    """The squares of an earthwork's grid."""
    spacing, angle = grid_of(row)
    return _cells(row.element_id, _print(row.element_id), spacing, angle)


@lru_cache(maxsize=8)
def _cells(element_id: int, _fingerprint: str, spacing: float, angle: float) -> Cells:
    return core.grid_cells(last_laid(element_id), spacing, angle)


def blocks_view(actor: Actor, element_id: int) -> BlocksView:
    """Every square of the grid.

    Raises:
        BadEntry: it was never worked out, or they are too many to be shown.
    """
    row = earthwork_of(actor, element_id)
    made = cells_of(row)
    if len(made.outlines) > MOST_BLOCKS:
        raise BadEntry(
            f"The grid makes {len(made.outlines):,} squares, too many to be shown.", field="spacing",
            remedy="Choose a larger spacing.",
        )  # fmt: skip
    spacing, angle = grid_of(row)
    middles = shapely.get_coordinates(shapely.point_on_surface(np.array(made.outlines)))
    return BlocksView(
        spacing=spacing, angle=angle, cut=made.cut, fill=made.fill,
        blocks=[
            BlockView(
                outline=np.round(_outer(outline), 3).reshape(-1).tolist(), east=east, north=north,
                ground=float(ground), formation=float(formation), area=float(area), volume=float(volume),
            )
            for outline, (east, north), ground, formation, area, volume in zip(
                made.outlines, middles.tolist(), made.ground, made.formation, made.areas, made.volumes,
                strict=True,
            )
        ],
    )  # fmt: skip


def _outer(region: Region) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
    largest = max(shapely.get_parts(region), key=lambda part: part.area)
    return np.asarray(shapely.get_coordinates(shapely.get_exterior_ring(largest)))


def balance_view(actor: Actor, element_id: int) -> BalanceView:
    """The level at which cut and fill balance, and what to type for it.

    Raises:
        BadEntry: there is none.
    """
    level = balance(actor, element_id)
    return BalanceView(level=level, entry=f"{level * ways().system.size('m'):.3f}")
