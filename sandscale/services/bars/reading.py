"""Reading the bars: the schedule a window at a time, its summary, what changed since it was issued."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from ...core.bars.detailing import rules_of
from ...core.bars.schedule import STEEL_BANDS
from ...core.bars.shapes import SHAPES
from ...core.bars.sizes import diameter
from ...core.makeups.makeup import MakeUp
from ...core.numbers.entry import as_typed
from ...core.numbers.units import unit
from ...store.database import database
from ...store.models import BarIssue, BarLine, BarMark, Element, Location, Project, QuantityLine, TypedBar
from ..keeping.acting import Actor, Missing
from ..keeping.one_reading import one_reading
from ..measure.entered import makeup_of
from .detailing import texts_of
from .views import (
    BarMember,
    BarsMoved,
    BarView,
    FabricView,
    IssueChange,
    LegView,
    ScheduleView,
    ShapeView,
    SizeView,
    SummaryLine,
    SummaryView,
)

MOST_ROWS = 200
# Legs in m that show a shape as what it is.
_SHOWN = {"A": 0.4, "B": 0.8, "C": 0.4, "D": 0.3, "E": 0.3, "R": 0.2}
_SHOWN_OF = {
    "13": {"B": 0.2, "A": 0.6}, "14": {"A": 0.8, "B": 0.2}, "15": {"A": 0.4, "B": 0.25, "C": 0.6},
    "22": {"C": 0.2}, "24": {"A": 0.5, "B": 0.5, "C": 0.4, "D": 0.3}, "25": {"A": 0.4, "B": 0.4, "C": 0.25,
    "D": 0.25, "E": 0.6}, "26": {"A": 0.5, "B": 0.4, "D": 0.25, "C": 0.5}, "29": {"C": 0.5, "D": 0.35},
    "33": {"A": 0.9, "B": 0.25, "C": 0.3}, "34": {"A": 0.4, "B": 0.4, "D": 0.2}, "35": {"A": 0.4, "B": 0.4,
    "D": 0.2}, "36": {"C": 0.5, "E": 0.3}, "41": {"C": 0.5}, "44": {"D": 0.5}, "46": {"B": 0.3, "D": 0.2},
    "47": {"C": 0.15}, "51": {"A": 0.5, "B": 0.4, "C": 0.12}, "56": {"A": 0.5, "D": 0.4, "E": 0.12},
    "63": {"A": 0.5, "B": 0.4, "C": 0.15}, "64": {"B": 0.8, "C": 0.5, "D": 0.3}, "67": {"A": 1.2, "R": 0.7},
    "75": {"A": 0.5, "B": 0.2}, "77": {"A": 0.4, "B": 0.2},
}  # fmt: skip
UNLIKE = 0.5  # kg, by which what is scheduled may miss what is billed
_FROM = "FROM bar_line b JOIN element e ON e.id = b.element_id JOIN location l ON l.id = e.location_id"
# Where each member's lines begin in the schedule, from how many every member has: no line is read for it.
_STARTS = """
WITH held AS (SELECT element_id, count(*) AS n FROM bar_line WHERE project_id = %s GROUP BY element_id),
placed AS (
SELECT element_id, n, sum(n) OVER (ORDER BY l.position, l.id, e.position, e.id) - n AS start FROM held
JOIN element e ON e.id = element_id JOIN location l ON l.id = e.location_id)"""
_WINDOW = f"""{_STARTS}
SELECT id FROM (
SELECT b.id, p.start + row_number() OVER (PARTITION BY p.element_id ORDER BY b.position) - 1 AS n
FROM placed p JOIN bar_line b ON b.element_id = p.element_id
WHERE p.start < %s AND p.start + p.n > %s) t WHERE n >= %s AND n < %s ORDER BY n"""
_PLACE = f"""{_STARTS}
SELECT p.start +
(SELECT count(*) FROM bar_line o WHERE o.element_id = b.element_id AND o.position < b.position)
FROM placed p JOIN bar_line b ON b.element_id = p.element_id WHERE b.id = %s"""
_HEADS = f"""
SELECT e.id, count(*), sum(b.mass), count(*) FILTER (WHERE b.findings <> '[]') {_FROM}
WHERE b.project_id = %s AND (%s OR e.id = ANY(%s)) GROUP BY e.id, e.position, l.position, l.id
ORDER BY l.position, l.id, e.position, e.id"""
_SIZES = """
SELECT size, max(grade), sum(total), sum(length), sum(mass) FROM bar_line
WHERE project_id = %s GROUP BY size"""
_BILLED = """
SELECT q.element_id, sum(q.net * CASE q.unit WHEN 'lb' THEN 0.45359237 WHEN 't' THEN 1000 ELSE 1 END)
FROM quantity_line q JOIN element e ON e.id = q.element_id
WHERE q.project_id = %s AND e.measurer = 'make-up' AND q.family = 'bars' AND q.item <> ''
AND q.unit IN ('kg', 'lb', 't') GROUP BY q.element_id"""


def schedule_view(actor: Actor) -> ScheduleView:
    """The schedule without its lines."""
    with one_reading():
        project = Project.get_by_id(actor.project_id)
        issue = last_issue(project.id)
        rules = rules_of(texts_of(project.id, [project.detailing]).get(project.detailing, ""))
        return ScheduleView(
            members=member_views(project.id, None),
            sizes=size_views(project.id),
            unscheduled=[says for *_, says in unscheduled(project.id)],
            rules=rules.name,
            letter=issue.letter if issue else "",
            issued=issue.issued if issue else None,
            changed=len(changes_since(project.id, issue)) if issue else 0,
        )


def bar_views(actor: Actor, first: int, most: int) -> list[BarView]:
    """A window of the schedule's lines, in the order of members."""
    first, end = max(first, 0), max(first, 0) + min(most, MOST_ROWS)
    return _views(actor.project_id, _window(actor.project_id, first, end))


