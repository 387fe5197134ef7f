"""What can be done with earthworks: made, brought to formations, divided into classes and stages."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, TypeVar

import numpy as np

from ....core.ground.areas import RULES
from ....core.ground.classes import Taken
from ....core.ground.cut_and_fill import CutFill, cut_and_fill
from ....core.ground.earthwork import METHODS, laid
from ....core.ground.formation import Plane, Platform
from ....core.ground.haulage import balance_level
from ....core.ground.slopes import batter_of, grade_of
from ....core.ground.surface import ring_region
from ....core.numbers.entry import kept
from ....core.refusals import BadEntry
from ....store.models import (
    EarthClass,
    EarthStage,
    Earthwork,
    Element,
    Formation,
    GroundSurface,
    Location,
    ProjectRow,
)
from ...keeping.acting import Actor, Missing, check_version, find
from ...keeping.recording import action, in_words, recording
from ...keeping.views import Saved
from ...measure.actions.elements import checked_mark
from ...measure.measurers import given
from ..entered import formation_of, layer_of, read_all
from .surfaces import corners_read

TAKEN: tuple[Taken, ...] = ("stripped", "dug", "below formation")
_BENCHES = tuple(f"{side}_bench_{what}" for side in ("cut", "fill") for what in ("height", "width"))
MOST_OF_A_KIND = 60
Part = TypeVar("Part", Formation, EarthClass, EarthStage)


@action
def add_earthwork(actor: Actor, mark: str, description: str, location: int, ground: int | None) -> Saved:
    """A new earthwork over a surface.

    Raises:
        BadEntry: the mark is empty or taken in the location.
    """
    return added(actor, Earthwork, "earthwork", mark, description, location, ground)


def added(
    actor: Actor, table: type[ProjectRow], measurer: str, mark: str, description: str, location: int,
    ground: int | None,
) -> Saved:  # fmt: skip
    """An element that is reckoned from the ground, and the row that says how.

    Raises:
        BadEntry: the mark is empty or taken in the location.
    """
    place = find(Location, actor, location)
    fields = checked_mark({"mark": mark, "description": description.strip()[:200].strip()}, place.id)
    surface = find(GroundSurface, actor, ground).id if ground is not None else None
    with recording(actor, f"{measurer.capitalize()} {fields['mark']}") as log:
        position = Element.select().where(Element.project == actor.project_id).count()
        element = log.insert(
            Element, location=place.id, position=position, measurer=measurer, source=measurer, **fields
        )
        log.insert(table, element=element.id, ground=surface)
    return log.saved(element)


def earthwork_of(actor: Actor, element_id: int) -> Earthwork:
    """The earthwork of an element.

    Raises:
        Missing: it isn't one.
    """
    element = find(Element, actor, element_id)
    row = Earthwork.get_or_none(Earthwork.element == element.id)
    if row is None:
        raise Missing(f"{element.mark} is no earthwork.")
    return row


@action
def change_earthwork(actor: Actor, element_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change how an earthwork is reckoned: its ground, grid, bands, soil, and the method billed.

    Raises:
        BadEntry: an entry can't be read, or can't be.
        Stale: someone else changed it meanwhile.
    """
    row = earthwork_of(actor, element_id)
    made = dict(fields)
    if made.get("ground") is not None:
        made["ground"] = find(GroundSurface, actor, made["ground"]).id
    if made.get("method", METHODS[0]) not in METHODS or made.get("rule", RULES[0]) not in RULES:
        raise BadEntry("There is no such method.", field="method")
    for name in ("spacing", "interval"):
        if name in made:
            made[name] = kept(made[name], "m", field=name)
    if "bands" in made:
        parts = made["bands"].replace(", ", ";").split(";")
        made["bands"] = "; ".join(kept(each.strip(), "m", field="bands") for each in parts if each.strip())
    for name in ("angle", "bulking", "compacted"):
        if name in made:
            made[name] = kept(made[name], "nr", field=name)
    if "lorry" in made:
        made["lorry"] = kept(made["lorry"], "m³", field="lorry")
    read_all(_with(row, made))
    check_version(row, version, made)
    with recording(actor, f"{row.element.mark}: {', '.join(made)}") as log:
        log.update(row, **made)
    return log.saved(row)


