"""What can be done with bars: typing them, marking them, issuing their schedule."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from peewee import fn

from ...core.bars.shapes import SHAPES
from ...core.numbers.entry import kept
from ...core.refusals import BadEntry, Refusal
from ...store.models import BarIssue, BarLine, BarMark, Element, Location, Person, TypedBar, now
from ..keeping.acting import Actor, Missing, check_version, find
from ..keeping.recording import Recording, action, in_words, recording
from ..keeping.views import Saved
from ..measure.actions.elements import checked_mark
from .entered import checked_bar
from .reading import in_order, last_issue, letter_after, words_of

MOST_AT_ONCE = 5_000
FIELDS = ("mark", "size", "members", "each", "shape", "legs", "corners", "mass", "note")
LETTERS = "ABCDEFGHIJKLR"


@action
def add_member(actor: Actor, location_id: int, mark: str, description: str = "") -> Saved:
    """A new element that has typed bars only.

    Raises:
        BadEntry: the mark is empty or taken in the location.
    """
    location = find(Location, actor, location_id)
    fields = checked_mark({"mark": mark, "description": description.strip()[:200].strip()}, location.id)
    with recording(actor, f"{fields['mark']}, typed bars") as log:
        row = _member(log, actor, location.id, fields)
    return log.saved(row)


def _member(log: Recording, actor: Actor, location_id: int, fields: dict[str, Any]) -> Element:
    position = Element.select().where(Element.project == actor.project_id).count()
    return log.insert(
        Element, location=location_id, position=position, measurer="typed-bars", source="typed-bars", **fields
    )


@action
def add_bar(actor: Actor, element_id: int, fields: dict[str, Any]) -> Saved:
    """A new bar in an element of typed bars; answers the schedule's line of it.

    Raises:
        BadEntry: something of it can't be.
        Refusal: the element's bars come from a make-up.
    """
    element = _typed(find(Element, actor, element_id))
    made = _checked({**empty_bar(), **as_kept(fields, "00")})
    with recording(actor, f"{element.mark}: bar {made['mark']}".rstrip()) as log:
        row = log.insert(TypedBar, element=element.id, position=_next(element.id), **made)
    return log.saved(_line_of(element.id, str(row.id)))


@action
def add_bars(actor: Actor, rows: Sequence[Mapping[str, Any]], location_id: int | None = None) -> Saved:
    """Many bars at once, as one change, each naming its member by its mark. Members there aren't are made, in
    the location named.

    Raises:
        BadEntry: a row can't be; its number is told, and nothing is kept.
    """
    if len(rows) > MOST_AT_ONCE:
        raise BadEntry(f"{len(rows)} bars are more than the {MOST_AT_ONCE} taken in at once.", field="rows")
    known = {
        row.mark.lower(): row
        for row in Element.select().where(Element.project == actor.project_id).order_by(Element.id)
    }
    with recording(actor, f"{len(rows)} bar{'s' if len(rows) != 1 else ''} taken in") as log:
        places: dict[int, int] = {}
        ready = []
        for number, row in enumerate(rows, start=1):
            try:
                member = str(row.get("member", "")).strip()
                if not member:
                    raise BadEntry("It names no member.", field="member")
                element = known.get(member.lower())
                if element is None:
                    if location_id is None:
                        raise BadEntry(f"There is no member {member}.", field="member")
                    location = find(Location, actor, location_id)
                    element = known[member.lower()] = _member(
                        log, actor, location.id, checked_mark({"mark": member}, location.id)
                    )
                _typed(element)
                fields = {name: value for name, value in row.items() if name in FIELDS}
                made = _checked({**empty_bar(), **as_kept(fields, "00")})
            except Refusal as refusal:
                raise BadEntry(
                    f"Row {number}: {refusal.sentence}", field=f"{number - 1}.{refusal.field}",
                    remedy=refusal.remedy or "Put it right, or leave the row out.",
                ) from None  # fmt: skip
            at = places.setdefault(element.id, _next(element.id))
            places[element.id] = at + 1
            ready.append({"element": element.id, "position": at, **made})
        log.insert_all(TypedBar, ready)
    if len(ready) == 1:  # typed into the table: its line there is gone on from
        element_id = ready[0]["element"]
        last = TypedBar.select(fn.MAX(TypedBar.id)).where(TypedBar.element == element_id).scalar()
        return log.saved(_line_of(element_id, str(last)))
    return log.saved(len(ready))


@action
def change_bar(actor: Actor, bar_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change fields of a typed bar; legs given are merged over those there are.

    Raises:
        BadEntry: something of it can't be.
        Stale: someone else changed it meanwhile.
    """
    row = find(TypedBar, actor, bar_id)
    before = {name: row.__data__[name] for name in FIELDS}
    given = as_kept(fields, str(fields.get("shape") or row.shape))
    if "legs" in given:
        legs = {**row.legs, **given["legs"]}
        given["legs"] = {letter: text for letter, text in legs.items() if text}
        given["corners"] = given.get("corners", [])
    after = _checked({**before, **given})
    changed = {name: value for name, value in after.items() if name in given or value != before[name]}
    check_version(row, version, changed)
    with recording(actor, f"{row.element.mark}: bar {row.mark}, {in_words(fields)}") as log:
        log.update(row, **changed)
    return log.saved(row)