def _window(project_id: int, first: int, end: int) -> list[int]:
    """The ids of the lines from one place to before another."""
    asked = (project_id, end, first, first, end)
    return [row_id for (row_id,) in database.execute_sql(_WINDOW, asked).fetchall()]


def place_of(actor: Actor, bar_id: int) -> int:
    """Where a line stands in the schedule.

    Raises:
        Missing: it isn't in the project's schedule.
    """
    row = database.execute_sql(_PLACE, (actor.project_id, bar_id)).fetchone()
    if row is None:
        raise Missing("That bar is not in the schedule any more.")
    return int(row[0])


def bars_moved(actor: Actor, elements: Sequence[int]) -> BarsMoved:
    """What became of some elements' bars."""
    with one_reading():
        members = member_views(actor.project_id, elements)
        few = [member.id for member in members if member.holds <= MOST_ROWS]
        rows = BarLine.those(BarLine.element, few, BarLine.element, BarLine.position)
        return BarsMoved(
            members=members,
            bars=_views(actor.project_id, [row.id for row in rows]),
            many=len(few) < len(members),
            sizes=size_views(actor.project_id),
        )


def member_views(project_id: int, elements: Sequence[int] | None) -> list[BarMember]:
    """The elements that have bars, with their mass; of some only, where they are named."""
    asked = (project_id, elements is None, list(elements or []))
    heads = database.execute_sql(_HEADS, asked).fetchall()
    counted = {element: tuple(rest) for element, *rest in heads}
    ids = list(counted) if elements is None else [e for e in elements if e in counted]
    empty = () if elements is None else [e for e in elements if e not in counted]
    rows = {row.id: row for row in Element.those(Element.id, [*ids, *empty], project=project_id)}
    if elements is None:  # a member whose bars are still to be typed stands there too
        mine = (Element.project == project_id) & (Element.measurer == "typed-bars") & ~(Element.id << ids)
        rows |= {row.id: row for row in Element.select().where(mine)}
    concrete = _concrete(project_id, [rows[each] for each in ids if each in rows])
    places = {row.id: (row.position, row.id) for row in Location.those(Location.project, [project_id])}
    ordered = sorted(rows.values(), key=lambda e: (places.get(e.location_id, (0, 0)), e.position, e.id))
    return [_member(row, counted.get(row.id, (0, 0.0, 0)), concrete.get(row.id)) for row in ordered]