def _with(row: ProjectRow, fields: Mapping[str, Any]) -> Any:
    return type(row)(**{**row.__data__, **fields})


@action
def add_formation(actor: Actor, element_id: int, fields: dict[str, Any]) -> Saved:
    """What the ground is brought to, after those there are.

    Raises:
        BadEntry, BadShape: an entry can't be read, or its outline can't be.
    """
    return _add(actor, Formation, element_id, _formation(actor, fields), "formation")


@action
def change_formation(actor: Actor, formation_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a formation.

    Raises:
        BadEntry, BadShape: an entry can't be read, or its outline can't be.
        Stale: someone else changed it meanwhile.
    """
    row = find(Formation, actor, formation_id)
    return _change(actor, row, version, _formation(actor, fields, row), "formation")


def _formation(actor: Actor, fields: Mapping[str, Any], row: Formation | None = None) -> dict[str, Any]:
    made = _shared(actor, fields, "formation")
    for name in ("cut_batter", "fill_batter"):
        if name in made:
            made[name] = made[name].strip()
            batter_of(made[name], name)
    for name in ("grade_east", "grade_north"):
        if name in made:
            made[name] = made[name].strip()
            grade_of(made[name], name)
    for name in _BENCHES:
        if name in made:
            made[name] = kept(made[name], "m", field=name)
    if made.get("at"):
        made["at"] = [value for value in corners_read([made["at"]])[0][:2] if value is not None]
    whole = {**(row.__data__ if row is not None else {}), **made}
    tried = Formation(**{name: value for name, value in whole.items() if name != "surface"})
    if tried.level.strip():
        formation_of(tried)
    return made


def _shared(actor: Actor, fields: Mapping[str, Any], what: str) -> dict[str, Any]:
    """What formations, classes and stages are given alike."""
    made = dict(fields)
    if "name" in made:
        made["name"] = made["name"].strip()[:80].strip()
    if made.get("surface") is not None:
        made["surface"] = find(GroundSurface, actor, made["surface"]).id
    if "outline" in made:
        made["outline"] = corners_read(made["outline"] or [])
        if made["outline"]:
            ring_region([corner[:2] for corner in made["outline"]], f"outline of the {what}")
    for name in ("level", "depth"):
        if name in made:
            made[name] = kept(made[name], "m", field=name)
    return made


@action
def add_class(actor: Actor, element_id: int, fields: dict[str, Any]) -> Saved:
    """A class of what is dug.

    Raises:
        BadEntry: it has no name, a name that is taken, or a thickness that can't be.
    """
    row = earthwork_of(actor, element_id)
    made = _class(actor, row, fields)
    keys = [int(each.key[1:]) for each in row.classes]
    return _add(actor, EarthClass, element_id, {**made, "key": f"k{max(keys, default=0) + 1}"}, "class")


@action
def change_class(actor: Actor, class_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a class of what is dug.

    Raises:
        BadEntry: it has no name, a name that is taken, or a thickness that can't be.
        Stale: someone else changed it meanwhile.
    """
    row = find(EarthClass, actor, class_id)
    return _change(actor, row, version, _class(actor, row.earthwork, fields, row), "class")


def _class(
    actor: Actor, work: Earthwork, fields: Mapping[str, Any], row: EarthClass | None = None
) -> dict[str, Any]:
    made = _shared(actor, fields, "class")
    whole = {**(row.__data__ if row is not None else {"name": ""}), **made}
    if not whole["name"]:
        raise BadEntry("A class needs a name, such as topsoil.", field="name")
    if any(each.name == whole["name"] and (row is None or each.id != row.id) for each in work.classes):
        raise BadEntry(f"There is a class {whole['name']} already.", field="name")
    tried = EarthClass(**{name: value for name, value in whole.items() if name != "surface"})
    if tried.taken not in TAKEN or layer_of(tried).depth < 0:
        raise BadEntry("A class has a thickness of 0 or more.", field="depth")
    return made


@action
def add_stage(actor: Actor, element_id: int, fields: dict[str, Any]) -> Saved:
    """A stage, as an outline on the plan.

    Raises:
        BadEntry, BadShape: it has no name or one that is taken, or its outline can't be.
    """
    return _add(
        actor, EarthStage, element_id, _stage(actor, earthwork_of(actor, element_id), fields), "stage"
    )


@action
def change_stage(actor: Actor, stage_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a stage.

    Raises:
        BadEntry, BadShape: it has no name or one that is taken, or its outline can't be.
        Stale: someone else changed it meanwhile.
    """
    row = find(EarthStage, actor, stage_id)
    return _change(actor, row, version, _stage(actor, row.earthwork, fields, row), "stage")


def _stage(
    actor: Actor, work: Earthwork, fields: Mapping[str, Any], row: EarthStage | None = None
) -> dict[str, Any]:
    made = _shared(actor, fields, "stage")
    whole = {**(row.__data__ if row is not None else {"name": "", "outline": []}), **made}
    if not whole["name"] or not whole["outline"]:
        raise BadEntry(
            "A stage needs a name and an outline.", field="name" if whole["outline"] else "outline"
        )
    if any(each.name == whole["name"] and (row is None or each.id != row.id) for each in work.stages):
        raise BadEntry(f"There is a stage {whole['name']} already.", field="name")
    return made


def _add(actor: Actor, table: type[Part], element_id: int, fields: Mapping[str, Any], what: str) -> Saved:
    work = earthwork_of(actor, element_id)
    rows = table.those(table.earthwork, [work.id])
    if len(rows) >= MOST_OF_A_KIND:
        raise BadEntry(f"An earthwork has {MOST_OF_A_KIND} of a kind at most.", field=what)
    position = max((row.position for row in rows), default=-1) + 1
    with recording(actor, f"{work.element.mark}: {what} {fields.get('name') or position + 1}") as log:
        row = log.insert(table, earthwork=work.id, position=position, **fields)
    return log.saved(row)


def _change(actor: Actor, row: Part, version: int, fields: dict[str, Any], what: str) -> Saved:
    check_version(row, version, fields)
    mark = row.earthwork.element.mark
    with recording(actor, f"{mark}: {what}, {in_words(fields)}") as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete_formation(actor: Actor, formation_id: int) -> Saved:
    """Take a formation out."""
    return _drop(actor, find(Formation, actor, formation_id), "formation")


@action
def delete_class(actor: Actor, class_id: int) -> Saved:
    """Take a class out; what it was becomes ordinary digging."""
    return _drop(actor, find(EarthClass, actor, class_id), "class")


@action
def delete_stage(actor: Actor, stage_id: int) -> Saved:
    """Take a stage out."""
    return _drop(actor, find(EarthStage, actor, stage_id), "stage")


def _drop(actor: Actor, row: Part, what: str) -> Saved:
    with recording(actor, f"{row.earthwork.element.mark}: {what} {row.name} deleted") as log:
        log.delete(row)
    return log.saved()


def balance(actor: Actor, element_id: int) -> float:
    """The level of the first formation at which cut and fill balance, compacted, in m. It is reckoned, and
    nothing written.

    Raises:
        BadEntry: there is none between the lowest and the highest ground, or the formation has no level.
    """
    row = earthwork_of(actor, element_id)
    asked = given([row.element])[element_id].asked()
    if not asked.formations or not isinstance(asked.formations[0], Plane | Platform):
        raise BadEntry("Only a formation with a level can be moved to balance.", field="level")
    first = asked.formations[0]

    def formed(level: float) -> CutFill:
        return laid(replace(asked, formations=[_at(first, level), *asked.formations[1:]])).between

    here = cut_and_fill(asked.ground, first).pieces["ground"]
    rise = _rise(first)
    low, high = float(np.min(here)) - rise - 0.01, float(np.max(here)) + rise + 0.01
    return balance_level(formed, low, high, asked.soil.compacted).level


def _level(shape: Plane | Platform) -> float:
    return shape.level if isinstance(shape, Plane) else float(shape.outline[0][2])


def _rise(shape: Plane | Platform) -> float:
    """How far a formation rises and falls within itself."""
    if isinstance(shape, Plane):
        return 0.0
    return max(corner[2] for corner in shape.outline) - min(corner[2] for corner in shape.outline)


def _at(shape: Plane | Platform, level: float) -> Plane | Platform:
    """The same formation with its first corner, or its place, at another level."""
    if isinstance(shape, Plane):
        return replace(shape, level=level)
    by = level - _level(shape)
    return replace(shape, outline=[(east, north, own + by) for east, north, own in shape.outline])