@action
def delete_bar(actor: Actor, bar_id: int) -> Saved:
    """Take a typed bar out."""
    row = find(TypedBar, actor, bar_id)
    with recording(actor, f"{row.element.mark}: bar {row.mark} deleted") as log:
        log.delete(row)
    return log.saved()


@action
def mark_bar(actor: Actor, line_id: int, mark: str) -> Saved:
    """Type a mark over the one by rule; nothing goes back to that.

    Raises:
        BadEntry: the mark stands for another bar of the member.
    """
    line = BarLine.get_or_none((BarLine.id == line_id) & (BarLine.project == actor.project_id))
    if line is None:
        raise Missing("That bar is not in the schedule any more.")
    mark = mark.strip()[:20].strip()
    if line.typed:
        return _mark_typed(actor, line, mark)
    if mark:
        over = BarMark.select(BarMark.key).where(BarMark.element == line.element_id)
        same = (BarLine.element == line.element_id) & (BarLine.mark == mark) & (BarLine.id != line.id)
        other = BarLine.get_or_none(same & (BarLine.key << over))
        if other is not None:
            raise BadEntry(f"Mark {mark} stands for another bar of {line.element.mark}.", field="mark")
    kept_mark = BarMark.get_or_none((BarMark.element == line.element_id) & (BarMark.key == line.key))
    with recording(actor, f"{line.element.mark}: mark {mark or 'by rule'}") as log:
        if kept_mark is not None and not mark:
            log.delete(kept_mark)
        elif kept_mark is not None:
            log.update(kept_mark, mark=mark)
        elif mark:
            log.insert(BarMark, element=line.element_id, key=line.key, mark=mark)
    return log.saved(line.id)


def _mark_typed(actor: Actor, line: BarLine, mark: str) -> Saved:
    row = find(TypedBar, actor, line.typed)
    with recording(actor, f"{line.element.mark}: mark {mark}") as log:
        log.update(row, mark=mark)
    return log.saved(line.id)


@action
def issue(actor: Actor) -> Saved:
    """Keep the schedule as it is under the next revision letter.

    Raises:
        Refusal: there is nothing to issue, or nothing changed since the last issue.
    """
    lines = in_order(actor.project_id)
    if not lines:
        raise Refusal("The schedule has no bars yet.", remedy="Give elements bars, or type some.")
    before = last_issue(actor.project_id)
    was = BarIssue.get_by_id(before.id).rows if before else {}
    letter = letter_after(before.letter if before else "")
    rows: dict[str, dict[str, list[str]]] = {}
    for member, line in lines:
        words = words_of(line)
        old = was.get(member, {}).get(line.mark)
        rows.setdefault(member, {})[line.mark] = [words, old[1] if old and old[0] == words else letter]
    if rows == was:
        raise Refusal(f"Nothing changed since revision {before.letter}.")  # type: ignore[union-attr]
    with recording(actor, f"Bending schedule issued, revision {letter}") as log:
        by = Person.get_by_id(actor.person_id).name
        row = log.insert(BarIssue, letter=letter, issued=now().date(), by=by, rows=rows)
    return log.saved(row)


def _typed(element: Element) -> Element:
    if element.measurer != "typed-bars":
        raise Refusal(
            f"The bars of {element.mark} come from its make-up.",
            field="member",
            remedy=f"Change what its make-up asks, or give these a member of their own ({element.mark}a).",
        )
    return element


def empty_bar() -> dict[str, Any]:
    """A bar of which nothing was typed yet."""
    words = {"mark": "", "size": "12", "members": "1", "each": "1", "shape": "00", "mass": "", "note": ""}
    return {**words, "legs": {}, "corners": []}


def as_kept(fields: Mapping[str, Any], shape: str) -> dict[str, Any]:
    """What was typed, in the project's ways, as it is kept."""
    found: dict[str, Any] = {}
    counted = SHAPES[shape].numbers if shape in SHAPES else ()
    for name, value in fields.items():
        if name == "legs":
            found["legs"] = {
                letter: kept(str(text), "nr" if letter in counted else "mm", field=f"leg {letter}")
                for letter, text in value.items()
                if letter in LETTERS
            }
        elif name in ("members", "each"):
            found[name] = kept(str(value), "nr", field=name) or "1"
        elif name == "mass":
            found[name] = kept(str(value), "kg/m", field="mass")
        elif name == "corners":
            found[name] = [[float(x), float(y)] for x, y in value]
        else:
            found[name] = str(value).strip()
    return found


def _checked(fields: dict[str, Any]) -> dict[str, Any]:
    found = checked_bar(fields)
    return {**found, "note": found["note"][:200]}


def _next(element_id: int) -> int:
    last = TypedBar.select(fn.MAX(TypedBar.position)).where(TypedBar.element == element_id).scalar()
    return 0 if last is None else int(last) + 1


def _line_of(element_id: int, key: str) -> int:
    """The line of the schedule that a bar has become."""
    line = BarLine.get_or_none((BarLine.element == element_id) & (BarLine.key == key))
    return line.id if line is not None else 0