def _member(row: Element, head: tuple[Any, ...], concrete: tuple[float, MakeUp] | None) -> BarMember:
    holds, mass, findings = head
    ratio, band = None, None
    if concrete and concrete[0] > 0 and concrete[1].document.steel:
        ratio, band = mass / concrete[0], list(STEEL_BANDS[concrete[1].document.steel])
    return BarMember(
        id=row.id, version=row.version, location=row.location_id, mark=row.mark, description=row.description,
        typed=row.measurer == "typed-bars", detailing=row.detailing, holds=holds, mass=mass, ratio=ratio,
        band=band, findings=findings,
    )  # fmt: skip


def _concrete(project_id: int, members: Sequence[Element]) -> dict[int, tuple[float, MakeUp]]:
    """The concrete of elements in m³, where their steel is held against it."""
    makeups: dict[str, MakeUp] = {}
    sources = {e.id: e.source for e in members if e.measurer == "make-up"}
    found = {}
    for line in QuantityLine.those(QuantityLine.element, list(sources), headline=True):
        key = sources[line.element_id]
        makeup = makeups.get(key) or makeups.setdefault(key, makeup_of(project_id, key))
        if makeup.document.steel:
            found[line.element_id] = (line.net * unit(line.unit).size, makeup)
    return found


def size_views(project_id: int) -> list[SizeView]:
    """The whole schedule by size, thinnest first."""
    rows = database.execute_sql(_SIZES, (project_id,)).fetchall()
    found = [
        SizeView(size=size, grade=grade, number=number, length=length, mass=mass)
        for size, grade, number, length, mass in rows
    ]
    return sorted(found, key=lambda each: diameter(each.size))


def unscheduled(project_id: int) -> list[tuple[int, str, str]]:
    """Elements of whose bars not all that are billed stand in the schedule: id, mark, and what to say."""
    billed = dict(database.execute_sql(_BILLED, (project_id,)).fetchall())
    heads = database.execute_sql(_HEADS, (project_id, True, [])).fetchall()
    scheduled = {element: mass for element, _, mass, _ in heads}
    short = {
        e: (kg, scheduled.get(e, 0.0)) for e, kg in billed.items() if abs(kg - scheduled.get(e, 0.0)) > UNLIKE
    }
    marks = {row.id: row.mark for row in Element.those(Element.id, list(short))}
    says = (
        "{} has {:.0f} kg of bars in the bill and {:.0f} kg in the schedule: its make-up doesn't say which "
        "bars the rest is."
    )
    return [
        (e, marks[e], says.format(marks[e], kg, has)) for e, (kg, has) in sorted(short.items()) if e in marks
    ]


def _views(project_id: int, ids: Sequence[int]) -> list[BarView]:
    rows = {row.id: row for row in BarLine.those(BarLine.id, ids)}
    lines = [rows[each] for each in ids if each in rows]
    members = {row.id: row for row in Element.those(Element.id, {line.element_id for line in lines})}
    typed = {row.id: row for row in TypedBar.those(TypedBar.id, {line.typed for line in lines if line.typed})}
    over = {(m.element_id, m.key): m for m in BarMark.those(BarMark.element, list(members))}
    issued = _issued_of(project_id, {row.mark for row in members.values()})
    issue = last_issue(project_id) if issued is not None else None
    found = []
    for line in lines:
        member, own = members[line.element_id], typed.get(line.typed)
        view = _view(line, member, own, over.get((member.id, line.key)))
        view.revision = _revision(line, member.mark, issued, issue)
        found.append(view)
    return found


