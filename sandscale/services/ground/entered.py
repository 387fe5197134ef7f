"""What was entered for earthworks, as the core takes it."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Any

from ...core.ground.classes import Layer
from ...core.ground.earthwork import Asked, Laid, Reckoned
from ...core.ground.formation import Batter, Formation, Plane, Platform, ToSurface, on_plane
from ...core.ground.haulage import Soil
from ...core.ground.slopes import batter_of, grade_of
from ...core.measurers.earthwork import EarthMeasured, Given
from ...core.numbers.entry import kept as kept_entry
from ...core.numbers.entry import read_entry
from ...core.numbers.systems import SYSTEMS
from ...core.refusals import BadEntry
from ...store.models import (
    DimensionLine,
    EarthClass,
    EarthStage,
    Earthwork,
    EarthworkMade,
    Element,
    Project,
    Route,
    TrenchNetwork,
)
from ...store.models import Formation as FormationRow
from .kept import laid_of, laid_packed
from .surfaces import surface_now, surface_print


def earthwork_entries(
    elements: Sequence[Element], _lines: Mapping[int, list[DimensionLine]]
) -> dict[int, Given]:
    """What was entered for earthworks, by their elements' ids."""
    projects = {p.id: p for p in Project.those(Project.id, {e.project_id for e in elements})}
    rows = {row.element_id: row for row in Earthwork.those(Earthwork.element, [e.id for e in elements])}
    found = {}
    for element in elements:
        system = SYSTEMS[projects[element.project_id].unit_system]
        entered = _Entered(rows.get(element.id))
        found[element.id] = Given(entered.print, entered.asked, lambda e=element: kept(e.id), system)  # type: ignore[misc]
    return found


def kept(element_id: int) -> Reckoned | None:
    """What an earthwork last came to."""
    row = EarthworkMade.get_or_none(EarthworkMade.element == element_id)
    return Reckoned.from_kept(row.result) if row is not None else None


def fresh(element_id: int, fingerprint: str) -> bool:
    """Whether what is kept of an earthwork is of what was entered as it is now."""
    mine = (EarthworkMade.element == element_id) & (EarthworkMade.fingerprint == fingerprint)
    return bool(EarthworkMade.select(EarthworkMade.id).where(mine).exists())


def last_laid(element_id: int) -> Laid:
    """An earthwork as it last lay.

    Raises:
        BadEntry: it was never worked out.
    """
    row = EarthworkMade.get_or_none(EarthworkMade.element == element_id)
    if row is None:
        raise BadEntry("This earthwork is still being worked out.", field="element", remedy="Wait a moment.")
    return _laid(row.id, row.fingerprint)


@lru_cache(maxsize=6)
def _laid(row_id: int, _fingerprint: str) -> Laid:
    return laid_of(bytes(EarthworkMade.get_by_id(row_id).packed))


def keep(element: Element, fingerprint: str, measured: EarthMeasured | None) -> None:
    """Keep what an earthwork came to; or that it comes to nothing."""
    EarthworkMade.delete().where(EarthworkMade.element == element.id).execute()
    if measured is not None and measured.reckoned is not None and measured.laid is not None:
        EarthworkMade.create(
            project=element.project_id, element=element.id, fingerprint=fingerprint,
            result=measured.reckoned.kept(), packed=laid_packed(measured.laid),
        )  # fmt: skip


class _Entered:
    """An earthwork's rows."""

    def __init__(self, row: Earthwork | None) -> None:
        self.row = row
        own = [row.id] if row is not None else []
        self.formations = FormationRow.those(
            FormationRow.earthwork, own, FormationRow.position, FormationRow.id
        )
        self.classes = in_order(EarthClass.those(EarthClass.earthwork, own))
        self.stages = EarthStage.those(EarthStage.earthwork, own, EarthStage.position, EarthStage.id)

    @property
    def print(self) -> str:
        """Of all that it is reckoned from."""
        if self.row is None:
            return ""
        surfaces = {self.row.ground_id, *(r.surface_id for r in (*self.formations, *self.classes))} - {None}
        rows = [self.row, *self.formations, *self.classes, *self.stages]
        told = [
            {name: value for name, value in row.__data__.items() if name not in ("id", "version")}
            for row in rows
        ]
        prints = {each: surface_print(each) for each in sorted(surfaces)}
        return hashlib.sha256(repr((told, prints)).encode()).hexdigest()

    def asked(self) -> Asked:
        """All of it as the core takes it.

        Raises:
            BadEntry: something is missing, or can't be read.
        """
        row = self.row
        if row is None or row.ground_id is None:
            raise BadEntry("It isn't said which surface is the ground.", field="ground", remedy="Choose one.")
        made = [formation_of(each) for each in self.formations]
        # Where one is the whole ground, all of it is formation.
        outlines = [_places(each.outline) for each in self.formations if each.outline]
        return Asked(
            ground=surface_now(row.ground_id),
            formations=made,
            layers={each.key: layer_of(each) for each in self.classes},
            reused=frozenset(each.key for each in self.classes if each.reused),
            stages={each.name: _places(each.outline) for each in self.stages},
            bands=limits_of(row.bands),
            soil=Soil(
                _number(row.bulking, "bulking", 1.25), _number(row.compacted, "compacted", 0.9),
                _volume(row.lorry),
            ),
            method=row.method, rule=row.rule,
            spacing=_length(row.spacing, "spacing"), angle=_number(row.angle, "angle", 0.0),
            interval=_length(row.interval, "interval"),
            outlines=outlines if len(outlines) == len(self.formations) else [],
        )  # fmt: skip


