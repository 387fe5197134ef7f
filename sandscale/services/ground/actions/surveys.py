"""What can be done with levels: reading and taking them in, typing them, deciding what looks wrong."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import Any

from peewee import fn

from ....core.ground.decided import CALLED, DOES
from ....core.ground.survey import unit_factor
from ....core.numbers.entry import kept, read_entry
from ....core.refusals import BadEntry, Refusal
from ....formats import apart, levels_in
from ....formats.apart import Limits
from ....formats.levels_in import How, Seen
from ....formats.packed import AS_IT_CAME, MEDIA_TYPE
from ....store.models import (
    GroundLine,
    GroundSurface,
    Level,
    LevelDecision,
    Sheet,
    SurfaceSurvey,
    Survey,
)
from ...keeping.acting import Actor, InUse, check_version, find, require_writer
from ...keeping.files import keep_file
from ...keeping.recording import Recording, action, in_words, recording
from ...keeping.views import Saved
from ..kept import taken_packed
from ..surveys import size_of

LEVEL_FIELDS = ("east", "north", "level", "code")
FARTHEST_ON_SHEET = 1e6  # sheet units
MOST_TYPED = 5_000
MOST_CORNERS = 5_000
_READING = Limits(60, 2400, calls=3)
_OFF_SCALE = 0.005


def read_file(actor: Actor, name: str, content: bytes, how: How) -> Seen:
    """What a file of levels holds, and what would be taken of it; nothing is kept.

    Raises:
        UnreadableLevels: it can't be read.
    """
    require_writer(actor)
    return apart.read(levels_in.read, content, name, how, limits=_READING)


def take_in(
    actor: Actor, name: str, content: bytes, how: How, *,
    unit: str = "m", level_unit: str = "m", origin: str = "file", surface: bool = True,
) -> Saved:  # fmt: skip
    """Take levels in: a survey for the ground, and one for the formation where the file tells them apart,
    each with a surface through it.

    It is read before the project is locked: nobody waits for it.

    Raises:
        UnreadableLevels: it can't be read.
        BadEntry: nothing in it is taken for levels.
    """
    require_writer(actor)
    for each in (unit, level_unit):
        unit_factor(each)
    seen = apart.read(levels_in.read, content, name, how, limits=_READING)
    if not seen.taken:
        raise BadEntry(seen.says or f"“{name}” holds no levels.", field="columns")
    return _keep(
        actor, name, content, seen, {"unit": unit, "level_unit": level_unit}, origin, surface=surface
    )


@action
def _keep(
    actor: Actor,
    name: str,
    content: bytes,
    seen: Seen,
    units: Mapping[str, str],
    origin: str,
    *,
    surface: bool,
) -> Saved:
    title = re.sub(r"[\x00-\x1f/\\]+", " ", name).rsplit(".", 1)[0].strip()[:120].strip() or "Levels"
    with recording(actor, f"Levels {title} taken in") as log:
        source = keep_file(actor.project_id, name[:200], AS_IT_CAME, content)
        said = [[f.says, f.code] for f in seen.findings[:60]]
        made: Survey | None = None
        for role, taken in seen.taken.items():
            own = title if role == "ground" else f"{title}, formation"
            levels = keep_file(actor.project_id, own, MEDIA_TYPE, taken_packed(taken))
            row = log.insert(
                Survey, name=own, position=_next(actor, Survey), origin=origin, source=source.id,
                levels=levels.id, said=said, **units,
            )  # fmt: skip
            made = made or row
            if surface:
                through = log.insert(GroundSurface, name=own, position=_next(actor, GroundSurface))
                log.insert(SurfaceSurvey, surface=through.id, survey=row.id)
    return log.saved(made)


def _next(actor: Actor, table: Any) -> int:
    last = table.select(fn.MAX(table.position)).where(table.project == actor.project_id).scalar()
    return 0 if last is None else int(last) + 1


@action
def add_survey(actor: Actor, name: str, sheet_id: int | None = None, known: Sequence[Any] = ()) -> Saved:
    """A new survey to type levels into, or to pick them off a sheet two points of which are known; with a
    surface through it.

    The two points may be said later; until then its levels lie nowhere.

    Raises:
        BadEntry: it has no name, or the two points don't fit the sheet.
    """
    fields: dict[str, Any] = {"name": named(name, "survey"), "origin": "typed"}
    if sheet_id is not None:
        sheet = find(Sheet, actor, sheet_id)
        fields |= {"origin": "sheet", "sheet": sheet.id}
        if known:
            fields["known"] = known_points(sheet, known)
    with recording(actor, f"Survey {fields['name']}") as log:
        row = log.insert(Survey, position=_next(actor, Survey), **fields)
        through = log.insert(GroundSurface, name=fields["name"], position=_next(actor, GroundSurface))
        log.insert(SurfaceSurvey, surface=through.id, survey=row.id)
    return log.saved(row)


def known_points(sheet: Sheet, known: Sequence[Sequence[Any]]) -> list[list[float]]:
    """Two points of a sheet with their places, as typed.

    Raises:
        BadEntry: they are one, or lie at another distance than the sheet's scale says.
    """
    if len(known) != 2:
        raise BadEntry("Two points of the sheet must be known.", field="known")
    found = [
        [
            float(x),
            float(y),
            typed_length(str(east), "east"),
            typed_length(str(north), "north"),
        ]
        for x, y, east, north in known
    ]
    (x1, y1, e1, n1), (x2, y2, e2, n2) = found
    if abs(x1 - x2) + abs(y1 - y2) < 1 or abs(e1 - e2) + abs(n1 - n2) < 1e-3:
        raise BadEntry("The two points lie at one place.", field="known", remedy="Pick two far apart.")
    if sheet.metres_per_unit and abs(size_of(found) / sheet.metres_per_unit - 1) > _OFF_SCALE:
        told = size_of(found) / sheet.metres_per_unit
        raise BadEntry(
            f"By the sheet's scale these two points lie {abs(told - 1):.1%} "
            f"{'closer' if told > 1 else 'farther'} than their coordinates say.",
            field="known", remedy="Check the coordinates, or the sheet's scale.",
        )  # fmt: skip
    return found


def typed_length(text: str, field: str) -> float:
    """A length as it is typed in the project's ways, in m.

    Raises:
        BadEntry: it can't be read.
    """
    return read_entry(kept(text, "m", field=field), "m", field=field)


def named(name: str, what: str) -> str:
    """A name that is one.

    Raises:
        BadEntry: it is empty.
    """
    if not name.strip():
        raise BadEntry(f"The {what} needs a name.", field="name")
    return name.strip()[:120].strip()


@action
def change_survey(actor: Actor, survey_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Rename a survey, or put right what unit its numbers are in, or which column is east.

    Raises:
        BadEntry: the unit is none.
        Stale: someone else changed it meanwhile.
    """
    row = find(Survey, actor, survey_id)
    if "name" in fields:
        fields["name"] = named(fields["name"], "survey")
    for each in ("unit", "level_unit"):
        if each in fields:
            unit_factor(fields[each])
    if "known" in fields:
        fields["known"] = known_points(row.sheet, fields["known"])
    check_version(row, version, fields)
    with recording(actor, f"Survey {row.name}: {in_words(fields)}") as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete_survey(actor: Actor, survey_id: int) -> Saved:
    """Take a survey out, with what was decided about it, and the surface through it alone.

    Raises:
        InUse: an earthwork rests on that surface.
    """
    row = find(Survey, actor, survey_id)
    with recording(actor, f"Survey {row.name} deleted") as log:
        for link in list(row.surfaces):
            surface = GroundSurface.get_by_id(link.surface_id)
            log.delete(link)
            if not surface.surveys.count():
                drop_surface(log, surface)
        for each in (*row.decisions, *row.lines, *row.typed_levels, row):
            log.delete(each)
    return log.saved()