def _view(line: BarLine, member: Element, own: TypedBar | None, mark: BarMark | None) -> BarView:
    counted = SHAPES[line.shape].numbers if line.shape in SHAPES else ()
    entries = own.legs if own else {}
    legs = []
    for letter, size in line.legs:
        counts = letter in counted
        entry = as_typed(entries[letter], "nr" if counts else "mm") if letter in entries else ""
        legs.append(LegView(letter=letter, size=size if counts else size * 1000, counts=counts, entry=entry))
    return BarView(
        id=line.id, version=own.version if own else mark.version if mark else 0, element=member.id,
        member=member.mark, key=line.key, mark=line.mark, label=line.label, output=line.output,
        grade=line.grade, size=line.size, members=line.members, each=line.each, total=line.total,
        cut=line.cut, mass=line.mass, shape=line.shape, legs=legs, outline=line.outline,
        own_mass=own.mass if own else "", note=own.note if own else "", typed=line.typed,
        over=mark is not None, revision="", findings=[says for says, _ in line.findings],
    )  # fmt: skip


def words_of(line: BarLine) -> str:
    """All that a bar is, in words: what an issue keeps of it and is compared by."""
    counted = SHAPES[line.shape].numbers if line.shape in SHAPES else ()
    legs = ", ".join(f"{at} {size if at in counted else size * 1000:g}" for at, size in line.legs)
    number = f"{line.members:g} × {line.each:g}"
    return f"{line.grade}{line.size}, {number} of {line.cut:.3f} m, shape {line.shape}: {legs}"


def last_issue(project_id: int) -> BarIssue | None:
    """The schedule as it was issued last, without its rows."""
    columns = (BarIssue.id, BarIssue.letter, BarIssue.issued, BarIssue.by)
    query = BarIssue.select(*columns).where(BarIssue.project == project_id).order_by(BarIssue.id.desc())
    return query.first()  # type: ignore[no-any-return]


_ISSUED = """
SELECT COALESCE(jsonb_object_agg(m, rows -> m) FILTER (WHERE rows ? m), '{}') FROM
(SELECT rows FROM bar_issue WHERE project_id = %s ORDER BY id DESC LIMIT 1) i, unnest(%s::text[]) m"""


def _issued_of(project_id: int, members: Iterable[str]) -> Mapping[str, Any] | None:
    """What the last issue holds of some members; None where there was none."""
    if last_issue(project_id) is None:
        return None
    row = database.execute_sql(
        _ISSUED.replace("rows ? m", "jsonb_exists(rows, m)"), (project_id, list(members))
    )
    return row.fetchone()[0] or {}  # type: ignore[no-any-return]


def _revision(line: BarLine, member: str, issued: Mapping[str, Any] | None, issue: BarIssue | None) -> str:
    """The letter of a line's last change: the one it was issued with, or the next."""
    if issued is None or issue is None:
        return ""
    was = issued.get(member, {}).get(line.mark)
    return str(was[1]) if was and was[0] == words_of(line) else letter_after(issue.letter)


def letter_after(letter: str) -> str:
    """The revision letter after one: A, B … Z, AA, AB …"""
    if not letter:
        return "A"
    number = 0
    for sign in letter:
        number = number * 26 + ord(sign) - 64
    number, signs = number + 1, ""
    while number:
        number, rest = divmod(number - 1, 26)
        signs = chr(65 + rest) + signs
    return signs


def changes_since(project_id: int, issue: BarIssue | None) -> list[IssueChange]:
    """What became of the bars since the schedule was issued last, in the order of the schedule; what is gone
    comes last."""
    if issue is None:
        return []
    was: dict[str, dict[str, Any]] = BarIssue.get_by_id(issue.id).rows
    found = []
    for member, line in in_order(project_id):
        before = was.get(member, {}).pop(line.mark, None)
        now = words_of(line)
        if before is None:
            found.append(IssueChange(member=member, mark=line.mark, how="new", was="", now=now))
        elif before[0] != now:
            found.append(IssueChange(member=member, mark=line.mark, how="changed", was=before[0], now=now))
    gone = [
        IssueChange(member=member, mark=mark, how="gone", was=words[0], now="")
        for member, marks in was.items()
        for mark, words in marks.items()
    ]
    return [*found, *gone]