def _places(outline: Sequence[Sequence[float]]) -> list[tuple[float, float]]:
    return [(corner[0], corner[1]) for corner in outline]


def in_order(classes: Sequence[EarthClass]) -> list[EarthClass]:
    """Classes from the top down: what is stripped, what is dug, what lies below formation."""
    order = ("stripped", "dug", "below formation")
    return sorted(classes, key=lambda each: (order.index(each.taken), each.position, each.id))


def formation_of(row: FormationRow) -> Formation:
    """A formation as the core takes it.

    Raises:
        BadEntry: it isn't said what it is.
    """
    outline = _places(row.outline) or None
    if row.surface_id is not None:
        return ToSurface(surface_now(row.surface_id), outline)
    corners = [corner[2] for corner in row.outline]
    if not row.level.strip() and not (corners and all(level is not None for level in corners)):
        raise BadEntry(
            f"Formation {row.name or row.position + 1} has no level.", field="level", remedy="Type its level."
        )
    plane = Plane(
        _length(row.level, "level") if row.level.strip() else 0.0,
        grade_of(row.grade_east, "grade_east"), grade_of(row.grade_north, "grade_north"),
        tuple(row.at) if row.at else (outline[0] if outline else (0.0, 0.0)), outline,
    )  # fmt: skip
    if outline is None:
        return plane
    levelled = [
        (east, north, level if own is None else own)
        for (east, north, level), own in zip(on_plane(outline, plane), corners, strict=True)
    ]
    return Platform(levelled, _batter(row, "cut"), _batter(row, "fill"))


def _batter(row: FormationRow, side: str) -> Batter:
    words = {name: getattr(row, f"{side}_{name}") for name in ("batter", "bench_height", "bench_width")}
    return Batter(
        batter_of(words["batter"], f"{side}_batter"),
        _length(words["bench_height"], f"{side}_bench_height"),
        _length(words["bench_width"], f"{side}_bench_width"),
    )


def layer_of(row: EarthClass) -> Layer:
    """A class as the core takes it."""
    return Layer(
        row.name,
        _length(row.depth, "depth"),
        surface_now(row.surface_id) if row.surface_id is not None else None,
        _places(row.outline) or None,
        row.taken,
    )


def keep_soil(made: dict[str, Any]) -> None:
    """Write how soil changes its volume, and what a lorry carries, as it is kept, where some fields say so.

    Raises:
        BadEntry: a factor can't be read, or isn't above zero.
    """
    for name in ("bulking", "compacted"):
        if name in made:
            made[name] = kept_entry(made[name], "nr", field=name)
            if read_entry(made[name] or "1", "nr", field=name) <= 0:
                raise BadEntry(f"The factor for {name} must be above zero.", field=name)
    if "lorry" in made:
        made["lorry"] = kept_entry(made["lorry"], "m³", field="lorry")
        read_entry(made["lorry"] or "0", "m³", field="lorry", minimum=0)


def soil_of(row: TrenchNetwork | Route) -> Soil:
    """How what is dug changes its volume."""
    return Soil(
        read_entry(row.bulking or "1.25", "nr", field="bulking"),
        read_entry(row.compacted or "0.9", "nr", field="compacted"),
        read_entry(row.lorry, "m³", field="lorry") if row.lorry.strip() else 0.0,
    )


def limits_of(text: str) -> tuple[float, ...]:
    """Limits of depth, in m, that rise from 0.

    Raises:
        BadEntry: they don't, or one can't be read.
    """
    limits = [read_entry(each, "m", field="bands", minimum=0) for each in text.split(";") if each.strip()]
    found = tuple(dict.fromkeys([0.0, *limits]))
    if list(found) != sorted(found) or len(found) < 2:
        raise BadEntry("Depth bands rise from 0, such as 0; 1; 2; 4.", field="bands")
    return found


def _length(text: str, field: str) -> float:
    return read_entry(text, "m", field=field) if text.strip() else 0.0


def _number(text: str, field: str, otherwise: float) -> float:
    return read_entry(text, "nr", field=field) if text.strip() else otherwise


def _volume(text: str) -> float:
    return read_entry(text, "m³", field="lorry", minimum=0) if text.strip() else 0.0


def read_all(row: Any) -> None:
    """Read every entry of an earthwork's row, whatever it is reckoned with.

    Raises:
        BadEntry: one can't be read; its field is named.
    """
    limits_of(row.bands)
    for name in ("spacing", "interval"):
        if _length(getattr(row, name), name) <= 0:
            raise BadEntry(f"The {name} must be above zero.", field=name)
    _number(row.angle, "angle", 0.0)
    for name in ("bulking", "compacted"):
        if _number(getattr(row, name), name, 1.0) <= 0:
            raise BadEntry(f"The factor for {name} must be above zero.", field=name)
    _volume(row.lorry)