def drop_surface(log: Recording, surface: GroundSurface) -> None:
    """Take a surface out, with its lines.

    Raises:
        InUse: an earthwork, a network of trenches or a route rests on it.
    """
    parts = [*surface.formations, *surface.classes]
    users = [*surface.earthworks, *(part.earthwork for part in parts), *surface.networks, *surface.routes]
    if users:
        raise InUse(
            f"Surface “{surface.name}” is used by {users[0].element.mark}.",
            remedy="Give that another surface first.",
        )
    for each in (*surface.lines, *surface.surveys, surface):
        log.delete(each)


@action
def add_level(actor: Actor, survey_id: int, fields: dict[str, Any]) -> Saved:
    """Type a level, or pick one off the survey's sheet at (x, y).

    Raises:
        BadEntry: an entry can't be read; or the survey has as many as are typed.
        Refusal: the survey's levels come from a file.
    """
    survey = typed_survey(actor, survey_id)
    if survey.typed_levels.count() >= MOST_TYPED:
        raise BadEntry(
            f"A typed survey holds {MOST_TYPED:,} levels.", field="level", remedy="Bring more in as a file."
        )
    made = {**dict.fromkeys(LEVEL_FIELDS, ""), **level_fields(fields)}
    if ("x" in made) != ("y" in made):
        raise BadEntry("A place on a sheet is x and y.", field="x")
    last = Level.select(fn.MAX(Level.position)).where(Level.survey == survey.id).scalar()
    with recording(actor, f"{survey.name}: level {made['level']}".rstrip()) as log:
        row = log.insert(Level, survey=survey.id, position=0 if last is None else last + 1, **made)
    return log.saved(row)