def changes(actor: Actor) -> list[IssueChange]:
    """What changed since the schedule was issued last."""
    with one_reading():
        return changes_since(actor.project_id, last_issue(actor.project_id))


def in_order(project_id: int, elements: Sequence[int] = ()) -> list[tuple[str, BarLine]]:
    """Every line of the schedule with its member's mark; of some elements only, where they are named."""
    ids = _window(project_id, 0, 10**9)
    rows = {row.id: row for row in BarLine.those(BarLine.project, [project_id])}
    marks = dict(Element.select(Element.id, Element.mark).where(Element.project == project_id).tuples())
    wanted = set(elements)
    return [
        (marks[rows[each].element_id], rows[each])
        for each in ids
        if each in rows and (not wanted or rows[each].element_id in wanted)
    ]


def shape_views() -> list[ShapeView]:
    """The shapes there are, each drawn to legs that show it."""
    found = []
    for code, shape in SHAPES.items():
        legs = {letter: _SHOWN.get(letter, 0.3) for letter in shape.legs}
        legs |= dict.fromkeys(shape.numbers, 4.0) | _SHOWN_OF.get(code, {})
        points = shape.points(legs, 0.012, 0.024)
        outline = [[round(x * 1000), round(y * 1000)] for x, y in points]
        lengths = [letter not in shape.numbers for letter in shape.legs]
        found.append(
            ShapeView(code=code, legs=list(shape.legs), lengths=lengths, about=shape.about, outline=outline)
        )
    return found


def summary_view(actor: Actor) -> SummaryView:
    """The schedule summed up."""
    with one_reading():
        project_id = actor.project_id
        sizes = size_views(project_id)
        order = {each.size: at for at, each in enumerate(sizes)}
        by_member: dict[int, list[float]] = {}
        query = (
            "SELECT element_id, size, sum(mass) FROM bar_line WHERE project_id = %s GROUP BY element_id, size"
        )
        for element, size, mass in database.execute_sql(query, (project_id,)).fetchall():
            by_member.setdefault(element, [0.0] * len(sizes))[order[size]] += mass
        members = member_views(project_id, None)
        locations: dict[int, list[float]] = {}
        for member in members:
            of_location = locations.setdefault(member.location, [0.0] * len(sizes))
            for at, mass in enumerate(by_member.get(member.id, [])):
                of_location[at] += mass
        names = dict(
            Location.select(Location.id, Location.name).where(Location.project == project_id).tuples()
        )
        return SummaryView(
            sizes=sizes,
            locations=[
                SummaryLine(name=names[each], element=None, masses=masses, mass=sum(masses))
                for each, masses in locations.items()
            ],
            members=[
                SummaryLine(name=m.mark, element=m.id, masses=by_member[m.id], mass=m.mass)
                for m in members
                if m.id in by_member
            ],
            fabrics=_fabrics(project_id),
        )


def _fabrics(project_id: int) -> list[FabricView]:
    """Fabric by the words of its item, which name its kind."""
    kinds: dict[str, list[float]] = {}
    mine = (QuantityLine.project == project_id) & (
        QuantityLine.output << ("fabric", "fabric_bought", "fabric_mass")
    )
    words = {
        line.element_id: line.item
        for line in QuantityLine.select().where(mine)
        if line.output == "fabric" and line.net
    }
    for line in QuantityLine.select().where(mine & (QuantityLine.net != 0)):
        kind = words.get(line.element_id, "").removeprefix("Fabric ").split(" ")[0]
        sums = kinds.setdefault(kind, [0.0, 0.0, 0.0])
        if line.output == "fabric_bought":
            sums[0] += line.net
            sums[1] += float(line.pack.split(" ")[0]) if line.pack else 0.0
        elif line.output == "fabric_mass":
            sums[2] += line.net
    return [
        FabricView(kind=kind, area=a, sheets=n, mass=m) for kind, (a, n, m) in sorted(kinds.items()) if kind
    ]