def typed_survey(actor: Actor, survey_id: int) -> Survey:
    """A survey whose levels are typed or picked.

    Raises:
        Refusal: they come from a file.
    """
    survey = find(Survey, actor, survey_id)
    if survey.levels_id is not None:
        raise Refusal(
            f"The levels of “{survey.name}” come from a file.",
            remedy="Put single ones right in their table, or type more into a survey of their own.",
        )
    return survey


def level_fields(fields: Mapping[str, Any]) -> dict[str, Any]:
    """A level's fields as they are kept.

    Raises:
        BadEntry: one can't be read.
    """
    found: dict[str, Any] = {}
    for name, value in fields.items():
        if name in ("east", "north", "level"):
            found[name] = kept(str(value), "m", field=name)
            if found[name]:
                measured = read_entry(found[name], "m", field=name)
                if abs(measured) > (1e4 if name == "level" else 1e8):
                    raise BadEntry(f"{name.capitalize()} {value} can't be.", field=name)
        elif name == "code":
            found[name] = str(value).strip()[:40].strip()
        elif name in ("x", "y"):
            found[name] = float(value)
            if abs(found[name]) > FARTHEST_ON_SHEET:
                raise BadEntry("This place lies off every sheet.", field=name)
    return found


@action
def change_level(actor: Actor, level_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a typed level.

    Raises:
        BadEntry: an entry can't be read.
        Stale: someone else changed it meanwhile.
    """
    row = find(Level, actor, level_id)
    made = level_fields(fields)
    check_version(row, version, made)
    with recording(actor, f"{row.survey.name}: level {', '.join(made)}") as log:
        log.update(row, **made)
    return log.saved(row)


@action
def delete_level(actor: Actor, level_id: int) -> Saved:
    """Take a typed level out, with what was decided about it."""
    row = find(Level, actor, level_id)
    with recording(actor, f"{row.survey.name}: level deleted") as log:
        for each in (*row.decisions, row):
            log.delete(each)
    return log.saved()


@action
def add_contour(actor: Actor, survey_id: int, corners: Sequence[Sequence[float]], level: str) -> Saved:
    """A line of one level, followed on the survey's sheet; corners in sheet units.

    Raises:
        BadEntry: it has no level, or fewer than two corners.
    """
    survey = typed_survey(actor, survey_id)
    made = level_fields({"level": level})["level"]
    if not made or not 2 <= len(corners) <= MOST_CORNERS:
        raise BadEntry("A contour needs a level and two corners at least.", field="level")
    places = [[float(x), float(y)] for x, y in corners]
    if any(abs(value) > FARTHEST_ON_SHEET for place in places for value in place):
        raise BadEntry("A corner of it lies off every sheet.", field="corners")
    with recording(actor, f"{survey.name}: contour {level}") as log:
        row = log.insert(GroundLine, survey=survey.id, kind="contour", corners=places, level=made)
    return log.saved(row)


@action
def decide(
    actor: Actor, survey_id: int, kind: str, does: str, at: Sequence[int] = (), level: str = ""
) -> Saved:
    """Decide about levels in doubt: those at some places, or all of the kind.

    A survey's whole (columns swapped, another unit) is put right in :func:`change_survey`; here it is kept
    as it is.

    Raises:
        BadEntry: it is nothing that can be decided, or a level to put right to is missing.
    """
    survey = find(Survey, actor, survey_id)
    if (kind and kind not in CALLED) or does not in DOES:
        raise BadEntry("That can't be decided about levels.", field="does")
    put = level_fields({"level": level})["level"] if does == "put right" else ""
    if does == "put right" and (not put or not at):
        raise BadEntry("What level is it to be?", field="level", remedy="Type the level in its row.")
    if put:
        level_fields({"level": put})
    called = CALLED.get(kind, "level").lower()  # type: ignore[call-overload]
    with recording(actor, f"{survey.name}: {called}, {does}") as log:
        if survey.levels_id is None:
            _decide_typed(log, survey, kind, does, at, put)
        else:
            _decide(log, survey, kind, does, at, put)
    return log.saved(survey)


def _decide(log: Recording, survey: Survey, kind: str, does: str, at: Sequence[int], level: str) -> None:
    rows = list(LevelDecision.those(LevelDecision.survey, [survey.id]))
    if not at:
        for row in rows:
            if row.kind == kind and row.does != "put right":  # what was typed for one stays
                log.delete(row)
        log.insert(LevelDecision, survey=survey.id, kind=kind, does=does)
        return
    by_place = {row.at: row for row in rows if row.at is not None}
    for place in dict.fromkeys(at):
        row = by_place.get(place)
        if row is None:
            log.insert(LevelDecision, survey=survey.id, kind=kind, at=place, does=does, level=level)
        else:
            log.update(row, kind=kind or row.kind, does=does, level=level)


def _decide_typed(
    log: Recording, survey: Survey, kind: str, does: str, at: Sequence[int], level: str
) -> None:
    levels = list(Level.those(Level.survey, [survey.id], Level.position, Level.id))
    if not at:
        _decide(log, survey, kind, does, (), level)
        return
    rows = {row.typed_id: row for row in LevelDecision.those(LevelDecision.survey, [survey.id])}
    for place in dict.fromkeys(at):
        if not 0 <= place < len(levels):
            raise BadEntry("That level is not in this survey any more.", field="at")
        if does == "put right":  # a typed level is typed over
            log.update(levels[place], level=level)
            continue
        own = rows.get(levels[place].id)
        if own is None:
            log.insert(LevelDecision, survey=survey.id, kind=kind, typed=levels[place].id, does=does)
        else:
            log.update(own, kind=kind or own.kind, does=does)


@action
def undecide(actor: Actor, survey_id: int, kind: str, at: Sequence[int] = ()) -> Saved:
    """Take back what was decided about levels of a kind, or about those at some places."""
    survey = find(Survey, actor, survey_id)
    with recording(actor, f"{survey.name}: decision taken back") as log:
        for row in LevelDecision.those(LevelDecision.survey, [survey.id]):
            if (row.at in at) if at else row.kind == kind:
                log.delete(row)
    return log.saved(survey)
